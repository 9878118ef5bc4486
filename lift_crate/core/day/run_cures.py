"""What would make a day's run sheet fit: one change at a time, each tried by timing the day back once more.

Tried are the part before that ends sooner, a camera that stays as it was, a camera left out of a part that is not
protected, one more pair of hands, another one who puts microphones on, and a crew that is called earlier. Starts
stand fast. Formulas: docs/formulas.md §11, 'Cures'.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import timedelta
from itertools import pairwise

from ..job.edits import ChangePart, JobOperation, PlanBuild, SetCharging, SetSettings, apply_to_job
from ..job.job import Job, JobRefused, OutElsewhere, PartOfDay
from ..job.sound_edits import ChangeVoice
from ..rig.build import Catalogue
from .media import media_plan
from .mic_up import mic_ups
from .run_sheet import RunTask, run_sheet, untimed
from .run_tasks import SwapDue
from .table import DayTable, StandIn, day_table

__all__ = ["RunCure", "run_cures"]

_MOST_TRIED, _MOST_OFFERED = 16, 6
_EARLIER_MIN = (30.0, 60.0, 120.0)


@dataclass(frozen=True, slots=True)
class RunCure:
    """A change that was tried: what it is, how many tasks find no time then, of how many, and the edit."""

    label: str
    left: int
    before: int
    operation: JobOperation


def run_cures(
    job: Job,
    catalogue: Catalogue,
    day: Sequence[PartOfDay],
    late: Mapping[str, float] | None = None,
    stand_in: StandIn | None = None,
    swaps: Sequence[SwapDue] = (),
    out: OutElsewhere | None = None,
) -> tuple[RunCure, ...]:
    """The changes after which fewer tasks of a day find no time, those that leave fewest first.

    ``stand_in``: asked for facts of builds; a build stands in a part as it would if it were planned there; ``swaps``:
    the swap card, which stands; ``out``: what other jobs have then.
    """
    table = day_table(job, catalogue, stand_in)
    missing = _untimed(job, catalogue, table, day, late, swaps, out)
    if not missing:
        return ()
    found = []
    tried = [*_sooner(job, catalogue, table, day, late, swaps, out), *_changes(job, table, day, missing)]
    for label, operation in tried[:_MOST_TRIED]:
        try:
            then = apply_to_job(job, operation, catalogue)
        except JobRefused:
            continue
        same = isinstance(operation, SetCharging | SetSettings | ChangeVoice)
        other = table if same else day_table(then, catalogue, stand_in)
        left = len(_untimed(then, catalogue, other, _same(then, day), late, swaps, out))
        if left < len(missing):
            found.append(RunCure(label, left, len(missing), operation))
    found.sort(key=lambda cure: cure.left)
    return tuple(found[:_MOST_OFFERED])


def _same(job: Job, day: Sequence[PartOfDay]) -> tuple[PartOfDay, ...]:
    return tuple(job.part(part.id) for part in day)


def _untimed(
    job: Job,
    catalogue: Catalogue,
    table: DayTable,
    day: Sequence[PartOfDay],
    late: Mapping[str, float] | None,
    swaps: Sequence[SwapDue],
    out: OutElsewhere | None,
) -> tuple[RunTask, ...]:
    mics = mic_ups(job, catalogue, day)
    return untimed(job, table, media_plan(job, catalogue, out), day, mics=mics, swaps=swaps, late=late)


def _changes(
    job: Job, table: DayTable, day: Sequence[PartOfDay], missing: Sequence[RunTask]
) -> Iterator[tuple[str, JobOperation]]:
    """What may be tried, with what it is called."""
    short = {task.part for task in missing}
    labels = {rig.id: rig.label for rig in job.rigs}
    yield from _other_dressers(job, table, missing)
    for between in table.between:
        if between.after.id in short and between.change.tasks:
            stay = PlanBuild(rig=between.rig.id, part=between.after.id, build=between.was.id)
            yield f"{labels[between.rig.id]} stays in '{between.was.label}' in {between.after.label}", stay
    yield from _left_out(job, day, missing)
    charging = replace(job.charging, hands=job.charging.hands + 1)
    yield "One more pair of hands", SetCharging(charging=charging)
    if day[0].id in short:
        for more in _EARLIER_MIN:
            settings = replace(job.settings, call_min=job.settings.call_min + more)
            yield f"Call the crew {more:g} min earlier, on every day", SetSettings(settings=settings)


def _left_out(job: Job, day: Sequence[PartOfDay], missing: Sequence[RunTask]) -> Iterator[tuple[str, JobOperation]]:
    """A camera out of a part that may be cut, with what happens once then said."""
    for part in (p for p in day if not p.conditions.protected):
        once = f", {part.moments[0].label} is not seen by it" if part.moments else ""
        for rig in dict.fromkeys(t.rig for t in missing if t.part == part.id and t.rig):
            cut = PlanBuild(rig=rig, part=part.id, build=None)
            yield f"{job.rig(rig).label} is left out of {part.label}{once}", cut


def _sooner(
    job: Job,
    catalogue: Catalogue,
    table: DayTable,
    day: Sequence[PartOfDay],
    late: Mapping[str, float] | None,
    swaps: Sequence[SwapDue],
    out: OutElsewhere | None,
) -> Iterator[tuple[str, JobOperation]]:
    """The part before one that is not ready ends so much sooner as that would have to begin later."""
    parts = sorted(day, key=lambda p: p.starts)
    mics = mic_ups(job, catalogue, parts)
    sheet = run_sheet(job, table, media_plan(job, catalogue, out), parts, mics=mics, swaps=swaps, late=late)
    later = {f.about.units[0].removeprefix("run "): f.value for f in sheet.findings if len(f.about.units) == 1}
    for before, part in pairwise(parts):
        minutes = later.get(part.id)
        ends = before.ends - timedelta(minutes=minutes or 0.0)
        if minutes and ends > before.starts:
            yield f"{before.label} ends {minutes:g} min sooner", ChangePart(part=before.id, ends=ends)


def _other_dressers(job: Job, table: DayTable, missing: Sequence[RunTask]) -> Iterator[tuple[str, JobOperation]]:
    ids = {voice.label: voice for voice in job.sound.voices}
    known = dict.fromkeys((*job.charging.people, *table.people, *(v.mic_by for v in job.sound.voices if v.mic_by)))
    for task in missing:
        if task.kind != "mic up" or task.voice not in ids:
            continue
        for who in (name for name in known if name != task.only):
            voice = ids[task.voice]
            yield f"{who} puts the microphones on {voice.label}", ChangeVoice(voice=voice.id, mic_by=who)
