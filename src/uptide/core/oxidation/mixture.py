"""Oils together: which induction time, which limits, which tocopherols a blend has."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import exp, log

from uptide.core.oxidation.oil import OilOxidation
from uptide.core.tolerance import exceeds, reaches

WEAKEST_FROM = 0.02  # g/g: below this an oil is not called the weakest
DISAGREE = 1.3  # pooled over careful: above this the rules disagree and it is said
TRACE = 0.02  # g/g of what can oxidise, at which half of its rancidity is that of the whole; assumption


@dataclass(frozen=True, slots=True)
class MixturePart:
    """One oil of a blend: its share by mass [g/g], and what its own lot is known to be.

    `pv` [meq/kg] is its peroxide value now (None: a fresh lot of its class), `pv_sd` the sd of its logarithm,
    `ageing` the part of its life against ageing that it has spent.
    """

    oil: OilOxidation
    share: float
    pv: float | None = None
    pv_sd: float = 0.5
    ageing: float = 0.0


@dataclass(frozen=True, slots=True)
class OilMixture:
    """A blend as one oil: induction time [h at 110 °C] by four rules, and what mixes by mass.

    `dissolved` is how much of the whole [g/g] is in the oils and none of them: what protects them.
    """

    parts: tuple[MixturePart, ...]
    induction_hours: float | None
    harmonic: float | None
    log_linear: float | None
    weakest: float | None
    weakest_part: MixturePart | None
    cox: float
    light: float
    fresh_pv: float
    limit_pv: float
    oxidisable: float
    gamma: float
    alpha: float
    chlorophyll: float
    osi_sd: float
    ageing_spent: float = 0.0
    dissolved: float = 0.0

    @classmethod
    def inert(
        cls, parts: tuple[MixturePart, ...], *, limit_pv: float, chlorophyll: float, ageing_spent: float
    ) -> OilMixture:
        """Of which nothing can oxidise: it only ages."""
        return cls(
            parts,
            None,
            harmonic=None,
            log_linear=None,
            weakest=None,
            weakest_part=None,
            cox=0.0,
            light=0.0,
            fresh_pv=1.0,
            limit_pv=limit_pv,
            oxidisable=0.0,
            gamma=0.0,
            alpha=0.0,
            chlorophyll=chlorophyll,
            osi_sd=0.0,
            ageing_spent=ageing_spent,
        )

    @property
    def rancidity(self) -> float:
        """What part of the oxidation of that which can oxidise is the rancidity of the whole: 1 without a diluent.

        What is a trace in something inert turns as fast as by itself, and is not smelled: x²/(x² + TRACE²), made 1 at
        x = 1, so that nothing jumps where the last of it goes. See docs/keeping.md.
        """
        held = self.oxidisable * (1 - self.dissolved)
        return (1 + TRACE**2) * held**2 / (held**2 + TRACE**2)

    @property
    def careful_hours(self) -> float | None:
        """The lower of pooled and harmonic."""
        if self.induction_hours is None or self.harmonic is None:
            return None
        return min(self.induction_hours, self.harmonic)

    @property
    def rules_disagree(self) -> bool:
        """Whether pooling promises much more than the rates alone would."""
        return (
            self.induction_hours is not None
            and self.harmonic is not None
            and exceeds(self.induction_hours / self.harmonic, DISAGREE)
        )


def mix_oils(parts: Sequence[MixturePart]) -> OilMixture:
    """Mix oils.

    Pooled: Σ w a / Σ w R with R the Cox value and a = OSI · R, the capacity to resist; the same oil twice changes
    nothing, an inert diluent adds no induction time, and the result lies between least and most. Harmonic: 1/Σ (w/OSI)
    over what can oxidise. Peroxides, limits, tocopherols and spent ageing mix by mass; the fresh value is that of what
    can oxidise.
    """
    total = sum(part.share for part in parts)
    parts = tuple(replace(p, share=p.share / total) for p in parts)
    living = [(p, p.oil.osi_hours) for p in parts if p.oil.osi_hours is not None and p.share > 0]
    oxidisable = sum(part.share for part, _ in living)
    limit = sum(p.share * p.oil.limit_pv for p in parts)
    ageing_spent = sum(p.share * p.ageing for p in parts)
    mixed = {
        name: sum(p.share * getattr(p.oil, name) for p in parts)
        for name in ("cox", "light", "tocopherols_gamma", "tocopherols_alpha", "chlorophyll")
    }
    if not living:
        return OilMixture.inert(parts, limit_pv=limit, chlorophyll=mixed["chlorophyll"], ageing_spent=ageing_spent)
    oxidizability = sum(p.share * p.oil.cox for p, _ in living)
    induction_hours = sum(p.share * hours * p.oil.cox for p, hours in living) / oxidizability
    harmonic = oxidisable / sum(p.share / hours for p, hours in living)
    log_linear = exp(sum(p.share * log(hours) for p, hours in living) / oxidisable)
    shown = [(p, hours) for p, hours in living if reaches(p.share, WEAKEST_FROM)] or living
    weakest_part, weakest = min(shown, key=lambda pair: pair[1])
    return OilMixture(
        parts,
        induction_hours,
        harmonic=harmonic,
        log_linear=log_linear,
        weakest=weakest,
        weakest_part=weakest_part,
        cox=mixed["cox"],
        light=mixed["light"],
        fresh_pv=sum(p.share * p.oil.fresh_pv for p, _ in living) / oxidisable,
        limit_pv=limit,
        oxidisable=oxidisable,
        gamma=mixed["tocopherols_gamma"],
        alpha=mixed["tocopherols_alpha"],
        chlorophyll=mixed["chlorophyll"],
        osi_sd=sum(p.share * p.oil.cox * p.oil.osi_sd for p, _ in living) / oxidizability,
        ageing_spent=ageing_spent,
    )
