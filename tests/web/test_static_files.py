"""Styles and scripts are asked for once, and anew as soon as one of them is another."""

from __future__ import annotations

import os
import re
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from uptide.web.base import static_files
from uptide.web.base.static_files import files_stamp


def test_what_a_page_asks_for_is_kept_and_what_nobody_asked_for_so_is_not(client: TestClient) -> None:
    asked = re.findall(r'(?:src|href)="(/static/[^"?]+\.(?:css|js))\?([^"]+)"', client.get("/").text)

    assert len(asked) > 10
    assert {stamp for _, stamp in asked} == {files_stamp()}
    for path, stamp in asked:
        answer = client.get(f"{path}?{stamp}")
        assert (answer.status_code, answer.headers["cache-control"]) == (200, "public, max-age=31536000, immutable")
    for other in ("/static/app.js", "/static/app.js?0.1.0", f"/static/nothing.js?{files_stamp()}"):
        assert "immutable" not in client.get(other).headers.get("cache-control", "")


def test_the_stamp_is_another_as_soon_as_a_file_is(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    def stamp() -> str:
        files_stamp.cache_clear()
        return files_stamp()

    monkeypatch.setattr(static_files, "STATIC", tmp_path)
    (tmp_path / "deep").mkdir()
    file = tmp_path / "deep" / "a.css"
    file.write_text("one")
    os.utime(file, ns=(1, 1))
    first = stamp()
    assert stamp() == first
    os.utime(file, ns=(2, 2))
    assert stamp() != first
    os.utime(file, ns=(1, 1))
    file.rename(tmp_path / "deep" / "b.css")
    assert stamp() != first
    monkeypatch.undo()
    files_stamp.cache_clear()
