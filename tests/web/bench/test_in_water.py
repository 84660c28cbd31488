"""What is said of a bath or cleansing oil on its page; tubs, drops and seconds are common practice, from memory."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient
from tests.web.conftest import words


@pytest.mark.parametrize(
    ("product", "said"),
    [
        ("bath-oil-floating", "2 to 6 is usual, a tub of 20 L bears none, a foot bath of 8 L none"),
        ("bath-oil-floating", "goes into its carrier first: 6 drops to 15 mL, or into a spoon of liquid soap"),
        ("bath-oil-floating", "A full tub here is 150 L."),
        ("bath-oil-floating", "17 µm on the tub’s water, or 9 µm on the skin"),  # 15 mL over 0.9 and 1.7 m²
        ("shower-oil", "10 mL on a wet body 6 µm on the skin before it is rinsed"),  # over 1.7 m²
        ("cleansing-oil", "Worked in dry for at least 60 seconds"),
        ("cleansing-oil", "10 to 20 % is usual"),
    ],
)
def test_a_tub_and_a_face_have_their_usual_figures(client: TestClient, product: str, said: str) -> None:
    page = words(
        client.get("/blends/new", params={"recipe": "15 ml jojoba\n2 drops lavender", "product": product}).text
    )

    assert said in page
