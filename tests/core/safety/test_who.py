"""Whom a rule or a limit is about: in words, and of several ages the one that includes the others."""

from __future__ import annotations

import pytest
from tests.core.safety.conftest import FACTS

from uptide.core.safety.case import Case
from uptide.core.safety.caution import Grade
from uptide.core.safety.firing import NotFor, whom
from uptide.core.safety.judge import evaluate
from uptide.core.safety.who import age_below, limit_words, who_words
from uptide.core.safety.words import read_words
from uptide.core.skin.wearer import CONDITIONS, Ticks, Wearer


def not_for(who: str) -> NotFor:
    alternatives = read_words(who)
    return NotFor(who_words(alternatives), "", Grade.STOP, "rule", "No.", age_below=age_below(alternatives))


@pytest.mark.parametrize(
    ("each", "named"),
    [
        (["age<3m", "age<2y"], ["under 2 years"]),
        (["age<2y", "pregnant", "age<3m", "age<2y"], ["under 2 years", "in pregnancy"]),
        # Somebody else is meant as well: the higher age does not include them.
        (["age<2y", "age<3m|skin:eczema"], ["under 2 years", "under 3 months or with eczema"]),
        (["age<2y", "age<3m&skin:eczema"], ["under 2 years", "under 3 months and with eczema"]),
        (["age<2y", "age>65y"], ["under 2 years", "over 65 years"]),
        ([], []),
    ],
)
def test_a_lower_age_is_not_said_beside_a_higher_one(each: list[str], named: list[str]) -> None:
    assert whom([not_for(who) for who in each]) == named


@pytest.mark.parametrize(
    ("who", "words"),
    [
        ("age<6y&area:face", "under 6 years on the face"),
        ("sensitive", "on sensitive or ill skin"),
        ("allergy:sesame|medicine:any", "with an allergy to sesame or with any medicine"),
        ("pregnant&skin:broken", "in pregnancy and on broken skin"),
        ("age<6y&area:face,eye", "under 6 years on the face or eye"),
        ("age<3m", "under 3 months"),
        ("sun", "with much sun"),
        ("allergy:tree_nut,peanut&pregnant", "with an allergy to tree nuts or peanut and in pregnancy"),
        ("pregnant|pregnant|planning", "in pregnancy or when planning a pregnancy"),
        ("health:asthma&area:face&area:scalp", "with asthma on the face on the scalp"),
    ],
)
def test_whom_it_is_about_is_said_in_words(who: str, words: str) -> None:
    assert who_words(read_words(who)) == words


def test_a_limit_of_scent_is_called_by_its_product_or_its_wearer() -> None:
    called = [limit_words(limit) for limit in FACTS.safety.dose_limits]
    assert {"facial oil", "in pregnancy", "under 6 years on the face"} <= set(called)


@pytest.mark.parametrize(
    ("wearer", "is_so"),
    [
        (Wearer(sensitive=True), True),
        (Wearer(sensitive=False, conditions=Ticks(frozenset({"eczema"}))), True),
        (Wearer(sensitive=False), None),
        (Wearer(conditions=Ticks.answered(CONDITIONS)), None),
        (Wearer(sensitive=False, conditions=Ticks.answered(CONDITIONS, "acne")), False),
    ],
)
def test_skin_is_sensitive_by_itself_or_by_what_it_has(wearer: Wearer, *, is_so: bool | None) -> None:
    assert evaluate(read_words("sensitive"), Case((), wearer=wearer)).answer is is_so
