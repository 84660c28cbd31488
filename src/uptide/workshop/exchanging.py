"""Everything out, and everything in: what would change is said first, and one bad line changes nothing."""

from __future__ import annotations

import io
from collections.abc import Iterator
from pathlib import Path

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from uptide.formats.exchange_files import ExchangeError, Files, all_kinds, files_of, write_folder, write_zip
from uptide.store.exchange import Plan, Planner, carry_out, records

SAID = 12  # differences that are named
ZIP = ".zip"


def export(store: Session, target: Path, *, people: bool) -> int:
    """Write all that is kept into a new folder, or a ZIP file; return of how many files.

    Raises:
        ExchangeError: a folder that is not empty, or a file that is there already.
    """
    if target.suffix.lower() != ZIP:
        return write_folder(target, _files(store, people=people))
    if target.exists():
        raise ExchangeError(f"{target} is there already; nothing was written. Name a new file.")
    under_way = target.with_name(target.name + ".part")
    try:
        count = write_zip(under_way, _files(store, people=people))
        under_way.replace(target)
    except OSError as error:
        raise ExchangeError(f"{target} cannot be written: {error.strerror}.") from error
    finally:
        under_way.unlink(missing_ok=True)
    return count


def export_packed(store: Session, *, people: bool) -> bytes:
    """The same as a ZIP in memory."""
    packed = io.BytesIO()
    write_zip(packed, _files(store, people=people))
    return packed.getvalue()


def _files(store: Session, *, people: bool) -> Iterator[tuple[str, bytes]]:
    return files_of(
        ((kind, records(store, kind, people=people)) for kind in all_kinds(people=people)),
        people=people,
    )


def plan_import(store: Session, source: Path) -> Plan:
    """Work out what would happen if an export came in; what is wrong with it stands in the plan's problems.

    Raises:
        ExchangeError: what is no export at all.
    """
    files = Files(source)
    try:
        planner = Planner(store, people=files.people)
        for kind in all_kinds(people=files.people):
            planner.take(kind, files.records(kind, planner.plan.problems))
    finally:
        files.close()
    return planner.plan


def plan_in_words(plan: Plan) -> tuple[str, ...]:
    """What would happen: a line for each kind of which something is new or differs, then what differs."""
    counts = [
        f"{words}: " + ", ".join([*([f"{new} new"] if new else []), *([f"{changed} that differ"] if changed else [])])
        for words, new, changed, _ in plan.counts()
        if new or changed
    ]
    there = plan.same.total()
    counts += [f"{there} records are there already, the same"] if there else []
    differs = [
        f"{change.where}: {change.kind.words} differs in "
        + "; ".join(f"{name}: {_short(was)} here, {_short(new)} in the file" for name, (was, new) in each.items())
        for change in plan.changes[:SAID]
        for each in (change.columns,)
    ]
    more = len(plan.changes) - SAID
    return (*counts, *differs, *([f"and {more} more that differ"] if more > 0 else []))


def _short(value: object) -> str:
    words = "nothing" if value in (None, "") else str(value)
    return words if len(words) <= 40 else f"{words[:40]}…"


def bring_in(store: Session, plan: Plan, *, take_differing: bool) -> None:
    """Bring in what was planned: what is new; and what differs only where that was asked for.

    Raises:
        ExchangeError: every problem of the plan, by file and line; nothing is changed then.
    """
    if plan.problems:
        raise ExchangeError("\n".join([*plan.problems, "Nothing was changed."]))
    if not take_differing:
        plan.changes.clear()
    try:
        carry_out(store, plan)
    except IntegrityError as error:
        raise ExchangeError(f"This does not fit together ({error.orig}). Nothing was changed.") from error
