"""The catalogue that comes with the application: read once, and kept read for the next start as bytecode is."""

from __future__ import annotations

import copyreg
import hashlib
import importlib.util
import os
import pickle
import sys
from collections.abc import Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from importlib.resources.abc import Traversable
from pathlib import Path
from types import MappingProxyType
from typing import Any

import lark

from uptide.catalogue.catalogue import Catalogue
from uptide.core.finder.filter_grammar import CLAUSES
from uptide.core.finder.search.wish_grammar import ASKS
from uptide.core.infusion.plants import PlantFacts
from uptide.core.measures.grammar import AMOUNTS

DATA = files("uptide.catalogue") / "data"
# What a kept copy is made by: change a byte of these, or the interpreter, and it is read anew from the tables.
ROOMS = ("catalogue", "core")
SUFFIXES = (".csv", ".py")
GRAMMARS = (AMOUNTS, CLAUSES, ASKS)  # those that are needed after the tables are read


@cache
def shipped_catalogue() -> Catalogue:
    """The catalogue that comes with the application.

    Reading and checking its tables and building the grammars takes a third of a second at each start, so
    what came of it is kept beside the bytecode of this file, under the same rules: only where bytecode may be written,
    and no longer than what it was made from stands unchanged. A copy that cannot be read counts as none
    (docs/decisions/0018).

    Raises:
        TableError: a row of the tables is refused; see `load_catalogue`.
    """
    package = files("uptide")
    if not isinstance(package, Path):  # inside an archive there is no place to keep anything
        return _load(DATA)
    stamp = stamp_of(package)
    kept = Path(importlib.util.cache_from_source(__file__)).with_suffix(".tables")
    found = read_kept(kept, stamp)
    if found is not None:
        for grammar, built in zip(GRAMMARS, found.grammars, strict=True):
            grammar.bring(built)
        return found.catalogue
    catalogue = _load(DATA)
    if not sys.dont_write_bytecode:
        keep(Kept(catalogue, tuple(grammar.built() for grammar in GRAMMARS)), kept, stamp)
    return catalogue


def shipped_plants() -> Mapping[str, PlantFacts]:
    """The plants that come with the application, by key."""
    return shipped_catalogue().plants


@dataclass(frozen=True, slots=True)
class Kept:
    """What a start works out that is the same at every start."""

    catalogue: Catalogue
    grammars: tuple[bytes, ...]  # in the order of GRAMMARS


def stamp_of(package: Path) -> bytes:
    """What tells one state of the code and the tables from any other, as 32 bytes."""
    parts = [sys.version, lark.__version__]
    for room in ROOMS:
        for place in sorted(_files_in(package / room)):
            seen = place.stat()
            parts.append(f"{place.relative_to(package)} {seen.st_size} {seen.st_mtime_ns}")
    return hashlib.sha256("\n".join(parts).encode()).digest()


def _files_in(folder: Path) -> Iterator[Path]:
    for place, _, names in os.walk(folder):
        yield from (Path(place, name) for name in names if name.endswith(SUFFIXES))


def read_kept(file: Path, stamp: bytes) -> Kept | None:
    """What was kept under this stamp; None when there is none that can be read."""
    with suppress(Exception):  # whatever is wrong with a copy, the tables are still there
        content = file.read_bytes()
        if content.startswith(stamp):
            found = pickle.loads(content[len(stamp) :])  # noqa: S301 - trusted as the bytecode in the same folder is
            return found if isinstance(found, Kept) else None
    return None


def keep(kept: Kept, file: Path, stamp: bytes) -> None:
    """Write it for the next start; whole or not at all, and silently not where nothing may be written."""
    beside = file.with_suffix(f".{os.getpid()}")
    with suppress(OSError):
        file.parent.mkdir(parents=True, exist_ok=True)
        beside.write_bytes(stamp + pickle.dumps(kept, pickle.HIGHEST_PROTOCOL))
        beside.replace(file)


def _load(folder: Path | Traversable) -> Catalogue:
    from uptide.catalogue.load import load_catalogue  # with pydantic and all rows: a tenth of a second

    return load_catalogue(folder)


def _frozen(of: dict[Any, Any]) -> MappingProxyType[Any, Any]:
    return MappingProxyType(of)


def _reduced(mapping: MappingProxyType[Any, Any]) -> tuple[Any, ...]:
    return _frozen, (dict(mapping),)


copyreg.pickle(MappingProxyType, _reduced)
