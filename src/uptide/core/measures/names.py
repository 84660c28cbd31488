"""From the words a person uses to the ingredient they mean."""

from __future__ import annotations

import re
import unicodedata
from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import lru_cache

from rapidfuzz import process
from rapidfuzz.distance import OSA

# Words that say how a thing was made or sold, not which thing it is.
QUALIFIERS = frozenset(
    [
        "organic",
        "cold",
        "pressed",
        "coldpressed",
        "unrefined",
        "refined",
        "virgin",
        "extra",
        "pure",
        "raw",
        "natural",
        "fresh",
        "good",
        "quality",
        "filtered",
        "unfiltered",
        "deodorised",
        "deodorized",
        "expeller",
        "wild",
        "wildcrafted",
        "fair",
        "trade",
        "fairtrade",
        "certified",
        "food",
        "grade",
        "cosmetic",
        "liquid",
        "melted",
        "softened",
        "warm",
        "warmed",
        "gently",
        "chopped",
        "grated",
        "sieved",
        "old",
        "new",
        "my",
        "the",
        "some",
        "carrier",
        "base",
    ]
)
# Other words for the same. A kind is part of a name: rosehip CO2 is no rosehip oil, nor almond butter almond oil.
SAME_KIND = {"abs": "absolute", "hydrolat": "hydrosol", "camomile": "chamomile"}
KIND_WORDS = {
    "essential": frozenset({"essential_oil"}),
    "eo": frozenset({"essential_oil"}),
    "absolute": frozenset({"absolute"}),
    "co2": frozenset({"co2_extract", "antioxidant"}),
    "butter": frozenset({"butter"}),
    "hydrosol": frozenset({"water_phase"}),
}
SCENTS = frozenset({"essential_oil", "absolute", "co2_extract", "resinoid"})
POSSIBLE = 0.62  # likeness by insertions, deletions, changes and swapped neighbours, 0 to 1: worth asking about
OFFERED = 4


@dataclass(frozen=True, slots=True)
class NameMatch:
    """What a name may mean: one key when it is sure, some to ask about, none when nothing is near.

    `remark` tells the person how it was read, or why it is asked about. `is_taken_for_another` then: nothing on offer
    bears the name.
    """

    keys: tuple[str, ...]
    sure: bool = False
    remark: str = ""
    is_taken_for_another: bool = False

    def __bool__(self) -> bool:
        """Whether it may mean anything, or says why it does not."""
        return bool(self.keys or self.remark)


@lru_cache(maxsize=16384)
def normalise(name: str) -> str:
    """Lower case, without accents, brackets and punctuation; words parted by one space. All scripts keep their letters.

    >>> normalise("Sunflower oil (High-Oleic)"), normalise("Rørkål"), normalise("椿油")
    ('sunflower oil high oleic', 'rorkal', '椿油')
    """
    plain = name if name.isascii() else _without_accents(name)
    return " ".join(NO_LETTERS.sub(" ", plain.lower().replace("'", "")).split())


NO_LETTERS = re.compile(r"[\x00-/:-`{-\x7f]")  # of ASCII; beyond it, `_without_accents` has left letters alone
# Latin letters that are no letter with a mark, as people without that key write them.
WRITTEN_AS = str.maketrans(
    dict(
        zip("øØłŁđĐðıæÆœŒþ’", ("o", "o", "l", "l", "d", "d", "d", "i", "ae", "ae", "oe", "oe", "th", "'"), strict=True)
    )
)


def _without_accents(name: str) -> str:
    """Letters, figures and the vowel signs that belong to them; of Latin, Greek and Cyrillic without their accents."""
    apart = unicodedata.normalize("NFKD", name.translate(WRITTEN_AS).casefold())
    kept = (" " if unicodedata.category(c)[0] not in "LMN" and c != "'" else c for c in apart if not _is_accent(c))
    return unicodedata.normalize("NFC", "".join(kept))


def _is_accent(character: str) -> bool:
    return "\u0300" <= character <= "\u036f"


UNSAID = frozenset({"oil", "essential", "eo"})  # words of a name that tell nothing apart


def stems(name: str) -> tuple[str, ...]:
    """The words of a name in the singular, without those that tell nothing apart: how allergies are matched.

    >>> stems("Almonds"), stems("Hazelnut oils")
    (('almond',), ('hazelnut',))
    """
    words = [_singular(word) for word in normalise(name).split()]
    return tuple(word for word in words if word not in UNSAID) or tuple(words)


def _singular(word: str) -> str:
    """A word without the ending of a plural; both sides of a match lose it, so that no grammar is needed."""
    if len(word) < 4 or not word.endswith("s"):
        return word
    return (
        f"{word[:-3]}y" if word.endswith("ies") else word[:-2] if word.endswith(("ches", "shes")) else word.rstrip("s")
    )


@lru_cache(maxsize=16384)
def essence(name: str) -> str:
    """The words that tell one thing from another: normalised, in the singular, without `oil` and qualifiers.

    >>> essence("organic Sweet Almonds oil"), essence("rose abs")
    ('sweet almond', 'rose absolute')
    """
    words = [_singular(SAME_KIND.get(word, word)) for word in normalise(name).split()]
    kept = [word for word in words if word not in QUALIFIERS and word not in UNSAID]
    return " ".join(kept or words)


@lru_cache(maxsize=16384)
def _in_order(name: str) -> str:
    """The same words in one order: “high oleic sunflower” is “sunflower, high oleic”."""
    return " ".join(sorted(name.split()))


@dataclass(frozen=True, slots=True)
class _Tables:
    """Keys of ingredients by what they are called: as it is written, in short, and in short with its words in order."""

    exact: Mapping[str, list[str]]
    short: Mapping[str, list[str]]
    reordered: Mapping[str, list[str]]
    forms: list[str]  # of `short`


@lru_cache(maxsize=8)
def _tables(names: tuple[tuple[str, str], ...]) -> _Tables:
    """The names of a shelf, worked out once: they stay while its lots come and go with every pour."""
    exact: dict[str, list[str]] = defaultdict(list)
    short: dict[str, list[str]] = defaultdict(list)
    for key, name in names:
        for form, table in ((normalise(name), exact), (essence(name), short)):
            if form and key not in table[form]:
                table[form].append(key)
    reordered: dict[str, list[str]] = defaultdict(list)
    for form, bearers in short.items():
        reordered[_in_order(form)] += [key for key in bearers if key not in reordered[_in_order(form)]]
    return _Tables(dict(exact), dict(short), dict(reordered), list(short))


class NameIndex:
    """All names by which the ingredients are known.

    Args:
        names: (ingredient key, a name of it) pairs; one name may belong to several ingredients and is then asked about.
        kinds: kind of each ingredient by key, to tell essential oils from carriers.
        codes: (ingredient key, lot code) pairs, taken letter by letter: a slip would mean another lot.
        asked: what is asked about by name, because it is taken for another thing: keys to offer, and why.
    """

    def __init__(
        self,
        names: Iterable[tuple[str, str]],
        kinds: Mapping[str, str],
        codes: Iterable[tuple[str, str]] = (),
        asked: Mapping[str, tuple[tuple[str, ...], str]] | None = None,
    ) -> None:
        self._names = _tables(tuple(names))
        self._codes: dict[str, list[str]] = {}
        for key, code in codes:  # a code that is also a name stays a name
            if normalise(code) not in self._names.exact and normalise(code) not in self._names.short:
                self._codes.setdefault(normalise(code), [key])
        self._asked = {essence(name): offer for name, offer in (asked or {}).items()}
        self._kinds = kinds
        self.match = lru_cache(maxsize=4096)(self._match)

    def __getstate__(self) -> dict[str, object]:
        """All but the answers remembered, which cannot be kept."""
        return {name: value for name, value in vars(self).items() if name != "match"}

    def __setstate__(self, state: dict[str, object]) -> None:
        vars(self).update(state)
        self.match = lru_cache(maxsize=4096)(self._match)

    def _match(self, name: str, *, in_drops: bool = False) -> NameMatch:
        """Find what a name means; `in_drops` tells a scent from a carrier of the same name, which is poured."""
        return self.exactly(name, in_drops=in_drops) or self._nearest(name)

    def exactly(self, name: str, *, in_drops: bool = False) -> NameMatch:
        """What bears a name, without looking for what is near it; false when nothing does."""
        words = normalise(name).split()
        exact = self._names.exact.get(" ".join(words)) or self._codes.get(" ".join(words))
        if exact is None and (offer := self._asked.get(essence(name))) is not None:
            return NameMatch(offer[0], remark=offer[1], is_taken_for_another=True)
        keys = (
            exact or self._names.short.get(essence(name)) or self._names.reordered.get(_in_order(essence(name))) or []
        )
        if keys:
            return self._narrow(tuple(keys), words, in_drops=in_drops)
        return NameMatch(())

    def _narrow(self, keys: tuple[str, ...], words: list[str], *, in_drops: bool) -> NameMatch:
        if len(keys) == 1:
            return NameMatch(keys, sure=True)
        for word in words:
            if word in KIND_WORDS:
                keys = tuple(key for key in keys if self._kinds[key] in KIND_WORDS[word]) or keys
        remark = ""
        scents = tuple(key for key in keys if self._kinds[key] in SCENTS)
        if in_drops and scents and len(scents) < len(keys):
            keys, remark = scents, "read as the scent, since it is counted in drops"
        return NameMatch(keys, sure=len(keys) == 1, remark=remark)

    def _nearest(self, name: str) -> NameMatch:
        """What is near a name that nothing bears: asked about, never taken, for it may be another substance."""
        wanted = essence(name)
        near = process.extract(
            wanted, self._names.forms, scorer=OSA.normalized_similarity, score_cutoff=POSSIBLE, limit=8
        )
        within = self._named_within(wanted)
        offered = dict.fromkeys([*within, *(key for form, _, _ in near for key in self._names.short[form])])
        return NameMatch(tuple(offered)[:OFFERED])

    def _named_within(self, wanted: str) -> list[str]:
        """Ingredients whose name stands inside a longer one, longest name first: “lavender from the market”."""
        padded = f" {wanted} "
        found = [form for form in self._names.forms if len(form) > 3 and f" {form} " in padded]
        return [key for form in sorted(found, key=len, reverse=True)[:3] for key in self._names.short[form]]
