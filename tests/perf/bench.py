"""Measures beside their limits: the core, the shelf, the browser, the start. Nothing here is a test."""

from __future__ import annotations

import gzip
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import psycopg
from playwright.sync_api import sync_playwright
from psycopg import conninfo, sql

from lift_crate.core.elevation import elevations
from lift_crate.core.evaluate import evaluate
from lift_crate.core.operations import Attach, Operation, apply_all
from lift_crate.core.rig import Catalogue, Unit
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.conftest import ROOT, LiveServer
from tests.e2e.shots import LAUNCH

_STATIC = ROOT / "lift_crate" / "web" / "static" / "assets"


def median_ms(run: Callable[[], object], times: int = 60) -> float:
    """Median of several runs, after a few to warm up, ms."""
    taken = []
    for i in range(times + 5):
        start = time.perf_counter()
        run()
        if i >= 5:
            taken.append((time.perf_counter() - start) * 1e3)
    return statistics.median(taken)


def line(what: str, measured: float, limit: float, unit: str) -> None:
    print(f"{what:<58} {measured:9.2f} {unit:<3} limit {limit:g} {unit}  {'ok' if measured < limit else 'OVER'}", flush=True)


def forty_parts() -> tuple[Catalogue, tuple[Operation, ...]]:
    """The demo's quay camera filled up to 40 units with weights stacked on arms."""
    file = demo_job_file()
    known = catalogue_of(file)
    have = len(file.job.planned("dress", "quay").units)
    extra = [Unit(id=f"W-{i}", model="quillon-weight-100") for i in range(40 - have)]
    operations: list[Operation] = []
    starts = ["left", "left-rear", "right", "right-rear", "top-rear"]
    tops: list[tuple[str, str]] = [("CAGE-1", port) for port in starts]
    for i, unit in enumerate(extra):
        onto, port = tops[i % len(tops)]
        operations.append(Attach(unit=unit.id, unit_port="screw", onto=onto, onto_port=port))
        tops[i % len(tops)] = (unit.id, "socket")
    return Catalogue(known.interfaces, known.models, {**known.units, **{u.id: u for u in extra}}), tuple(operations)


def core() -> None:
    file = demo_job_file()
    catalogue, operations = forty_parts()
    part = file.job.part("dress")
    build = apply_all(file.job.planned("dress", "quay"), operations, catalogue)
    judged = evaluate(build, catalogue, part.conditions, file.job.settings)
    assert len(build.units) == 40
    line("core: evaluation of a 40-part rig, median", median_ms(lambda: evaluate(build, catalogue, part.conditions, file.job.settings)), 5, "ms")
    line("core: three elevations of it, median", median_ms(lambda: elevations(judged)), 30, "ms")


def java_script() -> None:
    size = sum(len(gzip.compress(script.read_bytes())) for script in _STATIC.glob("*.js"))
    line("JavaScript of the first screen, compressed", size / 1000, 300, "kB")


def browser(server: LiveServer) -> None:
    """From the key press to the new verdict painted, with the save in between."""
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=LAUNCH)
        page = chromium.new_page(viewport={"width": 1280, "height": 800})
        start = time.perf_counter()
        page.goto(f"{server.address}/dry-dock-opera/bench/dress/quay")
        page.locator("svg path.shape").first.wait_for(state="attached")
        line("first sight of the Bench, once", (time.perf_counter() - start) * 1e3, 1000, "ms")
        page.locator('[data-unit="HEAD-1"]').click()
        taken = page.evaluate(
            """async () => {
                const figure = () => document.querySelector('output.at').textContent
                const taken = []
                for (let i = 0; i < 25; i++) {
                    const before = figure(), start = performance.now()
                    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: i % 2 ? '.' : ',', bubbles: true }))
                    while (figure() === before) await new Promise(requestAnimationFrame)
                    await new Promise(requestAnimationFrame)
                    taken.push(performance.now() - start)
                    await new Promise((r) => setTimeout(r, 150))
                }
                return taken
            }"""
        )
        line("edit to new verdict on the screen, median of 25", statistics.median(taken[5:]), 100, "ms")
        chromium.close()


def warm_start(environment: dict[str, str], port: int) -> None:
    """'./run demo' with everything installed and the database running, to the first page."""
    start = time.perf_counter()
    program = subprocess.Popen(["./run", "demo"], cwd=ROOT, env={**environment, "LIFT_CRATE_PORT": str(port)}, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    try:
        while subprocess.run(["curl", "-sf", "-o", "/dev/null", f"http://127.0.0.1:{port}/"], check=False).returncode:
            time.sleep(0.05)
        line("warm './run demo' to first page", time.perf_counter() - start, 5, "s")
    finally:
        program.terminate()
        program.wait()


def main() -> int:
    core()
    java_script()
    parts = conninfo.conninfo_to_dict(os.environ["DATABASE_URL"])
    name = f"lift_crate_bench_{os.getpid()}"
    admin = conninfo.make_conninfo("", **{**parts, "dbname": "postgres"})
    with psycopg.connect(admin, autocommit=True) as connection:
        connection.execute(sql.SQL("CREATE DATABASE {}").format(sql.Identifier(name)))
    url = conninfo.make_conninfo("", **{**parts, "dbname": name})
    try:
        with tempfile.TemporaryDirectory() as scratch:
            server = LiveServer(url, Path(scratch) / "server.log", demo=True)
            server.start()
            try:
                browser(server)
            finally:
                server.stop()
            warm_start({**os.environ, "DATABASE_URL": url}, server.port)
    finally:
        with psycopg.connect(admin, autocommit=True) as connection:
            connection.execute(sql.SQL("DROP DATABASE IF EXISTS {} WITH (FORCE)").format(sql.Identifier(name)))
    return 0


if __name__ == "__main__":
    sys.exit(main())
