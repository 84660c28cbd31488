"""The tables of safety: typed rows and the book that the rules read."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping
from importlib.resources.abc import Traversable
from pathlib import Path
from types import MappingProxyType
from typing import Annotated, Literal

from pydantic import Field

from uptide.catalogue.rows import Confidence, Key, Percent, RangeRow
from uptide.catalogue.tables import TableRow, read_rows
from uptide.core.measures.names import stems
from uptide.core.physics.hlb import Emulsifier, RequiredHlb
from uptide.core.safety.tables import (
    AllergenName,
    AllergyWord,
    ClaimPattern,
    Constituent,
    ConstituentLimit,
    DoseLimit,
    Rule,
    SafetyTables,
    ScentFacts,
)
from uptide.core.safety.words import problem_of, read_words
from uptide.core.skin.wearer import ALLERGIES

Grade = Literal["stop", "warn", "note"]
YesNo = Literal["yes", "no"]


class _Sourced(TableRow):
    """A row that names its source."""

    source: Key
    locator: str = ""
    confidence: Confidence


class ScentRow(_Sourced):
    """One essential oil, extract or absolute."""

    ingredient: Key
    extraction: Literal["cold-pressed", "steam", "absolute", "CO2", "resinoid", "rectified"]
    max_leave_on_percent: Percent | None = None
    driver: str = ""
    max_rinse_off_percent: Percent | None = None
    rinse_off_source: str = ""
    phototoxic: Literal["yes", "no", "uncertain"]
    phototoxic_limit_percent: Percent | None = None
    flags: str = ""
    min_age_years: float | None = None
    min_age_years_near_face: float | None = None
    opened_life_months: Annotated[float, Field(gt=0)] | None = None
    runs: Literal["runs", "slow", "blobs"]
    eu_label_name: str = ""


class ConstituentRow(RangeRow):
    """One constituent of one scent, in percent of it."""

    ingredient: Key
    constituent: str
    low_percent: Percent
    typical_percent: Percent
    high_percent: Percent
    source: Key
    locator: str = ""
    confidence: Confidence


class AllergenRow(_Sourced):
    """A name that EU law wants on labels."""

    label_name: str
    cas_or_plant: str = ""
    kind: Literal["substance", "whole oil"]
    listed_in: Annotated[int, Field(ge=2003, le=2023)]
    occurs_in_naturals: YesNo


class LimitRow(_Sourced):
    """The most of a constituent in a finished product."""

    constituent: str
    scope: Literal["literature", "EU law"]
    contact: Literal["leave-on", "rinse-off"]
    max_percent: Percent


class DoseRow(_Sourced):
    """How much scent a product or a wearer is given."""

    scope: Literal["product", "wearer"]
    applies_to: str
    low: Percent
    suggested: Percent
    most: Percent
    unit: Literal["%"]


class RuleRow(_Sourced):
    """A caution as data."""

    rule: Key
    grade: Grade
    what: str
    who: str
    message: str
    why: str
    remedy: str = ""
    label: str = ""
    answerable: YesNo


class ClaimRow(_Sourced):
    """Words that a cosmetic must not say."""

    rule: Key
    grade: Grade
    kind: Literal["medicine", "promise", "belief", "spf"]
    pattern: str
    why: str
    instead: str


class EmulsifierRow(_Sourced):
    """One emulsifier."""

    ingredient: Key
    hlb: Annotated[float, Field(ge=1, le=20)]
    usual_low_percent: Percent | None = None
    usual_high_percent: Percent | None = None
    ratio_low: float | None = None
    ratio_high: float | None = None
    ionic: str
    natural_standard: Literal["yes", "no", "often", "partly", "varies"]
    brings_water: YesNo
    effect: str
    caution: str = ""


class HlbRow(RangeRow):
    """The HLB that an oil wants of its emulsifiers, oil in water; `scent` stands for essential oils together."""

    ingredient: Key
    low: float
    typical: float
    high: float
    source: Key
    locator: str = ""
    confidence: Confidence


class AllergyWordRow(_Sourced):
    """Words for one allergy, parted by semicolons, and what they mean; lists are parted in the same way."""

    words: str
    allergies: str = ""
    families: str = ""
    ingredients: str = ""
    constituents: str = ""
    any_scent: YesNo


def load_safety(
    folder: Path | Traversable, ingredients: Collection[str], sources: Collection[str]
) -> tuple[SafetyTables, list[str]]:
    """Read all tables of safety; return the book and what is wrong with the rows, by file and line."""
    problems: list[str] = []
    scents = read_rows(folder / "scents.csv", ScentRow)
    constituents = read_rows(folder / "scent_constituents.csv", ConstituentRow)
    allergens = read_rows(folder / "allergen_names.csv", AllergenRow)
    limits = read_rows(folder / "constituent_limits.csv", LimitRow)
    doses = read_rows(folder / "dose_limits.csv", DoseRow)
    rules = read_rows(folder / "cautions.csv", RuleRow)
    claims = read_rows(folder / "claims.csv", ClaimRow)
    emulsifiers = read_rows(folder / "emulsifiers.csv", EmulsifierRow)
    hlbs = read_rows(folder / "required_hlb.csv", HlbRow)
    words = read_rows(folder / "allergy_words.csv", AllergyWordRow)
    for rows in (scents, constituents, allergens, limits, doses, rules, claims, emulsifiers, hlbs, words):
        problems += [
            f"{w}: source “{row.source}” is not in sources.csv." for w, row in rows if row.source not in sources
        ]
    for linked in (scents, constituents, emulsifiers, hlbs):
        problems += [
            f"{where}: there is no ingredient “{row.ingredient}”."
            for where, row in linked
            if row.ingredient not in ingredients and row.ingredient != "scent"
        ]
    scented = {row.ingredient for _, row in scents}
    problems += [f"{w}: “{r.ingredient}” is not in scents.csv." for w, r in constituents if r.ingredient not in scented]
    for where, row in rules:
        for said in (row.what, row.who):
            trouble = problem_of(said, ingredients)
            problems += [f"{where}: {row.rule}: {trouble}"] if trouble else []
    for where, dose in doses:
        trouble = problem_of(dose.applies_to, ingredients) if dose.scope == "wearer" else ""
        problems += [f"{where}: {trouble}"] if trouble else []
    listed = {row.label_name for _, row in allergens} | {row.constituent for _, row in constituents}
    for where, word in words:
        meant: tuple[tuple[str, Collection[str]], ...] = (
            (word.allergies, ALLERGIES),
            (word.ingredients, ingredients),
            (word.constituents, listed),
        )
        for names, known in meant:
            unknown = [name for name in _parts(names) if name not in known]
            problems += [f"{where}: {', '.join(unknown)} is not known."] if unknown else []
    for where, claim in claims:
        try:
            re.compile(claim.pattern)
        except re.error as error:
            problems.append(f"{where}: {claim.rule}: the pattern cannot be read: {error}")
    problems += [
        f"{where}: a limit for what is rinsed off needs its source."
        for where, row in scents
        if row.max_rinse_off_percent is not None and row.rinse_off_source not in sources
    ]
    problems += [
        f"{where}: a phototoxic oil needs its limit."
        for where, row in scents
        if row.phototoxic == "yes" and row.phototoxic_limit_percent is None
    ]
    return (
        SafetyTables()
        if problems
        else _book(
            scents,
            constituents,
            allergens=allergens,
            limits=limits,
            doses=doses,
            rules=rules,
            claims=claims,
            emulsifiers=emulsifiers,
            hlbs=hlbs,
            words=words,
        )
    ), problems


def _parts(text: str) -> tuple[str, ...]:
    return tuple(part.strip() for part in text.split(";") if part.strip())


def _book(
    scents: list[tuple[str, ScentRow]],
    constituents: list[tuple[str, ConstituentRow]],
    allergens: list[tuple[str, AllergenRow]],
    limits: list[tuple[str, LimitRow]],
    doses: list[tuple[str, DoseRow]],
    rules: list[tuple[str, RuleRow]],
    claims: list[tuple[str, ClaimRow]],
    emulsifiers: list[tuple[str, EmulsifierRow]],
    hlbs: list[tuple[str, HlbRow]],
    words: list[tuple[str, AllergyWordRow]],
) -> SafetyTables:
    parts: dict[str, dict[str, Constituent]] = defaultdict(dict)
    for _, c in constituents:
        parts[c.ingredient][c.constituent] = Constituent(c.low_percent, c.typical_percent, c.high_percent, c.confidence)
    return SafetyTables(
        MappingProxyType({row.ingredient: _scent(row, parts[row.ingredient]) for _, row in scents}),
        MappingProxyType(
            {
                r.label_name: AllergenName(r.label_name, r.kind == "whole oil", r.listed_in, r.source)
                for _, r in allergens
            }
        ),
        constituent_limits=tuple(
            ConstituentLimit(
                r.constituent, r.scope == "EU law", rinsed=r.contact == "rinse-off", most=r.max_percent, source=r.source
            )
            for _, r in limits
        ),
        dose_limits=tuple(
            DoseLimit(
                product=r.applies_to if r.scope == "product" else "",
                whom=read_words(r.applies_to) if r.scope == "wearer" else (),
                low=r.low,
                suggested=r.suggested,
                most=r.most,
                source=r.source,
                words=r.locator.removeprefix("from memory").lstrip("; "),
                confidence=r.confidence,
            )
            for _, r in doses
        ),
        rules=tuple(
            Rule(
                key=r.rule,
                grade=r.grade,
                what=read_words(r.what),
                who=read_words(r.who),
                message=r.message,
                why=r.why,
                remedy=r.remedy,
                label=r.label,
                answerable=r.answerable == "yes",
                source=r.source,
                confidence=r.confidence,
            )
            for _, r in rules
        ),
        claims=tuple(
            ClaimPattern(
                r.rule,
                r.grade,
                kind=r.kind,
                pattern=re.compile(r.pattern, re.IGNORECASE),
                why=r.why,
                instead=tuple(part.strip() for part in r.instead.split(";")),
                source=r.source,
            )
            for _, r in claims
        ),
        emulsifiers=MappingProxyType({row.ingredient: _emulsifier(row) for _, row in emulsifiers}),
        required_hlb=MappingProxyType(
            {row.ingredient: RequiredHlb(row.low, row.typical, row.high, row.source) for _, row in hlbs}
        ),
        allergy_words=MappingProxyType(
            {" ".join(stems(said)): _meaning(row) for _, row in words for said in _parts(row.words)}
        ),
    )


def _meaning(row: AllergyWordRow) -> AllergyWord:
    return AllergyWord(
        allergies=frozenset(_parts(row.allergies)),
        families=frozenset(_parts(row.families)),
        ingredients=frozenset(_parts(row.ingredients)),
        constituents=frozenset(_parts(row.constituents)),
        any_scent=row.any_scent == "yes",
    )


def called(names: Iterable[tuple[str, str]]) -> Mapping[str, frozenset[str]]:
    """Which things each name may mean, by the name in the words of `stems`; for allergies in people's own words."""
    found: dict[str, set[str]] = defaultdict(set)
    for key, name in names:
        found[" ".join(stems(name))].add(key)
    return MappingProxyType({name: frozenset(keys) for name, keys in found.items()})


def _scent(row: ScentRow, parts: dict[str, Constituent]) -> ScentFacts:
    return ScentFacts(
        key=row.ingredient,
        extraction=row.extraction,
        most_leave_on=row.max_leave_on_percent,
        most_rinse_off=row.max_rinse_off_percent,
        rinse_off_source=row.rinse_off_source,
        driver=row.driver,
        phototoxic=row.phototoxic,
        phototoxic_limit=row.phototoxic_limit_percent,
        flags=frozenset(filter(None, row.flags.split(";"))),
        least_age=row.min_age_years,
        stated_age_near_face=row.min_age_years_near_face,
        opened_months=row.opened_life_months,
        runs=row.runs,
        eu_label_name=row.eu_label_name,
        constituents=MappingProxyType(parts),
        source=row.source,
        confidence=row.confidence,
    )


def _emulsifier(row: EmulsifierRow) -> Emulsifier:
    usual = (row.usual_low_percent, row.usual_high_percent)
    ratio = (row.ratio_low, row.ratio_high)
    return Emulsifier(
        row.ingredient,
        row.hlb,
        usual=usual if usual[0] is not None and usual[1] is not None else None,  # type: ignore[arg-type] # both are numbers then
        ratio=ratio if ratio[0] is not None and ratio[1] is not None else None,  # type: ignore[arg-type] # both are numbers then
        ionic=row.ionic,
        natural=row.natural_standard,
        brings_water=row.brings_water == "yes",
        effect=row.effect,
        caution=row.caution,
        source=row.source,
        confidence=row.confidence,
    )
