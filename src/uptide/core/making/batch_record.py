"""What really happened to a batch: pours, what was taken out again, what was filled, and whether it adds up.

Everything follows from entries that are only ever added; nothing of a batch is stored twice.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from enum import StrEnum
from functools import cached_property
from typing import Any

from uptide.core.errors import UptideError
from uptide.core.ledger.movement import grams, milligrams
from uptide.core.making.making_plan import LOT, PouredOf
from uptide.core.making.rounding import DILUTION, MG, How
from uptide.core.making.weighing import band_of
from uptide.core.months import months_later


class State(StrEnum):
    """How far a batch is."""

    WEIGHING = "being weighed"
    MIXED = "mixed"
    FILLED = "filled"
    CLOSED = "closed"
    ABANDONED = "abandoned"


LEFTOVER = "B-"  # what the code of a lot begins with that was left over from a batch
ENDED = frozenset({State.CLOSED, State.ABANDONED})  # nothing but remarks is added to these


class EntryKind(StrEnum):
    """What can happen to a batch."""

    BEGUN = "pour begun"
    POUR = "pour"
    VOID = "pour taken back"
    REMOVED = "mixture taken out"
    RETARGET = "amounts changed"
    LEFT_OUT = "left out"
    VESSEL = "vessel weighed"
    TAKEN_OVER = "bench taken over"
    MIXED = "mixed"
    FILLED = "container filled"
    LEFTOVER = "left over"
    LOOK = "looked at"
    CLOSED = "closed"
    ABANDONED = "abandoned"
    REMARK = "remark"


IN_VESSEL = frozenset(
    {EntryKind.BEGUN, EntryKind.POUR, EntryKind.VOID, EntryKind.REMOVED, EntryKind.RETARGET, EntryKind.LEFT_OUT}
)  # what changes what is in the vessel


class Taken(StrEnum):
    """How an amount was known."""

    SCALE = "scale"
    TYPED = "typed"
    DROPS = "drops"


class StaleError(UptideError):
    """Somebody else wrote something since this page was drawn."""


class ClosedError(UptideError):
    """A batch that has ended takes remarks alone, and a base that is on the shelf no pour."""


@dataclass(frozen=True, slots=True)
class BatchEntry:
    """Something that happened to a batch; `mg` of a pour or of mixture, `code` of the lot it came from."""

    seq: int
    kind: EntryKind
    at: datetime
    by: str = ""
    position: int | None = None
    key: str = ""  # of the ingredient
    code: str = ""
    mg: int = 0
    detail: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class PlannedLine:
    """A line of a frozen plan [mg]; `picks` are (lot code, mg)."""

    position: int
    typed: str
    key: str
    name: str
    restricted: bool
    target_mg: int
    how: str
    drops: int
    said: str
    picks: tuple[tuple[str, int], ...]


@dataclass(frozen=True)
class BatchRecord:
    """A batch with its frozen plan and all that happened to it, in order."""

    number: str
    blend_id: int
    version: int
    made_on: date
    made_by: str
    planned_at: datetime
    plan: Mapping[str, Any]
    entries: tuple[BatchEntry, ...]
    holder: str = ""
    held_at: datetime | None = None

    @cached_property
    def lines(self) -> tuple[PlannedLine, ...]:
        """What was planned."""
        return tuple(
            PlannedLine(**{**each, "picks": tuple((code, mg) for code, mg in each["picks"])})
            for each in self.plan["lines"]
        )

    @property
    def present(self) -> tuple[str, ...]:
        """Rows of its recipe that are in it without an amount."""
        return tuple(self.plan["present"])

    @property
    def step_mg(self) -> int:
        """What the scale shows [mg]."""
        return round(1000 * float(self.plan["step_g"]))

    @property
    def seq(self) -> int:
        """The number of the last entry."""
        return self.entries[-1].seq if self.entries else 0

    @cached_property
    def voided(self) -> frozenset[int]:
        """Numbers of the pours that were taken back."""
        return frozenset(int(each.detail["of"]) for each in self.entries if each.kind is EntryKind.VOID)

    @cached_property
    def pours(self) -> tuple[BatchEntry, ...]:
        """What was poured and not taken back."""
        return tuple(each for each in self.entries if each.kind is EntryKind.POUR and each.seq not in self.voided)

    @cached_property
    def mixture(self) -> tuple[BatchEntry, ...]:
        """Pours and what was taken out of the mixture, in order."""
        return tuple(
            each
            for each in self.entries
            if each.kind is EntryKind.REMOVED or (each.kind is EntryKind.POUR and each.seq not in self.voided)
        )

    @cached_property
    def contents(self) -> tuple[tuple[BatchEntry, float], ...]:
        """What is in the vessel [mg], by line and lot: what was taken out took its part of everything with it."""
        return contents(self.mixture)

    @cached_property
    def in_vessel(self) -> tuple[int, ...]:
        """The same by line."""
        found = [0.0] * len(self.lines)
        for pour, mg in self.contents:
            found[pour.position or 0] += mg
        return tuple(round(mg) for mg in found)

    @cached_property
    def composition(self) -> tuple[PouredOf, ...]:
        """The same as ingredients [g], which an assessment reads; of a dilution nine tenths are its carrier."""
        found = []
        for pour, mg in self.contents:
            name = self.lines[pour.position or 0].name
            carrier = pour.detail.get("diluted_in")
            key = LOT + pour.code if pour.code else pour.key
            found.append(PouredOf(key, name, mg / MG / (DILUTION if carrier else 1)))
            if carrier:
                rest = mg * (1 - 1 / DILUTION) / MG
                found.append(PouredOf(str(carrier), str(pour.detail.get("diluted_in_name", "")), rest))
        return tuple(found)

    @cached_property
    def targets(self) -> tuple[int, ...]:
        """What each line should be [mg], after all changes."""
        found = [line.target_mg for line in self.lines]
        for each in self.entries:
            if each.kind is EntryKind.RETARGET:
                found = [int(mg) for mg in each.detail["targets"]]
            elif each.kind is EntryKind.LEFT_OUT and each.position is not None:
                found[each.position] = int(each.detail.get("keeps", 0))  # no more of it than was in already
        return tuple(found)

    def is_done(self, position: int) -> bool:
        """Whether a line needs no more: it is in its band, or left out."""
        band = band_of(grams(self.targets[position]), grams(self.step_mg))
        return self.in_vessel[position] >= milligrams(band.low)

    @cached_property
    def next_position(self) -> int | None:
        """The line that is poured next; None where all are."""
        return next((each.position for each in self.lines if not self.is_done(each.position)), None)

    @cached_property
    def begun(self) -> BatchEntry | None:
        """The pour that was begun and neither confirmed nor given up; what is taken back is begun anew."""
        open_ = None
        for each in self.entries:
            if each.kind is EntryKind.BEGUN:
                open_ = each
            elif each.kind in (EntryKind.POUR, EntryKind.LEFT_OUT, EntryKind.VOID, EntryKind.RETARGET):
                open_ = None
        return open_

    @cached_property
    def should_weigh(self) -> int | None:
        """What vessel and contents should weigh together [mg]; None where no scale weighed the vessel."""
        begun = (each.detail.get("gross_before") for each in self.entries if each.kind is EntryKind.BEGUN)
        vessel = next((int(gross) for gross in begun if gross is not None), None)
        return None if vessel is None else vessel + sum(self.in_vessel)

    def next_pick(self, position: int) -> tuple[str, int]:
        """The lot that a line is poured from next, and how much of it is still wanted [mg]; no lot where none is."""
        wanted = max(0, self.targets[position] - self.in_vessel[position])
        poured: dict[str, int] = {}
        for each in self.pours:
            if each.position == position:
                poured[each.code] = poured.get(each.code, 0) + each.mg
        line = self.lines[position]
        if line.how == How.DILUTED:
            return (line.picks[0][0] if line.picks else "", wanted)
        covered = line.target_mg - sum(mg for _, mg in line.picks) <= self.step_mg
        for code, mg in line.picks[:-1] if covered else line.picks:
            rest = mg - poured.get(code, 0)
            if rest > self.step_mg:
                return code, min(rest, wanted)
        # The last lot gives whatever more is wanted, also once amounts were changed.
        return (line.picks[-1][0] if line.picks and covered else ""), wanted

    @cached_property
    def state(self) -> State:
        """How far it is."""
        kinds = {each.kind for each in self.entries}
        if EntryKind.ABANDONED in kinds:
            return State.ABANDONED
        if EntryKind.CLOSED in kinds:
            return State.CLOSED
        if EntryKind.FILLED in kinds:
            return State.FILLED
        return State.MIXED if EntryKind.MIXED in kinds else State.WEIGHING

    @cached_property
    def best_before(self) -> date | None:
        """Until when it keeps, as it was worked out when the record was closed; None while it is open."""
        closed = next((each for each in self.entries if each.kind is EntryKind.CLOSED), None)
        months = closed.detail.get("months") if closed is not None else None
        return months_later(self.made_on, int(months)) if months else None

    @cached_property
    def fills(self) -> tuple[BatchEntry, ...]:
        """The containers that were filled, each as last entered."""
        last: dict[int, BatchEntry] = {}
        for each in self.entries:
            if each.kind is EntryKind.FILLED:
                last[int(each.detail["number"])] = each
        return tuple(last[number] for number in sorted(last))

    @cached_property
    def balance(self) -> Balance:
        """Where all of it went."""
        left = next((each.mg for each in reversed(self.entries) if each.kind is EntryKind.LEFTOVER), 0)
        return Balance(
            poured=sum(each.mg for each in self.pours),
            removed=sum(each.mg for each in self.mixture if each.kind is EntryKind.REMOVED),
            filled=sum(each.mg for each in self.fills),
            leftover=left,
        )

    def check_may_add(self, kind: EntryKind) -> None:
        """Raise ClosedError where a batch has ended and this is no remark, or where the lot it became would change."""
        if self.state in ENDED and kind is not EntryKind.REMARK:
            raise ClosedError(f"Batch {self.number} is {self.state.value}; only remarks are added to it.")
        if kind in IN_VESSEL and self.plan.get("parts") and self.state is not State.WEIGHING:
            raise ClosedError(
                f"Batch {self.number} is mixed and stands on the shelf as lot {LEFTOVER}{self.number}: nothing more "
                "goes into it or comes out of it here; what changed is said of that lot."
            )


@dataclass(frozen=True, slots=True)
class Balance:
    """Where all of a batch went [mg]."""

    poured: int
    removed: int
    filled: int
    leftover: int

    @property
    def loss(self) -> int:
        """What nobody can show: film on vessel, spout and funnel."""
        return self.poured - self.removed - self.filled - self.leftover


def contents(mixture: Sequence[BatchEntry]) -> tuple[tuple[BatchEntry, float], ...]:
    """What is in a vessel after pours and what was taken out of it again [mg], each with the first pour of its kind.

    >>> at = datetime(2026, 11, 27)
    >>> oil = BatchEntry(1, EntryKind.POUR, at, position=0, key="olive", mg=60_000)
    >>> more = BatchEntry(2, EntryKind.POUR, at, position=1, key="jojoba", mg=40_000)
    >>> [round(mg) for _, mg in contents([oil, more, BatchEntry(3, EntryKind.REMOVED, at, mg=10_000)])]
    [54000, 36000]
    """
    held: dict[tuple[int | None, str, str], float] = {}
    first: dict[tuple[int | None, str, str], BatchEntry] = {}
    for each in mixture:
        if each.kind is EntryKind.REMOVED:
            whole = sum(held.values())
            left = max(0.0, 1 - each.mg / whole) if whole > 0 else 1.0
            held = {place: mg * left for place, mg in held.items()}
        else:
            place = (each.position, each.key, each.code)
            first.setdefault(place, each)
            held[place] = held.get(place, 0.0) + each.mg
    return tuple((first[place], mg) for place, mg in held.items() if mg > 0)


def batch_number(day: str, earlier: Iterable[str]) -> str:
    """The next number of a day, which no other batch has.

    >>> batch_number("20261127", ["20261127-1", "20261127-2", "20261126-9"])
    '20261127-3'
    """
    taken = [int(each.rpartition("-")[2]) for each in earlier if each.startswith(f"{day}-")]
    return f"{day}-{max(taken, default=0) + 1}"
