"""The plan of the venue: what each camera sees from its place, with the lens that is on it now."""

from __future__ import annotations

from flask import Response
from flask_openapi3.models.tag import Tag
from pydantic import Field

from ..core.gear.fields import FieldInfo, fields_of
from ..core.job.job import Job, Rig
from ..core.job.sight import Lead, Sight, in_view, lead_of, sight_of
from ..core.job.venue import Picture, Spot, Thing
from ..core.lens.coverage import View, exposure_of, light_of, over_stops
from ..core.lens.framing import angle_deg, depth_of_field_mm, stop_for
from ..core.quantities import finite
from ..core.rig.build import Catalogue, Conditions
from ..core.stand import Stand
from ..core.swaps.day import box_stand
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
    """What stands in a picture that should not: another camera with its operator, a lamp, a person."""

    what: str
    label: str


class Exposure(s.Told):
    """What the light on the plan allows a camera."""

    t_stop: float
    """Aperture that is right."""
    iso: float
    shutter_deg: float
    fps: float
    wide_open: float
    """T of the lens as it is set now."""
    over_stops: float
    """Light to be taken away as the lens is set, with the filters on it; negative: that much is missing."""
    ambient_over_stops: float | None
    """The same with every lamp off; None: the part's own light is not known."""
    room_stops: float
    """So far off it is still called right."""


class LampOnPlan(s.Told):
    """A lamp that is a unit of the shelf: how long its pack lasts."""

    thing: str
    pack: str
    watts: float
    hours: float | None
    """None: for ever."""


class Watched(s.Told):
    """How many cameras see a thing, nothing in between, and which of them follow nothing."""

    thing: str
    seen_by: list[str]
    locked: list[str]


class LeadTo(s.Told):
    """The mains lead to a charger."""

    thing: str
    lead: Lead


class CameraOnPlan(s.Told):
    """A camera on the plan: its place, what it must cover there, its lens, and who stands in its frame."""

    rig: str
    number: int
    label: str
    place: Spot | None
    typed: bool
    """The target was typed, and wins over the plan."""
    sight: Sight | None
    fits: bool | None
    """The lens at its widest holds all of it; None: no lens, or nothing to see."""
    wedge: Wedge | None
    in_frame: list[FrameOf]
    walk_min: float | None
    exposure: Exposure | None
    lead: Lead | None
    """Of a camera with something in its build that runs on mains."""


class VenueView(s.Told):
    """The plan with everything that follows from it."""

    things: list[Thing]
    picture: Picture | None
    walk_m_s: float
    cameras: list[CameraOnPlan]
    lamps: list[LampOnPlan]
    watched: list[Watched]
    leads: list[LeadTo]
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
    stands = {
        rig_id: services().verdicts.of(build, catalogue, conditions, job.settings, job.target_of(rig, query.part)).stand
        for rig_id, (rig, build) in planned.items()
    }
    walks = job.walks_min()
    cameras = [_camera(job, rig, stands.get(rig.id), conditions, walks.get(rig.id)) for rig in job.rigs]
    return answer(
        VenueView(
            things=list(job.venue.things),
            picture=job.venue.picture,
            walk_m_s=job.venue.walk_m_s,
            cameras=cameras,
            lamps=[lamp for t in job.venue.things if (lamp := _lamp(t, catalogue, job, conditions))],
            watched=[_watched(t, job, cameras) for t in job.venue.things if t.kind == "to see"],
            leads=[
                LeadTo(thing=t.id, lead=lead)
                for t in job.venue.things
                if t.kind == "charger" and (lead := lead_of((t.x_m, t.y_m), job.venue))
            ],
            fields={name: list(infos) for name, infos in fields_of(Thing, Spot, Picture).items()},
        )
    )


def _camera(job: Job, rig: Rig, stand: Stand | None, conditions: Conditions, walk_min: float | None) -> CameraOnPlan:
    place, view = rig.place, stand.view if stand else None
    sight = sight_of(place, job.venue, conditions.light_ev) if place else None
    return CameraOnPlan(
        rig=rig.id,
        number=rig.number,
        label=rig.label,
        place=place,
        typed=rig.target is not None,
        sight=sight,
        fits=_fits(sight, view),
        wedge=_wedge(view, sight, job),
        in_frame=_in_frame(job, rig.id, place, sight, view) if place and sight and view else [],
        walk_min=walk_min,
        exposure=_exposure(stand, view, conditions) if stand and view else None,
        lead=lead_of((place.x_m, place.y_m), job.venue) if place and stand and stand.graph.mains else None,
    )


def _exposure(stand: Stand, view: View, conditions: Conditions) -> Exposure | None:
    """As the Bench judges it: with what was said of the light, the lamps on the plan and the filters on the lens."""
    light, ambient = light_of(stand.target, conditions), conditions.light_ev
    if light is None:
        return None
    fps, shutter, iso = exposure_of(stand.assembly.build.setting_of(view.body), stand.settings)
    return Exposure(
        t_stop=stop_for(light, shutter, fps, iso),
        iso=iso,
        shutter_deg=shutter,
        fps=fps,
        wide_open=view.t_stop,
        over_stops=over_stops(stand.assembly, view, light, stand.settings),
        ambient_over_stops=None if ambient is None else over_stops(stand.assembly, view, ambient, stand.settings),
        room_stops=stand.settings.light_room_stops,
    )


def _lamp(thing: Thing, catalogue: Catalogue, job: Job, conditions: Conditions) -> LampOnPlan | None:
    """How long a lamp runs at full power, as a light of the day does, on the first pack that it takes."""
    if thing.kind != "lamp" or thing.unit not in catalogue.units:
        return None
    found = box_stand(thing.unit, catalogue, job.settings, conditions)
    first = found[0].first_empty if found else None
    if found is None or first is None:
        return None
    return LampOnPlan(thing=thing.id, pack=found[1], watts=first.load_w, hours=finite(first.hours))


def _watched(thing: Thing, job: Job, cameras: list[CameraOnPlan]) -> Watched:
    """A camera sees a thing that it is told to see, where nothing hides it."""
    seen_by, locked = [], []
    for camera in cameras:
        named = next((seen for seen in camera.sight.seen if seen.thing == thing.id), None) if camera.sight else None
        if named is None or named.hidden_by:
            continue
        seen_by.append(camera.rig)
        target = job.target_of(job.rig(camera.rig), "")
        if not (target and target.follows):
            locked.append(camera.rig)
    return Watched(thing=thing.id, seen_by=seen_by, locked=locked)


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


def _in_frame(job: Job, rig_id: str, place: Spot, sight: Sight, view: View) -> list[FrameOf]:
    """Other cameras with their operators, lamps and people within the angle that the lens shows now."""
    across = angle_deg(view.area.width_mm, view.focal_mm)
    found = [
        FrameOf(what="camera", label=other.label)
        for other in job.rigs
        if other.id != rig_id
        and other.place
        and in_view(place, sight.bearing_deg, across, other.place.x_m, other.place.y_m)
    ]
    for thing in job.venue.things:
        wide = max(thing.width_m, thing.depth_m)
        if thing.kind == "person" and in_view(place, sight.bearing_deg, across, thing.x_m, thing.y_m):
            found.append(FrameOf(what="person", label=thing.label))
        if thing.kind == "lamp" and in_view(place, sight.bearing_deg, across, thing.x_m, thing.y_m, wide):
            found.append(FrameOf(what="lamp", label=thing.label))
    return found
