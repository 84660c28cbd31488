"""Another part of a plant than its table is of: how it fills a jar and keeps oil, as such parts of other plants do."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from statistics import median

from uptide.core.errors import QuantityError
from uptide.core.infusion.extraction import CLASSES
from uptide.core.infusion.packing import FORMS
from uptide.core.infusion.plants import PlantFacts
from uptide.core.infusion.straining import Uptake


@dataclass(frozen=True, slots=True)
class Part:
    """A part of a plant: keys of how it fills a jar and gives what it has, and how its extract is called."""

    form: str
    extraction: str
    inci: str


PARTS: Mapping[str, Part] = {
    "flower": Part("flower", "heads", "Flower"),
    "leaf": Part("leaf", "leaf", "Leaf"),
    "root": Part("root", "root", "Root"),
    "bark": Part("root", "root", "Bark"),
    "seed": Part("seed", "seed", "Seed"),
    "berry": Part("seed", "seed", "Fruit"),
}
SAID = {
    **{part: part for part in PARTS},
    "flowers": "flower",
    "petals": "flower",
    "leaves": "leaf",
    "roots": "root",
    "seeds": "seed",
    "berries": "berry",
    "fruit": "berry",
}
IN_NAMES = re.compile(r"\s(?:Flower|Leaf|Root|Bark|Seed|Fruit|Bud|Flower/Leaf)(?=\sExtract$)|(?=\sExtract$)")


def of_part(plant: PlantFacts, part: str, plants: Mapping[str, PlantFacts]) -> PlantFacts:
    """A plant of which another part is taken; itself where that is what its table is of, or no part is said.

    How much of it fills a jar and what it keeps is the median of such parts in the table; its scent stays as the most
    that can be in it, what dissolves of it and its colour are known no more, and every caution stays.

    Raises:
        QuantityError: a part that is none.

    >>> from uptide.catalogue.shipped import shipped_plants
    >>> root = of_part(shipped_plants()["nettle"], "root", shipped_plants())
    >>> root.form.key, root.inci, root.uptake.drained
    ('root', 'Urtica Dioica Root Extract', 0.8)
    """
    if not part:
        return plant
    if part not in PARTS:
        raise QuantityError(f"“{part}” is no part of a plant that is known; known are {', '.join(PARTS)}.")
    taken = PARTS[part]
    if f" {taken.inci} " in plant.inci:
        return plant
    alike = [each for each in plants.values() if each.form.key == taken.form]

    def usual(of: Callable[[PlantFacts], float]) -> float:
        return median(of(each) for each in alike)

    return replace(
        plant,
        part=part,
        as_part=part,
        form=FORMS[taken.form],
        extraction=CLASSES[taken.extraction],
        water_fresh=usual(lambda each: each.water_fresh),
        bulk=(usual(lambda each: each.bulk[0]), usual(lambda each: each.bulk[1]), usual(lambda each: each.bulk[2])),
        sorption=usual(lambda each: each.sorption),
        uptake=Uptake(usual(lambda each: each.uptake.drained), usual(lambda each: each.uptake.pressed)),
        parts_of_oil=usual(lambda each: each.parts_of_oil),
        dissolves=0.0,
        dissolves_as="",
        colour="",
        inci=IN_NAMES.sub(f" {taken.inci}", plant.inci, count=1),
        confidence="low",
    )


def part_said(words: str) -> tuple[str, str]:
    """The plant and the part that words such as “nettle root” name; no part where they name none.

    >>> part_said("nettle roots"), part_said("nettle")
    (('nettle', 'root'), ('nettle', ''))
    """
    name, _, last = words.strip().rpartition(" ")
    part = SAID.get(last.lower(), "")
    return (name, part) if part and name else (words, "")
