"""The quick line, with the check values of the trade (common practice) in both drop schools."""

from __future__ import annotations

import pytest

from uptide.catalogue.catalogue import Catalogue
from uptide.core.errors import QuantityError
from uptide.core.measures.habits import Habits, drops_per_ml_by_weighing
from uptide.core.measures.quick import answer
from uptide.core.measures.say import say_number, say_spoons


@pytest.mark.parametrize(
    ("question", "drops", "expected"),
    [
        ("2% of 30 ml in drops", "20", "12 drops"),
        ("2% of 30 ml in drops", "30", "18 drops"),
        ("5% of 10 ml in drops", "20", "10 drops"),
        ("5 % of 5 mL in drops?", "20", "5 drops"),
        ("1% of 15 ml in drops", "30", "4.5 drops"),
        ("6 drops in 15 ml", "20", "2 % by volume"),
        ("42 drops in 6 fl oz", "20", "1.18 % by volume"),
        ("2% of 1 fl oz in drops", "20", "11.8 drops"),
        ("4% of 1 fl oz in drops", "20", "23.7 drops"),
        ("2 tbsp grapeseed in g", "20", "27.27 g"),
        ("75 g jojoba in tbsp", "20", "5.87 tbsp"),
        ("3 tsp in tbsp", "20", "1 tbsp"),
        ("1 tbsp in fl oz", "20", "0.5 fl oz"),
        ("1 cup in mL", "20", "236.6 mL"),
        ("1 cup olive", "20", "216.1 g = 236.6 mL"),
        ("5 g jojoba in 100 g", "20", "5 % by mass"),
    ],
)
def test_sums(question: str, drops: str, expected: str, catalogue: Catalogue) -> None:
    assert answer(question, Habits(drops=drops), catalogue.ingredients, catalogue.names).answer == expected


def test_the_other_school_is_said_beside_it(catalogue: Catalogue) -> None:
    assert "18 at 30/mL" in answer("2% of 30 ml in drops", Habits(), catalogue.ingredients, catalogue.names).remark


@pytest.mark.parametrize(
    ("question", "message"),
    [
        ("2 tbsp in g", "say of which oil"),
        ("2 oz jojoba in g", "by volume or by weight"),
        ("what", "no measured amount"),
        ("2 tbsp zorgblat in g", "not in the catalogue"),
        ("2 tbsp jojoba in furlongs", "is no unit"),
        ("5 g in drops", "say of which oil"),
        ("1/0 tsp jojoba in g", "divides by nothing"),
        ("5 g in 100 ml", "say of which oil"),
        ("2 tbsp jojoba in capsules", "cannot be given in capsules"),
    ],
)
def test_what_cannot_be_answered_says_what_is_missing(question: str, message: str, catalogue: Catalogue) -> None:
    with pytest.raises(QuantityError, match=message):
        answer(question, Habits(), catalogue.ingredients, catalogue.names)


def test_a_dropper_is_calibrated_by_weighing_twenty_drops() -> None:
    # 12 drops at 32/mL of a lavender of 0.884 g/mL weigh 0.3315 g.
    assert drops_per_ml_by_weighing(12, 0.3315, 0.884) == pytest.approx(32, abs=0.01)
    with pytest.raises(QuantityError, match="above 0"):
        drops_per_ml_by_weighing(20, 0, 0.884)


def test_habits_that_cannot_be_are_refused() -> None:
    with pytest.raises(QuantityError, match="drop school"):
        Habits(drops="25")
    with pytest.raises(QuantityError, match="drops to the mL"):
        Habits(own_drops_per_ml=500)


@pytest.mark.parametrize(
    ("millilitres", "words"),
    [(0.3, "¼ tsp"), (5, "1 tsp"), (22.18, "1½ tbsp"), (118.29, "½ cup"), (250, "1 cup + 2¾ tsp"), (354.9, "1½ cups")],
)
def test_spoons_are_said_as_one_measures_them(millilitres: float, words: str) -> None:
    assert say_spoons(millilitres, Habits()) == words


def test_numbers_have_no_exponent_and_no_tail() -> None:
    assert [say_number(v) for v in (0, 12.0, 0.00001234, 123456.0)] == ["0", "12", "0.00001234", "123456"]
