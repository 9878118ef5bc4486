"""Signing in, coming by a link, and what a role goes to, in a real browser."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import dump
from tests.conftest import LiveServer

WORDS = "harbour lantern sixpence"


def elsewhere(page: Page, server: LiveServer) -> None:
    """The lead signs in somewhere else, and signs out everywhere but there."""
    page.goto(f"{server.address}/jobs")
    page.get_by_label("Your name").fill("op 1")
    page.get_by_label("Password").fill(WORDS)
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Dry-dock opera")).to_be_visible()
    again = json.loads(dump(demo_job_file()))
    again["job"] = {"id": "second-night", "title": "Second night", "parts": again["job"]["parts"][:1]}
    page.locator("input[type=file]").set_input_files(
        {"name": "job.json", "mimeType": "application/json", "buffer": json.dumps(again).encode()}
    )
    page.wait_for_url("**/second-night/**")
    page.goto(f"{server.address}/jobs")
    expect(page.get_by_role("button", name="Second night")).to_be_visible()
    page.get_by_role("link", name="Op 1").click()
    expect(page.locator(".crew-list li")).to_have_count(2)
    page.get_by_role("button", name="Sign all others out").click()
    expect(page.locator(".crew-list li")).to_have_count(1)


def test_the_first_account_by_the_code_of_the_terminal_and_another_by_a_link(
    browser: Browser, new_database: Callable[..., str], templates: dict[str, str], tmp_path: Path
) -> None:
    server = LiveServer(new_database(templates["demo"]), tmp_path / "server.log", demo=False, sign_in=True)
    server.start()
    try:
        lead = browser.new_page()
        lead.goto(f"{server.address}/dry-dock-opera/bench/dress/quay")
        expect(lead.get_by_text("Nobody has an account here yet")).to_be_visible()
        found = re.search(r"with this code: (\S+)", server.log.read_text())
        assert found
        lead.get_by_label("Code from the terminal").fill("0000-0000-0000")
        lead.get_by_label("Your name").fill("Op 1")
        lead.get_by_label("Password").fill(WORDS)
        lead.get_by_role("button", name="Make the first account").click()
        expect(lead.get_by_role("alert")).to_contain_text("was used, has run out, or is mistyped")
        lead.get_by_label("Code from the terminal").fill(found.group(1))
        lead.get_by_role("button", name="Make the first account").click()
        expect(lead.get_by_role("button", name="Op 1", exact=True)).to_be_visible()
        assert lead.url.endswith("/dry-dock-opera/bench/dress/quay"), "one goes on where one was"
        lead.get_by_role("button", name="Op 1", exact=True).click()
        lead.get_by_role("button", name="a link for a viewer").click()
        link = lead.locator(".crew-link code").inner_text()
        guest = browser.new_context(viewport={"width": 390, "height": 844}).new_page()
        guest.goto(link)
        expect(guest.get_by_text("Op 1 asks you to Dry-dock opera as viewer")).to_be_visible()
        guest.get_by_label("Your name").fill("Script")
        guest.get_by_label("Password").fill(WORDS)
        guest.get_by_role("button", name="Come in").click()
        guest.get_by_role("button", name="Dry-dock opera").click()
        expect(guest.get_by_role("note")).to_contain_text("Script, viewer: reads")
        expect(guest.locator(".ways")).to_have_count(0)
        lead.reload()
        lead.get_by_label("Role of Script").select_option("operator")
        expect(lead.get_by_role("region", name="What was changed")).to_contain_text("Script: viewer → operator")
        lead.get_by_role("button", name="Out of the job").last.click()
        lead.get_by_role("button", name="Script sees nothing of it any more").click()
        expect(lead.get_by_role("region", name="What was changed")).to_contain_text("Script: operator → none")
        guest.reload()
        expect(guest.get_by_role("heading", name="Jobs")).to_be_visible()
        expect(guest.get_by_text("Dry-dock opera")).to_have_count(0)
        elsewhere(browser.new_context().new_page(), server)
        lead.reload()
        expect(lead.get_by_role("button", name="Sign in")).to_be_visible()
    finally:
        server.stop()


def test_an_operator_of_the_demo_changes_his_own_camera_and_is_told_of_the_others(
    page: Page, live_alone: LiveServer
) -> None:
    page.goto(f"{live_alone.address}/jobs")
    page.get_by_role("button", name="Op 2").click()
    expect(page.get_by_text("You try it as Op 2")).to_be_visible()
    page.goto(f"{live_alone.address}/dry-dock-opera/bench/dress/quay")
    expect(page.get_by_role("note")).to_contain_text("Op 2, operator")
    page.locator('[data-unit="MIC-1"]').click()
    page.keyboard.press("x")
    expect(page.get_by_role("alert")).to_contain_text("by the operator whose name is in the camera's cells")
    page.goto(f"{live_alone.address}/dry-dock-opera/bench/dress/caisson")
    expect(page.get_by_role("contentinfo", name="Figures")).to_be_visible()
    page.get_by_role("button", name="Op 2", exact=True).click()
    expect(page.get_by_role("region", name="Crew")).to_contain_text("Op 2 Caisson")
    expect(page.get_by_role("region", name="Links")).to_have_count(0)
