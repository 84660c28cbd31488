"""The cautions that need no wearer: what is in it that some people must not have, and water in oil."""

from __future__ import annotations

from uptide.core.blend.assessment import Caution, Grade
from uptide.core.blend.ingredient import Ingredient, Phase
from uptide.core.blend.recipe import Row


def usual_cautions(read: list[tuple[Row, Ingredient]]) -> tuple[Caution, ...]:
    """The cautions that need no wearer: what is in it that some people must not have, and water in oil."""
    cautions: list[Caution] = []
    seen: set[str] = set()
    for _, item in read:
        if item.key in seen:
            continue
        seen.add(item.key)
        if item.allergen_family:
            family = item.allergen_family.replace("_", " ")
            cautions.append(
                Caution(
                    "allergen-family",
                    Grade.WARN,
                    item.name,
                    f"{item.name} is of the {family} family: not for anyone allergic to it, "
                    "nor for anyone you have not asked.",
                    item.allergen_note or "Traces of protein remain in pressed oils.",
                )
            )
        elif item.allergen_note:
            cautions.append(Caution("allergen-note", Grade.NOTE, item.name, f"{item.name}: {item.allergen_note}."))
        if item.phase is Phase.WATER:
            cautions.append(
                Caution(
                    "water-in-oil",
                    Grade.WARN,
                    item.name,
                    f"{item.name} brings water: it parts from the oil, and grows mould without a preservative "
                    "that was tested.",
                    "An oil without water needs no preservative; one with water does.",
                )
            )
    if any(item.phase is Phase.SCENT for _, item in read):
        cautions.append(
            Caution(
                "scent-not-checked",
                Grade.NOTE,
                "scent",
                "Skin limits, sunlight, pregnancy and medicines are not checked here yet; "
                "look each essential oil up before use.",
                "Only the total dose is worked out.",
            )
        )
    if read:
        cautions.append(
            Caution(
                "usual-care",
                Grade.NOTE,
                "use",
                "For the skin only. Patch test twice for 24 hours. This is no medical or legal advice; "
                "local law and licensed practice come first.",
            )
        )
    return tuple(cautions)
