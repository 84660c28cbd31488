"""Lots, certificates and own oils through the pages: kept, read, called out, used in a blend, and out again as CSV."""

from __future__ import annotations

import html
import re

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response
from tests.web.conftest import field, saved, token, words

from uptide.store.shelf import load_lot
from uptide.workshop.clock import today

HIGH_OLEIC = "Palmitic 4.1\nStearic 3.0\nOleic 78.6\nLinoleic 12.9\nPeroxide value 0.8 meq/kg"


def keep_lot(client: TestClient, **fields: str) -> Response:
    plain = {
        "code": "A-1",
        "ingredient": "sunflower high linoleic",
        "bought_g": "920",
        "token": token(client, "/shelf/lots/new"),
    }
    return client.post("/shelf/lots", data=plain | fields)


def blend(client: TestClient, *rows: str) -> str:
    """The number of a new blend of these rows."""
    found = re.search(r"/blends/(\d+)", saved(client, typed=list(rows), new="", container_ml=""))
    assert found
    return found[1]


def oleic(client: TestClient, number: str) -> float:
    found = re.search(r"Oleic ([\d.]+) % of", words(client.get(f"/blends/{number}").text))
    assert found
    return float(found[1])


def certify(client: TestClient, table: str, code: str = "A-1", dated_on: str = "") -> Response:
    page = f"/shelf/lots/{code}"
    return client.post(
        f"{page}/certificates", data={"token": token(client, page), "table": table, "dated_on": dated_on}
    )


def test_a_lot_is_kept_and_listed(client: TestClient) -> None:
    page = words(keep_lot(client, price="4,10", currency="gbp", best_before="2027-12-01", container="1 L can").text)

    assert "Kept." in page
    assert "1 L can" in page
    assert "920 of 920 g" in page
    assert "0.45 GBP" in page
    assert "A-1 Sunflower oil (high linoleic)" in words(client.get("/shelf/lots").text)
    assert "Your lots of it: A-1 , 920 g left" in words(client.get("/shelf/sunflower").text)


def test_a_lot_has_a_grade_said_in_its_name_or_chosen_and_it_goes_out_and_in_again(
    client: TestClient, app: FastAPI
) -> None:
    page = words(keep_lot(client, ingredient="light olive oil").text)
    keep_lot(client, code="A-2", ingredient="avocado", grade="refined")
    keep_lot(client, code="A-3", ingredient="avocado")

    assert "A lot of Olive oil (virgin) , refined" in page
    assert "Olive oil, refined, lot A-1" in page
    out = client.get("/shelf/lots.csv").text
    assert ["refined" in line for line in out.splitlines()[1:4]] == [True, True, False]
    assert 'value="refined" selected' in client.get("/shelf/lots/A-2/edit").text
    # Kept again as it stands, it stays of its grade; and the file brings it in again.
    edit = "/shelf/lots/A-2/edit"
    kept = {"code": "A-2", "known": "A-2", "ingredient": "avocado", "grade": "refined", "bought_g": "920"}
    client.post("/shelf/lots", data={"token": token(client, edit), "note": "the pale one", **kept})
    assert "Avocado oil, refined, lot A-2" in words(client.get("/shelf/lots/A-2").text)
    with app.state.sessions() as store:
        assert [load_lot(store, code).grade for code in ("A-1", "A-2", "A-3")] == ["refined", "refined", ""]


def test_a_double_tap_makes_one_lot(client: TestClient) -> None:
    form = {"code": "A-1", "ingredient": "jojoba", "bought_g": "100", "token": token(client, "/shelf/lots/new")}

    assert [client.post("/shelf/lots", data=form).status_code for _ in range(2)] == [200, 200]
    assert client.get("/shelf/lots").text.count("/shelf/lots/A-1") == 1


@pytest.mark.parametrize(
    ("fields", "why"),
    [
        ({"code": "a/b"}, "is not a lot’s code"),
        ({"code": "new"}, "is not a lot’s code"),
        ({"ingredient": "zorgblat"}, "is not on the shelf’s list"),
        ({"ingredient": "sunflower"}, "is one of several"),
        ({"bought_g": ""}, "How much came?"),
        ({"bought_g": "lots"}, "is not an amount"),
        ({"left_g": "1000"}, "1000 g left of 920 g cannot be"),
        ({"price": "-1"}, "a price of -1 cannot be"),
        ({"received_on": "tomorrow"}, "is not a day"),
        ({"received_on": "2026-05-01", "opened_on": "2026-04-01"}, "before it came"),
    ],
)
def test_a_lot_that_cannot_be_says_why_and_keeps_what_was_typed(
    client: TestClient, fields: dict[str, str], why: str
) -> None:
    answer = keep_lot(client, **({"note": "from the market"} | fields))

    assert answer.status_code == 422
    assert why in words(answer.text)
    assert "from the market" in answer.text


@pytest.mark.parametrize(
    ("fields", "place"),
    [
        ({"bought_g": "lots"}, "bought_g"),
        ({"opened_on": "tomorrow"}, "opened_on"),
        ({"ingredient": "zorgblat"}, "ingredient"),
    ],
)
def test_what_is_wrong_stands_beside_its_field_which_has_the_focus(
    client: TestClient, fields: dict[str, str], place: str
) -> None:
    page = keep_lot(client, **fields).text
    tag = re.search(rf'<input[^>]*id="{place}"[^>]*>', page)
    assert tag is not None

    assert "autofocus" in tag[0]
    assert 'aria-invalid="true"' in tag[0]
    assert page.count("autofocus") == 1
    assert 'role="alert"' not in page


@pytest.mark.parametrize(
    ("typed", "grams"),
    [
        ("500 ml", 432.0),
        ("1 L", 864.0),
        ("16 fl oz", 16 * 29.5735 * 0.864),
        ("1 lb", 453.592),
        ("250", 250.0),
        ("1,5 kg", 1500),
    ],
)
def test_a_lot_is_taken_by_volume_as_well(client: TestClient, app: FastAPI, typed: str, grams: float) -> None:
    assert keep_lot(client, ingredient="jojoba", bought_g=typed).status_code == 200
    with app.state.sessions() as session:
        assert load_lot(session, "A-1").bought_g == pytest.approx(grams, rel=1e-4)


@pytest.mark.parametrize("typed", ["2 oz", "half of it", "3 parts", "2 blobs"])
def test_what_is_no_amount_of_a_lot_is_refused_with_what_can_be(client: TestClient, typed: str) -> None:
    assert "write “500 g”, “500 ml” or “16 fl oz”" in words(keep_lot(client, ingredient="jojoba", bought_g=typed).text)


def test_a_new_lot_has_a_code_a_day_and_names_to_choose_from(client: TestClient) -> None:
    first = client.get("/shelf/lots/new?of=argan").text
    assert (field(first, "code"), field(first, "received_on")) == ("L-001", today().isoformat())
    assert '<option value="Argan oil">' in first
    keep_lot(client, code="SR-0099")

    assert field(client.get("/shelf/lots/new").text, "code") == "SR-0100"


def test_a_lot_is_changed_and_used_up_and_stays_known(client: TestClient) -> None:
    keep_lot(client)
    again = keep_lot(client)
    assert again.status_code == 422
    assert "stands on the shelf already" in words(again.text)
    keep_lot(client, known="A-1", left_g="100", place="fridge")
    assert "100 of 920 g" in words(client.get("/shelf/lots/A-1").text)
    number = blend(client, "50 g A-1")

    client.post("/shelf/lots/A-1/used-up", data={"token": token(client, "/shelf/lots/A-1")})

    assert "used up" in words(client.get("/shelf/lots/A-1").text).lower()
    assert "Used up: 1" in words(client.get("/shelf/lots").text)
    assert "lot A-1" in words(client.get(f"/blends/{number}").text)  # a blend that names it still reads it


def test_a_certificate_is_read_called_out_and_changes_the_blend(client: TestClient) -> None:
    keep_lot(client)
    number = blend(client, "50 g A-1")
    before = oleic(client, number)

    page = words(certify(client, HIGH_OLEIC, dated_on="2026-10-02").text)

    assert "The certificate counts from now on" in page
    assert "Oleic 78.6: 39.2 points above the published range for Sunflower oil (high linoleic)" in page
    assert "It is more like Sunflower oil (high oleic)" in page
    assert "Of 2 Oct 2026: palmitic 4.1 %" in page
    after = oleic(client, number)
    assert before < 40
    assert after == pytest.approx(79.7, abs=0.1)


def test_a_certificate_is_taken_out_of_the_account(client: TestClient) -> None:
    keep_lot(client)
    page = certify(client, HIGH_OLEIC).text
    action = re.search(r'action="(/shelf/lots/A-1/certificates/\d+/remove)"', page)
    assert action

    answer = client.post(action[1], data={"token": token(client, "/shelf/lots/A-1")})

    assert "Taken out of the account." in words(answer.text)
    assert "points above the published range" not in answer.text
    other = re.sub(r"\d+/remove$", "99/remove", action[1])
    refused = client.post(other, data={"token": token(client, "/shelf/lots/A-1")})
    assert refused.status_code == 400
    assert "Lot A-1 has no certificate 99." in words(refused.text)


@pytest.mark.parametrize(
    ("table", "why"),
    [
        ("hello", "Nothing in it was read"),
        ("Oleic 80\nLinoleic 60", "The acids sum to 140.0 %"),
        ("", "Nothing in it was read"),
    ],
)
def test_a_certificate_that_cannot_be_says_why_and_keeps_the_text(client: TestClient, table: str, why: str) -> None:
    keep_lot(client)
    answer = certify(client, table)

    assert answer.status_code == 422
    assert why in words(answer.text)
    assert table in answer.text


def test_lines_that_were_not_read_are_shown(client: TestClient) -> None:
    keep_lot(client)

    assert "Not read: “C20:5 1.0”" in words(certify(client, "C20:5 1.0\nfoo").text)


def test_a_certificate_of_bergapten_opens_the_other_way_through_the_sun(client: TestClient) -> None:
    keep_lot(client, code="B-1", ingredient="Bergamot (expressed) essential oil")
    certify(client, "5-methoxypsoralen 12 mg/kg\nLinalyl acetate 31 %", code="B-1")
    plain = words(client.get(f"/blends/{blend(client, '97 g jojoba', '3 g bergamot')}").text)
    number = blend(client, "97 g jojoba", "3 g B-1")
    cleared = words(client.get(f"/blends/{number}").text)

    assert "taken as bergamot (expressed) essential oil" in plain
    assert "0.4 mg/kg of bergapten, 15 is the most" in cleared
    assert "the sum of their ratios is above 1" not in cleared
    assert "linalyl acetate 0.93 % 0.93 % certified" in cleared


def test_a_row_is_taken_from_a_lot_by_a_button(client: TestClient) -> None:
    keep_lot(client)
    form = {
        "token": token(client),
        "typed": ["2 tbsp sunflower"],
        "answers": ["name=sunflower"],
        "op": "answer:0:name:lot:A-1",
    }
    page = words(client.post("/sheet", data=form).text)

    assert "Sunflower oil (high linoleic), lot A-1" in page


def test_a_row_is_swapped_for_what_could_stand_in(client: TestClient) -> None:
    form = {"token": token(client), "typed": ["2 tbsp avocado"], "answers": [""], "op": "swap:0:almond-sweet"}
    page = client.post("/sheet", data=form).text

    assert 'value="2 tbsp Sweet almond oil"' in page
    unknown = client.post("/sheet", data=form | {"op": "swap:0:zorgblat", "token": token(client)}).text
    assert "There is no ingredient “zorgblat”" in words(unknown)


def test_a_blend_that_was_made_stands_on_the_shelf_as_a_lot(client: TestClient) -> None:
    number = blend(client, "60 g olive", "40 g jojoba")
    form = client.get("/shelf/lots/new", params={"blend": number, "version": 1}).text
    assert 'value="100"' in form

    page = keep_lot(client, code="B-1", ingredient="", blend=str(number), version="1", bought_g="100")

    assert "Made from Face oil, version 1" in words(page.text)
    mixed = blend(client, "50 g B-1", "50 g olive")
    body = words(client.get(f"/blends/{mixed}").text)
    assert "oleic" in body
    label = words(client.get(f"/blends/{mixed}/versions/1/label").text)
    assert "Olea Europaea Fruit Oil, Simmondsia Chinensis Seed Oil" in label  # 80 and 20 %, each once


def test_a_lot_keeps_the_allergen_that_nobody_measured_in_it(client: TestClient) -> None:
    number = blend(client, "60 g olive", "40 g jojoba", "a blob of hazelnut")
    keep_lot(client, code="B-2", ingredient="", blend=number, version="1", bought_g="100")
    sheet = {
        "token": token(client),
        "typed": ["50 g B-2", "50 g olive"],
        "name": "Second",
        "new": "",
        "container_ml": "",
    }
    place = client.post("/blends", data=sheet, follow_redirects=False).headers["location"].split("?")[0]
    page, label = words(client.get(place).text), words(client.get(f"{place}/versions/1/label").text)

    assert "not with an allergy to tree nuts" in page
    assert "Hazelnut oil. In it, and nobody knows how much" in page
    assert "Contains: tree nut." in label
    assert client.get("/shelf/lot:B-2").status_code == 200
    assert client.get("/shelf/chart").status_code == 200


def test_a_blend_with_a_row_that_is_not_settled_is_no_lot_yet(client: TestClient) -> None:
    number = blend(client, "60 g olive", "20 g sunflower")
    refused = keep_lot(client, code="B-3", ingredient="", blend=number, version="1", bought_g="100")

    assert refused.status_code == 422
    assert "what “20 g sunflower” is" in words(refused.text)


def test_the_shelf_goes_out_as_csv_and_comes_back(client: TestClient) -> None:
    keep_lot(client, note="ordered, as linoleic")
    certify(client, HIGH_OLEIC, dated_on="2026-10-02")
    own = {"token": token(client, "/shelf/own"), "name": "Rock samphire", "table": "Oleic 78\nLinoleic 22"}
    client.post("/shelf/own", data=own)
    files = {name: client.get(f"/shelf/lots{path}").text for name, path in OUT.items()}
    assert "note\n" not in files["lots"].splitlines()[1]

    for name, text in files.items():
        answer = client.post(
            "/shelf/lots/bring-in",
            data={"token": token(client, "/shelf/lots")},
            files={"file": (f"{name}.csv", text.encode(), "text/csv")},
        )
        assert answer.status_code == 200, words(answer.text)
        assert re.search(SAID[name], words(answer.text))
    assert {name: client.get(f"/shelf/lots{path}").text for name, path in OUT.items()} == files


OUT = {"lots": ".csv", "certificates": "/certificates.csv", "own": "/own-oils.csv"}
SAID = {
    "lots": "0 lots added, 1 brought up to date",
    "certificates": "0 certificates added",
    "own": "0 oils of your own added or changed",
}


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("a,b\n1,2\n", "is no file of the shelf"),
        ("code,ingredient,bought_g,left_g\nX,zorgblat,10,5\n", "line 2: “zorgblat” is not in the catalogue"),
        ("code,ingredient,bought_g,left_g\nX,olive,10,50\n", "left_g 50 is more than bought_g 10"),
        ("code,table\nNOPE,Oleic 80\n", "there is no lot “NOPE”"),
        ("name,table\nThing,Oleic 50\n", "nothing is known of the other"),
    ],
)
def test_a_file_with_a_bad_row_changes_nothing(client: TestClient, text: str, why: str) -> None:
    answer = client.post(
        "/shelf/lots/bring-in",
        data={"token": token(client, "/shelf/lots")},
        files={"file": ("shelf.csv", text.encode(), "text/csv")},
    )

    assert answer.status_code == 422
    assert why in words(answer.text)
    assert "Nothing stands on your shelf yet" in words(client.get("/shelf/lots").text)


def test_an_own_oil_is_kept_typed_into_a_row_and_changed(client: TestClient) -> None:
    form = {
        "token": token(client, "/shelf/own"),
        "name": "Rock samphire seed oil",
        "inci": "Crithmum Maritimum Seed Oil",
        "table": "Petroselinic acid 42\nOleic 29\nLinoleic 22\nC16:0 7\nnonsense",
        "tint": "4",
    }
    page = words(client.post("/shelf/own", data=form).text)

    assert "Kept. It can now be typed into a row" in page
    assert "Unknown: nothing was said of its allergens." in page
    assert "Rock samphire seed oil" in words(client.get("/shelf", params={"q": "samphire"}).text)
    assert "Rock samphire" not in " ".join(
        re.findall(r'aria-label="Mark ([^"]+)"', client.get("/shelf?q=no+nuts").text)
    )
    sheet = client.post("/sheet", data={"token": token(client), "new": "2 tbsp rock samphire", "op": "add"}).text
    assert "Rock samphire seed oil" in sheet
    again = client.get("/shelf/own/own:rock-samphire-seed-oil").text
    assert "nonsense" in again
    changed = form | {
        "token": token(client, "/shelf/own"),
        "key": "own:rock-samphire-seed-oil",
        "allergen_family": "mustard",
    }
    assert "Mustard family" in words(client.post("/shelf/own", data=changed).text)
    twice = form | {"token": token(client, "/shelf/own"), "note": "again"}
    assert (
        'id="error-name">“Rock samphire seed oil” stands on the shelf already'
        in client.post("/shelf/own", data=twice).text
    )


@pytest.mark.parametrize(
    ("place", "typed", "says"),
    [
        ("name", "...", "An oil needs a name"),
        ("name", "n" * 121, "This name has 121 characters"),
        ("colour", "1e9", "“1e9” is no colour; it is written as in #f3e7b5."),
        ("allergen_family", "cats", "“cats” is no allergen family; known are tree_nut"),
        ("kind", "fish", "“fish” is not a kind of oil"),
        ("tint", "deep", "“deep” is not a colour strength; write a number."),
        ("tint", "2.5", "2.5 is no colour strength; a whole number"),
        ("tint", "11", "A colour strength of 11 cannot be"),
        ("table", "Oleic 78\nLinoleic 42", "sum"),
    ],
)
def test_an_own_oil_that_cannot_be_says_why_beside_its_field_and_the_shelf_stands(
    client: TestClient, place: str, typed: str, says: str
) -> None:
    plain = {"token": token(client, "/shelf/own"), "name": "Try", "note": "from Bo", "table": "Oleic 78\nLinoleic 22"}
    form = plain | {place: typed}
    answer = client.post("/shelf/own", data=form)

    assert answer.status_code == 422
    beside = re.search(rf'id="error-{place}">([^<]*)', answer.text)
    assert beside is not None
    assert says in html.unescape(beside[1])
    assert field(answer.text, "note") == "from Bo"
    assert client.get("/shelf").status_code == 200


def move(client: TestClient, **fields: str) -> str:
    return client.post("/shelf/lots/A-1/movements", data={"token": token(client, "/shelf/lots/A-1")} | fields).text


def test_what_moves_by_hand_is_entered_in_grams_or_by_volume_and_taken_back(client: TestClient) -> None:
    keep_lot(client, left_g="500")
    assert "−420.00 g put right, used before the ledger" in words(client.get("/shelf/lots/A-1").text).replace("-", "−")
    page = words(move(client, what="used", amount="100 ml", reason="for Bo"))
    assert "used, for Bo" in page
    density = 0.92  # of sunflower oil, as its page says
    left = float(field(client.get("/shelf/lots/A-1/edit").text, "left_g"))
    assert 500 - left == pytest.approx(100 * density, rel=0.02)
    assert "put back" in words(move(client, what="put back", amount="10"))
    assert "12 of 920 g" in words(move(client, what="left, as counted", amount="12"))
    out = move(client, what="thrown out", amount="2", reason="it smelled")
    assert "thrown out, it smelled" in words(out)
    number = re.findall(r"/movements/(\d+)/take-back", out)[0]
    back = client.post(
        f"/shelf/lots/A-1/movements/{number}/take-back", data={"token": token(client, "/shelf/lots/A-1")}
    )
    assert "taken back: it smelled" in words(back.text)
    assert "12 of 920 g" in words(back.text)


@pytest.mark.parametrize(
    ("fields", "place", "why"),
    [
        ({"amount": ""}, "amount", "How much?"),
        ({"amount": "a lot"}, "amount", "is not an amount"),
        ({"amount": "5", "what": "thrown out"}, "reason", "Say why it was thrown out"),
        ({"amount": "5", "on": "2999-01-01"}, "on", "is no day"),
        ({"amount": "5", "what": "eaten"}, "what", "is none of used"),
        ({"amount": "5000", "what": "thrown out", "reason": "bad"}, "amount", "are missing"),
    ],
)
def test_a_movement_that_cannot_be_stands_as_it_was_typed(
    client: TestClient, fields: dict[str, str], place: str, why: str
) -> None:
    keep_lot(client)
    page = move(client, **({"reason": "as I said"} | fields if place != "reason" else fields))
    assert why in words(page)
    assert f'id="error-{place}"' in page
    assert place == "reason" or field(page, "reason") == fields.get("reason", "as I said")


def test_an_oil_that_nobody_knows_is_a_link_away_from_being_one_of_one_s_own(client: TestClient) -> None:
    answer = keep_lot(client, ingredient="rock rose & moss oil")
    link = re.search(r'href="(/shelf/own\?name=[^"]+)"', answer.text)
    assert link
    assert field(client.get(link[1]).text, "name") == "rock rose & moss oil"


def test_a_file_of_the_laboratory_is_looked_at_before_it_counts(client: TestClient) -> None:
    keep_lot(client)
    address = "/shelf/lots/A-1/certificates/file"
    said = b"Test,Specification,Result\nOleic acid,15 - 35,79.1\nPeroxide value,max 10,1.8\nSmell,none,faint\n"
    form = {"token": token(client, "/shelf/lots/A-1")}
    page = client.post(address, data=form, files={"file": ("lab.csv", said, "text/csv")}).text
    assert "Read: oleic 79.1 %" in words(page)
    assert "Not read: “Smell faint”" in words(page)
    assert "Oleic acid,15 - 35,79.1" in page
    assert "None yet: this lot counts as a usual one" in words(client.get("/shelf/lots/A-1").text)

    kept = certify(client, "Test\tSpecification\tResult\nOleic acid\t15 - 35\t79.1").text
    assert "oleic 79.1 %" in words(kept)
    refused = client.post(address, data=form, files={"file": ("scan.pdf", b"%PDF-", "application/pdf")}).text
    assert "is no PDF that can be read" in words(refused)
