"""What would help a blend most to keep: each change tried on its own, and ranked."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from types import MappingProxyType

from uptide.core.blend.ingredient import Ingredient
from uptide.core.blend.keeping import (
    BottleLife,
    Read,
    School,
    antioxidants_of,
    fewer,
    median_months,
    pool_of,
    refusal,
)
from uptide.core.oxidation.pool import Pool, pool
from uptide.core.oxidation.protection import protection_factor
from uptide.core.oxidation.simulate import Draws
from uptide.core.oxidation.surroundings import PLACES, Glass, Light, Storage

WORTH_SAYING = 0.05  # months


@dataclass(frozen=True, slots=True)
class Lever:
    """Something to do for a bottle made today: months of typical life gained, and the months before and after."""

    name: str
    months_gained: float
    typical: float
    before: float


def levers(read: Read, storage: Storage, draws: Draws, life: BottleLife, stand_in: Ingredient) -> tuple[Lever, ...]:
    """What would help a bottle made today most: each change on its own, by the typical life it brings, the best first.

    Args:
        read: the rows that count.
        storage: where it stands now.
        draws: what is uncertain.
        life: what befell it.
        stand_in: the stable oil that would take the weakest oil's place.
    """
    if refusal(read, School.COMPUTED) is not None:
        return ()
    few, oils, added = fewer(draws), pool_of(read), antioxidants_of(read)
    month = life.start_month

    def typical(
        where: Storage = storage, extra: Mapping[str, float] = MappingProxyType({}), base: Pool = oils
    ) -> float:
        more = replace(added, **{name: getattr(added, name) + amount for name, amount in extra.items()})
        return median_months(base, where, few, protection_factor(more, base.gamma, base.alpha, base.cox), month)

    now = typical()
    fridge, _, dark = PLACES["fridge"]
    tried = {
        "0.1 % mixed tocopherols": typical(extra={"mixed_tocopherols": 1000.0}),
        "0.1 % rosemary extract (10 % carnosic acid)": typical(extra={"carnosic_acid": 100.0}),
        "amber glass": typical(replace(storage, glass=Glass.AMBER)),
        "the dark": typical(replace(storage, light=Light.DARK)),
        "the fridge": typical(replace(storage, celsius=fridge, swing=1.0, light=dark)),
        "smaller bottles, each opened when the last is empty": (now + typical(replace(storage, opened=False))) / 2,
    }
    living = [part for part in oils.parts if not part.oil.is_inert]
    if living and stand_in.oxidation is not None:
        weakest = max(living, key=lambda part: part.share * part.oil.cox)
        if weakest.oil.key != stand_in.key:
            name = next(item.name for _, item in read if item.key == weakest.oil.key)
            swapped = [replace(p, oil=stand_in.oxidation) if p is weakest else p for p in oils.parts]
            tried[f"{stand_in.name} in place of {name}"] = typical(base=pool(swapped))
    found = [Lever(name, months - now, months, now) for name, months in tried.items() if months - now > WORTH_SAYING]
    return tuple(sorted(found, key=lambda lever: -lever.months_gained))
