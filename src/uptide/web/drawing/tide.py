"""The freshness tide as a picture and in words: peroxides rising towards the high-water mark, month by month."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date
from math import exp

from uptide.core.assessment.assessment import Assessment
from uptide.core.ingredients.past import FRESH_PLANT, TREATMENTS, unread_past
from uptide.core.keeping.bottle import BottleNote
from uptide.core.keeping.shelf_life import School, ShelfLife
from uptide.core.keeping.storage_history import made_on, problem_of
from uptide.core.months import months_between, months_later, say_day
from uptide.core.oxidation.surroundings import OWN_PLACE, PLACES, Light, Storage
from uptide.web.base.pages import number
from uptide.web.drawing.view import View

WIDTH, HEIGHT, LEFT, TOP, BOTTOM = 400.0, 228.0, 26.0, 50.0, 36.0
BARE_TOP = 22.0  # where nothing befell it, and no words stand above
MOST_TICKS = 8
HEADROOM = 1.45  # of the limit: how far up the picture goes
LETTER = 6.2  # user units that a letter on the time line needs
QUOTED = {
    School.COMPUTED: "computed",
    School.SHORTEST: "the trade’s shortest-lived oil",
    School.EARLIER: "the earlier of both",
}


class Mark(View):
    """An event or a reading on the picture; a reading stands between two peroxide values."""

    x: float
    label: str
    words: str
    label_y: float
    top: float | None = None
    bottom: float | None = None


class Month(View):
    """One month in words, for the table and for stepping through."""

    month: int
    when: str
    low: str
    typical: str
    high: str
    words: str
    x: float


class PastView(View):
    """What was said of the lot in a row; the name is empty for a row that is no oil."""

    row: int
    name: str
    age: str
    pv: str
    past: str


class TideView(View):
    """Everything the freshness tide shows."""

    verdict: str
    is_past: bool
    turned: bool
    until: str
    reason: str
    facts: tuple[tuple[str, str], ...]
    remarks: tuple[str, ...]
    months: tuple[Month, ...]
    band: str
    line: str
    baseline: str
    limit_y: float
    limit: str
    promise_x: float | None
    ticks: tuple[tuple[float, str], ...]
    levels: tuple[tuple[float, str], ...]
    marks: tuple[Mark, ...]
    made: str
    settings: str  # where and how it is kept, in a line
    width: float = WIDTH
    height: float = HEIGHT
    left: float = LEFT
    top: float = TOP
    floor: float = HEIGHT - BOTTOM
    place: str = ""
    own_celsius: str = ""
    light: str = ""
    light_here: str = ""
    glass: str = "amber"
    material: str = "glass"
    opened: str = "yes"
    ml_a_use: str = ""
    uses_a_week: str = "7"
    headspace: str = "10"
    pasts: tuple[PastView, ...] = ()
    treatments: tuple[str, ...] = (*TREATMENTS, FRESH_PLANT)


def tide_view(
    assessment: Assessment,
    events: Sequence[BottleNote],
    today: date,
    baseline: ShelfLife | None = None,
    *,
    in_words: bool = True,
) -> TideView | None:
    """Lay out the tide; `baseline` is the saved version behind the one that is being changed.

    Not `in_words`, its months are left out: where it is not shown, nobody steps through them.
    """
    shelf_life = assessment.shelf_life
    if shelf_life is None:
        return None
    start = made_on(events, today)
    last = max((point.month for point in shelf_life.tide), default=0)
    if baseline is not None and baseline.tide:
        last = max(last, baseline.tide[-1].month)
    top = TOP if events else BARE_TOP
    ceiling = HEADROOM * (shelf_life.limit_pv or 10.0)

    def x(months: float) -> float:
        return LEFT + (WIDTH - LEFT - 14) * min(months, last) / max(last, 1)

    def y(pv: float) -> float:
        return HEIGHT - BOTTOM - (HEIGHT - BOTTOM - top) * min(max(pv, 0.0), ceiling) / ceiling

    up = [f"{x(p.month):.1f},{y(p.high):.1f}" for p in shelf_life.tide]
    down = [f"{x(p.month):.1f},{y(p.low):.1f}" for p in reversed(shelf_life.tide)]
    storage = assessment.recipe.storage
    celsius = storage.celsius
    own = " ".join(f"{t:g}" for t in (celsius if len(set(celsius)) > 1 else celsius[:1]))
    until = months_later(start, shelf_life.months) if shelf_life.months is not None else None
    step = max(1, -(-last // MOST_TICKS))
    return TideView(
        verdict=_verdict(shelf_life),
        is_past=until is not None and bool(shelf_life.months) and until < today,
        turned=bool(shelf_life.turned),
        until="" if until is None or not shelf_life.months else say_day(until),
        reason=shelf_life.reason,
        facts=_facts(shelf_life),
        remarks=(*shelf_life.remarks, *(said for e in assessment.recipe.entries for said in unread_past(e.answers))),
        months=tuple(
            _month(p.month, p.low, p.typical, p.high, start, x(p.month)) for p in (shelf_life.tide if in_words else ())
        ),
        band=" ".join(up + down),
        line=" ".join(f"{x(p.month):.1f},{y(p.typical):.1f}" for p in shelf_life.tide),
        baseline=" ".join(f"{x(p.month):.1f},{y(p.typical):.1f}" for p in baseline.tide) if baseline else "",
        limit_y=y(shelf_life.limit_pv),
        limit=f"high water: {shelf_life.limit_pv:.1f} meq/kg",
        promise_x=x(shelf_life.months) if shelf_life.months else None,
        ticks=tuple((x(m), str(m)) for m in range(0, last + 1, step)),
        levels=tuple((y(v), f"{v:g}") for v in range(0, int(ceiling) + 1, 5)),
        marks=_marks([e for e in events if not problem_of(e, today)], start, x, y, last),
        made=say_day(start),
        top=top,
        settings=", ".join(
            [storage.place, f"{storage.glass.value} {storage.material}", "in use" if storage.opened else "kept closed"]
        ),
        place=storage.place,
        own_celsius=own if storage.place == OWN_PLACE else "",
        light="" if _is_the_place_s(storage) else storage.light.value,
        light_here=storage.light.value,
        glass=storage.glass.value,
        material=storage.material,
        opened="yes" if storage.opened else "no",
        ml_a_use=f"{storage.ml_a_use:g}" if storage.ml_a_use else "",
        uses_a_week=f"{storage.uses_a_week:g}",
        headspace=f"{100 * storage.headspace:g}",
        pasts=tuple(
            PastView(
                row=row.index,
                name=row.ingredient.name if row.ingredient and row.ingredient.is_fatty else "",
                age=entry.answers.get("age", ""),
                pv=entry.answers.get("pv", ""),
                past=entry.answers.get("past", ""),
            )
            for row, entry in zip(assessment.rows, assessment.recipe.entries, strict=True)
        ),
    )


def _is_the_place_s(storage: Storage) -> bool:
    """Whether the light is simply that of the place."""
    _, _, light = PLACES.get(storage.place, ((), 0.0, Light.DARK))
    return light is storage.light


def _verdict(shelf_life: ShelfLife) -> str:
    if shelf_life.months is None:
        return "not worked out"
    if shelf_life.months == 0:
        return "finished" if shelf_life.reason else "less than a month; test before use"
    return f"{shelf_life.months} month{'s' if shelf_life.months != 1 else ''}"


def _facts(shelf_life: ShelfLife) -> tuple[tuple[str, str], ...]:
    """The verdict's reasons, each a name and a sentence."""
    if shelf_life.mixture is None:
        return ()
    mixture = shelf_life.mixture
    facts = [
        (
            "Band",
            f"nine in ten reach {shelf_life.low:.1f} months, half reach {shelf_life.typical:.1f}, one in ten "
            f"{shelf_life.high:.1f}",
        ),
        ("Limited by", shelf_life.limited_by),
        ("Oxidation risk", shelf_life.risk),
    ]
    if shelf_life.trade_months is not None:
        facts.append(
            (
                "The trade says",
                f"{shelf_life.trade_months:.0f} months, for {shelf_life.trade_oil}, its shortest-lived oil",
            )
        )
    facts.append(("Quoted", f"{QUOTED[shelf_life.quoted]}; computed {shelf_life.computed}"))
    if mixture.induction_hours is not None and mixture.careful_hours is not None:
        facts.append(
            (
                "Induction time",
                f"{mixture.induction_hours:.1f} h at 110 °C pooled, {mixture.careful_hours:.1f} h by the careful rule",
            )
        )
    if not shelf_life.added.is_empty:
        facts.append(
            (
                "Protection",
                f"× {shelf_life.protection:.2f}; active {_active(shelf_life)}; the oils bring {mixture.gamma:.0f} "
                "mg/kg of their own",
            )
        )
    if shelf_life.closed_ceiling is not None:
        facts.append(
            (
                "Air",
                "in tight glass, never opened, the oxygen inside is used up after a rise of "
                f"{shelf_life.closed_ceiling:.1f} meq/kg",
            )
        )
    if shelf_life.permeation_rise is not None:
        facts.append(
            (
                "Container material",
                f"oxygen through wall and closure could make {shelf_life.permeation_rise:.0f} meq/kg a year",
            )
        )
    if shelf_life.carried_over and shelf_life.posterior is None:
        facts.append(("Learnt", f"from your other bottles: × {exp(shelf_life.carried_over):.2f} the speed of the book"))
    if shelf_life.posterior is not None:
        turned = "faster" if shelf_life.posterior.rate_mean > 0 else "slower"
        facts.append(
            (
                "Learnt",
                f"from your readings, this bottle turns {turned} than the book: × "
                f"{exp(shelf_life.posterior.rate_mean):.2f}",
            )
        )
    return tuple(facts)


def _active(shelf_life: ShelfLife) -> str:
    """What was added, as active substance: 0.1 % of a half-strength product is 500 mg/kg."""
    added = shelf_life.added
    amounts = {
        "tocopherols": added.mixed_tocopherols + added.alpha_tocopherol,
        "carnosic acid": added.carnosic_acid,
        "ascorbyl palmitate": added.ascorbyl_palmitate,
    }
    return ", ".join(f"{amount:.0f} mg/kg {name}" for name, amount in amounts.items() if amount)


def _month(month: int, low: float, typical: float, high: float, start: date, x: float) -> Month:
    when = months_later(start, month)
    return Month(
        month=month,
        when=f"{when:%b %Y}",
        low=number(low),
        typical=number(typical),
        high=number(high),
        words=f"Month {month}, {when:%b %Y}: {typical:.1f} meq/kg, {low:.1f} to {high:.1f}",
        x=x,
    )


def event_words(event: BottleNote, today: date) -> str:
    """How it was stored or read, in words; what cannot be is named as such, and counts for nothing."""
    problem = problem_of(event, today)
    return f"{event.kind}: left out. {problem}" if problem else _words(event)


def _words(event: BottleNote) -> str:
    detail = event.detail
    match event.kind:
        case "moved":
            return f"moved to: {detail['place']}"
        case "heated":
            return f"heated, {detail['celsius']:g} °C for {detail['hours']:g} h"
        case "strip" | "titration":
            span = f"{detail['low']:g}" + (f" to {detail['high']:g}" if event.kind == "strip" else "")
            return f"{'strip' if event.kind == 'strip' else 'titrated'}, {span} meq/kg"
        case "in water":
            return f"1 g in 100 mL of water at 38 °C: {detail['saw']}"
        case "smell":
            return "smelled off" if detail["off"] else "smelled fine"
    return event.kind


def _marks(
    events: Sequence[BottleNote], start: date, x: Callable[[float], float], y: Callable[[float], float], last: float
) -> tuple[Mark, ...]:
    """Events and readings that fall on the time line, their labels in up to three rows."""
    marks: list[Mark] = []
    ends = [0.0, 0.0]
    for event in events:
        months = months_between(start, event.on)
        if not 0 <= months <= last:
            continue
        place = x(months)
        reading = event.kind in ("strip", "titration")
        label = "" if reading else _short(event)
        row = 0 if place >= ends[0] else 1
        if label:
            ends[row] = place + LETTER * len(label) + 8
        high = event.detail.get("high", event.detail.get("low", 0.0)) if reading else 0.0
        marks.append(
            Mark(
                x=place,
                label=label,
                words=f"{say_day(event.on)}: {_words(event)}",
                label_y=32 + 14 * row,
                top=y(high) if reading else None,
                bottom=y(event.detail["low"]) if reading else None,
            )
        )
    return tuple(marks)


def _short(event: BottleNote) -> str:
    if event.kind == "moved":
        return f"to: {event.detail['place']}"
    if event.kind == "smell":
        return "off" if event.detail["off"] else "fine"
    return event.kind
