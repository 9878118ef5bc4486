"""The rig in space: the same solids with the same poses as the elevations, and what turns, slides and hangs between.

mm and degrees in the rig frame, x forward, y to the operator's left, z up. Drawn by whoever asks; nothing of it is
computed there.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..gear.bending import beyond
from ..gear.solids import Block, Look, Round, TurnedBlock
from ..gear.supports import HeadData, StandData
from ..geometry import Array, Vec3
from ..stand import Stand
from ..support.clearance import TRIED_DEG, reaches
from ..support.load import support_point
from .build_sheet import build_order
from .placed import INSIDE, Moving, Shifts, hung_on_stages, moving_solids, ports_of, ports_placed, runs_of, shifts_of

__all__ = ["Space", "SpaceAxis", "SpaceCable", "SpaceHinge", "SpacePiece", "SpacePort", "SpaceShape", "space_of"]

TurnsWith = Literal["tilt", "roll", "pan", "fixed"]
"""The innermost axis of a gimbal that turns a thing: tilt turns what roll and pan turn too."""
_AXES: tuple[Literal["tilt", "roll", "pan"], ...] = ("tilt", "roll", "pan")
_THICK_MM = {"thin": 3.0, "ordinary": 5.0, "stiff": 7.0}
_LEG_MM, _FOOT_MM = 13.0, 9.0
"""Radius of a leg at the bowl and at the ground."""
_ROUNDED = 2
_HANGS_MM = np.array([0.0, 0.0, -300.0])


@dataclass(frozen=True, kw_only=True)
class SpaceShape:
    """A box by two corners, or a barrel by its two ends and its radius at each, in the frame of its piece."""

    look: Look
    block: tuple[Vec3, Vec3] | None = None
    barrel: tuple[Vec3, Vec3] | None = None
    radius_mm: float = 0.0
    end_radius_mm: float = 0.0
    turn: tuple[Vec3, Vec3, Vec3] | None = None
    """Of a box that stands askew about its middle: rows of the matrix."""
    beyond: tuple[int, ...] = ()
    """Hinges of its unit that it moves with, by their numbers."""


@dataclass(frozen=True, kw_only=True)
class SpacePiece:
    """What of a unit moves as one."""

    unit: str
    kind: str
    parent: str | None
    step: int
    """Where it comes in the build order; the body is 0."""
    turns_with: TurnsWith
    at_mm: Vec3
    rotation: tuple[Vec3, Vec3, Vec3]
    """Rows of the matrix that turns its axes into the rig's."""
    shapes: tuple[SpaceShape, ...]
    pull: Vec3
    """Where it goes when the rig is drawn apart: the sum of the normals of all ports from the body to it."""


@dataclass(frozen=True, kw_only=True)
class SpaceCable:
    """A cable between two sockets, hanging as far as its slack lets it."""

    cable: str
    ends_mm: tuple[Vec3, Vec3]
    faces: tuple[Vec3, Vec3]
    """Where its plugs come out, of length 1."""
    units: tuple[str, str]
    turns_with: tuple[TurnsWith, TurnsWith]
    length_mm: float
    sag_mm: float
    """Of a flat curve of its length: √(3·s·(L − s)/8)."""
    thick_mm: float


@dataclass(frozen=True, kw_only=True)
class SpacePort:
    """A port: where it is, which way it faces, whether anything more goes on it."""

    unit: str
    port: str
    label: str
    at_mm: Vec3
    faces: Vec3
    free: bool
    socket: bool
    turns_with: TurnsWith


@dataclass(frozen=True, kw_only=True)
class SpaceAxis:
    """An axis of a gimbal, or the tilt of a head: through where and along what, how far it is free, what meets at
    the ends, and how far it is turned here, degrees.
    """

    axis: Literal["tilt", "roll", "pan"]
    through_mm: Vec3
    along: Vec3
    low_deg: float
    high_deg: float
    low_hits: tuple[str, str] | None
    high_hits: tuple[str, str] | None
    range_deg: tuple[float, float]


@dataclass(frozen=True, kw_only=True)
class SpaceHinge:
    """A hinge of an arm: through where and along what, how it is bent and may be, degrees, and what moves with it."""

    unit: str
    hinge: int
    label: str
    through_mm: Vec3
    along: Vec3
    deg: float
    range_deg: tuple[float, float]
    moves: tuple[str, ...]
    turns_with: TurnsWith


@dataclass(frozen=True, kw_only=True)
class Space:
    """A rig as it stands in space."""

    pieces: tuple[SpacePiece, ...]
    cables: tuple[SpaceCable, ...]
    ports: tuple[SpacePort, ...]
    axes: tuple[SpaceAxis, ...]
    """Outermost last; empty without a head, or a gimbal that carries a camera."""
    cg_mm: Vec3
    cg_sd_mm: Vec3
    runs: Mapping[str, Vec3]
    """Units that slide, and where one millimetre of slide takes them."""
    hinges: tuple[SpaceHinge, ...]
    clashes: tuple[tuple[str, str], ...]
    low_mm: Vec3
    high_mm: Vec3
    """Lowest and highest corner of the box around all of it but the legs."""


def space_of(stand: Stand) -> Space:
    """The rig in space."""
    shifts, turns = shifts_of(stand), _turning(stand)
    pulls, steps = _pulls(stand), {unit: i for i, unit in enumerate(build_order(stand.assembly), 1)}
    solids = list(moving_solids(stand, shifts))
    pieces = [*(_piece(stand, solid, turns, pulls, steps) for solid in solids), *_legs(stand, pulls, steps)]
    corners = [solid.standing.point(shape.points) for solid in solids for shape in _shapes(solid)]
    every = np.concatenate(corners) if corners else np.zeros((1, 3))
    payload = stand.carried.payload
    return Space(
        pieces=tuple(pieces),
        cables=tuple(_cables(stand, shifts, turns)),
        ports=tuple(_ports(stand, shifts, turns)),
        axes=tuple(_axes(stand, shifts)),
        cg_mm=_vec(payload.cg_mm),
        cg_sd_mm=_vec(payload.cg_sd_mm),
        runs={unit: _unit_vec(run) for unit, run in runs_of(stand)},
        hinges=tuple(_hinges(stand, turns)),
        clashes=tuple((o.unit, o.into) for o in stand.clashes.overlaps),
        low_mm=_vec(every.min(axis=0)),
        high_mm=_vec(every.max(axis=0)),
    )


def _vec(values: Array) -> Vec3:
    x, y, z = (round(float(v), _ROUNDED) for v in values)
    return x, y, z


def _unit_vec(values: Array) -> Vec3:
    x, y, z = (round(float(v), 6) for v in values)
    return x, y, z


def _turning(stand: Stand) -> dict[tuple[str, str | None], TurnsWith]:
    """By unit and gimbal stage: what turns it."""
    held, layout = stand.carried, stand.assembly.layout
    if held.support is None:
        return {}
    if held.solution is None:
        tilts = head_of(stand) is not None
        return {(unit, None): "tilt" for unit in layout.units if tilts and unit not in layout.beyond_support}
    by_stage: dict[str | None, TurnsWith] = {}
    for axis in reversed(_AXES):
        by_stage.update(dict.fromkeys(INSIDE[axis], axis))
    found: dict[tuple[str, str | None], TurnsWith] = {
        (held.support, stage): axis for stage, axis in by_stage.items() if stage
    }
    found |= {(unit, None): by_stage.get(stage, "fixed") for unit, stage in hung_on_stages(stand).items()}
    return found | {(unit, None): "tilt" for unit in layout.units if unit not in layout.beyond_support}


def _pulls(stand: Stand) -> dict[str, Array]:
    assembly = stand.assembly
    found = {assembly.build.body: np.zeros(3)}
    for joint, (parent, _) in zip(assembly.joints, assembly.layout.ports, strict=True):
        found[joint.child] = found[joint.parent] + assembly.pose(joint.parent).direction(parent.n)
    return found


def _shapes(solid: Moving) -> list[Block | Round]:
    return [shape for shape in solid.model.shapes if shape.stage == solid.stage]


def _piece(
    stand: Stand,
    solid: Moving,
    turns: Mapping[tuple[str, str | None], TurnsWith],
    pulls: Mapping[str, Array],
    steps: Mapping[str, int],
) -> SpacePiece:
    joint, at = stand.assembly.build.joint_of(solid.unit), solid.standing
    x, y, z = (_unit_vec(row) for row in at.rotation)
    return SpacePiece(
        unit=solid.unit,
        kind=solid.model.kind,
        parent=joint.parent if joint else None,
        step=steps.get(solid.unit, 0),
        turns_with=turns.get((solid.unit, solid.stage), turns.get((solid.unit, None), "fixed")),
        at_mm=_vec(at.translation_mm),
        rotation=(x, y, z),
        shapes=tuple(_shape(shape, past) for shape, past in zip(_shapes(solid), _past(stand, solid), strict=True)),
        pull=_unit_vec(pulls[solid.unit]),
    )


def _past(stand: Stand, solid: Moving) -> Iterator[tuple[int, ...]]:
    """Of every shape the hinges that it lies beyond, told by the straight arm."""
    shelf = stand.assembly.catalogue
    straight = (shelf.straight or shelf).model_of(solid.unit)
    return (beyond(straight, shape) for shape in straight.shapes if shape.stage == solid.stage)


def _shape(shape: Block | Round, past: tuple[int, ...]) -> SpaceShape:
    if isinstance(shape, Block):
        turn = shape.turn if isinstance(shape, TurnedBlock) else None
        return SpaceShape(look=shape.look, block=shape.block, turn=turn, beyond=past)
    return SpaceShape(
        look=shape.look,
        barrel=shape.barrel,
        radius_mm=shape.radius_mm,
        end_radius_mm=shape.end_radius,
        beyond=past,
    )


def _hinges(stand: Stand, turns: Mapping[tuple[str, str | None], TurnsWith]) -> Iterator[SpaceHinge]:
    assembly = stand.assembly
    for unit, model in zip(assembly.layout.units, assembly.layout.models, strict=True):
        deg = assembly.build.bend_of(unit)
        for i, hinge in enumerate(model.hinges):
            moved = (j.child for j in assembly.joints if (j.parent, j.parent_port) == (unit, hinge.beyond))
            yield SpaceHinge(
                unit=unit,
                hinge=i,
                label=model.hinge_names()[i],
                through_mm=_vec(assembly.pose(unit).point(hinge.at)),
                along=_unit_vec(assembly.pose(unit).direction(hinge.axis)),
                deg=deg[i] if i < len(deg) else 0.0,
                range_deg=hinge.range_deg,
                moves=tuple(each for child in moved for each in assembly.layout.subtree(child)),
                turns_with=turns.get((unit, None), "fixed"),
            )


def _legs(stand: Stand, pulls: Mapping[str, Array], steps: Mapping[str, int]) -> Iterator[SpacePiece]:
    """Sticks that nobody drew: three legs, or one, from the bowl to the ground, by their height and footprint."""
    for unit, model in zip(stand.assembly.layout.units, stand.assembly.layout.models, strict=True):
        if model.stand is None or model.shapes:
            continue
        joint, at = stand.assembly.build.joint_of(unit), stand.assembly.pose(unit)
        x, y, z = (_unit_vec(row) for row in at.rotation)
        yield SpacePiece(
            unit=unit,
            kind=model.kind,
            parent=joint.parent if joint else None,
            step=steps.get(unit, 0),
            turns_with="fixed",
            at_mm=_vec(at.translation_mm),
            rotation=(x, y, z),
            shapes=tuple(_leg(foot) for foot in feet_of(model.stand)),
            pull=_unit_vec(pulls[unit]),
        )


def feet_of(data: StandData) -> tuple[Vec3, ...]:
    """Where the feet are under the bowl, mm: a triangle with the edge's distance from its middle, one foot in front."""
    if data.legs == "monopod":
        return ((0.0, 0.0, -data.height_mm),)
    return tuple(
        (2 * data.edge_mm * math.cos(turn), 2 * data.edge_mm * math.sin(turn), -data.height_mm)
        for turn in np.radians((0.0, 120.0, 240.0)).tolist()
    )


def _leg(foot: Vec3) -> SpaceShape:
    return SpaceShape(look="soft", barrel=((0.0, 0.0, 0.0), foot), radius_mm=_LEG_MM, end_radius_mm=_FOOT_MM)


def _cables(stand: Stand, shifts: Shifts, turns: Mapping[tuple[str, str | None], TurnsWith]) -> Iterator[SpaceCable]:
    assembly = stand.assembly
    for route in stand.routes:
        link, ends, faces, with_ = route.link, [], [], list[TurnsWith]()
        for unit, socket in zip((link.from_unit, link.to_unit), route.ends, strict=True):
            if unit not in assembly.row:
                continue
            at = assembly.pose(unit)
            shift = shifts.get((unit, socket.stage), shifts.get((unit, None)))
            ends.append(at.point(socket.at) + (0.0 if shift is None else shift))
            faces.append(at.direction(socket.n))
            with_.append(turns.get((unit, socket.stage), turns.get((unit, None), "fixed")))
        if not ends:
            continue
        if len(ends) == 1:
            # To what the operator wears: it hangs down from the rig, and where it ends nobody knows.
            ends.append(ends[0] + _HANGS_MM)
            faces.append(np.array([0.0, 0.0, 1.0]))
            with_.append("fixed")
        straight = float(np.linalg.norm(ends[0] - ends[1]))
        slack = max(0.0, route.cable.length_mm - straight)
        yield SpaceCable(
            cable=link.cable,
            ends_mm=(_vec(ends[0]), _vec(ends[1])),
            faces=(_unit_vec(faces[0]), _unit_vec(faces[1])),
            units=(link.from_unit, link.to_unit),
            turns_with=(with_[0], with_[1]),
            length_mm=route.cable.length_mm,
            sag_mm=round(math.sqrt(3 * straight * slack / 8), _ROUNDED),
            thick_mm=_THICK_MM[route.cable.stiffness],
        )


def _ports(stand: Stand, shifts: Shifts, turns: Mapping[tuple[str, str | None], TurnsWith]) -> Iterator[SpacePort]:
    places, normals = ports_placed(stand, shifts)
    told = stand.assembly.layout.once(ports_of).told
    for (unit, port, free, socket), at, faces in zip(told, places, normals, strict=True):
        yield SpacePort(
            unit=unit,
            port=port.id,
            label=port.label,
            at_mm=_vec(at),
            faces=_unit_vec(faces),
            free=free,
            socket=socket,
            turns_with=turns.get((unit, port.stage), turns.get((unit, None), "fixed")),
        )


def head_of(stand: Stand) -> HeadData | None:
    """The tilting head that carries a rig; None where none does."""
    data = stand.assembly.catalogue.model_of(stand.carried.support).support if stand.carried.support else None
    return data.head if data else None


def _axes(stand: Stand, shifts: Shifts) -> Iterator[SpaceAxis]:
    held, head = stand.carried, head_of(stand)
    if head is not None and held.support is not None:
        yield SpaceAxis(
            axis="tilt",
            through_mm=_vec(support_point(stand.assembly)),
            along=_unit_vec(stand.assembly.pose(held.support).direction((0.0, 1.0, 0.0))),
            low_deg=head.tilt_deg[0],
            high_deg=head.tilt_deg[1],
            low_hits=None,
            high_hits=None,
            range_deg=head.tilt_deg,
        )
    if held.support is None or held.gimbal is None or held.solution is None:
        return
    tf_rig_gimbal = stand.assembly.pose(held.support)
    along: dict[str, Vec3] = {"tilt": (0.0, 1.0, 0.0), "roll": held.gimbal.roll_axis, "pan": (0.0, 0.0, 1.0)}
    for reach in reaches(stand.assembly, held):
        axis: Literal["tilt", "roll", "pan"] = reach.axis  # type: ignore[assignment]  # one of the three
        yield SpaceAxis(
            axis=axis,
            through_mm=_vec(tf_rig_gimbal.translation_mm + shifts[held.support, axis]),
            along=_unit_vec(tf_rig_gimbal.direction(along[axis])),
            low_deg=reach.low_deg,
            high_deg=reach.high_deg,
            low_hits=reach.low_hits,
            high_hits=reach.high_hits,
            range_deg=(-TRIED_DEG[axis], TRIED_DEG[axis]),
        )
