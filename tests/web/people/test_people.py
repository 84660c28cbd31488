"""People through the pages: cards, what they mean on the bench, variants, patch tests, out as JSON."""

from __future__ import annotations

import html
import json
import re
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response
from sqlalchemy import text
from tests.web.conftest import assessed_by, bottle_of, saved, token, words
from tests.web.keeping.kept import note

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.figures.oil_profile import oil_profile

ASKED = ["allergies", "conditions", "medicines", "health", "uses"]


def keep_card(client: TestClient, path: str = "/people", **fields: Any) -> Response:
    """Post a card that was asked everything; `allergies=["tree_nut"]` says yes to it."""
    plain = {
        "token": token(client, "/people/new"),
        "name": "Maren",
        "others": ASKED,
        "sensitive": "no",
        "planning": "no",
        "breastfeeding": "no",
        "pregnant": "no",
        "born": "1994-07-21",
    }
    ticks = {f"{group}-{key}": "yes" for group in ASKED for key in fields.pop(group, ())}
    return client.post(path, data=plain | ticks | fields)


def card(client: TestClient, **fields: Any) -> str:
    found = re.search(r"/people/(\d+)", str(keep_card(client, **fields).url))
    assert found
    return found[1]


def sheet(client: TestClient, *rows: str, **fields: object) -> str:
    form = {"token": token(client), "typed": list(rows), "product": "body-oil"} | fields
    return client.post("/sheet", data=form, headers={"x-sheet": "fragment"}).text


def blend(client: TestClient, *rows: str, **fields: object) -> str:
    found = re.search(r"/blends/(\d+)", saved(client, typed=list(rows), new="", container_ml="", **fields))
    assert found
    return found[1]


def test_a_card_is_made_shown_changed_and_deleted(client: TestClient) -> None:
    number = card(client, skin="dry", allergies=["tree_nut"], tone="fair", dislikes="patchouli")
    page = words(client.get(f"/people/{number}").text)
    keep_card(client, f"/people/{number}", allergies=["tree_nut", "sesame"])
    changed = words(client.get(f"/people/{number}").text)

    assert "Allergic to tree nuts" in page
    assert "A nut oil. Not for somebody with a tree-nut allergy." in page
    assert "Does not like patchouli" in page
    assert "Not asked:" not in page.replace("Not asked: kind", "")
    assert "Allergic to tree nuts, sesame" in changed
    assert "What the card said before" in changed
    assert "Maren" in words(client.get("/people").text)
    gone = client.post(f"/people/{number}/delete", data={"token": token(client, f"/people/{number}")})
    assert "The card is deleted" in words(gone.text)
    assert client.get(f"/people/{number}").status_code == 404


def test_what_every_scent_does_is_said_once(client: TestClient) -> None:
    page = words(client.get(f"/people/{card(client, pregnant='yes')}").text)

    assert "Warn: Every scent. Scent in pregnancy" in page
    assert "Hyssop" in page  # those that are left out in pregnancy are named


def test_what_was_not_asked_stands_on_the_card(client: TestClient) -> None:
    number = card(client, others=["conditions"], pregnant="", name="Tove")
    page = words(client.get(f"/people/{number}").text)

    assert "Not asked: kind of skin, pregnancy, allergies, medicines, health, habits." in page


@pytest.mark.parametrize(
    ("fields", "says"),
    [
        ({"name": " "}, "needs a name"),
        ({"born": "2035-01-01"}, "cannot be a day of birth"),
        ({"born": "soon"}, "“soon” is not a day of birth"),
        ({"skin": "green"}, "is no kind of skin"),
    ],
)
def test_a_card_that_cannot_be_is_refused_with_what_was_typed(
    client: TestClient, fields: dict[str, Any], says: str
) -> None:
    answer = keep_card(client, note="Swims.", **fields)

    assert answer.status_code == 422
    assert says in words(answer.text)
    assert "Swims." in answer.text


def test_a_double_tap_makes_one_card(client: TestClient) -> None:
    form = {"token": token(client, "/people/new"), "name": "Maren"}

    assert [client.post("/people", data=form).status_code for _ in range(2)] == [200, 200]
    assert client.get("/people").text.count("/people/1") == 1


def test_the_bench_checks_for_the_wearer_that_is_chosen(client: TestClient) -> None:
    number = card(client, allergies=["tree_nut"])
    anyone, hers = words(sheet(client, "2 tbsp almond")), words(sheet(client, "2 tbsp almond", wearer=number))

    assert "Made for anyone: not with an allergy to tree nuts; not on infected skin; not on broken skin; " in anyone
    assert "For Maren: 1 stop" in hers
    assert "A draft: 1 stop is open." in hers


def test_a_blend_keeps_its_wearer_its_use_and_the_reason_of_a_stop(client: TestClient) -> None:
    number = card(client)
    made = blend(
        client, "2 tbsp jojoba", wearer=number, region="UK", for_sale="yes", placed_on="2026-08-01", night_only="yes",
        reason_rule=["for-sale"], reason=["assessed by a chemist"],
    )  # fmt: skip
    page = client.get(f"/blends/{made}").text

    assert f'<option value="{number}" selected>Maren' in page
    assert '<option value="UK" selected>' in page
    assert 'value="2026-08-01"' in page
    assert 'value="assessed by a chemist"' in page
    assert "Stop, answered:" in words(page)
    assert "A draft" not in words(page)
    assert f"/blends/{made}" in client.get(f"/people/{number}").text


def test_a_reason_is_kept_while_its_stop_is_away(client: TestClient) -> None:
    page = sheet(client, "2 tbsp jojoba", reason_rule=["water-in-oil"], reason=["preserved"])

    assert '<input type="hidden" name="reason" value="preserved"' in page


def test_a_day_that_is_none_is_said_and_the_sheet_is_still_read(client: TestClient) -> None:
    page = words(sheet(client, "2 tbsp jojoba", placed_on="soon"))

    assert "“soon” is not a day on which it was first sold" in page
    assert "Jojoba" in page


def test_a_deleted_wearer_leaves_the_blend_and_is_said(client: TestClient, app: FastAPI) -> None:
    number = card(client)
    made = blend(client, "2 tbsp jojoba", wearer=number)
    client.get(f"/blends/{made}")
    assert len(assessed_by(app)) > 0
    client.post(f"/people/{number}/delete", data={"token": token(client, f"/people/{number}")})
    assert len(assessed_by(app)) == 0  # nor is the card in what was worked out for its wearer
    page = client.get(f"/blends/{made}")

    assert page.status_code == 200
    assert "was deleted" in words(page.text)


def test_a_variant_is_proposed_and_taken(client: TestClient) -> None:
    number = card(client, allergies=["tree_nut"], pregnant="yes")
    rows = ("4 tbsp almond", "20 drops lavender")
    proposed = words(sheet(client, *rows, wearer=number, op="reformulate:wearer"))
    taken = sheet(client, *rows, wearer=number, op="take:wearer")

    assert "4 tbsp almond →" in proposed
    assert "A nut oil." in proposed
    assert "Take these changes" in proposed
    assert 'value="4 tbsp almond"' not in taken
    assert "A draft" not in words(taken)
    assert sheet(client, *rows, op="leave").count('value="4 tbsp almond"') == 1


@pytest.mark.parametrize("rows", [[], ["# a remark"], ["zorgblat"], ["a blob of benzoin"]])
def test_where_nothing_is_weighed_nothing_is_made_over(client: TestClient, rows: list[str]) -> None:
    answer = client.post("/sheet", data={"token": token(client), "typed": rows, "op": "reformulate:oily"})

    assert answer.status_code == 200


def test_an_unknown_variant_is_refused(client: TestClient) -> None:
    answer = client.post("/sheet", data={"token": token(client), "typed": ["1 tbsp jojoba"], "op": "reformulate:cats"})

    assert answer.status_code == 400
    assert "known are wearer" in words(answer.text)


def test_a_bath_oil_is_made_dispersing_by_a_pair_of_emulsifiers(client: TestClient) -> None:
    page = sheet(client, "95% jojoba", "5% sunflower high oleic", product="bath-oil-dispersing")
    offered = re.search(r'value="(emulsify:[^"]+)"', page)
    assert "Into the water: it floats" in words(page)
    assert offered
    done = words(sheet(client, "95% jojoba", "5% sunflower high oleic", product="bath-oil-dispersing", op=offered[1]))

    assert "Into the water: it disperses" in done


def begin(client: TestClient, number: str, made: str, **fields: str) -> Response:
    page = f"/people/{number}"
    plain = {"token": token(client, page), "blend": f"{made}.1", "begun": "2026-11-01T18:30", "site": "inner wrist"}
    return client.post(f"{page}/tests", data=plain | fields)


def test_a_patch_test_is_planned_looked_at_and_a_reaction_stops_the_blend(client: TestClient) -> None:
    number, made = card(client), blend(client, "2 tbsp jojoba", "2 drops lavender")
    begun = words(begin(client, number, made).text)
    looks = f"/people/{number}/tests/1/looks"
    form = {"token": token(client, f"/people/{number}"), "step": "1", "saw": "red or itching", "note": "in the evening"}
    seen = words(client.post(looks, data=form).text)

    assert "2 Nov 2026, 18:30" in begun
    assert "Face oil, version 1" in begun
    assert "Wash it off now" in seen
    assert "reacted: do not use it" in seen
    assert "call the emergency number" in seen
    assert "This person reacted to it before" in words(sheet(client, "2 tbsp jojoba", wearer=number))
    kept = client.post(
        f"/people/{number}/tests/1/suspects", data={"token": token(client, f"/people/{number}"), "keys": ["lavender"]}
    )
    assert "Kept: what is left ticked" in words(kept.text)
    assert "reacted to it before" not in words(sheet(client, "2 tbsp jojoba", wearer=number))


def test_a_test_that_was_due_is_called_for_in_the_list(client: TestClient) -> None:
    number, made = card(client), blend(client, "2 tbsp jojoba")
    begin(client, number, made)

    assert "Maren, Face oil : 30 minutes: look" in words(client.get("/people").text)
    client.post(f"/people/{number}/tests/1/end", data={"token": token(client, f"/people/{number}")})
    assert "30 minutes: look" not in words(client.get("/people").text)


@pytest.mark.parametrize("oil", ["almond", "argan"])
def test_what_somebody_is_allergic_to_is_never_tried_out_on_them(client: TestClient, oil: str) -> None:
    number, made = card(client, allergies=["tree_nut"]), blend(client, f"2 tbsp {oil}")
    refused = begin(client, number, made)

    assert refused.status_code == 422
    assert "Do not test this on Maren." in words(refused.text)
    assert "ask an allergist" in words(refused.text)
    assert "None yet" in words(client.get(f"/people/{number}").text)


def test_what_nobody_has_settled_or_measured_is_not_tried_out_either(client: TestClient) -> None:
    number = card(client, allergies=["tree_nut"])
    open_, unmeasured = (
        blend(client, "2 tbsp jojoba", "1 tbsp calendula"),
        blend(client, "2 tbsp jojoba", "a blob of hazelnut", name="Blob"),
    )

    assert "what “1 tbsp calendula” is" in words(begin(client, number, open_).text)
    assert "Do not test this on Maren." in words(begin(client, number, unmeasured).text)


@pytest.mark.parametrize(
    ("fields", "says"),
    [
        ({"blend": ""}, "Choose the blend"),
        ({"begun": "tea time"}, "no day and hour"),
        ({"protocol": "prick"}, "known are two-days"),
        ({"site": "tongue"}, "no place for a patch test"),
    ],
)
def test_a_test_that_cannot_be_is_refused(client: TestClient, fields: dict[str, str], says: str) -> None:
    number, made = card(client), blend(client, "2 tbsp jojoba")
    refused = begin(client, number, made, **fields)

    assert refused.status_code == 422
    assert says in words(refused.text)


def test_everybody_and_each_is_given_out_as_json(client: TestClient) -> None:
    number = card(client, allergies=["tree_nut"])
    everybody, one = client.get("/people.json"), client.get(f"/people/{number}.json")

    assert json.loads(everybody.text) == json.loads(one.text)
    assert json.loads(one.text)["people"][0]["card"]["allergies"]["tree_nut"] is True
    assert "attachment" in one.headers["content-disposition"]


def test_what_was_made_for_somebody_and_handed_to_them_is_given_out_too(client: TestClient) -> None:
    ines, wren = card(client), card(client, name="Wren")
    made = saved(client, name="Dune", wearer=ines).split("?")[0]
    bottle, other = bottle_of(client, made), bottle_of(client, made)
    note(client, bottle, "given", wearer=ines)
    note(client, bottle, "how it felt", wearer=wren, words="a secret of Wren’s")
    note(client, bottle, "how it felt", wearer=ines, words="soft")
    note(client, other, "given", wearer=wren)
    note(client, other, "reaction", wearer=ines, words="red")
    given = json.loads(client.get(f"/people/{ines}.json").text)
    (person,) = given["people"]

    assert person["made_for"] == [{"blend": "Dune", "version": 1}]
    theirs, tried = person["bottles"]
    assert (theirs["blend"], theirs["version"], theirs["number"]) == ("Dune", 1, bottle.rpartition("/")[2])
    assert [(each["kind"], each["words"]) for each in theirs["notes"]] == [("given", ""), ("how it felt", "soft")]
    assert [(each["kind"], each["words"]) for each in tried["notes"]] == [("reaction", "red")]
    assert "secret" not in json.dumps(given)
    assert [each["made_for"] for each in json.loads(client.get(f"/people/{wren}.json").text)["people"]] == [[]]


def test_the_program_is_told_for_whom(client: TestClient) -> None:
    number = card(client, allergies=["tree_nut"])
    body = {"recipe": "2 tbsp almond", "wearer": int(number)}
    found = client.post("/api/assess", json=body).json()
    anyone = client.post("/api/assess", json={"recipe": "2 tbsp almond"}).json()

    assert found["is_draft"]
    assert {"tree-nut"} == {c["rule"] for c in found["cautions"] if c["grade"] == "stop"}
    assert not anyone["is_draft"]
    assert "with an allergy to tree nuts" in {n["who"] for n in anyone["not_for"]}
    assert client.post("/api/assess", json=body | {"wearer": 99}).status_code == 404


def test_what_it_did_in_water_is_noted(client: TestClient) -> None:
    made = bottle_of(client, f"/blends/{blend(client, '2 tbsp jojoba')}")
    form = {"token": token(client, made), "kind": "in water", "on": "2026-11-20", "in_water": "even milk"}
    noted = words(client.post(f"{made}/notes", data=form).text)
    form |= {"token": token(client, made), "in_water": "fireworks", "on": "2026-11-21"}
    refused = client.post(f"{made}/notes", data=form)

    assert "1 g in 100 mL of water at 38 °C: even milk" in noted
    assert refused.status_code == 422


@pytest.mark.parametrize(
    ("question", "says"),
    [
        ("almond for Maren", "Sweet almond oil: not for Maren A nut oil."),
        ("argan for maren?", "Argan oil: with care for Maren"),
        ("is jojoba for Maren", "Jojoba oil (liquid wax): yes, for Maren"),
        ("clary sage for Maren", "nothing known stops it for Maren"),
        ("avocado for oily skin", "Avocado oil: not for oily skin"),
        ("grapeseed for oily", "Grapeseed oil: yes, for oily skin"),
        ("sunflower for Maren", "Sunflower oil (high linoleic): "),
        ("jojoba for the cat", "about the skin of people"),
        ("2% of 30 ml in drops", "drops"),
    ],
)
def test_the_quick_line_says_whether_an_oil_is_for_somebody(client: TestClient, question: str, says: str) -> None:
    card(client, allergies=["tree_nut"], skin="dry")

    assert says in words(client.get("/quick", params={"q": question}).text)


def test_a_recipe_for_somebody_goes_on_the_bench_with_them(client: TestClient) -> None:
    number = card(client, name="Ines", allergies=["tree_nut"])
    answer = client.get("/quick", params={"q": "2 tbsp sweet almond, 1 tbsp jojoba for Ines"}).text
    found = re.search(r'href="(/blends/new[^"]+)"', answer)
    assert found
    link = html.unescape(found[1])

    assert "A nut oil." in words(answer)
    assert link.endswith(f"&wearer={number}")
    assert "For Ines: 1 stop" in words(client.get(link).text)


def test_a_card_from_before_each_thing_was_asked_says_what_to_ask_again(client: TestClient, app: FastAPI) -> None:
    number = card(client)
    with app.state.sessions() as session, session.begin():
        said = json.dumps({"name": "Maren", "allergies": ["tree_nut"], "health": []})
        session.execute(text("UPDATE wearer_card SET said = :said"), {"said": said})
    page = words(client.get(f"/people/{number}").text)

    assert "To be asked again: an earlier card kept only what was ticked of allergies" in page
    assert "peanut" in page[page.index("Not asked:") : page.index("What stops and warns")]


@pytest.mark.parametrize("oil", ["almond-sweet", "hazelnut", "walnut"])
def test_no_stand_in_for_somebody_with_a_nut_allergy_is_a_nut(client: TestClient, oil: str) -> None:
    number = card(client, allergies=["tree_nut"], skin="dry", others=[group for group in ASKED if group != "allergies"])
    page = sheet(client, f"30 g {oil.replace('almond-sweet', 'sweet almond')}", wearer=number)
    offered = re.findall(r'value="swap:0:([^"]+)"', page)

    assert offered
    families = {key: shipped_catalogue().ingredients[key].allergen_family for key in offered}
    assert not {key for key, family in families.items() if family in ("tree_nut", "peanut")}, families


def test_a_wish_for_somebody_brings_their_skin_and_leaves_out_what_they_must_not_have(client: TestClient) -> None:
    number = card(client, skin="combination", allergies=["tree_nut"])
    wish = "50 ml, oleic over 30, for maren, steadiest"
    found = client.post("/api/find", json={"wish": wish}).json()
    (answer,) = found["answers"]
    facts = shipped_catalogue()
    nuts = {key for key, item in facts.ingredients.items() if "tree_nut" in (oil_profile(item).allergens or ())}

    assert "for Maren" in found["limits"]
    assert "suits combination skin, as Maren has" in found["limits"]
    assert any(re.match(r"without \d+ oils and lots that something speaks against", line) for line in found["limits"])
    assert not nuts & set(answer["oils"])
    # What they must not have never gives way: an almond oil that must be in it cannot be, and nobody says to allow it.
    never = client.post("/api/find", json={"wish": f"with almond oil, {wish}"}).json()
    assert never["answers"] == []
    assert not any("allowed" in give for give in never["conflict"]["gives"])
    page = client.get("/shelf/find", params={"wish": wish}).text
    assert re.search(rf"/blends/new\?[^\"]*wearer={number}\"", page)
    assert "“for wren” was not understood" in words(client.get("/shelf/find", params={"wish": "light, for wren"}).text)


def test_a_deleted_person_is_named_in_no_kept_wish(client: TestClient) -> None:
    number = card(client)
    for wish in ("50 ml face oil for Maren, light", "30 ml, for maren", "for Marenka", "For Maren"):
        form = {"token": token(client), "wish": wish}
        client.post("/shelf/find/keep", data=form, follow_redirects=False)
    client.post(f"/people/{number}/delete", data={"token": token(client, f"/people/{number}")})
    page = client.get("/shelf/find").text
    kept = re.findall(r'class="go" href="/shelf/find[^"]*">([^<]*)<', page)

    assert sorted(kept) == ["30 ml", "50 ml face oil, light", "for Marenka"]
