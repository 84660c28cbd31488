"""Lots on the shelf as CSV: the file a person fills in, and the one the demo comes with."""

from __future__ import annotations

from datetime import date
from importlib.resources.abc import Traversable
from pathlib import Path
from typing import Annotated

from pydantic import Field, model_validator

from uptide.catalogue.load import Catalogue
from uptide.catalogue.tables import TableError, TableRow, read_rows
from uptide.core.blend.lot import Lot


class LotLine(TableRow):
    """One container on the shelf, as a line of the file."""

    code: str
    ingredient: str
    supplier: str = ""
    received_on: date | None = None
    opened_on: date | None = None
    best_before: date | None = None
    bought_g: Annotated[float, Field(gt=0)]
    left_g: Annotated[float, Field(ge=0)]
    price: Annotated[float, Field(ge=0)] | None = None
    currency: str = ""
    place: str = ""

    @model_validator(mode="after")
    def _not_more_than_bought(self) -> LotLine:
        if self.left_g > self.bought_g:
            raise ValueError(f"left_g {self.left_g:g} is more than bought_g {self.bought_g:g}")
        return self


def read_lots(file: Path | Traversable, catalogue: Catalogue) -> tuple[Lot, ...]:
    """Read lots from a CSV file; an ingredient may be given by key or by any of its names.

    Raises:
        TableError: every bad row with its line, among them names that are unknown or mean several things.
    """
    problems: list[str] = []
    lots: list[Lot] = []
    seen: dict[str, str] = {}
    for where, line in read_rows(file, LotLine):
        match = catalogue.names.match(line.ingredient)
        key = line.ingredient if line.ingredient in catalogue.ingredients else match.keys[0] if match.sure else ""
        if not key:
            meant = ", ".join(catalogue.ingredients[k].name for k in match.keys)
            problems.append(
                f"{where}: “{line.ingredient}” is {'one of ' + meant if meant else 'not in the catalogue'}."
            )
        if line.code in seen:
            problems.append(f"{where}: the code “{line.code}” stands already in {seen[line.code]}.")
        seen.setdefault(line.code, where)
        lots.append(Lot(**{**line.model_dump(), "ingredient": key}))
    if problems:
        raise TableError(problems)
    return tuple(lots)
