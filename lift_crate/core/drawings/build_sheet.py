"""The build sheet: in which order a rig goes together, with what tool, and what to look at; reversed to strike it.

From the body outwards, as the work is done: cage, plates, handle, grip, rods, lens
with its adapters joined first, support, focus, matte box and filters, arms and
monitors, receivers, microphones, plates and packs; then the support it goes on;
cables last.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..gear.interface import Interface
from ..gear.model import Port
from ..rig.assembly import Assembly
from ..rig.build import Joint
from ..stand import Stand
from ..verdict.judge import Whole
from ..wording import signed

__all__ = ["BuildSheet", "Step", "build_order", "build_sheet", "tool_of"]

_ORDER = (
    "mount plate",
    "cage",
    "riser",
    "base plate",
    "release plate",
    "head plate",
    "handle",
    "grip",
    "rods",
    "lens adapter",
    "lens",
    "lens support",
    "lens motor",
    "step-up ring",
    "adapter",
    "matte box",
    "filter",
    "counterweight",
    "arm",
    "monitor",
    "video transmitter",
    "receiver",
    "microphone",
    "mixer",
    "timecode box",
    "light",
    "battery plate",
    "pack",
)
_LOOK_AT = {
    "cage": "no play between cage and body",
    "base plate": "pins seated, screw tight",
    "rods": "both rods in to the same depth, level",
    "lens": "release pin clicked; turn the lens, it must not move",
    "lens support": "touches the barrel and lifts nothing",
    "lens motor": "gear meshes over the whole turn without play",
    "matte box": "square to the lens; no light leaks at the ring",
    "filter": "clean on both sides, seated all round",
    "arm": "holds with a hand's weight on its end",
    "battery plate": "lock snapped",
    "pack": "lock snapped; charge read",
    "monitor": "does not turn when pushed at a corner",
    "shoulder pad": "locked; second catch on",
    "head": "plate locked; second catch on",
    "gimbal": "clamp locked; axes locked; power off",
    "lens adapter": "locked to the lens before both go on",
}


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to do: what, onto what, how it is set, the tool and a
    hint for its torque, what to look at, what to mind.
    """

    number: int
    kind: str
    unit: str
    title: str
    onto: str
    place: str
    set_to: str
    tool: str
    torque_nm: float | None
    look_at: str
    mind: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class BuildSheet:
    """Steps to build, the same backwards to strike, and the tools to have at hand."""

    build: tuple[Step, ...]
    strike: tuple[Step, ...]
    tools: tuple[str, ...]


def build_sheet(judged: Whole) -> BuildSheet:
    """The sheet of a judged build."""
    stand = judged.stand
    steps = [
        *_parts(judged, _in_order(stand.assembly)),
        *_worn(stand.assembly),
        *_cables(stand),
    ]
    numbered = tuple(_numbered(steps))
    strike = tuple(_numbered(list(reversed(numbered))))
    return BuildSheet(numbered, strike, tuple(dict.fromkeys(step.tool for step in numbered if step.tool)))


def _numbered(steps: list[Step]) -> Iterator[Step]:
    for number, s in enumerate(steps, 1):
        yield Step(number, s.kind, s.unit, s.title, s.onto, s.place, s.set_to, s.tool, s.torque_nm, s.look_at, s.mind)


def build_order(assembly: Assembly) -> tuple[str, ...]:
    """Mounted units in the order of the work."""
    return tuple(joint.child for joint in _in_order(assembly))


def _in_order(assembly: Assembly) -> list[Joint]:
    """Joints in the order of the work; a part never comes before what it sits on."""
    rank = {kind: i for i, kind in enumerate(_ORDER)}
    beyond = assembly.layout.beyond_support

    def when(joint: Joint) -> tuple[int, int]:
        kind = assembly.catalogue.model_of(joint.child).kind
        return (1 if joint.child in beyond else 0), rank.get(kind, len(_ORDER))

    placed, waiting, ordered = {assembly.build.body}, list(assembly.joints), []
    while waiting:
        ready = [joint for joint in waiting if joint.parent in placed]
        following = min(ready, key=when)
        waiting.remove(following)
        placed.add(following.child)
        ordered.append(following)
    return ordered


def _parts(judged: Whole, joints: list[Joint]) -> Iterator[Step]:
    assembly = judged.stand.assembly
    ports = {joint.child: (parent, child) for joint, parent, child in assembly.joint_ports}
    for joint in joints:
        parent, child = ports[joint.child]
        model = assembly.catalogue.model_of(joint.child)
        interface = assembly.catalogue.interfaces[parent.interface]
        yield Step(
            0,
            model.kind,
            joint.child,
            model.title,
            joint.parent,
            parent.label,
            ", ".join(part for part in (_set_to(joint, parent, child), bends_said(assembly, joint.child)) if part),
            tool_of(parent, child, interface),
            interface.torque_nm,
            _LOOK_AT.get(model.kind, ""),
            tuple(_mind(judged, joint)),
        )


def tool_of(parent: Port, child: Port, interface: Interface) -> str:
    """What a joint is made fast with: as its ports say, else as is usual for the interface; empty: by hand."""
    return child.tool if child.tool is not None else parent.tool if parent.tool is not None else interface.tool


def _worn(assembly: Assembly) -> Iterator[Step]:
    """What goes on the operator's belt, each thing before what is mounted on it."""
    layout, models = assembly.layout, assembly.catalogue
    joints = {child: (parent, ports) for child, parent, ports in layout.worn_joints}
    for unit in layout.worn:
        parent, ports = joints.get(unit, ("the operator", None))
        interface = models.interfaces[ports[0].interface] if ports else None
        yield Step(
            0,
            models.model_of(unit).kind,
            unit,
            models.model_of(unit).title,
            parent,
            ports[0].label if ports else "belt",
            "",
            interface.tool if interface else "",
            interface.torque_nm if interface else None,
            _LOOK_AT.get(models.model_of(unit).kind, "") if ports else "sits firm; walk a few steps with it",
            (),
        )


def _set_to(joint: Joint, parent: Port, child: Port) -> str:
    said = []
    if parent.slide or child.slide:
        said.append(f"slide {signed(joint.slide_mm, 0)} mm" if abs(joint.slide_mm) >= 0.5 else "slide at 0 mm")
    if joint.spin_deg % 360:
        said.append(f"turned {joint.spin_deg % 360:g}°")
    return ", ".join(said)


def bends_said(assembly: Assembly, unit: str) -> str:
    """How an arm is bent, for people; nothing of one that is straight."""
    deg = assembly.build.bend_of(unit)
    names = assembly.catalogue.model_of(unit).hinge_names()
    return ", ".join(f"{name} {signed(d, 0)}°" for name, d in zip(names, deg, strict=False) if d)


def _mind(judged: Whole, joint: Joint) -> Iterator[str]:
    assembly = judged.stand.assembly
    models = assembly.catalogue
    for covered in judged.stand.clashes.covered:
        if covered.room.keep and covered.by == joint.child:
            yield f"first see to the {covered.room.label} of {covered.room.unit}: {joint.child} covers it"
    if models.model_of(joint.parent).adapter and models.model_of(joint.child).lens:
        yield f"join {joint.child} and {joint.parent} on the bench, then mount both"
    heavy, _ = assembly.load_of(joint.child)
    if models.model_of(joint.child).support and heavy > 2000:
        yield f"{heavy / 1000:.1f} kg: two hands, and a second catch before letting go"
    stops = [
        f.call_out.title
        for f in judged.findings
        if f.level.name == "STOP" and f.about.units and f.about.units[0] == joint.child
    ]
    for title in dict.fromkeys(stops):
        yield f"open Stop: {title.lower()}"


def _cables(stand: Stand) -> Iterator[Step]:
    assembly = stand.assembly
    screens = {plug.link.cable for plug, _ in stand.clashes.stopped_screens if plug.link}
    # Cables that stay on the camera first; those over a gimbal's axes when it hangs.
    for route in sorted(stand.routes, key=lambda r: r.crosses):
        link = route.link
        mind = []
        if link.cable in screens:
            mind.append("flip the screen first, then plug")
        if route.crosses:
            mind.append("leave a loose loop over the axes; balance with it plugged in")
        if route.clamp_at:
            mind.append(f"clamp or tape at {' and '.join(route.clamp_at)}")
        yield Step(
            0,
            "cable",
            link.cable,
            assembly.catalogue.model_of(link.cable).title,
            f"{link.from_unit} → {link.to_unit}",
            f"{route.ends[0].label} → {route.ends[1].label}",
            f"{route.cable.length_mm:.0f} mm for {route.straight_mm:.0f} mm straight",
            "",
            None,
            "tug gently at both ends",
            tuple(mind),
        )
