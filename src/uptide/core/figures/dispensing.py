"""Whether the container suits the thing: how thick it is, what solids are in it, whether it sets, and where it stands.

The limits are common practice, from memory; nobody has measured them for oils.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from math import fsum

from uptide.core.figures.citing import listed
from uptide.core.figures.finding import Finding
from uptide.core.figures.physical import viscosity
from uptide.core.figures.setting import SALVE, beeswax_percent, solid_at
from uptide.core.figures.settling import POWDER
from uptide.core.figures.specs import DISPENSING
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.measures.say import say_number
from uptide.core.oxidation.surroundings import LIGHT_LEVEL, Glass, Light, Storage
from uptide.core.physics.bottle import CONTAINER_KINDS
from uptide.core.physics.solid import CLEAR
from uptide.core.tolerance import exceeds, reaches


@dataclass(frozen=True, slots=True)
class Limits:
    """What a container can give out: the thinnest and the thickest [mPa s], % of solid fat and wax, grains [µm]."""

    thinnest: float
    thickest: float
    solid: float
    grains: float


ANYTHING = 1e9
LIMITS: Mapping[str, Limits] = {
    "spray": Limits(0.0, 40.0, 0.0, 0.0),  # thicker oil leaves it as a jet
    "roller": Limits(15.0, 150.0, 0.0, 20.0),  # thinner runs past the ball, thicker does not follow it
    "dropper": Limits(0.0, 400.0, 0.0, 50.0),  # castor creeps up a pipette
    "pump": Limits(0.0, 1000.0, 2.0, 50.0),
    "bottle": Limits(0.0, 2000.0, 2.0, 2000.0),
    "squeeze": Limits(20.0, ANYTHING, 12.0, 2000.0),
    "jar": Limits(200.0, ANYTHING, 100.0, ANYTHING),  # what is thin spills, and fingers go into it
}
WAX_IS_SOLID = 1.0  # % solid fat for each % of wax, counted as beeswax: a salve does not pour
SHOWER = "shower"
SCRUB = 0.20  # g/g of powder: from here on it is spooned, however thin its oil is


@dataclass(frozen=True, slots=True)
class _Contents:
    """What a container is asked to give out: how much of it sets and at which warmth, how thick it is, its grains."""

    coldest: float  # °C
    solid: float | None  # %
    thick: float | None  # mPa s
    is_scrub: bool
    grains: tuple[tuple[str, float], ...]  # name, µm


def dispensing(
    everything: Sequence[tuple[float, Ingredient]], kind: str, storage: Storage, area: str, *, is_assumed: bool
) -> tuple[Finding, ...]:
    """Whether a kind of container suits what is in it (g, ingredient), where it stands and where on it is used.

    None where nothing is in it yet. `is_assumed` says that nobody named the container: it is what such a thing usually
    comes in.
    """
    fatty = [(mass, item) for mass, item in everything if item.is_fatty]
    if not fatty:
        return ()
    coldest = min(storage.celsius)
    contents = _Contents(
        coldest=coldest,
        solid=_stiffness(fatty, coldest),
        thick=viscosity(fatty, fsum(storage.celsius) / 12).value,
        is_scrub=reaches(_powder_share(everything), SCRUB),
        grains=tuple((item.name, _grain(item)) for mass, item in everything if mass > 0),
    )
    against = {other: tuple(_against(contents, other)) for other in LIMITS}
    better = [CONTAINER_KINDS[other].name for other in LIMITS if not against[other] and other != kind]
    walls = tuple(_of_walls(kind, storage, area))
    name = CONTAINER_KINDS[kind].name
    found = (*against[kind], *walls)
    said = "; ".join(found) if found else "It gives out what is in it, where it will stand"
    instead = f" It would suit a {listed(better)}." if against[kind] and better else ""
    assumed = f" No container is named: a {name} is what such a thing usually comes in." if is_assumed else ""
    word = f"not a {name}" if against[kind] else f"a {name}, with care" if walls else f"a {name} suits"
    if is_assumed and against[kind] and better:
        word = f"a {better[0]} suits"
    return (
        Finding(
            spec=DISPENSING,
            value=float(len(found)),
            sources=("common-practice",),
            confidence="low",
            remark=f"{said[:1].upper()}{said[1:]}.{instead}{assumed}",
            word=word,
        ),
    )


def _against(contents: _Contents, kind: str) -> Iterator[str]:
    """What in it speaks against a kind of container."""
    limits, name = LIMITS[kind], CONTAINER_KINDS[kind].name
    solid, thick = contents.solid, contents.thick
    if solid is not None and reaches(solid, CLEAR):
        if exceeds(solid, limits.solid):
            yield f"it sets at {contents.coldest:g} °C, and a {name} gives out what pours"
    elif thick is not None:
        if exceeds(thick, limits.thickest):
            yield f"{say_number(thick, 2)} mPa·s is too thick for a {name}, which wants {limits.thickest:g} at most"
        if not reaches(thick, limits.thinnest) and not contents.is_scrub:
            yield f"{say_number(thick, 2)} mPa·s is too thin for a {name}, which wants {limits.thinnest:g} and more"
    large = [grain for grain, size in contents.grains if exceeds(size, limits.grains)]
    if large:
        yield f"{listed(large)} would clog a {name}"


def _stiffness(fatty: list[tuple[float, Ingredient]], celsius: float) -> float | None:
    """% of it that is solid at a temperature [°C]: fat, or wax from where it is a salve; None where it is not known."""
    solid = solid_at(fatty, celsius)
    if solid is not None:
        return solid
    wax = beeswax_percent(fatty)
    return None if wax is None else WAX_IS_SOLID * wax if reaches(wax, SALVE) else 0.0


def _powder_share(everything: Sequence[tuple[float, Ingredient]]) -> float:
    """Grams of powder in a gram of the whole."""
    total = fsum(mass for mass, _ in everything)
    return fsum(mass for mass, item in everything if item.kind == POWDER) / total if total else 0.0


def _grain(item: Ingredient) -> float:
    """Size of its large grains [µm]; of a powder of which nobody has said, as large as can be."""
    if item.kind != POWDER:
        return 0.0
    sizes = item.properties.get("particle_size", ())
    return (sizes[0].high or ANYTHING) if sizes else ANYTHING


def _of_walls(kind: str, storage: Storage, area: str) -> Iterator[str]:
    """What its walls are wrong for, where it stands."""
    if area == SHOWER and storage.material == "glass":
        yield "glass breaks in a shower: take plastic or metal"
    if storage.light in (Light.BRIGHT, Light.SUNNY) and storage.glass is Glass.CLEAR:
        lit = f"{LIGHT_LEVEL[storage.light] / LIGHT_LEVEL[Light.ROOM]:.0f} times the light of a room"
        yield f"a clear wall lets {lit} through where it stands: take amber or opaque, or a cupboard"
    if kind == "dropper" and storage.material == "HDPE":
        yield "a soft plastic dropper bottle lets air through: oil turns sooner in it"
