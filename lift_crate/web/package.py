"""What the cameras of a job share over the day: fronts, adapters, plates, quick releases, timecode, pictures."""

from __future__ import annotations

from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.job.package import Front, PlatesOfRig, Refit, ReleasePays, package_of
from ..core.job.timecode import TimecodePlan, timecode_of
from ..core.lens.matching import AllMatching, matching_all
from ..core.rig.assembly import assemble
from . import schema as s
from .answers import READ, answer
from .described import PlaceApi
from .schema import Told
from .services import services

__all__ = ["api"]

api = PlaceApi(
    "package",
    __name__,
    url_prefix="/api/jobs/<string:job>/parts/<string:part>/rigs/<string:rig>",
    abp_tags=[Tag(name="package", description="What the cameras share over the day")],
)


class AdapterNeedView(Told):
    """A lens adapter: how many are in use at one time, how many there are, how many to hire."""

    title: str
    at_once: int
    when: str
    owned: int
    hired: int
    wanted: list[str]
    short: int


class PackageView(Told):
    """What the cameras of a job share over the day."""

    fronts: tuple[Front, ...]
    refits: tuple[Refit, ...]
    adapters: list[AdapterNeedView]
    plates: tuple[PlatesOfRig, ...]
    releases: tuple[ReleasePays, ...]
    timecode: TimecodePlan
    pictures: AllMatching
    """Of the cameras of this part of the day."""


@api.get("/package", responses={200: PackageView, **READ}, operation_id="readPackage")
def read_package(path: s.RigPath) -> Response:
    """Fronts and rings, adapters at one time, plates under the cameras, where a quick release pays."""
    job, catalogue, _ = services().jobs.read(path.job)
    found = package_of(job, catalogue)
    return answer(
        PackageView(
            fronts=found.fronts,
            refits=found.refits,
            adapters=[
                AdapterNeedView(
                    title=a.title,
                    at_once=a.at_once,
                    when=a.when,
                    owned=a.owned,
                    hired=a.hired,
                    wanted=list(a.wanted),
                    short=a.short,
                )
                for a in found.adapters
            ],
            plates=found.plates,
            releases=found.releases,
            timecode=timecode_of(job, catalogue, path.part),
            pictures=matching_all(
                {rig.label: assemble(build, catalogue) for rig, build in job.builds_in(path.part).values()},
                job.settings,
            ),
        )
    )
