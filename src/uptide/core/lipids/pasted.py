"""Read a laboratory's table as it was pasted: fatty acids, and the few figures that oils are bought by.

Every line is either understood, or handed back with the reason: nothing is dropped in silence.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date
from functools import lru_cache

from uptide.core.lipids.certificate_table import found_of_table
from uptide.core.lipids.fatty_acids import FattyAcid

# The isomer that a table means when it gives none.
USUAL_ISOMER = {
    "16:1": "16:1n7", "18:1": "18:1n9", "18:2": "18:2n6", "18:3": "18:3n3", "18:4": "18:4n3", "20:1": "20:1n9",
    "20:2": "20:2n6", "22:1": "22:1n9", "24:1": "24:1n9",
}  # fmt: skip
OTHER_NAMES = {
    "gla": "18:3n6", "ala": "18:3n3", "linolenic": "18:3n3", "sda": "18:4n3", "eicosenoic": "20:1n9",
    "gadoleic": "20:1n9", "eicosanoic": "20:0", "docosanoic": "22:0", "heptadecanoic": "17:0", "vaccenic": "18:1n7",
    "asclepic": "18:1n7", "eleostearic": "18:3-ELEO", "ricinoleic": "18:1-OH", "hydroxyoleic": "18:1-OH",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Figure:
    """A figure that a certificate may give: its words, its unit, and between what it can lie."""

    key: str
    title: str
    unit: str
    least: float
    most: float
    words: str  # a pattern that names it
    decimals: int = 1


FIGURES: Mapping[str, Figure] = {
    figure.key: figure
    for figure in (
        Figure(
            "peroxide_value",
            "Peroxide value",
            unit="meq/kg",
            least=0,
            most=250,
            words=r"peroxide(?:\s+(?:value|index|number))?|\bpov?\b|\bpv\b",
        ),
        Figure(
            "free_fatty_acids",
            "Free fatty acids, as oleic",
            unit="%",
            least=0,
            most=30,
            words=r"free\s+fatty\s+acids?|\bffa\b|free\s+acidity",
            decimals=2,
        ),
        Figure(
            "acid_value",
            "Acid value",
            unit="mg KOH/g",
            least=0,
            most=60,
            words=r"acid\s+(?:value|index|number)|\bav\b",
            decimals=2,
        ),
        Figure(
            "tocopherols",
            "Tocopherols",
            unit="mg/kg",
            least=0,
            most=20_000,
            words=r"(?:total\s+)?(?:mixed\s+)?tocopherols?|vitamin\s+e\b",
            decimals=0,
        ),
        Figure(
            "induction_time_110c",
            "Induction time at 110 °C",
            unit="h",
            least=0.1,
            most=500,
            words=r"induction(?:\s+(?:time|period))?|rancimat|\bosi\b|oxidative\s+stability",
        ),
        Figure(
            "iodine_value",
            "Iodine value",
            unit="g I₂/100 g",
            least=0,
            most=260,
            words=r"iodine(?:\s+(?:value|index|number))?|\biv\b",
        ),
        Figure(
            "saponification_value",
            "Saponification value",
            unit="mg KOH/g",
            least=0,
            most=400,
            words=r"saponification(?:\s+(?:value|index|number))?|\bsv\b|\bsap\b",
        ),
        Figure(
            "density",
            "Density at 20 °C",
            unit="g/mL",
            least=0.75,
            most=1.2,
            words=r"(?:relative\s+)?density|specific\s+gravity",
            decimals=3,
        ),
        Figure(
            "refractive_index",
            "Refractive index at 20 °C",
            unit="",
            least=1.4,
            most=1.6,
            words=r"refractive\s+index",
            decimals=4,
        ),
    )
}
ACID_VALUE_TO_OLEIC = 0.503  # % of free oleic acid in 1 mg KOH/g: 100 * 282.468 / 56105.6

_CODE = re.compile(
    r"\bc?\s?(\d{1,2})\s*:\s*(\d)\s*(?:[\s(,]*(?:n|ω|w|omega)\s*-?\s*(\d{1,2})\b\)?)?(-[a-z]+)?", re.IGNORECASE
)
_AT = re.compile(r"(?:\bat\s+|@\s*|\()?\b\d+(?:[.,]\d+)?\s*(?:°\s*c|deg(?:rees)?\s*c|℃|c\b)\)?", re.IGNORECASE)
_DATE = re.compile(r"\b(\d{4})-(\d{2})-(\d{2})\b|\b(\d{1,2})[./](\d{1,2})[./](\d{4})\b")
_NUMBER = re.compile(r"(<|≤|less than)?\s?(?<![\w.])(\d+(?:[.,]\d+)?)(?![\w.]*:)", re.IGNORECASE)
# What may be there at most or at least, beside what was found.
_ASKED = r"<|≤|>|≥|less than|more than|not (?:more|less) than|nmt|nlt|max(?:imum)?\.?|min(?:imum)?\.?"
_LIMIT = re.compile(
    rf"(?:{_ASKED})\s*:?\s*\d+(?:[.,]\d+)?|(?<![\w.])\d+(?:[.,]\d+)?\s*(?:max|min)(?:imum)?\b\.?", re.IGNORECASE
)
# A limit stands before what was found, or in brackets behind it; one that what follows does not meet may be either.
_BETWEEN = re.compile(
    r"(?<![\w.])(\d+(?:[.,]\d+)?)\s*(?:%\s*)?(max|min)(?:imum)?\b\.?\s*:?\s*(\d+(?:[.,]\d+)?)", re.IGNORECASE
)
# By which it was measured: the numbers of a standard say nothing of the oil.
_METHOD = re.compile(r"\b(?:iso|aocs|din|ce|cd|ja|en)\b[\s-]*\d[\w:-]*", re.IGNORECASE)
_NONE = re.compile(r"\b(?:n\.?\s?d\.?|not detected|traces?|tr\.?|absent|nil)(?:\s|$)", re.IGNORECASE)
_UNIT = re.compile(r"\bg\s*i2?₂?\s*/\s*100\s*g|meq\s*(?:o2?₂?)?\s*/\s*kg|mg\s*koh\s*/\s*g", re.IGNORECASE)
_DATED = re.compile(r"\bdate|dated|analysed|analyzed|issued", re.IGNORECASE)
_HEADING = re.compile(
    r"^(?:fatty acids?|acid|component|parameter|test|result|unit|method|value|composition|profile|specification|typical"
    r"|min|max|low|high|\W|\d|_)*$",
    re.IGNORECASE,
)


@dataclass(frozen=True, slots=True)
class AcidAmount:
    """A number as a table gives it; low and high are the same where it gives one."""

    low: float
    typical: float
    high: float


@dataclass(frozen=True, slots=True)
class PastedTable:
    """What was found: acids [% of fatty acids] by code, figures by key, other constituents [%] by their name.

    `not_read` holds each line that was not understood, with the reason.
    """

    acids: Mapping[str, AcidAmount] = field(default_factory=dict)
    figures: Mapping[str, float] = field(default_factory=dict)
    constituents: Mapping[str, float] = field(default_factory=dict)
    dated_on: date | None = None
    not_read: tuple[tuple[str, str], ...] = ()
    remarks: tuple[str, ...] = ()

    @property
    def total(self) -> float:
        """Sum of the acids [%]."""
        return sum(amount.typical for amount in self.acids.values())


def read_pasted(text: str, acids: Mapping[str, FattyAcid], constituents: Iterable[str] = ()) -> PastedTable:
    """Read a pasted table line by line; never raises.

    Args:
        text: one thing a line in any of the usual ways, as `C18:1 n-9  62,1`, `Oleic acid: 55 - 75`, `PV 1.2 meq/kg`.
        acids: the fatty acids that are known, by code.
        constituents: names of other things that may be given in percent, as bergapten of a citrus oil.
    """
    reader = _Reader(acids, sorted(constituents, key=len, reverse=True))
    for line in filter(None, (raw.strip() for raw in found_of_table(text.splitlines()))):
        why = reader.take(
            " ".join(line.split())
        )  # a run of spaces says nothing, and would be searched from each of them
        if why:
            reader.not_read.append((line, why))
    figures, remarks = reader.figures, []
    if "acid_value" in figures:
        value = figures.pop("acid_value")
        if "free_fatty_acids" not in figures:
            figures["free_fatty_acids"] = round(ACID_VALUE_TO_OLEIC * value, 4)
            remarks.append(f"An acid value of {value:g} is {ACID_VALUE_TO_OLEIC * value:.2f} % of free oleic acid.")
    return PastedTable(
        reader.found,
        figures,
        constituents=reader.others,
        dated_on=reader.dated,
        not_read=tuple(reader.not_read),
        remarks=tuple(remarks),
    )


_PER_MILLION = re.compile(r"\b(mg\s*/\s*kg|ppm)\b|µg\s*/\s*g", re.IGNORECASE)
_BERGAPTEN = re.compile(r"\b5[\s-]*(methoxypsoralen|mop)\b", re.IGNORECASE)  # the same by its other name


class _Reader:
    """What has been found so far; `take` returns why a line could not be taken, or nothing."""

    def __init__(self, acids: Mapping[str, FattyAcid], constituents: list[str]) -> None:
        self.acids, self.names = acids, _names(acids)
        self.spelled = {name.lower(): name for name in constituents}
        self.constituents = _any_of(tuple(constituents), r"\b", r"\b")
        self.acid_names = _any_of(tuple(self.names), r"(?<![a-z-])", r"(?:\s+acid)?(?![a-z])")
        self.found: dict[str, AcidAmount] = {}
        self.figures: dict[str, float] = {}
        self.others: dict[str, float] = {}
        self.dated: date | None = None
        self.not_read: list[tuple[str, str]] = []

    def take(self, line: str) -> str:
        day = _DATE.search(line)
        if day is not None and (_DATED.search(line) or not re.search(r"[a-z]", line, re.IGNORECASE)):
            self.dated = _day(day)
            return "" if self.dated else "there is no such day"
        line = _METHOD.sub(" ", line)
        if self.spelled:
            line = _BERGAPTEN.sub("bergapten", line)
        other = _longest(self.constituents, line)
        if other is not None:
            return self._percent(
                self.spelled[other.lower()], re.sub(rf"\b{re.escape(other)}\b", " ", line, flags=re.IGNORECASE)
            )
        figure = _figure_of(line)
        if figure is not None:
            return self._figure(figure, re.sub(figure.words, " ", line, flags=re.IGNORECASE))
        code, rest = self._acid_of(line)
        if code is not None:
            return self._acid(code, rest)
        if _HEADING.match(line):
            return ""
        return rest if rest != line else "it names no fatty acid or figure that is known"

    def _acid_of(self, line: str) -> tuple[str | None, str]:
        """The code of the acid that a line is about and the rest of the line; or no code, and why."""
        rest = line
        lowered = line.lower().replace("α", "alpha").replace("γ", "gamma")
        # The longest, so that `palmitoleic` is not read as `palmitic` or `oleic`.
        name = _longest(self.acid_names, re.sub(r"\b(alpha|gamma)[\s-]+", r"\1-", lowered))
        by_name = self.names[name] if name else None
        if name:
            word = re.escape(name.split("-")[-1])
            rest = re.sub(rf"(?:(?:alpha|gamma|α|γ)[\s-]*)?{word}(?:\s+acid)?", " ", line, flags=re.IGNORECASE)
        written = _CODE.search(rest)
        if written is None:
            return by_name, rest
        rest = rest[: written.start()] + " " + rest[written.end() :]
        if by_name is not None:
            return by_name, rest
        plain = f"{int(written[1])}:{written[2]}"
        code = f"{plain}n{written[3]}" if written[3] else f"{plain}{written[4].upper()}" if written[4] else ""
        if code and code in self.acids:
            return code, rest
        if code and code.split("n")[0] in self.acids:
            return code.split("n")[0], rest
        usual = USUAL_ISOMER.get(plain, plain)
        if not code and usual in self.acids:
            return usual, rest
        return None, f"there is no acid {code or plain} in the tables; it is left out"

    def _figure(self, figure: Figure, rest: str) -> str:
        amount, why = _amount(rest)
        if amount is None:
            return why
        value = amount.typical
        if not figure.least <= value <= figure.most:
            return f"{figure.title} of {value:g} {figure.unit} cannot be; {figure.least:g} to {figure.most:g} can"
        if figure.key in self.figures:
            return f"{figure.title} stands there twice; the first, {self.figures[figure.key]:g}, is kept"
        self.figures[figure.key] = value
        return ""

    def _percent(self, name: str, rest: str) -> str:
        amount, why = _amount(_PER_MILLION.sub(" ", rest))
        if amount is None:
            return why
        percent = amount.typical / 1e4 if _PER_MILLION.search(rest) else amount.typical
        if percent > 100:
            return f"{percent:g} % cannot be; 0 to 100 can"
        if name in self.others:
            return f"{name} stands there twice; the first, {self.others[name]:g} %, is kept"
        self.others[name] = percent
        return ""

    def _acid(self, code: str, rest: str) -> str:
        amount, why = _amount(rest)
        if amount is None:
            return why
        if amount.high > 100:
            return f"{amount.high:g} % of the fatty acids cannot be; 0 to 100 can"
        if code in self.found:
            return f"{code} stands there twice; the first, {self.found[code].typical:g} %, is kept"
        self.found[code] = amount
        return ""


def _any_of(names: tuple[str, ...], before: str, after: str) -> re.Pattern[str]:
    """One pattern for all of these names, so that a line is searched once; the longest of two is taken."""
    return _compiled("|".join(map(re.escape, sorted(names, key=len, reverse=True))) or "(?!)", before, after)


@lru_cache(maxsize=8)
def _compiled(names: str, before: str, after: str) -> re.Pattern[str]:
    return re.compile(f"{before}({names}){after}", re.IGNORECASE)


def _longest(pattern: re.Pattern[str], line: str) -> str | None:
    """The longest of the names that stand in a line, as it is written there."""
    return max((found[1] for found in pattern.finditer(line)), key=len, default=None)


_ANY_FIGURE = re.compile("|".join(figure.words for figure in FIGURES.values()), re.IGNORECASE)


def _figure_of(line: str) -> Figure | None:
    """The first of the figures that a line names."""
    if not _ANY_FIGURE.search(line):
        return None
    return next(figure for figure in FIGURES.values() if re.search(figure.words, line, re.IGNORECASE))


def _names(acids: Mapping[str, FattyAcid]) -> dict[str, str]:
    """Codes of the acids by every name of theirs, in lower case."""
    pairs = dict(OTHER_NAMES)
    for code, acid in acids.items():
        if not acid.is_alcohol:
            for name in re.split(r"[()]", acid.common_name):
                if name.strip():
                    pairs.setdefault(name.strip().lower(), code)
    return pairs


def _amount(text: str) -> tuple[AcidAmount | None, str]:
    """The number, range, or range with a result in what is left of a line."""
    plain = _AT.sub(" ", text)
    plain = re.sub(r"(?<=\d)\s*(?:–|—|-|to|\.\.)\s*(?=\d)", " ", plain)
    plain = _UNIT.sub(" ", plain)
    limited = _BETWEEN.search(plain)
    if limited is not None and not _is_met(*limited.groups()):
        return None, "one number is a limit, and nobody can tell which; write what was found alone"
    found = _LIMIT.sub(" ", plain)
    if _NUMBER.search(found):  # else the limit is all that is known
        plain = found
    numbers = [(bool(less), float(value.replace(",", "."))) for less, value in _NUMBER.findall(plain)]
    if not numbers:
        return (AcidAmount(0, 0, 0), "") if _NONE.search(plain) else (None, "it gives no number")
    if len(numbers) == 1:
        less, value = numbers[0]
        return (AcidAmount(0, value / 2, value), "") if less else (AcidAmount(value, value, value), "")
    values = [value for _, value in numbers]
    if len(values) == 2:
        low, high = sorted(values)
        return AcidAmount(low, (low + high) / 2, high), ""
    if len(values) == 3:
        low, typical, high = sorted(values)
        return AcidAmount(low, typical, high), ""
    return None, f"it gives {len(values)} numbers; one, a range, or a range and a result can be read"


def _is_met(limit: str, kind: str, found: str) -> bool:
    bound, value = (float(number.replace(",", ".")) for number in (limit, found))
    return value <= bound if kind.lower() == "max" else value >= bound


def _day(match: re.Match[str]) -> date | None:
    year, month, day, day_first, month_second, year_last = match.groups()
    try:
        if year:
            return date(int(year), int(month), int(day))
        return date(int(year_last), int(month_second), int(day_first))
    except ValueError:
        return None
