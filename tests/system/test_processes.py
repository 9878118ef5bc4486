"""The real processes: slow clients, a killed worker, a killed server, two servers on one database."""

from __future__ import annotations

import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import psycopg
import pytest

from tests.conftest import ROOT, LiveServer

JOB = "/api/jobs/dry-dock-opera"
QUAY = f"{JOB}/parts/dress/rigs/quay"


def ask(address: str, body: object = None, headers: dict[str, str] | None = None) -> Any:
    data = None if body is None else json.dumps(body).encode()
    said = {"Content-Type": "application/json", **(headers or {})}
    request = urllib.request.Request(address, data=data, headers=said)  # noqa: S310 - our own loopback address
    with urllib.request.urlopen(request, timeout=30) as answer:  # noqa: S310
        return json.loads(answer.read())


@pytest.fixture
def serve(
    new_database: Callable[..., str], templates: dict[str, str], tmp_path: Path
) -> Iterator[Callable[..., LiveServer]]:
    url = new_database(templates["demo"])
    servers: list[LiveServer] = []

    def start(*more: str) -> LiveServer:
        server = LiveServer(url, tmp_path / f"server-{len(servers)}.log", demo=False, more=("--web", "1", *more))
        servers.append(server)
        server.start()
        return server

    yield start
    for server in servers:
        server.stop()


def half_request(server: LiveServer) -> socket.socket:
    """A connection that has begun to ask and does not go on."""
    client = socket.create_connection(("127.0.0.1", server.port))
    client.sendall(
        b"POST /api/jobs/dry-dock-opera/parts/dress/rigs/quay/edits HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type:"
        b" application/json\r\nContent-Length: 300\r\n\r\n{"
    )
    return client


def test_clients_that_do_not_go_on_hold_nobody_else(serve: Callable[..., LiveServer]) -> None:
    server = serve("--workers", "0")
    idle = [socket.create_connection(("127.0.0.1", server.port)) for _ in range(60)]
    begun = [half_request(server) for _ in range(60)]
    try:
        for _ in range(5):
            assert ask(f"{server.address}{QUAY}")["version"] == 1
        with socket.create_connection(("127.0.0.1", server.port)) as long:
            long.sendall(b"GET /api/me?" + b"x" * 9000 + b" HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n")
            said = long.recv(4000)
        assert said.startswith(b"HTTP/1.1 414 ")
        assert b"Content-Type: application/problem+json" in said
    finally:
        for client in (*idle, *begun):
            client.close()


def poll(
    server: LiveServer,
    part: str = "arrival",
    until: Callable[[dict[str, Any]], bool] = lambda seen: not seen["working"],
    **what: object,
) -> dict[str, Any]:
    query = "&".join(f"{name}={value}" for name, value in what.items())
    for _ in range(400):
        seen: dict[str, Any] = ask(f"{server.address}{JOB}/swaps?part={part}&{query}", headers={"X-Browser": "one"})
        if until(seen):
            return seen
        time.sleep(0.2)
    raise AssertionError("the day was never planned")


def work(url: str) -> subprocess.Popen[bytes]:
    return subprocess.Popen(
        [sys.executable, "-m", "lift_crate.cli", "work"], cwd=ROOT, env={**os.environ, "DATABASE_URL": url}
    )


def test_a_plan_whose_worker_is_killed_is_taken_up_again(serve: Callable[..., LiveServer]) -> None:
    server = serve("--workers", "0")
    poll(server, until=lambda seen: bool(seen["parts"]))
    first = work(server.url)
    try:
        with psycopg.connect(server.url, autocommit=True) as connection:
            for _ in range(300):
                ask(f"{server.address}{JOB}/swaps?part=arrival", headers={"X-Browser": "one"})
                if connection.execute("SELECT 1 FROM day_plan WHERE state = 'working'").fetchone():
                    break
                time.sleep(0.05)
            first.send_signal(signal.SIGKILL)
            first.wait()
            assert connection.execute("SELECT state FROM day_plan").fetchone() == ("working",)
            # As if the time after which a silent worker is taken for gone had passed.
            connection.execute("UPDATE day_plan SET alive_at = now() - interval '1 minute'")
    finally:
        first.kill()
    second = work(server.url)
    try:
        assert poll(server)["packs"] == 13
    finally:
        second.terminate()
        second.wait()


def test_a_killed_server_loses_nothing_that_was_acknowledged(serve: Callable[..., LiveServer]) -> None:
    server = serve("--workers", "0")
    version = 1
    for use in ("running", "static"):
        version = ask(
            f"{server.address}{QUAY}/edits", {"version": version, "operations": [{"op": "carry", "use": use}]}
        )["version"]
    assert server.process
    os.kill(server.process.pid, signal.SIGKILL)
    server.process.wait()
    for _ in range(100):
        try:
            socket.create_connection(("127.0.0.1", server.port), timeout=1).close()
        except OSError:
            break
        time.sleep(0.1)
    else:
        raise AssertionError("the processes of a killed server go with it")
    server.start()
    seen = ask(f"{server.address}{QUAY}")
    assert (seen["version"], seen["use"]) == (3, "static")


def test_two_servers_on_one_database_are_one(serve: Callable[..., LiveServer]) -> None:
    """An edit on one is seen and guarded on the other, and a day is planned once for both."""
    one, two = serve(), serve("--workers", "0")
    after = ask(f"{one.address}{QUAY}/edits", {"version": 1, "operations": [{"op": "carry", "use": "running"}]})
    assert ask(f"{two.address}{QUAY}")["version"] == after["version"] == 2
    with pytest.raises(urllib.error.HTTPError) as refused:
        ask(f"{two.address}{QUAY}/edits", {"version": 1, "operations": [{"op": "carry", "use": "static"}]})
    assert refused.value.code == 409
    refused.value.close()
    unit = ask(f"{one.address}/api/shelf/units/PACK-04")
    request = urllib.request.Request(  # noqa: S310
        f"{one.address}/api/shelf/units?seen={unit['seen']}",
        data=json.dumps({**unit["unit"], "note": "seen by both"}).encode(),
        method="PUT",
        headers={"Content-Type": "application/json"},
    )
    urllib.request.urlopen(request, timeout=30).close()  # noqa: S310
    assert ask(f"{two.address}/api/shelf/units/PACK-04")["unit"]["note"] == "seen by both"
    planned = poll(two)
    again = poll(one)
    assert {k: planned[k] for k in ("uses", "cards", "cures", "findings", "packs")} == {
        k: again[k] for k in ("uses", "cards", "cures", "findings", "packs")
    }
    with psycopg.connect(one.url) as connection:
        assert connection.execute("SELECT count(*) FROM day_plan").fetchone() == (1,)
    assert poll(two, mains="false")["chargers"] == []


def test_what_nobody_waits_for_is_not_planned(serve: Callable[..., LiveServer]) -> None:
    """Many what-ifs of one browser: only its last is worked on, and the next person does not wait for the others."""
    server = serve()
    for colder in range(1, 13):
        ask(f"{server.address}{JOB}/swaps?part=arrival&colder={colder}", headers={"X-Browser": "restless"})
    seen = poll(server, "mark-through")
    assert seen["packs"]
    with psycopg.connect(server.url) as connection:
        states: dict[str, int] = dict(
            connection.execute("SELECT state, count(*) FROM day_plan GROUP BY state").fetchall()
        )
    assert states.get("done", 0) <= 6, states
