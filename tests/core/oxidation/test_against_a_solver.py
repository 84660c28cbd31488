"""Every life of the vectorised simulation against the same law solved one bottle at a time.

The law as docs/keeping.md has it, written down anew with plain arithmetic; in the light it is given to a general solver
of differential equations (scipy.integrate), which knows nothing of the closed form that the simulation takes.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from math import exp, expm1, log, log1p, sqrt
from types import MappingProxyType
from typing import Any

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.oxidation.mixture import MixturePart, OilMixture, mix_oils
from uptide.core.oxidation.simulate import Draws, Learnt, make_draws, simulate
from uptide.core.oxidation.surroundings import Glass, Light, Storage, photo_rate

DRAWS = make_draws(np.random.default_rng(7), 12)
HOURS = 730.5  # of a month
GAS = 8.314462618  # J/(mol K)
LIGHT, PASSES = {Light.DARK: 0.0, Light.BRIGHT: 0.3}, {Glass.AMBER: 0.1, Glass.CLEAR: 1.0}  # docs/keeping.md
CUPBOARD = Storage(swing=3.0, opened=True)
WINDOW = Storage(
    place="own temperatures",
    celsius=(8.0, 9.0, 11.0, 13.0, 16.0, 19.0, 23.0, 22.0, 18.0, 14.0, 11.0, 9.0),
    swing=4.0,
    light=Light.BRIGHT,
    glass=Glass.CLEAR,
    opened=False,
)
FRIDGE = Storage(celsius=(4.0,) * 12, swing=0.0, opened=True)


@dataclass(frozen=True)
class Bottle:
    """One bottle of a mixture: what was drawn for it, and the law at each temperature."""

    mixture: OilMixture
    draws: Draws
    place: int
    protection: float = 1.0
    learnt: Learnt | None = None
    shift: float = 0.0

    def drawn(self, name: str) -> float:
        return float(getattr(self.draws, name)[self.place])

    @property
    def thinned(self) -> float:
        return float(self.mixture.oxidisable ** (0.5 * self.drawn("diluent")))

    @property
    def seed(self) -> float:
        return 1.0 * self.thinned

    @property
    def ceiling(self) -> float:
        return 300.0 * self.thinned

    def u(self, pv: float) -> float:
        return log((pv + self.seed) / (self.ceiling - pv))

    @property
    def fresh(self) -> float:
        return self.mixture.fresh_pv * self.thinned

    @property
    def span(self) -> float:
        return self.u(min(self.mixture.limit_pv, 0.999 * self.ceiling)) - self.u(self.fresh)

    def slower(self, kelvin: float, lam: float, energy: float) -> float:
        """The stretch of the induction time from 110 °C to a temperature."""

        def bent(t: float) -> float:
            return (t**lam - 1) / lam if lam else log(t)

        exponent = 8.2 * (1 - bent(kelvin / 293.15) / bent(383.15 / 293.15))
        most = 8.2 + log(2.5)
        doubt = 22e3 / GAS * (1 / kelvin - 1 / 293.15)
        if energy > 0:
            return exp(min(exponent, most) + energy * (doubt + exponent - min(exponent, most)))
        return exp(min(exponent + energy * doubt, most + energy * 0.2))

    def rate(self, celsius: float) -> float:
        """Progress an hour in the dark, without air and swing."""
        kelvin, lam, energy = celsius + 273.15, 0.5 * self.drawn("bend"), self.drawn("energy")
        if self.learnt is None:
            spread = sqrt(self.mixture.osi_sd**2 + 0.25**2 + 0.20**2)
            error, slower = self.shift + spread * self.drawn("rate"), self.slower(kelvin, lam, energy)
        else:
            at = self.learnt.kelvin
            error = float(self.learnt.rate[self.place])
            slower = self.slower(at, 0.0, 0.0) * self.slower(kelvin, lam, energy) / self.slower(at, lam, energy)
        assert self.mixture.induction_hours is not None
        fresh = self.mixture.fresh_pv
        induction = -log((fresh + 1) / (300 - fresh)) - 2 * 299 / 301
        guarded = float(self.protection ** (1 + 0.30 * self.drawn("protection")))
        return induction * exp(error) / (self.mixture.induction_hours * guarded * slower)

    @property
    def start(self) -> float:
        """Peroxides when it is filled."""
        if self.learnt is not None:
            book = sum(
                p.share * (p.oil.fresh_pv if p.pv is None else p.pv) for p in self.mixture.parts if not p.oil.is_inert
            )
            return book * exp(float(self.learnt.start[self.place]))
        mean = spread = 0.0
        for part in self.mixture.parts:
            if not part.oil.is_inert:
                pv = part.oil.fresh_pv if part.pv is None else part.pv
                mean += part.share * pv * exp(part.pv_sd**2 / 2)
                spread += part.share * pv * sqrt(exp(part.pv_sd**2) * expm1(part.pv_sd**2))
        variance = log1p((spread / mean) ** 2)
        return mean * exp(sqrt(variance) * self.drawn("peroxide") - variance / 2)


def bessel(x: float) -> float:
    """I₀ by its series."""
    term = total = 1.0
    for n in range(1, 40):
        term *= (x / 2 / n) ** 2
        total += term
    return total


def photo_of(mixture: OilMixture, storage: Storage) -> float:
    """Peroxides that light makes [meq/(kg day)] where it stands."""
    return photo_rate(mixture.light, LIGHT[storage.light], PASSES[storage.glass], mixture.chlorophyll)


def swung(celsius: float, swing: float, energy: float) -> float:
    """How much faster a daily swing makes a reaction of this energy."""
    return bessel(energy / (GAS * (celsius + 273.15) ** 2) * swing)


def in_the_light(bottle: Bottle, u: float, kappa: float, q: float) -> float:
    """Peroxides [meq/kg] after a month from a progress, with the rates [1/h] in the dark and of the light."""
    k, seed, ceiling = kappa / (1 + bottle.seed / bottle.ceiling), bottle.seed, bottle.ceiling
    solved = solve_ivp(
        lambda _, pv: (k * (pv + seed) + q) * (1 - pv / ceiling),
        (0, HOURS),
        [(ceiling * exp(u) - seed) / (1 + exp(u))],
        rtol=1e-9,
        atol=1e-9,
    )
    return min(float(solved.y[0, -1]), 0.999 * ceiling)


def life(
    bottle: Bottle,
    storage: Storage,
    start_month: int = 0,
    moves: Mapping[int, Storage] = MappingProxyType({}),
    heated: Mapping[int, float] = MappingProxyType({}),
) -> float:
    """Months until oxidation and ageing have together spent one life; between two months along a straight line."""
    ages = exp(0.20 * bottle.drawn("ageing"))
    u = bottle.u(min(bottle.start, 0.9 * bottle.ceiling))
    aged = bottle.mixture.ageing_spent / ages
    per_u = bottle.mixture.rancidity / bottle.span
    spent = (u - bottle.u(bottle.fresh)) * per_u + aged
    if spent >= 1:
        return 0.0
    for month in range(60):
        storage = moves.get(month, storage)
        celsius = storage.celsius[(start_month + month) % 12]
        at_20 = 8.2 * 293.15 / log(383.15 / 293.15) * GAS  # J/mol: the energy that the law has there
        kappa = bottle.rate(celsius) * swung(celsius, storage.swing, at_20 * (celsius + 273.15) / 293.15)
        kappa *= 1.67 if storage.opened else 1.0
        u += heated.get(month, 0.0)
        q = photo_of(bottle.mixture, storage) * exp(0.6 * bottle.drawn("light")) / 24
        if q:
            u = bottle.u(in_the_light(bottle, u, kappa, q))
        else:
            u += kappa * HOURS
        ageing = swung(celsius, storage.swing, 50e3) * (1.25 if storage.opened else 1.0)
        aged += ageing / (36 * min(exp(50e3 / GAS * (1 / (celsius + 273.15) - 1 / 293.15)), 2.5)) / ages
        before, spent = spent, (u - bottle.u(bottle.fresh)) * per_u + aged
        if spent >= 1:
            return month + (1 - before) / (spent - before)
    return 59 + (1 - before) / (spent - before)


def mixed(**shares: float) -> OilMixture:
    oils = {key: item.oxidation for key, item in shipped_catalogue().ingredients.items() if item.oxidation}
    parts = []
    for key, share in shares.items():
        parts.append(MixturePart(oils[key.replace("_", "-")], share))
    return mix_oils(parts)


THREE = mixed(sunflower=0.5, olive=0.3, mct=0.2)
ONE = mixed(rosehip=1.0)
AGED = mix_oils([replace(part, pv=4.0, pv_sd=0.7, ageing=0.15) for part in THREE.parts])


@pytest.mark.parametrize(
    ("mixture", "storage", "said"),
    [
        (ONE, CUPBOARD, {}),
        (THREE, CUPBOARD, {"protection": 1.8}),
        (THREE, FRIDGE, {"rate_shift": -0.4}),
        (AGED, CUPBOARD, {"start_month": 7}),
        (THREE, WINDOW, {}),
        (AGED, WINDOW, {"start_month": 10, "heated": {1: 0.1, 4: 0.05}, "protection": 1.4}),
        (THREE, CUPBOARD, {"moves": {2: WINDOW, 3: FRIDGE, 9: WINDOW}, "heated": {0: 0.07, 5: 0.1}}),
        (THREE, WINDOW, {"moves": {1: CUPBOARD, 4: WINDOW}, "start_month": 3}),
    ],
)
def test_every_life_is_that_of_the_bottle_by_itself(
    mixture: OilMixture, storage: Storage, said: dict[str, Any]
) -> None:
    found = simulate(mixture, storage, DRAWS, **said)

    for place in range(DRAWS.count):
        bottle = Bottle(
            mixture, DRAWS, place, protection=said.get("protection", 1.0), shift=said.get("rate_shift", 0.0)
        )
        alone = life(
            bottle,
            storage,
            said.get("start_month", 0),
            said.get("moves", {}),
            said.get("heated", {}),
        )
        assert found.lives[place] == pytest.approx(alone, rel=1e-5, abs=1e-9), place


def test_what_readings_taught_takes_the_place_of_what_was_drawn() -> None:
    learnt = Learnt(0.3 * DRAWS.rate + 0.2, -0.5 + 0.2 * DRAWS.peroxide, 281.0)
    found = simulate(THREE, CUPBOARD, DRAWS, learnt=learnt, rate_shift=0.9)

    for place in range(DRAWS.count):
        alone = life(Bottle(THREE, DRAWS, place, learnt=learnt), CUPBOARD)
        assert found.lives[place] == pytest.approx(alone, rel=1e-5), place


def test_the_part_that_is_spent_on_the_way_reaches_one_where_the_life_ends() -> None:
    found = simulate(AGED, WINDOW, DRAWS, moves={3: CUPBOARD})
    within = np.flatnonzero(found.lives < 40)

    assert len(within) > 5
    for place in within:
        assert float(found.spent(float(found.lives[place]))[place]) == pytest.approx(1.0, abs=1e-9)
    middle = float(np.median(np.exp(-0.20 * DRAWS.ageing)))
    assert found.ageing(0) == pytest.approx(middle * 0.15)
    assert found.ageing(2) > found.ageing(1) > found.ageing(0)
