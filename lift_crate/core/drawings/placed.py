"""What of a rig moves as one, and where it stands: the camera where it is, a gimbal with its slides as solved.

The elevations and the rig in space are drawn from it.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..fit.joints import port_uses
from ..gear.model import GearModel, Port
from ..gear.solids import GimbalStage, Rows
from ..geometry import Array, Pose
from ..rig.layout import Layout
from ..stand import Stand

__all__ = [
    "INSIDE",
    "Moving",
    "Ports",
    "Shifts",
    "hung_on_stages",
    "moving_solids",
    "ports_of",
    "ports_placed",
    "runs_of",
    "shifts_of",
]

Shifts = dict[tuple[str, str | None], Array]
"""Displacement in the rig frame by unit and gimbal stage, mm, shape (3,)."""
INSIDE: dict[str, tuple[GimbalStage, ...]] = {
    "tilt": ("seat", "tilt"),
    "roll": ("seat", "tilt", "roll"),
    "pan": ("seat", "tilt", "roll", "pan"),
}
"""Stages that turn with an axis of a gimbal."""


@dataclass(frozen=True, slots=True, eq=False)
class Moving:
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


@dataclass(frozen=True, slots=True, eq=False)
class Ports:
    """All ports of a layout as rows: the unit's row, and in its frame where each is, mm, and faces, shape (k, 3)."""

    rows: Rows
    at: Array
    faces: Array
    told: tuple[tuple[str, Port, bool, bool], ...]
    """Whose, which, whether it is free, whether it is a socket."""


def runs_of(stand: Stand) -> Iterator[tuple[str, Array]]:
    """Units on a slide, with their motion in the rig frame per millimetre, shape (3,)."""
    assembly = stand.assembly
    for joint, (parent, child) in zip(assembly.joints, assembly.layout.ports, strict=True):
        if parent.slide:
            yield joint.child, assembly.pose(joint.parent).direction(parent.slide.axis)
        elif child.slide:
            yield joint.child, -assembly.pose(joint.child).direction(child.slide.axis)


def shifts_of(stand: Stand) -> Shifts:
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
    for unit, stage in hung_on_stages(stand).items():
        shifts[unit, None] = shifts[held.support, stage]
    return shifts


def hung_on_stages(stand: Stand) -> dict[str, GimbalStage]:
    """Units that hang on the gimbal's own ports, with the stage they move with."""
    support, layout = stand.carried.support, stand.assembly.layout
    return {
        unit: stage
        for joint in stand.assembly.joints
        if joint.parent == support
        if (stage := stand.assembly.catalogue.model_of(joint.parent).port(joint.parent_port).stage)
        for unit in layout.subtree(joint.child)
    }


def moving_solids(stand: Stand, shifts: Shifts) -> Iterator[Moving]:
    """Everything that is drawn, each where its pose and the slides of a gimbal put it."""
    layout, frames = stand.assembly.layout, stand.assembly.frames
    for (unit, stage), row in layout.once(_moving_as_one):
        shift = shifts.get((unit, stage), shifts.get((unit, None)))
        yield Moving(unit, layout.models[row], stage, Pose(frames[row, :3, :3], frames[row, :3, 3]), shift)


def _moving_as_one(layout: Layout) -> tuple[tuple[tuple[str, GimbalStage | None], int], ...]:
    """Units with something to draw, by the stages of a gimbal, with their rows."""
    return tuple(
        ((unit, stage), row)
        for row, (unit, model) in enumerate(zip(layout.units, layout.models, strict=True))
        for stage in dict.fromkeys(shape.stage for shape in model.shapes)
    )


def ports_of(layout: Layout) -> Ports:
    """All ports of a layout."""
    uses, interfaces = layout.once(port_uses), layout.catalogue.interfaces
    return Ports(
        np.repeat(np.arange(len(layout.units)), [len(model.ports) for model in layout.models]),
        np.concatenate([model.port_places for model in layout.models]),
        np.concatenate([model.port_normals for model in layout.models]),
        tuple(
            (unit, port, len(uses.get((unit, port.id), ())) < port.takes, interfaces[port.interface].takes_cable)
            for unit, model in zip(layout.units, layout.models, strict=True)
            for port in model.ports
        ),
    )


def ports_placed(stand: Stand, shifts: Shifts) -> tuple[Array, Array]:
    """Where every port is in the rig frame, mm, and where it faces, shape (k, 3)."""
    ports = stand.assembly.layout.once(ports_of)
    frames = stand.assembly.frames[ports.rows]
    at = np.matmul(frames[:, :3, :3], ports.at[:, :, None])[:, :, 0] + frames[:, :3, 3]
    for i, (unit, port, _, _) in enumerate(ports.told if shifts else ()):
        shift = shifts.get((unit, port.stage), shifts.get((unit, None)))
        if shift is not None:
            at[i] += shift
    return at, np.matmul(frames[:, :3, :3], ports.faces[:, :, None])[:, :, 0]
