"""How one person measures: which spoons, which ounces, how many drops to the millilitre."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

from uptide.core.errors import QuantityError

DROP_SCHOOLS = {
    "20": 20.0,  # school A: over-estimates the dose, so errs safe; the default
    "30": 30.0,  # school B
}
KEEPING_SCHOOLS = ("computed", "shortest", "earlier")
DROPS_LOW, DROPS_HIGH = 20.0, 45.0  # drops per mL that real oils and orifices give; common practice
# mL that a thing holds or gives at once, least, taken and most: a full dropper of a 30 mL bottle, a stroke of a pump
# (fine ones of a face oil to those of a lotion), the cap of a bottle. Common practice, from memory.
HELD_ML: Mapping[str, tuple[float, float, float]] = {
    "dropper": (0.7, 0.85, 1.0),
    "pump": (0.2, 1.0, 2.0),
    "capful": (3.0, 5.0, 10.0),
}
HELD_LEAST, HELD_MOST = 0.02, 50.0  # mL: what no dropper, pump or cap holds less or more than
EARLIER_KEPT = 60  # answers that are remembered, the newest
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
        held: (unit of HELD_ML, mL) pairs of one's own dropper, pump and cap that were weighed.
        earlier: what was answered last, as (key of the question, the words it is about, value): taken until said
            otherwise, and said to be.

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
    held: tuple[tuple[str, float], ...] = ()
    earlier: tuple[tuple[str, str, str], ...] = ()

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
        for unit, millilitres in self.held:
            if unit not in HELD_ML:
                raise QuantityError(f"A “{unit}” is not filled; known are {', '.join(HELD_ML)}.")
            if not HELD_LEAST <= millilitres <= HELD_MOST:
                raise QuantityError(
                    f"{millilitres:g} mL in one {unit} cannot be; {HELD_LEAST:g} to {HELD_MOST:g} mL can."
                )

    def in_one(self, unit: str) -> tuple[float, float, float]:
        """Millilitres in one of a unit of HELD_ML: least, taken and most; alike once it was weighed."""
        own = dict(self.held).get(unit)
        return HELD_ML[unit] if own is None else (own, own, own)

    def answered(self, key: str, about: str) -> str:
        """What was answered last to a question; nothing when it never was."""
        return next((value for *asked, value in self.earlier if asked == [key, about]), "")

    def after_answer(self, key: str, about: str, value: str) -> Habits:
        """The same, with an answer on top of those that are remembered."""
        others = (each for each in self.earlier if each[:2] != (key, about))
        return replace(self, earlier=((key, about, value), *others)[:EARLIER_KEPT])

    def measures_like(self, other: Habits) -> bool:
        """Whether both measure alike; what somebody answered last is no measure."""
        return replace(self, earlier=()) == replace(other, earlier=())

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
    return 1 / millilitres_by_weighing(drops, grams, density)


def millilitres_by_weighing(count: float, grams: float, density: float) -> float:
    """Calibrate what is counted: so many drops, strokes or caps of a liquid [g/mL] weighed this many grams.

    Raises:
        QuantityError: nothing was counted or nothing weighed.

    >>> millilitres_by_weighing(10, 9.2, 0.92)
    1.0
    """
    if count <= 0 or grams <= 0:
        raise QuantityError(f"{count:g} that weigh {grams:g} g calibrate nothing; both must be above 0.")
    return grams / density / count
