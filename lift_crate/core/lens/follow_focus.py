"""What turns a lens: gears that mesh with its focus ring, and reach it."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..callouts import About, Finding, Level
from ..rig.assembly import Assembly
from .coverage import View

__all__ = ["follow_focus_findings"]

_GEAR_WIDTH_SHARE = 0.5
_MESH_MM = 1.5
"""How far a gear may stand from its ring and still be swung into it when its maker gives no swing."""


def follow_focus_findings(assembly: Assembly, view: View | None) -> Iterator[Finding]:
    """Gears of motors and follow focus units on the focus ring of the front lens."""
    if view is None:
        return
    tf_rig_lens = assembly.pose(view.lens)
    for unit in assembly.units:
        gear = assembly.catalogue.model_of(unit).follow_focus
        if gear is None:
            continue
        about = About(units=(unit, view.lens))
        rings = [ring for ring in view.data.gears if ring.control == "focus"]
        if not rings:
            yield Finding(
                code="focus.no_gear",
                level=Level.WATCH,
                about=about,
                text=f"{view.lens} has no toothed focus ring for {unit} to turn; strap one on, or focus by hand.",
            )
            continue
        ring = next((r for r in rings if r.module_mm == gear.module_mm), None)
        if ring is None:
            yield Finding(
                code="focus.pitch",
                level=Level.STOP,
                about=about,
                text=(
                    f"The gear of {unit} has a pitch of {gear.module_mm:g} mm, the focus ring of {view.lens}"
                    f" {rings[0].module_mm:g} mm; they do not mesh."
                ),
                value=gear.module_mm,
                limit=rings[0].module_mm,
                unit="mm",
            )
            continue
        at = tf_rig_lens.inverse().point(assembly.pose(unit).point(gear.at))
        off = float(at[0]) - ring.at_mm
        apart = float(np.hypot(at[1], at[2])) - (ring.radius_mm + gear.radius_mm)
        swing = max(gear.swing_mm, _MESH_MM)
        if abs(off) > gear.width_mm * _GEAR_WIDTH_SHARE or abs(apart) > swing:
            yield _misses(unit, view.lens, off, apart, swing, gear.width_mm)


def _misses(unit: str, lens: str, off: float, apart: float, swing: float, width_mm: float) -> Finding:
    words = []
    if abs(off) > width_mm * _GEAR_WIDTH_SHARE:
        words.append(f"it sits {abs(off):.0f} mm {'in front of' if off > 0 else 'behind'} the ring")
    if abs(apart) > swing:
        words.append(
            f"it stands {abs(apart):.0f} mm {'off' if apart > 0 else 'into'} the ring and swings {swing:.0f} mm"
        )
    return Finding(
        code="focus.reach",
        level=Level.WATCH,
        about=About(units=(unit, lens)),
        text=f"The gear of {unit} does not meet the focus ring of {lens}: {' and '.join(words)}.",
        value=off,
        limit=0.0,
        unit="mm",
    )
