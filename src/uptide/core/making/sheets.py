"""Sheets of labels by their plain dimensions [mm]: where each label lies, and what of it can be written on.

Dimensions are common practice; makers differ in the margins, and printers shift: hence offsets and a page of outlines.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import ceil, floor, sqrt

from uptide.core.errors import QuantityError

PAPERS = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4)}
INNER = 2.0  # mm that stay clear within a label
MOST_SHIFT = 10.0  # mm
QUIET, MODULES, MODULE_MM = 4, 21, 0.4  # modules around, and across a code of so short a text; mm of one at least
# Nominal content [mL] up to which letters of the contents are so high [mm]: directive 76/211/EEC, from memory.
LETTERS_EU = ((50.0, 2.0), (200.0, 3.0), (1000.0, 4.0))
LARGEST_EU = 6.0
# Area of the main panel [mm²] up to which they are so high: 16 CFR 500, from memory; inches as millimetres.
INCH = 25.4
LETTERS_US = (
    (5 * INCH**2, INCH / 16),
    (25 * INCH**2, INCH / 8),
    (100 * INCH**2, 3 * INCH / 16),
    (400 * INCH**2, INCH / 4),
)
LARGEST_US = INCH / 2
FL_OZ = 29.5735  # mL


@dataclass(frozen=True, slots=True)
class Sheet:
    """A sheet of labels: of what paper, how large, how many across and down, how far apart, and from where on [mm]."""

    key: str
    paper: str
    size: tuple[float, float]
    grid: tuple[int, int]
    pitch: tuple[float, float]
    corner: tuple[float, float]  # left and top of the first
    is_round: bool = False

    @property
    def width(self) -> float:
        """Of a label [mm]."""
        return self.size[0]

    @property
    def height(self) -> float:
        """Of a label [mm]."""
        return self.size[1]

    @property
    def radius(self) -> float:
        """Of a round label [mm]."""
        return self.width / 2

    @property
    def count(self) -> int:
        """Labels on a sheet."""
        return self.grid[0] * self.grid[1]

    @property
    def title(self) -> str:
        """As it is called: by its size and how many there are."""
        size = f"round {self.width:g} mm" if self.is_round else f"{self.width:g} × {self.height:g} mm"
        return f"{self.paper}, {size}, {self.count} to a sheet"

    @property
    def written(self) -> tuple[float, float]:
        """What of a label can be written on [mm]: of a round one the square within."""
        if self.is_round:
            side = self.width / sqrt(2) - INNER
            return side, side
        return self.width - 2 * INNER, self.height - 2 * INNER

    def at(self, place: int) -> tuple[float, float]:
        """Left and top of a label on its sheet [mm], by its number from 0."""
        row, column = divmod(place % self.count, self.grid[0])
        return self.corner[0] + column * self.pitch[0], self.corner[1] + row * self.pitch[1]

    def sheets_for(self, labels: int, first: int = 0) -> int:
        """Sheets that so many labels take when the first `first` are used already."""
        return ceil((labels + first) / self.count)


SHEETS: Mapping[str, Sheet] = {
    sheet.key: sheet
    for sheet in (
        Sheet("a4-63x38", "A4", size=(63.5, 38.1), grid=(3, 7), pitch=(66.0, 38.1), corner=(7.25, 15.15)),
        Sheet("a4-99x38", "A4", size=(99.1, 38.1), grid=(2, 7), pitch=(101.6, 38.1), corner=(4.65, 15.15)),
        Sheet("a4-99x68", "A4", size=(99.1, 67.7), grid=(2, 4), pitch=(101.6, 67.7), corner=(4.65, 13.1)),
        Sheet("a4-63x47", "A4", size=(63.5, 46.6), grid=(3, 6), pitch=(66.0, 46.6), corner=(7.25, 8.7)),
        Sheet("a4-63x72", "A4", size=(63.5, 72.0), grid=(3, 4), pitch=(66.0, 72.0), corner=(7.25, 4.5)),
        Sheet("a4-70x37", "A4", size=(70.0, 37.0), grid=(3, 8), pitch=(70.0, 37.0), corner=(0.0, 0.5)),
        Sheet("a4-46x21", "A4", size=(45.7, 21.2), grid=(4, 12), pitch=(48.2, 21.2), corner=(9.85, 21.3)),
        Sheet("a4-38x21", "A4", size=(38.1, 21.2), grid=(5, 13), pitch=(40.6, 21.2), corner=(4.75, 10.7)),
        Sheet(
            "a4-round-40", "A4", size=(40.0, 40.0), grid=(4, 6), pitch=(48.0, 44.0), corner=(13.0, 18.5), is_round=True
        ),
        Sheet(
            "a4-round-50", "A4", size=(50.0, 50.0), grid=(3, 5), pitch=(60.0, 55.0), corner=(20.0, 13.5), is_round=True
        ),
        Sheet(
            "a4-round-60", "A4", size=(60.0, 60.0), grid=(3, 4), pitch=(65.0, 68.0), corner=(10.0, 16.5), is_round=True
        ),
        Sheet("letter-67x25", "Letter", size=(66.675, 25.4), grid=(3, 10), pitch=(69.85, 25.4), corner=(4.763, 12.7)),
        Sheet("letter-102x51", "Letter", size=(101.6, 50.8), grid=(2, 5), pitch=(106.362, 50.8), corner=(3.969, 12.7)),
        Sheet(
            "letter-round-51",
            "Letter",
            size=(50.8, 50.8),
            grid=(3, 4),
            pitch=(66.675, 63.5),
            corner=(15.875, 19.05),
            is_round=True,
        ),
    )
}


def one_label(width: float, height: float) -> Sheet:
    """A label on paper of its own size, as a label printer takes them.

    Raises:
        QuantityError: a size that is no label.
    """
    if not 15 <= width <= 400 or not 10 <= height <= 280:
        raise QuantityError(f"A label of {width:g} × {height:g} mm cannot be set; 15 × 10 to 400 × 280 mm can.")
    return Sheet("single", "", size=(width, height), grid=(1, 1), pitch=(width, height), corner=(0.0, 0.0))


def letters_of_contents(millilitres: float, region: str, panel_mm2: float) -> float:
    """How high the letters of the contents must be at least [mm], as far as known; law decides.

    >>> letters_of_contents(100, "EU", 2400), round(letters_of_contents(100, "US", 2400), 1)
    (3.0, 1.6)
    """
    table, largest = (LETTERS_US, LARGEST_US) if region == "US" else (LETTERS_EU, LARGEST_EU)
    size = panel_mm2 if region == "US" else millilitres
    return next((letters for most, letters in table if size <= most), largest)


def in_fluid_ounces(millilitres: float) -> str:
    """A content in US fluid ounces, cut to two places and never rounded up.

    >>> [in_fluid_ounces(ml) for ml in (10, 15, 60, 100, 500)]
    ['0.33 fl oz', '0.5 fl oz', '2.02 fl oz', '3.38 fl oz', '16.9 fl oz']
    """
    return f"{floor(100 * millilitres / FL_OZ) / 100:g} fl oz"


def code_mm() -> float:
    """How wide a code of a batch number is, with what must stay clear around it [mm].

    >>> round(code_mm(), 1)
    11.6
    """
    return MODULE_MM * (MODULES + 2 * QUIET)
