"""A strained jar as a lot of the shelf: what the oil is now, what it has behind it, and where it came from."""

from __future__ import annotations

from uptide.core.infusion.following import JarUnderWay
from uptide.core.infusion.plants import State
from uptide.core.ingredients.infusion import Infusion, Steeped


def infusion_of(jar: JarUnderWay, number: int) -> Infusion:
    """What the oil of a jar, known by its number, was infused with until it was strained, or until today.

    Water that nobody saw leaving counts as left in it.
    """
    plan = jar.plan
    dissolved_in = plan.oil_grams + sum(each.plant.dissolves * each.grams for each in plan.charges)
    return Infusion(
        plants=tuple(
            Steeped(
                name=each.plant.name,
                botanical_name=each.plant.botanical_name,
                inci=each.plant.inci,
                strength=each.dry / plan.oil_grams,
                colour=each.plant.colour,
                dissolved=each.plant.dissolves * each.grams / dissolved_in,
                dissolved_as=each.plant.dissolves_as,
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
    return min(each.plant.life(state) for each in jar.plan.charges)
