"""An oil of one's own: something that is not in the catalogue, known from a certificate or a pasted table."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType

from uptide.core.errors import UptideError
from uptide.core.ingredients.certificate import certified_profile
from uptide.core.ingredients.ingredient import Appearance, Ingredient, Measured
from uptide.core.lipids.fatty_acids import FattyAcid
from uptide.core.lipids.lipid import Lipid, LipidClass, iodine_value, saponification_value
from uptide.core.lipids.pasted import FIGURES, AcidAmount
from uptide.core.measures.names import normalise
from uptide.core.oxidation.oil import LAB_SD, OilOxidation, estimate
from uptide.core.physics.density import lund_density

KEY = "own:"
OWN_KINDS = ("carrier", "butter", "ester", "hydrocarbon", "wax", "emulsifier", "active", "powder")
USUAL_DENSITY = 0.92  # g/mL at 20 °C of an oil nobody has weighed; common practice
LONGEST_NAME = 120
PALE = "#f3e7b5"
FAMILIES = ("", "tree_nut", "peanut", "sesame", "soy", "wheat", "mustard", "milk", "stone_fruit_seed")
COLOUR = re.compile(r"#[0-9a-fA-F]{6}")


@dataclass(frozen=True, slots=True)
class OwnOil:
    """What a person says of an oil; acids in % of fatty acids by code, figures by the keys of FIGURES.

    Raises:
        UptideError: no name, or a kind, a colour or an allergen family that is none.
    """

    name: str
    kind: str = "carrier"
    inci: str = ""
    botanical_name: str = ""
    allergen_family: str = ""
    note: str = ""
    colour: str = PALE
    tint: int = 2
    solid: bool = False
    acids: Mapping[str, AcidAmount] = field(default_factory=dict)
    figures: Mapping[str, float] = field(default_factory=dict)
    unread: Mapping[str, str] = field(default_factory=dict)  # what was stored of it and cannot be read, by field

    def __post_init__(self) -> None:
        if not normalise(self.name):
            raise UptideError("An oil needs a name, so that it can be typed into a row.")
        if len(self.name) > LONGEST_NAME:
            raise UptideError(f"This name has {len(self.name)} characters; up to {LONGEST_NAME} can be read in a row.")
        if self.kind not in OWN_KINDS:
            raise UptideError(f"“{self.kind}” is not a kind of oil; known are {', '.join(OWN_KINDS)}.")
        if not COLOUR.fullmatch(self.colour):
            raise UptideError(f"“{self.colour}” is no colour; it is written as in {PALE}.")
        if self.allergen_family not in FAMILIES:
            raise UptideError(f"“{self.allergen_family}” is no allergen family; known are {', '.join(FAMILIES[1:])}.")
        if not 1 <= self.tint <= 10:
            raise UptideError(f"A colour strength of {self.tint} cannot be; 1 (pale) to 10 (deep) can.")

    @property
    def key(self) -> str:
        """Its key as an ingredient, made from the name it was first given."""
        return KEY + normalise(self.name).replace(" ", "-")


def own_ingredient(own: OwnOil, acids: Mapping[str, FattyAcid], key: str = "") -> Ingredient:
    """The ingredient that stands in a row; what was not said of it is unknown, or marked as a model.

    Raises:
        ProfileError: acids that do not sum to about a hundred.
    """
    key = key or own.key
    lipid = None
    if own.acids:
        lipid = Lipid(LipidClass.TRIGLYCERIDE, certified_profile(own.acids, acids, None, "as you gave it"))
    density = _density(own, lipid)
    properties = {
        name: (
            Measured(
                value,
                None,
                high=None,
                unit=FIGURES[name].unit,
                source="person",
                locator="as you gave it",
                confidence="high",
                temperature=20.0,
            ),
        )
        for name, value in own.figures.items()
        if name != "density"
    }
    return Ingredient(
        key=key,
        name=own.name,
        kind=own.kind,
        inci=own.inci,
        density=density.typical or USUAL_DENSITY,
        density_basis=density,
        state="solid" if own.solid else "liquid",
        botanical_name=own.botanical_name,
        allergen_family=own.allergen_family,
        allergen_note=own.note if own.allergen_family else "",
        allergen_relatives=_relatives(own) if own.allergen_family else frozenset(),
        colour=own.colour,
        lipid=lipid,
        confidence="medium",
        source="person",
        properties=MappingProxyType(properties),
        oxidation=_oxidation(key, own, lipid),
        appearance=Appearance(own.tint, "as you gave it", 1),
    )


def _relatives(own: OwnOil) -> frozenset[str]:
    """What a person wrote beside the family: a word of nuts makes it one for who looks for oils without any."""
    note = own.note.lower()
    return frozenset({"tree_nut"} if "cashew" in note or "tree nut" in note else ())


def _density(own: OwnOil, lipid: Lipid | None) -> Measured:
    given = own.figures.get("density")
    if given is not None:
        return Measured(
            given,
            None,
            high=None,
            unit="g/mL",
            source="person",
            locator="as you gave it",
            confidence="high",
            temperature=20.0,
        )
    if lipid is not None:
        estimated = lund_density(saponification_value(lipid), iodine_value(lipid))
        return Measured(
            estimated,
            None,
            high=None,
            unit="g/mL",
            source="lund",
            locator="model, from the fatty acids",
            confidence="medium",
            temperature=20.0,
        )
    return Measured(
        USUAL_DENSITY,
        0.90,
        high=0.97,
        unit="g/mL",
        source="common-practice",
        locator="not given: that of a usual oil",
        confidence="low",
        temperature=20.0,
    )


def _oxidation(key: str, own: OwnOil, lipid: Lipid | None) -> OilOxidation | None:
    if lipid is None:
        return None
    book = estimate(key, lipid, own.figures.get("tocopherols", 0.0))
    hours = own.figures.get("induction_time_110c")
    if hours is None or book.is_inert:
        return book
    return OilOxidation(
        key,
        hours,
        lot_class=book.lot_class,
        unsaturation=book.unsaturation,
        tocopherols_gamma=book.tocopherols_gamma,
        tocopherols_alpha=book.tocopherols_alpha,
        osi_sd=LAB_SD,
        source="person",
        confidence="high",
    )
