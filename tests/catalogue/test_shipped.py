"""The catalogue is kept read between starts, as bytecode is, and never a day longer than it is true."""

import shutil
import sys
from collections.abc import Mapping
from dataclasses import fields, is_dataclass
from pathlib import Path

import pytest

from uptide.catalogue.load import load_catalogue
from uptide.catalogue.shipped import DATA, Kept, keep, read_kept, shipped_catalogue, stamp_of
from uptide.core.lipids.fatty_acids import FattyAcidProfile
from uptide.core.measures.grammar import AMOUNTS

PACKAGE = Path(str(DATA)).parents[1]
STAMP = bytes(32)


@pytest.fixture(scope="module")
def kept() -> Kept:
    return Kept(load_catalogue(DATA), (AMOUNTS.built(),))


def words(thing: object) -> str:
    """All that is in a thing, for those that are equal only to themselves."""
    if isinstance(thing, Mapping):
        return str([(words(key), words(value)) for key, value in thing.items()])
    if isinstance(thing, FattyAcidProfile):
        return repr((thing.shares, sorted((acid.code, part) for acid, part in thing.fractions.items())))
    if is_dataclass(thing):
        return str([(each.name, words(getattr(thing, each.name))) for each in fields(thing)])
    return repr(sorted(thing) if isinstance(thing, frozenset) else thing)


def test_what_was_kept_is_what_was_read(kept: Kept, tmp_path: Path) -> None:
    file = tmp_path / "kept.tables"
    keep(kept, file, STAMP)
    found = read_kept(file, STAMP)
    assert found is not None
    assert read_kept(file, bytes([1]) * 32) is None
    was, now = kept.catalogue, found.catalogue
    assert words(now.ingredients) == words(was.ingredients)
    assert now.acids == was.acids
    assert now.sources == was.sources
    assert now.products == was.products
    assert words(now.safety) == words(was.safety)
    assert (now.synonyms, now.asked) == (was.synonyms, was.asked)
    for name in ("rose hip", "lavnder", "hazelnut oil", "sweet almond", "no such oil"):
        assert now.names.match(name) == was.names.match(name)
    assert list(tmp_path.iterdir()) == [file]
    with pytest.raises(TypeError):
        now.ingredients["new"] = now.ingredients["jojoba"]  # type: ignore[index] # nothing of it can be changed


@pytest.mark.parametrize("content", [b"", STAMP, STAMP + b"no pickle"])
def test_a_copy_that_is_broken_counts_as_none(content: bytes, tmp_path: Path) -> None:
    file = tmp_path / "kept.tables"
    file.write_bytes(content)
    assert read_kept(file, STAMP) is None
    assert read_kept(tmp_path / "none", STAMP) is None


@pytest.mark.parametrize("changed", ["catalogue/data/profiles.csv", "core/measures/grammar.py", "catalogue/load.py"])
def test_a_changed_table_or_line_of_code_is_another_state(changed: str, tmp_path: Path) -> None:
    for room in ("catalogue", "core"):
        shutil.copytree(PACKAGE / room, tmp_path / room)
    before = stamp_of(tmp_path)
    assert stamp_of(tmp_path) == before
    file = tmp_path / changed
    file.write_text(file.read_text(encoding="utf-8") + "\n", encoding="utf-8")
    assert stamp_of(tmp_path) != before


def test_nowhere_to_write_is_no_reason_to_stop(kept: Kept, tmp_path: Path) -> None:
    (tmp_path / "file").touch()
    keep(kept, tmp_path / "file" / "deeper" / "kept.tables", STAMP)
    assert list(tmp_path.iterdir()) == [tmp_path / "file"]


@pytest.mark.parametrize(("may_write", "files"), [(True, 1), (False, 0)])
def test_it_is_kept_where_bytecode_is(
    may_write: bool, files: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(sys, "pycache_prefix", str(tmp_path))
    monkeypatch.setattr(sys, "dont_write_bytecode", not may_write)
    read, read_again = shipped_catalogue.__wrapped__(), shipped_catalogue.__wrapped__()
    assert words(read.ingredients) == words(read_again.ingredients)
    assert len(list(tmp_path.rglob("*.tables"))) == files
