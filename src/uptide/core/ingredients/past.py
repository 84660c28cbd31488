"""What a person says of the lots in a blend, kept as answers of their rows: age, peroxide value, a usual treatment."""

from __future__ import annotations

from collections.abc import Mapping

from uptide.core.ingredients.ingredient import LotPast
from uptide.core.oxidation.history import HeatStep
from uptide.core.oxidation.surroundings import Glass, Light

# The usual ways of warming and infusing: common practice.
TREATMENTS: Mapping[str, tuple[HeatStep, ...]] = {
    "warm infusion, 50 °C for 6 h": (HeatStep(50, 6),),
    "slow cooker, 60 °C for 8 h": (HeatStep(60, 8),),
    "oven, 80 °C for 4 h": (HeatStep(80, 4),),
    "pan, 110 °C for 15 min": (HeatStep(110, 0.25, air=1.5),),
    "dark shelf, 6 weeks": (HeatStep(20, 6 * 168),),
    "sunny sill, clear jar, 3 weeks": (HeatStep(30, 3 * 168, light=Light.SUNNY, glass=Glass.CLEAR, air=1.67),),
    "sunny sill, amber jar, 3 weeks": (HeatStep(30, 3 * 168, light=Light.SUNNY, glass=Glass.AMBER, air=1.67),),
}
FRESH_PLANT = "infused with fresh plant"
OLDEST, HIGHEST = 120.0, 200.0  # months; meq/kg


def read_past(answers: Mapping[str, str]) -> LotPast | None:
    """The past of a row's lot from its answers; None when nothing was said. What cannot be read says nothing."""
    age, pv = _number(answers.get("age", ""), OLDEST), _number(answers.get("pv", ""), HIGHEST)
    steps = TREATMENTS.get(answers.get("past", ""), ())
    fresh = answers.get("past", "") == FRESH_PLANT
    if not age and pv is None and not steps and not fresh:
        return None
    return LotPast(age or 0.0, pv, steps, fresh)


def unread_past(answers: Mapping[str, str]) -> tuple[str, ...]:
    """What was said of a lot and cannot be read, each with what was found and what is allowed."""
    limits = (("age", OLDEST, "an age in months"), ("pv", HIGHEST, "a peroxide value in meq/kg"))
    return tuple(
        f"“{answers[key]}” is not {what}: 0 to {most:g} is; it is left out."
        for key, most, what in limits
        if answers.get(key, "").strip() and _number(answers[key], most) is None
    )


def _number(text: str, most: float) -> float | None:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        return None
    return value if 0 <= value <= most else None
