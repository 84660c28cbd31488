"""What the pages answer, and what they refuse."""

from __future__ import annotations

import html
import re

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.web.conftest import TEN, field, saved, token, words

from uptide.core.recipe.recipe import Entry, Recipe
from uptide.store.blends import create_blend


@pytest.mark.parametrize(
    "path",
    [
        "/",
        "/blends",
        "/blends/new",
        "/shelf",
        "/shelf/jojoba",
        "/shelf/squalane",
        "/shelf/neroli",
        "/measures",
        "/api/docs",
    ],
)
def test_every_page_is_there_with_its_policy(client: TestClient, path: str) -> None:
    answer = client.get(path)

    assert answer.status_code == 200
    assert "unsafe" not in answer.headers["content-security-policy"]
    assert "script-src 'self'" in answer.headers["content-security-policy"]
    assert "style=" not in answer.text
    assert not re.search(r"<[a-z][^>]*\son[a-z]+=", answer.text)  # no inline handlers


def test_an_empty_start_page_says_what_to_do_next(client: TestClient) -> None:
    page = words(client.get("/").text)

    assert "No blend yet" in page
    assert "Put a bottle on it" in page
    assert "Today" not in page  # nothing wants doing


def test_a_blend_is_found_by_its_name_and_opened(client: TestClient) -> None:
    place = saved(client, new="30 g almond\n10 g jojoba", name="Night oil").split("?")[0]
    for asked, said in (("night oil", "Night oil: feels "), ("is my Night oil ok for a baby", "Night oil: ")):
        page = client.get("/quick", params={"q": asked}).text
        assert said in words(page)
        assert f'href="{place}"' in page
        assert "/steeping" not in page
    made = saved(client, name="60 ml face oil for dry skin").split("?")[0]  # else it is a wish
    saved(client, name="Argan")  # which is an oil, whatever a blend is called
    assert "Its page" in client.get("/quick", params={"q": "argan for oily skin"}).text
    assert f'href="{made}"' in client.get("/quick", params={"q": "60 ml face oil for dry skin"}).text
    assert "neither a product nor somebody" in client.get("/quick", params={"q": "night oil for Zed"}).text


def test_a_question_that_is_none_is_offered_as_a_search_and_as_a_recipe(client: TestClient) -> None:
    page = client.get("/", params={"q": "lovely zorgblat"}).text

    assert 'href="/shelf?q=lovely%20zorgblat"' in page
    assert 'href="/blends/new?recipe=lovely%20zorgblat"' in page
    assert "has no measured amount" in page
    asked_of_all = client.get("/", params={"q": "light oils for oily skin"}).text
    assert 'href="/shelf?q=light%20oils%20for%20oily%20skin"' in asked_of_all
    assert "has no measured amount" not in asked_of_all
    assert "/blends/new?recipe=light" not in asked_of_all


def test_two_oils_lead_to_their_page_and_one_to_its_own(client: TestClient) -> None:
    both = client.get("/quick", params={"q": "jojoba vs argan"}).text
    one = client.get("/quick", params={"q": "argan"}).text

    assert 'href="/shelf/compare?oil=jojoba&amp;oil=argan"' in both.replace("&oil", "&amp;oil")
    assert 'href="/shelf/argan"' in one
    assert "clog rating 0 of 5" in words(one)


def test_the_quick_line_answers_without_a_script(client: TestClient) -> None:
    assert "12 drops" in words(client.get("/", params={"q": "2% of 30 ml in drops"}).text)
    assert "27.27 g" in words(client.get("/quick", params={"q": "2 tbsp grapeseed in g"}).text)
    assert "say of which oil" in words(client.get("/quick", params={"q": "2 tbsp in g"}).text)


def test_a_host_that_is_not_ours_is_refused(client: TestClient) -> None:
    assert client.get("/", headers={"host": "evil.example"}).status_code == 400


def test_a_form_without_its_token_is_refused_and_gives_back_what_was_typed(client: TestClient) -> None:
    answer = client.post(
        "/blends", data={"token": "forged", "name": "Face oil", "typed": ["2 tbsp jojoba"], "answers": [""]}
    )

    assert answer.status_code == 403
    assert "2 tbsp jojoba" in answer.text


def test_a_token_of_another_browser_is_refused(client: TestClient) -> None:
    stolen = token(client)
    client.cookies.clear()

    assert client.post("/blends", data={"token": stolen, "name": "x"}).status_code == 403


def test_a_recipe_is_read_without_a_script(client: TestClient) -> None:
    page = client.post("/sheet", data={"token": token(client), "new": TEN, "op": "add", "name": "Face oil"}).text

    assert page.count('name="typed"') == 3
    assert "Grapeseed oil" in page
    assert "27.3" in words(page)
    assert 'value="Face oil"' in page


def test_typing_is_answered_with_the_parts_that_changed(client: TestClient) -> None:
    answer = client.post(
        "/sheet",
        data={"token": token(client), "typed": ["2 tbsp grapeseed"], "answers": [""], "new": "1 oz olive"},
        headers={"x-sheet": "fragment"},
    ).text

    assert 'id="meaning-0"' in answer
    assert 'id="glance"' in answer
    assert 'id="chemistry"' not in answer  # folded, and so not drawn
    assert "1 oz olive = Olive oil" in words(answer)
    assert "<html" not in answer


def test_an_answered_question_is_kept_with_its_row(client: TestClient) -> None:
    page = client.post(
        "/sheet", data={"token": token(client), "typed": ["1 oz olive"], "answers": [""], "op": "answer:0:unit:fl_oz"}
    ).text

    assert 'value="unit=fl_oz"' in page
    assert "27.0" in words(page)


def test_an_answer_can_be_meant_from_now_on(client: TestClient) -> None:
    data = {"token": token(client), "typed": ["1% vitamin E", "99 g jojoba"], "answers": ["", ""], "remember": ["0"]}
    client.post("/sheet", data=data | {"op": "answer:0:name:mixed-tocopherols"})
    again = client.post(
        "/sheet", data={"token": token(client), "new": "1% vit e, 99 g jojoba, 2% vitamin e oil", "op": "add"}
    )

    assert "taken as mixed tocopherols" in words(again.text)  # another word is another question
    assert "vitamin e" in words(client.get("/measures").text)
    assert (
        "taken as" not in client.post("/sheet", data={"token": token(client), "new": "1% vitamin E", "op": "add"}).text
    )


@pytest.mark.parametrize(
    ("op", "first"),
    [
        ("up:1", "1 tbsp jojoba"),
        ("down:0", "1 tbsp jojoba"),
        ("remove:0", "1 tbsp jojoba"),
        ("nonsense", "2 tbsp grapeseed"),
        ("remove:99", "2 tbsp grapeseed"),
        ("remove:x", "2 tbsp grapeseed"),
    ],
)
def test_rows_are_moved_and_taken_out(client: TestClient, op: str, first: str) -> None:
    data = {"token": token(client), "typed": TEN.splitlines(), "answers": ["", "", ""], "op": op}
    page = client.post("/sheet", data=data).text

    assert field(page, "typed") == first


def test_a_share_is_set_and_a_bad_one_is_answered(client: TestClient) -> None:
    data = {"token": token(client), "typed": ["75 g jojoba", "25 g argan"], "answers": ["", ""], "op": "share:1"}

    assert 'value="75 g argan"' in client.post("/sheet", data=data | {"share": ["", "50"]}).text
    assert "is not a share" in client.post("/sheet", data=data | {"share": ["", "lots"]}).text
    assert "above 0 and below 100" in client.post("/sheet", data=data | {"share": ["", "100"]}).text


def test_percents_are_made_100_on_request(client: TestClient) -> None:
    data = {"token": token(client), "typed": ["60% almond", "50% jojoba"], "answers": ["", ""]}

    assert "Make the percents 100" in client.post("/sheet", data=data).text
    assert "54.55 % almond" in client.post("/sheet", data=data | {"op": "normalise"}).text


@pytest.mark.parametrize("size", ["huge", "30 g", "1% of", "0.1"])
def test_a_container_size_that_is_none_is_answered_and_kept(client: TestClient, size: str) -> None:
    page = client.post("/sheet", data={"token": token(client), "new": TEN, "container_ml": size, "op": "add"}).text

    assert f'value="{size}"' in page
    assert "not a" in page or "cannot be filled" in page


def test_a_container_may_be_given_in_ounces(client: TestClient) -> None:
    page = client.post("/sheet", data={"token": token(client), "new": TEN, "container_ml": "2 oz", "op": "add"}).text

    assert "59.1" in words(page)


def test_a_blend_is_saved_and_a_double_tap_makes_one(client: TestClient) -> None:
    form = {"token": token(client), "name": "Face oil", "new": TEN}
    first = client.post("/blends", data=form, follow_redirects=False).headers["location"]
    second = client.post("/blends", data=form, follow_redirects=False).headers["location"]
    changed = client.post("/blends", data=form | {"new": "2 tbsp argan"}, follow_redirects=False).headers["location"]

    assert first == second != changed
    assert words(client.get("/blends").text).count("Face oil") == 2


def test_a_blend_without_a_name_is_not_saved_and_nothing_typed_is_lost(client: TestClient) -> None:
    answer = client.post("/blends", data={"token": token(client), "name": " ", "new": TEN, "note": "for Ines"})

    assert answer.status_code == 422
    assert "needs a name" in answer.text
    assert "12 drops lavender" in answer.text
    assert "for Ines" in answer.text


def test_saving_makes_versions_that_can_be_seen_and_compared(client: TestClient) -> None:
    place = saved(client).split("?")[0]
    form = {
        "token": token(client, place),
        "name": "Face oil, new",
        "typed": ["2 tbsp argan"],
        "answers": [""],
        "version": "1",
    }
    client.post(f"{place}/versions", data=form)

    assert "Face oil, new" in client.get(place).text
    assert "saving it makes it version 3" in words(client.get(f"{place}/versions/1").text)
    comparison = words(client.get(f"{place}/compare").text)
    assert "Argan oil new" in comparison
    assert "Grapeseed oil gone" in comparison


def test_a_blend_is_renamed_copied_put_away_and_taken_out(client: TestClient) -> None:
    place = saved(client).split("?")[0]
    fresh = {"token": token(client, place)}

    assert 'value="Sea oil"' in client.post(f"{place}/rename", data=fresh | {"name": "Sea oil"}).text
    assert client.post(f"{place}/rename", data=fresh | {"name": ""}).status_code == 422
    assert "Sea oil, copy" in client.post(f"{place}/duplicate", data=fresh).text
    client.post(f"{place}/archive", data=fresh)
    assert "Put away" in client.get("/blends").text
    client.post(f"{place}/restore", data=fresh)
    assert "Put away" not in client.get("/blends").text


def test_a_saved_blend_keeps_its_measures_until_asked(client: TestClient) -> None:
    place = saved(client, new="1 tbsp jojoba").split("?")[0]
    client.post("/measures", data={"token": token(client, "/measures"), "spoons": "metric"})

    page = client.get(place)
    assert "14.8" in words(page.text)
    assert "with the measures it was saved with" in page.text
    form = {
        "token": token(client, place),
        "typed": ["1 tbsp jojoba"],
        "answers": [""],
        "measures": "saved",
        "version": "1",
    }
    form["blend_id"] = place.rsplit("/", 1)[1]
    assert "15.0" in words(client.post("/sheet", data=form | {"op": "measures"}).text)


def test_measures_are_kept_and_a_dropper_is_calibrated(client: TestClient) -> None:
    form = {
        "token": token(client, "/measures"),
        "drops": "own",
        "counted": "20",
        "of": "lavender",
        "weighed_g": "0,5525",
    }

    assert "32.0 to the mL" in client.post("/measures", data=form).text
    refused = client.post("/measures", data=form | {"weighed_g": "little"})
    assert refused.status_code == 422
    assert "“little” is not a weight in grams" in refused.text
    assert "little" in refused.text


def test_a_pump_is_calibrated_and_an_answer_is_remembered_until_both_are_forgotten(client: TestClient) -> None:
    page = client.post(
        "/measures",
        data={
            "token": token(client, "/measures"),
            "what": "pump",
            "counted": "10",
            "of": "jojoba",
            "weighed_g": "1.555",
        },
    ).text
    assert "A pump of yours: 0.18 mL" in words(page)
    form = {"token": token(client), "typed": ["2 oz jojoba", "5 pumps argan"], "answers": ["", ""]}
    client.post("/sheet", data=form | {"op": "answer:0:unit:oz_weight"})

    sheet = words(client.post("/sheet", data=form).text)
    assert "taken as ounces on the scale, by weight, as you answered before" in sheet
    assert "“oz” as ounces on the scale" in words(client.get("/measures").text)
    forgotten = {"token": token(client, "/measures"), "forget_held": ["pump"], "forget_earlier": "true"}
    page = words(client.post("/measures", data=forgotten).text)
    assert "A pump: 1.00 mL, and may be 0.2 to 2.0" in page
    assert "What you answered before" not in page
    assert "as you answered before" not in words(client.post("/sheet", data=form).text)


def test_the_shelf_finds_by_any_name(client: TestClient) -> None:
    for name in ("jojoba", "Simmondsia chinensis", "hohoba"):
        assert "Jojoba oil" in client.get("/shelf", params={"q": name}).text
    assert "Nothing on the shelf answers to this" in client.get("/shelf", params={"q": "zorgblat"}).text


@pytest.mark.parametrize("path", ["/nope", "/blends/99", "/blends/x", "/shelf/zorgblat"])
def test_what_is_not_there_is_a_page_a_person_understands(client: TestClient, path: str) -> None:
    answer = client.get(path)

    assert answer.status_code in (404, 422)
    assert "To the blends and the shelf" in answer.text


def test_a_recipe_of_too_many_rows_keeps_them_all_in_view_and_is_not_saved(client: TestClient) -> None:
    form = {"token": token(client), "new": "\n".join(f"{n} ml jojoba" for n in range(1, 151)), "op": "add"}
    page = client.post("/sheet", data=form).text
    left = html.unescape(re.findall(r'<textarea[^>]*id="new"[^>]*>([^<]*)<', page)[0]).splitlines()

    assert page.count('name="typed"') == 120
    assert left == [f"{n} ml jojoba" for n in range(121, 151)]
    assert "This recipe has 150 rows; up to 120 are weighed" in words(page)
    refused = client.post("/blends", data=form | {"name": "Long"})
    assert refused.status_code == 422
    assert "150 ml jojoba" in refused.text
    assert "Long" not in client.get("/blends").text


def test_a_stored_recipe_of_more_rows_than_are_read_opens_whole_and_stays_a_draft(
    client: TestClient, app: FastAPI
) -> None:
    with app.state.sessions() as session, session.begin():
        create_blend(session, "Long", Recipe(tuple(Entry(f"{n} ml jojoba") for n in range(1, 131))))
    page = client.get("/blends/1").text

    assert page.count('name="typed"') == 130
    assert "A draft" in words(page)
    assert client.get("/blends/1/versions/1/label").status_code == 409


@pytest.mark.parametrize(
    "wish",
    [
        "60 ml face oil, linoleic over 50, keeps 6 months",
        "60 ml face oil for dry skin",
        "30 ml light bath oil dispersing for a baby no nuts",
        "50 ml body oil with jojoba in pregnancy",
        "massage oil for my pregnant sister",
        "make me a face oil",
        "baby massage oil 100 ml",
        "30 ml sensitive skin face oil",
        "face oil for my sister who is pregnant, 30 ml",
        "face oil with lavender for a baby",
        "30 ml serum with rosehip 10% and jojoba",
        "light, for the face",
        "fragrance-free face serum for rosacea",
    ],
)
def test_a_wish_in_the_header_is_no_recipe(wish: str, client: TestClient) -> None:
    page = words(client.get("/quick", params={"q": wish}).text)

    assert "Find a blend that is all of this" in page
    assert "catalogue" not in page


@pytest.mark.parametrize(
    "question",
    [
        "10% clove bud in 30 ml",
        "30 ml with ten drops lavender",
        "50 ml face oil with tea tree for a baby",
        "30 ml jojoba with 2% lavender",
        "100 ml bottle",
        "light oil for oily skin",
    ],
)
def test_what_asks_for_a_dose_a_sum_or_an_oil_is_no_wish(question: str, client: TestClient) -> None:
    page = words(client.get("/quick", params={"q": question}).text)

    assert "Find a blend" not in page


def test_what_is_typed_is_escaped(client: TestClient) -> None:
    page = client.post("/sheet", data={"token": token(client), "new": "<script>alert(1)</script>", "op": "add"}).text

    assert "<script>alert" not in page


@pytest.mark.parametrize(
    "path", ["/people/{}", "/blends/{}", "/blends/1/versions/{}", "/shelf/chart?blend={}", "/shelf/reach?blend={}"]
)
def test_a_number_past_any_there_can_be_is_not_found(client: TestClient, path: str) -> None:
    answer = client.get(path.format(10**20))

    assert answer.status_code == 404
    assert "nothing of so large a number" in words(answer.text)


def test_a_blend_is_found_by_its_name_or_by_what_is_in_it(client: TestClient) -> None:
    saved(client, name="Dune oil", new="30 g jojoba\n5 drops lavender")
    saved(client, name="Night oil", new="30 g argan")

    def found(q: str) -> list[bool]:
        page = words(client.get("/blends", params={"q": q}).text)
        return ["Dune oil" in page, "Night oil" in page]

    assert found("") == [True, True]
    assert found("dune") == [True, False]
    assert found("ARGAN") == [False, True]
    assert found("lavender jojoba") == [True, False]
    assert "No blend has “zorgblat”" in words(client.get("/blends", params={"q": "zorgblat"}).text)
