"""Where a bad lot went, who has some of it, and what a year taught."""

from __future__ import annotations

import re
from datetime import timedelta
from typing import Any
from urllib.parse import urlencode

from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.web.conftest import bottle_of, saved, token, words
from tests.web.keeping.kept import board, card, filled, note
from tests.web.making.at_bench import at_bench, begin, blend, put, put_infused, shelf

from uptide.core.ingredients.lot import Lot
from uptide.store.shelf import hold_lot, put_lots
from uptide.workshop.clock import today


def test_a_lot_turns_out_bad_is_traced_held_and_poured_no_more(client: TestClient) -> None:
    batch = filled(client)
    number = batch.rpartition("/")[2]
    person = card(client)
    note(client, f"/bottles/{number}-1", "given", wearer=person.rpartition("/")[2])
    trace = words(client.get("/keeping/trace?of=OL-1").text)
    assert "1 batch has some of it, 2 bottles, 1 of them with somebody" in trace
    assert "Wren 1 bottle," in trace
    form = {"token": token(client, "/keeping/trace?of=OL-1"), "of": "OL-1", "status": "held", "why": ""}
    silent = client.post("/keeping/trace/hold", data=form)
    assert silent.status_code == 422
    assert "Say why" in words(silent.text)
    form |= {"token": token(client, "/keeping/trace?of=OL-1"), "why": "smells of paint"}
    held = words(client.post("/keeping/trace/hold", data=form).text)
    assert "Lot OL-1 is held: smells of paint. Nobody pours it." in held
    for page in (f"/bottles/{number}-2", person, "/shelf/lots/OL-1"):
        assert "smells of paint" in words(client.get(page).text)
    assert "held" in board(client, kind="bottle")
    # Nobody pours it, whether a plan was made before or is made now.
    version = blend(client)
    plan = words(client.get(f"{version}/make", params={"bottles": "1 x 30 ml"}).text)
    assert "OL-1" not in plan
    assert "OL-2" in plan
    late = begin(client, version, bottles="1 x 30 ml")
    client.post(f"{late}/weigh/begin", data={"token": token(client, f"{late}/weigh"), "seq": "0"})
    poured = {"token": token(client, f"{late}/weigh"), "seq": "1", "position": "0", "code": "OL-1", "how": "typed"}
    refused = client.post(f"{late}/pours", data=poured | {"amount": "15"})
    assert "Lot OL-1 is held: smells of paint" in words(refused.text)
    jar = {"token": token(client, "/steeping"), "plant": "calendula", "oil": "lot:OL-1", "jar_ml": "100"}
    steeped = client.post("/steeping/jars", data=jar)
    assert "Lot OL-1 is held: smells of paint" in words(steeped.text)
    free = {"token": token(client, "/keeping/trace?of=OL-1"), "of": "OL-1", "status": ""}
    assert "Nobody pours it" not in words(client.post("/keeping/trace/hold", data=free).text)


def test_a_recall_list_and_letters_of_facts_name_every_bottle(client: TestClient) -> None:
    number = filled(client).rpartition("/")[2]
    note(client, f"/bottles/{number}-2", "given", whom="Wren")
    rows = client.get("/keeping/trace/recall.csv?of=OL-1").text.splitlines()
    assert rows[0].startswith("lot,batch,bottle,blend")
    assert len(rows) == 3
    assert sum(f"{number}-2" in row and "Wren" in row for row in rows) == 1
    letter = words(client.get("/keeping/trace/letter?of=OL-1").text)
    assert f"bottle {number}-2" in letter
    assert f"bottle {number}-1" not in letter  # it is here, and nobody is written to
    assert "Please do not use them" in letter


def test_a_trace_back_names_the_lots_of_a_batch_and_of_a_bottle(client: TestClient) -> None:
    number = filled(client).rpartition("/")[2]
    for of in (number, f"{number}-1"):
        page = words(client.get(f"/keeping/trace?of={of}").text)
        assert f"Where batch {number} comes from" in page
        assert re.search(r"OL-1 (59|60)\.\d %", page)
    missing = client.get("/keeping/trace?of=nothing")
    assert missing.status_code == 404
    assert "is the code of no lot, batch or bottle" in words(missing.text)


def test_a_number_from_a_label_leads_to_its_page(client: TestClient) -> None:
    number = filled(client).rpartition("/")[2]
    for said, page in (
        (f"{number}-1", f"/bottles/{number}-1"),
        (number, f"/making/{number}"),
        ("OL-1", "/shelf/lots/OL-1"),
    ):
        answer = client.get(f"/keeping/find?{urlencode({'number': said})}", follow_redirects=False)
        assert answer.headers["location"] == page
    assert client.get("/keeping/find?number=nothing").status_code == 404
    # A code may begin as the words do that people put before one.
    put(client, "lotus-1", "jojoba", 20)
    for said in ("lotus-1", "lot lotus-1"):
        answer = client.get(f"/keeping/find?{urlencode({'number': said})}", follow_redirects=False)
        assert answer.headers["location"] == "/shelf/lots/lotus-1"
    assert f'href="/bottles/{number}-1"' in client.get(f"/quick?q={number}-1").text


def test_what_it_taught_compares_what_was_promised_with_what_came(client: TestClient) -> None:
    assert "No bottle was smelled off yet" in words(client.get("/keeping/taught").text)
    place = saved(client, new="30 g rosehip").split("?")[0]
    soon = bottle_of(client, place, (today() - timedelta(days=20)).isoformat())
    late = bottle_of(client, place, (today() - timedelta(days=900)).isoformat())
    used = bottle_of(client, place, (today() - timedelta(days=30)).isoformat())
    note(client, soon, "smell", smell="off")
    note(client, late, "smell", smell="off")
    note(client, late, "thrown out", words="it smelled of paint")  # it has turned, although it is gone
    note(client, used, "used up")
    note(client, used, "thrown out", words="the cap broke")
    page = words(client.get("/keeping/taught").text)
    assert "Of 2 bottles that somebody smelled off, 1 lasted at least as long as promised: 50 %" in page
    assert page.count("smelled off") >= 3
    assert "used up or thrown out" in page
    assert "the cap broke" in page


def test_what_was_thrown_out_and_what_batches_cost_stands_with_its_price(client: TestClient) -> None:
    filled(client)
    form = {"token": token(client, "/shelf/lots/JO-1"), "what": "thrown out", "amount": "40", "reason": "dropped"}
    assert client.post("/shelf/lots/JO-1/movements", data=form).status_code == 200
    page = words(client.get("/keeping/taught").text)
    assert "JO-1 40.0 g, dropped 0.40 GBP" in page
    back = re.search(r"/shelf/lots/JO-1/movements/\d+/take-back", client.get("/shelf/lots/JO-1").text)
    assert back
    client.post(back[0], data={"token": token(client, "/shelf/lots/JO-1")})
    assert "JO-1 40.0 g" not in words(client.get("/keeping/taught").text)
    assert re.search(r"Face oil, \d{8}-1 1\.\d\d GBP", page)  # 187 g at 1 GBP a hundred


def test_what_was_deleted_of_a_person_stays_with_the_bottle_without_the_name(client: TestClient) -> None:
    number = filled(client).rpartition("/")[2]
    person = card(client, "Ottoline")
    note(client, f"/bottles/{number}-1", "given", wearer=person.rpartition("/")[2])
    assert "Ottoline" in words(client.get("/keeping/trace?of=OL-1").text)
    gone: dict[str, Any] = {"token": token(client, person)}
    assert client.post(f"{person}/delete", data=gone).status_code == 200
    page = words(client.get(f"/bottles/{number}-1").text)
    assert "Ottoline" not in page
    assert "given to somebody" in page
    assert "Ottoline" not in words(client.get("/keeping/trace?of=OL-1").text)


def test_a_pour_that_was_taken_back_is_in_no_batch(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    at_bench(client, batch, "pours", how="typed", amount="50")
    assert "150.0 g came, 1 batch has some of it." in words(client.get("/keeping/trace?of=OL-1").text)
    seq = re.search(r'name="of" value="(\d+)"', client.get(f"{batch}/weigh").text)
    assert seq
    at_bench(client, batch, "voids", of=seq[1])
    trace = words(client.get("/keeping/trace?of=OL-1").text)
    assert "150.0 g came, it is in no batch." in trace
    assert "left 150.00 100.0 %" in trace


def test_what_was_made_of_a_held_lot_is_poured_no_more_either(client: TestClient) -> None:
    shelf(client)
    put_infused(client, "J-1", "Calendula", oil_lot="OL-2")
    version = blend(client, "60 g lot J-1\n40 g jojoba")
    batch = begin(client, version, bottles="1 x 30 ml")
    at_bench(client, batch, "weigh/begin")
    hold = {"token": token(client, "/keeping/trace?of=OL-2"), "of": "OL-2", "status": "held", "why": "smells of paint"}
    client.post("/keeping/trace/hold", data=hold)
    why = "Lot J-1 has some of lot OL-2 in it, which is held: smells of paint"
    assert why in at_bench(client, batch, "pours", how="typed", amount="15")
    assert not re.search(r"\d g of J-1", words(client.get(f"{version}/make", params={"bottles": "1 x 30 ml"}).text))
    # A plan that was made since has no lot for that row, and still nobody pours it.
    late = begin(client, version, bottles="1 x 30 ml")
    at_bench(client, late, "weigh/begin")
    assert why in at_bench(client, late, "pours", how="typed", amount="15", code="")
    jar = {"token": token(client, "/steeping"), "plant": "calendula", "oil": "lot:J-1", "jar_ml": "100"}
    assert why in words(client.post("/steeping/jars", data=jar).text)
    assert f"{why}. Nobody pours it." in words(client.get("/shelf/lots/J-1").text)
    assert f"{why}; nobody pours it" in words(client.get("/shelf/lots").text)
    assert re.search(r"lot J-1, 400 g, held", board(client, kind="lot"))
    assert "J-1" not in words(client.get("/keeping/use-up").text)


def test_a_row_that_names_a_held_lot_is_stopped_on_the_bench(app: FastAPI, client: TestClient) -> None:
    with app.state.sessions() as session, session.begin():
        put_lots(session, [Lot("H-1", "jojoba", bought_g=100, left_g=100)])
        hold_lot(session, "H-1", "held", "it smells of paint")
    page = words(client.get("/blends/new", params={"recipe": "20 g lot H-1\n20 g argan"}).text)

    assert "This lot is held, it smells of paint. It is poured into nothing." in page
    assert "stopped" in page
    assert "lot H-1, 100 g left" not in client.get("/blends/new", params={"recipe": "20 g jojoba"}).text
