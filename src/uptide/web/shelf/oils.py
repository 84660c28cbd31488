"""The page of one oil."""

from __future__ import annotations

from collections.abc import Mapping

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from uptide.catalogue.catalogue import Source
from uptide.core.assessment.assessment import Assessment
from uptide.core.figures.oil_profile import OilProfile, oil_profile, parts_of
from uptide.core.figures.physical import viscosity_line
from uptide.core.finder.substitutes import Substitute, substitutes
from uptide.core.ingredients.grade import GRADES, graded
from uptide.core.ingredients.ingredient import Ingredient, Measured, Phase
from uptide.core.ingredients.lot import Lot
from uptide.core.ingredients.own_oil import KEY
from uptide.core.months import say_day
from uptide.core.oxidation.oil import OilOxidation
from uptide.core.physics.density import density_at, slope_of
from uptide.core.physics.solid import CLEAR
from uptide.core.safety.card import single
from uptide.core.safety.case import certified
from uptide.store.shelf import own_oil
from uptide.web.base.dependencies import OnShelf, Store
from uptide.web.base.pages import number, render
from uptide.web.drawing.oil import (
    Against,
    Curve,
    ProfileView,
    draw_against,
    draw_constituents,
    draw_melting,
    draw_profile,
    draw_viscosity,
    skin_swatches,
)
from uptide.web.drawing.ribbon import RibbonView, draw_ribbon
from uptide.web.drawing.tide import TideView, tide_view
from uptide.web.drawing.view import View
from uptide.web.shelf.scents import scent_words, smells_alike
from uptide.web.shelf.search import candidates
from uptide.web.shelf.side_by_side import NOT_AN_OIL_S, alone
from uptide.web.views.figures import FigureView, cite, figure_view
from uptide.web.views.fit import CautionView, NotForView, caution_view, not_for_views
from uptide.workshop.clock import today
from uptide.workshop.shelf import Shelf, StandingLot

router = APIRouter(prefix="/shelf", include_in_schema=False)

AGAINST = {"iodine_value": "Iodine value", "saponification_value": "Saponification value"}
WARMED = (10, 20, 30, 40, 60)  # °C
ODOURS = ("none", "faint", "plain", "strong")


class SubstituteView(View):
    """What could stand in, and what would change."""

    key: str
    name: str
    distance: str
    changes: tuple[str, ...]
    on_hand: bool


class Listed(View):
    """A rating or a figure as one source lists it."""

    what: str
    value: str
    source: str


class OilPage(View):
    """Everything the page of an oil or a lot shows."""

    key: str
    name: str
    inci: str
    botanical: str
    kind: str
    state: str
    lipid_class: str
    confidence: str
    is_fatty: bool
    colour: str
    use: str
    role: str
    ribbon: RibbonView | None
    profile: ProfileView | None
    narrow_profile: ProfileView | None  # the same on a phone
    profile_sources: tuple[str, ...]
    against: tuple[tuple[str, str, Against], ...]
    melting: Curve | None
    melting_reason: str
    clear_above: str
    viscosity: Curve | None
    skin: tuple[tuple[str, str, str], ...]
    tradition: tuple[str, str]  # what people hold of it, and what is measured beside
    grades: tuple[tuple[str, str, str], ...]  # name, how it is written, what changes
    tint: str
    odour: str
    feel: str
    feel_reason: str
    comedogenicity_lists: tuple[Listed, ...]
    facts: tuple[Listed, ...]
    allergy: str
    by_acids: tuple[SubstituteView, ...]
    by_use: tuple[SubstituteView, ...]
    figures: tuple[FigureView, ...]
    tide: TideView | None
    stands: str
    table: tuple[tuple[str, str, str, str, str], ...]
    scent: tuple[tuple[str, str], ...]
    scent_source: str
    constituents: ProfileView | None
    narrow_constituents: ProfileView | None
    smells_alike: tuple[tuple[str, str, str, bool], ...]  # key, name, how alike, whether it is on hand
    cautions: tuple[CautionView, ...]
    not_for: tuple[NotForView, ...]


@router.get("/{key}")
def show_oil(request: Request, key: str, store: Store, shelf: OnShelf, said: str = "") -> Response:
    """Show one oil: what it is, what it does on skin and in the cold, how long it keeps, what could stand in for it."""
    item = shelf.facts.ingredient(key)
    if item.lot:
        return RedirectResponse(f"/shelf/lots/{item.lot}", 303)
    return render(
        request,
        "shelf/oil.html",
        oil=oil_page(item, shelf),
        lots=shelf.lots_of(key),
        own=key.startswith(KEY),
        unread=own_oil(store, key)[0].unread if key.startswith(KEY) else {},
        said={"kept": "Kept. It can now be typed into a row by its name."}.get(said, ""),
    )


def oil_page(item: Ingredient, shelf: Shelf) -> OilPage:
    """Everything that is known of one oil, in words and pictures."""
    found = alone(item, shelf)
    standing = next((each for each in shelf.standing if each.item.key == item.key), None)
    own = oil_profile(item)
    scent = shelf.facts.safety.scents.get(item.base_key) if item.phase is Phase.SCENT else None
    if scent is not None and item.constituents:
        scent = certified(scent, item.constituents)
    safety = single(item, shelf.facts.safety, today())
    sources = shelf.facts.sources
    figures = tuple(figure_view(f, sources) for f in found.findings if f.key not in NOT_AN_OIL_S)
    by_acids, by_use = substitutes(own, candidates(shelf).values()) if item.is_fatty else ((), ())
    parts = [(grams, part) for grams, part in parts_of(item) if part.is_fatty]
    return OilPage(
        key=item.key,
        name=item.name,
        inci=item.inci,
        botanical=item.botanical_name,
        kind=item.kind.replace("_", " "),
        state=item.state,
        lipid_class=item.lipid.lipid_class.replace("_", " ") if item.lipid else "",
        confidence=item.confidence,
        is_fatty=item.is_fatty,
        colour=item.colour,
        use=f"{item.use.low:g} to {item.use.high:g} % of a blend" if item.use else "",
        role=item.use.role if item.use else "",
        ribbon=draw_ribbon(found.acids, strips=bool(item.parts)),
        profile=draw_profile(item),
        narrow_profile=draw_profile(item, narrow=True),
        profile_sources=_profile_sources(item, sources),
        against=_against(item, found),
        melting=draw_melting(found.setting),
        melting_reason=found.setting.reason if found.setting else "",
        clear_above=_clear_above(found),
        viscosity=draw_viscosity(viscosity_line(parts)) if parts else None,
        skin=skin_swatches(item),
        tradition=_tradition(item, found),
        grades=_grades(item),
        tint=f"{item.appearance.tint} of 10: {item.appearance.words}" if item.appearance else "not listed",
        odour=ODOURS[item.appearance.odour] if item.appearance else "not listed",
        feel=own.feel_word,
        feel_reason=_feel_reason(own),
        comedogenicity_lists=_comedogenicity_lists(item, sources),
        facts=_facts(item, sources),
        allergy=_allergy(item),
        by_acids=_substitute_views(by_acids, shelf, "{:.0f} % of the acids differ", 100),
        by_use=_substitute_views(by_use, shelf, "{:.1f} steps away", 1),
        figures=figures if item.is_fatty else figures[:1],
        tide=_tide(found, standing) if item.is_fatty else None,
        stands=_stands(standing.lot) if standing else f"if opened today and kept in a {found.recipe.storage.place}",
        table=_table(item, sources),
        scent=scent_words(scent) if scent else (),
        scent_source=cite(scent.source, "", sources) if scent else "",
        constituents=draw_constituents(scent) if scent else None,
        narrow_constituents=draw_constituents(scent, narrow=True) if scent else None,
        smells_alike=smells_alike(item, shelf) if scent else (),
        cautions=tuple(caution_view(caution, shelf.facts) for caution in safety.cautions),
        not_for=not_for_views(safety.not_for),
    )


def _tide(found: Assessment, standing: StandingLot | None) -> TideView | None:
    """How it keeps; the day that a lot ends on is the one that stands in the list of lots."""
    view = tide_view(found, (), today())
    if view is None or standing is None or not view.until:
        return view
    return view.model_copy(update={"until": say_day(standing.life.ends_on)})


def _stands(lot: Lot) -> str:
    """How a lot stands, in words."""
    return f"as it stands: {'opened' if lot.opened_on else 'closed'}, in {_a(lot.storage.place)}"


def _a(place: str) -> str:
    return f"the {place}" if place == "fridge" else f"a {place}"


def _profile_sources(item: Ingredient, sources: Mapping[str, Source]) -> tuple[str, ...]:
    """Where the ranges and the typical values are from, each once."""
    if item.lipid is None or item.lipid.acids is None:
        return ()
    shares = item.lipid.acids.shares
    ranges = dict.fromkeys(share.range_source or share.source for share in shares)
    typical = dict.fromkeys(share.source for share in shares)
    return (
        "Range: " + "; ".join(cite(key, "", sources) for key in ranges),
        "Typical: " + "; ".join(cite(key, "", sources) for key in typical),
    )


def _against(item: Ingredient, found: Assessment) -> tuple[tuple[str, str, Against], ...]:
    """Iodine and saponification value beside the published range."""
    views = []
    for key, title in AGAINST.items():
        published = next(iter(item.properties.get(key, ())), None)
        value = found.finding(key).value
        drawn = draw_against(value, published)
        if drawn is not None:
            views.append((title, number(value), drawn))
    return tuple(views)


def _tradition(item: Ingredient, found: Assessment) -> tuple[str, str]:
    """What people hold of it by tradition, and what is measured in its place; nothing where nothing is told."""
    if item.tradition is None:
        return "", ""
    sets = found.setting.clear_above if found.setting is not None else None
    measured = f"measured: it sets below {sets:.0f} °C" if sets is not None else "measured: it stays liquid in the room"
    thick = oil_profile(item).thickness
    return item.tradition.words, f"{measured}{f', and is {thick:.0f} mPa·s thick on skin' if thick else ''}"


def _grades(item: Ingredient) -> tuple[tuple[str, str, str], ...]:
    """The grades that it comes in: how each is written in a row, and what it changes; none of a lot, which has one."""
    if item.lot or item.grade or item.kind not in GRADED_KINDS or item.oxidation is None:
        return ()
    found = []
    for grade in GRADES.values():
        made = graded(item, grade.key)
        keeps, oil = oil_profile(made).keeps, made.oxidation
        begins = f"begins at {oil.fresh_pv:g} meq/kg" if oil is not None and not oil.is_inert else ""
        tint = f"tint {made.appearance.tint} of 10" if made.appearance else ""
        kept = f"keeps {keeps:.0f} months closed, cool and dark" if keeps is not None else ""
        figures = "; ".join(filter(None, (tint, begins, kept)))
        found.append((grade.name, f"50 g {grade.name} {_unbracketed(item.name)}", f"{grade.says}. {figures}."))
    return tuple(found)


def _unbracketed(name: str) -> str:
    """A name as it is written in a row, without what stands in brackets.

    >>> _unbracketed("Olive oil (virgin)")
    'olive oil'
    """
    plain = name.partition(" (")[0]
    return f"{plain[:1].lower()}{plain[1:]}"


def _clear_above(found: Assessment) -> str:
    if found.setting is None or not found.setting.curve:
        return ""
    if found.setting.clear_above is not None:
        return f"clear above {found.setting.clear_above:.0f} °C"
    return "clear from 0 °C on" if found.setting.curve[0] < CLEAR else "not clear below 45 °C"


def _feel_reason(own: OilProfile) -> str:
    """Why it feels so: what the trade lists, and what its thickness on warm skin says."""
    thick = (
        ""
        if own.thickness is None
        else f"{own.thickness:.0f} mPa·s on skin at 32 °C, where grapeseed has 42, almond 49, castor 410"
    )
    listed = "listed so by common practice, from memory" if own.feel else "not listed anywhere"
    return "; ".join(filter(None, [listed, thick]))


def _comedogenicity_lists(item: Ingredient, sources: Mapping[str, Source]) -> tuple[Listed, ...]:
    names = ("comedogenicity", "comedogenicity_fulton")
    return tuple(
        Listed(what="clog rating", value=f"{m.typical:g} of 5", source=cite(m.source, m.locator, sources))
        for name in names
        for m in item.properties.get(name, ())
        if m.typical is not None
    )


GRADED_KINDS = frozenset({"carrier", "butter"})
SHOWN = {
    "density": "Density",
    "bulk_density": "Density in a spoon, with air between the grains",
    "refractive_index": "Refractive index",
    "unsaponifiable_matter": "Unsaponifiable matter",
    "tocopherols": "Tocopherols",
    "induction_time_110c": "Induction time at 110 °C",
    "cloud_point": "Cloud point",
    "melting_point": "Melting point",
    "peroxide_value": "Peroxide value",
    "free_fatty_acids": "Free fatty acids, as oleic",
    "shelf_life": "Life as the trade gives it",
}


def _facts(item: Ingredient, sources: Mapping[str, Source]) -> tuple[Listed, ...]:
    """What tables say of it, each with its source: first what the model uses, then what another list has."""
    found, oil = [], item.oxidation
    used = {"shelf_life"} if oil is not None and oil.trade_life is not None else set()
    if oil is not None and oil.osi_hours is not None:
        used.add("induction_time_110c")
    for key, title in SHOWN.items():
        if oil is not None and key in used:
            found.append(_used(oil, key, title, sources))
        for m in item.properties.get(key, ()):
            if key == "shelf_life" and oil is not None and (m.low, m.high) == oil.trade_life:
                continue
            another = key in used and m.source != "person"
            found.append(
                Listed(
                    what=f"{title}, by another list" if another else title,
                    value=_range_words(m),
                    source=cite(m.source, f"{m.locator}; {m.confidence} confidence", sources),
                )
            )
    if item.is_fatty and not item.parts:
        found.append(
            Listed(
                what="Density, warmed",
                value=", ".join(f"{density_at(item.density, 20, t, item.base_key):.3f} at {t} °C" for t in WARMED),
                source=f"a straight line: {1000 * slope_of(item.base_key):.2f} mg/mL less for each kelvin, of the "
                "liquid oil (model)",
            )
        )
    if oil is not None and oil.osi_hours is not None:
        found.append(
            Listed(
                what="Oxidizability (Cox value)",
                value=f"{oil.cox:.2f}, oleic acid being 1",
                source=cite("cox-1980", "computed from its acids", sources),
            )
        )
    return tuple(found)


def _used(oil: OilOxidation, key: str, title: str, sources: Mapping[str, Source]) -> Listed:
    """The induction time or the trade's life by which its keeping is worked out."""
    low, high = oil.trade_life or (0.0, 0.0)
    value = f"{low:g} to {high:g} months" if key == "shelf_life" else f"{oil.osi_hours:.1f} h"
    from_list = "common-practice" if key == "shelf_life" and oil.source != "oxidation-calibration" else oil.source
    return Listed(what=title, value=value, source=cite(from_list, f"{oil.confidence} confidence", sources))


def _range_words(m: Measured) -> str:
    decimals = 4 if m.unit in ("1", "") else 3 if m.unit == "g/mL" else 1
    values = [number(v, decimals) for v in (m.low, m.typical, m.high) if v is not None]
    at = f" at {m.temperature:g} °C" if m.temperature is not None else ""
    unit = {"percent": "%", "degC": "°C", "1": "", "month": "months"}.get(m.unit, m.unit)
    shown = f"{values[1]} ({values[0]} to {values[2]})" if len(values) == 3 else " to ".join(values)
    return f"{shown} {unit}{at}".strip()


def _allergy(item: Ingredient) -> str:
    said = []
    if item.allergen_family:
        said.append(f"{item.allergen_family.replace('_', ' ')} family: not for anyone allergic to it")
    if item.allergen_note:
        said.append(item.allergen_note)
    if not said and item.base_key.startswith("own:"):
        return "Unknown: nothing was said of its allergens."
    return ". ".join(part[:1].upper() + part[1:] for part in said) + ("." if said else "")


def _substitute_views(
    found: tuple[Substitute, ...], shelf: Shelf, words: str, scale: float
) -> tuple[SubstituteView, ...]:
    return tuple(
        SubstituteView(
            key=each.oil_profile.key,
            name=each.oil_profile.item.name,
            distance=words.format(scale * each.distance),
            changes=each.changes or ("hardly anything changes",),
            on_hand=each.oil_profile.key in shelf.on_hand,
        )
        for each in found
    )


def _table(item: Ingredient, sources: Mapping[str, Source]) -> tuple[tuple[str, str, str, str, str], ...]:
    """The profile as a table: acid, low, typical, high, source of the typical value."""
    if item.lipid is None or item.lipid.acids is None:
        return ()
    return tuple(
        (
            f"{s.acid.common_name} ({s.acid.code})",
            number(100 * s.low),
            number(100 * s.typical),
            number(100 * s.high),
            cite(s.source, f"{s.locator}; {s.confidence} confidence", sources),
        )
        for s in item.lipid.acids.shares
    )
