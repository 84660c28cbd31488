"""One function judges a thing for a person, and bench, card, shelf, quick line and stand-ins agree with it."""

from __future__ import annotations

import json
from dataclasses import replace
from importlib.resources import files

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.safety.conftest import FACTS, TODAY, Checked, case_of
from tests.core.safety.test_worked_examples import ADULT

from uptide.core.safety.allergies import PARTED, read_allergies
from uptide.core.safety.card import CardSays, answer_for, card_says, not_asked
from uptide.core.safety.caution import Grade
from uptide.core.safety.check import check
from uptide.core.safety.person import NAMED, NOT_UNDERSTOOD, Judged, alone, judge
from uptide.core.skin.wearer import ALLERGIES, GROUPS, Ticks, Wearer
from uptide.core.skin.whom import Whom
from uptide.formats.people_json import read_people, wearer_in
from uptide.web.views.sheet import _instead

PEOPLE_FILE = (files("uptide.demo") / "people.json").read_text(encoding="utf-8")
PEOPLE = [
    *(wearer_in(person) for person in read_people("people.json", PEOPLE_FILE).people),
    replace(ADULT, name="Runa", skin="dry", other_allergies="linalool, avocado"),
    replace(ADULT, name="Sven", skin="oily", reacted_to=frozenset({"argan", "lavender"})),
    replace(ADULT, name="Tara", skin="normal", other_allergies="almonds, zorgblat"),
    Wearer("Una", skin="dry", allergies=Ticks(frozenset({"tree_nut"}))),
]
ITEMS = [item for item in FACTS.ingredients.values() if item.is_fatty or item.key in FACTS.safety.scents]
NAMES = [item.name for item in FACTS.ingredients.values()]
PERSONAL = {rule.key for rule in FACTS.safety.personal_rules} | {NAMED, NOT_UNDERSTOOD, "dislike"}


def judged(key: str, wearer: Wearer) -> Judged:
    return judge(FACTS.ingredient(key), wearer, FACTS.safety, TODAY)


def allergic(words: str) -> Wearer:
    return replace(ADULT, skin="dry", other_allergies=words)


@pytest.mark.parametrize("wearer", PEOPLE, ids=lambda wearer: wearer.name)
def test_bench_card_quick_line_and_stand_ins_agree_over_all_oils(wearer: Wearer) -> None:
    card: CardSays = card_says(wearer, ITEMS, FACTS.safety, TODAY)
    on_card = {(each.rule, each.message): {i.key for i in each.items or ITEMS} for each in card.applicable_rules}
    suiting = {item.key for item in card.suits}
    for item in ITEMS:
        found = judge(item, wearer, FACTS.safety, TODAY)
        bench = {(c.rule, c.grade, c.message) for c in check(alone(item, wearer, FACTS.safety, TODAY)).cautions}
        assert {(c.rule, c.grade, c.message) for c in found.cautions} == {c for c in bench if c[0] in PERSONAL}
        assert {key for key, about in on_card.items() if item.key in about} == {
            (c.rule, c.message) for c in found.holds
        }
        answer = answer_for(item, Whom(wearer, "for them"), FACTS.safety, TODAY).answer
        assert (found.grade is Grade.STOP) <= answer.endswith(": not for them"), answer
        assert ("yes" in answer or "nothing known" in answer) <= (found.allowed is True), answer
        assert (item.key in suiting) <= (found.allowed is True)
    for key in ("almond-sweet", "rosehip", "jojoba"):
        offered = [FACTS.ingredient(k) for k, _, _ in _instead(FACTS, key, wearer, TODAY)]
        assert all(judge(i, wearer, FACTS.safety, TODAY).allowed for i in offered)


def test_a_typed_allergy_reaches_the_card_and_the_quick_line() -> None:
    runa = allergic("linalool, avocado")
    card = card_says(runa, ITEMS, FACTS.safety, TODAY)

    assert "avocado" not in {item.key for item in card.suits}
    assert "jojoba" in {item.key for item in card.suits}
    assert judged("avocado", runa).grade is Grade.STOP
    assert judged("lavender", runa).grade is Grade.STOP  # it holds linalool
    said = answer_for(FACTS.ingredient("avocado"), Whom(runa, "for Runa"), FACTS.safety, TODAY)
    assert said.answer == "Avocado oil: not for Runa"


def test_a_reaction_reaches_the_card_and_the_quick_line() -> None:
    sven = replace(ADULT, skin="dry", reacted_to=frozenset({"argan"}))
    card = card_says(sven, ITEMS, FACTS.safety, TODAY)

    assert [[i.key for i in each.items] for each in card.applicable_rules if each.rule == "reacted"] == [["argan"]]
    assert "argan" not in {item.key for item in card.suits}
    assert judged("jojoba", sven).grade is None


@pytest.mark.parametrize(
    ("words", "stops", "spares"),
    [
        ("almonds", ["almond-sweet", "hazelnut"], "sunflower"),
        ("nuts", ["walnut", "peanut", "macadamia"], "sunflower"),
        ("Hazelnuts", ["hazelnut", "walnut"], "sunflower"),
        ("cashew", ["marula", "mango-butter", "walnut"], "sunflower"),
        ("fragrance", ["lavender", "rose-otto", "vanilla-co2"], "olive"),
        ("perfume", ["lavender"], "olive"),
        ("balsam of Peru", ["peru-balsam", "benzoin", "cinnamon-bark", "clove-bud"], "frankincense"),
        ("limonene", ["orange-sweet"], "olive"),
        ("milk", ["milk"], "olive"),
        ("allergic to avocados", ["avocado"], "olive"),
        ("sunflower and sesame", ["sunflower", "sesame"], "olive"),
        ("thymol", ["thyme-thymol"], "olive"),
        ("Simmondsia chinensis", ["jojoba"], "olive"),
        ("groundnut allergy", ["peanut"], "olive"),
    ],
)
def test_an_allergy_in_plain_words_stops_what_it_means(words: str, stops: list[str], spares: str) -> None:
    for key in stops:
        assert judged(key, allergic(words)).grade is Grade.STOP, key
    assert judged(spares, allergic(words)).grade in (None, Grade.NOTE)
    assert not [c for c in judged(spares, allergic(words)).cautions if c.rule == NOT_UNDERSTOOD]


@pytest.mark.parametrize("words", ["zorgblat", "the blue stuff", "E 1442"])
def test_what_is_not_understood_is_a_warning_over_everything(words: str, checked: Checked) -> None:
    wearer = allergic(words)
    card = card_says(wearer, ITEMS, FACTS.safety, TODAY)
    said = [c for c in checked("30 g jojoba", wearer=wearer).cautions if c.rule == NOT_UNDERSTOOD]

    assert [(c.grade, words in c.message) for c in said] == [(Grade.WARN, True)]
    assert [words in c.message for c in card.not_understood] == [True]
    assert card.suits == ()
    assert "unknown" in answer_for(FACTS.ingredient("jojoba"), Whom(wearer, "for her"), FACTS.safety, TODAY).answer


def test_what_no_oil_holds_is_understood_and_stops_nothing() -> None:
    for words in ("penicillin", "dust mites", "nickel"):
        assert judged("jojoba", allergic(words)).cautions == ()


@settings(max_examples=300)
@given(st.lists(st.one_of(st.sampled_from(NAMES), st.text("abcdefgh ", min_size=1, max_size=12)), max_size=4))
def test_no_typed_allergy_is_dropped_in_silence(parts: list[str]) -> None:
    text = ", ".join(parts)
    typed = [part for part in PARTED.split(text) if part.strip(" .!?-:")]
    read = read_allergies(text, FACTS.safety)
    said = {c.message for c in judged("jojoba", allergic(text)).cautions if c.rule == NOT_UNDERSTOOD}

    assert len(read) == len(typed)
    assert len(said) == len({each.said for each in read if not each.understood})


@pytest.mark.parametrize("item", ITEMS, ids=lambda item: item.key)
def test_whatever_is_named_as_an_allergy_is_stopped(item: object) -> None:
    key = item.key  # type: ignore[attr-defined] # an ingredient
    plain = FACTS.ingredient(key).name.partition("(")[0].split(",")[0].split("/")[0].strip()
    for words in (plain, f"{plain}s".upper()):
        assert judged(key, allergic(words)).grade is Grade.STOP, words


@pytest.mark.parametrize("group", GROUPS)
def test_ticking_one_thing_answers_nothing_else(group: str) -> None:
    first, *others = GROUPS[group]
    ticks = Ticks(frozenset({first}))

    assert ticks.holds(first) is True
    assert [ticks.holds(other) for other in others] == [None] * len(others)
    assert [Ticks.answered(GROUPS[group], first).holds(other) for other in others] == [False] * len(others)


def test_a_nut_allergy_alone_leaves_peanut_unknown_on_the_bench_and_the_card() -> None:
    una = Wearer("Una", skin="dry", allergies=Ticks(frozenset({"tree_nut"})))
    bench = [c for c in check(case_of({"peanut": 20.0}, wearer=una)).cautions if c.rule == "peanut"]

    assert [(c.grade, c.is_unknown) for c in bench] == [(Grade.WARN, True)]
    assert judged("peanut", una).allowed is None
    assert "peanut" in " ".join(not_asked(una))
    assert "tree nuts" not in " ".join(not_asked(una))
    assert judged("peanut", replace(una, allergies=Ticks.answered(ALLERGIES, "tree_nut"))).allowed is True


# From memory: published cross-reactions, by what somebody is allergic to.
CROSSING = [
    ("tree_nut", ["apricot-kernel", "peach-kernel", "plum-kernel", "cherry-kernel", "mango-butter"]),
    ("stone_fruit", ["almond-sweet"]),
    ("birch_pollen", ["hazelnut"]),
    ("soy", ["hydrogenated-lecithin", "lecithin"]),
    ("daisy", ["chamomile-hydrosol", "chamomile-roman", "calendula-co2"]),
]


@pytest.mark.parametrize(("allergy", "keys"), CROSSING)
def test_what_crosses_over_is_warned_of(allergy: str, keys: list[str]) -> None:
    wearer = ADULT.with_ticks("allergies", allergy)
    assert {key: judged(key, wearer).grade for key in keys} == dict.fromkeys(keys, Grade.WARN)


@pytest.mark.parametrize("name", ["camomile water", "Anthemis Nobilis Flower Water", "chamomile hydrosol"])
def test_chamomile_water_is_of_the_daisy_family_by_any_name(name: str, checked: Checked) -> None:
    found = checked("20 g jojoba", f"5 g {name}", wearer=ADULT.with_ticks("allergies", "daisy"))
    assert "daisy-family" in {c.rule for c in found.cautions if c.grade is Grade.WARN and not c.is_unknown}


@pytest.mark.parametrize(
    ("health", "rule", "keys"),
    [
        ("g6pd", "g6pd", ["rosemary-camphor", "lavender-spike", "peppermint"]),
        ("epilepsy", "seizure-strong", ["blue-tansy", "rosemary-camphor", "lavender-spike", "sage", "hyssop"]),
    ],
)
def test_a_rule_about_a_constituent_stops_every_bearer(health: str, rule: str, keys: list[str]) -> None:
    wearer = ADULT.with_ticks("health", health)
    for key in keys:
        assert rule in {c.rule for c in judged(key, wearer).holds if c.grade is Grade.STOP}, key
    assert judged("lavender", wearer).grade in (None, Grade.NOTE)


def test_cards_of_a_file_say_what_was_asked() -> None:
    people = {p["name"]: p["card"] for p in json.loads(PEOPLE_FILE)["people"]}
    ines = wearer_in(read_people("p.json", PEOPLE_FILE).people[0])

    assert people["Ines"]["allergies"]["none_of_the_others"] is True
    assert ines.allergies.holds("peanut") is False
    assert ines.allergies.holds("tree_nut") is True
