"""The long forms of the tests that attack the program: ``./run soak`` runs them and prints its figures."""

from __future__ import annotations

import os
import random
import socket
import subprocess
import sys
import threading
import time
from collections import Counter
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import psycopg
from psycopg import conninfo, sql

from lift_crate.core.bench.look_over import look_over
from lift_crate.core.errors import BadRig
from lift_crate.core.rig.build import Conditions
from lift_crate.core.rig.edits import (
    Attach,
    CarryAs,
    Connect,
    Detach,
    HoldBy,
    Move,
    Operation,
    Replace,
    SlideTo,
    Strip,
    Turn,
)
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import dump, parse
from lift_crate.store.builds import BuildState, BuildStore
from lift_crate.store.database import migrate, open_pool
from lift_crate.store.errors import Conflict
from lift_crate.store.jobs import JobStore
from tests.conftest import ROOT, LiveServer, drop_database
from tests.soak.crowd import Crowd, wide_job
from tests.system.test_processes import QUAY, ask, half_request

JOB = "dry-dock-opera"


class Scratch:
    """A database of its own for one run."""

    def __init__(self, *, demo: bool = True) -> None:
        self._demo = demo
        self._parts = conninfo.conninfo_to_dict(os.environ["DATABASE_URL"])
        self.name = f"lift_crate_soak_{os.getpid()}_{time.monotonic_ns()}"

    def __enter__(self) -> str:
        with psycopg.connect(
            conninfo.make_conninfo("", **{**self._parts, "dbname": "postgres"}), autocommit=True
        ) as connection:
            connection.execute(sql.SQL("CREATE DATABASE {}").format(sql.Identifier(self.name)))
        url = conninfo.make_conninfo("", **{**self._parts, "dbname": self.name})
        migrate(url)
        if self._demo:
            with open_pool(url, size=1) as pool:
                JobStore(pool).import_file(demo_job_file())
        return url

    def __exit__(self, *error: object) -> None:
        with psycopg.connect(
            conninfo.make_conninfo("", **{**self._parts, "dbname": "postgres"}), autocommit=True
        ) as connection:
            drop_database(connection, self.name)


def anything(state: BuildState, chance: random.Random) -> Operation:
    """Any operation with any names there are."""
    every, here = sorted(state.catalogue.units), list(state.build.units)
    one, other = chance.choice([*every, *here]), chance.choice(here)

    def port(unit: str) -> str:
        ports = state.catalogue.model_of(unit).ports
        return chance.choice(ports).id if ports else "none"

    choices: list[Operation] = [
        Attach(unit=one, unit_port=port(one), onto=other, onto_port=port(other)),
        Move(unit=other, unit_port=port(other), onto=(third := chance.choice(here)), onto_port=port(third)),
        Detach(unit=other),
        Replace(unit=other, by=one),
        SlideTo(unit=other, to_mm=chance.uniform(-600, 600)),
        Turn(unit=other, steps=chance.choice([1, -1])),
        HoldBy(unit=chance.choice([None, other])),
        Connect(
            cable=one,
            from_unit=other,
            from_port=port(other),
            to_unit=(third := chance.choice(here)),
            to_port=port(third),
        ),
        CarryAs(use=chance.choice(["static", "running", "vehicle"])),
    ]
    return Strip() if chance.random() < 0.01 else chance.choice(choices)


def random_edits(count: int) -> Counter[str]:
    """Accepted edits leave rigs that can be judged, drawn, exported, read in again and undone."""
    told: Counter[str] = Counter()
    chance = random.Random(7)  # noqa: S311 - no secret
    with Scratch() as url, open_pool(url, size=3) as pool:
        jobs = JobStore(pool)
        builds = BuildStore(jobs)
        names = [b.id for r in jobs.read(JOB)[0].rigs for b in r.builds]
        for _ in range(count):
            state = builds.read(JOB, chance.choice(names))
            try:
                after = builds.edit(JOB, state.build.id, state.version, (anything(state, chance),), "soak", judged)
            except (BadRig, Conflict) as error:
                told[f"refused: {type(error).__name__}"] += 1
                continue
            told["accepted"] += 1
            assert parse(dump(jobs.export(JOB))).job == jobs.export(JOB).job
            undone = builds.undo(JOB, after.build.id, after.version, "soak")
            assert undone.build == state.build
            builds.redo(JOB, after.build.id, undone.version, "soak")
    return told


def judged(state: BuildState) -> None:
    look_over(state.build, state.catalogue, Conditions(), state.job.settings)


def kills(count: int) -> Counter[str]:
    """A server killed in the middle of edits: what it acknowledged is there, and versions rise one by one."""
    told: Counter[str] = Counter()
    with Scratch() as url, TemporaryDirectory() as scratch:
        server = LiveServer(url, Path(scratch) / "server.log", demo=False, more=("--web", "1", "--workers", "0"))
        server.start()
        version = int(ask(f"{server.address}{QUAY}")["version"])
        for turn in range(count):
            assert server.process
            threading.Timer(random.Random(turn).uniform(0.05, 0.8), server.process.kill).start()  # noqa: S311
            while True:
                try:
                    version = ask(
                        f"{server.address}{QUAY}/edits",
                        {
                            "version": version,
                            "operations": [{"op": "carry", "use": "running" if version % 2 else "static"}],
                        },
                    )["version"]
                    told["acknowledged"] += 1
                except OSError:
                    break
            server.process.wait()
            time.sleep(1.0)
            server.start()
            now = int(ask(f"{server.address}{QUAY}")["version"])
            assert version <= now <= version + 1, (version, now)
            told["killed"] += 1
            version = now
        server.stop()
    return told


def slow_clients(count: int) -> Counter[str]:
    """Many connections that do not go on, while one person works."""
    told: Counter[str] = Counter()
    with Scratch() as url, TemporaryDirectory() as scratch:
        server = LiveServer(url, Path(scratch) / "server.log", demo=False, more=("--web", "2", "--workers", "0"))
        server.start()
        slow: list[socket.socket] = [half_request(server) for _ in range(count)] + [
            socket.create_connection(("127.0.0.1", server.port)) for _ in range(count)
        ]
        times = []
        for _ in range(20):
            began = time.monotonic()
            ask(f"{server.address}{QUAY}")
            times.append(time.monotonic() - began)
        told["connections that hang"] = len(slow)
        told["slowest answer meanwhile, ms"] = round(max(times) * 1000)
        for client in slow:
            client.close()
        server.stop()
    return told


def hostile(examples: int) -> Counter[str]:
    """Generated requests over every operation."""
    done = subprocess.run(
        [sys.executable, "-m", "pytest", "-q", "-n", "2", "tests/web/test_described.py"],
        cwd=ROOT,
        env={**os.environ, "LIFT_CRATE_EXAMPLES": str(examples)},
        check=False,
    )
    return Counter({"requests an operation": examples, "runs that failed": int(done.returncode != 0)})


def properties(factor: int) -> dict[str, Any]:
    """Every property of the core on as many examples as it is meant for, not on a third of them."""
    outcome = subprocess.run(
        [sys.executable, "-m", "pytest", "-q", "-n", "2", "--dist", "worksteal", "tests/core", "tests/store"],
        cwd=ROOT,
        env={**os.environ, **({"LIFT_CRATE_LONG": "yes"} if factor > 1 else {})},
        capture_output=True,
        text=True,
        check=False,
    )
    return {"tests": outcome.stdout.strip().splitlines()[-1].strip("= ")}


def crowd(minutes: int) -> dict[str, Any]:
    """Thirty people edit, one edit of each in ten seconds, and a hundred look on; twelve cameras in ten parts."""
    with Scratch(demo=False) as url, TemporaryDirectory() as folder:
        job = wide_job(url)
        server = LiveServer(url, Path(folder) / "log", demo=False, more=("--web", "2", "--workers", "0"))
        server.start()
        try:
            people = Crowd(server, job, editors=30, listeners=100, every_s=10)
            people.work(minutes * 60)
        finally:
            server.stop()
    return people.told()


def main() -> int:
    if "crowd" in sys.argv:
        minutes = int(sys.argv[sys.argv.index("crowd") + 1])
        print(", ".join(f"{key} {value}" for key, value in crowd(minutes).items()), flush=True)
        return 0
    long = "--short" not in sys.argv
    steps: tuple[tuple[str, Any, int], ...] = (
        ("properties", properties, 3 if long else 1),
        ("random edits", random_edits, 2000 if long else 60),
        ("kills of the server", kills, 20 if long else 2),
        ("slow clients", slow_clients, 150 if long else 30),
        ("hostile requests", hostile, 150 if long else 3),
        ("a crew at work, minutes", crowd, 60 if long else 1),
    )
    for name, step, count in steps:
        began = time.monotonic()
        told = step(count)
        print(
            f"{name}: {', '.join(f'{key} {value}' for key, value in sorted(told.items()))};"
            f" {time.monotonic() - began:.0f} s",
            flush=True,
        )
    return 0


if __name__ == "__main__":
    sys.exit(main())
