"""A jar is begun from its plan, followed by notes, and ends; nothing typed is lost and nothing is deleted."""

from __future__ import annotations

import re
from datetime import date, timedelta

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from sqlalchemy import text
from tests.web.conftest import field, token, words

from uptide.core.months import say_day
from uptide.store.jars import list_jars
from uptide.workshop.clock import today


def begin(client: TestClient, **changes: str) -> str:
    """Begin a jar ten days ago; return its address."""
    plain = {"plant": "yarrow", "grams": "40", "jar_ml": "700", "begun_on": (today() - timedelta(days=10)).isoformat()}
    form = plain | {"token": token(client, "/steeping")} | changes
    return client.post("/steeping/jars", data=form, follow_redirects=False).headers["location"].split("?")[0]


def note(client: TestClient, jar: str, **fields: str) -> str:
    return client.post(f"{jar}/notes", data={"token": token(client, jar), **fields}).text


def test_a_jar_is_begun_followed_and_strained(client: TestClient) -> None:
    jar = begin(client)
    assert "Yarrow in sunflower oil (high oleic)" in words(client.get("/steeping").text)
    page = words(client.get(jar).text)
    assert "day 10" in page
    assert "Top it up with" in page
    assert "Yarrow in sunflower oil (high oleic), day 10" in words(client.get("/").text)

    assert "the level had sunk" in note(client, jar, kind="topped up", grams="50", words="the level had sunk")
    assert "Top it up with" not in words(client.get(jar).text)
    note(client, jar, kind="looked at", on=today().isoformat())
    note(client, jar, kind="smell", on=today().isoformat())
    note(client, jar, kind="shaken", on=today().isoformat())
    assert "Nothing today." in words(client.get(jar).text)
    assert "Strained on" in words(note(client, jar, kind="strained", grams="300"))
    assert "Nothing: it has ended." in words(client.get(jar).text)
    assert "day 10:" not in words(client.get("/").text)


def test_mould_is_a_stop_and_stands_on_the_start_page(client: TestClient) -> None:
    jar = begin(client, name="By the stove")
    assert "Bin all of it" in note(client, jar, kind="mould")
    assert "By the stove, day 10" in words(client.get("/").text)
    assert "Bin all of it" in words(client.get("/").text)

    binned = words(note(client, jar, kind="binned", words="fuzz at the rim"))
    assert "fuzz at the rim" in binned
    assert "By the stove, day 10" not in words(client.get("/").text)


def test_a_note_is_taken_out_and_stays_stored(client: TestClient, app: FastAPI) -> None:
    jar = begin(client)
    page = note(client, jar, kind="smells sour")
    target = re.search(r'action="(/steeping/jars/\d+/notes/\d+/remove)"', page)
    assert target is not None

    assert "Take out:" in page
    assert "Take out:" not in client.post(target[1], data={"token": token(client, jar)}).text
    with app.state.sessions() as session:
        assert list_jars(session)[0].notes == ()
        assert session.execute(text("SELECT count(*) FROM jar_note")).scalar() == 1
    other = client.post(target[1].replace("/notes/", "/notes/9"), data={"token": token(client, jar)})
    assert (other.status_code, "has no note" in other.text) == (400, True)


@pytest.mark.parametrize(
    ("fields", "place", "why"),
    [
        ({"kind": "strained"}, "grams", "needs its grams"),
        ({"kind": "weighed open", "grams": "a lot"}, "grams", "is not a weight in grams"),
        ({"on": (date.today() + timedelta(days=3)).isoformat()}, "on", "is no day"),  # noqa: DTZ011 - any day will do
        ({"on": "2001-01-01"}, "on", "is no day"),
        ({"kind": "danced with"}, "kind", "cannot be noted"),
    ],
)
def test_a_note_that_cannot_be_stands_as_it_was_typed(
    client: TestClient, fields: dict[str, str], place: str, why: str
) -> None:
    jar = begin(client)
    page = note(client, jar, **({"words": "seen by Bo"} | fields))

    assert why in words(page)
    assert f'id="error-{place}"' in page
    assert field(page, "words") == "seen by Bo"


@pytest.mark.parametrize(
    ("changes", "why"),
    [({"grams": "lots"}, "is not a weight in grams"), ({"begun_on": "2999-01-01"}, "one of the last ten years")],
)
def test_a_jar_that_cannot_be_begun_says_why_and_keeps_the_plan(
    client: TestClient, changes: dict[str, str], why: str
) -> None:
    form = {"plant": "rose", "jar_ml": "650", "token": token(client, "/steeping")} | changes
    answer = client.post("/steeping/jars", data=form)

    assert answer.status_code == 422
    assert why in words(answer.text)
    assert (field(answer.text, "plant"), field(answer.text, "jar_ml")) == ("rose", "650")


def test_a_double_tap_begins_one_jar(client: TestClient, app: FastAPI) -> None:
    form = {"plant": "rose", "grams": "20", "jar_ml": "700", "token": token(client, "/steeping")}
    places = {client.post("/steeping/jars", data=form, follow_redirects=False).headers["location"] for _ in range(2)}

    assert len(places) == 1
    with app.state.sessions() as session:
        assert len(list_jars(session)) == 1


@pytest.mark.parametrize(
    "asked",
    [
        "{}",
        "[]",
        '{"plant": "no such plant"}',
        '{"plant": "rose", "oil": "gone", "state": "dried"}',
        '{"plant": "rose", "oil": "olive", "state": "dried", "method": "dark-shelf", "jar_ml": "wide", "fill": 0.5}',
    ],
)
def test_whatever_is_stored_of_a_jar_it_opens(client: TestClient, app: FastAPI, asked: str) -> None:
    jar = begin(client)
    note(client, jar, kind="looked at", words="clear")
    with app.state.sessions() as session, session.begin():
        session.execute(text("UPDATE jar SET asked = :asked"), {"asked": asked})

    page = client.get(jar)
    assert page.status_code == 200
    assert "can be read no more" in words(page.text)
    assert "clear" in words(page.text)
    assert client.get("/steeping").status_code == client.get("/").status_code == 200


def test_a_jar_that_is_none_is_a_page_a_person_understands(client: TestClient) -> None:
    assert client.get("/steeping/jars/99").status_code == 404


def test_a_note_of_a_kind_that_is_known_no_more_is_shown_as_it_was_typed(client: TestClient, app: FastAPI) -> None:
    jar = begin(client)
    note(client, jar, kind="looked at", words="clear as day")
    with app.state.sessions() as session, session.begin():
        session.execute(text("UPDATE jar_note SET kind = 'sung to'"))

    page = words(client.get(jar).text)
    assert "sung to: clear as day" in page
    assert "counts for nothing" in page


def test_the_jar_begun_last_stands_on_top(client: TestClient) -> None:
    for name, days in (("The new one", 2), ("The later one of that day", 2), ("The old one", 9)):
        begin(client, name=name, begun_on=(today() - timedelta(days=days)).isoformat())

    page = words(client.get("/steeping").text)
    places = [page.index(name) for name in ("The later one of that day", "The new one", "The old one")]
    assert places == sorted(places)


def test_the_days_are_a_picture_and_a_calendar(client: TestClient) -> None:
    jar = begin(client, name="By the stove")
    page = client.get(jar).text
    assert "Missed: a look on" in words(page)
    assert "Shaken on 0 of 9 days" in words(page)
    assert page.count('class="mark missed"') == 2  # two looks; nobody notes every shake
    assert 'class="mark gap"' in page

    one, all_of_them = client.get(f"{jar}.ics"), client.get("/steeping/jars.ics")
    assert one.headers["content-type"].startswith("text/calendar")
    assert "SUMMARY:Strain it: By the stove" in one.text
    assert "SUMMARY:Strain it: By the stove" in all_of_them.text
    note(client, jar, kind="binned")
    assert "By the stove" not in client.get("/steeping/jars.ics").text
    assert client.get("/steeping/jars/999.ics").status_code == 404


def test_what_is_due_is_noted_by_one_tap(client: TestClient) -> None:
    jar = begin(client)
    page = client.get(jar).text
    forms = re.findall(rf'action="{jar}/notes">.*?</form>', page, re.DOTALL)
    taps = [
        dict(re.findall(r'name="(\w+)"\s+value="([^"]*)"', form))
        for form in forms
        if re.search("Done: |All well: ", form)
    ]

    assert [tap["kind"] for tap in taps] == ["topped up", "shaken", "looked at", "smell"]
    for tap in taps:
        client.post(f"{jar}/notes", data=tap | {"token": token(client, jar)})
    assert "Nothing today." in words(client.get(jar).text)


def test_a_season_of_top_ups_asks_for_more_plant_and_takes_its_grams(client: TestClient) -> None:
    jar = begin(client, method="topped-up")
    page = client.get(jar).text
    assert "Add what has opened since, and oil over it" in words(page)
    assert re.search(r'Grams of it\s*<input[^>]*name="grams"[^>]*required', page)

    assert "more plant added, 12 g" in words(note(client, jar, kind="more plant added", grams="12"))
    assert "Add what has opened since" not in words(client.get(jar).text)


def test_water_that_must_leave_stands_on_the_line_until_a_weighing_shows_it_gone(client: TestClient) -> None:
    dry, wet = begin(client), begin(client, state="fresh", name="Fresh")
    assert 'class="wet"' not in client.get(dry).text
    page = client.get(wet).text
    assert 'class="wet"' in page
    assert "no weighing of the open jar shows that they have" in words(page)

    note(client, wet, kind="weighed open", grams="500")
    note(client, wet, kind="weighed open", grams="499", on=today().isoformat())
    assert "no weighing of the open jar shows" in words(client.get(wet).text)
    done = words(note(client, wet, kind="weighed open", grams="450", on=today().isoformat()))
    assert f"by its weighings they had on {say_day(today())}" in done


def test_every_figure_of_a_jar_opens_its_working(client: TestClient) -> None:
    page = client.get("/steeping", params={"plant": "clove", "grams": "40", "oil_grams": "960"}).text
    for key in ("cover", "top-up", "head-room", "activity", "must-leave", "clear", "out", "life", "done", "bound"):
        found = re.search(rf'<details class="fact" id="figure-jar-{key}">.*?</details>', page, re.DOTALL)
        assert found, key
        assert "Doubt:" in found[0]
        assert "Confidence: low." in words(found[0])
    assert "Clove, scent in it, at most" in words(page)
    assert "How each figure was worked out" in words(client.get(begin(client)).text)


def test_the_newest_note_is_on_top_and_older_ones_are_folded(client: TestClient) -> None:
    jar = begin(client)
    for day in range(7):
        note(client, jar, kind="shaken", on=(today() - timedelta(days=day)).isoformat())
    page = words(client.get(jar).text)
    assert "2 earlier" in page
    newest, oldest = (say_day(today() - timedelta(days=day)) for day in (0, 6))
    assert page.index(f"{newest}: shaken") < page.index("2 earlier") < page.index(f"{oldest}: shaken")


def test_a_lot_that_is_poured_into_a_jar_goes_out_of_the_ledger(client: TestClient) -> None:
    lot = {"code": "O-1", "ingredient": "olive", "bought_g": "1000", "token": token(client, "/shelf/lots/new")}
    client.post("/shelf/lots", data=lot)
    begin(client, name="By the stove", oil="lot O-1", oil_grams="400")
    page = words(client.get("/shelf/lots/O-1").text)
    assert "-400.00 g used, into the jar By the stove" in page
    assert re.search(r"Left 600 of 1\D?000 g", page)
