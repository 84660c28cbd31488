"""The shelf sorted, sifted and laid side by side; all of it stands in the address."""

from __future__ import annotations

import re

import pytest
from fastapi.testclient import TestClient
from tests.web.test_pages import words


def names(client: TestClient, **asked: str | list[str]) -> list[str]:
    page = client.get("/shelf", params=asked).text
    return re.findall(r'aria-label="Mark ([^"]+)"', page)


def test_the_whole_shelf_is_there(client: TestClient) -> None:
    assert len(names(client)) >= 88


@pytest.mark.parametrize(
    ("sort", "first"),
    [("linoleic", "Safflower oil (high linoleic)"), ("omega_3", "Chia seed oil"), ("name", "Abyssinian (crambe) oil")],
)
def test_it_is_sorted_by_what_matters(client: TestClient, sort: str, first: str) -> None:
    assert names(client, sort=sort)[0] == first


def test_the_unknown_stands_last_and_an_unknown_order_is_by_name(client: TestClient) -> None:
    assert {"Beeswax", "Squalane", "Lanolin"} <= set(names(client, sort="linoleic")[-20:])
    assert names(client, sort="colour of the moon") == names(client)


def test_families_are_left_out(client: TestClient) -> None:
    nuts = {"Sweet almond oil", "Hazelnut oil", "Walnut oil"}

    assert nuts <= set(names(client))
    assert not nuts & set(names(client, without=["tree_nut"]))
    assert "Sesame oil (unroasted)" not in names(client, without=["tree_nut", "sesame"])


def test_oils_are_found_by_example(client: TestClient) -> None:
    found = names(client, than="avocado", lighter="true", longer="true", without=["tree_nut"])

    assert "Jojoba oil (liquid wax)" in found
    assert "Avocado oil" not in found  # not lighter than itself
    assert "Grapeseed oil" not in found  # lighter, but it does not keep as long
    assert "Castor oil" not in found  # keeps longer, but it is as rich
    assert "is one of several" in words(client.get("/shelf", params={"than": "sunflower seed"}).text)
    assert "not in the catalogue" in words(client.get("/shelf", params={"than": "zorgblat"}).text)


def test_only_what_is_on_hand(client: TestClient) -> None:
    assert names(client, on_hand="true") == []
    assert "Nothing on the shelf answers to this" in words(client.get("/shelf", params={"on_hand": "true"}).text)


def test_two_to_five_oils_side_by_side_differences_first(client: TestClient) -> None:
    page = words(client.get("/shelf/compare", params={"oil": ["olive", "grapeseed", "jojoba"]}).text)

    assert page.index("Linoleic") < page.index("Density at 20 °C")
    assert "83.1" in page  # iodine value of jojoba, as on its own page
    assert "Feel on dry skin" in page


@pytest.mark.parametrize(
    ("oils", "status", "message"),
    [
        (["olive"], 400, "1 oils cannot be laid side by side"),
        (["olive", "olive"], 400, "1 oils cannot be laid side by side"),
        (["olive", "argan", "castor", "shea-butter", "jojoba", "mct"], 400, "2 to 5 can"),
        (["olive", "zorgblat"], 404, "no ingredient “zorgblat”"),
    ],
)
def test_what_cannot_be_compared_says_why(client: TestClient, oils: list[str], status: int, message: str) -> None:
    answer = client.get("/shelf/compare", params={"oil": oils})

    assert answer.status_code == status
    assert message in words(answer.text)
