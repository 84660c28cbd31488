"""Read every stored thing through every page that shows one: what a workshop would run at night on a copy of itself.

make read-all DATABASE=FILE says what did not open, and what took long. The database is copied first: a page that is
looked at may keep what it worked out.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from fastapi.sse import EventSourceResponse
from fastapi.testclient import TestClient
from sqlalchemy import select
from sqlalchemy.orm import Session

from uptide.catalogue.shipped import shipped_catalogue
from uptide.cli.demo import make_demo
from uptide.store import models
from uptide.store.backups import unpack
from uptide.web.app import create_app

SLOW = 2.0  # s
SHIPPED = 20  # of the catalogue's oils so many are looked at: they are the same in every database
NEED_A_QUESTION = frozenset({"/keeping/find"})  # pages that say 404 where nothing is asked


@dataclass
class Read:
    """What was read: how many pages; those that did not open, that said why not, or took long, in a line each."""

    pages: int = 0
    refused: list[str] = field(default_factory=list)
    broken: list[str] = field(default_factory=list)
    slow: list[str] = field(default_factory=list)


def _values(store: Session, shipped: int) -> Mapping[tuple[str, str], list[dict[str, Any]]]:
    """What an address can be filled with, by where it begins and what it asks for first."""

    def rows(*columns: Any, **names: Any) -> list[dict[str, Any]]:
        return [dict(zip(names, row, strict=True)) for row in store.execute(select(*columns))]

    versions = [
        {"blend_id": row[0], "blend": row[0], "number": row[1]}
        for row in store.execute(select(models.VersionRow.blend_id, models.VersionRow.number))
    ]
    batches = [{"number": number, "code": number} for number in store.scalars(select(models.BatchRow.number))]
    bottles = [{"number": number} for number in store.scalars(select(models.BottleRow.number))]
    lots = [{"code": code} for code in store.scalars(select(models.LotRow.code))]
    jars = [{"jar_id": number, "number": number} for number in store.scalars(select(models.JarRow.id))]
    photos = [
        {"jar_id": jar, "photo_id": photo}
        for jar, photo in store.execute(select(models.JarPhotoRow.jar_id, models.JarPhotoRow.id))
    ]
    people = [{"person_id": number} for number in store.scalars(select(models.WearerRow.id))]
    oils = [{"key": key} for key in store.scalars(select(models.OwnOilRow.key).distinct())]
    plants = [{"key": key} for key in store.scalars(select(models.OwnPlantRow.key).distinct())]
    of_all = [{"key": key} for key in list(shipped_catalogue().ingredients)[:shipped]]
    return {
        ("/blends", "blend_id"): versions,
        ("/api/blends", "blend"): versions,
        ("/api/lots", "code"): lots,
        ("/api/batches", "number"): batches,
        ("/api/jars", "number"): jars,
        ("/shelf/lots", "code"): lots,
        ("/keeping/lots", "code"): lots,
        ("/keeping/batches", "number"): batches,
        ("/keeping/trace/lots", "code"): lots,
        ("/keeping/trace/batches", "number"): batches,
        ("/making", "number"): batches,
        ("/bottles", "number"): bottles,
        ("/steeping/jars", "jar_id"): [*photos, *jars],
        ("/steeping/plants/own", "key"): plants,
        ("/steeping/plants", "key"): plants,
        ("/people", "person_id"): people,
        ("/shelf/own", "key"): oils,
        ("/shelf", "key"): [*oils, *of_all],
    }


def addresses(routes: list[Any], store: Session, shipped: int = SHIPPED) -> Iterator[str]:
    """Every address of every page, once for each thing that it can be about."""
    values = _values(store, shipped)
    for route in routes:
        if "GET" not in route.methods or route.response_class is EventSourceResponse:
            continue
        wanted = set(route.param_convertors)
        if not wanted:
            if route.path not in NEED_A_QUESTION:
                yield route.path
            continue
        fits = [
            each
            for (start, name), found in values.items()
            if route.path.startswith(f"{start}/{{{name}}}")
            for each in found
            if wanted <= set(each)
        ]
        yield from dict.fromkeys(route.path.format(**each) for each in fits)


def read_all(file: Path, shipped: int = SHIPPED) -> Read:
    """Read everything in a database that is a file; it is not touched."""
    found = Read()
    with TemporaryDirectory() as folder:
        copy = Path(folder) / "copy.db"
        unpack(file, copy)
        app = create_app(f"sqlite:///{copy}", ("testserver",))
        routes = [route for room in app.state.rooms for route in room.routes]
        with app.state.sessions() as store:
            asked = list(dict.fromkeys(addresses(routes, store, shipped)))
        with TestClient(app, raise_server_exceptions=False) as client:
            for address in asked:
                begun = time.perf_counter()
                answer = client.get(address, follow_redirects=False)
                took = time.perf_counter() - begun
                found.pages += 1
                if answer.status_code >= 400:  # a label of a draft says why there is none; what is stored is there
                    is_broken = answer.status_code >= 500 or answer.status_code == 404
                    (found.broken if is_broken else found.refused).append(f"{answer.status_code} {address}")
                if took > SLOW:
                    found.slow.append(f"{took:.1f} s {address}")
    return found


def main(path: str = "") -> int:
    """Read a database, or the demo workshop where none is named; return 1 where anything did not open."""
    with TemporaryDirectory() as folder:
        file = Path(path) if path else Path(folder) / "demo.db"
        if not path:
            make_demo(file)
        found = read_all(file)
    heads = f"{found.pages} pages, {len(found.broken)} did not open, {len(found.refused)} said why there is none"
    lines = (heads, *found.broken, *found.refused, *found.slow)
    sys.stdout.write("\n".join(lines) + "\n")
    return 1 if found.broken else 0


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:2]))
