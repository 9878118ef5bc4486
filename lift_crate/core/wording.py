"""How figures are written in sentences."""

from __future__ import annotations

import re

__all__ = ["signed", "true_minus"]

_ASCII_MINUS = re.compile(r"(?<![\w−.-])-(?=\d)")


def signed(value: float, digits: int | None = None) -> str:
    """A figure with its sign, a true minus, and so many digits; as short as it goes where none are asked for."""
    text = f"{value:+g}" if digits is None else f"{value:+.{digits}f}"
    return text.replace("-", "−")


def true_minus(text: str) -> str:
    """A sentence with its negative figures written with a true minus; hyphens in names and dates stay."""
    return _ASCII_MINUS.sub("−", text)
