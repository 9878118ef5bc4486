"""Remakes docs/screenshots from the demo job: the real program over a database of its own, in Chromium."""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import psycopg
from playwright.sync_api import Browser, Page, sync_playwright
from psycopg import conninfo, sql

from tests.conftest import ROOT, LiveServer

FOLDER = ROOT / "docs" / "screenshots"
LAPTOP, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}
LAUNCH = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"]


def _nothing(page: Page) -> None:
    """As it opens."""


def _remedies(page: Page) -> None:
    page.keyboard.press("f")
    page.keyboard.press("Enter")
    page.locator(".remedy").first.wait_for()


def _port(page: Page) -> None:
    page.locator('[data-unit="CAGE-1"]').click()
    page.get_by_role("button", name="left socket, socket of 1/4-20 thread, free").click()
    page.locator(".candidate").first.wait_for()


def _build_tab(page: Page) -> None:
    page.get_by_role("tab", name="Build", exact=True).click()


SHOTS: tuple[tuple[str, str, dict[str, int], str, Callable[[Page], None]], ...] = (
    ("bench-day", "act-3/quay", LAPTOP, "day", _nothing),
    ("bench-night", "act-3/stage-rail", LAPTOP, "night", _remedies),
    ("bench-what-goes-here", "dress/quay", LAPTOP, "day", _port),
    ("bench-gimbal-day", "acts-1-2/dock-floor", LAPTOP, "day", _nothing),
    ("bench-phone-night", "acts-1-2/caisson", PHONE, "night", _nothing),
    ("bench-phone-build", "acts-1-2/stage-rail", PHONE, "day", _build_tab),
)


def take(browser: Browser, server: LiveServer) -> None:
    for name, place, viewport, appearance, prepare in SHOTS:
        page = browser.new_page(viewport=viewport)  # type: ignore[arg-type]
        page.add_init_script(f"localStorage.setItem('appearance', '{appearance}')")
        page.goto(f"{server.address}/dry-dock-opera/bench/{place}")
        page.locator("svg path.shape").first.wait_for(state="attached")
        prepare(page)
        page.evaluate("document.fonts.ready")
        page.wait_for_load_state("networkidle")
        page.screenshot(path=FOLDER / f"{name}.png")
        page.close()
        print(FOLDER / f"{name}.png")


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    parts = conninfo.conninfo_to_dict(os.environ["DATABASE_URL"])
    name = f"lift_crate_shots_{os.getpid()}_{time.monotonic_ns()}"
    admin = conninfo.make_conninfo("", **{**parts, "dbname": "postgres"})
    with psycopg.connect(admin, autocommit=True) as connection:
        connection.execute(sql.SQL("CREATE DATABASE {}").format(sql.Identifier(name)))
    try:
        with tempfile.TemporaryDirectory() as scratch, sync_playwright() as playwright:
            server = LiveServer(conninfo.make_conninfo("", **{**parts, "dbname": name}), Path(scratch) / "server.log", demo=True)
            server.start()
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=LAUNCH)
            try:
                take(browser, server)
            finally:
                browser.close()
                server.stop()
    finally:
        with psycopg.connect(admin, autocommit=True) as connection:
            connection.execute(sql.SQL("DROP DATABASE IF EXISTS {} WITH (FORCE)").format(sql.Identifier(name)))


if __name__ == "__main__":
    main()
