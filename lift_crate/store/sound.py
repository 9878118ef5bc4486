"""What was done at every source of sound, kept whatever becomes of it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..core.day.rolling import SoundStep, refused_at_source
from ..core.errors import NotAllowed
from ..core.job.edits import on_clock
from ..core.job.job import NotInJob
from .database import Connection, only_once, reading, sound_queries, writing
from .jobs import JobStore

__all__ = ["NotedSound", "SoundStore"]


@dataclass(frozen=True, kw_only=True)
class NotedSound:
    """A step at a source: its number, who wore the source then, who noted it, and who took it back."""

    id: int
    step: SoundStep
    wearer: str
    actor: str
    taken_back_by: str | None


class SoundStore:
    """Keeps what was done at the sources of a job."""

    def __init__(self, jobs: JobStore) -> None:
        self.jobs = jobs

    def of(self, job_id: str) -> list[NotedSound]:
        """Everything that was done at the sources of a job, in the order of time."""
        with reading(self.jobs.pool) as connection:
            return self._of(connection, job_id)

    def _of(self, connection: Connection, job_id: str) -> list[NotedSound]:
        return [
            NotedSound(
                id=r.pop("id"),
                wearer=r.pop("wearer"),
                actor=r.pop("actor"),
                taken_back_by=r.pop("taken_back_by"),
                step=SoundStep(**r),
            )
            for r in sound_queries.sound_steps(connection, job=job_id)
        ]

    def note(self, job_id: str, step: SoundStep, actor: str) -> int:
        """Something was done at a source; its number. Raises NotInJob, and NotAllowed where it cannot be."""
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            list(sound_queries.lock_sound(connection, job=job_id))
            job, _, _ = self.jobs.read_on(connection, job_id)
            step = replace(step, at=on_clock(step.at, job.clock))
            noted = [n.step for n in self._of(connection, job_id) if n.taken_back_by is None]
            why = refused_at_source(job, noted, step)
            if why:
                raise NotAllowed(why)
            wearer = next(v.wearer for v in job.sound.voices if v.id == step.voice)
            found: int = sound_queries.add_sound_step(
                connection,
                job=job_id,
                voice=step.voice,
                source=step.source,
                act=step.act,
                at=step.at,
                file=step.file.strip(),
                wearer=wearer,
                actor=actor,
            )["id"]
            return found

    def take_back(self, job_id: str, number: int, actor: str) -> None:
        """A step was noted by mistake; it stays readable. Raises NotInJob."""
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            if sound_queries.take_back_sound_step(connection, job=job_id, id=number, actor=actor) is None:
                raise NotInJob("step at a source", str(number))
