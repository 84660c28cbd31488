"""Two people, two tabs: what the other changed is kept where one did not touch it, and shown where both did."""

from __future__ import annotations

import re

from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.web.conftest import field, token, words

from uptide.core.ingredients.lot import Lot
from uptide.core.ledger.movement import Movement, MovementKind
from uptide.store.ledger import add_movement, lot_number
from uptide.store.people import load_person
from uptide.store.shelf import load_lot, put_lots

FIELDS = ("code", "known", "seen", "ingredient", "place", "note", "bought_g", "left_g", "received_on", "currency")


OWN = ("key", "seen", "name", "kind", "note", "tint", "colour")
MEASURES = {"spoons": "us", "ounces": "us", "bare_ounce": "ask", "parts_by": "volume", "drops": "20"}
MEASURES |= {"keeps_by": "computed"}


def chosen(page: str, name: str) -> str:
    """Which of several buttons is pressed."""
    found = [each for each in re.findall(r"<input[^>]*>", page) if f'name="{name}"' in each and "checked" in each]
    value = re.search(r'value="([^"]*)"', found[0])
    assert value is not None
    return value[1]


def opened(client: TestClient) -> dict[str, str]:
    page = client.get("/shelf/lots/A-1/edit").text
    return {name: field(page, name) for name in ("token", *FIELDS)}


def shelf(app: FastAPI) -> None:
    with app.state.sessions() as store, store.begin():
        put_lots(store, [Lot("A-1", "jojoba", bought_g=500, left_g=400, place="cool cupboard", note="from the fair")])


def lot(app: FastAPI) -> Lot:
    with app.state.sessions() as store:
        return load_lot(store, "A-1")


def test_what_was_poured_while_a_form_stood_open_stays_poured(app: FastAPI, client: TestClient) -> None:
    shelf(app)
    form = opened(client)
    with app.state.sessions() as store, store.begin():
        number = lot_number(store, "A-1")
        add_movement(store, number, Movement(MovementKind.USE, -150_000))
    answer = client.post("/shelf/lots", data=form | {"note": "nearly gone"}, follow_redirects=False)

    assert answer.status_code == 303
    assert (lot(app).left_g, lot(app).note) == (250, "nearly gone")


def test_what_both_changed_is_shown_side_by_side_and_kept_by_a_second_tap(app: FastAPI, client: TestClient) -> None:
    shelf(app)
    mine, theirs = opened(client), opened(client)
    client.post("/shelf/lots", data=theirs | {"place": "fridge", "note": "Tove’s"})
    answer = client.post("/shelf/lots", data=mine | {"place": "bathroom"})

    assert answer.status_code == 422
    assert "place: fridge there, bathroom here" in words(answer.text)
    assert lot(app).place == "fridge"
    assert field(answer.text, "place") == "bathroom"
    assert field(answer.text, "note") == "Tove’s"  # which one did not touch
    again = {name: field(answer.text, name) for name in ("token", *FIELDS)}
    assert client.post("/shelf/lots", data=again, follow_redirects=False).status_code == 303
    assert (lot(app).place, lot(app).note) == ("bathroom", "Tove’s")


def test_a_form_that_does_not_say_how_it_stood_is_taken_as_it_is(app: FastAPI, client: TestClient) -> None:
    shelf(app)
    for seen in ("", "[]", "{", "[" * 100_000):
        form = opened(client) | {"seen": seen, "note": f"seen {seen[:3]}."}
        assert client.post("/shelf/lots", data=form, follow_redirects=False).status_code == 303
        assert lot(app).note == f"seen {seen[:3]}."


def test_a_card_keeps_what_somebody_else_asked_meanwhile(app: FastAPI, client: TestClient) -> None:
    client.post("/people", data={"token": token(client, "/people/new"), "name": "Wren"})
    page = client.get("/people/1/edit").text
    form = {"name": "Wren", "token": field(page, "token"), "seen": field(page, "seen")}
    other = form | {"token": token(client, "/people/1/edit"), "allergies-sesame": "yes", "dislikes": "patchouli"}
    client.post("/people/1", data=other)
    answer = client.post("/people/1", data=form | {"dislikes": "ylang-ylang"})

    assert answer.status_code == 422
    assert "dislikes: patchouli there, ylang-ylang here" in words(answer.text)
    assert "sesame" not in words(answer.text).split("Nothing of yours")[1][:200]
    again = form | {"token": field(answer.text, "token"), "seen": field(answer.text, "seen"), "dislikes": "ylang-ylang"}
    client.post("/people/1", data=again | {"allergies-sesame": "yes"})
    with app.state.sessions() as store:
        wearer = load_person(store, 1).wearer
    assert wearer.allergies.holds("sesame") is True
    assert wearer.dislikes == "ylang-ylang"


def test_an_oil_of_ones_own_keeps_what_another_tab_said_of_it(client: TestClient) -> None:
    table = "C18:1  70\r\nC18:2  20\r\nC16:0  10"
    first = {"token": token(client, "/shelf/own"), "name": "Dune", "note": "from Tove", "table": table}
    address = client.post("/shelf/own", data=first, follow_redirects=False).headers["location"]
    edit = address.split("?")[0].replace("/shelf/", "/shelf/own/")
    page = client.get(edit).text
    mine = {name: field(page, name) for name in ("token", *OWN)} | {"table": table}
    theirs = {name: field(client.get(edit).text, name) for name in ("token", *OWN)} | {"table": table}
    assert client.post("/shelf/own", data=theirs | {"note": "from the fair"}, follow_redirects=False).status_code == 303
    kept = client.post("/shelf/own", data=mine | {"tint": "4"}, follow_redirects=False)
    assert kept.status_code == 303
    page = client.get(edit).text
    assert (field(page, "note"), field(page, "tint")) == ("from the fair", "4")

    late = client.post("/shelf/own", data={**mine, "token": field(page, "token"), "note": "from me"})
    assert late.status_code == 422
    assert "note: from the fair there, from me here" in words(late.text)
    assert field(client.get(edit).text, "note") == "from the fair"


def test_measures_keep_what_another_tab_chose(client: TestClient) -> None:
    def opened_measures() -> dict[str, str]:
        page = client.get("/measures").text
        return {"token": field(page, "token"), "seen": field(page, "seen")} | MEASURES

    mine, theirs = opened_measures(), opened_measures()
    client.post("/measures", data=theirs | {"spoons": "metric"})
    client.post("/measures", data=mine | {"drops": "30"})
    page = client.get("/measures").text
    assert chosen(page, "spoons") == "metric"
    assert chosen(page, "drops") == "30"

    late = client.post("/measures", data=mine | {"drops": "own"})
    assert late.status_code == 422
    assert "drops: 30 there, own here" in words(late.text)
    assert chosen(late.text, "drops") == "own"
    assert chosen(client.get("/measures").text, "drops") == "30"


def test_what_was_chosen_of_measures_stands_beside_what_cannot_be(client: TestClient) -> None:
    form = {"token": token(client, "/measures")} | MEASURES
    refused = client.post("/measures", data=form | {"spoons": "metric", "counted": "many", "weighed_g": "2"})
    assert refused.status_code == 422
    assert chosen(refused.text, "spoons") == "metric"
