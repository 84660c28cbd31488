"""What must be known of an oil to say how long it keeps."""

from __future__ import annotations

from dataclasses import dataclass
from math import exp

from uptide.core.lipids.lipid import Lipid

# Relative speeds of oxidation, oleic = 1: Fatemi and Hammond 1980 (from memory); the first and last are assumptions.
COX_WEIGHTS = (0.02, 1.0, 10.3, 21.6, 33.0)
# Singlet oxygen: Vever-Bizet 1989 (from memory), in the same units per 100 %.
LIGHT_WEIGHTS = (0.0, 0.74, 1.3, 1.9, 2.5)
# (fresh, limit) peroxide value [meq/kg] by how the oil was made: Codex STAN 210 and 33, IOC (from memory).
LOT_CLASSES = {"refined": (1.0, 10.0), "virgin": (2.5, 15.0), "olive": (6.0, 20.0)}
BOOK_SD, ESTIMATE_SD, LAB_SD = 0.35, 0.45, 0.10  # ln of the induction time: from a book, from the acids, measured
LN_OSI, COX_PER_OSI = 3.17, -0.86  # ln of the hours at a Cox value of 1, and per ln of it: fitted to 38 oils
TOCOPHEROL_ACTIVITY = 0.75  # γ-equivalents per mg of total tocopherols where only the total is known; assumption


@dataclass(frozen=True, slots=True)
class OilOxidation:
    """Induction time [h at 110 °C], fatty acids by double bonds [%], native tocopherols [mg/kg] of an oil.

    `osi_sd` is the standard deviation of its logarithm; `trade_life` the months the trade gives it, low to high.
    An inert oil has nothing that can oxidise: it dilutes.
    """

    key: str
    osi_hours: float | None
    lot_class: str
    unsaturation: tuple[float, float, float, float, float]
    tocopherols_gamma: float = 0.0
    tocopherols_alpha: float = 0.0
    chlorophyll: float = 0.0
    trade_life: tuple[float, float] | None = None
    osi_sd: float = BOOK_SD
    source: str = "oxidation-calibration"
    confidence: str = "low"

    @property
    def is_inert(self) -> bool:
        """It cannot oxidise."""
        return self.osi_hours is None

    @property
    def cox(self) -> float:
        """Oxidizability (Cox value), oleic acid alone being 1; the saturated count a little."""
        return 0.0 if self.is_inert else cox_of(self.unsaturation)

    @property
    def light(self) -> float:
        """How readily light makes peroxides in it."""
        return sum(w * b for w, b in zip(LIGHT_WEIGHTS, self.unsaturation, strict=True)) / 100

    @property
    def fresh_pv(self) -> float:
        """Peroxide value of a fresh lot [meq/kg]."""
        return LOT_CLASSES[self.lot_class][0]

    @property
    def limit_pv(self) -> float:
        """Peroxide value at which it is called rancid [meq/kg]: a line of quality, not of safety."""
        return LOT_CLASSES[self.lot_class][1]


def unsaturation_of(lipid: Lipid) -> tuple[float, float, float, float, float]:
    """Fatty acids by double bonds, 0 to 4 and more [%]; all 0 for a fat without any."""
    unsaturation = [0.0] * 5
    for acid, part in lipid.acids.fractions.items() if lipid.acids else ():
        unsaturation[min(acid.double_bonds, 4)] += 100 * part
    return (unsaturation[0], unsaturation[1], unsaturation[2], unsaturation[3], unsaturation[4])


def cox_of(unsaturation: tuple[float, float, float, float, float]) -> float:
    """Oxidizability (Cox value) of fatty acids by their double bonds [%], oleic acid alone being 1."""
    return sum(w * b for w, b in zip(COX_WEIGHTS, unsaturation, strict=True)) / 100


def estimate(key: str, lipid: Lipid, tocopherols: float, lot_class: str = "virgin") -> OilOxidation:
    """Estimate an oil that is not in the calibration set from its fatty acids: ln OSI = 3.17 - 0.86 ln Cox, sd 0.45.

    Conjugated trienes count as trienes. An oil without double bonds, or without fatty acids, is inert.
    """
    shares = unsaturation_of(lipid)
    if not any(shares[1:]):
        return OilOxidation(key, None, "refined", shares, source="definition", confidence="medium")
    return OilOxidation(
        key,
        exp(LN_OSI) * cox_of(shares) ** COX_PER_OSI,
        lot_class,
        shares,
        tocopherols_gamma=tocopherols * TOCOPHEROL_ACTIVITY,
        osi_sd=ESTIMATE_SD,
        source="oxidation-estimate",
    )
