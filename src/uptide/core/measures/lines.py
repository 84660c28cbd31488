"""From what was typed or pasted to rows, and from a row to its amount and its name."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import pairwise

from lark import Token

from uptide.core.errors import NotAnAmountError, QuantityError
from uptide.core.measures.grammar import Quantity, QuantityKind, longest_start, read_quantity, tokens, unit_key
from uptide.core.measures.tables import rows_of_table

BULLET = re.compile(r"^\s*(?:[-*•‣–]\s+|\d{1,2}[.)]\s+(?=\S))")
# Only from the first of a run of spaces, so that the time grows as the text does.
JOINERS = re.compile(r"(?<!\s)\s+(?:and|plus|\+|&|to|in|into|with)\s+", re.IGNORECASE)
BETWEEN_NAMES = re.compile(r"(?<!\s)\s+(?:and|plus|\+|&)\s+", re.IGNORECASE)
# Words before an amount that say what to do and not how much.
LEAD = re.compile(
    r"^(?:(?:then|next|now|and|plus|with|add|adding|melt|mix(?:\s+in)?|stir(?:\s+in)?|drip(?:\s+in)?|pour(?:\s+in)?|use|"
    r"take|combine|blend(?:\s+in)?|finally|the\s+contents?\s+of|contents?\s+of|enough)\b[\s,]*)+",
    re.IGNORECASE,
)
LABEL = re.compile(r"^(?P<label>[^\d:]{2,40}):\s+(?=\S)")
ASIDE = re.compile(
    r"(?<!\s)\s*\((?P<words>optional|if\s+(?:you\s+)?(?:like|wish|want(?:ed)?)|to\s+finish)\)", re.IGNORECASE
)
RATIO = re.compile(r"^\s*(?P<parts>\d+(?:[.,]\d+)?(?:\s*[:/]\s*\d+(?:[.,]\d+)?)+)\s+(?:of\s+)?(?P<names>\D.*)$")
# The same behind the names or between two: “jojoba and argan 2:1”, “jojoba 2:1 argan”; “1:5 in olive” is of a jar.
RATIO_BEHIND = re.compile(
    r"^\s*(?P<names>[^\W\d][^\d]*[^\d\s:,])[\s:,]+(?P<parts>\d+(?:[.,]\d+)?(?:\s*[:/]\s*\d+(?:[.,]\d+)?)+)$"
)
RATIO_BETWEEN = re.compile(
    r"^\s*(?P<one>[^\W\d][^\d]*?)(?<!\s)\s+(?P<parts>\d+:\d+)\s+(?!(?:in|into|of|with|as)\b)(?P<other>[^\W\d][^\d]*)$",
    re.I,
)
RATIO_NAMES = re.compile(r"(?<!\s)\s*,\s*(?:and\s+)?|(?<!\s)\s+(?:and|to|&|\+|with)\s+", re.IGNORECASE)
CELLS = re.compile(
    r"^(?P<name>[^,;\t\d][^,;\t]*)[,;\t]\s*(?P<amount>\d+(?:\.\d+)?)\s*[,;\t]\s*(?P<unit>[a-z%]+)\s*$", re.IGNORECASE
)
# Rows that stand in a recipe and are nothing of it: headings, yields, and what to do.
HEADING = re.compile(
    r"^(?:(?:phase|part|step)\s+(?:[a-z]|\d{1,2}|one|two|three)\b.{0,40}|ingredients?|directions?|methods?|instructions?|"
    r"equipment|notes?|procedure|you\s+will\s+need|what\s+you\s+need|how\s+to\s+(?:make|use).*|(?:makes|yields?)\b.*|"
    r"total\b.*)\s*[:.]?$",
    re.IGNORECASE,
)
YIELD = re.compile(r"\((?:makes|yields|fills|enough\s+for|serves)\b[^)]*\)\s*$", re.IGNORECASE)
TOTAL = re.compile(r"^total\b\s*[:=]?\s*(?P<amount>.+)$", re.IGNORECASE)
TO_DO = re.compile(
    r"^(?:shake|store|keep|apply|use|massage|rub|let|leave|wait|label|cap|bottle|rinse|wash|warm|heat|cool|chill|whip|"
    r"strain|stir|mix|pour|blend|combine|melt|place|put|transfer|patch|do\s+not|don[’']t|avoid|enjoy|repeat|add)\b",
    re.IGNORECASE,
)
LEAST_TO_DO = 3  # words of an instruction
# “Stir in the rest and pour into a jar” is an instruction as well, from so many words on.
SAID_IN_PASSING, LONG_TO_DO = (QuantityKind.FILL, QuantityKind.VAGUE), 6
# Where one thing follows another with nothing between: with what an amount begins, and with what it ends.
AMOUNTS_BEGIN = frozenset(
    {"APPROX", "ARTICLE", "DECIMAL", "DOZEN", "FRACTION", "GRADE", "VULGAR", "WORD_FRACTION", "WORD_NUMBER"}
)
AMOUNTS_END = frozenset({"PARTS", "PERCENT", "UNIT"})
CLOSED = frozenset(")]")
# “12 drops lavender per 30 ml”, “vitamin E 1000 IU oil 5 ml”: what stands behind such a word is no other thing.
GOES_ON = frozenset(
    {"as", "at", "by", "every", "for", "from", "in", "into", "iu", "on", "per", "than", "under", "over", "with"}
)
THEN = re.compile(r"(?<!\s)\s+(?:(?:then|next|now|finally|add|adding)\s*)+$", re.IGNORECASE)
PLURALS_OF_ONE = frozenset({"tbs", "gtts", "drps"})
CAPSULES = re.compile(
    r"^(?P<name>.+?)\s+(?P<unit>(?:gel[\s-]?)?caps(?:ules?)?|perles?)(?:\s*\((?P<aside>[^()]*)\))?$", re.IGNORECASE
)
# Counts as they are scribbled, and what they are short for: “5d lavender”, “6x lavender”, “lavender x 6”.
SCRIBBLED = (
    (re.compile(r"^(\d+)\s?d(?=\s+[^\W\d])"), r"\1 drops"),
    (re.compile(r"^(\d+)\s?[x×](?=\s+[^\W\d])", re.IGNORECASE), r"\1"),
    (re.compile(r"^([^\W\d].*?\S)\s+[x×]\s?(\d+)$", re.IGNORECASE), r"\2 \1"),
)
BETWEEN_PARTS = re.compile(r"(\bparts?\b[^:;,]*[^:;,\s])\s*:\s*(?=\d+(?:[.,]\d+)?\s*parts?\b)", re.IGNORECASE)
AT_THE_END = re.compile(r"[(\[]([^()\[\]]+)[)\]]\s*$")
BY_SLASH = re.compile(r"^\s*/\s*(?P<again>[\d.,½⅓⅔¼¾⅛/]+\s*[a-z.]+(?:\s+(?:oz|ounces?)\.?)?)(?=\s)", re.IGNORECASE)
LEADING = re.compile(r"^(?:\s|of\b|with\b|from\b|worth of\b|enough\b|[,:–-])+", re.IGNORECASE)
TRAILING = " \t\r\n\f\v\u00a0,:;–(-"
WHOLE_OF_RATIO = 100.0  # what the parts of “60/40” make
MOST_TOKENS = 12  # of an amount: no more are tried from the end of a row
LONGEST = 300  # characters in one row; a longer one is kept and shown, not read


@dataclass(frozen=True, slots=True)
class Line:
    """One row as read: what was typed, the amount in it, the words that name the thing.

    `problem` says why the amount cannot be meant; `restated` is an amount given a second time in brackets, as in
    `1 oz (30 mL)`; `aside` is what the row says beside amount and name, as in `(optional)`. A comment is a heading or a
    remark that stands among the rows and is not counted; `total` is the sum that it states, as in `Total 50 mL`.
    """

    typed: str
    quantity: Quantity | None = None
    name: str = ""
    problem: str = ""
    restated: Quantity | None = None
    is_comment: bool = False
    aside: str = ""
    label: str = ""  # the part of the aside that stands in front with a colon, as in “Base: …”
    total: Quantity | None = None

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
    if HEADING.match(text) or YIELD.search(text):
        return Line(typed, name=text, is_comment=True, total=_total(text))
    try:
        line = _amount_and_name(typed, text)
    except QuantityError as error:
        return Line(typed, name=_clean(text), problem=str(error))
    is_said = text.endswith(":") or (TO_DO.match(text) is not None and len(text.split()) >= LEAST_TO_DO)
    if line is not None and line.quantity is not None and line.quantity.kind in SAID_IN_PASSING:
        line = None if TO_DO.match(text) and len(text.split()) >= LONG_TO_DO else line
    return line or Line(typed, name=text if is_said else _clean(text), is_comment=is_said)


def _amount_and_name(typed: str, text: str) -> Line | None:
    """An amount with the name of what it is of; words around them are kept as an aside, and none is dropped."""
    aside = [found["words"] for found in ASIDE.finditer(text)]
    plain = ASIDE.sub("", text)
    for short, words in SCRIBBLED:
        plain = short.sub(words, plain)
    found = _read(typed, plain)
    headed, label = LABEL.match(plain), ""
    if (found is None or not found.is_complete) and headed is not None:
        within = _read(typed, plain[headed.end() :])
        if within is not None and within.is_complete:
            found, label = within, headed["label"].strip()
            aside = [label, *aside]
    if found is None or not found.is_complete:
        led = LEAD.sub("", plain, count=1)
        within = _read(typed, led) if led != plain else None
        if within is not None and within.is_complete:
            found = within
    return replace(found, aside="; ".join(aside), label=label) if found is not None and aside else found


def _read(typed: str, text: str) -> Line | None:
    ways = (_from_the_front, _before_brackets, _from_the_back, _in_brackets)
    return next((line for way in ways if (line := way(typed, text)) is not None), None)


def _total(text: str) -> Quantity | None:
    """The sum that a heading states; None where it states none."""
    found = TOTAL.match(text)
    try:
        read = read_quantity(found["amount"].rstrip(" .:")) if found else None
    except QuantityError:
        return None
    return read if read is not None and read.kind is QuantityKind.MEASURE else None


def _clean(name: str) -> str:
    return LEADING.sub("", name).rstrip(TRAILING).strip()


def _from_the_front(typed: str, text: str) -> Line | None:
    stream = tokens(text)
    if len(stream) > 1 and stream[0].type == "UNIT" and stream[1].type == "OF":  # “blob of benzoin” is one
        name, word = _clean(text[stream[0].end_pos or 0 :]), str(stream[0])
        if word.lower().endswith("s") and word.lower() not in PLURALS_OF_ONE:  # “drops of lavender” are any number
            return Line(typed, Quantity(QuantityKind.VAGUE, words=word, unit=unit_key(stream[0])), name)
        return Line(typed, replace(read_quantity(f"a {word}"), words=word), name)
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
        capsules = CAPSULES.match(_clean(rest)) if quantity.kind is QuantityKind.BARE else None
        if capsules is not None:  # “2 vitamin E capsules”
            counted = read_quantity(f"{quantity.words} {capsules['unit']}")
            return Line(typed, replace(counted, words=quantity.words), capsules["name"], aside=capsules["aside"] or "")
        if rest[:1] in ("-", "'", "’", "/") and rest[1:2].strip():
            continue  # the amount would end inside a word
        return Line(typed, quantity, _clean(rest), restated=restated)
    return None


def _take_restated(rest: str) -> tuple[str, Quantity | None]:
    found = re.match(r"^\s*[(\[]([^)\]]+)[)\]]\s*", rest) or BY_SLASH.match(rest)
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
        name = _clean(text[:begin])
        return Line(typed, quantity, "" if LEAD.fullmatch(f"{name} ") else name)  # “then add” is no name
    return None


def _before_brackets(typed: str, text: str) -> Line | None:
    """“jojoba 30 g (1 oz)”, the same amount once more, and “argan 10 g (organic)”, a word that belongs to the name."""
    found = AT_THE_END.search(text)
    line = _from_the_back(typed, text[: found.start()].rstrip()) if found is not None else None
    if line is None or found is None:
        return None
    try:
        again = read_quantity(found[1])
    except NotAnAmountError:
        return replace(line, name=f"{line.name} {found[0].strip()}")
    return replace(line, restated=again) if again.kind is QuantityKind.MEASURE else None


def _in_brackets(typed: str, text: str) -> Line | None:
    found = AT_THE_END.search(text)
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

    A table with a header, as it is pasted from a spreadsheet, is read by its columns.

    >>> split_recipe("2 tbsp grapeseed, 1 tbsp jojoba and 12 drops lavender")
    ('2 tbsp grapeseed', '1 tbsp jojoba', '12 drops lavender')
    """
    lines = [line.strip("\r\n ") for line in text.splitlines() if line.strip()]
    in_cells = rows_of_table(lines)
    if in_cells is not None:
        return in_cells
    rows: list[str] = []
    for line in lines:
        rows.extend(_split_line(line.strip()))
    return tuple(rows)


def _split_line(line: str) -> list[str]:
    if parse_line(line).is_comment:
        return [line]
    cells = CELLS.match(line)
    if cells is not None:
        return [f"{cells['amount']} {cells['unit']} {cells['name'].strip()}"]
    in_parts = _by_ratio(line)
    if in_parts is not None:
        return in_parts
    line = BETWEEN_PARTS.sub(r"\1; ", line)
    if ";" in line:
        return [row for part in line.split(";") if part.strip() for row in _split_line(part.strip())]
    pieces = [piece.strip() for piece in _at_commas(line) if piece.strip()]
    while len(pieces) > 1 and LEAD.fullmatch(f"{pieces[0]} "):  # “Then, add 2 tbsp jojoba”
        pieces[:2] = [f"{pieces[0]}, {pieces[1]}"]
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
    return [part for row in rows for part in _by_ratio(row) or _split_joined(row)] or [line]


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
            return [*_split_at_amounts(left.strip()), *_split_joined(right.strip())]
    return _split_at_amounts(row)


def _split_at_amounts(row: str) -> list[str]:
    """Split where one thing follows the other with nothing between, as in “2 tbsp almond 3 drops rose”.

    All amounts stand before their names or all behind them, and are of one kind; what is anything else stays one row.
    """
    stream = tokens(row)
    behind = bool(stream) and stream[0].type == "WORD"
    places = [0]
    for before, now in pairwise(stream):
        turns = before.type in AMOUNTS_END and now.type == "WORD" if behind else _begins(before, now)
        if turns and not {before.lower(), now.lower()} & GOES_ON:
            lead = THEN.search(row[: now.start_pos], places[-1])
            places.append(lead.start() if lead else now.start_pos or 0)
    rows: list[str] = []
    for start, end in zip(places, [*places[1:], len(row)], strict=True):
        piece = row[start:end].strip()
        if rows and not (_is_counted(piece) and _is_counted(rows[-1])):
            rows[-1] = f"{rows[-1]} {piece}"
        else:
            rows.append(piece)
    kinds = {found.kind for each in rows if (found := parse_line(each).quantity) is not None}
    return rows if len(kinds) == 1 and all(_is_counted(each) for each in rows) else [row]


def _begins(before: Token, now: Token) -> bool:
    """Whether an amount begins here, behind the name of another thing."""
    return (before.type == "WORD" or before in CLOSED) and now.type in AMOUNTS_BEGIN


def _is_counted(text: str) -> bool:
    """Whether a row says how much of what, and of one thing."""
    line = parse_line(text)
    return line.is_complete and line.quantity is not None and not line.quantity.each


def _by_ratio(line: str) -> list[str] | None:
    """A row of parts for each name, as in “2:1 grapeseed to jojoba”, “50/50 jojoba and argan”, “jojoba 2:1 argan”."""
    between = RATIO_BETWEEN.match(line)
    line = f"{between['parts']} {between['one']} and {between['other']}" if between else line
    behind = RATIO_BEHIND.match(line)
    found = behind or RATIO.match(line)
    if found is None:
        return None
    counts = re.split(r"\s*[:/]\s*", found["parts"])
    names = [
        name.strip()
        for name in RATIO_NAMES.split(found["names"].replace(":", ",") if behind else found["names"])
        if name.strip()
    ]
    if len(names) == 1:  # “50:50 jojoba argan”
        names = names[0].split()
    whole = sum(float(count.replace(",", ".")) for count in counts)
    if len(names) != len(counts) or ("/" in found["parts"] and whole != WHOLE_OF_RATIO):
        return None  # 1/3 is a fraction, and 60/40 a ratio
    return [f"{count} {'part' if count == '1' else 'parts'} {name}" for count, name in zip(counts, names, strict=True)]


def _names_in(line: Line) -> list[str]:
    """The names in a row of which each gets the same amount, every one with what the row says beside them."""
    beside = "".join(f" ({words})" for words in filter(None, line.aside.removeprefix(line.label).split("; ")))
    said = LABEL.sub("", line.name)
    return [f"{name.strip()}{beside}" for name in BETWEEN_NAMES.split(said)] if said else []


def _heading_of(line: Line) -> str:
    """What stands over the names of a row, as in “Scent: lavender and neroli”; nothing where nothing does."""
    within = LABEL.match(line.name)
    return within["label"].strip() if within is not None else line.label


def _shared_amount(pieces: list[str]) -> list[str] | None:
    """Give each name its own row, as in “equal parts almond and jojoba” and “lavender and neroli, 6 drops each”.

    An amount that holds for each reaches over the names behind it, up to the next amount; or, at the end, over all
    names before it.
    """
    read = [parse_line(piece) for piece in pieces]
    shared = next((i for i, line in enumerate(read) if line.quantity is not None and line.quantity.each), None)
    if shared is None:
        return None
    amount, stop = read[shared].quantity, shared + 1
    while stop < len(read) and read[stop].quantity is None:
        stop += 1
    start = shared if read[shared].name else 0
    names = [name for line in read[start:stop] for name in _names_in(line)]
    alone = sum(line.quantity is not None for line in read[start:stop]) == 1
    if amount is None or not alone or any(not name for name in names) or len(names) < 2:
        return None
    headings = [f"{heading}:" for heading in map(_heading_of, read[start:stop]) if heading]
    rows = [*headings, *(f"{amount.words} {name}" for name in names)]
    before = _split_line(", ".join(pieces[:start])) if start else []
    return [*before, *rows, *(_split_line(", ".join(pieces[stop:])) if stop < len(pieces) else [])]
