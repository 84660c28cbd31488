"""Something that is sold or kept diluted in an oil, as in “retinol 10 % in MCT”: a mixture of the two."""

from __future__ import annotations

import re
from functools import lru_cache

from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.ingredients.mixture import density_added_up
from uptide.core.physics.density import blend_density

_SHARE = r"(?P<share>\d{1,2}(?:[.,]\d{1,3})?)\s?%"
DILUTED = (
    re.compile(rf"^(?P<active>[^%]+?)[\s,]+{_SHARE} (?:in|with) (?P<base>[^%]+)$", re.IGNORECASE),
    re.compile(rf"^{_SHARE} (?P<active>[^%]+?) in (?P<base>[^%]+)$", re.IGNORECASE),
)


def read_dilution(name: str) -> tuple[str, float, str] | None:
    """What is diluted, to how many percent by mass, and in what; None for a name that speaks of no dilution.

    >>> read_dilution("retinol 10% in MCT")
    ('retinol', 10.0, 'MCT')
    """
    for pattern in DILUTED:
        found = pattern.match(" ".join(name.split()))
        if found is not None and 0 < (share := float(found["share"].replace(",", "."))) < 100:
            return found["active"], share, found["base"]
    return None


@lru_cache(maxsize=256)
def dilution(active: Ingredient, percent: float, base: Ingredient) -> Ingredient:
    """The mixture of so many percent [by mass] of one thing in another."""
    share = percent / 100
    density = blend_density(((share, active.density), (1 - share, base.density)))
    title = f"{active.name}, {percent:g} % in {base.name}"
    return Ingredient(
        key=f"dilution:{active.key}:{percent:g}:{base.key}",
        name=title,
        kind="mixture",
        inci="",
        density=density,
        density_basis=density_added_up(density, title),
        base=active.base_key,
        parts=(*_parts(active, share), *_parts(base, 1 - share)),
    )


def _parts(item: Ingredient, share: float) -> tuple[tuple[Ingredient, float], ...]:
    """A mixture in a mixture is unfolded."""
    return tuple((part, share * held) for part, held in item.parts) or ((item, share),)
