"""Figures of the whole: mass, volume, density, scent, cost."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from uptide.core.figures.citing import cited, least_confidence, listed
from uptide.core.figures.finding import Finding, Input
from uptide.core.figures.specs import COST, DENSITY_20C, SCENT_SHARE, TOTAL_MASS, TOTAL_VOLUME
from uptide.core.ingredients.ingredient import Ingredient, Phase, Price
from uptide.core.measures.say import say_number
from uptide.core.physics.density import DENSITY_ERROR, blend_density
from uptide.core.recipe.recipe import Resolution, Row

NOTHING_YET = "No row has been read yet."


def totals(resolution: Resolution, read: list[tuple[Row, Ingredient]]) -> tuple[Finding, ...]:
    """Work out mass, volume and density of everything that was read."""
    grams = [(row.grams or 0.0, item) for row, item in read]
    masses = tuple(Input(item.name, row.grams or 0.0, "g", row.percent_mass) for row, item in read)
    densities = tuple(
        Input(
            item.name,
            item.density,
            unit="g/mL",
            share=row.percent_mass,
            source=item.density_basis.source,
            locator=item.density_basis.locator,
            confidence=item.density_basis.confidence,
        )
        for row, item in read
    )
    confidence = least_confidence(item.density_basis.confidence for _, item in read)
    low = sum(row.grams_low or 0.0 for row, _ in read)
    high = sum(row.grams_high or 0.0 for row, _ in read)
    if not read:
        why = NOTHING_YET
        return (
            Finding.unknown(TOTAL_MASS, why),
            Finding.unknown(TOTAL_VOLUME, why),
            Finding.unknown(DENSITY_20C, why),
        )
    density = blend_density([(mass, item.density) for mass, item in grams])
    return (
        Finding(
            spec=TOTAL_MASS,
            value=resolution.total_grams,
            low=low,
            high=high,
            inputs=masses,
            sources=("nist-sp-811", "metric-spoons"),
            confidence=confidence,
        ),
        Finding(
            spec=TOTAL_VOLUME,
            value=resolution.total_millilitres,
            low=low / density,
            high=high / density,
            inputs=densities,
            sources=("additive-volumes",),
            confidence=confidence,
        ),
        Finding(
            spec=DENSITY_20C,
            value=density,
            low=density - DENSITY_ERROR,
            high=density + DENSITY_ERROR,
            inputs=densities,
            sources=cited(densities, "additive-volumes"),
            confidence=confidence,
        ),
    )


@dataclass(frozen=True, slots=True)
class ScentMass:
    """Grams of scent in the whole, at least, typically and at most, beside the rest, which stays the same."""

    low: float
    typical: float
    high: float
    rest: float

    @classmethod
    def of(cls, read: Sequence[tuple[Row, Ingredient]]) -> ScentMass:
        """The scent of the rows that count."""
        scents = [row for row, item in read if item.phase is Phase.SCENT]
        typical = sum(row.grams or 0.0 for row in scents)
        return cls(
            sum(row.grams_low or row.grams or 0.0 for row in scents),
            typical,
            sum(row.grams_high or row.grams or 0.0 for row in scents),
            sum(row.grams or 0.0 for row, _ in read) - typical,
        )

    def share(self, grams: float) -> float:
        """So much scent as a share [% by mass] of the whole that it makes."""
        return 100 * grams / (self.rest + grams) if grams else 0.0


def scent(read: list[tuple[Row, Ingredient]], left_open: str = "") -> Finding:
    """Work out the share of scent by mass, counted at the upper end because it is there for safety.

    What is left open (a scent nobody measured) makes it unknown; the working still shows what is known.
    """
    scents = [(row, item) for row, item in read if item.phase is Phase.SCENT]
    if not read:
        return Finding.unknown(SCENT_SHARE, NOTHING_YET)
    mass = ScentMass.of(read)
    inputs = tuple(Input(item.name, row.grams_high or 0.0, "g at most", row.percent_mass) for row, item in scents)
    if left_open:
        why = f"Unknown: at least {say_number(mass.share(mass.low), 3)} %. {left_open}"
        return Finding.unknown(SCENT_SHARE, why, inputs=inputs)
    return Finding(
        spec=SCENT_SHARE,
        value=mass.share(mass.high),
        low=mass.share(mass.low),
        high=mass.share(mass.high),
        inputs=inputs,
        sources=("common-practice",),
        confidence="medium",
        remark=f"As counted here, {say_number(mass.share(mass.typical), 3)} %; finer drops make it less."
        if scents
        else "No scent in it.",
    )


def cost(read: list[tuple[Row, Ingredient]], prices: Mapping[str, Price]) -> Finding:
    """Add up what the rows cost; unknown as soon as one of them has no price."""
    priced = [(row, item, prices[item.key]) for row, item in read if item.key in prices]
    missing = [item.name for _, item in read if item.key not in prices]
    currencies = {price.currency for _, _, price in priced}
    inputs = tuple(
        Input(
            item.name,
            price.per_gram,
            unit=f"{price.currency}/g",
            share=row.percent_mass,
            source="person",
            locator=price.origin,
            confidence="high",
        )
        for row, item, price in priced
    )
    unit = next(iter(currencies)) if len(currencies) == 1 else ""
    why = ""
    if not read:
        why = NOTHING_YET
    elif missing:
        why = f"Unknown: no lot of {listed(missing)} with a price stands on your shelf."
    elif len(currencies) > 1:
        why = f"Unknown: the prices are in {listed(sorted(currencies))}."
    value = None if why else sum((row.grams or 0.0) * price.per_gram for row, _, price in priced)
    return Finding(
        spec=replace(COST, unit=unit),
        value=value,
        inputs=inputs,
        sources=("person",),
        confidence="high",
        remark=why,
    )
