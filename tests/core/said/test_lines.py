"""What is read of lines as people type them, whole: amounts, names, what is asked and what is remarked."""

from __future__ import annotations

import csv
from datetime import date
from pathlib import Path

from tests.core.said.conftest import Approve
from tests.core.said.saying import or_why

from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.measures.grammar import longest_start, read_quantity, tokens
from uptide.core.measures.habits import Habits, drops_per_ml_by_weighing, millilitres_by_weighing
from uptide.core.measures.lines import parse_line, split_recipe
from uptide.core.measures.quick import answer
from uptide.core.measures.say import say_amount, say_number, say_poured, say_quarters, say_spoons, say_weighed
from uptide.core.measures.tables import rows_of_table
from uptide.core.physics.bottle import Container
from uptide.core.recipe.recipe import Entry, Recipe
from uptide.core.recipe.resolve import resolve

FACTS, HABITS, DAY = shipped_catalogue(), Habits(), date(2026, 11, 25)
MEASURES = Path(__file__).parents[1] / "measures"
TYPED = [
    each["typed"] for each in csv.DictReader((MEASURES / "typed_lines.csv").read_text(encoding="utf-8").splitlines())
]
PHRASES = [
    each["typed"] for each in csv.DictReader((MEASURES / "phrases.csv").read_text(encoding="utf-8").splitlines())
]
RARE = (
    "equal parts jojoba",
    "between 2 and 3 tbsp jojoba",
    "BETWEEN 1 AND 2 TSP argan",
    "a few drops of lavender",
    "a splash of rose",
    "some tsp jojoba",
    "heaping tsp shea butter",
    "a scant tbsp cocoa butter",
    "rounded teaspoon beeswax",
    "fill up with sunflower",
    "top up to 100 ml with olive",
    "up to 2 tsp jojoba",
    "5 % v/v lavender",
    "10 % w/w argan",
    "2 parts jojoba",
    "a third of the bottle jojoba",
    "1 cup plus 2 to 3 tbsp olive",
    "1 US pint argan",
    "1 UK tbsp argan",
    "2 smidgens clove, 1 dash lemon",
    "one and a half dozen drops of rose",
    "1-3/4 cups olive",
    "2-3 tbsp jojoba",
    "1.500,5 g jojoba",
    "jojoba (organic; cold pressed) 30 g",
    "jojoba 30 g (1 oz)",
    "jojoba (30 g)",
    "30 g / 1 oz jojoba",
    "then add 2 tbsp jojoba",
    "Base: 2 tbsp peaches kernel",
    "3 drops of cherries",
    "drops of lavender",
    "-2 g jojoba",
    "# only a remark",
)
QUANTITIES = (
    "2 tbsp",
    "1 1/2 to 2 cups",
    "a pinch",
    "1e400 g",
    "12 drops + 1 tsp",
    "q.s. to 30 ml",
    "3 %",
    "½½ cup",
    "2 oz",
    "",
)
SUMS = (
    "2% of 30 ml in drops",
    "2 tbsp grapeseed in g",
    "12 drops lavender in 30 ml",
    "1 cup in tbsp",
    "5 g in ml",
    "3 parsecs",
    "2 oz in g",
    "lavender 10 drops in ml",
    "half a cup in ml",
    "5% of 2 cups in tsp",
)
PASTED = (
    "2 tbsp jojoba, 1 tbsp argan and 12 drops lavender",
    "Oil\tAmount\nJojoba\t30 g\nArgan\t1,5 tsp\n",
    "1. 30 g jojoba\n2) 10 g argan; 5 drops rose",
    "Base: equal parts olive and argan\nScent: 6 drops each of lavender and neroli",
)


ROW = (
    "status",
    "ingredient",
    "grams",
    "grams_low",
    "grams_high",
    "millilitres",
    "percent_mass",
    "reason",
    "remark",
    "plant",
)


def test_what_is_read_of_a_line(approve: Approve) -> None:
    said: dict[str, object] = {typed: parse_line(typed) for typed in [*TYPED, *RARE]}
    approve("lines-read", said | {f"stands in it: {typed}": longest_start(tokens(typed)) for typed in QUANTITIES})


def test_what_comes_of_a_line_in_a_recipe(approve: Approve) -> None:
    said: dict[str, object] = {}
    for typed in [*TYPED[1::4], *RARE]:
        recipe = Recipe((Entry("60 g jojoba"), Entry(typed)), container=Container("bottle", 100.0))
        row = resolve(recipe, FACTS.ingredients, FACTS.names).rows[1]
        said[typed] = {name: getattr(row, name) for name in ROW} | {"asked": [each.text for each in row.questions]}
    approve("lines-resolved", said)


def test_what_is_read_of_an_amount_and_of_a_sum(approve: Approve) -> None:
    said: dict[str, object] = {f"amount {text}": or_why(read_quantity, text) for text in QUANTITIES}
    said |= {text: or_why(answer, text, HABITS, FACTS.ingredients, FACTS.names) for text in SUMS}
    said |= {text: [split_recipe(text), rows_of_table(text.split("\n"))] for text in PASTED}
    said["weighed drops"] = [drops_per_ml_by_weighing(20.0, 0.9, 0.92), millilitres_by_weighing(3.0, 12.5, 0.92)]
    for amount in (0.004, 0.3, 2.4, 14.79, 61.0, 480.0, 12_345.6):
        plain = [say_number(amount), say_quarters(amount), say_poured(amount), say_weighed(amount)]
        spoons = [say_spoons(amount, HABITS), say_spoons(amount, HABITS, "tbsp")]
        units = [
            say_amount(amount, 0.92, unit, HABITS)
            for unit in ("g", "ml", "tsp", "drop", "oz_weight", "fl_oz", "pump", "capsule")
        ]
        said[f"{amount:g} said"] = [plain, spoons, units]
    approve("lines-amounts", said)


NAMES = (
    "bergamot",
    "rose",
    "vitamin e",
    "almnd",
    "lavender from the market",
    "arnica oil",
    "zorgblat",
    "camomile co2",
    "peaches kernel",
    "berries",
    "organic Sweet Almonds oil",
    "high oleic sunflower",
    "rose otto and geranium",
    "oil",
)


def test_what_a_name_means(approve: Approve) -> None:
    said = {name: [FACTS.names.match(name), FACTS.names.match(name, in_drops=True)] for name in NAMES}
    approve("lines-names", said)
