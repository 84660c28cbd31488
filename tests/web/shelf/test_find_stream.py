"""The finder as it goes: answers one by one, their bounds, why there are none, and a search that nobody waits for."""

from __future__ import annotations

import re
from datetime import timedelta
from itertools import pairwise
from threading import Event
from urllib.parse import parse_qs, urlsplit

from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.web.conftest import words

from uptide.core.ingredients.lot import Lot
from uptide.store.shelf import put_lots
from uptide.web.base.security import COOKIE
from uptide.workshop.clock import today

PICTURE = "<svg viewBox"


def shelf_of(app: FastAPI, *oils: str) -> None:
    with app.state.sessions() as store, store.begin():
        put_lots(store, [Lot(f"A-{n}", oil, bought_g=500, left_g=500) for n, oil in enumerate(oils)])


def said(client: TestClient, wish: str) -> list[tuple[str, str]]:
    """The events of a search: their names and what they carry."""
    page = client.get("/shelf/find", params={"wish": wish}).text
    (address,) = re.findall(r'data-from="([^"]*)"', page)
    text = client.get(address.replace("&amp;", "&")).text
    found = []
    for block in text.split("\n\n"):
        lines = [line.partition(": ") for line in block.splitlines()]
        name = next((value for key, _, value in lines if key == "event"), "")
        if name:
            found.append((name, "\n".join(value for key, _, value in lines if key == "data")))
    return found


def test_answers_come_one_by_one_and_then_how_much_better_each_could_be(app: FastAPI, client: TestClient) -> None:
    shelf_of(app, "grapeseed", "jojoba", "sunflower", "squalane", "olive")
    events = said(client, "50 ml, linoleic over 30, keeps 4 months, from my shelf")
    counts = [(page.count("Take it to the bench"), page.count("Shown:")) for name, page in events if name == "answers"]

    assert events[-1][0] == "done"
    answers = counts[-1][0]
    assert answers > 1
    assert counts == [*((n, 0) for n in range(1, answers + 1)), *((answers, n) for n in range(1, answers + 1))]
    last = words(events[-2][1])
    assert "looked for" not in last
    assert re.search(r"Shown: none keeps longer than \d+\.\d months", last)
    assert re.search(r"Shown: none has more than \d+\.\d felt steps to spare in every limit; this has \d+\.\d", last)


def test_what_each_gives_up_is_said_and_stands_on_the_same_axes(app: FastAPI, client: TestClient) -> None:
    shelf_of(app, "grapeseed", "jojoba", "sunflower", "squalane", "olive")
    page = [page for _, page in said(client, "50 ml, linoleic over 30, keeps 4 months, from my shelf")][-2]
    keeps = re.search(r">keeps, months</th>(.*?)</tr>", page, re.S)

    gives_up = re.search(r">Gives up</th>(.*?)</tr>", page, re.S)
    assert keeps is not None
    assert gives_up is not None
    titles = re.findall(r'<th scope="col">([^<]+)</th>', page)
    given = dict(zip(titles, re.findall(r"<td>([^<]*)</td>", gives_up[1]), strict=True))
    assert "keeps" not in given["Keeps longest"]
    assert "feels" not in given["Lightest"]
    assert re.search(r"keeps \d\.\d months less", given["Lightest"])
    values = [float(each) for each in re.findall(r"<(?:b|span)>([\d.]+)</", keeps[1])]
    places = [float(each) for each in re.findall(r'<circle cx="([\d.]+)" cy="6" r="3"', keeps[1])]
    assert places[values.index(max(values))] == 77
    assert places[values.index(min(values))] == 3


def test_where_nothing_fits_the_limits_come_then_what_gives_then_two_against_each_other(
    app: FastAPI, client: TestClient
) -> None:
    shelf_of(app, "grapeseed", "olive")
    wish = "50 ml, linoleic over 55, oleic over 45, from my shelf"
    events = said(client, wish)
    pages = [page for name, page in events if name == "answers"]

    assert "These exclude one another" in pages[0]
    assert PICTURE not in pages[0]
    assert "looked for" not in words(pages[-1])
    gives = re.findall(r'<li>\s*<a href="([^"]*)">or ([^<]*)</a>', pages[-1])
    assert [words.split()[0] for _, words in gives] == ["linoleic", "oleic"]
    points = re.findall(r'aria-label="linoleic ([\d.]+) % of the acids with oleic ([\d.]+) %', pages[-1])
    addresses = re.findall(r'<a href="([^"]*)"\s+aria-label="linoleic', pages[-1])
    assert PICTURE in pages[-1]
    assert len(points) > 2
    linoleic, oleic = ([float(point[place]) for point in points] for place in (0, 1))
    assert linoleic == sorted(linoleic)
    assert oleic == sorted(oleic, reverse=True)
    # Each of them, and each point, is a blend: what gives leads to a wish that has answers.
    for address in (gives[0][0], gives[1][0], addresses[1]):
        assert "Take it to the bench" in client.get(address.replace("&amp;", "&")).text
    asked = parse_qs(urlsplit(addresses[1].replace("&amp;", "&")).query)["wish"][0]
    assert asked.startswith(f"50 ml, linoleic over {linoleic[1]:.2g}")
    # None moves away from under a finger while the others are still worked out.
    point = r'aria-label="(linoleic[^"]*)">.*?cx="([\d.]+)" cy="([\d.]+)" r="16"'
    drawn = [re.findall(point, page, re.S) for page in pages]
    assert len({len(each) for each in drawn}) > 2
    for fewer, more in pairwise(drawn):
        assert set(fewer) <= set(more)


def test_a_date_that_ends_too_soon_gives_way_to_a_fresh_bottle(app: FastAPI, client: TestClient) -> None:
    with app.state.sessions() as store, store.begin():
        soon = today() + timedelta(days=50)
        put_lots(store, [Lot("A-1", "sunflower-high-oleic", bought_g=500, left_g=500, best_before=soon)])
    pages = [page for name, page in said(client, "50 ml, keeps 5 months, from my shelf") if name == "answers"]

    assert "the suppliers' dates of what stands on the shelf; keeps at least 5 months" in words(pages[-1])
    fresh, months = re.findall(r'<li>\s*<a href="([^"]*)">or ([^<]*)</a>', pages[-1])
    assert (fresh[1], months[1]) == ("with fresh bottles", "keeps 1 months")
    answered = client.get(fresh[0].replace("&amp;", "&")).text
    assert "from fresh bottles, whatever the dates on the shelf are" in words(answered)
    assert "Take it to the bench" in answered


def test_a_new_search_of_the_same_browser_ends_the_one_before(app: FastAPI, client: TestClient) -> None:
    """The one before is told to end, and a search that is told so says nothing more."""
    shelf_of(app, "grapeseed", "jojoba")
    client.get("/shelf/find")
    before = Event()
    app.state.searches[client.cookies[COOKIE]] = before
    events = said(client, "50 ml, from my shelf")

    assert before.is_set()
    assert events[-1][0] == "done"
    assert app.state.searches == {}


def test_what_turns_first_is_used_up_first_and_what_is_over_not_at_all(app: FastAPI, client: TestClient) -> None:
    def lot(code: str, oil: str, days: int) -> Lot:
        return Lot(code, oil, bought_g=500, left_g=60, best_before=today() + timedelta(days=days))

    with app.state.sessions() as store, store.begin():
        put_lots(store, [lot("A-1", "almond-sweet", 70), lot("A-2", "argan", 300), lot("A-3", "olive", -5)])
    found = client.post("/api/find", json={"wish": "100 ml, use up what turns first"}).json()
    (answer,) = found["answers"]

    assert "from what stands on the shelf" in found["limits"]
    assert answer["best_at"] == "uses up what turns first"
    (first,) = [float(row.split()[0]) for row in answer["rows"] if "A-1" in row]
    assert 58 <= first <= 60
    assert answer["oils"][0] == "lot:A-1"
    assert "lot:A-3" not in answer["oils"]
    assert answer["bound"]["words"].startswith("Shown: none uses up more than")
    page = client.get("/keeping/use-up").text
    (link,) = re.findall(r'href="([^"]*with\+A-1[^"]*)"', page)
    assert "A-1" in client.get(link.replace("&amp;", "&")).text


def test_a_shelf_of_what_cannot_oxidise_has_an_answer_where_it_may(app: FastAPI, client: TestClient) -> None:
    shelf_of(app, "mct")
    never = client.get("/shelf/find", params={"wish": "50 ml, keeps 6 months, from my shelf", "why": "true"})
    assert never.status_code == 200
    assert "exclude one another" in never.text
    wish = "50 ml, keeps 6 months, from my shelf, at most 100 % inert, steadiest"
    (answer,) = client.post("/api/find", json={"wish": wish}).json()["answers"]
    assert answer["oils"] == ["lot:A-0"]


def test_nothing_is_looked_for_where_something_was_not_understood(client: TestClient) -> None:
    text = client.get("/shelf/find/stream", params={"wish": "light, tingly"}).text

    assert "event: done" in text
    assert "event: answers" not in text
    (said,) = client.post("/api/find", json={"wish": "with 90 % lavender"}).json()["not_understood"]
    assert said["why"] == "90 % cannot come along; up to 20 % can"


def test_a_lot_that_is_over_by_its_age_is_not_used_up(app: FastAPI, client: TestClient) -> None:
    """It has no supplier's date, and by the model it turned long ago: it is tested or thrown out, and in no blend."""
    long_ago = today() - timedelta(days=3 * 365)
    with app.state.sessions() as store, store.begin():
        old = Lot("A-1", "grapeseed", bought_g=500, left_g=500, received_on=long_ago, opened_on=long_ago)
        put_lots(
            store, [old, Lot("A-2", "argan", bought_g=500, left_g=500), Lot("A-3", "olive", bought_g=500, left_g=500)]
        )
    (answer,) = client.post("/api/find", json={"wish": "50 ml, use up what turns first"}).json()["answers"]

    assert "lot:A-1" not in answer["oils"]


def test_lots_that_cannot_hold_are_a_reason_and_typical_ones_the_way_out(app: FastAPI, client: TestClient) -> None:
    """Linoleic of grapeseed is 72 % in a typical lot, and in half of them less."""
    shelf_of(app, "grapeseed", "olive")
    wish = "50 ml, linoleic over 71, from my shelf, for nine lots in ten"
    conflict = client.post("/api/find", json={"wish": wish}).json()["conflict"]

    assert "limits on acids hold for nine lots in ten" in conflict["limits"]
    assert "or for typical lots" in conflict["gives"]
    assert not conflict["is_shown"]
    assert not any("linoleic 7" in give for give in conflict["gives"])  # which would hold for typical lots alone
