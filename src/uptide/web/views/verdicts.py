"""The verdicts of a blend in the words of the page, each with a small mark of where it stands in its range."""

from __future__ import annotations

from datetime import date

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assessment import Assessment
from uptide.core.assessment.verdicts import Verdict, verdicts
from uptide.core.months import months_later, say_day
from uptide.web.drawing.view import View
from uptide.web.views.figures import FigureView, figure_view
from uptide.web.views.parts import EVERY_PART, Parts

KEEPS = "keeps_months"
WIDTH, EDGE = 84.0, 4.0  # user units of a mark


class MarkView(View):
    """Where a figure stands in its range: its place, its band and the limit, across in user units."""

    at: float
    band: tuple[float, float] | None
    limit: float | None
    width: float = WIDTH
    edge: float = EDGE


class VerdictView(View):
    """One verdict in a line: its name, its word, its figure, and its mark."""

    title: str
    word: str
    figure: FigureView
    mark: MarkView | None
    beside: str  # the figure, or what the months make of today
    is_worst: bool


def verdict_views(assessment: Assessment, facts: Catalogue, parts: Parts = EVERY_PART) -> tuple[VerdictView, ...]:
    """All verdicts of a blend, with the workings of those that are open."""
    return tuple(_view(verdict, assessment, facts, parts) for verdict in verdicts(assessment))


def _view(verdict: Verdict, assessment: Assessment, facts: Catalogue, parts: Parts) -> VerdictView:
    finding = verdict.finding
    figure = figure_view(finding, facts.sources, worked=f"figure-{finding.key}" in parts)
    amount = "" if finding.value is None else f"{figure.value} {figure.unit}".strip()
    word, beside = (finding.word, amount) if finding.word else (amount, figure.band)
    if finding.key == KEEPS and finding.value is not None:
        word, beside = _until(int(finding.value), assessment.day)
    return VerdictView(
        title=verdict.title,
        word=word or "unknown",
        figure=figure,
        mark=_mark(verdict),
        beside=beside,
        is_worst=verdict.is_worst,
    )


def _until(months: int, made: date) -> tuple[str, str]:
    """How long, and until when if it is made today."""
    if not months:
        return "under a month", "test before use"
    return f"{months} month{'s' if months != 1 else ''}", f"until {say_day(months_later(made, months))}"


def _mark(verdict: Verdict) -> MarkView | None:
    value, scale, finding = verdict.finding.value, verdict.scale, verdict.finding
    if value is None or scale is None:
        return None

    def across(number: float) -> float:
        part = (number - scale[0]) / (scale[1] - scale[0])
        return EDGE + (WIDTH - 2 * EDGE) * min(max(part, 0.0), 1.0)

    has_band = finding.low is not None and finding.high is not None
    return MarkView(
        at=across(value),
        # What is promised may be less than what nearly all reach: the band holds the figure.
        band=(across(min(finding.low or 0.0, value)), across(max(finding.high or 0.0, value))) if has_band else None,
        limit=across(verdict.limit) if verdict.limit is not None else None,
    )
