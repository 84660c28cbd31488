"""The room of the shelf: every oil of the catalogue, and the page of one."""

from __future__ import annotations

from functools import cache

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse

from uptide.catalogue.load import Catalogue
from uptide.core.blend.assess import assess
from uptide.core.blend.ingredient import Ingredient
from uptide.core.blend.recipe import Entry, Recipe
from uptide.core.oxidation.simulate import standard_draws
from uptide.store.shelf import list_lots
from uptide.web.blends import today
from uptide.web.dependencies import Facts, Store
from uptide.web.drawings import RibbonView, View, draw_ribbon
from uptide.web.pages import render
from uptide.web.tide import tide_view
from uptide.web.views import FigureView, figure_view

router = APIRouter(prefix="/shelf", include_in_schema=False)


class OilView(View):
    """One oil as a line of the shelf."""

    key: str
    name: str
    inci: str
    kind: str
    allergen: str
    ribbon: RibbonView | None


@router.get("")
def list_oils(request: Request, store: Store, facts: Facts, q: str = "") -> HTMLResponse:
    """List every oil with its fatty acids as a ribbon; `q` searches all its names."""
    found = list(facts.ingredients.values())
    if q.strip():
        words = q.casefold().split()
        near = facts.names.match(q)
        found = [
            item
            for item in facts.ingredients.values()
            if item.key in near.keys
            or all(word in f"{item.name} {item.inci} {item.botanical_name}".casefold() for word in words)
        ]
    views = _oil_views(facts)
    oils = [views[item.key] for item in found if item.is_fatty or q.strip()]
    return render(request, "shelf/list.html", oils=oils, q=q, lots=list_lots(store), facts=facts)


@cache
def _oil_views(facts: Catalogue) -> dict[str, OilView]:
    """Every line of the shelf, worked out once: the catalogue does not change while the application runs."""
    return {key: _oil(item, facts) for key, item in facts.ingredients.items()}


def _oil(item: Ingredient, facts: Catalogue) -> OilView:
    return OilView(
        key=item.key,
        name=item.name,
        inci=item.inci,
        kind=item.kind.replace("_", " "),
        allergen=item.allergen_family.replace("_", " "),
        ribbon=draw_ribbon(assess(_alone(item), facts.ingredients, facts.names).acids, strips=False)
        if item.lipid
        else None,
    )


def _alone(item: Ingredient) -> Recipe:
    return Recipe((Entry(f"100 g {item.name}", {"name": item.key}),))


@router.get("/{key}")
def show_oil(request: Request, key: str, store: Store, facts: Facts) -> HTMLResponse:
    """Show one oil: what it is called, its fatty acids with their range, its figures and their working."""
    item = facts.ingredient(key)
    assessment = assess(_alone(item), facts.ingredients, facts.names, draws=standard_draws())
    figures: list[FigureView] = [
        figure_view(finding, facts.sources)
        for finding in assessment.findings
        if finding.key not in ("total_mass", "total_volume", "cost", "scent_share")
    ]
    lots = [lot for lot in list_lots(store) if lot.ingredient == key]
    return render(
        request,
        "shelf/oil.html",
        item=item,
        figures=figures if item.is_fatty else figures[:1],
        ribbon=draw_ribbon(assessment.acids, strips=False),
        lots=lots,
        facts=facts,
        tide=tide_view(assessment, (), today()) if item.is_fatty else None,
    )
