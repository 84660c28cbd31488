"""A grammar reads the same whether it was built here or at an earlier start."""

from __future__ import annotations

import pytest
from lark.exceptions import LarkError

from uptide.core.finder.filter_grammar import CLAUSES, RULES
from uptide.core.grammar import Grammar


def test_a_brought_grammar_reads_as_the_built_one() -> None:
    brought = Grammar("start: /nothing of the kind/")
    brought.bring(CLAUSES.built())

    for clause in ("lighter than avocado", "linoleic between 20 and 40 %", "no nuts or soy", "dry or fast feel"):
        assert brought.parser.parse(clause) == CLAUSES.parser.parse(clause)
    with pytest.raises(LarkError):
        brought.parser.parse("avocado")


def test_what_is_brought_takes_the_place_of_what_was_built() -> None:
    grammar = Grammar('start: "a"')
    assert grammar.parser is grammar.parser
    grammar.bring(Grammar(RULES, start="clause").built())
    assert grammar.parser.parse("vegan").data == "vegan"
