"""Practice: drills that were played, and those that a keeper has put up."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ..core.drill.score import Result
from ..core.job.job import NotInJob
from .database import drill_queries, only_once, reading, writing
from .jobs import JobStore

__all__ = ["DrillKind", "DrillStore", "KeptDrill", "PlayedDrill", "WhichDrill"]

DrillKind = Literal["balance", "wrong link", "faults", "late day", "orientation"]


@dataclass(frozen=True, kw_only=True)
class WhichDrill:
    """Which drill: its kind, the camera in a part of the day that it is made from, and its number."""

    kind: DrillKind
    part: str
    rig: str
    seed: int


@dataclass(frozen=True, kw_only=True)
class PlayedDrill(WhichDrill):
    """A drill that somebody has played to its end."""

    points: int
    won: bool
    said: str
    at: datetime


@dataclass(frozen=True, kw_only=True)
class KeptDrill(WhichDrill):
    """A drill that was put up for the crew."""

    id: int
    title: str
    actor: str
    at: datetime


class DrillStore:
    """Keeps who practised what."""

    def __init__(self, jobs: JobStore) -> None:
        self.jobs = jobs

    def played(self, job_id: str, person: str) -> list[PlayedDrill]:
        """What somebody has played, the latest first."""
        with reading(self.jobs.pool) as connection:
            return [PlayedDrill(**r) for r in drill_queries.runs(connection, job=job_id, person=person)]

    def best(self, job_id: str, which: WhichDrill) -> list[tuple[str, int]]:
        """The best of everybody at one drill."""
        with reading(self.jobs.pool) as connection:
            return [(r["person"], r["points"]) for r in drill_queries.best(connection, job=job_id, **vars(which))]

    def ended(self, job_id: str, which: WhichDrill, result: Result, person: str) -> None:
        """A drill was played to its end."""
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            drill_queries.add_run(
                connection,
                job=job_id,
                points=result.points,
                won=result.won,
                said=result.said[:2000],
                person=person,
                **vars(which),
            )

    def kept(self, job_id: str) -> list[KeptDrill]:
        """What was put up for the crew."""
        with reading(self.jobs.pool) as connection:
            return [KeptDrill(**r) for r in drill_queries.kept(connection, job=job_id)]

    def keep(self, job_id: str, which: WhichDrill, title: str, actor: str) -> None:
        """Put a drill up for the crew."""
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            drill_queries.keep(connection, job=job_id, title=title, actor=actor, **vars(which))

    def drop(self, job_id: str, number: int) -> None:
        """It is put up no more; raises NotInJob."""
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            if drill_queries.drop(connection, job=job_id, id=number) is None:
                raise NotInJob("drill put up", str(number))
