"""What is said of a jar: as it is planned, on its days, and of the oil that comes of it."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta

import pytest
from tests.core.said.conftest import Approve

from uptide.catalogue.shipped import shipped_catalogue, shipped_plants
from uptide.core.infusion.charge import Charge
from uptide.core.infusion.figures import figures_of
from uptide.core.infusion.following import JarNote, JarUnderWay, NoteKind
from uptide.core.infusion.jar_lot import infusion_of, keeps_months
from uptide.core.infusion.judging import cautions_of, verdict_of
from uptide.core.infusion.learning import learn, taught_words
from uptide.core.infusion.own_plant import OwnPlant, own_facts
from uptide.core.infusion.parts import of_part
from uptide.core.infusion.plan import JarAsk, JarPlan
from uptide.core.infusion.plants import State
from uptide.core.infusion.schedule import due_of, schedule_of
from uptide.core.infusion.straining import Straining
from uptide.core.infusion.temperature import Reading
from uptide.core.infusion.words import read_jar_words

PLANTS, OILS = shipped_plants(), shipped_catalogue().ingredients
BEGUN = date(2026, 11, 2)
CALENDULA = JarAsk(PLANTS["calendula"], State.DRIED, OILS["sunflower-high-oleic"], grams=30.0)
ASKS = {
    "dried-in-the-dark": CALENDULA,
    "fresh-in-the-sun": JarAsk(
        PLANTS["st-johns-wort"],
        State.FRESH,
        OILS["olive"],
        method="sunny-window",
        jar_ml=1000.0,
        straining=Straining.PRESS,
    ),
    "warm-and-pressed": JarAsk(
        PLANTS["lavender"], State.DRIED, OILS["jojoba"], method="warm-bath", grams=40.0, pressed=True, to_the_rim=True
    ),
    "three-together": JarAsk(
        PLANTS["marshmallow-root"],
        State.DRIED,
        OILS["almond-sweet"],
        grams=25.0,
        oil_grams=300.0,
        width_cm=9.0,
        also=(Charge(PLANTS["plantain"], State.WILTED, 20.0), Charge(PLANTS["arnica"], State.DRIED, 10.0, 0.12)),
    ),
}
LINES = (
    "30 g dried calendula in 300 g olive, dark shelf",
    "a 500 ml jar three quarters full of fresh st john’s wort, covered with sunflower, sunny window, pressed out",
    "20 g dried lavender in jojoba, warm bath",
    "20 g wilted lemon balm and 10 g rosemary in 300 g sweet almond, dark shelf",
    "a 1 l jar half full of pressed dried rose petals, covered with sweet almond, in a warm bath",
)


@pytest.mark.parametrize("name", ASKS)
def test_what_is_said_of_a_jar_that_is_planned(name: str, approve: Approve) -> None:
    plan = JarPlan(ASKS[name])
    cautions = cautions_of(plan, [OILS["jojoba"], OILS["olive"]])
    strained = {how.value: plan.comes_out(how) for how in Straining}
    approve(
        f"jar-{name}",
        {
            "verdict": verdict_of(plan, cautions),
            "plan": plan,
            "cautions": cautions,
            "figures": figures_of(plan),
            "strained": strained,
        },
    )


def note(day: int, kind: NoteKind, grams: float | None = None, words: str = "") -> JarNote:
    return JarNote(BEGUN + timedelta(days=day), kind, grams, words)


NOTED = {
    "looked-after": (note(2, NoteKind.TOPPED_UP, 35.0), note(3, NoteKind.LOOKED), note(5, NoteKind.SHAKEN)),
    "gone-wrong": (note(2, NoteKind.CLOUDY), note(6, NoteKind.WATER, None, "a spoonful"), note(9, NoteKind.MOULD)),
    "strained": (note(1, NoteKind.TOPPED_UP, 30.0), note(20, NoteKind.SMELL), note(34, NoteKind.STRAINED, 190.0)),
}
WARMTH = tuple(Reading(datetime(2026, 11, 2 + day, 12, tzinfo=UTC), 19.0 + day) for day in range(6))


@pytest.mark.parametrize("name", NOTED)
def test_what_is_said_of_a_jar_on_its_days(name: str, approve: Approve) -> None:
    said: dict[str, object] = {}
    for day in (0, 10, 40):
        notes = [each for each in NOTED[name] if (each.on - BEGUN).days <= day]
        jar = JarUnderWay(JarPlan(CALENDULA), BEGUN, notes=notes, today=BEGUN + timedelta(days=day), readings=WARMTH)
        said |= {f"day {day}": jar, f"due on day {day}": due_of(jar), f"schedule on day {day}": schedule_of(jar)}
    said |= {"lot": infusion_of(jar, 7), "it keeps": keeps_months(jar)}
    learnt = learn(PLANTS["calendula"], [jar, jar])
    approve(f"jar-{name}", said | {"learnt": learnt, "taught": taught_words(learnt)})


def test_what_is_read_of_a_jar(approve: Approve) -> None:
    own = own_facts(OwnPlant("Sea holly", "calendula", "Eryngium maritimum", months_dried=9.0), PLANTS)
    root = of_part(PLANTS["calendula"], "root", PLANTS)
    said: dict[str, object] = {line: read_jar_words(line) for line in LINES}
    approve("jar-words", said | {"a plant of one’s own": own, "a root": root})
