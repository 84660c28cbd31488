"""What comes out of a jar: how much oil the plant keeps by which method, what dissolves into it, and the balance."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from uptide.core.errors import QuantityError
from uptide.core.tolerance import exceeds

BOTTOMS = 0.03  # of the oil that is left with its dregs, 0.02 to 0.05; common practice
HAND = 0.4  # of the way from pressed to drained: what a hand leaves; assumption
FRESH_BASIS = 0.90  # g/g of dry matter that the tables of uptake are for
WORTH_SAYING = 0.02  # of the oil: more that is unexplained is said
FILM_COLD, FILM_WARM = 2.6, 1.6  # g on the wall of a drained 600 mL vessel at 20 and 45 °C; first principles


class Straining(StrEnum):
    """How the oil is taken from the plant."""

    DRIP = "left to drip overnight"
    HAND = "squeezed by hand"
    PRESS = "pressed"


@dataclass(frozen=True, slots=True)
class Uptake:
    """Oil that dried plant keeps [g/g]: drained, and pressed; from memory, low."""

    drained: float
    pressed: float

    def __post_init__(self) -> None:
        if not 0 <= self.pressed <= self.drained:
            raise QuantityError(f"Plant cannot keep {self.pressed:g} g/g pressed and {self.drained:g} drained.")

    def by(self, how: Straining) -> float:
        """What is kept by a method [g/g].

        >>> round(Uptake(2.5, 1.2).by(Straining.HAND), 2)
        1.72
        """
        return {
            Straining.DRIP: self.drained,
            Straining.HAND: self.pressed + HAND * (self.drained - self.pressed),
            Straining.PRESS: self.pressed,
        }[how]

    def of_fresh(self, water: float) -> Uptake:
        """The same per gram of fresh plant of so much water [g/g wet], once its water was driven off.

        >>> found = Uptake(2.5, 1.2).of_fresh(0.88)
        >>> round(found.drained, 2), round(found.pressed, 2)
        (0.33, 0.16)
        """
        part = (1 - water) / FRESH_BASIS
        return Uptake(self.drained * part, self.pressed * part)


@dataclass(frozen=True, slots=True)
class Strained:
    """Oil that comes out [g], with what of the plant is dissolved in it [g/g], and what stays behind [g]."""

    out: float
    kept_by_plant: float
    dissolved: float
    bottoms: float
    films: float


def strained(
    oil_grams: float,
    plant_grams: float,
    keeps: float,
    *,
    dissolves: float = 0.0,
    bottoms: float = BOTTOMS,
    films: float = 0.0,
) -> Strained:
    """What comes out of a jar.

    Args:
        oil_grams: oil that went in [g].
        plant_grams: plant [g].
        keeps: oil that the plant keeps [g/g].
        dissolves: part of the plant that becomes oil itself [g/g]: resin 0.85, clove 0.20.
        bottoms: part that is left with the dregs.
        films: on walls and cloth [g].

    Raises:
        QuantityError: the plant keeps all of it: there is no free oil.

    >>> round(strained(800, 100, 1.2, films=7.2).out, 1)
    652.4
    """
    liquid = oil_grams + dissolves * plant_grams
    free = liquid - keeps * plant_grams
    if free <= 0:
        raise QuantityError(
            f"{plant_grams:g} g of this plant keep {keeps * plant_grams:.0f} g of oil, and there are {oil_grams:g}: "
            "nothing would come out. Take more oil, or press it."
        )
    return Strained(
        out=max(0.0, free * (1 - bottoms) - films),
        kept_by_plant=keeps * plant_grams,
        dissolved=dissolves * plant_grams / liquid,
        bottoms=free * bottoms,
        films=films,
    )


@dataclass(frozen=True, slots=True)
class Balance:
    """Three weighings held together [g]: what went in, what was found, and what nobody can explain."""

    went_in: float
    found: float
    oil_grams: float

    @property
    def unexplained(self) -> float:
        """What is missing, or below nothing what is too much [g]."""
        return self.went_in - self.found

    @property
    def is_worth_saying(self) -> bool:
        """Whether more is unexplained than a scale and a drop on the table make."""
        return exceeds(abs(self.unexplained), WORTH_SAYING * self.oil_grams)


def balance(
    oil_grams: float, plant_grams: float, *, out: float, marc: float, water_lost: float = 0.0, left: float = 0.0
) -> Balance:
    """Oil and plant that went in against oil, marc, water that left, and dregs and films that stayed [all g]."""
    return Balance(oil_grams + plant_grams, out + marc + water_lost + left, oil_grams)
