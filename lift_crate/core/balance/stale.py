"""A balance is good for the rig it was made on: what has changed since, and how far each change moves which reading.

Formulas: docs/formulas.md §3, 'Stale balance'. Slides in mm on the printed scales.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from ..errors import BadRig, NotAllowed
from ..rig.assembly import assemble
from ..rig.build import Build, Catalogue
from ..stand import Stand
from ..support.load import carried
from ..wording import signed
from .report import readings_of

__all__ = ["TOUCHED", "Change", "changes_between", "fingerprint", "swapped_since", "touched"]

TOUCHED: dict[str, tuple[str, ...]] = {
    "lens cap": ("fore_aft",),
    "lens hood": ("fore_aft",),
    "screen": ("lateral", "fore_aft"),
    "card": ("lateral",),
    "cable run": ("lateral", "pan"),
    "microphone cable": ("lateral",),
}
"""What is in no build and still upsets a balance, with the slides to check again. Rule of thumb."""

_MOVED_MM = 0.5
"""A reading that moves by less is not worth a new balance."""


def fingerprint(build: Build, catalogue: Catalogue) -> str:
    """What affects the balance of a build, as a short text that changes with
    any of it: parts, joints, cables, settings, masses, CGs.
    """
    units = {u: [catalogue.mass_of(u), catalogue.cg_of(u, build.setting_of(u).focal_mm)] for u in sorted(build.units)}
    joints = sorted((j.child, j.child_port, j.parent, j.parent_port, j.spin_deg, j.slide_mm) for j in build.joints)
    links = sorted((k.cable, k.from_unit, k.from_port, k.to_unit, k.to_port) for k in build.links)
    # Builds with nothing worn and nothing bent keep the mark that they had before there was either.
    bends = {bend.unit: bend.deg for bend in sorted(build.bends, key=lambda b: b.unit)}
    what = [
        build.body,
        units,
        joints,
        links,
        *([sorted(build.worn)] if build.worn else []),
        *([bends] if bends else []),
    ]
    return hashlib.sha256(json.dumps(what).encode()).hexdigest()[:16]


@dataclass(frozen=True, slots=True)
class Change:
    """One thing that is not as it was balanced, and how far it moves each reading, mm."""

    text: str
    moved_mm: Mapping[str, float]
    check: tuple[str, ...] = ()
    """Slides to check where no figure tells how far."""

    @property
    def axes(self) -> tuple[str, ...]:
        """Slides worth setting again."""
        return (*(name for name, mm in self.moved_mm.items() if abs(mm) >= _MOVED_MM), *self.check)


def changes_between(balanced: Build, now: Stand) -> tuple[Change, ...]:
    """What changed since a build was balanced, each with the readings it moves by itself."""
    build = now.assembly.build
    found = [
        *(
            _change(now, f"{unit} was put on", build.without(build.subtree(unit)), build)
            for unit in _tops(build, balanced)
        ),
        *(
            _change(now, f"{unit} was taken off", balanced, balanced.without(balanced.subtree(unit)))
            for unit in _tops(balanced, build)
        ),
    ]
    for joint in build.joints:
        old = balanced.joint_of(joint.child)
        if old is None or old == joint:
            continue
        was = replace(build, joints=tuple(old if j.child == joint.child else j for j in build.joints))
        slid = (old.parent, old.parent_port, old.spin_deg) == (joint.parent, joint.parent_port, joint.spin_deg)
        what = (
            f"slid from {signed(old.slide_mm, 1)} to {signed(joint.slide_mm, 1)} mm" if slid else "was moved or turned"
        )
        found.append(_change(now, f"{joint.child} {what}", was, build))
    for unit in build.units:
        if unit in balanced.units and build.bend_of(unit) != balanced.bend_of(unit):
            bends = tuple(b for b in build.bends if b.unit != unit) + tuple(b for b in balanced.bends if b.unit == unit)
            found.append(_change(now, f"{unit} was bent", replace(build, bends=bends), build))
        lens = now.assembly.catalogue.model_of(unit).lens
        if lens is None or unit not in balanced.units:
            continue
        before, after = (b.setting_of(unit).focal_mm or lens.focal_mm[0] for b in (balanced, build))
        if before != after:
            others = tuple(s for s in build.settings if s.unit != unit)
            was = replace(build, settings=(*others, replace(build.setting_of(unit), focal_mm=before)))
            found.append(_change(now, f"{unit} was zoomed from {before:g} to {after:g} mm", was, build))
    return tuple(change for change in found if change is not None)


def _tops(build: Build, other: Build) -> list[str]:
    """Units on the rig of a build that another has not there, outermost parents only; cables too."""
    there = set(other.units) - set(other.on_operator)
    missing = [unit for unit in build.units if unit not in there and unit not in build.on_operator]
    return [unit for unit in missing if not ((joint := build.joint_of(unit)) and joint.parent in missing)]


def _change(now: Stand, text: str, before: Build, after: Build) -> Change | None:
    readings = []
    for build in (before, after):
        try:
            readings.append(readings_of(carried(assemble(build, now.assembly.catalogue), now.settings, now.target)))
        except BadRig:
            return Change(text, {})
    return Change(text, {name: readings[1][name] - readings[0][name] for name in readings[1] if name in readings[0]})


def swapped_since(now: Stand, swaps: Sequence[tuple[str, str]]) -> tuple[Change, ...]:
    """Packs of the build that are out and others in, after all swaps in order of time, each as (out, in).

    A pack that has come back is no change.
    """
    build = now.assembly.build
    place = {unit: unit for unit in build.units}
    for out, into in swaps:
        own = next((unit for unit, there in place.items() if there == out), None)
        if own is not None:
            place[own] = into
    found = (
        _change(now, f"{there} is in where {unit} was", build, _with(build, unit, there))
        for unit, there in place.items()
        if there != unit
    )
    return tuple(change for change in found if change is not None)


def _with(build: Build, out: str, into: str) -> Build:
    """The build with a unit of another label in the place of one."""

    def named(unit: str) -> str:
        return into if unit == out else unit

    return replace(
        build,
        joints=tuple(replace(j, child=named(j.child), parent=named(j.parent)) for j in build.joints),
        worn=tuple(map(named, build.worn)),
        links=tuple(replace(k, from_unit=named(k.from_unit), to_unit=named(k.to_unit)) for k in build.links),
        settings=tuple(s for s in build.settings if s.unit != out),
        bends=tuple(replace(b, unit=named(b.unit)) for b in build.bends),
    )


def touched(things: Sequence[str]) -> tuple[Change, ...]:
    """What somebody says has changed and is in no build; raises NotAllowed for what is not of ``TOUCHED``."""
    for thing in things:
        if thing not in TOUCHED:
            raise NotAllowed(f"'{thing}' is not told of a balance; it is one of: {', '.join(TOUCHED)}.")
    return tuple(Change(f"{thing} changed", {}, TOUCHED[thing]) for thing in things)
