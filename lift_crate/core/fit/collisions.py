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
from ..gear.model import Port
from ..gear.solids import KeepClear, Rows, Solids, solids_of
from ..geometry import Array
from ..rig.assembly import Assembly
from ..rig.build import Link
from ..rig.layout import Layout

__all__ = [
    "Clashes",
    "Covered",
    "Overlap",
    "Room",
    "bounds_of",
    "clash_findings",
    "clashes_of",
    "overlaps_mm",
    "plug_room",
]

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


@dataclass(frozen=True, slots=True, eq=False)
class _Space:
    """What takes up room in a layout: solids of the parts, then rooms, each in the frame of the unit it is with."""

    units: tuple[str, ...]
    owner: Rows
    """Index in ``units`` that each solid belongs to, shape (n,)."""
    parts: int
    """How many of the solids are of parts."""
    rooms: tuple[Room, ...]
    own: Solids
    rows: Rows
    """The row of the unit whose frame each is in, shape (n,)."""
    may: Flags
    """Which solid of a part must stay out of which later one, shape (parts, n)."""
    mated: frozenset[frozenset[str]]
    """Units that are joined to each other."""


def clashes_of(assembly: Assembly) -> Clashes:
    """What runs into what, what covers which room, which plug stops which screen."""
    space = assembly.layout.once(_space)
    if not space.parts:
        return Clashes((), (), ())
    units, rooms, owner = space.units, space.rooms, space.owner
    solids = space.own.moved_each(assembly.frames[space.rows])
    first, second = _near(space, solids)
    overlaps: tuple[Overlap, ...] = ()
    covered: tuple[Covered, ...] = ()
    if len(first):
        depth = overlaps_mm(solids.rows(first), solids.rows(second))
        of_parts = second < space.parts
        overlaps = _overlaps(space, owner[first[of_parts]], owner[second[of_parts]], depth[of_parts])
        deep = ~of_parts & (depth > _IN_THE_WAY_MM)
        pairs = sorted(set(zip((second[deep] - space.parts).tolist(), owner[first[deep]].tolist(), strict=True)))
        covered = tuple(Covered(rooms[which], units[by]) for which, by in pairs)
    return Clashes(overlaps, covered, _plugs_in_screens(space, solids))


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


def _near(space: _Space, solids: Solids) -> tuple[Rows, Rows]:
    """Rows of solids whose boxes in the rig frame overlap and that may
    not; of two the part first, then the part or room.
    """
    low, high = bounds_of(solids)
    low = low + _TOUCH_MM
    parts, over = space.parts, space.may.copy()
    for lows, highs in zip(low.T, high.T, strict=True):
        over &= (lows[:parts, None] < highs) & (lows < highs[:parts, None])
    first, second = np.nonzero(over)
    return first, second


def _space(layout: Layout) -> _Space:
    """Solids of all units, of a gimbal the seat only, the rest moves (docs/formulas.md §3); and rooms,
    which stand behind the parts: one search finds parts in parts and parts in rooms.
    """
    units = tuple(unit for unit, model in zip(layout.units, layout.models, strict=True) if model.shapes)
    owner, own = layout.catalogue.solids_of(units)
    rooms, rows, spaces = _rooms(layout, units)
    row = {unit: i for i, unit in enumerate(units)}
    parts = len(owner)
    owner = np.concatenate((owner, np.array([row.get(room.unit, -1) for room in rooms], dtype=np.intp)))
    may = np.ones((parts, len(owner)), dtype=bool)
    may[:, :parts] = ~_exempt(layout, units)[owner[:parts, None], owner[None, :parts]]
    may[:, parts:] = owner[:parts, None] != owner[None, parts:]
    if hung := _gimbal_rows(layout, units):
        may[np.isin(owner[:parts], list(hung)), parts:] = False
    return _Space(
        units,
        owner,
        parts,
        rooms,
        Solids.joined([own, spaces]),
        np.array([layout.row[units[i]] for i in owner[:parts]] + rows, dtype=np.intp),
        np.triu(may, 1),
        frozenset(frozenset((layout.units[i], layout.units[above])) for i, above in enumerate(layout.above, 1)),
    )


def bounds_of(solids: Solids) -> tuple[Array, Array]:
    """Lowest and highest corner of the box around each solid, shape (k, 3)."""
    on = np.abs(solids.frame)
    reach = (on * solids.half_mm[:, :, None]).sum(axis=1)
    r = solids.round
    along = on[r, 0, :]
    reach[r] = along * solids.half_mm[r, :1] + np.sqrt(np.clip(1 - along**2, 0, 1)) * solids.half_mm[r, 1:2]
    return solids.centre_mm - reach, solids.centre_mm + reach


def _overlaps(space: _Space, first: Rows, second: Rows, depth: Array) -> tuple[Overlap, ...]:
    deepest: dict[tuple[int, int], float] = {}
    for i, k, mm in zip(first.tolist(), second.tolist(), depth.tolist(), strict=True):
        deepest[i, k] = max(deepest.get((i, k), 0.0), mm)
    units, mated = space.units, space.mated
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


def _exempt(layout: Layout, units: Sequence[str]) -> Flags:
    """Pairs of parts that may share room, shape (n, n): the same part,
    sleeves, a lens in its support, a gimbal and what it carries.
    """
    row = {unit: i for i, unit in enumerate(units)}
    models = layout.catalogue
    pairs = [
        (layout.units[i], layout.units[above])
        for i, (above, (port, _)) in enumerate(zip(layout.above, layout.ports, strict=True), 1)
        if models.interfaces[port.interface].kind in _SLEEVES
    ]
    lenses = [unit for unit in units if models.model_of(unit).lens]
    pairs += [(unit, lens) for unit in units if models.model_of(unit).kind in _AT_THE_LENS for lens in lenses]
    support, beyond = layout.support, layout.beyond_support
    if support and models.model_of(support).gimbal:
        pairs += [(hung, unit) for hung in beyond for unit in units if hung != support or unit in beyond]
    apart = np.eye(len(units), dtype=bool)
    for a, b in pairs:
        if a in row and b in row:
            apart[row[a], row[b]] = apart[row[b], row[a]] = True
    return apart


def _rooms(layout: Layout, units: Sequence[str]) -> tuple[tuple[Room, ...], list[int], Solids]:
    """Rooms, the row of the unit each is with, and its solid in that unit's frame: the
    units' own, then those in front of sockets for plugs.
    """
    own = [(unit, keep, solid) for unit in units for keep, solid in layout.catalogue.model_of(unit).rooms]
    ends = [
        (link, unit, port_id, cable.bend_mm)
        for link in layout.every_link
        if (cable := layout.catalogue.model_of(link.cable).cable) and cable.bend_mm > 0
        for unit, port_id in ((link.from_unit, link.from_port), (link.to_unit, link.to_port))
        if unit in layout.row
    ]
    rooms = [Room(unit, keep) for unit, keep, _ in own] + [Room(unit, None, link, port) for link, unit, port, _ in ends]
    plugs = [plug_room(layout.catalogue.model_of(unit).port(port_id, unit), bend) for _, unit, port_id, bend in ends]
    solids = Solids.joined([solids_of(()), *(solid for _, _, solid in own), *plugs])
    return tuple(rooms), [layout.row[room.unit] for room in rooms], solids


def plug_room(port: Port, bend_mm: float) -> Solids:
    """The straight room in front of a socket that a plug and its bend take, mm, in its unit's frame."""
    half = bend_mm / 2
    return Solids(
        (port.placed[:, 3] + port.placed[:, 0] * half)[None],
        port.basis.T[None],
        np.array([[half, _PLUG_RADIUS_MM, _PLUG_RADIUS_MM]]),
        np.array([True]),
    )


def _gimbal_rows(layout: Layout, units: Sequence[str]) -> set[int]:
    support = layout.support
    if not (support and layout.catalogue.model_of(support).gimbal):
        return set()
    return {i for i, unit in enumerate(units) if unit in layout.beyond_support and unit != support}


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
    off = [u for u in assembly.layout.subtree(by) if u != assembly.build.body]
    with_it = f" with {', '.join(off[1:4])}{' …' if len(off) > 4 else ''} on it" if len(off) > 1 else ""
    cure = f"take off {by}{with_it} to reach it" if assembly.build.joint_of(by) else "it is the body itself"
    return Finding(
        code="clear.blocked",
        level=Level.WATCH,
        about=About(units=(room.unit, by), port=room.keep.id),
        text=f"{by} stands in front of the {room.keep.label} of {room.unit}; {cure}.",
    )


def _plugs_in_screens(space: _Space, solids: Solids) -> tuple[tuple[Room, Room], ...]:
    plugs = [i for i, room in enumerate(space.rooms) if room.link]
    screens = [i for i, room in enumerate(space.rooms) if room.keep and room.keep.kind == "screen"]
    if not plugs or not screens:
        return ()
    pairs = [(i, k) for k in screens for i in plugs]
    plug, screen = np.array(pairs).T + space.parts
    depth = overlaps_mm(solids.rows(plug), solids.rows(screen)).tolist()
    return tuple(
        (space.rooms[i], space.rooms[k]) for (i, k), mm in zip(pairs, depth, strict=True) if mm > _IN_THE_WAY_MM
    )
