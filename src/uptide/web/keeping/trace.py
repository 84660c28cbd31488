"""Where a lot went and where a batch comes from: one picture, a table, a recall list and a letter of facts."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated
from urllib.parse import quote, urlencode

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse
from sqlalchemy.orm import Session

from uptide.core.errors import UptideError
from uptide.core.making.trace import BY_HAND, LEFT, THROWN_OUT, Ended, Trace, people_of
from uptide.core.months import say_day
from uptide.formats.recall_csv import write_recall
from uptide.store.batches import load_batch
from uptide.store.bottles import load_bottle
from uptide.store.preferences import led_to, remember_form
from uptide.store.records import NotFoundError
from uptide.store.shelf import hold_lot, load_lot
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.forms import TokenForm, errors_of
from uptide.web.base.pages import number, render
from uptide.web.base.security import sending
from uptide.web.drawing.flow import draw_flow
from uptide.web.drawing.view import View
from uptide.workshop.clock import today
from uptide.workshop.shelf import Shelf
from uptide.workshop.trace import held_lots, origins, trace_of

router = APIRouter(prefix="/keeping/trace", include_in_schema=False)

MOST_ROWS = 100  # of a table on the page; the list in full is the file


class EndView(View):
    """A line of the table."""

    what: str
    href: str
    grams: str
    share: str
    where: str


class HoldForm(TokenForm):
    """What becomes of a lot, and why."""

    of: str = ""
    status: str = ""
    why: str = ""


@router.get("")
def show(request: Request, store: Store, shelf: OnShelf, of: str = "", said: str = "") -> HTMLResponse:
    """Show where a lot went, or where a batch or a bottle comes from."""
    return _draw(request, store, shelf, of.strip(), said="Entered." if said else "")


def _draw(
    request: Request, store: Session, shelf: Shelf, of: str, *, said: str = "", error: UptideError | None = None
) -> HTMLResponse:
    lots = shelf.lots
    trace = trace_of(store, shelf, of) if of in lots else None
    batch = _batch(store, of) if of and trace is None else ""
    behind = origins(store, shelf, batch) if batch else {}
    supplied = {code: lots[code].supplier_lot for code in behind if code in lots}
    held = held_lots(store, shelf)
    missing = f"“{of}” is the code of no lot, batch or bottle." if of and trace is None and not batch else ""
    ends = sorted(trace.ends, key=lambda each: -each.grams) if trace is not None else []
    return render(
        request,
        "keeping/trace.html",
        422 if error else 404 if missing else 200,
        of=of,
        lot=lots.get(of),
        trace=trace,
        flow=draw_flow(trace) if trace is not None else None,
        sentence=_sentence(trace) if trace is not None else "",
        ends=[_end(each) for each in ends[:MOST_ROWS]],
        more=max(0, len(ends) - MOST_ROWS),
        batches=[
            (each.number, each.name, say_day(each.made_on), f"{number(100 * share, 1)} %")
            for each, share in (trace.reached[:MOST_ROWS] if trace is not None else ())
        ],
        people=_people(trace),
        batch=batch,
        behind=[
            (code, supplied.get(code, ""), f"{100 * share:.1f} %", held.get(code, ""))
            for code, share in sorted(behind.items(), key=lambda each: -each[1])
        ],
        held=held.get(of, ""),
        codes=sorted(lots),
        said=said,
        problem=str(error or missing),
        errors=errors_of(error),
    )


def _batch(store: Session, of: str) -> str:
    """The number of a batch, or of the one that a bottle is of; nothing where it is neither."""
    try:
        return load_batch(store, of).number
    except NotFoundError:
        pass
    try:
        return load_bottle(store, of).batch
    except NotFoundError:
        return ""


def _sentence(trace: Trace) -> str:
    """What came of it and where most of it is, in a line."""
    count = _bottles(trace.ends)
    out = _bottles([each for each in trace.ends if each.container is not None and each.container.holder])
    parts = [f"{number(trace.came, 1)} g came"]
    reached = len(trace.reached)
    some = f"batch{'es have' if reached != 1 else ' has'} some of it"
    parts.append(f"{reached} {some}" if reached else "it is in no batch")
    if count:
        parts.append(f"{number(count, 0)} bottle{'s' if count != 1 else ''}, {number(out, 0)} of them with somebody")
    return f"{', '.join(parts)}."


def _people(trace: Trace | None) -> list[tuple[int | None, str, int, str]]:
    found = people_of(trace.ends) if trace is not None else {}
    return [
        (wearer, name, _bottles(ends), f"{number(sum(each.grams for each in ends), 2)} g")
        for (wearer, name), ends in sorted(found.items(), key=lambda each: each[0][1])
    ]


def _bottles(ends: Sequence[Ended]) -> int:
    return sum(each.container.count for each in ends if each.container is not None)


def _end(each: Ended) -> EndView:
    container = each.container
    if container is None:
        what = f"{each.kind}: {each.name}" if each.through else each.kind
        href = f"/shelf/lots/{each.key}" if each.kind in (LEFT, THROWN_OUT, BY_HAND) else ""
        return EndView(what=what, href=href, grams=_g(each), share=_part(each), where="")
    where = ", ".join(
        filter(None, [container.place, f"with {container.holder}" if container.holder else "", container.state])
    )
    alike = container.count > 1
    return EndView(
        what=f"{each.name}, {container.count} bottles of {each.through}"
        if alike
        else f"{each.name}, bottle {each.key}",
        href=f"/making/{each.through}#bottles" if alike else f"/bottles/{each.key}",
        grams=_g(each),
        share=_part(each),
        where=where,
    )


def _g(each: Ended) -> str:
    return number(each.grams, 2)


def _part(each: Ended) -> str:
    return f"{number(100 * each.share, 1)} %"


@router.get("/recall.csv")
def recall_list(store: Store, shelf: OnShelf, of: str) -> Response:
    """Every bottle with some of a lot in it, and who has it, for a spreadsheet."""
    name = {"content-disposition": f"attachment; filename*=UTF-8''{quote(f'recall-{of}.csv')}"}
    return Response(
        write_recall(trace_of(store, shelf, of, each_bottle=True)), media_type="text/csv; charset=utf-8", headers=name
    )


@router.get("/letter")
def letter(request: Request, store: Store, shelf: OnShelf, of: str, to: str = "") -> HTMLResponse:
    """A letter of facts to print, for everybody who has bottles with some of a lot, or for one of them."""
    trace, lot = trace_of(store, shelf, of, each_bottle=True), load_lot(store, of)
    found = people_of(trace.ends)
    chosen = {who: ends for who, ends in found.items() if not to or who[1] == to}
    return render(
        request,
        "keeping/letter.html",
        of=of,
        lot=lot,
        oil=trace.lots[of].name,
        letters=[
            (name, [(each.key, each.name, each.through) for each in ends])
            for (_, name), ends in sorted(chosen.items(), key=lambda each: each[0][1])
        ],
        today=today(),
    )


@router.post("/hold")
def hold(request: Request, form: Annotated[HoldForm, Form()], store: Store, shelf: OnShelf) -> Response:
    """Hold or block a lot, for a reason, or let it free again."""
    sent = sending(request, form)
    target = led_to(store, sent)
    if target is None:
        try:
            with store.begin_nested():
                hold_lot(store, form.of, form.status, form.why)
        except UptideError as error:
            return _draw(request, store, shelf, form.of, error=error)
        target = f"/keeping/trace?{urlencode({'of': form.of, 'said': 'held'})}"
        remember_form(store, sent, target)
    return RedirectResponse(target, 303)
