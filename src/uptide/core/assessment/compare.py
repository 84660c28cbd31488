"""Two versions of a blend beside each other: which rows and which figures changed, and by how much."""

from __future__ import annotations

from collections import defaultdict, deque
from dataclasses import dataclass

from uptide.core.assessment.assessment import Assessment
from uptide.core.figures.finding import Finding
from uptide.core.recipe.recipe import Row

SMALL = 1e-9


@dataclass(frozen=True, slots=True)
class RowChange:
    """A row of one version beside its counterpart; None where the other version has none."""

    name: str
    before: Row | None
    after: Row | None

    @property
    def percent_change(self) -> float:
        """Change of the share by mass [percentage points]; a row that is not there counts as 0."""
        before = (self.before.percent_mass or 0.0) if self.before else 0.0
        after = (self.after.percent_mass or 0.0) if self.after else 0.0
        return after - before

    @property
    def is_changed(self) -> bool:
        """Whether its words or its share changed."""
        if self.before is None or self.after is None:
            return True
        return self.before.typed != self.after.typed or abs(self.percent_change) > SMALL


@dataclass(frozen=True, slots=True)
class FindingChange:
    """A figure of one version beside the same of the other; `change` is None if one of them is unknown."""

    before: Finding
    after: Finding

    @property
    def change(self) -> float | None:
        """After less before, in the figure's unit."""
        if self.before.value is None or self.after.value is None:
            return None
        return self.after.value - self.before.value


@dataclass(frozen=True, slots=True)
class Comparison:
    """Everything that two assessments differ in, and what they share."""

    rows: tuple[RowChange, ...]
    findings: tuple[FindingChange, ...]


def compare(before: Assessment, after: Assessment) -> Comparison:
    """Match rows by what is in them (or by their words, where that is not known), in the order of the later version."""
    waiting: dict[str, deque[Row]] = defaultdict(deque)
    for row in before.rows:
        waiting[_identity(row)].append(row)
    pairs = []
    for row in after.rows:
        queue = waiting[_identity(row)]
        pairs.append(RowChange(_title(row), queue.popleft() if queue else None, row))
    gone = [row for queue in waiting.values() for row in queue]
    pairs += [RowChange(_title(row), row, None) for row in sorted(gone, key=lambda row: row.index)]
    old = {finding.key: finding for finding in before.findings}
    return Comparison(tuple(pairs), tuple(FindingChange(old[f.key], f) for f in after.findings if f.key in old))


def _identity(row: Row) -> str:
    return row.ingredient.base_key if row.ingredient else row.typed.casefold().strip()


def _title(row: Row) -> str:
    return row.ingredient.name if row.ingredient else row.typed
