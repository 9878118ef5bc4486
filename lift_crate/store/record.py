"""Everything that was done in a job, by whom and when, line by line from the latest back to its beginning."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from .database import reading, record_queries
from .jobs import JobStore

__all__ = ["From", "RecordLine", "RecordStore"]


@dataclass(frozen=True, kw_only=True)
class RecordLine:
    """One thing that was done: of which kind, to what, its number or version there; ``gone``: undone or taken back."""

    at: datetime
    kind: str
    thing: str
    number: int
    title: str
    actor: str
    gone: bool


@dataclass(frozen=True, kw_only=True)
class From:
    """The line after which the record goes on."""

    at: datetime
    kind: str
    thing: str
    number: int


class RecordStore:
    """Reads what was done; it is written where it is done."""

    def __init__(self, jobs: JobStore) -> None:
        self.jobs = jobs

    def of(
        self,
        job_id: str,
        *,
        leads: bool,
        kind: str | None = None,
        actor: str | None = None,
        things: Sequence[str] | None = None,
        after: From | None = None,
        most: int,
    ) -> list[RecordLine]:
        """Lines of a job, latest first, at the job's own clock; raises NotInJob."""
        with reading(self.jobs.pool) as connection:
            clock = self.jobs.read_on(connection, job_id)[0].clock
            rows = record_queries.record(
                connection,
                job=job_id,
                leads=leads,
                kind=kind,
                actor=actor,
                things=list(things) if things is not None else None,
                at=after and after.at,
                from_kind=after and after.kind,
                from_thing=after and after.thing,
                number=after and after.number,
                most=most,
            )
            return [RecordLine(**{**row, "at": row["at"].astimezone(clock)}) for row in rows]

    def actors(self, job_id: str) -> list[str]:
        """Everybody who did something in a job."""
        with reading(self.jobs.pool) as connection:
            return [row["actor"] for row in record_queries.actors(connection, job=job_id)]
