"""The whole database as one file, read back before it counts, and put in the place of what is there, which is kept.

A backup is made of one moment: pg_dump and the sums that it is held against see the same snapshot. It counts when it
was read into a fresh database and every table there has the same sum. A restore is read into a fresh database too,
brought up to date there, and takes the name of the one in use only then; what was in use stays under another name.
"""

from __future__ import annotations

import os
import shutil
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path

import psycopg
from psycopg import IsolationLevel, conninfo, sql

from ..core.errors import LiftCrateError
from .database import migrate
from .errors import translated

__all__ = ["BadBackup", "back_up", "back_up_in", "restore"]

_TABLES = "SELECT tablename FROM pg_tables WHERE schemaname = 'public' ORDER BY tablename"
_SUM = (
    "SELECT count(*), coalesce(md5(string_agg(row, '' ORDER BY row)), '') FROM (SELECT md5(t::text) AS row FROM {} t) r"
)


class BadBackup(LiftCrateError):
    """A backup that could not be made, or a file that is none."""

    code = "backup"

    def __init__(self, why: str) -> None:
        self.why = why

    def __str__(self) -> str:
        return self.why


def back_up(url: str, target: Path) -> dict[str, int]:
    """Write a database to a file, which appears whole or not at all; rows by table. Raises BadBackup, DatabaseAway."""
    if target.exists():
        raise BadBackup(f"{target} is there already; a backup is never written over. Name another file.")
    beside = target.with_name(f"{target.name}.{os.getpid()}.making")
    try:
        with translated(), psycopg.connect(url) as connection:
            # Names and digests of passwords are in it: nobody else on the machine reads it.
            beside.touch(mode=0o600)
            connection.isolation_level, connection.read_only = IsolationLevel.REPEATABLE_READ, True
            (snapshot,) = connection.execute("SELECT pg_export_snapshot()").fetchone() or ("",)
            _run("pg_dump", "--format=custom", "--no-owner", f"--snapshot={snapshot}", f"--file={beside}", url=url)
            wanted = _sums(connection)
        with _fresh(url) as (fresh, _):
            _read_in(fresh, beside)
            with translated(), psycopg.connect(fresh) as connection:
                found = _sums(connection)
        differ = sorted(name for name in wanted.keys() | found.keys() if wanted.get(name) != found.get(name))
        if differ:
            raise BadBackup(f"Read back, {', '.join(differ[:5])} differ; the backup was thrown away. Try again.")
        beside.rename(target)
    finally:
        beside.unlink(missing_ok=True)
    return {name: rows for name, (rows, _) in wanted.items()}


def back_up_in(url: str, folder: Path, keep: int) -> tuple[Path, int]:
    """A backup called by its moment into a folder, and how many older ones went: so many are kept, none before the new
    one counts. Raises BadBackup, DatabaseAway.
    """
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    made = folder / f"lift-crate-{datetime.now(UTC):%Y%m%d-%H%M%S-%f}.backup"
    back_up(url, made)
    old = sorted(folder.glob("lift-crate-*.backup"))[: -max(1, keep)]
    for each in old:
        each.unlink()
    return made, len(old)


def restore(url: str, source: Path) -> str:
    """Put what a backup has in the place of a database; the name under which what was there is kept.

    Raises BadBackup, DatabaseAway; what is in use stays as it is then.
    """
    if not source.is_file():
        raise BadBackup(f"There is no file {source}.")
    name = str(conninfo.conninfo_to_dict(url)["dbname"])
    kept = f"{name}_before_{datetime.now(UTC):%Y%m%d_%H%M%S_%f}"
    with _fresh(url) as (fresh, made):
        _read_in(fresh, source)
        with translated(), psycopg.connect(fresh) as connection:
            tables = {row[0] for row in connection.execute(_TABLES).fetchall()}
        if not {"schema_migration", "job", "unit"} <= tables:
            raise BadBackup(f"{source} is a backup of something else; nothing was changed.")
        migrate(fresh)
        with translated(), psycopg.connect(fresh) as connection:
            # Whoever was signed in then need not be so now.
            connection.execute("DELETE FROM session")
            _newer_than(connection, url)
        with translated(), psycopg.connect(_at(url, "postgres"), autocommit=True) as admin:
            _take_the_name(admin, name, kept, made)
    return kept


def _newer_than(fresh: psycopg.Connection[tuple[object, ...]], url: str) -> None:
    """Revisions never come again, over a restore neither: servers that go on keep what they have read by them."""
    try:
        with psycopg.connect(url) as connection:
            (job,) = connection.execute("SELECT last_value FROM job_revision").fetchone() or (0,)
            (shelf,) = connection.execute("SELECT revision FROM catalogue_revision").fetchone() or (0,)
    except psycopg.Error:
        return  # what is there cannot be read, which is why it is put back
    fresh.execute("SELECT setval('job_revision', greatest(%s, (SELECT last_value FROM job_revision)) + 1)", (job,))
    fresh.execute("UPDATE job SET revision = nextval('job_revision')")
    fresh.execute("UPDATE catalogue_revision SET revision = greatest(%s, revision) + 1", (shelf,))


def _take_the_name(admin: psycopg.Connection[tuple[object, ...]], name: str, kept: str, made: str) -> None:
    """What was made goes by the name of what is in use, which goes by another; both or neither."""
    try:
        for each in (name, made):
            admin.execute(sql.SQL("ALTER DATABASE {} ALLOW_CONNECTIONS false").format(sql.Identifier(each)))
            admin.execute("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = %s", (each,))
        with admin.transaction():
            for old, new in ((name, kept), (made, name)):
                admin.execute(
                    sql.SQL("ALTER DATABASE {} RENAME TO {}").format(sql.Identifier(old), sql.Identifier(new))
                )
    finally:
        known = admin.execute("SELECT datname FROM pg_database WHERE datname = ANY(%s)", ([name, kept],)).fetchall()
        for (there,) in known:
            admin.execute(sql.SQL("ALTER DATABASE {} ALLOW_CONNECTIONS true").format(sql.Identifier(str(there))))


def _at(url: str, database: str) -> str:
    return conninfo.make_conninfo("", **{**conninfo.conninfo_to_dict(url), "dbname": database})


@contextmanager
def _fresh(url: str) -> Iterator[tuple[str, str]]:
    """A database of its own for a while, and its name; one that has been given another name stays."""
    name = f"lift_crate_reading_{os.getpid()}_{datetime.now(UTC):%H%M%S%f}"
    with translated(), psycopg.connect(_at(url, "postgres"), autocommit=True) as admin:
        admin.execute(sql.SQL("CREATE DATABASE {} TEMPLATE template0 ENCODING 'UTF8'").format(sql.Identifier(name)))
    try:
        yield _at(url, name), name
    finally:
        with translated(), psycopg.connect(_at(url, "postgres"), autocommit=True) as admin:
            admin.execute(sql.SQL("DROP DATABASE IF EXISTS {} WITH (FORCE)").format(sql.Identifier(name)))


def _read_in(url: str, source: Path) -> None:
    _run("pg_restore", "--no-owner", "--exit-on-error", "--single-transaction", str(source), url=url)


def _sums(connection: psycopg.Connection[tuple[object, ...]]) -> dict[str, tuple[int, str]]:
    """By table its rows and a sum over all they hold, in whatever order."""
    found = {}
    for (name,) in connection.execute(_TABLES).fetchall():
        row = connection.execute(sql.SQL(_SUM).format(sql.Identifier(str(name)))).fetchone()
        assert row is not None  # noqa: S101 - an aggregate always has a row
        found[str(name)] = (int(str(row[0])), str(row[1]))
    return found


def _run(tool: str, *arguments: str, url: str) -> None:
    """A program of PostgreSQL on a database; the password goes by the environment, which no list of programs shows."""
    path = shutil.which(tool)
    if path is None:
        raise BadBackup(f"'{tool}' is not on this machine; it comes with PostgreSQL ('./run backup' finds it).")
    parts = conninfo.conninfo_to_dict(url)
    password = str(parts.pop("password", "") or "")
    done = subprocess.run(  # noqa: S603 - our own words
        [path, *arguments, f"--dbname={conninfo.make_conninfo('', **parts)}"],
        check=False,
        capture_output=True,
        text=True,
        env={**os.environ, **({"PGPASSWORD": password} if password else {})},
    )
    if done.returncode:
        said = (done.stderr.strip().splitlines() or ["no word of why"])[0]
        raise BadBackup(f"{tool}: {said[:300]}")
