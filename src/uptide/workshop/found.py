"""What a number leads to, as it was scanned from a label or typed: a bottle, a batch or a lot."""

from __future__ import annotations

import re

from sqlalchemy.orm import Session

from uptide.store.batches import load_batch
from uptide.store.bottles import load_bottle
from uptide.store.records import NotFoundError
from uptide.store.shelf import load_lot

NUMBER = re.compile(r"(?:(?:batch|bottle|lot)\s+)?([\w][\w .+-]{0,60})", re.IGNORECASE)


def number_leads_to(store: Session, text: str) -> str | None:
    """The page of a number; None for none."""
    found = NUMBER.fullmatch(text.strip())
    if found is None:
        return None
    number = found[1].strip()
    for load, page in ((load_bottle, "/bottles/"), (load_batch, "/making/"), (load_lot, "/shelf/lots/")):
        try:
            load(store, number)
        except NotFoundError:
            continue
        return f"{page}{number}"
    return None
