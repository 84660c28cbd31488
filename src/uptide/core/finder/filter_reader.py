"""What the clauses of a question mean: each becomes a condition, a name, or a reason why it was not read."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from lark import Token, Tree

from uptide.core.figures.oil_profile import FEELS, OilProfile
from uptide.core.finder.filter_grammar import left_out, plain_word, read_clause, split_clauses
from uptide.core.finder.filter_words import (
    A_YEAR,
    COMPARATIVES,
    FAMILIES,
    FEEL_WORDS,
    FIGURE_WORDS,
    FIGURES,
    HIGH,
    KIND_WORDS,
    LONG_KEPT,
    LOW,
    RARELY_CLOGS,
    SUPERLATIVES,
    TRADITIONS,
    Figure,
)
from uptide.core.finder.known import is_of_animals
from uptide.core.grammar import has, token_of, tokens_of
from uptide.core.measures.names import NameIndex
from uptide.core.tolerance import exceeds, reaches

Passes = Callable[[OilProfile], bool | None]
Prices = Mapping[str, float]  # price of 100 g by ingredient key
Whom = Callable[[str], tuple[str, Passes] | None]
Clause = tuple[str, Tree[Token] | None]  # as typed, and what it is made of

ANY_STATE = "solid or liquid"  # what takes the state of an example back
WORTH = 0.05  # of a figure: less is called the same; a step of what is counted in steps is always more
NAMES_AN_OIL = ("comparative", "likeness")  # rules of the grammar
FOR_SOMEBODY = ("for", "suit")  # how a lead begins after which nothing but somebody can stand


@dataclass(frozen=True, slots=True)
class FilterCondition:
    """One clause: as typed, as understood, and whether an oil passes it (None: its figure is unknown)."""

    typed: str
    words: str
    passes: Passes


class FilterReader:
    """Reads clauses one after the other; what came of them stands in its fields.

    The oil that “lighter than …” or “like …” names counts for all clauses that name none, so it is looked for first.
    """

    def __init__(
        self,
        clauses: Sequence[str],
        portraits: Mapping[str, OilProfile],
        names: NameIndex,
        *,
        on_hand: frozenset[str],
        prices: Prices,
        whom: Whom | None,
    ) -> None:
        self.portraits, self.index, self.on_hand, self.prices, self.whom = portraits, names, on_hand, prices, whom
        self.conditions: list[FilterCondition] = []
        self.name_words: list[str] = []
        self.not_read: list[tuple[str, str]] = []
        self.order: tuple[str, bool] | None = None
        self.says_state = False
        self.example = self.likeness = ""
        self.example_problem = ""
        apart = [piece for clause in clauses for piece in self._from_behind_a_name(clause)]
        read: list[Clause] = [(clause, read_clause(clause)) for clause in apart]
        for _, tree in read:
            self._find_example(tree)
        for typed, tree in read:  # each rule of the grammar has a method of its name
            if tree is None or not getattr(self, f"_{tree.data}")(typed, tree):
                self.name_words.append(typed)
        self._keep_to_the_state_of_the_example()

    def _from_behind_a_name(self, clause: str) -> list[str]:
        """A clause that ends with the name of an oil, and what stands behind that: “lighter than avocado for Ines”."""
        tree = read_clause(clause)
        name = token_of(tree, "REST") if tree is not None and tree.data in NAMES_AN_OIL else ""
        words = name.split()
        for count in range(len(words) - 1, 0, -1):
            rest = " ".join(words[count:])
            is_named = not self.index.exactly(name) and self.index.exactly(" ".join(words[:count]))
            if is_named and all(read_clause(each) is not None for each in split_clauses(rest)):
                behind = [piece for each in split_clauses(rest) for piece in self._from_behind_a_name(each)]
                return [clause.removesuffix(rest).rstrip(), *behind]
        return [clause]

    def _find_example(self, tree: Tree[Token] | None) -> None:
        name = token_of(tree, "REST") if tree is not None and tree.data in NAMES_AN_OIL else ""
        if name:
            key, self.example_problem = self._oil(name)
            self.example = self.example or key

    def _keep_to_the_state_of_the_example(self) -> None:
        """What is lighter than a liquid is no butter, unless it was asked for."""
        if not self.example or self.says_state:
            return
        example = self.portraits[self.example].item
        words = f"{'solid' if example.is_solid else 'liquid'} in the room, as {example.name} is"
        self._add("", words, lambda p: p.item.is_solid is example.is_solid)

    def _oil(self, name: str) -> tuple[str, str]:
        match = self.index.match(name)
        if match.sure and match.keys[0] in self.portraits:
            return match.keys[0], ""
        keys = [key for key in match.keys if key in self.portraits]
        if len(keys) > 1:
            return "", f"“{name}” is one of several: {' or '.join(self.portraits[key].item.name for key in keys)}"
        return (keys[0], "") if keys else ("", f"there is no oil called “{name}” on the shelf")

    def _add(self, typed: str, words: str, passes: Passes) -> bool:
        self.conditions.append(FilterCondition(typed, words, passes))
        return True

    def _refuse(self, typed: str, why: str) -> bool:
        self.not_read.append((typed, why))
        return True

    def _on_hand(self, typed: str, _: Tree[Token]) -> bool:
        return self._add(typed, "on hand", lambda p: p.key in self.on_hand)

    def _ordered(self, typed: str, tree: Tree[Token]) -> bool:
        """“cheap” says nothing of how cheap: what has a price on the shelf is put in order, and the rest follows."""
        figure, falling, words = SUPERLATIVES[plain_word(token_of(tree, "SUPERLATIVE"))]
        self.order = self.order or (figure, falling)
        return self._add(typed, words, lambda _: True)

    def _vegan(self, typed: str, _: Tree[Token]) -> bool:
        def passes(p: OilProfile) -> bool | None:
            held = is_of_animals(p.item)
            return None if held is None else not held

        return self._add(typed, "nothing of animals", passes)

    def _tradition(self, typed: str, tree: Tree[Token]) -> bool:
        """“warming”, “for winter”: by tradition, which is no measurement and is said to be none."""
        words = plain_word(token_of(tree, "TRADITION")).split()
        wanted = next(TRADITIONS[word] for word in words if word in TRADITIONS)

        def passes(p: OilProfile) -> bool:
            held = p.item.tradition
            return held is not None and (wanted == held.temper or wanted in held.seasons)

        return self._add(typed, f"{wanted} by tradition, nothing measured", passes)

    def _somebody(self, typed: str, tree: Tree[Token]) -> bool:
        """“for Ines”, “suits oily skin”, “with a nut allergy”."""
        if self.whom is None:
            return False
        who = token_of(tree, "REST") or token_of(tree, "SKIN")
        meant = self.whom(who)
        if meant is None and (has(tree, "SKIN") or plain_word(token_of(tree, "LEAD")).startswith(FOR_SOMEBODY)):
            return self._refuse(typed, f"“{who}” is nobody known here; say a name, “oily skin”, “pregnancy”")
        return meant is not None and self._add(typed, *meant)

    def _family(self, typed: str, tree: Tree[Token]) -> bool:
        listed = left_out(tree)
        wanted = [FAMILIES.get(name) for name in listed]
        if None in wanted:
            said = " or ".join(listed)
            known = ", ".join(dict.fromkeys(name.replace("_", " ") for group in FAMILIES.values() for name in group))
            return self._refuse(typed, f"“{said}” is no allergen family that is known; known are {known}")
        families = frozenset(family for group in wanted if group for family in group)
        words = "without " + ", ".join(sorted(family.replace("_", " ") for family in families))
        return self._add(typed, words, lambda p: None if p.allergens is None else not p.allergens & families)

    def _likeness(self, typed: str, tree: Tree[Token]) -> bool:
        key, problem = self._oil(token_of(tree, "REST"))
        if not key:
            return self._refuse(typed, problem)
        self.likeness = key
        self.example = self.example or key
        title = self.portraits[key].item.name
        return self._add(typed, f"like {title}, the most alike first", lambda p: p.key != key)

    def _comparative(self, typed: str, tree: Tree[Token]) -> bool:
        word, named = plain_word(token_of(tree, "COMPARATIVE")), token_of(tree, "REST")
        key, problem = self._oil(named) if named else (self.example, self.example_problem)
        if not key:
            return self._refuse(typed, problem or f"{word} than which oil? Say it as in “{word} than avocado”")
        name, more = COMPARATIVES[word]
        figure = self._figure_named(name)
        against = figure(self.portraits[key])
        title = self.portraits[key].item.name
        if against is None:
            return self._refuse(typed, f"nothing is known of the {name} of {title}")
        edge = WORTH * abs(against)

        def passes(p: OilProfile) -> bool | None:
            value = figure(p)
            if p.key == key:
                return False
            return None if value is None else value > against + edge if more else value < against - edge

        return self._add(typed, f"{word} than {title}", passes)

    def _figure_named(self, name: str) -> Figure:
        if name == "price":
            return lambda p: self.prices.get(p.key)
        return FIGURES[name][2]

    def _figure(self, typed: str, tree: Tree[Token]) -> bool:
        bound = next(tree.find_data("bound"), None)
        months = bound is not None and any(has(bound, unit) for unit in ("MONTHS", "YEARS", "A_YEAR"))
        name = FIGURE_WORDS.get(plain_word(token_of(tree, "FIGURE")), "keeps" if months else "")
        if bound is None and name == "price":
            return self._refuse(typed, "say how much, as in “price under 2”, or “cheap” for the cheapest first")
        if bound is None or not name:
            return False
        low, *more = sorted(_number(number) for number in bound.find_data("number"))
        if more:
            return self._bounded(typed, name, least=low, most=more[0])
        if has(bound, "BELOW") or has(bound, "AT_MOST"):
            return self._bounded(typed, name, most=low, strict=has(bound, "BELOW"))
        return self._bounded(typed, name, least=low, strict=has(bound, "ABOVE"))

    def _much(self, typed: str, tree: Tree[Token]) -> bool:
        """“high in linoleic”, “low in saturated”: from where on is said."""
        name = FIGURE_WORDS[plain_word(token_of(tree, "FIGURE"))]
        bound = (HIGH if has(tree, "HIGH") else LOW).get(name)
        if bound is None:
            return self._refuse(typed, f"say how much, as in “{name} under 2”")
        return self._bounded(typed, name, least=bound) if has(tree, "HIGH") else self._bounded(typed, name, most=bound)

    def _unscented(self, typed: str, _: Tree[Token]) -> bool:
        return self._bounded(typed, "odour", most=0.0)

    def _never_clogs(self, typed: str, _: Tree[Token]) -> bool:
        return self._bounded(typed, "clog", most=RARELY_CLOGS)

    def _keeps_long(self, typed: str, _: Tree[Token]) -> bool:
        return self._bounded(typed, "keeps", least=LONG_KEPT)

    def _bounded(
        self, typed: str, name: str, *, least: float | None = None, most: float | None = None, strict: bool = False
    ) -> bool:
        """A figure between two bounds or on one side of one; `strict`: the bound itself does not pass."""
        title, unit = ("price of 100 g", "") if name == "price" else FIGURES[name][:2]
        figure = self._figure_named(name)
        if least is not None and most is not None:
            said = f"{least:g} to {most:g}"
        elif least is not None:
            said = f"{'over' if strict else 'at least'} {least:g}"
        else:
            said = f"{'under' if strict else 'at most'} {most:g}"

        def passes(p: OilProfile) -> bool | None:
            value = figure(p)
            if value is None:
                return None
            above = least is None or (exceeds(value, least) if strict else reaches(value, least))
            return above and (most is None or (not reaches(value, most) if strict else not exceeds(value, most)))

        return self._add(typed, f"{title} {said} {unit}".strip(), passes)

    def _feel(self, typed: str, tree: Tree[Token]) -> bool:
        words = ["light"] if has(tree, "NOT_GREASY") else [plain_word(word) for word in tokens_of(tree, "FEEL")]
        ranks = frozenset(rank for word in words for rank in FEEL_WORDS[word])
        title = "feels " + " or ".join(FEELS[rank] for rank in sorted(ranks))
        if not has(tree, "OILS"):
            return self._add(typed, title, lambda p: None if p.feel is None else p.feel in ranks)
        self.says_state = True
        return self._add(
            typed,
            f"{title}, liquid in the room",
            lambda p: False if p.item.is_solid else None if p.feel is None else p.feel in ranks,
        )

    def _kind(self, typed: str, tree: Tree[Token]) -> bool:
        self.says_state = True
        kind = KIND_WORDS[plain_word(token_of(tree, "KIND"))]
        return self._add(typed, f"only what is a {kind.replace('_', ' ')}", lambda p: p.item.kind == kind)

    def _state(self, typed: str, tree: Tree[Token]) -> bool:
        self.says_state = True
        if has(tree, "ANY_STATE"):
            return self._add(typed, ANY_STATE, lambda _: True)
        solid = has(tree, "SOLID")
        return self._add(typed, f"{'solid' if solid else 'liquid'} in the room", lambda p: p.item.is_solid is solid)


def _number(tree: Tree[Token]) -> float:
    """A number in the unit of its figure; years are months."""
    if has(tree, "A_YEAR"):
        return A_YEAR
    value = float(token_of(tree, "NUMBER").replace(",", "."))
    return A_YEAR * value if has(tree, "YEARS") else value
