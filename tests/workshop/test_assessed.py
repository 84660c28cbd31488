"""Another look at the same blend is not worked out again; at anything else it is."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from dataclasses import replace
from datetime import UTC, date, datetime
from pathlib import Path

import pytest
from sqlalchemy.orm import Session, sessionmaker

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assessment import Assessment
from uptide.core.ingredients.lot import Lot
from uptide.core.keeping.shelf_life import StorageHistory
from uptide.core.oxidation.surroundings import Storage
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.skin.wearer import ALLERGIES, ANYONE, Ticks, Wearer
from uptide.store.database import open_engine
from uptide.store.migrating import migrate
from uptide.store.preferences import keep_learnt
from uptide.store.shelf import put_lots
from uptide.workshop import assessment, clock
from uptide.workshop.assessed import Asked, Assessed
from uptide.workshop.assessment import ASSESSED, assess_here
from uptide.workshop.shelf import ShelfOfTheDay

ALMOND = Recipe((Entry("30 g almond"), Entry("20 g jojoba")))
INES = Wearer("Ines", allergies=Ticks.answered(ALLERGIES, "tree_nut"))


@pytest.fixture
def known() -> Assessed:
    return Assessed()


@pytest.fixture
def store(tmp_path: Path, known: Assessed) -> Iterator[Session]:
    url = f"sqlite:///{tmp_path / 'here.sqlite'}"
    migrate(url)
    with sessionmaker(open_engine(url), info={ASSESSED: known})() as session:
        yield session


def test_the_same_blend_is_worked_out_once(store: Session, known: Assessed) -> None:
    facts = shipped_catalogue()
    first = assess_here(ALMOND, facts, store, texts={"name": "Evening"})
    again = assess_here(Recipe(tuple(ALMOND.entries)), facts, store, texts={"name": "Evening"})
    assert again is first
    assert len(known) == 1


def test_whatever_it_follows_from_makes_it_another(store: Session, monkeypatch: pytest.MonkeyPatch) -> None:
    facts = shipped_catalogue()

    def look(recipe: Recipe = ALMOND, wearer: Wearer | None = None, name: str = "") -> Assessment:
        return assess_here(recipe, facts, store, texts={"name": name}, wearer=wearer)

    def months(found: Assessment) -> float:
        assert found.shelf_life is not None
        assert found.shelf_life.months is not None
        return found.shelf_life.months

    plain = look()
    assert "Ines" not in {caution.who for caution in plain.cautions}
    assert "Ines" in {caution.who for caution in look(wearer=INES).cautions}  # a nut, for her
    assert look(name="Cures eczema").cautions != plain.cautions
    warm = look(replace(ALMOND, storage=Storage(celsius=(30.0,) * 12)))
    assert months(warm) < months(plain)
    keep_learnt(store, 1, 0.7)  # a bottle here turned sooner than it should
    assert months(look()) < months(plain)
    monkeypatch.setattr(clock, "wall_clock", lambda: datetime(2031, 5, 1, 12, tzinfo=UTC))
    assert look().day == date(2031, 5, 1)


def test_a_shelf_that_changed_is_another_catalogue(store: Session) -> None:
    shelf, alone = ShelfOfTheDay(shipped_catalogue()), Recipe((Entry("30 g almond"),))
    before = assess_here(alone, shelf.of(store).facts, store)
    put_lots(store, [Lot("A-1", "almond-sweet", bought_g=500, left_g=500, price=10.0, currency="EUR")])
    after = assess_here(alone, shelf.of(store).facts, store)
    assert before.finding("cost").value is None
    assert after.finding("cost").value == pytest.approx(30 / 500 * 10)


def test_what_befell_a_bottle_is_stored_with_it_and_not_here(store: Session, known: Assessed) -> None:
    assess_here(ALMOND, shipped_catalogue(), store, bottle=1)
    assert len(known) == 0


def test_what_failed_is_tried_again(store: Session, monkeypatch: pytest.MonkeyPatch) -> None:
    facts = shipped_catalogue()
    with monkeypatch.context() as broken:
        broken.setattr(assessment, "assess", lambda *_, **__: 1 / 0)
        assert not assess_here(ALMOND, facts, store).resolution.parts
    assert assess_here(ALMOND, facts, store).resolution.parts


def _asked(grams: int, facts: Catalogue) -> Asked:
    recipe = Recipe((Entry(f"{grams} g olive"),))
    return Asked(recipe, facts.usage_context(recipe, clock.today(), ANYONE), StorageHistory())


def test_what_nobody_asked_for_longest_makes_room(store: Session) -> None:
    facts, known = shipped_catalogue(), Assessed(room=3)
    made = {grams: assess_here(ALMOND, facts, store, texts={"note": str(grams)}) for grams in (1, 2, 3, 4)}
    for grams in (1, 2, 3):
        known.keep(facts, _asked(grams, facts), made[grams])
    assert known.find(facts, _asked(1, facts)) is made[1]  # the oldest, asked for once more
    known.keep(facts, _asked(4, facts), made[4])
    assert known.find(facts, _asked(2, facts)) is None
    assert [known.find(facts, _asked(grams, facts)) for grams in (1, 3, 4)] == [made[1], made[3], made[4]]
    known.forget()
    assert known.find(facts, _asked(1, facts)) is None


def test_a_catalogue_is_not_kept_for_what_was_worked_out_by_it(store: Session, known: Assessed) -> None:
    here = replace(shipped_catalogue())
    gone = assess_here(ALMOND, here, store)
    asked = Asked(ALMOND, here.usage_context(ALMOND, clock.today()), StorageHistory())
    alike = Assessed()
    alike.keep(here, asked, gone)
    del here
    gc.collect()
    assert all(catalogue() is None for catalogue, _, _ in alike._found)
