"""The batch sheet and the label on paper, and the assessment for programs: all read the same figures."""

from __future__ import annotations

import re
from io import BytesIO

import pytest
from fastapi.testclient import TestClient
from pypdf import PdfReader
from tests.web.conftest import saved, token, words


def pdf_text(content: bytes) -> tuple[str, int]:
    reader = PdfReader(BytesIO(content))
    return re.sub(r"\s+", " ", " ".join(page.extract_text() for page in reader.pages)), len(reader.pages)


def test_the_batch_sheet_says_the_same_on_screen_and_in_pdf(client: TestClient) -> None:
    place = saved(client).split("?")[0]
    query = "?bottles=12&size_ml=30&loss=5&order=scent-first"
    screen = words(client.get(f"{place}/versions/1/batch-sheet{query}").text)
    text, pages = pdf_text(client.get(f"{place}/versions/1/batch-sheet.pdf{query}").content)

    assert pages == 1
    # By hand: 12 x 30 mL and 5 % are 378 mL; grapeseed is 29.5735 of 44.9603 mL: 248.64 mL, 229.24 g.
    for figure in ("378.0 mL", "229.24", "248.64", "Grapeseed oil", "2 tbsp grapeseed"):
        assert figure in screen
        assert figure in text


def test_the_sheet_opens_on_the_recipe_as_it_is_written_and_offers_a_clean_size_for_bottles(client: TestClient) -> None:
    place = saved(client, new="5 tsp grapeseed\n1 tsp jojoba").split("?")[0]
    sheet = f"{place}/versions/1/batch-sheet"
    plain = words(client.get(sheet).text)
    assert "The recipe as it is written: 29.6 mL" in plain
    assert "measures cleanly" not in plain

    planned = client.get(f"{sheet}?bottles=2&size_ml=29&loss=6").text
    assert "59.1 mL instead of 61.5 measures cleanly" in words(planned)
    total = re.search(r'name="total_ml"\s+value="(59\.\d+)"', planned)
    assert total is not None
    query = f"?bottles=2&size_ml=29&loss=6&total_ml={total[1]}"
    assert "in a size that measures cleanly: 59.1 mL" in words(client.get(sheet + query).text)
    assert "in a size that measures cleanly: 59.1 mL" in pdf_text(client.get(f"{sheet}.pdf{query}").content)[0]
    assert client.get(f"{sheet}?bottles=2&size_ml=29&total_ml=20").status_code == 422


def test_a_long_batch_sheet_still_fits_one_page_with_its_font_in_it(client: TestClient) -> None:
    rows = "\n".join(f"{i} g jojoba" for i in range(1, 41))
    place = saved(client, new=rows).split("?")[0]
    content = client.get(f"{place}/versions/1/batch-sheet.pdf").content

    assert pdf_text(content)[1] == 1
    assert b"SofiaSansCondensed-Regular" in content
    assert b"FontFile2" in content


@pytest.mark.parametrize("query", ["?bottles=0", "?loss=90", "?size_ml=0.1"])
def test_a_batch_that_cannot_be_made_is_answered_on_the_page(client: TestClient, query: str) -> None:
    place = saved(client).split("?")[0]
    answer = client.get(f"{place}/versions/1/batch-sheet{query}")

    assert answer.status_code == 422
    assert "cannot be planned" in answer.text or "up to 50 is read" in answer.text
    assert client.get(f"{place}/versions/1/batch-sheet.pdf{query}").status_code == 400


def test_the_label_is_one_page_of_its_own_size(client: TestClient) -> None:
    place = saved(client).split("?")[0]
    text, pages = pdf_text(client.get(f"{place}/versions/1/label.pdf").content)

    assert pages == 1
    assert "Vitis Vinifera Seed Oil, Simmondsia Chinensis Seed Oil, Lavandula Angustifolia Oil" in text
    assert "60 mL" in text
    assert "Best before" in text
    assert "______" not in text


def test_the_label_of_an_infused_oil_names_the_extract_and_the_sun(client: TestClient) -> None:
    place = saved(client, new="60 ml olive oil infused with St John's wort").split("?")[0]
    text, _ = pdf_text(client.get(f"{place}/versions/1/label.pdf").content)

    assert "Olea Europaea Fruit Oil, Hypericum Perforatum Flower Extract" in text
    assert "out of the sun for 12 to 24 hours" in text


def test_no_label_is_given_while_a_row_is_not_settled(client: TestClient) -> None:
    place = saved(client, new="30 g jojoba\n10 drops kanuka").split("?")[0]
    refused = client.get(f"{place}/versions/1/label")

    assert refused.status_code == 409
    assert "“10 drops kanuka” is not settled" in words(refused.text)
    assert client.get(f"{place}/versions/1/label.pdf").status_code == 400
    assert "is not settled" in words(client.get(f"{place}/versions/1/batch-sheet").text)


def test_no_label_is_given_while_a_stop_is_open_and_a_written_reason_lifts_it(client: TestClient) -> None:
    wet = saved(client, name="Wet", new="2 tbsp jojoba, 1 tbsp aloe gel").split("?")[0]
    refused = client.get(f"{wet}/versions/1/label")
    answer = {"reason_rule": ["water-in-oil"], "reason": ["preserved with 1 % of X, challenge tested 3 May"]}
    lifted = saved(client, name="Wet, preserved", new="2 tbsp jojoba, 1 tbsp aloe gel", **answer).split("?")[0]
    label = client.get(f"{lifted}/versions/1/label")

    assert refused.status_code == 409
    assert "A draft: 1 stop is open." in words(refused.text)
    assert client.get(f"{wet}/versions/1/label.pdf").status_code == 400
    assert "A draft" in words(client.get(f"{wet}/versions/1/batch-sheet").text)
    assert label.status_code == 200
    assert "write it by hand" in words(label.text)
    assert "challenge tested 3 May" in words(client.get(f"{lifted}/versions/1/batch-sheet").text)


def test_the_api_gives_what_the_page_shows(client: TestClient) -> None:
    body = {"recipe": "2 tbsp grapeseed, 1 oz olive", "container": {"kind": "dropper", "size_ml": 60}}
    found = client.post("/api/assess", json=body).json()
    answered = client.post(
        "/api/assess", json=body | {"answers": [{"row": 1, "key": "unit", "value": "oz_weight"}]}
    ).json()

    assert found["rows"][0]["grams"] == pytest.approx(27.267, abs=0.001)
    assert set(found["rows"][0]) >= {"typed", "ingredient", "grams", "percent_mass", "millilitres"}
    assert {"iodine_value", "saponification_value", "density_20c"} <= {finding["key"] for finding in found["findings"]}
    (assumed,) = found["assumed"]
    assert (assumed["rows"], assumed["key"], assumed["about"], assumed["taken"]) == ([1], "unit", "oz", "fl_oz")
    assert answered["assumed"] == []
    assert answered["rows"][1]["grams"] == pytest.approx(28.35, abs=0.01)


@pytest.mark.parametrize(
    "body",
    [
        {},
        {"recipe": 5},
        {"recipe": "x", "product": "soup"},
        {"recipe": "x", "container": {"kind": "bucket", "size_ml": 30}},
        {"recipe": "x\n" * 199},
    ],
)
def test_the_api_refuses_with_a_reason(client: TestClient, body: dict[str, object]) -> None:
    answer = client.post("/api/assess", json=body)

    assert answer.status_code in (400, 422)
    assert answer.json()["detail"]


def test_the_description_is_served_and_read(client: TestClient) -> None:
    assert "/api/assess" in client.get("/api/openapi.json").json()["paths"]
    assert "AssessmentOut" in client.get("/api/docs").text


def test_the_api_and_the_command_share_one_shape(client: TestClient) -> None:
    schema = client.get("/api/openapi.json").json()["components"]["schemas"]["AssessmentOut"]

    assert sorted(schema["properties"]) == [
        "allergens",
        "assumed",
        "cautions",
        "findings",
        "is_draft",
        "not_for",
        "not_understood",
        "remarks",
        "rows",
    ]


def test_the_pdf_of_a_label_prints_what_stands_in_the_form(client: TestClient) -> None:
    place = saved(client, new="500 ml jojoba\n100 ml argan", container_ml="200").split("?")[0]
    typed = "?bottles=12&size_ml=50&made=2026-11-01"
    screen = words(client.get(f"{place}/versions/1/label{typed}").text)
    text, pages = pdf_text(client.get(f"{place}/versions/1/label.pdf{typed}").content)

    assert pages == 12
    for said in ("Body oil, 50 mL", "Made 1 Nov 2026"):
        assert said in screen
        assert said.replace(", ", " ") in text
    assert "200 mL" not in text


def test_a_lot_with_too_little_left_is_said_on_the_batch_sheet(client: TestClient) -> None:
    lot = {"token": token(client, "/shelf/lots/new"), "code": "L1", "ingredient": "jojoba", "bought_g": "100"}
    client.post("/shelf/lots", data=lot | {"left_g": "20"})
    place = saved(client, new="171 g L1", container_ml="200").split("?")[0]

    assert "20 g left, and 171 g are asked for: 151 g are missing" in words(
        client.get(f"{place}/versions/1/batch-sheet?bottles=1&size_ml=198&loss=0").text
    )


@pytest.mark.parametrize(("wearer", "status"), [(260.0, 404), (260, 404), (True, 422), (2.5, 422), ("260", 422)])
def test_a_card_s_number_is_a_number_as_json_has_it(client: TestClient, wearer: object, status: int) -> None:
    assert client.post("/api/assess", json={"recipe": "30 g jojoba", "wearer": wearer}).status_code == status


@pytest.mark.parametrize(
    ("day", "status"), [(None, 200), ("2026-08-01", 200), (20260801, 422), ("1 August", 422), ("2026-02-30", 422)]
)
def test_a_day_is_written_out_or_left_open(client: TestClient, day: object, status: int) -> None:
    answer = client.post("/api/assess", json={"recipe": "30 g jojoba", "placed_on": day})

    assert answer.status_code == status
    assert ("a day is written as 2026-08-01" in answer.text) == (day in (20260801, "1 August"))
