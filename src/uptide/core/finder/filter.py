"""Filter the shelf by what is asked in words: “lighter than avocado, keeps longer, no nuts, linoleic over 50”.

Each clause between commas is one condition. What names no condition is looked for as a name; what cannot be read is
handed back with the reason. A figure that is unknown never passes a condition on it: those oils are listed apart.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from uptide.core.figures.oil_profile import FEELS, OilProfile
from uptide.core.finder.filter_words import (
    COMPARATIVES,
    FAMILIES,
    FEEL_WORDS,
    FIGURE_WORDS,
    FIGURES,
    KIND_WORDS,
    NUMBER,
    OVER,
    TRADITIONS,
    UNDER,
    UNIT,
    Figure,
)
from uptide.core.finder.substitutes import in_use
from uptide.core.lipids.nearest import displaced
from uptide.core.measures.names import NameIndex, normalise

Prices = Mapping[str, float]  # price of 100 g by ingredient key

OF_ANIMALS = frozenset({"beeswax", "lanolin", "honey", "milk"})
ANY_STATE = "solid or liquid"  # what takes the state of an example back
# How what is found is put in order by price: 1 from the cheapest up, -1 from the dearest down.
PRICE_WORDS = {"cheap": 1, "cheapest": 1, "inexpensive": 1, "affordable": 1, "dear": -1, "dearest": -1, "expensive": -1}
WORTH = 0.05  # of a figure: less is called the same
Whom = Callable[[str], tuple[str, Callable[[OilProfile], bool | None]] | None]
# Other ways to say the same, put right before a clause is read.
_CLAUSE, _END = r"(?P<before>^|[,;\n])\s*", r"\s*(?=$|[,;\n])"
_SKIN = r"(?:very\s+)?(?:oily|dry|combination|normal|mature|sensitive|acne[- ]prone)\s+skin"
SAID_OTHERWISE = (
    (re.compile(rf"\s+(?:that|which)\s+(?=keeps?\b|do|are\b)|\s+(?=for\s+{_SKIN})", re.IGNORECASE), ", "),
    (re.compile(rf"{_CLAUSE}(?P<skin>{_SKIN}){_END}", re.IGNORECASE), r"\g<before> for \g<skin>"),
    (
        re.compile(rf"{_CLAUSE}(?:an?\s+)?(?P<feel>light|dry|fast|medium|rich|heavy)\s+oils?{_END}", re.IGNORECASE),
        r"\g<before> \g<feel> feel, liquid",
    ),
    (re.compile(rf"{_CLAUSE}light\s+feel", re.IGNORECASE), r"\g<before> dry or fast feel"),
    (re.compile(rf"{_CLAUSE}(?:not|non)[- ](?:greasy|oily){_END}", re.IGNORECASE), r"\g<before> dry or fast feel"),
    (
        re.compile(rf"{_CLAUSE}(?:long(?:er)?[- ](?:shelf[- ]life|lasting)|keeps\s+long){_END}", re.IGNORECASE),
        r"\g<before> keeps at least 12 months",
    ),
    (re.compile(r"\bkeeps? (?=\d+ months?)", re.IGNORECASE), "keeps at least "),
    (
        re.compile(
            r"\b(?:does\s?n[o’']?t|does not|do not|don[’']t|won[’']t|will not)\s+clog(?:\s+(?:the\s+)?pores)?",
            re.IGNORECASE,
        ),
        "clog at most 1",
    ),
    (re.compile(r"\b(?:no (?:scent|smell|odour)|unscented|odourless|scentless)\b", re.IGNORECASE), "odour at most 0"),
    (re.compile(r"\bbetween (\d+(?:[.,]\d+)?) and (\d+)", re.IGNORECASE), r"\1 to \2"),
    (re.compile(r"\b(?:a|one) year\b", re.IGNORECASE), "12 months"),
    (re.compile(r"\b(\d+) years?\b", re.IGNORECASE), lambda found: f"{12 * int(found[1])} months"),
    (re.compile(r"\bnon[- ]?comedogenic\b|\bnot comedogenic\b", re.IGNORECASE), "clog at most 1"),
)


@dataclass(frozen=True, slots=True)
class FilterCondition:
    """One clause: as typed, as understood, and whether an oil passes it (None: its figure is unknown)."""

    typed: str
    words: str
    passes: Callable[[OilProfile], bool | None]


@dataclass(frozen=True, slots=True)
class Filter:
    """What was asked: conditions, words of names, the oil that others are held against, what was not read.

    `by_price` puts the cheapest on top, or the dearest where it is negative; 0 where nothing was said of it.
    """

    conditions: tuple[FilterCondition, ...] = ()
    names: tuple[str, ...] = ()
    example: str = ""
    likeness: str = ""
    not_read: tuple[tuple[str, str], ...] = ()
    by_price: int = 0

    @property
    def is_empty(self) -> bool:
        """Nothing was asked."""
        return not (self.conditions or self.names or self.likeness)


@dataclass(frozen=True, slots=True)
class Filtered:
    """The oils that pass, and those of which something that was asked is unknown."""

    oils: tuple[OilProfile, ...]
    unknown: tuple[OilProfile, ...]


def read_filter(
    text: str,
    portraits: Mapping[str, OilProfile],
    names: NameIndex,
    on_hand: frozenset[str] = frozenset(),
    prices: Prices | None = None,
    whom: Whom | None = None,
) -> Filter:
    """Read what is asked of the shelf; never raises.

    `whom` reads somebody (“Ines”, “oily skin”, “pregnancy”) and gives words and what passes for them; None if nobody.
    """
    reader = _Reader(portraits, names, on_hand, prices or {}, whom)
    for otherwise, plainly in SAID_OTHERWISE:
        text = otherwise.sub(plainly, text)
    clauses = [c.strip() for c in re.split(r"[,;\n]|\band\b(?=\s)", text) if c.strip()]
    reader.find_example(clauses)
    for clause in clauses:
        reader.take(clause)
    reader.keep_to_the_state_of_the_example()
    return Filter(
        tuple(reader.conditions),
        tuple(reader.name_words),
        example=reader.example,
        likeness=reader.likeness,
        not_read=tuple(reader.not_read),
        by_price=reader.by_price,
    )


def apply_filter(filter_: Filter, portraits: Mapping[str, OilProfile], names: NameIndex) -> Filtered:
    """Keep the oils that pass everything, in the order given; where one was named, the nearest to it on top.

    Of “like …” that is the nearest by its fatty acids, of “lighter than …” the nearest in use.
    """
    passed: list[OilProfile] = []
    unknown: list[OilProfile] = []
    for found in portraits.values():
        if filter_.names and not all(_is_called(found, word, names) for word in filter_.names):
            continue
        answers = [condition.passes(found) for condition in filter_.conditions]
        if all(answers):
            passed.append(found)
        elif False not in answers:
            unknown.append(found)
    if filter_.likeness:
        own = portraits[filter_.likeness].shares
        passed = sorted((p for p in passed if p.acids), key=lambda p: displaced(own, p.shares))
    elif filter_.example:
        example = portraits[filter_.example]
        apart = {p.key: in_use(example, p) for p in passed}
        passed.sort(key=lambda p: (apart[p.key] is None, apart[p.key] or 0.0))
    return Filtered(tuple(passed), tuple(unknown))


def _is_called(found: OilProfile, words: str, names: NameIndex) -> bool:
    return any(_has_name(found, word, names) for word in re.split(r"\s+or\s+|/", words) if word.strip())


def _has_name(found: OilProfile, word: str, names: NameIndex) -> bool:
    if found.item.base_key in names.match(word).keys or found.key in names.match(word).keys:
        return True
    item = found.item
    held = normalise(f"{item.name} {item.inci} {item.botanical_name}")
    return all(part in held for part in normalise(word).split())


class _Reader:
    def __init__(
        self,
        portraits: Mapping[str, OilProfile],
        names: NameIndex,
        on_hand: frozenset[str],
        prices: Prices,
        whom: Whom | None,
    ) -> None:
        self.whom = whom
        self.portraits, self.index, self.on_hand, self.prices = portraits, names, on_hand, prices
        self.conditions: list[FilterCondition] = []
        self.name_words: list[str] = []
        self.not_read: list[tuple[str, str]] = []
        self.by_price = 0
        self.says_state = False
        self.example = self.likeness = ""
        self.example_problem = ""

    def find_example(self, clauses: list[str]) -> None:
        """The oil that “lighter than …” or “like …” names; the first one counts for all clauses that name none."""
        for clause in clauses:
            named = re.search(r"\b(?:than|like|as)\s+(.+)$", clause, re.IGNORECASE)
            if named and not re.match(rf"^{NUMBER}", named[1]):
                key, self.example_problem = self._oil(named[1])
                self.example = self.example or key

    def _oil(self, name: str) -> tuple[str, str]:
        match = self.index.match(name)
        if match.sure and match.keys[0] in self.portraits:
            return match.keys[0], ""
        keys = [key for key in match.keys if key in self.portraits]
        if len(keys) > 1:
            return "", f"“{name}” is one of several: {' or '.join(self.portraits[key].item.name for key in keys)}"
        return (keys[0], "") if keys else ("", f"there is no oil called “{name}” on the shelf")

    def take(self, clause: str) -> None:
        said = re.sub(r"[^a-z0-9<>=≥≤%.,\- ]+", " ", clause.lower()).replace("-", " ").strip()
        said = re.sub(r"\s+", " ", said)
        for reader in (
            self._kept,
            self._priced,
            self._vegan,
            self._traditional,
            self._somebody,
            self._family,
            self._likeness,
            self._comparative,
            self._figure,
            self._feel,
            self._kind,
        ):
            if reader(clause, said):
                return
        self.name_words.append(clause)

    def _add(self, typed: str, words: str, passes: Callable[[OilProfile], bool | None]) -> bool:
        self.conditions.append(FilterCondition(typed, words, passes))
        return True

    def _kept(self, typed: str, said: str) -> bool:
        if said not in ("on hand", "mine", "on my shelf", "in stock", "have"):
            return False
        return self._add(typed, "on hand", lambda p: p.key in self.on_hand)

    def _priced(self, typed: str, said: str) -> bool:
        """“cheap” says nothing of how cheap: what has a price on the shelf is put in order, and the rest follows."""
        order = PRICE_WORDS.get(said.removeprefix("the ").removesuffix(" first"))
        if order is None:
            return False
        self.by_price = order
        return self._add(typed, f"the {'cheapest' if order > 0 else 'dearest'} first", lambda _: True)

    def _traditional(self, typed: str, said: str) -> bool:
        """“warming”, “for winter”: by tradition, which is no measurement and is said to be none."""
        asked = re.match(rf"^(?:(?:good |chosen )?(?:for|in) (?:the )?)?({'|'.join(TRADITIONS)})(?: oils?)?$", said)
        if asked is None:
            return False
        wanted = TRADITIONS[asked[1]]

        def passes(p: OilProfile) -> bool:
            held = p.item.tradition
            return held is not None and (wanted == held.temper or wanted in held.seasons)

        return self._add(typed, f"{wanted} by tradition, nothing measured", passes)

    def keep_to_the_state_of_the_example(self) -> None:
        """What is lighter than a liquid is no butter, unless it was asked for."""
        if not self.example or self.says_state:
            return
        example = self.portraits[self.example].item
        words = f"{'solid' if example.is_solid else 'liquid'} in the room, as {example.name} is"
        self._add("", words, lambda p: p.item.is_solid is example.is_solid)

    def _vegan(self, typed: str, said: str) -> bool:
        if said not in ("vegan", "plant based", "no animal", "nothing animal"):
            return False
        return self._add(typed, "nothing of animals", lambda p: p.item.base_key not in OF_ANIMALS)

    def _somebody(self, typed: str, said: str) -> bool:
        """“for Ines”, “suits oily skin”, “with a nut allergy”."""
        found = re.match(
            r"^(?:(?:good |ok |right )?for|suits?|suitable for|with|in|during|on|when)\s+(.+)$", typed, re.IGNORECASE
        )
        if found is None or self.whom is None:
            return False
        meant = self.whom(found[1])
        if meant is None and re.match(r"(?:for|suits?)\b", said):
            self.not_read.append((typed, f"“{found[1]}” is nobody known here; say a name, “oily skin”, “pregnancy”"))
            return True
        return meant is not None and self._add(typed, *meant)

    def _family(self, typed: str, said: str) -> bool:
        found = re.match(r"^(?:no|without|not|free of|free from)\s+(.+)$", said) or re.match(r"^(.+?)\s*free$", said)
        if found is None:
            return False
        wanted = [FAMILIES.get(word.strip()) for word in re.split(r"\bor\b|/|\bnor\b", found[1])]
        if None in wanted:
            known = ", ".join(dict.fromkeys(name.replace("_", " ") for group in FAMILIES.values() for name in group))
            self.not_read.append((typed, f"“{found[1]}” is no allergen family that is known; known are {known}"))
            return True
        families = frozenset(family for group in wanted if group for family in group)
        words = "without " + ", ".join(sorted(family.replace("_", " ") for family in families))
        return self._add(typed, words, lambda p: None if p.allergens is None else not p.allergens & families)

    def _likeness(self, typed: str, said: str) -> bool:
        if not re.match(r"^(?:most )?(?:like|similar to|near|near to)\s+\S", said):
            return False
        name = re.sub(r"^(?:most )?(?:like|similar to|near to|near)\s+", "", typed.strip(), flags=re.IGNORECASE)
        key, problem = self._oil(name)
        if not key:
            self.not_read.append((typed, problem))
            return True
        self.likeness = key
        self.example = self.example or key
        title = self.portraits[key].item.name
        return self._add(typed, f"like {title}, the most alike first", lambda p: p.key != key)

    def _comparative(self, typed: str, said: str) -> bool:
        found = re.match(r"^(?:it |which |that )?(?:is |are |has )?(.+?)(?:\s+than\s+(.+))?$", said)
        meant = COMPARATIVES.get(found[1].strip()) if found else None
        if found is None or meant is None:
            return False
        key, problem = self.example, self.example_problem
        if found[2]:
            key, problem = self._oil(re.split(r"\bthan\b", typed, flags=re.IGNORECASE)[-1].strip())
        if not key:
            why = problem or f"{found[1]} than which oil? Say it as in “{found[1]} than avocado”"
            self.not_read.append((typed, why))
            return True
        name, more = meant
        figure = self._figure_named(name)
        against = figure(self.portraits[key])
        title = self.portraits[key].item.name
        if against is None:
            self.not_read.append((typed, f"nothing is known of the {name} of {title}"))
            return True

        def passes(p: OilProfile) -> bool | None:
            value = figure(p)
            if p.key == key:
                return False
            edge = 0.0 if name in ("feel", "clog", "colour", "odour") else WORTH * abs(against)
            return None if value is None else value > against + edge if more else value < against - edge

        return self._add(typed, f"{found[1].strip()} than {title}", passes)

    def _figure_named(self, name: str) -> Figure:
        if name == "price":
            return lambda p: self.prices.get(p.key)
        return FIGURES[name][2]

    def _figure(self, typed: str, said: str) -> bool:
        plain = said.replace("≥", ">=").replace("≤", "<=")
        names = "|".join(sorted(map(re.escape, FIGURE_WORDS), key=len, reverse=True))
        first = re.match(
            rf"^(?P<name>{names})\s*(?:is )?(?P<op>{OVER}|{UNDER})?\s*{NUMBER}(?:\s*(?:to|–| )\s*{NUMBER})?{UNIT}$",
            plain,
        )
        last = re.match(
            rf"^(?P<op>{OVER}|{UNDER})?\s*{NUMBER}(?:\s*(?:to|–)\s*{NUMBER})?{UNIT}\s*(?P<name>{names})?$", plain
        )
        found = first or last
        if plain == "price":
            self.not_read.append((typed, "say how much, as in “price under 2”, or “cheap” for the cheapest first"))
            return True
        if found is None:
            return False
        name = FIGURE_WORDS.get(found["name"] or "", "keeps" if "month" in plain else "")
        if not name:
            return False
        numbers = [float(text.replace(",", ".")) for text in re.findall(NUMBER, plain.replace(found["name"] or "", ""))]
        title, unit = ("price of 100 g", "") if name == "price" else FIGURES[name][:2]
        figure = self._figure_named(name)
        op = found["op"] or ""
        if len(numbers) > 1 and not op:
            low, high = sorted(numbers[:2])
            return self._add(
                typed, f"{title} {low:g} to {high:g} {unit}".strip(), lambda p: _between(figure(p), low, high)
            )
        value = numbers[0]
        if op and re.fullmatch(UNDER, op):
            strict = op in ("under", "below", "less than", "<")
            words = f"{title} {'under' if strict else 'at most'} {value:g} {unit}"
            return self._add(typed, words.strip(), lambda p: _under(figure(p), value, strict=strict))
        strict = op in ("over", "above", "more than", ">")
        words = f"{title} {'over' if strict else 'at least'} {value:g} {unit}"
        return self._add(typed, words.strip(), lambda p: _over(figure(p), value, strict=strict))

    def _feel(self, typed: str, said: str) -> bool:
        words = [
            w for w in re.split(r"\bor\b|/", re.sub(r"\b(?:feel|feels|feeling|skin feel)\b", "", said)) if w.strip()
        ]
        if not words or any(w.strip() not in FEEL_WORDS for w in words):
            return False
        ranks = frozenset(rank for w in words for rank in FEEL_WORDS[w.strip()])
        title = "feels " + " or ".join(FEELS[rank] for rank in sorted(ranks))
        return self._add(typed, title, lambda p: None if p.feel is None else p.feel in ranks)

    def _kind(self, typed: str, said: str) -> bool:
        if said in (ANY_STATE, "liquid or solid"):
            self.says_state = True
            return self._add(typed, ANY_STATE, lambda _: True)
        if said in ("solid", "hard", "liquid", "pourable"):
            self.says_state = True
            solid = said in ("solid", "hard")
            return self._add(typed, f"{'solid' if solid else 'liquid'} in the room", lambda p: p.item.is_solid is solid)
        kind = KIND_WORDS.get(said)
        if kind is None:
            return False
        self.says_state = True
        return self._add(typed, f"only what is a {kind.replace('_', ' ')}", lambda p: p.item.kind == kind)


def _between(value: float | None, low: float, high: float) -> bool | None:
    return None if value is None else low <= value <= high


def _under(value: float | None, limit: float, *, strict: bool) -> bool | None:
    return None if value is None else value < limit or (not strict and value == limit)


def _over(value: float | None, limit: float, *, strict: bool) -> bool | None:
    return None if value is None else value > limit or (not strict and value == limit)
