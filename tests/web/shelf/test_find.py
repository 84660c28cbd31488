"""The finder’s page and its API: what is understood, answers that go to the bench, and why there are none."""

from __future__ import annotations

import re
from datetime import timedelta
from typing import Any
from urllib.parse import parse_qs, urlsplit

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.web.conftest import token, words

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.figures.oil_profile import oil_profile
from uptide.core.ingredients.lot import Lot
from uptide.core.months import say_day
from uptide.store.shelf import hold_lot, put_lots
from uptide.workshop.clock import today

WISH = "60 ml face oil for oily skin, linoleic over 50, keeps 4 months, with jojoba, no nuts, steadiest"
NEVER = "linoleic over 55, oleic over 45, from my shelf"


def links(page: str, what: str) -> list[str]:
    return [each.replace("&amp;", "&") for each in re.findall(rf'href="([^"]*)"[^>]*>{what}', page)]


def limit_lines(page: str) -> dict[str, tuple[str, str]]:
    """What stands after the words of each limit: its number, as in its field, and its unit."""
    found = re.findall(r'<label for="limit-\d+">(.*?)</label>.*?value="([^"]*)".*?>\s*(.*?)\s*<button', page, re.S)
    return {words: (number, unit) for words, number, unit in found}


def test_an_answer_keeps_what_was_asked_and_opens_on_the_bench(client: TestClient) -> None:
    page = client.get("/shelf/find", params={"wish": WISH}).text
    (address,) = links(page, "Take it to the bench")
    asked = parse_qs(urlsplit(address).query)

    assert asked["product"] == ["facial-oil"]
    rows = asked["recipe"][0].splitlines()
    assert any("jojoba" in row.lower() for row in rows)
    found = client.post("/api/assess", json={"recipe": asked["recipe"][0], "product": "facial-oil"}).json()
    figures = {each["key"]: each["value"] for each in found["findings"]}
    assert figures["linoleic_share"] >= 50
    assert figures["keeps_months"] >= 4
    assert found["not_understood"] == []
    for row in rows:
        assert row in client.get(address).text


def test_every_line_says_what_was_understood_and_can_be_dropped(client: TestClient) -> None:
    page = client.get("/shelf/find", params={"wish": "linoleic over 50, no nuts, keeps eleventy, fewest oils"}).text

    assert limit_lines(page)["linoleic at least"] == ("50", "% of the acids")
    assert "“keeps eleventy” was not understood" in words(page)
    assert "Take it to the bench" not in page
    dropped = [parse_qs(urlsplit(each).query)["wish"][0] for each in links(page, "drop")]
    assert "linoleic over 50, keeps eleventy, fewest oils" in dropped
    assert "no nuts, keeps eleventy, fewest oils" in dropped


def test_what_says_where_it_stands_says_not_for_whom(client: TestClient) -> None:
    page = words(client.get("/shelf/find", params={"wish": "light face oil in the sun"}).text)

    assert "“in the sun” was not understood" in page
    assert "for breastfeeding" in words(client.get("/shelf/find", params={"wish": "oil, while breastfeeding"}).text)


@pytest.mark.parametrize(
    ("wish", "whom"),
    [
        ("baby massage oil 100 ml", "baby"),
        ("baby light massage oil", "baby"),
        ("30 ml light 3 year old’s face oil", "3 year old"),
        ("light oil for my sister who is pregnant", "my sister who is pregnant"),
        ("face oil with jojoba for a toddler vegan", "a toddler"),
    ],
)
def test_whom_it_is_for_may_stand_before_the_product(wish: str, whom: str, client: TestClient) -> None:
    page = client.get("/shelf/find", params={"wish": wish}).text
    (address, *_) = links(page, "Take it to the bench")

    assert f"for {whom}" in words(page)
    assert parse_qs(urlsplit(address).query)["wearer"] == [whom]
    assert client.get(address).status_code == 200


def test_what_stands_in_one_clause_can_be_dropped_alone(client: TestClient) -> None:
    page = client.get("/shelf/find", params={"wish": "60 ml tingly face oil keeps 6 months, light"}).text
    dropped = [parse_qs(urlsplit(each).query)["wish"][0] for each in links(page, "drop")]

    assert "“tingly” was not understood" in words(page)
    assert "drop “keeps 6 months”" in words(page)  # which two lines say: how long, and where it stands
    assert {"tingly face oil keeps 6 months, light", "60 ml tingly keeps 6 months, light"} <= set(dropped)
    assert "60 ml tingly face oil, light" in [
        parse_qs(urlsplit(each).query)["wish"][0] for each in links(page, "drop “keeps 6 months”")
    ]


def test_what_cannot_be_says_which_limits_exclude_one_another(app: FastAPI, client: TestClient) -> None:
    priced(app, ("A-1", "grapeseed", 500, 5, "GBP"), ("A-2", "olive", 500, 5, "GBP"))
    page = client.get("/shelf/find", params={"wish": NEVER}).text
    (ask,) = links(page, "Which limits exclude one another")
    assert "Nothing that was looked for keeps all of it" in words(page)
    said = words(client.get(ask).text)

    assert "It is shown that nothing keeps all of it" in said
    assert "These exclude one another:" in said
    assert "linoleic at least 55 % of the acids; oleic at least 45 % of the acids." in said
    assert re.search(r"or linoleic [34]\d(\.\d)? %", said)


def test_nothing_is_bought_for_less_where_nobody_said_a_price(client: TestClient) -> None:
    page = words(client.get("/shelf/find", params={"wish": "cheapest, linoleic over 40"}).text)

    assert "no lot on the shelf has a price yet" in page


def test_an_empty_page_says_what_can_be_asked(client: TestClient) -> None:
    page = words(client.get("/shelf/find").text)

    assert "Every answer is worked out as a blend is" in page
    assert "was not understood" not in page


@pytest.mark.parametrize("wish", [" , ", "keeps eleventy"])
def test_the_api_looks_for_nothing_where_something_was_not_understood(client: TestClient, wish: str) -> None:
    found = client.post("/api/find", json={"wish": wish}).json()

    assert len(found["not_understood"]) == 1
    assert found["answers"] == []
    assert found["conflict"] is None


def test_the_api_gives_answers_with_their_figures(client: TestClient) -> None:
    found = client.post("/api/find", json={"wish": WISH, "measure": "spoons"}).json()
    (answer,) = found["answers"]

    assert answer["best_at"] == "steadiest"
    assert answer["figures"]["linoleic"] >= 50
    assert sum(answer["percent"]) == pytest.approx(100)
    assert "jojoba" in answer["oils"]
    assert set(answer["oils"]) <= set(shipped_catalogue().ingredients)
    assert any("tsp" in row for row in answer["rows"])
    assert found["conflict"] is None


def test_the_first_answer_stands_at_once_and_all_stand_on_one_page(client: TestClient) -> None:
    wish = WISH.removesuffix(", steadiest")
    page = client.get("/shelf/find", params={"wish": wish}).text
    (others,) = links(page, "All of it on one page")
    rest = client.get(others).text

    assert page.count("Take it to the bench") == 1
    assert "Shown:" not in page
    assert rest.count("Take it to the bench") == rest.count("Shown:") > 1
    assert links(page, "Take it to the bench")[0] in links(rest, "Take it to the bench")
    assert "Gives up" in words(rest)


def test_a_limit_is_changed_in_its_line_and_its_clause_says_so(client: TestClient) -> None:
    page = client.get("/shelf/find", params={"wish": WISH}).text
    (place,) = re.findall(r'<label for="limit-(\d+)">linoleic', page)
    changed = client.get("/shelf/find", params={"wish": WISH, "limit": place, "to": "42,5"})

    assert changed.url.params["wish"] == WISH.replace("over 50", "over 42.5")
    assert limit_lines(changed.text)["linoleic at least"] == ("42.5", "% of the acids")
    unsaid = client.get("/shelf/find", params={"wish": "light, steadiest", "limit": 2, "to": "40"})
    assert unsaid.url.params["wish"] == "light, steadiest, at most 40 % inert"
    wrong = client.get("/shelf/find", params={"wish": WISH, "limit": place, "to": "lots"})
    assert wrong.status_code == 400
    assert "“lots” is not a limit; write a number" in words(wrong.text)


def priced(app: FastAPI, *lots: tuple[str, str, float, float, str]) -> None:
    """Put lots on the shelf: code, oil, grams, price, currency."""
    with app.state.sessions() as store, store.begin():
        put_lots(
            store,
            [
                Lot(code, oil, bought_g=grams, left_g=grams, price=price, currency=currency)
                for code, oil, grams, price, currency in lots
            ],
        )


@pytest.mark.parametrize("shelf", ["", ", from my shelf"])
def test_what_ends_within_a_month_is_left_out_unless_it_is_asked_for(
    shelf: str, app: FastAPI, client: TestClient
) -> None:
    soon, later = today() + timedelta(days=29), today() + timedelta(days=32)
    with app.state.sessions() as store, store.begin():
        put_lots(
            store,
            [
                Lot("A-1", "grapeseed", bought_g=500, left_g=500, best_before=soon),
                Lot("A-2", "olive", bought_g=500, left_g=500, best_before=later),
            ],
        )

    def said(wish: str) -> str:
        return words(client.get("/shelf/find", params={"wish": f"{wish}{shelf}"}).text)

    left_out = f"without Grapeseed oil{', lot A-1' if shelf else ''}: the bottle here ends within a month"
    assert left_out in said("30 ml, may set")
    for wish in ("with fresh bottles", "keeps 1 month", "with grapeseed", "use up what turns first"):
        assert "ends within a month" not in said(f"30 ml, may set, {wish}"), wish


def asked(client: TestClient, wish: str) -> dict[str, Any]:
    found: dict[str, Any] = client.post("/api/find", json={"wish": wish}).json()
    return found


def test_a_cost_is_in_the_currency_of_the_shelf_and_of_the_whole_bottle(app: FastAPI, client: TestClient) -> None:
    priced(app, ("A-1", "olive", 500, 5, "GBP"), ("A-2", "jojoba", 500, 50, "GBP"))
    page = client.get("/shelf/find", params={"wish": "60 ml, oleic over 30, under 3 pounds, cheapest"}).text

    assert limit_lines(page)["cost at most"] == ("3", "GBP")
    assert "cost of 60 mL, GBP" in words(page)
    found = asked(client, "60 ml, oleic over 30, cheapest")
    assert found["units"]["cost"] == "GBP"
    assert found["answers"][0]["figures"]["cost"] == pytest.approx(60 * 0.911 * 5 / 500, rel=0.06)


@pytest.mark.parametrize("whom", ["a newborn", "my granddaughter aged 2 months", "a baby of 1 month"])
def test_what_is_for_somebody_without_a_name_is_judged_for_them(client: TestClient, whom: str) -> None:
    anyone = asked(client, "with lavender 1%, fewest oils")
    theirs = asked(client, f"for {whom}, with lavender 1%, fewest oils")

    assert len(anyone["answers"]) == 1
    assert (theirs["answers"], theirs["not_understood"]) == ([], [])


def test_an_allergy_leaves_out_what_it_is_to(client: TestClient) -> None:
    page = words(client.get("/shelf/find", params={"wish": "for somebody with a nut allergy, oleic over 60"}).text)

    assert "oils and lots that something speaks against for somebody with a nut allergy" in page
    assert asked(client, "light, for my friend")["not_understood"][0]["said"] == "for my friend"


def test_another_currency_than_the_shelf_s_is_not_compared(app: FastAPI, client: TestClient) -> None:
    priced(app, ("A-1", "olive", 500, 5, "EUR"))
    (said,) = asked(client, "oleic over 30, under 3 pounds")["not_understood"]
    assert said == {"said": "under 3 pounds", "why": "the prices on the shelf are in EUR; say it in that"}
    page = client.get("/shelf/find", params={"wish": "oleic over 30, under 3 pounds"}).text
    assert "oleic at least" in limit_lines(page)
    assert "cost at most" not in limit_lines(page)
    assert asked(client, "oleic over 30, under 3 euros, fewest oils")["not_understood"] == []

    priced(app, ("A-2", "jojoba", 500, 50, "GBP"))
    (said,) = asked(client, "oleic over 30, under 3 euros")["not_understood"]
    assert "several currencies" in said["why"]
    assert all(each["figures"]["cost"] is None for each in asked(client, "oleic over 30, steadiest")["answers"])


def test_no_more_is_taken_from_a_lot_than_there_is_and_none_of_a_held_one(app: FastAPI, client: TestClient) -> None:
    priced(app, ("A-1", "olive", 20, 0.01, "GBP"), ("A-2", "almond-sweet", 500, 5, "GBP"))
    priced(app, ("A-3", "argan", 500, 50, "GBP"))
    (answer,) = asked(client, "50 ml, oleic over 50, from my shelf, cheapest")["answers"]
    (olive,) = [row for row in answer["rows"] if "A-1" in row]
    assert 19 <= float(olive.split()[0]) <= 20

    with app.state.sessions() as store, store.begin():
        hold_lot(store, "A-2", "held", "it smells of paint")
    (answer,) = asked(client, "40 ml, oleic over 40, from my shelf, cheapest")["answers"]
    assert not any("A-2" in row for row in answer["rows"])


def test_a_lot_that_ends_sooner_is_no_part_of_what_must_keep(app: FastAPI, client: TestClient) -> None:
    soon = today() + timedelta(days=40)
    with app.state.sessions() as store, store.begin():
        lots = [
            Lot("A-1", "sunflower-high-oleic", bought_g=500, left_g=500, best_before=soon),
            Lot("A-2", "almond-sweet", bought_g=500, left_g=500),
        ]
        put_lots(store, lots)
    found = asked(client, "50 ml, from my shelf, keeps 3 months, steadiest")
    short = asked(client, "50 ml, from my shelf, keeps 1 month, with sunflower (high oleic), steadiest")

    assert found["answers"][0]["oils"] == ["lot:A-2"]
    assert "lot:A-1" in short["answers"][0]["oils"]
    assert short["answers"][0]["figures"]["keeps"] == 1  # whole months till the supplier's date


def test_what_keeps_longest_goes_by_the_dates_too_and_a_date_is_no_reason_of_another_kind(
    app: FastAPI, client: TestClient
) -> None:
    """High-oleic sunflower keeps longer than almond, but not past its date; what must keep longer says so."""
    with app.state.sessions() as store, store.begin():
        soon = today() + timedelta(days=100)
        put_lots(store, [Lot("A-1", "sunflower-high-oleic", bought_g=500, left_g=500, best_before=soon)])
        put_lots(store, [Lot("A-2", "almond-sweet", bought_g=500, left_g=500)])
    (longest,) = asked(client, "50 ml, from my shelf, longest")["answers"]
    assert longest["oils"] == ["lot:A-2"]

    conflict = asked(client, "50 ml, from my shelf, with sunflower (high oleic), keeps 5 months")["conflict"]
    assert "keeps at least 5 months" in conflict["limits"]
    assert "or keeps 3 months" in conflict["gives"]


def test_a_wish_too_long_or_a_bottle_too_large_is_said(client: TestClient) -> None:
    page = words(client.get("/shelf/find", params={"wish": "light, " * 80}).text)

    assert "this has 560 characters; up to 500 are read" in page
    (bottle,) = asked(client, "0 ml, light")["not_understood"]
    assert "1 to 20,000 mL can" in bottle["why"]
    assert client.post("/api/find", json={"wish": "light, " * 80}).status_code == 422


def test_a_wish_is_kept_until_it_is_kept_no_longer_and_says_when_the_shelf_has_changed(
    app: FastAPI, client: TestClient
) -> None:
    def keep(kept: str) -> str:
        form = {"token": token(client), "wish": WISH, "measure": "spoons", "kept": kept}
        return words(client.post("/shelf/find/keep", data=form).text)

    assert "Keep this wish" in words(client.get("/shelf/find", params={"wish": WISH}).text)
    assert "Keep it no longer" in keep("true")
    listed = client.get("/shelf/find").text
    assert f"{WISH} kept {say_day(today())} Every" not in words(listed)
    assert f"{WISH} kept {say_day(today())}" in words(listed)
    assert "the shelf has changed since" not in words(listed)
    (address,) = [each for each in links(listed, WISH) if "find" in each]
    assert parse_qs(urlsplit(address).query) == {"wish": [WISH], "measure": ["spoons"]}

    priced(app, ("A-1", "olive", 500, 5, "GBP"))
    assert "the shelf has changed since" in words(client.get("/shelf/find").text)
    assert "the shelf has changed since" not in keep("true")
    assert client.get("/shelf/find").text.count(WISH) == 1
    assert "Keep this wish" in keep("false")
    assert "Kept wishes" not in client.get("/shelf/find").text


def test_a_scent_and_what_protects_it_come_along_and_the_rules_look_at_them(client: TestClient) -> None:
    found = asked(client, "50 ml face oil, light, with vitamin E, scented with 1 % lavender, steadiest")
    (answer,) = found["answers"]

    assert "with 0.5 % of Mixed tocopherols (vitamin E) along" in found["limits"]
    assert answer["rows"][-2:] == ["0.5 % Mixed tocopherols (vitamin E)", "1 % Lavender (true) essential oil"]
    assert answer["percent"][-2:] == pytest.approx([0.5, 1])
    made = client.post("/api/assess", json={"recipe": "\n".join(answer["rows"]), "product": "facial-oil"}).json()
    (volume,) = [each["value"] for each in made["findings"] if each["key"] == "total_volume"]
    assert 47 <= volume <= 50.5


def test_what_the_rules_are_against_is_said_where_limits_are_not_the_reason(client: TestClient) -> None:
    wish = {"wish": "50 ml face oil, light, with 8 % of lemon essential oil, steadiest", "why": "true"}
    page = words(client.get("/shelf/find", params=wish).text)

    assert "Blends keep all of it, and this is against them" in page
    assert "Lemon (expressed)" in page
    assert "exclude one another" not in page


def test_a_wish_is_said_in_the_words_that_the_shelf_is_asked_in(client: TestClient) -> None:
    wish = "lighter than avocado, more linoleic than argan, thinner than olive, no nuts, steadiest"
    found = asked(client, wish)
    facts = shipped_catalogue()
    avocado, argan, olive = (oil_profile(facts.ingredient(key)) for key in ("avocado", "argan", "olive"))
    (answer,) = found["answers"]

    assert found["not_understood"] == []
    assert avocado.feel is not None
    assert argan.linoleic is not None
    assert olive.thickness is not None
    assert answer["figures"]["feel"] <= avocado.feel - 0.4 + 1e-6
    assert answer["figures"]["linoleic"] >= argan.linoleic
    assert answer["figures"]["thickness"] <= 0.9 * olive.thickness + 0.1
    (strange,) = asked(client, "lighter than zorgblat")["not_understood"]
    assert "no oil that is known" in strange["why"]


def test_an_oil_that_tints_is_no_more_of_it_than_may_be_seen(client: TestClient) -> None:
    """Sea buckthorn by itself tints skin far more than 6 ΔE: as much of it is taken as does not."""
    wish = "50 ml, with at least 3 % sea buckthorn fruit oil, tint under {}, longest"
    (answer,) = asked(client, wish.format(6))["answers"]
    assert answer["figures"]["tint"] <= 6
    assert "sea-buckthorn-fruit" in answer["oils"]
    assert asked(client, wish.format(1))["answers"] == []


def test_a_product_brings_what_is_stopped_in_it(client: TestClient) -> None:
    found = asked(client, "50 ml face oil, with mustard oil, steadiest")

    assert "without Mustard seed oil: stopped in facial oil" in found["limits"]
    assert found["answers"] == []
    assert found["conflict"]["limits"] == ["with Mustard seed oil"]
