"""A blend as plain text that a friend can read: what is in it, what it is, how long it keeps, whom it is not for."""

from __future__ import annotations

from collections.abc import Iterator

from uptide.core.assessment.assessment import Assessment
from uptide.core.assessment.verdicts import sentence
from uptide.core.text import shown

CLOSE = "Made up with Up Tide. Not medical or legal advice; local law and licensed practice come first."


def write_blend(name: str, version: int, product: str, found: Assessment) -> str:
    """The text, lines of it parted by line feeds.

    Args:
        name: of the blend.
        version: of which it is.
        product: what kind of product it is, by its name.
        found: its assessment for anyone: of whom it was made for, nothing stands in it.
    """
    return shown("\n".join(_lines(name, version, product, found)) + "\n")


def _lines(name: str, version: int, product: str, found: Assessment) -> Iterator[str]:
    yield f"{name}, version {version}"
    yield "=" * len(f"{name}, version {version}")
    yield ""
    yield sentence(found, product)
    yield ""
    for row in found.rows:
        amount = "" if row.grams is None else f"{row.grams:.2f} g"
        share = "" if row.percent_mass is None else f"{row.percent_mass:.1f} %"
        meant = "" if row.ingredient is None else f" ({row.ingredient.name})"
        yield f"{amount:>11} {share:>7}   {row.line.typed}{meant}"
    yield f"{found.resolution.total_grams:>9.2f} g           all of it"
    if found.cautions:
        yield ""
        yield "Mind:"
        for caution in found.cautions:
            about = f"{caution.about}: " if caution.about else ""
            yield f"- {about}{caution.message}"
    not_for = dict.fromkeys(each.who for each in found.safety.not_for) if found.safety is not None else {}
    if not_for:
        yield ""
        yield f"Not for: {', '.join(not_for)}."
    yield ""
    yield CLOSE
