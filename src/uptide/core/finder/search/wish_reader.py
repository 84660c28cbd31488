"""What a wish means: each thing that is asked becomes a limit or a setting, with a plain line of its own."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import replace

from lark import Token, Tree

from uptide.core.finder.filter_words import A_YEAR, COMPARATIVES, FAMILIES, FIGURE_WORDS, HIGH, LOW, RARELY_CLOGS
from uptide.core.finder.known import OF_ANIMALS
from uptide.core.finder.search.wish import Limit, Objective, Wish
from uptide.core.finder.search.wish_asked import NAMES_OILS, Along, Asked, bare_product, listed
from uptide.core.finder.search.wish_grammar import (
    A_STEP,
    AT_LEAST_FELT,
    AT_MOST_FELT,
    COST,
    CURRENCIES,
    FIGURE_NAMED,
    FIGURES_OF,
    OBJECTIVES,
    SIZES,
    WORDS,
)
from uptide.core.grammar import has, token_of
from uptide.core.oxidation.surroundings import PLACES, Glass, Storage
from uptide.core.physics.bottle import LARGEST, SMALLEST
from uptide.core.skin.wearer import SKINS

FRIDGE, ROOM = 4.0, 22.0  # °C
MOST_OILS = 6
MOST_ALONG = 20.0  # percent of one thing that is no oil; policy
NINE_IN_TEN = 0.9  # of the lots


class WishReader:
    """Reads what is asked, one thing after the other; what came of it stands in its fields."""

    def __init__(self, along: Mapping[str, Along], figure_of: Callable[[str, str], float | None]) -> None:
        self.along, self.figure_of = along, figure_of
        self.wish, self.product, self.whom = Wish(), "", ""
        self.objective: Objective | None = None
        self.may_set = False
        self.kinds: set[str] = set()
        self.limits: list[Limit] = []
        self.lines: list[tuple[str, str]] = []
        self.not_read: list[tuple[str, str]] = []
        self._asked = Asked("")

    def take(self, asked: Asked) -> None:
        """Read one thing; each kind of what is asked has a method of its name."""
        self._asked = asked
        self.kinds.add(asked.kind)
        if asked.problem:
            self._refuse(asked.problem)
        if asked.kind in ("product", "whom"):
            getattr(self, f"_{asked.kind}")(*asked.keys)
        elif asked.tree is not None and (asked.kind not in NAMES_OILS or asked.keys or asked.kind == "without"):
            getattr(self, f"_{asked.kind}")(asked.tree)

    def _understood(self, words: str) -> None:
        self.lines.append((words, self._asked.typed))

    def _refuse(self, why: str) -> None:
        self.not_read.append((self._asked.typed, why))

    def _limit(self, figure: str, bound: float, *, at_least: bool, currency: str = "", celsius: float = 0.0) -> None:
        typed = self._asked.typed
        self.limits.append(Limit(figure, at_least, bound=bound, typed=typed, currency=currency, celsius=celsius))

    def _between(self, figure: str, bounds: tuple[float, float], currency: str = "") -> None:
        self._limit(figure, min(bounds), at_least=True, currency=currency)
        self._limit(figure, max(bounds), at_least=False, currency=currency)

    def _product(self, key: str) -> None:
        if self.product not in ("", key):
            self._refuse("one product at a time")
            return
        self.product = key
        self._understood(bare_product(self._asked.typed))

    def _whom(self, name: str) -> None:
        if self.whom not in ("", name):  # the last alone would be judged, and the line said both
            self._refuse(f"this is for {self.whom} already: ask for one after the other")
            return
        self.whom = name
        self._understood(f"for {name}")

    def _size(self, tree: Tree[Token]) -> None:
        millilitres = _numbers(tree)[0] * SIZES[token_of(tree, "VOLUME")]
        if not SMALLEST <= millilitres <= LARGEST:
            self._refuse(f"a bottle of {millilitres:g} mL cannot be filled; {SMALLEST:g} to {LARGEST:,.0f} mL can")
            return
        self.wish = replace(self.wish, millilitres=millilitres)
        self._understood(f"a bottle of {millilitres:g} mL")

    def _skin(self, tree: Tree[Token]) -> None:
        skin = next(each for each in SKINS if f"{each} skin" in token_of(tree, "SKIN"))
        self.wish = replace(self.wish, skin=skin)
        self._understood(f"suits {skin} skin")

    def _fresh(self, _: Tree[Token]) -> None:
        self.wish = replace(self.wish, fresh=True)
        self._understood("from fresh bottles, whatever the dates on the shelf are")

    def _on_hand(self, _: Tree[Token]) -> None:
        self.wish = replace(self.wish, on_hand=True)
        self._understood("from what stands on the shelf")

    def _lots(self, _: Tree[Token]) -> None:
        self.wish = replace(self.wish, lots=NINE_IN_TEN)
        self._understood("limits on acids hold for nine lots in ten")

    def _best(self, tree: Tree[Token]) -> None:
        self.objective = OBJECTIVES[_word(token_of(tree, "OBJECTIVE"))]
        if self.objective is Objective.USES_UP:  # which is what stands there
            self._on_hand(tree)
        self._understood(f"only the one that is best at this: {self.objective.value}")

    def _count(self, tree: Tree[Token]) -> None:
        beyond = int(has(tree, "ABOVE")) - int(has(tree, "BELOW"))  # more than 2 is 3 at the least
        counts = sorted(number + beyond for number in _numbers(tree))
        outside = next((each for each in counts if each not in range(1, MOST_OILS + 1)), None)
        if outside is not None:
            self._refuse(f"{outside:g} oils cannot be looked for; 1 to {MOST_OILS} can")
            return
        first, last = int(counts[0]), int(counts[-1])
        if len(counts) > 1:
            self.wish = replace(self.wish, fewest=first, most=last)
            self._understood(f"{first} to {last} oils")
        elif has(tree, "ABOVE") or has(tree, "AT_LEAST"):
            self.wish = replace(self.wish, fewest=first, most=max(first, self.wish.most))
            self._understood(f"at least {first} oils")
        elif has(tree, "AT_MOST") or has(tree, "BELOW"):
            self.wish = replace(self.wish, most=last, fewest=min(self.wish.fewest, last))
            self._understood(f"at most {last} oil{'s' if last > 1 else ''}")
        else:
            self.wish = replace(self.wish, most=last, fewest=last)
            self._understood(f"{last} oil{'s' if last > 1 else ''}")

    def _keeps(self, tree: Tree[Token]) -> None:
        if has(tree, "AT_MOST") or has(tree, "BELOW"):
            self._refuse("how long it keeps at most cannot be asked; how long at least can")
            return
        months = next(iter(_numbers(tree)), 1.0) * (A_YEAR if has(tree, "YEARS") or has(tree, "A_YEAR") else 1.0)
        if place := _word(token_of(tree, "PLACE")):
            celsius, swing, light = PLACES[place]
            self.wish = replace(self.wish, storage=Storage(place, celsius, swing=swing, light=light, glass=Glass.AMBER))
        self._understood(f"stands in a {self.wish.storage.place}, in amber glass, in use")
        self._limit("keeps", months / 2 if has(tree, "HALF") else months, at_least=True)

    def _sets(self, _: Tree[Token]) -> None:
        self.may_set = True
        self._understood("it may set")

    def _clear(self, tree: Tree[Token]) -> None:
        self._limit("clear", next(iter(_numbers(tree)), FRIDGE), at_least=True)

    def _solid(self, tree: Tree[Token]) -> None:
        percent, *at = _numbers(tree)
        self._limit("solid", percent, at_least=_is_least(tree), celsius=next(iter(at), ROOM))

    def _cost(self, tree: Tree[Token]) -> None:
        said = token_of(tree, "CURRENCY")
        currency = next((code for code, words in CURRENCIES.items() if said and re.fullmatch(words, said)), "")
        bounds = _numbers(tree)
        if len(bounds) > 1:
            self._between(COST, (bounds[0], bounds[1]), currency)
        else:
            self._limit(COST, bounds[0], at_least=_is_least(tree), currency=currency)

    def _figure(self, tree: Tree[Token]) -> None:
        figure, bounds = FIGURE_NAMED[_word(token_of(tree, "FIGURE"))], _numbers(tree)
        if len(bounds) > 1:
            self._between(figure, (bounds[0], bounds[1]))
        else:
            self._limit(figure, bounds[0], at_least=_is_least(tree))

    def _much(self, tree: Tree[Token]) -> None:
        """“high in linoleic”: from where on is said."""
        words = _word(token_of(tree, "FIGURE"))
        bound = (HIGH if has(tree, "HIGH") else LOW).get(FIGURE_WORDS.get(words, words))
        if bound is None:
            self._refuse(f"say how much, as in “{words} under 2”")
        else:
            self._limit(FIGURE_NAMED[words], bound, at_least=has(tree, "HIGH"))

    def _never_clogs(self, _: Tree[Token]) -> None:
        self._limit("clog", RARELY_CLOGS, at_least=False)

    def _acids(self, tree: Tree[Token]) -> None:
        self._limit("acids", _numbers(tree)[0], at_least=_is_least(tree))

    def _inert(self, tree: Tree[Token]) -> None:
        if _is_least(tree):
            self._refuse("what cannot oxidise can have a most, and no least")
        else:
            self._limit("inert", _numbers(tree)[0], at_least=False)

    def _feel(self, tree: Tree[Token]) -> None:
        word = _word(token_of(tree, "FEEL"))
        is_rich = word in AT_LEAST_FELT
        self._limit("feel", (AT_LEAST_FELT if is_rich else AT_MOST_FELT)[word], at_least=is_rich)

    def _comparative(self, tree: Tree[Token]) -> None:
        """“lighter than avocado”, as the shelf is asked: by a step that is felt."""
        word = _word(token_of(tree, "COMPARATIVE"))
        figure, is_more = COMPARATIVES[word]
        value = self.figure_of(self._asked.keys[0], figure)
        if value is None:
            self._refuse(f"nobody knows how {word} than “{token_of(tree, 'REST')}” would be")
            return
        step = A_STEP[figure] * (value if figure == "thickness" else 1.0)
        bound = max(0.0, value + step if is_more else value - step)
        self._limit(FIGURES_OF[figure], float(f"{bound:.3g}"), at_least=is_more)

    def _vegan(self, _: Tree[Token]) -> None:
        self.wish = replace(self.wish, without=self.wish.without | OF_ANIMALS)
        self._understood("nothing of animals")

    def _unscented(self, _: Tree[Token]) -> None:
        self._understood("without scent")  # none comes along unless it is named

    def _without(self, tree: Tree[Token]) -> None:
        keys = iter(self._asked.keys)
        for name in listed(tree):
            if families := FAMILIES.get(name):
                self.wish = replace(self.wish, families=self.wish.families | frozenset(families))
                self._understood(f"without {' or '.join(each.replace('_', ' ') for each in families)}")
            elif key := next(keys, ""):
                self.wish = replace(self.wish, without=self.wish.without | {key})
                self._understood(f"without {name}")

    def _holds(self, tree: Tree[Token]) -> None:
        """“with jojoba”, “at least 20 % of jojoba”, “2 % vitamin E”: an oil that must be in it, or what comes along."""
        key, part = self._asked.keys[0], next(iter(_numbers(tree)), None)
        if part is not None and not has(tree, "PERCENT"):
            self._refuse(f"say it in percent, as in “at least {part:g} % {token_of(tree, 'REST')}”")
            return
        if has(tree, "AT_MOST") or has(tree, "BELOW"):
            self._refuse("how much of one thing there is at most cannot be asked; how much at least can")
            return
        if key not in self.along:
            self.wish = replace(self.wish, must={**self.wish.must, key: (part or 0.0) / 100})
            self._understood(f"with {f'at least {part:g} % of ' if part else ''}{token_of(tree, 'REST')}")
            return
        percent = self.along[key].percent if part is None else part
        if not 0 < percent <= MOST_ALONG:
            self._refuse(f"{percent:g} % cannot come along; up to {MOST_ALONG:g} % can")
            return
        self.wish = replace(self.wish, along={**self.wish.along, key: percent})
        self._understood(f"with {percent:g} % of {self.along[key].name} along")


def _numbers(tree: Tree[Token]) -> list[float]:
    """The numbers in it, as they come."""
    said = (next(str(token) for token in number.scan_values(lambda _: True)) for number in _of(tree, "number"))
    return [float(WORDS.get(each, each.replace(",", "."))) for each in said]


def _of(tree: Tree[Token], rule: str) -> list[Tree[Token]]:
    """What a rule made in it, as it comes."""
    return list(tree.find_data(rule))


def _is_least(tree: Tree[Token]) -> bool:
    return has(tree, "ABOVE") or has(tree, "AT_LEAST")


def _word(said: str) -> str:
    """As it stands in the tables of words: without an article, with a blank for a hyphen."""
    return re.sub(r"^the ", "", said.replace("-", " ")).strip()
