"""Connections, migrations and the named queries."""

from __future__ import annotations

from importlib.resources import files
from typing import Any

import aiosql
import psycopg
from psycopg.rows import dict_row
from psycopg_pool import ConnectionPool

from .errors import translated

__all__ = ["Pool", "balance_queries", "build_queries", "job_queries", "migrate", "open_pool", "shelf_queries", "swap_queries"]

Pool = ConnectionPool[psycopg.Connection[dict[str, Any]]]

_HERE = files(__package__)
balance_queries: Any = aiosql.from_str((_HERE / "queries" / "balance.sql").read_text(encoding="utf-8"), "psycopg", mandatory_parameters=False)
build_queries: Any = aiosql.from_str((_HERE / "queries" / "builds.sql").read_text(encoding="utf-8"), "psycopg", mandatory_parameters=False)
job_queries: Any = aiosql.from_str((_HERE / "queries" / "jobs.sql").read_text(encoding="utf-8"), "psycopg", mandatory_parameters=False)
shelf_queries: Any = aiosql.from_str((_HERE / "queries" / "shelf.sql").read_text(encoding="utf-8"), "psycopg", mandatory_parameters=False)
swap_queries: Any = aiosql.from_str((_HERE / "queries" / "swaps.sql").read_text(encoding="utf-8"), "psycopg", mandatory_parameters=False)

_MIGRATION_LOCK = 7_231_904_118


def open_pool(url: str, *, size: int = 8) -> Pool:
    """A pool of checked connections with rows as dicts; waits 5 s for one before DatabaseAway."""
    return ConnectionPool(
        url, min_size=1, max_size=size, timeout=5, open=True, check=ConnectionPool.check_connection,
        kwargs={"row_factory": dict_row}, connection_class=psycopg.Connection[dict[str, Any]],
    )  # fmt: skip


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
        for script in sorted((_HERE / "migrations").iterdir(), key=lambda f: f.name):
            if script.name.endswith(".sql") and script.name not in done:
                connection.execute(script.read_bytes())
                connection.execute("INSERT INTO schema_migration (name) VALUES (%s)", (script.name,))
                applied.append(script.name)
    return applied
