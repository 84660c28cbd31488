"""What a blend can be made over for, and which warnings are to go with it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from uptide.core.skin.wearer import Wearer

# Warnings about the wearer that something else in the bottle would clear.
OF_THE_WEARER = frozenset({
    "tree-nut-rare", "stone-fruit", "soy", "wheat", "mustard-celery", "latex-fruit", "lanolin", "daisy-family",
    "bee-products", "oleic-retinoid", "oleic-eczema", "breastfeeding-menthol", "anticoagulant-others", "seizure",
    "heart-rhythm",
})  # fmt: skip
OF_ALLERGY = frozenset({
    "tree-nut", "tree-nut-rare", "stone-fruit", "peanut", "peanut-infant", "sesame", "soy", "wheat", "mustard-celery",
    "latex-fruit", "lanolin", "daisy-family", "bee-products",
})  # fmt: skip
OF_THE_SUN = frozenset({"sun-over", "sun-near", "sun-rinsed", "sun-bath", "sunbed", "photosensitive"})
OF_OLEIC = frozenset({"oleic-retinoid", "oleic-eczema"})


@dataclass(frozen=True, slots=True)
class Aim:
    """What a blend is made over for: words, what is then true of the wearer, and which warnings are to go as well."""

    key: str
    title: str
    dress: Callable[[Wearer], Wearer]
    warnings: frozenset[str] = frozenset()
    skin: str = ""
    no_scent: bool = False
    no_sun: bool = False
    only: frozenset[str] = frozenset()  # the rules that it is about; where none is named, every stop


def _with_allergies(wearer: Wearer) -> Wearer:
    return wearer.with_ticks("allergies", "tree_nut", "peanut")


def _sensitive(wearer: Wearer) -> Wearer:
    return replace(wearer.with_ticks("conditions", "eczema"), sensitive=True)


AIMS: Mapping[str, Aim] = {
    aim.key: aim
    for aim in (
        Aim("wearer", "for this person", lambda wearer: wearer, OF_THE_WEARER),
        Aim("no-nuts", "without nuts", _with_allergies, frozenset({"tree-nut-rare"})),
        Aim("pregnancy", "for pregnancy", lambda wearer: replace(wearer, pregnant=True)),
        Aim("oily", "for oily skin", lambda wearer: replace(wearer, skin="oily"), skin="oily"),
        Aim("dry", "for dry skin", lambda wearer: replace(wearer, skin="dry"), skin="dry"),
        Aim("sensitive", "for sensitive skin", _sensitive, frozenset({"oleic-eczema"}), no_scent=True),
        Aim(
            "sun",
            "for the sun",
            lambda wearer: wearer,
            frozenset({"sun-near", "sun-rinsed"}),
            no_sun=True,
            only=OF_THE_SUN,
        ),
    )
}
