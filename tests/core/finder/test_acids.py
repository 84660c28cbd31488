"""An acid by its name. Carbons, double bonds and omega families: IUPAC-IUB 1976 names of lipids, from memory."""

from __future__ import annotations

import pytest
from tests.core.finder.asking import known_of

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import QuantityError
from uptide.core.finder.ask import ask

KNOWN = known_of(shipped_catalogue())


@pytest.mark.parametrize(
    ("question", "says", "makes", "most"),
    [
        # Of which oils each is the acid: common practice, and the ranges of Codex STAN 210.
        ("what is linoleic acid?", "Linoleic acid: 18 carbons, 2 double bonds, polyunsaturated", "turns", "Safflower"),
        ("oleic", "Oleic acid: 18 carbons, 1 double bond, monounsaturated", "keeps well", "Sunflower oil (high oleic)"),
        ("GLA", "Gamma-linolenic acid: 18 carbons, 3 double bonds", "turns soon", "Borage"),
        ("what does lauric acid do", "Lauric acid: 12 carbons, no double bond, saturated", "keeps long", "Palm kernel"),
        ("ricinoleic acid", "Ricinoleic acid: 18 carbons, 1 double bond", "rich", "Castor oil"),
        ("which oils have most punicic acid", "Punicic acid: 18 carbons, 3 double bonds", "dry", "Pomegranate"),
        ("omega-3", "Omega-3: alpha-linolenic (18:3n3), stearidonic (18:4n3)", "turns soon", "Chia seed oil"),
        ("18:0", "Stearic acid: 18 carbons, no double bond, saturated (18:0)", "firm", "butter"),
    ],
)
def test_an_acid_is_said_with_what_it_makes_of_an_oil(question: str, says: str, makes: str, most: str) -> None:
    found = ask(question, KNOWN)

    assert found.answer.startswith(says)
    assert makes in found.working
    assert most in dict(found.lines)["Most in"]


def test_an_oil_without_any_of_it_is_not_named() -> None:
    named = dict(ask("ricinoleic acid", KNOWN).lines)["Most in"]

    assert named.startswith("Castor oil 8")
    assert " 0 %" not in named


@pytest.mark.parametrize("question", ["what is formic acid", "omega 5", "acid", "what is it"])
def test_what_is_no_acid_of_an_oil_is_not_answered(question: str) -> None:
    with pytest.raises(QuantityError):
        ask(question, KNOWN)
