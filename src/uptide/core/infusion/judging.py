"""What speaks against a jar, and what it is in a sentence; nothing is stopped that the kitchen can still put right."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import ceil

from uptide.core.figures.citing import listed
from uptide.core.figures.oil_profile import allergens_of
from uptide.core.infusion.packing import LEAST_HEAD_ROOM, LEAST_IN_BATH, pressure_closed
from uptide.core.infusion.plan import WARM_FROM, JarPlan
from uptide.core.infusion.water import Growth
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.measures.say import say_number
from uptide.core.safety.caution import Grade
from uptide.core.tolerance import exceeds, reaches

WHOLE_PERCENT = 0.01
COSTLY, SPENT = 0.25, 0.9  # of the oxidation life: from here on a warning, and as good as all of it
FIT_LIFE = 8.0  # h: an oil with more stands a bath
UNFIT_LIFE = 3.0  # h of induction at 110 °C: an oil with less is not for warmth; keeps linseed, rosehip, hemp out
WATER_GRADES = {
    Growth.SLOW_MOULDS: Grade.NOTE,
    Growth.MOULDS: Grade.WARN,
    Growth.FAST_MOULDS: Grade.WARN,
    Growth.BACTERIA: Grade.WARN,
}
FLAG_WORDS = {
    "daisy": (Grade.WARN, "Not for whoever is allergic to daisies: they cross over."),
    "sun": (Grade.WARN, "It makes skin sensitive to light: no sun after it."),
    "pregnancy": (Grade.WARN, "Not in pregnancy or while breastfeeding."),
    "epilepsy": (Grade.WARN, "Not with epilepsy."),
    "intact-skin": (Grade.WARN, "For intact skin alone."),
    "children": (Grade.WARN, "Not for children."),
    "infants": (Grade.WARN, "Not for infants."),
    "g6pd": (Grade.WARN, "Not with a G6PD deficiency."),
    "face": (Grade.WARN, "Not for the face."),
    "sensitiser": (Grade.WARN, "It can sensitise: patch test, and use little."),
    "irritant": (Grade.NOTE, "It can irritate: patch test."),
    "salicylate": (Grade.WARN, "Not with an allergy to aspirin or propolis."),
    "scented": (Grade.NOTE, "Allergens of its scent pass over and are to be declared."),
    "hairs": (Grade.NOTE, "Its hairs itch: strain it through four layers of cloth."),
    "stain": (Grade.NOTE, "It stains skin and cloth."),
}


@dataclass(frozen=True, slots=True)
class JarCaution:
    """Something that speaks against a jar, or has to be known of it."""

    rule: str
    grade: Grade
    message: str


def cautions_of(plan: JarPlan, on_hand: Sequence[Ingredient] = ()) -> tuple[JarCaution, ...]:
    """Everything that speaks against it or has to be known, the gravest first; `on_hand` are oils to take instead."""
    found = (*_of_water(plan), *_of_the_jar(plan), *_of_warmth(plan, on_hand), *_of_the_plant(plan), *_of_the_oil(plan))
    return tuple(sorted(found, key=lambda caution: list(Grade).index(caution.grade)))


def verdict_of(plan: JarPlan, cautions: Sequence[JarCaution]) -> str:
    """What the jar is, in a sentence."""
    oil = plan.ask.oil
    plants = listed([f"{each.plant.called}, {each.state.value}" for each in plan.charges])
    said = f"{plants}, in {oil.name[:1].lower()}{oil.name[1:]}, 1 to "
    said += say_number(plan.ratio, 2)
    comes = plan.out[plan.ask.straining]
    out = f"about {comes:.0f} g come out" if comes else "nothing comes out"
    stops = [caution for caution in cautions if caution.grade is Grade.STOP]
    if stops:
        return f"{said}: not like this. {stops[0].message}"
    heed = sum(caution.grade is Grade.WARN for caution in cautions)
    first = f"; {heed} {'thing' if heed == 1 else 'things'} to heed" if heed else ""
    return f"{said}; {out}, and it keeps {say_number(plan.months)} months at most{first}."


def say_share(share: float) -> str:
    """A part of a life in percent; what is less than one is said to be.

    >>> say_share(0.004), say_share(0.206)
    ('under 1 %', '21 %')
    """
    return "under 1 %" if not reaches(share, WHOLE_PERCENT) else f"{100 * share:.0f} %"


def _of_water(plan: JarPlan) -> Iterator[JarCaution]:
    grows = plan.jar_water.grows
    grade = WATER_GRADES.get(grows)
    if grade is None:
        return
    what = f"{plan.jar_water.free:.0f} g of water stay free" if plan.jar_water.free >= 1 else "It is not dry enough"
    leave = f"{plan.must_leave:.0f}" if plan.must_leave >= 10 else f"{plan.must_leave:.1f}"
    yield JarCaution(
        "infusion-water",
        grade,
        f"{what} (activity {plan.jar_water.activity:.2f}): {grows.value} can live in it. {leave} g of water have to "
        f"leave: dry the {plan.plant_grams:.0f} g of plant to {plan.dry_to:.0f} g first. More oil does not cure damp "
        "plant.",
    )


def _of_the_jar(plan: JarPlan) -> Iterator[JarCaution]:
    least = LEAST_IN_BATH if plan.method.hottest > WARM_FROM else LEAST_HEAD_ROOM
    if plan.head_room < 0:
        yield JarCaution(
            "infusion-fits",
            Grade.STOP,
            f"It does not fit: {plan.filled_ml:.0f} mL of plant and oil in a jar of {plan.ask.jar_ml:.0f} mL.",
        )
    elif plan.head_room < least:
        yield JarCaution(
            "infusion-head-room",
            Grade.WARN,
            f"{100 * plan.head_room:.0f} % of head room; {100 * least:.0f} % are wanted: oil grows as it warms.",
        )
    if not plan.oils or plan.oils[-1] < plan.covers.after_a_day:
        yield JarCaution(
            "infusion-covered",
            Grade.WARN,
            f"The plant stands above the oil: {plan.covers.after_a_day:.0f} g cover it once the air is out. What is "
            "not under oil moulds.",
        )
    warmest = max(step.celsius for step in plan.method.steps)
    if warmest > WARM_FROM or plan.method.in_light:
        pressure = pressure_closed(max(plan.head_room, 0.01), 15, max(warmest, 40.0))
        bar = "" if pressure == float("inf") else f": {pressure:.1f} bar in it"
        yield JarCaution(
            "infusion-lid", Grade.WARN, f"Never close the lid tight in sun or bath{bar}. Lid loose, or a cloth."
        )


def _stands_warmth(item: Ingredient) -> float:
    """How well an oil stands warmth, by its induction time [h]; 0 for what is no poured oil."""
    if item.kind not in ("carrier", "liquid_wax") or item.is_solid or item.oxidation is None:
        return 0.0
    return item.oxidation.osi_hours or 0.0


def _of_warmth(plan: JarPlan, on_hand: Sequence[Ingredient]) -> Iterator[JarCaution]:
    hottest = plan.method.hottest
    if plan.method.watched:
        yield JarCaution(
            "infusion-watched",
            Grade.WARN,
            "Never leave it alone: a cooker’s “low” and many ovens pass 80 °C. Thermometer in the middle of the jar, "
            "the clock from when the oil is warm.",
        )
    oil = plan.ask.oil.oxidation
    warm = hottest > WARM_FROM or plan.method.in_light
    if oil is not None and oil.osi_hours is not None and not reaches(oil.osi_hours, UNFIT_LIFE) and warm:
        sturdy = max(on_hand, key=_stands_warmth, default=None)
        instead = "take olive, high-oleic sunflower or jojoba"
        if sturdy is not None and reaches(_stands_warmth(sturdy), FIT_LIFE):
            instead = f"take {sturdy.name[:1].lower()}{sturdy.name[1:]}, which is on hand"
        yield JarCaution(
            "infusion-weak-oil",
            Grade.WARN,
            f"{plan.ask.oil.name} turns too soon for warmth or light: {instead}, and blend it in later.",
        )
    spent = plan.life_spent
    if spent is not None and reaches(spent, COSTLY):
        better = plan.gentlest
        instead = f" {better[0].title.capitalize()} costs {say_share(better[1])}." if better else ""
        how = "All of the oil’s life" if reaches(spent, SPENT) else f"{100 * spent:.0f} % of the oil’s life"
        yield JarCaution(
            "infusion-life",
            Grade.WARN,
            f"{how} goes by this, as the model has it: strip-test it before use.{instead}",
        )


def _of_the_plant(plan: JarPlan) -> Iterator[JarCaution]:
    for limited in plan.restricted:
        if exceeds(limited.at_most, limited.limit):
            yield JarCaution(
                "infusion-restricted",
                Grade.WARN,
                f"Up to {limited.at_most:.2g} % {limited.name} may pass over; {limited.limit:g} % is the most on "
                f"skin. From 1 to {ceil(limited.parts_within)} on it is surely within.",
            )
    plants = list(dict.fromkeys(each.plant for each in plan.charges))
    several = len(plants) > 1
    for flag in sorted({flag for plant in plants for flag in plant.flags}):
        grade, words = FLAG_WORDS[flag]
        bearers = listed([plant.name for plant in plants if flag in plant.flags])
        yield JarCaution(f"infusion-{flag}", grade, f"{bearers}: {words}" if several else words)
    for plant in plants:
        if plant.as_part:
            words = f"What is said of {plant.name} is said of another part; of its {plant.as_part} nobody said more."
            yield JarCaution("infusion-part", Grade.NOTE, words)
        if plant.heed:
            heed = f"{plant.name}: {plant.heed}" if several else plant.heed
            yield JarCaution("infusion-heed", Grade.NOTE, heed)
    yield JarCaution(
        "infusion-surely",
        Grade.NOTE,
        "Only a plant that somebody surely knows; picked where local law lets one, away from roads and sprays.",
    )


def _of_the_oil(plan: JarPlan) -> Iterator[JarCaution]:
    """What the oil itself is of: who is allergic to that is to it with a plant in it as well."""
    families = allergens_of(plan.ask.oil)
    if families is None:
        words = f"Nobody said of which allergen family {plan.ask.oil.name} is: ask before it is worn."
        yield JarCaution("infusion-oil-unknown", Grade.WARN, words)
    elif families:
        named = listed([family.replace("_", " ") for family in sorted(families)])
        words = f"{plan.ask.oil.name} is of {named}: ask about allergies before anybody wears it."
        yield JarCaution("infusion-oil-allergen", Grade.WARN, words)
