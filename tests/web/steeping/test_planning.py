"""A jar is planned on its page: what was typed stays, and what is wrong stands beside its field."""

from __future__ import annotations

import html
import re

import pytest
from fastapi.testclient import TestClient
from tests.web.conftest import field, saved, token, words
from tests.web.steeping.test_jars import begin


def test_the_page_opens_on_a_jar_that_is_good(client: TestClient) -> None:
    answer = client.get("/steeping")
    page = words(answer.text)

    assert answer.status_code == 200
    assert "Calendula, dried, in sunflower oil (high oleic)" in page
    assert "not like this" not in page
    assert "Helianthus Annuus Seed Oil, Calendula Officinalis Flower Extract" in page
    assert "from memory" in page


def test_what_is_asked_is_in_the_address_and_stays_in_the_form(client: TestClient) -> None:
    query = {
        "plant": "st-johns-wort",
        "state": "fresh",
        "oil": "olive",
        "method": "sunny-window",
        "school": "by eye",
        "fill": "50",
        "jar_ml": "700",
        "straining": "pressed",
        "pressed": "true",
    }
    page = client.get("/steeping", params=query).text

    assert {name: field(page, name) for name in query if name != "pressed"} == {
        name: value for name, value in query.items() if name != "pressed"
    }
    assert "St John's wort, fresh, in olive oil (virgin)" in words(page).replace("’", "'")
    assert "bacteria too can live in it" in page
    assert "a sunny window, clear jar, as planned" in words(page)


@pytest.mark.parametrize(
    ("query", "place", "why"),
    [
        ({"grams": "lots"}, "grams", "is not a weight in grams"),
        ({"jar_ml": "a bucket"}, "jar_ml", "is not a size in mL"),
        ({"oil": "zorgblat"}, "oil", "is no oil on the shelf’s list"),
        ({"oil": "beeswax"}, "oil", "is no oil on the shelf’s list"),
        ({"plant": "triffid"}, "plant", "There is no plant “triffid”"),
        ({"state": "frozen"}, "state", "is none of dried, wilted, fresh"),
        ({"water": "200"}, "water", "up to 99 is read"),
        ({"method": "pan"}, "", "There is no way to steep called “pan”"),
        ({"jar_ml": "5"}, "", "A jar of 5 mL cannot be planned"),
    ],
)
def test_what_cannot_be_is_said_where_it_stands(
    client: TestClient, query: dict[str, str], place: str, why: str
) -> None:
    answer = client.get("/steeping", params=query)

    assert answer.status_code == 422
    assert why in words(answer.text)
    assert (f'id="error-{place}"' in answer.text) is bool(place)


def test_a_jar_is_planned_in_words_and_the_fields_say_how_it_was_read(client: TestClient) -> None:
    said = "a 700 ml jar two thirds full of dried rose petals, covered with sweet almond, warm bath"
    page = client.get("/steeping", params={"said": said}).text

    assert {name: field(page, name) for name in ("plant", "state", "oil", "school", "fill", "jar_ml", "method")} == {
        "plant": "rose",
        "state": "dried",
        "oil": "sweet almond",
        "school": "by eye",
        "fill": "66.67",
        "jar_ml": "700",
        "method": "warm-bath",
    }
    assert "Rose, dried, in sweet almond oil" in words(page)


def test_parts_by_weight_fill_in_what_nobody_weighed(client: TestClient) -> None:
    page = client.get("/steeping", params={"said": "40 g dried calendula in olive 1:6", "oil_grams": "500"}).text

    assert (field(page, "grams"), field(page, "oil_grams")) == ("40", "240")
    assert "1 to 6" in words(page)
    page = client.get("/steeping", params={"said": "dried calendula in olive 1:6", "grams": "50"}).text
    assert (field(page, "grams"), field(page, "oil_grams")) == ("50", "300")
    said = "a jar half full of calendula, 1:5"
    page = client.get("/steeping", params={"said": said}).text
    assert "1 to 5 goes by weight" in page
    assert field(page, "said") == said


@pytest.mark.parametrize(
    ("said", "why"), [("soup", "is not read as a jar"), ("30 g triffid in olive", "“triffid” is in no table")]
)
def test_words_that_are_no_jar_stay_with_what_was_wrong(client: TestClient, said: str, why: str) -> None:
    answer = client.get("/steeping", params={"said": said})

    assert answer.status_code == 422
    assert why in words(answer.text)
    assert field(answer.text, "said") == said


def test_another_way_is_one_tap_with_all_else_as_it_was(client: TestClient) -> None:
    asked = {"plant": "rose", "jar_ml": "900", "grams": "25", "pressed": "true", "method": "sunny-window"}
    page = client.get("/steeping", params=asked).text
    link = re.search(r'href="(/steeping\?[^"]*)">a dark shelf<', page)
    assert link is not None

    other = client.get(html.unescape(link[1])).text
    assert {name: field(other, name) for name in ("plant", "jar_ml", "grams", "method")} == {
        **{name: asked[name] for name in ("plant", "jar_ml", "grams")},
        "method": "dark-shelf",
    }
    assert re.search(r'name="pressed"\s+value="true"\s+checked', other)
    assert "/steeping?oil=Olive" in client.get("/shelf/olive").text


def test_every_plant_opens(client: TestClient) -> None:
    from uptide.catalogue.shipped import shipped_plants

    for key in shipped_plants():
        assert client.get("/steeping", params={"plant": key}).status_code == 200, key


@pytest.mark.parametrize(
    ("question", "is_jar"),
    [
        ("a jar three quarters full of dried calendula, covered with sunflower, sunny window", True),
        ("30 g dried calendula in 300 g olive, warm bath", True),
        ("dried rose petals in jojoba", True),
        ("a 500 ml jar of plantain", True),
        ("3 drops lavender in 30 ml jojoba", False),
        ("2 oz rosehip, 1 oz jojoba", False),
        ("30 g moon dust in 300 g olive", False),
        ("light oils for oily skin", False),
        ("how do I make a calendula oil", True),
        ("calendula infusion", True),
        ("comfrey oil in pregnancy", False),  # which is no oil to steep in
        ("how do I make a zorgweed oil", False),
    ],
)
def test_the_quick_line_leads_to_a_plan_where_it_is_given_a_jar(
    client: TestClient, question: str, is_jar: bool
) -> None:
    page = client.get("/quick", params={"q": question}).text
    link = re.search(r'href="(/steeping\?said=[^"]+)"', page)

    assert (link is not None) is is_jar
    if link is not None:
        assert "has no measured amount" not in page
        assert client.get(link[1]).status_code == 200


def test_a_lot_is_poured_on_with_what_it_has_behind_it(client: TestClient) -> None:
    first = begin(client, plant="st-johns-wort", state="dried", oil="olive oil")
    form = {"token": token(client, f"{first}/strain"), "out": "180", "how": "pressed", "code": "J-1"}
    client.post(f"{first}/strain", data=form)
    second = begin(client, plant="calendula", oil="lot J-1", grams="20", also="5 g dried lavender, 4 g dried rose")
    story = words(client.get(second).text)

    assert "Calendula and Lavender and Rose in st John's wort in olive oil" in story
    assert "29 g, 10 % of it water: 20 g Calendula, 5 g Lavender and 4 g Rose" in story
    form = {"token": token(client, f"{second}/strain"), "out": "100", "how": "pressed", "code": "J-2"}
    page = words(client.post(f"{second}/strain", data=form).text)
    assert "Poured on lot J-1" in page
    assert "Lavender (Lavandula angustifolia)" in page


def test_another_part_is_picked_or_said_and_stays_with_the_jar(client: TestClient) -> None:
    page = client.get("/steeping", params={"said": "dried nettle root in olive, dark shelf"})
    assert "Nettle root, dried, in" in words(page.text)
    assert re.search(r'<option value="root"\s+selected', page.text)
    assert "Urtica Dioica Root Extract" in words(page.text)

    again = client.get("/steeping", params={"said": "dried nettle in olive", "part": "root"})
    assert "Urtica Dioica Leaf Extract" in words(again.text)
    both = words(client.get("/steeping", params={"also": "10 g dried dandelion root"}).text)
    assert "Taraxacum Officinale Root Extract" in both
    wrong = client.get("/steeping", params={"part": "soul"})
    assert wrong.status_code == 422
    assert 'id="error-part"' in wrong.text

    form = {"token": token(client, "/steeping"), "plant": "nettle", "part": "root", "also": "10 g dried dandelion root"}
    jar = client.post("/steeping/jars", data=form, follow_redirects=False).headers["location"].split("?")[0]
    begun = words(client.get(jar).text)
    assert "Urtica Dioica Root Extract" in begun
    assert "Taraxacum Officinale Root Extract" in begun


def test_a_second_infusion_is_a_way_of_its_own(client: TestClient) -> None:
    page = words(client.get("/steeping", params={"said": "100 g calendula in 800 g olive, infused twice"}).text)
    assert "a second infusion, on a dark shelf, as planned" in page
    assert "and as much again half way" in page
    assert "times as strong as once" in page


def test_several_plants_are_read_in_words(client: TestClient) -> None:
    page = client.get("/steeping?said=30 g calendula and 10 g dried lavender in 400 g olive, dark shelf").text
    assert 'value="10 g dried lavender"' in page
    assert "40 g, 10 % of it water: 30 g Calendula and 10 g Lavender" in words(page)
    for said, why in (("lavender", "say each with its grams"), ("5 g moss", "“moss” is in no table")):
        assert why in words(client.get(f"/steeping?also={said}").text)


def test_how_to_dry_it_and_what_a_damp_room_does(client: TestClient) -> None:
    wet = words(client.get("/steeping?plant=calendula&state=fresh&grams=100").text)
    assert "2 to 4 weeks in bundles of five or six stems" in wet
    assert "about 5 h at its lowest" in wet
    # Example 9 of the note on steeping: 13.31 % water at 70 % humidity.
    assert "at 70 % humidity it stops at 13 % water" in wet


def test_oils_are_poured_together_and_come_to_a_label(client: TestClient) -> None:
    page = words(client.get("/steeping?plant=calendula&grams=20&oil=2 parts olive oil, 1 part jojoba").text)
    assert "in olive oil (virgin) and jojoba oil (liquid wax)" in page
    assert "Olea Europaea Fruit Oil, Simmondsia Chinensis Seed Oil, Calendula" in page
    assert "unknown" not in page

    jar = begin(client, plant="calendula", grams="20", oil="olive oil and jojoba", state="dried")
    assert "olive oil (virgin) and jojoba oil" in words(client.get(jar).text)
    form = {"token": token(client, f"{jar}/strain"), "out": "150", "how": "pressed", "code": "J-1"}
    lot = words(client.post(f"{jar}/strain", data=form).text)
    assert "Calendula in olive oil (virgin) and jojoba oil (liquid wax), lot J-1" in lot
    edited = client.get("/shelf/lots/J-1/edit").text
    assert field(edited, "ingredient") == "Olive oil (virgin) and jojoba oil (liquid wax)"
    place = saved(client, new="60 ml lot J-1").split("?")[0]
    label = words(client.get(f"{place}/versions/1/label").text)
    assert "Olea Europaea Fruit Oil, Simmondsia Chinensis Seed Oil, Calendula Officinalis Flower Extract" in label


@pytest.mark.parametrize("oil", ["olive and moss", "2 parts olive, 1 part lavender", "2 parts olive, moss"])
def test_oils_of_which_one_is_none_are_refused_by_name(client: TestClient, oil: str) -> None:
    answer = client.get("/steeping", params={"oil": oil})
    assert answer.status_code == 422
    assert field(answer.text, "oil") == oil
    assert "moss" in words(answer.text) or "lavender" in words(answer.text)
