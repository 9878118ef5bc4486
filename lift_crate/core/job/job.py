"""A job: parts of the day, rigs with their builds, and who is in which build when."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from functools import cached_property
from itertools import combinations
from typing import Annotated, Literal, TypeVar
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from annotated_types import MaxLen

from ..errors import LiftCrateError
from ..quantities import Count, Identifier, Label
from ..rig.build import Build, Catalogue, Claim, Conditions, Target
from ..settings import STRICT, Settings
from ..stand import stand_of
from ..verdict.judge import Whole, whole
from .charging import ChargingPlan
from .money import MoneyPlan
from .packing import PackPlan
from .permission import SafetyPlan
from .sight import target_of, walk_m
from .sound import SoundPlan
from .venue import Spot, Venue

__all__ = [
    "BESIDE",
    "LONGEST",
    "Assignment",
    "Job",
    "Moment",
    "NotInJob",
    "OutElsewhere",
    "PartOfDay",
    "Rig",
    "Scheme",
    "calmest",
    "claims_of_others",
    "evaluate_job",
]

T = TypeVar("T")
Scheme = Literal["", "single", "mirrored", "relay"]
OutElsewhere = Mapping[tuple[str, str], str]
"""By part of the day and unit the title of another job that has the unit then."""
BESIDE = "~"
"""Between a rig and one of its builds, in an address."""
NOT_THERE = "-"
"""In the place of a build: none."""
LONGEST = timedelta(hours=48)
"""A part of the day lasts no longer: a plan of swaps in steps ends."""


class NotInJob(LiftCrateError, LookupError):
    """A rig, build or part of the day that this job does not have."""

    code = "job.unknown"

    def __init__(self, what: str, name: str) -> None:
        self.what, self.name = what, name

    def __str__(self) -> str:
        return f"This job has no {self.what} '{self.name}'."


class JobRefused(LiftCrateError, ValueError):
    """An edit that makes no sense in this job."""

    code = "job.refused"


@dataclass(frozen=True, kw_only=True)
class Moment:
    """A one-off moment: it cannot be repeated."""

    __pydantic_config__ = STRICT

    at: datetime
    label: Label
    thing: Label = ""
    """The thing on the plan of the venue that it is about; empty: not said."""


@dataclass(frozen=True, kw_only=True)
class PartOfDay:
    """A stretch of the day with its conditions."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: Label
    starts: datetime
    ends: datetime
    conditions: Conditions
    moments: Annotated[tuple[Moment, ...], MaxLen(100)] = ()

    def __post_init__(self) -> None:
        if self.starts.tzinfo is None or self.ends.tzinfo is None:
            raise ValueError(
                f"part '{self.id}': give starts and ends with a time zone, as in 2027-03-19T19:00:00+00:00"
            )
        if self.ends <= self.starts:
            raise ValueError(f"part '{self.id}' ends at {self.ends:%H:%M}, before it starts at {self.starts:%H:%M}")
        if self.ends - self.starts > LONGEST:
            raise ValueError(
                f"part '{self.id}' lasts {(self.ends - self.starts).total_seconds() / 3600:.0f} h; a part of the day"
                f" lasts {LONGEST.total_seconds() / 3600:.0f} h at most, so make several of it"
            )
        if any(moment.at.tzinfo is None for moment in self.moments):
            raise ValueError(
                f"part '{self.id}': give every moment its time with a time zone, as in 2027-03-19T21:00:00+00:00"
            )

    def in_zone(self, clock: ZoneInfo) -> PartOfDay:
        """The same stretch, told in another time zone."""
        moments = tuple(replace(moment, at=moment.at.astimezone(clock)) for moment in self.moments)
        return replace(self, starts=self.starts.astimezone(clock), ends=self.ends.astimezone(clock), moments=moments)


@dataclass(frozen=True, kw_only=True)
class Rig:
    """One camera position and its builds."""

    __pydantic_config__ = STRICT

    id: Identifier
    number: Count
    label: Label
    position: Label = ""
    target: Target | None = None
    place: Spot | None = None
    """Where it stands on the plan."""
    builds: Annotated[tuple[Build, ...], MaxLen(50)] = ()


@dataclass(frozen=True, kw_only=True)
class Assignment:
    """In this part of the day this rig is in this build, and who works it."""

    __pydantic_config__ = STRICT

    part: Identifier
    rig: Identifier
    build: Identifier
    operator: Label = ""
    """Who works it; empty where nobody said."""
    unattended: bool = False
    """It runs with nobody by it."""
    scheme: Scheme = ""
    """How its slots share the work; empty: what cannot be repeated to both, else one after the other."""
    spotter: Label = ""
    """Who watches the way for whoever moves with it; empty: nobody."""

    def __post_init__(self) -> None:
        if self.operator and self.unattended:
            raise ValueError(
                f"plan: {self.rig} in {self.part} is unattended and worked by {self.operator}; say one of the two"
            )
        if self.spotter and (self.unattended or self.spotter == self.operator):
            raise ValueError(
                f"plan: {self.rig} in {self.part} has {self.spotter} as its spotter"
                f" {'and nobody who moves with it' if self.unattended else 'and at the finder'}; name somebody else"
            )


@dataclass(frozen=True, kw_only=True)
class Job:
    """What is shot: its parts of the day, rigs and plan."""

    __pydantic_config__ = STRICT

    id: Identifier
    title: Label
    zone: Identifier = "UTC"
    """IANA name of the time zone it is shot in: everything is shown, printed and exported in its time."""
    settings: Settings = field(default_factory=Settings)
    parts: Annotated[tuple[PartOfDay, ...], MaxLen(100)] = ()
    rigs: Annotated[tuple[Rig, ...], MaxLen(99)] = ()
    plan: Annotated[tuple[Assignment, ...], MaxLen(9900)] = ()
    charging: ChargingPlan = field(default_factory=ChargingPlan)
    venue: Venue = field(default_factory=Venue)
    sound: SoundPlan = field(default_factory=SoundPlan)
    money: MoneyPlan = field(default_factory=MoneyPlan)
    pack: PackPlan = field(default_factory=PackPlan)
    safety: SafetyPlan = field(default_factory=SafetyPlan)

    def __post_init__(self) -> None:
        clock = self.clock
        object.__setattr__(self, "parts", tuple(part.in_zone(clock) for part in self.parts))
        object.__setattr__(self, "charging", self.charging.in_zone(clock))

    @property
    def clock(self) -> ZoneInfo:
        """Its time zone; raises ValueError for a name that is none."""
        try:
            return ZoneInfo(self.zone)
        except (ZoneInfoNotFoundError, ValueError, OSError):
            raise ValueError(
                f"zone '{self.zone}' is no time zone; give an IANA name, as in Europe/Lisbon or UTC"
            ) from None

    @property
    def people(self) -> tuple[str, ...]:
        """Everybody who is named: who swaps packs, then who works a camera or watches its way, each once."""
        at_cameras = (who for a in self.plan for who in (a.operator, a.spotter) if who)
        return tuple(dict.fromkeys((*self.charging.people, *at_cameras)))

    def part(self, part_id: str) -> PartOfDay:
        """The part of the day of that name; raises NotInJob."""
        return _find(self.parts, part_id, "part of the day")

    def rig(self, rig_id: str) -> Rig:
        """The rig of that name; raises NotInJob."""
        return _find(self.rigs, rig_id, "rig")

    def build(self, build_id: str) -> tuple[Rig, Build]:
        """A build and the rig it belongs to; raises NotInJob."""
        for rig in self.rigs:
            for build in rig.builds:
                if build.id == build_id:
                    return rig, build
        raise NotInJob("build", build_id)

    def with_build(self, build: Build) -> Job:
        """The job with a build in the place of the one of its id; raises NotInJob."""
        at, _ = self.build(build.id)
        builds = tuple(build if b.id == build.id else b for b in at.builds)
        return replace(self, rigs=tuple(replace(r, builds=builds) if r.id == at.id else r for r in self.rigs))

    def planned(self, part_id: str, rig_id: str) -> Build:
        """The build a rig is in, in a part of the day; raises NotInJob.

        'rig~build' names one of its builds, planned then or not.
        """
        self.part(part_id)
        of, _, named = rig_id.partition(BESIDE)
        if named and all(rig.id != rig_id for rig in self.rigs):
            at, build = self.build(named)
            if at.id != of:
                raise NotInJob(f"build of {self.rig(of).label} called", named)
            return build
        rig = self.rig(rig_id)
        found = self.builds_in(part_id).get(rig_id)
        if found is None:
            raise NotInJob(f"build planned for {rig.label} in the part of the day", part_id)
        return found[1]

    def planned_is(self, part_id: str, rig_id: str, build_id: str) -> bool:
        """Whether a rig is in that build in a part of the day."""
        return any((a.part, a.rig, a.build) == (part_id, rig_id, build_id) for a in self.plan)

    def target_of(self, rig: Rig, part_id: str) -> Target | None:
        """What a camera must see in a part of the day: as it was typed, and of the rest what the plan
        of the venue tells; nobody works it where it is unattended.
        """
        found = target_of(rig.target, rig.place, self.venue)
        return replace(found, worked_by="nobody") if found and self.cell(part_id, rig.id).unattended else found

    def cell(self, part_id: str, rig_id: str) -> Assignment:
        """What is said of a rig in a part of the day; of one that is not there then, nothing (no build)."""
        return self._cells.get((part_id, rig_id)) or Assignment(part=part_id, rig=rig_id, build=NOT_THERE)

    @cached_property
    def _cells(self) -> dict[tuple[str, str], Assignment]:
        return {(a.part, a.rig): a for a in self.plan}

    def walks_min(self) -> dict[str, float]:
        """Minutes on foot to each camera from where packs are charged: as typed, else round the plan's obstacles."""
        typed = self.charging.walk_min
        home = next((t for t in self.venue.things if t.kind == "charger"), None)
        found = {
            rig.id: walk_m((home.x_m, home.y_m), (rig.place.x_m, rig.place.y_m), self.venue) / self.venue.walk_m_s / 60
            for rig in self.rigs
            if home and rig.place and rig.id not in typed
        }
        return {**{rig: minutes for rig, minutes in found.items() if math.isfinite(minutes)}, **typed}

    def walks_on_min(self) -> dict[str, float]:
        """Minutes by which the walk from a camera to another one is longer than the one there from the chargers,
        for the camera for which that is most; by way of the chargers where one of them is not on the plan.
        """
        there = self.walks_min()
        longer: dict[str, float] = {}
        for rig, other in combinations(self.rigs, 2):
            a, b = there.get(rig.id, 0.0), there.get(other.id, 0.0)
            way = a + b
            if rig.place and other.place:
                metres = walk_m((rig.place.x_m, rig.place.y_m), (other.place.x_m, other.place.y_m), self.venue)
                way = min(way, metres / self.venue.walk_m_s / 60)
            longer[rig.id] = max(longer.get(rig.id, 0.0), way - b)
            longer[other.id] = max(longer.get(other.id, 0.0), way - a)
        return longer

    def claims_beside(self) -> Iterator[tuple[str, str, str]]:
        """What charging, sound and packing keep from the rigs: unit, part of the day, what it is there for."""
        for box in self.charging.boxes:
            yield from ((box.unit, part, box.label or box.unit) for part in dict.fromkeys(box.parts))
        for place in self.charging.chargers:
            yield from ((place.unit, part.id, place.place or "charging") for part in self.parts)
        yield from self._sound_claims
        yield from ((case.unit, part.id, "packing") for case in self.pack.cases for part in self.parts)

    @cached_property
    def _sound_claims(self) -> tuple[tuple[str, str, str], ...]:
        """Sound gear that is in no build of any camera: on a wearer, at a place, at the desk; each unit once in a part.

        What is in a build is the camera's: it goes where the camera is planned.
        """
        elsewhere = {unit for rig in self.rigs for build in rig.builds for unit in build.units}
        elsewhere |= {box.unit for box in self.charging.boxes} | {place.unit for place in self.charging.chargers}
        found: dict[tuple[str, str], str] = {}
        for voice in self.sound.voices:
            for source in voice.sources:
                for unit in source.units:
                    if unit not in elsewhere:
                        found |= {
                            (unit, part): voice.wearer or voice.label
                            for part in voice.parts
                            if (unit, part) not in found
                        }
        return tuple((unit, part, who) for (unit, part), who in found.items())

    def builds_in(self, part_id: str) -> dict[str, tuple[Rig, Build]]:
        """Rig id to the rig and its build in a part of the day; rigs without one are left out."""
        chosen = {a.rig: a.build for a in self.plan if a.part == part_id}
        return {rig.id: (rig, build) for rig in self.rigs for build in rig.builds if chosen.get(rig.id) == build.id}


def calmest(counts: Mapping[str, Sequence[Mapping[str, int]]]) -> str | None:
    """Where one looks first: the part of the day with the fewest Stops over its cameras, then with the
    most cameras; ``counts`` by part and camera. None where no camera is planned.
    """
    planned = {part: cameras for part, cameras in counts.items() if cameras}
    return min(planned, key=lambda part: (sum(c["stops"] for c in planned[part]), -len(planned[part])), default=None)


def _find(items: tuple[T, ...], name: str, what: str) -> T:
    for item in items:
        if getattr(item, "id", None) == name:
            return item
    raise NotInJob(what, name)


def claims_of_others(job: Job, part_id: str, rig_id: str) -> dict[str, Claim]:
    """Units that the other rigs of a job have in a part of the day."""
    part = job.part(part_id)
    charging = {
        unit: Claim(unit=unit, rig=serves, build="charging plan", until=f"{part.ends:%a %H:%M}")
        for unit, in_part, serves in job.claims_beside()
        if in_part == part_id
    }
    return charging | {
        unit: Claim(unit=unit, rig=rig.label, build=build.label, until=f"{part.ends:%a %H:%M}")
        for other, (rig, build) in job.builds_in(part_id).items()
        if other != rig_id
        for unit in build.units
    }


def evaluate_job(job: Job, catalogue: Catalogue) -> Iterator[tuple[PartOfDay, Rig, Build, Whole]]:
    """Every rig in every part of the day, in the order of the day."""
    for part in sorted(job.parts, key=lambda p: p.starts):
        for rig_id, (rig, build) in sorted(job.builds_in(part.id).items(), key=lambda item: item[1][0].number):
            taken: Mapping[str, Claim] = claims_of_others(job, part.id, rig_id)
            yield (
                part,
                rig,
                build,
                whole(stand_of(build, catalogue, part.conditions, job.settings, taken, job.target_of(rig, part.id))),
            )
