"""Patterns for cards and cases."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..equipment import CaseData
from ..recording import CardData
from .question import Answers, Question
from .sketch import Pattern, Sketch, mass, num

__all__ = ["KEEPING"]


def _card(a: Answers, s: Sketch) -> Mapping[str, Any]:
    reader = a.choice("called") == "reader"
    size = 12.0 if a.choice("called") == "card" else 60.0
    s.box((-size / 2, size / 2), (-size, size), (0, size / 4))
    return {
        "kind": a.choice("called"),
        "cg_mm": (0.0, 0.0, size / 8),
        "card": CardData(
            slot=a.text("slot"),
            gb=None if reader else a.number("gb"),
            write_mb_s=a.maybe("write_mb_s"),
            read_mb_s=a.maybe("read_mb_s"),
            bays=max(1, int(a.number("bays"))),
        ),
        "derived": ("shapes",),
    }


def _case(a: Answers, s: Sketch) -> Mapping[str, Any]:
    inside = (a.number("in_l_mm"), a.number("in_w_mm"), a.number("in_h_mm"))
    outside = (a.number("out_l_mm"), a.number("out_w_mm"), a.number("out_h_mm"))
    for i, name in enumerate(("in_l_mm", "in_w_mm", "in_h_mm")):
        if inside[i] > outside[i]:
            a.problem(name, f"{inside[i]:g} mm inside do not go into {outside[i]:g} mm outside.")
    x, y, z = outside
    s.box((-x / 2, x / 2), (-y / 2, y / 2), (0, z))
    return {
        "kind": "case",
        "cg_mm": (0.0, 0.0, z * 0.45),
        "case": CaseData(
            inside_mm=inside,
            outside_mm=outside,
            most_kg=a.maybe("most_kg"),
            waterproof=a.yes("waterproof"),
            travels=a.choice("travels"),  # type: ignore[arg-type]  # one of its choices
            seen=a.choice("seen"),  # type: ignore[arg-type]  # one of its choices
        ),
        "derived": ("cg_mm",),
    }


KEEPING = (
    Pattern(
        id="card",
        label="Card, drive or reader",
        group="Keeping",
        draw=_card,
        questions=(
            Question(key="called", label="Kind", kind="choice", choices=("card", "drive", "reader")),
            Question(
                key="slot",
                label="Kind of slot, as written on it",
                kind="text",
                required=True,
                feeds="cards",
                field="card.slot",
            ),
            num("gb", "Size", "GB", 1, 100_000, 128.0, feeds="minutes", field="card.gb"),
            num("write_mb_s", "Writes without a pause", "MB/s", 1, 20_000, feeds="rate", field="card.write_mb_s"),
            num("read_mb_s", "Reads", "MB/s", 1, 20_000, feeds="copying", field="card.read_mb_s"),
            num("bays", "Cards at once", "", 1, 16, 1.0, more=True),
            mass(1, 2000, 10.0),
        ),
    ),
    Pattern(
        id="case",
        label="Case or bag",
        group="Keeping",
        draw=_case,
        questions=(
            num("in_l_mm", "Inside: length", "mm", 80, 2000, 500.0, feeds="packing"),
            num("in_w_mm", "width", "mm", 60, 1200, 300.0, feeds="packing"),
            num("in_h_mm", "height", "mm", 40, 1200, 180.0, feeds="packing"),
            num("out_l_mm", "Outside: length", "mm", 90, 2100, 550.0, feeds="packing"),
            num("out_w_mm", "width", "mm", 70, 1300, 350.0, feeds="packing"),
            num("out_h_mm", "height", "mm", 50, 1300, 220.0, feeds="packing"),
            mass(100, 40_000, 4000.0),
            Question(
                key="travels",
                label="Travels",
                kind="choice",
                choices=("van", "cabin", "hold", "on the back"),
                field="case.travels",
            ),
            num("most_kg", "May weigh, full", "kg", 1, 200, more=True, field="case.most_kg"),
            Question(key="waterproof", label="Waterproof", kind="yes", more=True, field="case.waterproof"),
            Question(
                key="seen",
                label="Seen from afar",
                kind="choice",
                choices=("", "dark", "bright", "reflective"),
                more=True,
                field="case.seen",
            ),
        ),
    ),
)
