"""The run sheet of a day: timed back, searched by a worker, cured, exported; and the day on paper."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import Annotated, Literal

from annotated_types import Ge, Le
from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.callouts import Finding
from ..core.day.laid_out import PlannedRun, RunAsked, beside, lay_out, out_of, run_sheets, swaps_due
from ..core.day.media import media_plan
from ..core.day.mic_up import mic_ups
from ..core.day.run_sheet import RunSheet
from ..core.day.run_tasks import SwapDue
from ..core.day.sessions import sessions_of
from ..core.day.table import day_table
from ..core.errors import NotAllowed
from ..core.job.job import Job, NotInJob, OutElsewhere
from ..core.rig.build import Catalogue
from ..core.swaps.card import swaps_of
from ..core.swaps.day import days_of
from ..core.swaps.what_if import PlannedDay, WhatIf, day_asked
from ..formats.day_list import day_ics, run_csv, run_ics
from . import present
from . import schema as s
from .answers import READ, answer, file_headers
from .day import read_with_others, stands_of
from .described import PlaceApi
from .identity import current_asker
from .schema import Told
from .services import services

__all__ = ["RunQuery", "api", "known_against_run", "run_asked", "sheets_of"]

api = PlaceApi(
    "run",
    __name__,
    url_prefix="/api/jobs/<string:job>/day",
    abp_tags=[Tag(name="run sheet", description="Who does what when, timed back from the starts")],
)
Searched = Literal["by rule", "searching", "best found", "proven"]


class RunTaskView(Told):
    """A task of the run sheet; nobody and no time: it does not fit."""

    kind: str
    rig: str
    label: str
    part: str
    what: str
    minutes: float
    who: list[str]
    starts: datetime | None
    ends: datetime | None
    by: datetime


class BusyView(Told):
    """A stretch in which somebody works a camera."""

    who: str
    label: str
    part: str
    starts: datetime
    ends: datetime


class RunDayView(Told):
    """The run sheet of a day."""

    day: date
    call: datetime
    people: list[str]
    tasks: list[RunTaskView]
    busy: list[BusyView]
    parts: list[str]
    findings: list[s.FindingView]
    stands_until: datetime | None
    """What had begun by then stays as it was, where a part ends late."""


class PauseView(Told):
    """Cards changed or packs swapped between two subjects."""

    after: int
    what: str
    cameras: list[str]
    minutes: float


class SessionView(Told):
    """A part of the day with subjects one after the other: when the take of each begins."""

    part: str
    label: str
    takes: list[datetime]
    pauses: list[PauseView]
    each_min: float
    left_min: float
    ends: str
    """Why no more fit."""


class RunView(Told):
    """The run sheets of all days, and how far they have been searched."""

    days: list[RunDayView]
    sessions: list[SessionView]
    searched: Searched
    carded: bool
    """The swaps of packs are planned for every day, and are in it."""


class RunQuery(s.Strict):
    """A part that ends late, and by how many minutes; what begins after it stands fast."""

    late_part: str = ""
    late_min: Annotated[float, Ge(0), Le(600)] = 0.0


class RunReadQuery(RunQuery):
    """The same; whether a worker is to search for a better one than the rule's."""

    search: bool = False


@api.get("/run", responses={200: RunView, **READ}, operation_id="readRun")
def read_run(path: s.JobPath, query: RunReadQuery) -> Response:
    """Every day's tasks timed back from its starts, by person; what does not fit, and by how much.

    It is the rule's until a worker has found a better one; asked again while it searches.
    """
    run = _searched(path.job, query, search=query.search)
    job, sheets = run.job, run.sheets
    labels = {r.id: r.label for r in job.rigs}
    days = []
    for parts, sheet in zip(days_of(job), sheets, strict=False):
        days.append(
            RunDayView(
                day=parts[0].starts.date(),
                call=sheet.call,
                people=list(sheet.people),
                parts=[p.id for p in parts],
                tasks=[
                    RunTaskView(
                        kind=t.kind,
                        rig=t.rig,
                        label=t.voice or labels.get(t.rig, t.rig),
                        part=t.part,
                        what=t.told,
                        minutes=t.minutes,
                        who=list(t.who),
                        starts=t.starts,
                        ends=t.ends,
                        by=t.by,
                    )
                    for t in sheet.tasks
                ],
                busy=[
                    BusyView(who=b.who, label=labels.get(b.rig, b.rig), part=b.part, starts=b.starts, ends=b.ends)
                    for b in sheet.busy
                ],
                findings=present.finding_views(sheet.findings),
                stands_until=sheet.stands_until,
            )
        )
    return answer(RunView(days=days, sessions=_sessions(path.job), searched=run.searched, carded=run.carded))


def _sessions(job_id: str) -> list[SessionView]:
    job, catalogue, out = read_with_others(job_id)
    if not any(p.conditions.subject_take_min for p in job.parts):
        return []
    table = day_table(job, catalogue, stands_of(job, catalogue))
    return [
        SessionView(
            part=x.part.id,
            label=x.part.label,
            takes=[subject.take for subject in x.subjects],
            pauses=[
                PauseView(after=p.after, what=p.what, cameras=list(p.cameras), minutes=p.minutes) for p in x.pauses
            ],
            each_min=x.each_min,
            left_min=x.left_min,
            ends=x.lasts,
        )
        for x in sessions_of(job, catalogue, table, media_plan(job, catalogue, out))
    ]


class RunFileQuery(RunQuery):
    """The same, of one person alone."""

    who: str = ""


@api.get("/run.ics", responses=READ, operation_id="exportRunCalendar")
def export_run_calendar(path: s.JobPath, query: RunFileQuery) -> Response:
    """The run sheet as iCalendar, of everybody or of one person."""
    job, sheets = sheets_of(path.job, query)
    known = {name for sheet in sheets for name in sheet.people}
    if query.who and query.who not in known:
        raise NotInJob("person called", query.who)
    content = run_ics(job, sheets, datetime.now(UTC), query.who)
    return Response(content, mimetype="text/calendar", headers=file_headers(f"{path.job}-run-sheet.ics"))


@api.get("/day.ics", responses=READ, operation_id="exportDayCalendar")
def export_day_calendar(path: s.JobPath) -> Response:
    """Parts, once-only moments and changeovers as iCalendar."""
    job, catalogue, _ = services().jobs.read(path.job)
    content = day_ics(job, day_table(job, catalogue, stands_of(job, catalogue)), datetime.now(UTC))
    return Response(content, mimetype="text/calendar", headers=file_headers(f"{path.job}-day.ics"))


@api.get("/run.csv", responses=READ, operation_id="exportRunCsv")
def export_run_csv(path: s.JobPath, query: RunQuery) -> Response:
    """The run sheet as CSV."""
    job, sheets = sheets_of(path.job, query)
    return Response(run_csv(job, sheets), mimetype="text/csv", headers=file_headers(f"{path.job}-run-sheet.csv"))


def sheets_of(job_id: str, query: RunQuery) -> tuple[Job, tuple[RunSheet, ...]]:
    """A job and its run sheets as well as they are known; raises NotInJob."""
    run = _searched(job_id, query, search=False)
    return run.job, run.sheets


def known_against_run(job_id: str) -> tuple[Finding, ...]:
    """What stands against the run sheets, where they were searched as the job is now; nothing is begun."""
    with services().jobs.reading():
        job, _, out = read_with_others(job_id)
        found = services().plans.settled(job_id, run_asked(job, RunQuery(), out)[0])
    return tuple(f for sheet in found.sheets for f in sheet.findings) if isinstance(found, PlannedRun) else ()


@dataclass(frozen=True)
class _Run:
    """Run sheets of a job, how far they are searched, and whether the swaps of every day are planned."""

    job: Job
    sheets: tuple[RunSheet, ...]
    searched: Searched
    carded: bool


def _searched(job_id: str, query: RunQuery, *, search: bool) -> _Run:
    """Run sheets as well as they are known: searched, if that was done, else by rule."""
    plans = services().plans
    with services().jobs.reading():
        job, catalogue, out = read_with_others(job_id)
        asked, carded = run_asked(job, query, out)
        found, done = plans.settled(job_id, asked), True
    if found is None and search and job.parts:
        state = plans.state(plans.ask(job_id, asked, current_asker(), "run late" if asked.late_part else "run"))
        if state.failed:
            raise NotAllowed(f"The run sheet could not be searched: {state.failed}.")
        found, done = state.answer, state.done
    if not isinstance(found, PlannedRun):
        searching: Searched = "searching" if search and job.parts else "by rule"
        return _Run(job, _ruled(job, catalogue, asked), searching, carded)
    told: Searched = "searching" if not done else "proven" if found.proven else "best found"
    return _Run(job, found.in_zone(job.clock).sheets, told, carded)


def run_asked(job: Job, query: RunQuery, out: OutElsewhere) -> tuple[RunAsked, bool]:
    """What is asked of a job's run sheets, with its swap cards where they are planned, and whether they all are.

    Raises NotInJob.
    """
    if query.late_part:
        job.part(query.late_part)
    late = query.late_part if query.late_min else ""
    swaps, carded = list[SwapDue](), True
    for parts in days_of(job):
        # Starts stand fast here, so that the card does, whichever part ends late.
        planned = services().plans.settled(job.id, day_asked(job, parts[0].id, WhatIf()))
        if isinstance(planned, PlannedDay) and planned.plan:
            swaps += swaps_due(swaps_of(planned.problem, planned.plan), job.clock)
        else:
            carded = False
    minutes = query.late_min if late else 0.0
    return RunAsked(late_part=late, late_min=minutes, swaps=tuple(swaps), out=beside(out)), carded


def _ruled(job: Job, catalogue: Catalogue, asked: RunAsked) -> tuple[RunSheet, ...]:
    late = {asked.late_part: asked.late_min} if asked.late_part else {}
    return run_sheets(
        job, catalogue, lay_out(job, catalogue, stands_of(job, catalogue), out_of(asked.out)), late, asked.swaps
    )


class PaperQuery(s.Strict):
    """What of the day goes on paper, and of whom."""

    what: Literal["day", "run", "changes", "sound"] = "day"
    who: str = ""


@api.get("/paper.pdf", responses=READ, operation_id="exportDayPdf")
def export_day_pdf(path: s.JobPath, query: PaperQuery) -> Response:
    """The table of the day, the run sheet by person, the changes, or the sound list, for A4."""
    # Paper is rarely asked for, and what makes it is long to load.
    from ..formats.day_paper import changes_pdf, day_pdf, run_pdf, sound_pdf  # noqa: PLC0415

    job, catalogue, out = read_with_others(path.job)
    day, days = lay_out(job, catalogue, stands_of(job, catalogue), out), days_of(job)
    if query.what == "changes":
        made = changes_pdf(job, day)
    elif query.what == "sound":
        made = sound_pdf(job, day, [mic for parts in days for mic in mic_ups(job, catalogue, parts)])
    else:
        _, sheets = sheets_of(path.job, RunQuery())
        if query.who and all(query.who not in sheet.people for sheet in sheets):
            raise NotInJob("person called", query.who)
        made = day_pdf(job, day, sheets, days) if query.what == "day" else run_pdf(job, sheets, query.who)
    return Response(made, mimetype="application/pdf", headers=file_headers(f"{path.job}-{query.what}.pdf"))
