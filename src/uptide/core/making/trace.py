"""Where a lot went, gram by gram: through jars, batches and what was left over, into bottles and to people."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property
from math import fsum

from uptide.core.making.batch_record import LEFTOVER, BatchEntry, EntryKind, contents
from uptide.core.making.making_plan import LOT
from uptide.core.making.rounding import DILUTION, MG

DEEPEST = 24  # lots behind lots: more than anybody makes, and an end for what leads back to itself


@dataclass(frozen=True, slots=True)
class LotFlow:
    """What the ledger says of a lot [g]: came in all, left, thrown out, and used by hand for nothing that is known."""

    code: str
    name: str
    came: float
    left: float
    thrown_out: float = 0.0
    by_hand: float = 0.0


@dataclass(frozen=True, slots=True)
class JarFlow:
    """A jar: what was poured on from which lots [g], all the oil in it, and the lot that came of it."""

    number: int
    name: str
    poured: Mapping[str, float]
    oil: float
    lot: str = ""
    out: float = 0.0
    dissolved: float = 0.0  # part of the strained oil that is plant

    @property
    def key(self) -> str:
        """What tells it from other jars: its number, or the lot that came of one that is in no book."""
        return f"jar {self.number}" if self.number else f"the jar of lot {self.lot}"

    def share_of(self, code: str) -> float:
        """What part of the strained oil comes from a lot."""
        return (1 - self.dissolved) * self.poured.get(code, 0.0) / self.oil if self.oil else 0.0


@dataclass(frozen=True, slots=True)
class Container:
    """A bottle as it was filled [g], and where it is; or so many of a batch that are alike, by the first of them."""

    number: str
    grams: float
    state: str = "stands"
    place: str = ""
    holder: str = ""
    holder_id: int | None = None
    count: int = 1


@dataclass(frozen=True)
class BatchFlow:
    """A batch: what is in it by lot [g], and where that went."""

    number: str
    name: str
    made_on: date
    entries: tuple[BatchEntry, ...]
    bottles: tuple[Container, ...] = ()

    @cached_property
    def _mixture(self) -> tuple[BatchEntry, ...]:
        voided = {int(each.detail["of"]) for each in self.entries if each.kind is EntryKind.VOID}
        return tuple(
            each
            for each in self.entries
            if each.kind is EntryKind.REMOVED or (each.kind is EntryKind.POUR and each.seq not in voided)
        )

    @cached_property
    def poured(self) -> Mapping[str, float]:
        """What was poured from each lot [g]; nothing taken back."""
        return _by_lot((each, float(each.mg)) for each in self._mixture if each.kind is EntryKind.POUR)

    @cached_property
    def _held(self) -> Mapping[str, float]:
        """What is in it from each lot [g], once some of the mixture was taken out."""
        if all(each.kind is EntryKind.POUR for each in self._mixture):
            return self.poured
        return _by_lot(contents(self._mixture))

    @cached_property
    def shares(self) -> Mapping[str, float]:
        """What part of it comes from each lot it was poured from."""
        whole = fsum(self._held.values())
        return {code: grams / whole for code, grams in self._held.items() if code} if whole > 0 else {}

    @cached_property
    def made(self) -> float:
        """What was poured in all [g]."""
        return fsum(self.poured.values())

    @cached_property
    def removed(self) -> Mapping[str, float]:
        """What of each lot was taken out of the mixture again [g]."""
        if self._held is self.poured:
            return {}
        return {code: self.poured[code] - self._held.get(code, 0.0) for code in self.poured}

    @cached_property
    def leftover(self) -> float:
        """What was left over [g]."""
        return next((each.mg / MG for each in reversed(self.entries) if each.kind is EntryKind.LEFTOVER), 0.0)

    @cached_property
    def loss(self) -> float:
        """What is in no bottle and was not left over [g]: film and spout, or all of it while nothing is filled."""
        return fsum(self._held.values()) - fsum(each.grams for each in self.bottles) - self.leftover


def _by_lot(found: Iterable[tuple[BatchEntry, float]]) -> dict[str, float]:
    """Grams by lot; nine tenths of a dilution are its carrier's."""
    held: dict[str, float] = {}
    for entry, mg in found:
        carrier = str(entry.detail.get("diluted_in") or "")
        itself = mg / DILUTION if carrier else mg
        held[entry.code] = held.get(entry.code, 0.0) + itself / MG
        if carrier:
            code = carrier.removeprefix(LOT) if carrier.startswith(LOT) else ""
            held[code] = held.get(code, 0.0) + (mg - itself) / MG
    return held


@dataclass(frozen=True, slots=True)
class Ended:
    """Where some of a lot is now: what kind of place, its key and name, how much of the lot, and what part that is."""

    kind: str
    key: str
    name: str
    grams: float
    share: float
    through: str = ""  # the batch, jar or lot that it came through
    container: Container | None = None


LEFT, THROWN_OUT, BY_HAND = "left", "thrown out", "used by hand"
PLANT, TAKEN_OUT, VESSEL = "plant and jar", "taken out of a batch", "vessel and funnel"
BOTTLE = "bottle"


@dataclass(frozen=True)
class Trace:
    """Everything a lot can have gone into, of which the shares of it follow."""

    code: str
    lots: Mapping[str, LotFlow]
    jars: tuple[JarFlow, ...]
    batches: tuple[BatchFlow, ...]
    _shares: dict[str, float] = field(default_factory=dict, repr=False)

    @cached_property
    def _jar_of(self) -> Mapping[str, JarFlow]:
        return {jar.lot: jar for jar in self.jars if jar.lot}

    @cached_property
    def _batch_of(self) -> Mapping[str, BatchFlow]:
        return {f"{LEFTOVER}{batch.number}": batch for batch in self.batches}

    def share_of_lot(self, code: str, depth: int = 0) -> float:
        """What part of a lot is the one that is traced; 0 beyond where anything can lead."""
        if code == self.code:
            return 1.0
        if code not in self._shares and depth < DEEPEST:
            jar, batch = self._jar_of.get(code), self._batch_of.get(code)
            found = 0.0
            if jar is not None:
                found = fsum(jar.share_of(lot) * self.share_of_lot(lot, depth + 1) for lot in jar.poured)
            elif batch is not None:
                found = self.share_of_batch(batch, depth + 1)
            self._shares[code] = found
        return self._shares.get(code, 0.0)

    def share_of_batch(self, batch: BatchFlow, depth: int = 0) -> float:
        """What part of a batch is the lot that is traced."""
        return fsum(share * self.share_of_lot(code, depth) for code, share in batch.shares.items())

    @cached_property
    def reached(self) -> tuple[tuple[BatchFlow, float], ...]:
        """The batches with some of it in them, each with the part of it that is the lot; the newest on top."""
        found = [(batch, self.share_of_batch(batch)) for batch in self.batches]
        return tuple(
            sorted(
                ((b, s) for b, s in found if s > 0), key=lambda each: (each[0].made_on, each[0].number), reverse=True
            )
        )

    @cached_property
    def ends(self) -> tuple[Ended, ...]:
        """Where every gram of it is now; together they come to what came."""
        found: list[Ended] = []
        for code, lot in self.lots.items():
            share = self.share_of_lot(code)
            through = "" if code == self.code else code
            for kind, grams in ((LEFT, lot.left), (THROWN_OUT, lot.thrown_out), (BY_HAND, lot.by_hand)):
                if grams and share:
                    found.append(Ended(kind, code, name=lot.name, grams=share * grams, share=share, through=through))
        for jar in self.jars:
            into = fsum(grams * self.share_of_lot(lot) for lot, grams in jar.poured.items())
            on = jar.out * self.share_of_lot(jar.lot) if jar.lot else 0.0
            if into:
                found.append(
                    Ended(PLANT, str(jar.number), name=jar.name, grams=into - on, share=into / jar.oil, through=jar.key)
                )
        for batch, share in self.reached:
            out = fsum(grams * self.share_of_lot(code) for code, grams in batch.removed.items() if code)
            if out:
                found.append(
                    Ended(TAKEN_OUT, batch.number, name=batch.name, grams=out, share=share, through=batch.number)
                )
            if batch.loss:
                found.append(
                    Ended(
                        VESSEL,
                        batch.number,
                        name=batch.name,
                        grams=share * batch.loss,
                        share=share,
                        through=batch.number,
                    )
                )
            found += [
                Ended(
                    BOTTLE,
                    each.number,
                    name=batch.name,
                    grams=share * each.grams,
                    share=share,
                    through=batch.number,
                    container=each,
                )
                for each in batch.bottles
            ]
        return tuple(found)

    @property
    def came(self) -> float:
        """What came of it in all [g]."""
        return self.lots[self.code].came

    def by(self, kind: str) -> float:
        """How much of it ended in one kind of place [g]."""
        return fsum(each.grams for each in self.ends if each.kind == kind)


def people_of(ends: Sequence[Ended]) -> dict[tuple[int | None, str], list[Ended]]:
    """Who has bottles with some of a lot in them."""
    found: dict[tuple[int | None, str], list[Ended]] = {}
    for each in ends:
        if each.container is not None and each.container.holder:
            found.setdefault((each.container.holder_id, each.container.holder), []).append(each)
    return found
