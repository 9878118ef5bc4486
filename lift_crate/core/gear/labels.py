"""Labels of units: what is written on a thing so that it can be told from those alike."""

from __future__ import annotations

import re

__all__ = ["labels_in_series"]

_NUMBER = re.compile(r"(.*?)(\d+)$")
_MOST_DIGITS = 6


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
