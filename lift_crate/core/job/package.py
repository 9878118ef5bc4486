"""What one package shares over the day: fronts of all lenses, adapters at one time, plates under the cameras,
joints that a quick release would pay for.

Formulas: docs/formulas.md §2, 'Fronts', 'Plates of the day' and 'Quick releases'.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ..errors import BadRig
from ..fit.adapters import AdapterChain, all_chains, half_for
from ..gear.interface import Interface
from ..gear.model import GearModel, Port, mates
from ..lens.mount import lens_chain
from ..rig.assembly import assemble
from ..rig.build import Build, Catalogue, Joint
from ..settings import Settings
from .job import Job, PartOfDay, Rig

__all__ = [
    "AdapterNeed",
    "Front",
    "Package",
    "PlatesOfRig",
    "Refit",
    "ReleasePays",
    "joint_kind",
    "package_of",
]

_ON_FRONTS = frozenset({"filter", "matte box", "hood"})
_OFTEN = 2
"""A joint is opened or closed so often in a day before a quick release is looked for."""
_BETWEEN = frozenset({"release plate", "dovetail clamp", "head plate"})


def joint_kind(interface: Interface) -> str:
    """What a joint of this kind is to whoever opens it: a row of ``Settings.joint_min``."""
    if interface.kind == "front":
        return "screw" if interface.pitch_mm else "clamp" if interface.diameter_mm else "quick release"
    by_family = {"shoe": "shoe", "rail": "clamp", "rod": "clamp", "lens": "lens", "plate": "quick release"}
    return "quick release" if interface.kind == "battery" else by_family.get(interface.kind, "screw")


@dataclass(frozen=True, slots=True)
class OnFront:
    """How a filter, matte box or hood goes on a lens: straight, by rings that are here or to hire, or not at all."""

    thing: str
    how: str
    """'straight', 'by rings', 'to hire', 'no'."""
    rings: str
    mass_g: float
    length_mm: float


@dataclass(frozen=True, slots=True)
class Front:
    """The front of a lens model and what of the package goes on it."""

    lens: str
    front: str
    takes: tuple[OnFront, ...]


@dataclass(frozen=True, slots=True)
class Refit:
    """A change of lens on a camera: what in front of it comes off and goes on, and the minutes of those joints."""

    rig: str
    before: str
    after: str
    lens_off: str
    lens_on: str
    off: tuple[str, ...]
    on: tuple[str, ...]
    minutes: float


@dataclass(frozen=True, slots=True)
class AdapterNeed:
    """An adapter model: how many are in use at one time, when, and how many there are, owned and hired."""

    title: str
    at_once: int
    when: str
    owned: int
    hired: int
    wanted: tuple[str, ...]
    """Cameras whose lens does not join without one more."""

    @property
    def short(self) -> int:
        """How many are to be hired."""
        return max(0, self.at_once + len(self.wanted) - self.owned - self.hired)


@dataclass(frozen=True, slots=True)
class PlatesOfRig:
    """What a camera stands on over the day: part, support, the plate in its clamp; swaps of plates between them."""

    rig: str
    stands: tuple[tuple[str, str, str], ...]
    swaps: int
    one_for_all: tuple[str, ...]
    """Plates of the shelf that would go in every clamp of the day, where there are swaps."""


@dataclass(frozen=True, slots=True)
class ReleasePays:
    """A screwed joint that is opened and closed again: how often, the minutes a quick release saves, what it
    weighs, and how far it lets what it carries rock.
    """

    rig: str
    joint: str
    times: int
    saves_min: float
    by: str
    """Parts of the shelf that go between, or nothing."""
    mass_g: float
    locks: str
    play_deg: float
    """How far it rocks, made fast: measured, or as is usual."""
    play_measured: bool
    rocks_mm: float
    """That much at the CG of what the joint carries."""


@dataclass(frozen=True, slots=True)
class Package:
    """What the cameras of a job share."""

    fronts: tuple[Front, ...]
    refits: tuple[Refit, ...]
    adapters: tuple[AdapterNeed, ...]
    plates: tuple[PlatesOfRig, ...]
    releases: tuple[ReleasePays, ...]


def package_of(job: Job, catalogue: Catalogue) -> Package:
    """All of it, over every day of a job."""
    days = {rig.id: list(_builds_of(job, rig)) for rig in job.rigs}
    changes = [
        (rig, one, other, catalogue) for rig in job.rigs for one, other in pairwise(days[rig.id]) if one[1] != other[1]
    ]
    return Package(
        tuple(_fronts(catalogue)),
        tuple(refit for rig, one, other, _ in changes if (refit := _refit(job.settings, catalogue, rig, one, other))),
        tuple(_adapters(job, catalogue)),
        tuple(plates for rig in job.rigs if (plates := _plates(catalogue, rig, days[rig.id]))),
        tuple(release for rig in job.rigs for release in _releases(job.settings, catalogue, rig, days[rig.id])),
    )


_Stand = tuple[PartOfDay, Build]


def _builds_of(job: Job, rig: Rig) -> Iterator[_Stand]:
    for part in sorted(job.parts, key=lambda p: p.starts):
        found = job.builds_in(part.id).get(rig.id)
        if found:
            yield part, found[1]


def _lens_front(catalogue: Catalogue, model: GearModel) -> Port | None:
    return next((p for p in model.ports if catalogue.interfaces[p.interface].kind == "front"), None)


def _fronts(catalogue: Catalogue) -> Iterator[Front]:
    """Every lens of which there are units against every thing that goes on fronts."""
    models = {u.model: m for u in catalogue.shelf if (m := catalogue.model(u.model))}
    things = sorted((m for m in models.values() if m.kind in _ON_FRONTS), key=lambda m: (m.kind, m.title))
    free = list(catalogue.adapters)
    for lens in sorted((m for m in models.values() if m.lens), key=lambda m: m.title):
        front = _lens_front(catalogue, lens)
        if front is None:
            yield Front(lens.title, "no front of its own", ())
            continue
        chains = all_chains(catalogue, front, free)
        owns = [(thing, own) for thing in things if (own := _toward_lens(catalogue, thing))]
        takes = [(thing, own, _on_front(thing, chains.get(half_for(own)))) for thing, own in owns]
        yield Front(
            lens.title,
            catalogue.interfaces[front.interface].label,
            tuple(on if on.how != "no" else _inside(own, on, takes) for _, own, on in takes),
        )


def _toward_lens(catalogue: Catalogue, thing: GearModel) -> Port | None:
    """The port by which a filter, matte box or hood goes on: the one that looks back, else its first front."""
    fronts = [p for p in thing.ports if catalogue.interfaces[p.interface].kind == "front"]
    return next((p for p in fronts if p.n[0] < 0), fronts[0] if fronts else None)


def _on_front(thing: GearModel, chain: AdapterChain | None) -> OnFront:
    if chain is None:
        return OnFront(thing.title, "no", "", 0.0, 0.0)
    if not chain.links:
        return OnFront(thing.title, "straight", "", 0.0, 0.0)
    how = "by rings" if chain.units else "to hire"
    return OnFront(thing.title, how, str(chain), chain.mass_g, chain.length_mm)


def _inside(own: Port, on: OnFront, takes: Sequence[tuple[GearModel, Port, OnFront]]) -> OnFront:
    """A filter that goes on no lens may go in what does: in a matte box."""
    for holder, near, holds in takes:
        if holds.how != "no" and any(p.id != near.id and mates(own, p) for p in holder.ports):
            return OnFront(on.thing, holds.how, f"in {holder.title}", holds.mass_g, holds.length_mm)
    return on


def _lens_of(catalogue: Catalogue, build: Build) -> str | None:
    """The lens before the body; None without one, and for a build that is no rig yet."""
    try:
        chain = lens_chain(assemble(build, catalogue))
    except BadRig:
        return None
    return chain[-1] if chain and catalogue.model_of(chain[-1]).lens else None


def _refit(settings: Settings, catalogue: Catalogue, rig: Rig, one: _Stand, other: _Stand) -> Refit | None:
    """What a change of lens asks for in front of it; nothing where the lens stays, or nothing was or will be on it."""
    (before, was), (after, now) = one, other
    lens_off, lens_on = _lens_of(catalogue, was), _lens_of(catalogue, now)
    if lens_off is None or lens_on is None or lens_off == lens_on:
        return None
    off = [u for u in was.subtree(lens_off) if u != lens_off]
    on = [u for u in now.subtree(lens_on) if u != lens_on]
    if not off and not on:
        return None
    minutes = _minutes(settings, catalogue, was, off) + _minutes(settings, catalogue, now, on)
    return Refit(rig.label, before.label, after.label, lens_off, lens_on, tuple(off), tuple(on), minutes)


def _minutes(settings: Settings, catalogue: Catalogue, build: Build, units: Sequence[str]) -> float:
    joints = [joint for unit in units if (joint := build.joint_of(unit))]
    return sum(settings.joint_min.get(_kind_of(catalogue, joint), 0.0) for joint in joints)


def _kind_of(catalogue: Catalogue, joint: Joint) -> str:
    port = catalogue.model_of(joint.parent).port(joint.parent_port)
    return joint_kind(catalogue.interfaces[port.interface])


def _adapters(job: Job, catalogue: Catalogue) -> Iterator[AdapterNeed]:
    """Lens adapters that are in use, or that a lens on a mount of another kind needs, at their busiest part."""
    shelf = Counter((u.model, u.owner) for u in catalogue.shelf if (m := catalogue.model(u.model)) and m.adapter)
    busiest: dict[str, tuple[int, str]] = {}
    wanted: dict[str, dict[str, str]] = {}
    for part in job.parts:
        used: Counter[str] = Counter()
        for rig, build in job.builds_in(part.id).values():
            for unit in build.units:
                model = catalogue.model_of(unit)
                if (
                    model.adapter
                    and catalogue.interfaces[model.port(model.adapter.toward_body).interface].kind == "lens"
                ):
                    used[model.id] += 1
            for model_id in _missing_between(catalogue, build):
                wanted.setdefault(model_id, {})[rig.label] = part.label
        for model_id, count in used.items():
            if count > busiest.get(model_id, (0, ""))[0]:
                busiest[model_id] = count, part.label
    for model_id in sorted({*busiest, *wanted}):
        count, when = busiest.get(model_id, (0, ""))
        yield AdapterNeed(
            catalogue.models[model_id].title,
            count,
            when,
            shelf[model_id, "owned"],
            shelf[model_id, "hired"],
            tuple(wanted.get(model_id, ())),
        )


def _missing_between(catalogue: Catalogue, build: Build) -> Iterator[str]:
    """Adapter models that a lens of a build wants where it is put on a mount of another kind."""
    for joint in build.joints:
        parent = catalogue.model_of(joint.parent).port(joint.parent_port)
        own = catalogue.model_of(joint.child).port(joint.child_port)
        if catalogue.interfaces[own.interface].kind != "lens" or mates(own, parent):
            continue
        chain = all_chains(catalogue, parent, catalogue.adapters).get(half_for(own))
        yield from (link.model.id for link in chain.links) if chain else ()


def _plates(catalogue: Catalogue, rig: Rig, day: Sequence[_Stand]) -> PlatesOfRig | None:
    """The plate in the clamp of what carries the camera, part by part; None for a camera that is held all day."""
    stands: list[tuple[str, str, str]] = []
    clamps: dict[str, Port] = {}
    for part, build in day:
        found = _clamped(catalogue, build)
        if found:
            support, plate, clamp = found
            stands.append((part.label, support, plate))
            clamps[f"{clamp.interface} {clamp.gender}"] = clamp
    if not stands:
        return None
    swaps = sum(a[2] != b[2] for a, b in pairwise(stands))
    models = {u.model: m for u in catalogue.shelf if (m := catalogue.model(u.model)) and len(m.ports) > 1}
    one = [m.title for m in models.values() if all(any(mates(p, clamp) for p in m.ports) for clamp in clamps.values())]
    return PlatesOfRig(rig.label, tuple(stands), swaps, tuple(sorted(one)) if swaps and len(clamps) > 1 else ())


def _clamped(catalogue: Catalogue, build: Build) -> tuple[str, str, Port] | None:
    """What carries a build, what sits in its clamp, and the clamp."""
    try:
        support = assemble(build, catalogue).find_support()
    except BadRig:
        return None
    if support is None:
        return None
    joint = build.joint_of(support)
    if joint is None:
        return None
    return support, joint.parent, catalogue.model_of(support).port(joint.child_port)


def _releases(settings: Settings, catalogue: Catalogue, rig: Rig, day: Sequence[_Stand]) -> Iterator[ReleasePays]:
    """Screwed joints of a camera that come and go over the day, those that cost most minutes first."""
    times: Counter[Joint] = Counter()
    for (_, was), (_, now) in pairwise(day):
        same = {(j.child, j.parent, j.parent_port) for j in was.joints} & {
            (j.child, j.parent, j.parent_port) for j in now.joints
        }
        times.update(j for b in (was, now) for j in b.joints if (j.child, j.parent, j.parent_port) not in same)
    saves = settings.joint_min["screw"] - settings.joint_min["quick release"]
    by_joint: dict[tuple[str, str], tuple[Joint, int]] = {}
    for joint, count in times.items():
        if _kind_of(catalogue, joint) == "screw":
            key = joint.child, joint.parent
            by_joint[key] = joint, by_joint.get(key, (joint, 0))[1] + count
    for (child, parent), (joint, count) in sorted(by_joint.items(), key=lambda item: (-item[1][1], item[0])):
        if count >= _OFTEN:
            by, mass, catch = _release_for(catalogue, joint)
            measured = catch.play_deg if catch else None
            play = settings.release_play_deg if measured is None else measured
            yield ReleasePays(
                rig.label,
                f"{child} on {parent}",
                count,
                count * saves,
                by,
                mass,
                f"{catch.label}: set its stop and lock" if catch else "",
                play,
                measured is not None,
                math.tan(math.radians(play)) * max(_arms_mm(catalogue, day, joint), default=0.0),
            )


def _arms_mm(catalogue: Catalogue, day: Sequence[_Stand], joint: Joint) -> Iterator[float]:
    """How far from a joint the CG of what it carries is, in every build of the day that has it."""
    for _, build in day:
        if joint not in build.joints:
            continue
        try:
            rig = assemble(build, catalogue)
            grams, cg = rig.load_of(joint.child)
        except (BadRig, KeyError):
            continue
        if grams > 0:
            yield float(np.linalg.norm(cg - rig.joint_points[rig.row[joint.child] - 1]))


def _release_for(catalogue: Catalogue, joint: Joint) -> tuple[str, float, Interface | None]:
    """Two parts of the shelf that go between and part from each other by a clamp: names, mass in g, and that clamp."""
    parent = catalogue.model_of(joint.parent).port(joint.parent_port)
    own = catalogue.model_of(joint.child).port(joint.child_port)
    models = sorted(
        (m for m in {u.model: catalogue.model_of(u.id) for u in catalogue.shelf}.values() if m.kind in _BETWEEN),
        key=lambda m: m.mass_g or 0.0,
    )
    for first in models:
        for near in first.ports:
            if not mates(near, parent):
                continue
            for far in first.ports:
                kind = catalogue.interfaces[far.interface]
                if far.id == near.id or joint_kind(kind) not in ("clamp", "quick release"):
                    continue
                for second in models:
                    if any(mates(p, far) for p in second.ports) and any(mates(p, own) for p in second.ports):
                        both = f"{first.title} and {second.title}"
                        return both, (first.mass_g or 0) + (second.mass_g or 0), kind
    return "", 0.0, None
