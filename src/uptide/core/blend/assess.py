"""Assess a recipe: the one road from what was typed to every figure that is shown."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from math import sqrt

from uptide.core.blend.assessment import AcidPart, Assessment, Bottle, Caution, Finding, Grade, Input, Pour
from uptide.core.blend.ingredient import CONFIDENCES, Ingredient, Phase, Price
from uptide.core.blend.order import PourOrder, in_order
from uptide.core.blend.recipe import Recipe, Resolution, Row, RowStatus
from uptide.core.blend.resolve import resolve
from uptide.core.lipids.fatty_acids import FattyAcid, Saturation
from uptide.core.lipids.lipid import (
    Lipid,
    fatty_acid_yield,
    iodine_value,
    iodine_value_sigma,
    saponification_value,
    saponification_value_sigma,
)
from uptide.core.measures.names import NameIndex
from uptide.core.measures.say import say_number
from uptide.core.physics.density import DENSITY_ERROR, blend_density

UNKNOWN_ALLOWED = 0.02  # g/g of the fatty part whose composition may be unknown before a figure is called unknown
FULL = 0.005  # of the container: less than this past the shoulder is rounding, not overfilling
PERCENT_TOLERANCE = 0.05  # percentage points: three thirds of 33.3 make a hundred


def assess(
    recipe: Recipe, ingredients: Mapping[str, Ingredient], names: NameIndex, prices: Mapping[str, Price] | None = None
) -> Assessment:
    """Weigh a recipe and work out everything that follows from it.

    Args:
        recipe: what was typed, with its answers, container and measures.
        ingredients: what may stand in a row, by key.
        names: how those are called.
        prices: what a gram costs, by ingredient key, where that is known.
    """
    resolution = resolve(recipe, ingredients, names)
    read = [(row, row.ingredient) for row in resolution.read if row.ingredient is not None]
    fatty = [(row.grams or 0.0, item) for row, item in read if item.is_fatty]
    acids = _acids(fatty, resolution.total_grams)
    findings = (
        *_totals(resolution, read),
        *_acid_findings(acids, fatty),
        _fatty_mean("iodine_value", "Iodine value", "g I₂/100 g", "aocs_cd_1c_85", fatty),
        _fatty_mean("saponification_value", "Saponification value", "mg KOH/g", "aocs_cd_3a_94", fatty),
        _scent(read, resolution.total_grams),
        _cost(read, prices or {}),
    )
    return Assessment(
        recipe,
        resolution,
        findings,
        _cautions(read),
        _remarks(recipe, resolution),
        acids,
        _bottle(recipe, resolution),
    )


def _least(confidences: Iterable[str]) -> str:
    """The lowest confidence: a figure is no better than its worst input."""
    return min(confidences, key=CONFIDENCES.index, default="low")


def _totals(resolution: Resolution, read: list[tuple[Row, Ingredient]]) -> tuple[Finding, ...]:
    grams = [(row.grams or 0.0, item) for row, item in read]
    masses = tuple(Input(item.name, row.grams or 0.0, "g", row.percent_mass) for row, item in read)
    densities = tuple(
        Input(
            item.name,
            item.density,
            "g/mL",
            row.percent_mass,
            item.density_basis.source,
            item.density_basis.locator,
            item.density_basis.confidence,
        )
        for row, item in read
    )
    confidence = _least(item.density_basis.confidence for _, item in read)
    low = sum(row.grams_low or 0.0 for row, _ in read)
    high = sum(row.grams_high or 0.0 for row, _ in read)
    if not read:
        why = "No row has been read yet."
        return (
            Finding("total_mass", "Total mass", None, None, None, "g", "sum_of_rows", remark=why),
            Finding("total_volume", "Total volume", None, None, None, "mL", "additive_volume", remark=why),
            Finding("density_20c", "Density at 20 °C", None, None, None, "g/mL", "additive_specific_volume", remark=why),
        )
    density = blend_density([(mass, item.density) for mass, item in grams])
    return (
        Finding("total_mass", "Total mass", resolution.total_grams, low, high, "g", "sum_of_rows", masses,
                ("nist-sp-811", "metric-spoons"), confidence),
        Finding("total_volume", "Total volume", resolution.total_millilitres, low / density, high / density, "mL",
                "additive_volume", densities, ("additive-volumes",), confidence),
        Finding("density_20c", "Density at 20 °C", density, density - DENSITY_ERROR, density + DENSITY_ERROR, "g/mL",
                "additive_specific_volume", densities, _sources(densities, "additive-volumes"), confidence, decimals=3),
    )  # fmt: skip


def _sources(inputs: Iterable[Input], *also: str) -> tuple[str, ...]:
    return tuple(dict.fromkeys([*also, *(entry.source for entry in inputs if entry.source)]))


def _acids(fatty: list[tuple[float, Ingredient]], total: float) -> tuple[AcidPart, ...]:
    """Share of each acid, with each oil's part in it; in the fixed order of the ribbon (see `ribbon_order`)."""
    grams: dict[FattyAcid, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    items: dict[str, Ingredient] = {}
    for mass, item in fatty:
        if item.lipid is None or item.lipid.acids is None:
            continue
        items[item.key] = item
        held = mass * fatty_acid_yield(item.lipid)
        for acid, part in item.lipid.acids.fractions.items():
            grams[acid][item.key] += held * part
    everything = sum(sum(parts.values()) for parts in grams.values())
    return tuple(
        AcidPart(
            acid,
            100 * sum(parts.values()) / everything,
            100 * sum(parts.values()) / total,
            tuple((items[key], 100 * part / everything) for key, part in parts.items() if part > 0),
        )
        for acid, parts in sorted(grams.items(), key=lambda pair: ribbon_order(pair[0]))
        if sum(parts.values()) > 0
    )


def ribbon_order(acid: FattyAcid) -> tuple[int, int, str]:
    """Order of the acids in every ribbon: by double bonds, then by length, so that like lies under like."""
    return (acid.double_bonds, acid.carbons, acid.code)


def _unknown_fat(fatty: list[tuple[float, Ingredient]]) -> tuple[float, list[str]]:
    """Share [g/g] of the fatty part whose composition is unknown, and the names of it."""
    total = sum(mass for mass, _ in fatty)
    strangers = [(mass, item.name) for mass, item in fatty if item.lipid is None]
    return (sum(mass for mass, _ in strangers) / total if total else 0.0), [name for _, name in strangers]


def _why_unknown(fatty: list[tuple[float, Ingredient]]) -> str:
    if not fatty:
        return "There is no oil in it yet."
    share, names = _unknown_fat(fatty)
    if share > UNKNOWN_ALLOWED:
        return f"Unknown: the composition of {_listed(names)} is not in the catalogue, and it is {100 * share:.0f} % of the oils."
    return ""


def _listed(names: list[str]) -> str:
    unique = list(dict.fromkeys(names))
    return unique[0] if len(unique) == 1 else f"{', '.join(unique[:-1])} and {unique[-1]}"


def _acid_findings(acids: tuple[AcidPart, ...], fatty: list[tuple[float, Ingredient]]) -> tuple[Finding, ...]:
    why = _why_unknown(fatty) or ("" if acids else "Nothing in it has fatty acids.")
    confidence = _least(
        share.confidence for _, item in fatty if item.lipid and item.lipid.acids for share in item.lipid.acids.shares
    )

    def share(key: str, title: str, chosen: list[AcidPart]) -> Finding:
        inputs = tuple(Input(f"{part.acid.common_name} ({part.acid.code})", part.percent, "% of fatty acids") for part in chosen)
        value = None if why else sum(part.percent for part in chosen)
        spread = None if why else _acid_spread(fatty, {part.acid for part in chosen})
        return Finding(
            key,
            title,
            value,
            None if value is None or spread is None else max(0.0, value - 2 * spread),
            None if value is None or spread is None else min(100.0, value + 2 * spread),
            "% of fatty acids",
            "fatty_acids_by_yield",
            inputs,
            _profile_sources(fatty),
            confidence,
            why,
        )

    by_class = {
        kind: share(kind.value, f"{kind.value.capitalize()}", [part for part in acids if part.acid.saturation is kind])
        for kind in Saturation
    }
    bound = None if why else sum(part.grams_per_100g for part in acids)
    return (
        *by_class.values(),
        share("oleic_share", "Oleic", [part for part in acids if part.acid.code == "18:1n9"]),
        share("linoleic_share", "Linoleic", [part for part in acids if part.acid.code == "18:2n6"]),
        Finding("fatty_acid_mass", "Fatty acids in it", bound, None, None, "g/100 g", "fatty_acid_mass",
                tuple(Input(p.acid.common_name, p.grams_per_100g, "g/100 g") for p in acids),
                _profile_sources(fatty), confidence, why),
    )  # fmt: skip


def _acid_spread(fatty: list[tuple[float, Ingredient]], chosen: set[FattyAcid]) -> float:
    """Standard deviation [percentage points] of a sum of acids, from the published ranges of each oil's profile.

    The ranges are read as ± 2 standard deviations; within an oil the sum of the chosen and the sum of the others
    bind one another, so the lesser of their two spreads is taken.
    """
    held = [(mass * fatty_acid_yield(item.lipid), item.lipid) for mass, item in fatty if item.lipid and item.lipid.acids]
    total = sum(mass for mass, _ in held)
    variance = 0.0
    for mass, lipid in held:
        shares = lipid.acids.shares if lipid.acids else ()
        inside = sqrt(sum(((s.high - s.low) / 4) ** 2 for s in shares if s.acid in chosen))
        outside = sqrt(sum(((s.high - s.low) / 4) ** 2 for s in shares if s.acid not in chosen))
        variance += (100 * mass / total * min(inside, outside)) ** 2
    return sqrt(variance)


def _profile_sources(fatty: list[tuple[float, Ingredient]]) -> tuple[str, ...]:
    return tuple(
        dict.fromkeys(
            share.source for _, item in fatty if item.lipid and item.lipid.acids for share in item.lipid.acids.shares
        )
    )


def _fatty_mean(key: str, title: str, unit: str, method: str, fatty: list[tuple[float, Ingredient]]) -> Finding:
    """A titration value of the fatty part: the mean by mass, with its band."""
    value_of, sigma_of = {
        "iodine_value": (iodine_value, iodine_value_sigma),
        "saponification_value": (saponification_value, saponification_value_sigma),
    }[key]
    known: list[tuple[float, Ingredient, Lipid]] = [(m, i, i.lipid) for m, i in fatty if i.lipid is not None]
    why = _why_unknown(fatty)
    total = sum(mass for mass, _, _ in known)
    if why or not total:
        return Finding(key, title, None, None, None, unit, method, remark=why or "There is no oil in it yet.")
    value = sum(mass * value_of(lipid) for mass, _, lipid in known) / total
    sigma = sqrt(sum((mass / total * sigma_of(lipid)) ** 2 for mass, _, lipid in known))
    inputs = tuple(
        Input(
            item.name,
            value_of(lipid),
            unit,
            100 * mass / total,
            lipid.acids.shares[0].source if lipid.acids else item.source,
            lipid.lipid_class.replace("_", " "),
            item.confidence,
        )
        for mass, item, lipid in known
    )
    _, left_out = _unknown_fat(fatty)
    remark = f"Leaves out {_listed(left_out)}, whose composition is unknown." if left_out else ""
    if any(acid.conjugated for _, _, lipid in known if lipid.acids for acid in lipid.acids.fractions):
        remark = f"{remark} Conjugated acids: a Wijs titration reads lower than this.".strip()
    confidence = _least(item.confidence for _, item, _ in known)
    return Finding(
        key, title, value, max(0.0, value - 2 * sigma), value + 2 * sigma, unit, method, inputs,
        _sources(inputs, method.replace("_", "-")), confidence, remark,
    )  # fmt: skip


def _scent(read: list[tuple[Row, Ingredient]], total: float) -> Finding:
    scents = [(row, item) for row, item in read if item.phase is Phase.SCENT]
    title, unit = "Scent, at most", "% by mass"
    if not read:
        return Finding("scent_share", title, None, None, None, unit, "scent_by_mass", remark="No row has been read yet.")
    low = sum(row.grams_low or 0.0 for row, _ in scents)
    typical = sum(row.grams or 0.0 for row, _ in scents)
    high = sum(row.grams_high or 0.0 for row, _ in scents)
    rest = total - typical
    inputs = tuple(Input(item.name, row.grams_high or 0.0, "g at most", row.percent_mass) for row, item in scents)
    return Finding(
        "scent_share",
        title,
        100 * high / (rest + high) if high else 0.0,
        100 * low / (rest + low) if low else 0.0,
        100 * high / (rest + high) if high else 0.0,
        unit,
        "scent_by_mass",
        inputs,
        ("common-practice",),
        "medium",
        f"As counted here, {say_number(100 * typical / total, 3)} %; finer drops make it less." if scents else "No scent in it.",
        decimals=2,
    )


def _cost(read: list[tuple[Row, Ingredient]], prices: Mapping[str, Price]) -> Finding:
    priced = [(row, item, prices[item.key]) for row, item in read if item.key in prices]
    missing = [item.name for _, item in read if item.key not in prices]
    currencies = {price.currency for _, _, price in priced}
    inputs = tuple(
        Input(item.name, price.per_gram, f"{price.currency}/g", row.percent_mass, "person", price.origin, "high")
        for row, item, price in priced
    )
    unit = next(iter(currencies)) if len(currencies) == 1 else ""
    why = ""
    if not read:
        why = "No row has been read yet."
    elif missing:
        why = f"Unknown: no lot of {_listed(missing)} with a price stands on your shelf."
    elif len(currencies) > 1:
        why = f"Unknown: the prices are in {_listed(sorted(currencies))}."
    value = None if why else sum((row.grams or 0.0) * price.per_gram for row, _, price in priced)
    return Finding("cost", "Cost", value, None, None, unit, "sum_of_prices", inputs, ("person",), "high", why, decimals=2)


def _cautions(read: list[tuple[Row, Ingredient]]) -> tuple[Caution, ...]:
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
                    f"{item.name} is of the {family} family: not for anyone allergic to it, nor for anyone you have not asked.",
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
                    f"{item.name} brings water: it parts from the oil, and grows mould without a preservative that was tested.",
                    "An oil without water needs no preservative; one with water does.",
                )
            )
    if any(item.phase is Phase.SCENT for _, item in read):
        cautions.append(
            Caution(
                "scent-not-checked",
                Grade.NOTE,
                "scent",
                "Skin limits, sunlight, pregnancy and medicines are not checked here yet; look each essential oil up before use.",
                "Only the total dose is worked out.",
            )
        )
    if read:
        cautions.append(
            Caution(
                "usual-care",
                Grade.NOTE,
                "use",
                "For the skin only. Patch test twice for 24 hours. This is no medical or legal advice; local law and licensed practice come first.",
            )
        )
    return tuple(cautions)


def _remarks(recipe: Recipe, resolution: Resolution) -> tuple[str, ...]:
    remarks = []
    if resolution.stated_percent is not None and abs(resolution.stated_percent - 100) > PERCENT_TOLERANCE:
        remarks.append(
            f"The stated percents make {say_number(resolution.stated_percent)} %, not 100 %. "
            "The shares beside the rows are of what would be in the bottle."
        )
    waiting = sum(row.status is RowStatus.ASKED for row in resolution.rows)
    unread = sum(row.status in (RowStatus.NOT_UNDERSTOOD, RowStatus.UNMEASURED) for row in resolution.rows)
    if waiting:
        remarks.append(f"{waiting} row{'s wait' if waiting > 1 else ' waits'} for an answer; the figures leave {'them' if waiting > 1 else 'it'} out.")
    if unread:
        remarks.append(f"{unread} row{'s are' if unread > 1 else ' is'} not counted; the reason stands beside {'each' if unread > 1 else 'it'}.")
    if recipe.container is not None:
        over = resolution.total_millilitres - recipe.container.size_ml
        if over > FULL * recipe.container.size_ml:
            remarks.append(
                f"{say_number(over, 3)} mL too much for the container: {say_number(resolution.total_millilitres, 3)} mL stands "
                f"past the shoulder of {say_number(recipe.container.size_ml)} mL."
            )
    return tuple(remarks)


def _bottle(recipe: Recipe, resolution: Resolution) -> Bottle | None:
    if recipe.container is None:
        return None
    container = recipe.container
    pours: list[Pour] = []
    filled = 0.0
    for row, item in in_order(resolution.read, PourOrder.CARRIERS_FIRST):
        volume = row.millilitres or 0.0
        pours.append(
            Pour(row, item, item.phase, volume, filled + volume, container.height_mm(filled), container.height_mm(filled + volume))
        )
        filled += volume
    over = filled - container.size_ml
    return Bottle(container, tuple(pours), over if over > FULL * container.size_ml else 0.0, max(0.0, -over))
