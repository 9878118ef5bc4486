"""Kinds of joint and plug: families, their figures, and whether those figures make sense."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Ge, Le

from ..errors import LiftCrateError
from ..quantities import Angle, Identifier, Positive
from ..settings import STRICT

__all__ = ["CABLE_FAMILIES", "FAMILIES", "FIGURES", "Family", "Gender", "ImpossibleInterface", "Interface"]

Gender = Literal["female", "male"]
Family = Literal[
    "thread",
    "shoe",
    "rail",
    "rod",
    "rosette",
    "lens",
    "plate",
    "bowl",
    "battery",
    "front",
    "hinge",
    "power",
    "signal",
    "timecode",
    "control",
    "audio",
]

FAMILIES: dict[str, str] = {
    "thread": "threads",
    "shoe": "shoes",
    "rail": "rails and dovetails",
    "rod": "rods",
    "rosette": "rosettes",
    "lens": "lens mounts",
    "plate": "plates",
    "bowl": "bowl and flat heads",
    "battery": "battery plates",
    "front": "filter threads, clamps and trays",
    "hinge": "hinges",
    "power": "power connectors",
    "signal": "signal connectors",
    "timecode": "timecode connectors",
    "control": "control connectors",
    "audio": "audio connectors",
}
"""Families and what they are called at the bench."""

FIGURES: dict[str, tuple[str, ...]] = {
    "lens": ("flange_mm", "throat_mm"),
    "rod": ("diameter_mm", "spacing_mm", "below_axis_mm", "play_deg"),
    "thread": ("diameter_mm", "pitch_mm", "holding_nm"),
    "front": ("diameter_mm", "pitch_mm"),
    "rail": ("width_mm", "holding_nm", "play_deg"),
    "shoe": ("width_mm", "holding_nm", "play_deg"),
    "plate": ("width_mm", "play_deg"),
    "bowl": ("diameter_mm",),
    "rosette": ("diameter_mm",),
    "hinge": ("holding_nm",),
}
"""Figures that each family is told by."""

CABLE_FAMILIES = frozenset({"power", "signal", "timecode", "control", "audio"})
"""Families whose ports take a cable rather than a part."""


class ImpossibleInterface(LiftCrateError, ValueError):
    """An interface whose figures contradict each other, or lack the one its family lives by."""

    code = "interface.impossible"

    def __init__(self, interface: str, field: str, seen: str, want: str) -> None:
        self.interface, self.field, self.seen, self.want = interface, field, seen, want

    def __str__(self) -> str:
        return f"Interface '{self.interface}', {self.field}: {self.seen}; {self.want}."


@dataclass(frozen=True, kw_only=True)
class Interface:
    """A kind of joint or plug: two ports of one interface with unlike genders mate.

    Figures belong to families: flange distance and throat to lens mounts, diameter
    and pitch to threads and fronts, diameter, spacing and height to rods, width to
    rails and shoes. Raises ImpossibleInterface for figures that make no sense.
    """

    __pydantic_config__ = STRICT

    id: Identifier
    label: Identifier
    kind: Family
    female: str = "socket"
    """What the receiving half is called at the bench."""
    male: str = "plug"
    standard: bool = False
    """Ships with Lift Crate as an open standard."""
    spins_deg: tuple[Angle, ...] = ()
    """Turns in which the halves go together; empty: any."""
    holding_nm: Positive | None = None
    """Twist that friction alone holds; None: it cannot twist."""
    flange_mm: float | None = None
    """Lens mounts: flange distance."""
    throat_mm: Positive | None = None
    """Lens mounts: inner diameter."""
    contacts: tuple[str, ...] = ()
    """Lens mounts: functions that its contacts carry, as in 'electronic iris'."""
    diameter_mm: Positive | None = None
    pitch_mm: Positive | None = None
    spacing_mm: Positive | None = None
    """Rods: between centres."""
    below_axis_mm: Positive | None = None
    """Rods: from the optical axis down to their centres."""
    width_mm: Positive | None = None
    carries_power: bool = False
    second_catch: bool = False
    """Clamps and releases: a second catch holds when the first is opened."""
    needs_clamp: bool = False
    """Connectors without a lock, that a tug pulls out."""
    tool: str = ""
    """What a joint of this kind is made fast with; empty: nothing but fingers."""
    torque_nm: Positive | None = None
    """Hint for tightening."""
    play_deg: Annotated[float, Ge(0), Le(10)] | None = None
    """How far what is joined rocks when it is made fast; None: nobody measured it."""

    def __post_init__(self) -> None:
        for check in (_lens_contradictions, _rod_contradictions, _other_contradictions):
            for field, seen, want in check(self):
                raise ImpossibleInterface(self.id, field, seen, want)

    @property
    def takes_cable(self) -> bool:
        """True for a socket, False for a place where a part is mounted."""
        return self.kind in CABLE_FAMILIES

    def half(self, gender: Gender) -> str:
        """The bench name of one half."""
        return self.female if gender == "female" else self.male


_Contradictions = Iterator[tuple[str, str, str]]


def _lens_contradictions(interface: Interface) -> _Contradictions:
    flange, throat = interface.flange_mm, interface.throat_mm
    if interface.kind != "lens":
        if flange is not None:
            yield "flange_mm", f"is {flange:g} mm", f"{FAMILIES[interface.kind]} have none"
    elif flange is None:
        yield "flange_mm", "is missing", "a lens mount lives by its flange distance, in mm"
    elif not 1 <= flange <= 120:
        yield "flange_mm", f"is {flange:g} mm", "flange distances lie between 1 and 120 mm"
    if throat is not None and not 10 <= throat <= 120:
        yield "throat_mm", f"is {throat:g} mm", "throats lie between 10 and 120 mm"


def _rod_contradictions(interface: Interface) -> _Contradictions:
    diameter, spacing = interface.diameter_mm, interface.spacing_mm
    if interface.kind != "rod":
        if spacing is not None or interface.below_axis_mm is not None:
            yield "spacing_mm", "is given", "only rods have a spacing and a height below the axis"
        return
    for name, value in (("diameter_mm", diameter), ("spacing_mm", spacing)):
        if value is None:
            yield (
                name,
                "is missing",
                "a rod clamp is told by the diameter of its rods and the distance of their centres",
            )
    if diameter and spacing and spacing <= diameter:
        yield "spacing_mm", f"is {spacing:g} mm", f"rods of {diameter:g} mm would overlap"


def _other_contradictions(interface: Interface) -> _Contradictions:
    pitch, diameter = interface.pitch_mm, interface.diameter_mm
    if pitch is not None and (diameter is None or pitch >= diameter):
        yield "pitch_mm", f"is {pitch:g} mm", "a pitch is smaller than the diameter of its thread"
    if interface.carries_power and interface.kind not in ("power", "battery", "signal"):
        yield "carries_power", "is set", "only power and signal connectors and battery plates carry power"
