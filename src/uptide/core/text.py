"""Text that can be written down."""

from __future__ import annotations

from uptide.core.errors import UptideError


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
