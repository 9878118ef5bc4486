"""Where every card is: blank, in a slot, recorded, copied to so many places, wiped; each step with who and when.

A card has one state and one place at any time. It is wiped when what is on it lies in three places, and not on the
day it was recorded; the other side of a mirror counts as a place until it is used again.
Formulas: docs/formulas.md §10, 'Custody'.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta, tzinfo
from typing import Annotated, Literal

from annotated_types import MaxLen

from ..job.job import Job
from ..quantities import Identifier, Label, Note, Positive
from ..rig.build import Catalogue
from ..settings import STRICT
from .media import PLACES, MediaPlan

__all__ = [
    "CardFault",
    "CardNow",
    "CardStep",
    "Copied",
    "Recorded",
    "custody_of",
    "mirrored_between",
    "once_only_for",
    "refused",
    "step_text",
    "taken_back",
]

Act = Literal["in", "out", "copied", "wiped", "fault", "sound again"]
_A_DAY = timedelta(days=1)
_TOGETHER = timedelta(minutes=10)
"""Two cards of a mirror go in within so long of each other. Our own figure."""
State = Literal["blank", "in a slot", "recorded", "copied"]


@dataclass(frozen=True, kw_only=True)
class CardStep:
    """Something done with a card: put into a slot of a recorder, taken out, copied to a place, wiped; or a fault."""

    __pydantic_config__ = STRICT

    act: Act
    card: Identifier
    at: datetime
    unit: Identifier | None = None
    """The recorder that it goes into."""
    slot: Identifier | None = None
    place: Label = ""
    """Where it was copied to: a drive by its label, or any other place in words."""
    gb: Positive | None = None
    verified: bool = False
    """Whether what was written was read again and compared."""
    checksum: Annotated[str, MaxLen(64)] = ""
    note: Note = ""
    once_only: bool = False
    """In: whether what it is put in for cannot be repeated. Out: whether its recorder wrote all of it to both slots."""


@dataclass(frozen=True, slots=True)
class Copied:
    """A copy of what is on a card."""

    place: str
    at: datetime
    verified: bool
    checksum: str


@dataclass(frozen=True, slots=True)
class CardFault:
    """Something a card did."""

    at: datetime
    note: str


@dataclass(frozen=True, slots=True)
class Recorded:
    """What is on a card: from which recorder and slot, from when to when."""

    unit: str
    slot: str
    since: datetime
    until: datetime | None = None


@dataclass(frozen=True, slots=True)
class CardNow:
    """A card as it is now."""

    card: str
    state: State = "blank"
    recorded: Recorded | None = None
    copies: tuple[Copied, ...] = ()
    twins: tuple[str, ...] = ()
    """Cards that hold the same: the other sides of a mirror, while they are not used again."""
    faults: tuple[CardFault, ...] = ()
    wiped: datetime | None = None

    @property
    def places(self) -> tuple[str, ...]:
        """Everywhere that what is on it lies, verified, but on itself."""
        return (*dict.fromkeys(c.place for c in self.copies if c.verified), *self.twins)


@dataclass
class _Desk:
    """All cards while the steps are gone through."""

    catalogue: Catalogue
    clock: tzinfo
    cards: dict[str, CardNow] = field(default_factory=dict)

    def of(self, card: str) -> CardNow:
        return self.cards.setdefault(card, CardNow(card))

    def against(self, step: CardStep) -> str:
        """Why a step cannot be now; empty when it can."""
        return next(_against(self, self.of(step.card), step), "")

    def take(self, step: CardStep) -> None:
        self.cards[step.card] = _after(self.of(step.card), step)
        if step.act in ("in", "wiped"):
            # What was on it is there no more, for the other side of its mirror neither.
            for other in [c for c in self.cards.values() if step.card in c.twins]:
                self.cards[other.card] = replace(other, twins=tuple(t for t in other.twins if t != step.card))
        if step.act == "out" and step.once_only:
            # Two cards that were put into one recorder together hold the same; one that came later lacks the beginning.
            out = self.cards[step.card]
            for other in self.inside():
                if not (other.recorded and out.recorded) or other.recorded.unit != out.recorded.unit:
                    continue
                if abs(other.recorded.since - out.recorded.since) <= _TOGETHER:
                    self._pair(step.card, other.card)
                    self._pair(other.card, step.card)

    def _pair(self, card: str, other: str) -> None:
        now = self.cards[card]
        self.cards[card] = replace(now, twins=tuple(dict.fromkeys((*now.twins, other))))

    def inside(self) -> list[CardNow]:
        """Cards that are in a recorder."""
        return [c for c in self.cards.values() if c.state == "in a slot"]


def custody_of(
    catalogue: Catalogue, clock: tzinfo, steps: Iterable[CardStep], media: MediaPlan | None = None
) -> tuple[CardNow, ...]:
    """Every card that the plan deals or a step names, as it is now, by its label."""
    desk = _Desk(catalogue, clock)
    for step in sorted(steps, key=lambda s: s.at):
        desk.take(step)
    for line in media.lines if media else ():
        for piece in line.pieces:
            if piece.card:
                desk.of(piece.card)
    return tuple(desk.cards[card] for card in sorted(desk.cards))


def refused(catalogue: Catalogue, clock: tzinfo, steps: Sequence[CardStep], step: CardStep) -> str:
    """Why a step cannot be, with all that are noted already; empty when it can.

    A step that is noted late goes between the others, and none after it may become impossible by it.
    """
    if step.at.tzinfo is None:
        return "Give the time with a time zone, as in 2027-03-20T19:30:00+00:00."
    return _first_against(catalogue, clock, steps, [*steps, step], step)


def taken_back(catalogue: Catalogue, clock: tzinfo, steps: Sequence[CardStep], step: CardStep) -> str:
    """Why a step cannot be taken back: one that came after it could not have been; empty when it can."""
    return _first_against(catalogue, clock, steps, [s for s in steps if s is not step], None)


def clashing(
    catalogue: Catalogue, clock: tzinfo, here: Sequence[CardStep], new: Sequence[CardStep]
) -> Iterator[tuple[CardStep, str]]:
    """Steps, of those here or of those that come to them, that could be among their own and cannot be together."""
    alone = {**_reasons(catalogue, clock, here), **_reasons(catalogue, clock, new)}
    for step, why in _reasons(catalogue, clock, [*here, *new]).values():
        if why and not alone[id(step)][1]:
            yield step, why


def _first_against(
    catalogue: Catalogue, clock: tzinfo, before: Sequence[CardStep], after: Sequence[CardStep], new: CardStep | None
) -> str:
    was = _reasons(catalogue, clock, before)
    for step, why in _reasons(catalogue, clock, after).values():
        if why and step is new:
            return why
        # What was odd before, as when a slot has another name by now, is not held against the new one.
        if why and not was[id(step)][1]:
            return f"Then '{step_text(step)}' at {step.at.astimezone(clock):%H:%M} could not have been: {why}"
    return ""


def _reasons(catalogue: Catalogue, clock: tzinfo, steps: Iterable[CardStep]) -> dict[int, tuple[CardStep, str]]:
    desk, found = _Desk(catalogue, clock), dict[int, tuple[CardStep, str]]()
    for step in sorted(steps, key=lambda s: s.at):
        found[id(step)] = step, desk.against(step)
        desk.take(step)
    return found


def step_text(step: CardStep) -> str:
    """What was done, in a few words."""
    said = {
        "in": f"{step.card} into {step.unit} {step.slot}",
        "out": f"{step.card} taken out",
        "copied": f"{step.card} copied to {step.place}{', verified' if step.verified else ', not verified'}",
        "wiped": f"{step.card} wiped",
        "fault": f"{step.card}: {step.note}",
        "sound again": f"{step.card} tested and sound",
    }
    return said[step.act]


def mirrored_between(media: MediaPlan, card: str, unit: str, since: datetime, until: datetime) -> bool:
    """Whether a recorder wrote the same to both slots all the while: in the parts that the card is dealt to there, else
    in every part in between. What was written slot after slot lies on one card alone.
    """
    there = [x for x in media.lines if x.unit == unit and x.part.starts < until and x.part.ends > since]
    dealt = [x for x in there if any(p.card == card for p in x.pieces)]
    lines = dealt or there
    return bool(lines) and all(x.scheme == "mirrored" for x in lines)


def once_only_for(job: Job, media: MediaPlan, step: CardStep) -> bool:
    """Whether what a card is put in for cannot be repeated: what it is dealt to next, else the part that runs, else the
    next within a day.
    """
    parts = [
        line.part
        for line in media.lines
        if line.unit == step.unit and any((p.card, p.slot) == (step.card, step.slot) for p in line.pieces)
    ]
    coming = next((p for p in sorted(parts or job.parts, key=lambda p: p.starts) if p.ends > step.at), None)
    return coming is not None and coming.starts - step.at < _A_DAY and not coming.conditions.repeatable


def _against(desk: _Desk, now: CardNow, step: CardStep) -> Iterator[str]:
    if desk.catalogue.unit(step.card).id and desk.catalogue.model_of(step.card).card is None:
        yield f"{step.card} is no card; name the card by its label."
    if step.act == "in":
        yield from _not_in(desk, now, step)
    elif step.act == "out" and now.state != "in a slot":
        yield f"{step.card} is in no recorder, as far as is noted."
    elif step.act == "copied":
        yield from _not_copied(now, step)
    elif step.act == "wiped":
        yield from _not_wiped(desk, now, step)
    elif step.act == "fault" and not step.note.strip():
        yield f"Say what {step.card} did."


def _not_in(desk: _Desk, now: CardNow, step: CardStep) -> Iterator[str]:
    if not step.unit or not step.slot:
        yield f"Say which recorder and which of its slots {step.card} goes into."
        return
    found, card = desk.catalogue.unit(step.unit), desk.catalogue.model_of(step.card).card
    data = desk.catalogue.model_of(found.id).recording
    slots = {slot.id: slot.takes for slot in (data.slots if data else ())}
    if step.slot not in slots:
        named = ", ".join(slots) or "no slot at all"
        yield f"{step.unit} has no slot '{step.slot}'; it has {named}."
    elif card and slots[step.slot] != card.slot:
        yield f"{step.card} is a {card.slot}; {step.slot} of {step.unit} takes a {slots[step.slot]}."
    if now.state == "in a slot" and now.recorded:
        yield f"{step.card} is in {now.recorded.unit} {now.recorded.slot}; take it out first."
    for other in desk.inside():
        if other.recorded and (other.recorded.unit, other.recorded.slot) == (step.unit, step.slot):
            yield f"{other.card} is in {step.unit} {step.slot}; take it out first."
    if now.state in ("recorded", "copied") and now.recorded and now.recorded.unit != step.unit:
        yield (
            f"{step.card} holds what {now.recorded.unit} recorded from"
            f" {now.recorded.since.astimezone(desk.clock):%d %b %H:%M} on; wipe it first, when it is in {PLACES}"
            " places."
        )
    if now.faults and step.once_only and len(slots) == 1:
        yield (
            f"{step.card} failed before ('{now.faults[-1].note}'), and {step.unit} would record on it alone what cannot"
            " be repeated; take another."
        )


def _not_copied(now: CardNow, step: CardStep) -> Iterator[str]:
    if now.state == "in a slot" and now.recorded:
        yield f"{step.card} is in {now.recorded.unit} {now.recorded.slot}; it is copied when it is out."
    elif now.state == "blank":
        yield f"Nothing was recorded on {step.card}, as far as is noted."
    if not step.place.strip():
        yield f"Say where {step.card} was copied to: a drive by its label, or another place."
    if step.place == step.card:
        yield f"{step.card} on itself is no copy."
    if step.place in now.twins:
        yield f"{step.place} is the other side of the mirror and counts already."


def _not_wiped(desk: _Desk, now: CardNow, step: CardStep) -> Iterator[str]:
    if now.state == "in a slot" and now.recorded:
        yield f"{step.card} is in {now.recorded.unit} {now.recorded.slot}; nothing is wiped in a camera."
    elif now.state == "blank" or now.recorded is None:
        yield f"There is nothing on {step.card}, as far as is noted."
        return
    if len(now.places) < PLACES:
        there = f" ({', '.join(now.places)})" if now.places else ""
        yield (
            f"What is on {step.card} lies in {len(now.places)} of {PLACES} places{there}, verified; wiping waits for"
            f" {PLACES - len(now.places)} more."
        )
    ended = now.recorded.until if now.recorded else None
    clock = desk.clock
    if ended and step.at.astimezone(clock).date() <= ended.astimezone(clock).date():
        yield f"{step.card} was recorded on {ended.astimezone(clock):%d %b}; nothing is wiped on the day."


def _after(now: CardNow, step: CardStep) -> CardNow:
    if step.act == "in":
        since = now.recorded.since if now.recorded and now.state != "blank" else step.at
        told = Recorded(step.unit or "", step.slot or "", since)
        # What is recorded on it now is in none of the copies.
        return replace(now, state="in a slot", recorded=told, copies=(), twins=())
    if step.act == "out":
        return replace(now, state="recorded", recorded=replace(now.recorded, until=step.at) if now.recorded else None)
    if step.act == "copied":
        copied = Copied(step.place, step.at, step.verified, step.checksum)
        return replace(now, state="copied", copies=(*now.copies, copied))
    if step.act == "wiped":
        return replace(now, state="blank", recorded=None, copies=(), twins=(), wiped=step.at)
    if step.act == "fault":
        return replace(now, faults=(*now.faults, CardFault(step.at, step.note)))
    return replace(now, faults=())
