"""Serve the pages: from one process, or from several that share a database and a desk."""

from __future__ import annotations

import gc
import socket
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

import uvicorn

from uptide.cli.safekeeping import instruments_of
from uptide.cli.settings import Settings
from uptide.store.backups import folder_of
from uptide.store.database import file_of, open_engine
from uptide.store.migrating import migrate
from uptide.web.app import create_app, settle
from uptide.workshop.desk import desk_at, make_desk, shared

if TYPE_CHECKING:
    from fastapi import FastAPI

# s after which a process that says nothing is replaced. It says nothing while it reads what it needs, which on a slow
# machine takes longer than the server's own five: it would be replaced for ever, and nothing served.
STARTS_WITHIN = 60
LAST_WORDS = 1  # s that a page may still be answered in after a stop: one that follows a scale never ends by itself


def serve(settings: Settings, database: str, port: int) -> None:
    """Serve until somebody stops it; where several processes do, this one keeps the desk and starts them anew."""
    path = file_of(database)
    backups = settings.backup_folder or (None if path is None else folder_of(path))
    if settings.workers == 1:
        only = create_app(database, settings.allowed_hosts, instruments_of(settings), backups)
        _settle(only)
        uvicorn.Server(_config(settings, port, only)).run()
        return
    from uvicorn.supervisors import Multiprocess

    migrate(database, backups)
    engine = open_engine(database)
    with shared(make_desk(engine, instruments_of(settings), backups)) as desk:
        application = partial(_application, database, settings.allowed_hosts, backups, desk)
        config = _config(settings, port, application)
        listening = config.bind_socket()
        # asyncio sets this for sockets of its own alone; without it a small answer waits 40 ms for nothing.
        listening.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        Multiprocess(config, sockets=[listening]).run()
    engine.dispose()


def _config(settings: Settings, port: int, application: FastAPI | partial[FastAPI]) -> uvicorn.Config:
    return uvicorn.Config(
        application,
        factory=isinstance(application, partial),
        host=settings.host,
        port=port,
        workers=settings.workers,
        log_level="warning",
        server_header=False,
        timeout_graceful_shutdown=LAST_WORDS,
        timeout_worker_healthcheck=STARTS_WITHIN,
    )


def _application(database: str, hosts: tuple[str, ...], backups: Path | None, desk: str) -> FastAPI:
    """What one of several processes serves; called in it."""
    application = create_app(database, hosts, backups=backups, desk=desk_at(desk))
    _settle(application)
    return application


def _settle(app: FastAPI) -> None:
    settle(app)
    gc.enable()
