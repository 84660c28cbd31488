"""Constituents of scents against their limits, and the allergens that law wants on the label."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from functools import lru_cache

from uptide.core.safety.case import Case, Part
from uptide.core.safety.tables import ConstituentLimit
from uptide.core.tolerance import exceeds

LEFT_ON, RINSED = 0.001, 0.01  # % above which an allergen is declared; eu-1223-2009
NEW_PRODUCTS, ALL_PRODUCTS = date(2026, 7, 31), date(2028, 7, 31)  # the last days of the older list; eu-2023-1545
NEGLIGIBLE = 1e-7  # %: less is nothing


@dataclass(frozen=True, slots=True)
class ConstituentAmount:
    """How much of a constituent is in the product [%], and which scents bring it."""

    name: str
    low: float
    typical: float
    high: float
    certified: bool
    bringers: tuple[Part, ...]


@dataclass(frozen=True, slots=True)
class OverLimit:
    """A constituent against one limit: typically over, or over only at its most."""

    amount: ConstituentAmount
    limit: ConstituentLimit
    surely: bool


@dataclass(frozen=True, slots=True)
class Declared:
    """An allergen above the threshold: typical and at most [%], and whether it is so only at its most."""

    name: str
    typical: float
    high: float
    only_at_most: bool
    whole_oil: bool
    certified: bool


@dataclass(frozen=True, slots=True)
class Allergens:
    """What to declare, by which list and threshold [%], and what stays below."""

    declared: tuple[Declared, ...]
    below: tuple[Declared, ...]
    threshold: float
    list_name: str
    problem: str = ""  # when the product may not be sold under the list of its date


@lru_cache(maxsize=16)
def amounts(case: Case) -> dict[str, ConstituentAmount]:
    """All constituents of all scents in the product [%]; the share of each scent counts at most.

    What may have passed from a plant into an infused oil is known at its most alone: nobody measured the rest.
    """
    found: dict[str, ConstituentAmount] = {}
    for part in case.scents:
        facts = case.facts(part)
        for name, c in (facts.constituents if facts else {}).items():
            share = part.high / 100
            before = found.get(name, ConstituentAmount(name, 0.0, 0.0, 0.0, certified=True, bringers=()))
            found[name] = ConstituentAmount(
                name,
                before.low + share * c.low,
                typical=before.typical + share * c.typical,
                high=before.high + share * c.high,
                certified=before.certified and c.certified,
                bringers=(*before.bringers, part),
            )
    for part in case.parts:
        for key, percent in part.item.scented_by:
            known = case.tables.scents.get(key)
            for name, c in (known.constituents if known else {}).items():
                before = found.get(name, ConstituentAmount(name, 0.0, 0.0, 0.0, certified=False, bringers=()))
                most = before.high + part.high / 100 * percent / 100 * c.high
                bringers = (*before.bringers, part)
                found[name] = replace(before, high=most, certified=False, bringers=bringers)
    return found


@lru_cache(maxsize=16)
def over_limits(case: Case) -> tuple[OverLimit, ...]:
    """Every limit that is passed: of the literature left on skin, and of EU law where EU or UK law holds.

    At the typical value surely; at the highest, perhaps. A certificate makes both the same.
    """
    known = amounts(case)
    over = []
    for limit in case.tables.constituent_limits:
        amount = known.get(limit.name) or _sum(limit.name, known)
        if amount is None or limit.rinsed is not case.purpose.rinsed:
            continue
        if limit.law and case.purpose.region not in ("EU", "UK"):
            continue
        if exceeds(amount.typical, limit.most):
            over.append(OverLimit(amount, limit, surely=True))
        elif exceeds(amount.high, limit.most):
            over.append(OverLimit(amount, limit, surely=False))
    return tuple(over)


def _sum(name: str, known: dict[str, ConstituentAmount]) -> ConstituentAmount | None:
    """A limit on two constituents together, where they are not already given as one."""
    parts = [known[one] for one in name.split("+") if one in known] if "+" in name else []
    if not parts:
        return None
    return ConstituentAmount(
        name,
        sum(a.low for a in parts),
        typical=sum(a.typical for a in parts),
        high=sum(a.high for a in parts),
        certified=all(a.certified for a in parts),
        bringers=tuple(p for a in parts for p in a.bringers),
    )


def allergens_of(case: Case) -> Allergens:
    """What the label must name: above 0.001 % left on, 0.01 % rinsed off; exactly at the threshold is not above.

    The list has 81 names for what is first sold after 31 July 2026 and for all that is on sale after 31 July 2028, else
    the older 24. In Great Britain the older list counts; in the US none is in force that is known here: as advice.
    """
    threshold = RINSED if case.purpose.rinsed else LEFT_ON
    placed = case.purpose.placed_on or case.today
    newer = case.purpose.region in ("EU", "US", "other") and (placed > NEW_PRODUCTS or case.today > ALL_PRODUCTS)
    problem = ""
    if case.purpose.region == "EU" and placed <= NEW_PRODUCTS and case.today > ALL_PRODUCTS:
        problem = "First sold by 31 July 2026 under the older list: it may no longer be on sale."
    names = {n: a for n, a in case.tables.allergens.items() if newer or a.listed_in == 2003}
    known = amounts(case)
    candidates = [
        Declared(a.name, a.typical, a.high, not exceeds(a.typical, threshold), whole_oil=False, certified=a.certified)
        for a in known.values()
        if a.name in names
    ]
    whole: dict[str, tuple[float, float]] = {}
    for part in case.scents:
        facts = case.facts(part)
        if facts is not None and facts.eu_label_name in names:
            typical, high = whole.get(facts.eu_label_name, (0.0, 0.0))
            whole[facts.eu_label_name] = (typical + part.typical, high + part.high)
    candidates += [
        Declared(name, typical, high, not exceeds(typical, threshold), whole_oil=True, certified=False)
        for name, (typical, high) in whole.items()
    ]
    above = sorted((d for d in candidates if exceeds(d.high, threshold)), key=lambda d: (d.whole_oil, -d.high))
    below = sorted(
        (d for d in candidates if d.high > NEGLIGIBLE and not exceeds(d.high, threshold)), key=lambda d: -d.high
    )
    return Allergens(
        tuple(above),
        tuple(below),
        threshold=threshold,
        list_name="81 names, EU 2023/1545" if newer else "24 names, the older list",
        problem=problem,
    )
