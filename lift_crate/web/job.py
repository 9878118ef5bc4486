"""Jobs: list, frame, camera strips, job file in and out."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date, datetime
from typing import Annotated
from zoneinfo import ZoneInfo, available_timezones

from flask import Response, g, request
from flask_openapi3.models.tag import Tag
from pydantic import Field

from ..core.crew.rights import NotYours, Role
from ..core.gear.model import GearModel
from ..core.job.charging import outlet_loads
from ..core.job.edits import JobOperation
from ..core.job.find import Found, find_in_job
from ..core.job.job import Job, NotInJob, calmest
from ..core.job.packing_edits import PackOperation
from ..core.job.settings_told import SettingInfo, settings_told
from ..core.lens.framing import LIGHT_IN_WORDS
from ..core.quantities import Label
from ..core.rig.build import Catalogue
from ..core.settings import Settings
from ..demo import demo_job_file
from ..formats.job_file import dump, parse
from ..store.builds import HistoryEntry
from ..store.crew import Session
from ..store.frame import FrameState
from . import schema as s
from .answers import Responses, answer, file_headers
from .described import PlaceApi
from .identity import current_actor, current_person, current_session, knows, now_leads
from .services import part_view, services

__all__ = ["api"]


_Day = Annotated[date, Field(ge=date(1990, 1, 1), le=date(2199, 12, 31))]
"""A day on which something is shot."""


class NewJob(s.Strict):
    """What a job starts from."""

    title: Annotated[str, Field(min_length=1, max_length=200)]
    day: _Day
    zone: Annotated[str, Field(max_length=120)] = "UTC"
    settings_of: Label = ""
    """The job whose settings it counts with, what was learnt among them; empty: the usual ones."""


class CopyJob(s.Strict):
    """A copy's title, and the day that the first day becomes."""

    title: Annotated[str, Field(min_length=1, max_length=200)]
    day: _Day


class Archive(s.Strict):
    """Whether a job is put away."""

    archived: bool


class JobEditRequest(s.Strict):
    """Operations on a job as it was at ``version``."""

    version: s.Version
    operations: Annotated[list[Annotated[JobOperation, Field(discriminator="op")]], Field(min_length=1, max_length=50)]


class PackEditRequest(s.Strict):
    """Operations on how a job's gear travels, on the job as it was at ``version``."""

    version: s.Version
    operations: Annotated[
        list[Annotated[PackOperation, Field(discriminator="op")]], Field(min_length=1, max_length=700)
    ]


class JobSummary(s.Told):
    """A job in the list of jobs, its times on its own clock."""

    id: str
    title: str
    zone: str
    archived: bool
    starts: datetime | None
    ends: datetime | None
    cameras: int
    changed: datetime


class RemovedJob(s.Told):
    """A job that was removed, and under which id it is kept."""

    job: str
    id: int
    title: str
    actor: str
    at: datetime


class JobsView(s.Told):
    """All jobs here; ``made``: the one that this request made."""

    made: str | None = None
    jobs: list[JobSummary]
    removed: list[RemovedJob]


class JobCounts(s.Told):
    """Open call-outs of a job."""

    stops: int
    watches: int
    calmest: str | None
    """The part of the day with the fewest Stops, of those with a camera planned: where one looks first."""


class UnitChoice(s.Told):
    """A unit to choose."""

    id: str
    title: str


class LightChoice(s.Told):
    """Light in plain words, and its EV at ISO 100."""

    words: str
    ev: float


class LampChoice(UnitChoice):
    """A light in stock."""

    lux_1m: float | None
    beam_deg: float | None


class OutletView(s.Told):
    """A place with mains: sockets, what its circuit carries, and the chargers on it at full rate."""

    place: str
    sockets: int
    amps: float
    chargers: list[str]
    load_a: float
    fits: bool


class FrameView(s.Told):
    """A job to be edited: its builds by name only, with how many units each has."""

    version: int
    can_undo: str | None
    can_redo: str | None
    job: Job
    units: dict[str, int]
    outlets: list[OutletView]
    """Places with mains whose sockets are said, and what stands there."""


class ChoicesView(s.Told):
    """What can be chosen in any job; of units 500 of each at most."""

    bodies: list[UnitChoice]
    """Units that a camera can start from."""
    chargers: list[UnitChoice]
    powered: list[UnitChoice]
    """What draws power and could run in no rig: lights, recorders."""
    lamps: list[LampChoice]
    """Lights in stock, with what they give at 1 m."""
    light: list[LightChoice]
    """What people call a light, brightest first."""
    zones: list[str]
    defaults: Settings
    """The usual settings, beside which those of a job are shown."""
    settings: tuple[SettingInfo, ...]
    """What each setting is called, its unit, range, source, and what it bears on."""


class JobHistoryView(s.Told):
    """Edits of a job's frame, newest first."""

    edits: list[HistoryEntry]


_MOST_CHOICES = 500
_TIMES = ("starts", "ends", "changed")
api = PlaceApi("jobs", __name__, url_prefix="/api", abp_tags=[Tag(name="jobs", description="Jobs and job files")])
_ERRORS: Responses = {404: s.ProblemView, 409: s.ProblemView, 422: s.ProblemView, 503: s.ProblemView}


@api.get("/jobs", responses={200: JobsView, 503: s.ProblemView}, operation_id="listJobs")
def list_jobs() -> Response:
    """All jobs here, earliest first, and those that were removed."""
    return _list()


def _list(status: int = 200, made: str | None = None) -> Response:
    with services().jobs.reading():
        rows, removed = services().jobs.list_jobs(), services().frames.removed()
    return answer(
        JobsView(
            made=made,
            jobs=[
                JobSummary(**{**row, **{at: row[at] and row[at].astimezone(ZoneInfo(row["zone"])) for at in _TIMES}})
                for row in rows
                if knows(row["id"])
            ],
            removed=[RemovedJob(**row) for row in removed if knows(row["job"])],
        ),
        status,
    )


def _role(session: Session, job: str) -> Role | None:
    return services().crew.roles_of(session.person.id).get(job)


def _made(job: str) -> Response:
    """Whoever makes a job leads it."""
    services().crew.lead(current_person(), job)
    now_leads(job)
    if g.get("roles") is not None:
        g.roles = {**g.roles, job: "lead"}
    return _list(201, job)


@api.post("/jobs", responses={201: JobsView, **_ERRORS}, operation_id="makeJob")
def make_job(body: NewJob) -> Response:
    """A new job of one day; everything but its title and day at its default."""
    if body.settings_of and not knows(body.settings_of):
        raise NotInJob("job", body.settings_of)
    return _made(services().frames.make(body.title, body.day, body.zone, body.settings_of))


@api.post("/demo", responses={201: JobsView, **_ERRORS}, operation_id="loadDemo")
def load_demo() -> Response:
    """Put the demo job and its gear beside what is here."""
    file = demo_job_file()
    services().jobs.require_new(file.job.id)
    services().jobs.import_file(file, actor=current_actor())
    return _made(file.job.id)


@api.post("/jobs/<string:job>/copy", responses={201: JobsView, **_ERRORS}, operation_id="copyJob")
def copy_job(path: s.JobPath, body: CopyJob) -> Response:
    """A job like this one, its first day moved."""
    return _made(services().frames.copy(path.job, body.title, body.day))


@api.post("/jobs/<string:job>/archive", responses={200: JobsView, **_ERRORS}, operation_id="archiveJob")
def archive_job(path: s.JobPath, body: Archive) -> Response:
    """Put a job away, or take it out again."""
    services().frames.archive(path.job, archived=body.archived)
    return _list()


@api.delete("/jobs/<string:job>", responses={200: JobsView, **_ERRORS}, operation_id="removeJob")
def remove_job(path: s.JobPath) -> Response:
    """Take a job away; it is kept and can be brought back."""
    services().jobs.remove(path.job, current_actor())
    return _list()


@api.get("/jobs/<string:job>/counts", responses={200: JobCounts, **_ERRORS}, operation_id="countJob")
def count_job(path: s.JobPath) -> Response:
    """Open Stops and Watches of all cameras in all parts of the day."""
    job, catalogue, _ = services().jobs.read(path.job)
    counts = {
        part.id: [
            services().verdicts.of(build, catalogue, part.conditions, job.settings, job.target_of(rig, part.id)).counts
            for rig, build in job.builds_in(part.id).values()
        ]
        for part in job.parts
    }
    every = [camera for cameras in counts.values() for camera in cameras]
    stops, watches = (sum(camera[level] for camera in every) for level in ("stops", "watches"))
    return answer(JobCounts(stops=stops, watches=watches, calmest=calmest(counts)))


@api.get("/jobs/<string:job>/frame", responses={200: FrameView, **_ERRORS}, operation_id="readFrame")
def read_frame(path: s.JobPath) -> Response:
    """A job's days, cameras, plan and settings, to be edited."""
    return answer(_frame(services().frames.read(path.job)))


@api.post("/jobs/<string:job>/edits", responses={200: FrameView, **_ERRORS}, operation_id="editJob")
def edit_job(path: s.JobPath, body: JobEditRequest) -> Response:
    """Change a job and save it, whole or not at all; a stale edit is refused."""
    operations = tuple(body.operations)
    return answer(_frame(services().frames.edit(path.job, body.version, operations, current_actor(), _judged)))


@api.post("/jobs/<string:job>/pack/edits", responses={200: FrameView, **_ERRORS}, operation_id="editPacking")
def edit_packing(path: s.JobPath, body: PackEditRequest) -> Response:
    """Change how a job's gear travels and save that, whole or not at all; a stale edit is refused."""
    operations = tuple(body.operations)
    return answer(_frame(services().frames.edit(path.job, body.version, operations, current_actor(), _judged)))


@api.post("/jobs/<string:job>/undo", responses={200: FrameView, **_ERRORS}, operation_id="undoJob")
def undo_job(path: s.JobPath, body: s.StepRequest) -> Response:
    """Take the last edit of the job back; what was done on the Bench stays."""
    return answer(_frame(services().frames.undo(path.job, body.version, current_actor(), _judged, anyway=body.anyway)))


@api.post("/jobs/<string:job>/pack/undo", responses={200: FrameView, **_ERRORS}, operation_id="undoPacking")
def undo_packing(path: s.JobPath, body: s.StepRequest) -> Response:
    """Take the last change of how the gear travels back; what somebody did to the job since is not touched."""
    return answer(
        _frame(services().frames.undo_packing(path.job, body.version, current_actor(), _judged, anyway=body.anyway))
    )


@api.post("/jobs/<string:job>/redo", responses={200: FrameView, **_ERRORS}, operation_id="redoJob")
def redo_job(path: s.JobPath, body: s.StepRequest) -> Response:
    """Do the last undone edit of the job again."""
    return answer(_frame(services().frames.redo(path.job, body.version, current_actor(), _judged, anyway=body.anyway)))


@api.get("/jobs/<string:job>/history", responses={200: JobHistoryView, **_ERRORS}, operation_id="readJobHistory")
def read_job_history(path: s.JobPath) -> Response:
    """The latest edits of the job's days, cameras, plan and settings."""
    return answer(JobHistoryView(edits=services().frames.history(path.job)))


class EarlierJobPath(s.JobPath):
    """Names a job as it was after an edit."""

    to: Annotated[int, Field(ge=0, le=2**31 - 1)]


@api.post("/jobs/<string:job>/history/<int:to>", responses={200: FrameView, **_ERRORS}, operation_id="bringFrameBack")
def bring_back_frame(path: EarlierJobPath, body: s.StepRequest) -> Response:
    """Make the job's days, cameras, plan and settings again what they were after an edit."""
    state = services().frames.bring_back(path.job, body.version, path.to, current_actor(), _judged)
    return answer(_frame(state))


def _judged(before: Job, after: Job, catalogue: Catalogue) -> None:
    """Every rig whose conditions, settings, wants or build an edit changes is judged to the end before it is saved."""
    known = {part.id: part.conditions for part in before.parts}
    was = {rig.id: rig for rig in before.rigs}
    for part in after.parts:
        for rig, build in after.builds_in(part.id).values():
            old = was.get(rig.id)
            same = before.settings == after.settings and known.get(part.id) == part.conditions
            if not (
                same and old and before.target_of(old, part.id) == after.target_of(rig, part.id) and build in old.builds
            ):
                services().verdicts.of(build, catalogue, part.conditions, after.settings, after.target_of(rig, part.id))


def _frame(state: FrameState) -> FrameView:
    bare = tuple(
        replace(rig, builds=tuple(replace(b, joints=(), links=(), settings=()) for b in rig.builds))
        for rig in state.job.rigs
    )
    sizes = {build.id: len(build.units) for rig in state.job.rigs for build in rig.builds}
    return FrameView(
        version=state.version,
        can_undo=state.can_undo,
        can_redo=state.can_redo,
        job=replace(state.job, rigs=bare),
        units=sizes,
        outlets=_outlets(state.job) if state.job.charging.outlets else [],
    )


def _outlets(job: Job) -> list[OutletView]:
    known = services().shelf.catalogue()
    chargers = {
        place.unit: charger
        for place in job.charging.chargers
        if place.unit in known.units and (charger := known.model_of(place.unit).charger)
    }
    return [
        OutletView(
            place=o.place, sockets=o.sockets, amps=o.amps, chargers=list(o.chargers), load_a=o.load_a, fits=o.fits
        )
        for o in outlet_loads(job.charging, chargers, job.settings.mains_v)
    ]


@api.get("/choices", responses={200: ChoicesView, 503: s.ProblemView}, operation_id="readChoices")
def read_choices() -> Response:
    """Bodies, chargers and things with power in stock, time zones, and the usual settings."""
    known = services().shelf.catalogue()
    shelf = [(unit.id, model) for unit in known.shelf if (model := known.models.get(unit.model))]

    def those(wanted: Callable[[str, GearModel], object]) -> list[UnitChoice]:
        return [UnitChoice(id=unit, title=model.title) for unit, model in shelf if wanted(unit, model)][:_MOST_CHOICES]

    return answer(
        ChoicesView(
            bodies=those(lambda _, model: model.is_body),
            chargers=those(lambda _, model: model.charger),
            powered=those(lambda unit, model: known.draw_of(unit)[0] and not model.is_body),
            lamps=[
                LampChoice(id=unit, title=model.title, lux_1m=model.lamp.lux_1m, beam_deg=model.lamp.beam_deg)
                for unit, model in shelf
                if model.lamp
            ][:_MOST_CHOICES],
            light=[LightChoice(words=words, ev=ev) for words, ev in LIGHT_IN_WORDS],
            zones=sorted(available_timezones()),
            defaults=Settings(),
            settings=settings_told(),
        )
    )


@api.get("/jobs/<string:job>", responses={200: s.JobView, **_ERRORS}, operation_id="readJob")
def read_job(path: s.JobPath) -> Response:
    """A job's parts of the day, rigs and plan."""
    job, catalogue, _ = services().jobs.read(path.job)
    return answer(
        s.JobView(
            id=job.id,
            title=job.title,
            units=len(catalogue.units),
            people=sorted(job.people),
            parts=[
                s.PartSummary(
                    id=p.id,
                    label=p.label,
                    starts=p.starts,
                    ends=p.ends,
                    temperature_c=p.conditions.temperature_c,
                    wind_m_s=p.conditions.wind_m_s,
                    hours_needed=p.conditions.hours_needed,
                    moments=p.moments,
                )
                for p in job.parts
            ],
            rigs=[
                s.RigSummary(
                    id=r.id,
                    number=r.number,
                    label=r.label,
                    position=r.position,
                    builds={b.id: b.label for b in r.builds},
                    plan={a.part: a.build for a in job.plan if a.rig == r.id},
                )
                for r in job.rigs
            ],
        )
    )


@api.get("/jobs/<string:job>/parts/<string:part>", responses={200: s.PartView, **_ERRORS}, operation_id="readPart")
def read_part(path: s.PartPath) -> Response:
    """All cameras of a job in one part of the day."""
    return answer(part_view(path.job, path.part))


class FindQuery(s.Strict):
    """What is looked for, and the part of the day whose call-outs count."""

    words: Annotated[str, Field(max_length=120)]
    part: Annotated[str, Field(max_length=120)] = ""


class FoundView(s.Told):
    """What is called so, the likeliest first."""

    found: list[Found]


_MOST_FOUND = 24


@api.get("/jobs/<string:job>/find", responses={200: FoundView, **_ERRORS}, operation_id="findInJob")
def find(path: s.JobPath, query: FindQuery) -> Response:
    """Units, cameras, parts of the day, people, settings and call-outs by a few letters."""
    job, catalogue, _ = services().jobs.read(path.job)
    part = next((p for p in job.parts if p.id == query.part), None)
    planned = job.builds_in(part.id).values() if part else ()
    findings = {
        rig.id: services()
        .verdicts.of(build, catalogue, part.conditions, job.settings, job.target_of(rig, part.id))
        .findings
        for rig, build in planned
        if part
    }
    return answer(FoundView(found=find_in_job(job, catalogue, query.part, findings, query.words, _MOST_FOUND)))


@api.get("/jobs/<string:job>/file", responses={**_ERRORS}, operation_id="exportJob")
def export_job(path: s.JobPath) -> Response:
    """The job as a Lift Crate job file (docs/job-file.md)."""
    content = dump(services().jobs.export(path.job))
    return Response(content, mimetype="application/json", headers=file_headers(f"{path.job}.lift-crate.json"))


@api.post("/import", responses={201: s.Imported, **_ERRORS}, operation_id="importJob")
def import_job(query: s.ImportQuery) -> Response:
    """Read a job file in, whole or not at all; the body is the file."""
    file = parse(request.get_data())
    there = any(row["id"] == file.job.id for row in services().jobs.list_jobs())
    if there and not knows(file.job.id):
        raise NotYours("The house has a job by this file's id already, and you have no role in it.")
    if there and query.replace and (session := current_session()) and _role(session, file.job.id) != "lead":
        raise NotYours("A job is replaced by its leads.")
    services().jobs.import_file(file, replace_job=query.replace, actor=current_actor())
    if not there:
        services().crew.lead(current_person(), file.job.id)
        now_leads(file.job.id)
    return answer(s.Imported(job=file.job.id, title=file.job.title), 201)


@api.get("/jobs/<string:job>/replaced", responses={200: s.ReplacedView, **_ERRORS}, operation_id="readReplaced")
def read_replaced(path: s.JobPath) -> Response:
    """Earlier states of a job, each as it was when it was replaced."""
    return _replaced(path.job)


@api.post(
    "/jobs/<string:job>/replaced/<int:replaced>", responses={200: s.ReplacedView, **_ERRORS}, operation_id="bringBack"
)
def bring_back(path: s.ReplacedPath) -> Response:
    """Put an earlier state in the place of what is there now, which is kept in turn."""
    services().jobs.bring_back(path.job, path.replaced, current_actor())
    return _replaced(path.job)


def _replaced(job_id: str) -> Response:
    with services().jobs.reading():
        job, _, _ = services().jobs.read(job_id)
        rows = services().jobs.replaced(job_id)
    return answer(
        s.ReplacedView(
            job=job_id, states=[s.ReplacedLine(**{**row, "at": row["at"].astimezone(job.clock)}) for row in rows]
        )
    )
