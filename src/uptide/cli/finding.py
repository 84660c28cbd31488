"""`uptide find`: a wish in words, and blends that keep it, as text or JSON."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from uptide.cli.knowing import known_things

if TYPE_CHECKING:
    from uptide.core.finder.search.offers import Offer
    from uptide.core.finder.search.wish import Wish

SHOWN = ("linoleic", "oleic", "saturated", "feel", "clog", "keeps", "cost")
NOT_PROVEN = "Looked for and not proven: there may be a better one."


def find_blends(text: str, *, mine: bool, spoons: bool, as_json: bool) -> tuple[list[str], bool]:
    """The lines that answer a wish, and whether all of it was understood; where it was not, nothing is looked for."""
    from uptide.core.finder.search.measuring import Measure
    from uptide.core.skin.wearer import ANYONE
    from uptide.formats.find_json import found_out
    from uptide.workshop.finding import find, why_none, wish_said

    with known_things(mine=mine) as known:
        read = wish_said(text, known.facts, known.rate_shift)
        found: tuple[Offer, ...] = ()
        excluded = None
        if not read.not_read:
            measure = Measure.SPOONS if spoons else Measure.GRAMS
            found = find(read, known.facts, lambda recipe: known.assess(recipe, ANYONE, {}), known.habits, measure)
            if not found:
                excluded = why_none(read, known.facts)
    if as_json:
        return [found_out(read, found, excluded).model_dump_json(indent=2)], not read.not_read
    if read.not_read:
        return [f"Not understood: “{said}”: {why}." for said, why in read.not_read], False
    lines = [f"Asked: {words}" for words, _ in read.lines]
    for offer in found:
        lines += ["", f"{offer.objective.value}:", *(f"  {each}" for each in _offer_lines(offer, read.wish))]
    if found:
        return [*lines, "", NOT_PROVEN], True
    lines += ["", "Nothing that was looked for keeps all of it."]
    if excluded is not None and excluded.words:
        lines += [f"Exclude one another: {'; '.join(excluded.words)}.", *(f"  {give}" for give in excluded.gives)]
    return lines, True


def _offer_lines(offer: Offer, wish: Wish) -> Iterator[str]:
    for entry, row in zip(offer.recipe.entries, offer.assessment.rows, strict=True):
        yield f"{entry.typed}  ({row.percent_mass or 0.0:.1f} %)"
    known = ((wish.titled(name), offer.figure(name, wish)) for name in SHOWN)
    yield "; ".join(f"{title} {value:.3g} {unit}".strip() for (title, unit), value in known if value is not None)
