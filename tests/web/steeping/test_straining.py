"""A strained jar becomes a lot: with its parentage, its spent life, its cautions and its words on a label."""

from __future__ import annotations

from datetime import timedelta

from fastapi import FastAPI
from fastapi.testclient import TestClient
from sqlalchemy import select, update
from tests.web.conftest import field, token, words
from tests.web.steeping.test_jars import begin, note

from uptide.store.models import LotRow
from uptide.store.shelf import shelf_changed
from uptide.workshop.clock import today


def strain(client: TestClient, jar: str, **fields: str) -> str:
    """Strain a jar; return the page that this leads to."""
    form = {"token": token(client, f"{jar}/strain"), "out": "180", "how": "pressed", "code": "J-1"} | fields
    return client.post(f"{jar}/strain", data=form).text


def test_a_strained_jar_is_a_lot_with_its_parentage(client: TestClient) -> None:
    jar = begin(client, plant="st-johns-wort", state="dried", grams="40", oil="olive oil", name="From the lane")
    note(client, jar, kind="picked", words="at the lane, by Maren", on=(today() - timedelta(days=20)).isoformat())
    page = words(strain(client, jar, price="12.50", currency="gbp", marc="70", dregs="6"))

    assert "St John's wort in olive oil" in page
    assert "at the lane, by Maren" in page
    assert "Hypericum perforatum" in page
    assert "6.94 GBP" in page  # 12.50 for 180 g
    assert "of the oil’s life, by the model" in page
    assert "the plants in it" in page or "the oil itself" in page

    story = words(client.get(jar).text)
    assert "Its oil: lot J-1" in story
    assert "Strained on" in story
    assert "pressed plant weighed, 70 g" in story
    assert client.get(f"{jar}/strain", follow_redirects=False).headers["location"] == "/shelf/lots/J-1"


def test_its_cautions_and_words_are_on_the_label_of_a_blend(client: TestClient) -> None:
    jar = begin(client, plant="st-johns-wort", state="dried", grams="40", oil="olive oil")
    strain(client, jar)
    form = {"token": token(client, "/blends/new"), "new": "60 ml lot J-1", "name": "Lane oil"}
    saved = client.post("/blends", data=form, follow_redirects=False).headers["location"].split("?")[0]
    label = words(client.get(f"{saved}/versions/1/label").text)

    assert "Olea Europaea Fruit Oil, Hypericum Perforatum Flower Extract" in label
    assert "Keep this skin out of the sun for 12 to 24 hours." in label


def test_wet_plant_is_a_stop_until_weighings_show_the_water_gone(client: TestClient) -> None:
    jar = begin(client, plant="calendula", state="fresh", grams="100", oil_grams="500", method="warm-bath")
    assert "No weighing shows" in client.get(f"{jar}/strain").text
    wet = words(strain(client, jar))
    assert "may be left in it" in wet

    dry = begin(client, plant="calendula", state="fresh", grams="100", oil_grams="500", method="warm-bath")
    note(client, dry, kind="weighed open", grams="1000")
    note(client, dry, kind="weighed open", grams="900", on=today().isoformat())
    assert "No weighing shows" not in client.get(f"{dry}/strain").text
    assert "none that could grow anything" in words(strain(client, dry, code="J-2"))


def test_what_cannot_be_read_stands_beside_its_field_and_nothing_is_kept(client: TestClient) -> None:
    jar = begin(client)
    for name, value, said in (
        ("out", "", "How much oil came out?"),
        ("out", "much", "“much” is not a weight in grams"),
        ("marc", "-3", "below nothing"),
        ("on", "2001-01-01", "is no day"),
        ("code", "new", "is not a lot’s code"),
        ("how", "wrung", "“wrung” is none of"),
    ):
        page = strain(client, jar, **{name: value})
        assert said in words(page)
        assert "Kept." not in page
    assert "Strain it" in client.get(jar).text
    assert field(strain(client, jar, out="much"), "out") == "much"


def test_a_straining_sent_twice_makes_one_lot(client: TestClient) -> None:
    jar = begin(client)
    form = {"token": token(client, f"{jar}/strain"), "out": "180", "how": "pressed", "code": "J-1"}
    first, second = (client.post(f"{jar}/strain", data=form, follow_redirects=False) for _ in range(2))

    assert first.headers["location"] == second.headers["location"] == "/shelf/lots/J-1?said=strained"
    assert words(client.get(jar).text).count("strained, 180 g") == 1


def test_a_jar_is_one_lot(client: TestClient) -> None:
    jar, other = begin(client), begin(client)
    again = {"token": token(client, f"{jar}/strain"), "out": "10", "how": "pressed", "code": "J-2"}
    strain(client, jar)

    assert "is a lot on the shelf already" in words(client.post(f"{jar}/strain", data=again).text)
    assert "stands on the shelf already" in words(strain(client, other))


def test_a_jar_that_was_strained_before_can_be_put_on_the_shelf(client: TestClient) -> None:
    jar = begin(client)
    note(client, jar, kind="strained", grams="250")
    page = client.get(f"{jar}/strain").text

    assert field(page, "out") == "250"
    assert "Put it on the shelf" in page
    assert "Yarrow in sunflower oil" in words(strain(client, jar, out="250"))
    assert words(client.get(jar).text).count("strained, 250 g") == 1


def test_what_was_weighed_is_learnt_for_the_next_jar_of_that_plant(client: TestClient) -> None:
    address = "/steeping?plant=yarrow&grams=40&jar_ml=700"
    assert "By your own jar" not in client.get(address).text
    strain(client, begin(client), out="300")
    assert "By your own jar it keeps" in words(client.get(address).text)
    assert "By your own jar" not in client.get("/steeping?plant=calendula&grams=40&jar_ml=700").text


def test_a_file_of_lots_keeps_the_plants_and_takes_nothing_from_a_jar(client: TestClient) -> None:
    jar = begin(client, plant="st-johns-wort", state="dried", grams="40", oil="olive oil")
    strain(client, jar)
    text = client.get("/shelf/lots.csv").text
    assert "St John's wort,dried," in text

    def bring(content: str) -> None:
        client.post(
            "/shelf/lots/bring-in",
            data={"token": token(client, "/shelf/lots")},
            files={"file": ("lots.csv", content.encode(), "text/csv")},
        )

    bring(text)
    assert "Steeped from" in words(client.get("/shelf/lots/J-1").text)  # the jar knows more than the file
    bring(text.replace("J-1", "J-9"))
    page = words(client.get("/shelf/lots/J-9").text)
    assert "St John's wort in olive oil" in page
    assert "Steeped from" not in page


def test_a_lot_says_what_100_ml_cost_and_what_scent_may_be_in_it(client: TestClient) -> None:
    jar = begin(client, plant="lavender", state="dried", grams="40", oil="olive oil", oil_grams="320")
    page = words(strain(client, jar, price="20", currency="gbp", out="250"))

    assert "8.00 GBP, of 100 mL 7.31" in page  # olive oil weighs 0.9135 g/mL
    # 36 g dry with 3 % of scent in 320 g of oil.
    assert "at most 0.34 %, if all of it passed over" in page


def test_what_lives_in_a_jar_does_not_come_on_the_shelf(client: TestClient) -> None:
    jar = begin(client)
    note(client, jar, kind="mould")
    assert "Mould. Bin all of it" in words(client.get(f"{jar}/strain").text)
    refused = words(strain(client, jar))
    assert "its note can be taken out" in refused
    assert "J-1" not in client.get("/shelf/lots").text

    binned = begin(client)
    note(client, binned, kind="binned", words="dropped")
    assert "Nothing of it comes on the shelf" in words(strain(client, binned))
    assert "J-1" not in client.get("/shelf/lots").text


def test_a_jar_of_which_nothing_should_come_still_opens(client: TestClient) -> None:
    jar = begin(client, grams="200", oil_grams="100", jar_ml="2000")
    strain(client, jar, out="10", marc="250")
    assert client.get(jar).status_code == 200
    assert client.get("/steeping?plant=yarrow").status_code == 200
    other = begin(client)
    note(client, other, kind="more plant added", grams="90000")
    assert client.get(other).status_code == 200


def test_what_a_lot_was_infused_with_is_taken_away_when_its_field_is_emptied(client: TestClient) -> None:
    form = {"code": "B-1", "ingredient": "olive oil", "bought_g": "100", "infused_with": "calendula"}
    page = client.post("/shelf/lots", data=form | {"token": token(client, "/shelf/lots/new")}).text
    assert "Calendula in olive oil" in words(page)
    changed = form | {"known": "B-1", "infused_with": "", "token": token(client, "/shelf/lots/B-1/edit")}
    assert "Where it comes from" not in words(client.post("/shelf/lots", data=changed).text)


def test_an_infusion_that_can_be_read_no_more_stays_as_it_was_stored(client: TestClient, app: FastAPI) -> None:
    strain(client, begin(client))
    stored = {"plants": "two", "jar": 1}
    with app.state.sessions() as session, session.begin():
        session.execute(update(LotRow).values(infusion=stored))
        shelf_changed(session)
    page = words(client.get("/shelf/lots/J-1").text)
    assert "was stored here and cannot be read" in page
    assert "a plant that can be read no more" in page

    edited = client.get("/shelf/lots/J-1/edit").text
    names = ("code", "known", "ingredient", "bought_g", "left_g", "infused_with", "plant_state", "way")
    form = {name: field(edited, name) for name in names} | {
        "note": "by the door",
        "token": token(client, "/shelf/lots"),
    }
    assert "by the door" in client.post("/shelf/lots", data=form).text
    with app.state.sessions() as session:
        assert session.scalars(select(LotRow.infusion)).all() == [stored]
