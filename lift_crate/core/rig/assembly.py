"""Where everything is: poses from joints, and the masses there.

Formulas: docs/formulas.md §1. Frame: the rig's (see ``geometry``).
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..gear.model import Port
from ..geometry import Array, Pose
from ..settings import Settings, Support
from .build import Build, Catalogue, Joint
from .layout import Layout, layout_of
from .masses import MassSummary, Part, summed

__all__ = ["Assembly", "assemble"]

_BODY = np.eye(4, 5)
"""The body's own frame is the rig's."""


@dataclass(frozen=True, eq=False)
class Assembly:
    """A build put together: where its units are, body outwards, and the half of a cable at each of its ends."""

    build: Build
    layout: Layout
    joints: tuple[Joint, ...]
    """Parents before their children."""
    frames: Array
    """Frame of every unit in the rig's, and in the last column the joint it hangs on, mm, shape (n, 4, 5)."""

    @property
    def catalogue(self) -> Catalogue:
        """The shelf it is put together from."""
        return self.layout.catalogue

    @property
    def units(self) -> tuple[str, ...]:
        """Everything that is mounted, body outwards; cables are not."""
        return self.layout.units

    @property
    def row(self) -> dict[str, int]:
        """The row of every mounted unit in ``frames``."""
        return self.layout.row

    @cached_property
    def cgs_mm(self) -> Array:
        """Where every mass is, units before cable ends, mm in the rig frame, shape (masses, 3)."""
        own = self.layout.own_cgs
        zoomed = [(self.row[s.unit], s) for s in self.build.settings if s.focal_mm and s.unit in self.row]
        if zoomed:
            own = own.copy()
            for row, setting in zoomed:
                own[row] = self.catalogue.cg_of(setting.unit, setting.focal_mm)[0]
        at = np.matmul(self.frames[:, :3, :3], own[:, :, None])[:, :, 0] + self.frames[:, :3, 3]
        rows, sockets = self.layout.held_at
        if not len(rows):
            return np.asarray(at)
        held = self.frames[rows]
        return np.concatenate((at, np.matmul(held[:, :3, :3], sockets[:, :, None])[:, :, 0] + held[:, :3, 3]))

    @property
    def sockets_mm(self) -> Array:
        """Where cables end, both ends of one after the other, mm in the rig frame, shape (2 · links, 3)."""
        first = len(self.units)
        ends: Array = self.cgs_mm[first : first + 2 * len(self.layout.links)]
        return ends

    @cached_property
    def parts(self) -> dict[str, Part]:
        """Every mounted unit with its mass where it is."""
        return {part.unit: part for part in self._masses[: len(self.units)]}

    @property
    def cable_halves(self) -> tuple[Part, ...]:
        """The two ends of every cable; of one to what is worn, the one on the rig."""
        return self._masses[len(self.units) :]

    @cached_property
    def _masses(self) -> tuple[Part, ...]:
        poses = [Pose(frame[:3, :3], frame[:3, 3]) for frame in self.frames]
        m, rows = self.layout.masses, self.layout.holders.tolist()
        return tuple(
            Part(
                unit,
                self.units[row],
                poses[row] if i < len(poses) else Pose(np.eye(3), cg),
                m.grams[i],
                m.mass_sources[i],
                cg,
                m.cg_sources[i],
                m.known[i],
                m.shares[i],
            )
            for i, (unit, row, cg) in enumerate(zip(m.units, rows, self.cgs_mm, strict=True))
        )

    def masses(self, holders: Collection[str] | None = None) -> list[Part]:
        """All masses, or those that move with the units named."""
        return [part for part in self._masses if holders is None or part.holder in holders]

    def summary(self, settings: Settings, holders: Collection[str] | None = None) -> MassSummary:
        """Mass and CG with their spread, of everything or of what moves with the units named."""
        if holders is None:
            return summed(self.layout.masses, self.cgs_mm, settings.spreads)
        rows, masses = self.layout.moving_with(holders)
        return summed(masses, self.cgs_mm[rows], settings.spreads)

    @cached_property
    def loads(self) -> tuple[Array, Array]:
        """Mass that every joint carries, g, shape (joints,), and its CG, mm, shape (joints, 3).

        That is the side away from what holds the rig; the CG of nothing is not a number.
        """
        grams = self.layout.masses.mass_g
        carried = self.layout.carrying @ np.column_stack((grams, grams[:, None] * self.cgs_mm))
        with np.errstate(invalid="ignore", divide="ignore"):
            return carried[:, 0], carried[:, 1:] / carried[:, :1]

    def load_of(self, unit: str) -> tuple[float, Array]:
        """Mass in g, and its CG, mm, shape (3,), that the joint a unit hangs on carries.

        Raises KeyError for what is not mounted, and IndexError for the body.
        """
        i = self.row[unit] - 1
        if i < 0:
            raise IndexError(unit)
        grams, cgs = self.loads
        return float(grams[i]), cgs[i]

    @property
    def joint_points(self) -> Array:
        """Where each joint is, mm in the rig frame, shape (joints, 3)."""
        points: Array = self.frames[1:, :3, 4]
        return points

    @property
    def joint_ports(self) -> list[tuple[Joint, Port, Port]]:
        """Every joint with its parent's and its child's port."""
        return [(joint, parent, child) for joint, (parent, child) in zip(self.joints, self.layout.ports, strict=True)]

    def pose(self, unit: str) -> Pose:
        """``tf_rig_part`` of a mounted unit; raises KeyError."""
        frame = self.frames[self.row[unit]]
        return Pose(frame[:3, :3], frame[:3, 3])

    def port_at(self, unit: str, port_id: str) -> Array:
        """A port's position in the rig frame, mm, shape (3,); its slide not counted."""
        return self.pose(unit).point(self.catalogue.model_of(unit).port(port_id, unit).at)

    @property
    def supports(self) -> tuple[str, ...]:
        """Units that can carry the rig, outermost first; of those equally far
        out a gimbal before a head, mount, shoulder or hand.
        """
        return self.layout.supports

    @property
    def hands(self) -> tuple[str, ...]:
        """Handles and grips of the rig, body outwards."""
        return self.layout.hands

    def find_support(self) -> str | None:
        """The unit that carries the rig: the one the build says, else the outermost;
        None when it is held by a handle, or by the body itself.
        """
        return self.layout.support

    @property
    def support_kind(self) -> Support:
        """What kind of support carries the rig; in the hand where there is none."""
        support = self.find_support()
        data = self.catalogue.model_of(support).support if support else None
        return data.kind if data else "hand"

    @property
    def held_in_doubt(self) -> bool:
        """Whether several things could carry it, so that one should say
        which: supports, or handles where there is no support.
        """
        return len(self.supports) > 1 or (not self.supports and len(self.hands) > 1) or self.build.held_by is not None

    @property
    def held_by(self) -> str | None:
        """The unit whose joint carries the rest of the rig: its support, else the handle or grip it is held by."""
        return self.layout.held_by


def assemble(build: Build, catalogue: Catalogue) -> Assembly:
    """Put a build together.

    Raises what ``layout_of`` raises. Whether things really fit is not asked here: a wrong joint still
    has a place to be drawn at.
    """
    layout = layout_of(build, catalogue)
    joints = tuple(build.joints[i] for i in layout.order)  # of what is mounted; what is worn stands nowhere
    return Assembly(build, layout, joints, _framed(layout, joints))


def _framed(layout: Layout, joints: tuple[Joint, ...]) -> Array:
    """By row the frame of every unit in the rig's and its joint, shape (n, 4, 5)."""
    last = layout.once(_last)
    known = last.placed
    if known is None:
        frames, before = np.empty((len(joints) + 1, 4, 5)), None
        frames[0] = _BODY
    else:
        frames, before = known[1].copy(), known[0]
    moved = [False]
    for i, (joint, ports, above) in enumerate(zip(joints, layout.ports, layout.above, strict=True), 1):
        # Most edits move one thing: what hangs as it hung last stands where it stood.
        if before and joint is before[i - 1] and not moved[above]:
            moved.append(False)
            continue
        moved.append(True)
        parent, child = ports
        np.matmul(frames[above, :, :4], parent.mated(child, joint.spin_deg, joint.slide_mm), out=frames[i])
    last.placed = joints, frames
    return frames


@dataclass(eq=False)
class _Last:
    """Where everything of a layout was when it was last put together, and by which joints."""

    placed: tuple[tuple[Joint, ...], Array] | None = None


def _last(_: Layout) -> _Last:
    return _Last()
