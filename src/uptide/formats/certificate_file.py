"""A certificate as a laboratory sends it: a table, a text, or a PDF that has text in it."""

from __future__ import annotations

from uptide.core.errors import UptideError
from uptide.formats.xlsx import BEGINS, rows_of, text_of

PDF = b"%PDF-"  # the first bytes of every PDF (ISO 32000)
MOST_PAGES = 20


def certificate_text(name: str, raw: bytes) -> str:
    """The text of a certificate, a line for each of its lines, as it stands; cells of a workbook are parted by tabs.

    Raises:
        UptideError: a file that cannot be read, a PDF of pictures alone, or one of more pages than a certificate has.
    """
    if raw.startswith(PDF):
        return _text_of_pdf(name, raw)
    if raw.startswith(BEGINS):
        return "\n".join("\t".join(row) for row in rows_of(name, raw))
    return text_of(name, raw)


def _text_of_pdf(name: str, raw: bytes) -> str:
    from pypdfium2 import PdfDocument, PdfiumError  # read when the first PDF comes

    try:
        document = PdfDocument(raw)
        if len(document) > MOST_PAGES:
            raise UptideError(f"{name} has {len(document)} pages; up to {MOST_PAGES} of a certificate are read.")
        text = "\n".join(page.get_textpage().get_text_range() for page in document)
        document.close()
    except PdfiumError as error:
        raise UptideError(f"{name} is no PDF that can be read ({error}).") from error
    text = "\n".join(filter(None, (line.strip() for line in text.splitlines())))
    if not text:
        raise UptideError(f"{name} has no text in it, as of a scan: type what it says, one thing to a line.")
    return text
