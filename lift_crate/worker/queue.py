"""The queue and its tasks (procrastinate over PostgreSQL)."""

from __future__ import annotations

import logging
import threading
import time

import procrastinate

from ..core.asked import AnswerOfDay, answer_of_day
from ..core.errors import LiftCrateError
from ..core.swaps.what_if import DayAsked, PlannedDay, plan_the_day
from ..store.database import Pool, with_limits
from ..store.jobs import JobStore
from ..store.plans import PlanStore
from ..store.swaps import SwapStore

__all__ = ["deferring", "open_plans", "work"]

_TASK, _QUEUE = "plan a day of swaps", "days"
_BEAT_S = 2.0
_EPOCH = 1_790_000_000
_log = logging.getLogger(__name__)


def _priority() -> int:
    """Newest first: what was asked last is what somebody looks at."""
    return max(0, int(time.time()) - _EPOCH)


class deferring:  # noqa: N801 - called like the function that it stands for
    """Puts plans into the queue of a database, over one connection of its own that opens when first used."""

    def __init__(self, url: str) -> None:
        self._app = procrastinate.App(
            connector=procrastinate.SyncPsycopgConnector(conninfo=with_limits(url), min_size=0, max_size=2, timeout=5)
        )
        self._lock, self._opened = threading.Lock(), False

    def __call__(self, plan: int) -> None:
        """A plan is to be worked on."""
        with self._lock:
            if not self._opened:
                self._app.open()
                self._opened = True
        self._app.configure_task(_TASK, queue=_QUEUE, priority=_priority()).defer(plan=plan)

    def close(self) -> None:
        """End its connections."""
        with self._lock:
            if self._opened:
                self._app.close()
                self._opened = False


def open_plans(pool: Pool, defer: deferring) -> PlanStore:
    """Plans over a pool."""
    jobs = JobStore(pool)
    return PlanStore(jobs, SwapStore(jobs), defer)


def plan_one(plans: PlanStore, plan: int) -> None:
    """Answer one question, telling what there is on the way; ends when nobody waits any more."""
    work_to_do = plans.take_up(plan)
    if work_to_do is None:
        return
    unwanted, ended = threading.Event(), threading.Event()

    def beat() -> None:
        while not ended.wait(_BEAT_S):
            try:
                if not plans.beat(plan):
                    unwanted.set()
            except LiftCrateError as error:
                _log.warning("the database did not take a sign of life: %s", error)

    def told(found: PlannedDay | AnswerOfDay, settled: bool) -> bool:
        plans.tell(plan, found, settled=settled)
        return unwanted.is_set()

    signs = threading.Thread(target=beat, name="signs of life", daemon=True)
    signs.start()
    try:
        if isinstance(work_to_do.asked, DayAsked):
            plan_the_day(work_to_do.job, work_to_do.catalogue, work_to_do.asked, work_to_do.made, told)
        else:
            answer_of_day(work_to_do.job, work_to_do.catalogue, work_to_do.asked, told, unwanted.is_set)
        plans.finish(plan, "left" if unwanted.is_set() else "done")
    except Exception as error:
        _log.exception("a day could not be planned")
        plans.finish(plan, "failed", str(error))
    finally:
        ended.set()
        signs.join()


def work(url: str, pool: Pool, *, wait: bool = True) -> None:
    """Work on the queue until told to stop; without ``wait`` until it is empty."""
    app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=with_limits(url)))
    defer = deferring(url)
    plans = open_plans(pool, defer)

    @app.task(name=_TASK, queue=_QUEUE)
    def plan_task(plan: int) -> None:
        plan_one(plans, plan)

    try:
        plans.take_up_lost()
        app.run_worker(
            queues=[_QUEUE],
            concurrency=1,
            wait=wait,
            delete_jobs="always",
            fetch_job_polling_interval=1.0,
            listen_notify=True,
        )
    finally:
        defer.close()
