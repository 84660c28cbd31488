"""What the page of a scent says beside that of an oil: its limits, and what holds the same things."""

from __future__ import annotations

from uptide.core.finder.substitutes import LIKE_ENOUGH, scent_likeness
from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.safety.tables import ScentFacts
from uptide.workshop.shelf import Shelf

ALIKE = 6  # scents that are named as alike
MADE = {
    "cold-pressed": "pressed from the peel",
    "steam": "distilled with steam",
    "absolute": "drawn out with a solvent",
    "CO2": "drawn out with carbon dioxide",
    "resinoid": "a resin, drawn out with a solvent",
    "rectified": "distilled again, so that something is taken out",
}


def scent_words(scent: ScentFacts) -> tuple[tuple[str, str], ...]:
    """What is known of a scent on skin, in words."""
    most = (
        "no limit is stated, which is not the same as none"
        if scent.most_leave_on is None
        else (f"{scent.most_leave_on:g} % at most" + (f", because of {scent.driver}" if scent.driver else ""))
    )
    sun = {
        "yes": f"burns; {scent.phototoxic_limit or 0:g} % at most on skin that sees the sun",
        "no": "does not burn",
        "uncertain": "nobody is sure",
    }[scent.phototoxic]
    said = [
        ("Made", MADE.get(scent.extraction, scent.extraction)),
        ("Left on skin", most),
        ("In the sun", sun),
    ]
    if scent.least_age:
        said.append(("Not under", f"{scent.least_age:g} years"))
    if scent.least_age_near_face:
        said.append(("Near the face not under", f"{scent.least_age_near_face:g} years"))
    if scent.opened_months:
        said.append(("Opened, it keeps", f"about {scent.opened_months:g} months"))
    if scent.eu_label_name:
        said.append(("The label names it as", scent.eu_label_name.capitalize()))
    return tuple(said)


def smells_alike(item: Ingredient, shelf: Shelf) -> tuple[tuple[str, str, str, bool], ...]:
    """The scents that hold most of the same things."""
    facts = shelf.facts
    others = [facts.ingredients[key] for key in facts.safety.scents if key != item.base_key]
    ranked = sorted(((scent_likeness(facts.safety, item, other), other) for other in others), key=lambda pair: -pair[0])
    return tuple(
        (other.key, other.name, f"{100 * likeness:.0f} % alike", other.key in shelf.on_hand)
        for likeness, other in ranked[:ALIKE]
        if likeness >= LIKE_ENOUGH
    )
