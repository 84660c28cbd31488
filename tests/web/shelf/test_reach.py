"""Where the oils reach: the outline holds what blends are, and a target leads to a blend that is there."""

from __future__ import annotations

import random
import re
from dataclasses import replace
from urllib.parse import parse_qs, urlsplit

import numpy as np
import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.core.finder.wishes import DRAWS, FACTS, limits, table
from tests.web.conftest import saved, words

from uptide.core.arrays import Array
from uptide.core.errors import UnknownKeyError
from uptide.core.figures.oil_profile import oil_profile
from uptide.core.finder.chart import OilChart
from uptide.core.finder.search.charted import nearest
from uptide.core.finder.search.reach import PAIRED, Plane
from uptide.core.finder.search.search import dive_for
from uptide.core.finder.search.wish import Wish
from uptide.core.ingredients.lot import Lot
from uptide.store.shelf import put_lots
from uptide.web.drawing.hull import hull

OILS = ("grapeseed", "jojoba", "olive", "castor", "almond-sweet")


def within(corners: list[tuple[float, float]], x: float, y: float, slack: float) -> bool:
    """Whether a point lies in a convex polygon whose corners go round to the left, or a little beyond its sides."""
    sides = zip(corners, [*corners[1:], corners[0]], strict=True)
    return all(
        ((b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0])) / (np.hypot(b[0] - a[0], b[1] - a[1]) + 1e-12)
        >= -slack
        for a, b in sides
    )


@pytest.mark.parametrize("pair", [("linoleic", "feel"), ("cost", "iodine")])
def test_no_blend_that_keeps_the_rows_lies_outside(pair: tuple[str, str]) -> None:
    """Random blends of the same oils, judged by the same rows, beside the outline that was solved for."""
    wish, oils = Wish(limits("feel <= 3.4;inert <= 30"), most=5, least=0.02), table()
    plane, dive = Plane(wish, oils, DRAWS, pair), dive_for(wish, oils, DRAWS)
    assert dive is not None
    corners = hull(plane.outline())
    drawn, tried = random.Random(5), 0  # noqa: S311 - blends, no secrets
    for _ in range(400):
        shares = np.zeros(len(oils))
        places = drawn.sample(range(len(oils)), 3)
        shares[places] = [drawn.random() + 0.05 for _ in places]
        shares /= shares.sum()
        if (dive.program.rows.all_of @ shares >= 0).all() and (shares <= dive.program.rows.most).all():
            tried += 1
            assert within(corners, *plane.of(shares), slack=0.004 * float(np.ptp(corners, axis=0).max()))
    assert tried > 40


def test_a_figure_that_cannot_be_drawn_is_said() -> None:
    with pytest.raises(UnknownKeyError, match="“clog” cannot be drawn"):
        Plane(Wish(), table(), DRAWS, ("clog", "feel"))
    assert len(PAIRED) == 12


def shelf_of(app: FastAPI) -> None:
    with app.state.sessions() as store, store.begin():
        put_lots(store, [Lot(f"A-{n}", oil, bought_g=500, left_g=500) for n, oil in enumerate(OILS)])


def test_a_target_that_is_pointed_at_leads_to_a_blend_that_is_there(app: FastAPI, client: TestClient) -> None:
    shelf_of(app)
    page = client.get("/shelf/reach").text
    (here,) = re.findall(r'data-here="([^"]*)"', page)
    corners = [tuple(map(float, each.split(","))) for each in re.findall(r'points="([^"]*)"', page)[0].split()]
    across, down = np.mean(corners, axis=0)
    found = client.get(f"{here.replace('&amp;', '&')}&px={across}&py={down}")
    wish = parse_qs(urlsplit(str(found.url)).query)["wish"][0]
    bounds = re.search(
        r"linoleic over ([\d.]+), linoleic under ([\d.]+), feel over ([\d.]+), feel under ([\d.]+)", wish
    )

    assert bounds is not None
    low, high, least, most = map(float, bounds.groups())
    assert high - low == pytest.approx(5)
    assert most - least == pytest.approx(0.4)
    assert "Take it to the bench" in found.text
    typed = client.get("/shelf/reach", params={"wish": wish, "to_one": "30", "to_other": "2,5"})
    assert parse_qs(urlsplit(str(typed.url)).query)["wish"] == [
        "from my shelf, linoleic over 27.5, linoleic under 32.5, feel over 2.3, feel under 2.7"
    ]


def test_a_blend_of_ones_own_lies_where_its_figures_are(app: FastAPI, client: TestClient) -> None:
    shelf_of(app)
    saved(client, name="Dune oil", new="30 g jojoba\n30 g grapeseed")
    page = client.get("/shelf/reach", params={"blend": 1}).text

    assert "Dune oil" in words(page)
    assert client.get("/shelf/reach", params={"blend": 99}).status_code == 404
    assert client.get("/shelf/reach", params={"one": "clog"}).status_code == 404
    assert "No blend of these oils keeps" in words(client.get("/shelf/reach", params={"wish": "linoleic over 99"}).text)
    assert "was not understood" in words(client.get("/shelf/reach", params={"wish": "tingly"}).text)


def test_an_empty_shelf_shows_what_all_oils_reach(client: TestClient) -> None:
    page = client.get("/shelf/reach").text

    assert "where nothing is said, “with fresh bottles”" in words(page)
    assert 'class="outline"' in page
    assert "No blend of these oils keeps" in words(client.get("/shelf/reach", params={"wish": "from my shelf"}).text)


def test_a_place_on_the_chart_leads_to_the_nearest_blend(app: FastAPI, client: TestClient) -> None:
    """Between two dots of the picture lies a blend of the two; where none reaches, the nearest is asked for."""
    shelf_of(app)
    page = client.get("/shelf/chart").text
    spots = {
        key: (float(x), float(y))
        for key, x, y in re.findall(r'id="at-([\w-]+)".*?cx="([\d.]+)" cy="([\d.]+)"', page, re.DOTALL)
    }
    x, y = ((spots["grapeseed"][axis] + 2 * spots["olive"][axis]) / 3 for axis in (0, 1))
    (aim,) = re.findall(r'data-aim="([^"]*)"', page)
    found = client.get(aim, params={"px": x, "py": y})
    wish = parse_qs(urlsplit(str(found.url)).query)["wish"][0]
    across, upward = (float(bound) - 2 for bound in re.findall(r" the chart under ([\d.]+)", wish))
    ways = [sorted(spot[axis] for spot in spots.values()) for axis in (0, 1)]

    assert wish.startswith("from my shelf, across the chart over")
    assert across == pytest.approx(100 * (x - ways[0][0]) / (ways[0][-1] - ways[0][0]), abs=0.1)
    assert upward == pytest.approx(100 * (ways[1][-1] - y) / (ways[1][-1] - ways[1][0]), abs=0.1)
    assert "Take it to the bench" in found.text
    for odd in (1e9, "inf", "nan"):
        assert client.get(aim, params={"px": odd, "py": odd}).url.path == "/shelf/find"
        assert client.get("/shelf/reach", params={"px": odd, "py": odd}).status_code in (200, 400, 422)


@pytest.mark.parametrize(("asked", "enough"), [("clear >= 18", 300), ("keeps >= 8", 40)])
def test_the_nearest_blend_is_nearer_than_any_other_of_the_same_oils(asked: str, enough: int) -> None:
    wish, oils = Wish(limits(f"inert <= 20;{asked}"), most=3), table()
    wish = replace(wish, chart=OilChart([oil_profile(item).shares for item in oils.items], FACTS.acids))
    dive, place = dive_for(wish, oils, DRAWS), (60.0, 20.0)
    assert dive is not None
    found = nearest(wish, oils, DRAWS, place)
    assert found is not None
    assert wish.chart is not None
    places = np.array([wish.chart.percent(wish.chart.place(oil_profile(item).shares)) for item in oils.items])

    def away(shares: Array) -> float:
        held = shares * oils.acids["all"]
        return float(np.abs(held @ places / held.sum() - place).max())

    drawn, tried = random.Random(7), 0  # noqa: S311 - blends, no secrets
    for _ in range(3000):
        shares = np.zeros(len(oils))
        some = drawn.sample(range(len(oils)), 3)
        shares[some] = [drawn.random() + 0.05 for _ in some]
        shares /= shares.sum()
        rows = dive.program.rows
        if (rows.all_of @ shares >= 0).all() and (shares <= rows.most).all() and dive.holds(shares):
            tried += 1
            assert away(found) <= away(shares) + 1e-6
    assert tried > enough
    assert 1 < away(found) < 40
    assert dive.holds(found)


def test_an_oil_s_place_is_asked_for_without_it(app: FastAPI, client: TestClient) -> None:
    shelf_of(app)
    found = client.get("/shelf/chart/aim", params={"oil": "argan"})
    wish = parse_qs(urlsplit(str(found.url)).query)["wish"][0]

    assert "without Argan oil" in wish
    assert "was not understood" not in found.text
    assert client.get("/shelf/chart/aim", params={"oil": "nobody"}).status_code == 404
