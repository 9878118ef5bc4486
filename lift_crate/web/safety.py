"""Safety: what applies to every position, and the day of every person."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.callouts import Finding
from ..core.day.laid_out import LaidOut, lay_out
from ..core.day.run_sheet import RunSheet
from ..core.job.job import Job
from ..core.job.permission import Permission
from ..core.safety.allowed import Allowed, not_asked_for, permission_states
from ..core.safety.lines import PositionSheet, safety_sheets
from ..core.safety.people import PersonDay, people_days
from ..formats.safety_paper import safety_pdf
from . import present
from . import schema as s
from .answers import READ, answer, file_headers
from .day import read_with_others, stands_of
from .described import PlaceApi
from .run import RunQuery, sheets_of
from .schema import Told

__all__ = ["api"]

api = PlaceApi(
    "safety",
    __name__,
    url_prefix="/api/jobs/<string:job>/safety",
    abp_tags=[Tag(name="safety", description="What applies to every position, and the day of every person")],
)


class SafetyLineView(Told):
    """Something that applies to a position: in which parts, and what somebody fills in."""

    finding: s.FindingView
    parts: list[str]
    sign: list[str]


class SafetySheetView(Told):
    """A position with everything that applies to it."""

    rig: str
    label: str
    position: str
    lines: list[SafetyLineView]


class PermissionView(Told):
    """A permission, the days it is needed for, and what stands against it."""

    permission: Permission
    first: date | None
    last: date | None
    findings: list[s.FindingView]


class PersonDayView(Told):
    """A person on a day; hours."""

    who: str
    starts: datetime
    ends: datetime
    there_h: float
    worked_h: float
    stretch_h: float
    stretch_from: datetime
    breaks: int
    water_l: float
    findings: list[s.FindingView]


class SafetyView(Told):
    """Safety of a job: sheets by position, people by day."""

    paid: bool
    permissions: list[PermissionView]
    missing: list[s.FindingView]
    """What the plan needs somebody to allow, and nobody noted."""
    sheets: list[SafetySheetView]
    people: list[PersonDayView]


@api.get("", responses={200: SafetyView, **READ}, operation_id="readSafety")
def read_safety(path: s.JobPath) -> Response:
    """What applies to every position, and the day of every person, by the plan as it stands."""
    read = _read(path.job)
    return answer(
        SafetyView(
            paid=read.job.safety.paid,
            permissions=[
                PermissionView(
                    permission=a.permission, first=a.first, last=a.last, findings=present.finding_views(a.findings)
                )
                for a in read.allowed
            ],
            missing=present.finding_views(read.missing),
            sheets=[
                SafetySheetView(
                    rig=sheet.rig.id,
                    label=sheet.rig.label,
                    position=sheet.rig.position,
                    lines=[
                        SafetyLineView(finding=finding, parts=list(line.parts), sign=list(line.sign))
                        for line, finding in zip(
                            sheet.lines, present.finding_views(tuple(x.finding for x in sheet.lines)), strict=True
                        )
                    ],
                )
                for sheet in read.sheets
            ],
            people=[
                PersonDayView(
                    who=p.who,
                    starts=p.starts,
                    ends=p.ends,
                    there_h=p.there_h,
                    worked_h=p.worked_h,
                    stretch_h=p.stretch_h,
                    stretch_from=p.stretch_from,
                    breaks=p.breaks,
                    water_l=p.water_l,
                    findings=present.finding_views(p.findings),
                )
                for p in read.people
            ],
        )
    )


@api.get("/safety.pdf", responses=READ, operation_id="exportSafetyPdf")
def export_safety_pdf(path: s.JobPath) -> Response:
    """A sheet for every position, to be filled in and signed; then the day of every person."""
    read = _read(path.job)
    content = safety_pdf(read.job, read.allowed, read.missing, read.sheets, read.people)
    return Response(content, mimetype="application/pdf", headers=file_headers(f"{path.job}-safety.pdf"))


@dataclass(frozen=True)
class _Read:
    job: Job
    allowed: tuple[Allowed, ...]
    missing: tuple[Finding, ...]
    sheets: tuple[PositionSheet, ...]
    people: tuple[PersonDay, ...]


def _read(job_id: str) -> _Read:
    job, catalogue, out = read_with_others(job_id)
    day: LaidOut = lay_out(job, catalogue, stands_of(job, catalogue), out)
    run: tuple[RunSheet, ...] = sheets_of(job_id, RunQuery())[1]
    return _Read(
        job,
        permission_states(job),
        not_asked_for(job, day.table),
        safety_sheets(job, day.table),
        tuple(p for sheet in run for p in people_days(job, sheet)),
    )
