"""What goes along to a job: it follows from builds, packs, cards, sound, spares, tools and what people need.

Every thing says why it goes, when it is wanted first, what it weighs and in which box it lies. mm, g, Wh.
Formulas: docs/formulas.md §16, 'What goes along'.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from datetime import datetime

from ..day.laid_out import LaidOut
from ..drawings.build_sheet import tool_of
from ..gear.model import GearModel
from ..geometry import Vec3
from ..job.job import Job
from ..job.packing import EXTRA
from ..rig.build import Catalogue
from ..swaps.day import days_of

__all__ = ["ADDED", "PEOPLE", "Thing", "bundle_mm", "coil_mm", "goes_along", "packed_size", "people_of"]

_CABLE_MM: Mapping[str, float] = {"thin": 4.0, "ordinary": 6.0, "stiff": 8.0}
_COIL_MM, _WIDER_PER_M, _WIDEST_MM, _COIL_FILL = 120.0, 6.0, 350.0, 0.7
"""A coil of a cable: how wide a short one is, how much wider by every metre, at most; and how full its ring is."""
_WARM_C, _COLD_C, _SUN_EV, _DARK_EV = 25.0, 10.0, 14.0, 4.0
_MEAL_H = 5.0
_NO_TOOLS = frozenset({"by hand", "thumb screw", "lever"})
ADDED = "added"
"""The group of what somebody added by hand."""
PEOPLE = "people"
"""The group of what people carry themselves: it is dealt to no case unless somebody puts it there."""
_TIES_PER_CABLE = 2


@dataclass(frozen=True, kw_only=True)
class Thing:
    """Something that goes along: a unit of the shelf, or so many pieces of something without a label."""

    id: str
    title: str
    kind: str
    count: int = 1
    mass_g: float | None
    """Of all its pieces."""
    mass_from: str
    size_mm: Vec3 | None
    """The box that it lies in, longest first, all pieces together."""
    size_from: str
    """'packed size', 'outline', 'coiled, assumed', 'entered', 'rule of thumb'; empty: nobody knows."""
    whys: tuple[str, ...]
    first: datetime | None = None
    """When it is wanted first; None: nobody waits for it."""
    first_for: str = ""
    group: str = ""
    """What it belongs with: a camera, charging, cards, sound, tools, people."""
    wh: float | None = None
    """Energy of a pack by itself."""

    @property
    def labelled(self) -> bool:
        """It is a unit of the shelf, with a label of its own."""
        return not self.id.startswith(EXTRA)

    @property
    def called(self) -> str:
        """What it is called: its label, or what it is."""
        return self.id if self.labelled else self.title

    @property
    def litres(self) -> float:
        """Room it takes; 0 where nobody knows."""
        return math.prod(self.size_mm) / 1e6 if self.size_mm else 0.0


@dataclass
class _Found:
    """A unit while it is found: why it goes, first when and for what."""

    whys: dict[str, None] = field(default_factory=dict)
    first: datetime | None = None
    first_for: str = ""
    group: str = ""


def people_of(job: Job) -> int:
    """How many people are there: all that are named, and no fewer than the hands that swap packs."""
    return max(len(job.people), job.charging.hands, 1)


def goes_along(job: Job, catalogue: Catalogue, day: LaidOut) -> tuple[Thing, ...]:
    """Everything that goes along, first wanted first, then by what it belongs with."""
    found: dict[str, _Found] = {}
    for group, unit, why, first in (*_in_builds(day), *_beside(job), *_cards(catalogue, day)):
        _note(found, group, unit, why, first)
    _packs(found, catalogue)
    _spares(found, day)
    cases = {case.unit for case in job.pack.cases}
    things = [_unit(name, f, catalogue) for name, f in found.items() if name in catalogue.units and name not in cases]
    things += [*_tools(day), *_people(job), *_typed(job)]
    late = datetime.max.replace(tzinfo=job.clock)
    return tuple(sorted(things, key=lambda t: (t.first or late, t.group, t.kind, t.id)))


def _note(found: dict[str, _Found], group: str, unit: str, why: str, first: datetime | None) -> None:
    known = found.setdefault(unit, _Found(group=group))
    known.whys[why] = None
    if first and (known.first is None or first < known.first):
        known.first, known.first_for, known.group = first, why, group


_Line = tuple[str, str, str, datetime | None]


def _in_builds(day: LaidOut) -> Iterator[_Line]:
    for cell in day.table.cells:
        for unit in cell.build.units:
            yield cell.rig.label, unit, f"{cell.rig.label}, {cell.part.label}", cell.part.starts


def _beside(job: Job) -> Iterator[_Line]:
    parts = {part.id: part for part in job.parts}
    charging = {place.unit for place in job.charging.chargers} | {box.unit for box in job.charging.boxes}
    cases = {case.unit for case in job.pack.cases}
    for unit, part, what in job.claims_beside():
        if unit not in cases:
            group = "charging" if unit in charging else "sound"
            yield group, unit, f"{what}, {parts[part].label}", parts[part].starts


def _cards(catalogue: Catalogue, day: LaidOut) -> Iterator[_Line]:
    slots = set()
    for line in day.media.lines:
        slots.add(line.takes)
        for piece in line.pieces:
            if piece.card:
                yield "cards", piece.card, f"card of {line.rig.label}, {line.part.label}", line.part.starts
    ends = max((part.ends for part in (line.part for line in day.media.lines)), default=None)
    wanted = max((copies.wanted_gb for copies in day.media.copies), default=0.0)
    for unit in catalogue.shelf:
        data = catalogue.model_of(unit.id).card
        if unit.condition == "out of use" or data is None:
            continue
        if data.gb is None and data.slot in slots:
            yield "cards", unit.id, f"reads {data.slot}", ends
        elif catalogue.model_of(unit.id).kind == "drive" and wanted > 0:
            yield "cards", unit.id, "copies of the day", ends


def _packs(found: dict[str, _Found], catalogue: Catalogue) -> None:
    """Every pack of a model that is in use goes along: the day's swaps count on it."""
    models = {catalogue.unit(u).model for u in found if u in catalogue.units and catalogue.model_of(u).pack}
    for unit in catalogue.shelf:
        if unit.model in models and unit.condition != "out of use" and unit.id not in found:
            _note(found, "charging", unit.id, "to swap", None)


def _spares(found: dict[str, _Found], day: LaidOut) -> None:
    for pool in day.pool.models:
        for held in pool.units:
            if held.spare and held.stops and held.unit in found:
                _note(found, found[held.unit].group, held.spare, f"spare for {held.unit}", None)


def _unit(name: str, f: _Found, catalogue: Catalogue) -> Thing:
    model = catalogue.model_of(name)
    grams, source = catalogue.mass_of(name)
    size, size_from = packed_size(model)
    return Thing(
        id=name,
        title=model.title,
        kind=model.kind,
        mass_g=grams,
        mass_from=source if grams is not None else "",
        size_mm=size,
        size_from=size_from,
        whys=tuple(f.whys),
        first=f.first,
        first_for=f.first_for,
        group=f.group,
        # A pack that is built in goes with its thing; carriers count spares.
        wh=model.pack.energy_wh if model.pack and model.kind == "pack" else None,
    )


def packed_size(model: GearModel) -> tuple[Vec3 | None, str]:
    """The box that a thing of this model lies in, mm, longest first, and where that comes from."""
    if model.packed_mm:
        return _longest_first(model.packed_mm), "packed size"
    if model.cable:
        return coil_mm(model.cable.length_mm, _CABLE_MM.get(model.cable.stiffness, 6.0)), "coiled, assumed"
    low, high = model.bounds
    size = tuple(float(x) for x in high - low)
    if min(size) > 0:
        return _longest_first((size[0], size[1], size[2])), "outline"
    return None, ""


def coil_mm(length_mm: float, thick_mm: float) -> Vec3:
    """A cable coiled up, mm: as wide as its length asks, as high as its turns lie in a ring that is filled to 70 %.

    6 mm thick, 1 m: 126 mm wide, 3.2 turns, 12.7 mm high.
    """
    wide = min(_COIL_MM + _WIDER_PER_M * length_mm / 1000, _WIDEST_MM)
    turns = length_mm / (math.pi * 0.8 * wide)
    high = max(thick_mm, math.sqrt(max(turns, 1.0) * thick_mm**2 / _COIL_FILL))
    return (wide, wide, high)


def _longest_first(size: Vec3) -> Vec3:
    a, b, c = sorted(size, reverse=True)
    return (a, b, c)


def _tools(day: LaidOut) -> Iterator[Thing]:
    """Every tool that a joint of a planned build asks for, once for every camera that is built at the same time."""
    wanted: dict[str, dict[str, None]] = {}
    at_once: dict[tuple[str, str], set[str]] = {}
    for cell in day.table.cells:
        interfaces = cell.stand.assembly.catalogue.interfaces
        for _, parent, child in cell.stand.assembly.joint_ports:
            tool = tool_of(parent, child, interfaces[parent.interface])
            if tool and tool.casefold() not in _NO_TOOLS:
                wanted.setdefault(tool, {})[cell.rig.label] = None
                at_once.setdefault((tool, cell.part.id), set()).add(cell.rig.id)
    for tool, cameras in wanted.items():
        most = max(len(rigs) for (name, _), rigs in at_once.items() if name == tool)
        count = min(most, 4)
        yield _pieces(f"tool-{_slug(tool)}", tool[:1].upper() + tool[1:], "tool", count, 60.0, (160.0, 20.0, 12.0),
                      f"joints of {', '.join(cameras)}", "tools")  # fmt: skip
    links = len({link.cable for cell in day.table.cells for link in cell.build.links})
    if links:
        yield _pieces("ties", "Cable ties", "small part", 1, 2.0 * links * _TIES_PER_CABLE, (200.0, 40.0, 20.0),
                      f"{links * _TIES_PER_CABLE} for {links} cables", "tools")  # fmt: skip


def _people(job: Job) -> Iterator[Thing]:
    """Water, food and what the conditions ask for, by people and hours. Rules of thumb."""
    if not job.parts:
        return
    people, settings = people_of(job), job.settings
    hours, warm = 0.0, False
    for parts in days_of(job):
        starts, ends = min(p.starts for p in parts), max(p.ends for p in parts)
        hours += (ends - starts).total_seconds() / 3600 + settings.call_min / 60
        warm = warm or max(p.conditions.temperature_c for p in parts) >= _WARM_C
    litres = people * hours * settings.water_l_h * (2.0 if warm else 1.0)
    who = f"{people} people, {hours:.0f} h"
    yield _pieces("water", "Water, 1 l bottles", "food", math.ceil(litres), 1050.0, (270.0, 90.0, 90.0), who, PEOPLE)
    meals = people * max(1, math.floor(hours / _MEAL_H))
    yield _pieces("food", "Meals", "food", meals, 500.0, (180.0, 120.0, 60.0), f"{who}, one in {_MEAL_H:g} h", PEOPLE)
    outdoors = [p for p in job.parts if not p.conditions.indoors]
    coldest = min((p.conditions.temperature_c for p in job.parts), default=20.0)
    if coldest < _COLD_C:
        yield _pieces("warmth", "Gloves and a warm layer", "clothes", people, 600.0, (300.0, 220.0, 60.0),
                      f"{coldest:g} °C", PEOPLE)  # fmt: skip
    if any((p.conditions.light_ev or 0) >= _SUN_EV or p.conditions.temperature_c >= _WARM_C for p in outdoors):
        yield _pieces("shade", "Shade and sun cream", "clothes", math.ceil(people / 2), 1400.0, (900.0, 70.0, 70.0),
                      "sun or heat outdoors", PEOPLE)  # fmt: skip
    if any(p.conditions.light_ev is not None and p.conditions.light_ev < _DARK_EV for p in job.parts):
        yield _pieces("torch", "Head torches", "light", people, 90.0, (70.0, 50.0, 45.0), "dark", PEOPLE)
    if any(p.conditions.wet for p in job.parts):
        yield _pieces("rain", "Rain covers", "cover", len(job.rigs), 180.0, (220.0, 160.0, 40.0), "rain", PEOPLE)
    windy = any(p.conditions.blows_m_s > settings.wind_cover_m_s for p in outdoors)
    bare = sum(1 for v in job.sound.voices for source in v.sources if source.cover or windy)
    if bare:
        yield _pieces(
            "wind", "Wind covers", "cover", bare, 40.0, (120.0, 60.0, 60.0), "microphones in the wind", "sound"
        )


def _pieces(name: str, title: str, kind: str, count: int, each_g: float, each_mm: Vec3, why: str, group: str) -> Thing:
    return Thing(
        id=EXTRA + name,
        title=title,
        kind=kind,
        count=count,
        mass_g=each_g * count,
        mass_from="rule of thumb",
        size_mm=bundle_mm(each_mm, count),
        size_from="rule of thumb",
        whys=(why,),
        group=group,
    )


def bundle_mm(each_mm: Vec3, count: int) -> Vec3:
    """So many equal boxes side by side, in rows and layers, so that the longest side is as short as may be; mm."""
    best = (math.inf, math.inf, each_mm)
    for across in range(1, min(count, 12) + 1):
        for deep in range(1, min(math.ceil(count / across), 12) + 1):
            high = math.ceil(count / (across * deep))
            a, b, c = sorted((each_mm[0] * deep, each_mm[1] * across, each_mm[2] * high), reverse=True)
            best = min(best, (a, a * b * c, (a, b, c)))
    return best[2]


def _typed(job: Job) -> Iterator[Thing]:
    for extra in job.pack.extras:
        yield Thing(
            id=EXTRA + extra.id,
            title=extra.label,
            kind="extra",
            count=extra.count,
            mass_g=None if extra.each_g is None else extra.each_g * extra.count,
            mass_from="" if extra.each_g is None else "entered",
            size_mm=None if extra.size_mm is None else bundle_mm(extra.size_mm, extra.count),
            size_from="" if extra.size_mm is None else "entered",
            whys=(extra.note or "added by hand",),
            group=ADDED,
        )


def _slug(text: str) -> str:
    return "-".join("".join(c if c.isalnum() else " " for c in text.casefold()).split())
