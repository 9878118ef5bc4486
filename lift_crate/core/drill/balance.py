"""Balancing by hand: a gimbal hung out of balance, nobody told how; the hand sees what falls, and moves one slide.

What is seen has friction in it (it stays where the moment is less), an eye that is off level by a degree or two, so
that height hides behind fore-aft, and slides with play. mm, N·m. Formulas: docs/formulas.md §18.
"""

from __future__ import annotations

import math
import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

from ..balance.report import FRICTION_NM
from ..balance.steps import SYMPTOMS
from ..errors import NotAllowed
from ..geometry import STANDARD_GRAVITY
from ..stand import Stand
from ..support.gimbal import Payload, Solution, pinned, solve
from .score import Lesson, Result, points

__all__ = ["CHECKS", "AxisSeen", "Hung", "SlideMove", "Slider", "balance_result", "hung", "look", "play_balance"]

Slider = Literal["fore_aft", "vertical", "lateral", "pan"]
SLIDERS: tuple[Slider, ...] = ("fore_aft", "vertical", "lateral", "pan")
CHECKS: Mapping[Slider, str] = {
    "fore_aft": "Camera level, let go of tilt",
    "vertical": "Lens straight up, let go of tilt",
    "lateral": "Let go of roll",
    "pan": "Lean the handle, let go of pan",
}
_PLAIN: Mapping[Slider, tuple[str, str]] = {
    "fore_aft": ("forwards and back", "tilt axis, fore-aft slide"),
    "vertical": ("up and down", "tilt axis, height slide"),
    "lateral": ("left and right", "roll axis, side slide"),
    "pan": ("the upper arm", "pan axis, arm slide"),
}
_OFF_MM: Mapping[Slider, tuple[float, float]] = {
    "fore_aft": (4.0, 18.0),
    "vertical": (3.0, 12.0),
    "lateral": (3.0, 10.0),
    "pan": (4.0, 14.0),
}
"""How far a slide is left out at first, least and most."""
_HIDDEN_MM = (6.0, 3.0, 4.0)
"""How far the balance point is from what the figures say: nobody can read the answer off the Balance screen."""
_EYE_DEG = 1.5
"""How far level is off by eye."""
_PLAY = 0.25
"""A slide stands within this share of what friction hides, wherever it is set."""
MOST_MOVES = 40


@dataclass(frozen=True, kw_only=True)
class SlideMove:
    """A slide set to a number on its printed scale."""

    slide: Slider
    reading: float


@dataclass(frozen=True, kw_only=True)
class AxisSeen:
    """What is seen when one lets go: which way it goes, how fast, and by how much the drawing turns, degrees."""

    slide: Slider
    check: str
    seen: str
    pace: Literal["stays", "slowly", "briskly", "at once"]
    turns_deg: float

    @property
    def holds(self) -> bool:
        """It stays where it is let go."""
        return self.pace == "stays"


@dataclass(frozen=True, eq=False)
class Hung:
    """A rig on its gimbal as a number hangs it: its hidden balance point, the slides as they stand, its eye."""

    stand: Stand
    payload: Payload
    start: Mapping[Slider, float]
    """Readings on the printed scales."""
    ideal: Mapping[Slider, float]
    eye_deg: float
    seed: int

    @property
    def mass_kg(self) -> float:
        """What hangs on its seat."""
        return self.payload.mass_g / 1000


def hung(stand: Stand, seed: int) -> Hung:
    """Hang a rig out of balance; raises NotAllowed where it is on no gimbal that can balance it."""
    held = stand.carried
    if held.gimbal is None or held.hangs is None or held.solution is None:
        raise NotAllowed("This build is on no gimbal that carries a camera. Choose one that is.")
    chance = random.Random(f"balance {seed}")  # noqa: S311 - a drill, no secret
    x, y, z = held.hangs.cg_mm
    off = [chance.uniform(-most, most) for most in _HIDDEN_MM]
    payload = Payload(held.hangs.mass_g, (x + off[0], y + off[1], z + off[2]))
    solved = _solved(stand, payload, {})
    if any(slide.short_mm > 0 for slide in solved.slides):
        # Beyond its travel nobody can settle it: as it really is, where that can be balanced.
        payload = held.hangs
        solved = _solved(stand, payload, {})
    if any(slide.short_mm > 0 for slide in solved.slides):
        raise NotAllowed("This build cannot be balanced on its gimbal: a slide ends first. Choose another build.")
    ideal: dict[Slider, float] = {s: slide.reading for s, slide in zip(SLIDERS, solved.slides, strict=True)}
    start: dict[Slider, float] = {}
    for name, slide in zip(SLIDERS, solved.slides, strict=True):
        least, most = _OFF_MM[name]
        far = chance.uniform(least, most) * chance.choice((-1, 1))
        at = min(slide.range.max_mm, max(slide.range.min_mm, slide.ideal_mm + far))
        start[name] = round(slide.range.reading(at), 1)
    return Hung(stand, payload, start, ideal, chance.choice((-1, 1)) * chance.uniform(0.5, _EYE_DEG), seed)


def _solved(stand: Stand, payload: Payload, readings: Mapping[Slider, float]) -> Solution:
    gimbal = stand.carried.gimbal
    if gimbal is None:
        raise NotAllowed("This build is on no gimbal.")
    try:
        held = pinned(gimbal, {str(name): reading for name, reading in readings.items()})
    except ValueError as error:
        raise NotAllowed(f"{str(error).capitalize()}.") from None
    return solve(held, payload, stand.settings, on_pan=stand.carried.on_pan)


@dataclass(frozen=True, kw_only=True)
class TellSlide:
    """A slide as it is shown: plain and technical name, where it stands on its printed scale, and as a share of it."""

    name: Slider
    plain: str
    technical: str
    reading: float
    low: float
    high: float
    at: float


def told_slide(drill: Hung, name: Slider, reading: float) -> TellSlide:
    """A slide of a drill as it is shown."""
    travel = _solved(drill.stand, drill.payload, {}).slides[SLIDERS.index(name)].range
    low, high = sorted((travel.reading(travel.min_mm), travel.reading(travel.max_mm)))
    slide_mm = travel.direction * (reading - travel.zero)
    share = (slide_mm - travel.min_mm) / max(1e-9, travel.max_mm - travel.min_mm)
    plain, technical = _PLAIN[name]
    return TellSlide(
        name=name, plain=plain, technical=technical, reading=reading, low=low, high=high, at=min(1.0, max(0.0, share))
    )


def at(drill: Hung, moves: Sequence[SlideMove]) -> dict[Slider, float]:
    """Where the slides stand after some moves; raises NotAllowed for too many, or one off its scale."""
    if len(moves) > MOST_MOVES:
        raise NotAllowed(f"{MOST_MOVES} moves are enough; finish it, or begin another one.")
    stands = dict(drill.start)
    for move in moves:
        stands[move.slide] = move.reading
    _solved(drill.stand, drill.payload, stands)
    return stands


def _uneven(drill: Hung, moves: Sequence[SlideMove]) -> dict[Slider, float]:
    """What every slide leaves, N·m, play and all: of a slide that was set, a little beside its number."""
    stands = at(drill, moves)
    found = _solved(drill.stand, drill.payload, stands).uneven_nm
    chance = random.Random(f"play {drill.seed}")  # noqa: S311 - a drill, no secret
    off: dict[Slider, float] = dict.fromkeys(SLIDERS, 0.0)
    for move in moves:
        off[move.slide] = chance.uniform(-_PLAY, _PLAY) * FRICTION_NM
    return {name: found[name] + off[name] for name in SLIDERS}


def look(drill: Hung, moves: Sequence[SlideMove]) -> tuple[AxisSeen, ...]:
    """What is seen at each of the four checks. Level is level by eye: a height that is off shows in fore-aft too."""
    uneven = _uneven(drill, moves)
    seen = dict(uneven)
    seen["fore_aft"] += uneven["vertical"] * math.tan(math.radians(drill.eye_deg))
    return tuple(_seen(name, seen[name]) for name in SLIDERS)


def _seen(name: Slider, nm: float) -> AxisSeen:
    more, less = SYMPTOMS[name] if name != "vertical" else SYMPTOMS[name][::-1]
    size = abs(nm) / FRICTION_NM
    if size <= 1:
        return AxisSeen(slide=name, check=CHECKS[name], seen="stays where it is", pace="stays", turns_deg=0.0)
    pace: Literal["slowly", "briskly", "at once"] = "slowly" if size < 4 else "briskly" if size < 12 else "at once"
    turn = min(75.0, 8.0 + 5.0 * (size - 1))
    return AxisSeen(
        slide=name,
        check=CHECKS[name],
        seen=(more if nm > 0 else less).seen,
        pace=pace,
        turns_deg=math.copysign(turn, nm),
    )


def fewest(drill: Hung) -> tuple[Slider, ...]:
    """The fewest slides that must be moved so that everything stays, by trying every set of them."""
    for count in range(len(SLIDERS) + 1):
        for chosen in combinations(SLIDERS, count):
            moves = [SlideMove(slide=s, reading=drill.ideal[s]) for s in chosen]
            if all(seen.holds for seen in look(drill, moves)):
                return chosen
    return SLIDERS


def play_balance(drill: Hung) -> tuple[SlideMove, ...]:
    """What the best does: each slide that is off, once, to where it balances, in the order of work."""
    return tuple(SlideMove(slide=s, reading=drill.ideal[s]) for s in fewest(drill))


def hint(drill: Hung, moves: Sequence[SlideMove]) -> str:
    """Which slide to go to, and which way; nothing where everything stays."""
    stands = at(drill, moves)
    for seen in look(drill, moves):
        if not seen.holds:
            plain, technical = _PLAIN[seen.slide]
            way = "a higher" if drill.ideal[seen.slide] > stands[seen.slide] else "a lower"
            return f"Go to the slide for {plain} ({technical}), to {way} number."
    return ""


def balance_result(drill: Hung, moves: Sequence[SlideMove], hints: int) -> Result:
    """How it ended."""
    looks, best = look(drill, moves), fewest(drill)
    settled = all(seen.holds for seen in looks)
    uneven = _uneven(drill, moves)
    left = max(abs(nm) for nm in uneven.values())
    share = (max(1, len(best)) / max(len(best), len(moves), 1)) if settled else 0.0
    stands = at(drill, moves)
    lessons = []
    for seen in looks:
        plain, technical = _PLAIN[seen.slide]
        off_mm = uneven[seen.slide] / (drill.mass_kg * STANDARD_GRAVITY) * 1000
        lessons.append(
            Lesson(
                plain=f"{plain.capitalize()}: {seen.check.lower()}; it {_goes(seen)}.",
                technical=f"{technical}: {stands[seen.slide]:g}, balanced at {drill.ideal[seen.slide]:.1f};"
                f" {off_mm:+.1f} mm, {uneven[seen.slide]:+.3f} N·m left",
                why=f"Friction holds {FRICTION_NM:g} N·m, here {_band(drill):.1f} mm: less is not seen by hand.",
                cure="Set each slide once, in the order of work: what a later one upsets is looked at again.",
                got=seen.holds,
            )
        )
    return Result(
        points=points(share, hints=hints),
        won=settled,
        said=f"{len(moves)} moves, {'everything stays' if settled else f'{left:.3f} N·m left'}",
        best=f"{len(best)} moves: "
        + ", ".join(f"{_PLAIN[s][0]} to {drill.ideal[s]:.1f}" for s in best)
        + f". The eye was {abs(drill.eye_deg):.1f}° off level.",
        lessons=tuple(lessons),
    )


def _goes(seen: AxisSeen) -> str:
    return "stays" if seen.holds else f"goes {seen.pace}: {seen.seen}"


def _band(drill: Hung) -> float:
    """What friction hides, mm: 0.02 N·m and 2.65 kg are 0.77."""
    return FRICTION_NM / (drill.mass_kg * STANDARD_GRAVITY) * 1000
