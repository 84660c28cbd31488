"""The room of the shelf: every oil of the catalogue, sorted and sifted; a few side by side; the page of one."""

from __future__ import annotations

from functools import cache
from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse
from pydantic import BaseModel, ConfigDict

from uptide.catalogue.load import Catalogue
from uptide.core.blend.assess import assess
from uptide.core.blend.assessment import Finding
from uptide.core.blend.ingredient import Ingredient
from uptide.core.blend.recipe import Entry, Recipe
from uptide.core.errors import UptideError
from uptide.core.oxidation import rate
from uptide.core.oxidation.simulate import standard_draws
from uptide.store.shelf import list_lots, prices
from uptide.web.dependencies import Facts, Store
from uptide.web.drawings import RibbonView, View, draw_ribbon
from uptide.web.pages import number, render
from uptide.web.tide import tide_view
from uptide.web.views import FigureView, figure_view
from uptide.web.workshop import today

router = APIRouter(prefix="/shelf", include_in_schema=False)

FEELS = {1: "dry", 2: "fast", 3: "medium", 4: "slow, rich"}
FEWEST, MOST = 2, 5  # oils side by side
NOT_AN_OIL_S = ("total_mass", "total_volume", "cost", "scent_share")


class OilView(View):
    """One oil as a line of the shelf; a figure is None when it is unknown."""

    key: str
    name: str
    inci: str
    kind: str
    is_fatty: bool
    allergen: str
    linoleic: float | None
    oleic: float | None
    saturated: float | None
    omega_3: float | None
    iodine: float | None
    keeps: float | None
    feel: int | None
    clog: float | None
    ribbon: RibbonView | None

    @property
    def feel_word(self) -> str:
        """How it feels on dry skin, in a word."""
        return FEELS.get(self.feel or 0, "unknown")


# What the shelf can be sorted by: the title, and whether the greatest stands on top.
SORTS: dict[str, tuple[str, bool]] = {
    "name": ("name", False),
    "linoleic": ("linoleic", True),
    "oleic": ("oleic", True),
    "saturated": ("saturated", True),
    "omega_3": ("omega-3", True),
    "keeps": ("keeping time", True),
    "feel": ("feel, lightest first", False),
    "clog": ("clog rating", False),
    "price": ("price", False),
}


class Sift(BaseModel):
    """What is asked of the shelf: all of it stands in the address, so that a view can be kept."""

    model_config = ConfigDict(extra="ignore")
    q: str = ""
    sort: str = "name"
    without: list[str] = []
    than: str = ""
    lighter: bool = False
    longer: bool = False
    on_hand: bool = False


@router.get("")
def list_oils(request: Request, store: Store, facts: Facts, sift: Annotated[Sift, Query()]) -> HTMLResponse:
    """List every oil with its fatty acids as a ribbon, found by any name, sorted and sifted."""
    lots = list_lots(store)
    costs = {key: price.per_gram * 100 for key, price in prices(store).items()}
    on_hand = {lot.ingredient for lot in lots}
    example, problem = _example(sift, facts)
    oils = [view for view in _oil_views(facts).values() if _passes(view, sift, facts, on_hand, example)]
    families = sorted({item.allergen_family for item in facts.ingredients.values() if item.allergen_family})
    return render(
        request,
        "shelf/list.html",
        oils=_sorted(oils, sift.sort, costs),
        sift=sift,
        sorts=SORTS,
        families=families,
        example=example,
        problem=problem,
        costs=costs,
        on_hand=on_hand,
        lots=lots,
        facts=facts,
    )


def _example(sift: Sift, facts: Catalogue) -> tuple[OilView | None, str]:
    """The oil that others are held against, or why there is none."""
    if not sift.than.strip():
        return None, ""
    match = facts.names.match(sift.than)
    if not match.sure:
        meant = " or ".join(facts.ingredients[key].name for key in match.keys)
        return None, f"“{sift.than}” is {'one of several: ' + meant if meant else 'not in the catalogue'}."
    return _oil_views(facts)[match.keys[0]], ""


def _passes(view: OilView, sift: Sift, facts: Catalogue, on_hand: set[str], example: OilView | None) -> bool:
    if sift.q.strip():
        item = facts.ingredients[view.key]
        words = f"{item.name} {item.inci} {item.botanical_name}".casefold()
        if view.key not in facts.names.match(sift.q).keys and not all(w in words for w in sift.q.casefold().split()):
            return False
    elif not view.is_fatty:
        return False
    if facts.ingredients[view.key].allergen_family in sift.without or (sift.on_hand and view.key not in on_hand):
        return False
    if example is None:
        return True
    # What is unknown is not called lighter or longer-lived.
    lighter = view.feel is not None and example.feel is not None and view.feel < example.feel
    longer = view.keeps is not None and example.keeps is not None and view.keeps > example.keeps
    return (lighter or not sift.lighter) and (longer or not sift.longer)


def _sorted(oils: list[OilView], by: str, costs: dict[str, float]) -> list[OilView]:
    """Sort by a figure, the unknown last, equals by name."""
    _, descending = SORTS.get(by, SORTS["name"])
    if by not in SORTS or by == "name":
        return sorted(oils, key=lambda view: view.name)

    def figure(view: OilView) -> float | None:
        return costs.get(view.key) if by == "price" else getattr(view, by)

    def rank(view: OilView) -> tuple[bool, float, str]:
        value = figure(view)
        return (value is None, (-value if descending else value) if value is not None else 0.0, view.name)

    return sorted(oils, key=rank)


@cache
def _oil_views(facts: Catalogue) -> dict[str, OilView]:
    """Every line of the shelf, worked out once: the catalogue does not change while the application runs."""
    return {key: _oil(item, facts) for key, item in facts.ingredients.items()}


def _oil(item: Ingredient, facts: Catalogue) -> OilView:
    assessment = assess(_alone(item), facts.ingredients, facts.names)
    known = item.lipid is not None and item.lipid.acids is not None
    acids = {part.acid.code: part.percent for part in assessment.acids}
    oil = item.oxidation
    keeps = None
    if oil is not None:
        keeps = (
            rate.AGEING_MONTHS
            if oil.osi_hours is None
            else rate.months_to_limit(oil.osi_hours, oil.fresh_pv, oil.limit_pv, rate.ROOM)
        )
    feel, clog = (item.properties.get(name, ()) for name in ("absorption", "comedogenicity"))
    return OilView(
        key=item.key,
        name=item.name,
        inci=item.inci,
        kind=item.kind.replace("_", " "),
        is_fatty=item.is_fatty,
        allergen=item.allergen_family.replace("_", " "),
        linoleic=assessment.finding("linoleic_share").value if known else None,
        oleic=assessment.finding("oleic_share").value if known else None,
        saturated=assessment.finding("saturated").value if known else None,
        omega_3=sum(acids.get(code, 0.0) for code in ("18:3n3", "18:4n3")) if known else None,
        iodine=assessment.finding("iodine_value").value if item.lipid else None,
        keeps=keeps,
        feel=int(feel[0].typical) if feel and feel[0].typical else None,
        clog=clog[0].typical if clog else None,
        ribbon=draw_ribbon(assessment.acids, strips=False) if item.lipid else None,
    )


def _alone(item: Ingredient) -> Recipe:
    return Recipe((Entry(f"100 g {item.name}", {"name": item.key}),))


@router.get("/compare")
def compare_oils(
    request: Request, facts: Facts, oil: Annotated[list[str], Query(default_factory=list)]
) -> HTMLResponse:
    """Lay two to five oils side by side, the figure they differ in most on top."""
    keys = list(dict.fromkeys(oil))
    if not FEWEST <= len(keys) <= MOST:
        raise UptideError(
            f"{len(keys)} oils cannot be laid side by side; {FEWEST} to {MOST} can. Mark them on the shelf."
        )
    views = _oil_views(facts)
    items = [facts.ingredient(key) for key in keys]
    found = [_figures(item, facts) for item in items]
    rows = [[figures[key] for figures in found] for key in found[0] if all(key in figures for figures in found)]
    ranked = sorted(rows, key=_difference, reverse=True)
    return render(
        request,
        "shelf/compare.html",
        oils=[views[key] for key in keys],
        rows=[[figure_view(finding, facts.sources) for finding in row] for row in ranked],
        words=_words([views[key] for key in keys]),
    )


def _figures(item: Ingredient, facts: Catalogue) -> dict[str, Finding]:
    assessment = assess(_alone(item), facts.ingredients, facts.names, draws=standard_draws())
    return {finding.key: finding for finding in assessment.findings if finding.key not in NOT_AN_OIL_S}


def _difference(row: list[Finding]) -> float:
    """How far a figure spreads over the oils, against its middle; one that is unknown somewhere stands last."""
    values = [finding.value for finding in row if finding.value is not None]
    if len(values) < len(row):
        return -1.0
    middle = sum(abs(value) for value in values) / len(values)
    return (max(values) - min(values)) / middle if middle else 0.0


def _words(oils: list[OilView]) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """What is said of oils in words, for the comparison."""
    return (
        ("Feel on dry skin (common practice)", tuple(oil.feel_word for oil in oils)),
        ("Clog rating as listed, 0 to 5", tuple(number(oil.clog, 0) for oil in oils)),
        ("Keeps, fresh, closed, 20 °C, median months", tuple(number(oil.keeps) for oil in oils)),
        ("Allergy family", tuple(oil.allergen or "–" for oil in oils)),
    )


@router.get("/{key}")
def show_oil(request: Request, key: str, store: Store, facts: Facts) -> HTMLResponse:
    """Show one oil: what it is called, its fatty acids with their range, its figures and their working."""
    item = facts.ingredient(key)
    assessment = assess(_alone(item), facts.ingredients, facts.names, draws=standard_draws())
    figures: list[FigureView] = [
        figure_view(finding, facts.sources) for finding in assessment.findings if finding.key not in NOT_AN_OIL_S
    ]
    lots = [lot for lot in list_lots(store) if lot.ingredient == key]
    return render(
        request,
        "shelf/oil.html",
        item=item,
        oil=_oil_views(facts)[key],
        figures=figures if item.is_fatty else figures[:1],
        ribbon=draw_ribbon(assessment.acids, strips=False),
        lots=lots,
        facts=facts,
        tide=tide_view(assessment, (), today()) if item.is_fatty else None,
    )
