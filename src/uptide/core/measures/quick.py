"""One sum, answered without making a record: “2% of 30 ml in drops”, “2 tbsp grapeseed in g”."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Protocol

from uptide.core.errors import NotAnAmountError, QuantityError
from uptide.core.measures.amounts import grams_of, unit_size
from uptide.core.measures.grammar import Quantity, QuantityKind, read_quantity
from uptide.core.measures.habits import DROP_SCHOOLS, DROPS_HIGH, DROPS_LOW, Habits
from uptide.core.measures.lines import Line, parse_line
from uptide.core.measures.names import NameIndex
from uptide.core.measures.say import say_number
from uptide.core.measures.units import UNITS, Dimension, Unit

ASKED = re.compile(r"^(?P<what>.+?)\s+(?:in|into|as|to|=)\s+(?P<target>[^=]+?)\s*\??$", re.IGNORECASE)
SHARE = re.compile(r"^(?P<share>[\d.,]+\s*(?:%|per\s?cent))\s+(?:of\s+)?(?P<whole>\d.*)$", re.IGNORECASE)
HELP = "Ask as in “argan”, “instead of argan”, “2% of 30 ml in drops” or “12 drops lavender in 30 ml”."
FLUID = (Dimension.VOLUME, Dimension.DROPS, Dimension.HELD)


class Substance(Protocol):
    """What the quick line needs to know of an ingredient."""

    @property
    def name(self) -> str:
        """Its name."""
        ...

    @property
    def spoon_density(self) -> float:
        """Grams in a millilitre of a spoon [g/mL at 20 °C]."""
        ...


@dataclass(frozen=True, slots=True)
class QuickAnswer:
    """The answer in one line, how it came about, and what the other school would say.

    `about` is the key of the one thing it is about, `recipe` what can go on with it at the bench as `product` for
    `wearer`, a name or the words that say it without one; `lines` are more of the answer as labels and words, `beside`
    is what it is held against.
    """

    answer: str
    working: str
    remark: str = ""
    about: str = ""
    recipe: str = ""
    product: str = ""
    wearer: str = ""
    lines: tuple[tuple[str, str], ...] = ()
    beside: str = ""


def answer(question: str, habits: Habits, substances: Mapping[str, Substance], names: NameIndex) -> QuickAnswer:
    """Answer a sum.

    Raises:
        QuantityError: it was not understood; the message says what was found and how to ask.
    """
    asked = ASKED.match(question.strip())
    what, target = (asked["what"], asked["target"]) if asked else (question.strip(), "")
    factor, share = 1.0, SHARE.match(what)
    if share:
        factor = read_quantity(share["share"].strip()).terms[0].typical / 100
        what = share["whole"]
    line = parse_line(what)
    if line.problem:
        raise QuantityError(line.problem)
    if line.quantity is None or line.quantity.kind is not QuantityKind.MEASURE:
        raise QuantityError(f"“{what}” has no measured amount. {HELP}")
    substance = _substance(line, substances, names)
    millilitres, grams = _amount(line.quantity, substance, habits)
    millilitres, grams = (None if v is None else v * factor for v in (millilitres, grams))
    source = f"{share['share'].strip()} of {line.quantity.words}" if share else line.quantity.words
    if not target:
        return _plain(source, substance, millilitres, grams)
    whole = _whole(target)
    if whole is not None:
        return _as_share(source, substance, millilitres, grams, whole, habits)
    return _in_unit(source, substance, millilitres, grams, _unit(target), habits)


def _substance(line: Line, substances: Mapping[str, Substance], names: NameIndex) -> Substance | None:
    if not line.name:
        return None
    drops = line.quantity is not None and any(term.unit == "drop" for term in line.quantity.terms)
    match = names.match(line.name, in_drops=drops)
    if not match.keys:
        raise QuantityError(f"“{line.name}” is not in the catalogue.")
    densities = {substances[key].spoon_density for key in match.keys}
    if not match.sure and max(densities) - min(densities) > 0.01:
        raise QuantityError(f"Which “{line.name}”? {' or '.join(substances[key].name for key in match.keys)}.")
    return substances[match.keys[0]]


def _amount(quantity: Quantity, substance: Substance | None, habits: Habits) -> tuple[float | None, float | None]:
    """Volume [mL] and mass [g]; None for the one that needs a density nobody gave."""
    units = {UNITS[term.unit] for term in quantity.terms}
    if any(unit.dimension is Dimension.UNCLEAR for unit in units):
        raise QuantityError(f"“{quantity.words}” may be meant by volume or by weight: write fl oz, or oz by weight.")
    if any(unit.dimension is Dimension.BLOBS for unit in units):
        raise QuantityError("A blob has no size; weigh it.")
    if substance is not None:
        grams = grams_of(quantity.terms, substance.spoon_density, habits).typical
        return grams / substance.spoon_density, grams
    if all(unit.dimension in FLUID for unit in units):
        return grams_of(quantity.terms, 1.0, habits).typical, None
    if all(unit.dimension in (Dimension.MASS, Dimension.CAPSULES) for unit in units):
        return None, grams_of(quantity.terms, 1.0, habits).typical
    raise QuantityError(f"“{quantity.words}” adds volume to weight: say of which oil.")


def _unit(target: str) -> Unit:
    word = re.sub(r"^(?:us|uk|metric)\s+", "", target.strip(), flags=re.IGNORECASE)
    try:
        terms = read_quantity(f"1 {word}").terms
    except QuantityError as error:
        raise QuantityError(f"“{target}” is no unit. {HELP}") from error
    if len(terms) != 1 or not terms[0].unit:
        raise QuantityError(f"“{target}” is no unit. {HELP}")
    return UNITS[terms[0].unit]


def _whole(target: str) -> Quantity | None:
    try:
        quantity = read_quantity(target)
    except NotAnAmountError:
        return None
    return quantity if quantity.kind is QuantityKind.MEASURE and target.strip()[0].isdigit() else None


def _plain(source: str, substance: Substance | None, millilitres: float | None, grams: float | None) -> QuickAnswer:
    parts = [f"{say_number(value)} {unit}" for value, unit in ((grams, "g"), (millilitres, "mL")) if value is not None]
    of = f" of {substance.name}" if substance else ""
    return QuickAnswer(" = ".join(parts), f"{source}{of}{_density_words(substance)}")


def _density_words(substance: Substance | None) -> str:
    return f", {say_number(substance.spoon_density)} g/mL at 20 °C" if substance else ""


def _as_share(
    source: str,
    substance: Substance | None,
    millilitres: float | None,
    grams: float | None,
    whole: Quantity,
    habits: Habits,
) -> QuickAnswer:
    total_ml, total_g = _amount(whole, None, habits)
    if total_ml is not None and millilitres is not None:
        part, total, unit = millilitres, total_ml, "mL"
    elif total_g is not None and grams is not None:
        part, total, unit = grams, total_g, "g"
    else:
        raise QuantityError(f"{source} and {whole.words} are a volume and a weight: say of which oil.")
    by = "volume" if unit == "mL" else "mass"
    return QuickAnswer(
        f"{say_number(100 * part / total, 3)} % by {by}",
        f"{say_number(part)} {unit} in {say_number(total)} {unit}",
        _drops_remark(habits) if "drop" in source else "",
    )


def _in_unit(
    source: str, substance: Substance | None, millilitres: float | None, grams: float | None, unit: Unit, habits: Habits
) -> QuickAnswer:
    if unit.dimension is Dimension.DROPS:
        if millilitres is None:
            raise QuantityError(f"{source} is a weight: say of which oil, to count it in drops.")
        drops = millilitres * habits.drops_per_ml
        others = ", ".join(
            f"{say_number(millilitres * rate, 3)} at {rate:g}/mL"
            for rate in DROP_SCHOOLS.values()
            if rate != habits.drops_per_ml
        )
        return QuickAnswer(
            f"{say_number(drops, 3)} drops",
            f"{source} = {say_number(millilitres)} mL × {habits.drops_per_ml:g} drops/mL",
            f"{others}. {_drops_remark(habits)}",
        )
    if unit.dimension not in (Dimension.VOLUME, Dimension.MASS):
        raise QuantityError(f"A sum cannot be given in {unit.plural}; ask for g, mL, spoons or drops.")
    is_mass = unit.dimension is Dimension.MASS
    have = grams if is_mass else millilitres
    if have is None:
        raise QuantityError(
            f"From volume to weight goes through density: say of which oil, as in “{source} jojoba in {unit.singular}”."
        )
    value = have / unit_size(unit, habits)
    return QuickAnswer(
        f"{say_number(value)} {unit.say(value)}",
        f"{source}{' of ' + substance.name if substance else ''}{_density_words(substance)}",
    )


def _drops_remark(habits: Habits) -> str:
    return f"Real droppers give {DROPS_LOW:g} to {DROPS_HIGH:g} drops to the mL." if habits.drops != "own" else ""
