"""Cells of a table that a spreadsheet will open: none of them is a formula there, and each can be read back."""

from __future__ import annotations

RUN = ("=", "+", "-", "@", "\t", "\r")  # what a spreadsheet takes a cell for a formula by (OWASP, CSV injection)
SHIELD = "'"  # in front of it, a spreadsheet shows text


def harmless(text: str) -> str:
    """A text that a spreadsheet does not run; one that begins with the shield itself gets one too, to be told apart.

    >>> harmless("=1+1"), harmless("'tis"), harmless("jojoba")
    ("'=1+1", "''tis", 'jojoba')
    """
    return SHIELD + text if text.startswith((*RUN, SHIELD)) else text


def as_typed(cell: str) -> str:
    """What `harmless` was given.

    >>> as_typed(harmless("=1+1")), as_typed("jojoba")
    ('=1+1', 'jojoba')
    """
    return cell[1:] if cell.startswith(SHIELD) else cell
