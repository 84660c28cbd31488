"""How often the band of a promise holds a bottle, where the truth follows another activation energy than the model.

Lots are drawn as the model draws them, but for warmth: their rate follows Arrhenius' law with one energy, through the
rate that the model has at 20 °C, and cold is not capped. Prints the tables of docs/keeping.md:

    python -m bench.coverage
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise
from math import exp

import numpy as np

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import UnknownKeyError
from uptide.core.keeping.limiting import horizon
from uptide.core.months import HOURS_A_MONTH
from uptide.core.oxidation import rate
from uptide.core.oxidation.learning import STRIP_BIAS_SD, STRIP_SD, Reading, ReadingKind, learn
from uptide.core.oxidation.mixture import MixturePart, OilMixture, mix_oils
from uptide.core.oxidation.simulate import AGEING_SD, Draws, Simulation, make_draws, simulate, total_sd
from uptide.core.oxidation.surroundings import Storage

OILS = ("flaxseed", "rosehip", "sunflower", "almond-sweet", "olive", "jojoba")
READ = "sunflower"  # that is read
WARMTH = (4.0, 12.0, 20.0, 28.0, 35.0)  # °C
ENERGIES = (75e3, 85e3, 95e3)  # J/mol
LOTS, READ_LOTS, SEED = 20_000, 200, 20261127
BAND = (0.10, 0.90)
COLOURS = (0.0, 5.0, 10.0, 25.0, 100.0)  # meq/kg: what a strip tells apart
READ_AT = (0.25, 0.5)  # of the typical life
FACTORS = (0.5, 0.67, 0.8, 1.0, 1.25, 1.5, 2.0)  # that the lives of the trade might be off by


def kept_at(celsius: float) -> Storage:
    """A closed bottle in the dark at one warmth."""
    return Storage(celsius=(celsius,) * 12, swing=0.0, opened=False)


def fresh(facts: Catalogue, key: str) -> OilMixture:
    """A fresh lot of one oil."""
    oil = facts.ingredients[key].oxidation
    if oil is None:
        raise UnknownKeyError(f"Nothing is known of how {key} oxidises.")
    return mix_oils([MixturePart(oil, 1.0)])


class Lots:
    """Lots of one oil whose rate follows Arrhenius' law with an energy [J/mol] through the model's rate at 20 °C."""

    def __init__(self, oil: OilMixture, celsius: float, energy: float, draws: Draws) -> None:
        warmth = exp(-energy / rate.GAS_CONSTANT * (1 / (celsius + 273.15) - 1 / rate.CALIBRATED_KELVIN))
        kappa = float(rate.rate_constant(oil.induction_hours or 1.0, oil.fresh_pv, rate.CALIBRATED_KELVIN))
        self.monthly = kappa * HOURS_A_MONTH * warmth * np.exp(total_sd(oil.osi_sd) * draws.rate)
        self.start = rate.progress(oil.fresh_pv * np.exp(0.5 * draws.peroxide))
        spent = (self.start - rate.progress(oil.fresh_pv)) / (span := float(rate.life_span(oil.fresh_pv, oil.limit_pv)))
        ageing = np.exp(AGEING_SD * draws.ageing) * float(rate.ageing_months(celsius + 273.15))
        self.lives = np.maximum(0.0, 1 - spent) / (self.monthly / span + 1 / ageing)

    def read(self, lot: int, months: float, bias: float, generator: np.random.Generator) -> Reading:
        """A strip of it, with the bias of whoever reads."""
        pv = float(rate.peroxide_value(self.start[lot] + months * self.monthly[lot]))
        shown = pv * exp(bias + STRIP_SD * generator.standard_normal())
        low, high = next((low, high) for low, high in pairwise(COLOURS) if shown <= high or high == COLOURS[-1])
        return Reading(months, ReadingKind.STRIP, low, high)


def band(life: Simulation) -> tuple[float, float]:
    """The months that nine in ten reach, and one in ten."""
    return life.quantile(BAND[0]), life.quantile(BAND[1])


def without_readings(facts: Catalogue, celsius: float) -> Iterator[tuple[float, float]]:
    """Of each energy: the coverage, mean and least of the oils."""
    model, truth = (make_draws(np.random.default_rng(SEED + n), LOTS) for n in (0, 1))
    storage = kept_at(celsius)
    for energy in ENERGIES:
        found = []
        for key in OILS:
            oil = fresh(facts, key)
            low, high = band(simulate(oil, storage, model, months=horizon(oil, storage, 1.0)))
            lives = Lots(oil, celsius, energy, truth).lives
            found.append(float(np.mean((lives >= low) & (lives <= high))))
        yield float(np.mean(found)), min(found)


def with_readings(facts: Catalogue, celsius: float, lots: int = READ_LOTS) -> Iterator[float]:
    """Of each energy: the coverage of one oil after two strips."""
    oil, storage = fresh(facts, READ), kept_at(celsius)
    model = make_draws(np.random.default_rng(SEED), 2000)
    months = horizon(oil, storage, 1.0)
    typical = simulate(oil, storage, model, months=months).quantile(0.5)
    kappa = float(rate.rate_constant(oil.induction_hours or 1.0, oil.fresh_pv, celsius + 273.15)) * HOURS_A_MONTH
    for energy in ENERGIES:
        generator = np.random.default_rng(SEED)
        drawn = Lots(oil, celsius, energy, make_draws(generator, lots))
        held = 0
        for lot, life in enumerate(drawn.lives):
            bias = STRIP_BIAS_SD * generator.standard_normal()
            readings = [drawn.read(lot, part * typical, bias, generator) for part in READ_AT]
            believed = learn(
                readings, lambda m: kappa * m, oil.fresh_pv, rate_sd=total_sd(oil.osi_sd), kelvin=celsius + 273.15
            )
            low, high = band(simulate(oil, storage, model, learnt=believed.sample(model), months=months))
            held += low <= life <= high
        yield held / lots


def cost(facts: Catalogue, celsius: float) -> Iterator[tuple[float, float]]:
    """Of each oil: the months that nine in ten reach without the doubt about the energy, and with it."""
    model = make_draws(np.random.default_rng(SEED), LOTS)
    still = replace(model, energy=np.zeros(LOTS))
    for key in OILS:
        oil, storage = fresh(facts, key), kept_at(celsius)
        without, within = (simulate(oil, storage, d, months=horizon(oil, storage, 1.0)) for d in (still, model))
        yield without.quantile(BAND[0]), within.quantile(BAND[0])


def if_the_trade_is_off(facts: Catalogue) -> Iterator[tuple[float, float]]:
    """Of each factor, at 20 °C: what part of the bottles reaches the months promised, and what part the band holds."""
    model, truth = (make_draws(np.random.default_rng(SEED + n), LOTS) for n in (0, 1))
    for factor in FACTORS:
        reached, held = [], []
        for key in OILS:
            oil, storage = fresh(facts, key), kept_at(20.0)
            low, high = band(simulate(oil, storage, model, months=horizon(oil, storage, 1.0)))
            lives = factor * Lots(oil, 20.0, ENERGIES[0], truth).lives
            reached.append(float(np.mean(lives >= int(low))))
            held.append(float(np.mean((lives >= low) & (lives <= high))))
        yield float(np.mean(reached)), float(np.mean(held))


def main() -> None:
    """Print all of it as tables."""
    facts = shipped_catalogue()
    print("| °C |", " | ".join(f"{energy / 1000:.0f} kJ/mol | least | read" for energy in ENERGIES), "|")
    print("|---" * (1 + 3 * len(ENERGIES)) + "|")
    for celsius in WARMTH:
        pairs = zip(without_readings(facts, celsius), with_readings(facts, celsius), strict=True)
        print(
            f"| {celsius:.0f} |",
            " | ".join(f"{mean:.2f} | {least:.2f} | {read:.2f}" for (mean, least), read in pairs),
            "|",
        )
    print("\n| °C |", " | ".join(OILS), "|")
    print("|---" * (1 + len(OILS)) + "|")
    for celsius in WARMTH:
        print(
            f"| {celsius:.0f} |", " | ".join(f"{before:.1f} → {now:.1f}" for before, now in cost(facts, celsius)), "|"
        )
    print("\n| off by | reach the promise | are in the band |\n|---|---|---|")
    for factor, (reached, held) in zip(FACTORS, if_the_trade_is_off(facts), strict=True):
        print(f"| × {factor:g} | {reached:.2f} | {held:.2f} |")


if __name__ == "__main__":
    main()
