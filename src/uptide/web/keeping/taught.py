"""What it taught: what was foreseen against what came, what batches cost, and what was thrown out in a year."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse

from uptide.core.months import months_between, say_day
from uptide.web.base.dependencies import Store
from uptide.web.base.pages import number, render
from uptide.web.drawing.view import View
from uptide.workshop.taught import Finished, Taught, what_it_taught

router = APIRouter(prefix="/keeping/taught", include_in_schema=False)

SIDE, MARGIN, MOST_MONTHS = 260.0, 30.0, 36.0  # user units of the picture; months that it reaches
LONGEST = 200  # rows


class DotView(View):
    """A finished bottle on the picture."""

    x: float
    y: float
    words: str
    href: str
    turned: bool


@router.get("")
def show(request: Request, store: Store) -> HTMLResponse:
    """Show what the model promised in this house, and what came of it."""
    taught = what_it_taught(store)
    return render(
        request,
        "keeping/taught.html",
        sentence=_sentence(taught),
        dots=[_dot(each) for each in taught.finished[-LONGEST:]],
        side=SIDE,
        margin=MARGIN,
        scale=(SIDE - MARGIN) / MOST_MONTHS,
        finished=[
            (
                each.number,
                each.name,
                say_day(each.foreseen_on),
                say_day(each.ended_on),
                "smelled off" if each.turned else "used up or thrown out",
            )
            for each in reversed(taught.finished[-LONGEST:])
        ],
        costs=[
            (
                each.number,
                each.name,
                f"{number(each.total, 2)} {each.currency}",
                f"{100 * each.unpriced:.0f} % has no price" if each.unpriced > 0 else "",
            )
            for each in taught.costs
        ],
        thrown=[
            (
                each.code,
                say_day(each.on),
                f"{number(each.grams, 1)} g",
                each.why,
                f"{number(each.cost, 2)} {each.currency}" if each.cost is not None else "no price",
            )
            for each in taught.thrown
        ],
        discarded=[(number, name, say_day(on), why) for number, name, on, why in taught.discarded],
        wasted=_wasted(taught),
    )


def _sentence(taught: Taught) -> str:
    turned = len(taught.turned)
    if not turned:
        rest = len(taught.finished)
        said = f" {rest} were used up or thrown out before anybody smelled one off." if rest else ""
        return f"No bottle was smelled off yet, so that nothing tells whether the promise holds here.{said}"
    return (
        f"Of {turned} bottle{'s' if turned != 1 else ''} that somebody smelled off, {taught.kept_promise} lasted at "
        f"least as long as promised: {100 * taught.kept_promise / turned:.0f} %, where nine in ten should."
    )


def _wasted(taught: Taught) -> str:
    by: dict[str, float] = {}
    for each in taught.thrown:
        if each.cost is not None:
            by[each.currency] = by.get(each.currency, 0.0) + each.cost
    return ", ".join(f"{number(total, 2)} {currency}" for currency, total in by.items())


def _dot(each: Finished) -> DotView:
    scale = (SIDE - MARGIN) / MOST_MONTHS
    foreseen = min(MOST_MONTHS, months_between(each.made_on, each.foreseen_on))
    lasted = min(MOST_MONTHS, months_between(each.made_on, each.ended_on))
    return DotView(
        x=MARGIN + scale * foreseen,
        y=SIDE - MARGIN - scale * lasted,
        words=f"{each.name}, {each.number}: promised {number(foreseen, 1)} months, {number(lasted, 1)} until it ended",
        href=f"/bottles/{each.number}",
        turned=each.turned,
    )
