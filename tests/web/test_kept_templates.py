"""Compiled templates are kept for the next start, no longer than what they were made from, and never in the way."""

from __future__ import annotations

import sys
from pathlib import Path

import pytest
from jinja2 import DictLoader, Environment
from jinja2.bccache import Bucket

from uptide.web.base import kept_templates as module
from uptide.web.base.kept_templates import KeptTemplates, kept_templates


def drawn(folder: Path, source: str, made_by: str = "as it is") -> str:
    environment = Environment(
        loader=DictLoader({"page": source}), bytecode_cache=KeptTemplates(folder, made_by), autoescape=True
    )
    return environment.get_template("page").render()


def test_a_template_is_kept_and_read_again(tmp_path: Path) -> None:
    drawn(tmp_path, "one")
    (kept,) = tmp_path.iterdir()
    was = kept.read_bytes()
    kept.write_bytes(was.replace(b"one", b"two"))  # what is read is what was kept

    assert drawn(tmp_path, "one") == "two"


def test_another_source_or_another_environment_compiles_it_anew(tmp_path: Path) -> None:
    drawn(tmp_path, "one")
    (kept,) = tmp_path.iterdir()
    kept.write_bytes(kept.read_bytes().replace(b"one", b"two"))

    assert drawn(tmp_path, "one", made_by="with another extension") == "one"
    assert drawn(tmp_path, "three", made_by="with another extension") == "three"


def test_a_full_disk_and_a_broken_copy_keep_no_page_from_being_shown(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(Bucket, "write_bytecode", full)
    assert drawn(tmp_path, "one") == "one"
    monkeypatch.undo()
    drawn(tmp_path, "one")
    for kept in tmp_path.iterdir():
        kept.write_bytes(b"nothing of the kind")
    assert drawn(tmp_path, "one") == "one"


def test_they_are_kept_where_bytecode_is_and_nowhere_else(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(sys, "pycache_prefix", str(tmp_path))
    monkeypatch.setattr(sys, "dont_write_bytecode", True)
    assert kept_templates(Path(module.__file__)) is None
    assert list(tmp_path.iterdir()) == []

    monkeypatch.setattr(sys, "dont_write_bytecode", False)
    assert isinstance(kept_templates(Path(module.__file__)), KeptTemplates)
    assert [path.name for path in tmp_path.rglob("*.templates")] == [
        f"kept_templates.{sys.implementation.cache_tag}.templates"
    ]
    monkeypatch.setattr(sys, "pycache_prefix", "/proc/nowhere")
    assert kept_templates(Path(module.__file__)) is None
