"""Use it up: from what turns first, own blends that use it, and what it would be worth to act now."""

from __future__ import annotations

from urllib.parse import urlencode

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse

from uptide.core.months import say_day
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.pages import number, render
from uptide.web.drawing.view import View
from uptide.web.views.lots import lot_words
from uptide.workshop.using import ToUse, Uses, to_use

router = APIRouter(prefix="/keeping/use-up", include_in_schema=False)


class ToUseView(View):
    """A lot that turns soon, in words."""

    code: str
    name: str
    words: str
    acts: tuple[str, ...]
    uses: tuple[tuple[str, str, str], ...]  # page, name, how much
    fresh: str
    find: str


@router.get("")
def show(request: Request, store: Store, shelf: OnShelf) -> HTMLResponse:
    """Show what turns first with what can be done about it."""
    return render(request, "keeping/use_up.html", lots=[_view(each) for each in to_use(store, shelf)])


def _view(each: ToUse) -> ToUseView:
    lot = each.standing.lot
    acts = [f"{act.what[:1].upper()}{act.what[1:]}: about {number(act.months, 1)} months more." for act in each.acts]
    if each.worth is not None:
        acts.append(f"Left until it turns, {number(each.worth, 2)} {lot.currency} are thrown out.")
    ends = each.standing.life.ends_on
    return ToUseView(
        code=lot.code,
        name=each.standing.item.name.removesuffix(f", lot {lot.code}"),
        words=f"{number(lot.left_g, 0)} g, {lot_words(each.standing)}{f', until {say_day(ends)}' if ends else ''}",
        acts=tuple(acts),
        uses=tuple(_use(use) for use in each.uses),
        fresh=f"/blends/new?{urlencode({'recipe': f'{lot.left_g:.0f} g {lot.code}'})}",
        find=f"/shelf/find?{urlencode({'wish': f'with {lot.code}, use up what turns first'})}",
    )


def _use(use: Uses) -> tuple[str, str, str]:
    bottles = urlencode({"bottles": f"1 x {max(1, round(use.millilitres)):d} ml", "loss_by": "percent", "loss": "0"})
    page = f"/blends/{use.blend_id}/versions/{use.version}/make?{bottles}"
    return page, use.name, f"{100 * use.share:.0f} % of it: {number(use.grams, 0)} g use it up"
