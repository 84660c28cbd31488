"""Solids in oil: whether they stay up or settle where the thing will live, and what would hold them."""

from __future__ import annotations

from collections.abc import Sequence
from math import fsum, inf

from uptide.core.figures.citing import cited, listed
from uptide.core.figures.finding import Finding, Input
from uptide.core.figures.physical import viscosity
from uptide.core.figures.setting import SALVE, beeswax_percent, solid_at
from uptide.core.figures.specs import SOLIDS
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.measures.say import say_number
from uptide.core.physics.settling import COLUMN_MM, PACKED, fall_seconds
from uptide.core.physics.solid import STATES
from uptide.core.tolerance import exceeds, reaches

POWDER = "powder"
HOLDS = STATES[2][0]  # % solid fat: from here on it is soft and no longer pours, and holds what is in it
MINUTE, HOUR, DAY, MONTH = 60.0, 3600.0, 86_400.0, 2_629_800.0  # s
# Upper bound of the seconds for each word.
SPEEDS = (
    (HOUR, "settles in minutes"),
    (DAY, "settles in hours"),
    (MONTH, "settles in days"),
    (inf, "stays up for months"),
)
THICKEST = 10.0  # times: more no oil makes it; castor is ten times as thick as the thin ones

Fatty = list[tuple[float, Ingredient]]


def settling(everything: Sequence[tuple[float, Ingredient]], celsius: float) -> tuple[Finding, ...]:
    """Whether the powders in it (g, ingredient) stay up at a temperature [°C]; none where there is no powder in oil."""
    powders = [(mass, item) for mass, item in everything if item.kind == POWDER and mass > 0]
    fatty = [(mass, item) for mass, item in everything if item.is_fatty]
    if not powders or not fatty:
        return ()
    names = listed(list(dict.fromkeys(item.name for _, item in powders)))
    grains = fsum(mass / item.density for mass, item in powders)
    share = grains / fsum(mass / item.density for mass, item in everything)
    held = _held(fatty, celsius)
    if held:
        return (_said(None, "stays up", f"{names}: {held} holds it at {celsius:g} °C. A warm day may let it go."),)
    if reaches(share, PACKED):
        why = f"{names}: {100 * share:.0f} % of the volume is grains, which lie on one another: a paste. Oil may rise."
        return (_said(None, "a paste", f"{why} Stir before use."),)
    thick = viscosity(fatty, celsius)
    if thick.value is None:
        return (_said(None, "may settle", f"{names}: how fast is unknown. {thick.remark} Shake before use."),)
    oil = fsum(mass for mass, _ in fatty) / fsum(mass / item.density for mass, item in fatty)
    falls = {item: _falls(item, oil, thick.value, share) for _, item in powders}
    known = {item: found for item, found in falls.items() if found is not None}
    if not known:
        return (_said(None, "may settle", f"{names}: the size of its grains is not known. Shake before use."),)
    fastest = min(typical for _, typical, _ in known.values())
    word = next(word for bound, word in SPEEDS if fastest < bound)
    each = "; ".join(
        f"{item.name} falls {COLUMN_MM / 10:g} cm in {_time(typical)} ({_time(fast)} to {_time(slow)})"
        for item, (fast, typical, slow) in known.items()
    )
    where = f"in this oil at {celsius:g} °C, {say_number(thick.value, 2)} mPa·s"
    inputs = tuple(
        Input(item.name, _size(item)[1], "µm across", source="common-practice", locator="from memory", confidence="low")
        for item in known
    )
    return (_said(fastest / HOUR, word, f"{each} {where}. {_what_holds(fastest, thick.value)}", inputs),)


def settles(everything: Sequence[tuple[float, Ingredient]], celsius: float) -> bool:
    """Whether a thing must be shaken before use: there is powder in it, and nothing stiff that holds it."""
    fatty = [(mass, item) for mass, item in everything if item.is_fatty]
    has_powder = any(item.kind == POWDER and mass > 0 for mass, item in everything)
    return has_powder and bool(fatty) and not _held(fatty, celsius)


def _said(value: float | None, word: str, remark: str, inputs: tuple[Input, ...] = ()) -> Finding:
    return Finding(
        spec=SOLIDS,
        value=value,
        inputs=inputs,
        sources=cited(inputs, "stokes-1851"),
        confidence="low",
        remark=remark,
        word=word,
        other="By eye: shake a small jar, and look at it again after an hour and a day.",
    )


def _held(fatty: Fatty, celsius: float) -> str:
    """What is stiff enough to hold grains; nothing where it pours."""
    wax = beeswax_percent(fatty)
    if wax is not None and reaches(wax, SALVE):
        return "its wax"
    solid = solid_at(fatty, celsius)
    return "set fat" if solid is not None and reaches(solid, HOLDS) else ""


def _size(item: Ingredient) -> tuple[float, float, float]:
    """Diameter of its grains [µm]: small, typical, large; zeros where nobody has said."""
    sizes = item.properties.get("particle_size", ())
    return (sizes[0].low or 0.0, sizes[0].typical or 0.0, sizes[0].high or 0.0) if sizes else (0.0, 0.0, 0.0)


def _falls(item: Ingredient, oil: float, thick: float, share: float) -> tuple[float, float, float] | None:
    """Seconds that its large, typical and small grains take; None where their size is not known."""
    small, typical, large = _size(item)
    if not small or not typical or not large:
        return None
    fast, middle, slow = (fall_seconds(size, item.density, oil, thick, share) for size in (large, typical, small))
    return fast, middle, slow


def _what_holds(seconds: float, thick: float) -> str:
    """What would hold it for a day, and what for good."""
    if reaches(seconds, MONTH):
        return "It is shaken all the same: what sinks slowly cakes."
    times = DAY / seconds
    solid = f"a wax of {SALVE:g} % and more, or fat that is soft in the room, holds it"
    if exceeds(times, 1) and not exceeds(times, THICKEST):
        thicker = f"In oil of {say_number(thick * times, 2)} mPa·s it stays up for a day"
        return f"Shake before use. {thicker}; for good, {solid}."
    return f"Shake before use. No oil is thick enough to keep it up; {solid}."


def _time(seconds: float) -> str:
    """A time as people say it.

    >>> _time(27.0), _time(3.1e5), _time(1e8)
    ('27 s', '3.6 days', 'years')
    """
    for unit, size, until in (("s", 1.0, 2 * MINUTE), ("min", MINUTE, 2 * HOUR), ("h", HOUR, 2 * DAY)):
        if seconds < until:
            return f"{say_number(seconds / size, 2)} {unit}"
    if seconds < 2 * MONTH:
        return f"{say_number(seconds / DAY, 2)} days"
    return f"{say_number(seconds / MONTH, 2)} months" if seconds < 24 * MONTH else "years"
