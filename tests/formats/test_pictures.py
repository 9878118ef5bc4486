"""Pictures: made small and upright, stripped of where they were taken, refused when they are none."""

from __future__ import annotations

import base64
import hashlib
import io
import zlib

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from lift_crate.formats.pictures import BadPicture, PictureInFile, kept_picture, picture_from_file
from tests.kit import examples


def photo(size: tuple[int, int] = (3000, 1500), kind: str = "JPEG", turned: int = 1, mode: str = "RGB") -> bytes:
    """A photo, its left half red, with what a phone tells beside it."""
    image = Image.new(mode, size, "blue")
    image.paste(Image.new(mode, (size[0] // 2, size[1]), "red"), (0, 0))
    told = Image.Exif()
    told[0x0112] = turned
    told[0x010F] = "a maker"
    told.get_ifd(0x8825)[2] = (52.0, 30.0, 0.0)
    out = io.BytesIO()
    image.save(out, kind, exif=told)
    return out.getvalue()


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_a_photo_is_made_small_and_tells_nothing_more(kind: str) -> None:
    kept = kept_picture(photo(kind=kind))
    assert (kept.width, kept.height) == (1280, 640)
    again = Image.open(io.BytesIO(kept.jpeg))
    assert again.size == (1280, 640)
    assert not len(again.getexif())
    assert b"maker" not in kept.jpeg
    assert kept_picture(photo(kind=kind)).id == kept.id
    file = PictureInFile(id=kept.id, jpeg=base64.b64encode(kept.jpeg).decode())
    assert picture_from_file(file) == kept


def test_a_turned_photo_stands_upright() -> None:
    kept = kept_picture(photo(turned=6))
    image = Image.open(io.BytesIO(kept.jpeg))
    assert image.size == (640, 1280)
    top, bottom = image.getpixel((320, 200)), image.getpixel((320, 1000))
    assert isinstance(top, tuple)
    assert isinstance(bottom, tuple)
    assert top[0] > 200 > bottom[0]


def test_a_small_one_stays_its_size_and_clear_parts_become_paper() -> None:
    out = io.BytesIO()
    Image.new("RGBA", (40, 30), (0, 0, 0, 0)).save(out, "PNG")
    kept = kept_picture(out.getvalue())
    assert (kept.width, kept.height) == (40, 30)
    assert Image.open(io.BytesIO(kept.jpeg)).getpixel((5, 5)) == (255, 255, 255)


def bomb() -> bytes:
    """A PNG of a few kilobytes that says it has 30 000 × 30 000 pixels."""

    def chunk(name: bytes, data: bytes) -> bytes:
        return len(data).to_bytes(4, "big") + name + data + zlib.crc32(name + data).to_bytes(4, "big")

    head = (30_000).to_bytes(4, "big") * 2 + bytes([8, 2, 0, 0, 0])
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(b"0" * 1000)) + chunk(b"IEND", b"")
    )


@pytest.mark.parametrize(
    ("raw", "says"),
    [
        (b"", "no picture"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "no picture"),
        (b"GIF89a" + bytes(50), "no picture"),
        (photo()[:900], "damaged"),
        (bomb(), "pixels"),
        (bytes(15_000_001), "15 MB at most"),
    ],
)
def test_what_is_no_picture_is_refused_with_a_sentence(raw: bytes, says: str) -> None:
    with pytest.raises(BadPicture, match=says):
        kept_picture(raw)


@settings(max_examples=examples(60), deadline=None)
@given(st.data())
def test_a_damaged_file_never_does_worse_than_being_refused(data: st.DataObject) -> None:
    raw = bytearray(photo((64, 32), data.draw(st.sampled_from(["JPEG", "PNG", "WEBP"]))))
    for _ in range(data.draw(st.integers(1, 6))):
        raw[data.draw(st.integers(0, len(raw) - 1))] = data.draw(st.integers(0, 255))
    try:
        kept = kept_picture(bytes(raw))
    except BadPicture:
        return
    assert max(kept.width, kept.height) <= 1280


@pytest.mark.parametrize(
    ("change", "says"),
    [({"jpeg": "%%"}, "base64"), ({"id": "other"}, "not what its id says"), ({"jpeg": "QUJD"}, "no picture")],
)
def test_a_picture_in_a_file_is_what_it_says(change: dict[str, str], says: str) -> None:
    kept = kept_picture(photo((80, 40)))
    good = {"id": kept.id, "jpeg": base64.b64encode(kept.jpeg).decode()}
    with pytest.raises(BadPicture, match=says):
        picture_from_file(PictureInFile(**{**good, **change}))


def test_a_picture_in_a_file_that_tells_a_place_is_refused() -> None:
    raw = photo((80, 40))
    told = PictureInFile(id=hashlib.sha256(raw).hexdigest()[:32], jpeg=base64.b64encode(raw).decode())
    with pytest.raises(BadPicture, match="tells where"):
        picture_from_file(told)
