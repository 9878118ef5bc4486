"""A job: parts of the day, rigs with their builds, and who is in which build when."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Annotated, TypeVar

from annotated_types import Ge, MinLen

from .balance import with_balance
from .charging import ChargingPlan
from .errors import LiftCrateError
from .evaluate import Evaluation, evaluate
from .rig import Build, Catalogue, Claim, Conditions, Target
from .settings import STRICT, Settings

__all__ = ["Assignment", "Job", "Moment", "NotInJob", "PartOfDay", "Rig", "claims_of_others", "evaluate_job"]

Identifier = Annotated[str, MinLen(1)]
T = TypeVar("T")


class NotInJob(LiftCrateError, LookupError):
    """A rig, build or part of the day that this job does not have."""

    code = "job.unknown"

    def __init__(self, what: str, name: str) -> None:
        self.what, self.name = what, name

    def __str__(self) -> str:
        return f"This job has no {self.what} '{self.name}'."


@dataclass(frozen=True, kw_only=True)
class Moment:
    """A one-off moment: it cannot be repeated."""

    __pydantic_config__ = STRICT

    at: datetime
    label: str


@dataclass(frozen=True, kw_only=True)
class PartOfDay:
    """A stretch of the day with its conditions."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: str
    starts: datetime
    ends: datetime
    conditions: Conditions
    moments: tuple[Moment, ...] = ()

    def __post_init__(self) -> None:
        if self.starts.tzinfo is None or self.ends.tzinfo is None:
            raise ValueError(f"part '{self.id}': give starts and ends with a time zone, as in 2027-03-19T19:00:00+00:00")
        if self.ends <= self.starts:
            raise ValueError(f"part '{self.id}' ends at {self.ends:%H:%M}, before it starts at {self.starts:%H:%M}")


@dataclass(frozen=True, kw_only=True)
class Rig:
    """One camera position and its builds."""

    __pydantic_config__ = STRICT

    id: Identifier
    number: Annotated[int, Ge(1)]
    label: str
    position: str = ""
    target: Target | None = None
    builds: tuple[Build, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Assignment:
    """In this part of the day this rig is in this build."""

    __pydantic_config__ = STRICT

    part: Identifier
    rig: Identifier
    build: Identifier


@dataclass(frozen=True, kw_only=True)
class Job:
    """What is shot: its parts of the day, rigs and plan."""

    __pydantic_config__ = STRICT

    id: Identifier
    title: str
    settings: Settings = field(default_factory=Settings)
    parts: tuple[PartOfDay, ...] = ()
    rigs: tuple[Rig, ...] = ()
    plan: tuple[Assignment, ...] = ()
    charging: ChargingPlan = field(default_factory=ChargingPlan)

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

    def planned(self, part_id: str, rig_id: str) -> Build:
        """The build a rig is in, in a part of the day; raises NotInJob."""
        self.part(part_id)
        rig = self.rig(rig_id)
        found = self.builds_in(part_id).get(rig_id)
        if found is None:
            raise NotInJob(f"build planned for {rig.label} in the part of the day", part_id)
        return found[1]

    def builds_in(self, part_id: str) -> dict[str, tuple[Rig, Build]]:
        """Rig id to the rig and its build in a part of the day; rigs without one are left out."""
        chosen = {a.rig: a.build for a in self.plan if a.part == part_id}
        return {
            rig.id: (rig, build) for rig in self.rigs for build in rig.builds if chosen.get(rig.id) == build.id
        }


def _find(items: tuple[T, ...], name: str, what: str) -> T:
    for item in items:
        if getattr(item, "id", None) == name:
            return item
    raise NotInJob(what, name)


def claims_of_others(job: Job, part_id: str, rig_id: str) -> dict[str, Claim]:
    """Units that the other rigs of a job have in a part of the day."""
    part = job.part(part_id)
    return {
        unit: Claim(unit=unit, rig=rig.label, build=build.label, until=f"{part.ends:%H:%M}")
        for other, (rig, build) in job.builds_in(part_id).items()
        if other != rig_id
        for unit in build.units
    }


def evaluate_job(job: Job, catalogue: Catalogue) -> Iterator[tuple[PartOfDay, Rig, Build, Evaluation]]:
    """Every rig in every part of the day, in the order of the day."""
    for part in sorted(job.parts, key=lambda p: p.starts):
        for rig_id, (rig, build) in sorted(job.builds_in(part.id).items(), key=lambda item: item[1][0].number):
            taken: Mapping[str, Claim] = claims_of_others(job, part.id, rig_id)
            yield part, rig, build, with_balance(evaluate(build, catalogue, part.conditions, job.settings, taken, rig.target))
