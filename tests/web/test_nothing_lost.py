"""Nothing typed or stored is ever lost: refusals, twins, other tabs, broken answers, replaced files."""

from __future__ import annotations

import html
import re
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from sqlalchemy import text
from sqlalchemy.exc import DBAPIError, OperationalError
from tests.web.conftest import bottle_of, saved, token, words

from uptide.core.recipe.recipe import Entry, Recipe
from uptide.store.blends import create_blend, load_blend
from uptide.store.database import as_writer
from uptide.store.preferences import carried_over, keep_learnt
from uptide.web.bench import blends as blend_pages
from uptide.workshop import assessment as workshop
from uptide.workshop.shelf import ShelfOfTheDay


def fields(page: str) -> dict[str, str]:
    """What stands in the named fields of a page, as a browser would send it."""
    found = dict(re.findall(r'<input(?=[^>]*\bname="([^"]+)")(?=[^>]*\bvalue="([^"]*)")[^>]*>', page))
    found |= dict(re.findall(r'<textarea[^>]*\bname="([^"]+)"[^>]*>([^<]*)</textarea>', page))
    return {name: html.unescape(value) for name, value in found.items()}


# --- A blend that cannot be assessed still opens


@pytest.mark.parametrize(
    "row",
    ["up to 15 drops lavender", "jojoba to 5 drops", "up to 1 dropper argan"],
)
def test_a_row_of_at_most_is_weighed_as_its_most_and_opens_again(client: TestClient, row: str) -> None:
    place = saved(client, new=f"30 g sunflower\n{row}").split("?")[0]

    assert row in client.get(place).text
    assert client.get(place).status_code == 200


@pytest.mark.parametrize(
    "rows",
    [
        "50 ml fractionated coconut oil\n1 drop rosehip seed oil",
        "200 ml mineral oil\n0.2 ml argan",
        "250 g beeswax\n0.2 g argan",
    ],
)
def test_a_trace_of_what_oxidises_in_what_does_not_is_assessed(client: TestClient, rows: str) -> None:
    page = words(client.get(saved(client, new=rows).split("?")[0]).text)

    assert "could not be worked out" not in page
    assert re.search(r"Keeps (?:until|at least|\d)", page)


def test_a_blend_whose_figures_fail_opens_with_its_rows_and_says_so(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    place = saved(client).split("?")[0]

    def broken(*_: object, **__: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr(workshop, "assess", broken)
    answer = client.get(place)

    assert answer.status_code == 200
    assert 'value="2 tbsp grapeseed"' in answer.text
    assert "could not be worked out" in words(answer.text)


# --- What was learnt


@pytest.mark.parametrize("made", ["0026-11-01", "1926-11-01", "9999-12-01"])
def test_a_mistyped_day_is_refused_and_poisons_nothing(client: TestClient, made: str) -> None:
    place = saved(client, new="30 g sunflower").split("?")[0]
    form = {"token": token(client, place), "made": made, "size": "30"}
    answer = client.post(f"{place}/bottles", data=form)

    assert answer.status_code == 422
    assert made in words(answer.text)
    assert f'value="{made}"' in answer.text
    assert 'name="size" inputmode="decimal" value="30"' in " ".join(answer.text.split())
    assert "nothing yet" in words(client.get(place).text)


@pytest.mark.parametrize("shift", [float("nan"), float("inf"), -float("inf"), 50.0])
def test_what_is_no_rate_is_never_learnt(app: FastAPI, shift: float) -> None:
    with app.state.sessions() as session, session.begin():
        keep_learnt(session, 1, 0.4)
        keep_learnt(session, 2, shift)

        assert carried_over(session, 3) == pytest.approx(0.2)


def test_what_was_learnt_can_be_dropped(client: TestClient, app: FastAPI) -> None:
    with app.state.sessions() as session, session.begin():
        keep_learnt(session, 1, 0.8)
    page = client.get("/measures")
    assert "Readings of 1 bottle say that oils turn 1.49 times as fast" in words(page.text)  # e^(0.8 / 2)
    said = client.post("/measures/forget-learnt", data={"token": token(client, "/measures")})

    assert "Each bottle goes by its own readings alone" in words(said.text)
    assert "What your bottles taught" not in words(said.text)


# --- Save says no rather than something else


@pytest.mark.parametrize(
    ("field", "typed", "says"),
    [
        ("uses_a_week", "often", "often"),
        ("headspace", "lots", "lots"),
        ("container_ml", "30 blobs", "blobs"),
        ("placed_on", "2026-02-30", "2026-02-30"),
        ("celsius", "warm", "warm"),
        ("ml_a_use", "nan", "nan"),
        ("region", "Mars", "Mars"),
    ],
)
def test_a_field_that_cannot_be_read_is_refused_beside_it_with_all_that_was_typed(
    client: TestClient, field: str, typed: str, says: str
) -> None:
    form = {"token": token(client), "name": "Storm", "new": "30 g jojoba\n3 drops lavender", "note": "for Moss"}
    form |= {"place": "own temperatures"} if field == "celsius" else {}
    answer = client.post("/blends", data=form | {field: typed}, follow_redirects=False)
    page = html.unescape(answer.text)

    assert answer.status_code == 422
    assert says in words(answer.text)
    assert all(kept in page for kept in ('value="Storm"', "30 g jojoba", "3 drops lavender", 'value="for Moss"'))
    if field != "region":  # a list, in which it cannot stand
        assert f'value="{typed}"' in page
    assert "Storm" not in client.get("/blends").text


# --- Two tabs


def test_a_save_over_what_another_tab_saved_shows_both_and_lets_one_choose(client: TestClient) -> None:
    place = saved(client, new="30 g jojoba").split("?")[0]
    first, second = client.get(place).text, client.get(place).text
    mine = {"typed": ["30 g jojoba", "2 g argan"], "answers": ["", ""], "name": "Mine", "seen": "1", "version": "1"}
    theirs = {
        "typed": ["30 g jojoba", "9 g rosehip"],
        "answers": ["", ""],
        "name": "Theirs",
        "seen": "1",
        "version": "1",
    }
    client.post(f"{place}/versions", data=theirs | {"token": fields(first)["token"]})
    answer = client.post(f"{place}/versions", data=mine | {"token": fields(second)["token"]}, follow_redirects=False)
    page = html.unescape(answer.text)

    assert answer.status_code == 409
    assert "9 g rosehip" in page
    assert 'value="2 g argan"' in page
    assert "It is called “Theirs”" in words(page)
    assert 'value="Mine"' in page
    assert "9 g rosehip" in client.get(place).text
    over = client.post(f"{place}/versions", data=mine | {"token": fields(page)["token"], "seen": "2"})
    assert "Saved as version 3" in words(over.text)
    assert "9 g rosehip" in client.get(f"{place}/versions/2").text


def test_a_name_that_another_tab_gave_stays_when_this_one_left_it_alone(client: TestClient) -> None:
    place = saved(client, new="30 g jojoba", name="Old").split("?")[0]
    form = {"typed": "30 g jojoba", "answers": "", "version": "1", "seen": "1"}
    client.post(f"{place}/rename", data=form | {"token": token(client, place), "name": "New", "seen_name": "Old"})
    more = {"typed": ["30 g jojoba", "2 g argan"], "answers": ["", ""], "name": "Old", "seen_name": "Old"}
    client.post(f"{place}/versions", data=form | more | {"token": token(client, place)})

    assert 'value="New"' in client.get(place).text
    assert "2 g argan" in client.get(place).text


# --- A refused form gives everything back


CARD = {
    "name": "Wren",
    "born": "1990-05-31",
    "skin": "dry",
    "sensitive": "yes",
    "tone": "fair",
    "pregnant": "no",
    "planning": "no",
    "breastfeeding": "yes",
    "allergies-peanut": "yes",
    "others": "health",
    "procedure": "a peel",
    "other_allergies": "linalool",
    "dislikes": "ylang",
    "note": "the neighbour",
}
LOT = {
    "code": "L1",
    "ingredient": "jojoba",
    "supplier": "Harbour",
    "supplier_lot": "77",
    "received_on": "2026-01-02",
    "opened_on": "2026-02-03",
    "best_before": "2027-01-02",
    "bought_g": "100",
    "left_g": "60",
    "price": "9",
    "currency": "EUR",
    "place": "fridge",
    "container": "brown glass",
    "note": "dented",
}


@pytest.mark.parametrize(("path", "typed"), [("/people", CARD), ("/shelf/lots", LOT)])
def test_after_a_lost_cookie_or_a_stale_token_a_form_gives_everything_back_to_send_again(
    client: TestClient, path: str, typed: dict[str, str]
) -> None:
    stale = token(client, f"{path}/new")
    client.cookies.clear()
    refused = client.post(path, data=typed | {"token": stale}, headers={"sec-fetch-site": "same-origin"})
    given = fields(refused.text)

    assert refused.status_code == 403
    assert {name: given.get(name) for name in typed} == typed
    again = re.search(r'action="([^"]+)"', refused.text[refused.text.index("Send it again") - 4000 :])
    assert again
    sent = client.post(path, data=given, headers={"sec-fetch-site": "same-origin"}, follow_redirects=False)
    assert sent.status_code == 303, words(sent.text)


def test_a_form_from_elsewhere_is_never_offered_to_be_sent_again(client: TestClient) -> None:
    refused = client.post("/people", data=CARD | {"token": "x"}, headers={"sec-fetch-site": "cross-site"})

    assert "Send it again" not in words(refused.text)


def test_a_bad_figure_in_a_note_of_a_bottle_keeps_the_rest(client: TestClient) -> None:
    place = bottle_of(client, saved(client).split("?")[0])
    form = {"token": token(client, place), "kind": "strip", "on": "2026-11-02", "low": "2", "high": "five"}
    page = client.post(f"{place}/notes", data=form).text

    assert fields(page)["on"] == "2026-11-02"
    assert (fields(page)["low"], fields(page)["high"]) == ("2", "five")


def test_a_long_note_on_a_card_keeps_the_rest(client: TestClient) -> None:
    form = CARD | {"token": token(client, "/people/new"), "note": "n" * 1001}
    answer = client.post("/people", data=form)

    assert answer.status_code == 422
    assert "up to 1000 fit" in words(answer.text)
    assert fields(answer.text)["name"] == "Wren"
    assert "n" * 1001 in answer.text


def test_a_bad_hour_of_a_patch_test_keeps_the_rest(client: TestClient) -> None:
    saved(client)
    client.post("/people", data={"token": token(client, "/people/new"), "name": "Wren"})
    form = {"token": token(client, "/people/1"), "blend": "1.1", "begun": "yesterday", "note": "left arm"}
    answer = client.post("/people/1/tests", data=form | {"site": "inner wrist"})

    assert "“yesterday” is no day and hour" in words(answer.text)
    assert 'value="left arm"' in answer.text
    assert "<option selected>inner wrist" in answer.text or "selected>inner wrist" in answer.text


# --- Twins


@pytest.mark.parametrize(
    ("path", "page", "typed", "listed"),
    [
        ("/blends", "/blends/new", {"name": "Twin", "new": "30 g jojoba"}, "/blends"),
        ("/people", "/people/new", {"name": "Twin"}, "/people"),
    ],
)
def test_eight_equal_posts_at_once_make_one_and_all_are_answered_alike(
    client: TestClient, path: str, page: str, typed: dict[str, str], listed: str
) -> None:
    form = typed | {"token": token(client, page)}
    with ThreadPoolExecutor(8) as threads:
        answers = list(threads.map(lambda _: client.post(path, data=form, follow_redirects=False), range(8)))

    assert {answer.status_code for answer in answers} == {303}
    assert len({answer.headers["location"] for answer in answers}) == 1
    assert words(client.get(listed).text).count("Twin") == 1


def test_different_saves_to_one_blend_at_once_are_all_kept_or_shown(client: TestClient, app: FastAPI) -> None:
    place = saved(client, new="30 g jojoba").split("?")[0]
    forms = [
        {
            "token": token(client, place),
            "name": "Face oil",
            "typed": f"{n} g jojoba",
            "answers": "",
            "seen": "1",
            "version": "1",
        }
        for n in range(31, 37)
    ]
    with ThreadPoolExecutor(6) as threads:
        codes = list(
            threads.map(lambda f: client.post(f"{place}/versions", data=f, follow_redirects=False).status_code, forms)
        )

    assert sorted(codes) == [303] + [409] * 5
    with app.state.sessions() as session:
        assert len(load_blend(session, 1).versions) == 2


def test_a_card_deleted_twice_at_once_is_answered_alike(client: TestClient) -> None:
    client.post("/people", data={"token": token(client, "/people/new"), "name": "Wren"})
    form = {"token": token(client, "/people/1/edit")}
    first, second = (client.post("/people/1/delete", data=form, follow_redirects=False) for _ in range(2))

    assert first.status_code == second.status_code == 303
    assert first.headers["location"] == second.headers["location"]


def test_when_the_database_does_not_take_it_the_answer_says_so_and_gives_it_back(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def locked(*_: object, **__: object) -> int:
        raise OperationalError("INSERT", {}, Exception("database is locked"))

    monkeypatch.setattr(blend_pages, "create_blend", locked)
    answer = client.post("/blends", data={"token": token(client), "name": "Storm", "new": "30 g jojoba"})

    assert answer.status_code == 503
    assert "Another program is writing to the database" in words(answer.text)
    assert "Nothing of this was stored" in words(answer.text)
    assert fields(answer.text)["name"] == "Storm"


@pytest.mark.of_files
def test_a_database_that_was_replaced_is_noticed_before_anything_is_written(
    client: TestClient, tmp_path: Path, empty_database: Path
) -> None:
    form = {"token": token(client), "name": "Storm", "new": "30 g jojoba"}
    file = tmp_path / "web.db"
    file.rename(tmp_path / "aside.db")
    file.write_bytes(empty_database.read_bytes())
    answer = client.post("/blends", data=form)

    assert answer.status_code == 503
    assert "another was put in its place" in words(answer.text)
    assert fields(answer.text)["name"] == "Storm"


# --- Health data


def test_a_failing_write_of_a_card_tells_nothing_of_it(app: FastAPI) -> None:
    with pytest.raises(DBAPIError) as failed, app.state.sessions() as session:
        session.execute(text("INSERT INTO nowhere (said) VALUES (:said)"), {"said": "epilepsy"})

    assert "epilepsy" not in str(failed.value)


def test_pages_are_kept_in_no_cache(client: TestClient) -> None:
    client.post("/people", data={"token": token(client, "/people/new"), "name": "Wren"})

    assert {client.get(path).headers["cache-control"] for path in ("/people", "/people/1", "/", "/people/1.json")} == {
        "no-store"
    }
    assert "no-store" not in client.get("/static/app.js").headers.get("cache-control", "")


@pytest.mark.of_files
def test_a_deleted_card_is_in_no_file_any_more(client: TestClient, app: FastAPI, tmp_path: Path) -> None:
    saved(client)
    client.post(
        "/people", data={"token": token(client, "/people/new"), "name": "Wren", "other_allergies": "zinnwaldite"}
    )
    form = {"token": token(client, "/people/1"), "blend": "1.1", "begun": begun(), "note": "wulfenite on the wrist"}
    assert client.post("/people/1/tests", data=form, follow_redirects=False).status_code == 303
    held = b"".join(file.read_bytes() for file in tmp_path.iterdir())
    assert b"zinnwaldite" in held
    assert b"wulfenite" in held
    (tmp_path / "web.db.before-0004").write_bytes(held)  # the copy that an upgrade left
    client.post("/people/1/delete", data={"token": token(client, "/people/1/edit")})
    held = b"".join(file.read_bytes() for file in tmp_path.iterdir())

    assert b"zinnwaldite" not in held
    assert b"wulfenite" not in held


def begun() -> str:
    from datetime import datetime

    return datetime.now().strftime("%Y-%m-%dT%H:%M")  # noqa: DTZ005 - by the clock on the wall


# --- Numbers that are none, and texts that are too long


def test_what_is_a_digit_and_no_number_is_answered(client: TestClient) -> None:
    form = {"token": token(client), "new": "30 g jojoba", "wearer": "²", "op": "answer:²:name:jojoba"}

    assert client.post("/sheet", data=form).status_code == 200
    assert client.get("/blends/new", params={"wearer": "²", "recipe": "30 g jojoba"}).status_code == 200


def test_a_recipe_in_an_address_that_is_too_long_is_refused(client: TestClient) -> None:
    assert client.get("/blends/new", params={"recipe": "a" * 20_001}).status_code == 422


@pytest.mark.parametrize(
    "body",
    [
        r'{"recipe": "\ud800 jojoba"}',
        r'{"recipe": "30 g jojoba", "reasons": {"x": "\udfff"}}',
        r'{"recipe": "30 g jojoba", "\ud800": 1}',
        r'{"recipe": "30 g jojoba", "answers": [{"row": 0, "key": "name", "value": "\ud800"}]}',
    ],
)
def test_half_a_character_is_refused_by_the_api(client: TestClient, body: str) -> None:
    answer = client.post("/api/assess", content=body, headers={"content-type": "application/json"})

    assert answer.status_code == 422
    assert answer.json()["detail"]


@pytest.mark.parametrize(
    ("file", "says"),
    [
        ("code,ingredient,bought_g,left_g\nA," + "x" * 200_000 + ",1,1\n", "field larger than"),
        ("code,ingredient,bought_g,left_g\nA,jojoba,inf,1\n", "finite"),
        ("code,ingredient,bought_g,left_g,price\nA,jojoba,9,1,inf\n", "finite"),
        ("code,ingredient,bought_g,left_g\n" + "A,jojoba,9,1\n" * 5_001, "up to 5000 rows"),
        ("code,ingredient,bought_g,left_g\n" + "A,jojoba,9,1\n" * 400_000, "larger than 5000 kB"),
        ("code,ingredient,bought_g,left_g\n\x00,jojoba,9,1\n", "is not a lot’s code"),
    ],
)
def test_a_file_that_cannot_be_is_answered_and_the_lots_stand(client: TestClient, file: str, says: str) -> None:
    client.post("/shelf/lots", data=LOT | {"token": token(client, "/shelf/lots/new")})
    form = {"token": token(client, "/shelf/lots")}
    answer = client.post("/shelf/lots/bring-in", data=form, files={"file": ("lots.csv", file)})

    assert answer.status_code == 422
    assert says in words(answer.text)
    assert "L1" in words(answer.text)


@pytest.mark.parametrize(
    "typed", [{"price": "inf"}, {"bought_g": "inf"}, {"left_g": "nan"}, {"best_before": "0027-01-01"}]
)
def test_a_lot_of_no_number_is_refused_with_all_that_was_typed(client: TestClient, typed: dict[str, str]) -> None:
    answer = client.post("/shelf/lots", data=LOT | typed | {"token": token(client, "/shelf/lots/new")})

    assert answer.status_code == 422
    assert {name: fields(answer.text).get(name) for name in typed} == typed


def test_a_lot_whose_oil_is_not_known_any_more_is_called_for_and_mended(client: TestClient, app: FastAPI) -> None:
    client.post("/shelf/lots", data=LOT | {"token": token(client, "/shelf/lots/new")})
    with app.state.sessions() as session, as_writer(session).begin_nested():
        session.execute(text("UPDATE lot SET ingredient = 'gone'"))
        session.commit()
    app.state.shelf = ShelfOfTheDay(app.state.catalogue)
    assert "Nobody knows any more what is in L1" in words(client.get("/shelf/lots").text)
    page = client.get("/shelf/lots/L1")
    assert page.status_code == 200
    form = fields(page.text) | {"ingredient": "jojoba"}
    assert client.post("/shelf/lots", data=form, follow_redirects=False).status_code == 303

    assert "Jojoba" in words(client.get("/shelf/lots/L1").text)


def test_the_start_page_names_a_lot_of_a_blend(client: TestClient) -> None:
    saved(client, name="Dune oil", new="30 g jojoba")
    lot = {"code": "B1", "blend": "1", "version": "1", "bought_g": "30", "token": token(client, "/shelf/lots/new")}
    assert client.post("/shelf/lots", data=lot, follow_redirects=False).status_code == 303

    assert "B1: Dune oil v1" in words(client.get("/").text)


def test_a_stored_row_that_cannot_be_weighed_opens_and_can_be_mended(client: TestClient, app: FastAPI) -> None:
    with app.state.sessions() as session, session.begin():
        create_blend(session, "Odd", Recipe((Entry("1e999 g jojoba"), Entry("30 g argan"))))
    page = client.get("/blends/1")
    assert page.status_code == 200
    form: dict[str, Any] = {"typed": ["3 g jojoba", "30 g argan"], "answers": ["", ""], "name": "Odd", "seen": "1"}
    said = client.post("/blends/1/versions", data=form | {"version": "1", "token": fields(page.text)["token"]})

    assert "Saved as version 2" in words(said.text)
