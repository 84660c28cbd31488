"""Too much went in: every way out in words, with what each does, before one is chosen."""

from __future__ import annotations

from sqlalchemy.orm import Session

from uptide.core.assessment.assessment import Assessment
from uptide.core.making.batch_record import BatchRecord
from uptide.core.making.ingredient_list import listed_ingredients
from uptide.core.making.overpour import Way, over
from uptide.core.safety.check import Safety
from uptide.web.base.pages import number
from uptide.web.drawing.view import View
from uptide.web.making.words import keeps
from uptide.workshop.making import WayOut, ways_out
from uptide.workshop.shelf import Shelf

GRAMS = 1000.0  # mg


class WayView(View):
    """A way out: what it is, what is done, and what it does."""

    key: str
    title: str
    asks_part: bool
    does: tuple[str, ...]
    stops: tuple[str, ...]


class OverView(View):
    """What is over, and the ways out."""

    words: str
    ways: tuple[WayView, ...]


def over_view(store: Session, shelf: Shelf, record: BatchRecord) -> OverView:
    """What is over and what can be done about it; a stop is a stop, and its way is not offered."""
    places = range(len(record.lines))
    most = max(places, key=lambda place: record.in_vessel[place] / max(1, record.targets[place]))
    excess = (record.in_vessel[most] - record.targets[most]) / GRAMS
    found = ways_out(store, shelf, record)
    before = next((each for each in found if each.remedy.way is Way.SCALE), None)
    order = _names(before.assessment) if before is not None and before.assessment is not None else ()
    return OverView(
        words=(
            f"{excess:.2f} g too much of {record.lines[most].name}: "
            f"{100 * (over(record.targets, record.in_vessel) - 1):.1f} % more than it should be."
        ),
        ways=tuple(_way(record, each, order) for each in found),
    )


def _names(assessment: Assessment) -> tuple[str, ...]:
    return tuple(each.name for each in listed_ingredients(assessment))


def _way(record: BatchRecord, way: WayOut, order: tuple[str, ...]) -> WayView:
    one = way.remedy
    does = []
    if one.removed_mg:
        does.append(f"Take {one.removed_mg / GRAMS:.1f} g of the mixture out; it goes back into no lot.")
    more = [
        f"{mg / GRAMS:.2f} g {line.name}"
        for line, mg in zip(record.lines, way.to_pour, strict=True)
        if mg > record.step_mg
    ]
    does.append(f"Then pour {', '.join(more)}." if more else "Nothing more is poured.")
    bottles = sum(count * size for count, size in record.plan["containers"])
    millilitres = one.total_mg / GRAMS / float(record.plan["density"])
    does.append(f"{one.total_mg / GRAMS:.1f} g in all, {millilitres:.0f} mL for {bottles:g} mL of bottles.")
    does += [f"{words}." for words in way.lacking]
    stops: tuple[str, ...] = ()
    if way.assessment is not None:
        stops = tuple(stop.words for stop in (way.assessment.safety or Safety()).open_stops)
        does.append(f"{keeps(way.assessment.shelf_life, record.made_on)}.")
        cost = next((each for each in way.assessment.findings if each.key == "cost"), None)
        if cost is not None and cost.value is not None:
            does.append(f"Costs {number(cost.value, 2)} {cost.unit}.")
        named = _names(way.assessment)
        if one.way is Way.ACCEPT:
            does.append(
                "The ingredients stay in their order on the label."
                if named == order
                else f"The label then reads: {', '.join(named)}."
            )
    return WayView(
        key=one.way.value, title=one.way.value, asks_part=one.way is Way.BETWEEN, does=tuple(does), stops=stops
    )
