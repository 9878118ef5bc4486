"""What runs into what: oriented boxes and barrels of different parts, and room that must stay free.

Two convex solids are apart when some axis separates them; the axes tried are the
faces of both, the products of their edges, and for barrels the direction from
axis to axis. The least overlap over all axes is how far one runs into the other
(docs/formulas.md §2). A cone counts as a barrel of its larger radius.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..callouts import About, Finding, Level, Working
from ..gear.solids import KeepClear, Rows, Solids, solids_of
from ..geometry import Array
from ..rig.assembly import Assembly
from ..rig.build import Link

__all__ = ["Clashes", "Covered", "Overlap", "Room", "bounds_of", "clash_findings", "clashes_of", "overlaps_mm"]

Flags = NDArray[np.bool_]

_MATED_MM = 1.0
"""What two parts that are made fast to each other may overlap on paper."""
_TOUCH_MM = 0.05
_FEW = 64
"""Up to so many pairs it is quicker to try all axes at once than to part them by faces first."""
_IN_THE_WAY_MM = 0.5
_AT_THE_LENS = ("lens support", "lens motor")
"""What is there to touch the lens."""
_PLUG_RADIUS_MM = 6.0
_SLEEVES = frozenset({"rod", "front", "battery"})
"""Joints in which one half goes into the other: a rod in its clamp, a filter in its holder, a pack in its slot."""


@dataclass(frozen=True, eq=False)
class _Placed:
    """Solids in the rig frame with the part each belongs to, rows alike."""

    owner: Rows
    """Index of the part, shape (n,)."""
    solids: Solids


@dataclass(frozen=True, slots=True, eq=False)
class Room:
    """Room that must stay free: a unit's own, or in front of one of its sockets for a plug."""

    unit: str
    keep: KeepClear | None
    link: Link | None = None
    port: str = ""

    @property
    def label(self) -> str:
        """What it is there for."""
        return self.keep.label if self.keep else "plug"


@dataclass(frozen=True, slots=True)
class Overlap:
    """How far a part runs into another, and what of it is allowed, mm."""

    unit: str
    into: str
    depth_mm: float
    allowed_mm: float


@dataclass(frozen=True, slots=True, eq=False)
class Covered:
    """Room that must stay free, and the part that stands in it."""

    room: Room
    by: str


@dataclass(frozen=True, slots=True, eq=False)
class Clashes:
    """Where a build is in its own way."""

    overlaps: tuple[Overlap, ...]
    covered: tuple[Covered, ...]
    stopped_screens: tuple[tuple[Room, Room], ...]
    """The room of a plug, and that of the screen which cannot swing with it in."""


def overlaps_mm(a: Solids, b: Solids) -> Array:
    """How far solids run into each other, pair by pair, mm, shape (k,); zero or less: apart or touching.

    ``a`` and ``b`` have k rows each, in one frame.
    """
    faces = np.concatenate((a.frame, b.frame), axis=1)
    if len(a.centre_mm) <= _FEW:
        return _least_overlap(a, b, np.concatenate((faces, _edges(a, b)), axis=1))
    # Most pairs are parted by a face; only the rest need the edges.
    least = _least_overlap(a, b, faces)
    left = np.flatnonzero(least > 0)
    if len(left):
        a, b = a.rows(left), b.rows(left)
        least[left] = np.minimum(least[left], _least_overlap(a, b, _edges(a, b)))
    return least


def _edges(a: Solids, b: Solids) -> Array:
    """Products of the edges of both, and the ways from axis to axis, shape (k, 11, 3)."""
    gap = b.centre_mm - a.centre_mm
    crosses = _cross(a.frame[:, :, None, :], b.frame[:, None, :, :]).reshape(-1, 9, 3)
    return np.concatenate((crosses, _aside(gap, a)[:, None], _aside(gap, b)[:, None]), axis=1)


def _cross(a: Array, b: Array) -> Array:
    """Cross product over the last axis, without the checks that make NumPy's slow on small arrays."""
    return np.stack(
        (
            a[..., 1] * b[..., 2] - a[..., 2] * b[..., 1],
            a[..., 2] * b[..., 0] - a[..., 0] * b[..., 2],
            a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0],
        ),
        axis=-1,
    )


def _least_overlap(a: Solids, b: Solids, axes: Array) -> Array:
    """Least overlap of shadows over axes of any length, shape (k, m, 3) to (k,); axes of no length do not count."""
    lengths = np.sqrt((axes * axes).sum(axis=2))
    real = lengths > 1e-6
    axes = axes / np.where(real, lengths, 1.0)[:, :, None]
    between = np.abs(np.matmul(axes, (b.centre_mm - a.centre_mm)[:, :, None])[:, :, 0])
    return np.asarray(np.where(real, _reach(a, axes) + _reach(b, axes) - between, np.inf).min(axis=1))


def _aside(gap: Array, solids: Solids) -> Array:
    """The part of a direction that is square to a solid's first axis, shape (k, 3)."""
    along = solids.frame[:, 0]
    return np.asarray(gap - (gap * along).sum(axis=1)[:, None] * along)


def _reach(solids: Solids, axes: Array) -> Array:
    """Half the length of each solid's shadow on axes of length one, shape (k, m)."""
    on = np.abs(np.matmul(axes, solids.frame.transpose(0, 2, 1)))
    reach = np.matmul(on, solids.half_mm[:, :, None])[:, :, 0]
    if solids.round.any():
        along = on[:, :, 0]
        aside = np.sqrt(np.maximum(1 - along * along, 0)) * solids.half_mm[:, 1:2]
        reach = np.where(solids.round[:, None], along * solids.half_mm[:, :1] + aside, reach)
    return np.asarray(reach)


def clashes_of(assembly: Assembly) -> Clashes:
    """What runs into what, what covers which room, which plug stops which screen."""
    units = [unit for unit in assembly.parts if assembly.catalogue.model_of(unit).shapes]
    placed = _place(assembly, units)
    if placed is None:
        return Clashes((), (), ())
    rooms, spaces = _rooms(assembly, units)
    row = {unit: i for i, unit in enumerate(units)}
    # Rooms stand behind the parts: one search finds parts in parts and parts in rooms.
    solids = Solids.joined([placed.solids, spaces])
    owner = np.concatenate((placed.owner, np.array([row.get(room.unit, -1) for room in rooms], dtype=int)))
    first, second = _near(assembly, units, solids, owner, len(placed.owner))
    overlaps: tuple[Overlap, ...] = ()
    covered: tuple[Covered, ...] = ()
    if len(first):
        depth = overlaps_mm(solids.rows(first), solids.rows(second))
        of_parts = second < len(placed.owner)
        overlaps = _overlaps(assembly, units, owner[first[of_parts]], owner[second[of_parts]], depth[of_parts])
        deep = ~of_parts & (depth > _IN_THE_WAY_MM)
        pairs = sorted(set(zip((second[deep] - len(placed.owner)).tolist(), owner[first[deep]].tolist(), strict=True)))
        covered = tuple(Covered(rooms[which], units[by]) for which, by in pairs)
    return Clashes(overlaps, covered, _plugs_in_screens(rooms, spaces))


def clash_findings(assembly: Assembly, clashes: Clashes) -> Iterator[Finding]:
    """Parts that run into each other, and room that must stay free and does not."""
    for overlap in clashes.overlaps:
        yield _overlapping(overlap)
    for covered in clashes.covered:
        yield _blocked(assembly, covered.room, covered.by)
    for room, screen in clashes.stopped_screens:
        yield Finding(
            code="clear.screen_plug",
            level=Level.WATCH,
            about=About(units=(screen.unit, room.link.cable if room.link else "", room.unit), port=room.port),
            text=(
                f"With {room.link.cable if room.link else 'it'} plugged in, the {screen.label} of {screen.unit} cannot"
                " swing; flip it first, then plug."
            ),
        )


def _near(assembly: Assembly, units: list[str], solids: Solids, owner: Rows, parts: int) -> tuple[Rows, Rows]:
    """Rows of solids whose boxes in the rig frame overlap and that may
    not; of two the part first, then the part or room.
    """
    low, high = bounds_of(solids)
    low = low + _TOUCH_MM
    over = np.ones((parts, len(owner)), dtype=bool)
    for axis in range(3):
        lows, highs = low[:, axis], high[:, axis]
        over &= (lows[:parts, None] < highs[None]) & (lows[None] < highs[:parts, None])
    over[:, :parts] &= ~_exempt(assembly, units)[owner[:parts, None], owner[None, :parts]]
    over[:, parts:] &= owner[:parts, None] != owner[None, parts:]
    if hung := _gimbal_rows(assembly, units):
        over[np.isin(owner[:parts], list(hung)), parts:] = False
    first, second = np.nonzero(over)
    once = first < second
    return first[once], second[once]


def _place(assembly: Assembly, units: list[str]) -> _Placed | None:
    """Solids of all units in the rig frame; of a gimbal the seat only, the rest moves (docs/formulas.md §3)."""
    owner, own = assembly.catalogue.solids_of(units)
    if not len(owner):
        return None
    frames = assembly.frames[[assembly.row[unit] for unit in units]]
    return _Placed(owner, own.moved_each(frames[owner]))


def bounds_of(solids: Solids) -> tuple[Array, Array]:
    """Lowest and highest corner of the box around each solid, shape (k, 3)."""
    on = np.abs(solids.frame)
    reach = (on * solids.half_mm[:, :, None]).sum(axis=1)
    r = solids.round
    along = on[r, 0, :]
    reach[r] = along * solids.half_mm[r, :1] + np.sqrt(np.clip(1 - along**2, 0, 1)) * solids.half_mm[r, 1:2]
    return solids.centre_mm - reach, solids.centre_mm + reach


def _overlaps(assembly: Assembly, units: list[str], first: Rows, second: Rows, depth: Array) -> tuple[Overlap, ...]:
    deepest: dict[tuple[int, int], float] = {}
    for i, k, mm in zip(first.tolist(), second.tolist(), depth.tolist(), strict=True):
        deepest[i, k] = max(deepest.get((i, k), 0.0), mm)
    mated = {frozenset((joint.child, joint.parent)) for joint in assembly.joints}
    return tuple(
        Overlap(units[k], units[i], mm, allowed)
        for (i, k), mm in sorted(deepest.items())
        if mm > (allowed := _MATED_MM if frozenset((units[i], units[k])) in mated else _TOUCH_MM)
    )


def _overlapping(overlap: Overlap) -> Finding:
    mm = overlap.depth_mm
    return Finding(
        code="clash.parts",
        level=Level.STOP,
        about=About(units=(overlap.unit, overlap.into)),
        text=f"{overlap.unit} runs {f'{mm:.0f}' if mm >= 1 else f'{mm:.1f}'} mm into {overlap.into}.",
        value=mm,
        limit=overlap.allowed_mm,
        unit="mm",
        working=(
            Working(
                formula="least overlap of their boxes over all separating axes",
                numbers=f"{mm:.2f} mm against {overlap.allowed_mm:g} mm allowed",
            ),
        ),
    )


def _exempt(assembly: Assembly, units: list[str]) -> Flags:
    """Pairs of parts that may share room, shape (n, n): the same part,
    sleeves, a lens in its support, a gimbal and what it carries.
    """
    row = {unit: i for i, unit in enumerate(units)}
    models = assembly.catalogue
    pairs = [
        (joint.child, joint.parent)
        for joint, parent, _ in assembly.joint_ports
        if models.interfaces[parent.interface].kind in _SLEEVES
    ]
    lenses = [unit for unit in units if models.model_of(unit).lens]
    pairs += [(unit, lens) for unit in units if models.model_of(unit).kind in _AT_THE_LENS for lens in lenses]
    support = assembly.find_support()
    if support and models.model_of(support).gimbal:
        beyond = assembly.build.subtree(support)
        pairs += [(hung, unit) for hung in beyond for unit in units if hung != support or unit in beyond]
    apart = np.eye(len(units), dtype=bool)
    for a, b in pairs:
        if a in row and b in row:
            apart[row[a], row[b]] = apart[row[b], row[a]] = True
    return apart


def _rooms(assembly: Assembly, units: list[str]) -> tuple[list[Room], Solids]:
    """Rooms with their solids in the rig frame, rows alike: the units'
    own, then those in front of sockets for plugs.
    """
    own = [(unit, keep, solid) for unit in units for keep, solid in assembly.catalogue.model_of(unit).rooms]
    found, solids = [Room(unit, keep) for unit, keep, _ in own], [solids_of(())]
    if own:
        frames = assembly.frames[[assembly.row[unit] for unit, _, _ in own]]
        solids.append(Solids.joined([solid for _, _, solid in own]).moved_each(frames))
    ends = [
        (link, unit, port_id, cable.bend_mm)
        for link in assembly.build.links
        if (cable := assembly.catalogue.model_of(link.cable).cable) and cable.bend_mm > 0
        for unit, port_id in ((link.from_unit, link.from_port), (link.to_unit, link.to_port))
        if unit in assembly.parts
    ]
    if ends:
        found += [Room(unit, None, link, port_id) for link, unit, port_id, _ in ends]
        solids.append(_plugs(assembly, [(unit, port_id, bend) for _, unit, port_id, bend in ends]))
    return found, Solids.joined(solids)


def _plugs(assembly: Assembly, ends: Sequence[tuple[str, str, float]]) -> Solids:
    """The straight room in front of sockets that a plug and its bend take, mm, in the rig frame."""
    ports = [assembly.catalogue.model_of(unit).port(port_id, unit) for unit, port_id, _ in ends]
    frames = assembly.frames[[assembly.row[unit] for unit, _, _ in ends]]
    # Normal, up and side of each port, and where it is, turned into the rig in one step.
    turned = np.matmul(frames[:, :3, :3], np.array([port.placed for port in ports]))
    at = turned[:, :, 3] + frames[:, :3, 3]
    half = np.array([bend / 2 for _, _, bend in ends])
    radius = np.full_like(half, _PLUG_RADIUS_MM)
    return Solids(
        at + turned[:, :, 0] * half[:, None],
        turned[:, :, :3].transpose(0, 2, 1),
        np.stack((half, radius, radius), axis=1),
        np.ones(len(ends), dtype=bool),
    )


def _gimbal_rows(assembly: Assembly, units: list[str]) -> set[int]:
    support = assembly.find_support()
    if not (support and assembly.catalogue.model_of(support).gimbal):
        return set()
    hung = set(assembly.build.subtree(support)) - {support}
    return {i for i, unit in enumerate(units) if unit in hung}


def _blocked(assembly: Assembly, room: Room, by: str) -> Finding:
    if room.keep is None:
        cable = room.link.cable if room.link else ""
        label = assembly.catalogue.model_of(room.unit).port(room.port, room.unit).label
        return Finding(
            code="clear.plug",
            level=Level.WATCH,
            about=About(units=(cable, room.unit, by), port=room.port),
            text=f"The plug of {cable} in '{label}' of {room.unit} has no room to bend: {by} is in the way.",
        )
    off = [u for u in assembly.build.subtree(by) if u != assembly.build.body]
    with_it = f" with {', '.join(off[1:4])}{' …' if len(off) > 4 else ''} on it" if len(off) > 1 else ""
    cure = f"take off {by}{with_it} to reach it" if assembly.build.joint_of(by) else "it is the body itself"
    return Finding(
        code="clear.blocked",
        level=Level.WATCH,
        about=About(units=(room.unit, by), port=room.keep.id),
        text=f"{by} stands in front of the {room.keep.label} of {room.unit}; {cure}.",
    )


def _plugs_in_screens(rooms: list[Room], solids: Solids) -> tuple[tuple[Room, Room], ...]:
    plugs = [i for i, room in enumerate(rooms) if room.link]
    found: list[tuple[Room, Room]] = []
    for k, screen in enumerate(rooms):
        if screen.keep is None or screen.keep.kind != "screen" or not plugs:
            continue
        depth = overlaps_mm(solids.rows(np.array(plugs)), solids.rows(np.full(len(plugs), k)))
        found += [(rooms[i], screen) for i, mm in zip(plugs, depth.tolist(), strict=True) if mm > _IN_THE_WAY_MM]
    return tuple(found)
