"""What is believed after readings, against all of it added up on a far finer grid that is the same everywhere.

Written down anew: the prior and the likelihoods as docs/keeping.md has them, by scipy.stats, with the bias that strips
share added up in 17 steps. Nothing here narrows a grid or takes a logarithm twice.
"""

from __future__ import annotations

from math import log

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.stats import norm, skewnorm

from uptide.core.oxidation.learning import Posterior, Reading, ReadingKind, learn
from uptide.core.oxidation.simulate import make_draws

RATE_SD, START_SD, START = 0.47, 0.5, 1.2
SEED, CEILING = 1.0, 300.0
ERRORS, STARTS = np.linspace(-7.0, 4.0, 441), np.linspace(-2.6, 2.6, 131)
BIASES = np.linspace(-4.0, 4.0, 17)
Grid = NDArray[np.float64]


def grows(months: float) -> float:
    return 0.21 * months


def titration(months: float, pv: float) -> Reading:
    return Reading(months, ReadingKind.TITRATION, pv, pv)


def strip(months: float, low: float, high: float) -> Reading:
    return Reading(months, ReadingKind.STRIP, low, high)


def smell(months: float, *, off: bool) -> Reading:
    return Reading(months, ReadingKind.SMELL, off=off)


def likelihood(readings: list[Reading], pv_at: dict[float, Grid]) -> Grid:
    whole = np.ones((len(ERRORS), len(STARTS)))
    strips = np.ones((len(BIASES), *whole.shape))
    for reading in readings:
        pv = pv_at[reading.months]
        if reading.kind is ReadingKind.TITRATION:
            whole = whole * np.exp(-0.5 * ((np.log(reading.low + 2) - np.log(pv + 2)) / 0.10) ** 2)
        elif reading.kind is ReadingKind.SMELL:
            off = 0.05 + 0.90 * norm.cdf(np.log(pv / 12.0) / 0.5)
            whole = whole * (off if reading.off else 1 - off)
        else:
            for place, bias in enumerate(BIASES):
                shown = np.log(pv) + 0.30 * bias
                within = norm.cdf((log(reading.high) - shown) / 0.30)
                if reading.low > 0:
                    within = within - norm.cdf((log(reading.low) - shown) / 0.30)
                strips[place] *= within
    return np.asarray(whole * np.tensordot(norm.pdf(BIASES), strips, axes=1))


def added_up(readings: list[Reading], colder: tuple[float, float]) -> tuple[float, float, float, float, float]:
    """Mean and sd of the ln rate error and of ln PV at the start, and how far the likeliest is from what was usual."""
    prior_rate = np.zeros(len(ERRORS))
    for sd, side in zip(colder, (1.0, -1.0), strict=True):
        whole = float(np.hypot(RATE_SD, sd))
        prior_rate += 0.5 * skewnorm.pdf(ERRORS, side * sd / RATE_SD, scale=whole)
    prior = prior_rate[:, None] * norm.pdf(STARTS, scale=START_SD)[None, :]
    first = np.log((START * np.exp(STARTS) + SEED) / (CEILING - START * np.exp(STARTS)))
    pv_at: dict[float, Grid] = {}
    for reading in readings:
        u = first[None, :] + grows(reading.months) * np.exp(ERRORS)[:, None]
        pv_at[reading.months] = (CEILING * np.exp(u) - SEED) / (1 + np.exp(u))
    belief = prior * likelihood(readings, pv_at)
    likeliest = np.unravel_index(int(belief.argmax()), belief.shape)
    belief /= belief.sum()
    of_rate, of_start = belief.sum(axis=1), belief.sum(axis=0)
    mean, start = float(of_rate @ ERRORS), float(of_start @ STARTS)
    return (
        mean,
        float(np.sqrt(of_rate @ (ERRORS - mean) ** 2)),
        start,
        float(np.sqrt(of_start @ (STARTS - start) ** 2)),
        float(np.sqrt(2 * np.log(prior.max() / prior[likeliest]))),
    )


def found(readings: list[Reading], kelvin: float) -> Posterior:
    return learn(readings, grows, START, rate_sd=RATE_SD, start_sd=START_SD, kelvin=kelvin)


@pytest.mark.parametrize(
    "readings",
    [
        [titration(4.0, 5.0)],
        [titration(2.0, 0.9), titration(8.0, 3.0)],
        [titration(3.0, 30.0)],  # far faster than is usual
        [strip(3.0, 0.0, 5.0)],
        [strip(1.0, 2.0, 5.0), strip(5.0, 5.0, 10.0), strip(7.0, 10.0, 25.0)],
        [smell(6.5, off=False), smell(11.0, off=True)],
        [strip(2.0, 0.0, 2.0), titration(6.0, 4.0), smell(6.5, off=False)],
    ],
)
# At 20 °C, warmer, and in the cold, where the doubt reaches further to the slow side: see test_histories.
@pytest.mark.parametrize(
    ("kelvin", "doubt"), [(293.15, (0.0, 0.0)), (301.15, (0.2398, 0.2398)), (277.15, (0.2, 1.3238))]
)
def test_readings_teach_what_adding_all_of_it_up_teaches(
    readings: list[Reading], kelvin: float, doubt: tuple[float, float]
) -> None:
    learnt = found(readings, kelvin)
    mean, sd, start, start_sd, surprise = added_up(readings, doubt)

    assert learnt.rate_mean == pytest.approx(mean, abs=0.004)
    assert learnt.rate_sd == pytest.approx(sd, rel=0.015)
    assert learnt.start_mean == pytest.approx(start, abs=0.008)
    assert learnt.start_sd == pytest.approx(start_sd, rel=0.035)
    assert learnt.surprise == pytest.approx(surprise, abs=0.12)
    assert learnt.prior_sd == pytest.approx(float(np.hypot(RATE_SD, doubt[0] if mean > 0 else doubt[1])), abs=1e-3)


def test_what_is_drawn_from_a_belief_is_spread_as_it_is() -> None:
    learnt = found([strip(1.0, 2.0, 5.0), titration(6.0, 9.0)], 293.15)
    drawn = learnt.sample(make_draws(np.random.default_rng(4), 40_000))

    assert drawn.rate.mean() == pytest.approx(learnt.rate_mean, abs=0.004)
    assert drawn.rate.std() == pytest.approx(learnt.rate_sd, rel=0.02)
    assert drawn.start.mean() == pytest.approx(learnt.start_mean, abs=0.006)
    assert drawn.start.std() == pytest.approx(learnt.start_sd, rel=0.02)
    together = float(
        (learnt.belief * np.outer(learnt.errors - learnt.rate_mean, learnt.starts - learnt.start_mean)).sum()
    )
    assert float(np.cov(drawn.rate, drawn.start)[0, 1]) == pytest.approx(together, rel=0.05)
    assert drawn.kelvin == 293.15
