"""What is asked once more before gear is kept: figures that can be, and seldom are. And which figures are ratings."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from ..errors import LiftCrateError
from .model import GearModel
from .solids import Block

__all__ = ["GearDoubted", "Wrong", "doubts_of", "ratings_of"]

_DENSITY = (0.2, 4.5)
_METAL_DENSITY, _SOLID_DENSITY = 8.0, 19.0
_METAL = frozenset({"arm", "adapter", "riser", "step-up ring", "lens adapter", "mount plate"})
_SOLID = frozenset({"mount", "rods", "counterweight"})
_OPEN = frozenset(
    {"cage", "case", "cable", "gimbal", "head", "sticks", "matte box", "card", "safety line", "headphones"}
)
"""Kinds whose solids are a frame round nothing, or nothing to go by."""
_WINDOW_V_PER_CELL = 1.2
_FIXED_V = 5.5
_LONGEST_LENS_MM = 1000.0
_GIMBAL_SHARE = 0.3


class Wrong(NamedTuple):
    """What is wrong, or hard to believe: the question or the place in the model, and a sentence."""

    path: str
    message: str


def doubts_of(model: GearModel) -> Iterator[Wrong]:
    """Figures of a model that are hard to believe, each with its place in it."""
    yield from _density(model)
    if model.cg_mm and model.cg_outside_mm > 0:
        yield Wrong("cg_mm", f"The balance point lies {model.cg_outside_mm:.0f} mm outside what is drawn.")
    yield from _power(model)
    if model.lens and model.shapes and model.bounds[1][0] - model.bounds[0][0] > _LONGEST_LENS_MM:
        yield Wrong("shapes", f"A lens of {model.bounds[1][0] - model.bounds[0][0]:.0f} mm is longer than 1 m.")
    if model.gimbal and model.mass_g and model.mass_g < _GIMBAL_SHARE * model.gimbal.min_payload_g:
        yield Wrong(
            "mass_g",
            f"A gimbal of {model.mass_g:.0f} g that needs at least {model.gimbal.min_payload_g:.0f} g is light for it.",
        )


def _density(model: GearModel) -> Iterator[Wrong]:
    if not model.mass_g or not model.shapes or model.kind in _OPEN:
        return
    volume = sum(
        math.prod(abs(b - a) for a, b in zip(*shape.block, strict=True))
        if isinstance(shape, Block)
        else math.dist(*shape.barrel) * math.pi * max(shape.radius_mm, shape.end_radius) ** 2
        for shape in model.shapes
    )
    if volume <= 0:
        return
    density = model.mass_g / volume * 1000
    most = _SOLID_DENSITY if model.kind in _SOLID else _METAL_DENSITY if model.kind in _METAL else _DENSITY[1]
    if not _DENSITY[0] <= density <= most:
        light = density < _DENSITY[0]
        yield Wrong(
            "mass_g",
            f"{model.mass_g:.0f} g in its outline make {density:.2g} g/cm³, {'lighter' if light else 'heavier'} than"
            f" gear of its kind: check mass and measures.",
        )


def _power(model: GearModel) -> Iterator[Wrong]:
    inputs = [p for p in model.ports if p.electrical and p.electrical.role == "in"]
    for port in inputs:
        data = port.electrical
        if data is None or data.min_v is None or data.max_v is None:
            continue
        cells = max(1, round((data.min_v + data.max_v) / 2 / 3.65))
        if data.max_v > _FIXED_V and not data.steps and data.max_v - data.min_v < _WINDOW_V_PER_CELL * cells:
            yield Wrong(
                f"ports.{port.id}.electrical",
                f"{port.label} takes {data.min_v:g} to {data.max_v:g} V: {cells} cells in series swing"
                f" {_WINDOW_V_PER_CELL * cells:.1f} V from full to empty.",
            )
    if model.draw and inputs and all(p.electrical and p.electrical.max_v and p.electrical.max_a for p in inputs):
        carries = max(p.electrical.max_v * p.electrical.max_a for p in inputs if p.electrical)  # type: ignore[operator]  # all there
        if model.draw.peak_w > carries:
            yield Wrong(
                "draw", f"It draws {model.draw.peak_w:g} W at its peak; its inputs carry {carries:.0f} W at most."
            )


def ratings_of(model: GearModel) -> tuple[str, ...]:
    """Voltage windows, currents, rated loads and payloads that a model states, by their place in it."""
    found = []
    for port in model.ports:
        if port.load_n is not None:
            found.append(f"ports.{port.id}.load_n")
        if port.electrical and (port.electrical.max_v or port.electrical.max_a):
            found.append(f"ports.{port.id}.electrical")
    if model.pack and model.pack.max_a:
        found.append("pack.max_a")
    if model.support and model.support.max_payload_g:
        found.append("support.max_payload_g")
    if model.support and model.support.mount:
        found.append("support.mount.points")
    if model.gimbal:
        found.append("gimbal.max_payload_g")
    if model.charger:
        found.append("charger.bay_w")
    return tuple(found)


class GearDoubted(LiftCrateError, ValueError):
    """Gear that is hard to believe; it is kept when whoever enters it says so."""

    code = "gear.doubted"

    def __init__(self, problems: Sequence[Wrong]) -> None:
        self.problems = tuple(problems)

    def __str__(self) -> str:
        return " ".join(problem.message for problem in self.problems)
