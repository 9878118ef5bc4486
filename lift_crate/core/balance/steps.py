"""Step cards: balancing a gimbal by hand, in either order of work,
with what to check, what is seen and what cures it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

from ..callouts import Level
from ..rig.assembly import Assembly
from ..stand import Stand
from .report import FRICTION_NM, BalanceReport, SlideTarget, hung_at, swept_for

__all__ = ["LEADS_BACK", "SYMPTOMS", "Card", "Order", "Symptom", "cards", "pre_flight", "seen_at"]

Order = Literal["tilt first", "roll first"]
_SEQUENCE: dict[Order, tuple[str, ...]] = {
    "tilt first": ("fore_aft", "vertical", "fore_aft", "lateral", "pan"),
    "roll first": ("lateral", "fore_aft", "vertical", "fore_aft", "lateral", "pan"),
}
"""Slides that another one upsets come twice."""


@dataclass(frozen=True, slots=True)
class Symptom:
    """What is seen, what it means, what cures it; the slide to move, and which way along its axis.

    ``way``: 1 forward, up or left, −1 the other way, 0 where another slide has to be gone back to.
    Without a slide nothing is cured by sliding.
    """

    seen: str
    means: str
    cure: str
    slide: str = ""
    way: Literal[-1, 0, 1] = 0


SYMPTOMS: dict[str, tuple[Symptom, ...]] = {
    "fore_aft": (
        Symptom("level, lens drops", "mass too far forward", "slide back", "fore_aft", -1),
        Symptom("level, lens rises", "mass too far back", "slide forward", "fore_aft", 1),
    ),
    "vertical": (
        Symptom("lens up, falls forward again", "mass too far below the tilt axis", "raise", "vertical", 1),
        Symptom("lens up, rolls past backward", "mass too far above the tilt axis", "lower", "vertical", -1),
    ),
    "lateral": (
        Symptom("rolls to the left", "mass left of the roll axis", "slide right", "lateral", -1),
        Symptom("rolls to the right", "mass right of the roll axis", "slide left", "lateral", 1),
    ),
    "pan": (
        Symptom(
            "handle held level, swings nose-down",
            "upper part front-heavy about pan",
            "slide the upper arm back",
            "pan",
            -1,
        ),
        Symptom(
            "handle held level, swings tail-down",
            "upper part rear-heavy about pan",
            "slide the upper arm forward",
            "pan",
            1,
        ),
    ),
    "stop": (
        Symptom(
            "slide at its stop and still falls",
            "travel used up",
            "counterweight, offset or riser plate, shorter stack, other gimbal",
        ),
        Symptom(
            "balanced but hits the arm when tilted",
            "clearance, not balance",
            "smaller tilt range, riser, flip the part that hits, larger gimbal",
        ),
    ),
}
"""What the hand sees at every slide."""

LEADS_BACK: dict[str, tuple[Symptom, ...]] = {
    "vertical": (
        Symptom("holds lens up, nods at 45 degrees", "fore-aft is not right yet", "back to fore-aft", "fore_aft"),
    ),
    "lateral": (
        Symptom("holds level, falls over when leaned", "height about the roll axis", "back to height", "vertical"),
    ),
    "pan": (Symptom("swings only when leaned to one side", "roll is not right yet", "back to roll", "lateral"),),
    "unlock": (
        Symptom("nods or rears when let go", "tilt fore-aft was upset", "back to fore-aft", "fore_aft"),
        Symptom("will not stay where it is tilted", "height was upset", "back to height", "vertical"),
        Symptom("leans to one side", "roll was upset", "back to roll", "lateral"),
        Symptom("swings about the handle", "pan was upset", "back to pan", "pan"),
    ),
    "power": (
        Symptom("tilt hums or its load is high", "tilt is off", "power off, then fore-aft", "fore_aft"),
        Symptom("roll hums or its load is high", "roll is off", "power off, then roll", "lateral"),
        Symptom("pan hums or its load is high", "pan is off", "power off, then pan", "pan"),
    ),
}
"""What is seen at a later step and comes from an earlier one."""


def seen_at(stand: Stand, readings: Mapping[str, float]) -> tuple[Symptom, ...]:
    """What is seen with the slides where their scales really read, in the order of work; nothing that friction hides.

    Raises NotAllowed when the rig hangs on no gimbal or a reading is not on its scale.
    """
    there = hung_at(stand, readings)
    found = []
    for name, uneven_nm in there.uneven_nm.items():
        if abs(uneven_nm) > FRICTION_NM:
            more, less = SYMPTOMS[name] if name != "vertical" else SYMPTOMS[name][::-1]
            found.append(more if uneven_nm > 0 else less)
    solved = stand.carried.solution
    if solved and any(slide.short_mm > 0 for slide in solved.slides):
        found.append(SYMPTOMS["stop"][0])
    if any(f.level is Level.STOP for f in swept_for(stand, "gimbal.clearance.tilt")):
        found.append(SYMPTOMS["stop"][1])
    return tuple(found)


_CHECK = {
    "fore_aft": "Camera level, let go: it neither nods nor rears.",
    "vertical": "Lens straight up, let go: it stays up. Then at 45 degrees up and down.",
    "lateral": "Let go of roll: it stays level, and when you lean it.",
    "pan": "Lean the handle to level: the camera does not swing to a side.",
}
_UNLOCK = {
    "fore_aft": "Unlock tilt only, camera level.",
    "vertical": "Tilt unlocked, lens up.",
    "lateral": "Lock tilt, unlock roll. The handle upright: on a slope roll reads wrong.",
    "pan": "Lock roll, unlock pan.",
}
_AGAIN = {
    "fore_aft": "once more: height and fore-aft move each other",
    "lateral": "once more: the tilt slides moved what roll carries",
}


@dataclass(frozen=True, slots=True)
class Card:
    """One step: the slide, the reading to set with its spread, how, the check to make, and what may be seen."""

    number: int
    slide: str
    title: str
    reading: float | None
    spread_mm: float | None
    scale: tuple[float, float] | None
    how: str
    check: str
    symptoms: tuple[Symptom, ...]
    """What may be seen here; of a slide that is moved, its cure names the end of the scale to go towards."""
    back: tuple[Symptom, ...] = ()
    """What may be seen here and comes from an earlier slide."""


def pre_flight(assembly: Assembly, report: BalanceReport) -> tuple[str, ...]:
    """What must be so before the first slide is touched: the camera exactly as it will be used."""
    models = assembly.catalogue
    on = [unit for unit in assembly.units if unit in assembly.layout.on_support]
    kinds = {
        kind: [u for u in on if models.model_of(u).kind == kind]
        for kind in ("filter", "pack", "microphone", "monitor", "matte box")
    }
    cables = [link.cable for link in assembly.build.links]
    listed = [
        "Gimbal off, axes locked.",
        "Stand it level, or hold it upright: on a sloping floor roll seems to fall though it balances.",
        "Lens cap off.",
        "Cards in, doors shut.",
    ]
    if kinds["pack"]:
        listed.append(f"Packs in: {', '.join(kinds['pack'])}.")
    listed.append(
        f"Filters on: {', '.join(kinds['filter'])}." if kinds["filter"] else "No filter on, and none to come."
    )
    listed.append(
        f"Matte box on, flags as they will be: {', '.join(kinds['matte box'])}."
        if kinds["matte box"]
        else "Lens hood on if it will be used, and left on."
    )
    if kinds["monitor"]:
        listed.append(f"Monitor turned to where it will be: {', '.join(kinds['monitor'])}.")
    if kinds["microphone"]:
        listed.append(f"Microphone on: {', '.join(kinds['microphone'])}.")
    if any(room.kind == "screen" for u in on for room in models.model_of(u).keep_clear):
        listed.append("Hinged screen where it will be.")
    if cables:
        listed.append(f"Cables plugged, with a loose loop: {', '.join(cables)}.")
    if report.zoom and report.zoom_unit and report.zoom.best.focal_mm:
        listed.append(f"{report.zoom_unit} set to {report.zoom.best.focal_mm:.0f} mm, the point between its two ends.")
    return tuple(listed)


def cards(report: BalanceReport, order: Order | None = None) -> tuple[Card, ...]:
    """The steps in an order of work; by default tilt first where the axes lock, roll first where they do not."""
    chosen: Order = order or ("tilt first" if report.axis_locks else "roll first")
    targets = {target.name: target for target in report.slides}
    made = []
    seen: set[str] = set()
    for number, name in enumerate(_SEQUENCE[chosen], 1):
        again = name in seen
        seen.add(name)
        made.append(_card(number, targets[name], again=again))
    made.append(
        _end(
            len(made) + 1,
            "unlock",
            "Unlock all axes, power still off",
            "Release every lock and turn it by hand through the moves of this part: nothing touches, no cable pulls.",
            "Let go anywhere: it stays there.",
        )
    )
    made.append(
        _end(
            len(made) + 1,
            "power",
            "Then, and only then, switch it on",
            "Fingers out of the arms. Let the motors find themselves, then calibrate them standing still.",
            "No humming, and the loads shown are low. To correct anything, switch off first.",
        )
    )
    return tuple(made)


def _end(number: int, name: str, title: str, how: str, check: str) -> Card:
    return Card(number, name, title, None, None, None, how, check, SYMPTOMS["stop"], LEADS_BACK[name])


def _card(number: int, target: SlideTarget, *, again: bool) -> Card:
    title = target.title.capitalize()
    return Card(
        number,
        target.name,
        f"{title} {_AGAIN[target.name]}" if again else title,
        target.reading,
        target.spread_mm,
        target.scale,
        _UNLOCK[target.name],
        _CHECK[target.name],
        tuple(_towards(s, target) for s in SYMPTOMS[target.name]) + SYMPTOMS["stop"][: target.short_mm > 0],
        LEADS_BACK.get(target.name, ()),
    )


def _towards(symptom: Symptom, target: SlideTarget) -> Symptom:
    """With the end of the printed scale that the cure goes towards."""
    end = target.scale[1 if symptom.way * target.direction > 0 else 0]
    return replace(symptom, cure=f"{symptom.cure}, towards {end:.0f}")
