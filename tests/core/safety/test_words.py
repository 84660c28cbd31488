"""The language of the rules: what can be written, what it means, and what is wrong with what cannot."""

from __future__ import annotations

import pytest

from uptide.core.safety.words import Condition, Share, asks_for, flags_named, is_personal, problem_of, read_words


def test_a_bar_parts_alternatives_and_an_ampersand_what_must_hold_together() -> None:
    assert read_words("area:bath&!oils|past:heated,infused") == (
        (Condition("area", ("bath",)), Condition("oils", turned=True)),
        (Condition("past", ("heated", "infused")),),
    )


@pytest.mark.parametrize(
    ("words", "meant"),
    [
        ("age<2y", Condition("age", sign="<", bound=24)),
        ("age>=18m", Condition("age", sign=">=", bound=18)),
        ("scent>0.5", Condition("scent", sign=">", bound=0.5)),
        ("scent", Condition("scent")),
        ("family:tree_nut/argan,coconut", Condition("family", ("tree_nut",), ("argan", "coconut"))),
        ("oils/jojoba", Condition("oils", excepting=("jojoba",))),
        ("over-law:METHYL SALICYLATE", Condition("over-law", ("METHYL SALICYLATE",))),
        (
            "may-have:1,8-CINEOLE>5,METHYL-N-METHYLANTHRANILATE>=0.1",
            Condition(
                "may-have", shares=(Share("1,8-CINEOLE", ">", 5), Share("METHYL-N-METHYLANTHRANILATE", ">=", 0.1))
            ),
        ),
    ],
)
def test_one_condition_says(words: str, meant: Condition) -> None:
    assert read_words(words) == ((meant,),)


def test_a_pattern_keeps_its_own_bars_ampersands_and_brackets() -> None:
    ((pattern, other),) = read_words(r"text:/\b(a|b&c)[\/|]\/\b/&scent")
    assert pattern.pattern is not None
    assert pattern.pattern.pattern == r"\b(a|b&c)[\/|]\/\b"
    assert other == Condition("scent")


@pytest.mark.parametrize(
    ("words", "trouble"),
    [
        ("", "“” is no expression of the rules at its end"),
        ("oil:", "“oil:” is no expression of the rules at its end"),
        ("scent&", "“scent&” is no expression of the rules at its end"),
        ("scent&oliv>3", "“scent&oliv>3” is no expression of the rules from “oliv>3” on"),
        ("scents", "“scents” is no expression of the rules from “scents” on"),
        ("has:MENTHOL", "“has:MENTHOL” is no expression of the rules at its end"),
        ("scent scent", "“scent scent” is no expression of the rules from “ scent” on"),
        ("text:/(/", "/(/ is no pattern: missing ), unterminated subpattern at position 0"),
        ("area:foot", "“area”: foot is not known; known are face, eye, body, bath, shower, scalp, spot"),
        ("oil:olive", "“oil:olive” names olive, which is not among the ingredients"),
        ("family:soy/tofu", "“family:soy/tofu” names tofu, which is not among the ingredients"),
        ("oils/rye,jojoba,oat", "“oils/rye,jojoba,oat” names rye, oat, which is not among the ingredients"),
        ("oil:jojoba", ""),
    ],
)
def test_what_is_wrong_is_said_with_where(words: str, trouble: str) -> None:
    assert problem_of(words, {"jojoba"}) == trouble


def test_what_a_rule_asks_of_the_wearer_and_of_plants() -> None:
    assert is_personal(read_words("anyone|allergy:sesame"))
    assert not is_personal(read_words("anyone|nobody-named|region:EU"))
    assert asks_for(read_words("pregnant|medicine:any"), "medicine")
    assert not asks_for(read_words("pregnant"), "medicine")
    assert flags_named(read_words("plant:stain|plant:face&area:face")) == {"stain", "face"}
