"""The finder’s page and its API: what is understood, answers that go to the bench, and why there are none."""

from __future__ import annotations

import re
from urllib.parse import parse_qs, urlsplit

import pytest
from fastapi.testclient import TestClient
from tests.web.conftest import words

from uptide.catalogue.shipped import shipped_catalogue

WISH = "60 ml face oil for oily skin, linoleic over 50, keeps 4 months, with jojoba, no nuts, steadiest"
NEVER = "linoleic over 50, keeps 11 months, steadiest"


def links(page: str, what: str) -> list[str]:
    return [each.replace("&amp;", "&") for each in re.findall(rf'href="([^"]*)"[^>]*>{what}', page)]


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

    assert "linoleic at least 50 % of the acids" in words(page)
    assert "“keeps eleventy” was not understood" in words(page)
    assert "Take it to the bench" not in page
    assert "drop “60 ml face oil”" in words(client.get("/shelf/find", params={"wish": "60 ml face oil, tingly"}).text)
    dropped = [parse_qs(urlsplit(each).query)["wish"][0] for each in links(page, "drop")]
    assert "linoleic over 50, keeps eleventy, fewest oils" in dropped
    assert "no nuts, keeps eleventy, fewest oils" in dropped


def test_what_cannot_be_says_which_limits_exclude_one_another(client: TestClient) -> None:
    page = client.get("/shelf/find", params={"wish": NEVER}).text
    (ask,) = links(page, "Which limits exclude one another")
    said = words(client.get(ask).text)

    assert "Nothing that was looked for keeps all of it" in said
    assert "These exclude one another:" in said
    assert "keeps at least 11 months" in said
    assert re.search(r"or linoleic 3\d(\.\d)? %", said)


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


def test_the_first_answer_stands_at_once_and_the_others_are_fetched(client: TestClient) -> None:
    wish = WISH.removesuffix(", steadiest")
    page = client.get("/shelf/find", params={"wish": wish}).text
    (others,) = re.findall(r'data-href="([^"]*)"', page)
    rest = client.get(others.replace("&amp;", "&"), headers={"x-filter": "fragment"}).text

    assert page.count("Take it to the bench") == 1
    assert rest.count("Take it to the bench") > 1
    assert "<html" not in rest
    assert "data-href" not in rest
    assert links(page, "Take it to the bench")[0] in links(rest, "Take it to the bench")
