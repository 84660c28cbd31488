"""A photo as it is kept: looked at, made smaller, turned upright, and without where and by what it was taken."""

from __future__ import annotations

import io

from PIL import Image, ImageOps, UnidentifiedImageError

from uptide.core.errors import UptideError

LARGEST_PHOTO = 15_000_000  # bytes that are taken
MOST_PIXELS = 60_000_000
SIDE = 1600  # pixels of the longer side that is kept
QUALITY = 85
KINDS = ("JPEG", "PNG", "WEBP")


def clean_photo(raw: bytes) -> bytes:
    """A photo as JPEG without anything but what is seen: place, time and camera are left out.

    Raises:
        UptideError: what is no photo, of no kind that is taken, or too large, with what was found.
    """
    if len(raw) > LARGEST_PHOTO:
        raise UptideError(f"The photo has more than {LARGEST_PHOTO // 1_000_000} MB; make it smaller.")
    try:
        with Image.open(io.BytesIO(raw), formats=KINDS) as photo:
            wide, high = photo.size
            if wide * high > MOST_PIXELS:
                raise UptideError(
                    f"The photo is {wide} by {high} pixels; {MOST_PIXELS // 1_000_000} million are taken."
                )
            photo.draft("RGB", (SIDE, SIDE))
            upright = ImageOps.exif_transpose(photo).convert("RGB")
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        if isinstance(error, UptideError):
            raise
        raise UptideError("This is no photo that can be read; JPEG, PNG and WebP are.") from error
    upright.thumbnail((SIDE, SIDE))
    kept = io.BytesIO()
    Image.frombytes("RGB", upright.size, upright.tobytes()).save(kept, "JPEG", quality=QUALITY)
    return kept.getvalue()
