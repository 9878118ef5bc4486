"""What every sheet of paper is made of: headings, lines, tables with boxes to tick, A4 pages with a foot."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence
from typing import Any
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Table, TableStyle

from ..core.wording import true_minus
from .lettering import drawn, letters

__all__ = ["CAUTION", "Box", "grid", "head", "made", "said"]

RULE, INK, STOP = "#8e988f", "#1a211e", "#a33a12"
CAUTION = "Lift Crate computes; it does not certify. Local codes, the venue and licensed people decide."


def style(*, bold: bool = False, size: float = 8.5, colour: str = INK) -> ParagraphStyle:
    regular, heavy, _ = letters()
    return ParagraphStyle(
        "sheet",
        fontName=heavy if bold else regular,
        fontSize=size,
        leading=size * 1.3,
        textColor=HexColor(colour),
        spaceAfter=2,
    )


def head(text: str, *, small: bool = False) -> Flowable:
    """A heading of a sheet, or of a part of one."""
    return Paragraph(escape(drawn(text)), style(bold=True, size=11 if small else 16))


def said(text: str, *, stop: bool = False) -> Flowable:
    """A line of text; as a Stop where it is one."""
    return Paragraph(escape(drawn(true_minus(text))), style(colour=STOP if stop else INK))


def grid(heads: Sequence[str], rows: Sequence[Sequence[str]], widths_mm: Sequence[float]) -> Flowable:
    """A table under a thick line, a thin one between its rows; a box to tick where a cell holds nothing else. A row
    that is longer than a page goes on on the next.
    """
    plain, strong = style(), style(bold=True, size=7.5)
    lines: list[list[Any]] = [[Paragraph(escape(drawn(text)), strong) for text in heads]]
    lines += [[Box() if text == "☐" else Paragraph(escape(drawn(text)), plain) for text in row] for row in rows]
    table = Table(lines, colWidths=[w * mm for w in widths_mm], repeatRows=1, splitInRow=1, hAlign="LEFT")
    table.setStyle(
        TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, 0), 1.2, INK),
                ("LINEBELOW", (0, 1), (-1, -1), 0.3, RULE),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 2),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 1),
            ]
        )
    )
    return table


class Box(Flowable):
    """A square to be ticked by hand."""

    def wrap(self, *_: float) -> tuple[float, float]:
        """Its room, points."""
        return 9, 10

    def draw(self) -> None:
        """The square."""
        self.canv.setStrokeColor(INK)
        self.canv.rect(0, 1, 8, 8, stroke=1, fill=0)


def made(story: Sequence[Flowable], title: str, *, wide: bool = False) -> bytes:
    """The PDF of a story, A4 upright or wide, with its title and page in the foot."""
    out = io.BytesIO()
    page = landscape(A4) if wide else A4
    document = SimpleDocTemplate(
        out,
        pagesize=page,
        title=title,
        author="Lift Crate",
        leftMargin=14 * mm,
        rightMargin=14 * mm,
        topMargin=13 * mm,
        bottomMargin=15 * mm,
    )
    foot = _foot(title)
    document.build(list(story), onFirstPage=foot, onLaterPages=foot)
    return out.getvalue()


def _foot(title: str) -> Callable[[Canvas, SimpleDocTemplate], None]:
    def under(canvas: Canvas, document: SimpleDocTemplate) -> None:
        canvas.setFont(letters()[0], 7)
        canvas.drawString(14 * mm, 8 * mm, drawn(f"{title}, page {document.page}"))

    return under
