"""Solid, cloudy or liquid: how much of a blend is solid fat at a temperature.

Fats that set by themselves have a measured melting curve. Diluted, they behave as the pure fat would at a somewhat
higher temperature T* (ideal solubility of their crystals), counted for each family of fats that crystallise together.
Oils that stay liquid in the room throw out a little of their most saturated glycerides in the cold; an oil whose cloud
point is known does so where that says.
Source: melting-literature; the model is ours and was compared with kitchen knowledge, not with measured blends.
"""

from __future__ import annotations

from bisect import bisect_right
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import exp, log

from uptide.core.lipids.lipid import Lipid, LipidClass
from uptide.core.tolerance import exceeds, reaches

GAS_CONSTANT = 0.008314  # kJ/(mol K)
ZERO_CELSIUS = 273.15  # K
CLEAR = 0.5  # % solid: below it nothing is seen
# Upper bound of solid fat [%] for each word; common practice, from memory.
STATES = ((CLEAR, "clear"), (4.0, "cloudy"), (12.0, "slushy"), (30.0, "soft"), (55.0, "firm"), (100.1, "hard"))
SKIN_CELSIUS, MELTS_BELOW = 32.0, 3.0  # °C; % solid that is no longer felt
HIDES_OIL_CRYSTALS = 0.10  # g/g of a butter that crystallises with the same glycerides: they are counted in its curve
COLDEST, WARMEST = 0, 45  # °C of the curve shown
HOTTEST, FROZEN = 80.0, -60.0  # °C: all is molten, and no oil is clear
NEAR = 0.05  # K: nobody reads a clear point finer
SUS_MELTING, SUS_PER_CARBON, SUS_ENTHALPY = 27.754, 3.0753, 74.29  # °C, °C per carbon above 16, kJ/mol
SUU_MELTING, SUU_ENTHALPY = 15.0, 90.0  # °C, kJ/mol
SHORTEST_CRYSTAL = 14  # carbons: shorter saturated acids stay in solution


@dataclass(frozen=True, slots=True)
class MeltingCurve:
    """Solid fat [%] of a pure fat against temperature [°C], and the family whose crystals it shares."""

    family: str
    enthalpy: float  # kJ/mol
    points: tuple[tuple[float, float], ...]

    def solid(self, temperature: float) -> float:
        """Solid fat [%]; along straight lines, flat outside the points."""
        places = [place for place, _ in self.points]
        after = bisect_right(places, temperature)
        if after == 0:
            return self.points[0][1]
        if after == len(places):
            return self.points[-1][1]
        (cool, more), (warm, less) = self.points[after - 1], self.points[after]
        return more + (less - more) * (temperature - cool) / (warm - cool)


@dataclass(frozen=True, slots=True)
class Melting:
    """One part of a blend: mass fraction [g/g], its fat, and its curve if it has one.

    `shift` is by how much warmer [K] than the model says its crystals melt, by its own cloud point.
    """

    share: float
    lipid: Lipid | None
    curve: MeltingCurve | None
    shift: float = 0.0


@dataclass(frozen=True, slots=True)
class _MakeUp:
    """What the liquid oils of a blend are made of: their mass fraction, mole fractions of acids, the mean chain."""

    share: float = 0.0  # g/g of the blend
    saturated: float = 0.0  # of 14 carbons and more
    mono: float = 0.0
    unsaturated: float = 0.0
    chain: float = 0.0  # carbons of the saturated acids that are counted
    shift: float = 0.0  # K, of the crystals, each oil's weighed by its saturated acids


def effective_temperature(temperature: float, enthalpy: float, share: float) -> float:
    """The temperature [°C] at which the pure fat would be as solid as it is at `temperature` diluted to `share`.

    >>> round(effective_temperature(22, 140, 0.5), 2)
    25.63
    """
    return 1 / (1 / (temperature + ZERO_CELSIUS) + GAS_CONSTANT / enthalpy * log(share)) - ZERO_CELSIUS


def solid_fat_content(parts: Iterable[Melting], temperature: float) -> float:
    """Calculate solid fat [% of the whole] of a blend at a temperature [°C]; every part counts, solid or not."""
    return Melt.of(parts).solid_at(temperature)


@dataclass(frozen=True, slots=True)
class Melt:
    """A blend as the model melts it: its fats with a curve by family, and what its liquid oils are made of."""

    curved: tuple[tuple[float, MeltingCurve, float], ...]  # g/g, its curve, g/g of the family
    oils: _MakeUp
    hides_oil_crystals: bool

    @classmethod
    def of(cls, parts: Iterable[Melting]) -> Melt:
        """Sort the parts once, for every temperature that is asked for."""
        found = tuple(part for part in parts if part.share > 0)
        families: dict[str, float] = defaultdict(float)
        for part in found:
            if part.curve is not None:
                families[part.curve.family] += part.share
        curved = tuple(
            (part.share, part.curve, families[part.curve.family]) for part in found if part.curve is not None
        )
        hides = exceeds(families["symmetric"] + families["palm"], HIDES_OIL_CRYSTALS)
        return cls(curved, _make_up(found), hides)

    def solid_at(self, temperature: float) -> float:
        """Solid fat [% of the whole] at a temperature [°C]."""
        solid = 0.0
        for share, curve, family in self.curved:
            solid += share * curve.solid(effective_temperature(temperature, curve.enthalpy, family)) / 100
        return 100 * (solid + self._oil_crystals(temperature, 1 - solid))

    def _oil_crystals(self, temperature: float, room: float) -> float:
        """Crystals [g/g] that the liquid oils throw out into `room` [g/g] of what is not solid already."""
        oils = self.oils
        temperature -= oils.shift
        if not oils.saturated or not oils.unsaturated:
            return 0.0
        one_and_a_half, oleic = min(1.0, 1.5 * oils.saturated), oils.mono / oils.unsaturated
        wanted = [
            (
                0.0 if self.hides_oil_crystals else oils.share * one_and_a_half**2 * oleic,
                _soluble(SUS_ENTHALPY, SUS_MELTING + SUS_PER_CARBON * (oils.chain - 16), temperature),
            ),
            (
                oils.share * 2 * one_and_a_half * (1 - one_and_a_half) * oleic**2,
                _soluble(SUU_ENTHALPY, SUU_MELTING, temperature),
            ),
        ]
        # Start with all of it undissolved and let go what the liquid can take.
        left = [pair for pair in wanted if pair[0] > 0]
        while left:
            liquid = (room - sum(amount for amount, _ in left)) / (1 - min(0.999, sum(x for _, x in left)))
            still = [pair for pair in left if pair[0] > pair[1] * liquid]
            if len(still) == len(left):
                return sum(amount - x * liquid for amount, x in left)
            left = still
        return 0.0


def _make_up(parts: Sequence[Melting]) -> _MakeUp:
    """Add up the acids of the oils that are liquid in the room."""
    oils = [
        (part.share, part.lipid, part.shift)
        for part in parts
        if part.curve is None and part.lipid is not None and part.lipid.lipid_class is LipidClass.TRIGLYCERIDE
    ]
    saturated = mono = unsaturated = everything = carbons = shifted = 0.0
    for mass, lipid, shift in oils:
        if lipid.acids is None:
            continue
        for acid, part in lipid.acids.fractions.items():
            moles = mass * part / acid.molar_mass
            everything += moles
            if acid.double_bonds:
                unsaturated += moles
                mono += moles if acid.double_bonds == 1 else 0.0
            elif acid.carbons >= SHORTEST_CRYSTAL:
                saturated += moles
                carbons += moles * acid.carbons
                shifted += moles * shift
    if not everything:
        return _MakeUp()
    return _MakeUp(
        sum(mass for mass, _, _ in oils),
        saturated / everything,
        mono=mono / everything,
        unsaturated=unsaturated / everything,
        chain=carbons / saturated if saturated else 0.0,
        shift=shifted / saturated if saturated else 0.0,
    )


def _soluble(enthalpy: float, melting: float, temperature: float) -> float:
    """Mole fraction that stays in ideal solution."""
    return min(
        1.0,
        exp(-enthalpy / GAS_CONSTANT * (1 / (temperature + ZERO_CELSIUS) - 1 / (melting + ZERO_CELSIUS))),
    )


def state_word(solid: float) -> str:
    """The word for a part of solid fat [%].

    >>> state_word(15.6), state_word(73.2), state_word(1.4)
    ('soft', 'hard', 'cloudy')
    """
    return next(word for bound, word in STATES if not reaches(solid, bound))


def melting_curve(melt: Melt) -> tuple[float, ...]:
    """Solid fat [%] at every whole degree from COLDEST to WARMEST °C."""
    return tuple(melt.solid_at(temperature) for temperature in range(COLDEST, WARMEST + 1))


def clear_above(melt: Melt) -> float | None:
    """The temperature [°C] above which nothing solid is seen; None when that is below 0 °C."""
    return None if not reaches(melt.solid_at(COLDEST), CLEAR) else _cleared(melt, COLDEST)


def cloud_shift(lipid: Lipid, low: float, high: float) -> float:
    """By how much warmer [K] its crystals melt than the model says, so that an oil clears within its cloud range [°C].

    The model knows fatty acids, not which sit together on a glyceride, nor how long an oil stays supercooled: of very
    oleic oils it says that they cloud in the fridge, and they do not. 0 where it agrees, or sees nothing that sets.
    """
    melt = Melt.of((Melting(1.0, lipid, None),))
    if not reaches(melt.solid_at(FROZEN), CLEAR):
        return 0.0
    clears = _cleared(melt, FROZEN)
    return min(max(clears, low), high) - clears


def _cleared(melt: Melt, low: float) -> float:
    """The temperature [°C] at which the last that is seen melts, above one at which it is seen."""
    high = HOTTEST
    while high - low > NEAR:
        middle = (low + high) / 2
        if not reaches(melt.solid_at(middle), CLEAR):
            high = middle
        else:
            low = middle
    return high
