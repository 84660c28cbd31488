"""`uptide find`: a wish in words, and blends that keep it, as text or JSON."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import TYPE_CHECKING, Any

from uptide.cli.knowing import known_things

if TYPE_CHECKING:
    from uptide.cli.knowing import Knowing
    from uptide.core.finder.search.offers import Offer
    from uptide.core.finder.search.oil_table import OilTable
    from uptide.core.finder.search.wish import Wish
    from uptide.core.finder.search.wish_words import ReadWish

SHOWN = ("linoleic", "oleic", "saturated", "feel", "clog", "keeps", "cost")
NOT_PROVEN = "Looked for and not proven: there may be a better one."


def find_blends(text: str, *, mine: bool, spoons: bool, as_json: bool) -> tuple[list[str], bool]:
    """The lines that answer a wish, and whether all of it was understood; where it was not, nothing is looked for."""
    from uptide.core.finder.ask import PRODUCTS
    from uptide.core.finder.search.measuring import Measure
    from uptide.core.finder.search.offers import conflict, offers
    from uptide.core.finder.search.wish_words import read_wish
    from uptide.core.oxidation.simulate import standard_draws
    from uptide.core.skin.wearer import ANYONE

    with known_things(mine=mine) as known:
        products = {name.lower(): key for key, name in known.facts.product_names.items()}
        read = read_wish(
            text, known.facts.names, products | {name: key for name, key in PRODUCTS.items() if " " in name}
        )
        if read.not_read:
            return _not_understood(read, as_json=as_json), False
        table, draws = _oils(read.wish, known), standard_draws()
        objectives = (read.objective,) if read.objective is not None else ()
        found = list(
            offers(
                read.wish,
                table,
                draws,
                lambda recipe: known.assess(recipe, ANYONE, {}),
                habits=known.habits,
                measure=Measure.SPOONS if spoons else Measure.GRAMS,
                product=read.product,
                **({"objectives": objectives} if objectives else {}),
            )
        )
        excluded = None if found else conflict(read.wish, table, draws)
    if as_json:
        return [json.dumps(_as_json(read, found, excluded), ensure_ascii=False, indent=2)], True
    lines = [f"Asked: {line}" for line in read.lines]
    for offer in found:
        lines += ["", f"{offer.objective.value}:", *(f"  {each}" for each in _offer_lines(offer, read.wish))]
    if found:
        return [*lines, "", NOT_PROVEN], True
    lines += ["", "Nothing that was looked for keeps all of it."]
    if excluded is not None and excluded.words:
        lines += [f"Exclude one another: {'; '.join(excluded.words)}.", *(f"  {give}" for give in excluded.gives)]
    return lines, True


def _not_understood(read: ReadWish, *, as_json: bool) -> list[str]:
    if as_json:
        asked = [{"said": said, "why": why} for said, why in read.not_read]
        return [json.dumps({"not_understood": asked, "limits": list(read.lines)}, ensure_ascii=False, indent=2)]
    return [f"Not understood: “{said}”: {why}." for said, why in read.not_read]


def _oils(wish: Wish, known: Knowing) -> OilTable:
    """The oils that a wish may be made of: the lots on the shelf, or all that are shipped; with prices where known."""
    from uptide.core.finder.search.oil_table import oil_table

    facts = known.facts
    left = {code for lots in facts.on_hand.values() for code, _ in lots}
    items = [item for item in facts.ingredients.values() if (item.lot in left if wish.on_hand else not item.lot)]
    return oil_table(items, {key: price.per_gram for key, price in facts.prices.items()})


def _offer_lines(offer: Offer, wish: Wish) -> Iterator[str]:
    for entry, row in zip(offer.recipe.entries, offer.assessment.rows, strict=True):
        yield f"{entry.typed}  ({row.percent_mass or 0.0:.1f} %)"
    yield "; ".join(_figure(offer, wish, name) for name in SHOWN if offer.figure(name, wish) is not None)


def _figure(offer: Offer, wish: Wish, name: str) -> str:
    from uptide.core.finder.search.wish import FIGURES

    title, unit = FIGURES[name]
    return f"{title} {offer.figure(name, wish):.3g} {unit}".strip()


def _as_json(read: ReadWish, found: list[Offer], excluded: Any) -> dict[str, Any]:
    return {
        "wish": list(read.lines),
        "answers": [
            {
                "best_at": offer.objective.value,
                "rows": [entry.typed for entry in offer.recipe.entries],
                "percent": [row.percent_mass for row in offer.assessment.rows],
                "figures": {name: offer.figure(name, read.wish) for name in SHOWN},
            }
            for offer in found
        ],
        "proven": False,
        "conflict": None if excluded is None else {"limits": list(excluded.words), "gives": list(excluded.gives)},
    }
