"""What is to be set before a part of the day rolls: settings, modes and presets of its builds, and what was ticked.

A tick belongs to what it said: when a setting is changed after it, it is to be set again.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from ..job.job import Job, Rig
from ..lens.coverage import exposure_of
from ..rig.build import Build, Catalogue, UnitSetting
from ..rig.told import setting_text
from ..settings import Settings
from .entries import LogBook, Standing

__all__ = ["ToSet", "to_set"]


@dataclass(frozen=True, kw_only=True)
class ToSet:
    """A unit of a camera (empty: a preset to be kept in it) with what it is set to in a part of the day."""

    rig: str
    unit: str
    text: str
    was: str
    """What it was set to in the part before in which the camera works; empty: it was not there, or not set."""
    ticked: Standing | None


def to_set(job: Job, catalogue: Catalogue, part_id: str, book: LogBook) -> tuple[ToSet, ...]:
    """Everything that the builds of a part are set to, camera by camera; raises NotInJob."""
    part = job.part(part_id)
    done = {(x.entry.rig, x.entry.unit, x.entry.text): x for x in book.of_kind("set") if x.entry.what == part.id}
    found = []
    for rig, build in sorted(job.builds_in(part.id).values(), key=lambda pair: pair[0].number):
        before = dict(_settings(_build_before(job, rig, part_id), catalogue, job.settings))
        for unit, text in _settings(build, catalogue, job.settings):
            was = before.get(unit, "") if unit else ""
            found.append(ToSet(rig=rig.id, unit=unit, text=text, was=was, ticked=done.get((rig.id, unit, text))))
    return tuple(found)


def _build_before(job: Job, rig: Rig, part_id: str) -> Build | None:
    at = job.part(part_id).starts
    for part in sorted((p for p in job.parts if p.starts < at), key=lambda p: p.starts, reverse=True):
        if rig.id in (there := job.builds_in(part.id)):
            return there[rig.id][1]
    return None


def _settings(build: Build | None, catalogue: Catalogue, settings: Settings) -> Iterator[tuple[str, str]]:
    if build is None:
        return
    body = next((x for x in build.settings if x.unit == build.body), UnitSetting(unit=build.body))
    # Where nothing was said of the body it is set as the job is.
    fps, shutter, iso = exposure_of(body, settings)
    of_body = replace(body, fps=fps, shutter_deg=shutter, iso=iso)
    for setting in (of_body, *(x for x in build.settings if x.unit != build.body)):
        if text := setting_text(setting, catalogue):
            yield setting.unit, text
    for preset in build.presets:
        said = (f"{x.unit} {text}" for x in preset.settings if (text := setting_text(x, catalogue)))
        yield "", f"Preset '{preset.label}': {', '.join(said)}"
