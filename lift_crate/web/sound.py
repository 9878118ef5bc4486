"""Sound of the day: voices and their sources, radio, what keeps devices in step, microphones on people."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import UTC, datetime
from typing import Literal

from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.day.mic_up import mic_ups
from ..core.day.radio import Product, free_set, on_air
from ..core.day.rolling import SoundStep, rolling_of
from ..core.day.sound import Sound, sound_of
from ..core.day.table import day_table
from ..core.day.voices import Chain, shared
from ..core.job.job import Job
from ..core.job.sound import Band, SaidSync, Voice
from ..core.quantities import Identifier, Label
from ..core.rig.build import Catalogue
from ..core.swaps.day import days_of
from ..formats.sound_list import sound_csv, sound_log_csv
from ..store.sound import NotedSound
from . import present
from . import schema as s
from .answers import READ, Responses, answer, file_headers
from .day import stands_of
from .described import PlaceApi
from .identity import current_actor
from .schema import Told
from .services import services

__all__ = ["api"]

api = PlaceApi(
    "sound",
    __name__,
    url_prefix="/api/jobs/<string:job>/sound",
    abp_tags=[Tag(name="sound", description="Voices, radio channels, sync and microphones of a job's days")],
)
_WRITE: Responses = {**READ, 409: s.ProblemView}


class LinkView(Told):
    """A unit of a source, and how it goes on to the next; empty: nothing leads on."""

    unit: str
    title: str
    kind: str
    rig: str
    """The camera that has it in this part; empty: none."""
    way: str
    by: list[str]


class SourceView(Told):
    """A source in a part of the day."""

    label: str
    whole: bool
    counts: bool
    """It is one of the most sources that are independent of each other."""
    khz: int | None
    house: bool
    """It comes from the venue's desk."""
    links: list[LinkView]
    hangs_on: list[str]
    shares: dict[str, list[str]]
    """By another source: what both hang on."""


class HeardView(Told):
    """A voice in a part of the day: how many sources are independent, and how many it needs."""

    voice: str
    part: str
    have: int
    wanted: int
    sources: list[SourceView]


class ProductView(Told):
    """A product of channels that falls on a further one, or two that are too near."""

    of_khz: list[int]
    khz: int
    on_khz: int
    off_khz: int


class AirView(Told):
    """Channels on the air in a part of the day, and what they disturb."""

    part: str
    channels: list[tuple[str, str, int]]
    near: list[ProductView]
    products: list[ProductView]


class DeviceView(Told):
    """A camera or recorder in a part of the day, and what keeps it in step."""

    part: str
    unit: str
    rig: str
    method: str
    said: bool
    by: str
    drift_frames: float | None
    jam_again_h: float | None


class GuideView(Told):
    """How late guide sound of a voice comes to a camera."""

    part: str
    rig: str
    voice: str
    far_m: float
    frames: float


class MicUpView(Told):
    """Somebody who is given microphones: between when, how long it takes, what is looked at."""

    voice: str
    wearer: str
    part: str
    after: datetime
    by: datetime
    minutes: float
    mic_by: str
    mic_at: str
    checks: list[str]


class SoundUnitView(Told):
    """Something of the shelf that may be in a source."""

    id: str
    title: str
    kind: str


class NamedView(Told):
    """Something by its name: a kind of connector that the desk may show, a thing on the plan."""

    id: str
    label: str


class SourceStepView(Told):
    """Something that was done at a source since it was last stopped."""

    id: int
    act: Literal["runs", "locked", "heard", "slated"]
    at: datetime
    actor: str


class RollingView(Told):
    """A source as it is now: it counts as rolling when all four are done."""

    voice: str
    source: str
    done: list[SourceStepView]
    missing: list[str]
    counts: bool
    file: str


class SourceStepRequest(s.Strict):
    """Something done at a source; without a time: now. The file that it was slated in."""

    voice: Identifier
    source: Identifier
    act: Literal["runs", "locked", "heard", "slated", "stopped"]
    at: datetime | None = None
    file: Label = ""


class SourceStepPath(s.JobPath):
    """A step by its number."""

    step: int


class SoundView(Told):
    """All of a job's sound."""

    voices: list[Voice]
    bands: list[Band]
    sync: list[SaidSync]
    heard: list[HeardView]
    air: list[AirView]
    devices: list[DeviceView]
    guides: list[GuideView]
    mic_ups: list[MicUpView]
    units: list[SoundUnitView]
    plugs: list[NamedView]
    things: list[NamedView]
    """What on the plan a voice may come from."""
    rolling: list[RollingView]
    findings: list[s.FindingView]


class MovedView(Told):
    """A channel in the nearest free set."""

    voice: str
    source: str
    now_khz: int
    khz: int


class FreeView(Told):
    """The nearest set of channels that disturb nothing; found: there is one within the bands."""

    found: bool
    channels: list[MovedView]


@api.get("", responses={200: SoundView, **READ}, operation_id="readSound")
def read_sound(path: s.JobPath) -> Response:
    """Every voice in every part, with its sources and what stands against them."""
    return answer(_view(path.job))


@api.post("/steps", responses={200: SoundView, **_WRITE}, operation_id="noteAtSource")
def note_at_source(path: s.JobPath, body: SourceStepRequest) -> Response:
    """Something was done at a source; refused where it cannot have been."""
    at = body.at or datetime.now(UTC)
    step = SoundStep(voice=body.voice, source=body.source, act=body.act, at=at, file=body.file)
    services().sound.note(path.job, step, current_actor())
    return answer(_view(path.job))


@api.delete("/steps/<int:step>", responses={200: SoundView, **_WRITE}, operation_id="takeBackAtSource")
def take_back_at_source(path: SourceStepPath) -> Response:
    """It was noted by mistake: it counts no more, and stays in the log."""
    services().sound.take_back(path.job, path.step, current_actor())
    return answer(_view(path.job))


@api.get("/log.csv", responses=READ, operation_id="exportSoundLogCsv")
def export_sound_log_csv(path: s.JobPath) -> Response:
    """Everything that was done at the sources, by time: voice, wearer, file, who."""
    with services().jobs.reading():
        job, _, _ = services().jobs.read(path.job)
        noted = services().sound.of(path.job)
    rows = [(n.step, n.wearer, n.actor, n.taken_back_by or "") for n in noted]
    return Response(sound_log_csv(job, rows), mimetype="text/csv", headers=file_headers(f"{path.job}-sound-log.csv"))


def _rolling(job: Job, noted: Sequence[NotedSound]) -> list[RollingView]:
    standing = [n for n in noted if n.taken_back_by is None]
    by = {id(n.step): n for n in standing}
    return [
        RollingView(
            voice=r.voice,
            source=r.source,
            done=[
                SourceStepView(id=n.id, act=act, at=n.step.at.astimezone(job.clock), actor=n.actor)
                for act, step in r.done.items()
                for n in [by[id(step)]]
            ],
            missing=list(r.missing),
            counts=r.counts,
            file=r.file,
        )
        for r in rolling_of(job, (n.step for n in standing))
    ]


def _view(job_id: str) -> SoundView:
    with services().jobs.reading():
        job, catalogue, sound = _read(job_id)
        noted = services().sound.of(job_id)
    return SoundView(
        voices=list(job.sound.voices),
        bands=list(job.sound.bands),
        sync=list(job.sound.sync),
        heard=[
            HeardView(
                voice=h.voice.id,
                part=h.part.id,
                have=len(h.independent),
                wanted=h.wanted,
                sources=[_source(job, catalogue, h.part.id, c, h.chains, h.independent) for c in h.chains],
            )
            for h in sound.heard
        ],
        air=[
            AirView(
                part=air.part.id,
                channels=[(c.voice, c.source, c.khz) for c in air.channels],
                near=[_product(p) for p in air.near],
                products=[_product(p) for p in air.products],
            )
            for air in sound.air
        ],
        devices=[
            DeviceView(
                part=d.part.id,
                unit=d.unit,
                rig=d.rig,
                method=d.method,
                said=d.said,
                by=d.by,
                drift_frames=d.drift_frames,
                jam_again_h=d.jam_again_h,
            )
            for d in sound.devices
        ],
        guides=[
            GuideView(part=g.part.id, rig=g.rig, voice=g.voice, far_m=g.far_m, frames=g.frames) for g in sound.guides
        ],
        mic_ups=[
            MicUpView(
                voice=m.voice.label,
                wearer=m.voice.wearer,
                part=m.part.id,
                after=m.after,
                by=m.by,
                minutes=m.minutes,
                mic_by=m.voice.mic_by,
                mic_at=m.voice.mic_at,
                checks=list(m.checks),
            )
            for parts in days_of(job)
            for m in mic_ups(job, catalogue, parts)
        ],
        units=list(_units(catalogue)),
        plugs=[
            NamedView(id=i.id, label=i.label) for i in catalogue.interfaces.values() if i.kind in ("audio", "signal")
        ],
        things=[NamedView(id=t.id, label=t.label or t.id) for t in job.venue.things if t.kind in ("to see", "person")],
        rolling=_rolling(job, noted),
        findings=present.finding_views(sound.findings),
    )


def _read(job_id: str) -> tuple[Job, Catalogue, Sound]:
    job, catalogue, _ = services().jobs.read(job_id)
    return job, catalogue, sound_of(job, catalogue, day_table(job, catalogue, stands_of(job, catalogue)))


def _source(
    job: Job, catalogue: Catalogue, part: str, chain: Chain, others: tuple[Chain, ...], counts: tuple[str, ...]
) -> SourceView:
    ways = {hop.before: hop for hop in chain.hops}
    at = {unit: rig.label for rig, build in job.builds_in(part).values() for unit in build.units}
    return SourceView(
        label=chain.source.label,
        whole=chain.whole,
        counts=chain.source.label in counts,
        khz=chain.source.khz,
        house=chain.source.house,
        links=[
            LinkView(
                unit=unit,
                title=catalogue.model_of(unit).title if unit in catalogue.units else "",
                kind=catalogue.model_of(unit).kind if unit in catalogue.units else "",
                rig=at.get(unit, ""),
                way=ways[unit].way if unit in ways else "",
                by=list(ways[unit].by) if unit in ways else [],
            )
            for unit in chain.source.units
        ],
        hangs_on=sorted(chain.hangs_on),
        shares={
            other.source.label: list(both) for other in others if other is not chain and (both := shared(chain, other))
        },
    )


def _product(product: Product) -> ProductView:
    return ProductView(
        of_khz=[c.khz for c in product.of], khz=product.khz, on_khz=product.on.khz, off_khz=product.off_khz
    )


def _units(catalogue: Catalogue) -> Iterator[SoundUnitView]:
    """What sound can run through: everything with a socket for it, radios, and sound cables."""
    for unit in catalogue.shelf:
        model = catalogue.model_of(unit.id)
        ends = {catalogue.interfaces[p.interface].kind for p in model.ports} if model.is_cable else set[str]()
        hears = any(p.signal and p.signal.what == "sound" for p in model.ports)
        if hears or "audio" in ends or model.radio or model.kind == "microphone":
            yield SoundUnitView(id=unit.id, title=model.title, kind=model.kind)


@api.get("/free", responses={200: FreeView, **READ}, operation_id="readFreeChannels")
def read_free_channels(path: s.JobPath) -> Response:
    """The nearest set of channels in which nothing disturbs anything: the fewest moved, then by the least sum."""
    job, _, _ = services().jobs.read(path.job)
    air, _ = on_air(job)
    every = {c.name: c for part in air for c in part.channels}
    found = free_set([part.channels for part in air], job.sound.bands, job.settings)
    return answer(
        FreeView(
            found=found is not None,
            channels=[
                MovedView(voice=c.voice, source=c.source, now_khz=c.khz, khz=(found or {}).get(name, c.khz))
                for name, c in every.items()
            ],
        )
    )


@api.get("/sound.csv", responses=READ, operation_id="exportSoundCsv")
def export_sound_csv(path: s.JobPath) -> Response:
    """Every source of every voice in every part, as CSV."""
    _, _, sound = _read(path.job)
    return Response(sound_csv(sound), mimetype="text/csv", headers=file_headers(f"{path.job}-sound.csv"))
