"""The clauses of a wish: what is said of a limit is read as that limit, and its number can be changed."""

from __future__ import annotations

from dataclasses import replace

import pytest
from tests.core.finder.wishes import FACTS

from uptide.core.finder.search.wish import FIGURES, Limit
from uptide.core.finder.search.wish_asked import Along, AskedReader
from uptide.core.finder.search.wish_clauses import clause_of, with_bound, without_clause
from uptide.core.finder.search.wish_words import ReadWish, read_wish
from uptide.core.finder.use import PRODUCTS
from uptide.core.oxidation.surroundings import PLACES


def read(text: str) -> ReadWish:
    return read_wish(text, FACTS.names, PRODUCTS)


@pytest.mark.parametrize("figure", FIGURES)
@pytest.mark.parametrize("at_least", [True, False])
def test_what_is_said_of_a_limit_is_read_as_that_limit(figure: str, at_least: bool) -> None:
    one_way = {"keeps": True, "clear": True, "cost": False, "inert": False}
    limit = Limit(figure, one_way.get(figure, at_least), 12.5, currency="GBP" if figure == "cost" else "")
    said = clause_of(limit)
    found = read(said)

    assert found.not_read == ()
    assert replace(limit, typed=said) in found.wish.limits


def test_omega_3_is_read_with_its_hyphen_too() -> None:
    found = read("omega-3 over 10")

    assert found.not_read == ()
    assert found.wish.limits[0] == Limit("omega_3", at_least=True, bound=10.0, typed="omega-3 over 10")


@pytest.mark.parametrize(
    ("text", "asked"),
    [
        ("between 20 and 40 linoleic", {("linoleic", True): 20, ("linoleic", False): 40}),
        ("linoleic between 20 % and 40,5 %", {("linoleic", True): 20, ("linoleic", False): 40.5}),
        ("oleic 40-20 %", {("oleic", True): 20, ("oleic", False): 40}),
        ("at least 50 % of oleic acid", {("oleic", True): 50}),
        ("under 20 saturated", {("saturated", False): 20}),
        ("keeps a year", {("keeps", True): 12}),
        ("keeps for half a year", {("keeps", True): 6}),
        ("keeps 1.5 years", {("keeps", True): 18}),
        ("keeps at least nine months", {("keeps", True): 9}),
        ("keeps a month", {("keeps", True): 1}),
        ("lasts 9 months", {("keeps", True): 9}),
        ("shelf life of over 9 months", {("keeps", True): 9}),
        ("2 years", {("keeps", True): 24}),
        ("high linoleic", {("linoleic", True): 50}),
        ("rich in omega 3", {("omega_3", True): 10}),
        ("low in saturated", {("saturated", False): 15}),
        ("poor in oleic", {("oleic", False): 30}),
        ("non-comedogenic", {("clog", False): 1}),
        ("won’t clog pores", {("clog", False): 1}),
        ("not greasy", {("feel", False): 2.4}),
        ("a fast-absorbing oil", {("feel", False): 2.4}),
    ],
)
def test_a_bound_may_be_said_from_either_side_and_in_years(text: str, asked: dict[tuple[str, bool], float]) -> None:
    found = read(f"light and {text} and no nuts")

    assert found.not_read == ()
    assert {(each.figure, each.at_least): each.bound for each in found.wish.limits if each.typed == text} == asked


@pytest.mark.parametrize(
    ("text", "fewest", "most"),
    [
        ("2 to 4 oils", 2, 4),
        ("four or three oils", 3, 4),
        ("between 2 and 6 different oils", 2, 6),
        ("3 oils", 3, 3),
        ("max 3 oils", 1, 3),
        ("at least 2 oils", 2, 5),
        ("at least 6 oils", 6, 6),
        ("3 oils, at most 2 oils", 2, 2),
        ("at most 2 oils", 1, 2),
    ],
)
def test_how_many_oils_may_be_a_range(text: str, fewest: int, most: int) -> None:
    assert (read(text).wish.fewest, read(text).wish.most) == (fewest, most)


def test_a_range_that_leaves_what_can_be_looked_for_is_said() -> None:
    assert read("2 to 9 oils").not_read == (("2 to 9 oils", "9 oils cannot be looked for; 1 to 6 can"),)
    assert read("0 to 2 oils").not_read == (("0 to 2 oils", "0 oils cannot be looked for; 1 to 6 can"),)


@pytest.mark.parametrize(
    ("text", "families", "without"),
    [
        ("no sesame or soy", {"sesame", "soy"}, set()),
        ("no nuts, sesame or jojoba", {"tree_nut", "peanut", "sesame"}, {"jojoba"}),
        ("without argan nor jojoba", set(), {"argan", "jojoba"}),
        ("no wheat/soy", {"wheat", "soy"}, set()),
        ("nut-free", {"tree_nut", "peanut"}, set()),
        ("rich with no sesame", {"sesame"}, set()),
        ("rich without argan", set(), {"argan"}),
    ],
)
def test_several_things_may_be_left_out_at_once(text: str, families: set[str], without: set[str]) -> None:
    found = read(f"{text}, light")

    assert not found.not_read
    assert (set(found.wish.families), set(found.wish.without)) == (families, without)


@pytest.mark.parametrize("text", ["with rosehip and jojoba", "with rosehip & jojoba", "with rosehip, jojoba"])
def test_with_goes_on_for_the_oils_that_follow(text: str) -> None:
    assert (read(text).not_read, set(read(text).wish.must)) == ((), {"rosehip", "jojoba"})


def test_with_goes_no_further_than_oils() -> None:
    assert [said for said, _ in read("with rosehip, light, jojoba").not_read] == ["jojoba"]
    assert [said for said, _ in read("no rosehip, jojoba").not_read] == ["jojoba"]
    assert [said for said, _ in read("high odour, high keeps").not_read] == ["high odour", "high keeps"]


def test_a_sentence_falls_into_its_clauses() -> None:
    found = read("a light oil for oily skin that keeps 6 months")

    assert (found.not_read, found.wish.skin) == ((), "oily")
    asked = {each.figure: each.bound for each in found.wish.limits}
    assert (asked["feel"], asked["keeps"]) == (2.4, 6)


@pytest.mark.parametrize(
    ("text", "pieces"),
    [
        ("60 ml face oil for dry skin", "60 ml|face oil|for dry skin"),
        ("dry skin 6 months light", "dry skin|6 months|light"),
        (
            "a light face oil with jojoba at least 20 % under 5 pounds",
            "a light|face oil|with jojoba at least 20 %|under 5 pounds",
        ),
        (
            "30 ml bottle of face oil for Ines keeps a year in the fridge",
            "30 ml bottle|of face oil|for Ines|keeps a year in the fridge",
        ),
        ("with rosehip jojoba rich", "with rosehip|jojoba|rich"),
        ("three oils linoleic over 40 oleic under 30", "three oils|linoleic over 40|oleic under 30"),
        ("5 % jojoba 10 % rosehip vegan", "5 % jojoba|10 % rosehip|vegan"),
        ("with high oleic sunflower high linoleic", "with high oleic sunflower|high linoleic"),
        ("at most 10 % inert the cheapest", "at most 10 % inert|the cheapest"),
        ("lighter than avocado clear at 5 it may set", "lighter than avocado|clear at 5|it may set"),
        ("something light that is vegan from my shelf", "something light|that is vegan|from my shelf"),
    ],
)
def test_what_is_asked_needs_no_commas(text: str, pieces: str) -> None:
    asked = list(AskedReader(FACTS.names, PRODUCTS, ["Ines"], frozenset()).all_of([text]))

    assert [each.typed for each in asked] == pieces.split("|")
    assert not any(each.problem for each in asked)


def test_of_what_is_not_understood_no_more_is_said_than_that() -> None:
    assert [said for said, _ in read("60 ml purple face oil").not_read] == ["purple"]
    assert [said for said, _ in read("face oil keeps a year on the moon light").not_read] == ["on the moon"]
    assert read("light with zorgblat").not_read == (("with zorgblat", "“zorgblat” is no oil that is known: say which"),)


@pytest.mark.parametrize("text", ["with ten drops clove bud", "10 % clove bud in 30 ml", "with clove bud for a"])
def test_an_amount_and_what_is_cut_off_are_no_names(text: str) -> None:
    found = read_wish(text, FACTS.names, PRODUCTS, along={"clove-bud": Along("Clove bud", 0.5)})

    assert found.not_read != ()


TAILS = (
    *("for Ines", "light", "keeps 6 months", "for dry skin", "no nuts", "vegan", "cheap", "face oil", "30 ml"),
    *("unscented", "under 3 pounds", "from my shelf", "non-comedogenic", "linoleic over 50", "in pregnancy"),
)


@pytest.mark.parametrize("lead", ["with", "without", "2 %", "lighter than"])
@pytest.mark.parametrize(
    "name", ["jojoba", "lavender", "lavendar", "sweat almond", "vitamin e", "tea tree", "clary sage"]
)
def test_a_name_swallows_nothing_that_stands_behind_it(lead: str, name: str) -> None:
    scents = ("lavender", "lavandin", "tea-tree", "clary-sage", "mixed-tocopherols", "tocopheryl-acetate")
    reader = AskedReader(FACTS.names, PRODUCTS, ["Ines", "pregnancy"], scents)
    for tail in TAILS:
        asked = [each.typed for each in reader.all_of([f"{lead} {name} {tail}"])]
        assert asked == [f"{lead} {name}", tail]


def test_what_stands_behind_a_name_and_is_nothing_is_not_passed_over() -> None:
    found = read("with jojoba for Zed")
    several = read("with sea buckthorn light")
    nearly = read("with sweat almond for Zed")

    assert found.not_read == (("with jojoba for Zed", "“jojoba for zed” is no oil that is known: say which"),)
    assert [said for said, _ in nearly.not_read] == ["with sweat almond for Zed"]
    assert several.not_read == (("with sea buckthorn", "“sea buckthorn” is one of several: say which"),)


@pytest.mark.parametrize("text", ["with tea tree purple", "with lavendar for Zed"])
def test_nor_is_what_stands_behind_a_scent(text: str) -> None:
    along = {key: Along(key, 0.5) for key in ("lavender", "lavandin", "tea-tree")}
    found = read_wish(text, FACTS.names, PRODUCTS, along=along)

    assert [said for said, _ in found.not_read] == [text]


def test_a_wish_is_for_one_person_and_one_product() -> None:
    people = ["Ines", "a baby"]
    both = read_wish("light for Ines, for a baby", FACTS.names, PRODUCTS, people)
    two = read_wish("face oil, bath oil", FACTS.names, PRODUCTS, people)

    assert (both.whom, both.not_read) == (
        "Ines",
        (("for a baby", "this is for Ines already: ask for one after the other"),),
    )
    assert (two.product, two.not_read) == ("facial-oil", (("bath oil", "one product at a time"),))
    assert read_wish("for Ines, for Ines, face oil, for the face", FACTS.names, PRODUCTS, people).not_read == ()


def test_a_name_alone_says_not_whom() -> None:
    found = read_wish("light, Ines", FACTS.names, PRODUCTS, ["Ines"])

    assert ([said for said, _ in found.not_read], found.whom) == (["Ines"], "")


def test_what_is_asked_without_commas_can_be_dropped_and_changed_alone() -> None:
    text = "60 ml light face oil with jojoba, light, no nuts"

    assert without_clause(text, "light") == "60 ml light face oil with jojoba, no nuts"
    assert without_clause("60 ml light face oil with jojoba", "light") == "60 ml face oil with jojoba"
    assert without_clause("60 ml light face oil", "60 ml") == "light face oil"
    assert without_clause("lightly, light oil", "light") == "lightly, oil"
    assert without_clause("light, rich, light", "light") == "rich"
    limit = read("60 ml face oil linoleic over 60 light").wish.limits[0]
    assert with_bound("60 ml face oil linoleic over 60 light", limit, 55) == "60 ml face oil linoleic over 55 light"
    assert with_bound("60 ml face oil", limit, 55) == "60 ml face oil, linoleic over 55"


@pytest.mark.parametrize(
    ("text", "fewest", "most"), [("more than 2 oils", 3, 5), ("fewer than 4 oils", 1, 3), ("no more than 3 oils", 1, 3)]
)
def test_more_and_fewer_than_so_many_oils_leave_the_number_out(text: str, fewest: int, most: int) -> None:
    assert (read(text).wish.fewest, read(text).wish.most) == (fewest, most)


@pytest.mark.parametrize("text", ["unscented", "no fragrance", "fragrance-free", "without essential oils"])
def test_a_wish_without_scent_is_what_it_is_anyway(text: str) -> None:
    found = read(f"30 ml {text} light")

    assert (found.not_read, found.wish.along) == ((), {})
    assert ("without scent", text) in found.lines


def test_what_has_more_than_sixty_words_is_not_parted() -> None:
    assert read("light " * 60).not_read == ()
    assert [said for said, _ in read("light " * 61).not_read] == [("light " * 61).strip()]


def test_a_price_has_two_sides() -> None:
    asked = {each.at_least: (each.bound, each.currency) for each in read("price between 2 and 4 euros").wish.limits[:2]}

    assert asked == {True: (2, "EUR"), False: (4, "EUR")}
    assert read("costs over 3").wish.limits[0] == Limit("cost", at_least=True, bound=3.0, typed="costs over 3")


@pytest.mark.parametrize("text", ["€4 at most", "costs 4 euros or less", "4 EUR at the most", "under €4"])
def test_what_it_may_cost_is_said_before_its_bound_too(text: str) -> None:
    assert read(text).not_read == ()
    assert read(text).wish.limits[0] == Limit("cost", at_least=False, bound=4.0, typed=text, currency="EUR")


def test_a_number_alone_is_no_price() -> None:
    assert [said for said, _ in read("4 at most").not_read] == ["4 at most"]


def test_what_is_named_after_anything_else_than_a_no_is_not_left_out() -> None:
    assert [said for said, _ in read("no nuts, light, sesame or soy").not_read] == ["sesame or soy"]
    assert read("no argan or zorgblat").not_read == (
        ("no argan or zorgblat", "“zorgblat” is no oil that is known: say which"),
    )


@pytest.mark.parametrize(
    ("text", "part"),
    [
        ("with jojoba at least 20 %", 0.2),
        ("at least 20 % of jojoba", 0.2),
        ("with over 2,5 % jojoba", 0.025),
        ("with jojoba 30 %", 0.3),
        ("must have jojoba", 0.0),
        ("20 % jojoba", 0.2),
    ],
)
def test_how_much_of_an_oil_there_must_be_may_stand_before_it_or_behind(text: str, part: float) -> None:
    assert (read(text).not_read, read(text).wish.must) == ((), {"jojoba": part})


@pytest.mark.parametrize("place", PLACES)
def test_where_it_is_kept_is_said_along(place: str) -> None:
    found = read(clause_of(Limit("keeps", at_least=True, bound=5), place))

    assert found.wish.storage.place == place
    assert found.wish.months == 5


@pytest.mark.parametrize(
    ("text", "figure", "bound", "changed"),
    [
        ("60 ml face oil, linoleic over 60, no nuts", "linoleic", 55, "60 ml face oil, linoleic over 55, no nuts"),
        ("60 ml face oil keeps 6 months, light", "keeps", 5, "60 ml face oil keeps 5 months, light"),
        ("keeps 6 months in the fridge and light", "feel", 2.8, "keeps 6 months in the fridge, feel under 2.8"),
        ("30 ml, light", "inert", 30, "30 ml, light, at most 30 % inert"),
        ("under 3 pounds", "cost", 2.5, "under 2.5 pounds"),
        ("light, feel under 2,5", "feel", 2, "light, feel under 2"),
        ("linoleic over 40, linoleic under 60", "linoleic", 65, "linoleic over 40, linoleic under 65"),
    ],
)
def test_a_number_is_changed_in_its_clause_and_nowhere_else(text: str, figure: str, bound: float, changed: str) -> None:
    limit = [each for each in read(text).wish.limits if each.figure == figure][-1]

    assert with_bound(text, limit, bound) == changed
    assert any(each.figure == figure and each.bound == bound for each in read(changed).wish.limits)


@pytest.mark.parametrize("text", ["vegan", "plant-based", "no animal products", "50 ml, is vegan"])
def test_what_is_vegan_holds_nothing_of_animals(text: str) -> None:
    found = read(text)

    assert {"beeswax", "lanolin"} <= found.wish.without
    assert found.not_read == ()
