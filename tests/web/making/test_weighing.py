"""A batch is weighed by a scale, typed or in drops; too much has its ways out, and nothing is written twice."""

from __future__ import annotations

import re
import time
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any, cast

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.web.conftest import token, words
from tests.web.making.at_bench import at_bench, begin, blend, left, shelf, wanted

from uptide.store.batches import load_batch
from uptide.store.ledger import movements_of
from uptide.store.models import BatchRow
from uptide.workshop.desk import Desk
from uptide.workshop.making import as_it_would_be
from uptide.workshop.scale import OnScale, Scale


@dataclass
class ScaleInTheTest:
    """A scale that shows what the test says."""

    grams: float | None = 0.0
    stable: bool = True
    practice: None = None
    fault: str = ""
    moments: list[tuple[float, float, bool]] = field(default_factory=list)
    fell: tuple[float, datetime | None] = (0.0, None)

    def now(self) -> OnScale:
        return OnScale(self.grams, self.stable, False, self.fault, tuple(self.moments), *self.fell)

    def start(self) -> None: ...

    def stop(self) -> None: ...


@pytest.fixture
def scale(app: FastAPI) -> ScaleInTheTest:
    made = ScaleInTheTest()
    app.state.desk = Desk(cast("Scale", made))
    return made


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
        ({"how": "drops", "drops": "some"}, "is not a number of drops"),
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


def test_a_tare_pressed_in_the_middle_of_a_pour_stops_it_until_it_is_put_right(
    client: TestClient, scale: ScaleInTheTest
) -> None:
    shelf(client)
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")  # on a vessel that was tared at the device: it shows nothing
    scale.grams, scale.fell = 10.0, (30.0, datetime.now(UTC))
    asked = words(client.get(f"{batch}/weigh").text)
    assert "30.0 g lay on it, and then nothing: was it tared, or all taken off?" in asked
    assert "30.0 g lay on it" in at_bench(client, batch, "pours", how="scale")
    assert left(client, "OL-1") == 150
    # Lifted off and put back, or begun anew since, it is what it was.
    scale.grams = 29.8
    assert "30.0 g lay on it" not in words(client.get(f"{batch}/weigh").text)
    scale.grams = 10.0
    at_bench(client, batch, "weigh/begin")
    assert "30.0 g lay on it" not in words(client.get(f"{batch}/weigh").text)


def test_drops_of_what_was_to_be_weighed_count_by_the_dropper_of_the_plan(client: TestClient) -> None:
    shelf(client)
    version = blend(client, "80 g olive\n20 g lavender")
    batch = begin(client, version)
    app: Any = client.app
    with app.state.sessions() as session, session.begin():
        row = session.query(BatchRow).one()
        row.plan = row.plan | {"drops_per_ml": 40.0}  # as it is frozen where the own dropper gives so many
    at_bench(client, batch, "weigh/begin")
    at_bench(client, batch, "pours", how="typed", amount=f"{wanted(client, batch):g}")
    # 400 drops of 40 to the mL are 10 mL of lavender, of 0.88 g/mL.
    assert re.search(
        r"Lavender \(true\) essential oil: 8.8\d g from lot LA-1 \(400 drops\)",
        at_bench(client, batch, "pours", how="drops", drops="400"),
    )


def test_a_way_out_takes_the_carrier_of_a_dilution_with_it(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client, "99.5 g olive\n0.5 g lavender"), step="0.1", small="10 % dilution")
    app: Any = client.app
    with app.state.sessions() as session:
        record = load_batch(session, batch.rpartition("/")[2])
    would = as_it_would_be(record, record.targets)
    assert sum(each.grams for each in would) == pytest.approx(sum(record.targets) / 1000)
    lavender = sum(each.grams for each in would if each.name.startswith("Lavender"))
    assert 100 * lavender / sum(each.grams for each in would) == pytest.approx(0.5, abs=0.01)


def test_after_a_way_out_the_vessel_is_weighed_afresh_and_never_counted_as_a_pour(
    client: TestClient, scale: ScaleInTheTest
) -> None:
    shelf(client)
    scale.grams = 250.0
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    scale.grams = 375.0
    at_bench(client, batch, "pours", how="scale")
    chosen = at_bench(client, batch, "ways", way="take some out and go on")
    assert "Begin once it is the vessel" in chosen
    assert "Nobody weighed what stood on the scale" in at_bench(
        client, batch, "pours", how="scale", position="1", code="JO-1"
    )
    scale.grams = 359.0
    begun = at_bench(client, batch, "weigh/begin")
    assert "0.0 g" in begun


def test_a_pour_that_is_taken_back_is_the_next_one_again(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    at_bench(client, batch, "pours", how="typed", amount=f"{wanted(client, batch):g}")
    assert "2 of 4" in words(client.get(f"{batch}/weigh").text)
    back = at_bench(client, batch, "voids", of="2")
    assert "1 of 4" in back
    assert "Weigh into one vessel" in back


def test_what_a_batch_took_is_not_taken_back_on_the_page_of_its_lot(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    at_bench(client, batch, "pours", how="typed", amount="50")
    page = client.get("/shelf/lots/OL-1").text
    assert "-50.00 g used, batch" in words(page)
    assert "/take-back" not in page
    app: Any = client.app
    with app.state.sessions() as session:
        number = movements_of(session, "OL-1")[0].id
    form = {"token": token(client, "/shelf/lots/OL-1")}
    answer = client.post(f"/shelf/lots/OL-1/movements/{number}/take-back", data=form)
    assert "take it back there" in words(answer.text)
    assert left(client, "OL-1") == 100


def test_nobody_pours_one_oil_as_another(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client))
    at_bench(client, batch, "weigh/begin")
    wrong = at_bench(client, batch, "pours", how="typed", amount="50", code="JO-1")
    assert "and Olive oil (virgin) is due" in wrong
    assert left(client, "JO-1") == 500
    assert "from lot OL-2" in at_bench(client, batch, "pours", how="typed", amount="50", code="OL-2")


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


def test_the_practice_scale_is_one_tap_away(app: FastAPI, client: TestClient) -> None:
    batch = begin(client, blend(client))
    page = client.get(f"{batch}/weigh")
    assert "Use the practice scale" in words(page.text)
    form = {"token": token(client, f"{batch}/weigh"), "grams": "250", "back": f"{batch}/weigh"}
    answer = client.post("/making/practice-scale", data=form, follow_redirects=False)
    assert answer.headers["location"] == f"{batch}/weigh"
    until = time.monotonic() + 5
    while (app.state.desk.on_scale().grams or 0.0) < 249.5 and time.monotonic() < until:
        time.sleep(0.02)
    assert app.state.desk.on_scale().grams == pytest.approx(250, abs=0.5)
    elsewhere = client.post(
        "/making/practice-scale", data=form | {"back": "https://example.org"}, follow_redirects=False
    )
    assert elsewhere.headers["location"] == "/making"
