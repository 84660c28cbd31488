"""What somebody's own jars taught of a plant: how much oil it keeps and how much water it brings, by what was weighed.

A few weighings say little against a table: what they say is shrunk towards it, as if two more jars had been as the
table has them.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from math import exp, fsum, log

from uptide.core.infusion.following import JarUnderWay, NoteKind
from uptide.core.infusion.plants import DAMP, PlantFacts
from uptide.core.infusion.straining import Uptake

WORTH = 2.0  # jars that the table counts for; assumption
LEAST, MOST = 0.5, 2.0  # times what the table says: more is a spill or a slip
WORTH_SAYING = 0.03


@dataclass(frozen=True, slots=True)
class Learnt:
    """A plant as the own jars have it: how many taught of oil and of water, and by how much it keeps more."""

    plant: PlantFacts
    of_oil: int = 0
    of_water: int = 0
    keeps: float = 1.0  # times what the table says

    @property
    def is_worth_saying(self) -> bool:
        """Whether it makes a difference."""
        return bool(self.of_water) or abs(self.keeps - 1) > WORTH_SAYING


def learn(plant: PlantFacts, jars: Iterable[JarUnderWay]) -> Learnt:
    """Learn of a plant from jars of it alone that were strained.

    >>> from uptide.catalogue.shipped import shipped_plants
    >>> learn(shipped_plants()["calendula"], ()).keeps
    1.0
    """
    own = [jar for jar in jars if _teaches(jar, plant)]
    ratios = [ratio for jar in own if (ratio := _kept(jar)) is not None]
    waters = [water for jar in own if (water := _water(jar)) is not None]
    times = exp(fsum(log(ratio) for ratio in ratios) / (len(ratios) + WORTH))
    uptake = Uptake(plant.uptake.drained * times, plant.uptake.pressed * times)
    fresh = (fsum(waters) + WORTH * plant.water_fresh) / (len(waters) + WORTH)
    return Learnt(replace(plant, uptake=uptake, water_fresh=fresh), len(ratios), len(waters), times)


def _teaches(jar: JarUnderWay, plant: PlantFacts) -> bool:
    ended = jar.ended is not None and jar.ended.kind is NoteKind.STRAINED
    alone = not jar.filled.ask.also and jar.plan.method.charges == 1
    same = (jar.plan.ask.plant.key, jar.plan.ask.plant.as_part) == (plant.key, plant.as_part)
    return ended and alone and same and plant.dissolves == 0


def _kept(jar: JarUnderWay) -> float | None:
    """How many times what the table says a jar's plant kept; None where that can be no jar's."""
    plan = jar.plan
    meant, out = plan.expected, jar.weighed(NoteKind.STRAINED)
    if meant is None or out is None or not meant.kept_by_plant:
        return None
    dregs = jar.weighed(NoteKind.DREGS)
    kept = plan.oil_grams - out - meant.films - (meant.bottoms if dregs is None else dregs)
    marc = jar.weighed(NoteKind.MARC)
    if marc is not None:  # the pressed plant says it itself
        kept = marc - plan.dry_grams
    ratio = kept / meant.kept_by_plant
    return ratio if LEAST <= ratio <= MOST else None


def _water(jar: JarUnderWay) -> float | None:
    """What a jar's fresh plant brought in water [g/g], by weighings that show it gone."""
    lost = jar.water_lost
    if jar.plan.ask.state not in DAMP or lost is None or not jar.water_is_gone:
        return None
    share = lost / jar.plan.plant_grams
    return share if 0 < share < 1 else None


def taught_words(learnt: Learnt) -> str:
    """What was learnt, in a sentence; nothing where it makes no difference."""
    said: Sequence[str] = ()
    if learnt.of_oil and abs(learnt.keeps - 1) > WORTH_SAYING:
        how = "more" if learnt.keeps > 1 else "less"
        jars = "jar" if learnt.of_oil == 1 else f"{learnt.of_oil} jars"
        said = (f"By your own {jars} it keeps {100 * abs(learnt.keeps - 1):.0f} % {how} oil than the table says",)
    if learnt.of_water:
        jars = "weighing" if learnt.of_water == 1 else f"{learnt.of_water} weighings"
        said = (*said, f"by your own {jars} it is {100 * learnt.plant.water_fresh:.0f} % water when fresh")
    return f"{'; '.join(said)}." if said else ""
