"""Mass and CG of a real thing from a scale, a block and a ruler.

Formulas: docs/formulas.md §1, 'Measuring a CG'. Distances from the film-plane mark
or the reference of the part, mm, forward positive; masses in g.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..errors import LiftCrateError
from ..wording import signed

__all__ = ["BadMeasurement", "Measured", "cg_from_edge", "cg_from_scale", "mass_from_scale"]

_READING_SD_G = 1.0
"""How well a bench scale is read."""
_RULER_SD_MM = 0.5
_EDGE_SD_MM = 1.0
"""How well a thing is balanced on an edge."""


class BadMeasurement(LiftCrateError, ValueError):
    """Readings that cannot belong together."""

    code = "measure.bad"


@dataclass(frozen=True, slots=True)
class Measured:
    """A figure with one standard deviation and how it came about."""

    value: float
    sd: float
    unit: str
    formula: str
    numbers: str


def mass_from_scale(gross_g: float, tare_g: float = 0.0) -> Measured:
    """Mass from a reading less its tare; raises BadMeasurement when nothing is left."""
    mass = gross_g - tare_g
    if mass <= 0:
        raise BadMeasurement(
            f"The scale reads {gross_g:g} g with {tare_g:g} g of tare: nothing is left. Put the part on and read again."
        )
    return Measured(
        mass,
        _READING_SD_G * math.sqrt(2 if tare_g else 1),
        "g",
        "M = W − tare",
        f"{gross_g:g} − {tare_g:g} = {mass:g} g",
    )


def cg_from_scale(
    mass_g: float, span_mm: float, gross_g: float, tare_g: float, block_at_mm: float, scale_at_mm: float
) -> Measured:
    """CG along a beam with one end on a block and the other on a scale, rig and beam level.

    x = d·W/M from the block towards the scale, W the reading less tare. ``block_at_mm``
    and ``scale_at_mm`` are where the two stand, from the part's reference; their
    distance must be the span.
    """
    reading = gross_g - tare_g
    if mass_g <= 0 or span_mm <= 0:
        raise BadMeasurement(
            "Mass and span must be above zero; weigh the part first and measure between block and scale."
        )
    if abs(abs(scale_at_mm - block_at_mm) - span_mm) > 1.0:
        raise BadMeasurement(
            f"Block at {block_at_mm:g} mm and scale at {scale_at_mm:g} mm are {abs(scale_at_mm - block_at_mm):g} mm"
            f" apart, not {span_mm:g} mm."
        )
    if not 0 < reading < mass_g:
        raise BadMeasurement(
            f"The scale carries {reading:g} g of {mass_g:g} g; with the CG between block and scale it carries a part"
            " of it."
        )
    way = span_mm * reading / mass_g
    towards = 1.0 if scale_at_mm > block_at_mm else -1.0
    sd = math.hypot(span_mm * _READING_SD_G / mass_g, _RULER_SD_MM)
    return Measured(
        block_at_mm + towards * way,
        sd,
        "mm",
        "x = d·W/M from the block towards the scale",
        f"{span_mm:g} mm × {reading:g} g / {mass_g:g} g = {way:.1f} mm from the block;"
        f" {signed(block_at_mm + towards * way, 1)} mm",
    )


def cg_from_edge(edge_at_mm: float, second_at_mm: float | None = None) -> Measured:
    """CG from where a thing balances on an edge, read once or in two attitudes turned end for end.

    Two readings that differ by more than 4 mm contradict each other: BadMeasurement.
    """
    if second_at_mm is None:
        return Measured(edge_at_mm, _EDGE_SD_MM, "mm", "x = place of the edge", f"{signed(edge_at_mm)} mm")
    if abs(edge_at_mm - second_at_mm) > 4:
        raise BadMeasurement(
            f"The two readings, {signed(edge_at_mm)} and {signed(second_at_mm)} mm, differ by"
            f" {abs(edge_at_mm - second_at_mm):g} mm; balance it again."
        )
    middle = (edge_at_mm + second_at_mm) / 2
    return Measured(
        middle,
        _EDGE_SD_MM / math.sqrt(2),
        "mm",
        "x = mean of the two attitudes",
        f"({signed(edge_at_mm)} {signed(second_at_mm)})/2 = {signed(middle, 1)} mm",
    )
