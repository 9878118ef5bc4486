"""Elevations at scale as SVG and PDF: outlines far to near, CG mark, ruler, title block."""

from __future__ import annotations

import io
from collections.abc import Sequence
from xml.etree import ElementTree as ET

from reportlab.lib import units
from reportlab.lib.pagesizes import A3, landscape
from reportlab.pdfgen.canvas import Canvas

from ..core.drawings.elevation import Elevation
from .lettering import drawn, letters

MM = units.mm
"""Points in a millimetre."""

__all__ = ["drawing_pdf", "drawing_svg"]

_FILL = {
    "body": "#8e988f",
    "metal": "#b9c2ba",
    "glass": "#a9c4c9",
    "screen": "#2b3330",
    "soft": "#78827b",
    "accent": "#d9cfa6",
}
_LINE = "#1a211e"
_TITLE = {"side": "Side, operator's left", "front": "Front, from the subject", "top": "Top"}
_MARGIN_MM = 12.0
_TICK_MM = 50


def drawing_svg(elevation: Elevation, title: str, scale: float) -> bytes:
    """One elevation as SVG, 1:``scale``: its width and height are in real millimetres on paper."""
    h0, v0, h1, v1 = elevation.bounds
    margin = _MARGIN_MM * scale
    width, height = h1 - h0 + 2 * margin, v1 - v0 + 2 * margin
    svg = ET.Element(
        "svg",
        {
            "xmlns": "http://www.w3.org/2000/svg",
            "width": f"{width / scale:.2f}mm",
            "height": f"{height / scale:.2f}mm",
            "viewBox": f"{h0 - margin:.2f} {-(v1 + margin):.2f} {width:.2f} {height:.2f}",
        },
    )
    ET.SubElement(svg, "title").text = f"{title}: {_TITLE[elevation.view]}, 1:{scale:g}"
    thin = 0.25 * scale
    for outline in elevation.outlines:
        points = " ".join(f"{h:.1f},{-v:.1f}" for h, v in outline.points)
        shape = ET.SubElement(
            svg,
            "polygon",
            {"points": points, "fill": _FILL[outline.look], "stroke": _LINE, "stroke-width": f"{thin:.3f}"},
        )
        ET.SubElement(shape, "title").text = outline.unit
    for end in (((h0 - margin / 2, 0), (h1 + margin / 2, 0)), ((0, v0 - margin / 2), (0, v1 + margin / 2))):
        (x1, y1), (x2, y2) = end
        ET.SubElement(
            svg,
            "line",
            {
                "x1": f"{x1:.1f}",
                "y1": f"{-y1:.1f}",
                "x2": f"{x2:.1f}",
                "y2": f"{-y2:.1f}",
                "stroke": _LINE,
                "stroke-width": f"{thin / 2:.3f}",
                "stroke-dasharray": f"{4 * scale} {scale}",
            },
        )
    _svg_mark(svg, elevation, scale)
    _svg_ruler(svg, elevation, scale)
    return bytes(ET.tostring(svg, encoding="utf-8", xml_declaration=True))


def _svg_mark(svg: ET.Element, elevation: Elevation, scale: float) -> None:
    h, v = elevation.cg
    r = 2.2 * scale
    mark = ET.SubElement(svg, "g", {"stroke": _LINE, "stroke-width": f"{0.25 * scale:.3f}"})
    ET.SubElement(mark, "title").text = "centre of gravity"
    ET.SubElement(mark, "circle", {"cx": f"{h:.1f}", "cy": f"{-v:.1f}", "r": f"{r:.2f}", "fill": "white"})
    for dx, dy in ((r, -r), (-r, r)):
        ET.SubElement(
            mark,
            "path",
            {"d": f"M{h:.2f} {-v:.2f}h{dx:.2f}A{r:.2f} {r:.2f} 0 0 0 {h:.2f} {-v + dy:.2f}Z", "fill": _LINE},
        )


def _svg_ruler(svg: ET.Element, elevation: Elevation, scale: float) -> None:
    h0, v0, h1, _ = elevation.bounds
    base = -(v0 - _MARGIN_MM * scale * 0.45)
    sign = 1 if elevation.view == "front" else -1
    group = ET.SubElement(
        svg,
        "g",
        {
            "stroke": _LINE,
            "stroke-width": f"{0.2 * scale:.3f}",
            "font-family": "sans-serif",
            "font-size": f"{2.6 * scale:.2f}",
        },
    )
    first = int(h0 // _TICK_MM) * _TICK_MM
    for at in range(first, int(h1) + _TICK_MM, _TICK_MM):
        ET.SubElement(
            group, "line", {"x1": str(at), "x2": str(at), "y1": f"{base:.1f}", "y2": f"{base + 1.5 * scale:.1f}"}
        )
        text = ET.SubElement(
            group,
            "text",
            {"x": str(at), "y": f"{base + 4.6 * scale:.1f}", "text-anchor": "middle", "stroke": "none", "fill": _LINE},
        )
        text.text = str(sign * at).replace("-", "−")


def drawing_pdf(elevations: Sequence[Elevation], title: str, scale: float, figures: Sequence[str]) -> bytes:
    """All elevations on one A3 sheet, 1:``scale``, with a title block; side over top, front beside."""
    out = io.BytesIO()
    page = landscape(A3)
    canvas = Canvas(out, pagesize=page, pageCompression=1)
    canvas.setTitle(title)
    canvas.setAuthor("Lift Crate")
    by_view = {e.view: e for e in elevations}
    places = {"side": (20 * MM, 150 * MM), "front": (285 * MM, 150 * MM), "top": (20 * MM, 25 * MM)}
    for view, (x, y) in places.items():
        if view in by_view:
            _pdf_view(canvas, by_view[view], x, y, scale)
    regular, bold, _ = letters()
    canvas.setFont(bold, 13)
    canvas.drawString(285 * MM, 60 * MM, drawn(title))
    canvas.setFont(regular, 9)
    for i, line in enumerate((f"Scale 1:{scale:g}, lengths in mm", *figures)):
        canvas.drawString(285 * MM, (52 - 6 * i) * MM, drawn(line))
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _pdf_view(canvas: Canvas, elevation: Elevation, x: float, y: float, scale: float) -> None:
    h0, v0, h1, v1 = elevation.bounds

    def at(h: float, v: float) -> tuple[float, float]:
        return x + (h - h0) / scale * MM, y + (v - v0) / scale * MM

    canvas.setStrokeColor(_LINE)
    canvas.setLineWidth(0.5)
    for outline in elevation.outlines:
        path = canvas.beginPath()
        path.moveTo(*at(*outline.points[0]))
        for point in outline.points[1:]:
            path.lineTo(*at(*point))
        path.close()
        canvas.setFillColor(_FILL[outline.look])
        canvas.drawPath(path, stroke=1, fill=1)
    canvas.setDash(6, 2)
    canvas.line(*at(h0 - 20, 0), *at(h1 + 20, 0))
    canvas.line(*at(0, v0 - 20), *at(0, v1 + 20))
    canvas.setDash()
    cx, cy = at(*elevation.cg)
    canvas.setFillColor("white")
    canvas.circle(cx, cy, 6, stroke=1, fill=1)
    canvas.setFillColor(_LINE)
    for start in (0, 180):
        canvas.wedge(cx - 6, cy - 6, cx + 6, cy + 6, start, 90, stroke=0, fill=1)
    canvas.setFont(letters()[0], 8)
    left, bottom = at(h0, v0)
    canvas.drawString(left, bottom - 12, f"{_TITLE[elevation.view]}, {h1 - h0:.0f} × {v1 - v0:.0f} mm")
