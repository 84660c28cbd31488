"""How long a blend keeps: the kinetic answer with its band, the trade's answer beside it, and what would help."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, fields, replace
from datetime import date
from enum import StrEnum
from functools import lru_cache
from math import fsum, log, pi, sqrt
from types import MappingProxyType

from uptide.core.figures.fat import UNKNOWN_ALLOWED
from uptide.core.ingredients.ingredient import Ingredient, LotPast, Phase
from uptide.core.months import HOURS_A_MONTH
from uptide.core.oxidation import rate
from uptide.core.oxidation.history import HeatStep, ageing_spent, peroxides_after, standing
from uptide.core.oxidation.learning import Posterior, Reading, ReadingKind, learn
from uptide.core.oxidation.mixture import MixturePart, OilMixture, mix_oils
from uptide.core.oxidation.oil import OilOxidation
from uptide.core.oxidation.protection import HARM_TO, Antioxidants, protection_factor
from uptide.core.oxidation.simulate import (
    DILUENT_CREDIT,
    LEAST_START,
    MONTHS,
    Draws,
    Simulation,
    book_peroxide,
    headline_months,
    risk_word,
    simulate,
    total_sd,
)
from uptide.core.oxidation.surroundings import (
    GLASS_PASSES,
    LIGHT_LEVEL,
    MOLAR_VOLUME,
    Light,
    Storage,
    oxygen_through,
    peroxide_ceiling,
    photo_rate,
)
from uptide.core.recipe.recipe import Row
from uptide.core.tolerance import exceeds, reaches

HARD_CAP, INERT_CAP = 24, 36  # months that are never exceeded in a promise; policy
WATER_ALLOWED = 0.01  # g/g: with more water than this the model does not apply
LATE = 1.0  # meq/kg above fresh: from here an antioxidant is said to come late
TRADE_FROM = 0.05  # g/g: an oil with less is not the trade's shortest-lived oil
WATER_MONTHS = (1.0, 2.0)  # what the trade gives a product with water or fresh plant in it; common practice
HALF = 0.5
HIGHEST_LIMIT = 20.0  # meq/kg: the highest that any oil is given, where the limit of a mixture is not known
MOST_PV = 250.0  # meq/kg: more than any oil is read at
AS_BOUGHT = replace(Storage(), celsius=(rate.CALIBRATED_KELVIN - 273.15,) * 12, opened=False)  # of known age alone
FEW = 400  # draws are enough to rank what helps
COOL = 17.0  # °C, a cool cupboard
WALL_MM = 0.7  # mm of plastic; common practice
MEASURED_SD, CLASS_SD = 0.15, 0.5  # ln of the peroxide value at the start: measured, or by the lot's class
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


Read = Sequence[tuple[Row, Ingredient]]


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
        trade_months=trade,
        trade_oil=trade_oil,
        limited_by=_limit(
            read,
            oils,
            storage=storage,
            draws=draws,
            protection=protection,
            history=history,
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
        closed_ceiling=_ceiling(read, storage),
        permeation_rise=_permeation_rise(read, storage),
        used_up_months=_used_up(read, storage),
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


def horizon(oils: OilMixture, storage: Storage, protection: float, reach: float = 3.5) -> int:
    """How many months to follow: so many times the median life in the dark; 3.5 is past what one in ten reach."""
    if oils.induction_hours is None:
        return MONTHS
    median = rate.months_to_limit(
        oils.induction_hours * protection,
        oils.fresh_pv,
        oils.limit_pv,
        sum(storage.celsius) / 12 + 273.15,
        oxidation_factor=storage.oxidation_factor * oils.rancidity,
        ageing_factor=storage.ageing_factor,
    )
    return min(MONTHS, int(reach * median) + 6)


def protection_of(oils: OilMixture, added: Antioxidants) -> float:
    """By how much what was added slows these oils down: less, once they had begun to turn."""
    return protection_factor(added, oils.gamma, oils.alpha, oils.cox, _turned(oils))


def _turned(oils: OilMixture) -> float:
    """How far the oils had turned when they were mixed [meq/kg above fresh]: an antioxidant then comes late."""
    fresh = sum(part.share * part.oil.fresh_pv for part in oils.parts if not part.oil.is_inert)
    return max(0.0, book_peroxide(oils) - fresh)


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


def inert(key: str) -> OilOxidation:
    """Something that cannot oxidise."""
    return OilOxidation(key, None, "refined", (100.0, 0.0, 0.0, 0.0, 0.0), source="definition")


def mixture_of(read: Read) -> OilMixture:
    """The oils of a blend; waxes are counted as inert, for want of figures."""
    parts = [
        part_of(item.oxidation or inert(item.key), row.grams, row.past)
        for row, item in read
        if item.is_fatty and (item.oxidation is not None or item.kind == "wax") and row.grams
    ]
    protects = fsum(row.grams or 0.0 for row, item in read if item.protects is not None)
    oils = fsum(part.share for part in parts)
    return replace(mix_oils(parts), dissolved=protects / (protects + oils))


def part_of(oil: OilOxidation, grams: float, past: LotPast | None) -> MixturePart:
    """An oil with what its lot has behind it: a measured peroxide value, or an age and heat that make one likely."""
    if past is None:
        return MixturePart(oil, grams)
    stood = past.aged
    before = standing(past.months_old, AS_BOUGHT) if past.months_old else ()
    if past.peroxide_value is None:
        stood = (*stood, *before)
    ageing = past.ageing + ageing_spent((*before, *past.steps))
    if oil.is_inert:
        return MixturePart(oil, grams, ageing=ageing)
    start, spread = (oil.fresh_pv, CLASS_SD) if past.peroxide_value is None else (past.peroxide_value, MEASURED_SD)
    if stood:
        grown = max(peroxides_after(oil, stood, start), LEAST_START)
        # A lot that oxidises faster than the book has aged more: its error enters through how far it has grown.
        spread = sqrt(spread**2 + (total_sd(oil.osi_sd) * log(grown / max(start, LEAST_START))) ** 2)
        start = grown
    if past.steps:
        start = peroxides_after(oil, past.steps, start)
    return MixturePart(oil, grams, min(start, MOST_PV), spread, ageing=ageing)


def antioxidants_of(read: Read) -> Antioxidants:
    """Active substance in the whole [mg/kg], product by product."""
    total = sum(row.grams or 0.0 for row, _ in read)
    amounts: dict[str, float] = {}
    for row, item in read:
        if item.protects is not None:
            substance, active = item.protects
            amounts[substance] = amounts.get(substance, 0.0) + 1e6 * (row.grams or 0.0) * active / total
    return Antioxidants(**amounts)


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


def _permeation_rise(read: Read, storage: Storage) -> float | None:
    """Rise of the peroxide value [meq/kg] that a year's oxygen through wall and closure could make.

    For a cylinder twice as high as wide with a wall of WALL_MM; printed beside the verdict, never in it.
    """
    grams = sum(row.grams or 0.0 for row, _ in read)
    millilitres = sum(row.millilitres or 0.0 for row, _ in read)
    if not grams:
        return None
    radius = (millilitres / (4 * pi)) ** (1 / 3)  # cm
    area = 2 * pi * radius**2 + 2 * pi * radius * 4 * radius
    oxygen = oxygen_through(storage.material, area, WALL_MM) * 365 / MOLAR_VOLUME  # mmol a year
    return 2 * oxygen / (grams / 1000)


def _ceiling(read: Read, storage: Storage) -> float | None:
    """How far the peroxide value can rise in a tight glass bottle before its oxygen is used up [meq/kg]."""
    grams = sum(row.grams or 0.0 for row, _ in read)
    millilitres = sum(row.millilitres or 0.0 for row, _ in read)
    return peroxide_ceiling(millilitres * storage.headspace, millilitres, grams) if grams else None


def _used_up(read: Read, storage: Storage) -> float | None:
    volume = sum(row.millilitres or 0.0 for row, _ in read)
    weekly = storage.ml_a_use * storage.uses_a_week
    return volume / weekly / (HOURS_A_MONTH / 168) if weekly > 0 else None


@lru_cache(maxsize=8)
def fewer(draws: Draws) -> Draws:
    """The first few of the draws: enough to rank by."""
    return Draws(**{each.name: getattr(draws, each.name)[:FEW] for each in fields(Draws)})


def median_months(oils: OilMixture, storage: Storage, draws: Draws, protection: float, start_month: int) -> float:
    """Median life [months] of a fresh bottle."""
    months = horizon(oils, storage, protection)
    return simulate(oils, storage, draws, start_month=start_month, protection=protection, months=months).quantile(0.5)


def _limit(
    read: Read,
    oils: OilMixture,
    storage: Storage,
    draws: Draws,
    protection: float,
    history: StorageHistory,
    result: Simulation,
    cap: float,
    supplier: tuple[float, str] | None,
) -> str:
    """What ends it first: the cap or a supplier's date, ageing, or whichever of oil, light and warmth costs most."""
    if supplier and supplier[0] < min(cap, result.quantile(0.10)):
        return f"a supplier’s best before: {supplier[1]}"
    if result.quantile(0.10) > cap:
        return f"the cap of {cap:.0f} months that no promise passes"
    if oils.induction_hours is None or result.ageing(min(result.months, round(result.quantile(0.5)))) > HALF:
        return "ageing: odours, hydrolysis, packaging"
    few = fewer(draws)
    before = median_months(oils, storage, few, protection, history.start_month)
    weakest = max(oils.parts, key=lambda part: part.share * part.oil.cox)
    name = next(item.name for _, item in read if item.key == weakest.oil.key)
    others = [part for part in oils.parts if part.oil.key != weakest.oil.key]
    gains = {
        name: (median_months(mix_oils(others), storage, few, protection, history.start_month) if others else 2 * before)
        - before
    }
    if photo_rate(oils.light, LIGHT_LEVEL[storage.light], GLASS_PASSES[storage.glass], oils.chlorophyll):
        gains["light"] = (
            median_months(oils, replace(storage, light=Light.DARK), few, protection, history.start_month) - before
        )
    if max(storage.celsius) > COOL:
        cooler = replace(storage, celsius=tuple(min(t, COOL) for t in storage.celsius), swing=0.0)
        gains["warmth"] = median_months(oils, cooler, few, protection, history.start_month) - before
    return max(gains, key=lambda key: gains[key])


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
    if exceeds(_turned(oils), LATE) and not added.is_empty:
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
    used_up = _used_up(read, storage)
    if used_up is not None:
        remarks.append(f"Used as stated, it lasts {used_up:.1f} months.")
    return tuple(remarks)
