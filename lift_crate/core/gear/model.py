"""What the catalogue says of gear: ports and models, in the model's own frame.

Frame of a model: any convenient origin, axes as the rig frame when the part sits
on a camera the usual way. mm, g, V, A, W, Wh, Ω, N, N·m throughout.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from annotated_types import MaxLen

from ..errors import LiftCrateError, UnknownPort
from ..geometry import Array, Vec3, mated_frame, mated_rotation, port_basis
from ..quantities import Angle, Coordinate, Count, Identifier, Label, Note, NotNegative, Positive
from ..settings import STRICT
from .electrical import Cable, Charger, Draw, Electrical, Pack, Signal
from .equipment import CaseData, HandleData, LampData, RadioData, ScreenData
from .interface import Gender
from .optical import BodyData, FilterData, FollowFocus, LensData
from .recording import CardData, RecordingData
from .solids import Block, GimbalStage, KeepClear, Round, Solids, solids_of
from .supports import GimbalData, StandData, SupportData

__all__ = ["Adapter", "GearModel", "Hinge", "ImpossibleModel", "Port", "Slide", "Source", "mates"]

_MOST_KEPT = 256
"""So many frames are kept for a port; a part that is dragged along a rail makes a new one at every step."""

Source = Literal["measured", "catalogue", "assumed"]


class ImpossibleModel(LiftCrateError, ValueError):
    """A catalogue entry whose figures contradict each other."""

    code = "model.impossible"

    def __init__(self, model: str, where: str, seen: str, want: str) -> None:
        self.model, self.where, self.seen, self.want = model, where, seen, want

    def __str__(self) -> str:
        return f"{self.model}, {self.where}: {self.seen}; {self.want}."


@dataclass(frozen=True, kw_only=True)
class Slide:
    """How far a child can move along a port, mm from the port's position."""

    __pydantic_config__ = STRICT

    axis: Vec3
    min_mm: Coordinate
    max_mm: Coordinate


@dataclass(frozen=True, kw_only=True)
class Hinge:
    """A friction joint inside an arm: where it is, the port beyond it, the moment it holds, and how it bends.

    Given as the arm is when nothing is bent; of several before one port the inner ones come first.
    """

    __pydantic_config__ = STRICT

    at: Vec3
    beyond: Identifier
    holding_nm: Positive | None = None
    axis: Vec3 = (0.0, 1.0, 0.0)
    """It bends about this, right hand."""
    range_deg: tuple[Angle, Angle] = (-90.0, 90.0)
    label: Label = ""


@dataclass(frozen=True, kw_only=True)
class Port:
    """A place where something joins: position, outward normal and up in the model's frame."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: Label
    interface: Identifier
    gender: Gender
    at: Vec3 = (0.0, 0.0, 0.0)
    n: Vec3 = (0.0, 0.0, 1.0)
    u: Vec3 = (1.0, 0.0, 0.0)
    slide: Slide | None = None
    spins_deg: tuple[Angle, ...] = ()
    """Allowed spins where they differ from the interface's."""
    load_n: Positive | None = None
    moment_nm: Positive | None = None
    anti_twist: bool = False
    takes: Count = 1
    """How many children: 1, or several on a rail or rod pair."""
    grip_mm: NotNegative = 0.0
    """Length this port uses of a rail it sits on."""
    length_mm: Positive | None = None
    """Rails: how long they are."""
    electrical: Electrical | None = None
    signal: Signal | None = None
    tool: str | None = None
    """What it is made fast with, where that differs from the interface's."""
    stage: GimbalStage | None = None
    """Gimbals: the part that this port moves with."""

    @cached_property
    def basis(self) -> Array:
        """[n | u | n×u], shape (3, 3)."""
        return port_basis(self.n, self.u)

    def at_slid(self, slide_mm: float) -> Array:
        """Position with the slide moved, shape (3,)."""
        if self.slide is None or slide_mm == 0.0:
            return self._at
        return np.asarray(self._at + slide_mm * np.asarray(self.slide.axis, dtype=float))

    def mated(self, child: Port, spin_deg: float, slide_mm: float) -> Array:
        """Frame of what is mated here by its port ``child``, and the joint, in this model's frame, shape (4, 5).

        Columns 0 to 2 are the child's rotation, 3 its origin, 4 the joint, mm; the slide moves along this
        port's rail, else along the child's.
        """
        turned = self._turned.get((id(child), spin_deg))
        if turned is None:
            if len(self._turned) >= _MOST_KEPT:
                self._turned.clear()
                self._mated.clear()
            turned = child, mated_rotation(self.basis, child.basis, spin_deg)
            self._turned[id(child), spin_deg] = turned
        key = id(child), spin_deg, slide_mm
        known = self._mated.get(key)
        if known is None:
            on_own = slide_mm if self.slide else 0.0
            known = mated_frame(turned[1], self.at_slid(on_own), child.at_slid(slide_mm - on_own))
            if len(self._mated) >= _MOST_KEPT:
                self._mated.clear()
            self._mated[key] = known
        return known

    @cached_property
    def _turned(self) -> dict[tuple[int, float], tuple[Port, Array]]:
        """Rotations worked out before; each keeps its child alive, so that an id stays its own."""
        return {}

    @cached_property
    def _mated(self) -> dict[tuple[int, float, float], Array]:
        """Frames worked out before, by the children that ``_turned`` keeps."""
        return {}

    @cached_property
    def placed(self) -> Array:
        """[n | u | n×u | at], shape (3, 4)."""
        return np.column_stack((self.basis, self._at))

    @cached_property
    def _at(self) -> Array:
        return np.asarray(self.at, dtype=float)


@dataclass(frozen=True, kw_only=True)
class Adapter:
    """What makes a model an adapter between two of its own ports."""

    __pydantic_config__ = STRICT

    toward_body: Identifier
    """Port that goes on the body's side (or on the thing adapted from)."""
    toward_part: Identifier
    optics: bool = False
    factor: Positive = 1.0
    loses: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class GearModel:
    """One entry of the catalogue."""

    __pydantic_config__ = STRICT

    id: Identifier
    kind: Identifier
    maker: Label
    name: Identifier
    mass_g: NotNegative | None = None
    mass_source: Source = "catalogue"
    cg_mm: Vec3 | None = None
    cg_source: Source = "catalogue"
    shapes: Annotated[tuple[Block | Round, ...], MaxLen(200)] = ()
    ports: Annotated[tuple[Port, ...], MaxLen(200)] = ()
    draw: Draw | None = None
    pack: Pack | None = None
    charger: Charger | None = None
    mains_lead_m: Positive | None = None
    """How far the lead of a mains adapter reaches."""
    twin: Literal["parallel", "in turn"] | None = None
    """Plates for two packs or more: they share the load, or the next takes over when one is empty or pulled."""
    body: BodyData | None = None
    lens: LensData | None = None
    adapter: Adapter | None = None
    gimbal: GimbalData | None = None
    support: SupportData | None = None
    stand: StandData | None = None
    cable: Cable | None = None
    filter: FilterData | None = None
    follow_focus: FollowFocus | None = None
    recording: RecordingData | None = None
    card: CardData | None = None
    screen: ScreenData | None = None
    lamp: LampData | None = None
    radio: RadioData | None = None
    clock_ppm: Positive | None = None
    """How far its clock runs off, parts in a million."""
    handle: HandleData | None = None
    case: CaseData | None = None
    packed_mm: Vec3 | None = None
    """How large it is as it is packed, where that is not its outline: folded, taken down, in its pouch."""
    hinges: Annotated[tuple[Hinge, ...], MaxLen(20)] = ()
    keep_clear: Annotated[tuple[KeepClear, ...], MaxLen(100)] = ()
    price: NotNegative | None = None
    """To buy, in the job's currency."""
    hire_per_day: NotNegative | None = None
    note: Note = ""
    assumed: Annotated[tuple[Label, ...], MaxLen(100)] = ()
    """Figures that nobody measured or read, by their place, as in ``draw.peak_w``."""
    unconfirmed: Annotated[tuple[Label, ...], MaxLen(100)] = ()
    """Voltages, currents and ratings taken for a kind of thing, not for this one: to be confirmed before it is used."""

    def __post_init__(self) -> None:
        ids = [port.id for port in self.ports]
        for twice in {i for i in ids if ids.count(i) > 1}:
            raise ImpossibleModel(self.id, "ports", f"'{twice}' stands twice", "every port of a model has its own name")
        for port in self.ports:
            self._check_axes(port)
        for named in self._named_ports():
            if named not in ids:
                raise ImpossibleModel(
                    self.id, "ports", f"'{named}' is referred to and not there", f"name one of: {', '.join(ids)}"
                )
        self._check_adapter_and_cable(ids)
        self._check_sources()
        self._check_recording()
        self._check_gimbal()
        if self.packed_mm and min(self.packed_mm) <= 0:
            raise ImpossibleModel(self.id, "packed_mm", f"{self.packed_mm} mm", "every side is above zero")
        for hinge in self.hinges:
            self._check_hinge(hinge, ids)

    def _check_hinge(self, hinge: Hinge, ids: list[str]) -> None:
        where = "hinges"
        if hinge.beyond not in ids:
            raise ImpossibleModel(
                self.id, where, f"'{hinge.beyond}' is beyond it and not there", f"name one of: {', '.join(ids)}"
            )
        if abs(np.linalg.norm(hinge.axis) - 1) > 1e-6:
            raise ImpossibleModel(self.id, where, f"axis {hinge.axis}", "an axis has length 1")
        if not hinge.range_deg[0] <= 0 <= hinge.range_deg[1]:
            low, high = hinge.range_deg
            raise ImpossibleModel(
                self.id, where, f"it bends from {low:g} to {high:g}°", "the range goes from below 0° to above it"
            )

    def _check_gimbal(self) -> None:
        data = self.gimbal
        if data is None:
            return
        if data.min_payload_g > data.payload_limit_g:
            raise ImpossibleModel(
                self.id,
                "gimbal.min_payload_g",
                f"it needs {data.min_payload_g:g} g and carries {data.payload_limit_g:g} g at most",
                "the least comes below every published payload",
            )
        for name in ("fore_aft", "vertical", "lateral", "pan_slide"):
            travel = getattr(data, name)
            if travel.min_mm > travel.max_mm:
                raise ImpossibleModel(
                    self.id,
                    f"gimbal.{name}",
                    f"travel from {travel.min_mm:g} to {travel.max_mm:g} mm",
                    "the lower end comes first",
                )
        for axis, torque in zip(("tilt", "roll", "pan"), data.torque_nm, strict=True):
            if not torque > 0:
                raise ImpossibleModel(
                    self.id, f"gimbal.torque_nm ({axis})", f"{torque:g} N·m", "a motor's torque is above zero"
                )

    def _check_recording(self) -> None:
        """A recording mode uses an area that the body has."""
        areas = [area.id for area in self.body.areas] if self.body else []
        for mode in self.recording.modes if self.recording and areas else ():
            if mode.area and mode.area not in areas:
                raise ImpossibleModel(
                    self.id,
                    "recording.modes",
                    f"'{mode.label}' records the area '{mode.area}', which the body has not",
                    f"it has: {', '.join(areas)}; leave the area empty for any of them",
                )

    def _check_sources(self) -> None:
        for what, value, source in (("mass", self.mass_g, self.mass_source), ("CG", self.cg_mm, self.cg_source)):
            if value is None and source == "measured":
                raise ImpossibleModel(
                    self.id,
                    f"{what.lower()}_source",
                    f"the {what} is unknown and marked measured",
                    f"enter the {what} that was measured, or mark it otherwise",
                )

    def _check_adapter_and_cable(self, ids: list[str]) -> None:
        if self.adapter:
            near, far = (
                next(p for p in self.ports if p.id == name)
                for name in (self.adapter.toward_body, self.adapter.toward_part)
            )
            if near is far:
                raise ImpossibleModel(
                    self.id, "adapter", f"both its ends are '{near.id}'", "an adapter leads from one port to another"
                )
            if near.interface == far.interface and near.gender != far.gender:
                raise ImpossibleModel(
                    self.id,
                    "adapter",
                    f"it adapts '{near.interface}' to itself",
                    "the two ends of an adapter are of unlike kinds",
                )
        if self.cable and not {"a", "b"} <= set(ids):
            raise ImpossibleModel(
                self.id, "cable", f"its ends are: {', '.join(ids) or 'none'}", "a cable has two ends, ports 'a' and 'b'"
            )

    def _named_ports(self) -> tuple[str, ...]:
        named: tuple[str, ...] = ()
        if self.adapter:
            named += (self.adapter.toward_body, self.adapter.toward_part)
        if self.gimbal:
            named += (self.gimbal.camera_port,)
        if self.charger:
            named += (self.charger.bay_port,)
        return named

    def _check_axes(self, port: Port) -> None:
        n, u = np.asarray(port.n), np.asarray(port.u)
        if abs(np.linalg.norm(n) - 1) > 1e-6 or abs(np.linalg.norm(u) - 1) > 1e-6 or abs(float(n @ u)) > 1e-6:
            raise ImpossibleModel(
                self.id, f"port '{port.id}'", f"normal {port.n} and up {port.u}", "both have length 1 and are square"
            )
        if port.slide and port.slide.min_mm > port.slide.max_mm:
            raise ImpossibleModel(
                self.id,
                f"port '{port.id}'",
                f"slide from {port.slide.min_mm:g} to {port.slide.max_mm:g} mm",
                "the lower end comes first",
            )

    @cached_property
    def _port_by_id(self) -> dict[str, Port]:
        return {port.id: port for port in self.ports}

    def port(self, port_id: str, unit: str | None = None) -> Port:
        """The port of that name; raises UnknownPort in the name of ``unit``."""
        try:
            return self._port_by_id[port_id]
        except KeyError:
            raise UnknownPort(unit or self.id, port_id, tuple(self._port_by_id)) from None

    def hinge_names(self) -> tuple[str, ...]:
        """What its hinges are called, those without a name by their number from the inner end."""
        return tuple(hinge.label or f"joint {i}" for i, hinge in enumerate(self.hinges, 1))

    @property
    def is_cable(self) -> bool:
        """True for something that links two sockets instead of being mounted."""
        return self.cable is not None

    @cached_property
    def bounds(self) -> tuple[Array, Array]:
        """Lowest and highest corner over all shapes, each of shape (3,)."""
        if not self.shapes:
            return np.zeros(3), np.zeros(3)
        corners = np.array([shape.corners for shape in self.shapes], dtype=float)
        return corners[:, 0].min(axis=0), corners[:, 1].max(axis=0)

    @cached_property
    def port_places(self) -> Array:
        """Where its ports are, mm in its own frame, shape (ports, 3)."""
        return np.array([port.at for port in self.ports], dtype=float).reshape(-1, 3)

    @cached_property
    def port_normals(self) -> Array:
        """Where its ports face, of length 1, shape (ports, 3)."""
        return np.array([port.n for port in self.ports], dtype=float).reshape(-1, 3)

    @cached_property
    def has_power(self) -> bool:
        """It draws, has cells, or carries power on a port."""
        return bool(self.draw or self.pack or self.gimbal or any(port.electrical for port in self.ports))

    @property
    def is_body(self) -> bool:
        """A camera can start from it, also where its recorded areas are not entered yet."""
        return self.kind == "body" or self.body is not None

    @property
    def records(self) -> bool:
        """Sound or pictures stay in it: a body, a recorder, anything with slots for cards."""
        return self.is_body or self.recording is not None or self.kind in ("recorder", "sound recorder")

    @cached_property
    def has_inlet(self) -> bool:
        """It has an input for power."""
        return any(port.electrical and port.electrical.role == "in" for port in self.ports)

    @cached_property
    def cg_outside_mm(self) -> float:
        """How far the model's own CG lies outside its outline; 0 within it, and where nothing is drawn."""
        return self.outside_mm(self.cg_mm) if self.cg_mm else 0.0

    def outside_mm(self, at_mm: Vec3) -> float:
        """How far a point in the model's frame lies outside its outline, along the axis on which it is furthest out."""
        if not self.shapes:
            return 0.0
        low, high = self.bounds
        return float(max(0.0, *(max(low[i] - at_mm[i], at_mm[i] - high[i]) for i in range(3))))

    @cached_property
    def solids(self) -> Solids:
        """What must not run into other parts, in the model's frame; of a gimbal the seat only."""
        return solids_of([shape for shape in self.shapes if shape.stage in (None, "seat")])

    @cached_property
    def stages(self) -> dict[GimbalStage, Solids]:
        """The parts of a gimbal that move apart, in the model's frame."""
        names = dict.fromkeys(shape.stage for shape in self.shapes if shape.stage)
        return {name: solids_of([shape for shape in self.shapes if shape.stage == name]) for name in names}

    @cached_property
    def rooms(self) -> tuple[tuple[KeepClear, Solids], ...]:
        """Room that must stay free, each as a solid in the model's frame."""
        return tuple((room, solids_of((room,))) for room in self.keep_clear)

    @cached_property
    def title(self) -> str:
        """Maker and name, as said at the bench."""
        return f"{self.maker} {self.name}".strip()


def mates(a: Port, b: Port) -> bool:
    """True when two ports join: one interface, unlike genders."""
    return a.interface == b.interface and a.gender != b.gender
