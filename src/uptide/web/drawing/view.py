"""What a template shows."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class View(BaseModel):
    """Something a template shows: immutable and already worked out."""

    model_config = ConfigDict(frozen=True, arbitrary_types_allowed=True)
