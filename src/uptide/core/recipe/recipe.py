"""A recipe: what was typed, what it is for, what it goes into."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from enum import StrEnum

from uptide.core.ingredients.ingredient import Ingredient, LotPast, Phase
from uptide.core.measures.grammar import QuantityKind
from uptide.core.measures.habits import Habits
from uptide.core.measures.lines import Line
from uptide.core.oxidation.surroundings import Storage
from uptide.core.physics.bottle import Container

LITTLE = 2.0  # % of the whole: an open row of no more moves every other share by no more than so much of itself
LONGEST_RECIPE = 120  # rows: more are kept, and not read


@dataclass(frozen=True, slots=True)
class Entry:
    """One row as the person left it: their words, and their answers to what was asked about them."""

    typed: str
    answers: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class IntendedUse:
    """What is said of its use beside the kind of product: whose law, sold or not, first sold when, by night only."""

    region: str = "EU"
    for_sale: bool = False
    placed_on: date | None = None
    night_only: bool = False


@dataclass(frozen=True, slots=True)
class Recipe:
    """Everything a blend's figures follow from; `wearer` is the number of whom it is for, None for anyone.

    `whom` says it in words where nobody's card is meant, as `core.skin.whom` reads them: “a baby”, “pregnancy”.

    `reasons` holds what was written why a stop does not hold here, by its rule. `usual_ml` is what its product usually
    comes in, for rows that fill a container while none is chosen; it belongs to the product and is never stored.
    """

    entries: tuple[Entry, ...]
    product: str = "body-oil"
    container: Container | None = None
    habits: Habits = field(default_factory=Habits)
    storage: Storage = field(default_factory=Storage)
    use: IntendedUse = field(default_factory=IntendedUse)
    wearer: int | None = None
    whom: str = ""
    reasons: Mapping[str, str] = field(default_factory=dict)
    usual_ml: float | None = field(default=None, compare=False)


class RowStatus(StrEnum):
    """How far a row was understood."""

    READ = "read"
    ASKED = "asked"
    UNMEASURED = "unmeasured"
    NOT_UNDERSTOOD = "not_understood"
    COMMENT = "comment"


@dataclass(frozen=True, slots=True)
class Option:
    """One answer to a question: the value to store, the words to show, and what it would weigh where that is known."""

    value: str
    words: str
    weighs: str = ""

    @property
    def label(self) -> str:
        """The words with what it would weigh."""
        return f"{self.words}: {self.weighs}" if self.weighs else self.words


@dataclass(frozen=True, slots=True)
class Question:
    """Something a row left open; `key` is where the answer is kept, `about` the words that leave it open.

    `usual` is the option that is the trade's commonest, where there is one. A row may be read by an option until
    somebody answers: that is `assumed`, and `because` says why. `others` are then the options that it may be as well.
    """

    key: str
    text: str
    options: tuple[Option, ...]
    about: str = ""
    usual: str = ""
    assumed: str = ""
    because: str = ""
    others: tuple[str, ...] = ()

    @property
    def same(self) -> tuple[str, str, str]:
        """What makes the questions of two rows one, whatever amounts their options would give."""
        return self.key, self.about, self.assumed

    def words_of(self, value: str) -> str:
        """The words of an option, without what it would weigh in this row."""
        return next((option.words for option in self.options if option.value == value), value)


@dataclass(frozen=True, slots=True)
class Row:
    """One row as understood: masses in g, volumes in mL, shares in percent of the whole.

    Figures are None unless status is READ. `remark` says how something was read, `reason` why it was not. Of a row
    that was read, `questions` are those that were answered by assuming.
    """

    index: int
    typed: str
    status: RowStatus
    line: Line
    ingredient: Ingredient | None = None
    kind: QuantityKind | None = None
    grams: float | None = None
    grams_low: float | None = None
    grams_high: float | None = None
    millilitres: float | None = None
    percent_mass: float | None = None
    percent_volume: float | None = None
    remark: str = ""
    reason: str = ""
    questions: tuple[Question, ...] = ()
    past: LotPast | None = None
    is_past_longest: bool = False  # one of more rows than are read
    plant: str = ""  # what it is infused with, in a person's words
    is_on_top: bool = False  # it comes on top of percents that make a whole by themselves

    @property
    def phase(self) -> Phase | None:
        """The part it plays; None for a row without ingredient."""
        return self.ingredient.phase if self.ingredient else None


@dataclass(frozen=True, slots=True)
class Resolution:
    """A recipe weighed: its rows and what is to be said about the whole.

    `stated_percent` is the sum of percents when a recipe is stated in nothing else, so that it should be 100.
    `container` is what it was filled into, and is assumed where rows fill one and none was chosen.
    """

    rows: tuple[Row, ...]
    total_grams: float
    total_millilitres: float
    stated_percent: float | None = None
    container: Container | None = None
    is_container_assumed: bool = False

    @property
    def read(self) -> tuple[Row, ...]:
        """The rows that count."""
        return tuple(row for row in self.rows if row.status is RowStatus.READ)

    @property
    def parts(self) -> tuple[tuple[Row, Ingredient], ...]:
        """What is in it: the rows that count, with every mixture unfolded into what it was made of."""
        return tuple(part for row in self.read if row.ingredient for part in _unfold(row, row.ingredient))

    @property
    def on_top(self) -> tuple[Row, ...]:
        """The rows that come on top of percents that make a whole by themselves."""
        return tuple(row for row in self.read if row.is_on_top)

    @property
    def unmeasured(self) -> tuple[tuple[Row, Ingredient], ...]:
        """What is in it and nobody knows how much of: rows that name their thing and do not count, unfolded."""
        rows = [row for row in self.rows if row.status is not RowStatus.READ]
        return tuple(part for row in rows if row.ingredient for part in _unfold(row, row.ingredient))

    @property
    def pourable(self) -> tuple[tuple[Ingredient, float], ...]:
        """All of it as something to be poured from [g]: each with the plant that its row says was steeped in it.

        What nobody measured goes along without an amount: an allergen stays an allergen.
        """
        whole = (*self.parts, *self.unmeasured)
        return tuple(
            (replace(item, infused_with=row.plant) if row.plant else item, row.grams or 0.0) for row, item in whole
        )

    @property
    def unsettled(self) -> tuple[Row, ...]:
        """The rows of which nobody knows yet what they name; comments are none."""
        silent = (RowStatus.READ, RowStatus.COMMENT)
        return tuple(row for row in self.rows if row.status not in silent and row.ingredient is None)

    @property
    def not_for_good(self) -> tuple[Row, ...]:
        """The rows that nobody has settled: those that are not understood, and those that are read by assuming."""
        return tuple(
            row for row in self.rows if row in self.unsettled or (row.status is RowStatus.READ and row.questions)
        )

    @property
    def waiting(self) -> tuple[Row, ...]:
        """The open rows that may be a large part of the whole: until they are settled no share of it is known."""
        silent = (RowStatus.READ, RowStatus.COMMENT, RowStatus.UNMEASURED)
        return tuple(row for row in self.rows if row.status not in silent and _may_weigh(row))


def _may_weigh(row: Row) -> bool:
    """Whether an open row may weigh much: an oil or something unknown of any amount; drops do not.

    Words without amount or name may be a heading; “a splash” of what is no oil counts by its presence.
    """
    quantity = row.line.quantity
    if row.is_past_longest:
        return True
    if quantity is None:
        return row.status is RowStatus.ASKED or (row.ingredient is not None and row.ingredient.is_fatty)
    if quantity.kind is QuantityKind.VAGUE:
        return quantity.unit != "drop" and (row.ingredient is None or row.ingredient.is_fatty)
    if quantity.kind is QuantityKind.PERCENT and all(term.high <= LITTLE for term in quantity.terms):
        return False
    if quantity.kind is QuantityKind.MEASURE and (not any(t.high for t in quantity.terms)):
        return False
    return quantity.kind is not QuantityKind.MEASURE or any(term.unit != "drop" for term in quantity.terms)


def _unfold(row: Row, item: Ingredient) -> list[tuple[Row, Ingredient]]:
    if not item.parts:
        return [(replace(row, plant=row.plant or item.infused_with) if item.infused_with else row, item)]
    found = []
    for part, share in item.parts:
        grams = (row.grams or 0.0) * share
        found.append(
            (
                replace(
                    row,
                    ingredient=part,
                    grams=grams,
                    grams_low=(row.grams_low or 0.0) * share,
                    grams_high=(row.grams_high or 0.0) * share,
                    millilitres=grams / part.density,
                    percent_mass=(row.percent_mass or 0.0) * share,
                    percent_volume=(row.percent_volume or 0.0) * share * item.density / part.density,
                    plant=row.plant or part.infused_with,
                    past=part.past if row.past is None or row.past is item.past else row.past.after(part.past),
                ),
                part,
            )
        )
    return found
