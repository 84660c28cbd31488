"""A recipe as a table that was pasted from a spreadsheet: rows of cells under a header, as rows of words."""

from __future__ import annotations

import csv
import re
from collections.abc import Iterator, Sequence

NAMES = frozenset({"ingredient", "ingredients", "oil", "oils", "name", "what", "inci", "inci name", "item", "material"})
AMOUNTS = frozenset({"amount", "quantity", "qty", "how much", "measure"})
UNITS = frozenset({"unit", "units"})
# A column of numbers by its heading: the unit of what stands in it. Masses go before parts of a hundred.
MEASURED = {
    "g": "g",
    "gram": "g",
    "grams": "g",
    "mass": "g",
    "weight": "g",
    "ml": "ml",
    "millilitres": "ml",
    "volume": "ml",
    "oz": "oz",
    "fl oz": "fl oz",
    "tbsp": "tbsp",
    "tsp": "tsp",
    "drops": "drops",
    "parts": "parts",
    "%": "%",
    "percent": "%",
    "percentage": "%",
    "share": "%",
}
BRACKET = re.compile(r"^(?P<words>[^(\[]*)[(\[](?P<unit>[^)\]]*)[)\]]\s*$")
NUMBER = re.compile(r"^\d+(?:[.,]\d+)?\s*(?P<unit>%?)$")
SEPARATORS = "\t;,"


def rows_of_table(lines: Sequence[str]) -> tuple[str, ...] | None:
    """The rows of a table with a header, each as a person would type it; None where the lines are no such table.

    Cells beside amount and name are left out: they are notes, prices and sums of the spreadsheet.

    >>> rows_of_table(["Oil;Weight (g);%", "Grapeseed;30;70", "Jojoba;12.9;30"])
    ('30 g Grapeseed', '12.9 g Jojoba')
    >>> rows_of_table(["30 g grapeseed", "12.9 g jojoba"]) is None
    True
    """
    if len(lines) < 2:
        return None
    separator = next((each for each in SEPARATORS if each in lines[0]), "")
    try:
        header = [_heading(cell) for cell in _cells(lines[0], separator)] if separator else []
    except csv.Error:
        return None
    name = next((place for place, (word, _) in enumerate(header) if word in NAMES), None)
    if name is None or not any(unit or word in AMOUNTS for word, unit in header):
        return None
    try:
        return tuple(_rows(lines[1:], separator, header, name))
    except csv.Error:  # a cell that is longer than any
        return None


def _heading(cell: str) -> tuple[str, str]:
    """A heading, and the unit of the numbers under it: “Weight (g)” is a weight in g."""
    said = re.sub(r"\s+", " ", cell.strip().lower().strip(".:"))
    found = BRACKET.match(said)
    words, within = (found["words"].strip(), found["unit"].strip()) if found else (said, "")
    return words, MEASURED.get(within) or MEASURED.get(words, "")


def _rows(lines: Sequence[str], separator: str, header: Sequence[tuple[str, str]], name: int) -> Iterator[str]:
    for line in lines:
        cells = _cells(line, separator)
        said = [cell for cell in cells if cell]
        if len(cells) > name and cells[name]:
            yield f"{_amount(cells, header)} {cells[name]}".strip()
        elif said:  # a sum below the table, or a heading within it
            yield " ".join(["Total", *said] if any(map(NUMBER.match, said)) else said)


def _cells(line: str, separator: str) -> list[str]:
    """The cells of a line; one in quotation marks may hold what separates others."""
    return [cell.strip() for row in csv.reader([line], delimiter=separator) for cell in row]


def _amount(cells: Sequence[str], header: Sequence[tuple[str, str]]) -> str:
    """The first amount that stands in a row, with its unit."""
    unit_of_row = next((cells[at] for at, (word, _) in enumerate(header) if word in UNITS and at < len(cells)), "")
    for place, (word, unit) in enumerate(header):
        cell = cells[place] if place < len(cells) else ""
        if not cell or not (unit or word in AMOUNTS):
            continue
        number = NUMBER.match(cell)
        if number is None:
            return cell  # “2 tbsp”
        return cell if number["unit"] else f"{cell} {unit or unit_of_row}".strip()
    return ""
