"""A wish read clause by clause: each becomes a limit with a plain line of its own, or is said not to be understood."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Mapping
from dataclasses import replace
from types import MappingProxyType
from typing import NamedTuple

from uptide.core.finder.filter_words import (
    A_YEAR,
    COMPARATIVES,
    FAMILIES,
    FIGURE_WORDS,
    HIGH,
    LOW,
    NEVER_CLOGS,
    NUMBER,
    OVER,
    RARELY_CLOGS,
    UNDER,
)
from uptide.core.finder.known import OF_ANIMALS
from uptide.core.finder.search.wish import Limit, Objective, Wish
from uptide.core.finder.search.wish_clauses import FRESH
from uptide.core.measures.names import NameIndex
from uptide.core.oxidation.surroundings import PLACES, Glass, Storage
from uptide.core.physics.bottle import LARGEST, SMALLEST
from uptide.core.skin.wearer import SKINS

# Figures that the shelf has no words for are called as they are.
OF_BLENDS = ("feel", "tint", "saponification", "carries", "balance", "monounsaturated", "polyunsaturated")
MORE_FIGURES = {each: each for each in (*OF_BLENDS, "clog by mass", "across the chart", "up the chart")}
FIGURES_OF = MORE_FIGURES | {
    "clog by mass": "clog_by_mass",
    "across the chart": "across",
    "up the chart": "upward",
    "linoleic": "linoleic",
    "oleic": "oleic",
    "saturated": "saturated",
    "omega 3": "omega_3",
    "iodine": "iodine",
    "clog": "clog",
    "thickness": "thickness",
    "viscosity": "viscosity",
    "price": "cost",
}
LIGHT = 2.4  # of 4 at most
FEELS = {"light": LIGHT, "lightweight": LIGHT, "dry": 1.5, "fast": LIGHT, "medium": 3.4}
FEELS |= dict.fromkeys(("fast absorbing", "quickly absorbed", "not greasy", "non greasy"), LIGHT)
ON_HAND = ("on hand", "mine", "from my shelf", "on my shelf", "in stock", "from what i have", "using what i have")
# What “more than that oil” is at the least: a felt step, of a thickness a part of it, a point of an acid.
A_STEP = {"feel": 0.4, "thickness": 0.1, "clog": 1.0, "linoleic": 1.0, "oleic": 1.0, "saturated": 1.0, "omega 3": 1.0}
RICH = 3.2  # of 4 at least
WORDS = {"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6}
COUNT = rf"(\d|{'|'.join(WORDS)})"
TO = r"\s?(?:to|and|-|–)\s?"  # of a range
OR = re.compile(r" n?or |/")
MONTHS = WORDS | {"nine": 9, "twelve": 12, "eighteen": 18}
SPAN = rf"(?:(?:{NUMBER}|({'|'.join(MONTHS)})) ?(months?|years?)|(half )?an? (year|month))"
CURRENCIES = {"GBP": r"£|pounds?|gbp|quid", "EUR": r"€|euros?|eur", "USD": r"\$|dollars?|usd"}
MONEY = rf"(?:{'|'.join(CURRENCIES.values())})"
FRIDGE, ROOM = 4.0, 22.0  # °C
MAY_SET = re.compile(r"(?:it )?(?:may|can) (?:set|cloud|be (?:cloudy|solid|soft|hard))|solid|(?:a )?(?:balm|butter)")
NOTHING_ALONG: Mapping[str, Along] = MappingProxyType({})
MOST_OILS = 6
MOST_ALONG = 20.0  # percent of one thing that is no oil; policy
LOTS = re.compile(r"(?:(?:holds )?(?:for|in) )?(?:nine|9) lots (?:in|of|out of) (?:ten|10)")
NINE_IN_TEN = 0.9  # of the lots
VEGAN = re.compile(r"(?:is )?(?:vegan|plant[- ]based)|(?:no|nothing of|without) animals?(?: products?)?")
HINT = "say it as in “linoleic over 50”, “with jojoba”, “no nuts”, “keeps 6 months”"
SIZES = {"ml": 1.0, "fl oz": 29.57, "oz": 29.57, "l": 1000.0}
OBJECTIVES = {
    "steadiest": Objective.STEADIEST,
    "safest": Objective.STEADIEST,
    "keeps longest": Objective.LONGEST,
    "longest": Objective.LONGEST,
    "longest keeping": Objective.LONGEST,
    "cheapest": Objective.CHEAPEST,
    "cheap": Objective.CHEAPEST,
    "costs least": Objective.CHEAPEST,
    "lightest": Objective.LIGHTEST,
    "fewest oils": Objective.FEWEST,
    "as few oils as can be": Objective.FEWEST,
    "use up what turns first": Objective.USES_UP,
    "uses up what turns first": Objective.USES_UP,
    "use up first": Objective.USES_UP,
}


class Along(NamedTuple):
    """What can come along: its name, and the percent by mass that is taken where nobody says one."""

    name: str
    percent: float


class WishReader:
    """Reads the clauses of one wish, one after the other."""

    def __init__(
        self,
        names: NameIndex,
        products: Mapping[str, str],
        people: Collection[str],
        along: Mapping[str, Along],
        figure_of: Callable[[str, str], float | None],
    ) -> None:
        self.along, self.figure_of = along, figure_of
        self.names = names
        self.people = {name.casefold(): name for name in people}
        self.whom = ""
        self.products = {name.lower(): key for name, key in products.items()}
        self.wish, self.product = Wish(), ""
        self.objective: Objective | None = None
        self.may_set = False
        self.leads = self.follows = ""  # “with” and “no” go for what is named after them too
        self.limits: list[Limit] = []
        self.lines: list[tuple[str, str]] = []
        self.clause = ""
        self.not_read: list[tuple[str, str]] = []

    def take(self, clause: str) -> None:
        """Read one clause; a size, a product and a skin may stand in one."""
        self.clause = clause
        self.follows, self.leads = self.leads, ""
        said = re.sub(r"\s+", " ", clause.lower()).strip().replace("omega-", "omega ")
        said = self._size(said)
        said = self._product(said)
        said = self._skin(said)
        if not said:
            return
        readers = (
            *(self._kept, self._best, self._count, self._keeps, self._set, self._clear, self._money, self._figure),
            *(self._much, self._solid, self._for, self._lots, self._comparative, self._acids, self._inert, self._feel),
            *(self._vegan, self._without, self._with, self._also),
        )
        if not any(reader(said, clause) for reader in readers):
            self.not_read.append((clause, HINT))

    def _understood(self, words: str) -> None:
        self.lines.append((words, self.clause))

    def _size(self, said: str) -> str:
        found = re.search(rf"\b{NUMBER}\s*(ml|fl oz|oz|l)\b", said)
        if found is None:
            return said
        millilitres = float(found[1].replace(",", ".")) * SIZES[found[2]]
        if not SMALLEST <= millilitres <= LARGEST:
            why = f"a bottle of {millilitres:g} mL cannot be filled; {SMALLEST:g} to {LARGEST:,.0f} mL can"
            self.not_read.append((self.clause, why))
            return _without(said, found)
        self.wish = replace(self.wish, millilitres=millilitres)
        self._understood(f"a bottle of {self.wish.millilitres:g} mL")
        return _without(said, found)

    def _product(self, said: str) -> str:
        for name in sorted(self.products, key=len, reverse=True):
            found = re.search(rf"\b(?:an? )?{re.escape(name)}\b", said)
            if found is not None:
                self.product = self.products[name]
                self._understood(name)
                return _without(said, found)
        return said

    def _skin(self, said: str) -> str:
        found = re.search(rf"\b(?:for |suits )?({'|'.join(SKINS)}) skin\b", said)
        if found is None:
            return said
        self.wish = replace(self.wish, skin=found[1])
        self._understood(f"suits {found[1]} skin")
        return _without(said, found)

    def _for(self, said: str, clause: str) -> bool:
        name = said.removeprefix("for ").strip()
        if not said.startswith("for ") or name.casefold() not in self.people:
            return False
        self.whom = self.people[name.casefold()]
        self._understood(f"for {self.whom}")
        return True

    def _comparative(self, said: str, clause: str) -> bool:
        """“lighter than avocado”, as the shelf is asked: by a step that is felt."""
        found = re.fullmatch(rf"({'|'.join(sorted(COMPARATIVES, key=len, reverse=True))}) than (.+)", said)
        figure, is_more = COMPARATIVES[found[1]] if found else ("", False)
        if found is None or figure not in A_STEP:
            return False
        key = self._oil(found[2], clause)
        value = self.figure_of(key, figure) if key else None
        if key and value is None:
            self.not_read.append((clause, f"nobody knows how {found[1]} than “{found[2]}” would be"))
        if value is not None:
            bound = value + (A_STEP[figure] if is_more else -A_STEP[figure])
            if figure == "thickness":
                bound = value * (1 + A_STEP[figure] if is_more else 1 - A_STEP[figure])
            self._add(FIGURES_OF[figure], f"{max(0.0, bound):.3g}", clause, at_least=is_more)
        return True

    def _lots(self, said: str, clause: str) -> bool:
        if LOTS.fullmatch(said) is None:
            return False
        self.wish = replace(self.wish, lots=NINE_IN_TEN)
        self._understood("limits on acids hold for nine lots in ten")
        return True

    def _kept(self, said: str, clause: str) -> bool:
        if said in (FRESH, "fresh bottles", "from fresh bottles", "bought fresh"):
            self.wish = replace(self.wish, fresh=True)
            self._understood("from fresh bottles, whatever the dates on the shelf are")
            return True
        if said not in ON_HAND:
            return False
        self.wish = replace(self.wish, on_hand=True)
        self._understood("from what stands on the shelf")
        return True

    def _best(self, said: str, clause: str) -> bool:
        if said.removeprefix("the ") not in OBJECTIVES:
            return False
        self.objective = OBJECTIVES[said.removeprefix("the ")]
        if self.objective is Objective.USES_UP:  # which is what stands there
            self.wish = replace(self.wish, on_hand=True)
            self._understood("from what stands on the shelf")
        self._understood(f"only the one that is best at this: {self.objective.value}")
        return True

    def _count(self, said: str, clause: str) -> bool:
        found = re.fullmatch(
            rf"(at most |up to |no more than |max(?:imum)? |at least )?(?:(?:between )?{COUNT}(?:{TO}| or ))?{COUNT} "
            r"(?:different )?oils?",
            said,
        )
        if found is None:
            return False
        first, count = (int(WORDS.get(each, each)) for each in (found[2] or found[3], found[3]))
        outside = next((each for each in (first, count) if not 1 <= each <= MOST_OILS), None)
        if outside is not None:
            self.not_read.append((clause, f"{outside} oils cannot be looked for; 1 to {MOST_OILS} can"))
        elif found[2]:
            self.wish = replace(self.wish, fewest=min(first, count), most=max(first, count))
            self._understood(f"{self.wish.fewest} to {self.wish.most} oils")
        elif (found[1] or "").startswith("at least"):
            self.wish = replace(self.wish, fewest=count, most=max(count, self.wish.most))
            self._understood(f"at least {count} oils")
        else:
            exact = count if not found[1] else self.wish.fewest
            self.wish = replace(self.wish, most=count, fewest=min(exact, count))
            self._understood(f"{'at most ' if found[1] else ''}{count} oil{'s' if count > 1 else ''}")
        return True

    def _keeps(self, said: str, clause: str) -> bool:
        places = "|".join(map(re.escape, PLACES))
        found = re.fullmatch(
            rf"(?:that )?(?:(?:keeps?|lasts?|shelf life(?: of)?) )?(?:for )?(?:at least |over )?{SPAN}"
            rf"(?: (?:in|on) (?:a |the )?({places}))?",
            said,
        )
        if found is None:
            return False
        number, word, unit, half, alone, place = found.groups()
        months = A_YEAR if (unit or alone).startswith("year") else 1.0
        span = (_number(number) if number else MONTHS.get(word, 1)) * months
        if place:
            celsius, swing, light = PLACES[place]
            self.wish = replace(self.wish, storage=Storage(place, celsius, swing=swing, light=light, glass=Glass.AMBER))
        self._understood(f"stands in a {self.wish.storage.place}, in amber glass, in use")
        return self._add("keeps", f"{span / 2 if half else span:g}", clause, at_least=True)

    def _set(self, said: str, clause: str) -> bool:
        if MAY_SET.fullmatch(said) is None:
            return False
        self.may_set = True
        self._understood("it may set")
        return True

    def _clear(self, said: str, clause: str) -> bool:
        found = re.fullmatch(rf"(?:stays? )?clear (?:at {NUMBER} ?(?:°c?|degrees?|c)?|in the fridge)", said)
        if found is None:
            return False
        return self._add("clear", found[1] or f"{FRIDGE:g}", clause, at_least=True)

    def _solid(self, said: str, clause: str) -> bool:
        found = re.fullmatch(
            rf"solid(?: fat)? (?:({OVER})|({UNDER})) ?{NUMBER} ?%?(?: at {NUMBER} ?(?:°c?|degrees?|c)?)?", said
        )
        if found is None:
            return False
        celsius = float((found[4] or f"{ROOM:g}").replace(",", "."))
        return self._add("solid", found[3], clause, at_least=bool(found[1]), celsius=celsius)

    def _money(self, said: str, clause: str) -> bool:
        found = re.fullmatch(
            rf"(?:costs? )?(?:(?:{UNDER}) ({MONEY})?\s?{NUMBER}\s?({MONEY})?"
            rf"|({MONEY})?\s?{NUMBER}\s?({MONEY})? (?:at most|at the most|or less|or under))",
            said,
        )
        if found is None:
            return False
        named = found[1] or found[3] or found[4] or found[6] or ""
        if not named and not said.startswith("cost"):
            return False
        currency = next((code for code, words in CURRENCIES.items() if re.fullmatch(words, named)), "")
        return self._add("cost", found[2] or found[5], clause, at_least=False, currency=currency)

    def _figure(self, said: str, clause: str) -> bool:
        named = {**FIGURE_WORDS, **MORE_FIGURES}  # of a blend the tint on skin, of an oil its strength
        words = f"(?:the )?(?P<figure>{'|'.join(sorted(map(re.escape, named), key=len, reverse=True))})"
        unit = r"\s?(?:%|percent|mpa.?s|of \d)?"
        bound = rf"(?:(?P<over>{OVER})|{UNDER}) ?(?P<bound>{NUMBER}){unit}"
        both = rf"(?:between )?(?P<one>{NUMBER}){unit}{TO}(?P<other>{NUMBER}){unit}"
        found = re.fullmatch(rf"{words} (?:is )?(?:{bound}|{both})", said) or re.fullmatch(
            rf"(?:{bound}|{both}) (?:of )?{words}", said
        )
        if found is None or named[found["figure"]] not in FIGURES_OF:
            return False
        figure = FIGURES_OF[named[found["figure"]]]
        if found["bound"]:
            return self._add(figure, found["bound"], clause, at_least=bool(found["over"]))
        low, high = sorted((found["one"], found["other"]), key=_number)
        return self._add(figure, low, clause, at_least=True) and self._add(figure, high, clause, at_least=False)

    def _much(self, said: str, clause: str) -> bool:
        """“high in linoleic”, “non-comedogenic”: from where on is said."""
        if re.fullmatch(NEVER_CLOGS, said):
            return self._add("clog", f"{RARELY_CLOGS:g}", clause, at_least=False)
        words = "|".join(sorted(map(re.escape, FIGURE_WORDS), key=len, reverse=True))
        found = re.fullmatch(rf"(high|rich|low|poor)(?: in)? ({words})", said)
        if found is None:
            return False
        figure, is_high = FIGURE_WORDS[found[2]], found[1] in ("high", "rich")
        bound = (HIGH if is_high else LOW).get(figure)
        if bound is None or figure not in FIGURES_OF:
            return False
        return self._add(FIGURES_OF[figure], f"{bound:g}", clause, at_least=is_high)

    def _inert(self, said: str, clause: str) -> bool:
        found = re.fullmatch(
            rf"(?:at most|under|up to) {NUMBER} ?% (?:inert|squalane and the like|that cannot oxidise)", said
        )
        return found is not None and self._add("inert", found[1], clause, at_least=False)

    def _acids(self, said: str, clause: str) -> bool:
        found = re.fullmatch(rf"(?:fatty )?acids (?:in it )?(?:({OVER})|({UNDER})) {NUMBER} ?(?:g/100 ?g|%)?", said)
        return found is not None and self._add("acids", found[3], clause, at_least=bool(found[1]))

    def _vegan(self, said: str, clause: str) -> bool:
        if VEGAN.fullmatch(said) is None:
            return False
        self.wish = replace(self.wish, without=self.wish.without | OF_ANIMALS)
        self._understood("nothing of animals")
        return True

    def _without(self, said: str, clause: str) -> bool:
        found = re.fullmatch(r"(?:no|with no|without|not|free of) (.+)", re.sub(r"^(.+?)[ -]free$", r"no \1", said))
        if found is None and not (self.follows == "no" and OR.search(said)):  # as in “no nuts, sesame or soy”
            return False
        self.leads = "no"
        for name in OR.split(found[1] if found else said):
            families = FAMILIES.get(name)
            if families is not None:
                self.wish = replace(self.wish, families=self.wish.families | frozenset(families))
                self._understood(f"without {' or '.join(each.replace('_', ' ') for each in families)}")
            elif key := self._oil(name, clause):
                self.wish = replace(self.wish, without=self.wish.without | {key})
                self._understood(f"without {name}")
        return True

    def _with(self, said: str, clause: str) -> bool:
        least, share = r"(?:at least |over )", rf"(?P<before>{NUMBER}) ?% (?:of )?"
        found = re.fullmatch(
            rf"(?:with|must hold|must have|holds|scented with) (?:{least}?{share})?(?P<what>.+?)"
            rf"(?: {least}?(?P<behind>{NUMBER}) ?%)?",
            said,
        ) or re.fullmatch(rf"{least}?{share}(?P<what>.+)(?P<behind>)", said)
        if found is None:
            return False
        self.leads = "with"
        key, part = self._oil(found["what"], clause), found["before"] or found["behind"]
        if key in self.along:
            percent = _number(part) if part else self.along[key].percent
            if not 0 < percent <= MOST_ALONG:
                self.not_read.append((clause, f"{percent:g} % cannot come along; up to {MOST_ALONG:g} % can"))
                return True
            self.wish = replace(self.wish, along={**self.wish.along, key: percent})
            self._understood(f"with {percent:g} % of {self.along[key].name} along")
        elif key:
            percent = _number(part or "0")
            self.wish = replace(self.wish, must={**self.wish.must, key: percent / 100})
            self._understood(f"with {f'at least {percent:g} % of ' if percent else ''}{found['what']}")
        return True

    def _also(self, said: str, clause: str) -> bool:
        """“with rosehip and jojoba”: what is named after an oil that must be in it must be in it too."""
        return self.follows == "with" and bool(self.names.exactly(said)) and self._with(f"with {said}", clause)

    def _feel(self, said: str, clause: str) -> bool:
        word = re.sub(r"^(?:an? |the )|(?: feel| oils?)$", "", said).replace("-", " ")
        if word in ("rich", "heavy"):
            return self._add("feel", str(RICH), clause, at_least=True)
        return word in FEELS and self._add("feel", str(FEELS[word]), clause, at_least=False)

    def _oil(self, name: str, clause: str) -> str:
        match = self.names.match(name)
        if match.sure or (match.keys and self.along.keys() >= set(match.keys)):  # of scents the first, and it is said
            return match.keys[0]
        self.not_read.append(
            (clause, f"“{name}” is {'one of several' if match.keys else 'no oil that is known'}: say which")
        )
        return ""

    def _add(
        self, figure: str, number: str, clause: str, *, at_least: bool, currency: str = "", celsius: float = 0.0
    ) -> bool:
        self.limits.append(
            Limit(
                figure,
                at_least,
                bound=float(number.replace(",", ".")),
                typed=clause,
                currency=currency,
                celsius=celsius,
            )
        )
        return True


def _number(said: str) -> float:
    return float(said.replace(",", "."))


def _without(said: str, found: re.Match[str]) -> str:
    rest = f"{said[: found.start()]} {said[found.end() :]}"
    return re.sub(r"\s+", " ", re.sub(r"\b(?:a|an|of|for)\s*$", "", rest.strip())).strip()
