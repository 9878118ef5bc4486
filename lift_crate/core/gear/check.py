"""Does a model make sense against the interfaces it names: ports on its surface, rails as long as their travel."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from .interface import Interface
from .model import GearModel, Port
from .solids import Round, solids_of

__all__ = ["Contradiction", "contradictions"]

_SKIN_MM = 3.0
"""How deep under its surface a port may lie: threads and sockets are sunk a little."""
_CLASPING = frozenset({"rod", "rail", "battery", "front", "hinge"})
"""Halves that may lie inside what holds them: a clamp around rods, a slot for a pack."""


@dataclass(frozen=True, slots=True)
class Contradiction:
    """What is wrong with a model: the index of the port, its field, and a sentence."""

    port: int
    field: str
    message: str


def contradictions(model: GearModel, interfaces: Mapping[str, Interface]) -> Iterator[Contradiction]:
    """What is wrong with the ports of a model; unknown interfaces first."""
    for i, port in enumerate(model.ports):
        interface = interfaces.get(port.interface)
        if interface is None:
            yield Contradiction(i, "interface", f"there is no interface '{port.interface}' here")
            continue
        if interface.kind not in _CLASPING and (deep := _depth_mm(model, port)) > _SKIN_MM:
            yield Contradiction(
                i,
                "at",
                f"'{port.id}' lies {deep:.0f} mm inside the body of {model.id}; a port sits on the surface and faces"
                " outwards",
            )
        if port.slide and port.length_mm and port.slide.max_mm - port.slide.min_mm > port.length_mm:
            yield Contradiction(
                i,
                "slide",
                f"'{port.id}' slides {port.slide.max_mm - port.slide.min_mm:g} mm along a rail of"
                f" {port.length_mm:g} mm",
            )
        if port.takes > 1 and port.slide is None:
            yield Contradiction(
                i, "takes", f"'{port.id}' takes {port.takes} parts and has no length for them; give it a slide"
            )


def _depth_mm(model: GearModel, port: Port) -> float:
    """How far a port's opening is from the open air along its normal, inside the shapes of the same stage, mm."""
    deepest = 0.0
    at, out = np.asarray(port.at, dtype=float), np.asarray(port.n, dtype=float)
    for shape in model.shapes:
        if shape.stage != port.stage:
            continue
        row = solids_of((shape,))
        p, d = row.frame[0] @ (at - row.centre_mm[0]), row.frame[0] @ out
        half = row.half_mm[0]
        if isinstance(shape, Round):
            inside = abs(p[0]) < half[0] and np.hypot(p[1], p[2]) < half[1]
        else:
            inside = bool((np.abs(p) < half).all())
        if inside:
            with np.errstate(divide="ignore", invalid="ignore"):
                ways = np.where(d != 0, (np.sign(d) * half - p) / d, np.inf)
            deepest = max(deepest, float(ways.min()))
    return deepest
