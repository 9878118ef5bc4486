"""What a rig draws on average: it rolls for a share of the time, and stands by or is off for the rest.

Formulas: docs/formulas.md §5, 'Rolling and standing by'.
"""

from __future__ import annotations

from collections.abc import Mapping

from ..rig.build import Conditions
from ..rig.layout import Layout
from ..settings import Settings

__all__ = ["average_w", "saved_w"]


def average_w(record_w: float, standby_w: float, conditions: Conditions, restart_min: float, *, off: bool) -> float:
    """Mean draw of a device, W: r·record + (1 − r)·standby; switched off between takes it stands by only while it
    starts, n·restart of every hour, never for longer than it would otherwise.

    20 W and 12 W, rolling 25 % of the time in 6 takes an hour: 14.0 W, switched off 6.2 W with 1 min to start.
    """
    by = 1 - conditions.rolling
    if off:
        by = min(by, conditions.takes_per_h * restart_min / 60)
    return conditions.rolling * record_w + by * standby_w


def saved_w(layout: Layout, conditions: Conditions, settings: Settings, *, off: bool) -> Mapping[str, float]:
    """By how much less than rolling each device draws on average, watts below 0; empty when all roll always."""
    if conditions.rolling >= 1:
        return {}
    found = {}
    for unit in layout.every_unit:
        draw, _ = layout.catalogue.draw_of(unit)
        if draw:
            mean = average_w(draw.record_w, draw.standby_w, conditions, settings.restart_min, off=off)
            found[unit] = mean - draw.record_w
    return found
