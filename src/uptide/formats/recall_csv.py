"""A recall list as CSV: every bottle with some of a lot in it, how much that is, and who has it."""

from __future__ import annotations

import csv
from io import StringIO

from uptide.core.making.trace import Trace
from uptide.core.text import harmless

HEADER = ("lot", "batch", "bottle", "blend", "grams of the lot", "share in %", "place", "who has it", "state")


def write_recall(trace: Trace) -> str:
    """The list, a row for each bottle, as they come in the trace."""
    out = StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(HEADER)
    for each in trace.ends:
        held = each.container
        if held is not None:
            amounts = (f"{each.grams:.3f}", f"{100 * each.share:.2f}")
            writer.writerow(
                map(
                    harmless,
                    (trace.code, each.through, each.key, each.name, *amounts, held.place, held.holder, held.state),
                )
            )
    return out.getvalue()
