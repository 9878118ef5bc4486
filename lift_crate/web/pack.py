"""Pack: what goes along, the cases and how things lie in them, the lists out and back."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import Annotated, Literal

from flask import Response
from flask_openapi3.models.tag import Tag
from pydantic import AwareDatetime, Field

from ..core.asked import PackAsked
from ..core.callouts import Finding, by_weight
from ..core.day.laid_out import LaidOut, beside, lay_out
from ..core.geometry import Vec3
from ..core.job.job import Job, OutElsewhere
from ..core.job.packing import Carrier, CaseAlong, Extra, Travels
from ..core.pack.along import Thing, goes_along, people_of
from ..core.pack.lay import Laid, covered_from
from ..core.pack.lists import Act, Lists, PackStep, asked_first, last_place, lists_of
from ..core.pack.packed import Packed, PackedCase, stays
from ..core.pack.ready import Ready, loads_of, ready_of
from ..core.quantities import Identifier, Label, Note
from ..core.recent import Recent
from ..core.rig.build import Catalogue
from ..formats.pack_paper import labels_pdf, pack_csv, pack_pdf
from ..store.packing import NotedPacking
from . import present
from . import schema as s
from .answers import READ, Responses, answer, file_headers
from .cures import asked_of_worker
from .day import read_with_others, stands_of
from .described import PlaceApi
from .identity import current_actor
from .schema import Told
from .services import services

__all__ = ["api", "known_against", "known_cases"]

api = PlaceApi(
    "pack",
    __name__,
    url_prefix="/api/jobs/<string:job>/pack",
    abp_tags=[Tag(name="pack", description="What goes along, cases, lists out and back")],
)
_WRITE: Responses = {**READ, 409: s.ProblemView}
_MOST_STEPS = 60


class ThingView(Told):
    """Something that goes along: why, in which case, and where it is now."""

    id: str
    title: str
    kind: str
    count: int
    mass_g: float | None
    mass_from: str
    size_mm: Vec3 | None
    size_from: str
    whys: list[str]
    first: datetime | None
    first_for: str
    group: str
    wh: float | None
    planned: str
    """Its case as it is dealt; empty: none."""
    by_hand: bool
    left: bool
    """It stays behind, as somebody said."""
    state: Literal["to pack", "packed", "back", "missing", "returned"]
    case: str
    """The case that it is really in, or was in last."""
    since: datetime | None
    actor: str
    last: str
    """Where it was last; only of what is out."""
    hired_until: date | None
    step: int | None
    """The step that made it so."""
    condition: Literal["good", "doubtful", "out of use"]
    note: str
    """What is noted of the unit: faults of before."""


class LaidView(Told):
    """A thing in a case: corner from the left front lower one of the inside, and size, mm; on which layer."""

    thing: str
    at_mm: Vec3
    size_mm: Vec3
    layer: int
    covered_from: int | None
    """The lowest layer from which something lies over it."""


class CaseView(Told):
    """A case that goes along, as it is dealt, and as it is now."""

    along: CaseAlong
    title: str
    travels: Travels
    waterproof: bool
    seen: str
    inside_mm: Vec3
    outside_mm: Vec3
    empty_g: float
    most_kg: float
    most_from: str
    mass_g: float
    without_mass: list[str]
    cg_mm: Vec3 | None
    """From the middle of its floor, outside."""
    filled: float
    packs_g: float
    wh: float
    first: datetime | None
    opens: list[str]
    laid: list[LaidView]
    loose: list[str]
    closed: datetime | None
    opened: datetime | None


class FreeCaseView(Told):
    """A case of the shelf that does not go along."""

    unit: str
    title: str
    litres: float
    taken: str
    """Who has it; empty: nobody."""


class PackCureView(Told):
    """What makes more of it go along, dealt anew."""

    what: str
    case: CaseAlong
    left: int
    left_before: int


class PackStepView(Told):
    """Something that was done with a thing or a case."""

    id: int
    act: Act
    thing: str
    case: str
    at: datetime
    note: str
    actor: str
    taken_back_by: str | None


class ReadyView(Told):
    """A camera's way from closed cases to its first part, minutes."""

    rig: str
    label: str
    part: str
    cases: list[str]
    open_min: float
    build_min: float
    line_up_min: float
    alone_min: float
    by_two_min: float


class LoadView(Told):
    """What somebody carries, g."""

    who: str
    cases: list[str]
    cases_g: float
    belt_g: float
    belt_in: str
    hands_in: str


class PackingView(Told):
    """The packing of a job."""

    things: list[ThingView]
    soonest: datetime | None
    """When the first of them is wanted."""
    cases: list[CaseView]
    free: list[FreeCaseView]
    extras: list[Extra]
    carrier: Carrier
    people: int
    names: list[str]
    """Who may carry something."""
    left: list[str]
    findings: list[s.FindingView]
    cures: list[PackCureView]
    searching: bool
    proven: bool
    ready: list[ReadyView]
    loads: list[LoadView]
    steps: list[PackStepView]
    lift_kg: float


class PackStepRequest(s.Strict):
    """Something done with a thing or a case; at: now where it is left out."""

    act: Act
    thing: Identifier
    case: Label = ""
    note: Note = ""


class PackStepsRequest(s.Strict):
    """Steps that are noted together, all or none; ``anyway``: whoever noted them was asked."""

    steps: Annotated[list[PackStepRequest], Field(min_length=1, max_length=1000)]
    at: AwareDatetime | None = None
    anyway: bool = False


class PackStepPath(s.JobPath):
    """A step by its number."""

    step: Annotated[int, Field(ge=0, le=2**53)]


@api.get("", responses={200: PackingView, **READ}, operation_id="readPacking")
def read_packing(path: s.JobPath) -> Response:
    """What goes along, in which case and how it lies there; asked again while it is dealt."""
    return answer(_view(path.job))


@api.post("/steps", responses={200: PackingView, **_WRITE}, operation_id="notePackSteps")
def note_pack_steps(path: s.JobPath, body: PackStepsRequest) -> Response:
    """Things were packed, came back or are missing. What is unlikely is asked first, unless it was."""
    at = body.at or datetime.now(UTC)
    read = _read(path.job)
    wanted = {t.id for t in read.things}

    def asks(job: Job, lists: Lists, step: PackStep) -> str:
        return "" if body.anyway else asked_first(job, lists, step, read.dealt, wanted, at)

    steps = [PackStep(act=x.act, thing=x.thing, case=x.case, note=x.note, at=at) for x in body.steps]
    services().packing.note(path.job, steps, current_actor(), asks)
    return answer(_view(path.job))


@api.delete("/steps/<int:step>", responses={200: PackingView, **_WRITE}, operation_id="takeBackPackStep")
def take_back_pack_step(path: PackStepPath) -> Response:
    """A step was noted by mistake: it counts no more, and stays readable."""
    services().packing.take_back(path.job, path.step, current_actor())
    return answer(_view(path.job))


@api.get("/packing.csv", responses=READ, operation_id="exportPackCsv")
def export_pack_csv(path: s.JobPath) -> Response:
    """The packing list as CSV: a line for every thing."""
    read = _read(path.job)
    content = pack_csv(read.job, read.catalogue, read.things, read.packed, _lists(path.job)[0])
    return Response(content, mimetype="text/csv", headers=file_headers(f"{path.job}-packing.csv"))


@api.get("/packing.pdf", responses=READ, operation_id="exportPackPdf")
def export_pack_pdf(path: s.JobPath) -> Response:
    """A sheet for every case with a box to tick, out and back."""
    read = _read(path.job)
    content = pack_pdf(read.job, read.things, read.packed)
    return Response(content, mimetype="application/pdf", headers=file_headers(f"{path.job}-packing.pdf"))


class LabelsQuery(s.Strict):
    """Whose labels: everything that goes along, or the cases alone."""

    only: Literal["all", "cases"] = "all"


@api.get("/labels.pdf", responses=READ, operation_id="exportLabelsPdf")
def export_labels_pdf(path: s.JobPath, query: LabelsQuery) -> Response:
    """Labels with a QR code that says the label: of cases and units that go along."""
    read = _read(path.job)
    job, catalogue = read.job, read.catalogue
    units = [case.unit for case in job.pack.cases if case.unit in catalogue.units]
    units += [t.id for t in read.things if t.id in catalogue.units] if query.only == "all" else []
    content = labels_pdf(job, [(unit, catalogue.model_of(unit).title) for unit in units])
    return Response(content, mimetype="application/pdf", headers=file_headers(f"{path.job}-labels.pdf"))


@dataclass(frozen=True)
class _Read:
    """A job with what goes along, and how far a worker has dealt it."""

    job: Job
    catalogue: Catalogue
    out: OutElsewhere
    day: LaidOut
    things: tuple[Thing, ...]
    packed: Packed | None
    done: bool

    @property
    def cases(self) -> tuple[PackedCase, ...]:
        return self.packed.cases if self.packed else ()

    @property
    def dealt(self) -> dict[str, str]:
        """By thing the case in which it lies or was put."""
        laid = {each.thing: case.box.unit for case in self.cases for each in case.laid}
        return laid | {name: case.box.unit for case in self.cases for name in case.loose}


_Goes = tuple[Job, Catalogue, LaidOut, tuple[Thing, ...]]
_found: Recent[_Goes] = Recent(6)
"""What goes along to a job as it is read now; each keeps its job and shelf, so that an id stays its own."""


def _goes(job: Job, catalogue: Catalogue, out: OutElsewhere) -> _Goes:
    day = lay_out(job, catalogue, stands_of(job, catalogue), out)
    return job, catalogue, day, goes_along(job, catalogue, day)


def _goes_now(job: Job, catalogue: Catalogue, out: OutElsewhere) -> _Goes:
    # A scan changes nothing of what goes along: it is not found anew for every one of them.
    key = (id(job), id(catalogue), tuple(sorted(out.items())))
    return _found.of(key, lambda: _goes(job, catalogue, out))


def _read(job_id: str) -> _Read:
    job, catalogue, out = read_with_others(job_id)
    _, _, day, things = _goes_now(job, catalogue, out)
    found, done = asked_of_worker(job_id, PackAsked(out=beside(out)), "pack", "How it is packed")
    packed = found if isinstance(found, Packed) else None
    return _Read(job, catalogue, out, day, things, packed, done)


def known_against(job_id: str) -> tuple[Finding, ...] | None:
    """What stands against the packing of a job, where it was dealt as the job is now; nothing is begun."""
    job, catalogue, out = read_with_others(job_id)
    packed = services().plans.settled(job_id, PackAsked(out=beside(out)))
    if not isinstance(packed, Packed):
        return None
    _, _, day, _ = _goes_now(job, catalogue, out)
    return tuple(by_weight((*packed.findings, *loads_of(job, day, packed.cases)[1])))


def known_cases(job_id: str) -> tuple[tuple[PackedCase, tuple[str, ...]], ...]:
    """Cases with what lies in each, where they were dealt as the job is now; nothing is begun."""
    job, catalogue, out = read_with_others(job_id)
    packed = services().plans.settled(job_id, PackAsked(out=beside(out)))
    if not isinstance(packed, Packed):
        return ()
    called = {t.id: f"{t.count} × {t.called}" if t.count > 1 else t.called for t in _goes_now(job, catalogue, out)[3]}
    return tuple(
        (case, tuple(called.get(name, name) for name in (*(each.thing for each in case.laid), *case.loose)))
        for case in packed.cases
    )


def _lists(job_id: str) -> tuple[Lists, list[NotedPacking]]:
    noted = services().packing.of(job_id)
    return lists_of((n.step, n.actor) for n in noted if n.taken_back_by is None), noted


def _view(job_id: str) -> PackingView:
    read = _read(job_id)
    job, catalogue, packed, case_of = read.job, read.catalogue, read.packed, read.dealt
    lists, noted = _lists(job_id)
    steps = {n.step.thing: n.id for n in noted if n.taken_back_by is None}
    # The latest of each: what was noted of it in any job, and is not settled.
    open_faults = services().log.faults([t.id for t in read.things if t.id in catalogue.units])
    faults = {f.unit: f"{f.kind}: {f.text}" for f in reversed(open_faults)}
    loads, heavy = loads_of(job, read.day, read.cases)
    findings = by_weight((*(packed.findings if packed else ()), *heavy))
    return PackingView(
        things=[_thing(job, catalogue, t, case_of, lists, steps, faults) for t in read.things],
        soonest=min((t.first for t in read.things if t.first), default=None),
        cases=[_case(job, case, lists) for case in read.cases],
        free=_free(read),
        extras=list(job.pack.extras),
        carrier=job.pack.carrier,
        people=people_of(job),
        names=sorted(job.people),
        left=list(packed.left) if packed else [],
        findings=present.finding_views(findings),
        cures=[PackCureView(**{f: getattr(c, f) for f in PackCureView.model_fields}) for c in packed.cures]
        if packed
        else [],
        searching=not read.done,
        proven=packed.proven if packed else False,
        ready=[_ready(r) for r in ready_of(job, read.day, case_of)],
        loads=[LoadView(**{f: getattr(x, f) for f in LoadView.model_fields}) for x in loads],
        steps=[_step(job, n) for n in reversed(noted[-_MOST_STEPS:])],
        lift_kg=job.settings.lift_kg,
    )


def _free(read: _Read) -> list[FreeCaseView]:
    claims = {unit: what for unit, _, what in read.job.claims_beside()}
    along = {case.unit for case in read.job.pack.cases}
    others = {unit: f"‘{title}’" for (_, unit), title in read.out.items()}
    found = []
    for unit in read.catalogue.shelf:
        model = read.catalogue.model_of(unit.id)
        if model.case and unit.id not in along:
            taken = others.get(unit.id) or claims.get(unit.id, "")
            found.append(
                FreeCaseView(
                    unit=unit.id,
                    title=model.title,
                    litres=math.prod(model.case.inside_mm) / 1e6,
                    taken=taken or ("out of use" if unit.condition == "out of use" else ""),
                )
            )
    return found


def _ready(r: Ready) -> ReadyView:
    return ReadyView(
        rig=r.rig,
        label=r.label,
        part=r.part,
        cases=list(r.cases),
        open_min=r.open_min,
        build_min=r.build_min,
        line_up_min=r.line_up_min,
        alone_min=r.alone,
        by_two_min=r.by_two,
    )


def _thing(
    job: Job,
    catalogue: Catalogue,
    t: Thing,
    case_of: Mapping[str, str],
    lists: Lists,
    steps: Mapping[str, int],
    faults: Mapping[str, str],
) -> ThingView:
    now = lists.of(t.id)
    put = {p.thing for p in job.pack.put if p.case}
    unit = catalogue.units.get(t.id)
    return ThingView(
        id=t.id,
        title=t.title,
        kind=t.kind,
        count=t.count,
        mass_g=t.mass_g,
        mass_from=t.mass_from,
        size_mm=t.size_mm,
        size_from=t.size_from,
        whys=list(t.whys),
        first=t.first,
        first_for=t.first_for,
        group=t.group,
        wh=t.wh,
        planned=case_of.get(t.id, ""),
        by_hand=t.id in put,
        left=t.id in stays(job),
        state=now.state,
        case=now.case,
        since=now.since.astimezone(job.clock) if now.since else None,
        actor=now.actor,
        last=last_place(job, lists, t.id, datetime.now(UTC)) if now.state in ("packed", "missing") else "",
        hired_until=unit.hired_until if unit and unit.owner == "hired" else None,
        step=steps.get(t.id),
        condition=unit.condition if unit else "good",
        note=unit.note if unit and unit.note else faults.get(t.id, ""),
    )


def _case(job: Job, case: PackedCase, lists: Lists) -> CaseView:
    now = lists.cases.get(case.box.unit)
    along: Sequence[CaseAlong] = [c for c in job.pack.cases if c.unit == case.box.unit]
    return CaseView(
        along=along[0] if along else case.box.along,
        title=case.box.title,
        travels=case.box.travels,
        waterproof=case.box.waterproof,
        seen=case.box.seen,
        inside_mm=case.box.inside_mm,
        outside_mm=case.box.outside_mm,
        empty_g=case.box.empty_g,
        most_kg=case.box.most_g / 1000,
        most_from=case.box.most_from,
        mass_g=case.mass_g,
        without_mass=list(case.without_mass),
        cg_mm=case.cg_mm,
        filled=case.filled,
        packs_g=case.packs_g,
        wh=case.wh,
        first=case.first.astimezone(job.clock) if case.first else None,
        opens=list(case.opens),
        laid=[_laid(e, case) for e in case.laid],
        loose=list(case.loose),
        closed=now.closed.astimezone(job.clock) if now and now.closed else None,
        opened=now.opened.astimezone(job.clock) if now and now.opened else None,
    )


def _laid(e: Laid, case: PackedCase) -> LaidView:
    over = covered_from(e, case.laid)
    return LaidView(thing=e.thing, at_mm=e.at_mm, size_mm=e.size_mm, layer=e.layer, covered_from=over)


def _step(job: Job, n: NotedPacking) -> PackStepView:
    return PackStepView(
        id=n.id,
        act=n.step.act,
        thing=n.step.thing,
        case=n.step.case,
        at=n.step.at.astimezone(job.clock),
        note=n.step.note,
        actor=n.actor,
        taken_back_by=n.taken_back_by,
    )
