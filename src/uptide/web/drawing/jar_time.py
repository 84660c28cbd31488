"""A jar on a line of time: what it wanted, what was done, what was missed and what comes, and what was noted."""

from __future__ import annotations

from datetime import date

from uptide.core.infusion.following import SEEN, JarUnderWay, NoteKind
from uptide.core.infusion.schedule import Planned, Standing, Work, schedule_of
from uptide.core.measures.say import say_number
from uptide.core.months import say_day
from uptide.web.drawing.view import View

WIDTH, LEFT, RIGHT = 800.0, 84.0, 24.0
LOOKS_Y, SMELLS_Y, SHAKES_Y, NOTES_Y, WATER_Y, FOOT, HEIGHT = 18.0, 40.0, 62.0, 84.0, 106.0, 120.0, 140.0
MOST_TICKS = 9
STEPS = (1, 2, 7, 14, 28, 91, 364)  # days between two ticks
ROW_OF = {
    Work.SHAKE: SHAKES_Y,
    Work.VENT: SHAKES_Y,
    Work.SMELL: SMELLS_Y,
    Work.TOP_UP: NOTES_Y,
    Work.ADD_PLANT: NOTES_Y,
    Work.RENEW: NOTES_Y,
}
OF_WATER = frozenset({NoteKind.WEIGHED, NoteKind.WATER, NoteKind.CLOUDY})
EVERYDAY = frozenset({Work.SHAKE, Work.VENT, Work.SMELL, Work.ADD_PLANT})  # left out it is a gap, and no reproach
FEWEST_DAYS = 2  # of a line; less is a picture of warmth


class TimeMark(View):
    """Something on the line: where, how it is drawn, and in words."""

    x: float
    y: float
    kind: str
    words: str


class JarTimeView(View):
    """The line; `sun` is from where to where it stands in the light, `wet` until where water must still leave."""

    width: float = WIDTH
    height: float = HEIGHT
    left: float = LEFT
    right: float = WIDTH - RIGHT
    foot: float = FOOT
    rows: tuple[tuple[float, str], ...] = (
        (LOOKS_Y, "Look, strain"),
        (SMELLS_Y, "Smell"),
        (SHAKES_Y, "Shake, vent"),
        (NOTES_Y, "Seen, added"),
        (WATER_Y, "Water"),
    )
    marks: tuple[TimeMark, ...]
    ticks: tuple[tuple[float, str], ...]
    today: float | None
    sun: tuple[float, float] | None
    wet: tuple[float, float, float] | None  # from, to, height
    water: str
    missed: str
    words: str


def draw_jar_time(jar: JarUnderWay) -> JarTimeView | None:
    """Draw the days of a jar; None for one that takes hours."""
    last = max(jar.done_on, jar.ended.on if jar.ended else jar.today)
    days = (last - jar.begun_on).days
    if days < FEWEST_DAYS:
        return None

    def x(day: date) -> float:
        return LEFT + (WIDTH - LEFT - RIGHT) * min(max(0, (day - jar.begun_on).days), days) / days

    planned = schedule_of(jar)
    marks = [
        TimeMark(
            x=x(each.on),
            y=ROW_OF.get(each.work, LOOKS_Y),
            kind=_kind(each),
            words=f"{say_day(each.on)}: {each.work.value.lower()}, {each.standing.value}",
        )
        for each in planned
    ]
    marks += [
        TimeMark(
            x=x(note.on),
            y=WATER_Y if note.kind in OF_WATER else NOTES_Y,
            kind="seen",
            words=f"{say_day(note.on)}: {note.kind.value}{f', {note.grams:g} g' if note.grams else ''}",
        )
        for note in jar.notes
        if note.kind in SEEN | OF_WATER
    ]
    step = next((each for each in STEPS if days / each <= MOST_TICKS), STEPS[-1])
    return JarTimeView(
        marks=tuple(marks),
        ticks=tuple(
            (x(date.fromordinal(jar.begun_on.toordinal() + day)), f"day {day}") for day in range(0, days + 1, step)
        ),
        today=None if jar.ended else x(jar.today),
        sun=(LEFT, x(min(jar.done_on, last))) if jar.plan.method.in_light else None,
        wet=(LEFT, x(jar.wet_until), WATER_Y) if jar.wet_until else None,
        water=_water(jar),
        missed=_missed(jar),
        words=f"The days of this jar, from {say_day(jar.begun_on)} to {say_day(last)}; the lists say the same",
    )


def _kind(planned: Planned) -> str:
    """How a thing is drawn; nobody notes every shake, and one that was not noted is a gap."""
    if planned.work in EVERYDAY and planned.standing is Standing.MISSED:
        return "gap"
    return planned.standing.name.lower()


def _water(jar: JarUnderWay) -> str:
    """How it stands with the water on the line, in a sentence."""
    if jar.wet_until is None:
        return ""
    leave = say_number(jar.filled.must_leave, 2)
    if jar.water_is_gone:
        return f"Water: {leave} g had to leave; by its weighings they had on {say_day(jar.wet_until)}."
    return f"Water: {leave} g must leave; the bar is as long as no weighing of the open jar shows that they have."


def _missed(jar: JarUnderWay) -> str:
    """What was missed, in a sentence; nothing where nothing was."""
    schedule = schedule_of(jar)
    planned = [each for each in schedule if each.standing is Standing.MISSED]
    shakes = sum(each.work is Work.SHAKE for each in planned)
    said = [f"a look on {say_day(each.on)}" for each in planned if each.work is Work.LOOK]
    said += ["the top-up"] if any(each.work is Work.TOP_UP for each in planned) else []
    shaken = sum(each.work is Work.SHAKE and each.standing is Standing.DONE for each in schedule)
    words = f"Missed: {'; '.join(said)}; what nobody saw may have begun." if said else ""
    if shakes:
        words += f" Shaken on {shaken} of {shaken + shakes} days: it takes longer the less it is shaken."
    return words.strip()
