"""A plant of one's own is planned, strained, labelled and warned of like any other."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient
from tests.web.conftest import field, saved, token, words
from tests.web.steeping.test_jars import begin

from uptide.catalogue.shipped import shipped_plants
from uptide.core.infusion.own_plant import OwnPlant, own_facts


def keep(client: TestClient, **fields: object) -> str:
    plain = {"name": "Sea holly", "like": "burdock", "botanical_name": "Eryngium maritimum"}
    form = {"token": token(client, "/steeping/plants"), **plain, **fields}
    return client.post("/steeping/plants", data=form).text


def test_it_takes_over_how_it_fills_a_jar_and_nothing_that_could_harm() -> None:
    burdock = shipped_plants()["burdock"]
    plain = own_facts(OwnPlant("Sea holly", "burdock"), shipped_plants())
    changed = own_facts(OwnPlant("Sea holly", "burdock", water_fresh=60, bulk=0.2, months_dried=6), shipped_plants())

    assert plain is not None
    assert changed is not None
    assert (plain.form, plain.uptake, plain.bulk) == (burdock.form, burdock.uptake, burdock.bulk)
    assert (plain.flags, plain.essential_oil, plain.restricted, plain.heed) == (frozenset(), (0.0, 0.0), None, "")
    assert plain.inci == "Sea holly Extract"
    assert (changed.water_fresh, changed.bulk[1], changed.months_dried) == (0.6, 0.2, 6)
    assert changed.bulk[0] / changed.bulk[1] == pytest.approx(burdock.bulk[0] / burdock.bulk[1])
    assert own_facts(OwnPlant("Sea holly", "gone"), shipped_plants()) is None
    spice = own_facts(OwnPlant("Avens root", "clove"), shipped_plants())  # which holds eugenol, and is a scent
    assert spice is not None
    assert (spice.restricted, spice.scent, spice.essential_oil) == (None, "", (0.0, 0.0))


def test_it_goes_all_the_way_to_a_label(client: TestClient) -> None:
    assert "Kept." in keep(
        client, inci="Eryngium Maritimum Root Extract", flags=["pregnancy", "stain"], months_dried="6"
    )
    page = words(client.get("/steeping?said=30 g dried sea holly in 300 g olive").text)
    assert "Sea holly, dried, in olive oil" in page
    assert "keeps 6 months at most" in page
    assert "Not in pregnancy or while breastfeeding." in page

    jar = begin(client, plant="own:sea-holly", state="dried", oil="olive oil")
    form = {"token": token(client, f"{jar}/strain"), "out": "180", "how": "pressed", "code": "H-1"}
    assert "Sea holly (Eryngium maritimum)" in words(client.post(f"{jar}/strain", data=form).text)
    place = saved(client, new="60 ml lot H-1").split("?")[0]
    label = words(client.get(f"{place}/versions/1/label").text)
    assert "Olea Europaea Fruit Oil, Eryngium Maritimum Root Extract" in label
    assert "Not in pregnancy or while breastfeeding." in label


def test_it_is_changed_and_nothing_typed_is_lost(client: TestClient) -> None:
    keep(client, water_fresh="70")
    page = client.get("/steeping/plants?key=own:sea-holly").text
    assert (field(page, "name"), field(page, "water_fresh")) == ("Sea holly", "70")
    keep(client, water_fresh="75")
    assert field(client.get("/steeping/plants?key=own:sea-holly").text, "water_fresh") == "75"
    assert client.get("/steeping/plants?key=own:moss").status_code == 404


@pytest.mark.parametrize(
    ("fields", "why"),
    [
        ({"name": " "}, "needs a name"),
        ({"name": "x" * 81}, "81 characters"),
        ({"name": "calendula"}, "stands in the table already"),
        ({"name": "Bread and butter"}, "is read as several plants"),
        ({"like": "moss"}, "There is no plant “moss”"),
        ({"water_fresh": "99"}, "99 % of water cannot be; 0 to 98 can"),
        ({"bulk": "heavy"}, "“heavy” is not a density"),
        ({"bulk": "2"}, "2 g/mL of loose plant cannot be"),
        ({"months_dried": "0"}, "0 months from dried plant cannot be"),
        ({"flags": ["lucky"]}, "“lucky” is nothing that is known"),
    ],
)
def test_what_cannot_be_stands_beside_its_field(client: TestClient, fields: dict[str, object], why: str) -> None:
    page = keep(client, **{"heed": "By the sea", **fields})
    assert why in words(page)
    assert field(page, "heed") == "By the sea"
    assert "is in no table; add it" in words(client.get("/steeping?said=30 g dried sea holly in olive").text)
