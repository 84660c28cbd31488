"""The shelf is filtered by words; what is unknown passes no condition, and what is not understood is said."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.figures.oil_profile import OilProfile, oil_profile
from uptide.core.finder.filter import apply_filter, read_filter
from uptide.core.finder.filter_grammar import is_asked_of_all_oils, split_clauses
from uptide.core.finder.substitutes import changes, in_use, substitutes

FACTS = shipped_catalogue()
OILS = {key: oil_profile(item) for key, item in FACTS.ingredients.items() if item.is_fatty}
ON_HAND = frozenset({"grapeseed", "jojoba"})
PRICES = {"grapeseed": 1.0, "jojoba": 3.2, "rosehip": 4.0}


def found(text: str) -> set[str]:
    filter_ = read_filter(text, OILS, FACTS.names, ON_HAND, PRICES)
    assert filter_.not_read == (), text
    return {p.key for p in apply_filter(filter_, OILS, FACTS.names).oils}


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("linoleic over 50", "linoleic over 50 %"),
        ("linoleic > 50 %", "linoleic over 50 %"),
        ("at least 12 months", "keeps at least 12 months"),
        ("keeps at least 12 months", "keeps at least 12 months"),
        ("oleic 60 to 75", "oleic 60 to 75 %"),
        ("clog at most 2", "clog rating at most 2 of 5"),
        ("omega-3 under 1", "omega-3 under 1 %"),
        ("price under 2", "price of 100 g under 2"),
        ("no nuts", "without peanut, tree nut"),
        ("nut-free", "without peanut, tree nut"),
        ("without sesame or soy", "without sesame, soy"),
        ("dry or fast feel", "feels dry or fast"),
        ("butters", "only what is a butter"),
        ("on hand", "on hand"),
        ("lighter than avocado", "lighter than Avocado oil"),
        ("like rosehip", "like Rosehip seed oil, the most alike first"),
        ("oleic between 20 and 40", "oleic 20 to 40 %"),
        ("keeps a year", "keeps at least 12 months"),
        ("keeps over 2 years", "keeps over 24 months"),
        ("non-comedogenic", "clog rating at most 1 of 5"),
        ("light", "feels dry or fast"),
        ("heavy or medium feel", "feels medium or rich"),
        ("solid", "solid in the room"),
        ("not greasy", "feels dry or fast"),
        ("non-greasy", "feels dry or fast"),
        ("long shelf life", "keeps at least 12 months"),
        ("long-lasting", "keeps at least 12 months"),
        ("doesn't clog pores", "clog rating at most 1 of 5"),
        ("won’t clog", "clog rating at most 1 of 5"),
        ("no scent", "odour at most 0 of 3"),
        ("unscented", "odour at most 0 of 3"),
        ("vegan", "nothing of animals"),
        ("viscosity at 25 °C under 60", "viscosity at 25 °C under 60 mPa·s"),
        ("price under 1,5", "price of 100 g under 1.5"),
        ("clog 2 of 5", "clog rating at least 2 of 5"),
        ("over 50 % linoleic!", "linoleic over 50 %"),
        ("linoleic ≥ 50", "linoleic at least 50 %"),
        ("dry/fast", "feels dry or fast"),
        ("rich or medium", "feels medium or rich"),
        ("no soy nor wheat", "without soy, wheat"),
        ("for the winter", "winter by tradition, nothing measured"),
        ("milk-free", "without milk"),
        ("oils high in linoleic", "linoleic at least 50 %"),
        ("which oils are high oleic", "oleic at least 50 %"),
        ("rich in omega-3", "omega-3 at least 10 %"),
        ("high saturated oils", "saturated at least 30 %"),
        ("low in saturated", "saturated at most 15 %"),
        ("low linoleic", "linoleic at most 20 %"),
        ("low in oleic", "oleic at most 30 %"),
        ("poor in omega 3", "omega-3 at most 2 %"),
        ("low clog rating", "clog rating at most 1 of 5"),
        ("high clog rating", "clog rating at least 3 of 5"),
        ("low odour", "odour at most 1 of 3"),
        ("what oil is vegan", "nothing of animals"),
        ("the best oils without nuts", "without peanut, tree nut"),
        ("nut free oils", "without peanut, tree nut"),
        ("non comedogenic oils", "clog rating at most 1 of 5"),
        ("fast absorbing oils", "feels dry or fast, liquid in the room"),
        ("cheapest oil", "the cheapest first"),
    ],
)
def test_a_clause_is_understood(text: str, words: str) -> None:
    filter_ = read_filter(text, OILS, FACTS.names, ON_HAND, PRICES)

    assert [condition.words for condition in filter_.conditions if condition.typed] == [words]
    assert filter_.names == ()


@pytest.mark.parametrize(
    ("text", "clauses"),
    [
        ("no nuts and linoleic between 20 and 40; vegan", ["no nuts", "linoleic between 20 and 40", "vegan"]),
        ("price under 1,5, vegan,butters", ["price under 1,5", "vegan", "butters"]),
        ("a light oil that keeps a year for oily skin", ["a light oil", "keeps a year", "for oily skin"]),
        (" , ;", []),
        ("which oils are good for dry skin", ["for dry skin"]),
        ("oils for mature skin without nuts", ["for mature skin", "without nuts"]),
        ("high linoleic with no nuts", ["high linoleic", "no nuts"]),
        ("good oils", ["good oils"]),
        ("no scent", ["no scent"]),
    ],
)
def test_a_question_falls_into_clauses(text: str, clauses: list[str]) -> None:
    assert split_clauses(text) == clauses


@pytest.mark.parametrize(
    "text", ["oils high in linoleic", "nut free oils, light", "which oils for dry skin", "no nuts"]
)
def test_what_is_asked_of_all_oils_is_told_from_a_name(text: str) -> None:
    assert is_asked_of_all_oils(text)


@pytest.mark.parametrize(
    "text", ["argan", "high oleic sunflower", "light, argan", "zorgblat oils", "", "2 tbsp jojoba"]
)
def test_a_name_is_asked_of_no_shelf(text: str) -> None:
    assert not is_asked_of_all_oils(text)


def test_how_high_or_low_a_figure_without_a_usual_line_is_must_be_said() -> None:
    found = read_filter("high in odour", OILS, FACTS.names)

    assert found.not_read == (("high in odour", "say how much, as in “odour under 2”"),)


@pytest.mark.parametrize("text", ["oleic", "over 5 %"])
def test_a_figure_without_a_bound_and_a_bound_without_a_figure_are_looked_for_as_names(text: str) -> None:
    read = read_filter(f"{text}, no nuts", OILS, FACTS.names)

    assert read.names == (text,)
    assert len(read.conditions) == 1


def test_a_light_oil_is_a_liquid_that_feels_light() -> None:
    light = found("a light oil")

    assert light == found("light feel, liquid")
    assert light != found("light feel")
    (condition,) = read_filter("a light oil", OILS, FACTS.names).conditions
    assert condition.words == "feels dry or fast, liquid in the room"


def test_a_twentieth_more_is_more_and_less_than_that_is_the_same() -> None:
    prices = {"jojoba": 3.2, "argan": 3.35, "rosehip": 3.37, "grapeseed": 3.05, "olive": 3.03}

    def priced(text: str) -> set[str]:
        read = read_filter(text, OILS, FACTS.names, prices=prices)
        return {p.key for p in apply_filter(read, OILS, FACTS.names).oils}

    assert priced("dearer than jojoba") == {"rosehip"}
    assert priced("cheaper than jojoba") == {"olive"}
    assert found("clogs more than jojoba, solid or liquid") == {
        p.key for p in OILS.values() if (p.comedogenicity or 0) > 2
    }


def test_somebody_is_asked_for_and_who_is_nobody_is_said() -> None:
    def whom(words: str) -> tuple[str, Callable[[OilProfile], bool | None]] | None:
        return ("fit for Ines", lambda p: p.key == "jojoba") if words == "Ines" else None

    asked = read_filter("for Ines, no nuts", OILS, FACTS.names, whom=whom)
    nobody = read_filter("for the cat", OILS, FACTS.names, whom=whom)
    skin = read_filter("very oily skin", OILS, FACTS.names, whom=whom)

    assert [condition.words for condition in asked.conditions] == ["fit for Ines", "without peanut, tree nut"]
    assert {p.key for p in apply_filter(asked, OILS, FACTS.names).oils} == {"jojoba"}
    assert "“the cat” is nobody known here" in nobody.not_read[0][1]
    assert "“very oily skin” is nobody known here" in skin.not_read[0][1]
    assert nobody.names == skin.names == ()


def test_one_of_several_names() -> None:
    assert found("hemp or chia") == {"hemp-seed", "chia"}


def test_cheap_is_an_order_and_no_bound() -> None:
    assert [read_filter(words, OILS, FACTS.names).order for words in ("cheap", "the dearest first", "light")] == [
        ("price", False),
        ("price", True),
        None,
    ]
    assert len(apply_filter(read_filter("cheap", OILS, FACTS.names), OILS, FACTS.names).oils) == len(OILS)
    assert "price under 2" in read_filter("price", OILS, FACTS.names).not_read[0][1]


@pytest.mark.parametrize(
    ("asked", "order", "words"),
    [
        ("which oil keeps longest", ("keeps", True), "the longest keeping first"),
        ("lightest oil", ("feel", False), "the lightest first"),
        ("the richest", ("feel", True), "the richest first"),
        ("most linoleic", ("linoleic", True), "the most linoleic first"),
        ("least comedogenic", ("clog", False), "the least comedogenic first"),
        ("the richest first", ("feel", True), "the richest first"),
        ("clogs least", ("clog", False), "the least clogging first"),
        ("thinnest, no nuts", ("thickness", False), "the thinnest first"),
    ],
)
def test_a_superlative_is_an_order(asked: str, order: tuple[str, bool], words: str) -> None:
    read = read_filter(asked, OILS, FACTS.names)

    assert read.order == order
    assert read.conditions[0].words == words


def test_what_is_found_beside_an_oil_stands_nearest_first_and_in_its_state() -> None:
    read = read_filter("lighter than avocado", OILS, FACTS.names)
    found = apply_filter(read, OILS, FACTS.names).oils
    apart = [in_use(OILS["avocado"], p) for p in found]

    assert read.conditions[-1].words == "liquid in the room, as Avocado oil is"
    assert not any(p.item.is_solid for p in found)
    known = [distance for distance in apart if distance is not None]
    assert known == sorted(known)
    assert apart[: len(known)] == known
    for words in ("lighter than avocado, butters", "lighter than avocado, solid or liquid"):
        assert any(p.item.is_solid for p in apply_filter(read_filter(words, OILS, FACTS.names), OILS, FACTS.names).oils)


def test_the_example_of_one_clause_counts_for_the_others() -> None:
    oils = found("keeps longer, lighter than avocado, no nuts")

    assert "jojoba" in oils
    assert "avocado" not in oils  # not lighter than itself
    assert "grapeseed" not in oils  # lighter, but it does not keep as long
    assert "castor" not in oils  # keeps longer, but it is as rich
    assert not {"almond-sweet", "marula", "peanut", "shea-butter"} & oils  # nuts, and what is near a nut


def test_bounds_are_met_exactly() -> None:
    assert OILS["olive"].comedogenicity == 2

    assert "olive" in found("clog at most 2") & found("clog at least 2") & found("clog 2 to 2")
    assert "olive" not in found("clog under 2") | found("clog over 2")


def test_what_is_unknown_passes_nothing_and_is_listed_apart() -> None:
    filter_ = read_filter("keeps at least 1 month", OILS, FACTS.names)
    found = apply_filter(filter_, OILS, FACTS.names)

    assert "beeswax" not in {p.key for p in found.oils}
    assert "beeswax" in {p.key for p in found.unknown}
    assert all(p.keeps is not None for p in found.oils)


def test_likeness_puts_the_most_alike_first() -> None:
    filter_ = read_filter("like rosehip", OILS, FACTS.names)

    assert [p.key for p in apply_filter(filter_, OILS, FACTS.names).oils][:1] == ["strawberry-seed"]


def test_names_of_every_sort_are_found() -> None:
    assert found("Simmondsia chinensis") == {"jojoba"}
    assert "sunflower-high-oleic" in found("sunflower")
    assert found("hohoba") == {"jojoba"}


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("no foo", "known are tree nut, peanut"),
        ("lighter", "than which oil?"),
        ("like zorgblat", "there is no oil called “zorgblat”"),
        ("lighter than zorgblat", "there is no oil called “zorgblat”"),
        ("lighter than sunflower", "is one of several"),
        ("keeps longer than beeswax", "nothing is known of the keeps of Beeswax"),
    ],
)
def test_what_is_not_understood_says_why(text: str, why: str) -> None:
    ((_, reason),) = read_filter(text, OILS, FACTS.names).not_read

    assert why in reason


# What people ask with, in any order: a name of something that is no oil among it.
WORDS = ("like", "lavender", "olive", "than", "lighter", "no", "nuts", ",", "over", "20", "between", "to", "’", "#",
         "oily skin", "for", "keeps", "price", "clog", "%", "or", "hemp", "/", "zorgblat")  # fmt: skip


@given(st.text(max_size=120) | st.lists(st.sampled_from(WORDS), max_size=8).map(" ".join))
@example("like nut allergy lavender olive oil # than than")
def test_it_never_raises(text: str) -> None:
    apply_filter(read_filter(text, OILS, FACTS.names, whom=lambda _: None), OILS, FACTS.names)


@given(
    st.lists(
        st.sampled_from(["no nuts", "linoleic over 20", "clog at most 3", "dry or fast or medium feel"]), max_size=4
    )
)
def test_another_condition_never_lets_more_through(clauses: list[str]) -> None:
    narrower = found(", ".join([*clauses, "oleic over 20"]))

    assert narrower <= found(", ".join(clauses)) or not clauses


def test_stand_ins_are_near_and_say_what_changes() -> None:
    by_acids, by_use = substitutes(OILS["almond-sweet"], OILS.values())

    assert {"apricot-kernel", "plum-kernel", "peach-kernel"} & {s.oil_profile.key for s in by_acids}  # common practice
    assert [s.distance for s in by_acids] == sorted(s.distance for s in by_acids)
    assert all(s.oil_profile.key != "almond-sweet" for s in (*by_acids, *by_use))
    said = changes(OILS["avocado"], OILS["almond-sweet"])
    assert "lighter: medium" in said
    assert "brings the tree nut family" in said


def test_an_oil_is_no_step_from_itself_and_the_way_back_is_as_long() -> None:
    assert in_use(OILS["olive"], OILS["olive"]) == 0
    there, back = in_use(OILS["olive"], OILS["jojoba"]), in_use(OILS["jojoba"], OILS["olive"])
    assert there == pytest.approx(back)
    assert in_use(OILS["beeswax"], OILS["olive"]) is None  # too little is known of beeswax


def test_nothing_solid_stands_in_for_what_is_poured_nor_the_other_way_round() -> None:
    for own in OILS.values():
        _, by_use = substitutes(own, OILS.values())
        assert all(each.oil_profile.item.is_solid is own.item.is_solid for each in by_use), own.item.name


@pytest.mark.parametrize(
    ("asked", "clauses"),
    [
        ("light vegan keeps 6 months", ["light", "vegan", "keeps 6 months"]),
        ("high in linoleic not greasy cheap", ["high in linoleic", "not greasy", "cheap"]),
        ("something light for oily skin", ["something light", "for oily skin"]),
        ("light coconut", ["light coconut"]),  # a name with a word before it stays a name
        ("avocado keeps a year", ["avocado keeps a year"]),
    ],
)
def test_conditions_need_no_commas(asked: str, clauses: list[str]) -> None:
    assert split_clauses(asked) == clauses
    assert is_asked_of_all_oils(asked) is (len(clauses) > 1)


@pytest.mark.parametrize(
    ("asked", "clauses"),
    [
        ("lighter than avocado for Ines", ["lighter than avocado", "for Ines"]),
        ("like shea butter", ["like shea butter"]),
        ("like rosehip keeps a year", ["like rosehip", "keeps a year"]),
        ("lighter than high oleic sunflower cheap", ["lighter than high oleic sunflower", "cheap"]),
        ("richer than sweet almond light vegan", ["richer than sweet almond", "light", "vegan"]),
    ],
)
def test_the_name_of_an_oil_swallows_nothing_that_stands_behind_it(asked: str, clauses: list[str]) -> None:
    read = read_filter(asked, OILS, FACTS.names, whom=lambda words: (words, lambda _: True))

    assert [each.typed for each in read.conditions if each.typed] == clauses
    assert (read.names, read.not_read) == ((), ())
