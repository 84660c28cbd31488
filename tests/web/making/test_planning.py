"""A batch is planned from lots: what ends first goes first, and what is missing, small or wrong is said."""

from __future__ import annotations

import re
from datetime import timedelta

import pytest
from fastapi.testclient import TestClient
from tests.web.conftest import saved, token, words
from tests.web.making.at_bench import at_bench, begin, blend, plan, put, put_infused, say, shelf, wanted

from uptide.core.months import say_day
from uptide.workshop.clock import today


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


def test_two_batches_of_a_day_have_two_numbers_and_an_unknown_one_is_not_there(client: TestClient) -> None:
    version = blend(client)
    first, second = begin(client, version), begin(client, version)
    assert (first[-2:], second[-2:]) == ("-1", "-2")
    assert client.get("/making/20200101-1").status_code == 404
    assert client.get("/making/20200101-1/weigh").status_code == 404


def test_the_bench_saves_what_stands_and_goes_on_to_make_it(client: TestClient) -> None:
    assert saved(client, then="make").endswith("/versions/1/make")


def test_plain_oil_is_not_taken_from_an_infused_lot(client: TestClient) -> None:
    shelf(client)
    put_infused(client, "J-1", "St John’s wort")  # it ends first
    version = blend(client)
    assert "J-1" not in plan(client, version)
    batch = begin(client, version)
    at_bench(client, batch, "weigh/begin")
    refused = at_bench(client, batch, "pours", how="typed", amount="50", code="J-1")
    assert "Lot J-1 is St John’s wort in olive oil (virgin), lot J-1, and Olive oil (virgin) is due" in refused
    # A row that names the lot is poured from it.
    assert re.search(r"\d g of J-1", plan(client, blend(client, "60 g lot J-1\n40 g jojoba"), bottles="1 x 30 ml"))
    # Steeped once more, it is no longer what the lot is.
    twice = plan(client, blend(client, "60 g lot J-1 infused with rose\n40 g jojoba"), bottles="1 x 30 ml")
    assert "St John’s wort in olive oil (virgin), lot J-1 infused with rose" in twice
    assert not re.search(r"\d g of J-1", twice)


def test_an_oil_that_a_row_says_is_infused_stays_so_in_plan_record_and_label(client: TestClient) -> None:
    shelf(client)
    version = blend(client, "60 g olive oil infused with st john's wort\n40 g jojoba")
    page = plan(client, version, bottles="1 x 30 ml")
    assert "Olive oil (virgin) infused with st john's wort" in page
    assert "OL-1" not in page  # that is plain oil
    batch = begin(client, version, bottles="1 x 30 ml")
    at_bench(client, batch, "weigh/begin")
    for _ in range(2):
        at_bench(client, batch, "pours", how="typed", amount=f"{wanted(client, batch):g}")
    assert "Olive oil (virgin) infused with st john's wort" in words(client.get(batch).text)
    say(client, batch, "mixed")
    label = words(client.get(f"{batch}/labels").text)
    assert "Hypericum Perforatum" in label
    pot = begin(client, version, scents="A: 1 x 30 ml; 2 drops lavender\nB: 1 x 30 ml", order="carriers-first")
    part = re.search(r'class="go" href="(/making/[\d-]+)">batch', client.get(pot).text)
    assert part


def test_what_is_diluted_is_not_taken_from_a_lot_of_it_neat(client: TestClient) -> None:
    put(client, "RE-1", "retinol", 50)
    page = plan(client, blend(client, "5 g retinol 10% in MCT\n95 g jojoba"), bottles="1 x 30 ml")
    assert "Retinol, 10 % in" in page
    assert "RE-1" not in page


def test_what_nobody_measured_is_in_the_record_its_label_and_what_is_left_over(client: TestClient) -> None:
    shelf(client)
    batch = begin(client, blend(client, "60 g olive\n40 g jojoba\na blob of sesame"), bottles="1 x 30 ml")
    at_bench(client, batch, "weigh/begin")
    for _ in range(2):
        at_bench(client, batch, "pours", how="typed", amount=f"{wanted(client, batch):g}")
    say(client, batch, "mixed")
    label = words(client.get(f"{batch}/labels").text)
    assert "Sesamum Indicum" in label
    assert "Not measured: Sesame" in label
    say(client, batch, "fills", leftover="5")
    say(client, batch, "leftover-lot")
    kept = words(client.get(f"/shelf/lots/B-{batch.rpartition('/')[2]}").text)
    assert "sesame" in kept.casefold()
