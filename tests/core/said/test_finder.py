"""What the finder says: to a question, of a wish and its blends, of what stands in, and of a blend made over."""

from __future__ import annotations

from dataclasses import replace

import pytest
from tests.core.finder.asking import known_of
from tests.core.finder.test_reformulate import PREGNANT, made
from tests.core.finder.test_stand_ins import filled
from tests.core.finder.wishes import DRAWS, FACTS, look, table
from tests.core.said.conftest import Approve
from tests.core.said.saying import or_why

from uptide.core.figures.oil_profile import oil_profile
from uptide.core.finder.ask import ask
from uptide.core.finder.filter import apply_filter, read_filter
from uptide.core.finder.filter_words import FIGURES
from uptide.core.finder.search.bounding import bound_of
from uptide.core.finder.search.charted import nearest_place
from uptide.core.finder.search.comparing import bound_said, gives_up, lots_said
from uptide.core.finder.search.conflicts import Conflicts
from uptide.core.finder.search.offers import offers
from uptide.core.finder.search.reach import Plane, aimed
from uptide.core.finder.search.rows import ratio_of, rows_of
from uptide.core.finder.search.wish_asked import Along
from uptide.core.finder.search.wish_grammar import FIGURES_OF
from uptide.core.finder.search.wish_words import ReadWish, read_wish
from uptide.core.finder.substitutes import substitutes
from uptide.core.finder.use import PRODUCTS
from uptide.core.measures.habits import Habits
from uptide.core.skin.wearer import ANYONE
from uptide.workshop.charting import chart_of

KNOWN = known_of(FACTS)
OILS = {key: oil_profile(item) for key, item in FACTS.ingredients.items() if item.is_fatty}
QUESTIONS = (
    "how many drops is 2% of 30 ml?",
    "3 tsp in ml",
    "2 oz jojoba in g",
    "lavender in 30 ml of facial oil",
    "peppermint and rosemary in 100 ml of body oil for Ines",
    "bergamot in a roller bottle in pregnancy",
    "tea tree in 50 ml for a child of 4",
    "is hazelnut ok for Ines",
    "is clary sage ok in pregnancy",
    "almond for a baby",
    "2 tbsp rosehip, 1 tbsp jojoba, 12 drops lavender",
    "30 g jojoba, 5 drops bergamot for Ines",
    "argan",
    "what is shea butter",
    "bergamot",
    "vitamin e",
    "is coconut oil comedogenic",
    "shelf life of grapeseed",
    "instead of almond",
    "substitute for lavender",
    "castor vs squalane",
    "jojoba or neroli",
    "hm",
)
WISHES = (
    "60 ml face oil, linoleic over 60, no nuts, keeps 6 months",
    "light, no clogging, under 3 pounds, 2 to 4 oils",
    "with jojoba at least 20 %, without olive, for oily skin, 2% vitamin E",
    "keeps 9 months in the fridge, clear at 5, saturated under 12, omega-3 over 10",
    "bath oil dispersing, cheapest, feel under 2,5, iodine under 90, on hand",
    "keeps eleventy, purple, with zorgblat",
    "2 fl oz body oil, three oils, at most 20 % of any, rich, for dry skin, with 1% lavender",
    "at most 3 oils, the steadiest, with at least 20 % jojoba, may set, for nine lots in ten",
    "one oil, for normal skin, medium, in the fridge, from my shelf, bought fresh",
    "lighter than avocado, thinner than castor, less clogging than coconut, more linoleic than olive",
    "clear in the fridge, keeps a year on the sill, no sesame or soy, between 20 and 40 linoleic, €4 at most",
    "for Ines, for a baby, thickness over 40, viscosity under 80, omega 3 under 5, price under 2 euros",
    "light" + ", light" * 400,
)
FILTERS = (
    "linoleic over 50, no nuts",
    "oleic between 20 and 40 keeps a year",
    "lighter than avocado",
    "like rosehip, on hand",
    "butters, price under 2",
    "clog at most 2 for oily skin",
    "quick, purple, sesame",
    "dry or fast, keeps over 2 years, omega-3 under 1, without sesame or soy",
    "for Ines, in pregnancy, cheapest first, waxes",
    "richer than jojoba, thicker than olive, deeper, pale",
)


def wish(text: str) -> ReadWish:
    along = {key: Along(FACTS.ingredients[key].name, 0.5) for key in ("mixed-tocopherols", "lavender")}
    return read_wish(text, FACTS.names, PRODUCTS, ["Ines"], along, lambda key, figure: FIGURES[figure][2](OILS[key]))


def test_what_is_answered(approve: Approve) -> None:
    approve("finder-answers", {said: or_why(ask, said, KNOWN) for said in QUESTIONS})


def test_what_is_read_of_a_wish(approve: Approve) -> None:
    approve("finder-wishes", {said: wish(said) for said in WISHES})


def test_what_is_asked_of_the_shelf(approve: Approve) -> None:
    said: dict[str, object] = {}
    for asked in FILTERS:
        read = read_filter(
            asked, OILS, FACTS.names, frozenset({"grapeseed"}), {"shea-butter": 1.0, "cocoa-butter": 3.0}
        )
        found = apply_filter(read, OILS, FACTS.names)
        said[asked] = read
        said[f"oils of {asked}"] = " ".join(each.key for each in found.oils)
        said[f"unknown of {asked}"] = " ".join(each.key for each in found.unknown)
    approve("finder-shelf", said)


def test_what_stands_in(approve: Approve) -> None:
    said: dict[str, object] = {}
    for key in ("almond-sweet", "rosehip", "shea-butter", "jojoba"):
        for how, ranked in zip(("by acids", "in use"), substitutes(OILS[key], OILS.values()), strict=True):
            said[f"{key} {how}"] = {each.oil_profile.key: (each.distance, each.changes) for each in ranked}
    for way in filled("50 g grapeseed", "30 g jojoba", "20 g rosehip", place=0, on_hand=("olive", "sunflower")):
        said[f"for grapeseed: {' and '.join(item.key for item, _ in way.oils)}"] = {
            "shares": [share for _, share in way.oils],
            "apart": way.apart,
            "recipe": way.recipe,
            "changes": way.changes,
        }
    approve("finder-stand-ins", said)


@pytest.mark.parametrize("text", ["30 ml, light, linoleic over 40", "keeps 6 months, 2 to 3 oils, cheapest"])
def test_what_is_said_of_blends_that_were_found(text: str, approve: Approve) -> None:
    asked = wish(text).wish
    found = list(offers(asked, table(), DRAWS, look, habits=Habits(), names={}))
    said: dict[str, object] = {}
    for offer in found:
        bound = bound_of(offer.dive, offer.answer)
        said[offer.objective.value] = {
            "recipe": offer.recipe,
            "shares": offer.shares,
            "bound": bound,
            "said": bound_said(offer, bound, asked),
            "gives up": gives_up(offer, found, asked),
            "lots": lots_said(offer, asked),
        }
    approve(f"finder-found-{text.split(',')[0].replace(' ', '-')}", said)


def test_what_lies_where_on_the_chart_and_what_wishes_reach(approve: Approve) -> None:
    chart = chart_of(FACTS)
    profiles = {key: OILS[key].shares for key in ("olive", "grapeseed", "flaxseed", "coconut", "castor", "argan")}
    said: dict[str, object] = {"explained": chart.explained, "longest": chart.longest(6, profiles.values())}
    for key, profile in profiles.items():
        said[key] = [chart.place(profile), chart.percent(chart.place(profile))]
    said["acids"] = {code: chart.acid(code) for code in ("16:0", "18:1n9", "18:2n6", "18:3n3", "12:0")}
    charted, keys = replace(wish("light").wish, chart=chart), ("olive", "grapeseed", "rosehip", "jojoba", "shea-butter")
    for place in ((30.0, 60.0), (80.0, 20.0)):
        said[f"nearest to {place}"] = nearest_place(charted, table(keys), DRAWS, place)
    for pair in (("linoleic", "feel"), ("thickness", "cost"), ("omega_3", "iodine")):
        plane = Plane(charted, table(keys), DRAWS, pair)
        said[f"{pair}"] = {item.key: corner for item, corner in plane.oils()} | {"outline": plane.outline()[::6]}
    for text in ("light, linoleic over 40, 30 ml", ""):
        at = {"linoleic": 45.0, "feel": 0.1, "thickness": 50.0, "inert": 12.0}
        said[f"aimed from {text}"] = aimed(text, wish(text or "light").wish.limits, at)
    approve("finder-chart", said)


def test_what_wishes_ask_of_shares(approve: Approve) -> None:
    five = table(("olive", "grapeseed", "rosehip", "jojoba", "shea-butter"))
    said: dict[str, object] = {}
    for text in WISHES[:-1]:
        asked = replace(wish(text).wish, currency="GBP", chart=chart_of(FACTS))
        rows = rows_of(asked, five)
        said[text] = {
            "all": [row.tolist() for row in rows.all_of],
            "one of": [[row.tolist() for row in way] for way in rows.one_of],
            "most": rows.most.tolist(),
            "units": rows.units.tolist(),
        }
    for figure in (*FIGURES_OF.values(), "across", "upward", "acids"):
        ratio = ratio_of(figure, replace(wish("light").wish, currency="GBP", chart=chart_of(FACTS)), five)
        said[figure] = ratio and [ratio.over.tolist(), ratio.under.tolist()]
    approve("finder-rows", said)


def test_what_is_said_of_limits_that_exclude_one_another(approve: Approve) -> None:
    asked = wish("linoleic over 60, oleic over 50, keeps 12 months").wish
    found = list(Conflicts(asked, table(), DRAWS).steps())
    approve("finder-conflict", {"steps": found, "pair": found[-1].pair})


@pytest.mark.parametrize("aim", ["pregnancy", "no-nuts", "sun", "sensitive", "oily", "dry", "wearer"])
def test_what_is_said_of_a_blend_made_over(aim: str, approve: Approve) -> None:
    rows = ("2 tbsp sweet almond", "1 tbsp jojoba", "10 drops clary sage", "12 drops bergamot", "1 tsp retinol")
    found = made(aim, *rows, wearer=PREGNANT if aim == "pregnancy" else ANYONE, on_hand=("olive",))
    left = {"cleared": [c.rule for c in found.cleared], "left": [c.rule for c in found.left]}
    approve(f"finder-made-over-{aim}", {"recipe": found.recipe, "changes": found.changes, **left})
