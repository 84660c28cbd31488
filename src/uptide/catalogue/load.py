"""Load the catalogue: tables to core objects, once, immutable."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import replace
from importlib.resources.abc import Traversable
from pathlib import Path
from types import MappingProxyType

from uptide.catalogue.catalogue import Catalogue, Product, Source, names_of
from uptide.catalogue.plants import flags_by_name, load_plants
from uptide.catalogue.rows import (
    AntioxidantRow,
    AppearanceRow,
    AskedNameRow,
    FattyAcidRow,
    IngredientRow,
    MeltingRow,
    OxidationRow,
    ProductRow,
    ProfileRow,
    PropertyRow,
    SourceRow,
    SynonymRow,
    TraditionRow,
    UseRow,
)
from uptide.catalogue.safety import called, load_safety
from uptide.catalogue.tables import TableError, read_rows
from uptide.core.errors import ProfileError, UnknownKeyError
from uptide.core.ingredients.ingredient import Appearance, Ingredient, Measured, Tradition, UsualShare
from uptide.core.lipids.fatty_acids import FattyAcid, FattyAcidProfile, Share
from uptide.core.lipids.lipid import Lipid, LipidClass
from uptide.core.measures.names import NameIndex
from uptide.core.oxidation.oil import OilOxidation, estimate
from uptide.core.physics.bottle import CONTAINER_KINDS
from uptide.core.physics.density import REFERENCE_TEMPERATURE, density_at
from uptide.core.physics.solid import MeltingCurve, cloud_shift
from uptide.core.safety.words import flags_named


def load_catalogue(folder: Path | Traversable) -> Catalogue:
    """Read all tables of a folder and check them against one another.

    Raises:
        TableError: any row that is malformed, cites an unknown source, repeats a key or gives an impossible sum.
    """
    problems: list[str] = []
    sources = {
        row.key: Source(row.key, row.citation, row.licence, row.how_read)
        for _, row in read_rows(folder / "sources.csv", SourceRow)
    }
    acid_rows = read_rows(folder / "fatty_acids.csv", FattyAcidRow)
    ingredient_rows = read_rows(folder / "ingredients.csv", IngredientRow)
    profile_rows = read_rows(folder / "profiles.csv", ProfileRow)
    property_rows = read_rows(folder / "properties.csv", PropertyRow)
    melting_rows = read_rows(folder / "melting_curves.csv", MeltingRow)
    appearance_rows = read_rows(folder / "appearance.csv", AppearanceRow)
    use_rows = read_rows(folder / "uses.csv", UseRow)
    tradition_rows = read_rows(folder / "traditions.csv", TraditionRow)
    oxidation_rows = read_rows(folder / "oxidation.csv", OxidationRow)
    antioxidant_rows = read_rows(folder / "antioxidants.csv", AntioxidantRow)
    synonym_rows = read_rows(folder / "synonyms.csv", SynonymRow)
    asked_rows = read_rows(folder / "asked_names.csv", AskedNameRow)
    product_rows = read_rows(folder / "products.csv", ProductRow)

    for rows in (
        acid_rows,
        ingredient_rows,
        profile_rows,
        property_rows,
        melting_rows,
        appearance_rows,
        use_rows,
        oxidation_rows,
        antioxidant_rows,
        synonym_rows,
        asked_rows,
        product_rows,
    ):
        problems += [
            f"{where}: source “{row.source}” is not in sources.csv." for where, row in rows if row.source not in sources
        ]
    problems += [
        f"{w}: range_source “{r.range_source}” is not in sources.csv."
        for w, r in profile_rows
        if r.range_source not in sources
    ]
    problems += _repeated("code", [(where, row.code) for where, row in acid_rows])
    problems += _repeated("key", [(where, row.key) for where, row in ingredient_rows])
    problems += _repeated("acid", [(where, f"{row.ingredient} {row.code}") for where, row in profile_rows])
    problems += _repeated("oil", [(where, row.ingredient) for where, row in oxidation_rows])
    for described in (appearance_rows, use_rows):
        problems += _repeated("oil", [(where, row.ingredient) for where, row in described])
    problems += _repeated("name", [(where, f"{row.ingredient} {row.name}") for where, row in synonym_rows])
    known = {row.key for _, row in ingredient_rows}
    for linked in (
        profile_rows,
        property_rows,
        melting_rows,
        appearance_rows,
        use_rows,
        oxidation_rows,
        antioxidant_rows,
        synonym_rows,
    ):
        problems += [
            f"{where}: there is no ingredient “{row.ingredient}”."
            for where, row in linked
            if row.ingredient not in known
        ]
    problems += [
        f"{where}: there is no ingredient “{key}”."
        for where, row in asked_rows
        for key in row.offers.split(";")
        if key and key not in known
    ]
    acids = {row.code: _acid(row) for _, row in acid_rows}
    problems += [
        f"{where}: there is no fatty acid “{row.code}”." for where, row in profile_rows if row.code not in acids
    ]
    problems += [
        f"{where}: there is no container “{row.container}”."
        for where, row in product_rows
        if row.container not in CONTAINER_KINDS
    ]
    if problems:
        raise TableError(problems)

    profiles: dict[str, list[ProfileRow]] = defaultdict(list)
    for _, profile in profile_rows:
        profiles[profile.ingredient].append(profile)
    properties: dict[str, list[PropertyRow]] = defaultdict(list)
    for _, entry in property_rows:
        properties[entry.ingredient].append(entry)
    oxidation = {row.ingredient: _oxidation(row) for _, row in oxidation_rows}
    melting, refused = _melting(melting_rows)
    problems += refused
    appearance = {
        row.ingredient: Appearance(row.tint_1_to_10, row.tint_words, row.odour_0_to_3) for _, row in appearance_rows
    }
    traditions = {
        row.ingredient: Tradition(
            row.temper, () if row.seasons == "all" else tuple(row.seasons.split(";")), row.practice
        )
        for _, row in tradition_rows
    }
    uses = {
        row.ingredient: UsualShare(row.share_low_percent, row.share_high_percent, row.role, row.price_level)
        for _, row in use_rows
    }
    protects = {row.ingredient: (row.substance, row.active_g_per_g) for _, row in antioxidant_rows}
    ingredients: dict[str, Ingredient] = {}
    for where, row in ingredient_rows:
        try:
            item = _ingredient(row, profiles[row.key], properties[row.key], acids)
            ingredients[row.key] = replace(
                item,
                oxidation=oxidation.get(row.key) or _estimated(item),
                protects=protects.get(row.key),
                melting=melting.get(row.key),
                cloud_shift=_cloud_shift(item),
                appearance=appearance.get(row.key),
                use=uses.get(row.key),
                tradition=traditions.get(row.key),
            )
        except (ProfileError, UnknownKeyError) as error:
            problems.append(f"{where}: {row.key}: {error}")
    safety, refused = load_safety(folder / "safety", ingredients, sources)
    problems += refused
    plants = load_plants(folder / "plants.csv")
    problems += [
        f"plants.csv: {plant.key}: there is no ingredient “{plant.dissolves_as}”."
        for plant in plants.values()
        if plant.dissolves_as and plant.dissolves_as not in ingredients
    ]
    problems += [
        f"plants.csv: {plant.key}: there is no scent “{plant.scent}”."
        for plant in plants.values()
        if plant.scent and plant.scent not in safety.scents
    ]
    problems += [
        f"cautions.csv: {rule.key}: no plant is flagged “{flag}”."
        for rule in safety.rules
        for flag in flags_named(rule.what)
        if not any(flag in plant.flags for plant in plants.values())
    ]
    if problems:
        raise TableError(problems)
    synonyms = tuple((row.ingredient, row.name) for _, row in synonym_rows)
    asked = {row.name: (tuple(filter(None, row.offers.split(";"))), row.why) for _, row in asked_rows}
    names = NameIndex(
        names_of(ingredients, synonyms),
        {key: item.kind for key, item in ingredients.items()},
        asked=asked,
    )
    products = {
        row.key: Product(
            row.key,
            row.name,
            left_on=row.left_on == "yes",
            area=row.area,
            usual_ml=row.usual_ml,
            container=row.container,
            note=row.note,
        )
        for _, row in product_rows
    }
    return Catalogue(
        MappingProxyType(acids),
        MappingProxyType(ingredients),
        sources=MappingProxyType(sources),
        products=MappingProxyType(products),
        names=names,
        synonyms=synonyms,
        asked=asked,
        safety=replace(safety, called=called(names_of(ingredients, synonyms)), plants=flags_by_name(plants)),
        plants=plants,
    )


def _melting(rows: list[tuple[str, MeltingRow]]) -> tuple[dict[str, MeltingCurve], list[str]]:
    """Curves by ingredient, and what is wrong with them: a fat that gets more solid as it warms, or two families."""
    curves: dict[str, MeltingCurve] = {}
    problems: list[str] = []
    for where, row in rows:
        known = curves.get(row.ingredient)
        point = (row.temperature_c, row.solid_percent)
        family, enthalpy = row.crystal_family, row.fusion_enthalpy_kj_per_mol
        if known is None:
            curves[row.ingredient] = MeltingCurve(family, enthalpy, (point,))
            continue
        if (known.family, known.enthalpy) != (family, enthalpy):
            problems.append(f"{where}: {row.ingredient} is given a second crystal family or fusion enthalpy.")
        if point[0] <= known.points[-1][0] or point[1] > known.points[-1][1]:
            problems.append(f"{where}: the curve of {row.ingredient} must warm from line to line and never set again.")
        curves[row.ingredient] = replace(known, points=(*known.points, point))
    return curves, problems


def _repeated(what: str, places: list[tuple[str, str]]) -> list[str]:
    seen: dict[str, str] = {}
    problems = []
    for where, value in places:
        if value in seen:
            problems.append(f"{where}: {what} “{value}” stands already in {seen[value]}.")
        seen.setdefault(value, where)
    return problems


def _acid(row: FattyAcidRow) -> FattyAcid:
    return FattyAcid(
        row.code,
        row.common_name,
        systematic_name=row.systematic_name,
        carbons=row.carbons,
        double_bonds=row.double_bonds,
        molar_mass=row.molar_mass_g_per_mol,
        hydroxyl_groups=row.hydroxyl_groups,
        conjugated=row.conjugated == "yes",
        is_alcohol=row.role == "alcohol",
    )


def _profile(rows: list[ProfileRow], acids: Mapping[str, FattyAcid]) -> FattyAcidProfile | None:
    if not rows:
        return None
    return FattyAcidProfile(
        tuple(
            Share(
                acids[row.code],
                row.low_percent / 100,
                typical=row.typical_percent / 100,
                high=row.high_percent / 100,
                source=row.source,
                locator=row.locator,
                confidence=row.confidence,
                range_source=row.range_source,
            )
            for row in rows
        )
    )


def _ingredient(
    row: IngredientRow, profile: list[ProfileRow], properties: list[PropertyRow], acids: Mapping[str, FattyAcid]
) -> Ingredient:
    measured: dict[str, list[Measured]] = defaultdict(list)
    for entry in properties:
        measured[entry.property].append(
            Measured(
                entry.typical,
                entry.low,
                high=entry.high,
                unit=entry.unit,
                source=entry.source,
                locator=entry.locator,
                confidence=entry.confidence,
                temperature=entry.temperature_c,
                is_of_class=entry.basis == "class",
            )
        )
    if not measured["density"] or measured["density"][0].typical is None:
        raise UnknownKeyError("properties.csv gives no density; every ingredient needs one.")
    basis = measured["density"][0]
    typical = measured["density"][0].typical
    density = density_at(typical, basis.temperature or REFERENCE_TEMPERATURE, REFERENCE_TEMPERATURE, row.key)
    return Ingredient(
        key=row.key,
        name=row.name,
        kind=row.kind,
        inci=row.inci,
        density=density,
        density_basis=basis,
        state=row.state_at_20c,
        botanical_name=row.botanical_name,
        allergen_family=row.allergen_family,
        allergen_note=row.allergen_note,
        allergen_relatives=frozenset(row.allergen_relatives.split(";")) - {""},
        colour=row.colour_hex,
        lipid=_lipid(row, profile, measured, acids),
        confidence=row.confidence,
        source=row.source,
        properties=MappingProxyType({name: tuple(values) for name, values in measured.items() if values}),
    )


def _oxidation(row: OxidationRow) -> OilOxidation:
    return OilOxidation(
        row.ingredient,
        row.osi_110c_h,
        lot_class=row.lot_class,
        unsaturation=(row.saturated_percent, row.mono_percent, row.di_percent, row.tri_percent, 0.0),
        tocopherols_gamma=row.tocopherols_gamma_mg_per_kg,
        tocopherols_alpha=row.tocopherols_alpha_mg_per_kg,
        chlorophyll=row.chlorophyll,
        trade_life=(row.trade_life_low_months, row.trade_life_high_months),
        source=row.source,
        confidence=row.confidence,
    )


def _estimated(item: Ingredient) -> OilOxidation | None:
    """What the fatty acids tell of an oil that is not in the calibration set; None for what is no fat or unknown."""
    if item.lipid is None:
        return None
    tocopherols = item.properties.get("tocopherols", ())
    known = tocopherols[0].typical if tocopherols and tocopherols[0].typical is not None else 0.0
    found = estimate(item.key, item.lipid, known)
    life = item.properties.get("shelf_life", ())
    if life and life[0].low is not None and life[0].high is not None:
        found = replace(found, trade_life=(life[0].low, life[0].high))
    return found


def _cloud_shift(item: Ingredient) -> float:
    """By how much its crystals melt elsewhere than the model says, by its cloud point; 0 where none is known."""
    cloud = item.properties.get("cloud_point", ())
    if item.lipid is None or not cloud or cloud[0].low is None or cloud[0].high is None:
        return 0.0
    return cloud_shift(item.lipid, cloud[0].low, cloud[0].high)


def _lipid(
    row: IngredientRow,
    profile: list[ProfileRow],
    measured: Mapping[str, list[Measured]],
    acids: Mapping[str, FattyAcid],
) -> Lipid | None:
    fatty = _profile([part for part in profile if not acids[part.code].is_alcohol], acids)
    alcohols = _profile([part for part in profile if acids[part.code].is_alcohol], acids)
    if not row.lipid_class or (fatty is None and row.lipid_class != LipidClass.HYDROCARBON.value):
        return None
    unsaponifiable = 0.0
    if row.lipid_class == LipidClass.TRIGLYCERIDE.value and measured["unsaponifiable_matter"]:
        unsaponifiable = (measured["unsaponifiable_matter"][0].typical or 0.0) / 100
    return Lipid(LipidClass(row.lipid_class), fatty, alcohols, unsaponifiable)
