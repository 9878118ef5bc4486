"""From one build of a camera to its next: what comes off and goes on, in which order, how long it
takes and what must be done again.

Cables first, then parts as they are struck, then parts as they are built, then cables. What
hangs together in both builds stays together; what is in neither joint of the other goes as one.
Formulas: docs/formulas.md §6, 'Changeover'. Minutes.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from ..balance.stale import changes_between
from ..drawings.build_sheet import build_order
from ..job.package import joint_kind
from ..rig.assembly import assemble
from ..rig.build import Build, Catalogue, Joint, Link
from ..settings import Settings
from ..stand import Stand

__all__ = ["Again", "Changeover", "Elsewhere", "Lost", "Task", "changeover", "shared_out"]

Act = Literal["fetch", "unplug", "take off", "put on", "plug in", "set", "balance", "recalibrate"]
Elsewhere = tuple[str, float]
"""A camera that has something in the part before, and minutes on foot from there."""
_BELT = "quick release"
"""What hanging something on a belt takes as long as."""
_SET_MM = 0.5
"""A part that slides by less is where it was."""
_SHORT_OF_ALL = 0.7
"""Share of the gap that work may take without being told to be tight; rule of thumb."""


@dataclass(frozen=True, slots=True)
class Task:
    """One thing to do: with what, where, by which kind of joint, for how long, and after which others."""

    act: Act
    unit: str
    where: str
    kind: str
    minutes: float
    after: tuple[int, ...] = ()
    """Places of the tasks that come before it."""


@dataclass(frozen=True, slots=True)
class Again:
    """Something to be done again, and why."""

    what: str
    why: str


@dataclass(frozen=True, slots=True)
class Lost:
    """Something the next build has no more, and what stands in for it; empty: nothing does."""

    what: str
    instead: str


@dataclass(frozen=True, slots=True)
class Changeover:
    """A change of one camera between two parts of the day."""

    tasks: tuple[Task, ...]
    beforehand: tuple[Task, ...]
    """What can be put together before: nobody has it in the part before."""
    stays: tuple[str, ...]
    again: tuple[Again, ...]
    lost: tuple[Lost, ...]
    gap_min: float
    alone_min: float
    """For one pair of hands: the sum of all."""
    two_min: float
    """For two: no task before those it comes after, longest way first."""

    @property
    def slowest(self) -> Task | None:
        """The joint that takes longest; balancing is none."""
        joints = [t for t in self.tasks if t.act in ("take off", "put on", "set")]
        return max(joints, key=lambda t: t.minutes, default=None)

    @property
    def fits(self) -> Literal["easily", "tight", "with two", "no"]:
        """Whether it fits the gap between the two parts."""
        if self.alone_min <= self.gap_min * _SHORT_OF_ALL:
            return "easily"
        if self.alone_min <= self.gap_min:
            return "tight"
        return "with two" if self.two_min <= self.gap_min else "no"


def changeover(
    was: Build, now: Stand, gap_min: float, *, others: Mapping[str, Elsewhere] | None = None, stood: Stand | None = None
) -> Changeover:
    """What it takes from one build to the next.

    ``others``: units that other cameras have in the part before, with the camera and minutes on foot;
    ``stood``: the build before as it stood, where its conditions count.
    """
    build, catalogue, settings = now.assembly.build, now.assembly.catalogue, now.settings
    work = _Work(was, build, catalogue, settings, others or {})
    if build != was:
        work.fetch()
        work.strike()
        work.put_up()
    again = _once(_again(was, now, stood)) if build != was else ()
    if any(a.what == "balance" for a in again) and now.carried.kind == "gimbal":
        last = tuple(range(len(work.tasks)))
        work.tasks.append(Task("balance", now.carried.support or build.body, "", "", settings.balance_min, last))
        work.tasks.append(
            Task("recalibrate", now.carried.support or build.body, "", "", settings.recalibrate_min, (len(last),))
        )
    tasks = tuple(work.tasks)
    stays = tuple(u for u in build.units if u in was.units and u not in {t.unit for t in tasks})
    return Changeover(
        tasks,
        tuple(work.beforehand),
        stays,
        again,
        tuple(_lost(was, build, catalogue)),
        gap_min,
        sum(t.minutes for t in tasks),
        max((end for _, _, end in shared_out(tasks, 2)), default=0.0),
    )


class _Work:
    """Tasks as they are found, each with those it must come after."""

    def __init__(
        self, was: Build, now: Build, catalogue: Catalogue, settings: Settings, others: Mapping[str, Elsewhere]
    ) -> None:
        self.was, self.now, self.catalogue, self.settings, self.others = was, now, catalogue, settings, others
        self.tasks: list[Task] = []
        self.beforehand: list[Task] = []
        self.old, self.new = set(was.units), set(now.units)
        self.about: dict[str, list[int]] = {}
        """By unit, cables too: the tasks in which it was fetched, taken off, put on or set."""
        self.pulled: dict[str, list[int]] = {}
        """By unit: the cables pulled out of it."""
        self.freed: dict[tuple[str, str], list[int]] = {}
        """By unit and port: the tasks that made room there."""

    def _add(self, act: Act, unit: str, where: str, kind: str, minutes: float, after: set[int]) -> int:
        number = len(self.tasks)
        self.tasks.append(Task(act, unit, where, kind, minutes, tuple(sorted(after))))
        self.about.setdefault(unit, []).append(number)
        return number

    def _after(self, *units: str) -> set[int]:
        return {i for unit in units for i in self.about.get(unit, ())}

    def _minutes(self, kind: str) -> float:
        return self.settings.cable_min if kind == "cable" else self.settings.joint_min.get(kind, 0.0)

    def _of(self, joint: Joint) -> tuple[str, str]:
        """What kind of joint it is, and where."""
        port = self.catalogue.model_of(joint.parent).port(joint.parent_port)
        return joint_kind(self.catalogue.interfaces[port.interface]), f"{joint.parent}, {port.label}"

    def fetch(self) -> None:
        """What another camera has until then: there and back, once for each camera it comes from."""
        wanted: dict[Elsewhere, list[str]] = {}
        for unit in self.now.units:
            if unit in self.others and unit not in self.old:
                wanted.setdefault(self.others[unit], []).append(unit)
        for (camera, minutes), units in wanted.items():
            number = self._add("fetch", ", ".join(units), camera, "", 2 * minutes, set())
            for unit in units:
                self.about.setdefault(unit, []).append(number)

    def strike(self) -> None:
        """Cables, then parts, outermost first."""
        kept = {_key(k) for k in self.now.links}
        for link in self.was.links:
            if _key(link) not in kept and {link.from_unit, link.to_unit, link.cable} & self.new:
                where = f"{link.from_unit} → {link.to_unit}"
                number = self._add("unplug", link.cable, where, "cable", self._minutes("cable"), set())
                for unit, port in ((link.from_unit, link.from_port), (link.to_unit, link.to_port)):
                    self.pulled.setdefault(unit, []).append(number)
                    self.freed.setdefault((unit, port), []).append(number)
        kept_joints = {_where(j) for j in self.now.joints}
        for joint in reversed(_ordered(self.was, self.catalogue)):
            if _where(joint) not in kept_joints and {joint.child, joint.parent} & self.new:
                kind, where = self._of(joint)
                on_it = self.was.subtree(joint.child)
                after = self._after(*on_it) | {i for unit in on_it for i in self.pulled.get(unit, ())}
                number = self._add("take off", joint.child, where, kind, self._minutes(kind), after)
                for end in ((joint.parent, joint.parent_port), (joint.child, joint.child_port)):
                    self.freed.setdefault(end, []).append(number)
        for unit in self.was.worn:
            if unit not in self.now.worn and unit in self.new:
                self._add("take off", unit, "the operator", _BELT, self._minutes(_BELT), self._after(unit))

    def put_up(self) -> None:
        """Parts, from the body outwards, then cables; what is new and free is put together before."""
        had = {_where(j): j for j in self.was.joints}
        for joint in _ordered(self.now, self.catalogue):
            old, (kind, where) = had.get(_where(joint)), self._of(joint)
            ends = ((joint.parent, joint.parent_port), (joint.child, joint.child_port))
            if old is None:
                self._put("put on", joint.child, where, kind, (joint.child, joint.parent), ends)
            elif abs(old.slide_mm - joint.slide_mm) > _SET_MM or (old.spin_deg - joint.spin_deg) % 360:
                self._add("set", joint.child, _set_to(joint), kind, self._minutes(kind), self._after(joint.child))
            deg = self.now.bend_of(joint.child)
            if deg != (self.was.bend_of(joint.child) if joint.child in self.old else ()) and not self._free(joint):
                said = " ".join(f"{d:+.0f}°" for d in deg) or "straight"
                self._add("set", joint.child, f"bent {said}", "clamp", self._minutes("clamp"), self._after(joint.child))
        for unit in self.now.worn:
            if unit not in self.was.worn:
                self._put("put on", unit, "the operator", _BELT, (unit,), ())
        kept = {_key(k) for k in self.was.links}
        for link in self.now.links:
            if _key(link) not in kept:
                units = (link.cable, link.from_unit, link.to_unit)
                ends = ((link.from_unit, link.from_port), (link.to_unit, link.to_port))
                self._put("plug in", link.cable, f"{link.from_unit} → {link.to_unit}", "cable", units, ends)

    def _free(self, joint: Joint) -> bool:
        """It is new, on what is new: put together, and bent, before."""
        return joint.child not in self.old and joint.parent not in self.old

    def _put(
        self,
        act: Act,
        unit: str,
        where: str,
        kind: str,
        units: tuple[str, ...],
        ends: tuple[tuple[str, str], ...],
    ) -> None:
        if not any(each in self.old or each in self.others for each in units):
            self.beforehand.append(Task(act, unit, where, kind, self._minutes(kind)))
            return
        after = self._after(*units) | {i for end in ends for i in self.freed.get(end, ())}
        self._add(act, unit, where, kind, self._minutes(kind), after)


def _where(joint: Joint) -> tuple[str, str, str, str]:
    return joint.child, joint.child_port, joint.parent, joint.parent_port


def _key(link: Link) -> tuple[str, frozenset[tuple[str, str]]]:
    return link.cable, frozenset(((link.from_unit, link.from_port), (link.to_unit, link.to_port)))


def _ordered(build: Build, catalogue: Catalogue) -> list[Joint]:
    """Joints in the order of the work, those of what is worn last."""
    order = {unit: i for i, unit in enumerate(build_order(assemble(build, catalogue)))}
    return sorted(build.joints, key=lambda j: order.get(j.child, len(order)))


def _set_to(joint: Joint) -> str:
    said = [f"to {joint.slide_mm:+.0f} mm" if joint.slide_mm else "to 0 mm"]
    if joint.spin_deg % 360:
        said.append(f"turned {joint.spin_deg % 360:g}°")
    return ", ".join(said)


def _once(found: Iterator[Again]) -> tuple[Again, ...]:
    """One line for each thing, with all its reasons."""
    why: dict[str, list[str]] = {}
    for each in found:
        why.setdefault(each.what, []).append(each.why)
    return tuple(Again(what, "; ".join(reasons)) for what, reasons in why.items())


_FOCUS, _LIGHT, _SOUND = ("lens", "lens motor"), ("filter", "matte box"), ("microphone", "receiver", "mixer")


def _again(was: Build, now: Stand, stood: Stand | None) -> Iterator[Again]:
    build, catalogue = now.assembly.build, now.assembly.catalogue
    yield from _balance(was, now)
    for kinds, what, why in (
        (_FOCUS, "focus", "marks and motor ends are those of another lens or place"),
        (_LIGHT, "exposure", "other filters are in front"),
        (_SOUND, "sound", "hear every source on headphones"),
        (("timecode box",), "timecode", "jam it again"),
    ):
        if _placed(build, catalogue, kinds) and _placed(was, catalogue, kinds) != _placed(build, catalogue, kinds):
            yield Again(what, why)
    if stood and now.conditions.light_ev is not None and stood.conditions.light_ev is not None:
        by = now.conditions.light_ev - stood.conditions.light_ev
        if abs(by) >= 1:
            yield Again("exposure", f"the light is {abs(by):.1f} stops {'brighter' if by > 0 else 'darker'}")
    fresh = [k.cable for k in build.links if _key(k) not in {_key(o) for o in was.links}]
    if fresh:
        yield Again("cables", f"tug at {', '.join(fresh)}, both ends")
    if was.body != build.body:
        yield Again("settings", f"all of {build.body}")
    changed = [s.unit for s in build.settings if s.unit in was.units and s != was.setting_of(s.unit)]
    changed += [
        s.unit for s in was.settings if s.unit in build.units and s.unit not in {x.unit for x in build.settings}
    ]
    if changed:
        yield Again("settings", f"of {', '.join(dict.fromkeys(changed))}")


def _balance(was: Build, now: Stand) -> Iterator[Again]:
    held = now.carried
    if held.kind not in ("gimbal", "head", "shoulder"):
        return
    if held.support not in was.units:
        yield Again("balance", f"it goes on {held.support}")
        return
    moved = [c.text for c in changes_between(was, now) if c.axes or held.kind != "gimbal"]
    if moved:
        more = f" and {len(moved) - 1} more" if len(moved) > 1 else ""
        yield Again("balance", f"{moved[0]}{more}")


def _placed(build: Build, catalogue: Catalogue, kinds: Sequence[str]) -> set[object]:
    """Units of some kinds with where they are and what is plugged into them."""
    mine = {u for u in build.units if catalogue.model_of(u).kind in kinds}
    return {_where(j) for j in build.joints if j.child in mine} | {
        _key(k) for k in build.links if mine & {k.from_unit, k.to_unit}
    }


def _lost(was: Build, now: Build, catalogue: Catalogue) -> Iterator[Lost]:
    def of(build: Build, *kinds: str) -> list[str]:
        return [u for u in build.units if catalogue.model_of(u).kind in kinds]

    body = catalogue.model_of(now.body)
    if of(was, "monitor") and not of(now, "monitor"):
        yield Lost("the monitor", f"the screen of {now.body}" if body.screen else "")
    if of(was, *_SOUND) and not of(now, *_SOUND):
        yield Lost("sound", "")
    for kinds, what, instead in (
        (("video transmitter",), "the picture elsewhere", ""),
        (("lens motor",), "focus by motor", "a hand on the ring"),
        (("matte box", "filter"), "filters and shade in front", ""),
        (("light",), "the light on it", ""),
        (("timecode box",), "timecode", "guide sound"),
        (("handle", "grip"), "its handles", "the gimbal's" if of(now, "gimbal") else ""),
    ):
        if of(was, *kinds) and not of(now, *kinds):
            yield Lost(what, instead)
    packs = len(of(was, "pack")) - len(of(now, "pack"))
    if packs > 0:
        left = of(now, "pack")
        yield Lost(f"{packs} pack{'s' if packs > 1 else ''}", f"{', '.join(left)} alone" if left else "")


def shared_out(tasks: Sequence[Task], people: int) -> list[tuple[int, float, float]]:
    """Who does which task and when: by task the person, start and end in minutes.

    The task with the longest way of work still behind it is taken first, by whoever is free first.
    """
    behind = [t.minutes for t in tasks]
    for i in range(len(tasks) - 1, -1, -1):
        for before in tasks[i].after:
            behind[before] = max(behind[before], tasks[before].minutes + behind[i])
    free, ends = [0.0] * max(1, people), [math.nan] * len(tasks)
    found: list[tuple[int, float, float]] = [(0, 0.0, 0.0)] * len(tasks)
    left = set(range(len(tasks)))
    while left:
        can = [i for i in left if all(not math.isnan(ends[b]) for b in tasks[i].after)]
        ready = {i: max((ends[b] for b in tasks[i].after), default=0.0) for i in can}
        who = min(range(len(free)), key=lambda p: (free[p], p))
        soonest = min(max(free[who], ready[i]) for i in can)
        chosen = min((i for i in can if max(free[who], ready[i]) <= soonest + 1e-9), key=lambda i: (-behind[i], i))
        starts = max(free[who], ready[chosen])
        ends[chosen] = free[who] = starts + tasks[chosen].minutes
        found[chosen] = who, starts, ends[chosen]
        left.remove(chosen)
    return found
