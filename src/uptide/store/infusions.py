"""What a lot was infused with, as plain JSON and back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any

from uptide.core.ingredients.infusion import Infusion, Steeped
from uptide.core.oxidation.history import HeatStep
from uptide.core.oxidation.surroundings import Glass, Light
from uptide.store.reading import NOT_THIS, day_of, flag_of, number_of, text_of


def infusion_to_json(infusion: Infusion) -> dict[str, Any]:
    """An infusion as it is stored."""
    said = asdict(infusion)
    return said | {
        "begun_on": infusion.begun_on.isoformat() if infusion.begun_on else None,
        "steps": [step | {"light": str(step["light"]), "glass": str(step["glass"])} for step in said["steps"]],
    }


def infusion_from_json(stored: object) -> Infusion | None:
    """An infusion that was stored; None where none was, or nothing of it can be read."""
    if not isinstance(stored, Mapping):
        return None
    try:
        return Infusion(
            plants=tuple(_plant(each) for each in _list(stored["plants"])),
            steps=tuple(_step(each) for each in _list(stored.get("steps", ()))),
            fresh_plant=flag_of(stored.get("fresh_plant", False)),
            begun_on=day_of(stored.get("begun_on")),
            oil_lot=text_of(stored.get("oil_lot", "")),
            jar=None if stored.get("jar") is None else int(number_of(stored["jar"])),
            picked=text_of(stored.get("picked", "")),
        )
    except NOT_THIS:
        return None


def _list(value: object) -> Sequence[Mapping[str, Any]]:
    if not isinstance(value, list | tuple) or not all(isinstance(each, Mapping) for each in value):
        raise TypeError(f"{value} is no list of records")
    return value


def _plant(stored: Mapping[str, Any]) -> Steeped:
    return Steeped(
        name=text_of(stored["name"]),
        botanical_name=text_of(stored.get("botanical_name", "")),
        inci=text_of(stored.get("inci", "")),
        strength=number_of(stored.get("strength", 0.0)),
        colour=text_of(stored.get("colour", "")),
        dissolved=number_of(stored.get("dissolved", 0.0)),
        dissolved_as=text_of(stored.get("dissolved_as", "")),
        scent=text_of(stored.get("scent", "")),
        scent_percent=number_of(stored.get("scent_percent", 0.0)),
    )


def _step(stored: Mapping[str, Any]) -> HeatStep:
    return HeatStep(
        celsius=number_of(stored["celsius"]),
        hours=number_of(stored["hours"]),
        light=Light(text_of(stored.get("light", Light.DARK.value))),
        glass=Glass(text_of(stored.get("glass", Glass.CLEAR.value))),
        air=number_of(stored.get("air", 1.0)),
        ageing=number_of(stored.get("ageing", 1.0)),
    )
