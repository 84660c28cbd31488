"""A bottle that was made of a blend, in the words of the page."""

from __future__ import annotations

from uptide.web.drawing.tide import TideView
from uptide.web.drawing.view import View


class BottledView(View):
    """How a made bottle fares: a line of it, and its own tide."""

    verdict: str
    turned: bool
    tide: TideView


def bottled_view(tide: TideView | None) -> BottledView | None:
    """The bottle of a blend; None where nobody can say how it keeps."""
    if tide is None:
        return None
    until = f"keeps until {tide.until}" if tide.until else tide.verdict
    past = "; past: smell and test it before use" if tide.is_past else ""
    return BottledView(verdict=f"made {tide.made}, {until}{past}", turned=tide.turned, tide=tide)
