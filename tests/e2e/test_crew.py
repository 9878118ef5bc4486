"""Signing in, coming by a link, and what a role goes to, in a real browser."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from lift_crate.core.crew.rights import Person
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import dump
from lift_crate.store.crew import CrewStore
from lift_crate.store.database import open_pool
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
        # Whoever loses his role while he looks is led away without asking for anything.
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
    expect(page.get_by_role("alert")).to_contain_text("by the operator whom a lead has named for this camera")
    page.goto(f"{live_alone.address}/dry-dock-opera/bench/dress/caisson")
    expect(page.get_by_role("contentinfo", name="Figures")).to_be_visible()
    page.get_by_role("button", name="Op 2", exact=True).click()
    expect(page.get_by_role("region", name="Crew")).to_contain_text("Op 2 Caisson")
    expect(page.get_by_role("region", name="Links")).to_have_count(0)


HELD = {
    "protocol": "ctap2",
    "transport": "internal",
    "hasResidentKey": True,
    "hasUserVerification": True,
    "isUserVerified": True,
    "automaticPresenceSimulation": True,
}


def account_in(url: str) -> str:
    with open_pool(url, size=1) as pool:
        crew = CrewStore(pool)
        house = Person(id="", name="the house", house="lead")
        word, _ = crew.invite(house, house="lead", job="dry-dock-opera", role="lead")
        crew.accept(word, "Op 1", WORDS, None)
    return url


def has_signed(url: str, times: int) -> None:
    with open_pool(url, size=1) as pool, pool.connection() as connection:
        connection.execute("UPDATE passkey SET sign_count = %s", (times,))


def test_a_device_that_holds_a_key_signs_in_without_the_password(
    browser: Browser, new_database: Callable[..., str], templates: dict[str, str], tmp_path: Path
) -> None:
    url = account_in(new_database(templates["demo"]))
    server = LiveServer(url, tmp_path / "server.log", demo=False, sign_in=True)
    server.start()
    try:
        context = browser.new_context(service_workers="block")
        page = context.new_page()
        device = context.new_cdp_session(page)
        device.send("WebAuthn.enable")
        number = device.send("WebAuthn.addVirtualAuthenticator", {"options": HELD})["authenticatorId"]
        by_name = f"http://localhost:{server.port}"
        page.goto(f"{server.address}/sign-in")
        expect(page.get_by_role("button", name="Sign in", exact=True)).to_be_visible()
        expect(page.get_by_role("button", name="Sign in with this device")).to_have_count(0)
        page.goto(f"{by_name}/sign-in")
        page.get_by_role("button", name="Sign in with this device").click()
        expect(page.get_by_role("alert")).to_contain_text("The device gave no key")
        page.get_by_label("Your name").fill("Op 1")
        page.get_by_label("Password").fill(WORDS)
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Dry-dock opera")).to_be_visible()
        page.goto(f"{by_name}/me")
        page.get_by_role("button", name="Let this device sign in").click()
        devices = page.get_by_role("region", name="Devices that sign in")
        expect(devices.locator("li")).to_contain_text("not used yet")
        page.get_by_role("button", name="Let this device sign in").click()
        expect(page.get_by_role("alert")).to_contain_text("holds a key of yours already")
        page.get_by_role("button", name="Sign out", exact=True).click()
        page.get_by_role("button", name="Sign in with this device").click()
        expect(page.get_by_role("button", name="Dry-dock opera")).to_be_visible()
        page.goto(f"{by_name}/me")
        expect(devices.locator("li")).to_contain_text("last used")

        # A copy of the key that has signed less than the key itself lets nobody in.
        (credential,) = device.send("WebAuthn.getCredentials", {"authenticatorId": number})["credentials"]
        has_signed(url, credential["signCount"] + 100)
        page.get_by_role("button", name="Sign out", exact=True).click()
        page.get_by_role("button", name="Sign in with this device").click()
        expect(page.get_by_role("alert")).to_be_visible()
        has_signed(url, credential["signCount"])
        page.get_by_role("button", name="Sign in with this device").click()
        expect(page.get_by_role("button", name="Dry-dock opera")).to_be_visible()
        page.goto(f"{by_name}/me")
        devices.get_by_role("button", name="It counts no more").click()
        expect(devices.locator("li")).to_have_count(0)
        page.get_by_role("button", name="Sign out", exact=True).click()
        page.get_by_role("button", name="Sign in with this device").click()
        expect(page.get_by_role("alert")).to_be_visible()
        context.close()
    finally:
        server.stop()
