"""How long a blend keeps: the kinetic answer with its band, the trade's answer beside it, and what would help."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from enum import StrEnum
from functools import lru_cache
from math import fsum
from types import MappingProxyType

from uptide.core.figures.fat import UNKNOWN_ALLOWED
from uptide.core.ingredients.ingredient import Phase
from uptide.core.keeping.container import closed_ceiling, permeation_rise, used_up_months
from uptide.core.keeping.limiting import horizon, limited_by
from uptide.core.keeping.mixing import Read, antioxidants_of, mixture_of, protection_of, turned_before
from uptide.core.months import HOURS_A_MONTH
from uptide.core.oxidation import rate
from uptide.core.oxidation.history import HeatStep
from uptide.core.oxidation.learning import Posterior, Reading, ReadingKind, learn
from uptide.core.oxidation.mixture import OilMixture
from uptide.core.oxidation.protection import HARM_TO, Antioxidants
from uptide.core.oxidation.simulate import (
    DILUENT_CREDIT,
    Draws,
    Simulation,
    book_peroxide,
    headline_months,
    risk_word,
    simulate,
    total_sd,
)
from uptide.core.oxidation.surroundings import Storage
from uptide.core.tolerance import exceeds, reaches

HARD_CAP, INERT_CAP = 24, 36  # months that are never exceeded in a promise; policy
WATER_ALLOWED = 0.01  # g/g: with more water than this the model does not apply
LATE = 1.0  # meq/kg above fresh: from here an antioxidant is said to come late
TRADE_FROM = 0.05  # g/g: an oil with less is not the trade's shortest-lived oil
WATER_MONTHS = (1.0, 2.0)  # what the trade gives a product with water or fresh plant in it; common practice
HIGHEST_LIMIT = 20.0  # meq/kg: the highest that any oil is given, where the limit of a mixture is not known
TOO_MUCH_VITAMIN_E = 0.02  # g/g: more is sticky and protects no better; common practice


class School(StrEnum):
    """Whose answer is quoted."""

    COMPUTED = "computed"
    SHORTEST = "shortest"
    EARLIER = "earlier"


@dataclass(frozen=True, slots=True)
class StorageHistory:
    """What befell one bottle: months are counted from its making, `start_month` is that month (0 is January).

    `supplier` holds months until the best before of the lot that is used, and that lot in words, by ingredient key.

    `carried_over` is the ln rate that the same person's other bottles taught, shrunk to what their storage shares.
    """

    start_month: int = 0
    moves: Mapping[int, Storage] = field(default_factory=lambda: MappingProxyType({}))
    heated: Mapping[int, tuple[HeatStep, ...]] = field(default_factory=lambda: MappingProxyType({}))
    readings: tuple[Reading, ...] = ()
    supplier: Mapping[str, tuple[float, str]] = field(default_factory=lambda: MappingProxyType({}))
    carried_over: float = 0.0
    made_on: date = date.min


@dataclass(frozen=True, slots=True)
class TidePoint:
    """The peroxide value [meq/kg] after so many months: nine in ten above `low`, one in ten above `high`."""

    month: int
    low: float
    typical: float
    high: float


@dataclass(frozen=True, slots=True, eq=False)
class ShelfLife:
    """How long a blend keeps, and why. `months` is what may be promised; None where nobody can say.

    `low`, `typical` and `high` are the months that 90, 50 and 10 of a hundred such bottles reach.
    """

    months: int | None
    quoted: School
    reason: str
    low: float = 0.0
    typical: float = 0.0
    high: float = 0.0
    computed: int = 0
    undated: int = 0  # months by the model and its cap alone, whatever the suppliers' dates
    trade_months: float | None = None
    trade_oil: str = ""
    limited_by: str = ""
    risk: str = ""
    tide: tuple[TidePoint, ...] = ()
    limit_pv: float = 0.0
    mixture: OilMixture | None = None
    protection: float = 1.0
    added: Antioxidants = field(default_factory=Antioxidants)
    closed_ceiling: float | None = None
    permeation_rise: float | None = None
    used_up_months: float | None = None
    posterior: Posterior | None = None
    carried_over: float = 0.0
    remarks: tuple[str, ...] = ()
    turned: str = ""  # why it is finished, by what somebody smelled or read
    dated_lot: str = ""  # the lot whose supplier’s date ends it, and that date


def shelf_life_of(read: Read, storage: Storage, school: School, draws: Draws, history: StorageHistory) -> ShelfLife:
    """Say how long a blend keeps; never raises: what the model does not cover is said so."""
    refused = refusal(read, school)
    if refused is not None:
        turned = turned_by(history.readings, HIGHEST_LIMIT)
        return replace(refused, turned=turned, reason=f"{turned} {refused.reason}") if turned else refused
    oils = mixture_of(read)
    turned = turned_by(history.readings, oils.limit_pv)
    added = antioxidants_of(read)
    protection = protection_of(oils, added)
    posterior = _learn(oils, storage, protection, history) if history.readings and oils.induction_hours else None
    result = simulate(
        oils,
        storage,
        draws,
        start_month=history.start_month,
        protection=protection,
        moves=history.moves,
        heated=_heat_doses(oils, protection, history),
        learnt=posterior.sample(draws) if posterior else None,
        months=horizon(oils, storage, protection),
        rate_shift=history.carried_over,
    )
    cap = cap_months(oils)
    supplier = min((history.supplier[item.key] for _, item in read if item.key in history.supplier), default=None)
    caps = [cap, *([supplier[0]] if supplier else [])]
    computed = headline_months(result, caps)
    trade, trade_oil = _trade(read)
    quoted, months = _quote(school, computed, trade)
    # The trade speaks of fresh oils in date: its answer passes no cap, and says nothing of what has already turned.
    months = int(min(months, *caps)) if result.quantile(0.50) > 0 else 0
    months = max(0, months)
    if turned:
        months = 0
    return ShelfLife(
        months,
        quoted,
        reason=turned,
        low=0.0 if turned else result.quantile(0.10),
        typical=result.quantile(0.50),
        high=result.quantile(0.90),
        computed=computed,
        undated=headline_months(result, [cap]),
        trade_months=trade,
        trade_oil=trade_oil,
        limited_by=limited_by(
            read,
            oils,
            storage=storage,
            draws=draws,
            protection=protection,
            start_month=history.start_month,
            result=result,
            cap=cap,
            supplier=supplier,
        ),
        risk=risk_word(result.quantile(0.50)),
        tide=_tide(result),
        limit_pv=oils.limit_pv,
        mixture=oils,
        protection=protection,
        added=added,
        closed_ceiling=closed_ceiling(read, storage),
        permeation_rise=permeation_rise(read, storage),
        used_up_months=used_up_months(read, storage),
        posterior=posterior,
        carried_over=history.carried_over,
        remarks=(*_remarks(read, oils, added, protection, storage), *_unexplained(posterior)),
        turned=turned,
        dated_lot=supplier[1] if supplier and supplier[0] < min(cap, result.quantile(0.10)) else "",
    )


def cap_months(oils: OilMixture) -> float:
    """Months that no promise passes: more where nothing can oxidise, and in between what the rancidity of it weighs."""
    return INERT_CAP + (HARD_CAP - INERT_CAP) * oils.rancidity


def turned_by(readings: Sequence[Reading], limit: float) -> str:
    """Why a bottle is finished whatever the figures say: it smelled off, or was read above its limit [meq/kg]."""
    past = [reading for reading in readings if reading.is_past(limit)]
    if any(reading.kind is ReadingKind.SMELL for reading in past):
        return "It smelled off: it is finished, whatever the figures say."
    if past:
        read = max(reading.low for reading in past)
        return f"It was read at {read:g} meq/kg, and {limit:g} is its limit: it has turned, whatever the figures say."
    return ""


def _unexplained(posterior: Posterior | None) -> tuple[str, ...]:
    if posterior is None or posterior.is_explained:
        return ()
    return (
        "The model cannot explain these readings: a lot that had turned before, a dirty bottle or another oil can. "
        "Nothing of them is carried over to other bottles.",
    )


def _heat_doses(oils: OilMixture, protection: float, history: StorageHistory) -> dict[int, float]:
    """Progress that the heatings of each month make, at the pooled induction time of the blend."""
    if oils.induction_hours is None:
        return {}
    hours = oils.induction_hours * protection
    return {
        month: fsum(
            float(rate.rate_constant(hours, oils.fresh_pv, step.celsius + 273.15)) * step.air * step.hours
            for step in steps
        )
        for month, steps in history.heated.items()
    }


def refusal(read: Read, school: School) -> ShelfLife | None:
    """Say why a blend is outside the model: no oil, water in it, an unknown oil; None when it is inside."""
    grams = sum(row.grams or 0.0 for row, _ in read)
    fatty = [(row.grams or 0.0, item) for row, item in read if item.is_fatty]
    if not fatty:
        return ShelfLife(None, school, "There is no oil in it yet.")
    water = sum(row.grams or 0.0 for row, item in read if item.phase is Phase.WATER) / grams
    if exceeds(water, WATER_ALLOWED):
        low, high = WATER_MONTHS
        return ShelfLife(
            None,
            school,
            f"The model is for oils without water, and there is {100 * water:.0f} % in this. The trade "
            "gives such a thing "
            f"{low:.0f} to {high:.0f} months in the fridge: mould and bacteria end it before rancidity does.",
            trade_months=low,
        )
    fresh = [item.name for row, item in read if row.past is not None and row.past.fresh_plant]
    if fresh:
        low, high = WATER_MONTHS
        return ShelfLife(
            None,
            school,
            f"The model does not apply: {', '.join(fresh)} was infused with fresh plant, which leaves water in it. "
            f"The trade gives that {low:.0f} to {high:.0f} months: mould and bacteria end it before rancidity does.",
            trade_months=low,
        )
    unknown = [(mass, item.name) for mass, item in fatty if item.oxidation is None and item.kind != "wax"]
    share = sum(mass for mass, _ in unknown) / sum(mass for mass, _ in fatty)
    if exceeds(share, UNKNOWN_ALLOWED):
        names = ", ".join(dict.fromkeys(name for _, name in unknown))
        return ShelfLife(
            None, school, f"Unknown: the composition of {names} is not in the catalogue ({100 * share:.0f} %)."
        )
    return None


def _trade(read: Read) -> tuple[float | None, str]:
    """The trade's school: a blend lasts no longer than its shortest-lived oil of more than a trace."""
    total = sum(row.grams or 0.0 for row, _ in read)
    known = [
        (item.oxidation.trade_life[0], item.name)
        for row, item in read
        if item.oxidation and item.oxidation.trade_life and reaches((row.grams or 0.0) / total, TRADE_FROM)
    ]
    return min(known) if known else (None, "")


def _quote(school: School, computed: int, trade: float | None) -> tuple[School, int]:
    if trade is None or school is School.COMPUTED:
        return School.COMPUTED, computed
    if school is School.SHORTEST:
        return school, int(trade)
    return (School.COMPUTED, computed) if computed <= trade else (School.SHORTEST, int(trade))


def _learn(oils: OilMixture, storage: Storage, protection: float, history: StorageHistory) -> Posterior:
    """Learn from the readings along the median path; light is left out of it, and the rate error takes it up."""
    thinned = oils.oxidisable ** (DILUENT_CREDIT / 2)
    kappas: list[float] = []
    celsius_there: list[float] = []
    here = storage
    for month in range(1 + int(max(reading.months for reading in history.readings))):
        here = history.moves.get(month, here)
        celsius = here.celsius[(history.start_month + month) % 12]
        celsius_there.append(celsius)
        kappas.append(
            float(rate.rate_constant((oils.induction_hours or 1.0) * protection, oils.fresh_pv, celsius + 273.15))
            * here.oxidation_factor
        )

    return _learnt(
        history.readings,
        tuple(kappas),
        book_peroxide(oils),
        rate_sd=total_sd(oils.osi_sd),
        seed=rate.SEED_PV * thinned,
        ceiling=rate.CEILING_PV * thinned,
        kelvin=fsum(celsius_there) / len(celsius_there) + 273.15,
    )


@lru_cache(maxsize=64)
def _learnt(
    readings: tuple[Reading, ...],
    kappas: tuple[float, ...],
    start_pv: float,
    *,
    rate_sd: float,
    seed: float,
    ceiling: float,
    kelvin: float,
) -> Posterior:
    """What readings teach, by the median rate constant [1/h] of each month; once, until one of these changes."""

    def grown(months: float) -> float:
        whole = int(months)
        hours = sum(kappas[:whole]) + (months - whole) * (kappas[whole] if whole < len(kappas) else 0.0)
        return hours * HOURS_A_MONTH

    return learn(readings, grown, start_pv, rate_sd=rate_sd, seed=seed, ceiling=ceiling, kelvin=kelvin)


def _tide(result: Simulation) -> tuple[TidePoint, ...]:
    last = min(result.months, int(1.25 * result.quantile(0.90)) + 3)
    return tuple(TidePoint(month, *map(float, pvs)) for month, pvs in enumerate(result.peroxides(last)))


def _remarks(read: Read, oils: OilMixture, added: Antioxidants, protection: float, storage: Storage) -> tuple[str, ...]:
    remarks = []
    if oils.rules_disagree and oils.careful_hours is not None and oils.induction_hours is not None:
        remarks.append(
            f"The rules of mixing disagree: {oils.induction_hours:.1f} h pooled, {oils.careful_hours:.1f} h by the "
            "careful rule. Pooling "
            "trusts that the stable oil’s antioxidants protect the weak one, which nobody has shown."
        )
    if added.tocopheryl_acetate:
        remarks.append("Tocopheryl acetate does nothing for the oil in the bottle: its phenol is blocked.")
    if exceeds(turned_before(oils), LATE) and not added.is_empty:
        remarks.append("The oils had begun to turn when the antioxidant came in: it does less, and nothing repairs.")
    if protection < 1:
        beyond = " Nobody measured more than half a percent." if oils.alpha + added.alpha > HARM_TO else ""
        remarks.append(f"So much α-tocopherol speeds oxidation up; less would protect better.{beyond}")
    total = sum(row.grams or 0.0 for row, _ in read)
    vitamin_e = sum(row.grams or 0.0 for row, i in read if i.protects and i.protects[0] == "mixed_tocopherols") / total
    if exceeds(vitamin_e, TOO_MUCH_VITAMIN_E):
        remarks.append(f"{100 * vitamin_e:.1f} % of vitamin E is sticky and protects no better than 0.1 to 0.5 %.")
    if any(item.kind == "wax" for _, item in read):
        remarks.append("Waxes are counted as inert, for want of figures.")
    used_up = used_up_months(read, storage)
    if used_up is not None:
        remarks.append(f"Used as stated, it lasts {used_up:.1f} months.")
    return tuple(remarks)
