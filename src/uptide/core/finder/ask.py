"""The quick line: a sum, an oil for somebody, room for a scent, or a whole recipe; answered without making a record."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import replace
from itertools import chain
from math import floor

from uptide.core.assessment.brief import in_brief
from uptide.core.errors import QuantityError
from uptide.core.finder.about import MOST_MEANT, about_one
from uptide.core.finder.by_itself import of_itself
from uptide.core.finder.known import BASE, BODY, FACE, NOBODY, Known
from uptide.core.finder.use import Use, apart, both, meant_use, read_use
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.measures.amounts import unit_size
from uptide.core.measures.grammar import QuantityKind, read_quantity
from uptide.core.measures.habits import Habits
from uptide.core.measures.lines import parse_line, split_recipe
from uptide.core.measures.quick import QuickAnswer, answer
from uptide.core.measures.say import say_number
from uptide.core.measures.units import UNITS, Dimension
from uptide.core.recipe.recipe import LONGEST_RECIPE, Entry, Recipe
from uptide.core.safety.card import answer_for
from uptide.core.safety.maximum_dose import maximum_dose_of
from uptide.core.skin.whom import Whom, read_whom

NEARLY = 0.01  # of a drop: what halving leaves
AND = re.compile(r"[,;+&]|\band\b|\bwith\b", re.I)
ALONE = "Of each alone, not of all together"  # they share what one of them may be
MOST_WORDS = 4000  # characters of a question

# Polite words that ask nothing of their own.
LEAD = re.compile(r"^(?:please|what(?:[’']s| is| are| would be)|how (?:much|many) (?:is|are)|convert|tell me)\s+", re.I)
HOW_MANY = re.compile(
    r"^how (?:many|much)\s+(?P<unit>[a-z. ]+?)\s+(?:is|are|in|for|make|makes|to)\s+(?P<what>\d.*)$", re.I
)
SHARE_IN = re.compile(
    r"^(?P<share>[\d.,]+\s*(?:%|per\s?cent))\s+(?:(?:dilution|solution|strength)\s+)?(?:in|of|for)\s+(?P<whole>\d.*)$",
    re.I,
)
PART_OF = re.compile(r"^(?:an?\s+|one\s+)?(?P<part>half|third|quarter)\s+of\s+(?P<whole>\d.*)$", re.I)
PARTS_OF_ONE = {"half": "50", "third": "33.333", "quarter": "25"}
GOOD = r"(?:(?:be\s+)?(?:used|use|suited|suitable|good|ok|okay|safe|right|fit|fine|allowed|go(?:od)?)\s+)*"
FOR = re.compile(
    rf"^(?:(?:does|is|are|can|could|may|would|will|should)\s+)?(?P<thing>.+?)\s+{GOOD}"
    r"(?:for|in|during|with|on|by|when|while|if|to|as|suits?)\s+(?P<use>.+)$",
    re.I,
)
MAY_USE = re.compile(
    r"^(?:can|could|may|should|do)\s+(?P<whom>.+?)\s+(?:use|wear|have|put|apply|take)\s+(?P<thing>.+)$", re.I
)
ANYBODY = ("i", "we", "you", "one", "people", "anyone", "anybody")
RECIPE_FOR = re.compile(r"^(?P<recipe>.+?),?\s+for\s+(?P<use>[^,]+)$", re.I | re.S)
NOT_READ = "Not read"
ON_AN_ANIMAL = re.compile(
    r"\b(?:for|on|to)\s+(?:an?\s+|the\s+|my\s+|our\s+)?"
    r"(?:cat|kitten|dog|puppy|pupp(?:y|ies)|pet|horse|rabbit|hamster|bird|animal)s?$",
    re.I,
)
MAXIMUM_DOSE = re.compile(
    r"^(?:how (?:much|many)(?: drops)?(?: of)?\s+|drops of\s+)?(?P<oil>\D.*?)\s+(?:in|to|per|for)\s+"
    r"(?P<size>\d[\d.,/]*\s*(?:fl\.?\s*)?[a-z]+)(?:\s+(?:(?:for|of|in)\s+)?(?P<use>.+))?$",
    re.I,
)


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
    recipe, use, unread = _recipe_for(asked, known)
    rows = split_recipe(recipe)
    if len(rows) > 1 and sum(parse_line(row).is_complete for row in rows) > 1:
        made = Recipe(tuple(Entry(row) for row in rows[:LONGEST_RECIPE]), use.product, habits=known.habits)
        brief = in_brief(known.assess(made, use.whom.wearer), recipe)
        working = ", ".join(filter(None, [brief.working, known.products[use.product].lower(), use.whom.words]))
        missed = ((NOT_READ, f"“{unread}” is neither a product nor somebody known here."),) if unread else ()
        lines = (*missed, *brief.lines)
        return replace(brief, working=working, product=use.product, wearer=use.whom.wearer.name, lines=lines)
    for way in (_room, _in_use, _about):
        found = way(asked, known)
        if found is not None:
            return found
    return answer(_plainly(asked), known.habits, known.ingredients, known.names)


def _about(asked: str, known: Known) -> QuickAnswer | None:
    """Answer “argan”, “does argan clog pores”, “instead of argan”; None when it asks nothing of one thing."""
    found = about_one(asked, known)
    return _together(found) if found else None


def _recipe_for(asked: str, known: Known) -> tuple[str, Use, str]:
    """A recipe without what and whom it is for, its use, and what was not read of that: “2 tbsp grapeseed for Ines”."""
    found = RECIPE_FOR.match(asked)
    if found is None:
        return asked, Use(), ""
    use = read_use(found["use"], known)
    return (found["recipe"], use, "") if use else (asked, Use(), f"for {found['use']}")


def _plainly(asked: str) -> str:
    """A sum in the words that the sums are read from: “how many drops is 2% of 30 ml” as “2% of 30 ml in drops”."""
    if found := HOW_MANY.match(asked):
        return f"{_plainly(found['what'])} in {found['unit']}"
    asked = LEAD.sub("", asked)
    if found := PART_OF.match(asked):
        return f"{PARTS_OF_ONE[found['part'].lower()]}% of {found['whole']}"
    return SHARE_IN.sub(r"\g<share> of \g<whole>", asked)


def _in_use(asked: str, known: Known) -> QuickAnswer | None:
    """Answer “argan for Ines”, “is rosehip ok in pregnancy”, “clove on the face”; None when it names no use."""
    if found := MAY_USE.match(asked):
        whom = NOBODY if found["whom"].lower() in ANYBODY else read_whom(found["whom"], known.people, known.today)
        if whom is not None:
            thing, use = apart(found["thing"], known)
            if whom is not NOBODY or known.names.exactly(thing):  # else “can I use argan instead of jojoba”
                return _of_use(thing, both(Use(whom=whom), use), known)
    found = FOR.match(asked)
    asked_use = read_use(found["use"], known) if found else None
    return _of_use(found["thing"], asked_use, known) if found and asked_use else None


def _of_use(thing: str, use: Use, known: Known) -> QuickAnswer:
    """What each thing of these names is in a use: in a product, or by itself for somebody."""
    items = list(chain.from_iterable(_each_thing(thing, known, in_drops=False)))
    if use.said or use.whom is NOBODY:
        return _together([of_itself(item, use, known) for item in items])
    tables = known.usage_of(BODY, use.whom.wearer).tables
    return _together([answer_for(item, use.whom, tables, known.today) for item in items])


def _each_thing(words: str, known: Known, *, in_drops: bool) -> list[list[Ingredient]]:
    """What each of several names may mean, as in “peppermint and rosemary”; a name may hold such a word itself."""
    apart = [words] if known.names.exactly(words, in_drops=in_drops) else AND.split(words)
    return [_meant_things(name, known, in_drops=in_drops) for name in filter(None, map(str.strip, apart))]


def _meant_things(words: str, known: Known, *, in_drops: bool) -> list[Ingredient]:
    """All that a name may mean: who asks about bergamot is told of both kinds."""
    match = known.names.match(words, in_drops=in_drops)
    if not match.keys:
        raise QuantityError(f"“{words}” is not in the catalogue.")
    keys = match.keys[:1] if match.sure else match.keys[:MOST_MEANT]
    return [known.ingredients[key] for key in keys]


def _together(answers: list[QuickAnswer]) -> QuickAnswer:
    """One answer of one or of several."""
    if len(answers) == 1:
        return answers[0]
    return QuickAnswer(
        "; ".join(each.answer for each in answers),
        "",
        answers[0].remark if len({each.remark for each in answers}) == 1 else "",
        lines=tuple(line for each in answers for line in _as_lines(each)),
    )


def _as_lines(found: QuickAnswer) -> Iterator[tuple[str, str]]:
    """One of several answers: how it came about under its name, and all that it says besides."""
    if found.working:
        yield found.answer.partition(":")[0], found.working
    yield from found.lines


def _room(asked: str, known: Known) -> QuickAnswer | None:
    """Answer “bergamot in 30 ml”, “how many drops of lavender in 1 oz for Ines”; None when it asks for no scent."""
    found = MAXIMUM_DOSE.match(asked)
    if found is None:
        return None
    thing, use = apart(found["oil"], known)
    first = next(iter(known.names.match(thing, in_drops=True).keys), "")
    if not first or known.ingredients[first].phase is not Phase.SCENT:
        return None
    size_ml = _millilitres(found["size"], known.habits)
    if size_ml is None:
        return None
    asked_of = _each_thing(thing, known, in_drops=True)
    if any(items[0].phase is not Phase.SCENT for items in asked_of):
        return None
    use = both(use, meant_use(found["use"] or "", known))
    items = chain.from_iterable(asked_of)
    found_out = _together([_say_maximum(item, size_ml, use, known) for item in items])
    return replace(found_out, answer=f"{ALONE}: {found_out.answer}") if len(asked_of) > 1 else found_out


def _millilitres(words: str, habits: Habits) -> float | None:
    try:
        quantity = read_quantity(words)
    except QuantityError:
        return None
    term = quantity.terms[0] if len(quantity.terms) == 1 else None
    if term is None or quantity.kind is not QuantityKind.MEASURE:
        return None
    unit = UNITS["fl_oz" if term.unit == "oz" else term.unit]  # bottles go by volume
    return term.typical * unit_size(unit, habits, term.system) if unit.dimension is Dimension.VOLUME else None


def _say_maximum(item: Ingredient, size_ml: float, use: Use, known: Known) -> QuickAnswer:
    base, product, whom = known.ingredients[BASE], use.product, use.whom

    def drops(percent: float) -> float:
        """Whole drops that make a share by mass of the bottle."""
        grams = percent / 100 * size_ml / (percent / 100 / item.density + (1 - percent / 100) / base.density)
        return grams / item.density * known.habits.drops_per_ml

    room = maximum_dose_of(item, base, known.usage_of(product, whom.wearer))
    where = f"{say_number(size_ml, 3)} mL of {known.products[product].lower()}"
    who = f" {whom.words}" if whom.words else ""
    if not room.most:
        return QuickAnswer(f"{item.name}: none{who}", room.why, about=item.key)
    most, usual = (floor(drops(percent) + NEARLY) for percent in (room.most, room.suggested))
    count = f"{_in_drops(most)} at most" if most else "less than one drop: dilute it first"
    said = f"{say_number(room.most, 2)} % by mass in {where}"
    said += f"; {say_number(room.suggested, 2)} % is suggested, {_in_drops(usual)}." if usual else "."
    other = "" if product != BODY else f"On the face: {_face_words(item, whom, known, drops)}. "
    return QuickAnswer(
        f"{item.name}: {count}{who}",
        f"{said} {other}Beyond it: {room.why}",
        f"Counted at {known.habits.drops_per_ml:g} drops to the mL; real droppers give 20 to 45, so weigh it. "
        "Limits are from memory; its page names their sources, and local law comes first.",
        about=item.key,
    )


def _face_words(item: Ingredient, whom: Whom, known: Known, drops: Callable[[float], float]) -> str:
    room = maximum_dose_of(item, known.ingredients[BASE], known.usage_of(FACE, whom.wearer))
    most = floor(drops(room.most) + NEARLY)
    return _in_drops(most) if most else "less than a drop" if room.most else "none"


def _in_drops(count: int) -> str:
    return f"{count} {'drop' if count == 1 else 'drops'}"
