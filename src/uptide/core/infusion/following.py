"""A jar under way: what was done and seen, and what it says when it is strained."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from enum import StrEnum
from functools import cached_property
from math import ceil, fsum

from uptide.core.errors import QuantityError
from uptide.core.infusion.charge import MOST_GRAMS as MOST_PLANT
from uptide.core.infusion.judging import JarCaution
from uptide.core.infusion.plan import JarPlan
from uptide.core.infusion.straining import WORTH_SAYING, Balance, Straining, balance
from uptide.core.infusion.temperature import Reading, TemperatureLog
from uptide.core.infusion.water import water_now
from uptide.core.measures.say import say_number
from uptide.core.months import say_day
from uptide.core.oxidation.history import HeatStep, lasting
from uptide.core.safety.caution import Grade
from uptide.core.tolerance import exceeds

DAY = 24.0  # h
ONCE = "dark-shelf"  # how a jar was steeped that was to be strained onto fresh plant and was not
ROOM = 20.0  # °C, where a jar stands once it is no longer warmed
AIR_LEAVES = 3  # days in which bubbles are air that leaves the plant; later ones are fermentation
OLDEST = timedelta(days=3660)  # of a jar that is begun
MOST_GRAMS = 100_000.0


class NoteKind(StrEnum):
    """What can be noted of a jar."""

    SHAKEN = "shaken"
    VENTED = "vented"
    TOPPED_UP = "topped up"
    LOOKED = "looked at"
    COLOUR = "colour"
    SMELL = "smell"
    CLOUDY = "cloudy"
    BUBBLES = "bubbles"
    WATER = "water at the bottom"
    SOUR = "smells sour"
    MOULD = "mould"
    WEIGHED = "weighed open"
    STRAINED = "strained"
    BINNED = "binned"
    PUT_AWAY = "put away"
    PICKED = "picked"
    DRIED = "dried to"
    PLANT_ADDED = "more plant added"
    RENEWED = "strained onto fresh plant"
    MARC = "pressed plant weighed"
    DREGS = "dregs left"


# Notes that need grams; of what was picked they may be given.
WEIGHS = frozenset(
    {
        NoteKind.TOPPED_UP,
        NoteKind.WEIGHED,
        NoteKind.STRAINED,
        NoteKind.DRIED,
        NoteKind.MARC,
        NoteKind.DREGS,
        NoteKind.PLANT_ADDED,
        NoteKind.RENEWED,
    }
)
BEFORE = frozenset({NoteKind.PICKED, NoteKind.DRIED})  # of days before the jar was filled as well
EARLIEST = timedelta(days=730)  # before it: plant that was dried longer ago has lost what was in it
ENDS = frozenset({NoteKind.STRAINED, NoteKind.BINNED, NoteKind.PUT_AWAY})
SEEN = frozenset(
    {
        NoteKind.LOOKED,
        NoteKind.COLOUR,
        NoteKind.SMELL,
        NoteKind.CLOUDY,
        NoteKind.BUBBLES,
        NoteKind.WATER,
        NoteKind.SOUR,
        NoteKind.MOULD,
    }
)
BIN_IT = "Bin all of it: do not skim, and do not heat it to save it."
SAYS: Mapping[NoteKind, tuple[Grade, str]] = {
    NoteKind.MOULD: (Grade.STOP, f"Mould. {BIN_IT}"),
    NoteKind.SOUR: (Grade.STOP, f"It smells sour: something lives in it. {BIN_IT}"),
    NoteKind.WATER: (
        Grade.WARN,
        "Water at the bottom: decant the oil today, and drive the rest off open at 50 to 60 °C. Where it is older or "
        "smells: bin it.",
    ),
    NoteKind.CLOUDY: (
        Grade.WARN,
        "Cloudy: put a spoon of it and one of the bare oil into the fridge. If both cloud it is the oil, else water.",
    ),
}


@dataclass(frozen=True, slots=True)
class JarNote:
    """Something noted of a jar: when, what, how many grams where it needs them, and a person’s own words."""

    on: date
    kind: NoteKind
    grams: float | None = None
    words: str = ""

    def __post_init__(self) -> None:
        if self.kind in WEIGHS and self.grams is None:
            raise QuantityError(f"“{self.kind.value}” needs its grams.")
        if self.grams is not None and not 0 < self.grams <= MOST_GRAMS:
            raise QuantityError(f"{self.grams:g} g cannot be noted; up to {MOST_GRAMS:,.0f} can.")


@dataclass(frozen=True)
class JarUnderWay:
    """A jar as it stands on a day; its notes stand in the order in which they happened."""

    plan: JarPlan
    begun_on: date
    notes: Sequence[JarNote]
    today: date
    readings: Sequence[Reading] = ()

    @cached_property
    def filled(self) -> JarPlan:
        """The jar with all the plant that was added since it was begun, taken as in the state of the first.

        One that ended before it was strained onto fresh plant was infused once.
        """
        ask, added = self.plan.ask, fsum(note.grams or 0.0 for note in self.notes if note.kind is NoteKind.PLANT_ADDED)
        early = self.ended is not None and self.ended.on < self.renewed_on
        if self.plan.method.charges > 1 and early and not self._last(NoteKind.RENEWED):
            ask = replace(ask, method=ONCE, oil_grams=self.plan.oil_grams)
        grams = min(self.plan.charges[0].grams + added, MOST_PLANT) if added else ask.grams
        if grams == ask.grams and ask is self.plan.ask:
            return self.plan
        return JarPlan(replace(ask, oil_grams=self.plan.oil_grams, grams=grams))

    @cached_property
    def ended(self) -> JarNote | None:
        """What ended it; None while it is under way."""
        return next((note for note in self.notes if note.kind in ENDS), None)

    @cached_property
    def day(self) -> int:
        """How many days it stands, or stood."""
        return ((self.ended.on if self.ended else self.today) - self.begun_on).days

    @cached_property
    def planned_days(self) -> int:
        """How many days its way of steeping takes; 0 where it is done on the day it is begun."""
        return int(self.plan.method.hours // DAY)

    @cached_property
    def done_on(self) -> date:
        """The day its way of steeping ends."""
        return self.begun_on + timedelta(days=self.planned_days)

    @cached_property
    def renewed_on(self) -> date:
        """The day on which it is strained onto fresh plant; of a way with one charge the day it ends."""
        return self.begun_on + timedelta(days=self.planned_days // self.plan.method.charges)

    @cached_property
    def about_done_on(self) -> date:
        """The day from which most has about passed over: four times sooner or later is possible."""
        added = (self._last(kind) for kind in (NoteKind.PLANT_ADDED, NoteKind.RENEWED))
        since = max(day for day in (*added, self.begun_on) if day)  # the last has the least time
        return since + timedelta(days=ceil(self.plan.done_after_hours / DAY))

    def _last(self, kind: NoteKind) -> date | None:
        return max((note.on for note in self.notes if note.kind is kind), default=None)

    @cached_property
    def says(self) -> tuple[JarCaution, ...]:
        """What was seen, and what to do about it, the gravest first."""
        found = []
        for note in self.notes:
            age = (note.on - self.begun_on).days
            if note.kind in SAYS:
                grade, words = SAYS[note.kind]
                found.append(JarCaution(f"jar-{note.kind.name.lower()}", grade, f"{say_day(note.on)}: {words}"))
            elif note.kind is NoteKind.BUBBLES and age > AIR_LEAVES:
                words = f"{say_day(note.on)}: Bubbles after day {AIR_LEAVES} are fermentation. {BIN_IT}"
                found.append(JarCaution("jar-fermenting", Grade.STOP, words))
            elif note.kind is NoteKind.BUBBLES:
                words = f"{say_day(note.on)}: Bubbles in the first days are air that leaves the plant."
                found.append(JarCaution("jar-air", Grade.NOTE, words))
        return tuple(sorted(found, key=lambda caution: list(Grade).index(caution.grade)))

    @cached_property
    def water_lost(self) -> float | None:
        """Water that left the open jar by its first and its last weighing [g]: oil does not evaporate."""
        weighed = [note.grams for note in self.notes if note.kind is NoteKind.WEIGHED and note.grams is not None]
        return weighed[0] - weighed[-1] if len(weighed) > 1 else None

    @cached_property
    def dried_to(self) -> float | None:
        """Water that its plant went in with [g/g], by its weights as picked and as dried; None where one is missing."""
        picked, dried = self.weighed(NoteKind.PICKED), self.weighed(NoteKind.DRIED)
        if picked is None or dried is None or dried > picked:
            return None
        return max(0.0, water_now(picked, self.plan.ask.plant.water_fresh, dried))

    @cached_property
    def water_is_gone(self) -> bool:
        """Whether its weighings show that the water that must leave has left; so is where none must."""
        return self.filled.jar_water.free == 0 or (self.water_lost or 0.0) >= self.filled.must_leave

    @cached_property
    def wet_until(self) -> date | None:
        """Until when water had, or has, to leave it: the first weighing that shows it gone; None where none must."""
        if self.filled.must_leave == 0:
            return None
        weighed = [note for note in self.notes if note.kind is NoteKind.WEIGHED and note.grams is not None]
        leave = self.filled.must_leave
        gone = (note.on for note in weighed if (weighed[0].grams or 0.0) - (note.grams or 0.0) >= leave)
        return next(gone, self.ended.on if self.ended else self.today)

    @cached_property
    def log(self) -> TemperatureLog:
        """What was read of its warmth."""
        resin = all(each.plant.form.key == "resin" for each in self.plan.charges)
        return TemperatureLog(self.readings, resin=resin, air=self.plan.method.steps[0].air)

    @cached_property
    def heat(self) -> tuple[HeatStep, ...]:
        """Heat and light that the oil had in the jar: as read, else as its way has them, for as long as it stood."""
        steps, read = self.plan.method.steps, () if self.plan.method.in_light else self.log.heat  # of light none tells
        if self.planned_days:
            unread = max(0.0, DAY * self.day - fsum(step.hours for step in read)) / (DAY * self.planned_days)
            return (*read, *(each for step in steps for each in lasting(step, step.hours * unread)))
        warm = read or steps
        rest = DAY * self.day - fsum(step.hours for step in warm)
        return (*warm, *lasting(HeatStep(ROOM, 1), max(0.0, rest)))

    @cached_property
    def picked(self) -> str:
        """Where its plants are from, as it was noted."""
        return "; ".join(
            f"{say_day(note.on)}, {note.words}" if note.words else say_day(note.on)
            for note in self.notes
            if note.kind is NoteKind.PICKED
        )

    @cached_property
    def balance(self) -> Balance | None:
        """Oil and plant that went in against all that was weighed; None before oil and pressed plant are weighed."""
        out, marc, dregs = (self.weighed(kind) for kind in (NoteKind.STRAINED, NoteKind.MARC, NoteKind.DREGS))
        if out is None or marc is None:
            return None
        plan = self.filled
        meant = plan.expected
        if meant is None or plan.method.charges > 1:  # of what the first charge kept nothing was weighed
            return None
        left = meant.films + (meant.bottoms if dregs is None else dregs)
        return balance(
            plan.oil_grams, plan.plant_grams, out=out, marc=marc, water_lost=max(0.0, self.water_lost or 0.0), left=left
        )

    def weighed(self, kind: NoteKind) -> float | None:
        """The last weight of a kind that was noted [g]."""
        return next((note.grams for note in reversed(self.notes) if note.kind is kind), None)

    @property
    def must_be_binned(self) -> str:
        """Why nothing of it may come on a shelf: something lives in it, as it was seen; nothing where nothing does."""
        return next((said.message for said in self.says if said.grade is Grade.STOP), "")

    @cached_property
    def outcome(self) -> str:
        """What came of it, in a sentence; nothing while it is under way."""
        end = self.ended
        if end is None:
            return ""
        if end.kind is NoteKind.BINNED:
            return f"Binned on {say_day(end.on)}{': ' + end.words if end.words else ''}."
        if end.kind is NoteKind.PUT_AWAY:
            return f"Put away on {say_day(end.on)}{': ' + end.words if end.words else ''}."
        out, meant = end.grams or 0.0, self.filled.out[self.plan.ask.straining]
        said = f"Strained on {say_day(end.on)}: {say_number(out, 3)} g"
        if meant is None:
            return f"{said}."
        off = out - meant
        if not exceeds(abs(off), WORTH_SAYING * self.plan.oil_grams):
            return f"{said}, as expected."
        more = "more" if off > 0 else "less"
        return f"{said}, {abs(off):.0f} g {more} than expected; {self._kept(out)}"

    def _kept(self, out: float) -> str:
        """What the plant kept by this weighing, if nothing was spilled."""
        kept = (self.plan.oil_grams - out) / (self.filled.plant_grams * self.filled.method.charges)
        usual = self.filled.keeps(Straining(self.plan.ask.straining))
        return (
            f"the plant kept {say_number(max(0.0, kept), 2)} g a gram with dregs and films, and {usual:.2g} is usual."
        )


def may_begin_on(day: date, today: date) -> bool:
    """Whether a jar can have been begun on a day: not after today, and within ten years."""
    return today - OLDEST <= day <= today
