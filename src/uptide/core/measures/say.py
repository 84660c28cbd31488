"""Back from grams to the words of the kitchen: whole drops, quarter teaspoons, half droppers."""

from __future__ import annotations

from math import floor, log10

from uptide.core.measures.amounts import unit_size
from uptide.core.measures.habits import CAPSULE_G, Habits
from uptide.core.measures.units import UNITS, Dimension

QUARTERS = {0.25: "¼", 0.5: "½", 0.75: "¾"}
DIGITS = 4  # significant digits of a plain number: a tenth of a drop in a 30 mL bottle
# What is measured in up to so many mL shows steps of so many: a syringe, a beaker, a jug; common practice.
POURED_STEPS = ((10.0, 0.1), (100.0, 0.5), (float("inf"), 1.0))
SCALE_STEPS = ((100.0, 0.01), (float("inf"), 0.1))  # g: a fine scale, and a coarse one for more than it bears
SPOON_LADDER = ("cup", "tbsp", "tsp")
SPOON_STEP = 0.25  # teaspoon
# Quarter cups and half tablespoons are spoken of when nothing is left over; a smaller part goes to the next spoon.
SPOKEN_PARTS = {"cup": 1 / 4, "tbsp": 1 / 2, "tsp": SPOON_STEP}


def say_number(value: float, digits: int = DIGITS) -> str:
    """Write a number with so many significant digits, without a trailing zero or an exponent.

    >>> say_number(12.0), say_number(0.123456), say_number(1234.56)
    ('12', '0.1235', '1235')
    """
    if value == 0:
        return "0"
    places = max(0, digits - 1 - floor(log10(abs(value))))
    text = f"{value:.{places}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def say_quarters(value: float) -> str:
    """Write a multiple of a quarter as a kitchen fraction.

    >>> say_quarters(1.5), say_quarters(0.25), say_quarters(3)
    ('1½', '¼', '3')
    """
    whole = floor(value + 1e-9)
    part = QUARTERS.get(round(value - whole, 2), "")
    return f"{whole or ''}{part}" if part else str(whole)


def say_spoons(millilitres: float, habits: Habits, largest: str = "cup") -> str:
    """Write a volume [mL] in cups, tablespoons and quarter teaspoons; never less than a quarter teaspoon.

    >>> say_spoons(29.57, Habits()), say_spoons(250, Habits())
    ('2 tbsp', '1 cup + 2¾ tsp')
    """
    step = unit_size(UNITS["tsp"], habits) * SPOON_STEP
    steps = max(1, round(millilitres / step))
    words: list[str] = []
    for key in SPOON_LADDER[SPOON_LADDER.index(largest) :]:
        size = round(unit_size(UNITS[key], habits) / step)
        grain = round(size * SPOKEN_PARTS[key])
        taken = steps if steps % grain == 0 else steps // size * size
        if taken:
            words.append(f"{say_quarters(taken / size)} {UNITS[key].say(taken / size)}")
        steps -= taken
    return " + ".join(words)


def say_poured(millilitres: float) -> str:
    """Write a volume [mL] to the step that a syringe, a beaker or a jug shows; never nothing.

    >>> say_poured(0.2997), say_poured(3.544), say_poured(61.83), say_poured(612.4)
    ('0.3 mL', '3.5 mL', '62 mL', '612 mL')
    """
    step = next(step for bound, step in POURED_STEPS if millilitres < bound)
    return f"{say_number(max(1, round(millilitres / step)) * step)} mL"


def say_weighed(grams: float) -> str:
    """Write a mass [g] to the step that a kitchen scale shows; never nothing.

    >>> say_weighed(3.1161), say_weighed(141.749), say_weighed(0.001)
    ('3.12 g', '141.7 g', '0.01 g')
    """
    step = next(step for bound, step in SCALE_STEPS if grams < bound)
    return f"{say_number(max(1, round(grams / step)) * step)} g"


def say_amount(grams: float, density: float, unit: str, habits: Habits, system: str = "") -> str:
    """Write a mass [g] in a unit, rounded as that unit is measured: spoons to quarters, drops whole.

    Reading the text again gives the rounded mass, and writing that again gives the same text.

    >>> say_amount(10.0, 0.92, "ml", Habits())
    '10.87 mL'
    """
    kind = UNITS[unit]
    match kind.dimension:
        case Dimension.DROPS:
            count = max(1, round(grams / density * habits.drops_per_ml))
            return f"{count} {'drop' if count == 1 else 'drops'}"
        case Dimension.HELD:
            _, full, _ = habits.in_one(unit)
            count_halves = max(0.5, round(grams / density / full * 2) / 2)
            return f"{say_quarters(count_halves)} {kind.say(count_halves)}"
        case Dimension.CAPSULES:
            count = max(1, round(grams / (sum(CAPSULE_G) / 2)))
            return f"{count} {kind.say(count)}"
        case Dimension.MASS:
            size = unit_size(kind, habits)
            return f"{say_number(grams / size)} {kind.say(grams / size)}"
        case _ if unit in SPOON_LADDER and not system:
            return say_spoons(grams / density, habits, largest="tbsp" if unit == "tsp" else unit)
        case _:
            amount = grams / density / unit_size(kind, habits, system)
            prefix = {"us": "US ", "uk": "UK ", "metric": "metric "}.get(system, "")
            return f"{say_number(amount)} {prefix}{kind.say(amount)}"
