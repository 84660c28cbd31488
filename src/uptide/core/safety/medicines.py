"""Each medicine on a card against each scent in a bottle: what is known of the two, and where nothing is."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

from uptide.core.figures.citing import listed
from uptide.core.figures.finding import Finding, Input
from uptide.core.figures.specs import MEDICINES_TAKEN
from uptide.core.safety.case import Case
from uptide.core.safety.caution import Grade
from uptide.core.safety.person import judge
from uptide.core.safety.tables import SafetyTables
from uptide.core.safety.words import asks_for
from uptide.core.skin.wearer import ANYONE, MEDICINES, Ticks

SILENCE = "That nothing is known here does not say that it is safe: ask whoever gave the medicine."
WORDS = {Grade.STOP: "not with it", Grade.WARN: "ask first", Grade.NOTE: "ask if used daily"}


@dataclass(frozen=True, slots=True)
class MedicineAnswer:
    """What is known of one medicine with what is in a bottle, and the scents of which nothing is."""

    medicine: str  # its key on a card
    known: tuple[tuple[str, Grade, str], ...]  # name, how serious, what is said
    unknown: tuple[str, ...]

    @property
    def words(self) -> str:
        """Both in words."""
        said = [f"{name}: {message}" for name, _, message in self.known]
        if self.unknown:
            said.append(f"Of {listed(list(self.unknown))} with it nothing is known here.")
        return f"With {MEDICINES[self.medicine]}: {' '.join(said) or 'there is no scent in it.'}"


def medicine_answers(case: Case) -> tuple[MedicineAnswer, ...]:
    """An answer for each medicine that the wearer takes, in the order of the card."""
    return tuple(_answer(case, key) for key in MEDICINES if key in case.wearer.medicines.yes)


def medicines_finding(case: Case) -> tuple[Finding, ...]:
    """The same as a figure: how many pairs of a medicine and a thing are to be asked about; none without a medicine."""
    answers = medicine_answers(case)
    if not answers:
        return ()
    known = [each for answer in answers for each in answer.known]
    worst = next((grade for grade in Grade if grade in {grade for _, grade, _ in known}), None)
    return (
        Finding(
            spec=MEDICINES_TAKEN,
            value=float(len(known)),
            inputs=tuple(Input(name, 1.0, grade.value, source="tisserand-young-2014") for name, grade, _ in known),
            sources=("tisserand-young-2014",),
            confidence="low",
            remark=f"{' '.join(answer.words for answer in answers)} {SILENCE}",
            word=WORDS[worst] if worst is not None else "nothing known",
        ),
    )


def _answer(case: Case, medicine: str) -> MedicineAnswer:
    taking = replace(ANYONE, medicines=Ticks.answered(MEDICINES, medicine))
    known: list[tuple[str, Grade, str]] = []
    unknown: list[str] = []
    for item in dict.fromkeys(part.item for part in case.parts):
        judged = judge(item, taking, case.tables, case.today)
        rules = _medicine_rules(case.tables)
        held = [(item.name, c.grade, c.message) for c in judged.holds if c.rule in rules]
        known += sorted(held, key=lambda each: list(Grade).index(each[1]))[:1]  # the gravest says it
        if not held and item in {part.item for part in case.scents}:
            unknown.append(item.name)
    return MedicineAnswer(medicine, tuple(known), tuple(unknown))


@lru_cache(maxsize=16)
def _medicine_rules(tables: SafetyTables) -> frozenset[str]:
    """The rules in which a medicine speaks."""
    return frozenset(rule.key for rule in tables.rules if asks_for(rule.who, "medicine"))
