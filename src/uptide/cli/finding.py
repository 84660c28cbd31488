"""`uptide find`: a wish in words, and blends that keep it, as text or JSON."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from typing import TYPE_CHECKING

from uptide.cli.knowing import known_things

if TYPE_CHECKING:
    from uptide.core.finder.search.offers import Offer
    from uptide.core.finder.search.wish import Wish

SHOWN = ("linoleic", "oleic", "saturated", "feel", "clog", "keeps", "cost")
STDOUT, STDERR = 1, 2


@contextmanager
def _solver_silenced() -> Iterator[None]:
    """HiGHS prints a line of its own now and then, past Python: it goes to the errors, so that JSON stays JSON."""
    sys.stdout.flush()
    kept = os.dup(STDOUT)
    os.dup2(STDERR, STDOUT)
    try:
        yield
    finally:
        os.dup2(kept, STDOUT)
        os.close(kept)


@_solver_silenced()
def find_blends(text: str, *, mine: bool, spoons: bool, as_json: bool) -> tuple[list[str], bool]:
    """The lines that answer a wish, and whether all of it was understood; where it was not, nothing is looked for."""
    from uptide.core.finder.search.measuring import Measure
    from uptide.core.skin.wearer import ANYONE
    from uptide.formats.find_json import found_out
    from uptide.workshop.finding import conflicts_of, find, wish_said

    with known_things(mine=mine) as known:
        read = wish_said(text, known.facts, known.rate_shift, known.people)
        found: tuple[Offer, ...] = ()
        excluded = None
        if not read.not_read:
            measure = Measure.SPOONS if spoons else Measure.GRAMS
            wearer = read.described or known.people.get(read.whom.lower(), ANYONE)
            looked = find(read, known.facts, lambda recipe: known.assess(recipe, wearer, {}), known.habits, measure)
            found = tuple(looked)
            if not found:
                excluded = conflicts_of(read, known.facts).found()
    if as_json:
        return [found_out(read, found, excluded).model_dump_json(indent=2)], not read.not_read
    if read.not_read:
        return [f"Not understood: “{said}”: {why}." for said, why in read.not_read], False
    lines = [f"Asked: {words}" for words, _ in read.lines]
    for offer in found:
        lines += ["", f"{offer.objective.value}:", *(f"  {each}" for each in _offer_lines(offer, found, read.wish))]
    if found:
        return lines, True
    lines += ["", "Nothing that was looked for keeps all of it."]
    if excluded is not None and excluded.words:
        lines += [f"Exclude one another: {'; '.join(excluded.words)}.", *(f"  {give.words}" for give in excluded.gives)]
    return lines, True


def _offer_lines(offer: Offer, found: Sequence[Offer], wish: Wish) -> Iterator[str]:
    from uptide.core.finder.search.comparing import bound_said, gives_up, lots_said

    for entry, row in zip(offer.recipe.entries, offer.assessment.rows, strict=True):
        yield f"{entry.typed}  ({row.percent_mass or 0.0:.1f} %)"
    known = ((wish.titled(name), offer.figure(name, wish)) for name in SHOWN)
    yield "; ".join(f"{title} {value:.3g} {unit}".strip() for (title, unit), value in known if value is not None)
    worse = gives_up(offer, found, wish)
    if worse:
        yield f"Gives up: {worse}."
    yield f"{bound_said(offer, offer.bound(), wish)}."
    lots = lots_said(offer, wish)
    if lots:
        yield f"{lots}."
