"""The shelf sorted, filtered and laid side by side; all of it stands in the address."""

from __future__ import annotations

import html
import re
from datetime import date
from urllib.parse import parse_qs, urlsplit

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from tests.web.conftest import saved, token, words

from uptide.core.ingredients.lot import Lot
from uptide.store.shelf import put_lots


def names(client: TestClient, **asked: str | list[str]) -> list[str]:
    page = client.get("/shelf", params=asked).text
    return re.findall(r'aria-label="Mark ([^"]+)"', page)


def test_the_whole_shelf_is_there(client: TestClient) -> None:
    assert len(names(client)) >= 88


@pytest.mark.parametrize(
    ("sort", "first"),
    [("linoleic", "Safflower oil (high linoleic)"), ("omega_3", "Chia seed oil"), ("", "Abyssinian (crambe) oil")],
)
def test_it_is_sorted_by_what_matters(client: TestClient, sort: str, first: str) -> None:
    assert names(client, sort=sort)[0] == first


def test_the_unknown_stands_last_and_an_unknown_order_is_by_name(client: TestClient) -> None:
    assert {"Beeswax", "Squalane", "Lanolin"} <= set(names(client, sort="linoleic")[-20:])
    assert names(client, sort="colour of the moon") == names(client)


def test_it_is_filtered_in_words_and_says_how_it_read_them(client: TestClient) -> None:
    page = words(client.get("/shelf", params={"q": "keeps longer than avocado, no nuts, no foo, solid or liquid"}).text)

    assert "keeps longer than Avocado oil" in page
    assert "without peanut, tree nut" in page
    assert "“no foo” was not understood: “foo” is no allergen family that is known" in page
    assert "Left out, because what is asked is unknown of them: Beeswax" in page
    assert "Sweet almond oil" not in names(client, q="lighter than avocado, no nuts")


def test_what_nobody_typed_can_be_taken_out_as_well(client: TestClient) -> None:
    page = client.get("/shelf", params={"q": "lighter than avocado"}).text
    link = re.search(r'href="([^"]+)" aria-label="Take out: liquid in the room, as Avocado oil is"', page)
    assert link is not None

    assert "Coconut oil" not in names(client, q="lighter than avocado")
    assert "Coconut oil" in words(client.get(html.unescape(link[1])).text)


def test_cheap_puts_what_has_a_price_on_top_and_an_open_search_what_is_on_hand(
    client: TestClient, app: FastAPI
) -> None:
    with app.state.sessions() as session, session.begin():
        day = date(2026, 1, 2)
        put_lots(
            session,
            [
                Lot(
                    "A-1",
                    "olive",
                    supplier="Harrow",
                    received_on=day,
                    opened_on=day,
                    best_before=date(2027, 6, 1),
                    bought_g=100,
                    left_g=50,
                    price=9.0,
                    currency="GBP",
                    place="shelf",
                ),
                Lot(
                    "A-2",
                    "jojoba",
                    supplier="Harrow",
                    received_on=day,
                    opened_on=day,
                    best_before=date(2027, 6, 1),
                    bought_g=100,
                    left_g=50,
                    price=4.0,
                    currency="GBP",
                    place="shelf",
                ),
            ],
        )

    assert names(client, q="cheap")[:2] == ["Jojoba oil (liquid wax)", "Olive oil (virgin)"]
    assert names(client, q="dearest")[:2] == ["Olive oil (virgin)", "Jojoba oil (liquid wax)"]
    assert names(client, q="liquid")[:2] == ["Jojoba oil (liquid wax)", "Olive oil (virgin)"]
    assert names(client)[0] not in ("Jojoba oil (liquid wax)", "Olive oil (virgin)")


def test_a_condition_is_taken_out_by_its_link(client: TestClient) -> None:
    page = client.get("/shelf", params={"q": "no nuts, butters", "sort": "oleic", "oil": ["olive"]}).text
    link = html.unescape(re.search(r'href="([^"]+)" aria-label="Take out: without peanut, tree nut"', page)[1])  # type: ignore[index]

    assert link == "/shelf?q=butters&sort=oleic&oil=olive"
    assert (
        names(client, **parse_qs(urlsplit(link).query))[0] == "Mango seed butter" or len(names(client, q="butters")) > 5
    )


def test_as_one_types_only_what_was_found_is_drawn(client: TestClient) -> None:
    part = client.get("/shelf", params={"q": "butters"}, headers={"x-filter": "fragment"}).text

    assert "<html" not in part
    assert 'id="found"' in part


def test_marks_stay_in_the_address_even_for_what_is_not_found(client: TestClient) -> None:
    page = words(client.get("/shelf", params={"q": "butters", "oil": ["olive", "jojoba", "zorgblat"]}).text)

    assert "Marked: Olive oil (virgin) Jojoba oil (liquid wax) Lay the marked side by side" in page


def test_only_what_is_on_hand(client: TestClient) -> None:
    assert names(client, q="on hand") == []
    assert "Nothing on the shelf answers to this" in words(client.get("/shelf", params={"q": "on hand"}).text)


def test_the_chart_draws_every_oil_and_fades_what_was_not_asked_for(client: TestClient) -> None:
    whole, part = (client.get("/shelf/chart", params={"q": q}).text for q in ("", "butters"))

    assert whole.count('id="at-') == 88
    assert 'id="at-squalane"' not in whole
    assert "Not on the chart" in words(whole)
    assert 'class="oil faint' not in whole
    assert part.count('class="oil faint') == 88 - 13  # the butters have a profile each
    assert re.search(r'id="at-grapeseed"[^>]*data-left="[a-z-]+"', whole)


def test_a_blend_lies_within_what_its_oils_can_reach(client: TestClient) -> None:
    saved(client, typed=["2 tbsp olive", "2 tbsp rosehip", "1 tbsp coconut"], new="", container_ml="")
    page = client.get("/shelf/chart", params={"blend": 1}).text

    assert page.count('class="reach"') == 1
    corners = [tuple(map(float, p.split(","))) for p in re.search(r'class="reach" points="([^"]+)"', page)[1].split()]  # type: ignore[index]
    x, y = map(float, re.search(r'class="blend-mark" d="M([\d.]+) ([\d.]+)', page).groups())  # type: ignore[union-attr]
    assert min(c[0] for c in corners) <= x <= max(c[0] for c in corners)
    assert min(c[1] for c in corners) <= y + 9 <= max(c[1] for c in corners)


def test_the_page_of_an_oil_says_all_that_is_known_of_it(client: TestClient) -> None:
    page = words(client.get("/shelf/olive").text)

    for said in (
        "INCI Olea Europaea Fruit Oil",
        "published 75.0 to 94.0: inside",
        "clear above 5 °C",
        "How thick",
        "Feel on dry skin rich",
        "Clog rating 2 of 5",
        "Unsaponifiable matter",
        "Tocopherols",
        "Oxidizability (Cox value)",
        "Induction time at 110 °C",
        "Nearest by fatty acids",
        "Nearest in use",
        "rabbit ears",
    ):
        assert said in page, said


def test_an_oil_has_one_life_of_the_trade_and_one_induction_time_and_another_list_is_cited_beside_it(
    client: TestClient,
) -> None:
    """Walnut: 6 to 12 months and 3 h are what its keeping is worked out by; the other list says 4 to 9 and 4 h."""
    page = words(client.get("/shelf/walnut").text)

    assert page.count("Life as the trade gives it") == 2
    assert page.index("Life as the trade gives it 6 to 12 months") < page.index(
        "by another list 6.0 (4.0 to 9.0) months"
    )
    assert page.index("Induction time at 110 °C 3.0 h") < page.index("by another list 4.0 (2.5 to 5.5) h")
    # Of an oil that no set was calibrated on, the one list there is.
    assert words(client.get("/shelf/kukui").text).count("Life as the trade gives it") == 1


def test_what_is_no_oil_has_a_page_without_pictures_of_oil(client: TestClient) -> None:
    page = words(client.get("/shelf/lavender").text)

    assert "Lavender" in page
    assert "How thick" not in page


def test_two_to_five_oils_side_by_side_differences_first(client: TestClient) -> None:
    page = words(client.get("/shelf/compare", params={"oil": ["olive", "grapeseed", "jojoba"]}).text)

    assert page.index("Linoleic") < page.index("Alike, or unknown of some") < page.index("Density at 20 °C")
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


def test_the_page_of_a_scent_says_what_it_holds_its_limits_and_what_is_alike(client: TestClient) -> None:
    page = words(client.get("/shelf/bergamot").text)

    assert "pressed from the peel" in page
    assert "0.4 % at most, because of bergapten (phototoxicity)" in page
    assert "burns; 0.4 % at most on skin that sees the sun" in page
    assert "linalyl acetate 22 · 29 · 36" in page.replace("  ", " ")
    assert re.search(r"Bergamot FCF \(furocoumarin-free\) essential oil 100 % alike", page)
    assert "Stop with a sunbed or light therapy" in page


def test_the_page_of_an_oil_says_whom_it_is_not_for(client: TestClient) -> None:
    assert "Stop with an allergy to tree nuts" in words(client.get("/shelf/almond-sweet").text)
    assert "Whom it is not for" not in words(client.get("/shelf/squalane").text)


def test_the_shelf_is_asked_for_somebody(client: TestClient) -> None:
    card = {"token": token(client), "name": "Ines", "skin": "oily", "allergies-tree_nut": "yes", "others": "allergies"}
    assert client.post("/people", data=card, follow_redirects=False).status_code == 303
    oily, ines = names(client, q="for oily skin"), names(client, q="for Ines")

    assert "Grapeseed oil" in oily
    assert "Avocado oil" not in oily
    assert "Walnut oil" in oily
    assert set(ines) == set(oily) - {"Walnut oil", "Brazil nut oil", "Kukui nut oil", "Cherry kernel oil"}
    assert "nothing known against it for Ines" in words(client.get("/shelf?q=for+Ines").text)
    assert "is nobody known here" in words(client.get("/shelf?q=for+the+cat").text)


def test_what_nobody_said_of_an_oil_is_unknown_to_the_allergic_and_broken_skin_bears_none(client: TestClient) -> None:
    card = {"token": token(client), "name": "Ines", "allergies-tree_nut": "yes", "others": "allergies"}
    own = {"token": token(client, "/shelf/own"), "name": "Gifted oil", "table": "Oleic 78\nLinoleic 22"}
    assert client.post("/people", data=card, follow_redirects=False).status_code == 303
    assert client.post("/shelf/own", data=own, follow_redirects=False).status_code == 303
    page = words(client.get("/shelf?q=for+Ines").text)

    assert "Gifted oil" not in names(client, q="for Ines")
    assert "Left out, because what is asked is unknown of them: Gifted oil" in page
    assert "Gifted oil: unknown for Ines" in words(client.get("/quick?q=gifted+oil+for+Ines").text)
    assert "Gifted oil" in names(client, q="for pregnancy")
    assert names(client, q="for broken skin") == []


@pytest.mark.parametrize(
    ("asked", "first", "last"),
    [
        ("keeps longest, carriers", "Caprylic/capric", "Perilla"),
        ("most linoleic, carriers", "Safflower oil (high linoleic)", "Meadowfoam"),
        ("least linoleic, carriers", "Caprylic/capric", "Safflower oil (high linoleic)"),
    ],
)
def test_a_superlative_puts_the_shelf_in_order(client: TestClient, asked: str, first: str, last: str) -> None:
    found = names(client, q=asked)

    assert first in found[0], found[:5]
    assert found.index(next(name for name in found if first in name)) < found.index(
        next(name for name in found if last in name)
    )
