"""A caution: something to heed, how serious it is, why, who says so, and what would clear it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum


class Grade(StrEnum):
    """How serious a caution is."""

    STOP = "stop"
    WARN = "warn"
    NOTE = "note"


RANK = {grade: place for place, grade in enumerate(Grade)}


@dataclass(frozen=True, slots=True)
class Caution:
    """Something to heed.

    `names` are what in the bottle it is about, `who` the wearer it is about (empty: everybody). A stop that is
    `answerable` can be lifted by a written reason, which is kept with the version; no other can. `is_unknown` says
    that it may apply and nobody knows; `asks_wearer` then, that it is the wearer who was not asked; and
    `grade_if_so` how serious it would be.
    """

    rule: str
    grade: Grade
    names: tuple[str, ...]
    message: str
    why: str = ""
    who: str = ""
    source: str = ""
    remedy: str = ""
    confidence: str = "medium"
    answerable: bool = False
    is_unknown: bool = False
    reason: str = ""
    label: str = ""  # the words a label must carry
    asks_wearer: bool = False
    not_asked: str = ""  # what of the wearer nobody asked, in words, as in “in pregnancy”
    grade_if_so: Grade | None = None

    @property
    def is_a_question(self) -> bool:
        """Whether it only says what was never asked of the wearer."""
        return self.is_unknown and bool(self.not_asked)

    @property
    def about(self) -> str:
        """What in the bottle it is about, in one line."""
        return ", ".join(self.names)

    @property
    def is_answered(self) -> bool:
        """Whether a written reason lifts it."""
        return self.answerable and bool(self.reason.strip())

    def answered(self, reason: str) -> Caution:
        """The same with a reason, where one can be given."""
        return replace(self, reason=reason) if self.answerable and reason.strip() else self

    @property
    def words(self) -> str:
        """The caution in a line, as a print gives it: grade, what it is about, message, and what lifts it."""
        grade = f"{self.grade.value.capitalize()}{', answered' if self.is_answered else ''}"
        about = f"{self.about}: " if self.names else ""
        reason = f" Written: {self.reason}" if self.is_answered else ""
        return f"{grade}: {about}{self.message}{reason}"
