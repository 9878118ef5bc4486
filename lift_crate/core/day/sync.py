"""How cameras and recorders of a part of the day are kept in step, how far each drifts, how late guide sound is.

Formulas: docs/formulas.md §14, 'In step'.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..callouts import About, Finding, Input, Level, Working
from ..job.job import Job, PartOfDay
from ..job.sound import SyncMethod
from ..job.timecode import timecode_of
from ..lens.coverage import exposure_of
from ..rig.build import Catalogue
from .table import Cell, DayTable
from .voices import Chain, Heard

__all__ = ["Device", "Guide", "drift_frames", "guide_frames", "in_step", "jam_again_h"]

_ZERO_C, _AT_ZERO_M_S = 273.15, 331.3


@dataclass(frozen=True, slots=True)
class Device:
    """A camera body or recorder in a part of the day, and how it is kept in step."""

    part: PartOfDay
    unit: str
    rig: str
    """The camera it is in; empty: none."""
    method: SyncMethod
    said: bool
    """Somebody said so; else it follows from what is plugged in."""
    by: str
    """The box, recorder or track that keeps it in step."""
    ppm: float | None
    drift_frames: float | None
    """Over the part, against the master; None where nothing drifts."""
    jam_again_h: float | None
    """Within so many hours for half a frame."""


@dataclass(frozen=True, slots=True)
class Guide:
    """Guide sound of a voice at a camera: how far, and how many frames it comes late."""

    part: PartOfDay
    rig: str
    voice: str
    far_m: float
    frames: float


def drift_frames(ppm_a: float, ppm_b: float, seconds: float, fps: float) -> float:
    """How far two clocks may be apart after a while, frames; each may be off to its own side."""
    return (ppm_a + ppm_b) * 1e-6 * seconds * fps


def jam_again_h(ppm_a: float, ppm_b: float, fps: float, frames: float = 0.5) -> float:
    """Hours within which two clocks are no more than some frames apart, rounded down to hundredths."""
    return math.floor(frames / ((ppm_a + ppm_b) * 1e-6 * fps) / 3600 * 100 + 1e-9) / 100


def guide_frames(far_m: float, temperature_c: float, fps: float) -> float:
    """How many frames late sound comes from so far: d/(331.3·√(1 + t/273.15))·fps."""
    return far_m / (_AT_ZERO_M_S * math.sqrt(1 + temperature_c / _ZERO_C)) * fps


def in_step(
    job: Job, catalogue: Catalogue, table: DayTable, heard: Sequence[Heard]
) -> tuple[tuple[Device, ...], tuple[Guide, ...], tuple[Finding, ...]]:
    """Every camera and recorder of every part of the day, guide sound at the cameras, and what stands against it."""
    devices: list[Device] = []
    guides: list[Guide] = []
    findings: list[Finding] = []
    for part in sorted(job.parts, key=lambda p: p.starts):
        cells = [c for c in table.cells if c.part.id == part.id]
        here = [h for h in heard if h.part.id == part.id]
        found = list(_devices(job, catalogue, part, cells, here))
        devices += found
        guided = {d.rig for d in found if d.method == "guide sound" and d.rig}
        guides += [g for g in _guides(job, part, cells, here) if g.rig in guided]
        if len(found) > 1:
            findings += [f for d in found for f in _against(job, d)]
    for guide in guides:
        if guide.frames > 1:
            findings.append(_late(guide))
    return tuple(devices), tuple(guides), tuple(findings)


def _devices(
    job: Job, catalogue: Catalogue, part: PartOfDay, cells: Sequence[Cell], heard: Sequence[Heard]
) -> Iterator[Device]:
    plan = timecode_of(job, catalogue, part.id)
    boxes = {camera.body: camera.source for camera in plan.cameras}
    said = {s.unit: s.method for s in job.sound.sync}
    chains = [chain for each in heard for chain in each.chains if chain.whole]
    master = plan.master or next((c.records for c in chains if not c.rig), "")
    hears = {cell.build.body: _guide_of(cell, catalogue) for cell in cells}
    fps = min((_fps(cell) for cell in cells), default=job.settings.fps)
    for cell in sorted(cells, key=lambda c: c.rig.number):
        body = cell.build.body
        direct = [chain.voice.label for chain in chains if chain.records == body]
        method, by = _of_camera(body, boxes.get(body, ""), direct, hears[body], master)
        yield _device(job, catalogue, part, body, cell.rig.label, said.get(body), (method, by), master, _fps(cell))
    recorders = dict.fromkeys(chain.records for chain in chains if chain.records not in hears)
    for unit in recorders:
        own: tuple[SyncMethod, str] = ("none", "")
        if unit == master:
            own = "timecode box", "it is the master"
        elif any(p.signal and p.signal.what == "timecode" for p in catalogue.model_of(unit).ports):
            own = "jammed once", master
        elif any(hears.values()):
            own = "guide sound", "the tracks of the cameras"
        yield _device(job, catalogue, part, unit, _rig_of(chains, unit), said.get(unit), own, master, fps)


def _rig_of(chains: Sequence[Chain], unit: str) -> str:
    return next((chain.rig for chain in chains if chain.records == unit), "")


def _of_camera(body: str, box: str, direct: Sequence[str], guide: str, master: str) -> tuple[SyncMethod, str]:
    if box:
        return "timecode box", box
    if body == master:
        return "timecode box", "it is the master"
    if direct:
        return "direct", direct[0]
    return ("guide sound", guide) if guide else ("none", "")


def _guide_of(cell: Cell, catalogue: Catalogue) -> str:
    """What gives a camera guide sound: something of its build on a sound input of its body; empty: nothing does."""
    body = cell.build.body
    for link in cell.build.links:
        for unit, port, other in (
            (link.from_unit, link.from_port, link.to_unit),
            (link.to_unit, link.to_port, link.from_unit),
        ):
            if unit == body:
                signal = catalogue.model_of(body).port(port).signal
                if signal and signal.what == "sound" and catalogue.model_of(other).kind != "timecode box":
                    return other
    return ""


def _fps(cell: Cell) -> float:
    fps, _, _ = exposure_of(cell.build.setting_of(cell.build.body), cell.stand.settings)
    return fps


def _device(
    job: Job,
    catalogue: Catalogue,
    part: PartOfDay,
    unit: str,
    rig: str,
    said: SyncMethod | None,
    own: tuple[SyncMethod, str],
    master: str,
    fps: float,
) -> Device:
    method, by = (said, own[1] if said == own[0] else master) if said else own
    drift = again = ppm = None
    if method == "jammed once":
        ppm = catalogue.model_of(unit).clock_ppm or job.settings.clock_ppm
        to = (catalogue.model_of(master).clock_ppm if master else None) or job.settings.clock_ppm
        drift = drift_frames(ppm, to, (part.ends - part.starts).total_seconds(), fps)
        again = jam_again_h(ppm, to, fps)
    return Device(part, unit, rig, method, said is not None, by, ppm, drift, again)


def _against(job: Job, device: Device) -> Iterator[Finding]:
    about = About(units=(f"sync {device.unit}", device.part.id))
    where = f"{device.unit} ({device.rig})" if device.rig else device.unit
    if device.method == "none":
        yield Finding(
            code="sound.sync",
            level=Level.WATCH,
            about=about,
            text=f"Nothing keeps {where} in step in {device.part.label}: no timecode, no guide sound.",
        )
    if device.drift_frames is not None and device.drift_frames > 0.5 and device.jam_again_h is not None:
        yield Finding(
            code="sound.sync",
            level=Level.WATCH,
            about=about,
            text=f"{where}, jammed once, is up to {device.drift_frames:.2f} frames off by the end of"
            f" {device.part.label}; jam it again within {device.jam_again_h:.2f} h.",
            value=device.drift_frames,
            limit=0.5,
            unit="frames",
            working=(
                Working(
                    formula="(ppm_a + ppm_b)·10⁻⁶·seconds·fps",
                    inputs=(
                        Input(name=device.unit, value=f"{device.ppm:g} ppm", source="catalogue"),
                        Input(name="where nobody said", value=f"{job.settings.clock_ppm:g} ppm", source="setting"),
                    ),
                    numbers=f"{device.drift_frames:.2f} frames",
                ),
            ),
        )


def _guides(job: Job, part: PartOfDay, cells: Sequence[Cell], heard: Sequence[Heard]) -> Iterator[Guide]:
    for each in heard:
        thing = job.venue.thing(each.voice.thing) if each.voice.thing else None
        for cell in cells:
            place = cell.rig.place
            if thing and place:
                far = math.hypot(thing.x_m - place.x_m, thing.y_m - place.y_m)
                frames = guide_frames(far, part.conditions.temperature_c, _fps(cell))
                yield Guide(part, cell.rig.label, each.voice.label, far, frames)


def _late(guide: Guide) -> Finding:
    return Finding(
        code="sound.guide",
        level=Level.NOTE,
        about=About(units=(f"guide {guide.rig}", guide.part.id, guide.voice)),
        text=f"Guide sound of {guide.voice} comes to {guide.rig} {guide.frames:.1f} frames late, over"
        f" {guide.far_m:.0f} m: line it up with that.",
        value=guide.frames,
        limit=1.0,
        unit="frames",
    )
