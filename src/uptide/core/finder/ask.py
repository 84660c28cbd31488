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
from uptide.core.finder.known import BASE, BODY, FACE, NOBODY, Known
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.measures.amounts import unit_size
from uptide.core.measures.grammar import QuantityKind, read_quantity
from uptide.core.measures.habits import Habits
from uptide.core.measures.lines import parse_line, split_recipe
from uptide.core.measures.names import normalise
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
    rf"^(?:(?:does|is|are|can|could|may|would|will|should)\s+)?(?P<oil>.+?)\s+{GOOD}"
    r"(?:for|in|during|with|on|by|when|while|if|to|suits?)\s+(?P<whom>.+)$",
    re.I,
)
BOTH = re.compile(r"^(?P<product>.+?)\s+(?:for|in|when|with|on)\s+(?P<whom>.+)$", re.I)  # “facial oil for Ines”
MAY_USE = re.compile(r"^(?:can|could|may|should)\s+(?P<whom>.+?)\s+(?:use|wear|have)\s+(?P<oil>.+)$", re.I)
MAXIMUM_DOSE = re.compile(
    r"^(?:how (?:much|many)(?: drops)?(?: of)?\s+|drops of\s+)?(?P<oil>\D.*?)\s+(?:in|to|per|for)\s+"
    r"(?P<size>\d[\d.,/]*\s*(?:fl\.?\s*)?[a-z]+)(?:\s+(?:(?:for|of|in)\s+)?(?P<whom>.+))?$",
    re.I,
)
# Short words for products; the rest is found by the product’s own name.
PRODUCTS = {"face": FACE, "face oil": FACE, "body": BODY, "bath": "bath-oil-floating", "bath oil": "bath-oil-floating",
            "roller": "roller-bottle", "roll on": "roller-bottle", "massage": "massage-oil", "scalp": "scalp-hair-oil",
            "hair": "scalp-hair-oil", "shower": "shower-oil", "cleanser": "cleansing-oil"}  # fmt: skip


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
    recipe, product, whom = _recipe_for(asked, known)
    rows = split_recipe(recipe)
    if len(rows) > 1 and sum(parse_line(row).is_complete for row in rows) > 1:
        made = Recipe(tuple(Entry(row) for row in rows[:LONGEST_RECIPE]), product, habits=known.habits)
        brief = in_brief(known.assess(made, whom.wearer), recipe)
        working = ", ".join(filter(None, [brief.working, known.products[product].lower(), whom.words]))
        return replace(brief, working=working, product=product, wearer=whom.wearer.name)
    for way in (_room, _for_somebody, _about):
        found = way(asked, known)
        if found is not None:
            return found
    return answer(_plainly(asked), known.habits, known.ingredients, known.names)


def _about(asked: str, known: Known) -> QuickAnswer | None:
    """Answer “argan”, “does argan clog pores”, “instead of argan”; None when it asks nothing of one thing."""
    found = about_one(asked, known)
    return _together(found) if found else None


def _recipe_for(asked: str, known: Known) -> tuple[str, str, Whom]:
    """A recipe without what and whom it is for, the product, and whom: “2 tbsp grapeseed, 1 tbsp jojoba for Ines”."""
    found = re.match(r"^(?P<recipe>.+?),?\s+for\s+(?P<whom>[^,]+)$", asked, re.IGNORECASE | re.DOTALL)
    use = _use(found["whom"], known) if found else None
    return (found["recipe"], *use) if found and use else (asked, BODY, NOBODY)


def _plainly(asked: str) -> str:
    """A sum in the words that the sums are read from: “how many drops is 2% of 30 ml” as “2% of 30 ml in drops”."""
    if found := HOW_MANY.match(asked):
        return f"{_plainly(found['what'])} in {found['unit']}"
    asked = LEAD.sub("", asked)
    if found := PART_OF.match(asked):
        return f"{PARTS_OF_ONE[found['part'].lower()]}% of {found['whole']}"
    return SHARE_IN.sub(r"\g<share> of \g<whole>", asked)


def _for_somebody(asked: str, known: Known) -> QuickAnswer | None:
    """Answer “argan for Ines”, “is rosehip ok in pregnancy”; None when it names nobody."""
    for pattern in (MAY_USE, FOR):
        found = pattern.match(asked)
        whom = read_whom(found["whom"], known.people, known.today) if found else None
        if found is not None and whom is not None:
            tables = known.usage_of(BODY, whom.wearer).tables
            items = chain.from_iterable(_each_thing(found["oil"], known, in_drops=False))
            return _together([answer_for(item, whom, tables, known.today) for item in items])
    return None


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
    first = next(iter(known.names.match(found["oil"], in_drops=True).keys), "")
    if not first or known.ingredients[first].phase is not Phase.SCENT:
        return None
    size_ml = _millilitres(found["size"], known.habits)
    if size_ml is None:
        return None
    asked_of = _each_thing(found["oil"], known, in_drops=True)
    if any(items[0].phase is not Phase.SCENT for items in asked_of):
        return None
    product, whom = _meant_use(found["whom"] or "", known)
    items = chain.from_iterable(asked_of)
    found_out = _together([_say_maximum(item, size_ml, product, whom, known) for item in items])
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


def _product(words: str, known: Known) -> str:
    """The key of the product these words name: a short word for it, or the first words of its name; empty for none."""
    said = normalise(re.sub(r"^(?:a|an|the)\s+", "", words.strip(), flags=re.IGNORECASE))
    if not said:
        return ""
    begins = (key for key, name in known.products.items() if f"{normalise(name)} ".startswith(f"{said} "))
    return PRODUCTS.get(said) or next(begins, "")


def _use(words: str, known: Known) -> tuple[str, Whom] | None:
    """The product and the wearer that words name; a card goes before a product of the same name. None for neither."""
    whom = read_whom(words, known.people, known.today)
    if whom is not None:
        return BODY, whom
    if product := _product(words, known):
        return product, NOBODY
    both = BOTH.match(words)
    use = both and (_product(both["product"], known), read_whom(both["whom"], known.people, known.today))
    return (use[0], use[1]) if use and use[0] and use[1] else None


def _meant_use(words: str, known: Known) -> tuple[str, Whom]:
    """What stands behind the size: “for Ines”, “of face oil”; nothing means a body oil for anyone."""
    if not words.strip():
        return BODY, NOBODY
    use = _use(words, known)
    if use is None:
        raise QuantityError(
            f"“{words}” is neither a product nor somebody known here. Ask as in “lavender in 30 ml of facial oil” or "
            "“lavender in 30 ml of facial oil for Ines”."
        )
    return use


def _say_maximum(item: Ingredient, size_ml: float, product: str, whom: Whom, known: Known) -> QuickAnswer:
    base = known.ingredients[BASE]

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
