"""The edits a person can make to a job, as a closed family; each yields a new job.

What is in a build is edited on the Bench (``rig/edits``); here a build is made, named, planned and taken away.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, time, timedelta
from itertools import pairwise
from typing import Annotated, Literal
from zoneinfo import ZoneInfo

from annotated_types import Gt, Le, MaxLen, MinLen

from ..gear.labels import fresh_id, slug
from ..quantities import Count, Identifier, Label
from ..rig.assembly import assemble
from ..rig.build import Build, Catalogue, Conditions, Target
from ..settings import STRICT, Settings
from .charging import ChargingPlan
from .job import LONGEST, NOT_THERE, Assignment, Job, JobRefused, Moment, NotInJob, PartOfDay, Rig, Scheme
from .money_edits import MoneyOperation, PutCost, PutWant, RemoveCost, RemoveWant, describe_in_money, edit_money
from .packing_edits import (
    PackOperation,
    PutCase,
    PutExtra,
    PutThingIn,
    RemoveCase,
    RemoveExtra,
    SetCarrier,
    TakeThingOut,
    describe_in_pack,
    edit_pack,
    without_camera,
)
from .permission_edits import (
    PermissionOperation,
    PutPermission,
    RemovePermission,
    SetPaid,
    describe_in_permissions,
    edit_permissions,
    without_part_allowed,
)
from .sound_edits import SoundOperation, describe_in_sound, edit_sound, without_part, without_thing
from .venue import Picture, Spot, Thing

__all__ = [
    "AddBuild",
    "AddCamera",
    "AddPart",
    "ChangeBuild",
    "ChangeCamera",
    "ChangeJob",
    "ChangePart",
    "JobOperation",
    "JobRefused",
    "PlanBuild",
    "PutThing",
    "RemoveBuild",
    "RemoveCamera",
    "RemovePart",
    "RemoveThing",
    "SetCell",
    "SetCharging",
    "SetPicture",
    "SetPlace",
    "SetSettings",
    "SetTarget",
    "SetWalk",
    "apply_to_job",
    "describe_in_job",
    "job_id_of",
    "new_job",
    "with_frame_of",
]

_DAY = time(9), time(18)
"""The first part of a new job's day, until somebody says better."""

Name = Annotated[str, MinLen(1), MaxLen(200)]


@dataclass(frozen=True, kw_only=True)
class ChangeJob:
    """Give a job another title or time zone; what is left out stays."""

    __pydantic_config__ = STRICT

    op: Literal["change job"] = "change job"
    title: Name | None = None
    zone: Identifier | None = None


@dataclass(frozen=True, kw_only=True)
class AddPart:
    """A new part of the day. A time without a zone is on the job's own clock."""

    __pydantic_config__ = STRICT

    op: Literal["add part"] = "add part"
    label: Name
    starts: datetime
    ends: datetime
    conditions: Conditions = field(default_factory=Conditions)


@dataclass(frozen=True, kw_only=True)
class ChangePart:
    """Rename, move, stretch a part of the day, or say other conditions and moments; what is left out stays."""

    __pydantic_config__ = STRICT

    op: Literal["change part"] = "change part"
    part: Identifier
    label: Name | None = None
    starts: datetime | None = None
    ends: datetime | None = None
    conditions: Conditions | None = None
    moments: Annotated[tuple[Moment, ...], MaxLen(100)] | None = None


@dataclass(frozen=True, kw_only=True)
class RemovePart:
    """Take a part of the day out of the job, with what was planned in it."""

    __pydantic_config__ = STRICT

    op: Literal["remove part"] = "remove part"
    part: Identifier


@dataclass(frozen=True, kw_only=True)
class AddCamera:
    """A new camera: its body bare as the first build, planned wherever that body is free in this job."""

    __pydantic_config__ = STRICT

    op: Literal["add camera"] = "add camera"
    label: Name
    body: Identifier
    position: Label = ""


@dataclass(frozen=True, kw_only=True)
class ChangeCamera:
    """Rename or renumber a camera, or name its position; what is left out stays."""

    __pydantic_config__ = STRICT

    op: Literal["change camera"] = "change camera"
    rig: Identifier
    label: Name | None = None
    position: Label | None = None
    number: Count | None = None


@dataclass(frozen=True, kw_only=True)
class SetTarget:
    """Say what a camera must see; None: nothing is asked."""

    __pydantic_config__ = STRICT

    op: Literal["set target"] = "set target"
    rig: Identifier
    target: Target | None = None


@dataclass(frozen=True, kw_only=True)
class RemoveCamera:
    """Take a camera out of the job, with its builds."""

    __pydantic_config__ = STRICT

    op: Literal["remove camera"] = "remove camera"
    rig: Identifier


@dataclass(frozen=True, kw_only=True)
class AddBuild:
    """A new build of a camera: a copy of one of the job's builds, a bare body, or with what ``content`` has in it.

    It is planned in ``part``, else nowhere yet.
    """

    __pydantic_config__ = STRICT

    op: Literal["add build"] = "add build"
    rig: Identifier
    label: Name
    copy_of: Identifier | None = None
    body: Identifier | None = None
    content: Build | None = None
    part: Identifier | None = None


@dataclass(frozen=True, kw_only=True)
class ChangeBuild:
    """Give a build another name."""

    __pydantic_config__ = STRICT

    op: Literal["change build"] = "change build"
    build: Identifier
    label: Name


@dataclass(frozen=True, kw_only=True)
class RemoveBuild:
    """Take a build away, wherever it is planned."""

    __pydantic_config__ = STRICT

    op: Literal["remove build"] = "remove build"
    build: Identifier


@dataclass(frozen=True, kw_only=True)
class PlanBuild:
    """Say which build a camera is in, in a part of the day; None: it is not there then."""

    __pydantic_config__ = STRICT

    op: Literal["plan build"] = "plan build"
    rig: Identifier
    part: Identifier
    build: Identifier | None = None


@dataclass(frozen=True, kw_only=True)
class SetCell:
    """Say who works a camera in a part of the day, or that nobody does; what is None stays."""

    __pydantic_config__ = STRICT

    op: Literal["set cell"] = "set cell"
    rig: Identifier
    part: Identifier
    operator: Label | None = None
    unattended: bool | None = None
    scheme: Scheme | None = None
    spotter: Label | None = None


@dataclass(frozen=True, kw_only=True)
class SetSettings:
    """The job's settings, all of them."""

    __pydantic_config__ = STRICT

    op: Literal["set settings"] = "set settings"
    settings: Settings


@dataclass(frozen=True, kw_only=True)
class SetCharging:
    """Chargers, mains, hands, walks and boxes, all of them."""

    __pydantic_config__ = STRICT

    op: Literal["set charging"] = "set charging"
    charging: ChargingPlan


@dataclass(frozen=True, kw_only=True)
class SetPlace:
    """Where a camera stands on the plan, and what it must see there; None: nowhere yet."""

    __pydantic_config__ = STRICT

    op: Literal["set place"] = "set place"
    rig: Identifier
    place: Spot | None = None


@dataclass(frozen=True, kw_only=True)
class PutThing:
    """Something on the plan, new or changed."""

    __pydantic_config__ = STRICT

    op: Literal["put thing"] = "put thing"
    thing: Thing


@dataclass(frozen=True, kw_only=True)
class RemoveThing:
    """Take something off the plan; what was to be seen of it is forgotten with it."""

    __pydantic_config__ = STRICT

    op: Literal["remove thing"] = "remove thing"
    thing: Identifier


@dataclass(frozen=True, kw_only=True)
class SetWalk:
    """How fast people walk here."""

    __pydantic_config__ = STRICT

    op: Literal["set walk"] = "set walk"
    walk_m_s: Annotated[float, Gt(0), Le(5)]


@dataclass(frozen=True, kw_only=True)
class SetPicture:
    """The picture of the venue under the plan; None: there is none."""

    __pydantic_config__ = STRICT

    op: Literal["set picture"] = "set picture"
    picture: Picture | None = None


JobOperation = (
    ChangeJob
    | AddPart
    | ChangePart
    | RemovePart
    | AddCamera
    | ChangeCamera
    | SetTarget
    | RemoveCamera
    | AddBuild
    | ChangeBuild
    | RemoveBuild
    | PlanBuild
    | SetCell
    | SetSettings
    | SetCharging
    | SetPlace
    | PutThing
    | RemoveThing
    | SetWalk
    | SetPicture
    | SoundOperation
    | MoneyOperation
    | PackOperation
    | PermissionOperation
)


def job_id_of(title: str) -> str:
    """An id made from a title: letters, digits and hyphens, as it stands in addresses; 'job' where nothing is left."""
    return slug(title) or "job"


def new_job(title: str, day: date, zone: str, taken: Collection[str] = (), like: Job | None = None) -> Job:
    """A job of one day with one part, 9 to 18 on its own clock, everything else at its default.

    ``taken``: ids of the jobs there are; ``like``: the job whose settings it counts with, what was learnt among them.
    Raises JobRefused for a title of blanks and a zone that is none.
    """
    if not title.strip():
        raise JobRefused("Give the job a title.")
    clock = _clock(zone)
    starts, ends = (datetime.combine(day, at, clock) for at in _DAY)
    part = PartOfDay(id="day-1", label="Day 1", starts=starts, ends=ends, conditions=Conditions())
    settings = like.settings if like else Settings()
    return Job(id=fresh_id(title, taken, "job"), title=title.strip(), zone=zone, parts=(part,), settings=settings)


def apply_to_job(job: Job, operation: JobOperation, catalogue: Catalogue) -> Job:
    """The job after an edit. Raises JobRefused with a sentence, NotInJob, NoSuchUnit."""
    match operation:
        case ChangeJob():
            if operation.zone is not None:
                _clock(operation.zone)
            title = job.title if operation.title is None else _named(operation.title, "A job")
            return replace(job, title=title, zone=operation.zone or job.zone)
        case AddPart():
            return _add_part(job, operation)
        case ChangePart():
            return _change_part(job, operation)
        case RemovePart():
            job.part(operation.part)
            boxes = tuple(
                replace(box, parts=tuple(p for p in box.parts if p != operation.part)) for box in job.charging.boxes
            )
            return replace(
                job,
                parts=tuple(p for p in job.parts if p.id != operation.part),
                plan=tuple(a for a in job.plan if a.part != operation.part),
                charging=replace(job.charging, boxes=boxes),
                sound=without_part(job.sound, operation.part),
                safety=without_part_allowed(job.safety, operation.part),
            )
        case AddCamera():
            return _add_camera(job, operation, catalogue)
        case ChangeCamera():
            return _change_camera(job, operation)
        case SetTarget():
            return _with_rig(job, replace(job.rig(operation.rig), target=operation.target))
        case RemoveCamera():
            job.rig(operation.rig)
            walk = {rig: minutes for rig, minutes in job.charging.walk_min.items() if rig != operation.rig}
            return replace(
                job,
                rigs=tuple(r for r in job.rigs if r.id != operation.rig),
                plan=tuple(a for a in job.plan if a.rig != operation.rig),
                charging=replace(job.charging, walk_min=walk),
                pack=without_camera(job.pack, operation.rig),
            )
        case AddBuild():
            return _add_build(job, operation, catalogue)
        case ChangeBuild():
            _, build = job.build(operation.build)
            return job.with_build(replace(build, label=_named(operation.label, "A build")))
        case RemoveBuild():
            rig, build = job.build(operation.build)
            if len(rig.builds) == 1:
                raise JobRefused(
                    f"{build.label} is the only build of {rig.label}; make another first, or remove the camera."
                )
            without = _with_rig(job, replace(rig, builds=tuple(b for b in rig.builds if b.id != build.id)))
            return replace(without, plan=tuple(a for a in job.plan if a.build != build.id))
        case PlanBuild():
            return _plan(job, operation)
        case SetCell():
            return _set_cell(job, operation)
        case SetSettings():
            return replace(job, settings=operation.settings)
        case SetCharging():
            return _charge(job, operation.charging, catalogue)
        case SetPlace():
            return _with_rig(job, replace(job.rig(operation.rig), place=_placed(job, operation.place)))
        case PutThing():
            if operation.thing.unit:
                catalogue.unit(operation.thing.unit)
            things = {**{t.id: t for t in job.venue.things}, operation.thing.id: operation.thing}
            return replace(job, venue=replace(job.venue, things=tuple(things.values())))
        case RemoveThing():
            return _take_off(job, operation.thing)
        case SetPicture():
            return replace(job, venue=replace(job.venue, picture=operation.picture))
        case SetWalk():
            return replace(job, venue=replace(job.venue, walk_m_s=operation.walk_m_s))
        case PutCost() | RemoveCost() | PutWant() | RemoveWant():
            return edit_money(job, operation, catalogue)
        case PutCase() | RemoveCase() | PutThingIn() | TakeThingOut() | PutExtra() | RemoveExtra() | SetCarrier():
            return edit_pack(job, operation, catalogue)
        case PutPermission() | RemovePermission() | SetPaid():
            return edit_permissions(job, operation)
        case _:
            return edit_sound(job, operation, catalogue)


def describe_in_job(operation: JobOperation, job: Job) -> str:
    """What an edit does, in a line, on the job as it was before."""
    match operation:
        case ChangeJob():
            said = [f"title {operation.title}"] if operation.title else []
            return f"Change the job: {', '.join([*said, *([f'zone {operation.zone}'] if operation.zone else [])])}"
        case AddPart():
            return f"Add {operation.label}"
        case ChangePart():
            said = [
                f for f in ("label", "starts", "ends", "conditions", "moments") if getattr(operation, f) is not None
            ]
            return f"Change {_label_of(job.parts, operation.part)}: {', '.join(said).replace('label', 'name')}"
        case RemovePart():
            return f"Remove {_label_of(job.parts, operation.part)}"
        case AddCamera():
            return f"Add camera {operation.label} with {operation.body}"
        case ChangeCamera() | SetTarget():
            return f"Change camera {_label_of(job.rigs, operation.rig)}"
        case RemoveCamera():
            return f"Remove camera {_label_of(job.rigs, operation.rig)}"
        case AddBuild():
            return f"Add build {operation.label} to {_label_of(job.rigs, operation.rig)}"
        case ChangeBuild():
            return f"Rename a build to {operation.label}"
        case RemoveBuild():
            return f"Remove build {_build_label(job, operation.build)}"
        case PlanBuild():
            of, at = _label_of(job.rigs, operation.rig), _label_of(job.parts, operation.part)
            return f"Plan {of} in {at}: {_build_label(job, operation.build) if operation.build else 'not there'}"
        case SetCell():
            of, at = _label_of(job.rigs, operation.rig), _label_of(job.parts, operation.part)
            if operation.spotter is not None and operation.operator is None and operation.unattended is None:
                return f"Spotter of {of} in {at}: {operation.spotter or 'nobody'}"
            if operation.scheme is not None and operation.operator is None and operation.unattended is None:
                return f"Cards of {of} in {at}: {operation.scheme or 'as is usual'}"
            who = operation.operator or ("nobody" if operation.unattended else "not said")
            return f"Say who works {of} in {at}: {who}"
        case SetSettings():
            return "Change settings"
        case SetCharging():
            return "Change charging"
        case SetPlace():
            return f"{'Place' if operation.place else 'Take off the plan:'} {_label_of(job.rigs, operation.rig)}"
        case PutThing():
            return f"Put {operation.thing.label or operation.thing.id} on the plan"
        case RemoveThing():
            thing = job.venue.thing(operation.thing)
            return f"Take {thing.label if thing else operation.thing} off the plan"
        case SetPicture():
            return "Change the picture of the venue"
        case SetWalk():
            return "Change how fast people walk"
        case PutCost() | RemoveCost() | PutWant() | RemoveWant():
            return describe_in_money(operation, job)
        case PutCase() | RemoveCase() | PutThingIn() | TakeThingOut() | PutExtra() | RemoveExtra() | SetCarrier():
            return describe_in_pack(operation, job)
        case PutPermission() | RemovePermission() | SetPaid():
            return describe_in_permissions(operation, job)
        case _:
            return describe_in_sound(operation, job)


def _placed(job: Job, place: Spot | None) -> Spot | None:
    """A place whose things to see are on the plan; raises JobRefused."""
    for name in place.sees if place else ():
        if job.venue.thing(name) is None:
            raise JobRefused(f"There is no '{name}' on the plan to be seen; put it there first.")
    return place


def _take_off(job: Job, name: str) -> Job:
    if job.venue.thing(name) is None:
        raise NotInJob("thing on the plan", name)

    def without(rig: Rig) -> Rig:
        if rig.place is None or name not in rig.place.sees:
            return rig
        return replace(rig, place=replace(rig.place, sees=tuple(s for s in rig.place.sees if s != name)))

    things = tuple(replace(t, aims_at="") if t.aims_at == name else t for t in job.venue.things if t.id != name)
    parts = tuple(
        replace(p, moments=tuple(replace(m, thing="") if m.thing == name else m for m in p.moments)) for p in job.parts
    )
    venue = replace(job.venue, things=things)
    rigs = tuple(without(r) for r in job.rigs)
    return replace(job, venue=venue, parts=parts, rigs=rigs, sound=without_thing(job.sound, name))


def with_frame_of(now: Job, wanted: Job) -> Job:
    """An earlier or later state of a job, with the builds that are in both as they are now: what
    was done on the Bench meanwhile stays.
    """
    builds = {build.id: build for rig in now.rigs for build in rig.builds}

    def kept(build: Build) -> Build:
        here = builds.get(build.id)
        return replace(here, label=build.label) if here else build

    return replace(wanted, rigs=tuple(replace(r, builds=tuple(kept(b) for b in r.builds)) for r in wanted.rigs))


def _label_of(items: Iterable[PartOfDay] | Iterable[Rig], name: str) -> str:
    return next((item.label for item in items if item.id == name), name)


def _build_label(job: Job, build_id: str) -> str:
    return next((b.label for r in job.rigs for b in r.builds if b.id == build_id), build_id)


def _clock(zone: str) -> ZoneInfo:
    try:
        return Job(id="job", title="", zone=zone).clock
    except ValueError as error:
        raise JobRefused(f"{str(error)[0].upper()}{str(error)[1:]}.") from error


def _named(label: str, what: str) -> str:
    if not label.strip():
        raise JobRefused(f"{what} needs a name.")
    return label.strip()


_YEARS = (1990, 2200)


def on_clock(at: datetime, clock: ZoneInfo) -> datetime:
    """A time on the job's clock; one that this clock leaps over, or that no crew lives in, is refused."""
    if not _YEARS[0] <= at.year <= _YEARS[1]:
        raise JobRefused(f"The year {at.year} is no year for a job; give one from {_YEARS[0]} to {_YEARS[1]}.")
    if at.tzinfo is not None:
        return at
    here = at.replace(tzinfo=clock)
    if here.astimezone(ZoneInfo("UTC")).astimezone(clock).replace(tzinfo=None) != at:
        raise JobRefused(f"{at:%H:%M on %d %b %Y} does not exist: the clocks go forward then. Give a time after it.")
    return here


def _passes(start: datetime, end: datetime) -> timedelta:
    """How much time passes: on one clock two times are not an hour apart for being written so."""
    return end.astimezone(UTC) - start.astimezone(UTC)


def _add_part(job: Job, operation: AddPart) -> Job:
    part = _part(
        fresh_id(operation.label, [p.id for p in job.parts], "part"),
        _named(operation.label, "A part of the day"),
        on_clock(operation.starts, job.clock),
        on_clock(operation.ends, job.clock),
        operation.conditions,
        (),
    )
    return _with_parts(job, (*job.parts, part))


def _change_part(job: Job, operation: ChangePart) -> Job:
    old = job.part(operation.part)
    moments = old.moments if operation.moments is None else operation.moments
    starts, ends = (
        was if now is None else on_clock(now, job.clock)
        for was, now in ((old.starts, operation.starts), (old.ends, operation.ends))
    )
    shift = starts - old.starts
    if operation.moments is None and shift and ends - starts == old.ends - old.starts:
        # A part that is moved whole takes its moments along.
        moments = tuple(replace(moment, at=moment.at + shift) for moment in moments)
    for moment in operation.moments or ():
        if moment.thing and job.venue.thing(moment.thing) is None:
            raise JobRefused(f"There is no '{moment.thing}' on the plan for {moment.label}; put it there first.")
    part = _part(
        old.id,
        old.label if operation.label is None else _named(operation.label, "A part of the day"),
        starts,
        ends,
        old.conditions if operation.conditions is None else operation.conditions,
        tuple(replace(moment, at=on_clock(moment.at, job.clock)) for moment in moments),
    )
    return _with_parts(job, tuple(part if p.id == part.id else p for p in job.parts))


def _part(
    name: str, label: str, starts: datetime, ends: datetime, conditions: Conditions, moments: tuple[Moment, ...]
) -> PartOfDay:
    lasts = _passes(starts, ends)
    if lasts <= timedelta():
        raise JobRefused(
            f"{label} ends at {ends:%H:%M}, before it starts at {starts:%H:%M}. A part that runs over midnight ends on"
            " the next day."
        )
    if lasts > LONGEST:
        raise JobRefused(
            f"{label} lasts {lasts.total_seconds() / 3600:.0f} h, and {LONGEST.total_seconds() / 3600:.0f} h at most"
            " are taken; make several."
        )
    outside = next((m for m in moments if not timedelta() <= _passes(starts, m.at) <= lasts), None)
    if outside:
        raise JobRefused(
            f"{outside.label or 'A moment'} at {outside.at:%H:%M} is outside {label}, {starts:%H:%M} to {ends:%H:%M}."
            " Move it or the part."
        )
    return PartOfDay(id=name, label=label, starts=starts, ends=ends, conditions=conditions, moments=moments)


def _with_parts(job: Job, parts: tuple[PartOfDay, ...]) -> Job:
    ordered = sorted(parts, key=lambda part: part.starts.astimezone(UTC))
    for before, after in pairwise(ordered):
        if _passes(before.ends, after.starts) < timedelta():
            raise JobRefused(
                f"{after.label} would start at {after.starts:%H:%M}, while {before.label} runs until"
                f" {before.ends:%H:%M}. Shorten or move one of them."
            )
    return replace(job, parts=tuple(ordered))


def _body(unit: str, catalogue: Catalogue) -> None:
    model = catalogue.model_of(unit)
    if not model.is_body:
        raise JobRefused(f"{unit} is a {model.kind}. A camera starts from a camera body.")


def _add_camera(job: Job, operation: AddCamera, catalogue: Catalogue) -> Job:
    _body(operation.body, catalogue)
    numbers = {rig.number for rig in job.rigs}
    label = _named(operation.label, "A camera")
    build = Build(
        id=fresh_id(f"{label} full", _build_ids(job), "build"),
        label="full",
        body=operation.body,
    )
    rig = Rig(
        id=fresh_id(label, [r.id for r in job.rigs], "camera"),
        number=next(n for n in range(1, len(numbers) + 2) if n not in numbers),
        label=label,
        position=operation.position,
        builds=(build,),
    )
    free = [p.id for p in job.parts if operation.body not in _in_use(job, p.id)]
    plan = (*job.plan, *(Assignment(part=part, rig=rig.id, build=build.id) for part in free))
    return replace(job, rigs=tuple(sorted((*job.rigs, rig), key=lambda r: r.number)), plan=plan)


def _change_camera(job: Job, operation: ChangeCamera) -> Job:
    rig = job.rig(operation.rig)
    number = operation.number or rig.number
    # Who has the number gets the one that is given up.
    others = tuple(replace(r, number=rig.number) if r.number == number else r for r in job.rigs if r.id != rig.id)
    changed = replace(
        rig,
        number=number,
        label=rig.label if operation.label is None else _named(operation.label, "A camera"),
        position=rig.position if operation.position is None else operation.position,
    )
    return replace(job, rigs=tuple(sorted((*others, changed), key=lambda r: r.number)))


def _with_rig(job: Job, rig: Rig) -> Job:
    return replace(job, rigs=tuple(rig if r.id == rig.id else r for r in job.rigs))


def _build_ids(job: Job) -> list[str]:
    return [build.id for rig in job.rigs for build in rig.builds]


def _add_build(job: Job, operation: AddBuild, catalogue: Catalogue) -> Job:
    rig = job.rig(operation.rig)
    label = _named(operation.label, "A build")
    name = fresh_id(f"{rig.label} {label}", _build_ids(job), "build")
    if operation.copy_of is not None:
        _, source = job.build(operation.copy_of)
        build = replace(source, id=name, label=label)
    elif operation.body is not None:
        _body(operation.body, catalogue)
        build = Build(id=name, label=label, body=operation.body)
    elif operation.content is not None:
        _body(operation.content.body, catalogue)
        build = replace(operation.content, id=name, label=label)
        assemble(build, catalogue)
    else:
        raise JobRefused("A new build is a copy of another, or starts from a body or a recipe; say which.")
    made = _with_rig(job, replace(rig, builds=(*rig.builds, build)))
    return made if operation.part is None else _plan(made, PlanBuild(rig=rig.id, part=operation.part, build=name))


def _in_use(job: Job, part: str, but: str = "") -> dict[str, str]:
    """Units of a job in use in a part of the day, and by whom, but for one camera."""
    found = {unit: serves for unit, at, serves in job.claims_beside() if at == part}
    for other, (rig, build) in job.builds_in(part).items():
        if other != but:
            found |= dict.fromkeys(build.units, rig.label)
    return found


def _plan(job: Job, operation: PlanBuild) -> Job:
    rig, part = job.rig(operation.rig), job.part(operation.part)
    was = job.cell(part.id, rig.id)
    plan = tuple(a for a in job.plan if (a.part, a.rig) != (part.id, rig.id))
    if operation.build is None:
        return replace(job, plan=plan)
    of, build = job.build(operation.build)
    if of.id != rig.id:
        raise JobRefused(f"{build.label} is a build of {of.label}. Copy it to {rig.label} first.")
    used = _in_use(job, part.id, but=rig.id)
    shared = [f"{unit} ({used[unit]})" for unit in build.units if unit in used]
    if shared:
        more = f" and {len(shared) - 3} more" if len(shared) > 3 else ""
        raise JobRefused(
            f"{rig.label} cannot be in {build.label} in {part.label}: {', '.join(shared[:3])}{more} in use there then."
        )
    return replace(job, plan=(*plan, replace(was, build=build.id)))


def _set_cell(job: Job, operation: SetCell) -> Job:
    rig, part = job.rig(operation.rig), job.part(operation.part)
    cell = job.cell(part.id, rig.id)
    if cell.build == NOT_THERE:
        raise JobRefused(f"{rig.label} is not there in {part.label}; plan a build for it first.")
    operator = cell.operator if operation.operator is None else operation.operator.strip()
    unattended = cell.unattended if operation.unattended is None else operation.unattended
    # Whoever is named is there, and where nobody is, nobody is named.
    if operation.operator and operation.unattended is None:
        unattended = False
    if operation.unattended and operation.operator is None:
        operator = ""
    scheme = cell.scheme if operation.scheme is None else operation.scheme
    spotter = cell.spotter if operation.spotter is None else operation.spotter.strip()
    if operation.spotter and spotter == operator:
        raise JobRefused(f"{spotter} is at the finder of {rig.label} in {part.label}; a spotter is somebody else.")
    if operation.spotter and unattended:
        raise JobRefused(f"Nobody moves with {rig.label} in {part.label}; a spotter is for who does.")
    # Whoever takes the finder, or leaves it, does not go on watching the way.
    if unattended or spotter == operator:
        spotter = ""
    made = replace(cell, operator=operator, unattended=unattended, scheme=scheme, spotter=spotter)
    return replace(job, plan=tuple(made if a is cell else a for a in job.plan))


def _charge(job: Job, charging: ChargingPlan, catalogue: Catalogue) -> Job:
    for place in charging.chargers:
        model = catalogue.model_of(place.unit)
        if model.charger is None:
            raise JobRefused(f"{place.unit} is a {model.kind} and charges nothing; name a charger.")
    for box in charging.boxes:
        catalogue.unit(box.unit)
        for part in box.parts:
            job.part(part)
    for rig in charging.walk_min:
        job.rig(rig)
    units = [place.unit for place in charging.chargers]
    twice = next((unit for unit in units if units.count(unit) > 1), None)
    if twice:
        raise JobRefused(f"{twice} is there twice; a charger stands in one place.")
    for place in charging.chargers:
        for mains in place.open:
            on_clock(mains.starts, job.clock)
            on_clock(mains.ends, job.clock)
    after = replace(job, charging=charging)
    for unit, part, _ in after.claims_beside():
        rig_of = next((r.label for r, build in job.builds_in(part).values() if unit in build.units), None)
        if rig_of:
            raise JobRefused(f"{unit} is in {rig_of} in {job.part(part).label} already. Take it off there first.")
    return after
