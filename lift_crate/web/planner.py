"""Plans days of swaps in the background: an answer at once with the best so far, and the same question answered once."""

from __future__ import annotations

import hashlib
import logging
from collections import OrderedDict
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from threading import Event, Lock

from ..core.dayplan import Cure, Made, WhatIf, cures, day_of, planned_day, rules, with_made
from ..core.findings import Finding
from ..core.job import Job
from ..core.rig import Catalogue
from ..core.rotation import DayProblem
from ..core.rotation_solver import DayPlan, solve_day

__all__ = ["Planned", "Planner"]

_KEPT = 24
_log = logging.getLogger(__name__)


@dataclass
class Planned:
    """A day that is being planned, or is."""

    problem: DayProblem
    catalogue: Catalogue
    plan: DayPlan | None = None
    cures: tuple[Cure, ...] = ()
    findings: tuple[Finding, ...] = ()
    settled: bool = False
    """The plan is what it will be; cures may still be tried."""
    done: bool = False
    failed: str = ""
    stop: Event = field(default_factory=Event)
    moved: Event = field(default_factory=Event)
    """Set whenever there is something new to tell."""


class Planner:
    """Keeps the last plans by what they were asked for; one search at a time, so that the screens stay quick."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._kept: OrderedDict[str, Planned] = OrderedDict()
        self._pool = ThreadPoolExecutor(max_workers=1, thread_name_prefix="planner")

    def plan(self, job: Job, catalogue: Catalogue, part: str, what: WhatIf, made: Sequence[Made], wait_s: float) -> Planned:
        """The plan for a question, waiting a moment for the first answer; raises NotInJob."""
        mark = _mark(job, catalogue, part, what, made)
        with self._lock:
            found = self._kept.get(mark)
            if found is None:
                found = self._kept[mark] = Planned(with_made(planned_day(job, catalogue, part, what), made), catalogue)
                self._pool.submit(self._work, found, job, catalogue, part, what, tuple(made))
                while len(self._kept) > _KEPT:
                    self._kept.popitem(last=False)[1].stop.set()
            self._kept.move_to_end(mark)
        if not found.done:
            found.moved.wait(wait_s)
            found.moved.clear()
        return found

    def known(self, job: Job, catalogue: Catalogue, part: str, made: Sequence[Made]) -> tuple[Finding, ...]:
        """What stands against the day as it is planned, if it was asked for before and stands; nothing is begun."""
        if not self._kept:
            return ()
        with self._lock:
            found = self._kept.get(_mark(job, catalogue, part, WhatIf(), made))
        return found.findings if found and found.settled else ()

    def _work(self, planned: Planned, job: Job, catalogue: Catalogue, part: str, what: WhatIf, made: tuple[Made, ...]) -> None:
        try:
            def told(plan: DayPlan) -> bool:
                planned.plan = plan
                planned.findings = rules(planned.problem, plan, catalogue)
                planned.moved.set()
                return planned.stop.is_set()

            plan = solve_day(planned.problem, told=told)
            told(plan)
            planned.settled = True
            found = []
            for cure in cures(job, catalogue, part, what, plan, made):
                found.append(cure)
                planned.cures = tuple(found)
                planned.moved.set()
                if planned.stop.is_set():
                    break
        except Exception as error:
            _log.exception("a day of swaps could not be planned")
            planned.failed = str(error)
        planned.done = True
        planned.moved.set()


def _mark(job: Job, catalogue: Catalogue, part: str, what: WhatIf, made: Sequence[Made]) -> str:
    # The catalogue is the same object until gear changes, and is held by what is planned so that no other takes its place.
    return f"{id(catalogue)} {hashlib.sha256(repr((day_of(job, part), job, what, list(made))).encode()).hexdigest()}"
