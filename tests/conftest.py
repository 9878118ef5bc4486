"""Fixtures: a database of their own for the tests, the application over it, and a real server for the browser."""

from __future__ import annotations

import os
import random
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import psycopg
import pytest
from flask.testing import FlaskClient
from hypothesis import settings
from playwright.sync_api import expect
from psycopg import conninfo, sql

from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import JobFile
from lift_crate.formats.standards import standard_interfaces
from lift_crate.store.builds import BuildStore
from lift_crate.store.database import Pool, migrate, open_pool, with_limits
from lift_crate.store.jobs import JobStore
from lift_crate.store.plans import PlanStore
from lift_crate.store.swaps import SwapStore
from lift_crate.web.app import create_app
from lift_crate.worker import queue
from tests.kit import examples

settings.register_profile("lift-crate", deadline=None, derandomize=True, max_examples=examples(60))
settings.load_profile("lift-crate")
# A search that nobody wants any more ends at once.
queue._BEAT_S = 0.1
# What is waited for comes; how soon is no matter of a test, on however slow a machine.
expect.set_options(timeout=20_000)

ROOT = Path(__file__).parent.parent


@pytest.fixture(scope="session")
def server_parts() -> dict[str, Any]:
    url = os.environ.get("DATABASE_URL")
    if not url:
        pytest.exit("DATABASE_URL is not set; run the tests with './run test'", returncode=2)
    return conninfo.conninfo_to_dict(url)


def drop_database(connection: psycopg.Connection[Any], name: str) -> None:
    """Drop a database with whatever is still connected; a worker of
    PostgreSQL itself that tidies up there is waited for.
    """
    for left in reversed(range(100)):
        try:
            connection.execute(sql.SQL("DROP DATABASE IF EXISTS {} WITH (FORCE)").format(sql.Identifier(name)))
        except psycopg.errors.InsufficientPrivilege:
            if not left:
                raise
            time.sleep(0.1)
        else:
            return


@pytest.fixture
def new_database(server_parts: dict[str, Any]) -> Iterator[Callable[..., str]]:
    """Makes databases, empty or copied from another, and drops them afterwards."""
    made: list[str] = []
    admin = conninfo.make_conninfo("", **{**server_parts, "dbname": "postgres"})

    def make(template: str = "template1") -> str:
        name = f"lift_crate_test_{os.getpid()}_{time.monotonic_ns()}"
        with psycopg.connect(admin, autocommit=True) as connection:
            connection.execute(
                sql.SQL("CREATE DATABASE {} TEMPLATE {}").format(sql.Identifier(name), sql.Identifier(template))
            )
        made.append(name)
        return conninfo.make_conninfo("", **{**server_parts, "dbname": name})

    yield make
    with psycopg.connect(admin, autocommit=True) as connection:
        for name in made:
            drop_database(connection, name)


@pytest.fixture(scope="session")
def demo() -> JobFile:
    return demo_job_file()


@pytest.fixture(scope="session")
def templates(server_parts: dict[str, Any], demo: JobFile) -> Iterator[dict[str, str]]:
    """Names of two databases that others are copied from: one migrated, one with the demo job in it."""
    admin = conninfo.make_conninfo("", **{**server_parts, "dbname": "postgres"})
    names = {kind: f"lift_crate_template_{kind}_{os.getpid()}" for kind in ("empty", "demo")}
    for kind, name in names.items():
        with psycopg.connect(admin, autocommit=True) as connection:
            connection.execute(sql.SQL("CREATE DATABASE {}").format(sql.Identifier(name)))
        url = conninfo.make_conninfo("", **{**server_parts, "dbname": name})
        migrate(url)
        if kind == "demo":
            with open_pool(url, size=1) as opened:
                JobStore(opened).import_file(demo)
    yield names
    with psycopg.connect(admin, autocommit=True) as connection:
        for name in names.values():
            drop_database(connection, name)


@pytest.fixture
def pool(request: pytest.FixtureRequest, new_database: Callable[..., str], templates: dict[str, str]) -> Iterator[Pool]:
    """A database of the test's own: with the demo job when it asks for jobs, else empty."""
    kind = "demo" if {"jobs", "builds", "client"} & set(request.fixturenames) else "empty"
    with open_pool(new_database(templates[kind]), size=6) as opened:
        yield opened


@pytest.fixture
def jobs(pool: Pool) -> JobStore:
    return JobStore(pool)


@pytest.fixture
def builds(jobs: JobStore) -> BuildStore:
    return BuildStore(jobs)


class OwnWorker:
    """Plans what is deferred in a thread of the test, one after the other; ends with it."""

    def __init__(self, jobs: JobStore) -> None:
        self.plans = PlanStore(jobs, SwapStore(jobs), self)
        self._pool = ThreadPoolExecutor(max_workers=1)

    def __call__(self, plan: int) -> None:
        self._pool.submit(queue.plan_one, self.plans, plan)

    def end(self) -> None:
        if not self.plans.jobs.pool.closed:
            with self.plans.jobs.pool.connection() as connection:
                connection.execute("DELETE FROM day_plan_wish")
        self._pool.shutdown(cancel_futures=True)


class OneApp:
    """The application that the tests of a process share, over the database of whichever test it is: to make it takes
    longer than most tests. What it keeps in memory it keeps by revisions, which therefore never come again.
    """

    def __init__(self, url: str) -> None:
        self.pool = open_pool(url, size=6)
        self.defer: Callable[[int], None] = lambda _: None
        self.app = create_app(self.pool, self.deferred, nobody_signs_in=True)
        self.databases = 0

    def deferred(self, plan: int) -> None:
        """To whoever plans for the test that runs."""
        self.defer(plan)

    def over(self, url: str, defer: Callable[[int], None]) -> None:
        """Go on over another database."""
        self.databases += 1
        with psycopg.connect(url) as connection:
            connection.execute("SELECT setval('job_revision', %s)", (self.databases * 1_000_000,))
            connection.execute("UPDATE catalogue_revision SET revision = %s", (self.databases * 1_000_000,))
        self.defer, self.pool.conninfo = defer, with_limits(url)
        self.pool.drain()


@pytest.fixture(scope="session")
def one_app(templates: dict[str, str], server_parts: dict[str, Any]) -> Iterator[OneApp]:
    one = OneApp(conninfo.make_conninfo("", **{**server_parts, "dbname": "postgres"}))
    yield one
    one.pool.close()


@pytest.fixture
def client(jobs: JobStore, one_app: OneApp) -> Iterator[FlaskClient]:
    worker = OwnWorker(jobs)
    one_app.over(str(jobs.pool.conninfo), worker)
    yield one_app.app.test_client()
    worker.end()


def free_port() -> int:
    """A free port below those that the system hands out by itself: none
    of the stand-ins takes it before the server does.
    """
    for port in random.sample(range(20_000, 32_000), 200):
        with socket.socket() as probe:
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                continue
        return port
    raise AssertionError("no port is free")


class LiveServer:
    """The real program on a free port over a database of its own; can be stopped and started again."""

    def __init__(
        self, url: str, log: Path, *, demo: bool, more: tuple[str, ...] = ("--web", "1"), sign_in: bool = False
    ) -> None:
        self.port = free_port()
        self.url, self.log, self.demo, self.more, self.sign_in = url, log, demo, more, sign_in
        self.process: subprocess.Popen[bytes] | None = None

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        command = [
            sys.executable,
            "-m",
            "lift_crate.cli",
            "serve",
            "--port",
            str(self.port),
            *(["--demo"] if self.demo else [] if self.sign_in else ["--open"]),
            *self.more,
        ]
        with self.log.open("ab") as log:
            self.process = subprocess.Popen(
                command, cwd=ROOT, env={**os.environ, "DATABASE_URL": self.url}, stdout=log, stderr=log
            )
        for _ in range(600):
            try:
                with urllib.request.urlopen(f"{self.address}/api/me", timeout=5) as answer:  # noqa: S310 - our own loopback address
                    assert answer.status == 200
                    return
            except OSError:  # not there yet, or a killed one's last moments
                if self.process.poll() is not None:
                    break
                time.sleep(0.1)
        raise AssertionError(f"the server did not start:\n{self.log.read_text()}")

    def stop(self) -> None:
        if self.process:
            self.process.terminate()
            try:
                self.process.wait(timeout=20)
            except subprocess.TimeoutExpired:
                self.process.kill()
                self.process.wait()
            self.process = None


_KEPT = ("schema_migration", "catalogue_revision")
"""Revisions never come again, so that nothing a server remembers is taken for what is there now."""


def as_new(url: str, demo: JobFile | None) -> None:
    """The database of a server that goes on, with the demo job in it, if any, and nothing else; nobody waits for what
    was being searched.
    """
    with psycopg.connect(url) as connection:
        names = [
            name
            for (name,) in connection.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public'").fetchall()
            if name not in _KEPT and not name.startswith("procrastinate")
        ]
        connection.execute("DELETE FROM procrastinate_jobs WHERE status = 'todo'")
    for _ in range(100):
        try:
            with psycopg.connect(url) as connection:
                connection.execute(sql.SQL("TRUNCATE {}").format(sql.SQL(", ").join(map(sql.Identifier, names))))
        except psycopg.errors.DeadlockDetected:  # a page that was just closed is still being answered
            continue
        break
    with open_pool(url, size=1) as opened:
        jobs = JobStore(opened)
        jobs.know_standards(standard_interfaces())
        if demo:
            jobs.import_file(demo)


@pytest.fixture(scope="session")
def standing(
    server_parts: dict[str, Any], templates: dict[str, str], tmp_path_factory: pytest.TempPathFactory
) -> Iterator[Callable[..., LiveServer]]:
    """Servers that the browser tests of a process share, with the demo and as './run start' starts it: a start takes
    longer than most of them. One that is stopped is started again.
    """
    admin = conninfo.make_conninfo("", **{**server_parts, "dbname": "postgres"})
    begun: dict[bool, LiveServer] = {}

    def on(*, demo: bool) -> LiveServer:
        if demo not in begun:
            name = f"lift_crate_standing_{'demo' if demo else 'empty'}_{os.getpid()}"
            template = templates["demo" if demo else "empty"]
            with psycopg.connect(admin, autocommit=True) as connection:
                connection.execute(
                    sql.SQL("CREATE DATABASE {} TEMPLATE {}").format(sql.Identifier(name), sql.Identifier(template))
                )
            log = tmp_path_factory.mktemp("server") / "server.log"
            begun[demo] = LiveServer(conninfo.make_conninfo("", **{**server_parts, "dbname": name}), log, demo=demo)
        server = begun[demo]
        if server.process is None or server.process.poll() is not None:
            server.start()
        return server

    yield on
    for server in begun.values():
        server.stop()
        with psycopg.connect(admin, autocommit=True) as connection:
            drop_database(connection, str(conninfo.conninfo_to_dict(server.url)["dbname"]))


@pytest.fixture
def live(standing: Callable[..., LiveServer], demo: JobFile) -> LiveServer:
    """The program with the demo job as new; its stand-ins of devices go on as the test before left them."""
    server = standing(demo=True)
    as_new(server.url, demo)
    return server


@pytest.fixture
def empty(standing: Callable[..., LiveServer]) -> LiveServer:
    """The program as './run start' starts it: nobody has made anything yet."""
    server = standing(demo=False)
    as_new(server.url, None)
    return server


@pytest.fixture
def live_alone(new_database: Callable[..., str], templates: dict[str, str], tmp_path: Path) -> Iterator[LiveServer]:
    """The program with the demo job and devices that nobody used."""
    server = LiveServer(new_database(templates["demo"]), tmp_path / "server.log", demo=True)
    server.start()
    yield server
    server.stop()


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict[str, Any]) -> dict[str, Any]:
    """Pages ask the server themselves, so that a test can stand between; the one about a device that keeps what it has
    read makes its own.
    """
    return {**browser_context_args, "service_workers": "block"}


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {
        "executable_path": "/usr/bin/chromium",
        "args": [
            "--no-sandbox",
            "--disable-gpu",
            "--enable-unsafe-swiftshader",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
        ],
    }
