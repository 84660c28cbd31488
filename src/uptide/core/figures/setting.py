"""Set and cloud: what a blend is in the fridge, the bathroom and summer, by its fats or by its wax."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import groupby
from math import fsum

from uptide.core.figures.citing import listed
from uptide.core.figures.fat import NO_OIL, UNKNOWN_ALLOWED
from uptide.core.figures.finding import Finding, Input, Setting
from uptide.core.figures.specs import SET_BY_WAX, SOLID_FAT_CONTENT_22C
from uptide.core.ingredients.ingredient import Ingredient, Phase
from uptide.core.measures.say import say_number
from uptide.core.physics.solid import (
    CLEAR,
    MELTS_BELOW,
    SKIN_CELSIUS,
    Melt,
    Melting,
    clear_above,
    melting_curve,
    solid_fat_content,
    state_word,
)
from uptide.core.tolerance import exceeds, reaches

Fatty = list[tuple[float, Ingredient]]

SETS_BY_ITSELF = frozenset({"wax", "butter"})  # kinds that are solid in the room: without a curve nothing is said
# Where a blend lives, with the temperature [°C] it is looked at: common practice.
PLACES_IT_LIVES = (
    ("in the fridge", 4.0),
    ("in a cool room", 15.0),
    ("in the bathroom", 22.0),
    ("in summer", 28.0),
    ("on the skin", SKIN_CELSIUS),
)
CLEAR_EVERYWHERE = "clear everywhere"
BY_HAND = "By hand: a spoonful overnight in the fridge, another on a warm sill, looked at next day."  # common practice
WATER_PARTS = 1.0  # % of what mixes with water: from here on it is seen as a layer; common practice
FEW_PERCENT = 2.0  # % solid by which a state may be off: no word is firmer than its neighbours
# Upper bound of the wax [% of the oils, counted as beeswax] for each word: common practice, from memory; makers of
# balms take 15 to 25 %.
WAXED = ((3.0, "hardly thickened by its wax"), (8.0, "a soft salve"), (15.0, "a salve"), (22.0, "a balm"),
         (30.0, "a firm balm"), (1e9, "a stick"))  # fmt: skip
SALVE = WAXED[1][0]  # % of wax, counted as beeswax: from here on the wax is what is felt, whatever the fats do
ROOM = 22.0  # °C
SET_BY_FATS = frozenset({"slushy", "soft", "firm", "hard"})


def _strangers(fatty: Fatty) -> list[tuple[float, Ingredient]]:
    """The parts whose melting is not known."""
    return [
        (mass, item)
        for mass, item in fatty
        if item.melting is None
        and (
            item.kind in SETS_BY_ITSELF
            or item.is_solid
            or (item.lipid is None and "cloud_point" not in item.properties)
        )
    ]


def _melting_parts(fatty: Fatty) -> tuple[list[Melting], str]:
    """The parts as the melting model takes them, and why it cannot be asked."""
    total = fsum(mass for mass, _ in fatty)
    strangers = _strangers(fatty)
    if exceeds(fsum(mass for mass, _ in strangers), UNKNOWN_ALLOWED * total):
        names = listed([item.name for _, item in strangers])
        return [], f"Unknown: no melting curve of {names} is in the catalogue."
    return [Melting(mass / total, item.lipid, item.melting, item.cloud_shift) for mass, item in fatty], ""


def solid_at(fatty: Fatty, temperature: float) -> float | None:
    """Solid fat [%] at a temperature [°C]; None where the melting of too much of it is not known."""
    parts, why = _melting_parts(fatty)
    return None if why else solid_fat_content(parts, temperature)


def setting(fatty: Fatty) -> Setting | None:
    """Solid, cloudy or clear from 0 to 45 °C and where it will live; None when there is no oil yet."""
    if not fatty:
        return None
    parts, why = _melting_parts(fatty)
    if why:
        return Setting((), (), None, why)
    melt = Melt.of(parts)
    places = tuple((words, at, melt.solid_at(at)) for words, at in PLACES_IT_LIVES)
    return Setting(melting_curve(melt), tuple((w, at, s, state_word(s)) for w, at, s in places), clear_above(melt))


def setting_finding(
    fatty: Fatty, found: Setting | None, everything: Sequence[tuple[float, Ingredient]] = ()
) -> Finding:
    """The same as a verdict: solid fat at 22 °C, with the words of each place; of a balm, what its wax makes of it.

    Of everything in it (g, ingredient), what mixes with water parts from the oil, however clear that is by itself.
    """
    plain = _of_oils(fatty, found)
    powders = [item.name for mass, item in everything if item.kind == "powder" and mass > 0]
    if powders and fatty:
        word = "cloudy with powder" if plain.word == CLEAR_EVERYWHERE else plain.word
        verb = "does" if len(set(powders)) == 1 else "do"
        said = f"{listed(powders)} {verb} not dissolve: it is never clear. The oils alone: {plain.remark}"
        plain = replace(plain, word=word, remark=said)
    total = fsum(mass for mass, _ in everything)
    water = 100 * fsum(mass for mass, item in everything if item.phase is Phase.WATER) / total if total else 0.0
    if not fatty or not exceeds(water, WATER_PARTS):
        return plain
    held = any(item.kind == "emulsifier" for _, item in everything)
    said = f"{say_number(water, 2)} % of it mixes with water and not with oil"
    if held:
        why = f"{said}: whether its emulsifier holds the two together, a jar that stands overnight shows."
        return replace(plain, word="may separate", remark=f"{why} The oils alone: {plain.remark}")
    why = f"{said}: it stands in two layers, cloudy after a shake and parted again in minutes."
    return replace(plain, word="separates", remark=f"{why} The oils alone: {plain.remark}")


def _of_oils(fatty: Fatty, found: Setting | None) -> Finding:
    """The verdict on the oils by themselves."""
    if found is None:
        return Finding.unknown(SOLID_FAT_CONTENT_22C, NO_OIL)
    if found.reason:
        return _waxed(fatty, found.reason) or Finding.unknown(SOLID_FAT_CONTENT_22C, found.reason)
    here = next(solid for _, at, solid, _ in found.places if at == 22)
    curved = [(mass, item) for mass, item in fatty if item.melting is not None]
    total = fsum(mass for mass, _ in fatty)
    inputs = tuple(
        Input(
            item.name,
            item.melting.solid(22),
            unit="% alone",
            share=100 * mass / total,
            source="melting-literature",
            locator="",
            confidence="medium",
        )
        for mass, item in curved
        if item.melting is not None
    )
    runs = [list(run) for _, run in groupby(found.places, key=lambda place: place[3])]
    words = "; ".join(f"{listed([f'{where} ({at:g} °C)' for where, at, _, _ in run])} {run[0][3]}" for run in runs)
    if len(runs) == 1:
        words = f"{runs[0][0][3]} {runs[0][0][0]} and everywhere warmer"
    supercooled = " A melt may stay clear 5 to 10 °C colder until it is stirred or stands." if len(runs) > 1 else ""
    clear = f" Clear above {found.clear_above:.0f} °C." if found.clear_above is not None else ""
    skin = next(solid for _, at, solid, _ in found.places if at == SKIN_CELSIUS)
    melts = "" if not reaches(skin, MELTS_BELOW) else f" On the skin {skin:.0f} % stays solid, which is felt as drag."
    return Finding(
        spec=SOLID_FAT_CONTENT_22C,
        value=here,
        low=max(0.0, here - FEW_PERCENT),
        high=min(100.0, here + FEW_PERCENT),
        inputs=inputs,
        sources=("melting-literature",),
        confidence="low" if curved else "medium",
        remark=f"{words[:1].upper()}{words[1:]}.{clear}{melts}{supercooled}",
        word=in_a_word(found),
        other=BY_HAND,
    )


def in_a_word(found: Setting) -> str:
    """The verdict: the warmest place where it is not clear, or that it is clear everywhere."""
    homes = [(where, solid, word) for where, at, solid, word in found.places if at != SKIN_CELSIUS]
    set_ = [(where, word) for where, solid, word in homes if reaches(solid, CLEAR)]
    if not set_:
        return CLEAR_EVERYWHERE
    where, word = set_[-1]
    here = next((f"{word} {where}" for where, word in set_ if where == "in the bathroom"), "")
    return here or f"{word} {where}"


def beeswax_percent(fatty: Fatty) -> float | None:
    """Wax [% of the oils, counted as beeswax]; None where something else that sets is not known."""
    total = fsum(mass for mass, _ in fatty)
    waxes = [(mass, _typical(item, "wax_strength")) for mass, item in _strangers(fatty)]
    if not total or any(strength is None for _, strength in waxes):
        return None
    return 100 * fsum(mass * (strength or 0.0) for mass, strength in waxes) / total


def _waxed(fatty: Fatty, reason: str) -> Finding | None:
    """What the wax makes of it, where nothing but waxes stands in the way of the melting model; else None."""
    total = fsum(mass for mass, _ in fatty)
    waxes = [(mass, item, _typical(item, "wax_strength")) for mass, item in _strangers(fatty)]
    counted = beeswax_percent(fatty)
    if counted is None:
        return None
    inputs = tuple(
        Input(
            item.name,
            strength or 0.0,
            unit="of beeswax",
            share=100 * mass / total,
            source="common-practice",
            locator="from memory",
            confidence="low",
        )
        for mass, item, strength in waxes
    )
    word = next(word for bound, word in WAXED if not reaches(counted, bound))
    rest = [(mass, item) for mass, item in fatty if item not in {wax for _, wax, _ in waxes}]
    melt = Melt.of(Melting(mass / total, item.lipid, item.melting, item.cloud_shift) for mass, item in rest)
    here = state_word(melt.solid_at(ROOM))
    butters = f" Without the wax it is {here} at {ROOM:g} °C by its fats." if here in SET_BY_FATS else ""
    if butters and not reaches(counted, SALVE):
        word = f"{here} by its fats, a little firmer by its wax"
    melting = [point for _, item, _ in waxes if (point := _typical(item, "melting_point")) is not None]
    holds = (
        f" It holds in summer; its wax melts at about {max(melting):.0f} °C."
        if melting and reaches(counted, SALVE)
        else ""
    )
    holds += butters
    return Finding.unknown(
        SET_BY_WAX,
        (
            f"{say_number(counted, 2)} % wax, counted as beeswax.{holds} Try a drop on a cold plate before it is "
            f"poured. {reason}"
        ),
        inputs=inputs,
        sources=("common-practice",),
        confidence="low",
        word=word,
        other=BY_HAND,
    )


def _typical(item: Ingredient, name: str) -> float | None:
    return next((point.typical for point in item.properties.get(name, ())), None)
