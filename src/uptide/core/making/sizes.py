"""Containers of one or several sizes, and how much has to be made so that all of them are full."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from math import fsum

from uptide.core.errors import QuantityError
from uptide.core.measures.say import say_number
from uptide.core.physics.density import density_at

MOST_CONTAINERS, LARGEST_ML = 1000, 20_000.0
FILM_G, PER_BOTTLE_G = 4.0, 0.4  # g: film of a 600 mL vessel with its spout, and what each bottle costs; assumption
MOST_LOSS = 50.0  # %
ROOM = 20.0  # °C at which contents are stated
GROWS = 0.03  # of its size: what a bottle filled to its shoulder has room for; assumption
COUNT, SIZE = r"(\d{1,4})\s*(?:[x×*]|bottles?\s+of|jars?\s+of)\s*", r"(\d+(?:[.,]\d+)?)"
SAID = re.compile(rf"\A(?:{COUNT})?{SIZE}\s*(?:ml|millilit(?:er|re)s?)?", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Containers:
    """So many containers of one size [mL at 20 °C].

    Raises:
        QuantityError: a number or a size that cannot be.
    """

    count: int
    size_ml: float

    def __post_init__(self) -> None:
        if not 1 <= self.count <= MOST_CONTAINERS:
            raise QuantityError(f"{self.count} bottles cannot be planned; 1 to {MOST_CONTAINERS:,} can.")
        if not 1 <= self.size_ml <= LARGEST_ML:
            raise QuantityError(f"Bottles of {self.size_ml:g} mL cannot be planned; 1 to {LARGEST_ML:,.0f} mL can.")

    @property
    def words(self) -> str:
        """As in “6 × 100 mL”."""
        return f"{self.count} × {say_number(self.size_ml)} mL"


def read_containers(text: str) -> tuple[Containers, ...]:
    """Read containers from words; raise QuantityError that says how they can be said.

    >>> [each.words for each in read_containers("6 x 100 ml, 2 bottles of 30")]
    ['6 × 100 mL', '2 × 30 mL']
    """
    found = []
    for words in re.split(r"\s*(?:[,;+]|\band\b)\s+", text.strip()):
        read = SAID.fullmatch(words.strip())
        if read is None:
            raise QuantityError(f"“{words}” is read as no bottles; say it as in “6 x 100 ml” or “6 x 100, 2 x 30”.")
        found.append(Containers(int(read[1] or 1), float(read[2].replace(",", "."))))
    if sum(each.count for each in found) > MOST_CONTAINERS:
        raise QuantityError(f"{sum(each.count for each in found)} bottles cannot be planned; {MOST_CONTAINERS:,} can.")
    return tuple(found)


@dataclass(frozen=True, slots=True)
class Amount:
    """How much is made: what the containers and the leftover jar hold, and what is lost on the way [g].

    `loss_percent` is percent more; None for a film on the vessel and a little with every bottle.
    """

    containers: tuple[Containers, ...]
    density: float  # g/mL at 20 °C
    loss_percent: float | None = None
    leftover_ml: float = 0.0

    @property
    def count(self) -> int:
        """How many containers."""
        return sum(each.count for each in self.containers)

    @property
    def net_g(self) -> float:
        """What the containers hold at their nominal content."""
        return self.density * fsum(each.count * each.size_ml for each in self.containers)

    @property
    def loss_g(self) -> float:
        """What stays in the vessel, on spout and funnel."""
        if self.loss_percent is None:
            return FILM_G + PER_BOTTLE_G * self.count
        return self.net_g * self.loss_percent / 100

    @property
    def total_g(self) -> float:
        """What is made.

        >>> round(Amount((Containers(6, 100),), 0.9152).total_g, 1)
        555.5
        """
        return self.net_g + self.loss_g + self.leftover_ml * self.density

    @property
    def loss_words(self) -> str:
        """How the loss was reckoned."""
        if self.loss_percent is not None:
            return f"{self.loss_g:.1f} g for loss: {self.loss_percent:g} % more"
        return f"{self.loss_g:.1f} g for loss: {FILM_G:g} g on vessel and spout, {PER_BOTTLE_G:g} g with every bottle"


def stands_at(size_ml: float, celsius: float) -> float:
    """What a nominal content [mL at 20 °C] takes up at another temperature [mL].

    >>> round(stands_at(100, 40), 1), round(stands_at(30, 24), 2)
    (101.4, 30.09)
    """
    usual = 0.92
    return size_ml * usual / density_at(usual, ROOM, celsius)


def fits_words(containers: Sequence[Containers], celsius: float) -> str:
    """Whether a bottle holds its nominal content while it is filled warm; nothing where it does."""
    grown = stands_at(1.0, celsius) - 1
    if grown <= GROWS or not containers:
        return ""
    first = containers[0]
    stands = stands_at(first.size_ml, celsius)
    return f"At {celsius:g} °C {first.size_ml:g} mL stand at {stands:.1f} mL: let it cool before it is filled."
