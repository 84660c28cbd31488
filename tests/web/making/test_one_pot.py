"""One base for several scents: planned as one, weighed one after the other, each assessed and labelled as it is."""

from __future__ import annotations

import re
from typing import Any

import pytest
from fastapi.testclient import TestClient
from tests.web.conftest import token, words
from tests.web.making.at_bench import at_bench, begin, blend, plan, put, shelf, wanted

from uptide.store.batches import load_batch
from uptide.store.shelf import all_lots

SCENTS = "Morning: 3 x 30 ml; 1% sweet orange\nEvening: 2 x 30 ml; 6 drops lavender\nPlain: 1 x 50 ml"


def pot(client: TestClient) -> tuple[str, list[str]]:
    """A base and its parts, by their addresses."""
    shelf(client)
    put(client, "OR-1", "sweet-orange", 20)
    base = begin(client, blend(client), scents=SCENTS, order="carriers-first")
    parts = re.findall(r'class="go" href="(/making/[\d-]+)">batch', client.get(base).text)
    return base, parts


def pour_whole(client: TestClient, batch: str, pours: int) -> str:
    at_bench(client, batch, "weigh/begin")
    page = ""
    for _ in range(pours):
        page = at_bench(client, batch, "pours", how="typed", amount=f"{wanted(client, batch):g}")
    return page


def say(client: TestClient, batch: str, step: str, **fields: str) -> str:
    seq = re.search(r'name="seq" value="(\d+)"', client.get(batch).text)
    form = {"token": token(client, batch), "seq": seq[1] if seq else "0"} | fields
    return words(client.post(f"{batch}/{step}", data=form).text)


def test_a_pot_is_planned_as_one_with_the_scent_of_each_part_and_that_of_the_recipe_in_none(client: TestClient) -> None:
    shelf(client)
    page = plan(client, blend(client), scents=SCENTS)
    assert "One pot for Morning, Evening and Plain" in page
    assert "In none of them unless a line says so: 1 g lavender." in page
    assert re.search(r"Evening 2 × 30 mL: .*?Lavender \(true\) essential oil 6 drops lavender 0.2\d 6 drops", page)
    assert "Plain 1 × 50 mL: 4" in page
    # 81.3 g in the bottles of Morning and 5.2 g lost on the way: 1 % of that is scent.
    base = float(re.findall(r"The base the base ([\d.]+) weighed the pot", page)[0])
    orange = float(re.findall(r"1% sweet orange ([\d.]+)", page)[0])
    assert 100 * orange / (base + orange) == pytest.approx(1, abs=0.05)


def test_lots_that_two_parts_share_are_taken_from_once(client: TestClient) -> None:
    put(client, "LA-1", "lavender", 6.5)
    put(client, "OL-1", "olive", 500)
    version = blend(client, "100 g olive")
    both = "A: 1 x 30 ml; 3 g lavender\nB: 1 x 30 ml; 3 g lavender"
    page = plan(client, version, scents=both, step="0.01")
    assert "3.00 g of LA-1" in page
    assert re.search(r"B 1 × 30 mL.*?3.00 weighed 1.50 g of LA-1 1.5 g are missing", page)  # 2 g of it stay as its heel


@pytest.mark.parametrize(
    ("said", "why"),
    [
        ("three bottles", "has no name before a colon"),
        ("Morning:", "says no bottles"),
        ("Morning: many", "is read as no bottles"),
        ("A: 1 x 30\na: 1 x 30", "Two scents are called"),
        ("A: 1 x 30; 1% unicorn tears", "unicorn tears"),
        ("A: 1 x 30; 90 g lavender", "come to more than"),
    ],
)
def test_a_scent_that_cannot_be_planned_says_why_beside_its_field(client: TestClient, said: str, why: str) -> None:
    answer = client.get(f"{blend(client)}/make", params={"scents": said})
    assert answer.status_code == 422
    assert why in words(answer.text)
    assert said.split("\n")[0] in answer.text


def test_a_part_waits_for_its_base_and_then_pours_from_it(client: TestClient) -> None:
    base, parts = pot(client)
    assert len(parts) == 3
    waiting = words(client.get(f"{parts[0]}/weigh").text)
    assert f"Its base comes first: weigh and mix batch {base.rpartition('/')[2]}" in waiting
    at_bench(client, parts[0], "weigh/begin")
    refused = at_bench(client, parts[0], "pours", how="typed", amount="50")
    assert "Its base is not mixed yet" in refused
    pour_whole(client, base, 3)
    mixed = say(client, base, "mixed", celsius="24.5", words="clear")
    assert "Mixed at 24.5 °C: clear" in mixed
    assert "it stands on the shelf as lot B-" in mixed
    assert "Its base comes first" not in words(client.get(f"{parts[0]}/weigh").text)
    at_bench(client, parts[0], "pours", how="typed", amount=f"{wanted(client, parts[0]):g}")
    at_bench(client, parts[0], "pours", how="typed", amount=f"{wanted(client, parts[0]):g}")
    record = words(client.get(parts[0]).text)
    assert "Morning, batch" in record
    assert "Behind these lots OL-1" in record
    label = words(client.get(f"{parts[0]}/labels").text)
    assert "Morning" in label
    assert re.search(r"Ingredients: Olea Europaea \(Olive\) Fruit Oil, Simmondsia|Ingredients: Olea", label)


def test_of_the_base_all_that_was_poured_is_on_the_shelf_and_the_parts_take_it_from_there(client: TestClient) -> None:
    base, parts = pot(client)
    pour_whole(client, base, 3)
    say(client, base, "mixed")
    app: Any = client.app
    with app.state.sessions() as session:
        record = load_batch(session, base.rpartition("/")[2])
        lot = next(each for each in all_lots(session) if each.code.startswith("B-"))
    assert record.balance.loss == 0
    assert lot.left_g == pytest.approx(record.balance.poured / 1000)
    for part, pours in zip(parts, (2, 2, 1), strict=True):
        pour_whole(client, part, pours)
    with app.state.sessions() as session:
        lot = next(each for each in all_lots(session) if each.code.startswith("B-"))
    assert lot.left_g == pytest.approx(4.4, abs=0.6)  # the film of the pot, and what was rounded


def test_mixed_at_no_temperature_stands_beside_its_field(client: TestClient) -> None:
    base, _ = pot(client)
    pour_whole(client, base, 3)
    assert "400 °C is no bench" in say(client, base, "mixed", celsius="400", words="kept")
    assert (
        'value="kept"'
        in client.post(
            f"{base}/mixed", data={"token": token(client, base), "seq": "9", "celsius": "x", "words": "kept"}
        ).text
    )


def test_a_pot_is_made_again_with_its_scents(client: TestClient) -> None:
    base, _ = pot(client)
    again = re.search(r'href="([^"]*make\?[^"]*)"', client.get(base).text)
    assert again
    assert "One pot for Morning, Evening and Plain" in words(client.get(again[1].replace("&amp;", "&")).text)
    assert "Morning" in words(client.get("/making").text)


def test_a_base_that_is_on_the_shelf_changes_no_more(client: TestClient) -> None:
    base, _ = pot(client)
    pour_whole(client, base, 3)
    say(client, base, "mixed")
    number = base.rpartition("/")[2]
    kept = f"Batch {number} is mixed and stands on the shelf as lot B-{number}"
    app: Any = client.app
    with app.state.sessions() as session:
        poured = load_batch(session, number).pours[0].seq
    assert kept in at_bench(client, base, "voids", of=str(poured))
    assert kept in at_bench(client, base, "pours", position="0", how="typed", amount="5")
    assert kept in at_bench(client, base, "left-out", position="0")


def test_a_part_is_labelled_with_what_was_steeped_in_its_base(client: TestClient) -> None:
    version = blend(client, "60 g olive oil infused with st john's wort\n40 g jojoba")
    base = begin(client, version, scents="A: 1 x 30 ml; 9 drops lavender", order="carriers-first")
    part = re.findall(r'class="go" href="(/making/[\d-]+)">batch', client.get(base).text)[0]
    pour_whole(client, base, 2)
    say(client, base, "mixed")
    pour_whole(client, part, 2)
    assert "Hypericum Perforatum" in words(client.get(f"{part}/labels").text)
