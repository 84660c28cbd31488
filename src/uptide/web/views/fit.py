"""What the bench shows of the wearer and the use: cautions, verdicts, scent, sun, allergens, water, and variants."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assessment import Assessment
from uptide.core.finder.aims import AIMS
from uptide.core.finder.reformulate import Variant
from uptide.core.measures.say import say_number
from uptide.core.recipe.recipe import Recipe
from uptide.core.safety.bath import (
    BABY_TUB_LITRES,
    CONTACT_SECONDS,
    DROPS_A_TUB,
    DROPS_IN_15_ML,
    FOOT_BATH_LITRES,
    SHOWER_ML,
    TUB_LITRES,
    Bath,
    drops_for,
)
from uptide.core.safety.case import REGIONS
from uptide.core.safety.caution import Caution, Grade
from uptide.core.safety.check import Safety
from uptide.core.safety.dose import Dose
from uptide.core.safety.firing import NotFor, whom
from uptide.core.skin.whom import WITHOUT_CARD
from uptide.web.base.pages import number
from uptide.web.drawing.view import View
from uptide.web.views.figures import cite, figure_view
from uptide.web.views.sheet import SKIN_FIGURES

FEW_ASKED = 4  # things not asked that are named in a line
ANYONE = "anyone"
GAUGE_WIDTH, GAUGE_PAST = 560.0, 1.15  # user units; how far past the greatest mark it goes
BEFORE_AFTER = (*SKIN_FIGURES[:4], "scent_dose", "phototoxicity")
GRADES = {Grade.STOP: ("stop", "stops"), Grade.WARN: ("warning", "warnings"), Grade.NOTE: ("note", "notes")}


class CautionView(View):
    """A caution."""

    rule: str
    grade: str
    about: str
    message: str
    why: str
    who: str
    remedy: str
    source: str
    answerable: bool
    answered: bool
    reason: str
    key: str = ""  # by which its working is found again: of one rule and thing there may be two, as of constituents


class NotForView(View):
    """Whom it is not for, and each reason with its grade."""

    who: str
    grade: str
    reasons: tuple[str, ...]


class GaugePiece(View):
    """One scent on the gauge."""

    x: float
    width: float
    depth: int
    title: str


class GaugeMark(View):
    """A limit on the gauge."""

    x: float
    words: str
    anchor: str
    y: float


class GaugeView(View):
    """How the scent stands against what is suggested and the most, on one scale."""

    pieces: tuple[GaugePiece, ...]
    marks: tuple[GaugeMark, ...]
    end: float


class ScentView(View):
    """One scent against its own limits."""

    name: str
    share: str
    limit: str
    driver: str
    phototoxicity: str
    depth: int


class WaterView(View):
    """What happens when it meets water."""

    verdict: str
    reason: str
    facts: tuple[tuple[str, str], ...]
    offers: tuple[tuple[str, str, bool], ...]  # operation, words, natural
    idle: tuple[tuple[str, str], ...]
    residue: tuple[tuple[str, str], ...]
    rules: tuple[str, ...]


class ChangeView(View):
    """One changed row of a variant."""

    before: str
    after: str
    why: str
    effects: str


class VariantView(View):
    """A blend made over, to be taken or left."""

    key: str
    title: str
    changes: tuple[ChangeView, ...]
    figures: tuple[tuple[str, str, str], ...]
    cleared: tuple[str, ...]
    left: tuple[str, ...]


class FitView(View):
    """Everything about the wearer and the use, in words."""

    whom: str
    summary: str
    draft: str
    graded: tuple[tuple[str, tuple[CautionView, ...]], ...]
    not_asked: tuple[CautionView, ...]  # what may hold for somebody of whom it was never asked
    not_asked_words: str
    not_for: tuple[NotForView, ...]
    not_for_words: str
    kept_reasons: tuple[tuple[str, str], ...]
    gauge: GaugeView | None
    scents: tuple[ScentView, ...]
    declared: tuple[tuple[str, str, str, str], ...]
    below: int
    allergen_list: str
    water: WaterView | None
    region: str
    regions: tuple[str, ...]
    for_sale: bool
    placed_on: str
    night_only: bool
    wearer: int | None
    people: tuple[tuple[int, str], ...]
    described: str  # whom it is for, in words, where no card is meant
    without_card: tuple[str, ...]
    is_gone: bool
    aims: tuple[tuple[str, str], ...]
    settings: str  # whose law, sold or not, in a line


def fit_view(assessment: Assessment, facts: Catalogue, people: Sequence[tuple[int, str]]) -> FitView:
    """The wearer and the use in the words of the page."""
    safety = assessment.safety or Safety()
    recipe = assessment.recipe
    name = whom_of(people, recipe)
    described = recipe.whom if recipe.wearer is None else ""
    scents = frozenset(oil.part.item.name for oil in (safety.dose.oils if safety.dose else ()))
    firing = {caution.rule for caution in safety.cautions if caution.answerable}
    not_for = not_for_views(safety.not_for)
    cautions = list(zip(safety.cautions, _numbered(safety.cautions, facts, scents), strict=True))
    return FitView(
        whom=name or ANYONE,
        summary=summary(safety.cautions),
        draft=safety.draft,
        graded=tuple(
            (
                grade.value,
                tuple(view for c, view in cautions if c.grade is grade and not c.is_a_question),
            )
            for grade in Grade
        ),
        not_asked=tuple(view for c, view in cautions if c.is_a_question),
        not_asked_words=_not_asked(safety.cautions, name),
        not_for=not_for,
        not_for_words=_not_for_words(safety.not_for),
        kept_reasons=tuple((rule, reason) for rule, reason in recipe.reasons.items() if rule not in firing),
        gauge=draw_gauge(safety.dose) if safety.dose is not None and safety.dose.oils else None,
        scents=_scents(safety),
        declared=tuple(
            (
                each.name.lower(),
                f"{say_number(each.typical, 2)} %",
                f"{say_number(each.high, 2)} %",
                "certified" if each.certified else "only at most" if each.only_at_most else "",
            )
            for each in (safety.allergens.declared if safety.allergens else ())
        ),
        below=len(safety.allergens.below) if safety.allergens else 0,
        allergen_list=safety.allergens.list_name if safety.allergens else "",
        water=water_view(safety.bath, facts) if safety.bath is not None and assessment.resolution.read else None,
        region=recipe.use.region,
        regions=REGIONS,
        for_sale=recipe.use.for_sale,
        placed_on=recipe.use.placed_on.isoformat() if recipe.use.placed_on else "",
        night_only=recipe.use.night_only,
        wearer=recipe.wearer if name else None,
        people=tuple(people),
        described=described,
        without_card=tuple(dict.fromkeys((*WITHOUT_CARD, *([described] if described else ())))),
        is_gone=recipe.wearer is not None and not name,
        settings=", ".join(
            [
                f"law of {recipe.use.region}" if recipe.use.region != "other" else "no law named",
                "sold" if recipe.use.for_sale else "not sold",
                *(["by night"] if recipe.use.night_only else []),
            ]
        ),
        aims=tuple((aim.key, aim.title if aim.key != "wearer" or not name else f"for {name}") for aim in AIMS.values()),
    )


def summary(cautions: Sequence[Caution]) -> str:
    """How many of each grade, as in “2 stops, 1 warning”."""
    said = []
    for grade, (one, many) in GRADES.items():
        count = sum(c.grade is grade and not c.is_answered and not c.is_a_question for c in cautions)
        if count:
            said.append(f"{count} {one if count == 1 else many}")
    return ", ".join(said)


def _not_asked(cautions: Sequence[Caution], name: str) -> str:
    """What was never asked of somebody, in a line; nothing where all was."""
    asked = list(dict.fromkeys(c.not_asked for c in cautions if c.is_a_question))
    if not asked:
        return ""
    shown = asked[:FEW_ASKED]
    more = f" and {len(asked) - len(shown)} more" if len(asked) > len(shown) else ""
    things = "1 thing" if len(asked) == 1 else f"{len(asked)} things"
    return f"{things} not asked of {name or 'the wearer'}: {'; '.join(shown)}{more}"


def _numbered(cautions: Sequence[Caution], facts: Catalogue, scents: frozenset[str]) -> list[CautionView]:
    """Cautions in the words of the page, those of one rule about one thing told apart."""
    alike: Counter[tuple[str, str]] = Counter()
    views = []
    for each in cautions:
        view = caution_view(each, facts, scents)
        alike[view.rule, view.about] += 1
        named = (view.rule, view.about, *([str(count)] if (count := alike[view.rule, view.about]) > 1 else []))
        views.append(view.model_copy(update={"key": "-".join("-".join(named).split())}))
    return views


def caution_view(caution: Caution, facts: Catalogue, scents: frozenset[str] = frozenset()) -> CautionView:
    """A caution in the words of the page; one about every scent says so and names none."""
    all_scents = len(scents) > 1 and scents == set(caution.names)
    return CautionView(
        rule=caution.rule,
        grade=caution.grade.value,
        about="All its scents" if all_scents else caution.about,
        message=caution.message,
        why=caution.why,
        who=caution.who,
        remedy=caution.remedy,
        source="" if caution.source == "person" else cite(caution.source, "", facts.sources),
        answerable=caution.answerable,
        answered=caution.is_answered,
        reason=caution.reason,
    )


def not_for_views(not_for: Sequence[NotFor]) -> tuple[NotForView, ...]:
    """Whom it is not for, the gravest first, each named once."""
    grouped: dict[str, list[NotFor]] = {}
    for each in not_for:
        grouped.setdefault(each.who, []).append(each)
    views = []
    for who, found in grouped.items():
        found.sort(key=lambda each: list(Grade).index(each.grade))
        reasons = dict.fromkeys(f"{each.about}: {each.message}" if each.about else each.message for each in found)
        views.append(NotForView(who=who, grade=found[0].grade.value, reasons=tuple(reasons)))
    return tuple(sorted(views, key=lambda view: [g.value for g in Grade].index(view.grade)))


def _not_for_words(not_for: Sequence[NotFor]) -> str:
    """Whom a blend for anyone is stopped for, by name, and how many more it warns of."""
    stopped = [each for each in not_for if each.grade is Grade.STOP]
    more = len({each.who for each in not_for} - {each.who for each in stopped})
    said = f"not {'; not '.join(whom(stopped))}" if stopped else ""
    others = f"{more} more {'kind' if more == 1 else 'kinds'} of wearer to be careful with" if more else ""
    return "; ".join(filter(None, [said, others]))


def draw_gauge(dose: Dose) -> GaugeView:
    """Draw each scent's share end to end on a scale, with the marks of what is suggested and the most."""
    top = GAUGE_PAST * max(dose.most, dose.total, 0.1)
    pieces = []
    x = 0.0
    for place, oil in enumerate(dose.oils):
        width = GAUGE_WIDTH * oil.part.high / top
        title = f"{oil.part.item.name}: {say_number(oil.part.high, 3)} %"
        pieces.append(GaugePiece(x=x, width=width, depth=1 + place % 4, title=title))
        x += width
    marks = [
        GaugeMark(
            x=GAUGE_WIDTH * value / top,
            words=f"{words} {value:g} %",
            anchor="end" if value / top > 0.75 else "start",
            y=y,
        )
        for value, words, y in ((dose.suggested, "suggested", 58.0), (dose.most, "the most here", 10.0))
    ]
    return GaugeView(pieces=tuple(pieces), marks=tuple(marks), end=x)


def _scents(safety: Safety) -> tuple[ScentView, ...]:
    if safety.dose is None:
        return ()
    phototoxic = {each.part.item.key: each for each in (safety.phototoxicity.parts if safety.phototoxicity else ())}
    unsure = {part.item.key for part in (safety.phototoxicity.unsure if safety.phototoxicity else ())}
    views = []
    for place, oil in enumerate(safety.dose.oils):
        item = oil.part.item
        phototoxicity = phototoxic.get(item.key)
        limit = "nothing is known" if oil.unknown else "not stated" if oil.limit is None else f"{oil.limit:g} %"
        words = f"{say_number(phototoxicity.ratio, 2)} of 1, from {phototoxicity.limit:g} %" if phototoxicity else ""
        if phototoxicity and not oil.part.measured:
            words = f"{phototoxicity.limit:g} % at most"
        elif phototoxicity and phototoxicity.cleared:
            words = f"bergapten {say_number((phototoxicity.bergapten or 0.0) * 1e4, 3)} mg/kg, certified"
        views.append(
            ScentView(
                name=item.name,
                share=f"{say_number(oil.part.high, 3)} %" if oil.part.measured else "not measured",
                limit=limit,
                driver=oil.driver.lower(),
                phototoxicity="unsure" if item.key in unsure else words,
                depth=1 + place % 4,
            )
        )
    return tuple(views)


def water_view(bath: Bath, facts: Catalogue) -> WaterView:
    """What happens in the water, in words."""
    mixed = bath.emulsified
    said: list[tuple[str, str]] = []
    if mixed.required is not None:
        said.append(
            (
                "HLB that the oils want",
                f"{mixed.required:.1f}, by other tables {mixed.required_low:.1f} to "
                f"{mixed.required_high:.1f}, and those differ by 2",
            )
        )
    elif mixed.unknown:
        said.append(("HLB that the oils want", "unknown: no table has enough of them"))
    present = "none in it" if mixed.present is None else f"{mixed.present:.1f}"
    low, high = bath.wanted_percent
    said.append(("HLB of its emulsifiers", present))
    said.append(("Emulsifier", f"{bath.emulsifier_percent:.1f} % of it; {low:g} to {high:g} % is usual"))
    if bath.natural is not None:
        said.append(("By natural standards", "often accepted" if bath.natural else "not accepted by most"))
    if bath.residue:
        said.append(("Worked in dry", f"for at least {CONTACT_SECONDS} seconds"))
        said.append(("Esters, MCT, hydrocarbons", f"{bath.solvent_percent:.0f} %: they loosen sunscreen and make-up"))
    elif bath.place == "shower":
        said.append((f"{SHOWER_ML:g} mL on a wet body", f"{bath.film_skin:.0f} µm on the skin before it is rinsed"))
    else:
        said.append(
            (
                "15 mL in a bath, if it floats",
                f"{bath.film_tub:.0f} µm on the tub’s water, or {bath.film_skin:.0f} µm on the skin",
            )
        )
        if bath.drops is not None:
            most = DROPS_A_TUB[2]
            said.append(
                (
                    "Scent in it",
                    f"{bath.drops:.1f} drops to 150 L at 20 to the mL, {bath.scent_mg_per_l:.2g} mg/L; "
                    f"{DROPS_A_TUB[0]} to {most} is usual, a tub of {BABY_TUB_LITRES:.0f} L bears "
                    f"{drops_for(BABY_TUB_LITRES) or 'none'}, a foot bath of {FOOT_BATH_LITRES:.0f} L "
                    f"{drops_for(FOOT_BATH_LITRES) or 'none'}",
                )
            )
    offers = tuple(
        (
            "emulsify:" + ",".join(f"{key}={percent:.3g}" for key, percent in offer.shares),
            " with ".join(f"{percent:.1f} % {facts.ingredient(key).name}" for key, percent in offer.shares),
            offer.natural,
        )
        for offer in bath.offers
    )
    residue = tuple((rinse.value, f"about {number(1000 * grams, 0)} mg stay") for rinse, grams in bath.residue)
    rules = (
        ("Keep water out of the bottle.", "Wet hands into the bottle cloud it and let it spoil.")
        if bath.residue
        else ("Slippery: use a mat, hold on, and rinse the floor with hot water and detergent after.",)
        if bath.place == "shower"
        else (
            f"Scent for a bath goes into its carrier first: {DROPS_IN_15_ML} drops to 15 mL, or into a spoon of liquid "
            "soap; never neat.",
            "Slippery: use a mat, and wash the tub with detergent.",
            f"A full tub here is {TUB_LITRES:.0f} L.",
        )
    )
    return WaterView(
        verdict=bath.verdict.value,
        reason=bath.reason,
        facts=tuple(said),
        offers=offers,
        idle=bath.idle,
        residue=residue,
        rules=rules,
    )


def variant_view(variant: Variant, facts: Catalogue, whom: str) -> VariantView:
    """A blend made over, in words: each change, what it does to the verdicts, what is left."""
    title = variant.aim.title
    if variant.aim.key == "wearer":
        title = f"for {whom or ANYONE}"
    figures = []
    known = {finding.key for finding in variant.before.findings} & {f.key for f in variant.after.findings}
    for key in (key for key in BEFORE_AFTER if key in known):
        before, after = (figure_view(a.finding(key), facts.sources) for a in (variant.before, variant.after))
        if (before.word, before.value) != (after.word, after.value):
            figures.append((before.title, f"{before.word}, {before.value}", f"{after.word}, {after.value}"))
    return VariantView(
        key=variant.aim.key,
        title=title,
        changes=tuple(
            ChangeView(before=c.before, after=c.after, why=c.why, effects=", ".join(c.effects)) for c in variant.changes
        ),
        figures=tuple(figures),
        cleared=tuple(f"{c.about}: {c.message}" if c.about else c.message for c in variant.cleared),
        left=tuple(f"{c.about}: {c.message}" if c.about else c.message for c in variant.left),
    )


def whom_of(people: Sequence[tuple[int, str]], recipe: Recipe) -> str:
    """The name on the card of whom a blend is for, or the words that say it; empty for anyone."""
    return dict(people).get(recipe.wearer, "") if recipe.wearer is not None else recipe.whom
