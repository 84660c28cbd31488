"""The pictures: what stands where, and that nothing lies on anything else."""

from __future__ import annotations

import re
from datetime import date
from itertools import pairwise

import numpy as np
import pytest
from tests.conftest import Weigh

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.assessment.assess import assess
from uptide.core.keeping.bottle import BottleNote
from uptide.core.keeping.storage_history import history_of
from uptide.core.oxidation.simulate import make_draws
from uptide.core.physics.bottle import CONTAINER_KINDS, Container
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.web.drawing.bottle import LABEL_GAP, draw_bottle
from uptide.web.drawing.ribbon import MARGIN, RIBBON_WIDTH, draw_ribbon
from uptide.web.drawing.tide import TideView, event_words, tide_view

TODAY = date(2026, 11, 24)
SIX = "2 tbsp grapeseed\n1 tbsp jojoba\n1 tsp castor\n12 drops lavender\n5 drops neroli\n1% mixed tocopherols"


def test_the_ribbon_is_as_long_as_its_acids_and_has_no_gaps(weigh: Weigh) -> None:
    ribbon = draw_ribbon(weigh(SIX).acids)
    assert ribbon is not None

    assert ribbon.segments[0].x == MARGIN
    assert sum(segment.width for segment in ribbon.segments) == pytest.approx(RIBBON_WIDTH)
    for left, right in pairwise(ribbon.segments):
        assert right.x == pytest.approx(left.x + left.width)
    assert [segment.depth for segment in ribbon.segments] == sorted(segment.depth for segment in ribbon.segments)


def test_each_oil_s_strip_lies_under_its_part_of_each_acid(weigh: Weigh) -> None:
    ribbon = draw_ribbon(weigh(SIX).acids)
    assert ribbon is not None
    pieces = sorted(piece for strip in ribbon.strips for piece in strip.pieces)

    # The strips together cover the band once: side by side, without holes.
    assert sum(width for _, width, _ in pieces) == pytest.approx(RIBBON_WIDTH)
    for (x, width, _), (following, _, _) in pairwise(pieces):
        assert following == pytest.approx(x + width, abs=1e-6)
    assert sum(strip.percent for strip in ribbon.strips) == pytest.approx(100)
    assert [strip.percent for strip in ribbon.strips] == sorted((s.percent for s in ribbon.strips), reverse=True)


def test_unusual_acids_are_hatched_and_every_segment_says_what_it_is(weigh: Weigh) -> None:
    ribbon = draw_ribbon(weigh("50 g castor\n50 g pomegranate").acids)
    assert ribbon is not None
    hatched = {segment.code for segment in ribbon.segments if segment.hatched}

    assert {"18:1-OH", "18:3-PUN"} <= hatched
    assert "18:2n6" not in hatched
    assert all(segment.name in segment.title and "%" in segment.title for segment in ribbon.segments)


def test_there_is_no_ribbon_without_fatty_acids(weigh: Weigh) -> None:
    assert draw_ribbon(weigh("50 g squalane").acids) is None


@pytest.mark.parametrize("kind", CONTAINER_KINDS)
@pytest.mark.parametrize("size", [5.0, 30.0, 250.0])
def test_a_bottle_of_every_kind_is_drawn_inside_its_picture(kind: str, size: float) -> None:
    catalogue = shipped_catalogue()
    recipe = Recipe(
        tuple(Entry(row) for row in ["1/2 bottle jojoba", "1/4 bottle castor"]), container=Container(kind, size)
    )
    bottle = draw_bottle(assess(recipe, catalogue.ingredients, catalogue.names).bottle)
    assert bottle is not None

    numbers = [float(number) for number in re.findall(r"-?[\d.]+", bottle.outline)]
    assert all(0 <= x <= bottle.width for x in numbers[::2])
    assert all(0 <= y <= bottle.height for y in numbers[1::2])
    # Three quarters full: the upper layer ends a quarter of the body below the shoulder.
    base = bottle.graduations[0][0]
    assert base - bottle.layers[-1].y == pytest.approx(0.75 * (base - bottle.shoulder_y), rel=1e-6)
    assert bottle.layers[0].y == pytest.approx(bottle.layers[1].y + bottle.layers[1].height)


def test_labels_of_thin_pours_do_not_lie_on_one_another(weigh: Weigh) -> None:
    bottle = draw_bottle(weigh("\n".join(["45 g jojoba", *(f"{n} drops neroli" for n in range(1, 8))]), ml=60).bottle)
    assert bottle is not None

    for lower, upper in pairwise(bottle.layers):
        assert lower.label_y - upper.label_y >= LABEL_GAP - 1e-6


def test_too_much_is_said_on_the_picture(weigh: Weigh) -> None:
    bottle = draw_bottle(weigh("3 tbsp jojoba", ml=30).bottle)
    assert bottle is not None

    assert bottle.warning == "14.4 mL past the shoulder"


def test_a_recipe_without_a_container_is_drawn_in_the_smallest_usual_one_that_holds_it_and_says_so(
    weigh: Weigh,
) -> None:
    bottle = draw_bottle(weigh("3 tbsp jojoba").bottle)  # 44.4 mL
    assert bottle is not None

    assert bottle.caption.startswith("No size is given; drawn as a 50 mL pump bottle")
    assert bottle.warning == ""
    full = draw_bottle(weigh("30 ml jojoba").bottle)
    assert full is not None
    assert "drawn as a 30 mL pump bottle" in full.caption
    assert draw_bottle(weigh("jojoba").bottle) is None


def tide(*events: BottleNote, text: str = "2 tbsp rosehip") -> TideView:
    catalogue = shipped_catalogue()
    recipe = Recipe(tuple(Entry(row) for row in text.splitlines()))
    assessment = assess(
        recipe,
        catalogue.ingredients,
        catalogue.names,
        draws=make_draws(np.random.default_rng(7), 300),
        history=history_of(events, recipe.storage, TODAY),
    )
    found = tide_view(assessment, events, TODAY)
    assert found is not None
    return found


def points(text: str) -> list[tuple[float, float]]:
    return [(float(x), float(y)) for x, y in (pair.split(",") for pair in text.split())]


def test_the_tide_rises_from_left_to_right_inside_its_frame() -> None:
    view = tide()
    line = points(view.line)

    assert [x for x, _ in line] == sorted(x for x, _ in line)
    assert [y for _, y in line] == sorted((y for _, y in line), reverse=True)  # up is less, on a screen
    assert all(view.left <= x <= view.width and view.top <= y <= view.floor for x, y in points(view.band))
    assert view.promise_x is not None
    assert view.left < view.promise_x < view.width


def test_readings_are_drawn_where_they_were_read_and_notes_keep_apart() -> None:
    view = tide(
        BottleNote(1, date(2026, 9, 1), "made", {}),
        BottleNote(2, date(2026, 9, 3), "opened", {}),
        BottleNote(3, date(2026, 10, 1), "strip", {"low": 2.0, "high": 5.0}),
        BottleNote(4, date(2026, 11, 1), "smell", {"off": False}),
    )
    made, opened, strip, smell = view.marks

    assert made.x == view.left
    assert made.x < opened.x < strip.x < smell.x
    assert made.label_y != opened.label_y  # two days apart: their words would lie on one another
    assert strip.top is not None
    assert strip.bottom is not None
    assert strip.top < strip.bottom
    assert strip.label == ""
    assert "2 to 5 meq/kg" in strip.words
    assert smell.label == "fine"


def test_a_note_from_before_the_making_is_listed_and_not_drawn() -> None:
    view = tide(BottleNote(1, date(2026, 5, 1), "smell", {"off": False}), BottleNote(2, date(2026, 9, 1), "made", {}))

    assert len(view.marks) == 1
    assert event_words(BottleNote(1, date(2026, 5, 1), "smell", {"off": False}), TODAY) == "smelled fine"


def test_a_blend_outside_the_model_has_words_and_no_line() -> None:
    view = tide(text="50 g jojoba\n10 g aloe gel")

    assert view.line == ""
    assert view.until == ""
    assert "without water" in view.reason
