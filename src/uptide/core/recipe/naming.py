"""Which thing a row means by its name: settled, asked about, or an oil infused with a plant."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace

from uptide.core.ingredients.dilution import dilution, read_dilution
from uptide.core.ingredients.grade import changed_by, grade_said, graded, without_grade
from uptide.core.ingredients.ingredient import Ingredient, LotPast, Phase
from uptide.core.ingredients.past import TREATMENTS
from uptide.core.measures.habits import Habits
from uptide.core.measures.lines import Line
from uptide.core.measures.names import NameIndex, NameMatch, normalise
from uptide.core.recipe.recipe import Option, Question, Row, RowStatus

# “olive oil infused with rosemary”; “rosemary infused olive oil”, “calendula infusion in sunflower”.
INFUSED_WITH = re.compile(r"^(?P<base>.+?)\s+(?:infused|macerated)\s+with\b(?P<plant>.*)$", re.IGNORECASE)
INFUSED = re.compile(
    r"^(?P<plant>.*?)\b(?:infused|macerated|infusion in|macerate in)\s+(?:in\s+)?(?P<base>(?!oils?$).+)$", re.IGNORECASE
)
# “infused calendula in olive oil”, “rose petals in grapeseed”.
INFUSED_FIRST = re.compile(r"^(?:infused|macerated)\s+(?P<plant>.+?)\s+in\s+(?P<base>.+)$", re.IGNORECASE)
PLANT = r"(?:petals?|buds?|flowers?|leaf|leaves|herbs?|roots?|hips?|blossoms?|sprigs?|peels?)"
PLANT_IN = re.compile(rf"^(?P<plant>.*\b{PLANT})\s+in\s+(?P<base>.+)$", re.IGNORECASE)
DRIED_IN = re.compile(r"^(?P<plant>(?:dried|wilted|fresh)\s+.+?)\s+in\s+(?P<base>.+)$", re.IGNORECASE)
# Plant matter is no oil, whatever oil is near its name.
PLANT_ALONE = re.compile(rf"^(?:dried|fresh|wilted)\b|\b{PLANT}$|\brosebuds?$", re.IGNORECASE)
IN_BRACKETS = re.compile(r"(?<!\s)\s*\((?P<words>[^()]+)\)")
# What stands beside a plant in the name of an infused oil.
NO_PLANT = re.compile(
    r"\b(?:fresh(?:ly)?|dried|oils?|an?|the|my|infused|infusions?|macerate[sd]?|macerations?|herbal)\b", re.IGNORECASE
)
UNNAMED_INFUSION, USUAL_INFUSION = "infused-oil", "dark shelf, 6 weeks"
SPOONED = frozenset({"tsp", "dessertspoon", "tbsp", "spoon", "cup", "fl_oz", "oz"})
SCENT_WORDS = re.compile(r"\b(?:essential|eo|co2|absolute|resinoid|extract)\b", re.IGNORECASE)
IN_SPOONS = " In spoons it may be an oil infused with it; then write as well in which oil."  # nobody spoons a scent

NONE_OF_THESE = "none"  # the answer to a question about a name that nothing on offer bears
NO_OIL = "a plant and no oil: it is not counted. Steeped in one, write in which, as in “calendula infused olive oil”."
WRITE_IT = "write what it is by its INCI or botanical name, or add it as an oil of your own."

Named = tuple[Ingredient | None, Row]


def name_row(
    row: Row,
    line: Line,
    answers: Mapping[str, str],
    habits: Habits,
    ingredients: Mapping[str, Ingredient],
    names: NameIndex,
) -> Named:
    """Say which ingredient is meant, and of which grade; or ask."""
    plain = without_grade(line.name)
    item, named = _named(row, replace(line, name=plain), answers, habits, ingredients, names)
    grade = grade_said(line.name)
    if item is None or not grade or item.lot or (found := graded(item, grade)) is item:
        return item, named
    said = "; ".join(filter(None, (named.remark, changed_by(item, found))))
    return found, replace(named, ingredient=found, remark=said)


def _named(
    row: Row,
    line: Line,
    answers: Mapping[str, str],
    habits: Habits,
    ingredients: Mapping[str, Ingredient],
    names: NameIndex,
) -> Named:
    """Say which thing is meant, of whatever grade."""
    diluted = read_dilution(line.name)
    if diluted is not None and not names.match(line.name).sure:
        return _diluted(row, *diluted, ingredients, names)
    infused = _infused(line.name)
    if answers.get("name") == NONE_OF_THESE:
        return None, replace(row, reason=f"None of what was offered for “{line.name}”: {WRITE_IT}")
    known = answers.get("name") or dict(habits.meanings).get(normalise(line.name))
    if known is not None and known in ingredients:
        item = ingredients[known]
        plant = infused["plant"] if infused is not None else plant_of(item, line.name)
        return _settled(row, line.name, item, plant, infused=infused is not None)
    base = names.match(infused["base"]) if infused is not None else NameMatch(())
    oils = [ingredients[key] for key in base.keys if ingredients[key].is_fatty and key != UNNAMED_INFUSION]
    if infused is not None and oils:
        if base.sure:
            return _settled(row, line.name, oils[0], infused["plant"], infused=True)
        return _ask(row, infused["base"], oils, usual=_usual(infused["base"], oils, names))
    return _plain(row, line, ingredients, names)


def _diluted(
    row: Row, active: str, percent: float, base: str, ingredients: Mapping[str, Ingredient], names: NameIndex
) -> Named:
    """Something diluted in an oil; both must be known, for one of them is often what must not be passed."""
    meant = []
    for words in (active, base):
        match = names.match(words)
        if not match.sure:
            choices = " or ".join(ingredients[key].name for key in match.keys)
            said = f"may be {choices}: write which" if choices else "is not in the catalogue"
            return None, replace(row, reason=f"“{words}” in “{row.line.name}” {said}.")
        meant.append(ingredients[match.keys[0]])
    mixed = dilution(meant[0], percent, meant[1])
    return mixed, replace(row, status=RowStatus.READ, ingredient=mixed, remark="percent by mass, as counted here")


def _plain(row: Row, line: Line, ingredients: Mapping[str, Ingredient], names: NameIndex) -> Named:
    """A name that speaks of no infusion."""
    units = {term.unit for term in line.quantity.terms} if line.quantity is not None else set()
    match = names.match(line.name, in_drops="drop" in units)
    if not match.sure:
        match = _by_bracket(line.name, names, in_drops="drop" in units) or match
    if not match.sure and not names.exactly(line.name) and PLANT_ALONE.search(line.name.strip()):
        return None, replace(row, status=RowStatus.NOT_UNDERSTOOD, reason=f"“{line.name}” is {NO_OIL}")
    found = [ingredients[key] for key in match.keys]
    if not found:
        reason = f"“{line.name}” is not in the catalogue. Check the spelling, or use its INCI or botanical name."
        if match.remark:
            return None, replace(row, reason=f"{match.remark} {WRITE_IT[:1].upper()}{WRITE_IT[1:]}")
        if re.search(r"\boil$", line.name, re.IGNORECASE):
            plant = re.sub(r"\s*\boil$", "", line.name, flags=re.IGNORECASE)
            reason += f" If it is a plant in oil, say in which: “{plant} infused olive oil”."
        return None, replace(row, reason=reason)
    if not match.sure:
        usual = _usual(line.name, found, names, in_drops="drop" in units)
        return _ask(row, line.name, found, f" {match.remark}" if match.remark else "", usual)
    if found[0].phase is Phase.SCENT and units & SPOONED and not SCENT_WORDS.search(line.name):
        return _ask(
            row, line.name, [found[0], *(ingredients[k] for k in (UNNAMED_INFUSION,) if k in ingredients)], IN_SPOONS
        )
    return found[0], replace(row, status=RowStatus.READ, ingredient=found[0], remark=match.remark)


def _settled(row: Row, name: str, item: Ingredient, plant: str, *, infused: bool) -> Named:
    """A row that is settled; an oil that is said to be infused has that behind it, and is as old for its keeping."""
    row = replace(row, status=RowStatus.READ, ingredient=item, plant=plant_in(plant))
    if not infused or not item.is_fatty or item.key == UNNAMED_INFUSION:
        return item, row
    fresh = re.search(r"\bfresh\b", name, re.IGNORECASE) is not None
    past = LotPast(steps=() if fresh else TREATMENTS[USUAL_INFUSION], fresh_plant=fresh)
    how = "fresh plant" if fresh else f"dried plant: {USUAL_INFUSION}"
    return item, replace(
        row,
        past=past,
        remark=f"{item.name}, infused with {how}; the plant itself is not counted, its cautions go by its name",
    )


def _infused(words: str) -> re.Match[str] | None:
    """An oil that is said to be infused: the `plant` and the `base`."""
    return next(
        filter(None, (way.match(words) for way in (INFUSED_WITH, INFUSED_FIRST, INFUSED, PLANT_IN, DRIED_IN))), None
    )


def infusion_in(words: str) -> tuple[str, str] | None:
    """The plant and the oil that a name of an infused oil says; None where it says no oil, or no plant.

    >>> infusion_in("olive oil infused with calendula"), infusion_in("dried calendula in olive")
    (('calendula', 'olive oil'), ('calendula', 'olive'))
    >>> infusion_in("olive"), infusion_in("infused olive oil"), infusion_in("calendula infused oil")
    (None, None, None)
    """
    found = _infused(words)
    plant = plant_in(found["plant"]) if found is not None else ""
    return (plant, found["base"].strip(" ,")) if found is not None and plant else None


def plant_of(item: Ingredient, words: str) -> str:
    """The plant that an infused oil is called by, where nothing says which oil it is; empty for any other thing."""
    is_meant = item.key == UNNAMED_INFUSION and normalise(words) != normalise(item.name)
    return plant_in(words) if is_meant else ""


def plant_in(words: str) -> str:
    """The plant that the name of an infused oil says, without what it says besides; empty where it says none.

    >>> plant_in("dried St John's wort"), plant_in("Calendula infused oil"), plant_in("infused oil")
    ("St John's wort", 'Calendula', '')
    """
    return " ".join(NO_PLANT.sub(" ", words).strip(" -,:").split())


def _by_bracket(name: str, names: NameIndex, *, in_drops: bool) -> NameMatch | None:
    """What is meant by a name with another name of it in brackets; two things that are not the same are asked about."""
    bracket = IN_BRACKETS.search(name)
    if bracket is None:
        return None
    outside = names.exactly(IN_BRACKETS.sub("", name), in_drops=in_drops)
    inside = names.exactly(bracket["words"], in_drops=in_drops)
    if not outside.keys and not inside.keys:
        return None
    if outside.keys and inside.keys:
        both = tuple(key for key in outside.keys if key in inside.keys)
        if len(both) == 1:
            return NameMatch(both, sure=True)
        either = tuple(dict.fromkeys((*outside.keys, *inside.keys)))
        if not both:
            return NameMatch(either, remark=f"“{bracket['words']}” is another thing.", is_taken_for_another=True)
        return NameMatch(both)
    known = outside if outside.keys else inside
    return replace(known, remark=known.remark or (f"as it says: {bracket['words']}" if known.sure else ""))


def _usual(name: str, meant: Sequence[Ingredient], names: NameIndex, *, in_drops: bool = False) -> str:
    """The commonest of several things that bear a name; nothing when they are of different kinds, or only near it.

    The catalogue's own order says which that is: common practice.
    """
    borne = names.exactly(name, in_drops=in_drops) or _by_bracket(name, names, in_drops=in_drops) or NameMatch(())
    if borne.is_taken_for_another or not borne.keys or len({item.phase for item in meant}) > 1:
        return ""
    return meant[0].key


def _ask(row: Row, name: str, meant: Sequence[Ingredient], hint: str = "", usual: str = "") -> Named:
    options = (*(Option(item.key, item.name) for item in meant), Option(NONE_OF_THESE, "none of these"))
    asked = Question("name", f"Which “{name}”?{hint}", options, about=normalise(name), usual=usual)
    return None, replace(row, status=RowStatus.ASKED, questions=(asked,))
