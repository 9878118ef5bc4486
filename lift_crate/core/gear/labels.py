"""Labels of units, and ids made from what people call things."""

from __future__ import annotations

import re
from collections.abc import Container

from slugify import slugify

__all__ = ["fresh_id", "labels_in_series", "slug", "words_of"]

_NUMBER = re.compile(r"(.*?)(\d+)$")
_MOST_DIGITS = 6
_MOST_ID = 64


_WORD = re.compile(r"[\s\-–/]+")


def words_of(text: str) -> tuple[str, ...]:
    """The words of what was typed or of a name, small: blanks, hyphens and strokes stand between them."""
    return tuple(word for word in _WORD.split(text.lower()) if word)


def slug(label: str) -> str:
    """Letters, digits and hyphens made from a label, as they stand in addresses; empty where nothing is left."""
    return slugify(label, max_length=_MOST_ID, word_boundary=True)


def fresh_id(label: str, taken: Container[str], instead: str) -> str:
    """An id made from a label that nothing else has; ``instead`` where nothing is left of it."""
    base = slug(label) or instead
    found, count = base, 1
    while found in taken:
        count += 1
        found = f"{base[: _MOST_ID - 4]}-{count}"
    return found


def labels_in_series(first: str, count: int) -> tuple[str, ...]:
    """So many labels counting on from the first: PACK-09, PACK-10; zeros in front keep their places.

    A label without a number is counted from 1, CUP-1, CUP-2; a single one stays as it is.
    """
    label = first.strip()
    numbered = _NUMBER.fullmatch(label)
    if numbered is None or len(numbered[2]) > _MOST_DIGITS:
        return (label,) if count == 1 else tuple(f"{label}-{i}" for i in range(1, count + 1))
    stem, digits = numbered.groups()
    return tuple(f"{stem}{int(digits) + i:0{len(digits)}d}" for i in range(count))
