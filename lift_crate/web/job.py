"""Jobs: list, frame, camera strips, job file in and out."""

from __future__ import annotations

from flask import Response, request
from flask_openapi3.models.tag import Tag

from ..formats.job_file import dump, parse
from . import schema as s
from .answers import Responses, answer, file_headers
from .described import PlaceApi
from .identity import current_actor
from .services import part_view, services

__all__ = ["api"]

api = PlaceApi("jobs", __name__, url_prefix="/api", abp_tags=[Tag(name="jobs", description="Jobs and job files")])
_ERRORS: Responses = {404: s.ProblemView, 409: s.ProblemView, 422: s.ProblemView, 503: s.ProblemView}


@api.get("/jobs", responses={200: s.JobsView, 503: s.ProblemView}, operation_id="listJobs")
def list_jobs() -> Response:
    """All jobs here, earliest first."""
    rows = services().jobs.list_jobs()
    return answer(s.JobsView(jobs=[s.JobSummary(id=row["id"], title=row["title"]) for row in rows]))


@api.get("/jobs/<string:job>", responses={200: s.JobView, **_ERRORS}, operation_id="readJob")
def read_job(path: s.JobPath) -> Response:
    """A job's parts of the day, rigs and plan."""
    job, catalogue, _ = services().jobs.read(path.job)
    return answer(
        s.JobView(
            id=job.id,
            title=job.title,
            units=len(catalogue.units),
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


@api.get("/jobs/<string:job>/file", responses={**_ERRORS}, operation_id="exportJob")
def export_job(path: s.JobPath) -> Response:
    """The job as a Lift Crate job file (docs/job-file.md)."""
    content = dump(services().jobs.export(path.job))
    return Response(content, mimetype="application/json", headers=file_headers(f"{path.job}.lift-crate.json"))


@api.post("/import", responses={201: s.Imported, **_ERRORS}, operation_id="importJob")
def import_job(query: s.ImportQuery) -> Response:
    """Read a job file in, whole or not at all; the body is the file."""
    file = parse(request.get_data())
    services().jobs.import_file(file, replace_job=query.replace, actor=current_actor())
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
