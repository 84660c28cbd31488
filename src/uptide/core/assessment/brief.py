"""A blend in a few lines: what it is, how long it keeps and why, and whom it must not touch."""

from __future__ import annotations

from uptide.core.assessment.assessment import Assessment
from uptide.core.figures.citing import listed
from uptide.core.figures.finding import Finding
from uptide.core.measures.quick import QuickAnswer
from uptide.core.measures.say import say_number
from uptide.core.recipe.assuming import open_readings
from uptide.core.safety.caution import Caution, Grade
from uptide.core.safety.firing import whom

LONG = 90  # characters from which a caution is cut to its first sentence


def in_brief(assessment: Assessment, typed: str) -> QuickAnswer:
    """Say an assessment in brief; `typed` is what was asked, to be put on the bench."""
    known = {finding.key: finding for finding in assessment.findings}
    words = [*_feels(known), *_keeps(known), *_suits(known)]
    whole = assessment.resolution
    if not whole.read:
        return QuickAnswer("Nothing in it could be weighed", "", recipe=typed, lines=_heed(assessment))
    head = "; ".join(words)
    lines = [
        ("Keeps", known["keeps_months"].remark if "keeps_months" in known else ""),
        ("Feels", known["feel"].remark),
        ("Scent", _scent(known)),
        ("Assumed", "; ".join(f"“{each.about}” is {each.taken}" for each in open_readings(whole))),
        *_heed(assessment),
    ]
    return QuickAnswer(
        head[:1].upper() + head[1:],
        f"{say_number(whole.total_millilitres, 3)} mL, {say_number(whole.total_grams, 3)} g",
        recipe=typed,
        lines=tuple((label, said) for label, said in lines if said),
    )


def _feels(known: dict[str, Finding]) -> list[str]:
    return [f"feels {known['feel'].word}"] if known["feel"].word else ["its feel is unknown"]


def _keeps(known: dict[str, Finding]) -> list[str]:
    finding = known.get("keeps_months")
    if finding is None:
        return []
    if finding.value is None:
        return ["how long it keeps is unknown"]
    months = f"{finding.value:.0f} {'month' if finding.value == 1 else 'months'}"
    return [f"keeps {months}" if finding.value >= 1 else "keeps less than a month"]


def _scent(known: dict[str, Finding]) -> str:
    finding = known.get("scent_dose")
    if finding is None:
        return ""
    return f"{say_number(finding.value, 3)} % at most. {finding.remark}" if finding.value else finding.remark


def _suits(known: dict[str, Finding]) -> list[str]:
    return [known["skin_fit"].word] if known["skin_fit"].word else []


def _heed(assessment: Assessment) -> tuple[tuple[str, str], ...]:
    """What is open, what stops, what warns, and whom it is not for."""
    safety = assessment.safety
    if safety is None:
        return ()
    stopped = [each for each in safety.not_for if each.grade is Grade.STOP]
    names = {each.who for each in stopped}
    warned = [each for each in safety.not_for if each.grade is Grade.WARN and each.who not in names]
    return tuple(
        (label, said)
        for label, said in (
            ("Not settled", ", ".join(f"“{typed}”" for typed in safety.unsettled)),
            ("Stop", _first_words(assessment.cautions, Grade.STOP)),
            ("Warn", _first_words(assessment.cautions, Grade.WARN)),
            ("Not", f"{listed(whom(stopped))}." if stopped else ""),
            ("With care", f"{listed(whom(warned))}." if warned else ""),
        )
        if said
    )


def _first_words(cautions: tuple[Caution, ...], grade: Grade) -> str:
    """Each caution of a grade, of a long one the first sentence; the bench has the rest."""
    said = []
    for caution in (c for c in cautions if c.grade is grade):
        first = f"{caution.message.partition('. ')[0].rstrip('.')}."
        about = f"{caution.about}: " if caution.names else ""
        said.append(f"{about}{caution.message if len(caution.message) <= LONG else first}")
    return " ".join(said)
