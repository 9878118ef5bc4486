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
from ..gear.solids import Block, GimbalStage, Round
from ..geometry import Array, Pose, about_axis
from ..recent import Recent
from ..rig.build import Build, Catalogue, Conditions, Unit
from ..settings import Settings
from ..stand import Stand, stand_of

__all__ = ["VIEWS", "Elevation", "Mark", "Outline", "elevation_turned", "elevations", "lone_model"]

ViewName = Literal["side", "front", "top"]
Points = tuple[tuple[float, float], ...]
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
class _Solid:
    unit: str
    shape: Block | Round
    pose: Pose
    shift: Array | None = None
    """How far it stands from its pose, mm."""

    @property
    def standing(self) -> Pose:
        """Where it really is."""
        if self.shift is None:
            return self.pose
        return Pose(self.pose.rotation, self.pose.translation_mm + self.shift)

    @property
    def square(self) -> bool:
        """Its box is square to all views."""
        return bool(np.isin(np.abs(np.round(self.pose.rotation, 9)), (0.0, 1.0)).all())

    def outline(self, view: ViewName) -> tuple[float, Outline]:
        """Its outline in a view, and how near to the viewer it comes, mm; what has not moved is drawn once."""
        where = self.pose.rotation.tobytes(), self.pose.translation_mm.tobytes()
        key = (view, self.unit, id(self.shape), *where, None if self.shift is None else self.shift.tobytes())
        return _drawn.of(key, lambda: (*_outline(self, VIEWS[view]), self.shape))[:2]


_drawn: Recent[tuple[float, Outline, Block | Round]] = Recent(4096)
"""With the shape of each, which is known by its identity."""


@dataclass(frozen=True, slots=True, eq=False)
class _PortAt:
    unit: str
    port: Port
    at: Array
    faces: Array
    free: bool
    socket: bool


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
    marks = list(_ports(stand, shifts))
    return tuple(_draw(stand, view, solids, marks, shifts) for view in VIEWS)


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
    beyond = set(stand.assembly.build.subtree(held.support or ""))
    solids = [
        (
            replace(solid, pose=turn @ solid.standing, shift=None)
            if (stages.get(solid.unit) if solid.unit != held.support else solid.shape.stage) in inner
            or solid.unit not in beyond
            else solid
        )
        for solid in _solids(stand, shifts)
    ]
    return _draw(stand, _SEEN_FROM[axis], solids, [], shifts, turn.point(held.payload.cg_mm))


def lone_model(model: GearModel, interfaces: Mapping[str, Interface]) -> tuple[Elevation, ...]:
    """Draw one model by itself, in its own frame, every port free."""
    unit = Unit(id=model.id, model=model.id)
    catalogue = Catalogue(interfaces, {model.id: model}, {unit.id: unit})
    return elevations(stand_of(Build(id="lone", label=model.title, body=unit.id), catalogue, Conditions(), Settings()))


def _draw(
    stand: Stand,
    view: ViewName,
    solids: list[_Solid],
    ports: list[_PortAt],
    shifts: Shifts,
    cg_mm: Array | None = None,
) -> Elevation:
    axes = VIEWS[view]
    payload = stand.carried.payload
    outlines = [outline for _, outline in sorted((solid.outline(view) for solid in solids), key=itemgetter(0))]
    across = [h for o in outlines for h, _ in o.points] or [-50.0, 50.0]
    upwards = [v for o in outlines for _, v in o.points] or [-50.0, 50.0]
    return Elevation(
        view,
        tuple(outlines),
        tuple(_marks(ports, axes)),
        _flat(axes @ (payload.cg_mm if cg_mm is None else cg_mm)),
        _flat(np.abs(axes) @ payload.cg_sd_mm),
        _support_point(stand, axes, shifts),
        {unit: _flat(axes @ run) for unit, run in _runs(stand)},
        (min(across), min(upwards), max(across), max(upwards)),
    )


def _runs(stand: Stand) -> Iterator[tuple[str, Array]]:
    """Units on a slide, with their motion in the rig frame per millimetre, shape (3,)."""
    assembly = stand.assembly
    for joint in assembly.joints:
        parent = assembly.catalogue.model_of(joint.parent).port(joint.parent_port)
        child = assembly.catalogue.model_of(joint.child).port(joint.child_port)
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
    support, build = stand.carried.support, stand.assembly.build
    return {
        unit: stage
        for joint in stand.assembly.joints
        if joint.parent == support
        if (stage := stand.assembly.catalogue.model_of(joint.parent).port(joint.parent_port).stage)
        for unit in build.subtree(joint.child)
    }


def _solids(stand: Stand, shifts: Shifts) -> Iterator[_Solid]:
    assembly = stand.assembly
    for unit, part in assembly.parts.items():
        for shape in assembly.catalogue.model_of(unit).shapes:
            yield _Solid(unit, shape, part.tf_rig_part, shifts.get((unit, shape.stage), shifts.get((unit, None))))


def _outline(solid: _Solid, axes: Array) -> tuple[float, Outline]:
    seen = solid.standing.point(solid.shape.points) @ axes.T
    (left, low, _), (right, high, near) = np.round((seen.min(axis=0), seen.max(axis=0)), 1).tolist()
    if isinstance(solid.shape, Round):
        outline = _barrel(solid.shape, np.round(seen, 1).tolist())
    elif solid.square:
        outline = ((left, low), (right, low), (right, high), (left, high))
    else:
        outline = _hull(np.round(seen, 1).tolist())
    return near, Outline(solid.unit, solid.shape.look, outline)


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


def _ports(stand: Stand, shifts: Shifts) -> Iterator[_PortAt]:
    assembly = stand.assembly
    uses = port_uses(assembly)
    for unit, part in assembly.parts.items():
        model = assembly.catalogue.model_of(unit)
        places, normals = part.tf_rig_part.point(model.port_places), model.port_normals @ part.tf_rig_part.rotation.T
        for port, at, faces in zip(model.ports, places, normals, strict=True):
            shift = shifts.get((unit, port.stage), shifts.get((unit, None)))
            interface = assembly.catalogue.interfaces[port.interface]
            yield _PortAt(
                unit,
                port,
                at if shift is None else at + shift,
                faces,
                len(uses.get((unit, port.id), ())) < port.takes,
                interface.takes_cable,
            )


def _marks(ports: list[_PortAt], axes: Array) -> Iterator[Mark]:
    places = np.round(np.array([p.at for p in ports]).reshape(-1, 3) @ axes[:2].T, 1).tolist()
    normals = np.round(np.array([p.faces for p in ports]).reshape(-1, 3) @ axes[:2].T, 2).tolist()
    for port, (h, v), (nh, nv) in zip(ports, places, normals, strict=True):
        yield Mark(port.unit, port.port.id, port.port.label, (h, v), (nh, nv), port.free, port.socket)


def _support_point(stand: Stand, axes: Array, shifts: Shifts) -> tuple[float, float] | None:
    support = stand.carried.support
    if support is None:
        return None
    model = stand.assembly.catalogue.model_of(support)
    at = stand.assembly.pose(support).point(model.support.at if model.support else (0.0, 0.0, 0.0))
    return _flat(axes @ (at + shifts.get((support, "tilt"), np.zeros(3))))
