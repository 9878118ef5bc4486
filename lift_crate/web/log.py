"""Log: what was planned beside what happened, what is learnt from it, the weather, the report of a day."""

from __future__ import annotations

import base64
import binascii
import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import Annotated, Literal

from flask import Response
from flask_openapi3.models.tag import Tag
from pydantic import AwareDatetime, Field

from ..core.asked import EffectsAsked, EffectsFound
from ..core.callouts import Level, Working
from ..core.day.laid_out import LaidOut, lay_out
from ..core.errors import NotAllowed
from ..core.job.job import Job, PartOfDay
from ..core.job.sight import ev_of
from ..core.log.before import ToSet, to_set
from ..core.log.entries import (
    READINGS,
    TIMINGS,
    EntryKind,
    LogBook,
    LogEntry,
    Standing,
    Verdict,
    book_of,
    entry_text,
)
from ..core.log.learn import Learning, Proposal, Run, Subject, Taken, learn
from ..core.log.report import of_day, report_of
from ..core.log.stream import Planned, carried_out, planned_of
from ..core.log.weather import Weather, falls_in, lux_of, weather_findings
from ..core.quantities import Identifier, Label, Note
from ..core.recent import Recent
from ..core.rig.build import Catalogue
from ..core.swaps.card import Swap, swaps_of
from ..core.swaps.what_if import WhatIf, day_asked, day_of
from ..formats.log_paper import log_csv, report_pdf
from ..store.cards import NotedStep
from ..store.database import writing
from ..store.jobs import keep_pictures
from ..store.log import NotedEntry, OpenFault
from ..store.swaps import NotedSwap
from . import present
from . import schema as s
from .answers import READ, Responses, answer, file_headers
from .cures import asked_of_worker
from .day import stands_of
from .described import PlaceApi
from .identity import current_actor, current_asker
from .pictures import drawn_anew, seen_picture
from .schema import Told
from .services import services

__all__ = ["api", "open_in"]

api = PlaceApi(
    "log",
    __name__,
    url_prefix="/api/jobs/<string:job>/log",
    abp_tags=[Tag(name="log", description="What happened, what is learnt from it, the weather, the report of a day")],
)
_WRITE: Responses = {**READ, 409: s.ProblemView}
_LATE_MIN = 10
"""What was noted so much after it happened says when it came in."""
_MOST = 400
_MOST_PHOTO = 6_000_000


class SaidView(Told):
    """What an entry was before it was corrected."""

    text: str
    by: str


class LogLineView(Told):
    """One thing that happened, or was planned; ``source`` says where it was noted."""

    id: str
    source: Literal["log", "swap", "card", "sound", "pack", "plan"]
    kind: str
    at: datetime
    rig: str
    unit: str
    text: str
    by: str
    noted_at: datetime | None
    """When it came in, where that was later."""
    said: list[SaidView]
    settled: str
    """How it was settled; empty: it was not."""
    photo: str
    open: bool
    """It can be settled."""
    slot: str
    pack_in: str
    pack_out: str
    carried: bool
    """A planned swap that was made."""
    taken_back_by: str | None
    entry: LogEntry | None
    """As it was noted, to be corrected."""


class LearnRunView(Told):
    """One reading that a figure was learnt from."""

    text: str
    at: datetime
    value: float


class ProposalView(Told):
    """A figure as it is counted with, as it was read, and what it changes."""

    of: Subject
    thing: str
    title: str
    unit: str
    first: float
    now: float
    value: float
    spread: float
    runs: list[LearnRunView]
    working: Working
    taken: bool
    comes: list[str]
    goes: list[str]
    differs: list[str]
    tried: bool
    """What it changes was found out."""


class TakenView(Told):
    """A figure that was taken over."""

    of: Subject
    thing: str
    before: float
    value: float
    at: datetime
    by: str


class ChoiceOfLog(Told):
    """A reading or timing by its name, with its unit."""

    id: str
    label: str
    unit: str


class FaultView(Told):
    """A fault or near miss that nobody settled."""

    unit: str
    kind: str
    at: datetime
    text: str
    by: str
    job: str
    """The job in which it was noted; empty: this one."""


class ToSetView(Told):
    """What a unit of a camera is set to before it rolls, what it was set to before, and who ticked it when."""

    rig: str
    label: str
    unit: str
    title: str
    text: str
    was: str
    entry: str
    """The tick; empty: it was not."""
    by: str
    at: datetime | None


class LogView(Told):
    """The log of the day of a part."""

    day: date
    starts: datetime
    ends: datetime
    lines: list[LogLineView]
    proposals: list[ProposalView]
    taken: list[TakenView]
    searching: bool
    readings: list[ChoiceOfLog]
    timings: list[ChoiceOfLog]
    faults: list[FaultView]
    to_set: list[ToSetView]
    """Before the part that is looked at rolls."""
    promises: list[LogLineView]


class EntryRequest(s.Strict):
    """Something that happened; at: now where it is left out; id: whoever notes it makes it, so that it counts once."""

    id: Identifier | None = None
    kind: EntryKind
    at: AwareDatetime | None = None
    rig: Label = ""
    unit: Label = ""
    who: Label = ""
    text: Note = ""
    what: Label = ""
    value: Annotated[float, Field(ge=-100_000, le=100_000)] | None = None
    times: Annotated[int, Field(ge=1, le=999)] = 1
    people: Annotated[int, Field(ge=1, le=9)] = 1
    verdict: Verdict = ""
    photo: Label = ""
    """Of a picture that is kept already."""
    picture: Annotated[str, Field(max_length=_MOST_PHOTO)] = ""
    """A new one, the file in base 64."""
    number: Annotated[int, Field(ge=0, le=2**53)] | None = None
    corrects: Label = ""
    settles: Label = ""


class LogQuery(s.Strict):
    """The part of the day whose day is shown."""

    part: str


class EntryPath(s.JobPath):
    """An entry by its id."""

    entry: str


class TakeRequest(s.Strict):
    """A figure to count with, as it was proposed; version: of the job as it was looked at."""

    of: Subject
    thing: Identifier
    value: float
    version: Annotated[int, Field(ge=0, le=2**53)]


class WeatherQuery(s.Strict):
    """The part whose weather is read; what was typed, where no station is there: °C, m/s, m/s, lux."""

    part: str
    station: bool = True
    air: Annotated[float, Field(ge=-60, le=70)] | None = None
    wind: Annotated[float, Field(ge=0, le=100)] | None = None
    gust: Annotated[float, Field(ge=0, le=150)] | None = None
    lux: Annotated[float, Field(ge=0, le=200_000)] | None = None


class FallsView(Told):
    """What falls of a camera in this weather."""

    rig: str
    label: str
    build: str
    findings: list[s.FindingView]


class LogWeatherView(Told):
    """The weather, the one that was planned, and what falls with it."""

    station: str
    at: datetime
    air_c: float | None
    wind_m_s: float | None
    gust_m_s: float | None
    lux: float | None
    ev: float | None
    planned_c: float
    planned_m_s: float
    planned_ev: float | None
    findings: list[s.FindingView]
    falls: list[FallsView]


@api.get("", responses={200: LogView, **READ}, operation_id="readLog")
def read_log(path: s.JobPath, query: LogQuery) -> Response:
    """What was planned and what happened on the day of a part, and what the figures learn from the whole job."""
    return answer(_view(path.job, query.part))


@api.post("/entries", responses={200: LogView, **_WRITE}, operation_id="noteEntry")
def note_entry(path: s.JobPath, query: LogQuery, body: EntryRequest) -> Response:
    """Something happened. What corrects an entry stands beside it; nothing is rubbed out."""
    said = body.model_dump(exclude={"picture"})
    if body.photo:
        seen_picture(body.photo)
    if body.picture:
        said["photo"] = _kept(body.picture)
    if body.kind == "version" and body.rig and body.number is None:
        kept = services().builds.read_planned(path.job, query.part, body.rig, steps=False)
        said |= {"rig": kept.rig.id, "number": kept.version, "what": kept.build.id}
    entry = LogEntry(**{**said, "id": body.id or str(uuid.uuid4()), "at": body.at or datetime.now(UTC)})
    services().log.note(path.job, entry, current_actor())
    return answer(_view(path.job, query.part))


def _kept(told: str) -> str:
    """Keep a photo; its name. The same file has the same name."""
    try:
        content = base64.b64decode(told, validate=True)
    except (binascii.Error, ValueError):
        raise NotAllowed("The photo is not in base 64.") from None
    picture = drawn_anew(content)
    with writing(services().jobs.pool) as connection:
        keep_pictures(connection, [picture])
    return picture.id


@api.delete("/entries/<string:entry>", responses={200: LogView, **_WRITE}, operation_id="takeBackEntry")
def take_back_entry(path: EntryPath, query: LogQuery) -> Response:
    """An entry was noted by mistake: it counts no more, and stays readable."""
    services().log.take_back(path.job, path.entry, current_actor())
    return answer(_view(path.job, query.part))


@api.post("/figures/unit", responses={200: LogView, **_WRITE}, operation_id="takeUnitFigure")
def take_unit_figure(path: s.JobPath, query: LogQuery, body: TakeRequest) -> Response:
    """Count with a figure of the Shelf as it was learnt: health, draw, hours, what a mode writes."""
    if body.of == "minutes":
        raise NotAllowed("Minutes are a setting of the job; take them over as such.")
    return _take(path.job, query.part, body)


@api.post("/figures/setting", responses={200: LogView, **_WRITE}, operation_id="takeSettingFigure")
def take_setting_figure(path: s.JobPath, query: LogQuery, body: TakeRequest) -> Response:
    """Count with minutes as they were learnt: a setting of this job."""
    if body.of != "minutes":
        raise NotAllowed("This is a figure of the Shelf; take it over as such.")
    return _take(path.job, query.part, body)


@api.get("/weather", responses={200: LogWeatherView, **READ}, operation_id="readWeather")
def read_weather(path: s.JobPath, query: WeatherQuery) -> Response:
    """The weather of the station, or as it was typed, against that of a part, and what falls with it."""
    job, catalogue, _ = services().jobs.read(path.job)
    part = job.part(query.part)
    if query.station:
        with services().devices.weather() as station:
            name = station.name()
            planned = part.conditions
            station.expect(planned.temperature_c, planned.blows_m_s, lux_of(planned.light_ev or 0.0))
            weather = station.read()
    else:
        name = ""
        weather = Weather(temperature_c=query.air, wind_m_s=query.wind, gust_m_s=query.gust, lux=query.lux)
    return answer(_weather(job, catalogue, part, weather, name))


@api.get("/log.csv", responses=READ, operation_id="exportLogCsv")
def export_log_csv(path: s.JobPath) -> Response:
    """The whole log as CSV, what was corrected and taken back among it."""
    job, _, _ = services().jobs.read(path.job)
    noted = services().log.of(path.job)
    content = log_csv(job, [(n.entry, n.actor, n.taken_back_by) for n in noted])
    return Response(content, mimetype="text/csv", headers=file_headers(f"{path.job}-log.csv"))


@api.get("/report.pdf", responses=READ, operation_id="exportReportPdf")
def export_report_pdf(path: s.JobPath, query: LogQuery) -> Response:
    """The report of the day of a part: what ran, what failed, what to change."""
    read = _read(path.job)
    day = day_of(read.job, query.part)[0].starts.date()
    proposals = _proposals(read)
    report = report_of(read.job, read.book, [n.made for n in read.swaps], [n.step for n in read.cards], proposals, day)
    if report is None:
        raise NotAllowed("The job has no part on this day.")
    content = report_pdf(read.job, report, proposals)
    return Response(content, mimetype="application/pdf", headers=file_headers(f"{path.job}-{day:%Y-%m-%d}-report.pdf"))


@dataclass(frozen=True)
class _Read:
    """A job with everything that was noted in it."""

    job: Job
    catalogue: Catalogue
    noted: list[NotedEntry]
    book: LogBook
    swaps: list[NotedSwap]
    cards: list[NotedStep]
    taken: tuple[Taken, ...]


_laid: Recent[tuple[Job, Catalogue, LaidOut]] = Recent(6)
"""The days of a job as it is read now; each keeps its job and shelf, so that an id stays its own."""
_learnt: Recent[tuple[Job, Catalogue, tuple[Proposal, ...]]] = Recent(6)
"""What is learnt of a log, likewise."""


def _read(job_id: str) -> _Read:
    known = services()
    with known.jobs.reading():
        job, catalogue, _ = known.jobs.read(job_id)
        noted = known.log.of(job_id)
        swaps, cards = known.swaps.of(job_id), [n for n in known.cards.all() if n.job == job_id]
        taken = known.log.taken(job_id)
    book = book_of((n.entry, n.actor) for n in noted if n.taken_back_by is None)
    return _Read(job, catalogue, noted, book, swaps, cards, taken)


def _laid_out(read: _Read) -> LaidOut:
    job, catalogue = read.job, read.catalogue
    key = (id(job), id(catalogue))
    return _laid.of(key, lambda: (job, catalogue, lay_out(job, catalogue, stands_of(job, catalogue))))[2]


def _proposals(read: _Read) -> tuple[Proposal, ...]:
    job, catalogue, made = read.job, read.catalogue, tuple(n.made for n in read.swaps)
    counts = tuple(x for x in read.book.standing if x.entry.kind in ("reading", "minutes"))
    if not counts and all(m.charge_left is None for m in made):
        return ()

    def find() -> tuple[Job, Catalogue, tuple[Proposal, ...]]:
        laid = _laid_out(read)
        changes = tuple(
            (b.rig.id, b.before.ends, b.after.starts, b.change) for b in laid.table.between if b.was != b.now
        )
        given = Learning(
            job=job,
            catalogue=catalogue,
            made=made,
            entries=counts,
            taken=read.taken,
            lines=laid.media.lines,
            changes=changes,
        )
        return job, catalogue, learn(given)

    return _learnt.of((id(job), id(catalogue), made, counts, read.taken), find)[2]


def _take(job_id: str, part: str, body: TakeRequest) -> Response:
    read = _read(job_id)
    proposal = next((p for p in _proposals(read) if (p.of, p.thing) == (body.of, body.thing)), None)
    if proposal is None or abs(proposal.value - body.value) > 1e-6:
        raise NotAllowed("The log says another figure by now. Look at it again.")
    services().log.take_figure(job_id, body.version, proposal.figure, proposal.now, current_actor())
    return answer(_view(job_id, part))


def open_in(job_id: str) -> int:
    """How many faults and near misses of a job's gear nobody has settled; raises NotInJob."""
    return len(_open_faults(services().jobs.read(job_id)[0]))


def _open_faults(job: Job) -> list[OpenFault]:
    return services().log.faults(sorted({u for rig in job.rigs for b in rig.builds for u in b.units}))


def _view(job_id: str, part: str) -> LogView:
    read = _read(job_id)
    job = read.job
    days = day_of(job, part)
    proposals = _proposals(read)
    effects, done = _effects(read, proposals)
    faults = _open_faults(job)
    swaps, planned_out = _cards_of_swaps(job, part)
    planned = planned_of(job, _laid_out(read).table, swaps)
    carried = carried_out(planned, [n.made for n in read.swaps])
    lines = [*_happened(read), *(_plan_line(p, i in carried) for i, p in enumerate(planned))]
    shown = sorted(
        (x for x in lines if of_day(x.at, days[0].starts, days[-1].ends)),
        key=lambda x: (x.at, x.source != "plan", x.id),
    )
    return LogView(
        day=days[0].starts.date(),
        starts=days[0].starts,
        ends=days[-1].ends,
        lines=shown[-_MOST:],
        proposals=[_proposal(p, effects) for p in proposals],
        taken=[TakenView(**{f: getattr(t, f) for f in TakenView.model_fields}) for t in reversed(read.taken[-40:])],
        searching=not (done and planned_out),
        readings=[ChoiceOfLog(id=k, label=label, unit=unit) for k, (label, unit) in READINGS.items()],
        timings=[ChoiceOfLog(id=k, label=label, unit="min") for k, label in TIMINGS.items()],
        faults=[
            FaultView(
                unit=f.unit,
                kind=f.kind,
                at=f.at.astimezone(job.clock),
                text=f.text,
                by=f.actor,
                job="" if f.job_id == job.id else "another job",
            )
            for f in faults
        ],
        to_set=[_to_set(read, x) for x in to_set(job, read.catalogue, part, read.book)],
        promises=[_entry_line(job, x, None) for x in read.book.of_kind("consent", "promise") if x.settled is None],
    )


def _to_set(read: _Read, x: ToSet) -> ToSetView:
    return ToSetView(
        rig=x.rig,
        label=read.job.rig(x.rig).label,
        unit=x.unit,
        title=read.catalogue.model_of(x.unit).title if x.unit else "",
        text=x.text,
        was=x.was,
        entry=x.ticked.entry.id if x.ticked else "",
        by=x.ticked.by if x.ticked else "",
        at=x.ticked.entry.at.astimezone(read.job.clock) if x.ticked else None,
    )


def _cards_of_swaps(job: Job, part: str) -> tuple[tuple[Swap, ...], bool]:
    """The swaps of a day as far as they are planned, and whether they are; asked for if nobody did."""
    plans = services().plans
    state = plans.state(plans.ask(job.id, day_asked(job, part, WhatIf()), current_asker(), "day"))
    day = state.day
    return (swaps_of(day.problem, day.plan) if day and day.plan else ()), state.done


def _effects(read: _Read, proposals: Sequence[Proposal]) -> tuple[EffectsFound | None, bool]:
    wanted = [p for p in proposals if not p.taken]
    if not wanted:
        return None, True
    since = max((r.at for p in wanted for r in p.runs), default=None)
    question = EffectsAsked(
        figures=tuple(p.figure for p in wanted), since=since, made=tuple(n.made for n in read.swaps)
    )
    found, done = asked_of_worker(read.job.id, question, "effects", "What it changes")
    return (found if isinstance(found, EffectsFound) else None), done


def _proposal(p: Proposal, effects: EffectsFound | None) -> ProposalView:
    effect = next((e for e in effects.of_figures if e.figure == p.figure), None) if effects else None
    return ProposalView(
        of=p.of,
        thing=p.thing,
        title=p.title,
        unit=p.unit,
        first=p.first,
        now=p.now,
        value=p.value,
        spread=p.spread,
        runs=[_run(r) for r in p.runs],
        working=p.working,
        taken=p.taken,
        comes=list(effect.comes) if effect else [],
        goes=list(effect.goes) if effect else [],
        differs=list(effect.differs) if effect else [],
        tried=effect is not None,
    )


def _run(r: Run) -> LearnRunView:
    return LearnRunView(text=r.text, at=r.at, value=r.value)


def _happened(read: _Read) -> list[LogLineView]:
    job, clock = read.job, read.job.clock
    late = {n.entry.id: n.noted_at for n in read.noted}
    lines = [_entry_line(job, x, late.get(x.entry.id)) for x in read.book.standing if x.entry.kind != "settled"]
    for gone in (n for n in read.noted if n.taken_back_by is not None):
        line = _entry_line(job, Standing(entry=gone.entry, by=gone.actor), gone.noted_at)
        lines.append(line.model_copy(update={"taken_back_by": gone.taken_back_by, "open": False}))
    for n in read.swaps:
        rig = next((r for r in job.rigs if n.made.slot.startswith(f"{r.id} · ")), None)
        charge = f", {n.made.charge_left * 100:.0f} % left" if n.made.charge_left is not None else ""
        out = f" for {n.made.pack_out}{charge}" if n.made.pack_out else ""
        text = f"{n.made.slot.partition(' · ')[2] or n.made.slot}: {n.made.pack_in}{out}"
        lines.append(
            _line(str(n.id), "swap", "swap", n.made.at.astimezone(clock), rig.id if rig else "", text, n.actor)
        )
    lines += [_card_line(job, n) for n in read.cards if n.taken_back_by is None]
    return lines


def _card_line(job: Job, n: NotedStep) -> LogLineView:
    step = n.step
    rig = next((r.id for r in job.rigs for b in r.builds if step.unit in b.units), "")
    said = " ".join(w for w in (step.card, step.act, step.unit or "", step.slot or "", step.place, step.note) if w)
    return _line(str(n.id), "card", f"card {step.act}", step.at.astimezone(job.clock), rig, said, n.actor)


def _line(
    name: str, source: Literal["log", "swap", "card", "plan"], kind: str, at: datetime, rig: str, text: str, by: str
) -> LogLineView:
    return LogLineView(
        id=name,
        source=source,
        kind=kind,
        at=at,
        rig=rig,
        unit="",
        text=text,
        by=by,
        noted_at=None,
        said=[],
        settled="",
        photo="",
        open=False,
        slot="",
        pack_in="",
        pack_out="",
        carried=False,
        taken_back_by=None,
        entry=None,
    )


def _plan_line(p: Planned, carried: bool) -> LogLineView:
    made = _line(f"{p.what} {p.at.isoformat()} {p.text}", "plan", p.what, p.at, p.rig, p.text, "")
    return made.model_copy(update={"slot": p.slot, "pack_in": p.pack_in, "pack_out": p.pack_out, "carried": carried})


def _entry_line(job: Job, x: Standing, noted_at: datetime | None) -> LogLineView:
    entry = x.entry
    at = entry.at.astimezone(job.clock)
    late = noted_at is not None and (noted_at - entry.at).total_seconds() > _LATE_MIN * 60
    return LogLineView(
        id=entry.id,
        source="log",
        kind=entry.kind,
        at=at,
        rig=entry.rig,
        unit=entry.unit,
        text=entry_text(entry),
        by=x.by,
        noted_at=noted_at.astimezone(job.clock) if late and noted_at else None,
        said=[SaidView(text=entry_text(e), by=by) for e, by in x.said],
        settled=(x.settled.text or "settled") if x.settled else "",
        photo=entry.photo,
        open=entry.kind in ("fault", "near miss", "promise", "consent") and x.settled is None,
        slot="",
        pack_in="",
        pack_out="",
        carried=False,
        taken_back_by=None,
        entry=entry,
    )


def _weather(job: Job, catalogue: Catalogue, part: PartOfDay, weather: Weather, name: str) -> LogWeatherView:
    falls = falls_in(job, catalogue, part.id, weather)
    return LogWeatherView(
        station=name,
        at=datetime.now(UTC).astimezone(job.clock),
        air_c=weather.temperature_c,
        wind_m_s=weather.wind_m_s,
        gust_m_s=weather.gust_m_s,
        lux=weather.lux,
        ev=None if weather.lux is None else ev_of(weather.lux),
        planned_c=part.conditions.temperature_c,
        planned_m_s=part.conditions.blows_m_s,
        planned_ev=part.conditions.light_ev,
        findings=present.finding_views(tuple(f for f in weather_findings(job, part, weather) if f.level > Level.CLEAR)),
        falls=[
            FallsView(rig=x.rig.id, label=x.rig.label, build=x.build.label, findings=present.finding_views(x.findings))
            for x in falls
        ],
    )
