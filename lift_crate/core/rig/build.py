"""Units, joints, links, builds and parts of the day: what is on the bench."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from annotated_types import Ge, Gt, Le, MaxLen

from ..errors import NoSuchModel, NoSuchUnit
from ..gear.bending import bent, shift_mm
from ..gear.electrical import Draw
from ..gear.interface import Interface
from ..gear.model import GearModel, Port, Slide, Source
from ..gear.solids import Rows, Solids, solids_of
from ..geometry import Vec3
from ..quantities import Angle, Coordinate, Identifier, Label, Note, NotNegative, Positive, Share
from ..recent import Recent
from ..settings import STRICT, Handling

__all__ = [
    "Aperture",
    "Bend",
    "Build",
    "Catalogue",
    "Claim",
    "Conditions",
    "FrameRate",
    "Joint",
    "Link",
    "Preset",
    "Sensitivity",
    "Target",
    "Unit",
    "UnitSetting",
]

_MOST_KEPT = 128
"""Kinds of rig whose solids are kept ready."""
_MOST_BENT = 64
"""Shelves with their arms bent that are kept ready; dragging an arm makes one at every step."""

Aperture = Annotated[float, Gt(0), Le(64)]
FrameRate = Annotated[float, Gt(0), Le(1000)]
Sensitivity = Annotated[float, Ge(25), Le(409_600)]
_LOST_PER_CYCLE = 0.2 / 500


@dataclass(frozen=True, kw_only=True)
class Unit:
    """One physical thing with its own label. Measured values replace its model's."""

    __pydantic_config__ = STRICT

    id: Identifier
    model: Identifier
    owner: Literal["owned", "hired"] = "owned"
    measured_g: Positive | None = None
    measured_cg_mm: Vec3 | None = None
    measured_w: NotNegative | None = None
    """Draw while recording, at its input."""
    measured_h: Positive | None = None
    """Gimbals: hours that its own pack really lasted."""
    health: Annotated[float, Gt(0), Le(1)] = 1.0
    """Packs: share of the printed capacity that is left; 1 where nobody measured it."""
    cycles: Annotated[int, Ge(0), Le(100_000)] | None = None
    """Packs: how often it was charged."""
    condition: Literal["good", "doubtful", "out of use"] = "good"
    note: Note = ""
    serial: Label = ""
    price: NotNegative | None = None
    """What was paid for it."""
    bought: date | None = None
    hired_from: date | None = None
    hired_until: date | None = None
    photo: Label = ""
    """Of the picture of it that is kept."""

    def __post_init__(self) -> None:
        if self.hired_from and self.hired_until and self.hired_until < self.hired_from:
            raise ValueError(
                f"hired from {self.hired_from:%d %b %Y} until {self.hired_until:%d %b %Y}: the first day comes first"
            )

    @property
    def health_left(self) -> float:
        """Share of its printed capacity to count with: as measured, else what its cycles
        have taken, 20 % in 500 as is usual, and no more than half.
        """
        if self.health < 1 or not self.cycles:
            return self.health
        return max(0.5, 1 - _LOST_PER_CYCLE * self.cycles)


@dataclass(frozen=True, kw_only=True)
class Joint:
    """A child's port on a parent's port, spun about the parent's normal and slid along it."""

    __pydantic_config__ = STRICT

    child: Identifier
    child_port: Identifier
    parent: Identifier
    parent_port: Identifier
    spin_deg: Angle = 0.0
    slide_mm: Coordinate = 0.0


@dataclass(frozen=True, kw_only=True)
class Link:
    """A cable from one socket to another; its own end ``a`` is at the first."""

    __pydantic_config__ = STRICT

    cable: Identifier
    from_unit: Identifier
    from_port: Identifier
    to_unit: Identifier
    to_port: Identifier


@dataclass(frozen=True, kw_only=True)
class UnitSetting:
    """How a unit is set in this build."""

    __pydantic_config__ = STRICT

    unit: Identifier
    area: str | None = None
    """Bodies: the recorded area."""
    focal_mm: Positive | None = None
    """Zooms: the focal length it is set to."""
    stop: Aperture | None = None
    """Lenses: the aperture it is set to; None: wide open."""
    fps: FrameRate | None = None
    """Bodies: frames a second."""
    shutter_deg: Annotated[float, Gt(0), Le(360)] | None = None
    iso: Sensitivity | None = None
    picture: str | None = None
    """Bodies: the picture format it puts out."""
    mode: str | None = None
    """Gimbals: the mode it runs in; None: as it comes."""


@dataclass(frozen=True, kw_only=True)
class Preset:
    """How the units of a build are set, kept under a name to be gone back to."""

    __pydantic_config__ = STRICT

    label: Identifier
    settings: Annotated[tuple[UnitSetting, ...], MaxLen(400)] = ()

    def without(self, units: Collection[str]) -> Preset:
        """The preset less what it says of some units."""
        return replace(self, settings=tuple(s for s in self.settings if s.unit not in units))


@dataclass(frozen=True, kw_only=True)
class Bend:
    """How an arm of a build is bent: degrees at each of its hinges, inner ones first; those not said are straight."""

    __pydantic_config__ = STRICT

    unit: Identifier
    deg: Annotated[tuple[Angle, ...], MaxLen(20)]


@dataclass(frozen=True, kw_only=True)
class Build:
    """A rig's way of being set up: a tree of joints from the body outwards, and links; beside it what
    the operator wears for it.
    """

    __pydantic_config__ = STRICT

    id: Identifier
    label: Label
    body: Identifier
    joints: Annotated[tuple[Joint, ...], MaxLen(400)] = ()
    links: Annotated[tuple[Link, ...], MaxLen(400)] = ()
    settings: Annotated[tuple[UnitSetting, ...], MaxLen(400)] = ()
    use: Handling | None = None
    """How it is carried; None: as is usual on its support."""
    held_by: Identifier | None = None
    """The support, handle or grip that carries it; None: the outermost support, else the first handle or grip."""
    grip: Label | None = None
    """How hands hold it, by its name in the settings; None: as is usual on its support."""
    presets: Annotated[tuple[Preset, ...], MaxLen(20)] = ()
    """Settings kept under names, each once."""
    off_between: bool = False
    """It is switched off between takes rather than left standing by."""
    worn: Annotated[tuple[Identifier, ...], MaxLen(50)] = ()
    """Units on the operator's belt, each with what is mounted on it: they hang on no joint, and cables run to them."""
    bends: Annotated[tuple[Bend, ...], MaxLen(400)] = ()
    """Arms that are not straight, each once."""

    def __post_init__(self) -> None:
        labels = [preset.label for preset in self.presets]
        if twice := {label for label in labels if labels.count(label) > 1}:
            raise ValueError(f"presets: '{min(twice)}' stands twice; every preset of a build has its own name")
        if twice := {unit for unit in self.worn if self.worn.count(unit) > 1 or unit == self.body}:
            raise ValueError(f"worn: '{min(twice)}' is there twice, or is the body; nothing is worn twice")
        bent = [bend.unit for bend in self.bends]
        if twice := {unit for unit in bent if bent.count(unit) > 1}:
            raise ValueError(f"bends: '{min(twice)}' stands twice; an arm is bent in one way")

    @cached_property
    def units(self) -> tuple[str, ...]:
        """Labels of all units in it, body first, each once."""
        mounted, cables = (j.child for j in self.joints), (link.cable for link in self.links)
        return tuple(dict.fromkeys((self.body, *mounted, *self.worn, *cables)))

    @cached_property
    def on_operator(self) -> tuple[str, ...]:
        """All that the operator wears: worn units, and outwards what is mounted on them."""
        return tuple(dict.fromkeys(unit for worn in self.worn for unit in self.subtree(worn)))

    @cached_property
    def tree(self) -> tuple[object, ...]:
        """What hangs on what, by value: all but slides, turns and settings."""
        return (
            self.body,
            self.held_by,
            self.worn,
            tuple((j.child, j.child_port, j.parent, j.parent_port) for j in self.joints),
            tuple((k.cable, k.from_unit, k.from_port, k.to_unit, k.to_port) for k in self.links),
        )

    def joint_of(self, unit: str) -> Joint | None:
        """The joint a unit hangs on; None for the body, a cable, or a stranger."""
        return self._joint_by_child.get(unit)

    @cached_property
    def _joint_by_child(self) -> dict[str, Joint]:
        return {joint.child: joint for joint in reversed(self.joints)}

    @cached_property
    def _held_by(self) -> dict[str, list[str]]:
        found: dict[str, list[str]] = {}
        for joint in self.joints:
            found.setdefault(joint.parent, []).append(joint.child)
        return found

    def setting_of(self, unit: str) -> UnitSetting:
        """How a unit is set; defaults when nothing was said."""
        return self._setting_by_unit.get(unit) or UnitSetting(unit=unit)

    @cached_property
    def _setting_by_unit(self) -> dict[str, UnitSetting]:
        return {setting.unit: setting for setting in reversed(self.settings)}

    def bend_of(self, unit: str) -> tuple[float, ...]:
        """Degrees at the hinges of a unit; nothing when it is straight."""
        return next((bend.deg for bend in self.bends if bend.unit == unit), ())

    def subtree(self, unit: str) -> tuple[str, ...]:
        """A unit and everything mounted on it, outwards."""
        found = {unit: None}
        line = [unit]
        for held in line:
            new = [child for child in self._held_by.get(held, ()) if child not in found]
            found.update(dict.fromkeys(new))
            line += new
        return tuple(found)

    def without(self, units: Iterable[str]) -> Build:
        """The build less these units, their joints, their settings, and links that touch them."""
        gone = set(units)
        return replace(
            self,
            joints=tuple(j for j in self.joints if j.child not in gone),
            links=tuple(k for k in self.links if not gone & {k.cable, k.from_unit, k.to_unit}),
            settings=tuple(s for s in self.settings if s.unit not in gone),
            presets=tuple(p.without(gone) for p in self.presets),
            held_by=None if self.held_by in gone else self.held_by,
            worn=tuple(unit for unit in self.worn if unit not in gone),
            bends=tuple(b for b in self.bends if b.unit not in gone),
        )


@dataclass(frozen=True, kw_only=True)
class Conditions:
    """What the part of the day asks of a rig."""

    __pydantic_config__ = STRICT

    temperature_c: Annotated[float, Ge(-40), Le(60)] = 20.0
    wind_m_s: Annotated[float, Ge(0), Le(100)] = 0.0
    hours_needed: Annotated[float, Ge(0), Le(48)] = 0.0
    """Longest stretch that a camera must run without being touched."""
    light_ev: Annotated[float, Ge(-10), Le(20)] | None = None
    """Light of the scene as EV at ISO 100."""
    indoors: bool = False
    """Under a roof there is neither wind nor rain, whatever is said of them."""
    rings: bool = False
    """The room rings: bare walls, a hall, a hold."""
    rain: bool = False
    longest_take_min: Annotated[float, Ge(0), Le(2880)] = 0.0
    """Longest take: nobody touches a camera in it."""
    repeatable: bool = True
    """Whether what happens could be done again."""
    rolling: Share = 1.0
    """Share of the time that cameras roll; the rest of it they stand by, or are off."""
    takes_per_h: Annotated[float, Ge(0), Le(120)] = 0.0
    """How often in an hour they are started."""
    protected: bool = False
    """Whether it is cut last when a day runs late."""
    subject_take_min: Annotated[float, Ge(0), Le(600)] = 0.0
    """Subjects that come one after the other: the take of each; 0: there are none."""
    subject_set_up_min: Annotated[float, Ge(0), Le(600)] = 0.0
    """Before the take: placing, microphone, the name said into it."""
    subject_reset_min: Annotated[float, Ge(0), Le(600)] = 0.0
    """After the take, before the next one."""

    @property
    def blows_m_s(self) -> float:
        """Mean wind where the cameras stand."""
        return 0.0 if self.indoors else self.wind_m_s

    @property
    def untouched_h(self) -> float:
        """Hours that a camera must run without being touched: no less than its longest take."""
        return max(self.hours_needed, self.longest_take_min / 60)

    @property
    def wet(self) -> bool:
        """Whether it rains on the cameras."""
        return self.rain and not self.indoors


@dataclass(frozen=True, kw_only=True)
class Target:
    """What a position must see: how far from the film plane, and how wide there; a face at its nearest."""

    __pydantic_config__ = STRICT

    distance_mm: Positive
    width_mm: Positive | None = None
    nearest_mm: Positive | None = None
    """Nearest distance at which a face comes by."""
    light_ev: Annotated[float, Ge(-10), Le(20)] | None = None
    """Where it differs from the part of the day's."""
    lamps_ev: Annotated[float, Ge(-10), Le(20)] | None = None
    """What lamps add there to the light of the part of the day."""
    follows: bool = False
    """Whether it follows what moves; a locked-off frame does not."""
    speed_m_s: Annotated[float, Ge(0), Le(100)] = 0.0
    """Fastest that what it is mounted on goes."""
    mains_m: NotNegative | None = None
    """How far the nearest mains outlet is; none said: there is no mains."""
    moves: tuple[str, ...] = ()
    """Kinds of gimbal work that it needs, by their names in the settings; none said: everything."""
    worked_by: Literal["two hands", "one hand", "nobody"] = "two hands"
    """Who works it while it runs; what one hand or nobody holds must keep its own focus."""
    look: Literal["", "discreet", "ordinary", "impressive"] = ""
    """How large it may, or should, look."""


@dataclass(frozen=True, kw_only=True)
class Claim:
    """A unit in use: which rig has it, in which build, until when (text for people)."""

    unit: str
    rig: str
    build: str
    until: str


@dataclass(frozen=True, slots=True)
class Rest:
    """Mass of a unit in g, 0 where it is not known, and its CG in its own frame, mm, with what they rest on."""

    mass_g: float
    mass_source: Source
    mass_known: bool
    cg_mm: Vec3
    cg_source: Source


def _moved(cg_mm: Vec3 | None, straight: GearModel, now: GearModel) -> Vec3 | None:
    if cg_mm is None:
        return None
    x, y, z = (np.asarray(cg_mm) + shift_mm(straight, now)).tolist()
    return x, y, z


@dataclass(frozen=True, eq=False)
class Catalogue:
    """Interfaces, models and units by their id: everything a build can refer to."""

    interfaces: Mapping[str, Interface]
    models: Mapping[str, GearModel]
    units: Mapping[str, Unit]
    straight: Catalogue | None = None
    """The shelf that this one is, but for arms that are bent."""

    def bent(self, bends: tuple[Bend, ...]) -> Catalogue:
        """The same shelf with some arms bent, one shelf for the same bends; units that are not there are left out."""
        if self.straight:
            return self.straight.bent(bends)
        known = [bend for bend in bends if bend.unit in self._model_by_unit]
        return _bent_shelves.of((id(self), bends), lambda: self._with(known)) if known else self

    def _with(self, bends: Sequence[Bend]) -> Catalogue:
        models = {bend.unit: bent(self._model_by_unit[bend.unit], bend.deg) for bend in bends}
        units = {
            unit: replace(own, measured_cg_mm=_moved(own.measured_cg_mm, self._model_by_unit[unit], model))
            for unit, model in models.items()
            if (own := self.units[unit]).measured_cg_mm is not None
        }
        shelf = replace(self, units={**self.units, **units} if units else self.units, straight=self)
        # What is found on the shelf is found by straight arms, and is not looked for anew at every angle.
        for name in ("shelf", "index", "adapters", "_adapters", "_mating", "_having"):
            shelf.__dict__[name] = getattr(self, name)
        shelf.__dict__["_model_by_unit"] = {**self._model_by_unit, **models}
        return shelf

    def unit(self, unit_id: str, where: str = "on the shelf") -> Unit:
        """The unit with that label; raises NoSuchUnit."""
        try:
            return self.units[unit_id]
        except KeyError:
            raise NoSuchUnit(unit_id, where) from None

    def travel(self, joint: Joint) -> Slide | None:
        """How far a joint slides, along the parent's rail or else the child's; None: not at all."""
        parent = self.model_of(joint.parent).port(joint.parent_port)
        return parent.slide or self.model_of(joint.child).port(joint.child_port).slide

    def turns_deg(self, parent: Port, child: Port) -> tuple[float, ...]:
        """Turns in which two ports go together: the child's, else the parent's, else the interface's; none: any."""
        return child.spins_deg or parent.spins_deg or self.interfaces[parent.interface].spins_deg

    @cached_property
    def shelf(self) -> tuple[Unit, ...]:
        """All units, owned before hired, by label."""
        return tuple(sorted(self.units.values(), key=lambda u: (u.owner != "owned", u.id)))

    @cached_property
    def _mating(self) -> dict[tuple[str, str], list[tuple[Unit, Port]]]:
        found: dict[tuple[str, str], list[tuple[Unit, Port]]] = {}
        for unit in self.shelf:
            for port in self._model_by_unit[unit.id].ports if unit.id in self._model_by_unit else ():
                found.setdefault((port.interface, port.gender), []).append((unit, port))
        return found

    @cached_property
    def _having(self) -> dict[tuple[str, str], frozenset[str]]:
        return {half: frozenset(unit.id for unit, _ in found) for half, found in self._mating.items()}

    def having(self, interface: str, gender: str) -> frozenset[str]:
        """Labels of the units with a port of that half."""
        return self._having.get((interface, gender), frozenset())

    @cached_property
    def index(self) -> tuple[tuple[str, Unit, str], ...]:
        """Every unit with the text it is found by and its kind, owned before hired, by label."""
        found = []
        for unit in self.shelf:
            model = self._model_by_unit.get(unit.id)
            if model:
                found.append((f"{unit.id} {model.title} {model.kind} {unit.note}".lower(), unit, model.kind))
        return tuple(found)

    def mating(self, port: Port) -> Sequence[tuple[Unit, Port]]:
        """Units and their ports that mate with a port, owned before hired."""
        return self._mating.get((port.interface, "female" if port.gender == "male" else "male"), ())

    @cached_property
    def adapters(self) -> tuple[str, ...]:
        """Units that are adapters, owned before hired, by label."""
        models = self._model_by_unit
        return tuple(unit.id for unit in self.shelf if unit.id in models and models[unit.id].adapter)

    @cached_property
    def _adapters(self) -> dict[tuple[str, str], list[tuple[GearModel, tuple[str, str]]]]:
        found: dict[tuple[str, str], list[tuple[GearModel, tuple[str, str]]]] = {}
        for model in sorted(self.models.values(), key=lambda m: m.id):
            if model.adapter:
                near, far = model.port(model.adapter.toward_body), model.port(model.adapter.toward_part)
                offered = "female" if near.gender == "male" else "male"
                found.setdefault((near.interface, offered), []).append((model, (far.interface, far.gender)))
        return found

    def adapters_from(self, interface: str, gender: str) -> Sequence[tuple[GearModel, tuple[str, str]]]:
        """Adapter models that go on a half, and the half each then offers."""
        return self._adapters.get((interface, gender), ())

    @cached_property
    def _model_by_unit(self) -> dict[str, GearModel]:
        return {unit.id: self.models[unit.model] for unit in self.units.values() if unit.model in self.models}

    def model(self, model_id: str) -> GearModel:
        """The model of that id; raises NoSuchModel."""
        try:
            return self.models[model_id]
        except KeyError:
            raise NoSuchModel(model_id) from None

    def model_of(self, unit_id: str, where: str = "on the shelf") -> GearModel:
        """The model of a unit; raises NoSuchUnit."""
        try:
            return self._model_by_unit[unit_id]
        except KeyError:
            raise NoSuchUnit(unit_id, where) from None

    def mass_of(self, unit_id: str) -> tuple[float | None, Source]:
        """Mass of a unit in g and what it rests on; None when nobody knows."""
        unit, model = self.unit(unit_id), self.model_of(unit_id)
        if unit.measured_g is not None:
            return unit.measured_g, "measured"
        return model.mass_g, model.mass_source

    def at_rest(self, unit_id: str) -> Rest:
        """Mass and CG of a unit that is set to nothing else, worked out once."""
        known = self._at_rest.get(unit_id)
        if known is None:
            mass_g, mass_source = self.mass_of(unit_id)
            cg_mm, cg_source = self.cg_of(unit_id)
            known = self._at_rest[unit_id] = Rest(mass_g or 0.0, mass_source, mass_g is not None, cg_mm, cg_source)
        return known

    @cached_property
    def _at_rest(self) -> dict[str, Rest]:
        return {}

    def solids_of(self, units: Sequence[str]) -> tuple[Rows, Solids]:
        """Solids of some units in their own frames, one after the other, and of each row which unit it is of."""
        models = tuple(id(self.model_of(unit)) for unit in units)
        known = self._solids.get(models)
        if known is None:
            each = [self.model_of(unit).solids for unit in units]
            owner = np.repeat(np.arange(len(each)), [len(solids.half_mm) for solids in each])
            if len(self._solids) >= _MOST_KEPT:
                self._solids.clear()
            known = self._solids[models] = owner, Solids.joined([solids_of(()), *each])
        return known

    @cached_property
    def _solids(self) -> dict[tuple[int, ...], tuple[Rows, Solids]]:
        return {}

    def has_power(self, unit_id: str) -> bool:
        """Whether a unit draws, gives or passes on power."""
        return self.model_of(unit_id).has_power or self.unit(unit_id).measured_w is not None

    def draw_of(self, unit_id: str) -> tuple[Draw | None, Source]:
        """What a unit draws, and what it rests on: its measured draw while
        recording, peak as far above it as its model's.
        """
        unit, draw = self.unit(unit_id), self.model_of(unit_id).draw
        if unit.measured_w is None:
            return draw, "catalogue"
        rise = draw.peak_w - draw.record_w if draw else 0.0
        standby = min(draw.standby_w, unit.measured_w) if draw else unit.measured_w
        return Draw(standby_w=standby, record_w=unit.measured_w, peak_w=unit.measured_w + max(0.0, rise)), "measured"

    def cg_of(self, unit_id: str, focal_mm: float | None = None) -> tuple[Vec3, Source]:
        """CG of a unit in its own frame, mm, and what it rests on.

        A zoom's follows its focal length. A model without one is taken to have it
        in the middle of its boxes, marked assumed.
        """
        unit, model = self.unit(unit_id), self.model_of(unit_id)
        if unit.measured_cg_mm is not None:
            return unit.measured_cg_mm, "measured"
        if model.lens and (at_focal := model.lens.cg_at(focal_mm or model.lens.focal_mm[0])):
            return at_focal, model.cg_source
        if model.cg_mm is not None:
            return model.cg_mm, model.cg_source
        low, high = model.bounds
        x, y, z = np.asarray((low + high) / 2).tolist()
        return (x, y, z), "assumed"


_bent_shelves: Recent[Catalogue] = Recent(_MOST_BENT)
