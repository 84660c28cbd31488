"""What would help a blend most to keep: each change tried on its own, and ranked."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from types import MappingProxyType

from uptide.core.ingredients.ingredient import Ingredient
from uptide.core.keeping.limiting import fewer, median_months
from uptide.core.keeping.mixing import Read, antioxidants_of, mixture_of
from uptide.core.keeping.shelf_life import School, StorageHistory, refusal
from uptide.core.oxidation.mixture import MixturePart, OilMixture, mix_oils
from uptide.core.oxidation.protection import protection_factor
from uptide.core.oxidation.simulate import Draws
from uptide.core.oxidation.surroundings import PLACES, Glass, Light, Storage

WORTH_SAYING = 0.05  # months


@dataclass(frozen=True, slots=True)
class Sensitivity:
    """Something to do for a bottle made today: months of typical life gained, and the months before and after."""

    name: str
    months_gained: float
    typical: float
    before: float


def sensitivities(
    read: Read, storage: Storage, draws: Draws, history: StorageHistory, substitute: Ingredient
) -> tuple[Sensitivity, ...]:
    """What would help a bottle made today most: each change on its own, by the typical life it brings, the best first.

    Args:
        read: the rows that count.
        storage: where it stands now.
        draws: what is uncertain.
        history: what befell it.
        substitute: the stable oil that would take the weakest oil's place.
    """
    if refusal(read, School.COMPUTED) is not None:
        return ()
    few, oils, added = fewer(draws), mixture_of(read), antioxidants_of(read)
    month = history.start_month

    def typical(
        where: Storage = storage, extra: Mapping[str, float] = MappingProxyType({}), base: OilMixture = oils
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
    if living and substitute.oxidation is not None:
        weakest = max(living, key=lambda part: part.share * part.oil.cox)
        if weakest.oil.key != substitute.key:
            name = next(item.name for _, item in read if item.key == weakest.oil.key)
            fresh = MixturePart(substitute.oxidation, weakest.share)
            swapped = [fresh if p is weakest else p for p in oils.parts]
            tried[f"{substitute.name} in place of {name}"] = typical(base=mix_oils(swapped))
    found = [
        Sensitivity(name, months - now, months, now) for name, months in tried.items() if months - now > WORTH_SAYING
    ]
    return tuple(sorted(found, key=lambda sensitivity: -sensitivity.months_gained))
