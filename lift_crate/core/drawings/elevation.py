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

from ..fit.joints import port_uses
from ..gear.interface import Interface
from ..gear.model import GearModel, Port
from ..gear.solids import Block, GimbalStage, Round, Rows
from ..geometry import Array, Pose, about_axis
from ..recent import Recent
from ..rig.build import Build, Catalogue, Conditions, Unit
from ..rig.layout import Layout
from ..settings import Settings
from ..stand import Stand, stand_of

__all__ = ["VIEWS", "Elevation", "Mark", "Outline", "elevation_turned", "elevations", "lone_model"]

ViewName = Literal["side", "front", "top"]
Points = tuple[tuple[float, float], ...]
_NOTHING = ((-50.0,), (-50.0,), (50.0,), (50.0,))
"""Bounds of a drawing with nothing in it, mm."""
Shifts = dict[tuple[str, str | None], Array]
"""Displacement in the rig frame by unit and gimbal stage, mm, shape (3,)."""

VIEWS: dict[ViewName, Array] = {
    "side": np.array([[-1.0, 0.0, 0.0], [0.0, 0.0, 1.0], [0.0, 1.0, 0.0]]),
    "front": np.array([[0.0, 1.0, 0.0], [0.0, 0.0, 1.0], [1.0, 0.0, 0.0]]),
    "top": np.array([[-1.0, 0.0, 0.0], [0.0, -1.0, 0.0], [0.0, 0.0, 1.0]]),
}
"""Rows: right, up and towards the viewer, in the rig frame."""
_SEEN_FROM: dict[str, ViewName] = {"tilt": "side", "roll": "front", "pan": "top"}
_INSIDE: dict[str, tuple[GimbalStage, ...]] = {
    "tilt": ("seat", "tilt"),
    "roll": ("seat", "tilt", "roll"),
    "pan": ("seat", "tilt", "roll", "pan"),
}
"""Stages that turn with an axis of a gimbal."""


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


@dataclass(frozen=True, slots=True, eq=False)
class _Solid:
    """What of a unit moves as one: all its shapes, or those of a gimbal's stage."""

    unit: str
    model: GearModel
    stage: GimbalStage | None
    pose: Pose
    shift: Array | None = None
    """How far it stands from its pose, mm."""

    @property
    def standing(self) -> Pose:
        """Where it really is."""
        if self.shift is None:
            return self.pose
        return Pose(self.pose.rotation, self.pose.translation_mm + self.shift)

    def seen(self, view: ViewName) -> _Seen:
        """Its outlines in a view; what has not moved is drawn once."""
        at = self.standing
        key = (view, self.unit, id(self.model), self.stage, at.rotation.tobytes(), at.translation_mm.tobytes())
        return _drawn.of(key, lambda: _outlined(self, VIEWS[view]))


@dataclass(frozen=True, slots=True, eq=False)
class _Ports:
    """All ports of a layout as rows: the unit's row, and in its frame where each is, mm, and faces, shape (k, 3)."""

    rows: Rows
    at: Array
    faces: Array
    told: tuple[tuple[str, Port, bool, bool], ...]
    """Whose, which, whether it is free, whether it is a socket."""


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
    shifts = _shifts(stand)
    solids = list(_solids(stand, shifts))
    placed = _placed(stand, shifts)
    return tuple(_draw(stand, view, solids, shifts, tuple(_marks(stand, placed, axes))) for view, axes in VIEWS.items())


def elevation_turned(stand: Stand, axis: str, deg: float) -> Elevation:
    """Draw a rig on a gimbal with one axis turned, degrees: tilt from the
    side, roll from the front, pan from above; no ports.

    Raises KeyError for a build that is not on a solved gimbal.
    """
    shifts, held = _shifts(stand), stand.carried
    inner = _INSIDE[axis]
    tf_rig_gimbal = stand.assembly.pose(held.support or "")
    along = {
        "tilt": (0.0, 1.0, 0.0),
        "roll": held.gimbal.roll_axis if held.gimbal else (1.0, 0.0, 0.0),
        "pan": (0.0, 0.0, 1.0),
    }[axis]
    through = tf_rig_gimbal.translation_mm + shifts[held.support or "", axis]
    turn = about_axis(tf_rig_gimbal.direction(along), through, deg)
    stages = _hung_on_stages(stand)
    beyond = stand.assembly.layout.beyond_support
    solids = [
        (
            replace(solid, pose=turn @ solid.standing, shift=None)
            if (stages.get(solid.unit) if solid.unit != held.support else solid.stage) in inner
            or solid.unit not in beyond
            else solid
        )
        for solid in _solids(stand, shifts)
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
    solids: list[_Solid],
    shifts: Shifts,
    marks: tuple[Mark, ...] = (),
    cg_mm: Array | None = None,
) -> Elevation:
    axes = VIEWS[view]
    payload = stand.carried.payload
    seen = [solid.seen(view) for solid in solids]
    outlines = sorted((outline for each in seen for outline in each.outlines), key=itemgetter(0))
    left, low, right, high = zip(*(each.bounds for each in seen), strict=True) if seen else _NOTHING
    return Elevation(
        view,
        tuple(outline for _, outline in outlines),
        marks,
        _flat(axes @ (payload.cg_mm if cg_mm is None else cg_mm)),
        _flat(np.abs(axes) @ payload.cg_sd_mm),
        _support_point(stand, axes, shifts),
        {unit: _flat(axes @ run) for unit, run in _runs(stand)},
        (min(left), min(low), max(right), max(high)),
    )


def _runs(stand: Stand) -> Iterator[tuple[str, Array]]:
    """Units on a slide, with their motion in the rig frame per millimetre, shape (3,)."""
    assembly = stand.assembly
    for joint, (parent, child) in zip(assembly.joints, assembly.layout.ports, strict=True):
        if parent.slide:
            yield joint.child, assembly.pose(joint.parent).direction(parent.slide.axis)
        elif child.slide:
            yield joint.child, -assembly.pose(joint.child).direction(child.slide.axis)


def _flat(p: Array) -> tuple[float, float]:
    return round(float(p[0]), 2), round(float(p[1]), 2)


def _shifts(stand: Stand) -> Shifts:
    """How far the parts of a gimbal stand from where the joint puts them, slides set as solved.

    The camera is drawn where it is, so the gimbal moves the other way: seat by −(a, 0, 0),
    tilt stage by −(a, 0, v), roll arm by −(a, l, v), pan arm and handle by −(a + b, l, v).
    """
    held = stand.carried
    if held.support is None or held.solution is None:
        return {}
    s = held.solution
    rotation = stand.assembly.pose(held.support).rotation
    by_stage = {
        "seat": (-s.fore_aft.set_mm, 0.0, 0.0),
        "tilt": (-s.fore_aft.set_mm, 0.0, -s.vertical.set_mm),
        "roll": (-s.fore_aft.set_mm, -s.lateral.set_mm, -s.vertical.set_mm),
        "pan": (-s.fore_aft.set_mm - s.pan.set_mm, -s.lateral.set_mm, -s.vertical.set_mm),
    }
    by_stage["handle"] = by_stage["pan"]
    shifts: Shifts = {(held.support, stage): rotation @ np.array(shift) for stage, shift in by_stage.items()}
    for unit, stage in _hung_on_stages(stand).items():
        shifts[unit, None] = shifts[held.support, stage]
    return shifts


def _hung_on_stages(stand: Stand) -> dict[str, GimbalStage]:
    """Units that hang on the gimbal's own ports, with the stage they move with."""
    support, layout = stand.carried.support, stand.assembly.layout
    return {
        unit: stage
        for joint in stand.assembly.joints
        if joint.parent == support
        if (stage := stand.assembly.catalogue.model_of(joint.parent).port(joint.parent_port).stage)
        for unit in layout.subtree(joint.child)
    }


def _solids(stand: Stand, shifts: Shifts) -> Iterator[_Solid]:
    layout, frames = stand.assembly.layout, stand.assembly.frames
    for (unit, stage), row in layout.once(_moving_as_one):
        shift = shifts.get((unit, stage), shifts.get((unit, None)))
        yield _Solid(unit, layout.models[row], stage, Pose(frames[row, :3, :3], frames[row, :3, 3]), shift)


def _moving_as_one(layout: Layout) -> tuple[tuple[tuple[str, GimbalStage | None], int], ...]:
    """Units with something to draw, by the stages of a gimbal, with their rows."""
    return tuple(
        ((unit, stage), row)
        for row, (unit, model) in enumerate(zip(layout.units, layout.models, strict=True))
        for stage in dict.fromkeys(shape.stage for shape in model.shapes)
    )


def _outlined(solid: _Solid, axes: Array) -> _Seen:
    square = bool(np.isin(np.abs(np.round(solid.pose.rotation, 9)), (0.0, 1.0)).all())
    found = [_outline(solid, shape, square, axes) for shape in solid.model.shapes if shape.stage == solid.stage]
    across = [h for _, outline in found for h, _ in outline.points]
    upwards = [v for _, outline in found for _, v in outline.points]
    return _Seen(tuple(found), (min(across), min(upwards), max(across), max(upwards)), solid.model)


def _outline(solid: _Solid, shape: Block | Round, square: bool, axes: Array) -> tuple[float, Outline]:
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


def _ports(layout: Layout) -> _Ports:
    uses, interfaces = layout.once(port_uses), layout.catalogue.interfaces
    return _Ports(
        np.repeat(np.arange(len(layout.units)), [len(model.ports) for model in layout.models]),
        np.concatenate([model.port_places for model in layout.models]),
        np.concatenate([model.port_normals for model in layout.models]),
        tuple(
            (unit, port, len(uses.get((unit, port.id), ())) < port.takes, interfaces[port.interface].takes_cable)
            for unit, model in zip(layout.units, layout.models, strict=True)
            for port in model.ports
        ),
    )


def _placed(stand: Stand, shifts: Shifts) -> tuple[Array, Array]:
    """Where every port is in the rig frame, mm, and where it faces, shape (k, 3)."""
    ports = stand.assembly.layout.once(_ports)
    frames = stand.assembly.frames[ports.rows]
    at = np.matmul(frames[:, :3, :3], ports.at[:, :, None])[:, :, 0] + frames[:, :3, 3]
    for i, (unit, port, _, _) in enumerate(ports.told if shifts else ()):
        shift = shifts.get((unit, port.stage), shifts.get((unit, None)))
        if shift is not None:
            at[i] += shift
    return at, np.matmul(frames[:, :3, :3], ports.faces[:, :, None])[:, :, 0]


def _marks(stand: Stand, placed: tuple[Array, Array], axes: Array) -> Iterator[Mark]:
    places, normals = (
        np.round(each @ axes[:2].T, places).tolist() for each, places in zip(placed, (1, 2), strict=True)
    )
    for (unit, port, free, socket), (h, v), (nh, nv) in zip(
        stand.assembly.layout.once(_ports).told, places, normals, strict=True
    ):
        yield Mark(unit, port.id, port.label, (h, v), (nh, nv), free, socket)


def _support_point(stand: Stand, axes: Array, shifts: Shifts) -> tuple[float, float] | None:
    support = stand.carried.support
    if support is None:
        return None
    model = stand.assembly.catalogue.model_of(support)
    at = stand.assembly.pose(support).point(model.support.at if model.support else (0.0, 0.0, 0.0))
    return _flat(axes @ (at + shifts.get((support, "tilt"), np.zeros(3))))
