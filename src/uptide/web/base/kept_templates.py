"""Templates as an earlier start compiled them, kept beside the bytecode of this file and under the same rules."""

from __future__ import annotations

import importlib.util
import sys
from contextlib import suppress
from importlib.metadata import version
from pathlib import Path

from jinja2 import BytecodeCache, FileSystemBytecodeCache
from jinja2.bccache import Bucket


class KeptTemplates(FileSystemBytecodeCache):
    """A cache that knows what else a compiled template depends on, and that no full disk keeps a page from being shown.

    A template is compiled by an environment and its extensions: `made_by` is the source that says which.
    """

    def __init__(self, folder: Path, made_by: str) -> None:
        super().__init__(str(folder))
        self._made_by = f"{version('jinja2')}\n{made_by}"

    def get_source_checksum(self, source: str) -> str:
        """What tells a template from how it was, and from how it would be compiled by another environment."""
        return super().get_source_checksum(self._made_by + source)

    def dump_bytecode(self, bucket: Bucket) -> None:
        """Keep one for the next start; silently not where nothing can be written."""
        with suppress(OSError):
            super().dump_bytecode(bucket)


def kept_templates(made_by: Path) -> BytecodeCache | None:
    """The cache for an environment that this file makes; None where no bytecode may be written."""
    if sys.dont_write_bytecode:
        return None
    folder = Path(importlib.util.cache_from_source(__file__)).with_suffix(".templates")
    try:
        folder.mkdir(parents=True, exist_ok=True)
        return KeptTemplates(folder, made_by.read_text(encoding="utf-8"))
    except OSError:
        return None
