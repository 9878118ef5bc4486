"""The edits a person can make to a build, as a closed family; each yields a new build."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from annotated_types import Ge, Gt, Le

from ..errors import NoSuchUnit, NotAllowed
from ..gear.model import GearModel, Port
from ..quantities import Identifier, Label
from ..settings import STRICT, Handling
from ..wording import signed
from .build import Aperture, Bend, Build, Catalogue, FrameRate, Joint, Link, Preset, Sensitivity, UnitSetting

__all__ = [
    "Adjust",
    "Attach",
    "BendTo",
    "CarryAs",
    "Connect",
    "Detach",
    "Disconnect",
    "HoldBy",
    "Move",
    "Operation",
    "Replace",
    "SlideTo",
    "Strip",
    "Turn",
    "Wear",
    "apply",
    "apply_all",
    "check_bend",
    "check_held",
    "check_setting",
    "describe",
]

_ANY_TURN_DEG = tuple(map(float, range(0, 360, 15)))
"""The turns of a joint that goes together in any."""

Millimetres = Annotated[float, Ge(-5000), Le(5000)]
Degrees = Annotated[float, Ge(-360), Le(360)]


@dataclass(frozen=True, kw_only=True)
class Attach:
    """Take a unit off the shelf and put it on a port."""

    __pydantic_config__ = STRICT

    op: Literal["attach"] = "attach"
    unit: str
    unit_port: str
    onto: str
    onto_port: str
    spin_deg: Degrees = 0.0
    slide_mm: Millimetres = 0.0


@dataclass(frozen=True, kw_only=True)
class Move:
    """Put a mounted unit, with all that hangs on it, on another port."""

    __pydantic_config__ = STRICT

    op: Literal["move"] = "move"
    unit: str
    unit_port: str
    onto: str
    onto_port: str
    spin_deg: Degrees = 0.0
    slide_mm: Millimetres = 0.0


@dataclass(frozen=True, kw_only=True)
class Wear:
    """Hang a unit on the operator's belt, off the shelf, or off the rig with all that hangs on it."""

    __pydantic_config__ = STRICT

    op: Literal["wear"] = "wear"
    unit: str


@dataclass(frozen=True, kw_only=True)
class Detach:
    """Take a unit off, with all that hangs on it and the cables that end there."""

    __pydantic_config__ = STRICT

    op: Literal["detach"] = "detach"
    unit: str


@dataclass(frozen=True, kw_only=True)
class Replace:
    """Put another unit in the place of one, on the same ports, or on those that ``ports`` gives for them."""

    __pydantic_config__ = STRICT

    op: Literal["replace"] = "replace"
    unit: str
    by: str
    ports: tuple[tuple[str, str], ...] = ()
    """Ports of the old unit and those of the new one that take their place, where they differ."""


@dataclass(frozen=True, kw_only=True)
class SlideTo:
    """Slide a unit along its rail; stops at the ends of travel."""

    __pydantic_config__ = STRICT

    op: Literal["slide"] = "slide"
    unit: str
    to_mm: Millimetres


@dataclass(frozen=True, kw_only=True)
class Turn:
    """Turn a unit about its joint, to the next turn the interface allows in that direction."""

    __pydantic_config__ = STRICT

    op: Literal["turn"] = "turn"
    unit: str
    steps: Literal[-1, 1] = 1


@dataclass(frozen=True, kw_only=True)
class BendTo:
    """Bend an arm at one of its hinges, from the inner end 0, 1, …; stops at the ends of its range."""

    __pydantic_config__ = STRICT

    op: Literal["bend"] = "bend"
    unit: str
    hinge: Annotated[int, Ge(0), Le(19)]
    to_deg: Degrees


@dataclass(frozen=True, kw_only=True)
class Connect:
    """Run a cable from one socket to another."""

    __pydantic_config__ = STRICT

    op: Literal["connect"] = "connect"
    cable: str
    from_unit: str
    from_port: str
    to_unit: str
    to_port: str


@dataclass(frozen=True, kw_only=True)
class Disconnect:
    """Take a cable off."""

    __pydantic_config__ = STRICT

    op: Literal["disconnect"] = "disconnect"
    cable: str


@dataclass(frozen=True, kw_only=True)
class Adjust:
    """Set a body's recorded area, exposure and picture, a lens's focal length and aperture, or a gimbal's mode."""

    __pydantic_config__ = STRICT

    op: Literal["adjust"] = "adjust"
    unit: str
    area: str | None = None
    focal_mm: Annotated[float, Gt(0)] | None = None
    stop: Aperture | None = None
    fps: FrameRate | None = None
    shutter_deg: Annotated[float, Gt(0), Le(360)] | None = None
    iso: Sensitivity | None = None
    picture: str | None = None
    mode: str | None = None


@dataclass(frozen=True, kw_only=True)
class CarryAs:
    """Say how the rig is carried; None: as is usual on its support."""

    __pydantic_config__ = STRICT

    op: Literal["carry"] = "carry"
    use: Handling | None = None


@dataclass(frozen=True, kw_only=True)
class HoldBy:
    """Say which support, handle or grip carries the rig; None: the outermost support, else the first handle or grip."""

    __pydantic_config__ = STRICT

    op: Literal["hold"] = "hold"
    unit: str | None = None


@dataclass(frozen=True, kw_only=True)
class OffBetween:
    """Say whether the rig is switched off between takes."""

    __pydantic_config__ = STRICT

    op: Literal["off between"] = "off between"
    off: bool


@dataclass(frozen=True, kw_only=True)
class GripAs:
    """Say how hands hold the rig, by a name in the job's settings; None: as is usual on its support."""

    __pydantic_config__ = STRICT

    op: Literal["grip"] = "grip"
    grip: Label | None = None


@dataclass(frozen=True, kw_only=True)
class KeepPreset:
    """Keep the settings of all units as they are under a name; a preset of that name is kept anew."""

    __pydantic_config__ = STRICT

    op: Literal["keep preset"] = "keep preset"
    label: Identifier


@dataclass(frozen=True, kw_only=True)
class UsePreset:
    """Set all units as a preset says; those it says nothing of go back to what is usual."""

    __pydantic_config__ = STRICT

    op: Literal["use preset"] = "use preset"
    label: Identifier


@dataclass(frozen=True, kw_only=True)
class DropPreset:
    """Forget a preset; the units stay as they are set."""

    __pydantic_config__ = STRICT

    op: Literal["drop preset"] = "drop preset"
    label: Identifier


@dataclass(frozen=True, kw_only=True)
class Strip:
    """Take everything off the body."""

    __pydantic_config__ = STRICT

    op: Literal["strip"] = "strip"


Operation = (
    Attach
    | Move
    | Wear
    | Detach
    | Replace
    | SlideTo
    | Turn
    | BendTo
    | Connect
    | Disconnect
    | Adjust
    | CarryAs
    | HoldBy
    | GripAs
    | OffBetween
    | KeepPreset
    | UsePreset
    | DropPreset
    | Strip
)


def apply_all(build: Build, operations: tuple[Operation, ...], catalogue: Catalogue) -> Build:
    """All operations in order; raises what ``apply`` raises and then changes nothing."""
    for operation in operations:
        build = apply(build, operation, catalogue)
    return build


def apply(build: Build, operation: Operation, catalogue: Catalogue) -> Build:
    """The build after one operation.

    Raises NoSuchUnit and UnknownPort for names that are not there, NotAllowed for
    an edit that makes no sense here. A part that does not fit may be attached: that
    is a finding, not an error.
    """
    match operation:
        case Attach():
            _require_new(build, operation.unit)
            if catalogue.model_of(operation.unit).is_cable:
                raise NotAllowed(f"{operation.unit} is a cable; connect it between two sockets.")
            return replace(build, joints=(*build.joints, _joint(build, operation, catalogue)))
        case Move():
            _require_there(build, operation.unit)
            if operation.onto in build.subtree(operation.unit):
                raise NotAllowed(
                    f"{operation.onto} hangs on {operation.unit}; a part cannot be mounted on what it carries."
                )
            moved = _joint(build, operation, catalogue)
            if operation.unit in build.worn:
                worn = tuple(unit for unit in build.worn if unit != operation.unit)
                return replace(build, worn=worn, joints=(*build.joints, moved))
            return replace(build, joints=tuple(moved if j.child == moved.child else j for j in build.joints))
        case Wear():
            return _wear(build, operation.unit, catalogue)
        case Detach():
            _require_there(build, operation.unit)
            return build.without(build.subtree(operation.unit))
        case Replace():
            return _swap(build, operation, catalogue)
        case SlideTo():
            return _slide(build, operation, catalogue)
        case Turn():
            return _turn(build, operation, catalogue)
        case BendTo():
            return _bend(build, operation, catalogue)
        case Connect():
            _require_new(build, operation.cable)
            return replace(build, links=(*build.links, _link(build, operation, catalogue)))
        case Disconnect():
            if operation.cable not in {link.cable for link in build.links}:
                raise NoSuchUnit(operation.cable, "among this build's cables")
            return build.without({operation.cable})
        case Adjust():
            return _adjust(build, operation, catalogue)
        case CarryAs():
            return replace(build, use=operation.use)
        case HoldBy():
            return _hold(build, operation, catalogue)
        case GripAs():
            return replace(build, grip=operation.grip)
        case OffBetween():
            return replace(build, off_between=operation.off)
        case KeepPreset():
            kept = Preset(label=operation.label, settings=build.settings)
            others = tuple(p for p in build.presets if p.label != kept.label)
            if len(others) >= _MOST_PRESETS:
                raise NotAllowed(f"This build has {len(others)} presets, and no more are kept; drop one first.")
            return replace(build, presets=(*others, kept))
        case UsePreset():
            return replace(build, settings=_preset(build, operation.label).settings)
        case DropPreset():
            gone = _preset(build, operation.label)
            return replace(build, presets=tuple(p for p in build.presets if p is not gone))
        case Strip():
            return build.without(set(build.units) - {build.body})


_MOST_PRESETS = 20


def _preset(build: Build, label: str) -> Preset:
    found = next((p for p in build.presets if p.label == label), None)
    if found is None:
        known = ", ".join(p.label for p in build.presets) or "none"
        raise NotAllowed(f"This build has no preset '{label}'; it has: {known}.")
    return found


def _hold(build: Build, operation: HoldBy, catalogue: Catalogue) -> Build:
    if operation.unit is not None:
        _require_mounted(build, operation.unit)
        model = catalogue.model_of(operation.unit)
        if model.support is None and model.kind not in ("handle", "grip"):
            raise NotAllowed(
                f"{operation.unit} is neither a support nor a handle or grip; a rig is held by one of those."
            )
    return replace(build, held_by=operation.unit)


def _wear(build: Build, unit: str, catalogue: Catalogue) -> Build:
    if catalogue.model_of(unit).is_cable:
        raise NotAllowed(f"{unit} is a cable; connect it between two sockets, one of them on what is worn.")
    if unit in build.worn:
        raise NotAllowed(f"{unit} is on the operator already.")
    if build.joint_of(unit) is None:
        _require_new(build, unit)
    joints = tuple(j for j in build.joints if j.child != unit)
    held = None if build.held_by in build.subtree(unit) else build.held_by
    return replace(build, joints=joints, worn=(*build.worn, unit), held_by=held)


def _require_new(build: Build, unit: str) -> None:
    if unit in build.units:
        raise NotAllowed(f"{unit} is already in this build; detach it first or move it.")


def _require_mounted(build: Build, unit: str) -> Joint:
    joint = build.joint_of(unit)
    if joint is None:
        if unit == build.body:
            raise NotAllowed(f"{unit} is the body that the build starts from; it hangs on nothing.")
        raise NoSuchUnit(unit, "mounted in this build")
    return joint


def _require_there(build: Build, unit: str) -> None:
    """Mounted or worn, the body not."""
    if unit not in build.worn:
        _require_mounted(build, unit)


def _require_here(build: Build, unit: str) -> None:
    if unit != build.body:
        _require_there(build, unit)


def _joint(build: Build, operation: Attach | Move, catalogue: Catalogue) -> Joint:
    _require_here(build, operation.onto)
    catalogue.model_of(operation.unit).port(operation.unit_port, operation.unit)
    catalogue.model_of(operation.onto).port(operation.onto_port, operation.onto)
    return Joint(
        child=operation.unit,
        child_port=operation.unit_port,
        parent=operation.onto,
        parent_port=operation.onto_port,
        spin_deg=operation.spin_deg,
        slide_mm=operation.slide_mm,
    )


def _link(build: Build, operation: Connect, catalogue: Catalogue) -> Link:
    if not catalogue.model_of(operation.cable).is_cable:
        raise NotAllowed(f"{operation.cable} is no cable; attach it to a port instead.")
    for unit, port in ((operation.from_unit, operation.from_port), (operation.to_unit, operation.to_port)):
        _require_here(build, unit)
        catalogue.model_of(unit).port(port, unit)
    if (operation.from_unit, operation.from_port) == (operation.to_unit, operation.to_port):
        raise NotAllowed(f"{operation.cable} would have both ends in one socket; give it two.")
    return Link(
        cable=operation.cable,
        from_unit=operation.from_unit,
        from_port=operation.from_port,
        to_unit=operation.to_unit,
        to_port=operation.to_port,
    )


def _swap(build: Build, operation: Replace, catalogue: Catalogue) -> Build:
    if operation.unit not in build.units:
        raise NoSuchUnit(operation.unit, "in this build")
    _require_new(build, operation.by)
    model = catalogue.model_of(operation.by)
    if model.is_cable != catalogue.model_of(operation.unit).is_cable:
        raise NotAllowed(
            f"{operation.by} is {'a' if model.is_cable else 'no'} cable; a cable is replaced by a cable, a part by a"
            " part."
        )
    others = dict(operation.ports)

    def name(unit: str) -> str:
        return operation.by if unit == operation.unit else unit

    def port(unit: str, port_id: str) -> str:
        return model.port(others.get(port_id, port_id), operation.by).id if unit == operation.unit else port_id

    return replace(
        build,
        body=name(build.body),
        joints=tuple(
            replace(
                j,
                child=name(j.child),
                child_port=port(j.child, j.child_port),
                parent=name(j.parent),
                parent_port=port(j.parent, j.parent_port),
            )
            for j in build.joints
        ),
        links=tuple(
            replace(
                k,
                cable=name(k.cable),
                from_unit=name(k.from_unit),
                from_port=port(k.from_unit, k.from_port),
                to_unit=name(k.to_unit),
                to_port=port(k.to_unit, k.to_port),
            )
            for k in build.links
        ),
        settings=tuple(s for s in build.settings if s.unit != operation.unit),
        presets=tuple(p.without({operation.unit}) for p in build.presets),
        held_by=name(build.held_by) if build.held_by else None,
        worn=tuple(map(name, build.worn)),
        bends=tuple(_bend_kept(build, operation, catalogue)),
    )


def _bend_kept(build: Build, operation: Replace, catalogue: Catalogue) -> Iterator[Bend]:
    """Arms as they were bent; what takes the place of one is bent alike where its joints allow."""
    for bend in build.bends:
        if bend.unit != operation.unit:
            yield bend
            continue
        hinges = catalogue.model_of(operation.by).hinges
        deg = tuple(min(max(d, h.range_deg[0]), h.range_deg[1]) for d, h in zip(bend.deg, hinges, strict=False))
        if any(deg):
            yield Bend(unit=operation.by, deg=deg)


def _joint_ports(joint: Joint, catalogue: Catalogue) -> tuple[Port, Port]:
    return (
        catalogue.model_of(joint.parent).port(joint.parent_port, joint.parent),
        catalogue.model_of(joint.child).port(joint.child_port, joint.child),
    )


def _with_joint(build: Build, joint: Joint) -> Build:
    return replace(build, joints=tuple(joint if j.child == joint.child else j for j in build.joints))


def _slide(build: Build, operation: SlideTo, catalogue: Catalogue) -> Build:
    joint = _require_mounted(build, operation.unit)
    travel = catalogue.travel(joint)
    if travel is None:
        raise NotAllowed(f"{operation.unit} does not slide on {joint.parent}: neither end of that joint has a rail.")
    return _with_joint(build, replace(joint, slide_mm=min(max(operation.to_mm, travel.min_mm), travel.max_mm)))


def _turn(build: Build, operation: Turn, catalogue: Catalogue) -> Build:
    joint = _require_mounted(build, operation.unit)
    parent, child = _joint_ports(joint, catalogue)
    turns = sorted(catalogue.turns_deg(parent, child) or _ANY_TURN_DEG)
    if len(turns) == 1 and abs(joint.spin_deg - turns[0]) < 0.01:
        raise NotAllowed(f"{operation.unit} goes on {joint.parent} in one turn only, {turns[0]:g}°.")
    now = joint.spin_deg % 360
    onwards = [t for t in turns if (t - now) * operation.steps > 0.01]
    ends = turns[0] if operation.steps > 0 else turns[-1]
    return _with_joint(
        build, replace(joint, spin_deg=float(onwards[0 if operation.steps > 0 else -1] if onwards else ends))
    )


def _bend(build: Build, operation: BendTo, catalogue: Catalogue) -> Build:
    unit = operation.unit
    if unit not in build.units:
        raise NoSuchUnit(unit, "in this build")
    hinges = catalogue.model_of(unit).hinges
    if operation.hinge >= len(hinges):
        raise NotAllowed(
            f"{unit} has {len(hinges)} joints to bend at; there is none numbered {operation.hinge + 1}."
            if hinges
            else f"{unit} has no joint to bend at."
        )
    deg = [*build.bend_of(unit), *(0.0 for _ in hinges)][: len(hinges)]
    low, high = hinges[operation.hinge].range_deg
    deg[operation.hinge] = min(max(operation.to_deg, low), high)
    others = tuple(bend for bend in build.bends if bend.unit != unit)
    return replace(build, bends=(*others, Bend(unit=unit, deg=tuple(deg))) if any(deg) else others)


def check_bend(build: Build, bend: Bend, catalogue: Catalogue) -> None:
    """Raise NoSuchUnit for a bent arm that is not in the build, NotAllowed for joints or degrees it does not have."""
    if bend.unit not in build.units:
        raise NoSuchUnit(bend.unit, "in this build, though it is said to be bent")
    hinges = catalogue.model_of(bend.unit).hinges
    if len(bend.deg) > len(hinges):
        raise NotAllowed(f"{bend.unit} is bent at {len(bend.deg)} joints and has {len(hinges)}.")
    names = catalogue.model_of(bend.unit).hinge_names()
    for hinge, name, deg in zip(hinges, names, bend.deg, strict=False):
        low, high = hinge.range_deg
        if not low <= deg <= high:
            raise NotAllowed(f"{bend.unit} bends at its {name} from {low:g} to {high:g}°; {deg:g}° is outside.")


def _adjust(build: Build, operation: Adjust, catalogue: Catalogue) -> Build:
    if operation.unit not in build.units:
        raise NoSuchUnit(operation.unit, "in this build")
    model = catalogue.model_of(operation.unit)
    wanted = {name: value for name in _SETTINGS if (value := getattr(operation, name)) is not None}
    _refuse_settings(operation, model)
    setting = replace(build.setting_of(operation.unit), **wanted)
    others = tuple(s for s in build.settings if s.unit != operation.unit)
    return replace(build, settings=(*others, setting) if setting != UnitSetting(unit=operation.unit) else others)


_SETTINGS = ("area", "focal_mm", "stop", "fps", "shutter_deg", "iso", "picture", "mode")


def _refuse_settings(operation: Adjust | UnitSetting, model: GearModel) -> None:
    """Raise NotAllowed for a setting that this model does not have."""
    areas = [area.id for area in model.body.areas] if model.body else []
    if operation.area is not None and operation.area not in areas:
        raise NotAllowed(
            f"{operation.unit} has no recorded area '{operation.area}'; it has: {', '.join(areas) or 'none'}."
        )
    pictures = [picture.id for picture in model.body.formats] if model.body else []
    if operation.picture is not None and operation.picture not in pictures:
        raise NotAllowed(
            f"{operation.unit} puts out no picture '{operation.picture}'; it has: {', '.join(pictures) or 'none'}."
        )
    modes = [mode.id for mode in model.gimbal.modes] if model.gimbal else []
    if operation.mode is not None and operation.mode not in modes:
        raise NotAllowed(f"{operation.unit} has no mode '{operation.mode}'; it has: {', '.join(modes) or 'none'}.")
    if model.body is None and any((operation.fps, operation.shutter_deg, operation.iso)):
        raise NotAllowed(f"{operation.unit} is no body; frame rate, shutter and sensitivity are set on one.")
    if (
        operation.iso is not None
        and model.body
        and model.body.iso
        and not model.body.iso[0] <= operation.iso <= model.body.iso[1]
    ):
        raise NotAllowed(
            f"{operation.unit} goes from ISO {model.body.iso[0]:.0f} to {model.body.iso[1]:.0f}; ISO"
            f" {operation.iso:.0f} is outside."
        )
    if model.lens is None:
        if operation.focal_mm is not None or operation.stop is not None:
            raise NotAllowed(f"{operation.unit} is no lens and has no focal length or aperture.")
        return
    low, high = model.lens.focal_mm
    if operation.focal_mm is not None and not low <= operation.focal_mm <= high:
        raise NotAllowed(f"{operation.unit} goes from {low:g} to {high:g} mm; {operation.focal_mm:g} mm is outside.")
    if operation.stop is not None and operation.stop < model.lens.stop:
        raise NotAllowed(f"{operation.unit} opens to f/{model.lens.stop:g}; f/{operation.stop:g} is wider.")


def check_setting(build: Build, setting: UnitSetting, catalogue: Catalogue) -> None:
    """Raise NoSuchUnit for a setting of a unit that is not in the build,
    NotAllowed for one that its model does not have.
    """
    if setting.unit not in build.units:
        raise NoSuchUnit(setting.unit, "in this build, though a setting names it")
    _refuse_settings(setting, catalogue.model_of(setting.unit))


def check_held(build: Build, catalogue: Catalogue) -> None:
    """Raise what HoldBy raises when the build is held by something that does not hold."""
    _hold(build, HoldBy(unit=build.held_by), catalogue)


def _settings_said(operation: Adjust) -> list[str]:
    said = {
        "area": "area {}",
        "focal_mm": "{:g} mm",
        "stop": "f/{:.1f}",
        "fps": "{:g} fps",
        "shutter_deg": "{:g}°",
        "iso": "ISO {:.0f}",
        "picture": "picture {}",
        "mode": "mode {}",
    }
    return [words.format(value) for name, words in said.items() if (value := getattr(operation, name)) is not None]


def describe(operation: Operation, catalogue: Catalogue) -> str:
    """One line for people, as in 'Attach MON-2 to CAGE-1, top shoe'."""

    def port_name(unit: str, port_id: str) -> str:
        return f"{unit}, {catalogue.model_of(unit).port(port_id, unit).label}"

    match operation:
        case Attach():
            return f"Attach {operation.unit} to {port_name(operation.onto, operation.onto_port)}"
        case Move():
            return f"Move {operation.unit} to {port_name(operation.onto, operation.onto_port)}"
        case Wear():
            return f"Hang {operation.unit} on the operator's belt"
        case Detach():
            return f"Take off {operation.unit}"
        case Replace():
            return f"Put {operation.by} in place of {operation.unit}"
        case SlideTo():
            return f"Slide {operation.unit} to {signed(operation.to_mm, 0)} mm"
        case Turn():
            return f"Turn {operation.unit}"
        case BendTo():
            name = catalogue.model_of(operation.unit).hinge_names()[operation.hinge]
            return f"Bend {operation.unit}, {name}, to {signed(operation.to_deg, 0)}°"
        case Connect():
            return (
                f"Run {operation.cable} from {port_name(operation.from_unit, operation.from_port)} to"
                f" {port_name(operation.to_unit, operation.to_port)}"
            )
        case Disconnect():
            return f"Take off cable {operation.cable}"
        case Adjust():
            return f"Set {operation.unit} to {', '.join(_settings_said(operation))}"
        case CarryAs():
            return f"Carry it {operation.use}" if operation.use else "Carry it as usual"
        case HoldBy():
            return f"Hold it by {operation.unit}" if operation.unit else "Hold it by its outermost support"
        case OffBetween():
            return "Switch it off between takes" if operation.off else "Leave it on between takes"
        case GripAs():
            return f"Hold it '{operation.grip}'" if operation.grip else "Hold it as usual"
        case KeepPreset():
            return f"Keep its settings as '{operation.label}'"
        case UsePreset():
            return f"Set it to '{operation.label}'"
        case DropPreset():
            return f"Forget the preset '{operation.label}'"
        case Strip():
            return "Strip to the bare body"
