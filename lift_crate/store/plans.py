"""What workers find out of a job's days: one question is answered once, for all servers on one database."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

from psycopg.types.json import Jsonb
from pydantic import ConfigDict, TypeAdapter

from ..core.asked import AnswerOfDay, QuestionOfDay
from ..core.callouts import Finding
from ..core.day.laid_out import PlannedRun
from ..core.job.job import Job, NotInJob
from ..core.rig.build import Catalogue
from ..core.swaps.what_if import DayAsked, Made, PlannedDay
from .database import Connection, plan_queries, reading, writing
from .jobs import JobStore
from .swaps import SwapStore

__all__ = ["Beat", "PlanState", "PlanStore", "PlanWork"]

Slot = Literal["day", "what if", "run", "run late", "cures", "run cures", "deal", "swaps", "pack", "effects"]
Asked = DayAsked | QuestionOfDay
Planned = PlannedDay | AnswerOfDay
_asked = TypeAdapter[Asked](Asked)
_planned = TypeAdapter[Planned](Planned)
_findings = TypeAdapter(tuple[Finding, ...], config=ConfigDict(defer_build=True))
_STALE_S = 12.0
"""A worker that gave no sign for so long is gone."""
_PATIENCE_S = 10.0
"""Who has not asked again for so long waits no more."""
_MOST_KEPT = 300


@dataclass(frozen=True, kw_only=True)
class PlanState:
    """A plan as far as it has come; no answer yet: nobody has begun."""

    answer: Planned | None
    done: bool
    failed: str = ""

    @property
    def day(self) -> PlannedDay | None:
        """The swaps of a day, if that was asked."""
        return self.answer if isinstance(self.answer, PlannedDay) else None

    @property
    def run(self) -> PlannedRun | None:
        """Run sheets, if that was asked."""
        return self.answer if isinstance(self.answer, PlannedRun) else None


@dataclass(frozen=True, kw_only=True)
class PlanWork:
    """What a worker needs to answer a question, and to know whether it still stands."""

    asked: Asked
    job: Job
    catalogue: Catalogue
    made: tuple[Made, ...]


Beat = Callable[[], bool]
"""Tells that a worker is alive; whether anybody still waits."""


class PlanStore:
    """Keeps questions and answers; ``defer`` puts a plan's number into the workers' queue."""

    def __init__(self, jobs: JobStore, swaps: SwapStore, defer: Callable[[int], object]) -> None:
        self.jobs, self.swaps, self._defer = jobs, swaps, defer

    def ask(self, job_id: str, asked: Asked, asker: str, slot: Slot) -> int:
        """The number of the plan that answers a question, begun if nobody did; what
        else this asker waited for in the slot is wanted no more.

        Raises NotInJob.
        """
        with writing(self.jobs.pool) as connection:
            key = self._key(connection, job_id, asked)
            found = plan_queries.find_plan(connection, **key, stale=_STALE_S)
            begin = False
            if found is None:
                begin = plan_queries.add_plan(connection, **key) is not None
                found = plan_queries.find_plan(connection, **key, stale=_STALE_S)
            elif found["state"] == "left" or (found["state"] in ("asked", "working") and found["lost"]):
                begin = plan_queries.ask_again(connection, id=found["id"], stale=_STALE_S) > 0
            plan_queries.wish(connection, asker=asker, slot=slot, plan=found["id"])
            plan_queries.touch(connection, id=found["id"])
        if begin:
            self._defer(found["id"])
        return int(found["id"])

    def _key(self, connection: Connection, job_id: str, asked: Asked) -> dict[str, Any]:
        revisions = plan_queries.revisions(connection, job=job_id)
        if revisions is None:
            raise NotInJob("job", job_id)
        return {"job": job_id, **revisions, "question": Jsonb(_asked.dump_python(asked, mode="json"))}

    def state(self, plan: int) -> PlanState:
        """A plan as it stands now."""
        with reading(self.jobs.pool) as connection:
            row = plan_queries.answer(connection, id=plan)
        if row is None:
            return PlanState(answer=None, done=False)
        return PlanState(
            answer=_planned.validate_python(row["answer"]) if row["answer"] else None,
            done=row["state"] in ("done", "failed"),
            failed=row["failed"],
        )

    def settled(self, job_id: str, asked: Asked) -> Planned | None:
        """What was asked before and has come to its end; None: nobody did. Nothing is begun."""
        with reading(self.jobs.pool) as connection:
            row = plan_queries.settled_answer(
                connection, job=job_id, question=Jsonb(_asked.dump_python(asked, mode="json"))
            )
        return _planned.validate_python(row["answer"]) if row else None

    def known(self, job_id: str, asked: DayAsked) -> tuple[Finding, ...]:
        """What stands against a day whose plan stands; empty when nobody asked for it. Nothing is begun."""
        with reading(self.jobs.pool) as connection:
            row = plan_queries.settled_findings(
                connection, job=job_id, question=Jsonb(_asked.dump_python(asked, mode="json"))
            )
        return _findings.validate_python(row["findings"]) if row else ()

    def take_up(self, plan: int) -> PlanWork | None:
        """What there is to do for a plan; None when another does it, nobody waits, or the job has moved on."""
        if not self.beat(plan):
            with writing(self.jobs.pool) as connection:
                if plan_queries.take_up(connection, id=plan, stale=_STALE_S):
                    plan_queries.finish(connection, id=plan, state="left", failed="")
            return None
        with writing(self.jobs.pool) as connection:
            row = plan_queries.take_up(connection, id=plan, stale=_STALE_S)
        if row is None:
            return None
        asked = _asked.validate_python(row["question"])
        try:
            with reading(self.jobs.pool) as connection:
                now = plan_queries.revisions(connection, job=row["job_id"])
                job, catalogue, _ = self.jobs.read(row["job_id"])
                made = tuple(noted.made for noted in self.swaps.of(row["job_id"]))
        except NotInJob:
            now = None
        if now is None or (now["job_revision"], now["catalogue_revision"]) != (
            row["job_revision"],
            row["catalogue_revision"],
        ):
            self.finish(plan, "left")
            return None
        return PlanWork(asked=asked, job=job, catalogue=catalogue, made=made)

    def beat(self, plan: int) -> bool:
        """The worker is at it; whether anybody still waits."""
        with writing(self.jobs.pool) as connection:
            row = plan_queries.alive(connection, id=plan, patience=_PATIENCE_S)
            return bool(row and row["wanted"])

    def tell(self, plan: int, found: Planned, *, settled: bool) -> None:
        """What there is of an answer."""
        with writing(self.jobs.pool) as connection:
            plan_queries.tell(
                connection, id=plan, answer=Jsonb(_planned.dump_python(found, mode="json")), settled=settled
            )

    def finish(self, plan: int, state: Literal["done", "failed", "left"], failed: str = "") -> None:
        """A plan has come to its end: done, failed with a sentence, or left because nobody waits."""
        with writing(self.jobs.pool) as connection:
            plan_queries.finish(connection, id=plan, state=state, failed=failed)
            plan_queries.forget_plans(connection, most=_MOST_KEPT)

    def take_up_lost(self) -> None:
        """Put plans whose worker is gone back into the queue."""
        with writing(self.jobs.pool) as connection:
            lost = [int(row["id"]) for row in plan_queries.lost_plans(connection, stale=_STALE_S)]
            lost = [plan for plan in lost if plan_queries.ask_again(connection, id=plan, stale=_STALE_S)]
        for plan in lost:
            self._defer(plan)
