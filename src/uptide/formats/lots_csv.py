"""The shelf as CSV, in and out: lots, their certificates, and oils of one's own.

Certificates and own oils keep the table they were read from in one cell, so that nothing is lost on the way.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping
from datetime import date
from typing import Annotated, Literal

from pydantic import Field, model_validator

from uptide.catalogue.catalogue import Catalogue
from uptide.catalogue.plants import steeped
from uptide.catalogue.tables import SHOWN, TableError, TableRow, read_text
from uptide.core.errors import UptideError
from uptide.core.ingredients.certificate import Certificate, acids_problem
from uptide.core.ingredients.infusion import Infusion, each_plant
from uptide.core.ingredients.lot import Lot
from uptide.core.ingredients.mixture import known_oil
from uptide.core.ingredients.own_oil import OwnOil, own_ingredient
from uptide.core.lipids.pasted import read_pasted
from uptide.core.text import harmless

MOST_ROWS = 5_000  # of a file of the shelf: reading stays short


class LotLine(TableRow):
    """One container on the shelf, as a line of the file; a lot of a blend gives its number and version instead."""

    code: str
    ingredient: str = ""
    supplier: str = ""
    received_on: date | None = None
    opened_on: date | None = None
    best_before: date | None = None
    bought_g: Annotated[float, Field(gt=0, allow_inf_nan=False)]
    left_g: Annotated[float, Field(ge=0, allow_inf_nan=False)]
    price: Annotated[float, Field(ge=0, allow_inf_nan=False)] | None = None
    currency: str = ""
    place: str = ""
    supplier_lot: str = ""
    container: str = ""
    note: str = ""
    grade: Literal["", "refined", "unrefined", "co2"] = ""
    blend: int | None = None
    version: int | None = None
    infused_with: str = ""
    plant_was: Literal["", "dried", "damp"] = ""
    poured_on: str = ""

    @model_validator(mode="after")
    def _not_more_than_bought(self) -> LotLine:
        if self.left_g > self.bought_g:
            raise ValueError(f"left_g {self.left_g:g} is more than bought_g {self.bought_g:g}")
        return self


class CertificateLine(TableRow):
    """A certificate of one lot: the day it is of, and its table as it was pasted."""

    code: str
    dated_on: date | None = None
    table: str


class OwnLine(TableRow):
    """An oil of one's own, with its acids and figures as they were pasted."""

    key: str = ""
    name: str
    kind: str = "carrier"
    inci: str = ""
    botanical_name: str = ""
    allergen_family: str = ""
    note: str = ""
    colour: str = "#f3e7b5"
    tint: int = 2
    solid: Literal["yes", "no"] = "no"
    table: str = ""


INFUSED = ("infused_with", "plant_was", "poured_on")
Entered = tuple[str, Certificate, str]  # lot code, certificate, its table as pasted


def what_is_in(text: str) -> str:
    """What a file of the shelf holds, by its header: lots, certificates or own oils; nothing when it is none."""
    header = {name.strip() for name in text.lstrip("\ufeff").split("\n", 1)[0].split(",")}
    if "left_g" in header:
        return "lots"
    if {"code", "table"} <= header:
        return "certificates"
    return "own oils" if {"name", "table"} <= header else ""


def read_lots(name: str, text: str, catalogue: Catalogue) -> tuple[Lot, ...]:
    """Read lots; an ingredient may be given by key or by any of its names.

    Raises:
        TableError: every bad row with its line, among them names that are unknown or mean several things.
    """
    problems: list[str] = []
    lots: list[Lot] = []
    seen: dict[str, str] = {}
    for where, line in read_text(name, text, LotLine, MOST_ROWS):
        made = (line.blend, line.version) if line.blend and line.version else None
        infusion = _infusion(line, catalogue)
        mixed = made is not None or (infusion is not None and bool(line.poured_on) and not line.ingredient)
        together = line.ingredient if known_oil(line.ingredient, catalogue.ingredients) else ""
        key = "" if mixed else together or _key(line.ingredient, where, catalogue, problems)
        if line.code in seen:
            problems.append(f"{where}: the code “{line.code}” stands already in {seen[line.code]}.")
        seen.setdefault(line.code, where)
        plain = line.model_dump(exclude={"ingredient", "blend", "version", *INFUSED})
        lots.append(Lot(**plain, ingredient=key, made_from=made, infusion=infusion))
    if problems:
        raise TableError(problems)
    return tuple(lots)


def _infusion(line: LotLine, catalogue: Catalogue) -> Infusion | None:
    """What a lot was infused with; how strong it is, and what its jar cost it, stands with the jar."""
    plants = tuple(steeped(name, catalogue.plants) for name in each_plant(line.infused_with))
    return Infusion(plants, fresh_plant=line.plant_was == "damp", oil_lot=line.poured_on) if plants else None


def _key(ingredient: str, where: str, catalogue: Catalogue, problems: list[str]) -> str:
    if ingredient in catalogue.ingredients:
        return ingredient
    # What is near a name is looked for as long as it will be shown; only the exact name ever counts.
    match = catalogue.names.match(ingredient) if len(problems) < SHOWN else catalogue.names.exactly(ingredient)
    if match.sure:
        return match.keys[0]
    meant = ", ".join(catalogue.ingredients[k].name for k in match.keys)
    problems.append(f"{where}: “{ingredient}” is {'one of ' + meant if meant else 'not in the catalogue'}.")
    return ""


def read_certificates(name: str, text: str, catalogue: Catalogue) -> tuple[Entered, ...]:
    """Read certificates of lots that stand on the shelf.

    Raises:
        TableError: every row of an unknown lot, or with a table that cannot be read.
    """
    problems: list[str] = []
    found: list[Entered] = []
    for where, line in read_text(name, text, CertificateLine, MOST_ROWS):
        item = catalogue.ingredients.get(f"lot:{line.code}")
        if item is None:
            problems.append(f"{where}: there is no lot “{line.code}” on the shelf; bring the lots in first.")
            continue
        read = read_pasted(line.table, catalogue.acids, catalogue.safety.constituent_names)
        problems += [f"{where}: “{row}”: {why}." for row, why in read.not_read]
        certificate = Certificate(line.dated_on or read.dated_on, read.acids, read.figures, read.constituents)
        base = catalogue.ingredients.get(item.base_key, item)
        trouble = acids_problem(certificate, base, catalogue.acids)
        problems += [f"{where}: {trouble}"] if trouble else []
        found.append((line.code, certificate, line.table))
    if problems:
        raise TableError(problems)
    return tuple(found)


def read_own_oils(name: str, text: str, catalogue: Catalogue) -> tuple[tuple[str, OwnOil, str], ...]:
    """Read oils of one's own: (key or nothing, oil, its table as pasted).

    Raises:
        TableError: every row that cannot be an oil.
    """
    problems: list[str] = []
    found = []
    for where, line in read_text(name, text, OwnLine, MOST_ROWS):
        read = read_pasted(line.table, catalogue.acids)
        problems += [f"{where}: “{row}”: {why}." for row, why in read.not_read]
        said = line.model_dump(exclude={"key", "table", "solid"})
        try:
            own = OwnOil(**said, solid=line.solid == "yes", acids=read.acids, figures=read.figures)
            own_ingredient(own, catalogue.acids)
        except UptideError as error:
            problems.append(f"{where}: {error}")
            continue
        found.append((line.key, own, line.table))
    if problems:
        raise TableError(problems)
    return tuple(found)


def write_lots(lots: Iterable[Lot]) -> str:
    """Write lots so that `read_lots` brings them back."""
    rows = []
    for lot in lots:
        blend, version = lot.made_from or ("", "")
        rows.append(
            {name: getattr(lot, name, "") for name in LotLine.model_fields}
            | {"blend": blend, "version": version}
            | _infused(lot.infusion)
        )
    return _written(LotLine, rows)


def _infused(infusion: Infusion | None) -> dict[str, str]:
    if infusion is None:
        return dict.fromkeys(INFUSED, "")
    was = "damp" if infusion.fresh_plant else "dried"
    return {"infused_with": infusion.plant_names, "plant_was": was, "poured_on": infusion.oil_lot}


def write_certificates(entered: Iterable[Entered]) -> str:
    """Write certificates so that `read_certificates` brings them back."""
    return _written(
        CertificateLine, [{"code": code, "dated_on": c.dated_on, "table": typed} for code, c, typed in entered]
    )


def write_own_oils(oils: Mapping[str, tuple[OwnOil, str]]) -> str:
    """Write oils of one's own so that `read_own_oils` brings them back."""
    return _written(
        OwnLine,
        [
            {name: getattr(own, name, "") for name in OwnLine.model_fields}
            | {"key": key, "solid": "yes" if own.solid else "no", "table": typed}
            for key, (own, typed) in oils.items()
        ],
    )


def _written(model: type[TableRow], rows: Iterable[Mapping[str, object]]) -> str:
    out = io.StringIO(newline="")
    writer = csv.DictWriter(out, list(model.model_fields))
    writer.writeheader()
    for row in rows:
        writer.writerow({name: harmless("" if value is None else str(value)) for name, value in row.items()})
    return out.getvalue()
