"""From what was typed or pasted to rows, and from a row to its amount and its name."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from functools import lru_cache

from uptide.core.errors import NotAnAmountError, QuantityError
from uptide.core.measures.grammar import Quantity, QuantityKind, longest_start, read_quantity, tokens

BULLET = re.compile(r"^\s*(?:[-*•‣–]\s+|\d{1,2}[.)]\s+(?=\S))")
# Only from the first of a run of spaces, so that the time grows as the text does.
JOINERS = re.compile(r"(?<!\s)\s+(?:and|plus|\+|&)\s+", re.IGNORECASE)
LEADING = re.compile(r"^(?:\s|of\b|with\b|from\b|worth of\b|[,:–-])+", re.IGNORECASE)
TRAILING = " \t\r\n\f\v\u00a0,:;–(-"
MOST_TOKENS = 12  # of an amount: no more are tried from the end of a row
LONGEST = 300  # characters in one row; a longer one is kept and shown, not read


@dataclass(frozen=True, slots=True)
class Line:
    """One row as read: what was typed, the amount in it, the words that name the thing.

    `problem` says why the amount cannot be meant; `restated` is an amount given a second time in brackets, as in
    `1 oz (30 mL)`; a comment is a heading or a remark that stands among the rows and is not counted.
    """

    typed: str
    quantity: Quantity | None = None
    name: str = ""
    problem: str = ""
    restated: Quantity | None = None
    is_comment: bool = False

    @property
    def is_complete(self) -> bool:
        """It says how much and of what."""
        return self.quantity is not None and bool(self.name)


@lru_cache(maxsize=4096)
def parse_line(typed: str) -> Line:
    """Find the amount and the name in one row; never raises, never drops a word.

    >>> line = parse_line("2 tbsp grapeseed")
    >>> line.quantity.terms[0].unit, line.name
    ('tbsp', 'grapeseed')
    """
    text = BULLET.sub("", typed).strip()
    if not text or text.startswith("#"):
        return Line(typed, is_comment=True)
    if len(text) > LONGEST:
        return Line(
            typed, problem=f"This row has {len(text)} characters; up to {LONGEST} are read. Split it into rows."
        )
    try:
        line = _from_the_front(typed, text) or _from_the_back(typed, text) or _in_brackets(typed, text)
    except NotAnAmountError:  # pragma: no cover - the three readers handle it themselves
        line = None
    except QuantityError as error:
        return Line(typed, name=_clean(text), problem=str(error))
    if line is not None:
        return line
    if text.endswith(":"):
        return Line(typed, name=text, is_comment=True)
    return Line(typed, name=_clean(text))


def _clean(name: str) -> str:
    return LEADING.sub("", name).rstrip(TRAILING).strip()


def _from_the_front(typed: str, text: str) -> Line | None:
    stream = tokens(text)
    if len(stream) > 1 and stream[0].type == "UNIT" and stream[1].type == "OF":  # “blob of benzoin” is one
        one = read_quantity(f"a {stream[0]}")
        return Line(typed, replace(one, words=str(stream[0])), _clean(text[stream[0].end_pos or 0 :]))
    first_word = next((i for i, token in enumerate(stream) if token.type in ("WORD", "MARK")), len(stream))
    for count in range(min(first_word, longest_start(stream)), 0, -1):
        end = stream[count - 1].end_pos or 0
        try:
            quantity = read_quantity(text[:end])
        except NotAnAmountError:
            continue
        if quantity.kind is QuantityKind.BARE and stream[0].type == "ARTICLE":
            continue  # “the olive oil” has no amount
        rest, restated = _take_restated(text[end:])
        if rest[:1] in ("-", "'", "’", "/") and rest[1:2].strip():
            continue  # the amount would end inside a word
        return Line(typed, quantity, _clean(rest), restated=restated)
    return None


def _take_restated(rest: str) -> tuple[str, Quantity | None]:
    found = re.match(r"^\s*[(\[]([^)\]]+)[)\]]\s*", rest)
    if found:
        try:
            quantity = read_quantity(found[1])
        except QuantityError:
            return rest, None
        if quantity.kind is QuantityKind.MEASURE:
            return rest[found.end() :], quantity
    return rest, None


def _from_the_back(typed: str, text: str) -> Line | None:
    stream = tokens(text)
    last_word = max((i for i, token in enumerate(stream) if token.type in ("WORD", "MARK")), default=-1)
    for start in range(max(last_word + 1, len(stream) - MOST_TOKENS), len(stream)):
        begin = stream[start].start_pos or 0
        try:
            quantity = read_quantity(text[begin:])
        except NotAnAmountError:
            continue
        if quantity.kind is QuantityKind.BARE:
            continue  # polysorbate 80 is a name
        return Line(typed, quantity, _clean(text[:begin]))
    return None


def _in_brackets(typed: str, text: str) -> Line | None:
    found = re.search(r"[(\[]([^()\[\]]+)[)\]]\s*$", text)
    if found is None:
        return None
    try:
        quantity = read_quantity(found[1])
    except NotAnAmountError:
        return None
    if quantity.kind is QuantityKind.BARE:
        return None
    return Line(typed, quantity, _clean(text[: found.start()]))


def split_recipe(text: str) -> tuple[str, ...]:
    """Split what was typed or pasted into rows, one thing to a row; empty lines go, nothing else does.

    >>> split_recipe("2 tbsp grapeseed, 1 tbsp jojoba and 12 drops lavender")
    ('2 tbsp grapeseed', '1 tbsp jojoba', '12 drops lavender')
    """
    rows: list[str] = []
    for line in text.splitlines():
        if line.strip():
            rows.extend(_split_line(line.strip()))
    return tuple(rows)


def _split_line(line: str) -> list[str]:
    if parse_line(line).is_comment:
        return [line]
    if ";" in line:
        return [row for part in line.split(";") if part.strip() for row in _split_line(part.strip())]
    pieces = [piece.strip() for piece in _at_commas(line) if piece.strip()]
    shared = _shared_amount(pieces)
    if shared is not None:
        return shared
    rows: list[str] = []
    for place, piece in enumerate(pieces):
        following = parse_line(pieces[place + 1]) if place + 1 < len(pieces) else None
        if rows and _belongs_to(parse_line(rows[-1]), parse_line(piece), following):
            rows[-1] = f"{rows[-1]}, {piece}"
        else:
            rows.append(piece)
    return [part for row in rows for part in _split_joined(row)] or [line]


def _at_commas(line: str) -> list[str]:
    """Split at commas, but for a decimal comma between digits and for those in brackets that are closed."""
    closes = line.rfind(")")
    pieces, start, depth = [], 0, 0
    for place, letter in enumerate(line):
        if letter == "(" and place < closes:
            depth += 1
        elif letter == ")":
            depth = max(0, depth - 1)
        elif (
            letter == ","
            and not depth
            and not (line[place - 1 : place].isdigit() and line[place + 1 : place + 2].isdigit())
        ):
            pieces.append(line[start:place])
            start = place + 1
    return [*pieces, line[start:]]


def _belongs_to(before: Line, piece: Line, following: Line | None) -> bool:
    """Whether a piece after a comma goes on with the row before it."""
    if piece.quantity is not None:
        return before.quantity is None and not piece.name  # “jojoba, 2 tbsp”
    if not before.name:
        return True  # “2 tbsp, jojoba”
    starts_its_own = following is not None and following.quantity is not None and not following.name
    return before.is_complete and not starts_its_own  # “2 tbsp sunflower, high oleic”


def _split_joined(row: str) -> list[str]:
    for joiner in JOINERS.finditer(row):
        left, right = row[: joiner.start()], row[joiner.end() :]
        if parse_line(left).is_complete and parse_line(right).is_complete:
            return [left.strip(), *_split_joined(right.strip())]
    return [row]


def _shared_amount(pieces: list[str]) -> list[str] | None:
    """Give each name its own row, as in “equal parts almond and jojoba” and “lavender and neroli, 6 drops each”."""
    read = [parse_line(piece) for piece in pieces]
    with_amount = [line for line in read if line.quantity is not None]
    if len(with_amount) != 1 or with_amount[0].quantity is None or not with_amount[0].quantity.each:
        return None
    names = [name.strip() for line in read if line.name for name in JOINERS.split(line.name)]
    if any(not name for name in names) or len(names) < 2:
        return None
    return [f"{with_amount[0].quantity.words} {name}" for name in names]
