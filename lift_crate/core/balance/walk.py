"""Balancing card by card: what to do after each thing that is seen, back to an earlier slide
where a later one has upset it, until every check holds.

Source: the order of work of docs/formulas.md §3, 'Step cards'.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from ..errors import NotAllowed
from .steps import Card

__all__ = ["HOLDS", "Answer", "Left", "MadeSo", "Walk", "walk"]

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


def walk(cards: Sequence[Card], answers: Sequence[Answer]) -> Walk:
    """Where the answers lead. They are taken in order, each for the card that is up or one that held before.

    Raises NotAllowed for a card that is not up yet and for words that its card does not have.
    """
    by_number = {card.number: card for card in cards}
    held: set[int] = set()
    checks: dict[str, str] = {}
    at, do = _next(cards, held), ""
    for answer in answers:
        card = by_number.get(answer.card)
        if card is None or (answer.card != at and answer.card not in held):
            up = by_number[at].title if at is not None else "nothing more"
            raise NotAllowed(f"Card {answer.card} is not up yet: the next is {up}.")
        checks[card.slide] = answer.seen
        if answer.seen == HOLDS:
            held.add(card.number)
            do = ""
            at = _next(cards, held)
            continue
        symptom = next((s for s in (*card.symptoms, *card.back) if s.seen == answer.seen), None)
        if symptom is None:
            seen = "; ".join(s.seen for s in (*card.symptoms, *card.back))
            raise NotAllowed(f"'{answer.seen}' is not seen at {card.title}; it is one of: holds; {seen}.")
        off = "Switch it off first. " if card.slide == "power" else ""
        do = f"{off}{symptom.means.capitalize()}: {symptom.cure}."
        if not symptom.slide:
            held.discard(card.number)
            at = card.number
            continue
        moved = card if card.slide == symptom.slide else _last(cards, symptom.slide)
        _upset(cards, held, moved)
        for slide in {c.slide for c in cards if c.number not in held} - {card.slide}:
            checks.pop(slide, None)
        at = moved.number
    slides = {c.number for c in cards if c.slide != "power"}
    return Walk(at, do, tuple(sorted(held)), checks, slides <= held)


def _next(cards: Sequence[Card], held: set[int]) -> int | None:
    return next((card.number for card in cards if card.number not in held), None)


def _last(cards: Sequence[Card], slide: str) -> Card:
    return next(card for card in reversed(cards) if card.slide == slide)


def _upset(cards: Sequence[Card], held: set[int], moved: Card) -> None:
    """Of every slide that the move upsets the last card comes again, and so do the ends."""
    held.discard(moved.number)
    for slide in (*_UPSETS[moved.slide], *_ENDS):
        held.discard(_last(cards, slide).number)
