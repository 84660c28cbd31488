"""What an open reading is taken for until somebody answers: always said on the row, and one tap changes it.

In this order: a habit (which leaves nothing open), what was answered the last time, what the rest of the recipe says,
what stands on the shelf, and what is commonest in the trade (common practice). Whatever none of them settles is asked.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.measures.grammar import QuantityKind
from uptide.core.measures.habits import Habits
from uptide.core.measures.names import NameIndex
from uptide.core.measures.units import UNITS, Dimension
from uptide.core.recipe.naming import NONE_OF_THESE
from uptide.core.recipe.reading import BARE_UNITS, PART, SPOON_CHOICES, Draft, read_row
from uptide.core.recipe.recipe import Entry, Question, Recipe, Resolution, RowStatus

MOST_OTHERS = 12  # readings beside the assumed ones that a recipe is worked out with; further rows are asked about
MOST_PARTS = 12.0  # numbers alone up to here are parts
ROUNDS = 3  # a row can be open by its name, then by its unit

AS_WEIGHED, AS_MEASURED = "as the other rows are weighed", "as the other rows are measured by volume"
AS_BEFORE = "as you answered before"
AS_USUAL, ON_SHELF = "as is usual", "it stands on your shelf"


@dataclass(frozen=True, slots=True)
class OpenReading:
    """One thing that a recipe leaves open, in one row or in several that leave open the same."""

    rows: tuple[int, ...]
    question: Question

    @property
    def about(self) -> str:
        """The words that leave it open."""
        about = self.question.about or "a number alone"
        return UNITS[about].singular if about in UNITS else about

    @property
    def taken(self) -> str:
        """What it is read as, in words."""
        return self.words(self.question.assumed)

    def words(self, value: str) -> str:
        """An option in words."""
        words = self.question.words_of(value)
        return f"{words[:1].lower()}{words[1:]}"


def assume(
    drafts: Sequence[Draft], recipe: Recipe, ingredients: Mapping[str, Ingredient], names: NameIndex
) -> list[Draft]:
    """Read the rows that ask something by what is likeliest; those for which nothing is likeliest stay as they are."""
    if not any(draft.row.questions for draft in drafts):
        return list(drafts)
    shelf = {item.base_key for item in ingredients.values() if item.lot}
    counted: set[tuple[str, str, str]] = set()
    found = list(drafts)
    for place, draft in enumerate(drafts):
        if draft.row.status is not RowStatus.ASKED:
            continue
        settled = _settled(draft, drafts, recipe, (ingredients, names), shelf)
        if settled is None:
            continue
        new = {(q.key, q.about, other) for q in settled.row.questions for other in q.others}
        if len(counted | new) <= MOST_OTHERS:
            counted |= new
            found[place] = settled
    return found


def _settled(
    draft: Draft,
    drafts: Sequence[Draft],
    recipe: Recipe,
    known: tuple[Mapping[str, Ingredient], NameIndex],
    shelf: set[str],
) -> Draft | None:
    """A row read by what is likeliest for each thing it asks; None where that leaves something to ask."""
    entry = recipe.entries[draft.row.index]
    answers, assumed = dict(entry.answers), []
    for _ in range(ROUNDS):
        question = next((q for q in draft.row.questions if q.key not in answers), None)
        if question is None:
            return None
        taken = _likeliest(question, draft, drafts, shelf, recipe.habits)
        if taken is None:
            return None
        assumed.append(taken)
        answers[taken.key] = taken.assumed
        draft = read_row(draft.row.index, Entry(entry.typed, answers), recipe, *known)
        if draft.row.status is RowStatus.READ:
            return replace(draft, row=replace(draft.row, questions=tuple(assumed)))
    return None


def _likeliest(
    question: Question, draft: Draft, drafts: Sequence[Draft], shelf: set[str], habits: Habits
) -> Question | None:
    if question.key == "name":
        plain = _likeliest_name(question, shelf)
    else:
        rest = [each for each in drafts if each is not draft]
        choose = {"oz": _ounces, "spoon": _spoon, "uk_tbsp": _british, "": _bare}[question.about]
        plain = choose(question, draft, rest)
    return _as_before(question, plain, habits.answered(question.key, question.about))


def _as_before(question: Question, plain: Question | None, before: str) -> Question | None:
    """What was answered last goes first; what would be likeliest without that, and all it might be then, stays open.

    A unit that nothing makes likely (a spoon of scent) is asked again all the same: one answer is no rule for it.
    """
    if before not in {option.value for option in question.options} - {NONE_OF_THESE}:
        return plain
    if plain is None and question.key != "name":
        return None
    named = [option.value for option in question.options if option.value != NONE_OF_THESE]
    might_be = (plain.assumed, *plain.others) if plain is not None else named
    others = tuple(value for value in might_be if value != before)
    return replace(question, assumed=before, because=AS_BEFORE, others=others)


def _british(question: Question, _: Draft, __: Sequence[Draft]) -> Question:
    """A British tablespoon as it is sold; books from before the seventies mean another."""
    return replace(question, assumed="tbsp_15", because=AS_USUAL, others=("tbsp_18",))


def _likeliest_name(question: Question, shelf: set[str]) -> Question | None:
    """Only among things of one kind that bear the name: the one of which a lot is at hand, else the usual one."""
    if not question.usual:
        return None
    meant = [option.value for option in question.options if option.value != NONE_OF_THESE]
    at_hand = [key for key in meant if key in shelf]
    taken, because = (at_hand[0], ON_SHELF) if len(at_hand) == 1 else (question.usual, AS_USUAL)
    others = tuple(key for key in meant if key != taken)
    return replace(question, assumed=taken, because=because, others=others)


def _ounces(question: Question, _: Draft, rest: Sequence[Draft]) -> Question:
    """By volume, unless the recipe is weighed: by its other units, or because a solid in it is counted in ounces."""
    said = {UNITS[unit].dimension for unit in _units(rest)}
    solid = any("oz" in _units([each]) and each.ingredient is not None and each.ingredient.is_solid for each in rest)
    weighed, measured = Dimension.MASS in said or solid, Dimension.VOLUME in said
    if weighed and not measured:
        return replace(question, assumed="oz_weight", because=AS_WEIGHED, others=("fl_oz",))
    return replace(question, assumed="fl_oz", because=AS_MEASURED if measured else AS_USUAL, others=("oz_weight",))


def _spoon(question: Question, draft: Draft, rest: Sequence[Draft]) -> Question | None:
    """The spoon of the other rows, else a tablespoon of oil; no spoon of scent is taken for granted."""
    item = draft.ingredient
    if item is None or item.phase is Phase.SCENT:
        return None
    said = Counter(unit for unit in _units(rest) if unit in SPOON_CHOICES)
    taken = said.most_common(1)[0][0] if said else "tbsp" if item.is_fatty and not item.is_solid else "tsp"
    others = tuple(unit for unit in SPOON_CHOICES if unit != taken)
    return replace(question, assumed=taken, because="as in the other rows" if said else AS_USUAL, others=others)


def _bare(question: Question, draft: Draft, rest: Sequence[Draft]) -> Question | None:
    """A scent by drops; else the unit of the other rows; of small numbers alone parts, of large ones millilitres.

    What it may be as well are the other units of the recipe: nobody means a cup where the rest is in grams.
    """
    if draft.ingredient is None:
        return None
    said = Counter(unit for unit in _units(rest) if unit in BARE_UNITS and unit != "drop")
    alone = [each.row.line.quantity for each in (draft, *rest) if _is_part(each)]
    counts = [quantity.terms[0].high for quantity in alone if quantity is not None]
    if draft.ingredient.phase is Phase.SCENT:
        taken, because = "drop", "as scents are counted"
    elif said:
        taken, because = said.most_common(1)[0][0], "as in the other rows"
    elif len(counts) > 1 and max(counts) <= MOST_PARTS:
        taken, because = PART, "as the other rows are numbers too"
    else:
        taken, because = "ml", AS_USUAL
    return replace(question, assumed=taken, because=because, others=tuple(unit for unit in said if unit != taken))


def _is_part(draft: Draft) -> bool:
    """Whether a row is a number alone, of something that is poured."""
    quantity, item = draft.row.line.quantity, draft.ingredient
    bare = quantity is not None and quantity.kind is QuantityKind.BARE
    return bare and item is not None and item.phase is not Phase.SCENT


def _units(drafts: Sequence[Draft]) -> list[str]:
    """The units in which rows are stated, as typed."""
    read = [draft.row.line.quantity for draft in drafts]
    return [term.unit for quantity in read if quantity is not None for term in quantity.terms if term.unit]


def open_readings(resolution: Resolution) -> tuple[OpenReading, ...]:
    """What a recipe leaves open and is read by an assumption, each once, in the order of the rows."""
    grouped: dict[tuple[str, str, str], list[int]] = {}
    asked: dict[tuple[str, str, str], Question] = {}
    for row in resolution.rows:
        for question in row.questions if row.status is RowStatus.READ else ():
            same = question.same
            grouped.setdefault(same, []).append(row.index)
            asked.setdefault(same, question)
    return tuple(OpenReading(tuple(rows), asked[same]) for same, rows in grouped.items())


def read_as(recipe: Recipe, reading: OpenReading, value: str) -> Recipe:
    """The recipe with one open thing answered, in all rows that leave it open."""
    entries = list(recipe.entries)
    for index in reading.rows:
        entries[index] = replace(entries[index], answers={**entries[index].answers, reading.question.key: value})
    return replace(recipe, entries=tuple(entries))


def other_readings(resolution: Resolution) -> Iterator[tuple[OpenReading, str]]:
    """Each open thing with each of the other options that it may be."""
    for reading in open_readings(resolution):
        for value in reading.question.others:
            yield reading, value
