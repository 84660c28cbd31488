"""Several oils poured together as one ingredient; unfolded into them before all computation."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

from uptide.core.errors import ProfileError
from uptide.core.ingredients.ingredient import Ingredient, Measured
from uptide.core.physics.density import blend_density

TOGETHER = "oils:"
SHARE = re.compile(r"[01]\.\d{6}")

Parts = Sequence[tuple[Ingredient, float]]


def density_added_up(density: float, said: str, confidence: str = "medium") -> Measured:
    """The density [g/mL at 20 °C] of a mixture as a figure with its source: the volumes of its parts add."""
    return Measured(
        density,
        None,
        high=None,
        unit="g/mL",
        source="additive-volumes",
        locator=said,
        confidence=confidence,
        temperature=20.0,
    )


def mixture(key: str, name: str, parts: Parts) -> Ingredient:
    """Parts, each (ingredient, g), as one thing.

    Raises:
        ProfileError: nothing is in it.
    """
    total = sum(grams for _, grams in parts)
    if total <= 0:
        raise ProfileError(f"Nothing is in “{name}”.")
    density = blend_density((grams, item.density) for item, grams in parts)
    return Ingredient(
        key=key,
        name=name,
        kind="mixture",
        inci="",
        density=density,
        density_basis=density_added_up(density, name),
        source="person",
        parts=tuple((item, grams / total) for item, grams in parts),
    )


def poured_together(parts: Parts) -> Ingredient:
    """Oils in one jar, named by what they are, the most on top; its key says the same and is read by `known_oil`.

    Raises:
        ProfileError: nothing is in it.
    """
    total = sum(grams for _, grams in parts)
    ordered = sorted(parts, key=lambda part: -part[1])
    names = [item.name[:1].lower() + item.name[1:] for item, _ in ordered]
    said = f"{', '.join(names[:-1])} and {names[-1]}" if len(names) > 1 else "".join(names)
    shares = "+".join(f"{item.key}={grams / total:.6f}" for item, grams in ordered) if total > 0 else ""
    return mixture(TOGETHER + shares, said[:1].upper() + said[1:], ordered)


def known_oil(key: str, ingredients: Mapping[str, Ingredient]) -> Ingredient | None:
    """The oil of a key, or the oils that were poured together under it; None where one of them is known no more."""
    if not key.startswith(TOGETHER):
        return ingredients.get(key)
    parts: list[tuple[Ingredient, float]] = []
    for said in key.removeprefix(TOGETHER).split("+"):
        name, _, share = said.rpartition("=")
        if name not in ingredients or not SHARE.fullmatch(share):
            return None
        parts.append((ingredients[name], float(share)))
    return poured_together(parts) if sum(share for _, share in parts) > 0 else None
