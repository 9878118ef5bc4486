"""What was really packed, brought back and found missing, kept whatever becomes of the job."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from ..core.errors import LiftCrateError, NotAllowed
from ..core.job.edits import on_clock
from ..core.job.job import Job, NotInJob
from ..core.pack.lists import Lists, PackStep, lists_of, refused_step
from .database import Connection, only_once, packing_queries, reading, writing
from .jobs import JobStore

__all__ = ["AskedFirst", "NotedPacking", "PackingStore"]


class AskedFirst(LiftCrateError):
    """A step that can be and is unlikely: somebody is asked before it is noted."""

    code = "pack.asked"

    def __init__(self, question: str) -> None:
        self.question = question

    def __str__(self) -> str:
        return self.question


@dataclass(frozen=True, kw_only=True)
class NotedPacking:
    """A step with the packing: its number, who noted it, and who took it back."""

    id: int
    step: PackStep
    actor: str
    taken_back_by: str | None


class PackingStore:
    """Keeps the lists out and back of every job."""

    def __init__(self, jobs: JobStore) -> None:
        self.jobs = jobs

    def of(self, job_id: str) -> list[NotedPacking]:
        """Everything that was done with the packing of a job, in the order of time."""
        with reading(self.jobs.pool) as connection:
            return self._of(connection, job_id)

    def _of(self, connection: Connection, job_id: str) -> list[NotedPacking]:
        return [
            NotedPacking(id=r.pop("id"), actor=r.pop("actor"), taken_back_by=r.pop("taken_back_by"), step=PackStep(**r))
            for r in packing_queries.pack_steps(connection, job=job_id)
        ]

    def note(
        self,
        job_id: str,
        steps: list[PackStep],
        actor: str,
        asks: Callable[[Job, Lists, PackStep], str] = lambda *_: "",
    ) -> None:
        """Things were packed, brought back or missed: all of these steps or none.

        ``asks``: what somebody is asked before a step, on the lists as they are then; empty: nothing.
        Raises NotInJob, NotAllowed where a step cannot be, and AskedFirst.
        """
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            list(packing_queries.lock_packing(connection, job=job_id))
            job, catalogue, _ = self.jobs.read_on(connection, job_id)
            done = [(n.step, n.actor) for n in self._of(connection, job_id) if n.taken_back_by is None]
            for given in steps:
                step = replace(given, at=on_clock(given.at, job.clock), thing=given.thing.strip())
                lists = lists_of(done)
                if why := refused_step(job, catalogue, lists, step):
                    raise NotAllowed(why)
                if question := asks(job, lists, step):
                    raise AskedFirst(question)
                packing_queries.add_pack_step(
                    connection,
                    job=job_id,
                    act=step.act,
                    thing=step.thing,
                    case=step.case,
                    at=step.at,
                    note=step.note.strip(),
                    actor=actor,
                )
                done.append((step, actor))

    def take_back(self, job_id: str, number: int, actor: str) -> None:
        """A step was noted by mistake; it stays readable. Raises NotInJob."""
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            if packing_queries.take_back_pack_step(connection, job=job_id, id=number, actor=actor) is None:
                raise NotInJob("step with the packing", str(number))
