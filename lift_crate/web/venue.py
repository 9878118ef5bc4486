"""The plan of the venue: what each camera sees from its place, with the lens that is on it now."""

from __future__ import annotations

import math

from flask import Response
from flask_openapi3.models.tag import Tag
from pydantic import Field

from ..core.gear.fields import FieldInfo, fields_of
from ..core.job.job import Job
from ..core.job.sight import Sight, sight_of
from ..core.job.venue import Spot, Thing
from ..core.lens.coverage import View
from ..core.lens.framing import angle_deg, depth_of_field_mm
from ..core.quantities import finite
from ..core.rig.build import Conditions
from . import schema as s
from .answers import READ, answer
from .described import PlaceApi
from .services import services

__all__ = ["api"]

api = PlaceApi(
    "venue", __name__, url_prefix="/api/jobs/<string:job>", abp_tags=[Tag(name="venue", description="The plan")]
)


class Wedge(s.Told):
    """What the lens that is on a camera shows: angles at its widest, as set and at its longest, and what is sharp."""

    lens: str
    widest_deg: float
    now_deg: float
    longest_deg: float
    near_m: float | None
    far_m: float | None
    """None: to the horizon, or nothing is aimed at."""


class FrameOf(s.Told):
    """Another camera that stands in a picture."""

    rig: str
    label: str


class CameraOnPlan(s.Told):
    """A camera on the plan: its place, what it must cover there, its lens, and who stands in its frame."""

    rig: str
    number: int
    label: str
    place: Spot | None
    typed: bool
    """What it must see was typed, and wins over the plan."""
    sight: Sight | None
    fits: bool | None
    """The lens at its widest holds all of it; None: no lens, or nothing to see."""
    wedge: Wedge | None
    in_frame: list[FrameOf]
    walk_min: float | None


class VenueView(s.Told):
    """The plan with everything that follows from it."""

    things: list[Thing]
    walk_m_s: float
    cameras: list[CameraOnPlan]
    fields: dict[str, list[FieldInfo]] = Field(default_factory=dict)


class VenueQuery(s.Strict):
    """The part of the day whose builds and light count."""

    part: str = ""


@api.get("/venue", responses={200: VenueView, **READ}, operation_id="readVenue")
def read_venue(path: s.JobPath, query: VenueQuery) -> Response:
    """Distances, angles, lines of sight, light and walks, computed from the plan."""
    job, catalogue, _ = services().jobs.read(path.job)
    part = next((p for p in job.parts if p.id == query.part), None)
    conditions = part.conditions if part else Conditions()
    planned = job.builds_in(part.id) if part else {}
    sights = {rig.id: sight_of(rig.place, job.venue, conditions.light_ev) if rig.place else None for rig in job.rigs}
    views = {
        rig_id: services().verdicts.of(build, catalogue, conditions, job.settings, job.target_of(rig)).stand.view
        for rig_id, (rig, build) in planned.items()
    }
    walks = job.walks_min()
    return answer(
        VenueView(
            things=list(job.venue.things),
            walk_m_s=job.venue.walk_m_s,
            cameras=[
                CameraOnPlan(
                    rig=rig.id,
                    number=rig.number,
                    label=rig.label,
                    place=rig.place,
                    typed=rig.target is not None,
                    sight=sights[rig.id],
                    fits=_fits(sights[rig.id], views.get(rig.id)),
                    wedge=_wedge(views.get(rig.id), sights[rig.id], job),
                    in_frame=_in_frame(job, rig.id, sights[rig.id], views.get(rig.id)),
                    walk_min=walks.get(rig.id),
                )
                for rig in job.rigs
            ],
            fields={name: list(infos) for name, infos in fields_of(Thing, Spot).items()},
        )
    )


def _fits(sight: Sight | None, view: View | None) -> bool | None:
    if sight is None or view is None:
        return None
    return angle_deg(view.area.width_mm, view.widest_mm) >= sight.across_deg


def _wedge(view: View | None, sight: Sight | None, job: Job) -> Wedge | None:
    if view is None:
        return None
    near = far = None
    if sight is not None:
        circle = view.area.diagonal_mm / job.settings.blur_diagonals
        near_mm, far_mm = depth_of_field_mm(view.focal_mm, view.stop, circle, sight.distance_m * 1000)
        near, far = near_mm / 1000, finite(far_mm / 1000)
    width = view.area.width_mm
    return Wedge(
        lens=view.lens,
        widest_deg=angle_deg(width, view.widest_mm),
        now_deg=angle_deg(width, view.focal_mm),
        longest_deg=angle_deg(width, view.longest_mm),
        near_m=near,
        far_m=far,
    )


def _in_frame(job: Job, rig_id: str, sight: Sight | None, view: View | None) -> list[FrameOf]:
    """Other cameras within the angle that the lens shows now, nearer than what it looks at."""
    me = job.rig(rig_id).place
    if me is None or sight is None or view is None:
        return []
    half = angle_deg(view.area.width_mm, view.focal_mm) / 2
    found = []
    for other in job.rigs:
        if other.id == rig_id or other.place is None:
            continue
        x, y = other.place.x_m - me.x_m, other.place.y_m - me.y_m
        off = (math.degrees(math.atan2(y, x)) - sight.bearing_deg + 180) % 360 - 180
        if math.hypot(x, y) > 0 and abs(off) <= half:
            found.append(FrameOf(rig=other.id, label=other.label))
    return found
