"""How an infusion is kept warm or not, for how long, in what light: each as steps of heat that cost shelf life."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from uptide.core.infusion.extraction import Mixing, Steep
from uptide.core.oxidation.history import HeatStep
from uptide.core.oxidation.surroundings import Glass, Light

WEEK = 168.0  # h
OPEN = 1.67  # how much faster oil oxidises in a jar that is opened and shaken daily; as of an opened bottle
WARM, WARM_HOURS, COOL = 30.0, 8.0, 18.0  # °C in the sun, hours a day, °C in the night; common practice
HOTTEST, HOTTEST_RESIN, SCORCHES = 60.0, 70.0, 80.0  # °C: normal, for resin alone, and never above


@dataclass(frozen=True, slots=True)
class Method:
    """A way to steep: its steps of heat and light, how it is moved, and at what warmth it is strained [°C].

    `takes` says in words how long; `glass` that it stands in the light where the glass lets some through.
    """

    key: str
    title: str
    takes: str
    steps: tuple[HeatStep, ...]
    mixing: Mixing
    strained_at: float
    in_light: bool = False
    watched: bool = False  # never left alone
    adds_plant: bool = False  # a handful more as it opens
    charges: int = 1  # of plant, one after the other, in the same oil

    @property
    def hottest(self) -> float:
        """The warmest the oil gets [°C]."""
        return max(step.celsius for step in self.steps)

    @property
    def hours(self) -> float:
        """How long it takes [h]."""
        return sum(step.hours for step in self.steps)

    @property
    def steep(self) -> tuple[Steep, ...]:
        """The same as steps of extraction."""
        return tuple(Steep(step.celsius, step.hours, self.mixing) for step in self.steps)


def _sill(weeks: int, glass: Glass) -> tuple[HeatStep, ...]:
    """So many weeks behind a window; the light of a sunny place is a mean over day and night."""
    return (HeatStep(WARM, WEEK * weeks, light=Light.SUNNY, glass=glass, air=OPEN),)


METHODS: Mapping[str, Method] = {
    method.key: method
    for method in (
        Method(
            "dark-shelf",
            "a dark shelf",
            takes="5 weeks, shaken daily",
            steps=(HeatStep(20, 5 * WEEK, air=OPEN),),
            mixing=Mixing.SHAKEN_DAILY,
            strained_at=20,
        ),
        Method(
            "powder-overnight",
            "powder, overnight",
            takes="12 h in the dark, stirred, strained through paper",
            steps=(HeatStep(20, 12, air=OPEN),),
            mixing=Mixing.STIRRED,
            strained_at=20,
        ),
        Method(
            "topped-up",
            "a dark shelf, plant added through a season",
            takes="12 weeks, a handful more as it opens",
            steps=(HeatStep(20, 12 * WEEK, air=OPEN),),
            mixing=Mixing.SHAKEN_DAILY,
            strained_at=20,
            adds_plant=True,
        ),
        Method(
            "second-infusion",
            "a second infusion, on a dark shelf",
            takes="twice 5 weeks, strained half way onto as much plant again",
            steps=(HeatStep(20, 10 * WEEK, air=OPEN),),
            mixing=Mixing.SHAKEN_DAILY,
            strained_at=20,
            charges=2,
        ),
        Method(
            "warm-bath",
            "a warm water bath",
            takes="6 h at 50 °C",
            steps=(HeatStep(50, 6),),
            mixing=Mixing.SHAKEN_DAILY,
            strained_at=45,
            watched=True,
        ),
        Method(
            "slow-cooker",
            "a slow cooker, lid ajar",
            takes="8 h at 50 °C",
            steps=(HeatStep(50, 8),),
            mixing=Mixing.UNSHAKEN,
            strained_at=45,
            watched=True,
        ),
        Method(
            "oven",
            "an oven, jar in water",
            takes="3 h at 50 °C",
            steps=(HeatStep(50, 3),),
            mixing=Mixing.UNSHAKEN,
            strained_at=45,
            watched=True,
        ),
        Method(
            "low-heat",
            "direct low heat, stirred",
            takes="2 h at 60 °C",
            steps=(HeatStep(60, 2, air=1.5),),
            mixing=Mixing.STIRRED,
            strained_at=45,
            watched=True,
        ),
        Method(
            "sunny-window",
            "a sunny window, clear jar",
            takes="3 weeks, shaken daily",
            steps=_sill(3, Glass.CLEAR),
            mixing=Mixing.SHAKEN_DAILY,
            strained_at=20,
            in_light=True,
        ),
        Method(
            "sunny-window-amber",
            "a sunny window, amber jar",
            takes="3 weeks, shaken daily",
            steps=_sill(3, Glass.AMBER),
            mixing=Mixing.SHAKEN_DAILY,
            strained_at=20,
            in_light=True,
        ),
        Method(
            "sunny-window-wrapped",
            "a sunny window, wrapped in paper",
            takes="4 weeks, shaken daily",
            steps=(HeatStep(WARM, WARM_HOURS * 28, air=OPEN), HeatStep(COOL, (24 - WARM_HOURS) * 28, air=OPEN)),
            mixing=Mixing.SHAKEN_DAILY,
            strained_at=20,
        ),
    )
}
