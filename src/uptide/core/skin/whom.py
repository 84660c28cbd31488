"""Whom somebody means when they ask in a few words: “Ines”, “oily skin”, “pregnancy”, “a nut allergy”, “a baby”."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import date, timedelta

from uptide.core.months import DAYS_A_MONTH
from uptide.core.skin.wearer import ALLERGIES, CONDITIONS, HEALTH, MEDICINES, OLDEST, SKINS, USES, Ticks, Wearer

LONGEST_WHOM = 80  # characters
# Whom one makes for most, without a card for each.
WITHOUT_CARD = (
    "a newborn",
    "a baby of 6 months",
    "a child of 3",
    "a child of 10",
    "someone pregnant",
    "someone breastfeeding",
    "sensitive skin",
    "someone with eczema",
    "a nut allergy",
    "someone with asthma",
    "someone with epilepsy",
    "someone on blood thinners",
)
BABY, NEWBORN, TODDLER, CHILD = 6.0, 1.0, 24.0, 72.0  # months, for who gives no age
AGES = {
    "newborn": NEWBORN,
    "new-born": NEWBORN,
    "baby": BABY,
    "babies": BABY,
    "infant": BABY,
    "toddler": TODDLER,
    "child": CHILD,
    "kid": CHILD,
}
SOMEBODY = (
    r"(?:young |little |small )?"
    r"(?:child|kid|baby|infant|toddler|girl|boy|daughter|son|grand(?:child|daughter|son)|niece|nephew|somebody|someone|person|woman|man)"
)
# “3 year old”, “3yo”, “6-month-old baby”, “child of 4”, “somebody aged 6 months”, “aged 3”.
AGE = re.compile(
    rf"^(?P<old>\d+)[ -]?(?P<unit>w(?:k|ks|eek|eeks)?|m(?:o|onth|onths)?|y(?:r|rs|ear|ears)?|yo|y/o)(?:[ -]?old)?"
    rf"(?: {SOMEBODY})?$"
    rf"|^(?:{SOMEBODY} )?(?:of|aged|age) (?P<aged>\d+)(?: (?P<of>week|month|year)s?(?: old)?)?$"
    rf"|^{SOMEBODY},? (?P<so>\d+)(?: (?P<many>week|month|year)s?(?: old)?)?$"
)
MONTHS_OF = {"w": 7 / DAYS_A_MONTH, "m": 1.0, "y": 12.0}
IN_MONTHS = re.compile(r"\b(?:baby|infant)\b")
A_MOTHER = r"(?: (?:wom[ae]n|mothers?|mums?|person|people|ladies|lady|friend|wife|daughter|sister))?"
PREGNANT = re.compile(
    rf"(?:\d+ (?:months?|weeks?) )?(?:pregnant|expecting|expectant){A_MOTHER}|(?:early |late )?pregnancy"
    r"|(?:\w+ ){0,2}who (?:is|are) pregnant|(?:first|second|third|last|1st|2nd|3rd) trimester(?: of pregnancy)?"
)
BREASTFEEDING = re.compile(rf"(?:breast-?feeding|nursing){A_MOTHER}")
SKIN = re.compile(rf"^({'|'.join(SKINS)})(?: skin)?$")
ALLERGY = re.compile(
    r"^(?:allergic to (?P<to>.+)|allergy to (?P<of>.+)|(?P<what>.+?) allergy|(?P<sort>.+?) allergies)$"
)
# “Calendula in 30 ml for a ragweed” is more than what somebody is allergic to.
NO_ALLERGEN = re.compile(r"\b(?:for|in|with|on|ok|okay|safe|good|during|while|if|suits?)\b|\s(?:an?|the)\s")
LEADING_ARTICLE = re.compile(r"^(?:an?|the)\s+")
# Other words for what can be ticked; the rest is found by its key or by its own words. What is empty
# is no answer to whom: a scalp is where something goes, and what is for an animal is for nobody here.
ALSO = {
    "nut": "tree_nut", "nuts": "tree_nut", "tree nut": "tree_nut", "peanuts": "peanut", "soya": "soy", "honey": "bee",
    "gluten": "wheat", "birch": "birch_pollen", "ragweed": "daisy", "acne-prone skin": "acne", "spots": "acne",
    "retinol": "retinoid", "retinoids": "retinoid", "tretinoin": "retinoid", "adapalene": "retinoid",
    "acids": "acid_exfoliant", "an acid": "acid_exfoliant", "blood thinner": "anticoagulant",
    "blood thinners": "anticoagulant", "anticoagulants": "anticoagulant", "warfarin": "anticoagulant",
    "broken skin": "broken", "wounds": "broken", "wound": "broken", "open wound": "broken", "open wounds": "broken",
    "burn": "broken", "burns": "broken", "sunburn": "broken", "cut": "broken", "cuts": "broken", "graze": "broken",
    "stitches": "broken", "fresh scar": "broken", "fresh scars": "broken", "infected skin": "infected",
    "sunbeds": "sunbed", "scalp": "", "pets": "", "the sun": "sun", "sunlight": "sun", "sunshine": "sun",
    "sunbathing": "sun", "tanning": "sun",
}  # fmt: skip
# What may say it behind a recipe; how something was steeped does not: “olive infused in the sun”, “for 6 weeks”.
BEHIND = re.compile(r"(?<![\s,])[\s,]+(?P<by>for|in|during|on|with|when|while|if)\s+(?P<use>[^,;\n]+)$", re.I)
STEEPED = re.compile(r"\b(?:infus|steep|macerat)\w*[^,;\n]*$", re.I)
HOW_STEEPED = re.compile(
    r"^(?:in\s+)?(?:the\s+)?(?:full\s+|bright\s+)?sun(?:light|shine)?$|\b(?:hours?|days?|nights?|weeks?|months?)$", re.I
)
# What stands over a recipe: “massage oil for a baby: 100 ml sunflower, 2 drops lavender”.
HEADING = re.compile(r"^\s*(?P<head>[^:\n]{2,80}):\s+(?=\S)")
HEADED_FOR = re.compile(r"^(?:(?P<what>.*\S)\s+)?for\s+(?P<whom>.+)$", re.I)
POSSESSIVE = re.compile(r"[’']s?$")
MOST_OF_WHOM = 4  # words before those of a product: “3 year old”


@dataclass(frozen=True, slots=True)
class Whom:
    """A wearer, the words that go on after “not” or “yes”: “for Ines”, “in pregnancy”; and the words as they came."""

    wearer: Wearer
    words: str
    said: str = ""


def behind(text: str) -> Iterator[tuple[str, str, str]]:
    """Each way to part a recipe from what may stand behind it: the recipe, the word between, and the rest.

    How a row was steeped is no such rest.

    >>> list(behind("30 ml jojoba in a jar for a baby"))
    [('30 ml jojoba', 'in', 'a jar for a baby'), ('30 ml jojoba in a jar', 'for', 'a baby')]
    """
    text, at = text.rstrip(), 0
    while found := BEHIND.search(text, at):
        at = found.start("use")
        before = text[: found.start()]
        if not (STEEPED.search(before) and HOW_STEEPED.search(found["use"])):
            yield before, found["by"].lower(), found["use"]


def parted(text: str, people: Mapping[str, Wearer], today: date) -> tuple[str, Whom | None]:
    """A recipe and whom its end or its heading says it is for: “for Ines”, “during pregnancy”; None where neither does.

    What stands behind goes from the last row; a heading is a row of its own, and stays.
    """
    for before, by, words in behind(text):
        whom = read_whom(words, people, today)
        if whom is not None and (by == "for" or may_be_during(whom.wearer)):
            return before, whom
    head = HEADING.match(text)
    headed = HEADED_FOR.match(head["head"]) if head else None
    if head is None:
        return text, None
    if headed is not None:
        return text, read_whom(headed["whom"], people, today)
    return text, next((whom for whom, _ in before_a_product(head["head"], people, today)), None)


def may_be_during(wearer: Wearer) -> bool:
    """Whether it can be said of a time: “in pregnancy”, “while breastfeeding”."""
    return bool(wearer.pregnant or wearer.breastfeeding)


def before_a_product(words: str, people: Mapping[str, Wearer], today: date) -> Iterator[tuple[Whom, str]]:
    """Whom the first words name, and the others: “baby massage oil”, “a 3 year old’s face”, “dry skin serum”.

    An age, a pregnancy, a skin or a card: “sun balm” and “latex free” are about the product.
    """
    said = words.split()
    for count in range(min(len(said) - 1, MOST_OF_WHOM), 0, -1):
        whom = read_whom(POSSESSIVE.sub("", " ".join(said[:count])), people, today)
        if whom is None:
            continue
        wearer, is_skin = whom.wearer, whom.said.casefold().endswith("skin")  # a “dry oil” is one that sinks in
        if wearer.name or wearer.born or wearer.pregnant or wearer.breastfeeding or is_skin:
            yield whom, " ".join(said[count:])


def read_whom(words: str, people: Mapping[str, Wearer], today: date) -> Whom | None:
    """Whom these words mean; None when they name neither a card, nor a skin, nor anything that a card can say."""
    found = _meant(words, people, today)
    return replace(found, said=" ".join(words.split())) if found is not None else None


def _meant(words: str, people: Mapping[str, Wearer], today: date) -> Whom | None:
    said = re.sub(
        r"^(?:(?:somebody|someone|people|a person)(?: with| on)?\s+(?=\D))?(?:(?:an?|the|my|our|her|his|their)\s+)?",
        "",
        words.strip().casefold(),
    )
    known = {name.casefold(): wearer for name, wearer in people.items()}
    if said in known:
        return Whom(known[said], f"for {known[said].name}")
    if skin := SKIN.match(said):
        return Whom(Wearer(skin=skin[1]), f"for {SKINS[skin[1]]} skin")
    if PREGNANT.fullmatch(said):
        return Whom(Wearer(pregnant=True), "in pregnancy")
    if BREASTFEEDING.fullmatch(said):
        return Whom(Wearer(breastfeeding=True), "when breastfeeding")
    if said in ("sensitive skin", "sensitive"):
        return Whom(Wearer(sensitive=True), "for sensitive skin")
    return _by_age(said, today) or _by_allergy(said) or _by_tick(said)


def _by_age(said: str, today: date) -> Whom | None:
    found = AGE.match(said)
    months = AGES.get(said, AGES.get(said.removesuffix("ren").rstrip("s"))) if found is None else None
    if found is not None:
        unit = found["unit"] or found["of"] or found["many"] or ""
        # A number alone is of months where it is a baby's: the stricter reading.
        unit = unit or ("m" if IN_MONTHS.search(said) else "y")
        months = float(found["old"] or found["aged"] or found["so"]) * MONTHS_OF[unit[0]]
    if months is None or months > 12 * OLDEST:
        return None
    wearer = Wearer(born=today - timedelta(days=round(months * DAYS_A_MONTH)))
    return Whom(wearer, f"at {wearer.age_words(today)}")


def _by_allergy(said: str) -> Whom | None:
    found = ALLERGY.match(said)
    if found is None:
        return None
    what = next(filter(None, found.groups()))
    what = LEADING_ARTICLE.sub("", what)
    if NO_ALLERGEN.search(what):
        return None
    if key := _ticked(what, ALLERGIES):
        return Whom(Wearer(allergies=Ticks(frozenset({key}))), f"with an allergy to {ALLERGIES[key]}")
    return Whom(Wearer(other_allergies=what), f"with an allergy to {what}")


def _by_tick(said: str) -> Whom | None:
    if key := _ticked(said, CONDITIONS):
        return Whom(Wearer(conditions=Ticks(frozenset({key}))), f"on skin that is {CONDITIONS[key]}")
    if key := _ticked(said, MEDICINES):
        return Whom(Wearer(medicines=Ticks(frozenset({key}))), f"with {MEDICINES[key]}")
    if key := _ticked(said, HEALTH):
        return Whom(Wearer(health=Ticks(frozenset({key}))), f"with {HEALTH[key]}")
    if key := _ticked(said, USES):
        return Whom(Wearer(uses=Ticks(frozenset({key}))), f"with {USES[key]}" if key != "sun" else "in the sun")
    return None


def _ticked(said: str, group: Mapping[str, str]) -> str:
    """The key of what can be ticked in a group, by its key, another word for it, or the first words of its own."""
    said = said.strip()
    key = ALSO.get(said, said.replace(" ", "_"))
    if key in group:
        return key
    heads = {re.sub(r"^(?:a|an|one) ", "", words.split(",")[0]).casefold(): key for key, words in group.items()}
    return heads.get(said) or heads.get(f"{said}s", "")
