"""A recipe over all that it may mean: figures that span the readings, and the gravest caution of any."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import inf
from typing import Protocol

from uptide.core.assessment.assessment import Assessment
from uptide.core.figures.citing import listed
from uptide.core.figures.finding import Finding
from uptide.core.ingredients.ingredient import Phase
from uptide.core.recipe.assuming import OpenReading, open_readings, other_readings, read_as
from uptide.core.recipe.recipe import Recipe
from uptide.core.safety.caution import RANK, Caution
from uptide.core.safety.check import Safety
from uptide.core.safety.firing import NotFor

WORTH_WEIGHING = 0.01  # of a row's mass: a reading that changes it by less is poured the same


class WorkOut(Protocol):
    """How a recipe is assessed by one reading; `keeps` says whether how long it keeps is worked out as well."""

    def __call__(self, read: Recipe, *, keeps: bool = True) -> Assessment:
        """The assessment."""


@dataclass(frozen=True, slots=True)
class Other:
    """The recipe by another reading, and in words which that is: “if “orange” is bitter orange”."""

    choices: tuple[tuple[OpenReading, str], ...]
    assessment: Assessment

    @property
    def words(self) -> str:
        """The condition under which this is so."""
        return f"if {listed([_said(reading, value) for reading, value in self.choices])}"


def over_readings(taken: Assessment, work_out: WorkOut) -> Assessment:
    """The assessment by the reading that was taken, with what every other reading adds to it."""
    single = [
        Other(((reading, value),), work_out(read_as(taken.recipe, reading, value), keeps=_turns(taken, reading)))
        for reading, value in other_readings(taken.resolution)
    ]
    if not single:
        return taken
    others = [*single, *_together(taken, single, work_out)]
    readings = open_readings(taken.resolution)
    safety = taken.safety
    if safety is not None:
        waiting = [each.about for each in readings if _waits(taken, each, single)]
        safety = replace(_gravest(taken, safety, others), assumed=tuple(waiting))
    count = len(readings)
    said = (
        f"{count} {'reading is' if count == 1 else 'readings are'} assumed; figures and cautions heed the others too."
    )
    return replace(
        taken,
        findings=tuple(_spanned(finding, others) for finding in taken.findings),
        safety=safety,
        cautions=safety.cautions if safety is not None else taken.cautions,
        remarks=(said, *taken.remarks),
    )


def _turns(taken: Assessment, reading: OpenReading) -> bool:
    """Whether how long it keeps hangs on a reading: it does unless only scents are open."""
    items = [taken.rows[index].ingredient for index in reading.rows]
    return any(item is None or item.phase is not Phase.SCENT for item in items)


def _together(taken: Assessment, single: Sequence[Other], work_out: WorkOut) -> list[Other]:
    """Readings that are harmless one by one may add up: all the gravest at once, by each measure of what is grave."""
    found: dict[tuple[tuple[OpenReading, str], ...], Other] = {}
    measures: tuple[Callable[[Assessment], tuple[float, ...]], ...] = (_cautioned, _dose, _sun)
    for measure in measures:
        worst: dict[OpenReading, Other] = {}
        for other in single:
            reading = other.choices[0][0]
            if measure(other.assessment) > measure(worst[reading].assessment if reading in worst else taken):
                worst[reading] = other
        choices = tuple(choice for other in worst.values() for choice in other.choices)
        if len(choices) > 1 and choices not in found:
            recipe = taken.recipe
            for reading, value in choices:
                recipe = read_as(recipe, reading, value)
            found[choices] = Other(choices, work_out(recipe, keeps=False))
    return list(found.values())


def _cautioned(assessment: Assessment) -> tuple[float, ...]:
    """How many cautions of each grade, the gravest first."""
    return tuple(sum(c.grade is grade and not c.is_unknown for c in assessment.cautions) for grade in RANK)


def _dose(assessment: Assessment) -> tuple[float, ...]:
    """How far the scent goes towards a limit, of the whole or of its own."""
    dose = assessment.safety.dose if assessment.safety else None
    if dose is None:
        return ()
    whole = dose.total / dose.most if dose.most else inf if dose.is_over else 0.0
    return (max([whole, *(oil.ratio or 0.0 for oil in dose.oils)]),)


def _sun(assessment: Assessment) -> tuple[float, ...]:
    """How far it goes towards a burn in the sun."""
    sun = assessment.safety.phototoxicity if assessment.safety else None
    return (sun.total,) if sun else ()


def _said(reading: OpenReading, value: str) -> str:
    """A reading in words."""
    return f"“{reading.about}” is {reading.words(value)}"


def _gravest(taken: Assessment, safety: Safety, others: Sequence[Other]) -> Safety:
    """Every caution of every reading, each as grave as by the gravest of them; what both readings say, once."""
    cautions = {(c.rule, c.names): _if_taken(c, others) for c in safety.cautions}
    not_for: dict[tuple[str, str, str], NotFor] = {(n.who, n.about, n.message): n for n in safety.not_for}
    for other in others:
        found, taken_for = other.assessment.safety or Safety(), _taken_for(taken, other)
        for caution in found.cautions:
            same = cautions.get((caution.rule, tuple(taken_for.get(name, name) for name in caution.names)))
            if not _is_said(caution, cautions.values()) and not _says_the_same(caution, same):
                cautions[caution.rule, caution.names] = _conditional(caution, other.words)
        for who in found.not_for:
            about = ", ".join(taken_for.get(name, name) for name in who.names) or who.about
            if (who.who, about, who.message) not in not_for:
                key = (who.who, who.about, who.message)
                not_for.setdefault(key, replace(who, message=f"{who.message} ({other.words})"))
    ordered = sorted(cautions.values(), key=lambda c: (RANK[c.grade], c.is_unknown))
    return replace(safety, cautions=tuple(ordered), not_for=tuple(not_for.values()))


def _taken_for(taken: Assessment, other: Other) -> Mapping[str, str]:
    """What is in a row by the reading that was taken, by the name of what is there by another."""
    pairs = ((row.ingredient, before.ingredient) for row, before in zip(other.assessment.rows, taken.rows, strict=True))
    return {item.name: before.name for item, before in pairs if item is not None and before is not None}


def _says_the_same(caution: Caution, other: Caution | None) -> bool:
    return other is not None and (caution.grade, caution.message, caution.why) == (
        other.grade,
        other.message,
        other.why,
    )


def _is_said(caution: Caution, known: Iterable[Caution]) -> bool:
    """Whether cautions of the same rule, as grave or graver, name already all that this one is about."""
    same = [c for c in known if c.rule == caution.rule and RANK[c.grade] <= RANK[caution.grade]]
    return bool(same) and set(caution.names) <= {name for c in same for name in c.names}


def _if_taken(caution: Caution, others: Sequence[Other]) -> Caution:
    """A caution of the reading that was taken; where another reading clears it, under that condition."""
    clearing: dict[OpenReading, None] = {}
    for other in others:
        found = other.assessment.safety or Safety()
        if len(other.choices) == 1 and all(c.rule != caution.rule for c in found.cautions):
            clearing[other.choices[0][0]] = None
    if not clearing:
        return caution
    return _conditional(caution, f"if {listed([_said(each, each.question.assumed) for each in clearing])}")


def _conditional(caution: Caution, condition: str) -> Caution:
    return replace(
        caution,
        message=f"{condition[:1].upper()}{condition[1:]}: {caution.message}",
        remedy=caution.remedy or "Say which it is, beside its row.",
    )


def _spanned(finding: Finding, others: Sequence[Other]) -> Finding:
    """A figure whose band holds what every reading gives, and says so where a verdict differs."""
    if finding.value is None:
        return finding
    low, high, words = finding.low, finding.high, []
    for other in others:
        same = next((f for f in other.assessment.findings if f.key == finding.key), None)
        if same is None or same.value is None:
            continue
        if same.word != finding.word:
            words.append(f"“{same.word}” {other.words}")
        if round(same.value, finding.decimals) != round(finding.value, finding.decimals):
            low = min(x for x in (low, finding.value, same.low, same.value) if x is not None)
            high = max(x for x in (high, finding.value, same.high, same.value) if x is not None)
    said = "; ".join(words)
    remark = " ".join(filter(None, [finding.remark, f"{said[:1].upper()}{said[1:]}." if said else ""]))
    return replace(finding, low=low, high=high, remark=remark)


def _waits(taken: Assessment, reading: OpenReading, others: Sequence[Other]) -> bool:
    """Whether a reading changes what is poured or what the label must say; else nothing need wait for it."""
    mine = [other.assessment for other in others if other.choices[0][0] == reading and len(other.choices) == 1]
    return any(
        _label_words(other) != _label_words(taken)
        or any(
            abs((row.grams or 0.0) - (before.grams or 0.0)) > WORTH_WEIGHING * (before.grams or 0.0)
            for row, before in zip(other.rows, taken.rows, strict=True)
        )
        for other in mine
    )


def _label_words(assessment: Assessment) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The INCI names of what is in it, and the allergens that are declared."""
    allergens = assessment.safety.allergens if assessment.safety else None
    names = tuple(item.inci for _, item in assessment.resolution.parts)
    return names, tuple(each.name for each in allergens.declared) if allergens else ()
