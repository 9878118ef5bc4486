"""Balancing card by card: what to do after each thing that is seen, back to an earlier slide
where a later one has upset it, until every check holds.

Source: the order of work of docs/formulas.md §3, 'Step cards'.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from ..errors import NotAllowed
from .steps import Card

__all__ = ["HOLDS", "Answer", "Left", "MadeSo", "Onward", "Walk", "before_power", "onward", "walk"]

HOLDS = "holds"
_UPSETS: dict[str, tuple[str, ...]] = {
    "fore_aft": ("vertical", "pan"),
    "vertical": ("fore_aft", "lateral"),
    "lateral": ("pan",),
    "pan": (),
}
"""Moving a slide leaves the checks of these worth nothing: tilt is judged by eye, roll carries
what tilt has moved, and pan carries all of it.
"""
_ENDS = ("unlock", "power")


Left = Literal["", "off and locked", "off, unlocked", "on"]


@dataclass(frozen=True, kw_only=True)
class MadeSo:
    """How a balance was made: order of work, what was ticked before, what each check told, loads read in N·m,
    what the gimbal told of its calibration, how it was left, where the screen was and the gap at the side as
    measured, mm.
    """

    order: str = ""
    flight: tuple[str, ...] = ()
    checks: Mapping[str, str] = field(default_factory=dict)
    loads_nm: Mapping[str, float] = field(default_factory=dict)
    left: Left = ""
    screen: str = ""
    gap_mm: float | None = None
    calibrated: bool | None = None
    """As the gimbal told; None: it was not asked, or cannot tell."""


@dataclass(frozen=True, slots=True)
class Answer:
    """At a card, by its number: 'holds', or what is seen there in the words of the card."""

    card: int
    seen: str


@dataclass(frozen=True, slots=True)
class Onward:
    """What an answer at a card leads to: the cards that hold no more, the card that is up then, and what to do first.

    ``at`` is None for the lowest card that does not hold; 'holds' makes its own card hold.
    """

    card: int
    seen: str
    lets_go: tuple[int, ...]
    at: int | None
    do: str


@dataclass(frozen=True, slots=True)
class Walk:
    """Where one is: the card that is up, what to do there first, the cards that hold, and the checks by slide.

    ``at`` is None when every card holds.
    """

    at: int | None
    do: str
    held: tuple[int, ...]
    checks: dict[str, str]
    """Per slide, 'unlock' and 'power': 'holds', or the last that was seen; nothing that was not looked at."""
    may_power: bool
    """Every slide holds with all locks released: it may be switched on."""


def onward(cards: Sequence[Card]) -> tuple[Onward, ...]:
    """Where every answer at every card leads, whatever was answered before: enough to walk them without a server."""
    return tuple(lead for card in cards for lead in _onward_of(cards, card))


def _onward_of(cards: Sequence[Card], card: Card) -> Iterator[Onward]:
    yield Onward(card.number, HOLDS, (), None, "")
    off = "Switch it off first. " if card.slide == "power" else ""
    for symptom in (*card.symptoms, *card.back):
        do = f"{off}{symptom.means.capitalize()}: {symptom.cure}."
        if not symptom.slide:
            yield Onward(card.number, symptom.seen, (card.number,), card.number, do)
            continue
        moved = card if card.slide == symptom.slide else _last(cards, symptom.slide)
        yield Onward(card.number, symptom.seen, (moved.number, *_upset(cards, moved)), moved.number, do)


def before_power(cards: Sequence[Card]) -> tuple[int, ...]:
    """The cards that have to hold before it is switched on: every slide, and all locks released."""
    return tuple(c.number for c in cards if c.slide != "power")


def walk(cards: Sequence[Card], answers: Sequence[Answer]) -> Walk:
    """Where the answers lead. They are taken in order, each for the card that is up or one that held before.

    Raises NotAllowed for a card that is not up yet and for words that its card does not have.
    """
    by_number = {card.number: card for card in cards}
    by_answer = {(lead.card, lead.seen): lead for lead in onward(cards)}
    held: set[int] = set()
    checks: dict[str, str] = {}
    at, do = _next(cards, held), ""
    for answer in answers:
        card = by_number.get(answer.card)
        if card is None or (answer.card != at and answer.card not in held):
            up = by_number[at].title if at is not None else "nothing more"
            raise NotAllowed(f"Card {answer.card} is not up yet: the next is {up}.")
        lead = by_answer.get((card.number, answer.seen))
        if lead is None:
            seen = "; ".join(s.seen for s in (*card.symptoms, *card.back))
            raise NotAllowed(f"'{answer.seen}' is not seen at {card.title}; it is one of: holds; {seen}.")
        held -= set(lead.lets_go)
        if answer.seen == HOLDS:
            held.add(card.number)
        elif lead.at != card.number or len(lead.lets_go) > 1:
            for slide in {c.slide for c in cards if c.number not in held}:
                checks.pop(slide, None)
        checks[card.slide] = answer.seen
        at, do = lead.at if lead.at is not None else _next(cards, held), lead.do
    return Walk(at, do, tuple(sorted(held)), checks, set(before_power(cards)) <= held)


def _next(cards: Sequence[Card], held: set[int]) -> int | None:
    return next((card.number for card in cards if card.number not in held), None)


def _last(cards: Sequence[Card], slide: str) -> Card:
    return next(card for card in reversed(cards) if card.slide == slide)


def _upset(cards: Sequence[Card], moved: Card) -> Iterator[int]:
    """Of every slide that the move upsets the last card comes again, and so do the ends."""
    for slide in (*_UPSETS[moved.slide], *_ENDS):
        yield _last(cards, slide).number
