"""How much scent: the whole against what the product and the wearer allow, and each oil against its own limit.

Source of the limits: tisserand-young-2014 and common practice, from memory, each with its own in the tables.
"""

from __future__ import annotations

from dataclasses import dataclass

from uptide.core.safety.case import Case, Part
from uptide.core.safety.judge import evaluate
from uptide.core.safety.tables import DoseLimit
from uptide.core.tolerance import exceeds

NEAR = 0.8  # of its own limit: from here an oil is warned of
UNSTATED_MOST = 5.0  # % where neither product nor wearer has a limit: general use, tisserand-young-2014, from memory


@dataclass(frozen=True, slots=True)
class OilDose:
    """One scent: share [%], its own limit [%] left on skin or rinsed off, and share over limit; None where none is.

    `is_ceiling` is false for a limit of what stays on, read on something that is rinsed off: more may be allowed.
    """

    part: Part
    limit: float | None
    driver: str
    ratio: float | None
    unknown: bool  # nothing at all is known of it
    is_ceiling: bool = True
    source: str = "tisserand-young-2014"


@dataclass(frozen=True, slots=True)
class Dose:
    """The scent of a product: total at most [%], what is suggested and the most [%], and which limits made it so.

    `total` is by mass or by volume, whichever is less, as the rules of thumb are read; `by_mass` by mass.
    """

    total: float
    by_mass: float
    suggested: float
    most: float
    limits: tuple[DoseLimit, ...]
    unknown_limits: tuple[DoseLimit, ...]  # would apply if what is not known of the wearer were so
    oils: tuple[OilDose, ...]

    @property
    def is_over(self) -> bool:
        """More than the most."""
        return exceeds(self.total, self.most)

    @property
    def is_above_suggested(self) -> bool:
        """More than is suggested."""
        return exceeds(self.total, self.suggested)


def dose_of(case: Case) -> Dose:
    """Work out the dose: of all limits that apply, the lowest counts."""
    certain: list[DoseLimit] = []
    unknown: list[DoseLimit] = []
    for limit in case.tables.dose_limits:
        if not limit.for_wearer:
            if limit.product == case.purpose.product:
                certain.append(limit)
            continue
        applies = evaluate(limit.whom, case).answer
        if applies:
            certain.append(limit)
        elif applies is None:
            unknown.append(limit)
    most = min((limit.most for limit in certain), default=UNSTATED_MOST)
    suggested = min(most, min((limit.suggested for limit in certain), default=most))
    return Dose(
        case.scent_total,
        case.scent_by_mass,
        suggested=suggested,
        most=most,
        limits=tuple(certain),
        unknown_limits=tuple(unknown),
        oils=tuple(_oil(case, part) for part in case.scents),
    )


def _oil(case: Case, part: Part) -> OilDose:
    facts = case.facts(part)
    if facts is None:
        return OilDose(part, None, "", None, unknown=True)
    rinsed = case.purpose.rinsed and facts.most_rinse_off is not None
    limit = facts.most_rinse_off if rinsed else facts.most_leave_on
    ratio = None if limit is None else part.high / limit if limit > 0 else float("inf")
    return OilDose(
        part,
        limit,
        facts.driver,
        ratio,
        unknown=False,
        is_ceiling=rinsed or not case.purpose.rinsed,
        source=facts.rinse_off_source if rinsed else facts.source,
    )
