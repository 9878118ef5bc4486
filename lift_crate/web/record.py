"""What was done in a job, by whom and when; and an earlier state brought back."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from flask import Response
from flask_openapi3.models.tag import Tag
from pydantic import Field

from ..core.crew.rights import allowed
from ..core.job.job import NotInJob
from ..store.record import From
from . import schema as s
from .answers import Responses, answer
from .described import PlaceApi
from .identity import current_person, current_session
from .schema import Told
from .services import services

__all__ = ["api"]

api = PlaceApi(
    "record", __name__, url_prefix="/api/jobs/<string:job>", abp_tags=[Tag(name="record", description="What was done")]
)
_READ: Responses = {404: s.ProblemView, 422: s.ProblemView, 503: s.ProblemView}
_MOST = 60
RecordKind = Literal["build", "job", "cards", "sound", "swaps", "pack", "log", "balance", "whole", "crew"]
Name = Annotated[str, Field(max_length=200)]
Number = Annotated[int, Field(ge=0, le=2**53)]


class RecordQuery(s.Strict):
    """Which lines are wanted, and the line after which they go on."""

    kind: RecordKind | None = None
    actor: Name | None = None
    rig: Name | None = None
    at: datetime | None = None
    from_kind: Name = ""
    from_thing: Name = ""
    number: Number = 0


class JobRecordLine(Told):
    """One thing that was done."""

    at: datetime
    kind: RecordKind
    thing: str
    number: int
    title: str
    actor: str
    gone: bool
    """It was undone or taken back since."""
    rig: str | None
    """The camera that it was done to, while it is in the job."""


class JobRecordView(Told):
    """What was done, latest first."""

    lines: list[JobRecordLine]
    more: bool
    actors: list[str]


@api.get("/record", responses={200: JobRecordView, **_READ}, operation_id="readRecord")
def read_record(path: s.JobPath, query: RecordQuery) -> Response:
    """What was done in a job, sixty lines from the latest or from a line on; the crew's own lines for its leads."""
    job, _, _ = services().jobs.read(path.job)
    rigs = {build.id: rig.id for rig in job.rigs for build in rig.builds}
    if query.rig is not None and query.rig not in rigs.values():
        raise NotInJob("camera", query.rig)
    things = None if query.rig is None else [build for build, rig in rigs.items() if rig == query.rig]
    session = current_session()
    lines = services().record.of(
        job.id,
        leads=session is None or allowed("crew", current_person(), session.role),
        kind=query.kind,
        actor=query.actor,
        things=things,
        after=(
            From(at=query.at, kind=query.from_kind, thing=query.from_thing, number=query.number) if query.at else None
        ),
        most=_MOST + 1,
    )
    return answer(
        JobRecordView(
            lines=[
                JobRecordLine(
                    at=line.at,
                    kind=line.kind,  # type: ignore[arg-type]  # one of those that the query has
                    thing=line.thing,
                    number=line.number,
                    title=line.title,
                    actor=line.actor,
                    gone=line.gone,
                    rig=rigs.get(line.thing) if line.kind in ("build", "balance") else None,
                )
                for line in lines[:_MOST]
            ],
            more=len(lines) > _MOST,
            actors=services().record.actors(job.id),
        )
    )
