"""A drill in a browser: won by keys at the bench, lost by thumb on a phone, and gone on with where it was left."""

from __future__ import annotations

from playwright.sync_api import Browser, Page, expect

from lift_crate.core.drill.balance import hung, play_balance
from tests.conftest import LiveServer
from tests.core.drill.test_drill import stand

JOB = "dry-dock-opera"


def test_a_balance_is_won_by_its_scales_and_goes_on_where_it_was_left(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}/{JOB}/drill/dress/dock-floor")
    play = page.get_by_role("region", name="The drill")
    expect(play.get_by_role("heading", name="Balance 5.13 kg")).to_be_visible(timeout=60_000)
    page.keyboard.press("q")
    expect(play.locator("figcaption strong")).not_to_have_text("Held by hand")
    moves = play_balance(hung(stand("dress", "dock-floor"), 1))
    plain = {
        "fore_aft": "forwards and back",
        "vertical": "up and down",
        "lateral": "left and right",
        "pan": "the upper arm",
    }
    # A slow line: the next slide is typed and set before the answer to the last one is there.
    slow = page.context.new_cdp_session(page)
    line = {"offline": False, "latency": 700, "downloadThroughput": -1, "uploadThroughput": -1}
    slow.send("Network.enable")
    slow.send("Network.emulateNetworkConditions", line)
    for i, move in enumerate(moves):
        play.get_by_label(f"Number on the scale, {plain[move.slide]}").fill(f"{move.reading:.1f}")
        play.get_by_label(f"Number on the scale, {plain[move.slide]}").press("Enter")
        expect(play.locator(".moves strong")).to_have_text(str(i + 1))
        if i == 1:
            page.reload()
            expect(play.locator(".moves strong")).to_have_text("2", timeout=60_000)
    expect(play).to_have_attribute("aria-busy", "false")
    page.get_by_role("heading", name="Drill").click()
    for key in "qwer":
        page.keyboard.press(key)
        expect(play.locator("figcaption strong")).to_have_text("It stays")
    play.get_by_role("button", name="Finish").click()
    end = page.get_by_role("region", name="How it ended")
    expect(end.locator(".drill-points strong")).to_have_text("100")
    expect(page.locator(".drill-mean")).to_contain_text("1 of 1 won")


def test_faults_are_missed_by_thumb_and_explained(browser: Browser, live: LiveServer) -> None:
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True)
    page = context.new_page()
    # A camera on no gimbal is practised on with what it has.
    page.goto(f"{live.address}/{JOB}/drill/dress/quay")
    play = page.get_by_role("region", name="The drill")
    expect(play.get_by_role("heading", name="What is wrong with it")).to_be_visible(timeout=60_000)
    play.get_by_role("button", name="MON7-1 Lampblack").tap()
    expect(play.locator(".drill-parts strong")).to_have_text("1")
    play.get_by_role("button", name="Hint, 10 points").tap()
    expect(play.locator(".drill-hint")).to_contain_text("to find. Look for:")
    play.get_by_role("button", name="Finish").tap()
    end = page.get_by_role("region", name="How it ended")
    expect(end).to_contain_text("Not yet: 0 found, 3 missed")
    expect(end.locator("li").first).to_contain_text("Why:")
    play.get_by_role("button", name="Next number").tap()
    expect(page.get_by_label("Number of the drill")).to_have_value("2")
    context.close()
