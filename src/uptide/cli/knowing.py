"""What a question on the command line is answered with: the shipped catalogue, or one's own workshop.

Heavy imports stand inside, so that `--help` answers at once.
"""

from __future__ import annotations

from contextlib import contextmanager
from dataclasses import dataclass
from typing import TYPE_CHECKING

from uptide.core.errors import UptideError

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Mapping, Sequence

    from sqlalchemy.orm import Session

    from uptide.catalogue.catalogue import Catalogue
    from uptide.core.assessment.assessment import Assessment
    from uptide.core.finder.known import Known
    from uptide.core.measures.habits import Habits
    from uptide.core.measures.quick import QuickAnswer
    from uptide.core.recipe.recipe import Recipe
    from uptide.core.skin.wearer import Wearer


@dataclass(frozen=True)
class Knowing:
    """What a question is answered with: what can stand in a row, how a person measures, and whom they know."""

    facts: Catalogue
    habits: Habits
    people: Mapping[str, Wearer]  # by name, in small letters
    assess: Callable[[Recipe, Wearer, Mapping[str, str]], Assessment]
    on_board: Callable[[str], Sequence[str] | None] = lambda _: None  # what stands, where that is asked for
    of_blend: Callable[[str, Known], QuickAnswer | None] = lambda *_: None  # what is asked of a blend by its name
    rate_shift: float = 0.0  # ln rate that their bottles taught


@contextmanager
def known_things(*, mine: bool) -> Iterator[Knowing]:
    """The catalogue as it is shipped, or what a person’s own database adds to it; nothing is changed there."""
    if mine:
        with _workshop() as known:
            yield known
        return
    from uptide.catalogue.shipped import shipped_catalogue
    from uptide.core.assessment.assess import assess as work_out
    from uptide.core.measures.habits import Habits
    from uptide.core.oxidation.simulate import standard_draws
    from uptide.workshop.clock import today

    facts = shipped_catalogue()

    def assess_plain(recipe: Recipe, wearer: Wearer, texts: Mapping[str, str]) -> Assessment:
        usage = facts.usage_context(recipe, today(), wearer, texts)
        return work_out(recipe, facts.ingredients, facts.names, draws=standard_draws(), usage=usage)

    yield Knowing(facts, Habits(), {}, assess_plain)


@contextmanager
def _workshop() -> Iterator[Knowing]:
    from sqlalchemy.orm import Session

    from uptide.catalogue.shipped import shipped_catalogue
    from uptide.cli.settings import read_settings
    from uptide.store.database import file_of, open_engine
    from uptide.store.migrating import migrate
    from uptide.store.people import wearers
    from uptide.store.preferences import carried_over, load_habits
    from uptide.workshop.assessment import assess_here
    from uptide.workshop.clock import today
    from uptide.workshop.shelf import stock_of

    settings = read_settings()
    database = settings.database
    path = file_of(database)
    if path is not None and not path.exists():
        raise UptideError(f"There is no database at {path} yet: `uptide serve` makes it.")
    migrate(database, settings.backup_folder)
    engine = open_engine(database)
    try:
        with Session(engine) as store:
            facts = stock_of(shipped_catalogue(), store, today())
            people = {wearer.name.casefold(): wearer for wearer in wearers(store)}
            yield Knowing(
                facts,
                load_habits(store),
                people=people,
                assess=lambda recipe, wearer, texts: assess_here(recipe, facts, store, texts=texts, wearer=wearer),
                on_board=lambda question: _on_board(question, store),
                of_blend=lambda question, known: _of_blend(question, store, facts, known),
                rate_shift=carried_over(store, None),
            )
    finally:
        engine.dispose()


def _of_blend(question: str, store: Session, facts: Catalogue, known: Known) -> QuickAnswer | None:
    """What is asked of a blend by its name; None where no blend is."""
    from uptide.workshop.asked_blends import of_own_blend

    found = of_own_blend(question, store, facts, known)
    return found.answer if found is not None else None


def _on_board(question: str, store: Session) -> Sequence[str] | None:
    """What of the board a question asks for, a line each; None for a question of something else."""
    from uptide.catalogue.shipped import shipped_catalogue
    from uptide.core.keeping.board import read_board_words
    from uptide.web.views.things import thing_until, thing_what
    from uptide.workshop.board import board_of
    from uptide.workshop.clock import today
    from uptide.workshop.shelf import ShelfOfTheDay

    shown = read_board_words(question, today())
    if shown is None:
        return None
    things = board_of(store, ShelfOfTheDay(shipped_catalogue()).of(store), shown).things
    return [f"{each.name}, {thing_what(each)}: {thing_until(each, today())}" for each in things] or ["Nothing."]
