"""How figures are written in sentences."""

from __future__ import annotations

__all__ = ["signed"]


def signed(value: float, digits: int | None = None) -> str:
    """A figure with its sign, a true minus, and so many digits; as short as it goes where none are asked for."""
    text = f"{value:+g}" if digits is None else f"{value:+.{digits}f}"
    return text.replace("-", "−")
