"""What was done with every card, judged one step after the other and kept whatever becomes of it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..core.day.custody import CardStep, mirrored_between, once_only_for, refused, taken_back
from ..core.day.media import media_plan
from ..core.errors import NotAllowed
from ..core.job.edits import on_clock
from ..core.job.job import NotInJob
from .database import Connection, card_queries, only_once, reading, writing
from .jobs import JobStore

__all__ = ["CardStore", "NotedStep"]


@dataclass(frozen=True, kw_only=True)
class NotedStep:
    """A step in the custody of cards: its number, in which job, by whom, and who took it back."""

    id: int
    job: str
    step: CardStep
    actor: str
    taken_back_by: str | None


class CardStore:
    """Keeps the custody of all cards; a card that holds what another job recorded is not blank for this one."""

    def __init__(self, jobs: JobStore) -> None:
        self.jobs = jobs

    def all(self) -> list[NotedStep]:
        """Everything that was done with cards, in the order of time."""
        with reading(self.jobs.pool) as connection:
            return self._all(connection)

    def _all(self, connection: Connection) -> list[NotedStep]:
        return [
            NotedStep(
                id=r.pop("id"),
                job=r.pop("job_id"),
                actor=r.pop("actor"),
                taken_back_by=r.pop("taken_back_by"),
                step=CardStep(**r),
            )
            for r in card_queries.card_steps(connection)
        ]

    def note(self, job_id: str, step: CardStep, actor: str) -> int:
        """Something was done with a card; its number. A time without a zone is on the job's own clock.

        Raises NotInJob, NoSuchUnit, JobRefused for a time that the clock leaps over, and NotAllowed where it cannot be.
        """
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            list(card_queries.lock_cards(connection))
            job, catalogue, _ = self.jobs.read_on(connection, job_id)
            step = replace(step, at=on_clock(step.at, job.clock))
            noted = [n.step for n in self._all(connection) if n.taken_back_by is None]
            media = media_plan(job, catalogue, self.jobs.out_elsewhere_on(connection, job_id))
            if step.act == "in":
                step = replace(step, once_only=once_only_for(job, media, step))
            else:
                step = replace(step, unit=None, slot=None, once_only=False)
            if step.act == "out":
                before = [n for n in noted if n.card == step.card and n.act == "in" and n.at <= step.at]
                since = max((n.at for n in before), default=step.at)
                unit = next((n.unit for n in before if n.at == since), None) or ""
                step = replace(step, once_only=mirrored_between(media, step.card, unit, since, step.at))
            why = refused(catalogue, job.clock, noted, step)
            if why:
                raise NotAllowed(why)
            found: int = card_queries.add_card_step(
                connection,
                job=job_id,
                card=step.card,
                act=step.act,
                at=step.at,
                unit=step.unit,
                slot=step.slot,
                place=step.place.strip(),
                gb=step.gb,
                verified=step.verified,
                checksum=step.checksum,
                note=step.note,
                once_only=step.once_only,
                actor=actor,
            )["id"]
            return found

    def take_back(self, job_id: str, number: int, actor: str) -> None:
        """A step was noted by mistake; it stays readable. Raises NotInJob, and NotAllowed where others rest on it."""
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            list(card_queries.lock_cards(connection))
            job, catalogue, _ = self.jobs.read_on(connection, job_id)
            noted = {n.id: n for n in self._all(connection) if n.taken_back_by is None}
            if number not in noted or noted[number].job != job_id:
                raise NotInJob("step with a card", str(number))
            why = taken_back(catalogue, job.clock, [n.step for n in noted.values()], noted[number].step)
            if why:
                raise NotAllowed(why)
            card_queries.take_back_card_step(connection, id=number, actor=actor)
