"""Balances as they were really set, with the rig they were made for."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg.types.json import Jsonb
from pydantic import TypeAdapter

from ..core.balance.walk import MadeSo
from ..core.job.job import NotInJob
from ..core.rig.build import Build
from .builds import BuildState
from .database import balance_queries, build_queries, only_once, reading, writing
from .errors import StaleEdit
from .jobs import JobStore

__all__ = ["Balance", "BalanceStore"]

_builds = TypeAdapter(Build)
_made = TypeAdapter(MadeSo)
_MOST = 20
_MOST_OF_JOB = 60


@dataclass(frozen=True, kw_only=True)
class Balance:
    """A balance: the build it was for, the readings computed and those set, by whom, when."""

    id: int
    fingerprint: str
    build: Build
    computed: dict[str, float]
    set_to: dict[str, float]
    note: str
    actor: str
    at: datetime
    """When it was made; ``noted_at``: when that came in here."""
    noted_at: datetime
    removed: bool
    made: MadeSo
    touched: tuple[str, ...]
    touched_at: dict[str, str]
    """When each of those was noted to have changed."""


class BalanceStore:
    """Keeps balances."""

    def __init__(self, jobs: JobStore) -> None:
        self.jobs = jobs

    def of(self, job: str, build: str) -> list[Balance]:
        """The latest balances of a build, newest first, removed ones too."""
        with reading(self.jobs.pool) as connection:
            return [_kept(row) for row in balance_queries.balances(connection, job=job, build=build, most=_MOST)]

    def of_job(self, job: str) -> list[Balance]:
        """The latest balances of all builds of a job, newest first."""
        with reading(self.jobs.pool) as connection:
            return [_kept(row) for row in balance_queries.balances_of_job(connection, job=job, most=_MOST_OF_JOB)]

    def remove(self, job: str, build: str, number: int, *, removed: bool) -> None:
        """Put a balance away, or bring it back; raises NotInJob."""
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            if balance_queries.remove_balance(connection, job=job, build=build, id=number, removed=removed) is None:
                raise NotInJob("balance", str(number))

    def touch(
        self, job: str, build: str, number: int, thing: str, *, changed: bool, at: datetime | None = None
    ) -> None:
        """Note that something has changed since a balance, or that it has not, at a time or now; raises NotInJob."""
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            kept = balance_queries.touch_balance(
                connection, job=job, build=build, id=number, thing=thing, changed=changed, at=at
            )
            if kept is None:
                raise NotInJob("balance", str(number))

    def record(
        self,
        state: BuildState,
        fingerprint: str,
        computed: dict[str, float],
        set_to: dict[str, float],
        note: str,
        actor: str,
        made: MadeSo,
        at: datetime | None = None,
    ) -> None:
        """A rig was balanced as it stands, at a time or now; raises StaleEdit when it has moved on meanwhile."""
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            row = build_queries.lock_build(connection, job=state.job.id, build=state.build.id)
            if row is None or row["version"] != state.version:
                raise StaleEdit(state.build.id, state.version, row["version"] if row else 0, ())
            balance_queries.add_balance(
                connection,
                job=state.job.id,
                build=state.build.id,
                fingerprint=fingerprint,
                note=note,
                actor=actor,
                content=Jsonb(_builds.dump_python(state.build, mode="json", exclude_defaults=True)),
                computed=Jsonb(computed),
                set_to=Jsonb(set_to),
                made=Jsonb(_made.dump_python(made, mode="json", exclude_defaults=True)),
                at=at,
            )


def _kept(row: dict[str, Any]) -> Balance:
    return Balance(
        **{
            **row,
            "build": _builds.validate_python(row["build"]),
            "made": _made.validate_python(row["made"]),
            "touched": tuple(row["touched"]),
        }
    )
