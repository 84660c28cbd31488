"""Text that can be written down."""

from __future__ import annotations

from uptide.core.errors import UptideError

RUN = ("=", "+", "-", "@", "\t", "\r")  # what a spreadsheet takes a cell for a formula by (OWASP, CSV injection)
SHIELD = "'"  # in front of it, a spreadsheet shows text


def whole(text: str) -> str:
    """The same text; half a character, as JSON can escape one, cannot be written in UTF-8 and is refused.

    >>> whole("jojoba")
    'jojoba'

    Raises:
        UptideError: says where it stands.
    """
    try:
        text.encode()
    except UnicodeEncodeError as error:
        before = text[: error.start][-20:]
        raise UptideError(
            f"After “{before}” stands half a character, which cannot be written; leave it out."
        ) from error
    return text


def shown(text: str) -> str:
    """The same text with a question mark for each half character: for messages that repeat what was found."""
    return text.encode(errors="replace").decode()


def harmless(text: str) -> str:
    """A text that a spreadsheet does not run; one that begins with the shield itself gets one too, to be told apart.

    >>> harmless("=1+1"), harmless("'tis"), harmless("jojoba")
    ("'=1+1", "''tis", 'jojoba')
    """
    return SHIELD + text if text.startswith((*RUN, SHIELD)) else text


def as_typed(cell: str) -> str:
    """What `harmless` was given; a text that begins with a shield of its own, of another's file, stays as it is.

    >>> as_typed(harmless("=1+1")), as_typed("'tis")
    ('=1+1', "'tis")
    """
    return cell[1:] if cell.startswith(SHIELD) and cell[1:].startswith((*RUN, SHIELD)) else cell
