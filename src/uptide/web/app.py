"""Put the application together: routes, static files, errors as pages."""

from __future__ import annotations

import gc
from collections.abc import AsyncIterator, Iterator, Mapping, Sequence
from contextlib import asynccontextmanager, suppress
from pathlib import Path
from urllib.parse import urlsplit

from fastapi import FastAPI, HTTPException, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.staticfiles import StaticFiles
from sqlalchemy.exc import DatabaseError, IntegrityError, SQLAlchemyError
from sqlalchemy.orm import Session, sessionmaker
from starlette.exceptions import HTTPException as StarletteHTTPException
from starlette.middleware.gzip import GZipMiddleware
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.routing import Match

from uptide import __version__
from uptide.catalogue.shipped import shipped_catalogue
from uptide.core.errors import UnknownKeyError, UptideError
from uptide.core.text import shown
from uptide.store.backups import folder_of
from uptide.store.condition import what_happened
from uptide.store.database import as_writer, file_of, open_engine, stamp_of
from uptide.store.migrating import migrate
from uptide.store.preferences import form_secret, kept_passphrases
from uptide.store.records import NotFoundError
from uptide.web import entry, start
from uptide.web.api import assess as api
from uptide.web.api import doing, records
from uptide.web.api.problems import problem
from uptide.web.base.gate import Gate, signer_of
from uptide.web.base.pages import render
from uptide.web.base.security import PolicyHeaders
from uptide.web.base.static_files import STATIC
from uptide.web.base.turns import Turns
from uptide.web.bench import blends, bottles, printing
from uptide.web.data import exchange, workbooks
from uptide.web.data import pages as data
from uptide.web.keeping import board as keeping
from uptide.web.keeping import bottle as one_bottle
from uptide.web.keeping import calendar as keeping_calendar
from uptide.web.keeping import taught, trace, using
from uptide.web.making import batches, handing, labels, weigh
from uptide.web.making import plan as making_plan
from uptide.web.people import cards as people
from uptide.web.people import patch_tests
from uptide.web.shelf import chart, find, lots, movements, oils, own, reach
from uptide.web.shelf import search as shelf
from uptide.web.steeping import jars, photos, plants, strain, warmth
from uptide.web.steeping import plan as steeping
from uptide.workshop.assessed import Assessed
from uptide.workshop.assessment import ASSESSED
from uptide.workshop.desk import Desk, make_desk
from uptide.workshop.entrance import Passphrases
from uptide.workshop.instruments import Instruments
from uptide.workshop.shelf import ShelfOfTheDay

YOUNG = 10_000  # objects that may come before a round of the garbage collector; an edit leaves some 2,000 standing
QUICK = 4  # of zlib’s nine levels: half the time of the last one, for a twentieth more
LOCAL_HOSTS = ("127.0.0.1", "localhost", "[::1]")
NO_INSTRUMENTS = Instruments()
NO_ROUTE = "Not Found"  # what starlette says where no route fits
TITLES = {
    401: "Come in first",
    403: "This form was refused",
    404: "Not here",
    405: "Not that way",
    422: "Something in it cannot be read",
}


def create_app(
    database_url: str,
    allowed_hosts: Sequence[str] = LOCAL_HOSTS,
    instruments: Instruments = NO_INSTRUMENTS,
    backups: Path | None = None,
    desk: Desk | None = None,
) -> FastAPI:
    """Make the application on a database, which is brought up to date first.

    Args:
        database_url: of the database.
        allowed_hosts: host names that a browser may ask for.
        instruments: where they are found; none unless told otherwise.
        backups: the folder that a backup is made in once a day; none by itself unless it is named.
        desk: that another process keeps, where several serve the pages; one of its own unless it is given.

    Raises:
        UptideError: a database that cannot be used, an instrument's address that may not be opened, or a pattern that
            is none.
    """
    migrate(database_url, backups)
    engine = open_engine(database_url)
    sessions = sessionmaker(engine, class_=Session, info={ASSESSED: Assessed()})

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        if desk is None:
            app.state.desk.start()
        yield
        if desk is None:
            app.state.desk.stop()
        engine.dispose()

    app = FastAPI(
        title="Up Tide",
        version=__version__,
        summary="What a blend of oils is, from the words of a person.",
        docs_url=None,
        redoc_url=None,
        openapi_url=None,
        lifespan=lifespan,
    )
    app.state.sessions = sessions
    app.state.database_url, app.state.database_stamp = database_url, stamp_of(database_url)
    path = file_of(database_url)
    app.state.backups = (path, backups or folder_of(path)) if path is not None else None
    app.state.catalogue = shipped_catalogue()
    app.state.shelf = ShelfOfTheDay(app.state.catalogue)
    app.state.desk = desk or make_desk(engine, instruments, backups)
    app.state.searches = {}  # of the finder, by browser
    app.state.printer = instruments.make_printer()
    with sessions() as session, session.begin():
        app.state.form_secret = form_secret(as_writer(session))
        app.state.passphrases = Passphrases(*kept_passphrases(session))
    app.state.entered_signer = signer_of(app.state.passphrases, app.state.form_secret)
    app.add_middleware(Turns)
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=QUICK)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=list(allowed_hosts))
    app.add_middleware(Gate, passphrases=app.state.passphrases, secret=app.state.form_secret, desk=app.state.desk)
    app.add_middleware(PolicyHeaders)
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    app.state.rooms = []
    for room in (
        start,
        workbooks,
        blends,
        bottles,
        printing,
        shelf,
        find,
        chart,
        reach,
        lots,
        movements,
        making_plan,
        weigh,
        labels,
        batches,
        handing,
        keeping,
        one_bottle,
        trace,
        keeping_calendar,
        taught,
        using,
        own,
        oils,
        steeping,
        jars,
        strain,
        warmth,
        photos,
        plants,
        people,
        patch_tests,
        entry,
        data,
        exchange,
        api,
        records,
        doing,
    ):
        # Included, each app would work out every route anew, 50 ms a room: they are the same for all.
        app.router.routes.extend(room.router.routes)
        app.state.rooms.append(room.router)
    app.add_exception_handler(UptideError, _trade_error)
    app.add_exception_handler(StarletteHTTPException, _http_error)
    app.add_exception_handler(RequestValidationError, _unreadable)
    app.add_exception_handler(DatabaseError, _not_written)
    app.add_exception_handler(IntegrityError, _not_twice)
    app.add_exception_handler(Exception, _broken)
    return app


def settle(app: FastAPI) -> None:
    """Make what every room asks for, the shelf of the day; leave what stands for good to no round of the collector.

    The shelf is a third of the first page. What cannot be read of it is said by the page that asks for it.

    A round over tables and routes takes a tenth of a second, and would come in the middle of some request. Nor is there
    one here: what little of a start is garbage is left standing for the sake of that tenth. After it a round is made
    every few requests, and not a few times in each.
    """
    with suppress(UptideError, SQLAlchemyError), app.state.sessions() as store:
        app.state.shelf.of(store)
    gc.freeze()
    gc.set_threshold(YOUNG, *gc.get_threshold()[1:])


async def _typed(request: Request) -> tuple[tuple[str, str], ...]:
    """Every field of a refused form, so that the error page can give it back and send it again."""
    if request.method != "POST" or "form" not in request.headers.get("content-type", ""):
        return ()
    try:
        form = await request.form()
    except Exception:  # noqa: BLE001 - an unreadable body must not hide the error that is being shown
        return ()
    return tuple((key, value) for key, value in form.multi_items() if key != "token" and isinstance(value, str))


def _from_here(request: Request) -> bool:
    """Whether a form was sent by a page of this application, as far as the browser says: only then it is sent again."""
    site = request.headers.get("sec-fetch-site", "")
    if site:
        return site in ("same-origin", "none")
    origin = request.headers.get("origin", "")
    return not origin or urlsplit(origin).netloc == request.headers.get("host", "")


async def _error(request: Request, status: int, message: str, headers: Mapping[str, str] | None = None) -> Response:
    message = shown(message)
    if request.url.path.startswith("/api/"):
        return problem(status, message, headers)
    return render(
        request,
        "base/error.html",
        status,
        title=TITLES.get(status, "Something broke"),
        message=message,
        typed=await _typed(request),
        again=getattr(request.state, "asked", request.url.path) if _from_here(request) else "",
    )


async def _trade_error(request: Request, error: Exception) -> Response:
    return await _error(
        request,
        404 if isinstance(error, (NotFoundError, UnknownKeyError)) and request.method == "GET" else 400,
        str(error),
    )


async def _http_error(request: Request, error: Exception) -> Response:
    status = error.status_code if isinstance(error, HTTPException | StarletteHTTPException) else 500
    detail = str(getattr(error, "detail", ""))
    if status == 404 and detail in ("", NO_ROUTE):
        detail = f"There is no page at {request.url.path}. The blends and the shelf are linked above."
    headers = {"allow": ", ".join(sorted(set(_methods(request))))} if status == 405 else getattr(error, "headers", None)
    return await _error(request, status, detail, headers)


def _methods(request: Request) -> Iterator[str]:
    """What can be asked of an address: several routes may share it, each of which knows its own methods alone."""
    for room in request.app.state.rooms:
        for route in room.routes:
            if route.matches(request.scope)[0] is not Match.NONE:
                yield from route.methods


async def _unreadable(request: Request, error: Exception) -> Response:
    problems = error.errors() if isinstance(error, RequestValidationError) else []
    sentences = [
        f"{'.'.join(map(str, p['loc'][1:])) or p['loc'][0]}: {p['msg']} (found “{str(p.get('input'))[:80]}”)"
        for p in problems
    ]
    return await _error(request, 422, "; ".join(sentences))


async def _not_written(request: Request, error: Exception) -> Response:
    why = what_happened(str(getattr(error, "orig", "")))
    return await _error(request, 503, f"{why}. Nothing of this was stored; what you typed stands below, to send again.")


async def _not_twice(request: Request, error: Exception) -> Response:
    return await _error(
        request,
        409,
        "Something of this is there already, or belongs to what is no longer there: another page was perhaps quicker. "
        "Nothing of it was stored; look at what is there now, and send it again.",
    )


async def _broken(request: Request, error: Exception) -> Response:
    return await _error(
        request,
        500,
        "The application failed on this. Nothing of it was stored. The terminal it runs in shows what happened.",
    )
