"""An infused oil on the shelf: entered by hand, and with what it came from."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any
from urllib.parse import urlencode

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.plants import plant_named, steeped
from uptide.core.infusion.judging import FLAG_WORDS, say_share
from uptide.core.infusion.methods import METHODS
from uptide.core.infusion.plants import State
from uptide.core.ingredients.infusion import Infusion, Steeped, each_plant
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.ingredients.lot import Lot
from uptide.core.measures.say import say_number
from uptide.core.months import months_later, say_day
from uptide.core.oxidation.history import life_spent
from uptide.web.base.forms import FieldError, TokenForm
from uptide.web.drawing.view import View

DRIED, DAMP = "dried", "fresh or wilted"
NOT_KNOWN = "not-known"
STATES = (DRIED, DAMP)
WAYS: Mapping[str, str] = {NOT_KNOWN: "nobody said"} | {key: method.title for key, method in METHODS.items()}


class InfusionForm(TokenForm):
    """What an oil was infused with, as it was typed; nothing for a plain oil."""

    infused_with: str = ""
    plant_state: str = DRIED
    way: str = NOT_KNOWN


def read_infusion(form: InfusionForm, known: Lot | None, facts: Catalogue) -> Infusion | None:
    """What was infused, from a form; what was steeped here stays as its jar has it, and so does what is unchanged.

    Raises:
        FieldError: words that name no plant, or a state or a way that is none.
    """
    before = known.infusion if known is not None else None
    if before is not None and (before.jar is not None or form == form.model_copy(update=infusion_fields(before))):
        return before
    words = each_plant(form.infused_with)
    if not words:
        return None
    if form.plant_state not in STATES:
        raise FieldError("plant_state", f"“{form.plant_state}” is none of {', '.join(STATES)}.")
    if form.way not in WAYS:
        raise FieldError("way", f"“{form.way}” is no way to steep; known are {', '.join(WAYS)}.")
    steps = METHODS[form.way].steps if form.way in METHODS else ()
    return Infusion(
        tuple(steeped(name, facts.plants) for name in words), steps=steps, fresh_plant=form.plant_state == DAMP
    )


def infusion_fields(infusion: Infusion | None) -> dict[str, Any]:
    """An infusion as the fields of its form."""
    if infusion is None:
        return {}
    way = next((key for key, method in METHODS.items() if method.steps == infusion.steps), NOT_KNOWN)
    return {
        "infused_with": infusion.plant_names,
        "plant_state": DAMP if infusion.fresh_plant else DRIED,
        "way": way,
    }


def ends_with_plants(infusion: Infusion, since: date | None, facts: Catalogue) -> date | None:
    """The day on which its plants end an infused oil at the latest; None where no table knows them or the day."""
    plants = [plant_named(each.name, facts.plants) for each in infusion.plants]
    months = [plant.life(State.FRESH if infusion.fresh_plant else State.DRIED) for plant in plants if plant]
    return months_later(since, int(min(months))) if since is not None and months else None


class ParentageView(View):
    """Where an infused oil came from, in words; `jar` is the number of its jar."""

    jar: int | None
    facts: tuple[tuple[str, str], ...]


def parentage(lot: Lot, item: Ingredient, facts: Catalogue) -> ParentageView | None:
    """Where an infused lot came from; None for any other."""
    infusion = lot.infusion
    if infusion is None:
        return None
    said = [("Plants", ", ".join(_plant_words(plant) for plant in infusion.plants))]
    if infusion.picked:
        said.append(("Picked", infusion.picked))
    if infusion.oil_lot:
        said.append(("Poured on", f"lot {infusion.oil_lot}"))
    if infusion.begun_on:
        said.append(("Steeped from", f"{say_day(infusion.begun_on)} to {say_day(lot.received_on)}"))
    oils = [(part.oxidation, share) for part, share in item.parts or ((item, 1.0),) if part.oxidation is not None]
    if infusion.steps and oils:
        spent = sum(share * life_spent(oil, infusion.steps) for oil, share in oils)
        said.append(("The jar cost it", f"{say_share(min(1.0, spent))} of the oil’s life, by the model"))
    if infusion.dissolved:
        said.append(("Plant dissolved in it", f"{say_number(100 * infusion.dissolved, 2)} %"))
    flags = {
        flag
        for plant in infusion.plants
        if (known := plant_named(plant.name, facts.plants)) is not None
        for flag in known.flags
    }
    if flags:
        said.append(("To heed", " ".join(FLAG_WORDS[flag][1] for flag in sorted(flags))))
    scent = sum(plant.scent_percent for plant in infusion.plants)
    if scent:
        said.append(("Scent in it", f"at most {say_number(scent, 2)} %, if all of it passed over"))
    water = "may be left in it: nobody saw it leave" if infusion.fresh_plant else "none that could grow anything"
    said.append(("Water", water))
    return ParentageView(jar=infusion.jar, facts=tuple(said))


def _plant_words(plant: Steeped) -> str:
    named = f"{plant.name} ({plant.botanical_name})" if plant.botanical_name else plant.name
    return f"{named}, 1 to {say_number(1 / plant.strength, 2)} of oil, dry" if plant.strength else named


def next_from(code: str) -> tuple[tuple[str, str], ...]:
    """What is made from an infused oil next, each (what, address of a sheet with its recipe); common practice."""
    lot = f"lot {code}"
    started = (
        ("massage oil", "massage-oil", f"100 % {lot}"),
        ("face oil", "facial-oil", f"60 % {lot}\n40 % jojoba"),
        ("soft balm", "balm", f"85 % {lot}\n15 % beeswax"),
        ("firm salve", "balm", f"78 % {lot}\n22 % beeswax"),
        ("sugar scrub", "scrub", f"28 % {lot}\n72 % sugar"),
    )
    again = ("second infusion", f"/steeping?{urlencode({'oil': lot})}")
    blends = (
        (what, f"/blends/new?{urlencode({'product': product, 'recipe': recipe})}") for what, product, recipe in started
    )
    return (*blends, again)
