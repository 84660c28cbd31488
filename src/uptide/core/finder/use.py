"""What a thing is for and who wears it, in a few words: “facial oil for Ines”, “the face”, “pregnancy”."""

from __future__ import annotations

import re
from dataclasses import dataclass

from uptide.core.errors import QuantityError
from uptide.core.finder.known import BODY, FACE, NOBODY, Known
from uptide.core.measures.names import normalise
from uptide.core.skin.whom import Whom, before_a_product, read_whom

WHAT_FOR_WHOM = re.compile(r"^(?P<product>.+?)\s+(?:for|in|when|with|on|of)\s+(?P<whom>.+)$", re.IGNORECASE)
WHO_ON_WHAT = re.compile(r"^(?P<whom>.+?)\s+(?:on|in|as)\s+(?P<product>.+)$", re.IGNORECASE)
# “lavender for a child of 3”: what stands behind a thing is either understood or said not to be.
STEEPED = r"(?:.+?\b(?:infused|macerated|steeped)\s+(?:with|in)\s+)?"  # “olive oil infused with calendula” is one thing
BEHIND = re.compile(
    rf"^(?P<thing>{STEEPED}.+?)\s+(?P<by>for|on|in|with|as|during|when|while|if)\s+(?P<use>.+)$", re.IGNORECASE
)
MAY_BE_PART = ("in", "with", "as")  # of what something is called or made with, as in “macerated in olive”
# Short words for products; the rest is found by the product’s own name.
PRODUCTS = {
    "face": FACE,
    "face oil": FACE,
    "face serum": FACE,
    "serum": FACE,
    "night oil": FACE,
    "beard": FACE,
    "beard oil": FACE,
    "body": BODY,
    "bath": "bath-oil-floating",
    "bath oil": "bath-oil-floating",
    "roller": "roller-bottle",
    "roll on": "roller-bottle",
    "massage": "massage-oil",
    "scalp": "scalp-hair-oil",
    "hair": "scalp-hair-oil",
    "shower": "shower-oil",
    "cleanser": "cleansing-oil",
    "under eye": "under-eye-roll-on",
    "under eyes": "under-eye-roll-on",
    "eye area": "under-eye-roll-on",
}


@dataclass(frozen=True, slots=True)
class Use:
    """What something is for and who wears it; the key of the product is empty where none was said."""

    said: str = ""
    whom: Whom = NOBODY

    @property
    def product(self) -> str:
        """The key of the product: a body oil unless another was said."""
        return self.said or BODY

    @property
    def who(self) -> str:
        """The words that say whom, behind a blank; empty for anyone."""
        return f" {self.whom.words}".rstrip()


def read_use(words: str, known: Known) -> Use | None:
    """The product and the wearer that words name; a card goes before a product of its name. None for neither."""
    whom = read_whom(words, known.people, known.today)
    if whom is not None:
        return Use(whom=whom)
    if product := _product(words, known):
        return Use(product)
    for pattern in (WHAT_FOR_WHOM, WHO_ON_WHAT):
        found = pattern.match(words)
        product = _product(found["product"], known) if found else ""
        whom = read_whom(found["whom"], known.people, known.today) if found and product else None
        if whom is not None:
            return Use(product, whom)
    for whom, rest in before_a_product(words, known.people, known.today):
        if product := _product(rest, known):
            return Use(product, whom)
    return None


def meant_use(words: str, known: Known) -> Use:
    """What stands behind a size: “for Ines”, “of face oil”; nothing means a body oil for anyone.

    Raises:
        QuantityError: they are neither.
    """
    if not words.strip():
        return Use()
    use = read_use(words, known)
    if use is None:
        raise QuantityError(
            f"“{words}” is neither a product nor somebody known here. Ask as in “lavender in 30 ml of facial oil” or "
            "“lavender in 30 ml of facial oil for Ines”."
        )
    return use


def apart(words: str, known: Known) -> tuple[str, Use]:
    """A thing, and the use that stands behind it: “lavender for a child of 3”. A name may hold such words itself.

    Raises:
        QuantityError: what stands behind it is no use: left out, the answer would be somebody else's.
    """
    found = None if known.names.exactly(words) else BEHIND.match(words)
    if found is None:
        return words, Use()
    if found["by"].lower() in MAY_BE_PART:
        use = read_use(found["use"], known)
        return (words, Use()) if use is None else (found["thing"], use)
    return found["thing"], meant_use(found["use"], known)


def both(first: Use, second: Use) -> Use:
    """Two uses in one: the product of the one, the wearer of the other.

    Raises:
        QuantityError: each names another wearer, or another product.
    """
    if first.whom is not NOBODY and second.whom is not NOBODY:
        raise QuantityError(f"This is asked {first.whom.words} and {second.whom.words}: ask one after the other.")
    if first.said and second.said and first.said != second.said:
        raise QuantityError("This is asked for two products at once: ask one after the other.")
    return Use(first.said or second.said, first.whom if second.whom is NOBODY else second.whom)


def _product(words: str, known: Known) -> str:
    """The key of the product these words name: a short word for it, or the first words of its name; empty for none."""
    said = normalise(re.sub(r"^(?:an?|the|my|our|your|his|her|their)\s+", "", words.strip(), flags=re.IGNORECASE))
    if not said:
        return ""
    begins = (key for key, name in known.products.items() if f"{normalise(name)} ".startswith(f"{said} "))
    return PRODUCTS.get(said) or next(begins, "")
