"""A thing on the board in words: what it is, where it stands, until when, and where its page is."""

from __future__ import annotations

from datetime import date

from uptide.core.keeping.board import Freshness, Kind, Thing
from uptide.core.months import say_day
from uptide.web.base.pages import number
from uptide.web.drawing.view import View


class MadeView(View):
    """Something that was made of a blend, as a link."""

    href: str
    what: str
    until: str


def thing_href(thing: Thing) -> str:
    """The page of a thing; of several bottles their batch’s."""
    if thing.kind is Kind.BATCH:
        return f"/making/{thing.key}"
    if thing.kind is Kind.BOTTLE:
        return f"/making/{thing.batch}#bottles" if thing.count > 1 else f"/bottles/{thing.key}"
    return f"/shelf/lots/{thing.key}"


def thing_what(thing: Thing) -> str:
    """What it is and where: “3 × 30 mL of batch 20261120-1, fridge, with Wren”."""
    if thing.kind is Kind.BATCH:
        parts = [f"batch {thing.key}, in no bottle yet"]
    elif thing.kind is Kind.BOTTLE:
        size = f"{number(thing.size_ml, 0)} mL" if thing.size_ml else "bottle"
        of = f" of batch {thing.batch}" if thing.batch else f", {thing.key}"
        parts = [f"{thing.count} × {size}{of}" if thing.count > 1 else f"{size}{of}"]
    else:
        parts = [f"lot {thing.key}, {number(thing.grams, 0)} g"]
    parts += [thing.place] if thing.place else []
    parts += [f"with {thing.holder}"] if thing.holder else []
    parts += [f"open since {say_day(thing.opened_on)}"] if thing.opened_on else []
    parts += [thing.status] if thing.status else []
    return ", ".join(parts)


def thing_until(thing: Thing, today: date) -> str:
    """Until when it keeps, in a word or a day."""
    freshness = thing.freshness(today)
    if freshness is Freshness.OFF:
        return "off"
    if freshness is Freshness.OVER:
        return "over"
    if freshness is Freshness.DOUBT:
        return "test it"
    return say_day(thing.ends_on) if thing.ends_on is not None else "not known"
