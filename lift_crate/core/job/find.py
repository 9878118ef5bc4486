"""Find anything of a job: units, cameras, parts of the day, people, settings, and what is wrong anywhere."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

from ..callouts import Finding, Level
from ..gear.labels import words_of
from ..rig.build import Catalogue
from .job import Job
from .settings_told import settings_told

__all__ = ["Found", "find_in_job"]

Place = Literal["job", "shelf", "bench"]
_MOST_UNITS = 8


@dataclass(frozen=True, kw_only=True)
class Found:
    """Something that is called so: what it is, and where it is to be seen."""

    kind: str
    name: str
    more: str
    place: Place
    part: str = ""
    rig: str = ""
    unit: str = ""


def find_in_job(
    job: Job, catalogue: Catalogue, part_id: str, findings: Mapping[str, tuple[Finding, ...]], words: str, most: int
) -> list[Found]:
    """Everything whose name or kind has all the words; ``findings``: by camera, of the part that is looked at.

    What begins with the words stands first.
    """
    asked = words_of(words)
    if not asked:
        return []
    found = [f for f in _all(job, catalogue, part_id, findings) if _has(asked, f)]
    units = 0
    kept = []
    for one in sorted(found, key=lambda f: (not f.name.lower().startswith(asked[0]), f.kind == "unit")):
        units += one.kind == "unit"
        if one.kind != "unit" or units <= _MOST_UNITS:
            kept.append(one)
    return kept[:most]


def _has(asked: tuple[str, ...], found: Found) -> bool:
    text = f"{found.kind} {found.name} {found.more}".lower()
    return all(word in text for word in asked)


def _all(job: Job, catalogue: Catalogue, part_id: str, findings: Mapping[str, tuple[Finding, ...]]) -> Iterator[Found]:
    for part in job.parts:
        hours = f"{part.starts:%a %H:%M} to {part.ends:%H:%M}"
        yield Found(kind="part of the day", name=part.label, more=hours, place="bench", part=part.id)
    for rig in job.rigs:
        camera = f"{rig.number} {rig.label}"
        yield Found(kind="camera", name=camera, more=rig.position, place="bench", part=part_id, rig=rig.id)
        for build in rig.builds:
            more = f"build of {camera}, {len(build.units)} units"
            yield Found(kind="build", name=build.label, more=more, place="job", part=part_id, rig=rig.id)
    yield from _wrong(job, part_id, findings)
    for person in job.charging.people:
        yield Found(kind="person", name=person, more="swaps packs", place="job")
    for setting in settings_told():
        yield Found(kind="setting", name=setting.label, more=f"for {setting.bears_on}", place="job")
    for unit in catalogue.shelf:
        model = catalogue.models.get(unit.model)
        if model:
            yield Found(kind="unit", name=unit.id, more=f"{model.title}, {model.kind}", place="shelf", unit=unit.id)


def _wrong(job: Job, part_id: str, findings: Mapping[str, tuple[Finding, ...]]) -> Iterator[Found]:
    for rig_id, callouts in findings.items():
        label = job.rig(rig_id).label
        for callout in callouts:
            if callout.level >= Level.WATCH:
                name = f"{label}: {callout.call_out.title}"
                kind = callout.level.name.capitalize()
                yield Found(kind=kind, name=name, more=callout.text, place="bench", part=part_id, rig=rig_id)
