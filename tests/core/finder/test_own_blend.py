"""A blend of one's own is asked for by its name, alone or for somebody."""

from __future__ import annotations

import pytest
from tests.core.finder.asking import INES, TODAY

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assess import assess
from uptide.core.assessment.assessment import Assessment
from uptide.core.errors import QuantityError
from uptide.core.finder.known import Known
from uptide.core.finder.own_blend import blend_asked, of_blend
from uptide.core.finder.use import Use, read_use
from uptide.core.oxidation.simulate import standard_draws
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.safety.person import allergy_rules
from uptide.core.skin.wearer import ANYONE, Ticks, Wearer

NAMES = {"hut hand balm": 1, "yarrow oil for the chafe": 2, "night oil": 3, "oil for ines": 4, "yarrow oil": 5}


@pytest.mark.parametrize(
    ("asked", "blend", "use"),
    [
        ("Hut hand balm", 1, ""),
        ("what is my hut hand balm?", 1, ""),
        ("hut hand balm for Ines", 1, "for Ines"),
        ("is the Hut Hand Balm ok for Ines", 1, "for Ines"),
        ("is the hut hand balm safe in pregnancy", 1, "in pregnancy"),
        ("can Ines use our night oil", 3, "for Ines"),
        ("can I use the night oil on the face", 3, "facial-oil"),
        ("Yarrow oil for the chafe", 2, ""),  # a name may hold such words itself
        ("yarrow oil for the chafe for Ines", 2, "for Ines"),
        ("oil for Ines", 4, ""),
        ("night", None, ""),
        ("30 g night oil", None, ""),
        ("jojoba for Ines", None, ""),
        ("can Zed use the night oil", None, ""),
    ],
)
def test_which_blend_is_asked_for(asked: str, blend: int | None, use: str, known: Known) -> None:
    found = blend_asked(asked, NAMES, known)
    assert (found and found[0]) == blend
    if found is not None:
        assert (found[1].whom.words or found[1].said) == use


def test_who_is_not_known_is_said(known: Known) -> None:
    with pytest.raises(QuantityError, match="“Zed” is neither a product nor somebody known here"):
        blend_asked("night oil for Zed", NAMES, known)


def _looked_at(catalogue: Catalogue, rows: str, wearer: Wearer) -> Assessment:
    recipe = Recipe(tuple(Entry(row) for row in rows.split(", ")))
    usage = catalogue.usage_context(recipe, TODAY, wearer)
    return assess(recipe, catalogue.ingredients, catalogue.names, draws=standard_draws(), usage=usage)


PARTLY = Wearer("Ines", allergies=Ticks(yes=frozenset({"latex"})))  # nobody asked about nuts


@pytest.mark.parametrize(
    ("rows", "whom", "wearer", "answer", "why"),
    [
        ("30 g jojoba", "Ines", INES, "nothing known stops it for Ines", "Feels "),
        ("30 g almond", "Ines", INES, "not for Ines", "A nut oil."),
        ("30 g almond", "Ines", PARTLY, "unknown for Ines", "Unknown: with an allergy to tree nuts"),
        ("30 g jojoba, 2 drops clary sage", "pregnancy", None, "with care in pregnancy", "Scent in pregnancy: "),
        ("30 g grapeseed", "pregnancy", None, "nothing known stops it in pregnancy", "Feels "),  # its cloths are hot
        (
            "30 g jojoba, 12 g clove bud oil",
            "Ines",
            INES,
            "not for Ines",
            "More methyl eugenol than EU law allows",
        ),  # for nobody
        ("30 g jojoba, 3 drops zorg", "Ines", INES, "unknown for Ines", "“3 drops zorg” is not settled."),
        ("30 g jojoba infused with zorgweed", "Ines", INES, "unknown for Ines", "Unknown: whom “zorgweed” is not for."),
    ],
)
def test_whether_it_may_be(
    rows: str, whom: str, wearer: Wearer | None, answer: str, why: str, catalogue: Catalogue, known: Known
) -> None:
    use = read_use(whom, known)
    assert use is not None
    found = _looked_at(catalogue, rows, wearer or use.whom.wearer)
    said = of_blend("Night oil", found, use, _looked_at(catalogue, rows, ANYONE), allergy_rules(catalogue.safety))
    assert said.answer == f"Night oil: {answer}"
    assert said.working.startswith(why)
    assert said.lines


def test_for_whom_nothing_is_said_it_is_what_it_is(catalogue: Catalogue) -> None:
    found = _looked_at(catalogue, "30 g jojoba", ANYONE)
    said = of_blend("Night oil", found, Use(), found, frozenset())
    assert said.answer.startswith("Night oil: feels ")
    assert said.working == "34.7 mL, 30 g"
