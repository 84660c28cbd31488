"""How one person measures: which spoons, which ounces, how many drops to the millilitre."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from uptide.core.errors import QuantityError

DROP_SCHOOLS = {
    "20": 20.0,  # school A: over-estimates the dose, so errs safe; the default
    "30": 30.0,  # school B
}
KEEPING_SCHOOLS = ("computed", "shortest", "earlier")
DROPS_LOW, DROPS_HIGH = 20.0, 45.0  # drops per mL that real oils and orifices give; common practice
DROPPER_ML = (0.7, 1.0)  # mL in a full dropper of a 30 mL bottle; common practice
# g of alpha-tocopherol equivalents in an IU of vitamin E: all-rac and RRR, from memory (US pharmacopeia units).
IU_G = (0.45e-3, 0.67e-3)
CAPSULE_G = (0.3, 0.4)  # g in a capsule of vitamin E; common practice


class Spoons(StrEnum):
    """Whose teaspoon."""

    US = "us"
    METRIC = "metric"


class Ounces(StrEnum):
    """Whose fluid ounce and pint."""

    US = "us"
    UK = "uk"


class BareOunce(StrEnum):
    """What a bare “oz” of a liquid means."""

    ASK = "ask"
    VOLUME = "fl_oz"
    WEIGHT = "oz_weight"


class PartsBy(StrEnum):
    """Whether parts are counted by spoon or on the scale."""

    VOLUME = "volume"
    MASS = "mass"


@dataclass(frozen=True, slots=True)
class Habits:
    """A person's measures; the defaults are those of the trade.

    Args:
        drops: a key of DROP_SCHOOLS, or "own" for a calibrated dropper.
        own_drops_per_ml: drops to the mL of the calibrated dropper [1/mL]; used when drops is "own".
        keeps_by: whose shelf life is quoted: computed, shortest (the trade's) or earlier (of both).
        meanings: (name in normal form, ingredient key) pairs that were answered once and for all.

    Raises:
        QuantityError: an unknown school, or a calibration outside what can drip.
    """

    spoons: Spoons = Spoons.US
    ounces: Ounces = Ounces.US
    bare_ounce: BareOunce = BareOunce.ASK
    parts_by: PartsBy = PartsBy.VOLUME
    drops: str = "20"
    own_drops_per_ml: float = 20.0
    meanings: tuple[tuple[str, str], ...] = ()
    keeps_by: str = "computed"

    def __post_init__(self) -> None:
        if self.drops not in (*DROP_SCHOOLS, "own"):
            raise QuantityError(f"There is no drop school “{self.drops}”; known are {', '.join(DROP_SCHOOLS)} and own.")
        if self.keeps_by not in KEEPING_SCHOOLS:
            raise QuantityError(f"There is no school “{self.keeps_by}”; known are {', '.join(KEEPING_SCHOOLS)}.")
        if not 5 <= self.own_drops_per_ml <= 100:
            raise QuantityError(
                f"{self.own_drops_per_ml:g} drops to the mL cannot be: real droppers give {DROPS_LOW:g} to "
                f"{DROPS_HIGH:g}."
            )

    @property
    def drops_per_ml(self) -> float:
        """Drops to the millilitre [1/mL]."""
        return self.own_drops_per_ml if self.drops == "own" else DROP_SCHOOLS[self.drops]


def drops_per_ml_by_weighing(drops: float, grams: float, density: float) -> float:
    """Calibrate a dropper: `drops` of a liquid of this density [g/mL] weighed this many grams.

    Raises:
        QuantityError: nothing dripped or nothing weighed.

    >>> round(drops_per_ml_by_weighing(20, 0.5525, 0.884), 1)
    32.0
    """
    if drops <= 0 or grams <= 0:
        raise QuantityError(f"{drops:g} drops that weigh {grams:g} g do not calibrate a dropper; both must be above 0.")
    return drops / (grams / density)
