"""Oils together: which induction time, which limits, which tocopherols a blend has."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log

from uptide.core.oxidation.oil import OilOxidation

WEAKEST_FROM = 0.02  # g/g: below this an oil is not called the weakest
DISAGREE = 1.3  # pooled over careful: above this the rules disagree and it is said


@dataclass(frozen=True, slots=True)
class Part:
    """One oil of a blend: its share by mass [g/g], and what its own lot is known to be.

    `pv` [meq/kg] is its peroxide value now (None: a fresh lot of its class), `pv_sd` the sd of its logarithm,
    `ln_rate` what readings taught about its speed.
    """

    oil: OilOxidation
    share: float
    pv: float | None = None
    pv_sd: float = 0.5
    ln_rate: float = 0.0


@dataclass(frozen=True, slots=True)
class Pool:
    """A blend as one oil: induction time [h at 110 °C] by four rules, and what mixes by mass."""

    parts: tuple[Part, ...]
    pooled: float | None
    harmonic: float | None
    log_linear: float | None
    weakest: float | None
    weakest_part: Part | None
    cox: float
    light: float
    fresh_pv: float
    limit_pv: float
    oxidisable: float
    gamma: float
    alpha: float
    chlorophyll: float
    osi_sd: float

    @property
    def careful(self) -> float | None:
        """The lower of pooled and harmonic."""
        if self.pooled is None or self.harmonic is None:
            return None
        return min(self.pooled, self.harmonic)

    @property
    def rules_disagree(self) -> bool:
        """Whether pooling promises much more than the rates alone would."""
        return self.pooled is not None and self.harmonic is not None and self.pooled / self.harmonic > DISAGREE


def pool(parts: Sequence[Part]) -> Pool:
    """Mix oils.

    Pooled: Σ w a / Σ w R with R the Cox value and a = OSI · R, the capacity to resist; the same oil twice changes
    nothing, an inert diluent adds no induction time, and the result lies between least and most. Harmonic: 1/Σ (w/OSI)
    over what can oxidise. Peroxides, limits and tocopherols mix by mass; the fresh value is that of what can oxidise.
    """
    total = sum(part.share for part in parts)
    parts = tuple(Part(p.oil, p.share / total, p.pv, p.pv_sd, p.ln_rate) for p in parts)
    living = [(p, p.oil.osi_hours * exp(-p.ln_rate)) for p in parts if p.oil.osi_hours is not None and p.share > 0]
    oxidisable = sum(part.share for part, _ in living)
    limit = sum(p.share * p.oil.limit_pv for p in parts)
    mixed = {
        name: sum(p.share * getattr(p.oil, name) for p in parts)
        for name in ("cox", "light", "tocopherols_gamma", "tocopherols_alpha", "chlorophyll")
    }
    if not living:
        return Pool(
            parts, None, None, None, None, None, 0.0, 0.0, 1.0, limit, 0.0, 0.0, 0.0, mixed["chlorophyll"], 0.0
        )  # fmt: skip
    oxidizability = sum(p.share * p.oil.cox for p, _ in living)
    pooled = sum(p.share * hours * p.oil.cox for p, hours in living) / oxidizability
    harmonic = oxidisable / sum(p.share / hours for p, hours in living)
    log_linear = exp(sum(p.share * log(hours) for p, hours in living) / oxidisable)
    shown = [(p, hours) for p, hours in living if p.share >= WEAKEST_FROM] or living
    weakest_part, weakest = min(shown, key=lambda pair: pair[1])
    return Pool(
        parts,
        pooled,
        harmonic,
        log_linear,
        weakest,
        weakest_part,
        mixed["cox"],
        mixed["light"],
        sum(p.share * p.oil.fresh_pv for p, _ in living) / oxidisable,
        limit,
        oxidisable,
        mixed["tocopherols_gamma"],
        mixed["tocopherols_alpha"],
        mixed["chlorophyll"],
        sum(p.share * p.oil.cox * p.oil.osi_sd for p, _ in living) / oxidizability,
    )
