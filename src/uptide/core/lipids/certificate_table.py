"""A laboratory's table with a heading over each column: what was found, without what was only asked for."""

from __future__ import annotations

import csv
from collections.abc import Iterator, Sequence

SEPARATORS = "\t;,|"
HEAD = 40  # lines within which a table begins: addresses and the name of a lot stand over it
RESULTS = frozenset(
    {"result", "results", "value", "values", "found", "measured", "analysis", "actual", "test result", "obtained"}
)
# Columns of what an oil of this kind should have, and of how it was measured: none of them says what this lot has.
_HEADINGS = (
    *("spec", "specs", "specification", "specifications", "limit", "limits", "lower limit", "upper limit", "range"),
    *("min", "max", "minimum", "maximum", "typical range", "target", "tolerance", "norm", "standard", "reference"),
    *("requirement", "requirements", "acceptance", "acceptance criteria", "method", "methods", "test method"),
    *("conformity", "status", "pass", "pass/fail", "uncertainty", "loq", "lod"),
)
ASKED_FOR = frozenset(_HEADINGS)


def found_of_table(lines: Sequence[str]) -> tuple[str, ...]:
    """The lines of a text; of a table with columns of results and of what was asked for, each row without the latter.

    >>> found_of_table(["Test;Specification;Result", "Peroxide value;max 10;1.8"])
    ('Peroxide value 1.8',)
    >>> found_of_table(["Peroxide value 1.8"])
    ('Peroxide value 1.8',)
    """
    for place, line in enumerate(lines[:HEAD]):
        for separator in SEPARATORS:
            head = [_plain(cell) for cell in _cells(line, separator)]
            # Both, so that “Results, batch 5” heads no table, and “62,1” below it stays one number.
            if RESULTS.intersection(head) and ASKED_FOR.intersection(head):
                return (*lines[:place], *_rows(lines[place + 1 :], separator, head))
    return tuple(lines)


def _rows(lines: Sequence[str], separator: str, head: Sequence[str]) -> Iterator[str]:
    for line in lines:
        cells = _cells(line, separator)
        if len(cells) < 2:
            yield line
            continue
        kept = (cell for place, cell in enumerate(cells) if place >= len(head) or head[place] not in ASKED_FOR)
        yield " ".join(filter(None, kept))


def _plain(heading: str) -> str:
    """A heading without its unit and its points, in lower case."""
    return heading.partition("(")[0].partition("[")[0].strip(" .:%").lower()


def _cells(line: str, separator: str) -> list[str]:
    try:
        return [cell.strip() for row in csv.reader([line], delimiter=separator) for cell in row]
    except csv.Error:  # a cell that is longer than any
        return [line]
