"""Connections, migrations and the named queries."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from contextvars import ContextVar
from functools import wraps
from importlib.resources import files
from typing import Any, ParamSpec, TypeVar

import aiosql
import psycopg
from psycopg import IsolationLevel, conninfo
from psycopg.rows import dict_row
from psycopg_pool import ConnectionPool, PoolTimeout

from .errors import Crossed, DatabaseAway, TakenAlready, answers, translated

__all__ = [
    "Connection",
    "Pool",
    "acting",
    "balance_queries",
    "build_queries",
    "card_queries",
    "crew_queries",
    "doing",
    "drill_queries",
    "has_jobs",
    "job_queries",
    "live_queries",
    "log_queries",
    "migrate",
    "only_once",
    "open_pool",
    "packing_queries",
    "picture_queries",
    "plan_queries",
    "reading",
    "recipe_queries",
    "record_queries",
    "sent_as",
    "shelf_queries",
    "sound_queries",
    "swap_queries",
    "tried_again",
    "with_limits",
    "writing",
]

Connection = psycopg.Connection[dict[str, Any]]
Pool = ConnectionPool[Connection]
P = ParamSpec("P")
R = TypeVar("R")

_HERE = files(__package__)


def _queries(name: str) -> Any:  # noqa: ANN401 - aiosql makes its functions at run time
    return aiosql.from_str(
        (_HERE / "queries" / f"{name}.sql").read_text(encoding="utf-8"), "psycopg", mandatory_parameters=False
    )


balance_queries: Any = _queries("balance")
build_queries: Any = _queries("builds")
card_queries: Any = _queries("cards")
crew_queries: Any = _queries("crew")
job_queries: Any = _queries("jobs")
live_queries: Any = _queries("live")
picture_queries: Any = _queries("pictures")
plan_queries: Any = _queries("plans")
recipe_queries: Any = _queries("recipes")
record_queries: Any = _queries("record")
shelf_queries: Any = _queries("shelf")
packing_queries: Any = _queries("packing")
log_queries: Any = _queries("log")
drill_queries: Any = _queries("drill")
sound_queries: Any = _queries("sound")
swap_queries: Any = _queries("swaps")

_MIGRATION_LOCK = 7_231_904_118
_LIMITS = {
    "statement_timeout": "20s",
    "lock_timeout": "8s",
    "idle_in_transaction_session_timeout": "60s",
    "TimeZone": "UTC",
}
_TRIES = 5
_SOON_S, _WAIT_S = 5.0, 20.0
"""For a free connection: after the first it is asked whether the database is away, which is told at once; the second
is shorter than a request may take, and longer than a crowd on a busy machine keeps all of them.
"""
doing: ContextVar[str] = ContextVar("doing", default="")
"""Which window does what is written, where one does."""
acting: ContextVar[str] = ContextVar("acting", default="")
"""As whom what is read is asked for and what is written is done, where it is somebody."""
sent_as: ContextVar[str] = ContextVar("sent_as", default="")
"""Under which key something is sent that is to be taken once, if under any."""
_snapshot: ContextVar[tuple[int, Connection] | None] = ContextVar("snapshot", default=None)


def with_limits(url: str) -> str:
    """A connection string whose sessions end what hangs: statements, waits for
    locks, transactions left open. Times are told in UTC.
    """
    parts = conninfo.conninfo_to_dict(url)
    given = str(parts.get("options") or "")
    return conninfo.make_conninfo(
        "",
        **{**parts, "options": " ".join([given, *(f"-c {name}={value}" for name, value in _LIMITS.items())]).strip()},
    )


def open_pool(url: str, *, size: int = 8) -> Pool:
    """A pool of checked connections with rows as dicts; waits for one before DatabaseAway or ServerBusy."""
    return ConnectionPool(
        with_limits(url),
        min_size=1,
        max_size=size,
        timeout=_WAIT_S,
        open=True,
        check=ConnectionPool.check_connection,
        reset=_reset,
        kwargs={"row_factory": dict_row},
        connection_class=Connection,
    )


def _reset(connection: Connection) -> None:
    connection.isolation_level, connection.read_only = None, None


@contextmanager
def _connected(pool: Pool) -> Iterator[Connection]:
    with translated(pool), ExitStack() as held:
        try:
            connection = held.enter_context(pool.connection(_SOON_S))
        except PoolTimeout as error:
            if not answers(pool):
                raise DatabaseAway from error
            connection = held.enter_context(pool.connection(_WAIT_S - _SOON_S))
        yield connection


@contextmanager
def reading(pool: Pool) -> Iterator[Connection]:
    """Everything read within sees the database at one moment; what is opened within another shares its moment."""
    outer = _snapshot.get()
    if outer and outer[0] == id(pool):
        yield outer[1]
        return
    with _connected(pool) as connection:
        connection.isolation_level, connection.read_only = IsolationLevel.REPEATABLE_READ, True
        mark = _snapshot.set((id(pool), connection))
        try:
            yield connection
        finally:
            _snapshot.reset(mark)


def has_jobs(pool: Pool) -> bool:
    """Whether there is a job at all."""
    with reading(pool) as connection:
        return next(job_queries.jobs(connection), None) is not None


@contextmanager
def writing(pool: Pool) -> Iterator[Connection]:
    """One transaction, whole or not at all."""
    with _connected(pool) as connection, connection.transaction():
        if browser := doing.get():
            connection.execute("SELECT set_config('lift_crate.browser', %s, true)", (browser,))
        yield connection


def only_once(connection: Connection) -> None:
    """In the transaction that takes what was sent: it was not taken before. Raises TakenAlready."""
    if (key := sent_as.get()) and live_queries.take_once(connection, key=key) is None:
        raise TakenAlready


def tried_again(change: Callable[P, R]) -> Callable[P, R]:
    """A change that crosses another's is made again from its beginning; after some tries it is refused as Crossed."""

    @wraps(change)
    def again(*args: P.args, **kwargs: P.kwargs) -> R:
        for left in reversed(range(_TRIES)):
            try:
                return change(*args, **kwargs)
            except Crossed:
                if not left:
                    raise
                time.sleep(0.02 * (_TRIES - left))
        raise AssertionError("unreachable")

    return again


def migrate(url: str) -> list[str]:
    """Bring the database up to date; returns the migrations applied, in order.

    Each runs in one transaction with its entry in ``schema_migration``; a lock keeps
    two programs from migrating at once.
    """
    applied = []
    with translated(), psycopg.connect(url) as connection:
        connection.execute("SELECT pg_advisory_xact_lock(%s)", (_MIGRATION_LOCK,))
        connection.execute(
            "CREATE TABLE IF NOT EXISTS schema_migration (name text PRIMARY KEY, at timestamptz NOT NULL DEFAULT now())"
        )
        done = {row[0] for row in connection.execute("SELECT name FROM schema_migration").fetchall()}
        scripts: dict[str, Callable[[], bytes]] = {
            f.name: f.read_bytes
            for f in sorted((_HERE / "migrations").iterdir(), key=lambda f: f.name)
            if f.name.endswith(".sql")
        }
        scripts["queue"] = _queue_schema
        for name, script in scripts.items():
            if name not in done:
                connection.execute(script())
                connection.execute("INSERT INTO schema_migration (name) VALUES (%s)", (name,))
                applied.append(name)
    return applied


def _queue_schema() -> bytes:
    from procrastinate.schema import SchemaManager  # noqa: PLC0415 - loaded once in the life of a database

    return SchemaManager.get_schema().encode()
