"""Whom a blend is for, said in words: chosen, typed behind the recipe, brought from an answer, kept and handed on."""

from __future__ import annotations

import html
import json
import re
from collections import Counter
from pathlib import Path

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.web.conftest import saved, token, words

from uptide.core.errors import UptideError
from uptide.core.skin.wearer import Wearer
from uptide.core.skin.whom import WITHOUT_CARD
from uptide.store.blends import load_version
from uptide.store.people import add_person
from uptide.workshop.importing import import_blend

CLOVE = "30 ml jojoba\n3 drops clove"
NOT_AT_THIS_AGE = "Clove bud essential oil. Not at this age."


def worked(client: TestClient, new: str, **fields: object) -> str:
    form = {"token": token(client), "new": new, "product": "body-oil"} | fields
    return client.post("/sheet", data=form, headers={"x-sheet": "fragment"}).text


def chosen(page: str) -> list[str]:
    """What is selected in the list of whom it is for; nothing where the list is not sent."""
    found = re.search(r'<select[^>]*name="wearer".*?</select>', page, re.S)
    return re.findall(r'<option value="([^"]*)" selected>', found[0]) if found else []


@pytest.fixture
def ines(app: FastAPI) -> str:
    with app.state.sessions() as session, session.begin():
        return str(add_person(session, Wearer("Ines")))


@pytest.mark.parametrize("said", WITHOUT_CARD)
def test_whoever_can_be_chosen_without_a_card_is_understood(client: TestClient, said: str) -> None:
    page = client.get("/blends/new", params={"recipe": CLOVE, "wearer": said}).text

    assert chosen(page) == [said]
    assert f"For {said}: " in words(page)


def test_what_a_newborn_must_not_have_at_all_is_drawn_and_weighed(client: TestClient) -> None:
    page = words(worked(client, "2 oz jojoba\n3 drops lavender", wearer="a newborn"))  # ounces may be of two kinds

    assert "Lavender (true) essential oil. No essential oil under three months." in page
    assert "0 % is the most here." in page


def test_a_stop_for_a_baby_needs_no_card(client: TestClient) -> None:
    assert NOT_AT_THIS_AGE in words(worked(client, CLOVE, wearer="a baby"))
    assert NOT_AT_THIS_AGE not in words(worked(client, CLOVE))


@pytest.mark.parametrize(
    ("typed", "whom"),
    [
        ("30 ml jojoba, 3 drops clove for a baby", "a baby"),
        ("30 ml jojoba\n3 drops clove\nfor a baby\n", "a baby"),
        ("30 ml jojoba, 3 drops clove during pregnancy", "pregnancy"),
        ("30 ml jojoba 3 drops clove in pregnancy", "pregnancy"),
        ("30 ml jojoba, 3 drops clove, for dry skin", "dry skin"),
    ],
)
def test_whom_a_pasted_recipe_says_is_chosen_and_is_no_row(client: TestClient, typed: str, whom: str) -> None:
    typing, added = worked(client, typed), worked(client, typed, op="add")

    assert f"For {whom}: " in words(typing)
    assert chosen(added) == [whom]
    assert re.findall(r'name="typed"[^>]*value="([^"]*)"', added) == ["30 ml jojoba", "3 drops clove"]


@pytest.mark.parametrize(
    ("head", "whom"),
    [("Massage oil for my pregnant sister", "my pregnant sister"), ("Baby oil", "Baby"), ("for a baby", "a baby")],
)
def test_whom_the_heading_of_a_pasted_recipe_says_is_chosen_and_the_heading_stays(
    client: TestClient, head: str, whom: str
) -> None:
    added = worked(client, f"{head}:\n{CLOVE}", op="add")

    assert chosen(added) == [whom]
    assert f'value="{head}:"' in added
    assert chosen(worked(client, f"Summer oil:\n{CLOVE}", op="add")) == []


def test_a_pasted_recipe_finds_the_card_of_its_name(client: TestClient, ines: str) -> None:
    added = worked(client, "30 ml jojoba, 3 drops clove for Ines", op="add")

    assert chosen(added) == [ines]
    assert "For Ines: " in words(added)
    saved_as = saved(client, new="30 ml jojoba, 3 drops clove for Ines", wearer="").split("?")[0]
    made = client.get(f"/api{saved_as}/versions/1").json()
    assert (made["wearer"], made["whom"]) == (int(ines), "")


def test_whom_an_infused_oil_is_for_is_chosen(client: TestClient, ines: str) -> None:
    assert chosen(worked(client, "20 g olive oil infused with rosemary for Ines", op="add")) == [ines]


def test_everybody_stays_in_the_list_when_whom_was_typed(client: TestClient, ines: str) -> None:
    added = worked(client, "30 ml jojoba for a baby", op="add")

    assert f'<option value="{ines}" >Ines' in added


@pytest.mark.parametrize(
    ("typed", "fields"),
    [
        ("3 drops clove for a baby", {"wearer": "someone pregnant"}),  # somebody else is chosen
        ("3 drops clove for zorg", {}),
        ("50 ml olive infused in the sun", {}),
        ("50 ml olive steeped for 6 weeks", {}),
        ("2 ml arnica in the sun", {}),
    ],
)
def test_what_says_nobody_stays_a_row_as_it_was_typed(client: TestClient, typed: str, fields: dict[str, str]) -> None:
    added = worked(client, typed, op="add", **fields)

    assert f'value="{typed}"' in added
    assert chosen(added) == []  # the list is not sent again: it stays as it is


def test_an_answer_goes_on_the_bench_with_whom_it_was_for(client: TestClient) -> None:
    answer = client.get("/quick", params={"q": "30 ml jojoba 3 drops clove on the face for a baby"}).text
    (link,) = re.findall(r'href="(/blends/new[^"]+)"', answer)
    page = client.get(html.unescape(link)).text

    assert chosen(page) == ["a baby"]
    assert NOT_AT_THIS_AGE in words(page)
    assert '<option value="facial-oil" selected>' in page


def test_a_blend_that_was_found_for_somebody_goes_on_the_bench_with_them(client: TestClient) -> None:
    page = client.get("/shelf/find", params={"wish": "50 ml, steadiest, for a baby"}).text

    assert "wearer=a+baby" in page


def test_nobody_is_refused_in_words_and_not_saved(client: TestClient) -> None:
    form = {"token": token(client), "name": "Dune", "new": CLOVE, "wearer": "zorg"}
    page = words(client.post("/blends", data=form).text)

    assert "“zorg” is nobody’s card, nor anybody that is understood; write it as in “a baby of 6 months”" in page
    assert "Not saved yet" in page


def test_it_is_kept_with_the_version_and_handed_on(client: TestClient, app: FastAPI) -> None:
    page = saved(client, new=CLOVE, name="Dune", wearer="a  child of 3")
    number = re.search(r"/blends/(\d+)", page)
    assert number
    with app.state.sessions() as session:
        recipe = load_version(session, int(number[1]), 1).recipe

    assert (recipe.wearer, recipe.whom) == (None, "a child of 3")
    assert chosen(client.get(f"/blends/{number[1]}").text) == ["a child of 3"]
    assert client.get(f"/api/blends/{number[1]}/versions/1").json()["whom"] == "a child of 3"
    assert "a child of 3" in words(client.get(f"/blends/{number[1]}/versions/1/batch-sheet").text)


def test_a_text_to_give_away_is_for_anyone(client: TestClient) -> None:
    made = [saved(client, new=CLOVE, name="Dune", wearer=whom).split("?")[0] for whom in ("", "a baby")]
    texts = [client.get(f"{blend}/versions/1.txt").text for blend in made]

    assert texts[0] == texts[1]


def test_the_api_takes_words_or_a_card(client: TestClient, ines: str) -> None:
    asked = {"recipe": CLOVE, "whom": "a baby"}
    found = client.post("/api/assess", json=asked)
    both = client.post("/api/assess", json=asked | {"wearer": int(ines)})

    assert "Not at this age." in json.dumps(found.json()["cautions"])
    assert (both.status_code, client.post("/api/assess", json=asked | {"whom": "zorg"}).status_code) == (400, 404)
    assert "say whom it is for by one of them" in both.json()["detail"]


def test_a_recipe_file_may_say_it(app: FastAPI, database_url: str, tmp_path: Path) -> None:
    file = tmp_path / "dune.txt"
    file.write_text("name: Dune\nfor: someone pregnant\n30 ml jojoba\n")
    import_blend(database_url, file)
    with app.state.sessions() as session:
        assert load_version(session, 1, 1).recipe.whom == "someone pregnant"

    file.write_text("name: Dune\nfor: Zorg\n30 ml jojoba\n")
    with pytest.raises(UptideError, match="is for “Zorg”, who has no card; known are none"):
        import_blend(database_url, file)


def test_nothing_on_the_bench_has_the_name_of_something_else(client: TestClient) -> None:
    page = client.get("/blends/new", params={"recipe": CLOVE}).text  # two constituents of clove have one rule
    names = Counter(re.findall(r'\bid="([^"]+)"', page))

    assert [name for name, count in names.items() if count > 1] == []
    assert "why-constituent-may-be-over-Clove-bud-essential-oil-2" in names
