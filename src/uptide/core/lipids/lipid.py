"""What kind of fat a thing is made of, and the two titration values that follow from it.

A triglyceride, a wax ester, a hydrocarbon and a synthetic ester with the same fatty acids differ in iodine and
saponification value, so the class is part of the substance and never guessed from the acids.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from uptide.core.errors import ProfileError
from uptide.core.lipids.fatty_acids import FattyAcidProfile

IODINE_MOLAR_MASS = 253.80894  # g/mol, I2; IUPAC standard atomic weights
KOH_MOLAR_MASS = 56.1056  # g/mol
WATER_MOLAR_MASS = 18.015  # g/mol
GLYCEROL_MOLAR_MASS = 92.0940  # g/mol


class LipidClass(StrEnum):
    """How the fatty acids are bound, which decides the stoichiometry."""

    TRIGLYCERIDE = "triglyceride"
    WAX_ESTER = "wax_ester"
    HYDROCARBON = "hydrocarbon"
    SYNTHETIC_ESTER = "synthetic_ester"


@dataclass(frozen=True, slots=True)
class Lipid:
    """A fatty substance whose composition is known.

    Args:
        lipid_class: how the acids are bound.
        acids: its fatty acids; None for a hydrocarbon, which has none.
        alcohols: the alcohols of a wax or simple ester; None for the other classes.
        unsaponifiable: mass fraction [g/g] that lye does not turn to soap. A wax's own alcohols are not counted here.

    Raises:
        ProfileError: parts that the class does not have, or lacks.
    """

    lipid_class: LipidClass
    acids: FattyAcidProfile | None = None
    alcohols: FattyAcidProfile | None = None
    unsaponifiable: float = 0.0

    def __post_init__(self) -> None:
        is_simple_ester = self.lipid_class in (LipidClass.WAX_ESTER, LipidClass.SYNTHETIC_ESTER)
        if is_simple_ester != (self.alcohols is not None):
            wanted = "needs" if is_simple_ester else "has no"
            raise ProfileError(f"A {self.lipid_class.replace('_', ' ')} {wanted} alcohols of its own.")
        if (self.lipid_class is LipidClass.HYDROCARBON) != (self.acids is None):
            raise ProfileError(f"Fatty acids do not fit a {self.lipid_class}: a hydrocarbon has none, all others some.")
        if not 0 <= self.unsaponifiable < 1:
            raise ProfileError(f"Unsaponifiable matter is {self.unsaponifiable:g} g/g; allowed are 0 up to 1.")

    @property
    def molar_mass(self) -> float | None:
        """Mean molar mass of the whole molecule [g/mol]; None for a hydrocarbon."""
        if self.acids is None:
            return None
        if self.alcohols is not None:
            return self.acids.mean_molar_mass + self.alcohols.mean_molar_mass - WATER_MOLAR_MASS
        return 3 * self.acids.mean_molar_mass + GLYCEROL_MOLAR_MASS - 3 * WATER_MOLAR_MASS


def iodine_value(lipid: Lipid) -> float:
    """Calculate the iodine value from the fatty acids (and alcohols): each double bond takes up one I2.

    The saponifiable part alone is counted; squalene and sterols in the unsaponifiable matter would add to it. Reads
    too high against the Wijs titration for conjugated acids, which take up iodine incompletely.
    Source: aocs-cd-1c-85, from molar masses instead of its rounded factors.

    Returns:
        Iodine value [g I2 / 100 g]; 0 for a hydrocarbon without double bonds.
    """
    if lipid.acids is None or lipid.molar_mass is None:
        return 0.0
    if lipid.alcohols is not None:
        unsaturation = lipid.acids.mean_double_bonds + lipid.alcohols.mean_double_bonds
    else:
        unsaturation = 3 * lipid.acids.mean_double_bonds
    return 100 * IODINE_MOLAR_MASS * unsaturation / lipid.molar_mass


def saponification_value(lipid: Lipid) -> float:
    """Calculate the saponification value: KOH that turns every ester bond to soap.

    Source: aocs-cd-3a-94, with the harmonic mean molar mass (the shares are by mass), less the unsaponifiable part.

    Returns:
        Saponification value [mg KOH / g]; 0 for a hydrocarbon.
    """
    if lipid.molar_mass is None:
        return 0.0
    unsaturation = 3 if lipid.alcohols is None else 1
    return 1000 * unsaturation * KOH_MOLAR_MASS / lipid.molar_mass * (1 - lipid.unsaponifiable)


def fatty_acid_yield(lipid: Lipid) -> float:
    """Calculate grams of fatty acid per gram of substance [g/g].

    About 0.96 for C18 oils, 0.51 for jojoba, 0 for squalane.
    """
    if lipid.acids is None or lipid.molar_mass is None:
        return 0.0
    unsaturation = 3 if lipid.alcohols is None else 1
    return unsaturation * lipid.acids.mean_molar_mass / lipid.molar_mass * (1 - lipid.unsaponifiable)
