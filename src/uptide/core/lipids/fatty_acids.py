"""Fatty acids, fatty alcohols and the profile of an oil."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from math import fsum

from uptide.core.errors import ProfileError

SUM_TOLERANCE = 0.02  # published tables round and leave out traces


class Saturation(StrEnum):
    """How many double bonds a chain has, in the three words of the trade."""

    SATURATED = "saturated"
    MONOUNSATURATED = "monounsaturated"
    POLYUNSATURATED = "polyunsaturated"


@dataclass(frozen=True, slots=True)
class FattyAcid:
    """A fatty acid, or the fatty alcohol of a wax ester; molar_mass in g/mol."""

    code: str
    common_name: str
    systematic_name: str
    carbons: int
    double_bonds: int
    molar_mass: float
    hydroxyl_groups: int = 0
    conjugated: bool = False
    is_alcohol: bool = False

    @property
    def saturation(self) -> Saturation:
        """Class by double bonds; a cyclopropene ring counts as its one double bond."""
        if self.double_bonds == 0:
            return Saturation.SATURATED
        return Saturation.MONOUNSATURATED if self.double_bonds == 1 else Saturation.POLYUNSATURATED


@dataclass(frozen=True, slots=True)
class Share:
    """One acid's part of all fatty acids [g/g]: the value to compute with and the range it is found in."""

    acid: FattyAcid
    low: float
    typical: float
    high: float
    source: str = "person"
    locator: str = ""
    confidence: str = "medium"
    range_source: str = ""  # where low and high are from; the same as `source` when empty


class FattyAcidProfile:
    """Fatty acids of an oil (or alcohols of a wax) as mass fractions [g/g] that sum to 1.

    Raises:
        ProfileError: a fraction below 0, or a sum further than SUM_TOLERANCE from 1.
    """

    __slots__ = ("fractions", "shares")

    def __init__(self, shares: tuple[Share, ...]) -> None:
        for share in shares:
            if share.typical < 0 or share.low > share.high:
                raise ProfileError(
                    f"{share.acid.code} is given as {share.low:g} to {share.high:g}, typically {share.typical:g} g/g; "
                    "a share is 0 or more and its low is not above its high."
                )
        total = fsum(share.typical for share in shares)
        if abs(total - 1) > SUM_TOLERANCE:
            raise ProfileError(f"Fatty acid shares sum to {total:.3f}, not to 1 ± {SUM_TOLERANCE}.")
        self.shares = shares
        self.fractions: Mapping[FattyAcid, float] = {share.acid: share.typical / total for share in shares}

    @classmethod
    def of(cls, fractions: Mapping[FattyAcid, float]) -> FattyAcidProfile:
        """Make a profile from exact mass fractions [g/g], without ranges."""
        return cls(tuple(Share(acid, part, part, part) for acid, part in fractions.items()))

    @property
    def mean_molar_mass(self) -> float:
        """Harmonic mean molar mass [g/mol]: the shares are by mass, so moles are what must be counted."""
        return 1 / fsum(part / acid.molar_mass for acid, part in self.fractions.items())

    @property
    def mean_double_bonds(self) -> float:
        """Double bonds per molecule, as a mole mean."""
        moles = {acid: part / acid.molar_mass for acid, part in self.fractions.items()}
        return fsum(acid.double_bonds * amount for acid, amount in moles.items()) / fsum(moles.values())

    def share_of(self, code: str) -> float:
        """Mass fraction [g/g] of the acid with this code; 0 if the profile does not list it."""
        return fsum(part for acid, part in self.fractions.items() if acid.code == code)
