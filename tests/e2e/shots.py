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

from tests.conftest import ROOT, LiveServer, drop_database

FOLDER = ROOT / "docs" / "screenshots"
LAPTOP, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}
LAUNCH = [
    "--no-sandbox",
    "--disable-gpu",
    "--enable-unsafe-swiftshader",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


def _nothing(page: Page) -> None:
    """As it opens."""


def _remedies(page: Page) -> None:
    page.keyboard.press("f")
    page.keyboard.press("Enter")
    page.locator(".remedy").first.wait_for()


def _in_space(page: Page) -> None:
    page.keyboard.press("s")
    page.get_by_label("tilt, degrees", exact=True).fill("80")
    page.get_by_label("tilt, degrees", exact=True).press("Tab")
    page.locator(".space-hit").wait_for()
    page.wait_for_timeout(800)


def _fits(page: Page) -> None:
    page.get_by_label("Which way it fits").select_option("goes on")
    page.get_by_label("Interface it fits").select_option("rods-15")
    page.locator('[data-unit="RODS-3"]').click()
    page.locator(".unit-panel h2").get_by_text("RODS-3").wait_for()


def _pattern(page: Page) -> None:
    page.get_by_role("button", name="Add gear").click()
    page.locator(".kind-groups").get_by_role("button", name="Lens", exact=True).click()
    form = page.get_by_role("region", name="New gear: Lens")
    form.get_by_label("Name", exact=True).fill("Tele zoom 84 to 210")
    form.get_by_label("Lens mount").select_option(label="Halyard mount")
    for label, value in (
        ("Focal length, from", "84"),
        ("to (zooms)", "210"),
        ("Mass", "1480"),
        ("Length, flange", "212"),
    ):
        form.get_by_label(label).first.fill(value)
    form.get_by_label("Filter thread").select_option(label="M82 × 0.75 filter thread")
    page.locator(".pattern-drawing svg").first.wait_for()


def _placed(page: Page) -> None:
    page.get_by_role("button", name="Camera 2 Caisson").focus()
    page.get_by_text("is hidden by").first.wait_for()


def _hit(page: Page) -> None:
    page.keyboard.press("h")
    page.locator(".risk").wait_for()


def _counted(page: Page) -> None:
    page.locator(".jobs .counts").wait_for()


def _planned(page: Page) -> None:
    page.get_by_text("fewest packs, proven").wait_for(timeout=90_000, state="attached")


def _change(page: Page) -> None:
    page.locator('[data-change="acts-1-2/stage-rail"]').click()
    page.locator(".change-sheet ol li").first.wait_for()


def _heard(page: Page) -> None:
    page.get_by_role("button", name="Sound", exact=True).click()
    page.get_by_role("button", name="Nearest free set", exact=True).click()
    page.locator(".free-set").wait_for()
    page.locator(".sound-day").evaluate("it => (it.scrollTop = 0)")


def _asked_in(page: Page) -> None:
    page.get_by_label("Role of Stage manager").select_option("operator")
    page.get_by_text("Stage manager: viewer → operator").wait_for()
    page.get_by_role("button", name="a link for an operator").click()
    page.locator(".crew-link svg").wait_for()


_THEIRS = """async () => {
  const at = '/api/jobs/dry-dock-opera/parts/act-3/rigs/quay'
  const {version} = await (await fetch(at)).json()
  const body = JSON.stringify({version, operations: [{op: 'detach', unit: 'ANGLE-2'}]})
  await fetch(`${at}/edits`, {method: 'POST', headers: {'Content-Type': 'application/json'}, body})
}"""


def _dealt(page: Page) -> None:
    while page.request.get(f"{page.url.split('/dry-dock')[0]}/api/jobs/dry-dock-opera/pack").json()["searching"]:
        page.wait_for_timeout(500)
    page.get_by_text("Still trying how it goes in better").wait_for(state="detached", timeout=90_000)
    page.get_by_role("list", name="Cases that go along").get_by_role("button", name="CASE-3").click()


def _side_by_side(page: Page) -> None:
    page.route("**/live?*", lambda route: route.abort())
    page.reload()
    page.locator("svg path.shape").first.wait_for()
    page.evaluate(_THEIRS)
    page.locator('[data-unit="HANDLE-1"]').click()
    page.get_by_role("button", name="Take off", exact=True).click()
    page.locator(".conflict .two-states").wait_for()


def _let_go(page: Page) -> None:
    page.keyboard.press("w")
    page.wait_for_timeout(800)


def _logged(page: Page) -> None:
    page.get_by_role("button", name="Reading", exact=True).wait_for()
    page.get_by_role("group", name="Camera").get_by_role("button", name="Quay").click()
    page.locator(".tape").get_by_text("Loose at the monitor").scroll_into_view_if_needed()


SHOTS: tuple[tuple[str, str, dict[str, int], str, Callable[[Page], None]], ...] = (
    ("start", "/jobs", LAPTOP, "day", _counted),
    ("job-day", "job/dress/quay", LAPTOP, "day", _nothing),
    ("bench-day", "bench/act-3/quay", LAPTOP, "day", _nothing),
    ("bench-night", "bench/act-3/stage-rail", LAPTOP, "night", _remedies),
    ("bench-space", "bench/dress/dock-floor", LAPTOP, "day", _in_space),
    ("crew-and-history", "/crew/dry-dock-opera", LAPTOP, "day", _asked_in),
    ("shelf-day", "shelf/dress/quay", LAPTOP, "day", _fits),
    ("pattern", "shelf/dress/quay", LAPTOP, "day", _pattern),
    ("job-venue", "venue/dress/quay", LAPTOP, "day", _placed),
    ("pack", "pack/mark-through/quay", LAPTOP, "day", _dealt),
    ("balance-day", "balance/dress/dock-floor", LAPTOP, "day", _hit),
    ("drill", "drill/dress/dock-floor", LAPTOP, "day", _let_go),
    ("power-chain-night", "power/mark-through/dock-floor", LAPTOP, "night", _nothing),
    ("day-table", "day/acts-1-2/stage-rail", LAPTOP, "day", _change),
    ("day-sound-night", "day/acts-1-2/stage-rail", LAPTOP, "night", _heard),
    ("swaps-night", "swaps/mark-through/quay", LAPTOP, "night", _planned),
    ("swap-card-phone", "swaps/arrival/stage-rail", PHONE, "day", _planned),
    ("log-phone", "log/dress/quay", PHONE, "night", _logged),
    ("together-day", "bench/act-3/quay", LAPTOP, "day", _side_by_side),
)


def take(browser: Browser, server: LiveServer) -> None:
    for name, place, viewport, appearance, prepare in SHOTS:
        page = browser.new_page(viewport=viewport)  # type: ignore[arg-type]
        page.add_init_script(f"localStorage.setItem('appearance', '{appearance}')")
        page.goto(f"{server.address}{place if place.startswith('/') else f'/dry-dock-opera/{place}'}")
        page.locator(
            "svg path.shape, .plan-camera, .steps .step, .stretch, .jobs li, .crew-list li, .chain .node, .swaps,"
            " .day-cell, .case-plan .laid, .tape .happened, .drill-balance .hangs"
        ).first.wait_for(state="attached")
        prepare(page)
        page.evaluate("document.fonts.ready")
        page.wait_for_timeout(700)
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
            server = LiveServer(
                conninfo.make_conninfo("", **{**parts, "dbname": name}), Path(scratch) / "server.log", demo=True
            )
            server.start()
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=LAUNCH)
            try:
                take(browser, server)
            finally:
                browser.close()
                server.stop()
    finally:
        with psycopg.connect(admin, autocommit=True) as connection:
            drop_database(connection, name)


if __name__ == "__main__":
    main()
