"""A batch is kept as it really was: poured, filled, closed, traced, on paper, and its rest on the shelf."""

from __future__ import annotations

import re
from io import BytesIO
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from pypdf import PdfReader
from sqlalchemy.orm import Session
from tests.web.conftest import saved, words
from tests.web.making.at_bench import at_bench, begin, blend, left, made, pour_all, put, say, shelf, wanted

from uptide.core.errors import QuantityError
from uptide.core.ingredients.infusion import Infusion, Steeped
from uptide.core.ingredients.lot import Lot
from uptide.core.making.batch_record import Taken
from uptide.store.shelf import save_lot
from uptide.workshop.making import Measured, confirm_pour


def test_a_batch_is_weighed_typed_and_counted_and_the_ledger_moves(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client), made_by="Bo", step="0.1")
    assert "Open Face oil" in words(client.get("/making").text)
    assert left(client, "OL-1") == 150  # nothing is taken before it is poured

    at_bench(client, batch, "weigh/begin")
    asked = wanted(client, batch)
    # 2 × 100 mL and 4.8 g for loss, of which 60 % are olive.
    assert asked == pytest.approx(0.6 * (200 * 0.888 + 4.8), rel=0.003)
    page = at_bench(client, batch, "pours", how="typed", amount=f"{asked:g}")
    assert f"{asked:.2f} g from lot OL-1 (typed)" in page
    assert left(client, "OL-1") == pytest.approx(150 - asked, abs=1)
    for _ in range(2):
        at_bench(client, batch, "pours", how="typed", amount=f"{wanted(client, batch):g}")
    done = at_bench(client, batch, "pours", how="drops", drops="42")
    assert "42 drops" in done
    assert "Everything is poured" in done

    record = words(client.get(batch).text)
    assert "g were poured" in record
    assert "Olive oil (virgin), lot OL-1" in record
    assert "by what was poured" in record
    say(client, batch, "mixed", words="22 °C, clear")
    filled = say(client, batch, "fills", fills="91.1 91.3", leftover="4")
    assert "182.4 g are in 2 bottles, 4.0 g left over" in filled
    assert "cloudy" in say(client, batch, "looks", words="cloudy")
    closed = say(client, batch, "close")
    assert "Closed is closed" in closed
    assert "is closed; only remarks are added" in say(client, batch, "mixed", words="again")
    assert "it smelled of soap" in say(client, batch, "remarks", words="it smelled of soap")
    assert "Closed Face oil" in words(client.get("/making").text)


def test_what_was_really_poured_is_assessed_and_not_the_recipe(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    at_bench(client, batch, "pours", how="typed", amount="50")
    page = words(client.get(batch).text)
    assert "50.00 g in the vessel, as poured" in page
    assert re.search(r"Keeps until \d+ \w+ \d{4}, \d+ months, by what was poured", page)
    assert "50.00 g, 100.00 %" in page


def test_a_batch_is_traced_through_a_jar_and_forward_from_a_lot(client: TestClient, app: FastAPI) -> None:
    # Worked: an oil that is all of an infused lot, 30 g of that in 100 g of the batch: 30 % of the batch is that oil.
    put(client, "O-1", "olive", 500)
    put(client, "JO-1", "jojoba", 500)
    with Session(app.state.sessions.kw["bind"]) as session, session.begin():
        plants = (Steeped("Calendula", "Calendula officinalis", dissolved=0.08),)
        jar_oil = Lot("J-1", "olive", bought_g=409.3, left_g=409.3, infusion=Infusion(plants, oil_lot="O-1"))
        save_lot(session, jar_oil)
    batch = begin(client, blend(client, "30 g lot J-1\n70 g jojoba"), bottles="1 x 100 ml")
    at_bench(client, batch, "weigh/begin")
    for _ in range(2):
        at_bench(client, batch, "pours", how="typed", amount=f"{wanted(client, batch):g}")
    # 92 % of the jar's oil is O-1, and 30 % of the batch is the jar's: 27.6 % of the batch is O-1.
    assert re.search(r"Behind these lots O-1 27\.\d % of it", words(client.get(batch).text))
    number = batch.rpartition("/")[2]
    assert re.search(
        rf"It went into Batch {number} 2\d\.\d\d g, (29|30)\.\d % of it", words(client.get("/shelf/lots/J-1").text)
    )


def test_what_was_left_over_does_not_go_into_itself(client: TestClient) -> None:
    batch = made(client)
    number = batch.rpartition("/")[2]
    say(client, batch, "mixed")
    say(client, batch, "fills", leftover="6")
    say(client, batch, "leftover-lot")
    app: Any = client.app
    more = Measured(1_000, Taken.TYPED)
    with app.state.sessions() as session, pytest.raises(QuantityError, match="cannot go into itself"):
        confirm_pour(session, number, 0, more, f"B-{number}", expected=0, by="", token=number)


def test_a_line_is_left_out_and_a_batch_given_up_with_a_reason(client: TestClient) -> None:
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    assert "Olive oil (virgin) left out" in at_bench(client, batch, "left-out")
    assert "Say why" in say(client, batch, "abandon")
    given_up = say(client, batch, "abandon", why="the phone rang")
    assert "the phone rang" in given_up
    assert "Closed is closed" in given_up


def test_what_is_left_over_is_a_lot_and_a_further_batch_is_two_taps_away(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client))
    assert "Everything is poured" in pour_all(client, batch)
    say(client, batch, "mixed")
    assert "bottles; give one for each" in say(client, batch, "fills", fills="1 2 3")
    say(client, batch, "fills", leftover="6")
    made = say(client, batch, "leftover-lot")
    assert "Left 6 of 6 g" in made
    assert "Left over from batch" in made
    again = re.search(r'href="(/blends/[^"]*/make\?[^"]*)"', client.get(batch).text)
    assert again
    page = client.get(again[1].replace("&amp;", "&")).text
    assert "2 × 100 mL" in words(page)
    assert "Begin this batch" in words(page)


def test_a_batch_goes_on_paper_before_and_after(client: TestClient) -> None:
    batch = made(client)
    number = batch.rpartition("/")[2]

    def paper() -> str:
        reader = PdfReader(BytesIO(client.get(f"{batch}.pdf").content))
        return " ".join(" ".join(each.extract_text() for each in reader.pages).split())

    sheet = paper()
    assert f"Face oil, batch {number}" in sheet
    assert "Bench at °C ____________" in sheet
    assert "OL-1" in sheet
    say(client, batch, "mixed")
    say(client, batch, "fills")
    say(client, batch, "close")
    record = paper()
    assert "Bench at °C" not in record
    assert "Bottle 2: " in record
    assert re.search(r"Best before \d+ \w+ \d{4}, as it was closed", record)


def test_what_is_left_over_is_what_was_poured_and_not_the_recipe(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client, "50 g olive\n50 g jojoba"), bottles="1 x 100 ml")
    number = batch.rpartition("/")[2]
    at_bench(client, batch, "weigh/begin")
    at_bench(client, batch, "pours", how="typed", amount="20")
    at_bench(client, batch, "left-out")
    at_bench(client, batch, "pours", how="typed", amount="80")
    at_bench(client, batch, "ways", way="leave it as it is")
    say(client, batch, "mixed")
    say(client, batch, "fills", fills="90", leftover="8")
    assert "Left 8 of 8 g" in say(client, batch, "leftover-lot")
    place = saved(client, new=f"100 g lot B-{number}", container_ml="").split("?")[0]
    page = words(client.get(f"{place}/versions/1/label").text)
    # Four fifths of it are jojoba: it stands first, and of two halves olive would.
    assert "Ingredients: Simmondsia Chinensis Seed Oil, Olea Europaea Fruit Oil" in page
