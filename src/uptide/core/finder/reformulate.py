"""A blend made over for somebody: what to swap, lessen or leave out so that what stops it is gone, and why.

Nothing is guessed at: every change is tried, and kept only when the whole check finds less against the blend than
before. What cannot be changed in the bottle (a procedure, an age) is left standing and named.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from datetime import date

from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import UptideError
from uptide.core.figures.oil_profile import is_linoleic, oil_profile
from uptide.core.finder.aims import OF_ALLERGY, OF_OLEIC, Aim
from uptide.core.finder.substitutes import LIKE_ENOUGH, how_far, scent_likeness
from uptide.core.finder.substitutes import changes as oil_changes
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.measures.names import NameIndex
from uptide.core.recipe.edit import set_share, swap
from uptide.core.recipe.recipe import Entry, Recipe, Row
from uptide.core.safety.caution import Caution, Grade
from uptide.core.safety.person import judge
from uptide.core.safety.tables import SafetyTables
from uptide.core.skin.verdicts import COMEDOGENIC_FROM, UNSUITED, suits_skin
from uptide.core.skin.wearer import Wearer
from uptide.core.tolerance import exceeds, reaches

MOST_STEPS = 24  # changes to one blend before it is left as it is
TRIED = 14  # oils that are tried in the place of one
EFFECTS = 3  # of a change, the plainest, are said
DEARER = 0.5  # steps in use for each level of price above that of what it stands in for; policy
SMALL_PART = 30.0  # % of a blend: less of what is more makes another blend of it; policy
LOWERED = (0.75, 0.5, 0.33, 0.2, 0.1)  # of a share: what less of it is tried
ON_HAND_BONUS = 0.4  # steps in use, or of likeness: what is open on the shelf goes first among near ones; policy
# Passed by how much there is and not by what it is: less of it clears them.
OF_AMOUNT = frozenset({"oil-over", "constituent-over", "sun-over", "salicylate-law", "methyl-eugenol-law",
                       "safrole-law", "isoeugenol-law", "retinol-law", "neat"})  # fmt: skip
GENTLE_COMEDOGENICITY = 2.0  # rating up to which an oil is taken in for oily skin; common practice
MILD_COMEDOGENICITY = 3.0  # rating up to which less of an oil is tried before something else; common practice


@dataclass(frozen=True, slots=True)
class Pantry:
    """What may be taken instead, how it is called, which of it is on hand, and what is known of scents."""

    ingredients: Mapping[str, Ingredient]
    names: NameIndex
    tables: SafetyTables
    today: date
    on_hand: Mapping[str, tuple[tuple[str, float], ...]] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Change:
    """One changed row: before, after (empty: left out), why, and what changes with it."""

    index: int
    before: str
    after: str
    why: str
    effects: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Variant:
    """A blend made over: the recipe, its changes, both assessments for the aim, what cleared and what is left."""

    aim: Aim
    recipe: Recipe
    changes: tuple[Change, ...]
    before: Assessment
    after: Assessment

    @property
    def cleared(self) -> tuple[Caution, ...]:
        """Stops and warnings that are gone."""
        still = {caution.rule for caution in self.after.cautions}
        return tuple(c for c in self.before.cautions if c.grade is not Grade.NOTE and c.rule not in still)

    @property
    def left(self) -> tuple[Caution, ...]:
        """Stops that still hold."""
        return tuple(c for c in self.after.cautions if c.grade is Grade.STOP and not c.is_answered)


Look = Callable[[Recipe, Wearer], Assessment]


def reformulate(aim: Aim, recipe: Recipe, wearer: Wearer, pantry: Pantry, look: Look) -> Variant:
    """Make a blend over for an aim.

    Args:
        aim: one of AIMS.
        recipe: as it stands.
        wearer: whom it is for; the aim adds to what is known of them.
        pantry: what may be taken instead.
        look: assesses a recipe for a wearer; it is asked for every change that is tried.
    """
    worker = _Worker(aim, aim.dress(wearer), pantry, look)
    before = look(recipe, worker.wearer)
    state = _State(recipe, before)
    found: list[Change] = []
    for _ in range(MOST_STEPS):
        step = next(worker.steps(state), None)
        if step is None:
            break
        state, changes = step
        found += changes
    return Variant(
        aim,
        _remarks_as_typed(state.recipe, recipe),
        changes=tuple(_merged(found, before, state.assessment)),
        before=before,
        after=state.assessment,
    )


def _merged(found: list[Change], before: Assessment, after: Assessment) -> Iterator[Change]:
    """One change a row: from what stood there at first to what stands there now, with every reason."""
    for first, last in zip(before.rows, after.rows, strict=True):
        own = [change for change in found if change.index == first.index]
        if own and own[-1].after != first.typed:
            why = " ".join(dict.fromkeys(change.why for change in own))
            now = last.ingredient
            name = (
                (now.name,)
                if now and own[-1].after and now.name not in own[-1].after and now is not first.ingredient
                else ()
            )
            effects = (*name, *_effects(first.ingredient, now))
            yield Change(first.index, first.typed, after=own[-1].after, why=why, effects=effects)


def _effects(before: Ingredient | None, after: Ingredient | None) -> tuple[str, ...]:
    """What the change of a row's contents brings, in words."""
    if before is None or after is None:
        return ()
    if before.key == after.key:
        return ("less of it",)
    if not before.is_fatty:
        return ()
    dearer = ("dearer",) if _price_level(after) > _price_level(before) else ()
    return (*oil_changes(oil_profile(before), oil_profile(after))[:EFFECTS], *dearer)


def _price_level(item: Ingredient) -> int:
    """How dear it is, 1 to 4; what nobody has put in a class is taken for a usual oil."""
    return item.use.price_level if item.use is not None else 2


@dataclass(frozen=True, slots=True)
class _State:
    recipe: Recipe
    assessment: Assessment


_Step = tuple[_State, tuple[Change, ...]]


@dataclass(frozen=True, slots=True)
class _Worker:
    """Finds the next change that makes a blend better for an aim."""

    aim: Aim
    wearer: Wearer
    pantry: Pantry
    look: Look

    def steps(self, state: _State) -> Iterator[_Step]:
        """Changes that help, the most needed first; each is worked out only when it is asked for."""
        if self.aim.no_scent:
            yield from self._without(state, lambda item: item.phase is Phase.SCENT, "Sensitive skin goes unscented.")
        if self.aim.no_sun:
            yield from self._out_of_the_sun(state)
        yield from self._against_cautions(state)
        if not self.aim.only:
            yield from self._against_dose(state)
        if self.aim.skin:
            yield from self._for_skin(state)

    def badness(self, assessment: Assessment) -> int:
        """How many stops hold, and warnings that are to go."""
        return sum(1 + len(caution.names) for caution in assessment.cautions if self._counts(caution))

    def _counts(self, caution: Caution) -> bool:
        """Whether a caution is to go: a stop, or a warning of the aim; what is unknown is asked, not swapped away."""
        holds = caution.grade is Grade.STOP and not caution.is_answered
        return holds or (caution.rule in self.aim.warnings and not caution.is_unknown)

    def _against_cautions(self, state: _State) -> Iterator[_Step]:
        worst = self.badness(state.assessment)
        for caution in state.assessment.cautions:
            if not self._counts(caution) or caution.rule == "scent-over":
                continue  # too much scent in all is answered by the dose below
            if self.aim.only and caution.rule not in self.aim.only:
                continue  # what else stops it is left standing, and named
            for row, item in _guilty(state.assessment, caution):
                why = f"{item.name}: {caution.message}"
                for changed in self._remedies(state, row, item, caution):
                    after = self.look(changed, self.wearer)
                    if self.badness(after) < worst:
                        yield _State(changed, after), (_change(state.recipe, changed, row, why),)
                        break

    def _remedies(self, state: _State, row: Row, item: Ingredient, caution: Caution) -> Iterator[Recipe]:
        """What could be done about one row, the mildest first: less of it, something else, nothing."""
        if caution.rule in OF_AMOUNT and row.percent_mass:
            for factor in LOWERED:
                changed = self._less(state.recipe, row, row.percent_mass * factor)
                if changed is not None:
                    yield changed
        fitting: Callable[[Ingredient], bool] | None = is_linoleic if caution.rule in OF_OLEIC else None
        if caution.rule in OF_ALLERGY:
            fitting = _brings_no_allergen
        for other in self._instead(state, row, item, fitting):
            yield swap(state.recipe, row.index, other)
        yield _left_out(state.recipe, row)

    def _less(self, recipe: Recipe, row: Row, percent: float) -> Recipe | None:
        try:
            return set_share(recipe, row.index, percent, self.pantry.ingredients, self.pantry.names)
        except UptideError:
            return None

    def _instead(
        self, state: _State, row: Row, item: Ingredient, fitting: Callable[[Ingredient], bool] | None = None
    ) -> Iterator[Ingredient]:
        """What could stand in for a thing, the likest first; what is on hand goes first among near ones.

        Nothing that brings an allergen which was not there, nothing of which nobody said what it brings, nothing
        that is never so great a share of a blend, and nothing that is in it already.
        """
        own = oil_profile(item)
        there = {part.base_key for _, part in state.assessment.resolution.parts}
        rivals = [
            other
            for other in self.pantry.ingredients.values()
            if not other.lot
            and other.base_key not in there
            and (brought := oil_profile(other).allergens) is not None
            and brought <= (own.allergens or frozenset())
            and (other.use is None or other.use.high >= (row.percent_mass or 0.0))
            and (fitting is None or fitting(other))
            and self._is_for_the_wearer(other)
        ]
        ranked: list[tuple[float, Ingredient]] = []
        if item.phase is Phase.SCENT:
            ranked = [
                (-likeness - self._bonus(other), other)
                for other in rivals
                if reaches(likeness := scent_likeness(self.pantry.tables, item, other), LIKE_ENOUGH)
            ]
        elif item.is_fatty:
            ranked = [
                (distance + DEARER * max(0, _price_level(other) - _price_level(item)) - self._bonus(other), other)
                for other in rivals
                if other.is_fatty and (distance := how_far(own, oil_profile(other))) is not None
            ]
        elif item.protects:
            ranked = [(-self._bonus(other), other) for other in rivals if other.protects]
        for _, other in sorted(ranked, key=lambda pair: pair[0])[:TRIED]:
            yield other

    def _is_for_the_wearer(self, item: Ingredient) -> bool:
        """Whether nothing stops it or warns of it for whom the blend is made over, and nothing of that is in doubt."""
        judged = judge(item, self.wearer, self.pantry.tables, self.pantry.today)
        return judged.grade in (None, Grade.NOTE) and not judged.doubts

    def _bonus(self, item: Ingredient) -> float:
        return ON_HAND_BONUS if item.key in self.pantry.on_hand else 0.0

    def _against_dose(self, state: _State) -> Iterator[_Step]:
        """Lessen every scent alike to what is suggested; drops are whole, so the smallest may have to go."""
        dose = state.assessment.safety.dose if state.assessment.safety else None
        if dose is None or not dose.is_over:
            return
        why = f"Too much scent: {dose.most:g} % is the most here, {dose.suggested:g} % is suggested."
        recipe, changes = state.recipe, []
        for row, item in state.assessment.resolution.parts:
            if item.phase is not Phase.SCENT or row.ingredient is not state.assessment.rows[row.index].ingredient:
                continue
            wanted = (row.percent_mass or 0.0) * dose.suggested / dose.total
            changed = self._less(recipe, row, wanted) if wanted > 0 else None
            if changed is None or changed.entries[row.index].typed == recipe.entries[row.index].typed:
                changed = _left_out(recipe, row)
            changes.append(_change(recipe, changed, row, why))
            recipe = changed
        if changes:
            yield _State(recipe, self.look(recipe, self.wearer)), tuple(changes)

    def _without(self, state: _State, unwanted: Callable[[Ingredient], bool], why: str) -> Iterator[_Step]:
        for row, item in state.assessment.resolution.parts:
            if unwanted(item):
                changed = _left_out(state.recipe, row)
                yield self._step(state, changed, row, why)

    def _step(self, state: _State, changed: Recipe, row: Row, why: str) -> _Step:
        after = self.look(changed, self.wearer)
        return _State(changed, after), (_change(state.recipe, changed, row, why),)

    def _out_of_the_sun(self, state: _State) -> Iterator[_Step]:
        """Swap what burns in the sun for what does not: the same plant distilled comes first, being likest."""
        phototoxicity = state.assessment.safety.phototoxicity if state.assessment.safety else None
        burning = (
            {each.part.item.key for each in phototoxicity.parts} | {part.item.key for part in phototoxicity.unsure}
            if phototoxicity
            else set()
        )
        scents = self.pantry.tables.scents
        for row, item in state.assessment.resolution.parts:
            if item.key not in burning:
                continue
            why = f"{item.name} burns in the sun."
            for other in self._instead(
                state, row, item, lambda i: i.base_key in scents and scents[i.base_key].phototoxic == "no"
            ):
                step = self._step(state, swap(state.recipe, row.index, other), row, why)
                if self.badness(step[0].assessment) <= self.badness(state.assessment):
                    yield step
                    break
            else:
                yield self._step(state, _left_out(state.recipe, row), row, why)

    def _for_skin(self, state: _State) -> Iterator[_Step]:
        """Swap the oils that suit a skin least, the greatest first, for near ones that do."""
        if self._is_for_skin(state.assessment):
            return
        rows = [(r, i) for r, i in state.assessment.resolution.parts if i.is_fatty and r.ingredient is i]
        # What was lowered to a trace is dropped only where nothing else is left to change.
        for row, item in sorted(rows, key=lambda pair: (_is_trace(pair[0]), -(pair[0].percent_mass or 0.0))):
            if self._suits(item):
                continue
            why = f"{item.name} is {UNSUITED[self.aim.skin]} for {self.aim.skin} skin."
            if (lowered := self._lowered(state, row, item, why)) is not None:
                yield lowered
                continue
            for other in self._instead(state, row, item, self._suits):
                step = self._step(state, swap(state.recipe, row.index, other), row, why)
                if self.badness(step[0].assessment) <= self.badness(state.assessment):
                    yield step
                    break

    def _lowered(self, state: _State, row: Row, item: Ingredient, why: str) -> _Step | None:
        """Less of an oil that clogs a little, down to a trace: it was put in for something."""
        rating, share = oil_profile(item).comedogenicity, row.percent_mass or 0.0
        is_mild = (
            rating is not None and exceeds(rating, GENTLE_COMEDOGENICITY) and not exceeds(rating, MILD_COMEDOGENICITY)
        )
        if not is_mild or _is_trace(row) or exceeds(share, SMALL_PART):
            return None
        for factor in LOWERED:
            changed = self._less(state.recipe, row, share * factor)
            if changed is not None:
                step = self._step(state, changed, row, why)
                after = step[0].assessment
                if _is_trace(after.rows[row.index]) and self.badness(after) <= self.badness(state.assessment):
                    return step
        return None

    def _is_for_skin(self, assessment: Assessment) -> bool:
        """Whether a blend suits the skin of the aim; for oily skin it must be gentle on pores too."""
        on, rating = assessment.on_skin, assessment.finding("comedogenicity").value
        calm = self.aim.skin != "oily" or (rating is not None and not exceeds(rating, GENTLE_COMEDOGENICITY))
        return calm and on is not None and on.is_advised(self.wearer, assessment.finding("scent_share").value or 0.0)

    def _suits(self, item: Ingredient) -> bool:
        """Whether an oil may be taken in for the skin of the aim; for oily skin it must be gentle on pores too."""
        comedogenicity = oil_profile(item).comedogenicity
        gentle = self.aim.skin != "oily" or (
            comedogenicity is not None and not exceeds(comedogenicity, GENTLE_COMEDOGENICITY)
        )
        return gentle and suits_skin(item, self.aim.skin) is True


def _is_trace(row: Row) -> bool:
    """Whether the school of the worst ingredient looks at none of it."""
    return not reaches(row.percent_mass or 0.0, COMEDOGENIC_FROM)


def _brings_no_allergen(item: Ingredient) -> bool:
    return oil_profile(item).allergens == frozenset()


def _guilty(assessment: Assessment, caution: Caution) -> list[tuple[Row, Ingredient]]:
    """The rows that a caution is about, the greatest share first; a mixture counts as the row it stands in."""
    found: dict[int, tuple[Row, Ingredient]] = {}
    for row, item in (*assessment.resolution.parts, *assessment.resolution.unmeasured):
        if item.name in caution.names and row.index not in found:
            whole = assessment.rows[row.index]
            found[row.index] = (whole, whole.ingredient or item)
    return sorted(found.values(), key=lambda pair: -(pair[0].percent_mass or 0.0))


def _left_out(recipe: Recipe, row: Row) -> Recipe:
    """The recipe without a row's contents; the line stays as a remark, so that nothing typed is lost."""
    entries = list(recipe.entries)
    entries[row.index] = Entry(f"# {entries[row.index].typed}", entries[row.index].answers)
    return replace(recipe, entries=tuple(entries))


def _remarks_as_typed(recipe: Recipe, first: Recipe) -> Recipe:
    """A row that was lessened before it was left out is remembered as it was typed at first."""
    entries = tuple(
        Entry(f"# {before.typed}", before.answers)
        if after.typed.startswith("#") and not before.typed.startswith("#")
        else after
        for before, after in zip(first.entries, recipe.entries, strict=True)
    )
    return replace(recipe, entries=entries)


def _change(before: Recipe, after: Recipe, row: Row, why: str) -> Change:
    now = after.entries[row.index].typed
    tidy = re.sub(r"\s+", " ", why).strip()
    return Change(row.index, before.entries[row.index].typed, "" if now.startswith("#") else now, tidy)
