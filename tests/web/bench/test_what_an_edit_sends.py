"""An edit is answered with the parts that changed, and with nothing of what is folded."""

from __future__ import annotations

import re

import pytest
from fastapi.testclient import TestClient
from tests.conftest import Weigh
from tests.web.conftest import token, words

from uptide.catalogue.shipped import shipped_catalogue
from uptide.web.views.parts import Parts
from uptide.web.views.sheet import reading_view

ROWS = ["100 ml grapeseed", *(f"20 ml {oil}" for oil in ("jojoba", "argan", "rosehip", "olive", "castor", "avocado"))]
FRAGMENT = {"X-Sheet": "fragment"}


def edit(client: TestClient, **changes: object) -> str:
    plain: dict[str, object] = {
        "token": token(client),
        "typed": ROWS,
        "answers": [""] * len(ROWS),
        "container_ml": "500",
    }
    return client.post("/sheet", data=plain | changes, headers=FRAGMENT).text


def parts(page: str) -> dict[str, str]:
    """The parts of an answer and their stamps, by their id."""
    found = {}
    for tag in re.findall(r"<[a-z]+[^>]*\bdata-swap\b[^>]*>", page):
        name, stamp = re.search(r'id="([^"]+)"', tag), re.search(r'data-swap="([^"]*)"', tag)
        assert name is not None
        found[name[1]] = stamp[1] if stamp else ""
    return found


def test_what_the_page_has_is_not_sent_again(client: TestClient) -> None:
    first = parts(edit(client))
    assert {"glance", "verdicts", "picture", "cautions", "meaning-0", "meaning-1"} <= set(first)
    assert all(first.values())

    again = edit(client, known=" ".join(first.values()))
    assert parts(again) == {}
    assert words(again).strip() == ""


def test_a_changed_amount_sends_what_follows_from_it_and_no_more(client: TestClient) -> None:
    first = parts(edit(client))
    changed = edit(client, typed=["100.2 ml grapeseed", *ROWS[1:]], known=" ".join(first.values()))

    assert {"meaning-0", "picture"} <= set(parts(changed))
    assert not {"begin", "assumed", "incoming", "settings", "cautions"} & set(parts(changed))
    assert len(changed) < len(edit(client)) * 0.6


def test_what_is_folded_is_not_put_into_words(weigh: Weigh) -> None:
    catalogue = shipped_catalogue()
    assessment = weigh("2 tbsp jojoba\n1 tbsp argan")
    folded = reading_view(assessment, catalogue, Parts.only(["figure-feel"]))
    whole = reading_view(assessment, catalogue)

    assert (folded.figures, folded.on_skin, folded.scented, folded.acids) == ((), (), (), ())
    assert [view.figure.key for view in folded.verdicts if view.figure.inputs] == ["feel"]
    assert [view.word for view in folded.verdicts] == [view.word for view in whole.verdicts]
    assert whole.figures
    assert whole.acids


def test_a_stamp_that_is_of_nothing_here_leaves_nothing_out(client: TestClient) -> None:
    assert parts(edit(client, known="00000000 ffffffff")) == parts(edit(client))


@pytest.mark.parametrize(
    ("opened", "held"),
    [
        ("figure-feel", 'class="working'),
        ("chemistry", "Iodine value"),
        ("keeping", "Induction time"),
        ("scent", 'id="skin"'),
    ],
)
def test_what_is_folded_comes_when_it_is_opened(client: TestClient, opened: str, held: str) -> None:
    assert held not in edit(client)
    assert held in edit(client, open=[opened])
