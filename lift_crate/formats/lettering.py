"""The letters of what is printed, embedded in every sheet."""

from __future__ import annotations

from functools import cache

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

__all__ = ["drawn", "letters"]


@cache
def letters() -> tuple[str, str, frozenset[int]]:
    """The fonts of the sheet, regular and bold, embedded; and what characters
    the first has: the letters of Europe and a true minus.
    """
    regular, bold = TTFont("Sheet", "Vera.ttf"), TTFont("Sheet-Bold", "VeraBd.ttf")
    pdfmetrics.registerFont(regular)
    pdfmetrics.registerFont(bold)
    return "Sheet", "Sheet-Bold", frozenset(regular.face.charToGlyph)


def drawn(text: str) -> str:
    """What the fonts have; an arrow as two strokes, anything else that they lack as a question mark."""
    known = letters()[2]
    return "".join(c if ord(c) in known else "?" for c in text.replace("→", "->"))
