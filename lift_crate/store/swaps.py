"""Swaps as they were really made."""

from __future__ import annotations

from dataclasses import dataclass

from ..core.swaps.what_if import Made
from .database import only_once, reading, swap_queries, writing
from .jobs import JobStore

__all__ = ["NotedSwap", "SwapStore"]


@dataclass(frozen=True, kw_only=True)
class NotedSwap:
    """A swap in the log: its number, what was made, by whom."""

    id: int
    made: Made
    actor: str


class SwapStore:
    """Keeps the swaps of a job."""

    def __init__(self, jobs: JobStore) -> None:
        self.jobs = jobs

    def of(self, job: str) -> list[NotedSwap]:
        """All swaps of a job, in the order of time."""
        with reading(self.jobs.pool) as connection:
            rows = list(swap_queries.swaps(connection, job=job))
        return [NotedSwap(id=r.pop("id"), actor=r.pop("actor"), made=Made(**r)) for r in rows]

    def note(self, job: str, made: Made, actor: str) -> int:
        """A swap was made; its number. Raises what the database refuses: an unknown
        pack, a share of charge beyond 1, the same swap twice.
        """
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            found: int = swap_queries.add_swap(
                connection,
                job=job,
                slot=made.slot,
                pack_out=made.pack_out,
                pack_in=made.pack_in,
                at=made.at,
                charge_left=made.charge_left,
                charge_in=made.charge_in,
                actor=actor,
            )["id"]
            return found

    def drop(self, job: str, swap: int, actor: str) -> None:
        """It was noted by mistake: it counts no more, and stays in the record."""
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            swap_queries.take_back_swap(connection, job=job, id=swap, actor=actor)
