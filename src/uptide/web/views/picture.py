"""One picture of a blend at a time: which is shown, and what it shows."""

from __future__ import annotations

from collections.abc import Mapping

from fastapi import Request

from uptide.catalogue.catalogue import Catalogue
from uptide.core.assessment.assessment import Assessment
from uptide.web.drawing.bottle import BottleView, draw_bottle
from uptide.web.drawing.chart import BlendOnChart, blend_on_chart
from uptide.web.drawing.ribbon import RibbonView, draw_ribbon
from uptide.web.drawing.view import View

PICTURES: Mapping[str, str] = {"bottle": "Bottle", "tide": "Freshness", "acids": "Acids", "chart": "Among oils"}
REMEMBERED = "picture"  # name of the field and of the cookie that say which


class PictureView(View):
    """The picture that is shown, drawn; the others are not. The tide is drawn from its own view."""

    kind: str
    choices: tuple[tuple[str, str], ...] = tuple(PICTURES.items())
    bottle: BottleView | None = None
    ribbon: RibbonView | None = None
    chart: BlendOnChart | None = None


def chosen_picture(request: Request, asked: str = "") -> str:
    """Which picture: the one asked for now, else the one that was chosen last."""
    return next(
        (kind for kind in (asked, request.cookies.get(REMEMBERED, "")) if kind in PICTURES), next(iter(PICTURES))
    )


def picture_view(kind: str, assessment: Assessment, facts: Catalogue) -> PictureView:
    """Draw the picture that is shown."""
    return PictureView(
        kind=kind,
        bottle=draw_bottle(assessment.bottle) if kind == "bottle" else None,
        ribbon=draw_ribbon(assessment.acids, narrow=True) if kind == "acids" else None,
        chart=blend_on_chart(assessment.acids, facts) if kind == "chart" else None,
    )
