"""Forms and addresses that no page of this application sends: refused in words, and nothing breaks by them."""

from __future__ import annotations

from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.web.conftest import bottle_of, saved, token, words

from uptide.core.ingredients.lot import Lot
from uptide.store.shelf import own_oil_entries, put_lots

OIL = {"name": "Marram seed oil", "table": "Oleic acid 60\nLinoleic acid 40\nPeroxide value 2\nDensity 0.92"}


def test_an_address_makes_the_list_of_lots_say_nothing_of_its_own(client: TestClient) -> None:
    said = "Your oils are poisoned. Call 555-0100."
    assert said not in words(client.get("/shelf/lots", params={"said": said}).text)
    form = {"token": token(client, "/shelf/lots")}
    lots = "code,ingredient,bought_g,left_g\nA-1,jojoba,100,50\n"
    done = client.post("/shelf/lots/bring-in", data=form, files={"file": ("lots.csv", lots, "text/csv")})

    assert "1 lot added" in words(done.text)
    assert "A-1" in words(done.text)


def test_an_oil_of_ones_own_takes_the_place_of_nothing_else(app: FastAPI, client: TestClient) -> None:
    with app.state.sessions() as store, store.begin():
        put_lots(store, [Lot("A-1", "jojoba", bought_g=100, left_g=50)])
    for key in ("jojoba", "lot:A-1", "own:nobody", "water"):
        form = {"token": token(client, "/shelf/own"), "key": key} | OIL
        answer = client.post("/shelf/own", data=form)
        assert answer.status_code in (404, 422), key
    for row in ("jojoba,Marram", "lot:A-1,Marram"):
        text = f'key,name,table\n{row} seed oil,"Oleic acid 60\nLinoleic acid 40"\n'
        form = {"token": token(client, "/shelf/lots")}
        refused = client.post("/shelf/lots/bring-in", data=form, files={"file": ("own.csv", text, "text/csv")})
        assert refused.status_code == 422, row
    with app.state.sessions() as store:
        assert own_oil_entries(store) == {}
    assert "Jojoba oil (liquid wax)" in words(client.get("/shelf/jojoba").text)


def test_no_lot_is_made_of_itself(client: TestClient) -> None:
    saved(client, name="Face oil")
    lot = {"code": "X-1", "ingredient": "", "blend": "1", "version": "1", "bought_g": "50", "left_g": "50"}
    made = client.post("/shelf/lots", data=lot | {"token": token(client, "/shelf/lots/new")}, follow_redirects=False)
    assert made.status_code == 303
    form = {"token": token(client, "/blends/1"), "version": "1", "name": "Face oil", "new": "20 g lot X-1\n10 g jojoba"}
    assert client.post("/blends/1/versions", data=form, follow_redirects=False).status_code == 303
    forged = lot | {"version": "2", "known": "X-1", "token": token(client, "/shelf/lots/new")}
    answer = client.post("/shelf/lots", data=forged)

    assert answer.status_code == 422
    assert "cannot be of a version that it went into" in words(answer.text)
    assert {client.get(path).status_code for path in ("/", "/shelf", "/shelf/lots", "/shelf/lots/X-1")} == {200}


def test_the_same_words_of_two_bottles_are_two_notes(client: TestClient) -> None:
    """One form, sent to the pages of two: neither is the twin of the other, and sent again each is."""
    saved(client, name="Face oil")
    bottles = [bottle_of(client, "/blends/1"), bottle_of(client, "/blends/1", "2026-11-02")]
    form = {"token": token(client, bottles[0]), "kind": "how it felt", "on": "2026-11-20", "words": "light as rain"}
    for address in (*bottles, *bottles):
        assert client.post(f"{address}/notes", data=form).status_code == 200

    assert bottles[0] != bottles[1]
    assert [words(client.get(each).text).count("light as rain") for each in bottles] == [1, 1]


def test_what_is_exported_of_own_oils_comes_back_in_however_much_it_is(app: FastAPI, client: TestClient) -> None:
    acids, note = "Oleic acid 60\nLinoleic acid 40", "pressed by hand; " * 50
    text = "name,note,table\n" + "".join(f'Oil {n} of the row,{note},"{acids}"\n' for n in range(960))
    assert len(text) > 800_000
    form = {"token": token(client, "/shelf/lots")}
    came = client.post("/shelf/lots/bring-in", data=form, files={"file": ("own.csv", text, "text/csv")})
    assert came.status_code == 200, words(came.text)[1200:2400]
    out = client.get("/shelf/lots/own-oils.csv").text
    with app.state.sessions() as store:
        assert len(own_oil_entries(store)) == 960
    again = client.post("/shelf/lots/bring-in", data=form, files={"file": ("own.csv", out, "text/csv")})

    assert again.status_code == 200
    assert "0 oils of your own" in words(again.text)
