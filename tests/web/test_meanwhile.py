"""Two people, two tabs: what the other changed is kept where one did not touch it, and shown where both did."""

from __future__ import annotations

from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.web.conftest import field, token, words

from uptide.core.ingredients.lot import Lot
from uptide.core.ledger.movement import Movement, MovementKind
from uptide.store.ledger import add_movement, lot_number
from uptide.store.people import load_person
from uptide.store.shelf import load_lot, put_lots

FIELDS = ("code", "known", "seen", "ingredient", "place", "note", "bought_g", "left_g", "received_on", "currency")


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
