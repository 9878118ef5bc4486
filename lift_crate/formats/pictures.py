"""Pictures that people give: turned upright, made smaller, stripped of everything but the picture.

A phone's photo tells where and when it was taken; none of that is kept.
"""

from __future__ import annotations

import base64
import binascii
import hashlib
import io
import struct
import warnings
from dataclasses import dataclass
from typing import Annotated

from annotated_types import MaxLen
from PIL import Image, ImageOps, UnidentifiedImageError

from ..core.errors import LiftCrateError
from ..core.quantities import Identifier
from ..core.settings import STRICT

__all__ = ["MAX_PICTURE_BYTES", "BadPicture", "KeptPicture", "PictureInFile", "kept_picture", "picture_from_file"]

MAX_PICTURE_BYTES = 15_000_000
_MOST_PIXELS = 50_000_000
_MOST_PX = 1280
"""Longest side of what is kept."""
_QUALITY = 82
_MOST_KEPT_BYTES = 1_500_000
_READ = ("JPEG", "PNG", "WEBP")
_DAMAGED = (OSError, ValueError, SyntaxError, MemoryError, TypeError, LookupError, OverflowError, struct.error)
"""What the readers raise on files that are cut or changed."""


class BadPicture(LiftCrateError, ValueError):
    """A file that is no picture that can be kept."""

    code = "picture.bad"


@dataclass(frozen=True, slots=True)
class KeptPicture:
    """A picture as it is kept: a JPEG, its size in pixels, called by what is in it."""

    id: str
    jpeg: bytes
    width: int
    height: int


@dataclass(frozen=True, kw_only=True)
class PictureInFile:
    """A kept picture as text (base64), as it stands in a job file."""

    __pydantic_config__ = STRICT

    id: Identifier
    jpeg: Annotated[str, MaxLen(2 * _MOST_KEPT_BYTES)]


def kept_picture(raw: bytes) -> KeptPicture:
    """A picture to be kept, made of a JPEG, PNG or WebP file. Raises BadPicture."""
    if len(raw) > MAX_PICTURE_BYTES:
        raise BadPicture(f"The picture has {len(raw) / 1e6:.1f} MB; {MAX_PICTURE_BYTES / 1e6:.0f} MB at most.")
    image = _opened(raw)
    image.draft("RGB", (_MOST_PX, _MOST_PX))
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            flat = _flat(image)
    except _DAMAGED as error:
        raise BadPicture(
            "The picture is damaged and cannot be read to its end. Save it anew, or take another."
        ) from error
    out = io.BytesIO()
    Image.frombytes("RGB", flat.size, flat.tobytes()).save(out, "JPEG", quality=_QUALITY, optimize=True)
    return _named(out.getvalue(), flat.size)


def _flat(image: Image.Image) -> Image.Image:
    """The picture upright, on white paper where one looks through it, small."""
    upright = ImageOps.exif_transpose(image)
    if upright.has_transparency_data:
        paper = Image.new("RGB", upright.size, "white")
        paper.paste(upright, mask=upright.convert("RGBA").getchannel("A"))
        upright = paper
    flat = upright.convert("RGB")
    flat.thumbnail((_MOST_PX, _MOST_PX))
    return flat


def picture_from_file(picture: PictureInFile) -> KeptPicture:
    """A picture as it stands in a job file, read again. Raises BadPicture."""
    try:
        raw = base64.b64decode(picture.jpeg, validate=True)
    except (binascii.Error, ValueError):
        raise BadPicture(f"picture '{picture.id}': jpeg is no base64; leave the picture out") from None
    kept = _named(raw, _opened(raw, ("JPEG",)).size)
    if kept.id != picture.id:
        raise BadPicture(f"picture '{picture.id}' is not what its id says; it was changed. Leave it out")
    if b"Exif\x00" in raw[:65_536]:
        raise BadPicture(f"picture '{picture.id}' tells where or with what it was taken; give it on the screen instead")
    return kept


def _named(jpeg: bytes, size: tuple[int, int]) -> KeptPicture:
    return KeptPicture(hashlib.sha256(jpeg).hexdigest()[:32], jpeg, *size)


def _opened(raw: bytes, formats: tuple[str, ...] = _READ) -> Image.Image:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            image = Image.open(io.BytesIO(raw), formats=formats)
    except (Image.DecompressionBombError, Image.DecompressionBombWarning) as error:
        raise BadPicture("The picture has too many pixels; 50 million at most.") from error
    except (UnidentifiedImageError, *_DAMAGED) as error:
        raise BadPicture("This is no picture that can be read here. Give a JPEG, PNG or WebP file.") from error
    if image.width * image.height > _MOST_PIXELS:
        raise BadPicture(f"The picture has {image.width} × {image.height} pixels; 50 million at most.")
    return image
