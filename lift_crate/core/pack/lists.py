"""The lists out and back: what is really in which case, what came back, what is missing and where it was last.

Steps are noted as they are done, by a scan or a tap; a step that was a mistake is taken back and stays readable.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Literal

from ..job.job import Job
from ..job.packing import EXTRA
from ..quantities import Identifier, Label, Note
from ..rig.build import Catalogue
from ..settings import STRICT

__all__ = [
    "Act",
    "CaseNow",
    "Lists",
    "PackStep",
    "ThingNow",
    "asked_first",
    "last_place",
    "lists_of",
    "refused_step",
    "some_of",
]

Act = Literal["packed", "closed", "opened", "back", "missing", "returned"]
State = Literal["to pack", "packed", "back", "missing", "returned"]
_STATES: dict[Act, State] = {"packed": "packed", "back": "back", "missing": "missing", "returned": "returned"}


@dataclass(frozen=True, kw_only=True)
class PackStep:
    """Something that was done with a thing or a case.

    packed: the thing is in ``case``. closed, opened: the case is. back: the thing is back on its shelf. missing: the
    list was closed without it. returned: a hired thing is back with whoever it was hired from.
    """

    __pydantic_config__ = STRICT

    act: Act
    thing: Identifier
    case: Label = ""
    at: datetime
    note: Note = ""


@dataclass(frozen=True, slots=True)
class ThingNow:
    """A thing as it is now: where, since when, who saw to it last."""

    thing: str
    state: State = "to pack"
    case: str = ""
    since: datetime | None = None
    actor: str = ""
    note: str = ""


@dataclass(frozen=True, slots=True)
class CaseNow:
    """A case as it is now."""

    unit: str
    closed: datetime | None = None
    opened: datetime | None = None


@dataclass(frozen=True)
class Lists:
    """All things and cases as they are now."""

    things: dict[str, ThingNow] = field(default_factory=dict)
    cases: dict[str, CaseNow] = field(default_factory=dict)

    def of(self, thing: str) -> ThingNow:
        """A thing; one that nothing was noted of is to be packed."""
        return self.things.get(thing, ThingNow(thing))

    @property
    def out(self) -> tuple[str, ...]:
        """What left and is not back yet, missing things among it."""
        return tuple(name for name, now in self.things.items() if now.state in ("packed", "missing"))


def lists_of(steps: Iterable[tuple[PackStep, str]]) -> Lists:
    """Everything as it is after these steps, each with who noted it, in the order of time."""
    lists = Lists()
    for step, actor in steps:
        if step.act in ("closed", "opened"):
            known = lists.cases.get(step.thing, CaseNow(step.thing))
            closed = step.at if step.act == "closed" else None
            opened = step.at if step.act == "opened" else known.opened
            lists.cases[step.thing] = CaseNow(step.thing, closed, opened)
        else:
            case = step.case or lists.of(step.thing).case
            lists.things[step.thing] = ThingNow(step.thing, _STATES[step.act], case, step.at, actor, step.note)
            if step.act == "packed" and step.case in lists.cases and lists.cases[step.case].closed:
                # Somebody had it open to put this in.
                lists.cases[step.case] = CaseNow(step.case, None, step.at)
    return lists


def refused_step(job: Job, catalogue: Catalogue, lists: Lists, step: PackStep) -> str:
    """Why a step cannot be; empty when it can."""
    return next(_refused(job, catalogue, lists, step), "")


def _refused(job: Job, catalogue: Catalogue, lists: Lists, step: PackStep) -> Iterator[str]:
    cases = [case.unit for case in job.pack.cases]
    if step.act in ("closed", "opened"):
        yield from _refused_case(job, cases, lists, step)
        return
    if not _known(catalogue, step.thing):
        yield (
            f"This shelf has no '{step.thing}'. If it is the label of another house, put the thing aside and ask whose"
            " it is; if it is yours, enter it on the Shelf first."
        )
        return
    now = lists.of(step.thing)
    if step.act == "packed":
        yield from _refused_packed(catalogue, cases, now, step)
    elif now.state == "returned":
        yield f"{step.thing} was returned already."
    elif step.act == "back" and now.state not in ("packed", "missing"):
        yield f"{step.thing} was not packed here, or is back already."
    elif step.act == "missing" and now.state != "packed":
        yield f"{step.thing} is not out, so it cannot be missing."
    elif step.act == "returned" and (step.thing not in catalogue.units or catalogue.unit(step.thing).owner != "hired"):
        yield f"{step.thing} is owned; only hired gear is returned to somebody."


def _refused_case(job: Job, cases: Sequence[str], lists: Lists, step: PackStep) -> Iterator[str]:
    if step.thing not in cases:
        yield f"{step.thing} does not go along as a case of this job."
    closed = lists.cases.get(step.thing, CaseNow(step.thing)).closed
    if step.act == "closed" and closed:
        yield f"{step.thing} was closed already, at {closed.astimezone(job.clock):%H:%M}."


def _refused_packed(catalogue: Catalogue, cases: Sequence[str], now: ThingNow, step: PackStep) -> Iterator[str]:
    if step.case not in cases:
        yield f"'{step.case}' does not go along as a case of this job; scan a case first."
    if step.thing in catalogue.units and catalogue.model_of(step.thing).case:
        along = step.thing in cases
        yield f"{step.thing} is a case itself; {'scan it to pack into it' if along else 'take it along as one first'}."
    if now.state == "packed" and now.case == step.case:
        yield f"{step.thing} is in {step.case} already."
    unit = catalogue.units.get(step.thing)
    if unit and unit.condition == "out of use":
        yield f"{step.thing} is out of use and stays at home."


def _known(catalogue: Catalogue, thing: str) -> bool:
    # What is computed to go along has no label; nobody scans it.
    return thing.startswith(EXTRA) or thing in catalogue.units


def asked_first(
    job: Job, lists: Lists, step: PackStep, dealt: dict[str, str], wanted: Iterable[str], now: datetime
) -> str:
    """What somebody is asked before a step that is allowed and unlikely; empty: nothing.

    ``dealt``: the case of each thing as it is planned; ``wanted``: everything that goes along.
    """
    if step.act == "closed":
        inside = [t for t, case in dealt.items() if case == step.thing and lists.of(t).state == "to pack"]
        if inside:
            return f"{len(inside)} things of {step.thing} are not in it: {some_of(inside)}. Close it without them?"
    if step.act in ("packed", "back"):
        held = lists.of(step.thing)
        if step.act == "packed" and held.state == "packed":
            return f"{step.thing} is in {held.case}. Was it moved to {step.case}?"
        mounted = _mounted(job, step.thing, now)
        if mounted:
            return f"{step.thing} is on {mounted}. Was it really taken off?"
        if step.act == "packed" and step.thing not in set(wanted):
            return f"{step.thing} is not on the list of this job. Pack it all the same?"
        planned = dealt.get(step.thing, "")
        if step.act == "packed" and planned and planned != step.case:
            return f"{step.thing} is planned for {planned}. Does it stay in {step.case}?"
    return ""


def _mounted(job: Job, unit: str, now: datetime) -> str:
    """Where a unit is mounted at a moment."""
    for part in job.parts:
        if part.starts <= now < part.ends:
            for rig, build in job.builds_in(part.id).values():
                if unit in build.units:
                    return f"{rig.label} until {part.ends:%H:%M} ({part.label})"
    return ""


def last_place(job: Job, lists: Lists, thing: str, now: datetime) -> str:
    """Where a thing was last, as far as anybody knows: on a camera in a part that has begun, else in its case."""
    parts = sorted((p for p in job.parts if p.starts <= now), key=lambda p: p.starts, reverse=True)
    held = lists.of(thing)
    for part in parts:
        if held.since and held.since >= part.ends:
            break
        for rig, build in job.builds_in(part.id).values():
            if thing in build.units:
                return f"{rig.label}, {part.label}"
    return held.case


def some_of(names: Sequence[str]) -> str:
    """The first five of these, and how many more."""
    shown = [name.removeprefix(EXTRA) for name in names[:5]]
    return f"{', '.join(shown)}{f' and {len(names) - 5} more' if len(names) > 5 else ''}"
