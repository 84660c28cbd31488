"""A way of computing a figure, in words a person can check: the text behind *Show the working*."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Method:
    """A way of computing a figure: its formula, what it is for, its doubt, and its sources by key."""

    key: str
    formula: str
    explanation: str
    doubt: str
    sources: tuple[str, ...] = ()
