"""Some edit, more look on: everybody is told every edit, once, and none that was acknowledged is lost."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import psycopg

from tests.conftest import LiveServer
from tests.soak.crowd import Crowd, wide_job


def test_everybody_is_told_every_edit_once(
    new_database: Callable[..., str], templates: dict[str, str], tmp_path: Path
) -> None:
    url = new_database(templates["empty"])
    job = wide_job(url)
    server = LiveServer(url, tmp_path / "log", demo=False, more=("--web", "2", "--workers", "0"))
    server.start()
    try:
        crowd = Crowd(server, job, editors=6, listeners=20, every_s=0.8)
        crowd.work(8)
    finally:
        server.stop()
    with psycopg.connect(url) as connection:
        kept = connection.execute("SELECT count(*) FROM edit WHERE actor = 'bench'").fetchone()
        told = connection.execute("SELECT id FROM happening WHERE kind = 'build' AND actor = 'bench' ORDER BY id")
        numbers = [row[0] for row in told.fetchall()]
    assert kept == (crowd.statuses[200],)
    assert crowd.statuses[200] == len(numbers) > 1
    assert set(crowd.statuses) <= {200, 409}
    assert len(crowd.heard) == 20
    for heard in crowd.heard.values():
        assert sorted(heard) == numbers, "each once"
    assert crowd.strips_ms, "with the cameras as they are then"
