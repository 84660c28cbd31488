"""Oils as columns: everything of an oil that a figure of a blend is a sum, a mean or a ratio of.

docs/decisions/0026 has the forms, and tests/core/figures/test_linear_forms.py holds them against the one road.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import exp, expm1, floor, inf, log, log1p, nan, sqrt
from types import MappingProxyType

import numpy as np

from uptide.core.arrays import Array
from uptide.core.figures.oil_profile import OMEGA_3, oil_profile
from uptide.core.figures.physical import ROOM_CELSIUS, viscosity_of
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.keeping.mixing import part_of
from uptide.core.lipids.lipid import LipidClass, fatty_acid_yield, iodine_value, saponification_value
from uptide.core.oxidation.mixture import MixturePart, OilMixture
from uptide.core.oxidation.oil import OilOxidation
from uptide.core.physics.solid import SKIN_CELSIUS
from uptide.core.skin.verdicts import LONG, feel_class

LINOLEIC, OLEIC = "18:2n6", "18:1n9"
SUMS = (
    "capacity",
    "cox",
    "spread",
    "fresh",
    "oxidisable",
    "limit",
    "light",
    "chlorophyll",
    "start",
    "start_spread",
    "aged",
)
ACIDS = ("linoleic", "oleic", "omega_3", "saturated", "monounsaturated", "polyunsaturated", "all")
OXIDISABLE = SUMS.index("oxidisable")


@dataclass(frozen=True, eq=False)
class OilTable:
    """Oils side by side, each array one value an oil; what is not known of one is nan.

    `acids` are grams of a kind of fatty acid in a gram of oil, by name: linoleic, oleic, saturated, mono, poly, omega_3
    and all of them. `keeping` are the sums that how long a blend keeps is a function of (oils x SUMS).
    """

    items: tuple[Ingredient, ...]
    acids: Mapping[str, Array]
    iodine: Array
    saponification: Array  # mg KOH/g
    feel: Array
    clog: Array
    ln_thickness: Array  # of mPa s on skin
    ln_viscosity: Array  # of mPa s at 25 °C
    long_saturated: Array  # g/g of saturated acids that butters have
    volume: Array  # mL/g
    price: Array  # of a gram
    usual: Array  # g/g at most, as it is used
    left: Array  # g at most, of a lot that it is poured from; inf where nobody counts
    lasts: Array  # whole months until the supplier's date of what would be poured; inf where there is none
    keeping: Array

    def __len__(self) -> int:
        return len(self.items)

    def place(self, key: str) -> int | None:
        """Where an oil stands; None where it is none of them."""
        return next((n for n, item in enumerate(self.items) if key in (item.key, item.base_key)), None)

    def patchy(self, figure: str) -> Array | None:
        """A figure that is not known of every oil, nan where it is not; None for one that is."""
        known = {
            "feel": self.feel,
            "thickness": self.ln_thickness,
            "viscosity": self.ln_viscosity,
            "cost": self.price,
        }
        return known.get(figure)

    def only(self, places: Sequence[int]) -> OilTable:
        """Some of the oils."""
        where = list(places)
        return OilTable(
            tuple(self.items[place] for place in where),
            {name: values[where] for name, values in self.acids.items()},
            **{name: getattr(self, name)[where] for name in COLUMNS},
        )


COLUMNS = (
    "iodine",
    "saponification",
    "feel",
    "clog",
    "ln_thickness",
    "ln_viscosity",
    "long_saturated",
    "volume",
    "price",
    "usual",
    "left",
    "lasts",
    "keeping",
)


def oil_table(
    items: Sequence[Ingredient],
    prices: Mapping[str, float],
    left: Mapping[str, float] = MappingProxyType({}),
    lasts: Mapping[str, float] = MappingProxyType({}),
) -> OilTable:
    """Put oils side by side; what has no known make-up, or is no oil, is left out.

    `prices` are of a gram, by key; `left` are the grams that there are of a lot, and `lasts` the months until its
    supplier's date, by its key.
    """
    kept = tuple(item for item in items if _can_be_found(item))
    columns = [
        _column(item)
        | {
            "price": prices.get(item.key, prices.get(item.base_key, nan)),
            "left": left.get(item.key, inf),
            "lasts": floor(lasts[item.key]) if item.key in lasts else inf,
        }
        for item in kept
    ]
    acids = [_acids(item) for item in kept]
    return OilTable(
        kept,
        {name: np.array([each[name] for each in acids]) for name in ACIDS},
        **{name: np.array([each[name] for each in columns], float) for name in COLUMNS},
    )


def _can_be_found(item: Ingredient) -> bool:
    return (
        item.is_fatty
        and item.lipid is not None
        and item.oxidation is not None
        and not item.parts
        and item.kind != "wax"
    )


def _acids(item: Ingredient) -> dict[str, float]:
    held = fatty_acid_yield(item.lipid) if item.lipid is not None else 0.0
    shares = item.lipid.acids.fractions.items() if item.lipid is not None and item.lipid.acids is not None else ()

    def of(*codes: str) -> float:
        return held * sum(part for acid, part in shares if acid.code in codes)

    def by_bonds(least: int, most: int) -> float:
        return held * sum(part for acid, part in shares if least <= acid.double_bonds <= most)

    return {
        "linoleic": of(LINOLEIC),
        "oleic": of(OLEIC),
        "omega_3": of(*OMEGA_3),
        "saturated": by_bonds(0, 0),
        "monounsaturated": by_bonds(1, 1),
        "polyunsaturated": by_bonds(2, 9),
        "all": held,
    }


def _column(item: Ingredient) -> dict[str, object]:
    known, feel = oil_profile(item), feel_class(item)
    thick, in_a_room = viscosity_of(item, SKIN_CELSIUS), viscosity_of(item, ROOM_CELSIUS)
    is_ester = item.lipid is not None and item.lipid.lipid_class is LipidClass.SYNTHETIC_ESTER
    shares = item.lipid.acids.fractions.items() if item.lipid is not None and item.lipid.acids is not None else ()
    heavy = sum(part for acid, part in shares if acid.double_bonds == 0 and acid.carbons >= LONG)
    return {
        "iodine": iodine_value(item.lipid) if item.lipid is not None else nan,
        "saponification": saponification_value(item.lipid) if item.lipid is not None else nan,
        "feel": feel[0] if feel is not None else nan,
        "clog": nan if known.comedogenicity is None else known.comedogenicity,
        "ln_thickness": nan if thick is None else log(thick),
        "ln_viscosity": nan if in_a_room is None else log(in_a_room),
        "long_saturated": 0.0 if is_ester else heavy,
        "volume": 1 / item.density,
        "usual": 1.0 if item.use is None else item.use.high / 100,
        "keeping": _keeping(item),
    }


def _keeping(item: Ingredient) -> tuple[float, ...]:
    """What an oil brings to each of SUMS, by the gram."""
    oil = item.oxidation
    if oil is None:
        return (nan,) * len(SUMS)
    part = part_of(oil, 1.0, item.past)
    if oil.is_inert:
        return (0.0, 0.0, 0.0, 0.0, 0.0, oil.limit_pv, 0.0, oil.chlorophyll, 0.0, 0.0, part.ageing)
    pv = oil.fresh_pv if part.pv is None else part.pv
    variance = part.pv_sd**2
    return (
        oil.cox * (oil.osi_hours or 0.0),
        oil.cox,
        oil.cox * oil.osi_sd,
        oil.fresh_pv,
        1.0,
        oil.limit_pv,
        oil.light,
        oil.chlorophyll,
        pv * exp(variance / 2),
        pv * sqrt(exp(variance) * expm1(variance)),
        part.ageing,
    )


WHOLE = OilOxidation("all of it", 1.0, "refined", (0.0,) * 5)  # stands for all parts, whose sums are known


def _one_start(mean: float, wide: float) -> tuple[MixturePart, ...]:
    """One part that starts as all of them together do: a lognormal of their mean and spread [meq/kg]."""
    if mean <= 0:
        return ()
    variance = log1p((wide / mean) ** 2)
    return (MixturePart(WHOLE, 1.0, mean * exp(-variance / 2), sqrt(variance)),)


def mixture_of_sums(sums: Array) -> OilMixture:
    """The blend that such sums make, as the model of keeping takes it: one oil with their start and its spread."""
    capacity, cox, spread, fresh, oxidisable, limit, light, chlorophyll, start, wide, aged = map(float, sums)
    if oxidisable <= 0 or cox <= 0:
        return OilMixture.inert((), limit_pv=limit, chlorophyll=chlorophyll, ageing_spent=aged)
    return OilMixture(
        parts=_one_start(start, wide),
        induction_hours=capacity / cox,
        harmonic=None,
        log_linear=None,
        weakest=None,
        weakest_part=None,
        cox=cox,
        light=light,
        fresh_pv=fresh / oxidisable,
        limit_pv=limit,
        oxidisable=oxidisable,
        gamma=0.0,
        alpha=0.0,
        chlorophyll=chlorophyll,
        osi_sd=spread / cox,
        ageing_spent=aged,
    )
