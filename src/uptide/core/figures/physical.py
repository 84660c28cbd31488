"""Figures of the oils as a stuff: how thick, how bent its light, what colour."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from math import fsum, log
from types import MappingProxyType

import numpy as np

from uptide.core.arrays import Array
from uptide.core.figures.citing import cited, least_confidence, listed
from uptide.core.figures.fat import NO_OIL, UNKNOWN_ALLOWED
from uptide.core.figures.finding import Finding, Input
from uptide.core.figures.setting import solid_at
from uptide.core.figures.specs import REFRACTIVE_INDEX_20C, tint_spec, viscosity_spec
from uptide.core.ingredients.ingredient import Ingredient, Measured
from uptide.core.lipids.draws import COUNT, band, draws_of
from uptide.core.physics.colour import SKIN_TONES, difference, on_skin, through, tint_word, written
from uptide.core.physics.viscosity import (
    BLEND_ERROR,
    INTERCEPT,
    MEAN_CHAIN,
    MODEL_ERROR,
    PER_CARBON,
    PER_DOUBLE_BOND,
    blend_viscosity,
    glyceride_viscosity,
    viscosity_at,
    viscosity_between,
)
from uptide.core.tolerance import exceeds

ROOM_CELSIUS = 25.0
INDEX_SLOPE = -0.00038  # refractive index per °C; from memory
INDEX_ERROR = 0.001
TINTED_SKIN = "fair"  # what a tint is judged on when no wearer says otherwise


@dataclass(frozen=True, slots=True)
class ThickPart:
    """One oil's viscosity [mPa s] at a temperature, its possible lots, and where it is known from."""

    item: Ingredient
    value: float
    lots: Array
    measured: bool
    source: str
    locator: str
    confidence: str


@lru_cache(maxsize=1024)
def _viscosity_pairs(points: tuple[Measured, ...]) -> tuple[tuple[float, float], ...]:
    return tuple(
        (point.temperature, point.typical)
        for point in points
        if point.temperature is not None and point.typical is not None
    )


def viscosity_of(item: Ingredient, temperature: float) -> float | None:
    """Viscosity [mPa s] of one oil: along its own two values where it has them, else by the model; None if neither."""
    pairs = _viscosity_pairs(item.properties.get("viscosity", ()))
    if len(pairs) >= 2:
        return viscosity_between(pairs[0], pairs[1], temperature)
    if len(pairs) == 1:
        return viscosity_at(pairs[0][1], pairs[0][0], temperature)
    at_35 = glyceride_viscosity(item.lipid) if item.lipid else None
    return None if at_35 is None else viscosity_at(at_35, 35, temperature)


@lru_cache(maxsize=1024)
def _thick(item: Ingredient, temperature: float) -> ThickPart | None:
    value = viscosity_of(item, temperature)
    if value is None:
        return None
    points = item.properties.get("viscosity", ())
    draws = draws_of(item.lipid) if item.lipid else None
    ratio = np.zeros(COUNT)
    if draws is not None and item.lipid is not None and glyceride_viscosity(item.lipid) is not None:
        model = INTERCEPT + PER_DOUBLE_BOND * draws.double_bonds + PER_CARBON * (draws.carbons - MEAN_CHAIN)
        ratio = model - np.median(model)
    if points:
        first = points[0]
        source, locator, confidence = first.source, first.locator, first.confidence
    else:
        source, locator, confidence = "fasina-2008", "model, from the fatty acids", "low"
    return ThickPart(
        item,
        value,
        lots=log(value) + ratio,
        measured=bool(points),
        source=source,
        locator=locator,
        confidence=confidence,
    )


def viscosity(fatty: list[tuple[float, Ingredient]], temperature: float = ROOM_CELSIUS) -> Finding:
    """The viscosity of the oils at a temperature, with a band from their lots and the known error of the rule."""
    spec = viscosity_spec(temperature)
    total = fsum(mass for mass, _ in fatty)
    if not total:
        return Finding.unknown(spec, NO_OIL)
    found = [(mass, item, _thick(item, temperature)) for mass, item in fatty]
    missing = [item.name for mass, item, part in found if part is None]
    gone = fsum(mass for mass, _, part in found if part is None) / total
    solid = solid_at(fatty, temperature)
    if exceeds(gone, UNKNOWN_ALLOWED):
        why = f"Unknown: no viscosity of {listed(missing)} is known, and its class has no model."
        return Finding.unknown(spec, why)
    parts = [(mass, part) for mass, _, part in found if part is not None]
    inputs = tuple(
        Input(
            p.item.name,
            p.value,
            unit=spec.unit,
            share=100 * mass / total,
            source=p.source,
            locator=p.locator,
            confidence=p.confidence,
        )
        for mass, p in parts
    )
    held = fsum(mass for mass, _ in parts)
    value = blend_viscosity((mass, part.value) for mass, part in parts)
    lots = sum((mass / held * part.lots for mass, part in parts), np.zeros(COUNT))
    low, high = band(np.exp(lots))
    error = BLEND_ERROR if len(parts) > 1 else MODEL_ERROR
    remark = "Model." if not all(part.measured for _, part in parts) else ""
    if solid is not None and solid >= 0.5:
        return Finding(
            spec=spec,
            inputs=inputs,
            sources=cited(inputs),
            confidence="low",
            remark=f"Unknown: at {temperature:g} °C {solid:.0f} % of it is solid fat; a paste has no one viscosity.",
        )
    return Finding(
        spec=spec,
        value=value,
        low=low * (1 - error),
        high=high * (1 + error),
        inputs=inputs,
        sources=cited(inputs),
        confidence=least_confidence(part.confidence for _, part in parts),
        remark=remark,
    )


def viscosity_line(fatty: list[tuple[float, Ingredient]]) -> tuple[tuple[float, float], ...]:
    """Viscosity [mPa s] from 20 to 60 °C in steps of 5; empty when it is not known, without what is still a paste."""
    found = []
    for temperature in range(20, 61, 5):
        finding = viscosity(fatty, float(temperature))
        if finding.value is not None:
            found.append((float(temperature), finding.value))
    return tuple(found)


def refractive_index(fatty: list[tuple[float, Ingredient]]) -> Finding:
    """The refractive index of the oils at 20 °C: a check on what they are, not a target."""
    total = fsum(mass for mass, _ in fatty)
    if not total:
        return Finding.unknown(REFRACTIVE_INDEX_20C, NO_OIL)
    known, missing = [], []
    for mass, item in fatty:
        point = next(iter(item.properties.get("refractive_index", ())), None)
        if point is None or point.typical is None:
            missing.append((mass, item.name))
            continue
        at_20 = point.typical + INDEX_SLOPE * (20 - (20 if point.temperature is None else point.temperature))
        known.append((mass, item, at_20, point))
    if exceeds(fsum(mass for mass, _ in missing) / total, UNKNOWN_ALLOWED):
        why = f"Unknown: no refractive index of {listed([name for _, name in missing])} is in the catalogue."
        return Finding.unknown(REFRACTIVE_INDEX_20C, why)
    held = fsum(mass for mass, _, _, _ in known)
    value = fsum(mass * index for mass, _, index, _ in known) / held
    inputs = tuple(
        Input(
            item.name,
            index,
            unit="",
            share=100 * mass / total,
            source=point.source,
            locator=point.locator,
            confidence=point.confidence,
        )
        for mass, item, index, point in known
    )
    return Finding(
        spec=REFRACTIVE_INDEX_20C,
        value=value,
        low=value - INDEX_ERROR,
        high=value + INDEX_ERROR,
        inputs=inputs,
        sources=cited(inputs),
        confidence=least_confidence(point.confidence for _, _, _, point in known),
    )


def colour_in_glass(read: list[tuple[float, Ingredient]], depth: float = 1.0) -> str:
    """The colour [#rrggbb] of everything in it, seen through `depth` cm."""
    total = fsum(mass for mass, _ in read)
    return written(through(((mass / total, item.colour) for mass, item in read), depth))


def tints(read: list[tuple[float, Ingredient]]) -> dict[str, str]:
    """The colour [#rrggbb] of each skin tone under a film of it; what has no tint strength counts as pale."""
    total = fsum(mass for mass, _ in read)
    parts = [(mass / total, item.colour, float(item.appearance.tint if item.appearance else 1)) for mass, item in read]
    return {tone: on_skin(parts, skin) for tone, skin in SKIN_TONES.items()}


def tint(
    read: list[tuple[float, Ingredient]], tone: str = "", shades: Mapping[str, str] = MappingProxyType({})
) -> Finding:
    """How far it colours a skin tone, as a colour difference; fair skin unless another is named.

    `shades` are its `tints`, where they are known already.
    """
    tone = tone or TINTED_SKIN
    spec = tint_spec(tone)
    if not read:
        return Finding.unknown(spec, NO_OIL)
    total = fsum(mass for mass, _ in read)
    seen = difference(SKIN_TONES[tone], (shades or tints(read))[tone])
    inputs = tuple(
        Input(
            item.name,
            item.appearance.tint,
            unit="of 10",
            share=100 * mass / total,
            source="common-practice",
            locator=item.appearance.words,
        )
        for mass, item in read
        if item.appearance is not None
    )
    strong = [item.name for _, item in read if item.appearance is not None and item.appearance.tint >= 9]
    stains = f" {listed(strong)} can stain cloth." if strong else ""
    word = tint_word(seen)
    return Finding(
        spec=spec,
        value=seen,
        low=seen / 2,
        high=seen * 2,
        inputs=inputs,
        sources=("tint-model", "common-practice"),
        confidence="low",
        remark=f"{word[:1].upper()}{word[1:]}.{stains}",
        word=word,
        other="By the dropper: two of a strong orange oil in 60 mL for fair skin, five or six for a glow.",
    )
