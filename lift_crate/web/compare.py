"""Two builds of a job side by side."""

from __future__ import annotations

from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.callouts import Finding
from ..core.drawings.comparison import Figure, PartLine, compare
from ..core.drawings.elevation import Elevation, elevations
from ..core.job.job import Job
from ..core.lens.matching import Matching
from ..core.rig.build import Catalogue
from ..core.stand import stand_of
from ..core.verdict.judge import Whole, whole
from . import present
from .answers import READ, answer
from .described import PlaceApi
from .schema import (
    JobPath,
    LevelName,
    Strict,
    Told,
)
from .services import services

__all__ = ["api"]

api = PlaceApi(
    "compare",
    __name__,
    url_prefix="/api/jobs/<string:job>",
    abp_tags=[Tag(name="compare", description="Side by side")],
)


class ComparePath(JobPath):
    """Names a job."""


class CompareQuery(Strict):
    """Two sides: a part of the day and a rig, or a build, of each."""

    left_part: str
    left_build: str
    right_part: str
    right_build: str


class CompareFinding(Told):
    """A call-out of one side."""

    level: LevelName
    title: str
    text: str


class CompareSide(Told):
    """One side: its rig, build and part of the day, drawn."""

    part: str
    part_label: str
    rig: str
    rig_label: str
    number: int
    build: str
    build_label: str
    side: Elevation


class CompareView(Told):
    """Two builds side by side."""

    left: CompareSide
    right: CompareSide
    figures: tuple[Figure, ...]
    parts: tuple[PartLine, ...]
    only_left: list[CompareFinding]
    only_right: list[CompareFinding]
    both: list[str]
    pictures: Matching
    currency: str


@api.get("/compare", responses={200: CompareView, **READ}, operation_id="compareBuilds")
def compare_builds(path: ComparePath, query: CompareQuery) -> Response:
    """Two builds of a job, each in a part of the day."""
    job, catalogue, _ = services().jobs.read(path.job)
    left, right = (
        _judged(job, catalogue, p, b)
        for p, b in ((query.left_part, query.left_build), (query.right_part, query.right_build))
    )
    found = compare(left, right)
    return answer(
        CompareView(
            left=_side(job, query.left_part, query.left_build, left),
            right=_side(job, query.right_part, query.right_build, right),
            figures=found.figures,
            parts=found.parts,
            only_left=[_brief(f) for f in found.only_left],
            only_right=[_brief(f) for f in found.only_right],
            both=list(found.both),
            pictures=found.pictures,
            currency=job.settings.currency,
        )
    )


def _judged(job: Job, catalogue: Catalogue, part: str, build_id: str) -> Whole:
    rig, build = job.build(build_id)
    return whole(stand_of(build, catalogue, job.part(part).conditions, job.settings, target=job.target_of(rig, part)))


def _side(job: Job, part: str, build_id: str, judged: Whole) -> CompareSide:
    rig, build = job.build(build_id)
    return CompareSide(
        part=part,
        part_label=job.part(part).label,
        rig=rig.id,
        rig_label=rig.label,
        number=rig.number,
        build=build.id,
        build_label=build.label,
        side=elevations(judged.stand)[0],
    )


def _brief(finding: Finding) -> CompareFinding:
    return CompareFinding(level=present.level_name(finding.level), title=finding.call_out.title, text=finding.text)
