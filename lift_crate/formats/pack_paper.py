"""Packing on paper and as CSV: a sheet a case with a box to tick out and back, labels with a code, the list."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from reportlab.graphics.shapes import Drawing, Rect, String
from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, KeepTogether, PageBreak, Spacer, Table

from ..core.callouts import Level
from ..core.job.job import Job
from ..core.job.packing import EXTRA
from ..core.pack.along import PEOPLE, Thing
from ..core.pack.lists import Lists
from ..core.pack.packed import Packed, PackedCase, stays
from ..core.rig.build import Catalogue
from .day_list import written
from .lettering import drawn, letters
from .paper import CAUTION, INK, RULE, grid, head, made, said

__all__ = ["labels_pdf", "pack_csv", "pack_pdf"]

_PLAN_MM = 62.0
_COLUMNS = (
    *("label", "what", "pieces", "kg", "length mm", "width mm", "height mm"),
    *("case", "state", "in", "wanted first", "why", "hired until"),
)
_ACROSS, _DOWN, _LABEL_W, _LABEL_H = 3, 8, 63.5, 33.9
"""Labels on a sheet of A4, and the size of each, mm."""


def pack_csv(job: Job, catalogue: Catalogue, things: Sequence[Thing], packed: Packed | None, lists: Lists) -> str:
    """One line a thing: its case as planned and as it is, mass, box, when it is wanted first."""
    case_of = {each.thing: case.box.unit for case in packed.cases for each in case.laid} if packed else {}
    left = stays(job)
    return written(
        _COLUMNS,
        (
            (
                t.id.removeprefix(EXTRA),
                t.title,
                str(t.count),
                "" if t.mass_g is None else f"{t.mass_g / 1000:.3f}",
                *(("", "", "") if t.size_mm is None else tuple(f"{x:.0f}" for x in t.size_mm)),
                "stays" if t.id in left else "with people" if t.group == PEOPLE else case_of.get(t.id, ""),
                lists.of(t.id).state,
                lists.of(t.id).case,
                t.first.isoformat() if t.first else "",
                "; ".join(t.whys),
                _until(catalogue, t.id),
            )
            for t in things
        ),
    )  # fmt: skip


def _until(catalogue: Catalogue, thing: str) -> str:
    unit = catalogue.units.get(thing)
    return unit.hired_until.isoformat() if unit and unit.owner == "hired" and unit.hired_until else ""


def pack_pdf(job: Job, things: Sequence[Thing], packed: Packed | None) -> bytes:
    """A sheet for every case: its layers from above to scale, what is in it, first wanted first; then what people take
    and what is in no case.
    """
    by_id = {t.id: t for t in things}
    story: list[Flowable] = []
    for case in packed.cases if packed else ():
        story += [PageBreak()] if story else []
        story += _case_page(case, by_id, packed)
    placed = {each.thing for case in packed.cases for each in case.laid} if packed else set()
    placed |= {name for case in packed.cases for name in case.loose} if packed else set()
    for title, rest in (
        ("With people", [t for t in things if t.group == PEOPLE and t.id not in placed]),
        ("In no case", [t for t in things if t.group != PEOPLE and t.id not in placed and t.id not in stays(job)]),
        ("Stays behind", [t for t in things if t.id in stays(job)]),
    ):
        if rest:
            rows = [_row(t, "") for t in rest]
            story += [Spacer(1, 5 * mm), head(title, small=True), _list(rows)]
    return made([*story, said(CAUTION)] if story else [said("Nothing goes along.")], f"{job.title}: packing")


def _case_page(case: PackedCase, by_id: dict[str, Thing], packed: Packed | None) -> list[Flowable]:
    box = case.box
    carried = f", carried by {box.along.carried_by}" if box.along.carried_by else ""
    story: list[Flowable] = [
        head(box.unit),
        said(
            f"{box.title}, {box.travels}{carried}."
            f" {case.mass_g / 1000:.1f} kg of {box.most_g / 1000:g} kg ({box.most_from})."
        ),
    ]
    layers = sorted({each.layer for each in case.laid})
    number = {each.thing: i for i, each in enumerate(sorted(case.laid, key=lambda e: (-e.layer, e.thing)), 1)}
    plans = [_plan(case, layer, number) for layer in reversed(layers)]
    if plans:
        story.append(said(f"From the top: {len(plans)} {'layer' if len(plans) == 1 else 'layers'}, to scale."))
        story.append(_beside(plans))
    rows = [
        _row(by_id[each.thing], str(number[each.thing])) for each in sorted(case.laid, key=lambda e: number[e.thing])
    ]
    rows += [_row(by_id[name], "by hand") for name in case.loose]
    story.append(_list(rows))
    told = [f for f in packed.findings if box.unit in f.about.units and f.level >= Level.NOTE] if packed else []
    story += [said(f"{f.level.name.capitalize()}: {f.text}", stop=f.level is Level.STOP) for f in told]
    return story


def _row(t: Thing, number: str) -> tuple[str, ...]:
    kg = "" if t.mass_g is None else f"{t.mass_g / 1000:.2f}"
    name = t.called
    title = t.title if t.labelled else f"{t.count} pieces"
    first = f"{t.first:%a %H:%M} {t.first_for}" if t.first else t.whys[0] if t.whys else ""
    return number, "☐", "☐", name, title, kg, first


def _list(rows: Sequence[Sequence[str]]) -> Flowable:
    return grid(("", "out", "back", "label", "what", "kg", "wanted first"), rows, (13, 9, 10, 30, 56, 12, 52))


def _plan(case: PackedCase, layer: int, number: dict[str, int]) -> Drawing:
    line: Any = {"strokeColor": HexColor(INK), "strokeWidth": 1.2, "fillColor": None}
    thin: Any = {"strokeColor": HexColor(RULE), "strokeWidth": 0.5, "fillColor": HexColor("#eef1ec")}
    long, deep, _ = case.box.inside_mm
    scale = _PLAN_MM * mm / max(long, deep)
    drawing = Drawing(long * scale + 8, deep * scale + 8)
    drawing.add(Rect(0, 0, long * scale, deep * scale, **line))
    for each in case.laid:
        if each.layer == layer:
            x, y = each.at_mm[0] * scale, each.at_mm[1] * scale
            wide, high = each.size_mm[0] * scale, each.size_mm[1] * scale
            drawing.add(Rect(x, y, wide, high, **thin))
            if min(wide, high) > 7:
                middle: Any = {"fontName": letters()[0], "fontSize": 6.5, "textAnchor": "middle"}
                drawing.add(String(x + wide / 2, y + high / 2 - 2.5, str(number[each.thing]), **middle))
    return drawing


def _beside(plans: Sequence[Drawing]) -> Flowable:
    rows: list[list[Any]] = [list(plans[i : i + 2]) for i in range(0, len(plans), 2)]
    if len(rows) > 1 and len(rows[-1]) == 1:
        rows[-1].append("")
    return KeepTogether(Table(rows, hAlign="LEFT"))


def labels_pdf(job: Job, units: Sequence[tuple[str, str]]) -> bytes:
    """Labels for A4 sheets, 3 by 8 of 63.5 × 33.9 mm: a QR code that says the label, the label itself, and what it is.

    ``units``: label and title.
    """
    import segno  # noqa: PLC0415 - loaded when the first label is printed

    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(210 * mm, 297 * mm))
    canvas.setTitle(f"{job.title}: labels")
    regular, bold, _ = letters()
    for i, (unit, title) in enumerate(units):
        at = i % (_ACROSS * _DOWN)
        if i and at == 0:
            canvas.showPage()
        x = (7.2 + (at % _ACROSS) * (_LABEL_W + 2.5)) * mm
        y = (297 - 13 - (at // _ACROSS + 1) * _LABEL_H) * mm
        matrix = [list(row) for row in segno.make_qr(unit, error="m").matrix_iter(border=2)]
        cell = 26 * mm / len(matrix)
        canvas.setFillColor(HexColor("#000000"))
        for row, line in enumerate(matrix):
            for column, dark in enumerate(line):
                if dark:
                    canvas.rect(x + column * cell, y + 30 * mm - (row + 1) * cell, cell, cell, stroke=0, fill=1)
        canvas.setFont(bold, _fitting(unit, 12.0, 33 * mm))
        canvas.drawString(x + 28 * mm, y + 19 * mm, drawn(unit))
        canvas.setFont(regular, 6.5)
        for n, part in enumerate(_lines(title, 26)[:3]):
            canvas.drawString(x + 28 * mm, y + (14 - 3 * n) * mm, drawn(part))
    canvas.save()
    return out.getvalue()


def _fitting(text: str, size: float, width: float) -> float:
    """A size of letters in which a label fits its width."""
    return min(size, max(5.0, width / max(1, len(text)) / 0.68))


def _lines(text: str, most: int) -> list[str]:
    lines = [""]
    for word in text.split():
        if len(lines[-1]) + len(word) + 1 > most and lines[-1]:
            lines.append("")
        lines[-1] = f"{lines[-1]} {word}".strip()
    return lines
