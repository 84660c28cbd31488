"""What a lot was infused with, as plain JSON and back."""

from __future__ import annotations

from collections.abc import Mapping

from pydantic import TypeAdapter

from uptide.core.ingredients.infusion import Infusion
from uptide.store.reading import NOT_THIS

INFUSION = TypeAdapter(Infusion)


def infusion_from_json(stored: object) -> Infusion | None:
    """An infusion that was stored; None where none was, or nothing of it can be read."""
    if not isinstance(stored, Mapping):
        return None
    try:
        return INFUSION.validate_python(stored)
    except NOT_THIS:
        return None
