"""Check a case against everything that is known of safety: all rules are evaluated, and all that fire are shown."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from uptide.core.measures.names import normalise
from uptide.core.measures.say import say_number
from uptide.core.safety.bath import Bath, bath_of
from uptide.core.safety.book import Rule
from uptide.core.safety.case import TOLERANCE, Case
from uptide.core.safety.caution import Caution, Grade
from uptide.core.safety.claims import Claim, read_claims
from uptide.core.safety.dose import NEAR, Dose, dose_of
from uptide.core.safety.judge import evaluate
from uptide.core.safety.limits import Allergens, OverLimit, allergens_of, over_limits
from uptide.core.safety.sun import Sun, sun_of
from uptide.core.safety.words import Alternatives, Condition, read_words
from uptide.core.skin.wearer import ALLERGIES, HEALTH, MEDICINES, USES

RANK = {Grade.STOP: 0, Grade.WARN: 1, Grade.NOTE: 2}


@dataclass(frozen=True, slots=True)
class NotFor:
    """Whom a product that is made for anyone is not for: who, because of what, how serious, and the rule."""

    who: str
    about: str
    grade: Grade
    rule: str
    message: str


@dataclass(frozen=True, slots=True)
class Safety:
    """Everything that the check found; `open_stops` keep a blend a draft."""

    cautions: tuple[Caution, ...] = ()
    not_for: tuple[NotFor, ...] = ()
    dose: Dose | None = None
    sun: Sun | None = None
    allergens: Allergens | None = None
    over: tuple[OverLimit, ...] = ()
    claims: tuple[Claim, ...] = ()
    bath: Bath | None = None
    unsettled: tuple[str, ...] = ()  # rows as typed that nobody understands yet: nothing here speaks for them

    @property
    def draft(self) -> str:
        """Why it is a draft still, in words; nothing when no stop is open and every row is settled."""
        count = len(self.open_stops)
        said = [f"{count} {'stop is' if count == 1 else 'stops are'} open"] if count else []
        said += [f"“{typed}” is not settled" for typed in self.unsettled]
        return f"A draft: {'; '.join(said)}." if said else ""

    @property
    def is_draft(self) -> bool:
        """Whether it can be finished not yet: a stop is open, or a row waits to be understood."""
        return bool(self.open_stops or self.unsettled)

    @property
    def open_stops(self) -> tuple[Caution, ...]:
        """Stops without a written reason, or that no reason can lift."""
        return tuple(c for c in self.cautions if c.grade is Grade.STOP and not c.is_answered)


@dataclass(frozen=True, slots=True)
class Said:
    """Words that claims are read from, by where they stand, and the written reasons by rule."""

    texts: Mapping[str, str] = field(default_factory=dict)
    reasons: Mapping[str, str] = field(default_factory=dict)


def check(case: Case, said: Said | None = None) -> Safety:
    """Check a case; cautions with the gravest on top, those of one grade in the order of the tables."""
    said = said or Said()
    if not case.is_weighed:
        return Safety(unsettled=case.unsettled)
    dose = dose_of(case)
    found: list[Caution] = []
    not_for: list[NotFor] = []
    for rule in case.book.rules:
        _by_rule(rule, case, found, not_for)
    found += _of_unmeasured(case)
    found += _of_dose(case, dose)
    found += _of_limits(case)
    claims = read_claims(dict(said.texts), case.book)
    found += _of_claims(claims)
    found += _of_wishes(case)
    found += _of_notes(case)
    not_for += [
        NotFor(_limit_words(limit.applies_to), f"{limit.most:g} % of scent at most", Grade.WARN, "dose", limit.words)
        for limit in dose.unknown_limits
        if dose.total > limit.most + TOLERANCE
    ]
    found.append(USUAL_CARE)
    found = [_with_better_words(c, case) if c.rule in CLAIM_RULES else c for c in found]
    answered = [c.answered(said.reasons.get(c.rule, "")) for c in found]
    ordered = sorted(answered, key=lambda c: (RANK[c.grade], c.is_unknown))
    return Safety(
        tuple(ordered), tuple(not_for), dose, sun_of(case), allergens_of(case), over_limits(case), claims,
        bath_of(case), case.unsettled,
    )  # fmt: skip


CLAIM_RULES = frozenset({"medicine-claim", "sun-claim"})
USUAL_CARE = Caution(
    "usual-care",
    Grade.NOTE,
    (),
    "For the skin only. Patch test the finished product twice for 24 hours. This is no medical or legal advice; local "
    "law and licensed practice come first.",
    source="common-practice",
)


def _by_rule(rule: Rule, case: Case, found: list[Caution], not_for: list[NotFor]) -> None:
    what = evaluate(read_words(rule.what), case)
    if what.answer is False:
        return
    who = evaluate(read_words(rule.who), case)
    if who.answer is False:
        return
    names = tuple(dict.fromkeys((*what.about, *who.about)))
    grade = Grade(rule.grade)
    if what.answer and who.answer:
        found.append(
            Caution(
                rule.key, grade, names, rule.message, why=rule.why, who=_name(case, rule), source=rule.source,
                clears=rule.clears, confidence=rule.confidence, answerable=rule.answerable,
            )
        )  # fmt: skip
    elif what.answer and not case.wearer.name:
        not_for.append(NotFor(who_words(read_words(rule.who)), ", ".join(names), grade, rule.key, rule.message))
    else:
        # Unknown is never taken for no: a stop that may apply is at least a warning.
        doubt, if_so = (who_words(read_words(rule.who)), "If so") if what.answer else _doubt_of(names, case)
        milder = Grade.WARN if grade is Grade.STOP else Grade.NOTE
        found.append(
            Caution(
                rule.key, milder, names, f"Unknown: {doubt}. {if_so}: {rule.message[:1].lower()}{rule.message[1:]}",
                why=rule.why, who=case.wearer.name, source=rule.source, confidence=rule.confidence, is_unknown=True,
                clears="Ask, and write it on the wearer’s card." if what.answer else "",
            )
        )  # fmt: skip


def _doubt_of(names: tuple[str, ...], case: Case) -> tuple[str, str]:
    """What is not known of what is in it (how much there is, or what it is made of), and how to go on from there."""
    unmeasured = {part.item.name for part in case.parts if not part.measured}
    if names and unmeasured.issuperset(names):
        return f"how much {', '.join(names)} is in it", "If it is not very little"
    return f"what is in {', '.join(names) or 'it'}", "If so"


def _name(case: Case, rule: Rule) -> str:
    return "" if rule.who in ("anyone", "nobody-named") else case.wearer.name


def _of_unmeasured(case: Case) -> Iterator[Caution]:
    for grade in (Grade.WARN, Grade.NOTE):
        names = [p.item.name for p in case.parts if not p.measured and p.item.is_fatty is (grade is Grade.NOTE)]
        if names:
            yield Caution(
                "not-measured", grade, tuple(dict.fromkeys(names)),
                "In it, and nobody knows how much: what depends on the amount is unknown.",
                source="common-practice", clears="Weigh it, and write the grams.", is_unknown=True,
            )  # fmt: skip


def _of_dose(case: Case, dose: Dose) -> Iterator[Caution]:
    if not case.scents:
        return
    names = tuple(dict.fromkeys(part.item.name for part in case.scents))
    if dose.is_over:
        why = "; ".join(f"{_limit_words(limit.applies_to)}: {limit.most:g} %" for limit in dose.limits)
        yield Caution(
            "scent-over", Grade.STOP, names,
            f"Too much scent: {say_number(dose.total, 3)} % at most, and {dose.most:g} % is the most here.",
            why=why, who=case.wearer.name, source="tisserand-young-2014", clears="Use less of it.",
        )  # fmt: skip
    elif dose.is_above_suggested:
        yield Caution(
            "scent-above-suggested", Grade.NOTE, names,
            f"More scent than is suggested: {say_number(dose.total, 3)} %; {dose.suggested:g} % is, {dose.most:g} % is "
            "the most.",
            source="tisserand-young-2014", clears="Use less of it.",
        )  # fmt: skip
    for oil in dose.oils:
        name = oil.part.item.name
        if oil.unknown:
            yield Caution(
                "scent-unknown", Grade.WARN, (name,),
                "Nothing is known here of this scent’s limits: look it up before use.",
                source="common-practice", clears="Swap it for one that is known.", confidence="low", is_unknown=True,
            )  # fmt: skip
        elif oil.ratio is not None and oil.limit is not None:
            yield from _of_oil(case, name, oil.part.high, oil.limit, oil.ratio, oil.driver)


def _of_oil(case: Case, name: str, share: float, limit: float, ratio: float, driver: str) -> Iterator[Caution]:
    words = f"{say_number(share, 3)} % of it; {limit:g} % is the most left on skin"
    why = f"Because of {driver}." if driver else ""
    if ratio > 1 + TOLERANCE:
        grade = Grade.WARN if case.purpose.rinsed else Grade.STOP
        rinsed = " Rinsed off, more may be allowed: see its certificate." if case.purpose.rinsed else ""
        yield Caution(
            "oil-over", grade, (name,), f"Over its own limit: {words}.{rinsed}", why=why, source="tisserand-young-2014",
            clears="Use less of it.",
        )  # fmt: skip
    elif ratio > NEAR + TOLERANCE and not case.purpose.rinsed:
        yield Caution(
            "oil-near", Grade.WARN, (name,), f"Near its own limit: {words}.", why=why, source="tisserand-young-2014",
            clears="Use less of it.",
        )  # fmt: skip


def _of_limits(case: Case) -> Iterator[Caution]:
    """Constituents over their limits; those that law limits surely have rules of their own in the table."""
    for over in over_limits(case):
        if over.limit.law and over.surely:
            continue
        amount, limit = over.amount, over.limit
        name = amount.name.lower()
        names = tuple(dict.fromkeys(part.item.name for part in amount.bringers))
        law = "EU law" if limit.law else "its limit on skin"
        if over.surely:
            message = f"{name.capitalize()}: {say_number(amount.typical, 3)} % typically; {limit.most:g} % is {law}."
        else:
            message = (
                f"{name.capitalize()} may be over {law} of {limit.most:g} %: {say_number(amount.high, 3)} % at most."
            )
        yield Caution(
            "constituent-over" if over.surely else "constituent-may-be-over",
            Grade.STOP if over.surely else Grade.WARN, names, message,
            why="A certificate of the lot would say more.", source=limit.source,
            clears="Use less, or a lot with a certificate.",
        )  # fmt: skip
    allergens = allergens_of(case)
    if allergens.problem:
        yield Caution("allergen-list", Grade.STOP, ("label",), allergens.problem, source="eu-2023-1545")


def _of_claims(claims: Sequence[Claim]) -> Iterator[Caution]:
    """Milder claims on their own; those that stop are one stop, from the table."""
    for claim in claims:
        if claim.pattern.grade != "stop":
            yield Caution(
                f"claim-{claim.pattern.key}", Grade(claim.pattern.grade), (f"“{claim.found}”",),
                f"In the {claim.where}: {claim.pattern.why}.", source=claim.pattern.source,
                clears=f"Say rather: {'; '.join(claim.pattern.instead)}.",
            )  # fmt: skip


def _with_better_words(caution: Caution, case: Case) -> Caution:
    """A stop for what was claimed, with what may be said instead of each of the words."""
    claims = [c for c in read_claims({"words": case.words}, case.book) if c.pattern.grade == "stop"]
    offered = [f"for “{claim.found}”: {'; or '.join(claim.pattern.instead)}" for claim in claims]
    return replace(caution, clears=f"Say rather, {'. '.join(offered)}.") if offered else caution


def _of_wishes(case: Case) -> Iterator[Caution]:
    """What the wearer named in their own words: an allergy of theirs, or something they do not like."""
    for words, rule, grade, said in (
        (case.wearer.other_allergies, "named-allergy", Grade.STOP, "is named as an allergy"),
        (case.wearer.dislikes, "dislike", Grade.NOTE, "is not liked"),
    ):
        for wish in filter(None, (part.strip() for part in re.split(r"[,;\n]", words))):
            found = [part.item.name for part in case.parts if _is_in(wish, part.item.name, part.item.inci)]
            found += [
                part.item.name
                for part in case.scents
                if (facts := case.facts(part))
                and any(normalise(wish) == normalise(name) for name in facts.constituents)
            ]
            if found:
                yield Caution(
                    rule, grade, tuple(dict.fromkeys(found)), f"“{wish}” {said}.",
                    who=case.wearer.name, source="person", clears="Take it out.", confidence="high",
                )  # fmt: skip


def _is_in(wish: str, *names: str) -> bool:
    words = normalise(wish)
    return len(words) > 2 and any(re.search(rf"\b{re.escape(words)}\b", normalise(name)) for name in names)


def _of_notes(case: Case) -> Iterator[Caution]:
    for name, note in dict.fromkeys((p.item.name, p.item.allergen_note) for p in case.parts if p.item.allergen_note):
        yield Caution("allergen-note", Grade.NOTE, (name,), f"{note[:1].upper()}{note[1:]}.", source="common-practice")


WHO = {
    "pregnant": "in pregnancy", "planning": "when planning a pregnancy", "breastfeeding": "when breastfeeding",
    "procedure": "within two weeks of a peel, laser, needle or tattoo", "sunbed": "with a sunbed or light therapy",
    "sun": "with much sun", "younger-than": "for children below the age that its scents allow",
    "sensitive": "on sensitive or ill skin", "reacted": "after a reaction to it",
}  # fmt: skip
ON_SKIN = {
    "acne": "on acne-prone skin", "eczema": "with eczema", "rosacea": "with rosacea or flushing",
    "psoriasis": "with psoriasis", "seborrhoeic": "on seborrhoeic skin or a scaly scalp", "peeling": "on peeling skin",
    "infected": "on infected skin", "broken": "on broken skin",
}  # fmt: skip
OF_MEDICINES = {
    **MEDICINES, "photosensitiser": "a medicine that makes skin sensitive to light",
    "cyp2b6": "a medicine broken down by CYP2B6", "any": "any medicine",
}  # fmt: skip
GROUPS = {"allergy": ("with an allergy to ", ALLERGIES), "skin": ("", ON_SKIN), "medicine": ("with ", OF_MEDICINES),
          "health": ("with ", HEALTH), "uses": ("with ", USES)}  # fmt: skip


def who_words(alternatives: Alternatives) -> str:
    """Whom a rule is about, in words: “with an allergy to tree nuts, or in pregnancy”."""
    return " or ".join(dict.fromkeys(" and ".join(_who(condition) for condition in way) for way in alternatives))


def _who(condition: Condition) -> str:
    if condition.word in GROUPS:
        lead, words = GROUPS[condition.word]
        return lead + " or ".join(words.get(name, name) for name in condition.names)
    if condition.word == "age":
        years = condition.bound / 12
        age = f"{years:g} years" if years >= 1 else f"{condition.bound:g} months"
        return f"{'under' if condition.sign == '<' else 'over'} {age}"
    return WHO.get(condition.word, condition.word)


def _limit_words(applies_to: str) -> str:
    """Whom or what a limit of the dose is for, in words."""
    if applies_to in WHO:
        return WHO[applies_to]
    try:
        return who_words(read_words(applies_to)).replace(" and area", " on the face")
    except ValueError:
        return applies_to.replace("-", " ")


def oldest_alone(whom: Collection[str]) -> list[str]:
    """Without the lower ages where a higher one stands: under two years includes under three months."""
    ages = {words: found for words in whom if (found := re.fullmatch(r"under (\d+) (months|years)", words))}
    months = {words: int(found[1]) * (12 if found[2] == "years" else 1) for words, found in ages.items()}
    return [words for words in whom if words not in months or months[words] == max(months.values())]
