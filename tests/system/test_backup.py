"""Everything in one file and back: nothing differs, nothing is lost, and what is no backup changes nothing."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path
from typing import Any

import psycopg
import pytest
from psycopg import conninfo, sql

from lift_crate.store.backup import BadBackup, back_up, back_up_in, restore
from lift_crate.store.database import open_pool
from lift_crate.store.errors import DatabaseAway
from lift_crate.store.jobs import JobStore
from tests.conftest import drop_database

OPERA = "dry-dock-opera"
_DEBIANS = sorted(Path("/usr/lib/postgresql").glob("*/bin"))


@pytest.fixture(autouse=True)
def tools(monkeypatch: pytest.MonkeyPatch) -> None:
    """Where Debian keeps pg_dump of the server's own version."""
    monkeypatch.setenv("PATH", os.pathsep.join([*map(str, _DEBIANS[-1:]), os.environ["PATH"]]))


def told(url: str) -> Any:
    with open_pool(url, size=1) as pool:
        return JobStore(pool).export(OPERA)


def removed(url: str) -> None:
    with open_pool(url, size=1) as pool:
        JobStore(pool).remove(OPERA, "somebody")


def test_what_was_backed_up_comes_back_and_what_was_there_is_kept(
    new_database: Callable[..., str], templates: dict[str, str], server_parts: dict[str, Any], tmp_path: Path
) -> None:
    url, file = new_database(templates["demo"]), tmp_path / "night.lift-crate-backup"
    before = told(url)
    rows = back_up(url, file)
    assert rows["unit"] > 100
    assert file.stat().st_mode & 0o077 == 0, "passwords' digests are in it"
    assert [p.name for p in tmp_path.iterdir()] == [file.name]
    with pytest.raises(BadBackup, match="never written over"):
        back_up(url, file)
    removed(url)
    newest = "SELECT last_value FROM job_revision"
    with psycopg.connect(url) as connection:
        (at,) = connection.execute(newest).fetchone() or (0,)
    kept = restore(url, file)
    try:
        assert told(url) == before
        with psycopg.connect(url) as connection:
            (now,) = connection.execute("SELECT revision FROM job").fetchone() or (0,)
        assert now > at, "a server that goes on takes nothing of it for what it has read"
        with psycopg.connect(conninfo.make_conninfo("", **{**server_parts, "dbname": kept})) as connection:
            assert connection.execute("SELECT count(*) FROM job").fetchone() == (0,)
        with psycopg.connect(url) as connection:
            left = "SELECT datname FROM pg_database WHERE datname LIKE 'lift_crate_reading_%'"
            assert connection.execute(left).fetchall() == []
    finally:
        with psycopg.connect(
            conninfo.make_conninfo("", **{**server_parts, "dbname": "postgres"}), autocommit=True
        ) as a:
            drop_database(a, kept)


def test_what_is_no_backup_changes_nothing(
    new_database: Callable[..., str], templates: dict[str, str], tmp_path: Path
) -> None:
    url, file = new_database(templates["demo"]), tmp_path / "night"
    back_up(url, file)
    cut = tmp_path / "cut"
    cut.write_bytes(file.read_bytes()[:-2000])
    strange = tmp_path / "strange"
    strange.write_text("no backup")
    other, foreign = new_database(), tmp_path / "foreign"
    with psycopg.connect(other) as connection:
        connection.execute(sql.SQL("CREATE TABLE something (x int)"))
    back_up(other, foreign)
    before = told(url)
    for bad in (cut, strange, foreign, tmp_path / "none"):
        with pytest.raises(BadBackup):
            restore(url, bad)
        assert told(url) == before


def test_every_night_one_is_made_and_the_oldest_goes_when_it_counts(
    new_database: Callable[..., str], templates: dict[str, str], tmp_path: Path
) -> None:
    url = new_database(templates["demo"])
    folder = tmp_path / "nights"
    folder.mkdir()
    (folder / "lift-crate-20200101-040000.backup").write_text("an old one")
    (folder / "notes.txt").write_text("somebody's own")
    made, gone = back_up_in(url, folder, keep=1)
    assert gone == 1
    assert sorted(f.name for f in folder.iterdir()) == sorted([made.name, "notes.txt"])
    with pytest.raises(DatabaseAway):
        back_up_in("postgresql://nobody@127.0.0.1:1/none", folder, keep=1)
    assert made.exists(), "where none could be made none is taken away"
