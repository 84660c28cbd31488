"""What the pages show, as frozen models: every word and number decided before the template sees it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from functools import lru_cache

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assess import PERCENT_TOLERANCE
from uptide.core.assessment.assessment import Assessment
from uptide.core.assessment.verdicts import TITLES, sentence
from uptide.core.figures.oil_profile import OilProfile, oil_profile
from uptide.core.finder.substitutes import substitutes
from uptide.core.measures.grammar import QuantityKind
from uptide.core.measures.say import say_number
from uptide.core.physics.bottle import CONTAINER_KINDS
from uptide.core.recipe.assuming import OpenReading, open_readings
from uptide.core.recipe.recipe import Question, Recipe, Row, RowStatus
from uptide.core.safety.person import judge
from uptide.core.skin.wearer import ANYONE, Wearer
from uptide.web.base.pages import number, small_number
from uptide.web.drawing.view import View
from uptide.web.views.figures import FigureView, figure_view
from uptide.web.views.parts import EVERY_PART, Parts
from uptide.web.views.verdicts import VerdictView, verdict_views

OFFERED = 3  # oils that are offered to stand in for a row's
WORTH_A_RANGE = 0.02  # of the mass: a narrower range is not shown beside a row


class AssumedView(View):
    """What rows leave open and are read by an assumption: the words, the reading, and what else to choose."""

    first: int  # a row that leaves it open
    key: str
    rows: int
    about: str
    taken: str
    because: str
    others: tuple[tuple[str, str], ...]  # value and words of what else it may be
    may_be_remembered: bool
    is_asked_above: bool = False  # with other rows that leave open the same


class RowView(View):
    """A row of the sheet: what was typed, and what it means."""

    index: int
    typed: str
    answers: Mapping[str, str]
    status: RowStatus
    ingredient: str
    ingredient_key: str
    grams: str
    range: str
    millilitres: str
    percent: str
    percent_volume: str
    can_set_share: bool
    phase: str
    remark: str
    reason: str
    questions: tuple[Question, ...]
    lots: tuple[tuple[str, str], ...] = ()  # key and words of what it could be taken from; the first is the usual oil
    lot: str = ""
    instead: tuple[tuple[str, str, str], ...] = ()  # key, name and changes of what could stand in
    assumed: tuple[AssumedView, ...] = ()


class ReadingView(View):
    """Everything that follows from a sheet."""

    rows: tuple[RowView, ...]
    is_begun: bool  # a row stands on the sheet, or is being typed
    assumed_together: tuple[AssumedView, ...]  # what several rows leave open alike
    figures: tuple[FigureView, ...]
    whole: tuple[FigureView, ...]
    on_skin: tuple[FigureView, ...]
    verdicts: tuple[VerdictView, ...]
    sentence: str
    scented: tuple[FigureView, ...]
    remarks: tuple[str, ...]
    acids: tuple[tuple[str, str, str, str], ...]
    can_normalise: bool
    drop_school: str


class SheetView(View):
    """A blend's sheet as it stands on the page, saved or not."""

    blend_id: int | None
    name: str
    product: str
    product_note: str
    products: tuple[tuple[str, str], ...]
    container_kind: str
    container_ml: str
    containers: tuple[tuple[str, str], ...]
    saved_version: int
    archived: bool
    reading: ReadingView


@lru_cache(maxsize=64)
def _allowed(catalogue: Catalogue, wearer: Wearer, day: date) -> tuple[OilProfile, ...]:
    """The oils that nothing speaks against for a wearer: the same for every row."""
    return tuple(
        oil_profile(oil)
        for oil in catalogue.ingredients.values()
        if oil.is_fatty and not oil.lot and judge(oil, wearer, catalogue.safety, day).allowed
    )


@lru_cache(maxsize=512)
def _instead(catalogue: Catalogue, key: str, wearer: Wearer, day: date) -> tuple[tuple[str, str, str], ...]:
    """The oils nearest in use to one that nothing speaks against for a wearer, with what would change."""
    item = catalogue.ingredients.get(key)
    if item is None or not item.is_fatty:
        return ()
    _, by_use = substitutes(oil_profile(item), _allowed(catalogue, wearer, day), OFFERED)
    return tuple(
        (each.oil_profile.key, each.oil_profile.item.name, ", ".join(each.changes[:3]) or "hardly a change")
        for each in by_use
    )


@lru_cache(maxsize=512)
def _lots(catalogue: Catalogue, key: str) -> tuple[tuple[str, str], ...]:
    """The usual oil and its lots on hand, as what a row may be taken from."""
    usual = catalogue.ingredients.get(key)
    lots = catalogue.on_hand.get(key, ())
    if usual is None or not lots:
        return ()
    return ((key, "a usual lot"), *((f"lot:{code}", f"lot {code}, {left:.0f} g left") for code, left in lots))


def row_view(
    row: Row,
    answers: Mapping[str, str],
    catalogue: Catalogue | None = None,
    wearer: Wearer = ANYONE,
    day: date = date.min,
    together: Sequence[Question] = (),
) -> RowView:
    """A row in the words of the page; with the catalogue, also what it could be taken from or swapped for.

    `together` are those of its assumed questions that are put once, above the rows.
    """
    shown_range = ""
    low, typical, high = row.grams_low, row.grams, row.grams_high
    if low is not None and typical is not None and high is not None and high - low > WORTH_A_RANGE * typical:
        shown_range = f"{small_number(low)} – {small_number(high)} g"
    read = row.status is RowStatus.READ
    return RowView(
        index=row.index,
        typed=row.typed,
        answers=answers,
        status=row.status,
        ingredient=row.ingredient.name if row.ingredient else "",
        ingredient_key=(row.ingredient.key if row.ingredient.lot else row.ingredient.base_key)
        if row.ingredient
        else "",
        grams=small_number(row.grams) if read else "",
        range=shown_range,
        millilitres=small_number(row.millilitres) if read else "",
        percent=number(row.percent_mass, 2 if (row.percent_mass or 0) < 10 else 1) if read else "",
        percent_volume=number(row.percent_volume, 1) if read else "",
        can_set_share=read and row.kind is not QuantityKind.FILL,
        phase=row.phase.value if row.phase else "",
        remark=row.remark,
        reason=row.reason,
        questions=() if read else row.questions,
        assumed=tuple(
            _assumed_view(OpenReading((row.index,), question), above=question in together)
            for question in row.questions
            if read
        ),
        lots=_lots(catalogue, row.ingredient.base_key) if catalogue and row.ingredient and read else (),
        lot=row.ingredient.lot if row.ingredient else "",
        instead=_instead(catalogue, row.ingredient.base_key, wearer, day)
        if catalogue and row.ingredient and read
        else (),
    )


def _assumed_view(reading: OpenReading, *, above: bool = False) -> AssumedView:
    question = reading.question
    together = len(reading.rows) > 1
    return AssumedView(
        first=reading.rows[0],
        key=question.key,
        rows=len(reading.rows),
        about=reading.about,
        taken=reading.taken,
        because=question.because,
        others=tuple(
            (option.value, reading.words(option.value) if together else option.label)
            for option in question.options
            if option.value != question.assumed
        ),
        may_be_remembered=question.key == "name" or question.about == "oz",
        is_asked_above=above,
    )


WHOLE = ("total_mass", "total_volume", "density_20c", "scent_share")
SKIN_FIGURES = (
    "skin_fit",
    "feel",
    "comedogenicity",
    "penetration",
    "slip",
    "skin_tint",
    "solid_fat_content_22c",
    "settling",
    "dispenser",
)
SCENTED = ("scent_dose", "phototoxicity", "allergens_declared", "retinol_equivalents", "medicines")


def reading_view(assessment: Assessment, catalogue: Catalogue, parts: Parts = EVERY_PART) -> ReadingView:
    """An assessment in the words of the page, as far as its parts are drawn."""
    shown = {
        finding.key: figure_view(finding, catalogue.sources)
        for finding in assessment.findings
        if ("scent" if finding.key in (*SKIN_FIGURES, *SCENTED) else "chemistry") in parts
    }
    elsewhere = frozenset((*TITLES, *WHOLE, *SKIN_FIGURES, *SCENTED))
    stated = assessment.resolution.stated_percent
    habits = assessment.recipe.habits
    together = tuple(each for each in open_readings(assessment.resolution) if len(each.rows) > 1)
    shared = {each.question.same for each in together}
    return ReadingView(
        is_begun=bool(assessment.rows),
        assumed_together=tuple(_assumed_view(each) for each in together),
        rows=tuple(
            row_view(
                row,
                entry.answers,
                catalogue,
                assessment.wearer,
                assessment.day,
                together=[question for question in row.questions if question.same in shared],
            )
            for row, entry in zip(assessment.rows, assessment.recipe.entries, strict=True)
        ),
        figures=tuple(figure for key, figure in shown.items() if key not in elsewhere),
        on_skin=tuple(shown[key] for key in SKIN_FIGURES if key not in TITLES and key in shown),
        verdicts=verdict_views(assessment, catalogue, parts),
        sentence=sentence(assessment, catalogue.product(assessment.recipe.product).name, assessment.wearer.name),
        scented=tuple(shown[key] for key in SCENTED if key not in TITLES and key in shown),
        whole=tuple(shown[key] for key in WHOLE if key in shown),
        remarks=assessment.remarks,
        acids=tuple(
            (
                f"{part.acid.common_name} ({part.acid.code})",
                number(part.percent, 1),
                number(part.grams_per_100g, 1),
                ", ".join(f"{item.name} {share:.1f}" for item, share in part.parts),
            )
            for part in (assessment.acids if "chemistry" in parts else ())
        ),
        can_normalise=(stated is not None and abs(stated - 100) > PERCENT_TOLERANCE)
        or bool(assessment.resolution.on_top),
        drop_school=f"{habits.drops_per_ml:g} drops to the mL"
        + (", your own dropper" if habits.drops == "own" else ", not calibrated"),
    )


def sheet_view(
    assessment: Assessment,
    catalogue: Catalogue,
    name: str,
    blend_id: int | None,
    saved_version: int,
    *,
    archived: bool = False,
    parts: Parts = EVERY_PART,
) -> SheetView:
    """A sheet in the words of the page, as far as its parts are drawn."""
    recipe: Recipe = assessment.recipe
    return SheetView(
        blend_id=blend_id,
        name=name,
        product=recipe.product,
        product_note=catalogue.product(recipe.product).note,
        products=tuple((product.key, product.name) for product in catalogue.products.values()),
        container_kind=recipe.container.kind if recipe.container else "",
        container_ml=say_number(recipe.container.size_ml) if recipe.container else "",
        containers=tuple((kind.key, kind.name) for kind in CONTAINER_KINDS.values()),
        saved_version=saved_version,
        archived=archived,
        reading=reading_view(assessment, catalogue, parts),
    )
