"""Pictures of one oil: its profile against the published range, how thick and how solid it is, its colours."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import log

import numpy as np

from uptide.core.arrays import quantiles
from uptide.core.figures.finding import Setting
from uptide.core.ingredients.ingredient import Ingredient, Measured
from uptide.core.lipids.draws import BAND, draws_of
from uptide.core.measures.say import say_number
from uptide.core.physics.colour import SKIN_TONES, on_skin
from uptide.core.physics.solid import CLEAR, STATES
from uptide.core.safety.tables import ScentFacts
from uptide.web.base.pages import number
from uptide.web.drawing.view import View

ROW, NAME, SCALE, SAID = 22.0, 150.0, 420.0, 130.0
NARROW_NAME, NARROW_SCALE, NARROW_SAID = 126.0, 112.0, 112.0  # on a phone: 350 wide
PLOT_WIDTH, PLOT_HEIGHT, PLOT_LEFT, PLOT_BOTTOM, PLOT_TOP = 460.0, 230.0, 40.0, 30.0, 14.0
STEPS = (1, 2, 5, 10, 20, 25, 50, 100, 200, 500)


class AcidBar(View):
    """One acid: published range as a bracket, possible lots as a bar, the typical value as a mark; x in user units."""

    name: str
    y: float
    low: float
    high: float
    lots_low: float
    lots_high: float
    typical: float
    words: str
    depth: int


class ProfileView(View):
    """The profile of an oil, acid by acid, or of a scent, constituent by constituent."""

    title: str = "% of fatty acids"
    bars: tuple[AcidBar, ...]
    ticks: tuple[tuple[float, str], ...]
    width: float
    height: float


class Curve(View):
    """A line on axes; `marks` are words on the picture with their places."""

    line: str
    x_ticks: tuple[tuple[float, str], ...]
    y_ticks: tuple[tuple[float, str], ...]
    bands: tuple[tuple[float, float, str], ...] = ()  # top, bottom, words
    marks: tuple[tuple[float, float, str], ...] = ()
    width: float = PLOT_WIDTH
    height: float = PLOT_HEIGHT
    left: float = PLOT_LEFT
    top: float = PLOT_TOP
    floor: float = PLOT_HEIGHT - PLOT_BOTTOM
    right: float = PLOT_WIDTH - 8


class Against(View):
    """A computed value beside its published range, on a scale of its own; x from 0 to 100."""

    low: float
    high: float
    value: float
    words: str
    inside: bool


def draw_profile(item: Ingredient, *, narrow: bool = False) -> ProfileView | None:
    """Lay out the acids of an oil, most first; None without any."""
    frame = _Frame.of(narrow=narrow)
    if item.lipid is None or item.lipid.acids is None:
        return None
    draws = draws_of(item.lipid)
    lots = {}
    if draws is not None:
        bounds = 100 * quantiles(draws.shares.T, BAND)
        lots = {acid.code: (float(bounds[0, i]), float(bounds[1, i])) for i, acid in enumerate(draws.acids)}
    shares = sorted(item.lipid.acids.shares, key=lambda share: -share.typical)
    most = max(100 * share.high for share in shares)
    step = next(s for s in STEPS if most / s <= 6)
    end = step * -(-most // step)
    bars = []
    for place, share in enumerate(shares):
        typical = 100 * item.lipid.acids.fractions[share.acid]
        low, high = lots.get(share.acid.code, (typical, typical))
        bars.append(
            AcidBar(
                name=f"{share.acid.common_name.split(' (')[0]} {share.acid.code}",
                y=20 + place * ROW,
                low=frame.along(100 * share.low, end),
                high=frame.along(100 * share.high, end),
                lots_low=frame.along(low, end),
                lots_high=frame.along(high, end),
                typical=frame.along(typical, end),
                words=f"{number(100 * share.low)} · {number(typical)} · {number(100 * share.high)}",
                depth=min(share.acid.double_bonds, 4),
            )
        )
    ticks = tuple((frame.along(value, end), f"{value:g}") for value in np.arange(0, end + 0.1, step * (1 + narrow)))
    return ProfileView(bars=tuple(bars), ticks=ticks, width=frame.width, height=24 + len(bars) * ROW)


@dataclass(frozen=True, slots=True)
class _Frame:
    """How wide a profile is: its names, its scale, and the figures beside it, in user units."""

    name: float
    scale: float
    said: float

    @classmethod
    def of(cls, *, narrow: bool) -> _Frame:
        return cls(NARROW_NAME, NARROW_SCALE, NARROW_SAID) if narrow else cls(NAME, SCALE, SAID)

    @property
    def width(self) -> float:
        return self.name + self.scale + self.said

    def along(self, percent: float, end: float) -> float:
        return self.name + self.scale * percent / end


def draw_constituents(scent: ScentFacts, *, narrow: bool = False) -> ProfileView | None:
    """Lay out what a scent holds, most first; None when nothing is known of it."""
    frame = _Frame.of(narrow=narrow)
    parts = sorted(scent.constituents.items(), key=lambda pair: -pair[1].typical)
    if not parts:
        return None
    most = max(part.high for _, part in parts)
    step = next((s for s in STEPS if most / s <= 6), STEPS[-1])
    end = step * max(1, -(-most // step))
    bars = [
        AcidBar(
            name=name.lower(),
            y=20 + place * ROW,
            low=frame.along(part.low, end),
            high=frame.along(part.high, end),
            lots_low=frame.along(part.low, end),
            lots_high=frame.along(part.high, end),
            typical=frame.along(part.typical, end),
            words="certified: " + say_number(part.typical, 3)
            if part.certified
            else f"{say_number(part.low, 3)} · {say_number(part.typical, 3)} · {say_number(part.high, 3)}",
            depth=1,
        )
        for place, (name, part) in enumerate(parts)
    ]
    every = step * (1 + narrow)
    ticks = tuple((frame.along(value, end), f"{value:g}") for value in np.arange(0, end + step / 10, every))
    return ProfileView(
        title="% of the scent",
        bars=tuple(bars),
        ticks=ticks,
        width=frame.width,
        height=24 + len(bars) * ROW,
    )


def draw_melting(setting: Setting | None) -> Curve | None:
    """Solid fat against temperature, with the words of its states and the places where it lives."""
    if setting is None or not setting.curve or setting.curve[0] < CLEAR:
        return None  # clear at every warmth: there is nothing to draw
    last = len(setting.curve) - 1

    def x(celsius: float) -> float:
        return PLOT_LEFT + (PLOT_WIDTH - PLOT_LEFT - 8) * celsius / last

    def y(solid: float) -> float:
        return PLOT_HEIGHT - PLOT_BOTTOM - (PLOT_HEIGHT - PLOT_BOTTOM - PLOT_TOP) * solid / 100

    bands, below = [], 0.0
    for bound, word in STATES:
        top = min(bound, 100.0)
        if top - below > 6:
            bands.append((y(top), y(below), word))
        below = top
    return Curve(
        line=" ".join(f"{x(celsius):.1f},{y(solid):.1f}" for celsius, solid in enumerate(setting.curve)),
        x_ticks=tuple((x(c), f"{c}") for c in range(0, last + 1, 5)),
        y_ticks=tuple((y(s), f"{s}") for s in (0, 25, 50, 75, 100)),
        bands=tuple(bands),
        marks=tuple((x(at), y(solid), f"{where} ({at:g} °C): {word}") for where, at, solid, word in setting.places),
    )


def draw_viscosity(points: Sequence[tuple[float, float]]) -> Curve | None:
    """Viscosity against temperature on a scale of logarithms; None when it is not known."""
    if len(points) < 2:
        return None
    values = [value for _, value in points]
    low, high = _ladder_below(min(values)), _ladder_above(max(values))

    def x(celsius: float) -> float:
        return PLOT_LEFT + (PLOT_WIDTH - PLOT_LEFT - 8) * (celsius - 20) / 40

    def y(value: float) -> float:
        part = log(value / low) / log(high / low)
        return PLOT_HEIGHT - PLOT_BOTTOM - (PLOT_HEIGHT - PLOT_BOTTOM - PLOT_TOP) * part

    rungs = [rung for rung in _LADDER if low <= rung <= high]
    return Curve(
        line=" ".join(f"{x(celsius):.1f},{y(value):.1f}" for celsius, value in points),
        x_ticks=tuple((x(c), f"{c}") for c in range(20, 61, 5)),
        y_ticks=tuple((y(rung), f"{rung:g}") for rung in rungs),
        marks=tuple((x(c), y(v), f"{c:g} °C: {number(v, 1 if v < 100 else 0)} mPa·s") for c, v in points),
    )


_LADDER = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000)


def _ladder_below(value: float) -> float:
    return max((rung for rung in _LADDER if rung <= value), default=_LADDER[0])


def _ladder_above(value: float) -> float:
    return min((rung for rung in _LADDER if rung >= value), default=_LADDER[-1])


def draw_against(value: float | None, published: Measured | None, decimals: int = 1) -> Against | None:
    """A computed value on a scale that shows its published range; None where there is no range."""
    if value is None or published is None or published.low is None or published.high is None:
        return None
    spare = max(published.high - published.low, 0.02 * published.high)
    least, most = min(value, published.low) - spare / 2, max(value, published.high) + spare / 2

    def x(number_: float) -> float:
        return 100 * (number_ - least) / (most - least)

    inside = published.low <= value <= published.high
    words = f"published {number(published.low, decimals)} to {number(published.high, decimals)}"
    return Against(
        low=x(published.low),
        high=x(published.high),
        value=x(value),
        words=f"{words}: {'inside' if inside else 'outside'}",
        inside=inside,
    )


def skin_swatches(item: Ingredient) -> tuple[tuple[str, str, str], ...]:
    """Each skin tone bare and under a film of the oil: (name, bare, under the film)."""
    strength = float(item.appearance.tint if item.appearance else 1)
    return tuple((tone, bare, on_skin([(1.0, item.colour, strength)], bare)) for tone, bare in SKIN_TONES.items())
