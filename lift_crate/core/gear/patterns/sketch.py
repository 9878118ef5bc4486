"""A model being drawn up: solids, ports on faces, and what was derived."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, TypedDict, Unpack

from ...geometry import Vec3
from ..electrical import Electrical, Signal
from ..interface import Gender, Interface
from ..model import GearModel, Port, Slide
from ..solids import Block, GimbalStage, KeepClear, Look, Round
from .question import Answers, BadAnswers, Known, Question

__all__ = [
    "FACES",
    "POINTS",
    "POWER_IN",
    "POWER_OUT",
    "SIGNALS",
    "Box",
    "Face",
    "Made",
    "Pattern",
    "Sketch",
    "made_of",
    "num",
    "plug_of",
    "socket_of",
]

Face = Literal["front", "rear", "left", "right", "top", "bottom"]
FACES: Mapping[str, tuple[Vec3, Vec3]] = {
    "front": ((1, 0, 0), (0, 0, 1)),
    "rear": ((-1, 0, 0), (0, 0, 1)),
    "left": ((0, 1, 0), (0, 0, 1)),
    "right": ((0, -1, 0), (0, 0, 1)),
    "top": ((0, 0, 1), (1, 0, 0)),
    "bottom": ((0, 0, -1), (1, 0, 0)),
}
"""Normal and up of each face, x forward, y left, z up."""
_FACE_NAMES = tuple(FACES)
Box = tuple[Vec3, Vec3]
_STEP_MM = 19.0
"""Between sockets that lie beside each other on a face, middle to middle."""


class _Asked(TypedDict, total=False):
    required: bool
    more: bool
    feeds: str
    field: str


class _PortData(TypedDict, total=False):
    slide: Slide | None
    anti_twist: bool
    load_n: float | None
    takes: int
    grip_mm: float
    length_mm: float | None
    electrical: Electrical
    signal: Signal
    stage: GimbalStage | None


def num(
    key: str, label: str, unit: str, low: float, high: float, typical: float | None = None, **asked: Unpack[_Asked]
) -> Question:
    """A question for a number."""
    return Question(key=key, label=label, unit=unit, low=low, high=high, typical=typical, **asked)


_PLUGS: tuple[Literal["power", "battery"], ...] = ("power", "battery")
POINTS = (
    Question(
        key="what",
        label="Kind",
        kind="choice",
        choices=("1/4-20 socket", "1/4-20 socket with pins", "3/8-16 socket", "M4 socket", "shoe", "21 mm rail"),
    ),
    Question(key="face", label="Face", kind="choice", choices=_FACE_NAMES, typical="top"),
    num("x", "Forward", "mm", -600, 600, 0.0),
    num("y", "Left", "mm", -600, 600, 0.0),
    num("z", "Up", "mm", -600, 600, 0.0),
    num("length_mm", "Rail length", "mm", 20, 600, 60.0),
    num("load_n", "Rated load", "N", 1, 2000),
)
"""Threads, shoes and rails: where each is from the middle of its face."""
POWER_IN = (
    Question(key="plug", label="Socket", kind="interface", families=_PLUGS),
    num("min_v", "From", "V", 3, 50),
    num("max_v", "To", "V", 3, 60),
    num("max_a", "At most", "A", 0.1, 40),
    Question(key="face", label="Face", kind="choice", choices=_FACE_NAMES, typical="left"),
    Question(key="polarity", label="Polarity", kind="choice", choices=("standard", "reversed")),
)
POWER_OUT = (
    Question(key="plug", label="Socket", kind="interface", families=("power",)),
    num("output_v", "Gives", "V", 3, 50),
    num("max_a", "At most", "A", 0.1, 40),
    Question(key="face", label="Face", kind="choice", choices=_FACE_NAMES, typical="left"),
)
"""Outlets: without volts of its own one passes on what it gets."""
SIGNALS = (
    Question(key="socket", label="Socket", kind="interface", families=("signal", "audio", "timecode", "control")),
    Question(key="way", label="Way", kind="choice", choices=("out", "in", "both")),
    num("gbps", "Carries", "Gb/s", 0.1, 100),
    Question(key="level", label="Sound level", kind="choice", choices=("mic", "line", "mic and line")),
    Question(key="phantom", label="48 V", kind="choice", choices=("no", "gives", "needs")),
    Question(key="face", label="Face", kind="choice", choices=_FACE_NAMES, typical="left"),
)
_THREADS = {
    "1/4-20 socket": ("thread-1/4-20", "1/4-20 socket", False),
    "1/4-20 socket with pins": ("thread-1/4-20", "1/4-20 socket with pins", True),
    "3/8-16 socket": ("thread-3/8-16", "3/8-16 socket", False),
    "M4 socket": ("thread-m4", "M4 socket", False),
    "shoe": ("shoe", "shoe", False),
}
_CLAMP_MM = 28.0
"""What a clamp on an accessory rail takes of it."""
_MALE_WHERE_IT_SENDS = ("xlr-3", "mini-xlr")
_WHAT: Mapping[str, Literal["picture", "sound", "timecode", "control"]] = {
    "signal": "picture",
    "audio": "sound",
    "timecode": "timecode",
    "control": "control",
}


def socket_of(interface: Interface, way: str) -> Gender:
    """The half that a device has: female, but where the standard has it otherwise, as on XLR."""
    if interface.id == "xlr-4":
        return "male" if way == "in" else "female"
    if interface.id in _MALE_WHERE_IT_SENDS:
        return "male" if way == "out" else "female"
    return "female"


def plug_of(interface: Interface, way: str) -> Gender:
    """The half that a cable has for a device's socket of that way."""
    return "male" if socket_of(interface, way) == "female" else "female"


@dataclass
class Sketch:
    """Solids and ports as they are added, x forward, y left, z up, mm."""

    shapes: list[Block | Round] = field(default_factory=list)
    ports: list[Port] = field(default_factory=list)
    rooms: list[KeepClear] = field(default_factory=list)
    _laid: dict[str, int] = field(default_factory=dict)

    def box(
        self,
        x: tuple[float, float],
        y: tuple[float, float],
        z: tuple[float, float],
        look: Look = "body",
        stage: GimbalStage | None = None,
    ) -> Box:
        """Add a box; its lowest and highest corner."""
        block: Box = ((x[0], y[0], z[0]), (x[1], y[1], z[1]))
        self.shapes.append(Block(block=block, look=look, stage=stage))
        return block

    def tube(
        self,
        a: Vec3,
        b: Vec3,
        radius_mm: float,
        end_radius_mm: float | None = None,
        look: Look = "body",
        stage: GimbalStage | None = None,
    ) -> None:
        """Add a barrel between two points."""
        self.shapes.append(
            Round(barrel=(a, b), radius_mm=radius_mm, end_radius_mm=end_radius_mm, look=look, stage=stage)
        )

    def port(
        self, id_: str, label: str, interface: str, gender: Gender, at: Vec3, face: str, **data: Unpack[_PortData]
    ) -> None:
        """Add a port that looks out of a face."""
        n, u = FACES[face]
        self.ports.append(Port(id=id_, label=label, interface=interface, gender=gender, at=at, n=n, u=u, **data))

    def keep(
        self,
        id_: str,
        label: str,
        kind: Literal["card door", "battery door", "screen", "fan", "release"],
        x: Sequence[float],
        y: Sequence[float],
        z: Sequence[float],
    ) -> None:
        """Keep a room clear."""
        self.rooms.append(KeepClear(id=id_, label=label, kind=kind, block=((x[0], y[0], z[0]), (x[1], y[1], z[1]))))

    def free_id(self, wanted: str) -> str:
        """``wanted``, or the first of ``wanted-2``, ``wanted-3`` … that no port has."""
        ids, name, n = {p.id for p in self.ports}, wanted, 2
        while name in ids:
            name, n = f"{wanted}-{n}", n + 1
        return name

    def points(self, answers: Answers, key: str, box: Box, stage: GimbalStage | None = None) -> None:
        """Threads, shoes and rails of a list, each on its face of ``box``."""
        for row in answers.rows(key):
            what, face = row.choice("what"), row.choice("face")
            offset = (row.number("x"), row.number("y"), row.number("z"))
            at = self._on_face(row, box, face, offset)
            load = row.maybe("load_n")
            if what == "21 mm rail":
                length = row.number("length_mm")
                axis = (0.0, 1.0, 0.0) if face in ("front", "rear") else (1.0, 0.0, 0.0)
                room = max(0.0, (length - _CLAMP_MM) / 2)
                self.port(
                    self.free_id(f"{face}-rail"),
                    f"{face} rail",
                    "rail-21",
                    "male",
                    at,
                    face,
                    slide=Slide(axis=axis, min_mm=-room, max_mm=room),
                    length_mm=length,
                    takes=2 if room >= _CLAMP_MM else 1,
                    load_n=load,
                    stage=stage,
                )
                continue
            interface, label, pins = _THREADS[what]
            name = "shoe" if what == "shoe" else "socket"
            id_ = self.free_id(f"{face}-{name}")
            extra = id_.removeprefix(f"{face}-{name}").replace("-", " ")
            self.port(
                id_, f"{face} {label}{extra}", interface, "female", at, face, anti_twist=pins, load_n=load, stage=stage
            )

    def _on_face(self, row: Answers, box: Box, face: str, offset: Vec3) -> Vec3:
        n, _ = FACES[face]
        at = []
        for i, name in enumerate("xyz"):
            low, high = box[0][i], box[1][i]
            if n[i]:
                at.append(high if n[i] > 0 else low)
                continue
            middle, reach = (low + high) / 2, (high - low) / 2
            if abs(offset[i]) > reach + 1e-9:
                row.problem(
                    name, f"The {face} face reaches {reach:g} mm from its middle that way; {offset[i]:g} mm is off it."
                )
            at.append(middle + offset[i])
        return at[0], at[1], at[2]

    def spot(self, box: Box, face: str) -> Vec3:
        """The next free place for a socket on a face, in columns from the top."""
        n, u = FACES[face]
        k = self._laid.get(face, 0)
        self._laid[face] = k + 1
        up = next(i for i in range(3) if u[i])
        across = next(i for i in range(3) if not n[i] and not u[i])
        tall, wide = box[1][up] - box[0][up], box[1][across] - box[0][across]
        column_of = max(1, int((tall - 12) // _STEP_MM) + 1)
        row, column = k % column_of, k // column_of
        at = [0.0, 0.0, 0.0]
        for i in range(3):
            if n[i]:
                at[i] = box[1][i] if n[i] > 0 else box[0][i]
        at[up] = max(box[0][up] + min(tall / 2, 3), box[1][up] - min(12.0, tall / 2) - row * _STEP_MM)
        at[across] = min(box[1][across] - min(3, wide / 2), box[0][across] + min(14.0, wide / 2) + column * _STEP_MM)
        return at[0], at[1], at[2]

    def power_in(self, answers: Answers, key: str, box: Box) -> None:
        """Inputs of a list: plates and slots in the middle of their face, sockets beside each other."""
        for row in answers.rows(key):
            plug, face = row.interface("plug"), row.choice("face")
            at = _middle(box, face) if plug.kind == "battery" else self.spot(box, face)
            min_v, max_v = row.maybe("min_v"), row.maybe("max_v")
            if min_v is not None and max_v is not None and min_v >= max_v:
                row.problem("max_v", f"{min_v:g} to {max_v:g} V: the lower voltage comes first.")
            self.port(
                self.free_id("plate" if plug.kind == "battery" else "dc"),
                f"{plug.label}" if plug.kind == "battery" else f"power in, {plug.label}",
                plug.id,
                socket_of(plug, "in"),
                at,
                face,
                electrical=Electrical(
                    role="in",
                    min_v=min_v,
                    max_v=max_v,
                    cutoff_v=min_v,
                    max_a=row.maybe("max_a"),
                    polarity=row.choice("polarity"),
                ),
            )

    def power_out(self, answers: Answers, key: str, box: Box) -> None:
        """Outlets of a list."""
        for row in answers.rows(key):
            plug, volts, face = row.interface("plug"), row.maybe("output_v"), row.choice("face")
            said = f"{volts:g} V outlet" if volts else "outlet"
            self.port(
                self.free_id("out"),
                f"{said}, {plug.label}",
                plug.id,
                socket_of(plug, "out"),
                self.spot(box, face),
                face,
                electrical=Electrical(
                    role="out", output_v=volts, efficiency=0.93 if volts else 1.0, max_a=row.maybe("max_a")
                ),
            )

    def signals(self, answers: Answers, key: str, box: Box) -> None:
        """Sockets for pictures, sound, timecode and control."""
        for row in answers.rows(key):
            socket, way, face = row.interface("socket"), row.choice("way"), row.choice("face")
            what = _WHAT.get(socket.kind, "control")
            levels: tuple[Literal["mic", "line"], ...] = ()
            if what == "sound":
                levels = {"mic": ("mic",), "line": ("line",)}.get(row.choice("level"), ("mic", "line"))  # type: ignore[assignment]  # the two words
            self.port(
                self.free_id(f"{what}-{way}"),
                f"{socket.label} {way}" if way != "both" else socket.label,
                socket.id,
                socket_of(socket, way),
                self.spot(box, face),
                face,
                signal=Signal(
                    role=way,  # type: ignore[arg-type]  # one of its choices
                    what=what,
                    max_gbps=row.maybe("gbps") if what == "picture" else None,
                    level=levels,
                    phantom=row.choice("phantom") if what == "sound" else "no",  # type: ignore[arg-type]  # one of its choices
                ),
            )


def _middle(box: Box, face: str) -> Vec3:
    n, _ = FACES[face]
    x, y, z = ((box[1][i] if n[i] > 0 else box[0][i]) if n[i] else (box[0][i] + box[1][i]) / 2 for i in range(3))
    return x, y, z


@dataclass(frozen=True, slots=True)
class Made:
    """What a pattern made: a model, the interfaces it needs that are new, and what is to be asked once more."""

    model: GearModel
    interfaces: tuple[Interface, ...]
    doubts: tuple[tuple[str, str], ...]


Drawn = Mapping[str, Any]
"""Fields of the model besides those common to all; ``derived``: places that were derived."""


@dataclass(frozen=True, kw_only=True)
class Pattern:
    """A kind of gear: what it is called, what it asks, and how a model follows."""

    id: str
    label: str
    group: str
    questions: tuple[Question, ...]
    draw: Callable[[Answers, Sketch], Drawn]

    @property
    def asked(self) -> tuple[Question, ...]:
        """The questions of every kind, and then its own."""
        return (*_COMMON[:2], *self.questions, *_COMMON[2:])


_COMMON = (
    Question(key="name", label="Name", kind="text", required=True, field="name"),
    Question(key="maker", label="Maker", kind="text", field="maker"),
    Question(
        key="figures",
        label="Mass from",
        kind="choice",
        choices=("data sheet", "own scale"),
        feeds="spread of every total",
        more=True,
    ),
    num("price", "Price", "", 0, 1_000_000, more=True, feeds="cost", field="price"),
    num("hire_per_day", "Hire a day", "", 0, 100_000, more=True, feeds="cost", field="hire_per_day"),
    Question(key="note", label="Note", kind="text", more=True, field="note"),
)


def mass(low: float, high: float, typical: float | None) -> Question:
    """The question for the mass, without pack and card."""
    return num("mass_g", "Mass", "g", low, high, typical, feeds="every total", field="mass_g")


def made_of(pattern: Pattern, given: Mapping[str, Any], known: Known, id_: str) -> Made:
    """The model that answers make; raises BadAnswers with everything that is wrong with them."""
    answers, sketch = Answers(pattern.asked, given, known), Sketch()
    drawn = dict(pattern.draw(answers, sketch))
    derived = tuple(drawn.pop("derived", ()))
    weighed = drawn.pop("mass_g", None)
    mass_g, source = weighed, "assumed"
    if "mass_g" in {q.key for q in pattern.questions} and (weighed is None or answers.is_known("mass_g")):
        asked = next(q for q in pattern.questions if q.key == "mass_g")
        mass_g = answers.maybe("mass_g") if asked.typical is None else answers.number("mass_g")
        if answers.is_known("mass_g"):
            source = "measured" if answers.choice("figures") == "own scale" else "catalogue"
    common: dict[str, Any] = {
        "name": answers.text("name"),
        "maker": answers.text("maker"),
        "price": answers.maybe("price"),
        "hire_per_day": answers.maybe("hire_per_day"),
        "note": answers.text("note"),
    }
    answers.close()
    try:
        model = GearModel(
            id=id_,
            mass_g=mass_g,
            mass_source=source,  # type: ignore[arg-type]  # one of the three
            cg_source="assumed",
            shapes=tuple(sketch.shapes),
            ports=tuple(sketch.ports),
            keep_clear=tuple(sketch.rooms),
            assumed=tuple(dict.fromkeys((*answers.assumed, *derived))),
            **common,
            **drawn,
        )
    except ValueError as error:
        raise BadAnswers([("", str(error))]) from None
    return Made(model, answers.made, answers.doubts)
