"""A late day in ten minutes: tasks that are still to do before a part begins, one pair of hands, too little time."""

from __future__ import annotations

import random
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from itertools import permutations

from ..day.run_sheet import RunSheet
from ..day.run_tasks import AFTER, RANK, RunTask
from ..errors import NotAllowed
from ..job.job import Job
from .score import Lesson, Result, points

__all__ = ["LateDay", "LateTask", "late_day", "late_hint", "late_result", "play_late"]

_MOST = 6
_WEIGHT = 3.0
"""A minute that is lost of what cannot be repeated counts so many times."""


@dataclass(frozen=True, kw_only=True)
class LateTask:
    """Something still to do: how long, by when (minutes from now), what must come before it, what a minute costs."""

    id: str
    text: str
    minutes: float
    by_min: float
    after: tuple[str, ...]
    weight: float
    why: str


@dataclass(frozen=True, kw_only=True)
class LateDay:
    """The tasks of a late part, and the minutes until it begins."""

    part: str
    label: str
    left_min: float
    tasks: tuple[LateTask, ...]
    seed: int


def late_day(job: Job, sheet: RunSheet, part_id: str, once: Collection[str], seed: int) -> LateDay:
    """So many tasks of a part as one can still weigh, with less time than they take; raises NotAllowed without any.

    ``once``: cameras that something which cannot be repeated is counted on.
    """
    part = job.part(part_id)
    chance = random.Random(f"late {seed}")  # noqa: S311 - a drill, no secret
    labels = {rig.id: rig.label for rig in job.rigs}
    own = [t for t in sheet.tasks if t.part == part_id and t.minutes >= 1 and t.kind not in AFTER]
    if len(own) < 3:
        raise NotAllowed(f"{part.label} has too few tasks to practise with. Choose a part before which rigs are built.")
    chosen = sorted(chance.sample(own, min(_MOST, len(own))), key=lambda t: (t.by, t.rig, t.what))
    total = sum(t.minutes for t in chosen)
    left = round(total * chance.uniform(0.6, 0.85))
    tasks = []
    for i, task in enumerate(chosen):
        before = max(0.0, (part.starts - task.by).total_seconds() / 60)
        by_min = max(task.minutes, left - before)
        heavy = task.protected or task.rig in once or bool(task.voice)
        tasks.append(
            LateTask(
                id=f"t{i}",
                text=f"{labels.get(task.rig, task.rig)}: {task.kind}, {task.what}".strip(": ,"),
                minutes=round(task.minutes, 1),
                by_min=round(by_min, 1),
                after=tuple(f"t{j}" for j, o in enumerate(chosen[:i]) if _first(o, task)),
                weight=_WEIGHT if heavy else 1.0,
                why="is for what cannot be repeated" if heavy else "can be done again",
            )
        )
    return LateDay(part=part_id, label=part.label, left_min=left, tasks=tuple(tasks), seed=seed)


def _first(one: RunTask, other: RunTask) -> bool:
    """Whether one must be done before the other: on one camera, in the order of the work."""
    if one.rig != other.rig or one.rig == "":
        return False
    return one.kind in RANK and other.kind in RANK and RANK[one.kind] < RANK[other.kind]


def lost_min(day: LateDay, order: Sequence[str]) -> float:
    """Minutes lost, weighted, with the tasks done in this order; what is left out is lost whole.

    Raises NotAllowed for a task that comes before one it rests on, and for one that there is not.
    """
    by_id = {t.id: t for t in day.tasks}
    clock, lost, done = 0.0, 0.0, set[str]()
    for name in order:
        task = by_id.get(name)
        if task is None or name in done:
            raise NotAllowed(f"There is no task '{name}' left.")
        first = next((a for a in task.after if a not in done), None)
        if first is not None:
            raise NotAllowed(f"{by_id[first].text} comes first: the other rests on it.")
        clock += task.minutes
        lost += task.weight * max(0.0, clock - task.by_min)
        done.add(name)
    return lost + sum(t.weight * t.minutes for t in day.tasks if t.id not in done)


def play_late(day: LateDay) -> tuple[str, ...]:
    """The order that loses least, by trying every one."""
    best: tuple[float, tuple[str, ...]] | None = None
    for order in permutations([t.id for t in day.tasks]):
        try:
            lost = lost_min(day, order)
        except NotAllowed:
            continue
        if best is None or lost < best[0] - 1e-9:
            best = lost, order
    return best[1] if best else ()


def late_hint(day: LateDay, order: Sequence[str]) -> str:
    """What the best does next."""
    best = play_late(day)
    task = next((t for name in best if name not in order for t in day.tasks if t.id == name), None)
    return f"Next: {task.text}." if task else ""


def late_result(day: LateDay, order: Sequence[str], hints: int) -> Result:
    """How it ended, against the best order."""
    own, best = lost_min(day, order), play_late(day)
    least = lost_min(day, best)
    by_id = {t.id: t for t in day.tasks}
    clock, lessons = 0.0, []
    for name in order:
        task = by_id[name]
        clock += task.minutes
        late = max(0.0, clock - task.by_min)
        lessons.append(
            Lesson(
                plain=f"{task.text}: done after {clock:.0f} min, wanted by {task.by_min:.0f}",
                technical=f"{task.minutes:g} min × {task.weight:g}; {late:.0f} min late",
                why=f"It {task.why}.",
                cure="What cannot be repeated and is short goes first; what can be done again waits.",
                got=late <= 0.05,
            )
        )
    return Result(
        points=points((least + 1) / (own + 1), hints=hints),
        won=own <= least + 0.05,
        said=f"{own:.0f} weighted minutes lost",
        best=f"{least:.0f} lost: " + ", then ".join(by_id[name].text for name in best),
        lessons=tuple(lessons),
    )
