"""The assessments that were made last: another look at the same blend is not worked out again."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass
from threading import Lock
from weakref import ReferenceType, ref

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assessment import Assessment
from uptide.core.keeping.shelf_life import StorageHistory
from uptide.core.recipe.recipe import Recipe
from uptide.core.safety.case import UsageContext

ROOM = 32  # assessments: more than anybody looks at in turn


@dataclass(frozen=True, slots=True)
class Asked:
    """All that an assessment follows from but for the catalogue: equal ones have the same assessment."""

    recipe: Recipe
    usage: UsageContext
    history: StorageHistory


class Assessed:
    """What was assessed last, by everything it follows from; nothing is ever out of date, for all of it is compared.

    A catalogue is not kept for its sake: what was worked out by one that is gone is found no more.
    """

    def __init__(self, room: int = ROOM) -> None:
        self._found: deque[tuple[ReferenceType[Catalogue], Asked, Assessment]] = deque(maxlen=room)
        self._lock = Lock()

    def __len__(self) -> int:
        return len(self._found)

    def find(self, catalogue: Catalogue, asked: Asked) -> Assessment | None:
        """What was worked out of this before; None where it was not, or too long ago."""
        with self._lock:
            for place, (known, before, assessment) in enumerate(self._found):
                if known() is catalogue and before == asked:
                    del self._found[place]
                    self._found.append((known, before, assessment))
                    return assessment
        return None

    def keep(self, catalogue: Catalogue, asked: Asked, assessment: Assessment) -> None:
        """Keep what was worked out, instead of what nobody asked for longest."""
        with self._lock:
            self._found.append((ref(catalogue), asked, assessment))

    def forget(self) -> None:
        """Keep nothing of what was asked so far: somebody wants it erased."""
        with self._lock:
            self._found.clear()
