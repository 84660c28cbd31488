"""A strained jar as a lot of the shelf: what the oil is now, what it has behind it, and where it came from."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from uptide.core.infusion.following import JarUnderWay
from uptide.core.infusion.plants import State
from uptide.core.ingredients.infusion import Infusion, Steeped


def infusion_of(jar: JarUnderWay, number: int) -> Infusion:
    """What the oil of a jar, known by its number, was infused with until it was strained, or until today.

    Water that nobody saw leaving counts as left in it.
    """
    plan = jar.filled
    times = plan.method.charges
    dissolved_in = plan.oil_grams + times * sum(each.plant.dissolves * each.grams for each in plan.charges)
    return Infusion(
        plants=_joined(
            Steeped(
                name=each.plant.name,
                botanical_name=each.plant.botanical_name,
                inci=each.plant.inci,
                strength=plan.strength_of(each),
                colour=each.plant.colour,
                dissolved=times * each.plant.dissolves * each.grams / dissolved_in,
                dissolved_as=each.plant.dissolves_as,
                scent=each.plant.scent,
                scent_percent=plan.scent_of(each),
            )
            for each in plan.charges
        ),
        steps=jar.heat,
        fresh_plant=not jar.water_is_gone,
        begun_on=jar.begun_on,
        oil_lot=plan.ask.oil.lot,
        jar=number,
        picked=jar.picked,
    )


def keeps_months(jar: JarUnderWay) -> float:
    """How long the strained oil keeps at most, by its plants [months]: as of dried plant once the water is gone."""
    state = State.DRIED if jar.water_is_gone else State.FRESH
    return min(each.plant.life(state) for each in jar.filled.charges)


def _joined(plants: Iterable[Steeped]) -> tuple[Steeped, ...]:
    """What was added of a plant that was in it already makes that one stronger."""
    found: dict[tuple[str, str], Steeped] = {}
    for plant in plants:
        known = found.get((plant.name, plant.inci))
        if known is not None:
            plant = replace(
                plant,
                strength=known.strength + plant.strength,
                dissolved=known.dissolved + plant.dissolved,
                scent_percent=known.scent_percent + plant.scent_percent,
            )
        found[plant.name, plant.inci] = plant
    return tuple(found.values())
