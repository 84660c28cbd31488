"""A photo of a jar is kept upright, smaller, and without where it was taken."""

from __future__ import annotations

import io
import re

import pytest
from fastapi.testclient import TestClient
from PIL import Image
from tests.web.conftest import token, words
from tests.web.steeping.test_jars import begin

from uptide.core.errors import UptideError
from uptide.formats.photo import LARGEST_PHOTO, clean_photo

GPS, ORIENTATION, CAMERA = 0x8825, 0x0112, 0x010F


def picture(size: tuple[int, int] = (40, 20), kind: str = "JPEG", *, sideways: bool = False) -> bytes:
    exif = Image.Exif()
    exif[CAMERA] = "Somebody’s camera"
    exif.get_ifd(GPS)[1] = "N"
    if sideways:
        exif[ORIENTATION] = 6
    raw = io.BytesIO()
    Image.new("RGB", size, "#e8a31e").save(raw, kind, exif=exif)
    return raw.getvalue()


def black(size: tuple[int, int]) -> bytes:
    """A picture of one bit a pixel: as wide as it likes, and made at once."""
    raw = io.BytesIO()
    Image.new("1", size).save(raw, "PNG")
    return raw.getvalue()


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_nothing_but_what_is_seen_is_kept(kind: str) -> None:
    raw = picture(kind=kind)
    kept = Image.open(io.BytesIO(clean_photo(raw)))

    assert dict(Image.open(io.BytesIO(raw)).getexif()) != {}
    assert (kept.format, kept.size) == ("JPEG", (40, 20))
    assert dict(kept.getexif()) == {}
    assert b"camera" not in clean_photo(raw)


def test_it_is_turned_upright_and_made_smaller() -> None:
    assert Image.open(io.BytesIO(clean_photo(picture(sideways=True)))).size == (20, 40)
    assert max(Image.open(io.BytesIO(clean_photo(picture((4000, 3000))))).size) == 1600


@pytest.mark.parametrize(
    ("raw", "why"),
    [
        (b"", "no photo that can be read"),
        (b"%PDF-1.7", "no photo that can be read"),
        (picture()[:300], "no photo that can be read"),
        (picture(kind="BMP"), "no photo that can be read"),
        (b"x" * (LARGEST_PHOTO + 1), "more than 15 MB"),
        (black((12_000, 6_000)), "12000 by 6000 pixels"),
    ],
    ids=["nothing", "document", "half", "other kind", "large", "wide"],
)
def test_what_is_no_photo_is_refused(raw: bytes, why: str) -> None:
    with pytest.raises(UptideError, match=why):
        clean_photo(raw)


def bring(client: TestClient, jar: str, raw: bytes, **fields: str) -> str:
    files = {"photo": ("jar.jpg", raw, "image/jpeg")}
    return client.post(f"{jar}/photos", data={"token": token(client, jar), **fields}, files=files).text


def test_a_photo_is_shown_with_its_jar_and_taken_out(client: TestClient) -> None:
    jar, other = begin(client), begin(client)
    page = bring(client, jar, picture(), seen="the haze <below>")
    place = re.search(r'src="([^"]+\.jpg)"', page)

    assert place is not None
    assert "the haze &lt;below&gt;" in page
    answer = client.get(place[1])
    assert (answer.headers["content-type"], answer.content[:2]) == ("image/jpeg", b"\xff\xd8")
    assert client.get(place[1].replace(jar, other)).status_code == 404

    gone = client.post(f"{place[1].removesuffix('.jpg')}/remove", data={"token": token(client, jar)})
    assert "the haze" not in gone.text
    assert client.get(place[1]).status_code == 404


def test_what_is_wrong_stands_beside_its_field(client: TestClient) -> None:
    jar = begin(client)
    assert "no photo that can be read" in words(bring(client, jar, b"words", seen="a haze"))
    assert 'value="a haze"' in bring(client, jar, b"words", seen="a haze")
    assert "is no day" in words(bring(client, jar, picture(), taken_on="2001-01-01"))
    assert "up to 500 fit" in words(bring(client, jar, picture(), seen="x" * 501))
    assert "<figure>" not in client.get(jar).text
