"""What the builds of a camera have in common over a job: the core that never comes off, and each build as what it
adds to that.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..job.job import Job, Rig
from ..rig.build import Build

__all__ = ["CommonCore", "common_core"]


@dataclass(frozen=True, slots=True)
class CommonCore:
    """What sits at the same place in every build that a camera is planned in, and by build what comes on top."""

    units: tuple[str, ...]
    """Body first, in the order of the first build."""
    cables: tuple[str, ...]
    on_top: Mapping[str, tuple[str, ...]]
    """By build: units and cables that are not of the core, in the order of the build."""


def common_core(job: Job, rig: Rig) -> CommonCore:
    """The core of a camera over all parts that it is planned in; a camera planned nowhere has all its builds looked at.

    A unit belongs to the core when every build has it on the same port of the same thing, and that thing too.
    """
    planned = [b for p in job.parts if (b := job.builds_in(p.id).get(rig.id, (rig, None))[1]) is not None]
    builds = list({b.id: b for b in planned}.values()) or list(rig.builds)
    if not builds:
        return CommonCore((), (), {})
    bodies = {b.body for b in builds}
    core: list[str] = [builds[0].body] if len(bodies) == 1 else []
    places = [_places(build) for build in builds]
    line = list(core)
    for unit in line:
        # Outwards from the body: what hangs on something that comes off comes off with it.
        for joint in builds[0].joints:
            if joint.parent == unit and all(p.get(joint.child) == places[0][joint.child] for p in places):
                core.append(joint.child)
                line.append(joint.child)
    ends = [{k.cable: frozenset(((k.from_unit, k.from_port), (k.to_unit, k.to_port))) for k in b.links} for b in builds]
    cables = tuple(
        c for c, at in ends[0].items() if all(e.get(c) == at for e in ends) and {u for u, _ in at} <= set(core)
    )
    kept = {*core, *cables}
    return CommonCore(tuple(core), cables, {b.id: tuple(u for u in b.units if u not in kept) for b in rig.builds})


def _places(build: Build) -> dict[str, tuple[str, str, str]]:
    """By unit where it sits; slid or turned it still sits there."""
    return {j.child: (j.child_port, j.parent, j.parent_port) for j in build.joints}
