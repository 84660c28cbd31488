"""Everything that is kept, as plain records: out of a database, and into an empty or a filled one.

A record that comes in is the same as one that is there when what tells it apart is the same (a lot's code, the moment
a blend was made). It is then left alone, or changed where that may be; what is new keeps its number if that is free.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import Column, Table, insert, select, update
from sqlalchemy.orm import Session

from uptide.store import models
from uptide.store.database import number_on
from uptide.store.preferences import LEARNT, NOBODY_ELSES
from uptide.store.shelf import REVISION, shelf_changed

Record = dict[str, Any]
Translate = Callable[[str, Any], Any]  # kind and number in the file → number here
SOMEBODY = "somebody"  # in the place of a name that is not given out


def _jar_of(infusion: Any, translate: Translate) -> Any:
    if not isinstance(infusion, dict) or not infusion.get("jar"):
        return infusion
    return infusion | {"jar": translate("jars", infusion["jar"])}


def _bottles_that_taught(value: Any, translate: Translate) -> Any:
    if not isinstance(value, dict) or not all(str(key).isdecimal() for key in value):
        return value
    return {str(translate("bottles", int(key))): shift for key, shift in value.items()}


@dataclass(frozen=True, eq=False)
class Kind:
    """A kind of record, and how it stands in an export.

    Args:
        name: as it is called there.
        row: its table.
        known_by: the columns that tell one from another.
        parent: of what stands within another record, the column that points at it.
        within: what stands within it.
        refers: columns that point at other kinds, by their names.
        inner: how numbers within a column of JSON are translated.
        left_out: columns that do not go out.
        worked_out: columns that follow from others, so that what differs in them is no difference.
        is_settled: written once, and changed by nothing that comes in.
        is_flat: a table of plain values, which goes into a CSV.
        is_person: given out only where people are asked for.
        but: which rows are nobody else's, by the first column that they are known by.
    """

    name: str
    row: type[models.Base]
    known_by: tuple[str, ...]
    parent: str = ""
    within: tuple[Kind, ...] = ()
    refers: Mapping[str, str] = field(default_factory=dict)
    inner: Mapping[str, Callable[[Any, Translate], Any]] = field(default_factory=dict)
    left_out: frozenset[str] = frozenset()
    worked_out: frozenset[str] = frozenset()
    is_settled: bool = False
    is_flat: bool = False
    is_person: bool = False
    but: frozenset[str] = frozenset()

    @property
    def table(self) -> Table:
        """Its table."""
        found = self.row.__table__
        assert isinstance(found, Table)  # noqa: S101 - no row of ours is mapped to anything else
        return found

    @property
    def words(self) -> str:
        """What one of them is called.

        >>> [kind.words for kind in KINDS[:2]]
        ['wearer', 'blend']
        """
        return self.table.name.replace("_", " ")

    @property
    def columns(self) -> tuple[Column[Any], ...]:
        """The columns that go out, in the order of the table."""
        return tuple(each for each in self.table.columns if each.key not in self.left_out and each.key != self.parent)

    @property
    def has_number(self) -> bool:
        """Whether its records are numbered."""
        return "id" in self.table.columns


# Follows from a bottle's notes, and is worked out afresh where it is shown.
WORKED_OUT = frozenset(
    {"place", "opened_on", "holder_id", "holder", "state", "made_on", "ends_on", "turns_on", "limited_by", "look_on"}
    | {"look", "ended_on", "worked_by"}
)
# In the order in which they come in: what is pointed at stands before what points at it.
KINDS: tuple[Kind, ...] = (
    Kind(
        "people",
        models.WearerRow,
        ("created_at",),
        within=(Kind("cards", models.WearerCardRow, ("wearer_id", "entered_at"), "wearer_id", is_settled=True),),
        is_person=True,
    ),
    Kind(
        "blends",
        models.BlendRow,
        ("created_at",),
        within=(
            Kind(
                "versions",
                models.VersionRow,
                ("blend_id", "number"),
                "blend_id",
                within=(Kind("rows", models.EntryRow, ("version_id", "position"), "version_id", is_settled=True),),
                refers={"wearer_id": "people"},
                is_settled=True,
            ),
        ),
        refers={"copied_from": "blends"},
    ),
    Kind(
        "patch-tests",
        models.PatchTestRow,
        ("wearer_id", "blend_id", "blend_version", "begun_at", "site"),
        within=(Kind("looks", models.PatchLookRow, ("test_id", "entered_at", "step"), "test_id", is_settled=True),),
        refers={"wearer_id": "people", "blend_id": "blends"},
        is_person=True,
    ),
    Kind("own-oils", models.OwnOilRow, ("key", "entered_at"), is_settled=True),
    Kind("own-plants", models.OwnPlantRow, ("key", "entered_at"), is_settled=True),
    Kind(
        "jars",
        models.JarRow,
        ("name", "begun_on"),
        within=(Kind("notes", models.JarNoteRow, ("jar_id", "happened_on", "kind", "grams", "words"), "jar_id"),),
    ),
    Kind("readings", models.JarReadingRow, ("jar_id", "read_at"), refers={"jar_id": "jars"}, is_flat=True),
    Kind("photos", models.JarPhotoRow, ("jar_id", "taken_on", "words", "content"), refers={"jar_id": "jars"}),
    Kind(
        "lots",
        models.LotRow,
        ("code",),
        refers={"blend_id": "blends"},
        inner={"infusion": _jar_of},
        left_out=frozenset({"left_g"}),
        is_flat=True,
    ),
    Kind("certificates", models.CertificateRow, ("lot_id", "entered_at"), refers={"lot_id": "lots"}),
    Kind(
        "movements",
        models.MovementRow,
        ("token",),
        refers={"lot_id": "lots", "reverses": "movements"},
        is_settled=True,
        is_flat=True,
    ),
    Kind(
        "batches",
        models.BatchRow,
        ("number",),
        within=(
            Kind("entries", models.BatchEntryRow, ("token",), "batch_id", refers={"lot_id": "lots"}, is_settled=True),
        ),
        refers={"blend_id": "blends"},
        left_out=frozenset({"holder", "held_at"}),
    ),
    Kind(
        "bottles",
        models.BottleRow,
        ("number",),
        within=(
            Kind(
                "notes",
                models.BottleNoteRow,
                ("bottle_id", "entered_at", "kind"),
                "bottle_id",
                refers={"wearer_id": "people"},
            ),
        ),
        refers={"batch_id": "batches", "blend_id": "blends", "holder_id": "people"},
        worked_out=WORKED_OUT,
    ),
    Kind("wishes", models.WishRow, ("kept_at",), left_out=frozenset({"shelf"}), is_flat=True),
    Kind(
        "preferences",
        models.PreferenceRow,
        ("key",),
        inner={"value": _bottles_that_taught},
        but=NOBODY_ELSES | {REVISION},
    ),
)
NOT_KEPT = frozenset({"used_form"})  # tables of which nothing goes out: forms that were acted on
# What a new row has in a column that does not go out and has no value of its own.
FIRST: Mapping[str, Record] = {"wishes": {"shelf": 0}}


def records(store: Session, kind: Kind, *, people: bool) -> Iterator[Record]:
    """Everything of a kind that goes out, with what stands within each; without people, nothing of them."""
    yield from _records(store, kind, people=people).get(None, ())


def _records(store: Session, kind: Kind, *, people: bool) -> dict[Any, list[Record]]:
    """The records by what they stand within; None of those that stand by themselves."""
    within = {each.name: (each, _records(store, each, people=people)) for each in kind.within}
    order = [kind.table.columns[name] for name in (("id",) if kind.has_number else kind.known_by)]
    found: dict[Any, list[Record]] = defaultdict(list)
    keys = tuple(each.key for each in kind.columns)
    for row in store.execute(select(kind.table).order_by(*order)).mappings():
        by_key = {column.key: row[column] for column in kind.table.columns}
        if by_key[kind.known_by[0]] in kind.but:
            continue
        record = {key: by_key[key] for key in keys}
        if not people:
            _without_people(kind, record)
        for name, (_, nested) in within.items():
            record[name] = nested.get(by_key["id"], [])
        found[by_key[kind.parent] if kind.parent else None].append(record)
    return found


def _without_people(kind: Kind, record: Record) -> None:
    """Take whom something was for, what befell them, and their names out of a record."""
    if kind.row is models.BottleNoteRow and (record["wearer_id"] or record["whom"]):
        record["whom"], record["detail"] = SOMEBODY if record["whom"] else "", {}
    if kind.row is models.VersionRow:
        record["whom"] = ""
    if kind.row is models.BottleRow and record["holder"]:
        record["holder"] = SOMEBODY
    for column, of in kind.refers.items():
        if of == "people":
            record[column] = None


@dataclass(frozen=True, slots=True)
class Incoming:
    """A record that comes in, and where it stood."""

    where: str
    record: Record


@dataclass
class Change:
    """A record that is there and would be changed: the columns, each with what it is and what it would be."""

    kind: Kind
    where: str
    key: Record
    columns: dict[str, tuple[Any, Any]]


@dataclass
class Plan:
    """What would happen if all of it came in; with problems nothing may."""

    new: list[tuple[Kind, Record]] = field(default_factory=list)
    changes: list[Change] = field(default_factory=list)
    same: Counter[str] = field(default_factory=Counter)
    problems: list[str] = field(default_factory=list)

    def counts(self) -> Iterator[tuple[str, int, int, int]]:
        """Of each kind how many are new, changed and there already, where there are any."""
        new = Counter(kind.words for kind, _ in self.new)
        changed = Counter(change.kind.words for change in self.changes)
        for name in (each.words for kind in KINDS for each in (kind, *_nested(kind))):
            if new[name] or changed[name] or self.same[name]:
                yield name, new[name], changed[name], self.same[name]


def _nested(kind: Kind) -> Iterator[Kind]:
    for each in kind.within:
        yield each
        yield from _nested(each)


class _Here:
    """What is in the database of one kind, by what tells it apart; without people, as it would go out without them."""

    def __init__(self, store: Session, kind: Kind, *, people: bool) -> None:
        self.known: dict[tuple[Any, ...], Record] = {}
        self.taken: set[int] = set()
        seen: Counter[tuple[Any, ...]] = Counter()
        for row in store.execute(select(kind.table)).mappings():
            record = {column.key: row[column] for column in kind.table.columns}
            if not people:
                _without_people(kind, record)
            same = tuple(record[name] for name in kind.known_by)
            self.known[(*same, seen[same])] = record  # of several that are alike, the first is the first
            seen[same] += 1
            if kind.has_number:
                self.taken.add(record["id"])
        self.last = max(self.taken, default=0)

    def free(self, number: int) -> int:
        """A number that nothing has: this one where that is so."""
        if number in self.taken or number < 1:
            self.last += 1
            number = self.last
        self.taken.add(number)
        self.last = max(self.last, number)
        return number


class Planner:
    """Works out what would happen, kind after kind; `people` says whether they are in the files."""

    def __init__(self, store: Session, *, people: bool) -> None:
        self.store, self.people, self.plan = store, people, Plan()
        self._numbers: dict[tuple[str, int], int] = {}
        self._here: dict[str, _Here] = {}
        self._seen: dict[str, Counter[tuple[Any, ...]]] = defaultdict(Counter)

    def take(self, kind: Kind, incoming: Iterable[Incoming]) -> None:
        """Take in all records of a kind; what they point at was taken in before."""
        for each in incoming:
            self._take(kind, each.where, each.record, None)

    def _take(self, kind: Kind, where: str, record: Record, within: int | None) -> None:
        if kind.table.name not in self._here:
            self._here[kind.table.name] = _Here(self.store, kind, people=self.people)
        here = self._here[kind.table.name]
        values = {column.key: record[column.key] for column in kind.columns}
        if kind.parent:
            values[kind.parent] = within
        self._translate(kind, where, values)
        same = tuple(values[name] for name in kind.known_by)
        nth = self._seen[kind.table.name][same]
        self._seen[kind.table.name][same] += 1
        found = here.known.get((*same, nth))
        number: int = record["id"] if kind.has_number else 0
        if found is None:
            if kind.has_number:
                values["id"] = here.free(number)
            self.plan.new.append((kind, values))
        else:
            values |= {"id": found["id"]} if kind.has_number else {}
            self._compare(kind, where, found, values)
        if kind.has_number:
            self._numbers["" if kind.parent else kind.name, number] = values["id"]
        for each in kind.within:
            for nested in record[each.name]:
                self._take(each, where, nested, values["id"])

    def _translate(self, kind: Kind, where: str, values: Record) -> None:
        def here(of: str, number: Any) -> Any:
            if number is None:
                return None
            if (of, number) in self._numbers:
                return self._numbers[of, number]
            self.plan.problems.append(f"{where}: {of} number {number} is not in the files.")
            return number

        for column, of in kind.refers.items():
            values[column] = here(of, values[column])
        for column, inner in kind.inner.items():
            if kind.row is not models.PreferenceRow or values["key"] == LEARNT:
                values[column] = inner(values[column], here)

    def _compare(self, kind: Kind, where: str, found: Record, values: Record) -> None:
        differs = {
            name: (found[name], value)
            for name, value in values.items()
            if name not in kind.worked_out and found[name] != value
        }
        if not differs:
            self.plan.same[kind.words] += 1
        elif kind.is_settled:
            self.plan.problems.append(
                f"{where}: this is there already and says something else of {', '.join(differs)}; what was written "
                "once is not changed."
            )
        else:
            key = {name: found[name] for name in (("id",) if kind.has_number else kind.known_by)}
            self.plan.changes.append(Change(kind, where, key, differs))


def carry_out(store: Session, plan: Plan) -> None:
    """Do what was planned: add what is new, and change what is in `plan.changes`.

    The caller sees to it that it is all or nothing, and takes the changes out that nobody asked for.
    """
    by_kind: dict[int, tuple[Kind, list[Record]]] = {}
    for kind, values in plan.new:
        by_kind.setdefault(id(kind), (kind, []))[1].append(values | FIRST.get(kind.name, {}))
    order = {id(each): place for place, each in enumerate(k for kind in KINDS for k in (kind, *_nested(kind)))}
    for kind, rows in sorted(by_kind.values(), key=lambda each: order[id(each[0])]):
        store.execute(insert(kind.table), rows)
    for change in plan.changes:
        table = change.kind.table
        where = [table.columns[name] == value for name, value in change.key.items()]
        store.execute(update(table).where(*where).values({name: new for name, (_, new) in change.columns.items()}))
    noted = {change.key["id"] for change in plan.changes if change.kind.row is models.BottleNoteRow}
    bottles = {values["bottle_id"] for kind, values in plan.new if kind.row is models.BottleNoteRow}
    old = bottles - {values["id"] for kind, values in plan.new if kind.row is models.BottleRow}
    if noted:
        old |= set(store.scalars(select(models.BottleNoteRow.bottle_id).where(models.BottleNoteRow.id.in_(noted))))
    if old:  # what follows from their notes is worked out afresh
        store.execute(update(models.BottleRow).where(models.BottleRow.id.in_(old)).values(worked_by=""))
    number_on(store, {kind.table for kind, _ in plan.new})
    shelf_changed(store)
