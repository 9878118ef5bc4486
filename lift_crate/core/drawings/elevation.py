"""The drawing: side, front and top elevation of a rig, computed from ports and joints.

Coordinates of a view are (h, v) in mm, h to the right and v up as drawn. Side is
seen from the operator's left with the lens to the left; top lies under it and
shares its h; front is seen from the subject.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from operator import itemgetter
from typing import Literal

import numpy as np

from ..gear.interface import Interface
from ..gear.model import GearModel
from ..gear.solids import Block, Round
from ..geometry import Array, about_axis
from ..recent import Recent
from ..rig.build import Build, Catalogue, Conditions, Unit
from ..settings import Settings
from ..stand import Stand, stand_of
from .placed import INSIDE, Moving, Shifts, hung_on_stages, moving_solids, ports_of, ports_placed, runs_of, shifts_of

__all__ = ["VIEWS", "Elevation", "Mark", "Outline", "elevation_turned", "elevations", "lone_model"]

ViewName = Literal["side", "front", "top"]
Points = tuple[tuple[float, float], ...]
_NOTHING = ((-50.0,), (-50.0,), (50.0,), (50.0,))
"""Bounds of a drawing with nothing in it, mm."""
VIEWS: dict[ViewName, Array] = {
    "side": np.array([[-1.0, 0.0, 0.0], [0.0, 0.0, 1.0], [0.0, 1.0, 0.0]]),
    "front": np.array([[0.0, 1.0, 0.0], [0.0, 0.0, 1.0], [1.0, 0.0, 0.0]]),
    "top": np.array([[-1.0, 0.0, 0.0], [0.0, -1.0, 0.0], [0.0, 0.0, 1.0]]),
}
"""Rows: right, up and towards the viewer, in the rig frame."""
_SEEN_FROM: dict[str, ViewName] = {"tilt": "side", "roll": "front", "pan": "top"}


@dataclass(frozen=True, slots=True)
class Outline:
    """The outline of one shape of a unit, mm."""

    unit: str
    look: str
    points: Points


@dataclass(frozen=True, slots=True, eq=False)
class _Seen:
    """Outlines in a view, each with how near to the viewer it comes, mm, and their bounds (h0, v0, h1, v1)."""

    outlines: tuple[tuple[float, Outline], ...]
    bounds: tuple[float, float, float, float]
    model: GearModel
    """Whose shapes they are; it is known by its identity."""


_drawn: Recent[_Seen] = Recent(2048)


@dataclass(frozen=True, slots=True)
class Mark:
    """A port or a joint: where it is, which way it faces in this view, and what is on it."""

    unit: str
    port: str
    label: str
    at: tuple[float, float]
    faces: tuple[float, float]
    free: bool
    socket: bool


@dataclass(frozen=True, slots=True)
class Elevation:
    """One view: outlines far to near, ports, CG with one deviation, and bounds (h0, v0, h1, v1)."""

    view: ViewName
    outlines: tuple[Outline, ...]
    marks: tuple[Mark, ...]
    cg: tuple[float, float]
    cg_sd: tuple[float, float]
    support: tuple[float, float] | None
    runs: Mapping[str, tuple[float, float]]
    """Units that slide, and where one millimetre of slide takes them in this view."""
    bounds: tuple[float, float, float, float]


def elevations(stand: Stand) -> tuple[Elevation, ...]:
    """Draw all views of an evaluated build."""
    shifts = shifts_of(stand)
    solids = list(moving_solids(stand, shifts))
    placed = ports_placed(stand, shifts)
    return tuple(_draw(stand, view, solids, shifts, tuple(_marks(stand, placed, axes))) for view, axes in VIEWS.items())


def elevation_turned(stand: Stand, axis: str, deg: float) -> Elevation:
    """Draw a rig on a gimbal with one axis turned, degrees: tilt from the
    side, roll from the front, pan from above; no ports.

    Raises KeyError for a build that is not on a solved gimbal.
    """
    shifts, held = shifts_of(stand), stand.carried
    inner = INSIDE[axis]
    tf_rig_gimbal = stand.assembly.pose(held.support or "")
    along = {
        "tilt": (0.0, 1.0, 0.0),
        "roll": held.gimbal.roll_axis if held.gimbal else (1.0, 0.0, 0.0),
        "pan": (0.0, 0.0, 1.0),
    }[axis]
    through = tf_rig_gimbal.translation_mm + shifts[held.support or "", axis]
    turn = about_axis(tf_rig_gimbal.direction(along), through, deg)
    stages = hung_on_stages(stand)
    beyond = stand.assembly.layout.beyond_support
    solids = [
        (
            replace(solid, pose=turn @ solid.standing, shift=None)
            if (stages.get(solid.unit) if solid.unit != held.support else solid.stage) in inner
            or solid.unit not in beyond
            else solid
        )
        for solid in moving_solids(stand, shifts)
    ]
    return _draw(stand, _SEEN_FROM[axis], solids, shifts, cg_mm=turn.point(held.payload.cg_mm))


def lone_model(model: GearModel, interfaces: Mapping[str, Interface]) -> tuple[Elevation, ...]:
    """Draw one model by itself, in its own frame, every port free."""
    unit = Unit(id=model.id, model=model.id)
    catalogue = Catalogue(interfaces, {model.id: model}, {unit.id: unit})
    return elevations(stand_of(Build(id="lone", label=model.title, body=unit.id), catalogue, Conditions(), Settings()))


def _draw(
    stand: Stand,
    view: ViewName,
    solids: list[Moving],
    shifts: Shifts,
    marks: tuple[Mark, ...] = (),
    cg_mm: Array | None = None,
) -> Elevation:
    axes = VIEWS[view]
    payload = stand.carried.payload
    seen = [_seen(solid, view) for solid in solids]
    outlines = sorted((outline for each in seen for outline in each.outlines), key=itemgetter(0))
    left, low, right, high = zip(*(each.bounds for each in seen), strict=True) if seen else _NOTHING
    return Elevation(
        view,
        tuple(outline for _, outline in outlines),
        marks,
        _flat(axes @ (payload.cg_mm if cg_mm is None else cg_mm)),
        _flat(np.abs(axes) @ payload.cg_sd_mm),
        _support_point(stand, axes, shifts),
        {unit: _flat(axes @ run) for unit, run in runs_of(stand)},
        (min(left), min(low), max(right), max(high)),
    )


def _flat(p: Array) -> tuple[float, float]:
    return round(float(p[0]), 2), round(float(p[1]), 2)


def _seen(solid: Moving, view: ViewName) -> _Seen:
    """Its outlines in a view; what has not moved is drawn once."""
    at = solid.standing
    key = (view, solid.unit, id(solid.model), solid.stage, at.rotation.tobytes(), at.translation_mm.tobytes())
    return _drawn.of(key, lambda: _outlined(solid, VIEWS[view]))


def _outlined(solid: Moving, axes: Array) -> _Seen:
    square = bool(np.isin(np.abs(np.round(solid.pose.rotation, 9)), (0.0, 1.0)).all())
    found = [_outline(solid, shape, square, axes) for shape in solid.model.shapes if shape.stage == solid.stage]
    across = [h for _, outline in found for h, _ in outline.points]
    upwards = [v for _, outline in found for _, v in outline.points]
    return _Seen(tuple(found), (min(across), min(upwards), max(across), max(upwards)), solid.model)


def _outline(solid: Moving, shape: Block | Round, square: bool, axes: Array) -> tuple[float, Outline]:
    """One shape in a view; ``square``: its box is square to all views."""
    seen = solid.standing.point(shape.points) @ axes.T
    (left, low, _), (right, high, near) = np.round((seen.min(axis=0), seen.max(axis=0)), 1).tolist()
    if isinstance(shape, Round):
        outline = _barrel(shape, np.round(seen, 1).tolist())
    elif square:
        outline = ((left, low), (right, low), (right, high), (left, high))
    else:
        outline = _hull(np.round(seen, 1).tolist())
    return near, Outline(solid.unit, shape.look, outline)


def _barrel(shape: Round, seen: list[list[float]]) -> Points:
    """Outline of a barrel from its rims as seen, 2k points: a circle, a trapezium, or a hull in between."""
    rim = len(seen) // 2
    (ah, av, ad), (bh, bv, bd) = (
        tuple((p + q) / 2 for p, q in zip(seen[i], seen[i + rim // 2], strict=True)) for i in (0, rim)
    )
    length = math.hypot(bh - ah, bv - av)
    if length < 0.15:
        widest = seen[:rim] if shape.radius_mm >= shape.end_radius else seen[rim:]
        return tuple((h, v) for h, v, _ in widest)
    if abs(bd - ad) > 0.15:
        return _hull(seen[::2])
    nh, nv = (av - bv) / length, (bh - ah) / length
    r, e = shape.radius_mm, shape.end_radius
    corners = (
        (ah + nh * r, av + nv * r),
        (ah - nh * r, av - nv * r),
        (bh - nh * e, bv - nv * e),
        (bh + nh * e, bv + nv * e),
    )
    return tuple((round(h, 1), round(v, 1)) for h, v in corners)


def _hull(points: list[list[float]]) -> Points:
    """Convex hull of points as seen, anticlockwise (monotone chain)."""
    ordered = sorted({(h, v) for h, v, _ in points})
    if len(ordered) < 3:
        return tuple(ordered)

    def half(sequence: list[tuple[float, float]]) -> list[tuple[float, float]]:
        chain: list[tuple[float, float]] = []
        for p in sequence:
            while len(chain) >= 2 and _turn(chain[-2], chain[-1], p) <= 0:
                chain.pop()
            chain.append(p)
        return chain[:-1]

    return tuple(half(ordered) + half(ordered[::-1]))


def _turn(o: tuple[float, float], a: tuple[float, float], b: tuple[float, float]) -> float:
    return (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0])


def _marks(stand: Stand, placed: tuple[Array, Array], axes: Array) -> Iterator[Mark]:
    places, normals = (
        np.round(each @ axes[:2].T, places).tolist() for each, places in zip(placed, (1, 2), strict=True)
    )
    for (unit, port, free, socket), (h, v), (nh, nv) in zip(
        stand.assembly.layout.once(ports_of).told, places, normals, strict=True
    ):
        yield Mark(unit, port.id, port.label, (h, v), (nh, nv), free, socket)


def _support_point(stand: Stand, axes: Array, shifts: Shifts) -> tuple[float, float] | None:
    support = stand.carried.support
    if support is None:
        return None
    model = stand.assembly.catalogue.model_of(support)
    at = stand.assembly.pose(support).point(model.support.at if model.support else (0.0, 0.0, 0.0))
    return _flat(axes @ (at + shifts.get((support, "tilt"), np.zeros(3))))
