"""An amount as a form says it: grams, or a volume that goes through the density of what it is."""

from __future__ import annotations

import re

from uptide.core.errors import QuantityError
from uptide.core.measures.amounts import grams_of
from uptide.core.measures.grammar import QuantityKind, read_quantity
from uptide.core.measures.habits import Habits
from uptide.web.base.forms import number_of

NUMBER_ALONE = re.compile(r"[-+]?[\d.,]+")
MOST_GRAMS = 1e6


def grams_said(text: str, density: float | None, habits: Habits) -> float | None:
    """An amount [g]: a number alone is in grams, a volume goes through the oil’s density [g/mL] as on the bench.

    Nothing said is None.

    Raises:
        QuantityError: what is no amount, and what is more than any shelf holds.
    """
    if not text.strip():
        return None
    if NUMBER_ALONE.fullmatch(text.strip()):
        return number_of(text, "amount in grams", most=10 * MOST_GRAMS)
    try:
        quantity = read_quantity(text)
        if quantity.kind is not QuantityKind.MEASURE or density is None:
            raise QuantityError("it is no measured amount")  # noqa: TRY301
        grams = grams_of(quantity.terms, density, habits).typical
    except QuantityError as error:
        raise QuantityError(f"“{text}” is not an amount; write “500 g”, “500 ml” or “16 fl oz”.") from error
    if grams > MOST_GRAMS:
        raise QuantityError(f"{text} is too much for a lot; up to {MOST_GRAMS:g} g is kept.")
    return grams
