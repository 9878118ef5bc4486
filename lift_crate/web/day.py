"""The day as a table: cameras against parts, who works them, and what it takes from one build to the next."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, datetime
from typing import Literal

from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.callouts import Finding, Level, by_weight
from ..core.day.bodies import bodies_alike
from ..core.day.changeover import Again, Changeover, Lost, Task, shared_out
from ..core.day.common import common_core
from ..core.day.laid_out import LaidOut, lay_out
from ..core.day.looks import looks_of
from ..core.day.media import CardLine, media_plan
from ..core.day.table import Between, Cell, StandIn, day_table, instead_of
from ..core.job.job import Job, NotInJob, OutElsewhere, PartOfDay, Rig
from ..core.rig.build import Build, Catalogue
from ..core.safety.allowed import not_asked_for, permission_states
from ..core.safety.lines import safety_sheets
from ..core.verdict.judge import Whole
from ..formats.day_list import cards_csv, gear_csv
from . import present
from . import schema as s
from .answers import READ, answer, file_headers
from .described import PlaceApi
from .schema import Told
from .services import services

__all__ = ["api", "read_against", "stands_of"]

api = PlaceApi(
    "day",
    __name__,
    url_prefix="/api/jobs/<string:job>/day",
    abp_tags=[Tag(name="day", description="Cameras against parts of the day, and what changes between")],
)


class DayMomentView(Told):
    """A one-off moment."""

    at: datetime
    label: str


class DayColumnView(Told):
    """A part of the day."""

    id: str
    label: str
    starts: datetime
    ends: datetime
    moments: list[DayMomentView]


class DayBuildView(Told):
    """A build that a camera may be in, and what it adds to what never comes off."""

    id: str
    label: str
    on_top: list[str]


class DayRowView(Told):
    """A camera."""

    id: str
    number: int
    label: str
    position: str
    core: list[str]
    """Units and cables that sit at the same place in every build of the day."""
    builds: list[DayBuildView]


class DayCellView(Told):
    """A camera in a part of the day."""

    part: str
    rig: str
    build: str
    label: str
    lens: str
    operator: str
    unattended: bool
    spotter: str
    scheme: Literal["", "single", "mirrored", "relay"]
    counts: s.CountsView
    first: str
    """The most serious thing that stands against it."""


class DayChangeView(Told):
    """What is between two cells: minutes for one and for two pairs of hands, against the gap."""

    rig: str
    before: str
    after: str
    gap_min: float
    alone_min: float
    two_min: float
    beforehand: int
    fits: str
    same: bool


class PersonView(Told):
    """Who works which cameras, by part of the day."""

    name: str
    at: dict[str, list[str]]


class PieceView(Told):
    """A card in a slot: how full it gets, from when; none: one is missing."""

    slot: str
    card: str | None
    gb: float
    share: float
    starts: datetime


class CardLineView(Told):
    """What a recorder writes in a part of the day, and on what."""

    part: str
    rig: str
    unit: str
    mode: str
    mbit_s: float
    takes: str
    scheme: str
    minutes: float
    gb: float
    pieces: list[PieceView]
    changes: list[datetime]


class CopiesView(Told):
    """The copies of a day: GB, hours on the readers there are, when they are ready, the drives."""

    day: date
    gb: float
    minutes: float
    ready: datetime | None
    readers: int
    drive_gb: float
    wanted_gb: float


class AngleView(Told):
    """A camera that has a moment."""

    rig: str
    label: str
    wide_m: float | None
    operated: bool
    locked: bool


class MomentSeenView(Told):
    """A moment, what it is about, and the cameras that have it, the primary first."""

    part: str
    at: datetime
    label: str
    thing: str
    angles: list[AngleView]
    hidden: list[str]


class LookView(Told):
    """A camera's footage of a part, in the break after it; minutes before the first picture."""

    part: str
    gap_min: float
    rig: str
    cards: list[str]
    straight: bool
    first_min: float | None


class DayView(Told):
    """The whole day."""

    parts: list[DayColumnView]
    rigs: list[DayRowView]
    cells: list[DayCellView]
    changes: list[DayChangeView]
    people: list[PersonView]
    known_people: list[str]
    moments: list[MomentSeenView]
    cards: list[CardLineView]
    copies: list[CopiesView]
    looks: list[LookView]
    findings: list[s.FindingView]
    """What stands against the day, most serious first; what is clear is left out."""


class PlacedTaskView(Told):
    """A task, who of two does it, and when it starts and ends; minutes from the start of the change."""

    act: str
    unit: str
    where: str
    kind: str
    minutes: float
    alone_at: float
    who: int
    starts: float
    ends: float


class InsteadView(Told):
    """Another build of the camera for that part: minutes to get into it, and what stands against it there."""

    build: str
    label: str
    stays: bool
    """It is the build of the part before: nothing changes."""
    chosen: bool
    alone_min: float
    two_min: float
    fits: str
    counts: s.CountsView
    refused: str
    """Why it cannot be there then."""


class ChangeSheetView(Told):
    """The sheet of one change."""

    rig: str
    label: str
    before: str
    before_build: str
    after: str
    after_build: str
    gap_min: float
    alone_min: float
    two_min: float
    fits: str
    tasks: list[PlacedTaskView]
    beforehand: tuple[Task, ...]
    stays: tuple[str, ...]
    again: tuple[Again, ...]
    lost: tuple[Lost, ...]
    slowest: Task | None
    instead: list[InsteadView]


def _judging(job: Job, catalogue: Catalogue) -> Callable[[Build, PartOfDay, Rig], Whole]:
    """What is known already of a build in a part of the day is not worked out again."""

    def judge(build: Build, part: PartOfDay, rig: Rig) -> Whole:
        return services().verdicts.of(build, catalogue, part.conditions, job.settings, job.target_of(rig, part.id))

    return judge


def _row(job: Job, rig: Rig) -> DayRowView:
    core = common_core(job, rig)
    return DayRowView(
        id=rig.id,
        number=rig.number,
        label=rig.label,
        position=rig.position,
        core=[*core.units, *core.cables],
        builds=[DayBuildView(id=b.id, label=b.label, on_top=list(core.on_top.get(b.id, ()))) for b in rig.builds],
    )


def read_with_others(job_id: str) -> tuple[Job, Catalogue, OutElsewhere]:
    """A job with all gear, and what other jobs have while its parts last; raises NotInJob."""
    with services().jobs.reading():
        job, catalogue, _ = services().jobs.read(job_id)
        return job, catalogue, services().jobs.out_elsewhere(job_id)


def stands_of(job: Job, catalogue: Catalogue) -> StandIn:
    """Facts of builds as the screens have judged them already."""
    judge = _judging(job, catalogue)
    return lambda build, part, rig: judge(build, part, rig).stand


@api.get("", responses={200: DayView, **READ}, operation_id="readDay")
def read_day(path: s.JobPath) -> Response:
    """The table of the day: cells, what changes between them, people, what stands against it."""
    job, catalogue, out = read_with_others(path.job)
    day = lay_out(job, catalogue, stands_of(job, catalogue), out)
    table, media = day.table, day.media
    return answer(
        DayView(
            parts=[
                DayColumnView(
                    id=p.id,
                    label=p.label,
                    starts=p.starts,
                    ends=p.ends,
                    moments=[DayMomentView(at=m.at, label=m.label) for m in p.moments],
                )
                for p in sorted(job.parts, key=lambda p: p.starts)
            ],
            rigs=[_row(job, r) for r in job.rigs],
            cells=[_cell(job, catalogue, cell) for cell in table.cells],
            changes=[_change(between) for between in table.between],
            people=[
                PersonView(name=name, at={part: list(rigs) for part, rigs in at.items()})
                for name, at in table.people.items()
            ],
            known_people=sorted(job.people),
            moments=[
                MomentSeenView(
                    part=m.part.id,
                    at=m.moment.at,
                    label=m.moment.label,
                    thing=m.thing,
                    angles=[
                        AngleView(rig=a.rig, label=a.label, wide_m=a.wide_m, operated=a.operated, locked=a.locked)
                        for a in m.angles
                    ],
                    hidden=list(m.hidden),
                )
                for m in day.moments
            ],
            cards=[_card_line(line) for line in media.lines],
            copies=[
                CopiesView(
                    day=c.day,
                    gb=c.gb,
                    minutes=c.minutes,
                    ready=c.ready,
                    readers=c.readers,
                    drive_gb=c.drive_gb,
                    wanted_gb=c.wanted_gb,
                )
                for c in media.copies
            ],
            looks=[
                LookView(
                    part=x.part.id,
                    gap_min=x.gap_min,
                    rig=x.rig,
                    cards=list(x.cards),
                    straight=x.straight,
                    first_min=x.first_min,
                )
                for x in looks_of(job, catalogue, media)
            ],
            findings=present.finding_views(_against(job, day)),
        )
    )


def read_against(job_id: str) -> tuple[Finding, ...]:
    """Everything that stands against a day as a whole, as its screen says it; raises NotInJob."""
    job, catalogue, out = read_with_others(job_id)
    return _against(job, lay_out(job, catalogue, stands_of(job, catalogue), out))


def _against(job: Job, day: LaidOut) -> tuple[Finding, ...]:
    allowed = [f for state in permission_states(job) for f in state.findings]
    outside = [line.finding for sheet in safety_sheets(job, day.table) for line in sheet.lines]
    told = [f for f in day.findings if f.level > Level.CLEAR]
    # What applies to a position is on its sheet; what must not happen at all stands against the day.
    stops = [f for f in outside if f.level is Level.STOP]
    return tuple(by_weight([*told, *allowed, *not_asked_for(job, day.table), *stops]))


def _cell(job: Job, catalogue: Catalogue, cell: Cell) -> DayCellView:
    judged = _judging(job, catalogue)(cell.build, cell.part, cell.rig)
    view = cell.stand.view
    worst = next((f for f in judged.findings if f.level > Level.NOTE), None)
    return DayCellView(
        part=cell.part.id,
        rig=cell.rig.id,
        build=cell.build.id,
        label=cell.build.label,
        lens=f"{view.focal_mm:.0f} mm" if view else "no lens",
        operator=cell.operator,
        unattended=cell.unattended,
        spotter=cell.spotter,
        scheme=job.cell(cell.part.id, cell.rig.id).scheme,
        counts=present.counts_view(judged.counts),
        first=worst.call_out.title if worst else "",
    )


def _card_line(line: CardLine) -> CardLineView:
    return CardLineView(
        part=line.part.id,
        rig=line.rig.id,
        unit=line.unit,
        mode=line.mode.label,
        mbit_s=line.mode.mbit_s,
        takes=line.takes,
        scheme=line.scheme,
        minutes=line.minutes,
        gb=line.gb,
        pieces=[PieceView(slot=p.slot, card=p.card, gb=p.gb, share=p.share, starts=p.starts) for p in line.pieces],
        changes=list(line.changes),
    )


def _change(between: Between) -> DayChangeView:
    change = between.change
    return DayChangeView(
        rig=between.rig.id,
        before=between.before.id,
        after=between.after.id,
        gap_min=change.gap_min,
        alone_min=change.alone_min,
        two_min=change.two_min,
        beforehand=len(change.beforehand),
        fits=change.fits,
        same=not change.tasks,
    )


class HeldView(Told):
    """A unit over the day: who has it by part, what stops with it, what stands in."""

    unit: str
    at: dict[str, str]
    stops: str
    spare: str
    once_only: bool
    """It is used in what cannot be repeated."""


class ModelPoolView(Told):
    """A model of the job: how many there are, and where each is."""

    title: str
    kind: str
    owned: int
    hired: int
    there: int
    most: int
    used: dict[str, int]
    alone: int
    """How many with which a camera stops have nothing that stands in."""
    serves: list[str]
    """Lenses: the bodies of the job that they work on."""
    units: list[HeldView]


class AlikeView(Told):
    """Two bodies as a pair: what both take."""

    one: str
    other: str
    same: bool
    units: tuple[int, int]
    pictures: list[str]
    lenses: list[str]
    lenses_apart: int
    packs: list[str]
    cards: list[str]
    spare: bool


class GearView(Told):
    """All gear that is used over the day, and the bodies side by side."""

    models: list[ModelPoolView]
    bodies: list[AlikeView]


@api.get("/gear", responses={200: GearView, **READ}, operation_id="readGear")
def read_gear(path: s.JobPath) -> Response:
    """Who has what when, what stops when it fails, and what stands in for it then."""
    job, catalogue, out = read_with_others(path.job)
    pool = lay_out(job, catalogue, stands_of(job, catalogue), out).pool
    return answer(
        GearView(
            models=[
                ModelPoolView(
                    title=m.title,
                    kind=m.kind,
                    owned=m.owned,
                    hired=m.hired,
                    there=m.there,
                    most=m.most,
                    used=dict(m.used),
                    alone=len(m.alone),
                    serves=list(m.serves),
                    units=[
                        HeldView(unit=h.unit, at=dict(h.at), stops=h.stops, spare=h.spare, once_only=h.once_only)
                        for h in m.units
                    ],
                )
                for m in pool.models
            ],
            bodies=[
                AlikeView(
                    one=a.one,
                    other=a.other,
                    same=a.same,
                    units=a.units,
                    pictures=list(a.pictures),
                    lenses=list(a.lenses),
                    lenses_apart=a.lenses_apart,
                    packs=list(a.packs),
                    cards=list(a.cards),
                    spare=a.spare,
                )
                for a in bodies_alike(catalogue)
            ],
        )
    )


@api.get("/cards.csv", responses=READ, operation_id="exportCardsCsv")
def export_cards_csv(path: s.JobPath) -> Response:
    """The cards as they are dealt, as CSV."""
    job, catalogue, out = read_with_others(path.job)
    return _csv(cards_csv(media_plan(job, catalogue, out)), f"{path.job}-cards.csv")


@api.get("/gear.csv", responses=READ, operation_id="exportGearCsv")
def export_gear_csv(path: s.JobPath) -> Response:
    """Who has what when, as CSV."""
    job, catalogue, out = read_with_others(path.job)
    pool = lay_out(job, catalogue, stands_of(job, catalogue), out).pool
    return _csv(gear_csv(job, pool), f"{path.job}-gear.csv")


def _csv(text: str, name: str) -> Response:
    return Response(text, mimetype="text/csv", headers=file_headers(name))


class ChangePath(s.JobPath):
    """A change of a camera, by the part it leads to."""

    part: str
    rig: str


@api.get("/changes/<string:part>/<string:rig>", responses={200: ChangeSheetView, **READ}, operation_id="readChange")
def read_change(path: ChangePath) -> Response:
    """The sheet of a camera's change into a part of the day, and what else it could be in then."""
    job, catalogue, _ = services().jobs.read(path.job)
    job.part(path.part)
    job.rig(path.rig)
    table = day_table(job, catalogue, stands_of(job, catalogue))
    between = next((b for b in table.between if (b.rig.id, b.after.id) == (path.rig, path.part)), None)
    if between is None:
        raise NotInJob(f"change of {job.rig(path.rig).label} into the part of the day", path.part)
    change = between.change
    two = shared_out(change.tasks, 2)
    alone, tasks = 0.0, []
    for task, (who, starts, ends) in zip(change.tasks, two, strict=True):
        tasks.append(
            PlacedTaskView(
                act=task.act,
                unit=task.unit,
                where=task.where,
                kind=task.kind,
                minutes=task.minutes,
                alone_at=alone,
                who=who,
                starts=starts,
                ends=ends,
            )
        )
        alone += task.minutes
    judge = _judging(job, catalogue)
    instead = instead_of(job, catalogue, between, stands_of(job, catalogue))
    return answer(
        ChangeSheetView(
            rig=path.rig,
            label=between.rig.label,
            before=between.before.label,
            before_build=between.was.label,
            after=between.after.label,
            after_build=between.now.label,
            gap_min=change.gap_min,
            alone_min=change.alone_min,
            two_min=change.two_min,
            fits=change.fits if change.tasks else "easily",
            tasks=tasks,
            beforehand=change.beforehand,
            stays=change.stays,
            again=change.again,
            lost=change.lost,
            slowest=change.slowest,
            instead=[
                InsteadView(
                    build=x.build.id,
                    label=x.build.label,
                    stays=x.build.id == between.was.id,
                    chosen=x.build.id == between.now.id,
                    alone_min=x.change.alone_min if x.change else 0.0,
                    two_min=x.change.two_min if x.change else 0.0,
                    fits=_fits(x.change),
                    counts=present.counts_view(judge(x.build, between.after, between.rig).counts),
                    refused=x.refused,
                )
                for x in instead
            ],
        )
    )


def _fits(change: Changeover | None) -> str:
    return "" if change is None else change.fits if change.tasks else "easily"
