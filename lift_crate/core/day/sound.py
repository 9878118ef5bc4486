"""Sound of a job's days: voices, radio, what keeps devices in step, and everything that stands against it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..callouts import Finding
from ..job.job import Job
from ..rig.build import Catalogue
from .radio import OnAir, on_air
from .sync import Device, Guide, in_step
from .table import DayTable
from .voices import Heard, heard_of

__all__ = ["Sound", "sound_of"]

_PART = "\x00"


@dataclass(frozen=True, eq=False)
class Sound:
    """What is heard, on which channels, and how it is kept in step."""

    heard: tuple[Heard, ...]
    air: tuple[OnAir, ...]
    devices: tuple[Device, ...]
    guides: tuple[Guide, ...]
    findings: tuple[Finding, ...]


def sound_of(job: Job, catalogue: Catalogue, table: DayTable) -> Sound:
    """The sound of a job over all its days; a job without voices is asked for none, and nothing stands against it."""
    heard, against = heard_of(job, catalogue, table)
    air, disturbed = on_air(job)
    if not job.sound.voices:
        return Sound((), (), (), (), ())
    devices, guides, apart = in_step(job, catalogue, table, heard)
    return Sound(heard, air, devices, guides, _once(job, (*against, *disturbed, *apart)))


def _once(job: Job, findings: Sequence[Finding]) -> tuple[Finding, ...]:
    """What is said of several parts of the day in the same words is said once, with all of them."""
    labels = {part.id: part.label for part in job.parts}
    groups: dict[tuple[str, str, tuple[str, ...]], list[Finding]] = {}
    parts: dict[tuple[str, str, tuple[str, ...]], list[str]] = {}
    for finding in findings:
        part = next((u for u in finding.about.units if u in labels), "")
        about = tuple(u for u in finding.about.units if u != part)
        key = finding.code, finding.text.replace(labels[part], _PART) if part else finding.text, about
        groups.setdefault(key, []).append(finding)
        parts.setdefault(key, []).append(labels.get(part, ""))
    return tuple(replace(same[0], text=key[1].replace(_PART, _listed(parts[key]))) for key, same in groups.items())


def _listed(parts: Sequence[str]) -> str:
    *first, last = dict.fromkeys(parts)
    return f"{', '.join(first)} and {last}" if first else last
