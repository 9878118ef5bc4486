"""Custody of cards: where each is, what was done with it and by whom; the copy station."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import UTC, datetime
from typing import Annotated, Literal

from annotated_types import Ge, Le
from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.day.custody import CardNow, CardStep, custody_of, refused, step_text
from ..core.day.media import PLACES, USABLE, MediaPlan, media_plan
from ..core.errors import NotAllowed
from ..core.gear.recording import CardSlot
from ..core.job.job import Job
from ..core.quantities import Identifier, Label, Note
from ..core.rig.build import Catalogue
from ..devices.station import Reader
from ..formats.day_list import custody_csv
from ..store.cards import NotedStep
from . import schema as s
from .answers import READ, Responses, answer, file_headers
from .day import read_with_others
from .described import PlaceApi
from .identity import current_actor
from .schema import Told
from .services import services

__all__ = ["api"]

api = PlaceApi(
    "cards",
    __name__,
    url_prefix="/api/jobs/<string:job>/cards",
    abp_tags=[Tag(name="cards", description="Where every card is, and what was copied from it")],
)
_WRITE: Responses = {**READ, 409: s.ProblemView}


class CardStepView(Told):
    """Something that was done with a card."""

    id: int
    act: str
    text: str
    at: datetime
    actor: str
    taken_back_by: str | None
    here: bool
    """It was noted in this job."""


class CardCopyView(Told):
    """A copy of what is on a card."""

    place: str
    at: datetime
    verified: bool
    checksum: str


class PlannedSlotView(Told):
    """A slot that the plan deals a card to."""

    part: str
    rig: str
    unit: str
    slot: str


class CardNowView(Told):
    """A card as it is now, and what may be done with it."""

    card: str
    title: str
    slot: str
    gb: float
    state: Literal["blank", "in a slot", "recorded", "copied"]
    unit: str
    in_slot: str
    since: datetime | None
    copies: list[CardCopyView]
    places: int
    twins: list[str]
    faults: list[str]
    planned: list[PlannedSlotView]
    keeps: str
    """Why it may not be wiped now; empty: it may."""
    steps: list[CardStepView]


class CardSlotView(Told):
    """A slot of a recorder of the job, and the card in it."""

    unit: str
    rig: str
    slot: str
    takes: str
    card: str | None


class CustodyView(Told):
    """All cards of a job."""

    cards: list[CardNowView]
    slots: list[CardSlotView]
    drives: list[str]
    places: int
    """In how many places what is on a card must lie before it is wiped."""


class CardStepRequest(s.Strict):
    """Something done with a card; without a time: now."""

    act: Literal["in", "out", "copied", "wiped", "fault", "sound again"]
    card: Identifier
    at: datetime | None = None
    unit: Identifier | None = None
    slot: Identifier | None = None
    place: Label = ""
    verified: bool = False
    note: Note = ""


class StepPath(s.JobPath):
    """A step by its number."""

    step: int


@api.get("", responses={200: CustodyView, **READ}, operation_id="readCustody")
def read_custody(path: s.JobPath) -> Response:
    """Every card that the plan deals or a step names: its state and place, its copies, what may be done with it."""
    return answer(_view(path.job))


@api.post("/steps", responses={200: CustodyView, **_WRITE}, operation_id="noteCardStep")
def note_card_step(path: s.JobPath, body: CardStepRequest) -> Response:
    """Something was done with a card; refused where it cannot have been."""
    step = CardStep(
        act=body.act,
        card=body.card,
        at=body.at or datetime.now(UTC),
        unit=body.unit,
        slot=body.slot,
        place=body.place,
        verified=body.verified,
        note=body.note,
    )
    services().cards.note(path.job, step, current_actor())
    return answer(_view(path.job))


@api.delete("/steps/<int:step>", responses={200: CustodyView, **_WRITE}, operation_id="takeBackCardStep")
def take_back_card_step(path: StepPath) -> Response:
    """A step was noted by mistake: it counts no more, and stays readable."""
    services().cards.take_back(path.job, path.step, current_actor())
    return answer(_view(path.job))


@api.get("/custody.csv", responses=READ, operation_id="exportCustodyCsv")
def export_custody_csv(path: s.JobPath) -> Response:
    """All steps with the cards of a job, as CSV."""
    with services().jobs.reading():
        job, _, _ = services().jobs.read(path.job)
        noted = [n for n in services().cards.all() if n.job == path.job]
    rows = [(n.step, n.actor, n.taken_back_by or "") for n in noted]
    return Response(
        custody_csv(job, rows), mimetype="text/csv", headers=file_headers(f"{path.job}-custody-of-cards.csv")
    )


def _read(job_id: str) -> tuple[Job, Catalogue, list[NotedStep], MediaPlan]:
    with services().jobs.reading():
        job, catalogue, out = read_with_others(job_id)
        return job, catalogue, services().cards.all(), media_plan(job, catalogue, out)


def _view(job_id: str) -> CustodyView:
    job, catalogue, noted, media = _read(job_id)
    standing = [n.step for n in noted if n.taken_back_by is None]
    cards = custody_of(catalogue, job.clock, standing, media)
    dealt = {p.card for line in media.lines for p in line.pieces}
    of_job = {n.step.card for n in noted if n.job == job_id}
    recorders = {line.unit: line.rig.label for line in media.lines}
    shown = [
        c
        for c in cards
        if c.card in dealt | of_job
        or (c.state == "in a slot" and c.recorded is not None and c.recorded.unit in recorders)
    ]
    inside = {(c.recorded.unit, c.recorded.slot): c.card for c in cards if c.recorded and c.state == "in a slot"}
    return CustodyView(
        cards=[_card(job, catalogue, c, media, noted, standing) for c in shown],
        slots=[
            CardSlotView(unit=unit, rig=rig, slot=slot.id, takes=slot.takes, card=inside.get((unit, slot.id)))
            for unit, rig in recorders.items()
            for slot in _slots(catalogue, unit)
        ],
        drives=[u.id for u in catalogue.shelf if catalogue.model_of(u.id).kind == "drive"],
        places=PLACES,
    )


def _slots(catalogue: Catalogue, unit: str) -> tuple[CardSlot, ...]:
    data = catalogue.model_of(unit).recording
    return data.slots if data else ()


def _card(
    job: Job,
    catalogue: Catalogue,
    now: CardNow,
    media: MediaPlan,
    noted: Sequence[NotedStep],
    standing: Sequence[CardStep],
) -> CardNowView:
    model = catalogue.model_of(now.card)
    wipe = CardStep(act="wiped", card=now.card, at=max([datetime.now(UTC), *(x.at for x in standing)]))
    return CardNowView(
        card=now.card,
        title=model.title,
        slot=model.card.slot if model.card else "",
        gb=(model.card.gb if model.card else None) or 0.0,
        state=now.state,
        unit=now.recorded.unit if now.recorded else "",
        in_slot=now.recorded.slot if now.recorded else "",
        since=_on_clock(job, (now.recorded.until or now.recorded.since) if now.recorded else now.wiped),
        copies=[
            CardCopyView(place=c.place, at=c.at.astimezone(job.clock), verified=c.verified, checksum=c.checksum)
            for c in now.copies
        ],
        places=len(now.places),
        twins=list(now.twins),
        faults=[f"{f.at.astimezone(job.clock):%d %b %H:%M} {f.note}" for f in now.faults],
        planned=list(_planned(now.card, media)),
        keeps=refused(catalogue, job.clock, standing, wipe),
        steps=[
            CardStepView(
                id=n.id,
                act=n.step.act,
                text=step_text(n.step),
                at=n.step.at.astimezone(job.clock),
                actor=n.actor,
                taken_back_by=n.taken_back_by,
                here=n.job == job.id,
            )
            for n in noted
            if n.step.card == now.card
        ],
    )


def _on_clock(job: Job, at: datetime | None) -> datetime | None:
    return at.astimezone(job.clock) if at else None


def _planned(card: str, media: MediaPlan) -> Iterator[PlannedSlotView]:
    for line in sorted(media.lines, key=lambda x: x.part.starts):
        for piece in line.pieces:
            if piece.card == card:
                yield PlannedSlotView(part=line.part.id, rig=line.rig.label, unit=line.unit, slot=piece.slot)


class ReaderView(Told):
    """A reader of the copy station."""

    number: int
    doing: Literal["empty", "ready", "copying", "comparing", "done", "failed"]
    card: str
    drive: str
    done_gb: float
    gb: float
    mb_s: float
    checksum: str
    why: str
    noted: bool
    """What it has done stands in the card's custody already."""


class StationView(Told):
    """The copy station."""

    name: str
    readers: list[ReaderView]


class FromStationRequest(s.Strict):
    """When it was done; without a time: now."""

    at: datetime | None = None


class ReaderPath(s.JobPath):
    """A reader by its number."""

    reader: Annotated[int, Ge(1), Le(32)]


class CardInReaderRequest(s.Strict):
    """A card that goes into a reader."""

    card: Identifier


class CopyToRequest(s.Strict):
    """The drive that a reader's card is copied to."""

    drive: Identifier


@api.get("/station", responses={200: StationView, **READ}, operation_id="readStation")
def read_station(path: s.JobPath) -> Response:
    """What every reader of the copy station does."""
    return answer(_station(path.job))


@api.post("/station/<int:reader>/card", responses={200: StationView, **_WRITE}, operation_id="putCardInReader")
def put_card_in_reader(path: ReaderPath, body: CardInReaderRequest) -> Response:
    """Tell a simulated station that a card is in a reader; a real one sees it by itself."""
    job, catalogue, noted, media = _read(path.job)
    data = catalogue.model_of(body.card).card
    if data is None or data.gb is None:
        raise NotAllowed(f"{body.card} is no card; name the card by its label.")
    now = next(
        (
            c
            for c in custody_of(catalogue, job.clock, (n.step for n in noted if n.taken_back_by is None))
            if c.card == body.card
        ),
        CardNow(body.card),
    )
    if now.state not in ("recorded", "copied"):
        where = f"is in {now.recorded.unit} {now.recorded.slot}" if now.recorded else "is blank"
        raise NotAllowed(f"{body.card} {where}, as far as is noted; there is nothing to copy.")
    dealt = [p.gb for line in media.lines for p in line.pieces if p.card == body.card and p.gb]
    with services().devices.station() as station:
        if not station.name().startswith("simulated"):
            raise NotAllowed("A real station sees by itself which card is in a reader.")
        station.put(path.reader, body.card, max(dealt, default=data.gb * USABLE), data.read_mb_s or 250.0)
    return answer(_station(path.job))


@api.delete("/station/<int:reader>/card", responses={200: StationView, **_WRITE}, operation_id="takeCardFromReader")
def take_card_from_reader(path: ReaderPath) -> Response:
    """A reader's card is given back; a copy that runs is ended."""
    with services().devices.station() as station:
        station.end(path.reader)
    return answer(_station(path.job))


@api.post("/station/<int:reader>/copy", responses={200: StationView, **_WRITE}, operation_id="copyAtStation")
def copy_at_station(path: ReaderPath, body: CopyToRequest) -> Response:
    """Begin to copy the card of a reader to a drive, and to compare."""
    _, catalogue, _, _ = _read(path.job)
    if catalogue.model_of(body.drive).kind != "drive":
        raise NotAllowed(f"{body.drive} is no drive; name the drive by its label.")
    with services().devices.station() as station:
        station.copy(path.reader, body.drive)
    return answer(_station(path.job))


@api.post("/station/<int:reader>/note", responses={200: CustodyView, **_WRITE}, operation_id="noteFromStation")
def note_from_station(path: ReaderPath, body: FromStationRequest) -> Response:
    """What a reader has done goes into the custody of its card, with its checksum, as the station tells it."""
    with services().devices.station() as station:
        reader = station.reader(path.reader)
    at = body.at or datetime.now(UTC)
    if reader.doing == "failed":
        step = CardStep(act="fault", card=reader.card, at=at, note=reader.why or "copy failed")
    elif reader.doing == "done":
        step = CardStep(
            act="copied",
            card=reader.card,
            at=at,
            place=reader.drive,
            gb=reader.gb or None,
            verified=True,
            checksum=reader.checksum,
        )
    else:
        raise NotAllowed(f"Reader {path.reader} is {reader.doing}; there is nothing to note yet.")
    services().cards.note(path.job, step, current_actor())
    return answer(_view(path.job))


def _station(job_id: str) -> StationView:
    _, _, noted, _ = _read(job_id)
    with services().devices.station() as station:
        name, readers = station.name(), station.readers()
    return StationView(name=name, readers=[_reader(r, noted) for r in readers])


def _reader(reader: Reader, noted: Sequence[NotedStep]) -> ReaderView:
    known = any(
        n.step.card == reader.card
        and n.taken_back_by is None
        and (
            (n.step.act == "copied" and reader.doing == "done" and n.step.place == reader.drive)
            or (n.step.act == "fault" and reader.doing == "failed" and n.step.note == reader.why)
        )
        for n in noted
    )
    return ReaderView(
        number=reader.number,
        doing=reader.doing,
        card=reader.card,
        drive=reader.drive,
        done_gb=reader.done_gb,
        gb=reader.gb,
        mb_s=reader.mb_s,
        checksum=reader.checksum,
        why=reader.why,
        noted=known,
    )
