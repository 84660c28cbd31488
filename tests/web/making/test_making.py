"""A batch from plan to closed record: from lots, by a scale, typed or in drops, and nothing of it written twice."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from datetime import timedelta
from io import BytesIO
from pathlib import Path
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from pypdf import PdfReader
from sqlalchemy.orm import Session
from tests.web.conftest import saved, token, words

from uptide.core.ingredients.infusion import Infusion, Steeped
from uptide.core.ingredients.lot import Lot
from uptide.core.months import say_day
from uptide.devices.printer import SpoolPrinter
from uptide.store.shelf import save_lot
from uptide.workshop.clock import today
from uptide.workshop.scale import OnScale

RECIPE = "60 g olive\n30 g jojoba\n9 g squalane\n1 g lavender"


@dataclass
class ScaleInTheTest:
    """A scale that shows what the test says."""

    grams: float | None = 0.0
    stable: bool = True
    practice: None = None
    fault: str = ""
    moments: list[tuple[float, float, bool]] = field(default_factory=list)

    def now(self) -> OnScale:
        return OnScale(self.grams, self.stable, fault=self.fault, moments=tuple(self.moments))

    def start(self) -> None: ...

    def stop(self) -> None: ...


@pytest.fixture
def scale(app: FastAPI) -> ScaleInTheTest:
    made = ScaleInTheTest()
    app.state.scale = made
    return made


def put(client: TestClient, code: str, oil: str, grams: float, days: int = 300) -> None:
    """Put a lot on the shelf; by the store, since its form has tests of its own."""
    ends = today() + timedelta(days=days)
    lot = Lot(code, oil, best_before=ends, bought_g=grams, left_g=grams, price=grams / 100, currency="GBP")
    app: Any = client.app
    with app.state.sessions() as session, session.begin():
        save_lot(session, lot)


def shelf(client: TestClient) -> None:
    put(client, "OL-1", "olive", 150, 200)
    put(client, "OL-2", "olive", 1000, 400)
    put(client, "JO-1", "jojoba", 500)
    put(client, "SQ-1", "squalane", 45)
    put(client, "LA-1", "lavender", 30)


def blend(client: TestClient, recipe: str = RECIPE) -> str:
    """The address of a version of a new blend."""
    found = re.search(r"/blends/(\d+)", saved(client, new=recipe, container_ml=""))
    assert found
    return f"/blends/{found[1]}/versions/1"


def plan(client: TestClient, version: str, **said: str) -> str:
    answer = client.get(f"{version}/make", params={"bottles": "6 x 100 ml"} | said)
    return words(answer.text)


def begin(client: TestClient, version: str, **said: str) -> str:
    form = {"bottles": "2 x 100 ml", "token": token(client, "/shelf/lots/new")} | said
    answer = client.post(f"{version}/make", data=form, follow_redirects=False)
    assert answer.status_code == 303, words(answer.text)
    return answer.headers["location"].split("?")[0]


def at_bench(client: TestClient, batch: str, action: str, **fields: str) -> str:
    page = client.get(f"{batch}/weigh").text
    seq = re.search(r'name="seq"\s+value="(\d+)"', page)
    form = {"token": token(client, f"{batch}/weigh"), "seq": seq[1] if seq else "0"}
    found = re.search(r'name="position"\s+value="(\d+)"', page)
    form |= {"position": found[1]} if found else {}
    code = re.search(r'name="code"\s+value="([^"]*)"', page)
    form |= {"code": code[1]} if code else {}
    return words(client.post(f"{batch}/{action}", data=form | fields).text)


def wanted(client: TestClient, batch: str) -> float:
    """What the bench asks for [g]."""
    found = re.search(r'class="wanted">\s*<b>([\d.]+)</b>', client.get(f"{batch}/weigh").text)
    assert found
    return float(found[1])


def pour_all(client: TestClient, batch: str) -> str:
    """Pour what is asked for, typed; drops for the last."""
    at_bench(client, batch, "weigh/begin")
    for _ in range(3):
        at_bench(client, batch, "pours", how="typed", amount=f"{wanted(client, batch):g}")
    return at_bench(client, batch, "pours", how="drops", amount="42")


def say(client: TestClient, batch: str, action: str, **fields: str) -> str:
    seq = re.search(r'name="seq"\s+value="(\d+)"', client.get(batch).text)
    form = {"token": token(client, batch), "seq": seq[1] if seq else "0"}
    return words(client.post(f"{batch}/{action}", data=form | fields).text)


def left(client: TestClient, code: str) -> float:
    found = re.search(r"Left ([\d ]+) of", words(client.get(f"/shelf/lots/{code}").text))
    assert found
    return float(found[1].replace("\u2009", ""))


def test_a_plan_takes_what_ends_first_and_says_what_it_costs_and_lacks(client: TestClient) -> None:
    shelf(client)
    page = plan(client, blend(client), each_costs="0.70")
    # 540 g for six of 100 mL: 324 g olive, of which the older lot gives all but its heel of 2 g.
    assert "g of OL-1 and" in page
    assert "148.00 g of OL-1" in page
    assert re.search(r"43.00 g of SQ-1 5.\d g are missing: buy 7 mL, about 0.0\d GBP as", page)  # 2 g stay as its heel
    assert "Costs" in page
    assert "with container and label" in page
    assert "6 × 100 mL:" in page
    assert "6.4 g for loss: 4 g on vessel and spout, 0.4 g with every bottle" in page


def test_another_lot_can_be_taken_first(client: TestClient) -> None:
    shelf(client)
    version = blend(client)
    assert (
        f"The first of its lots to end is OL-1 of Olive oil (virgin), on {say_day(today() + timedelta(days=200))}"
        in (plan(client, version))
    )
    other = plan(client, version, **{"lot-0": "OL-2"})
    assert "g of OL-1" not in other
    assert "g of OL-2" in other


@pytest.mark.parametrize(
    ("said", "place", "why"),
    [
        ({"bottles": "six"}, "bottles", "is read as no bottles"),
        ({"loss": "much"}, "loss", "is not a loss in percent"),
        ({"leftover": "x"}, "leftover", "is not a leftover"),
        ({"made": "1999-01-01"}, "made", "is no day of making"),
        ({"order": "upside down"}, "order", "There is no order"),
        ({"step": "0.5"}, "step", "is not known"),
        ({"small": "guess"}, "small", "is none of"),
        ({"celsius": "400"}, "celsius", "is no bench"),
        ({"each_costs": "free"}, "each_costs", "is not a price"),
    ],
)
def test_what_cannot_be_planned_stands_beside_its_field(
    client: TestClient, said: dict[str, str], place: str, why: str
) -> None:
    version = blend(client)
    answer = client.get(f"{version}/make", params=said)
    assert answer.status_code == 422
    assert why in words(answer.text)
    assert f'id="error-{place}"' in answer.text
    form = said | {"token": token(client, "/shelf/lots/new")}
    assert client.post(f"{version}/make", data=form).status_code == 422
    assert "Nothing was made yet" in words(client.get("/making").text)


def test_small_things_are_counted_or_diluted_and_said(client: TestClient) -> None:
    version = blend(client, "100 g olive\n0.3 g lavender")
    drops = plan(client, version, bottles="1 x 50 ml", step="1")
    assert "drops, known to" in drops
    diluted = plan(client, version, bottles="1 x 100 ml", step="0.1", small="10 % dilution")
    assert "of a 10 % dilution in the carrier" in diluted


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
    done = at_bench(client, batch, "pours", how="drops", amount="42")
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


def test_a_form_sent_twice_is_one_pour_and_one_from_an_older_page_is_refused(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    form = {"token": token(client, f"{batch}/weigh"), "seq": "1", "position": "0", "code": "OL-1"}
    form |= {"how": "typed", "amount": "50"}
    for _ in range(2):
        assert client.post(f"{batch}/pours", data=form, follow_redirects=False).status_code == 303
    assert left(client, "OL-1") == 100
    stale = client.post(f"{batch}/pours", data=form | {"token": token(client, f"{batch}/weigh")})
    assert stale.status_code == 409
    assert "Something was written since" in words(stale.text)
    assert left(client, "OL-1") == 100


def test_a_pour_is_taken_back_and_the_lot_has_it_again(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    at_bench(client, batch, "pours", how="typed", amount="50")
    page = at_bench(client, batch, "voids", of="2")
    assert "Pour 2 taken back" in page
    assert left(client, "OL-1") == 150
    assert "has no pour 2 that could be taken back" in at_bench(client, batch, "voids", of="2")


@pytest.mark.parametrize(
    ("fields", "why"),
    [
        ({"how": "typed", "amount": "much"}, "is not a weight in grams"),
        ({"how": "typed", "amount": "0"}, "Nothing was poured"),
        ({"how": "drops", "amount": "some"}, "is not a number of drops"),
        ({"how": "guess", "amount": "5"}, "is none of scale"),
        ({"how": "scale"}, "There is no scale"),
        ({"how": "typed", "amount": "5", "position": "99"}, "has no line 100"),
        ({"how": "typed", "amount": "5", "code": "XX"}, "There is no lot"),
    ],
)
def test_a_pour_that_cannot_be_is_said_and_writes_nothing(client: TestClient, fields: dict[str, str], why: str) -> None:
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    assert why in at_bench(client, batch, "pours", **fields)
    assert "Nothing yet" in words(client.get(batch).text)


def test_an_overpour_offers_every_way_out_with_what_it_does(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    page = at_bench(client, batch, "pours", how="typed", amount="125")
    assert "% more than it should be" in page
    for title in ("Make more of it", "Leave it as it is", "Take some out and go on", "Take a little out"):
        assert title in page
    assert "of the mixture out; it goes back into no lot" in page
    assert "The ingredients stay in their order on the label" in page
    assert "1 of 4" not in page  # nothing is poured before one is chosen
    after = at_bench(client, batch, "ways", way="make more of it")
    assert "Amounts changed: make more of it" in after
    assert re.search(r"Jojoba oil \(liquid wax\) – of 6\d\.\d\d g", after)


def test_mixture_that_is_taken_out_is_out_and_its_pours_cannot_be_taken_back(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    at_bench(client, batch, "pours", how="typed", amount="125")
    page = at_bench(client, batch, "ways", way="take some out and go on")
    assert "g of the mixture taken out: take some out and go on" in page
    assert left(client, "OL-1") == 25
    assert "some of this pour went with it" in at_bench(client, batch, "voids", of="2")
    assert "is no way out" in at_bench(client, batch, "ways", way="pray")


def test_everything_between_is_said_in_percent(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    at_bench(client, batch, "pours", how="typed", amount="125")
    between = {"way": "take a little out and make a little more"}
    assert "is not a part in percent" in at_bench(client, batch, "ways", **between, part="some")
    assert "4.00 g of the mixture taken out" in at_bench(client, batch, "ways", **between, part="3.2")


def test_too_much_scent_is_thinned_with_carriers_alone(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    for _ in range(3):
        assert "Thin it with carriers alone" not in at_bench(
            client, batch, "pours", how="typed", amount=f"{wanted(client, batch):g}"
        )
    page = at_bench(client, batch, "pours", how="typed", amount="3")
    assert "Thin it with carriers alone" in page
    thinned = at_bench(client, batch, "ways", way="thin it with carriers alone")
    assert "Amounts changed: thin it with carriers alone" in thinned
    assert re.search(r"Olive oil \(virgin\) 1\d\d\.\d\d of 1\d\d\.\d\d g", thinned)
    assert "Lavender (true) essential oil 3.00 of 3.00 g" in thinned


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
    assert "cannot go into itself" in at_bench(
        client, batch, "pours", how="typed", amount="1", position="0", code=f"B-{number}"
    )


def test_the_scale_is_tared_per_pour_and_what_it_says_is_written(client: TestClient, scale: ScaleInTheTest) -> None:
    shelf(client)
    scale.grams = 250.0
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    olive = wanted(client, batch)
    scale.grams = 250 + olive
    page = words(client.get(f"{batch}/weigh").text)
    assert f"{olive:.1f} g" in page
    assert "In the band" in page
    assert f"{olive:.2f} g from lot OL-1 (scale)" in at_bench(client, batch, "pours", how="scale")
    # The next pour begins where this one ended: its tare is in software.
    assert "0.0 g" in words(client.get(f"{batch}/weigh").text)
    scale.grams += 26.5
    assert "26.5 g" in words(client.get(f"{batch}/weigh").text)
    scale.grams = 1.0
    tared = words(client.get(f"{batch}/weigh").text)
    assert "was it tared, or something taken off?" in tared
    assert f"Vessel and contents should weigh {250 + olive:.1f} g." in tared
    at_bench(client, batch, "weigh/begin")
    jojoba = wanted(client, batch)
    scale.grams = 1 + jojoba
    assert f"{jojoba:.2f} g from lot JO-1 (scale)" in at_bench(client, batch, "pours", how="scale")
    scale.grams, scale.fault = None, "no reading for 12 s"
    assert "no reading for 12 s" in words(client.get(f"{batch}/weigh").text)
    assert "The scale says nothing: no reading for 12 s" in at_bench(client, batch, "pours", how="scale")
    assert "(typed)" in at_bench(client, batch, "pours", how="typed", amount="16.8")


def test_a_pour_that_was_begun_is_found_again_with_what_was_poured_meanwhile(
    client: TestClient, scale: ScaleInTheTest
) -> None:
    shelf(client)
    scale.grams = 250.0
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    scale.grams = 310.0  # the page is closed, and the program with it
    page = words(client.get(f"{batch}/weigh").text)
    assert "1 of 4, from lot OL-1" in page
    assert "60.0 g" in page
    assert f"{wanted(client, batch) - 60:.1f} g more." in page


def test_a_second_device_watches_until_it_takes_over(app: FastAPI, client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    other = TestClient(app)
    page = words(other.get(f"{batch}/weigh").text)
    assert "Another device pours; this one watches" in page
    assert "It is in" not in page
    refused = at_bench(other, batch, "pours", how="typed", amount="5", position="0", code="OL-1")
    assert "Another device pours this batch: take the bench over first" in refused
    at_bench(other, batch, "take-over")
    assert "5.00 g from lot OL-1" in at_bench(other, batch, "pours", how="typed", amount="5")
    assert "Another device pours" in words(client.get(f"{batch}/weigh").text)


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


def test_two_batches_of_a_day_have_two_numbers_and_an_unknown_one_is_not_there(client: TestClient) -> None:
    version = blend(client)
    first, second = begin(client, version), begin(client, version)
    assert (first[-2:], second[-2:]) == ("-1", "-2")
    assert client.get("/making/20200101-1").status_code == 404
    assert client.get("/making/20200101-1/weigh").status_code == 404


def test_the_bench_saves_what_stands_and_goes_on_to_make_it(client: TestClient) -> None:
    assert saved(client, then="make").endswith("/versions/1/make")


def test_the_practice_scale_is_one_tap_away(app: FastAPI, client: TestClient) -> None:
    batch = begin(client, blend(client))
    page = client.get(f"{batch}/weigh")
    assert "Use the practice scale" in words(page.text)
    form = {"token": token(client, f"{batch}/weigh"), "grams": "100", "back": f"{batch}/weigh"}
    answer = client.post("/making/practice-scale", data=form, follow_redirects=False)
    assert answer.headers["location"] == f"{batch}/weigh"
    assert app.state.scale.practice.pan.pouring + app.state.scale.practice.pan.load == pytest.approx(100)
    elsewhere = client.post(
        "/making/practice-scale", data=form | {"back": "https://example.org"}, follow_redirects=False
    )
    assert elsewhere.headers["location"] == "/making"


def made(client: TestClient) -> str:
    shelf(client)
    batch = begin(client, blend(client), made_by="Bo")
    pour_all(client, batch)
    return batch


def test_labels_say_what_was_poured_as_many_as_there_are_bottles(client: TestClient) -> None:
    batch = made(client)
    asked = {"sheet": "a4-63x72", "maker": "Skerry Row, Harbour Lane 3", "directions": "Two drops at night."}
    page = client.get(f"{batch}/labels", params=asked)
    said = words(page.text)
    assert "2 bottles, 1 to a bottle: 1 page" in said
    assert f"Batch {batch.rpartition('/')[2]}. Made {say_day(today()).rpartition(' ')[0]}" in said
    assert 'width="63.5mm"' in page.text
    assert 'class="code"' in page.text
    assert "Who answers for it" not in said
    assert "Who answers for it" in words(client.get(f"{batch}/labels").text)
    pdf = client.get(f"{batch}/labels.pdf", params=asked)
    text = "".join(each.extract_text() for each in PdfReader(BytesIO(pdf.content)).pages)
    assert text.count("Skerry Row, Harbour Lane 3") == 2
    assert text.count("Linalool") == 2
    assert client.get(f"{batch}/labels.png", params=asked).content.startswith(b"\x89PNG")
    assert client.get(f"{batch}/labels/outlines.pdf", params=asked).content.startswith(b"%PDF")


@pytest.mark.parametrize(
    ("asked", "why"),
    [
        ({"sheet": "papyrus"}, "There is no sheet “papyrus”"),
        ({"sheet": "single", "width": "5"}, "cannot be set"),
        ({"sheet": "single", "width": "wide"}, "is not a width in mm"),
        ({"sheet": "single", "width": "30", "height": "12"}, "take a larger label"),
    ],
)
def test_labels_that_cannot_be_set_say_why(client: TestClient, asked: dict[str, str], why: str) -> None:
    batch = made(client)
    answer = client.get(f"{batch}/labels", params=asked)
    assert answer.status_code == 422
    assert why in words(answer.text)


def test_before_anything_is_poured_there_is_no_label(client: TestClient) -> None:
    batch = begin(client, blend(client))
    assert "Nothing was poured yet" in words(client.get(f"{batch}/labels").text)


def test_labels_go_into_the_spool_once(app: FastAPI, client: TestClient, tmp_path: Path) -> None:
    batch = made(client)
    refused = client.post(f"{batch}/labels/print", data={"token": token(client, batch)})
    assert "There is no label printer" in words(refused.text)
    app.state.printer = SpoolPrinter(tmp_path / "spool")
    form = {"token": token(client, batch), "sheet": "a4-63x72"}
    for _ in range(2):
        assert "In the spool as 0001-labels-" in words(client.post(f"{batch}/labels/print", data=form).text)
    jobs = list((tmp_path / "spool").iterdir())
    assert [job.name[:12] for job in jobs] == ["0001-labels-"]
    assert len(PdfReader(jobs[0]).pages) == 1
    client.post(f"{batch}/labels/print", data=form | {"token": token(client, batch)})
    assert len(list((tmp_path / "spool").iterdir())) == 2


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
