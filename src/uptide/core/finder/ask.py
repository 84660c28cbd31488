"""The quick line: a sum, an oil for somebody, room for a scent, or a whole recipe; answered without making a record."""

from __future__ import annotations

import re
from contextlib import suppress
from dataclasses import replace
from itertools import chain

from uptide.core.assessment.brief import in_brief
from uptide.core.errors import QuantityError
from uptide.core.finder.about import about_one
from uptide.core.finder.about_figures import about_figure
from uptide.core.finder.acids import about_acid
from uptide.core.finder.by_itself import of_itself
from uptide.core.finder.known import BODY, NOBODY, Known
from uptide.core.finder.named import AND, each_thing, is_name, together
from uptide.core.finder.room import room_for, scent_first, share_of, with_carrier
from uptide.core.finder.use import STEEPED, Use, apart, both, meant_use, read_use
from uptide.core.finder.yes_or_no import yes_or_no
from uptide.core.measures.lines import parse_line, split_recipe
from uptide.core.measures.quick import QuickAnswer, answer
from uptide.core.recipe.recipe import LONGEST_RECIPE, Entry, Recipe
from uptide.core.safety.card import answer_for
from uptide.core.safety.claims import read_claims
from uptide.core.skin.wearer import ANYONE
from uptide.core.skin.whom import HEADED_FOR, HEADING, before_a_product, behind, read_whom

MOST_WORDS = 4000  # characters of a question

# Polite words that ask nothing of their own.
LEAD = re.compile(r"^(?:please|what(?:[’']s| is| are| would be)|how (?:much|many) (?:is|are)|convert|tell me)\s+", re.I)
HOW_MANY = re.compile(
    r"^how (?:many|much)\s+(?P<unit>[a-z. ]+?)\s+(?:is|are|in|for|make|makes|to)\s+(?P<what>\d.*)$", re.I
)
HOW_MANY_A = re.compile(
    r"^how (?:many|much)\s+(?P<unit>[a-z. ]+?)\s+(?:is|are|in|for|makes?|to|per)\s+(?:an?\s+|one\s+|the\s+)?"
    r"(?P<of>[a-z]+)$",
    re.I,
)
SHARE_IN = re.compile(
    r"^(?:dilution\s+)?(?P<share>[\d.,]+\s*(?:%|per\s?cent))\s*(?:(?:dilution|solution|strength)\s*)?(?:in|of|for|at)?\s+"
    r"(?P<whole>\d.*)$",
    re.I,
)
IN_UNIT_OF = re.compile(r"^(?P<what>\d.*?)\s+(?P<by>in|to)\s+(?P<unit>[a-z ]+?)\s+of\s+(?P<thing>[^\W\d].*)$", re.I)
BARE_OUNCES = re.compile(r"(?<!fl )(?<!fl\. )(?<!fluid )\b(?:oz|ounces?)\b\.?(?!\s+by)", re.I)
PART_OF = re.compile(r"^(?:an?\s+|one\s+)?(?P<part>half|third|quarter)\s+of\s+(?P<whole>\d.*)$", re.I)
PARTS_OF_ONE = {"half": "50", "third": "33.333", "quarter": "25"}
GOOD = r"(?:(?:be\s+)?(?:used|use|suited|suitable|good|ok|okay|safe|right|fit|fine|allowed|go(?:od)?)\s+)*"
FOR = re.compile(
    rf"^(?:(?:does|is|are|can|could|may|would|will|should)\s+)?(?P<thing>{STEEPED}.+?)\s+{GOOD}"
    r"(?:for|in|during|with|on|by|when|while|if|to|as|suits?)\s+(?P<use>.+)$",
    re.I,
)
MAY_USE = re.compile(
    r"^(?:can|could|may|should|do)\s+(?P<whom>.+?)\s+(?:use|wear|have|put|apply|take)\s+(?P<thing>.+)$", re.I
)
FLUID, BY_WEIGHT = "fl oz", "oz by weight"
OUNCES = {FLUID: "as fluid ounces", BY_WEIGHT: "as ounces by weight"}
OUNCE = 28.35  # g, avoirdupois (NIST Handbook 44, appendix C), as far as a kitchen scale has it
LEADS = re.compile(r"^\s*(?:for|in|during|on|with|when)\s+", re.I)  # “in pregnancy and in the sun”
ANYBODY = ("i", "we", "you", "one", "people", "anyone", "anybody")
NOT_READ, ASSUMED = "Not read", "Assumed"
ANIMAL = r"(?:an?\s+|the\s+|my\s+|our\s+)?(?:cat|kitten|dog|puppy|puppie|pet|horse|rabbit|hamster|bird|animal)s?"
ON_AN_ANIMAL = re.compile(rf"\b(?:for|on|to)\s+{ANIMAL}$", re.I)
INSIDE = re.compile(
    r"\b(?:drink|drunk|swallow(?:ed)?|eat|eaten|ingest(?:ed)?|internally|orally|by mouth)\b"
    r"|\b(?:in|into|inside)\s+(?:my\s+|the\s+|an?\s+|your\s+)?(?:tea|food|drinks?|eyes?|ears?|nose|mouth|vagina)$",
    re.I,
)
# “tea tree neat”, “can I use lavender undiluted on the face”, “neat tea tree for Ines”.
NEAT = r"(?:neat|undiluted|straight|unmixed)"
UNDILUTED = re.compile(
    r"^(?:(?:can|could|may|should)\s+(?:i|we|you|one)\s+(?:put|use|wear|apply)\s+|(?:can|is|are|may)\s+)?"
    rf"(?:{NEAT}\s+(?P<one>.+?)|(?P<other>.+?)\s+{GOOD}{NEAT})"
    r"(?:\s+(?:on|to)\s+(?:(?:my|the)\s+)?skin)?(?:\s+(?:on|for|in|during|with)\s+(?P<use>.+))?$",
    re.I,
)
BETWEEN = re.compile(r"^(?:and|&|\+|vs|before|while|at|the|my|a)\s+|(?<!\s)\s+(?:and|&|\+)$", re.I)
# What names no one thing, and is near the name of one: “safe oils” are not sage oil.
NO_ONE_THING = re.compile(
    r"^(?:the\s+|an?\s+|any\s+|which\s+|what\s+)*(?:(?:safe(?:st)?|best|good|gentle(?:st)?|mild(?:est)?)\s+)*"
    r"(?:essential\s+|carrier\s+)?(?:oils?|scents?)(?:\s+(?:is|are))?(?:\s+(?:safe|best|good))?$",
    re.I,
)
TAKEN_OFF = re.compile(r"\b(?:remov\w*|cleans\w*|wash\w*|takes?|taking|rins\w*)\b", re.I)
BESIDE_ANOTHER = re.compile(r"\bthan\s|^(?:oils?\s+)?(?:like|similar to)\s", re.I)  # asks the shelf
BESIDE_ANIMALS = re.compile(rf"^(?P<thing>.+?)\s+(?:with|near|around)\s+{ANIMAL}(?:\s+(?:in|at|around) .+)?$", re.I)
AT_HOME = "animals in the home"


def ask(question: str, known: Known) -> QuickAnswer:
    """Answer a question.

    Raises:
        QuantityError: it was not understood; the message says what was found and how to ask.
    """
    asked = question.strip().rstrip("?! ")
    if len(asked) > MOST_WORDS:
        raise QuantityError(
            f"This has {len(asked)} characters; up to {MOST_WORDS} are read here. Paste it on the bench."
        )
    if ON_AN_ANIMAL.search(asked):  # common practice; cats cannot break down what is in tea tree and its like
        raise QuantityError(
            "What is said here is about the skin of people. An essential oil can kill a cat and make a dog very ill: "
            "ask a vet. “Tea tree with cats” asks about animals in the home."
        )
    if INSIDE.search(asked):  # common practice; tisserand-young-2014 on poisonings
        raise QuantityError(
            "What is said here is about skin. Nothing here is for swallowing, nor for eyes, ears, nose or mouth: a "
            "teaspoon of some essential oils can kill a child. Where that happened, call a poison centre now."
        )
    scented = scent_first(asked, known)
    if found := share_of(scented, known) or (room_for(scented, known) if scented != asked else None):
        return found
    recipe, use, unread = _recipe_for(asked, known)
    recipe, carrier = with_carrier(recipe, known)
    rows = split_recipe(recipe)
    if len(rows) > 1 and sum(parse_line(row).is_complete for row in rows) > 1:
        made = Recipe(tuple(Entry(row) for row in rows[:LONGEST_RECIPE]), use.product, habits=known.habits)
        brief = in_brief(known.assess(made, use.whom.wearer), asked if unread else recipe)
        working = ", ".join(filter(None, [brief.working, known.products[use.product].lower(), use.whom.words]))
        missed = ((NOT_READ, f"“{unread}” is neither a product nor somebody known here."),) if unread else ()
        assumed = ((ASSUMED, carrier),) if carrier else ()
        lines = (*missed, *assumed, *brief.lines)
        return replace(brief, working=working, product=use.product, wearer=use.whom.said, lines=lines)
    for way in (_as_sunscreen, room_for, yes_or_no, _undiluted, _about, about_acid, _in_use, _side_by_side):
        found = way(asked, known)
        if found is not None:
            return found
    return _sum(_plainly(asked), known)


def _as_sunscreen(asked: str, known: Known) -> QuickAnswer | None:
    """Answer “does coconut have SPF”, “sunscreen”; None where the sun is not asked about, or it is to be washed off."""
    claims = read_claims({"question": asked}, known.usage_of(BODY, ANYONE).tables)
    if TAKEN_OFF.search(asked) or not any(claim.pattern.kind == "spf" for claim in claims):
        return None
    return QuickAnswer(
        "No plant oil is a sunscreen: use a tested product",
        "Pressed oils filter little, and never evenly; what is told of carrot or raspberry seed was read from the "
        "light that passes a film of it, and never on skin (from memory).",
        "Some oils make skin burn sooner: ask “bergamot and the sun”.",
    )


def _undiluted(asked: str, known: Known) -> QuickAnswer | None:
    """Answer “tea tree neat”, “can I use lavender undiluted for Ines”; None when it asks for nothing undiluted."""
    found = UNDILUTED.match(asked)
    if found is None:
        return None
    thing, use = apart(found["one"] or found["other"], known)
    use = both(use, meant_use(found["use"] or "", known))
    items = chain.from_iterable(each_thing(thing, known, in_drops=True))
    return together([of_itself(item, use, known, is_neat=True) for item in items])


def _about(asked: str, known: Known) -> QuickAnswer | None:
    """Answer “argan”, “does argan clog pores”, “iodine value of argan”; None when it asks nothing of one thing."""
    found = about_figure(asked, known) or about_one(asked, known)
    return together(found) if found else None


def _recipe_for(asked: str, known: Known) -> tuple[str, Use, str]:
    """A recipe without what and whom it is for, its use, and what was not read of that: “2 tbsp grapeseed for Ines”."""
    recipe, use, unread = _parted(asked, known)
    head = HEADING.match(recipe)
    if head is None or not split_recipe(recipe):
        return recipe, use, unread
    headed = HEADED_FOR.match(head["head"])
    over = read_use(head["head"], known)
    if over is None and headed is not None:  # “summer oil for Ines”: what it is called says nothing
        over = read_use(headed["whom"], known)
        unread = unread if over else f"for {headed['whom']}"
    elif over is None:
        over = next((Use(whom=whom) for whom, _ in before_a_product(head["head"], known.people, known.today)), None)
    return (recipe[head.end() :], both(over, use), unread) if over else (recipe, use, unread)


def _parted(asked: str, known: Known) -> tuple[str, Use, str]:
    unread: tuple[str, Use, str] | None = None
    for before, by, words in behind(asked):
        use = read_use(words, known)
        if use is not None:
            return before, use, ""
        if by == "for" and ":" not in words and unread is None:  # “in jojoba” goes on with the recipe
            unread = (before, Use(), f"for {words}")
    return unread or (asked, Use(), "")


def _plainly(asked: str) -> str:
    """A sum in the words that the sums are read from: “how many drops is 2% of 30 ml” as “2% of 30 ml in drops”."""
    if found := HOW_MANY.match(asked):
        return f"{_plainly(found['what'])} in {found['unit']}"
    if found := HOW_MANY_A.match(asked):
        return f"1 {found['of']} in {found['unit']}"
    asked = LEAD.sub("", asked)
    if found := PART_OF.match(asked):
        return f"{PARTS_OF_ONE[found['part'].lower()]}% of {found['whole']}"
    if found := IN_UNIT_OF.match(asked):
        return f"{found['what']} {found['thing']} {found['by']} {found['unit']}"
    return SHARE_IN.sub(r"\g<share> of \g<whole>", asked)


def _sum(asked: str, known: Known) -> QuickAnswer:
    """A sum; of ounces that may be fluid or of weight, what it is by each that can be worked out."""
    try:
        return answer(asked, known.habits, known.ingredients, known.names)
    except QuantityError:
        found = {}
        for which in (FLUID, BY_WEIGHT) if BARE_OUNCES.search(asked) else ():
            with suppress(QuantityError):
                said = BARE_OUNCES.sub(which, asked)
                found[which] = answer(said, known.habits, known.ingredients, known.names)
        if not found:
            raise
        return QuickAnswer(
            "; ".join(f"{each.answer} {OUNCES[which]}" for which, each in found.items()),
            "; ".join(each.working for each in found.values()),
            f"An ounce may be either; one by weight is {OUNCE:g} g.",
        )


def _in_use(asked: str, known: Known) -> QuickAnswer | None:
    """Answer “argan for Ines”, “is rosehip ok in pregnancy”, “clove on the face”; None when it names no use."""
    if found := MAY_USE.match(asked):
        whom = NOBODY if found["whom"].lower() in ANYBODY else read_whom(found["whom"], known.people, known.today)
        if whom is not None:
            thing, use = apart(found["thing"], known)
            if whom is not NOBODY or is_name(thing, known):  # else “can I use argan instead of jojoba”
                return _of_use(thing, both(Use(whom=whom), use), known)
    if found := BESIDE_ANIMALS.match(asked):
        whom = read_whom(AT_HOME, {}, known.today)
        return _of_use(found["thing"], Use(whom=whom), known) if whom else None
    found = FOR.match(asked)
    if found is None or NO_ONE_THING.match(found["thing"]) or BESIDE_ANOTHER.search(found["thing"]):
        return None
    whole = read_use(found["use"], known)
    uses = [whole] if whole else [read_use(LEADS.sub("", part), known) for part in AND.split(found["use"])]
    return together([_of_use(found["thing"], use, known) for use in uses if use]) if all(uses) else None


def _side_by_side(asked: str, known: Known) -> QuickAnswer | None:
    """Answer “rosemary epilepsy”, “bergamot and sun”, “7 months pregnant lavender”; None for anything else.

    The thing must bear its name as it stands, and all that is left must say whom: nothing is guessed of either.
    """
    words = asked.split()
    for count in range(len(words) - 1, 0, -1):
        for thing, rest in ((words[:count], words[count:]), (words[-count:], words[:-count])):
            whom = read_whom(BETWEEN.sub("", " ".join(rest)), known.people, known.today)
            if whom is not None and is_name(name := " ".join(thing), known):
                return _of_use(name, Use(whom=whom), known)
    return None


def _of_use(thing: str, use: Use, known: Known) -> QuickAnswer:
    """What each thing of these names is in a use: in a product, or by itself for somebody."""
    items = list(chain.from_iterable(each_thing(thing, known, in_drops=False)))
    if use.said or use.whom is NOBODY:
        return together([of_itself(item, use, known) for item in items])
    tables = known.usage_of(BODY, use.whom.wearer).tables
    return together([answer_for(item, use.whom, tables, known.today) for item in items])
