"""How plant fills a jar and how much oil covers it, at once and after a day; and the measures of the kitchen.

Densities are assumptions of low confidence, from handling: the air in the tissue is what makes the level sink.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import pi

from uptide.core.errors import QuantityError
from uptide.core.physics.density import density_at

OIL_DENSITY = 0.92  # g/mL at 20 °C
LEAST_HEAD_ROOM, LEAST_IN_BATH = 0.05, 0.08  # of the jar: for a shelf or a window, and for a bath; common practice
ABSOLUTE_ZERO = -273.15


@dataclass(frozen=True, slots=True)
class PlantForm:
    """A form of plant: how far a hand presses it, and its densities [g/mL]: packed at most, solid, with its air."""

    key: str
    pressed_by_hand: float
    packed_most: float
    solid: float
    with_air: float


FORMS: Mapping[str, PlantForm] = {
    form.key: form
    for form in (
        PlantForm("flower", 2.5, packed_most=0.35, solid=1.40, with_air=0.50),
        PlantForm("leaf", 2.5, packed_most=0.35, solid=1.40, with_air=0.50),
        PlantForm("needle", 1.6, packed_most=0.45, solid=1.40, with_air=0.80),
        PlantForm("root", 1.2, packed_most=0.55, solid=1.40, with_air=1.00),
        PlantForm("seed", 1.05, packed_most=0.65, solid=1.30, with_air=1.10),
        PlantForm("powder", 1.2, packed_most=0.75, solid=1.40, with_air=1.25),
        PlantForm("resin", 1.0, packed_most=0.70, solid=1.07, with_air=1.07),
    )
}


def packed(loose: float, form: PlantForm) -> float:
    """Bulk density [g/mL] of plant that a hand pressed down, from the loose one; no more than it can be packed."""
    return min(loose * form.pressed_by_hand, form.packed_most)


@dataclass(frozen=True, slots=True)
class Cover:
    """Oil for a jar [g]: to cover at once, after a day when the air has left the tissue, and above the plant."""

    bed_ml: float
    at_once: float
    after_a_day: float
    above: float

    @property
    def total(self) -> float:
        """Oil in all [g]."""
        return self.after_a_day + self.above

    @property
    def to_cover(self) -> float:
        """Oil to cover the plant at once, and a layer above it [g]."""
        return self.at_once + self.above

    @property
    def top_up(self) -> float:
        """Oil to add on the first day [g]."""
        return self.after_a_day - self.at_once


def cover(grams: float, bulk: float, form: PlantForm, *, width_cm: float, above_cm: float = 1.5) -> Cover:
    """Oil that covers so many grams of plant at a bulk density [g/mL] in a jar of a width [cm].

    Raises:
        QuantityError: plant packed denser than it is itself.
    """
    if not 0 < bulk <= form.with_air:
        raise QuantityError(f"Plant packed to {bulk:g} g/mL cannot be; up to {form.with_air:g} can.")
    return Cover(
        bed_ml=grams / bulk,
        at_once=OIL_DENSITY * grams * (1 / bulk - 1 / form.with_air),
        after_a_day=OIL_DENSITY * grams * (1 / bulk - 1 / form.solid),
        above=OIL_DENSITY * pi / 4 * width_cm**2 * above_cm,
    )


@dataclass(frozen=True, slots=True)
class ByEye:
    """A jar filled by eye: plant and oil [g]."""

    plant: float
    oil: float

    @property
    def ratio(self) -> float:
        """Parts of oil to one of plant, by weight."""
        return self.oil / self.plant


def by_eye(jar_ml: float, fill: float, bulk: float, form: PlantForm, *, head_room: float = LEAST_HEAD_ROOM) -> ByEye:
    """A jar filled so far with plant of a bulk density [g/mL] and covered with oil up to the head room.

    >>> jar = by_eye(1000, 0.75, 0.08, FORMS["flower"])
    >>> round(jar.plant), round(jar.oil, 1), round(jar.ratio, 2)
    (60, 834.6, 13.91)
    """
    plant = fill * jar_ml * bulk
    return ByEye(plant, OIL_DENSITY * (jar_ml * (1 - head_room) - plant / form.solid))


def grown(cold: float, warm: float) -> float:
    """By what part of its volume oil grows between two temperatures [°C].

    >>> round(100 * grown(15, 40), 2), round(100 * grown(20, 60), 2)
    (1.79, 2.91)
    """
    return density_at(OIL_DENSITY, 20, cold) / density_at(OIL_DENSITY, 20, warm) - 1


def pressure_closed(head_room: float, closed_at: float, warm: float) -> float:
    """Pressure [bar] of the air in a jar that was closed tight at one temperature [°C] and warmed to another.

    Infinite where the oil grows into all of its head room.

    >>> round(pressure_closed(0.05, 15, 40), 2)
    1.65
    """
    left = head_room - (1 - head_room) * grown(closed_at, warm)
    if left <= 0:
        return float("inf")
    return (warm - ABSOLUTE_ZERO) / (closed_at - ABSOLUTE_ZERO) * head_room / left
