"""Timecode of the cameras of a part of the day: who is master, by which box and cable, and which socket it takes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..gear.model import GearModel, Port
from ..rig.build import Build, Catalogue
from .job import Job

__all__ = ["CameraTimecode", "TimecodePlan", "timecode_of"]


@dataclass(frozen=True, slots=True)
class CameraTimecode:
    """How one camera gets its timecode: the socket, what is on it, and what else wanted that socket."""

    rig: str
    body: str
    socket: str
    """By its name; empty: the body has none that could take timecode."""
    source: str
    """The box or device that feeds it; empty: nothing does."""
    cable: str
    as_sound: bool
    """On a sound input: that track is gone, and it must be read from the sound afterwards."""
    held_by: str
    """What is on that socket instead."""


@dataclass(frozen=True, slots=True)
class TimecodePlan:
    """Who gives the time and who takes it; boxes that are needed and free."""

    master: str
    """A recorder or mixer first, else a box, else a body; empty: nothing here gives timecode."""
    cameras: tuple[CameraTimecode, ...]
    boxes_free: tuple[str, ...]
    boxes_short: int


def timecode_of(job: Job, catalogue: Catalogue, part_id: str) -> TimecodePlan:
    """The cameras of a part of the day by number; raises NotInJob."""
    job.part(part_id)
    planned = sorted(job.builds_in(part_id).values(), key=lambda pair: pair[0].number)
    cameras = tuple(_camera(catalogue, rig.label, build) for rig, build in planned)
    in_use = {unit for _, build in planned for unit in build.units} | {
        unit for unit, part, _ in job.claims_beside() if part == part_id
    }
    in_use |= {camera.source for camera in cameras if camera.source}
    boxes = [u.id for u in catalogue.shelf if (m := catalogue.model(u.model)) and m.kind == "timecode box"]
    free = tuple(unit for unit in boxes if unit not in in_use)
    without = sum(not camera.source for camera in cameras)
    return TimecodePlan(
        next(_masters(catalogue, in_use), ""), cameras, free, max(0, without - len(free)) if len(cameras) > 1 else 0
    )


def _masters(catalogue: Catalogue, in_use: set[str]) -> Iterator[str]:
    """Units in use that give timecode, the likeliest master first."""
    order = ("sound recorder", "recorder", "mixer", "timecode box", "body")
    for kind in order:
        for unit in sorted(in_use):
            model = catalogue.model_of(unit) if unit in catalogue.units else None
            if model and model.kind == kind and any(_gives(port) for port in model.ports):
                yield unit


def _gives(port: Port) -> bool:
    return port.signal is not None and port.signal.what == "timecode" and port.signal.role in ("out", "both")


def _camera(catalogue: Catalogue, rig: str, build: Build) -> CameraTimecode:
    body = catalogue.model_of(build.body)
    own = _socket(body, "timecode")
    port = own or _socket(body, "sound")
    if port is None:
        return CameraTimecode(rig, build.body, "", "", "", as_sound=False, held_by="")
    link = next(
        (k for k in build.links if (build.body, port.id) in ((k.from_unit, k.from_port), (k.to_unit, k.to_port))),
        None,
    )
    if link is None:
        return CameraTimecode(rig, build.body, port.label, "", "", as_sound=own is None, held_by="")
    there = (
        (link.to_unit, link.to_port)
        if (link.from_unit, link.from_port) == (build.body, port.id)
        else (link.from_unit, link.from_port)
    )
    feeds = _gives(catalogue.model_of(there[0]).port(there[1]))
    return CameraTimecode(
        rig,
        build.body,
        port.label,
        there[0] if feeds else "",
        link.cable if feeds else "",
        as_sound=own is None,
        held_by="" if feeds else there[0],
    )


def _socket(body: GearModel, what: str) -> Port | None:
    return next((p for p in body.ports if p.signal and p.signal.what == what and p.signal.role in ("in", "both")), None)
