"""Step cards: balancing a gimbal by hand, in either order of work,
with what to check, what is seen and what cures it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from ..callouts import Level
from ..rig.assembly import Assembly
from ..stand import Stand
from .report import FRICTION_NM, BalanceReport, SlideTarget, hung_at, swept_for

__all__ = ["SYMPTOMS", "Card", "Order", "Symptom", "cards", "pre_flight", "seen_at"]

Order = Literal["tilt first", "roll first"]
_SEQUENCE: dict[Order, tuple[str, ...]] = {
    "tilt first": ("fore_aft", "vertical", "fore_aft", "lateral", "pan"),
    "roll first": ("lateral", "fore_aft", "vertical", "pan"),
}


@dataclass(frozen=True, slots=True)
class Symptom:
    """What is seen, what it means, and what cures it."""

    seen: str
    means: str
    cure: str


SYMPTOMS: dict[str, tuple[Symptom, ...]] = {
    "fore_aft": (
        Symptom("level, lens drops", "mass too far forward", "slide back"),
        Symptom("level, lens rises", "mass too far back", "slide forward"),
    ),
    "vertical": (
        Symptom("lens up, falls forward again", "mass too far below the tilt axis", "raise"),
        Symptom("lens up, rolls past backward", "mass too far above the tilt axis", "lower"),
    ),
    "lateral": (
        Symptom("rolls to the left", "mass left of the roll axis", "slide right"),
        Symptom("rolls to the right", "mass right of the roll axis", "slide left"),
    ),
    "pan": (
        Symptom("handle held level, swings nose-down", "upper part front-heavy about pan", "slide the upper arm back"),
        Symptom(
            "handle held level, swings tail-down", "upper part rear-heavy about pan", "slide the upper arm forward"
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
    "vertical": "Lens straight up, let go: it stays up. Then at 45 degrees.",
    "lateral": "Let go of roll: it stays level, and when you lean it.",
    "pan": "Lean the handle to level: the camera does not swing to a side.",
}
_UNLOCK = {
    "fore_aft": "Unlock tilt only, camera level.",
    "vertical": "Tilt unlocked, lens up.",
    "lateral": "Lock tilt, unlock roll.",
    "pan": "Lock roll, unlock pan.",
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


def pre_flight(assembly: Assembly, report: BalanceReport) -> tuple[str, ...]:
    """What must be so before the first slide is touched: the camera exactly as it will be used."""
    models = assembly.catalogue
    on = [unit for unit in assembly.units if unit in assembly.layout.on_support]
    kinds = {
        kind: [u for u in on if models.model_of(u).kind == kind] for kind in ("filter", "pack", "microphone", "monitor")
    }
    cables = [link.cable for link in assembly.build.links]
    listed = ["Gimbal off, axes locked.", "Lens cap off.", "Cards in, doors shut."]
    if kinds["pack"]:
        listed.append(f"Packs in: {', '.join(kinds['pack'])}.")
    listed.append(
        f"Filters on: {', '.join(kinds['filter'])}." if kinds["filter"] else "No filter on, and none to come."
    )
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
        Card(
            len(made) + 1,
            "power",
            "Then, and only then, switch it on",
            None,
            None,
            None,
            "Release all locks. Keep fingers out of the arms. Let the motors find themselves.",
            "Swing it by hand before: no drift. After: no humming, and the loads shown are low. To correct anything,"
            " switch off again.",
            SYMPTOMS["stop"],
        )
    )
    return tuple(made)


def _card(number: int, target: SlideTarget, *, again: bool) -> Card:
    title = (
        f"{target.title.capitalize()} once more: height and fore-aft move each other"
        if again
        else target.title.capitalize()
    )
    symptoms = SYMPTOMS[target.name] + (SYMPTOMS["stop"] if target.short_mm > 0 else ())
    return Card(
        number,
        target.name,
        title,
        target.reading,
        target.spread_mm,
        target.scale,
        _UNLOCK[target.name],
        _CHECK[target.name],
        symptoms,
    )
