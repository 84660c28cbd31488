"""The small pictures: marks of verdicts, the narrow ribbon, a blend among all oils, and what turns first."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from fastapi.testclient import TestClient
from tests.conftest import Weigh
from tests.web.conftest import token, words

from uptide.catalogue.catalogue import Catalogue
from uptide.core.keeping.board import Kind, Thing
from uptide.core.months import months_between
from uptide.web.drawing.chart import HEIGHT, WIDTH, blend_on_chart
from uptide.web.drawing.ribbon import NARROW_MARGIN, NARROW_WIDTH, RIM, draw_ribbon
from uptide.web.drawing.turning import MONTHS, MOST_LINES, NAMES, RIGHT, draw_turning
from uptide.web.drawing.turning import WIDTH as LINE_WIDTH
from uptide.web.views.verdicts import EDGE, verdict_views
from uptide.web.views.verdicts import WIDTH as MARK_WIDTH
from uptide.workshop.clock import today

TODAY = date(2026, 11, 26)
PLAIN = "60 ml grapeseed\n20 ml jojoba\n10 drops lavender"


def test_a_mark_stands_inside_its_range_and_inside_its_band(weigh: Weigh, catalogue: Catalogue) -> None:
    views = {view.figure.key: view for view in verdict_views(weigh(PLAIN), catalogue)}

    feel = views["feel"].mark
    assert feel is not None
    assert feel.band is not None
    assert EDGE <= feel.band[0] <= feel.at <= feel.band[1] <= MARK_WIDTH - EDGE
    clog = views["comedogenicity"].mark
    assert clog is not None
    assert clog.at == pytest.approx(EDGE + (MARK_WIDTH - 2 * EDGE) * 2 / 5)  # jojoba: 2 of 5
    assert views["cost"].mark is None
    assert views["cost"].word == "unknown"


def test_what_is_past_the_end_of_a_range_stands_at_its_end(weigh: Weigh, catalogue: Catalogue) -> None:
    over = verdict_views(weigh("10 ml jojoba\n3 g bergamot expressed"), catalogue)
    sun = next(view for view in over if view.figure.key == "phototoxicity")

    assert sun.mark is not None
    assert sun.mark.at == MARK_WIDTH - EDGE
    assert sun.mark.limit == pytest.approx(EDGE + (MARK_WIDTH - 2 * EDGE) / 1.25)


def test_the_narrow_ribbon_is_as_long_as_its_acids(weigh: Weigh) -> None:
    ribbon = draw_ribbon(weigh(PLAIN).acids, narrow=True)

    assert ribbon is not None
    assert sum(segment.width for segment in ribbon.segments) == pytest.approx(NARROW_WIDTH, abs=0.5)
    assert ribbon.width == NARROW_MARGIN + NARROW_WIDTH + RIM == 400
    assert [label for _, label in ribbon.ticks] == ["0", "20", "40", "60", "80", "100"]


def test_a_blend_lies_among_all_oils_and_names_its_own(weigh: Weigh, catalogue: Catalogue) -> None:
    shown = blend_on_chart(weigh(PLAIN).acids, catalogue)

    assert shown is not None
    assert len(shown.dots) > 60
    assert {label.words for label in shown.own} == {"Grapeseed", "Jojoba"}
    xs, ys = sorted(label.x for label in shown.own), sorted(label.y for label in shown.own)
    assert xs[0] <= shown.reach.x <= xs[1]
    assert ys[0] <= shown.reach.y <= ys[1]
    assert all(0 <= x <= WIDTH and 0 <= y <= HEIGHT for x, y in shown.dots)
    assert blend_on_chart((), catalogue) is None


def thing(code: str, days: int | None, turns: int | None = None) -> tuple[Thing, str]:
    ends = None if days is None else TODAY + timedelta(days=days)
    turned = None if turns is None else TODAY + timedelta(days=turns)
    return Thing(Kind.LOT, code, "Jojoba", ends_on=ends, turns_on=turned), f"/shelf/lots/{code}"


def test_what_turns_first_stands_on_top_and_as_long_as_it_keeps() -> None:
    things = [
        thing("OVER", 200, -1),
        thing("DOUBT", -3, 30),
        thing("MID", 100),
        thing("LATE", 900),
        thing("NONE", None),
    ]
    picture = draw_turning(things, TODAY)

    assert picture is not None
    assert [life.code for life in picture.lives] == ["OVER", "DOUBT", "MID", "LATE"]
    assert [life.state for life in picture.lives] == ["over", "doubt", "keeps", "keeps"]
    assert [life.words for life in picture.lives[:2]] == ["over", "test it"]
    scale = (LINE_WIDTH - NAMES - RIGHT) / MONTHS
    mid = picture.lives[2]
    assert mid.end == pytest.approx(NAMES + scale * months_between(TODAY, TODAY + timedelta(days=100)))
    assert [life.runs_on for life in picture.lives] == [False, False, False, True]
    assert draw_turning([], TODAY) is None


def test_no_more_things_are_drawn_than_can_be_read() -> None:
    picture = draw_turning([thing(f"L{i}", 10 * i) for i in range(1, 40)], TODAY)

    assert picture is not None
    assert [life.code for life in picture.lives] == [f"L{i}" for i in range(1, MOST_LINES + 1)]


def test_the_start_page_says_what_wants_doing(client: TestClient) -> None:
    soon = (today() + timedelta(days=5)).isoformat()
    lot = {"ingredient": "jojoba", "code": "A-1", "bought_g": "90", "left_g": "90", "best_before": soon}
    assert client.post("/shelf/lots", data=lot | {"token": token(client, "/shelf/lots/new")}).status_code == 200
    page = words(client.get("/").text)

    assert "Use up: Jojoba oil (liquid wax), lot A-1" in page
    assert "What turns first" in page
    assert "A-1: Jojoba oil (liquid wax)" in page
