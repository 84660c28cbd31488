"""The freshness tide on the page, and what is noted of a bottle."""

from __future__ import annotations

import re
from datetime import timedelta

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.web.conftest import assessed_by, bottle_of, field, saved, token, words

from uptide.core.ingredients.lot import Lot
from uptide.store.shelf import put_lots
from uptide.workshop.clock import today


def noted(client: TestClient, bottle: str, kind: str, on: str = "2026-10-01", **fields: str) -> str:
    form = {"token": token(client, bottle), "kind": kind, "on": on} | fields
    answer = client.post(f"{bottle}/notes", data=form)
    assert answer.status_code == 200, words(answer.text)
    return words(answer.text)


def test_the_tide_says_until_when_and_why(client: TestClient) -> None:
    page = words(client.get(saved(client).split("?")[0]).text)

    assert "; keeps 5 months in a cool cupboard, grapeseed oil turns first;" in page
    assert "Limited by Grapeseed oil" in page
    assert "The trade says 6 months, for Grapeseed oil" in page
    assert "nine in ten reach" in page


def test_where_it_lives_is_kept_with_the_version(client: TestClient) -> None:
    place = saved(client, place="fridge", glass="clear", opened="no", ml_a_use="1,5").split("?")[0]
    page = client.get(place).text

    assert '<option value="fridge" selected>' in page
    assert '<option value="clear" selected>' in page
    assert '<option value="no" selected>' in page
    assert "Used as stated" in page


@pytest.mark.parametrize(
    ("celsius", "message"), [("20 20", "wanted are twelve"), ("hot", "is not a temperature"), ("99", "from -30 to 60")]
)
def test_own_temperatures_are_checked_and_nothing_typed_is_lost(client: TestClient, celsius: str, message: str) -> None:
    form = {
        "token": token(client),
        "new": "2 tbsp jojoba",
        "op": "add",
        "place": "own temperatures",
        "celsius": celsius,
    }
    page = client.post("/sheet", data=form).text

    assert message in page
    assert "2 tbsp jojoba" in page


def test_own_temperatures_may_be_one_or_twelve(client: TestClient) -> None:
    form = {"token": token(client), "new": "2 tbsp jojoba", "op": "add", "place": "own temperatures"}

    assert 'value="18.5"' in client.post("/sheet", data=form | {"celsius": "18,5"}).text
    twelve = "8 9 11 13 16 19 21 21 18 14 11 9"
    assert f'value="{twelve}"' in client.post("/sheet", data=form | {"celsius": twelve}).text


def test_what_would_help_most_is_answered_on_request(client: TestClient) -> None:
    form = {
        "token": token(client),
        "typed": ["2 tbsp rosehip"],
        "answers": [""],
        "op": "sensitivities",
        "place": "bathroom",
    }
    page = words(client.post("/sheet", data=form).text)

    assert "the fridge" in page
    assert "Months gained" in page


def test_notes_make_the_tide_learn_and_can_be_taken_out(client: TestClient) -> None:
    place = bottle_of(client, saved(client, new="2 tbsp rosehip").split("?")[0], "2026-08-01")
    noted(client, place, "moved", "2026-08-10", place="bathroom")
    noted(client, place, "heated", "2026-08-02", celsius="50", hours="2")
    noted(client, place, "titration", "2026-09-15", low="4.2")
    page = noted(client, place, "strip", "2026-10-01", low="2", high="5")

    assert "strip, 2 to 5 meq/kg" in page
    assert "from your readings" in page
    assert "moved to: bathroom" in page
    off = noted(client, place, "smell", "2026-10-02", smell="off")
    assert "It smelled off" in off
    refused = client.post(f"{place}/notes/5/strike", data={"token": token(client, place), "why": " "})
    assert refused.status_code == 422
    answer = client.post(f"{place}/notes/5/strike", data={"token": token(client, place), "why": "it was the cap"})
    assert "It smelled off" not in words(answer.text)
    assert "smelled off struck: it was the cap" in words(answer.text)  # it stays to be read


def test_a_note_sent_twice_is_one_note(client: TestClient) -> None:
    place = bottle_of(client, saved(client).split("?")[0], "2026-09-01")
    form = {"token": token(client, place), "kind": "smell", "on": "2026-10-01", "smell": "fine"}
    client.post(f"{place}/notes", data=form)

    assert client.post(f"{place}/notes", data=form).text.count("Strike: 1 Oct 2026, smelled fine") == 1


@pytest.mark.parametrize(
    ("fields", "message"),
    [
        ({"kind": "exploded"}, "nothing that is noted"),
        ({"kind": "strip", "low": "5", "high": "2"}, "cannot be read"),
        ({"kind": "strip", "low": "x", "high": "2"}, "is not a peroxide value"),
        ({"kind": "heated", "celsius": "900", "hours": "1"}, "is no step"),
        ({"kind": "moved", "place": "attic"}, "no place"),
        ({"kind": "smell", "smell": "green"}, "is neither"),
        ({"kind": "given"}, "To whom?"),
        ({"kind": "came back"}, "nobody has it"),
        ({"kind": "reaction", "whom": "Wren"}, "wants a few words"),
        ({"kind": "sold", "whom": "Wren", "price": "much"}, "is not a price"),
        ({"kind": "given", "wearer": "77"}, "This card is no more"),
        ({"kind": "smell", "on": "2999-01-01"}, "2999-01-01"),
        ({"kind": "remark", "words": "x", "on": "1999-01-01"}, "cannot be"),
    ],
)
def test_a_note_that_cannot_be_says_why(client: TestClient, fields: dict[str, str], message: str) -> None:
    place = bottle_of(client, saved(client).split("?")[0], "2026-09-01")
    answer = client.post(f"{place}/notes", data={"token": token(client, place), "on": "2026-10-01"} | fields)

    assert answer.status_code == 422
    assert message in words(answer.text)
    assert "Nothing yet: it stands as it was filled." in words(answer.text)


def test_the_trade_s_answer_is_quoted_when_a_person_wants_it(client: TestClient) -> None:
    client.post("/measures", data={"token": token(client, "/measures"), "keeps_by": "shortest"})

    assert "Quoted the trade’s shortest-lived oil" in words(client.get(saved(client).split("?")[0]).text)


def test_what_a_lot_has_behind_it_is_kept_with_its_row(client: TestClient) -> None:
    form = {"new": "", "typed": ["2 tbsp rosehip", "12 drops lavender"], "answers": ["", ""]}
    form |= {"age": ["6", ""], "pv": ["", ""], "past": ["pan, 110 °C for 15 min", ""]}
    place = saved(client, **form).split("?")[0]
    page = client.get(place).text

    assert field(page, "age") == "6"
    assert field(page, "past") == "pan, 110 °C for 15 min"


def test_what_one_bottle_taught_is_told_of_the_next(client: TestClient) -> None:
    first = bottle_of(client, saved(client, new="2 tbsp rosehip").split("?")[0], "2026-08-01")
    noted(client, first, "titration", "2026-09-15", low="12")
    other = saved(client, name="Other", new="2 tbsp rosehip").split("?")[0]
    second = bottle_of(client, other, "2026-08-01")

    assert "from your other bottles" in words(client.get(other).text)
    assert "from your other bottles" in words(client.get(second).text)
    assert "from your other bottles" not in words(client.get(first).text)


def test_an_oil_s_page_says_how_long_it_keeps(client: TestClient) -> None:
    assert re.search(r"Keeps \d+ months?, until \d+ \w+ \d+, if opened today", words(client.get("/shelf/rosehip").text))
    assert "Oxidizability (Cox value) 11.80" in words(client.get("/shelf/rosehip").text)
    assert "not worked out" in words(client.get("/shelf/infused-oil").text)


def sentence(page: str) -> str:
    found = re.search(r'class="sentence">([^<]+)<', page)
    assert found
    return found[1]


def test_a_bottle_past_its_date_says_so(client: TestClient) -> None:
    place = saved(client, new="2 tbsp rosehip").split("?")[0]

    fresh = sentence(client.get(place).text)
    page = words(client.get(bottle_of(client, place, "2020-01-01")).text)

    assert "Over: half of such bottles had turned by" in page
    made = words(client.get(place).text)
    assert "20200101-0-1" in made
    assert "over" in made
    assert sentence(client.get(place).text) == fresh  # the recipe is as good as it was
    assert "keeps" in fresh


def test_a_supplier_s_best_before_on_the_shelf_is_not_passed(app: FastAPI, client: TestClient) -> None:
    soon = today() + timedelta(days=40)
    lot = Lot(
        "A-1",
        "jojoba",
        supplier="",
        received_on=None,
        opened_on=None,
        best_before=soon,
        bought_g=100.0,
        left_g=50.0,
        price=None,
        currency="",
        place="",
    )
    ended = Lot(
        "B-1",
        "argan",
        supplier="",
        received_on=None,
        opened_on=None,
        best_before=today() - timedelta(days=3),
        bought_g=100.0,
        left_g=50.0,
        price=None,
        currency="",
        place="",
    )
    with app.state.sessions() as session, session.begin():
        put_lots(session, [lot, ended])
    page = words(client.get(saved(client, new="2 tbsp jojoba").split("?")[0]).text)
    over = words(client.get(saved(client, new="2 tbsp jojoba, 1 tbsp argan").split("?")[0]).text)

    assert "a supplier’s best before: lot A-1 of Jojoba oil" in page
    assert "1 month" in page
    assert "test before use" in over
    assert "a supplier’s best before: lot B-1 of Argan oil" in over


def test_an_age_that_cannot_be_read_is_kept_and_said(client: TestClient) -> None:
    form = {"token": token(client), "typed": ["2 tbsp rosehip"], "answers": [""], "age": ["old"], "pv": ["999"]}
    page = client.post("/sheet", data=form).text

    assert "“old” is not an age in months" in page
    assert "“999” is not a peroxide value" in page
    assert 'value="old"' in page


def test_the_line_behind_an_edit_follows_the_shelf(client: TestClient, app: FastAPI) -> None:
    lot = {"code": "A-1", "ingredient": "rosehip", "bought_g": "500", "left_g": "500"}
    client.post("/shelf/lots", data=lot | {"token": token(client, "/shelf/lots/new")})
    place = saved(client, new="50 g A-1\n20 g jojoba").split("?")[0]
    sheet = {"token": token(client, place), "blend_id": place.rsplit("/", 1)[1], "new": "60 g A-1", "picture": "tide"}
    fresh = _line_behind(client.post("/sheet", data=sheet).text)
    worked_out = len(assessed_by(app))
    assert _line_behind(client.post("/sheet", data=sheet).text) == fresh
    assert len(assessed_by(app)) == worked_out  # once
    turned = {"token": token(client, "/shelf/lots/A-1"), "table": "Peroxide value 9.5"}
    client.post("/shelf/lots/A-1/certificates", data=turned)
    now = _line_behind(client.post("/sheet", data=sheet).text)
    assert now[0] < fresh[0]  # a higher peroxide value is drawn nearer to the top


def _line_behind(page: str) -> tuple[float, ...]:
    """How high the points of the saved version stand in the picture of an edit, from left to right."""
    found = re.search(r'class="baseline" points="([^"]+)"', page)
    assert found
    return tuple(float(point.split(",")[1]) for point in found[1].split())
