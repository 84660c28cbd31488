"""Fire the rules of the table on a case: what holds, what may hold, and whom a thing made for anyone is not for."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import dataclass

from uptide.core.safety.case import Case
from uptide.core.safety.caution import Caution, Grade
from uptide.core.safety.judge import Answer, evaluate
from uptide.core.safety.tables import Rule
from uptide.core.safety.who import age_below, who_words
from uptide.core.tolerance import reaches


@dataclass(frozen=True, slots=True)
class NotFor:
    """Whom a product that is made for anyone is not for: who, because of what, how serious, and the rule."""

    who: str
    about: str
    grade: Grade
    rule: str
    message: str
    label: str = ""  # the words a label must carry
    names: tuple[str, ...] = ()  # of what it is about, where that is something in it
    age_below: float = 0.0  # months: about anyone younger and nobody else; 0 where it is about others


@dataclass(frozen=True, slots=True)
class Fired:
    """What came of some rules: cautions that hold or may hold, and whom a thing for anyone is not for."""

    cautions: tuple[Caution, ...] = ()
    not_for: tuple[NotFor, ...] = ()


def whom(not_for: Collection[NotFor]) -> list[str]:
    """Whom these are about, each once, and no lower age where a higher one stands: two years includes three months."""
    oldest = max((each.age_below for each in not_for), default=0.0)
    return list(dict.fromkeys(each.who for each in not_for if reaches(each.age_below, oldest) or not each.age_below))


def fire(rules: Iterable[Rule], case: Case) -> Fired:
    """Fire rules on a case, all of them: none hides another."""
    return meet(((rule, evaluate(rule.what, case)) for rule in rules), case)


def meet(held: Iterable[tuple[Rule, Answer]], case: Case) -> Fired:
    """Ask of each rule, of which it is known whether its thing is in the case, whether it is about the wearer too."""
    cautions: list[Caution] = []
    not_for: list[NotFor] = []
    for rule, what in held:
        # While a row is open that may weigh, one caution says so for all: see `Case.waiting`.
        if what.answer is False or (what.answer is None and what.waits):
            continue
        who = evaluate(rule.who, case)
        if who.answer is False:
            continue
        if what.answer and who.answer is None and not case.wearer.name:
            names = tuple(dict.fromkeys((*what.about, *who.about)))
            not_for.append(
                NotFor(
                    who_words(rule.who),
                    ", ".join(names),
                    grade=Grade(rule.grade),
                    rule=rule.key,
                    message=rule.message,
                    label=rule.label,
                    names=names,
                    age_below=age_below(rule.who),
                )
            )
        else:
            cautions.append(_caution(rule, what, who, case))
    return Fired(tuple(cautions), tuple(not_for))


def _caution(rule: Rule, what: Answer, who: Answer, case: Case) -> Caution:
    names = tuple(dict.fromkeys((*what.about, *who.about)))
    grade = Grade(rule.grade)
    if what.answer and who.answer:
        return Caution(
            rule.key,
            grade,
            names,
            rule.message,
            why=rule.why,
            who=case.wearer.name if rule.is_personal else "",
            source=rule.source,
            remedy=rule.remedy,
            label=rule.label,
            confidence=rule.confidence,
            answerable=rule.answerable,
        )
    # Unknown is never taken for no: a stop that may apply is at least a warning.
    doubt, if_so = (who_words(rule.who), "If so") if what.answer else _doubt_of(names, case)
    return Caution(
        rule.key,
        Grade.WARN if grade is Grade.STOP else Grade.NOTE,
        names,
        f"Unknown: {doubt}. {if_so}: {rule.message[:1].lower()}{rule.message[1:]}",
        why=rule.why,
        who=case.wearer.name,
        source=rule.source,
        confidence=rule.confidence,
        is_unknown=True,
        asks_wearer=who.answer is None,
        not_asked=doubt if what.answer and who.answer is None else "",
        grade_if_so=grade,
        remedy="Ask, and write it on the wearer’s card." if what.answer else "",
    )


def _doubt_of(names: tuple[str, ...], case: Case) -> tuple[str, str]:
    """What is not known of what is in it (how much there is, or what it is made of), and how to go on from there."""
    if case.waiting and names:
        return f"how large a part {', '.join(names)} is", "If it is much"
    unmeasured = {part.item.name for part in case.parts if not part.measured}
    if names and unmeasured.issuperset(names):
        return f"how much {', '.join(names)} is in it", "If it is not very little"
    return f"what is in {', '.join(names) or 'it'}", "If so"
