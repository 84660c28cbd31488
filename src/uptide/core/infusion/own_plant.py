"""A plant of one's own: what the table does not have, said by how it differs from one that it has."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from uptide.core.errors import QuantityError
from uptide.core.infusion.plants import PlantFacts
from uptide.core.ingredients.infusion import each_plant
from uptide.core.measures.names import normalise

KEY = "own:"
LONGEST_NAME = 80
LIGHTEST, DENSEST = 0.01, 1.2  # g/mL of loose plant
LONGEST_LIFE = 36.0  # months
WETTEST = 98.0  # %


@dataclass(frozen=True, slots=True)
class OwnPlant:
    """A plant that a person added; what is None or empty is as of the plant that it is like.

    Args:
        name: as it is called.
        like: key of the plant of the table that it fills a jar, dries and keeps oil like.
        botanical_name: of it.
        inci: its extract on a label.
        water_fresh: water when fresh [%].
        bulk: density as it lies loose [g/mL].
        months_dried: how long an oil of the dried plant keeps.
        months_fresh: the same of the fresh one.
        flags: whom or what it is not for.
        heed: a sentence on picking and using it.

    Raises:
        QuantityError: no name, or a figure that cannot be.
    """

    name: str
    like: str
    botanical_name: str = ""
    inci: str = ""
    water_fresh: float | None = None
    bulk: float | None = None
    months_dried: float | None = None
    months_fresh: float | None = None
    flags: frozenset[str] = frozenset()
    heed: str = ""

    def __post_init__(self) -> None:
        if not normalise(self.name):
            raise QuantityError("A plant needs a name, so that it can be asked for.")
        if each_plant(self.name) != (self.name.strip(),):
            raise QuantityError(f"“{self.name}” is read as several plants: leave out commas, “and”, & and +.")
        if len(self.name) > LONGEST_NAME:
            raise QuantityError(f"This name has {len(self.name)} characters; up to {LONGEST_NAME} can be.")
        for value, least, most, what in (
            (self.water_fresh, 0.0, WETTEST, "% of water"),
            (self.bulk, LIGHTEST, DENSEST, "g/mL of loose plant"),
            (self.months_dried, 1.0, LONGEST_LIFE, "months from dried plant"),
            (self.months_fresh, 1.0, LONGEST_LIFE, "months from fresh plant"),
        ):
            if value is not None and not least <= value <= most:
                raise QuantityError(f"{value:g} {what} cannot be; {least:g} to {most:g} can.")

    @property
    def key(self) -> str:
        """Its key among the plants."""
        return KEY + normalise(self.name).replace(" ", "-")


def own_facts(own: OwnPlant, plants: Mapping[str, PlantFacts]) -> PlantFacts | None:
    """The plant with all that is known of it; None where nobody knows the one that it is like any more."""
    like = plants.get(own.like)
    if like is None:
        return None
    bulk = like.bulk
    if own.bulk is not None:  # as wide a span as the table has
        bulk = (bulk[0] * own.bulk / bulk[1], own.bulk, bulk[2] * own.bulk / bulk[1])
    return replace(
        like,
        key=own.key,
        name=own.name,
        botanical_name=own.botanical_name,
        family="",
        inci=own.inci or f"{own.botanical_name or own.name} Extract",
        water_fresh=like.water_fresh if own.water_fresh is None else own.water_fresh / 100,
        bulk=bulk,
        months_dried=own.months_dried or like.months_dried,
        months_fresh=own.months_fresh or like.months_fresh,
        flags=own.flags,
        heed=own.heed,
        colour="",
        # Nobody said what of it dissolves or smells: nothing is taken over from another plant.
        essential_oil=(0.0, 0.0),
        scent="",
        restricted=None,
        source="person",
        confidence="low",
    )
