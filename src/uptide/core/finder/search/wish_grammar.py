"""The grammar of a wish: what one thing that is asked of a blend is made of, as in “linoleic over 50”, “no nuts”.

What it means is decided in `wish_reader`; what is none of these may still be a product, somebody, or an oil.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

from lark import Token, Tree
from lark.exceptions import LarkError

from uptide.core.finder.filter_words import (
    ABOVE,
    AT_LEAST,
    AT_MOST,
    BELOW,
    COMPARATIVES,
    FIGURE_WORDS,
    NEVER_CLOGS,
    NUMBER,
)
from uptide.core.finder.search.wish import Objective
from uptide.core.grammar import Grammar
from uptide.core.oxidation.surroundings import PLACES
from uptide.core.skin.wearer import SKINS

# Figures of a blend by the words for them: some are the shelf's, with others in them.
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
# Of a blend the tint on skin, of an oil its strength.
FIGURE_NAMED = {
    said: FIGURES_OF[named] for said, named in {**FIGURE_WORDS, **MORE_FIGURES}.items() if named in FIGURES_OF
}
COST = "cost"
# What “more than that oil” is at the least: a felt step, of a thickness a part of it, a point of an acid.
A_STEP = {"feel": 0.4, "thickness": 0.1, "clog": 1.0, "linoleic": 1.0, "oleic": 1.0, "saturated": 1.0, "omega 3": 1.0}
LIGHT, RICH = 2.4, 3.2  # of 4, at most and at least
AT_MOST_FELT = {"light": LIGHT, "lightweight": LIGHT, "dry": 1.5, "fast": LIGHT, "medium": 3.4}
AT_MOST_FELT |= dict.fromkeys(("fast absorbing", "quickly absorbed", "not greasy", "non greasy"), LIGHT)
AT_LEAST_FELT = {"rich": RICH, "heavy": RICH}
FRESH = ("with fresh bottles", "fresh bottles", "from fresh bottles", "bought fresh", "fresh")
ON_HAND = ("on hand", "mine", "from my shelf", "on my shelf", "in stock", "from what i have", "using what i have")
WORDS = {"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "nine": 9, "twelve": 12, "eighteen": 18}
CURRENCIES = {"GBP": r"£|pounds?|gbp|quid", "EUR": r"€|euros?|eur", "USD": r"\$|dollars?|usd"}
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


def _any(words: Iterable[str]) -> str:
    """A pattern of any of these, the longest first, with a hyphen for a blank."""
    ordered = sorted(words, key=len, reverse=True)
    return f"(?:{'|'.join(re.escape(word).replace(chr(92) + ' ', '[ -]') for word in ordered)})(?![a-z0-9])"


_END = r"(?![a-z])"
_MONEY = "|".join(CURRENCIES.values())
_SCENT = r"(?:scents?|fragrances?|perfumes?|essential oils?)"
_FEELS = (*AT_MOST_FELT, *AT_LEAST_FELT)

# A pattern of the grammar cannot be broken over lines. What ends in `$` is a whole wish or none.
RULES = rf"""
?ask: size | on_hand | fresh | best | count | keeps | sets | clear | solid | cost | figure | much | never_clogs
    | comparative | lots | acids | inert | skin | feel | vegan | unscented | without | holds

size: BOTTLE_OF? number VOLUME BOTTLE? OF?
on_hand: ON_HAND
fresh: FRESH
best: THE? OBJECTIVE
count: bound_word? number DIFFERENT? OILS | BETWEEN? number (TO | OR) number DIFFERENT? OILS
keeps: (KEEPS FOR?)? bound_word? span (IN_A PLACE)?
span: number (MONTHS | YEARS) | HALF? (A_MONTH | A_YEAR)
sets: MAY_SET
clear: CLEAR (AT number DEGREES? | IN_THE_FRIDGE)
solid: SOLID bound_word number PERCENT? (AT number DEGREES?)?
cost: COST IS? (bound_word amount | amount BEHIND | BETWEEN? amount TO amount)
    | bound_word priced | priced BEHIND
amount: CURRENCY? number CURRENCY?
priced: CURRENCY number CURRENCY? | number CURRENCY
figure: FIGURE IS? (bound | range) | (bound | range) OF? FIGURE
much: (HIGH | LOW) FIGURE
never_clogs: NEVER_CLOGS OILS?
comparative: COMPARATIVE THAN REST
lots: LOTS
acids: ACIDS bound_word number UNIT?
inert: bound INERT
skin: SKIN
feel: FEEL FEELS? OILS?
vegan: VEGAN
unscented: UNSCENTED
without: NO REST | FREE
holds: WITH (number PERCENT OF?)? REST | WITH? bound OF? REST | WITH REST bound_word? number PERCENT
    | number PERCENT OF? REST
bound: bound_word number (UNIT | PERCENT)?
range: BETWEEN? number (UNIT | PERCENT)? TO number (UNIT | PERCENT)?
bound_word: ABOVE | AT_LEAST | BELOW | AT_MOST
number: NUMBER | WORD

ON_HAND.5: /{_any(ON_HAND)}$/
FRESH.5: /{_any(FRESH)}$/
VEGAN.5: /(?:(?:is )?(?:vegan|plant[- ]based)|(?:no|nothing of|without) animals?(?: products?)?)$/
UNSCENTED.6: /(?:unscented|(?:without|no|free of) {_SCENT}|{_SCENT}[ -]free)$/
MAY_SET.5: /(?:(?:it )?(?:may|can) (?:set|cloud|be (?:cloudy|solid|soft|hard))|solid|balm|butter)$/
LOTS.5: /(?:(?:holds )?(?:for|in) )?(?:nine|9) lots (?:in|of|out of) (?:ten|10)$/
SKIN.5: /(?:for |suits )?{_any(SKINS)} skin$/
FREE.5: /\w.*?[ -]free$/
IN_THE_FRIDGE.4: /in the fridge$/
BEHIND.4: /(?:at most|at the most|or less|or under|max(?:imum)?)$/
INERT.4: /(?:inert|squalane and the like|that cannot oxidise)$/
OBJECTIVE.4: /{_any(OBJECTIVES)}$/
NEVER_CLOGS.4: /{NEVER_CLOGS}/
COMPARATIVE.4: /{_any(word for word, (figure, _) in COMPARATIVES.items() if figure in A_STEP)}/
HIGH.4: /(?:high|rich)(?: in)?(?= {_any(FIGURE_NAMED)}$)/
LOW.4: /(?:low|poor)(?: in)?(?= {_any(FIGURE_NAMED)}$)/
KEEPS.3: /(?:that )?(?:keeps?|lasts?|shelf life(?: of)?){_END}/
COST.4: /(?:costs?|price){_END}/
FIGURE.3: /(?:the )?{_any(FIGURE_NAMED)}/
ACIDS.4: /(?:fatty )?acids(?: in it)?{_END}/
SOLID.4: /solid(?: fat)?(?= \S)/
CLEAR.3: /(?:stays? )?clear{_END}/
FEEL.3: /{_any(_FEELS)}/
BOTTLE_OF.3: /(?:bottle|jar|tin|pot) of{_END}/
BOTTLE.3: /(?:bottle|jar|tin|pot)s?{_END}/
VOLUME.3: /(?:{"|".join(SIZES)}){_END}/
ABOVE.3: /(?:{ABOVE})/
AT_LEAST.3: /(?:{AT_LEAST})/
BELOW.3: /(?:{BELOW}|fewer than)/
AT_MOST.3: /(?:{AT_MOST}|no more than|max(?:imum)?{_END})/
CURRENCY.3: /(?:{_MONEY}){_END}/
PLACE.3: /{_any(PLACES)}/
NO.2: /(?:no|with no|without|not|free of|free from){_END}/
WITH.2: /(?:with|must hold|must have|holds|scented with){_END}/
BETWEEN.2: /between{_END}/
TO.2: /(?:to|and){_END}|-|–/
OR.2: /or{_END}/
OF.2: /of{_END}/
FOR.2: /for{_END}/
AT.2: /at{_END}/
IN_A.2: /(?:in|on)(?: (?:an?|the))?{_END}/
IS.2: /is{_END}/
THE.2: /the{_END}/
THAN.2: /than{_END}/
HALF.2: /half{_END}/
A_YEAR.2: /an? year{_END}/
A_MONTH.2: /an? month{_END}/
MONTHS.2: /months?{_END}/
YEARS.2: /years?{_END}/
DEGREES.2: /°c?|degrees?{_END}|c{_END}/
DIFFERENT.2: /different{_END}/
OILS.2: /oils?{_END}/
FEELS.2: /feel{_END}/
UNIT.2: /mpa.?s{_END}|of \d|g\/100 ?g{_END}/
PERCENT.2: /%|percent{_END}/
WORD.2: /{_any(WORDS)}/
NUMBER.2: /{NUMBER}/
REST.1: /\w.*?(?= (?:(?:at least|over) )?{NUMBER} ?%$|$)/

%ignore " "
"""

ASKS = Grammar(RULES, start="ask", maybe_placeholders=False)
# What may stand before anything and asks nothing: “something light”, “a rich oil”, “that is vegan”.
_LEADS = r"an?|the|some|something|that|which|it|is|are|should|be|of|i want|i need|make me|make"
LEAD = re.compile(rf"^(?:(?:{_LEADS})\s+)+(?=\S)")


def plainly(said: str) -> str:
    """Small letters, one blank between words, “omega 3” without its hyphen."""
    return " ".join(said.lower().split()).replace("omega-", "omega ")


def read_ask(said: str) -> Tree[Token] | None:
    """What one thing that is asked is made of; None where it is nothing that the grammar knows."""
    for each in dict.fromkeys((said, LEAD.sub("", said))):
        try:
            return ASKS.parser.parse(each)
        except LarkError:
            continue
    return None
