"""Safety: what applies to every position, and the day of every person."""

from __future__ import annotations

from datetime import datetime

from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.day.laid_out import LaidOut, lay_out
from ..core.day.run_sheet import RunSheet
from ..core.job.job import Job
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

    sheets: list[SafetySheetView]
    people: list[PersonDayView]


@api.get("", responses={200: SafetyView, **READ}, operation_id="readSafety")
def read_safety(path: s.JobPath) -> Response:
    """What applies to every position, and the day of every person, by the plan as it stands."""
    _, sheets, people = _read(path.job)
    return answer(
        SafetyView(
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
                for sheet in sheets
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
                for p in people
            ],
        )
    )


@api.get("/safety.pdf", responses=READ, operation_id="exportSafetyPdf")
def export_safety_pdf(path: s.JobPath) -> Response:
    """A sheet for every position, to be filled in and signed; then the day of every person."""
    job, sheets, people = _read(path.job)
    content = safety_pdf(job, sheets, people)
    return Response(content, mimetype="application/pdf", headers=file_headers(f"{path.job}-safety.pdf"))


def _read(job_id: str) -> tuple[Job, tuple[PositionSheet, ...], list[PersonDay]]:
    job, catalogue, out = read_with_others(job_id)
    day: LaidOut = lay_out(job, catalogue, stands_of(job, catalogue), out)
    run: tuple[RunSheet, ...] = sheets_of(job_id, RunQuery())[1]
    return job, safety_sheets(job, day.table), [p for sheet in run for p in people_days(job, sheet)]
