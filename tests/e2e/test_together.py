"""Two browsers on one job: each sees where the other is and what he does; cut off and back, nothing is lost."""

from __future__ import annotations

import json
import re
import urllib.request
from typing import Any

from playwright.sync_api import Browser, Page, Route, expect

from tests.conftest import LiveServer
from tests.e2e.net import Relay
from tests.e2e.test_balance import answer_until
from tests.e2e.test_bench import api, open_bench, row
from tests.e2e.test_shelf import get
from tests.kit import until


def take_off(page: Page, unit: str) -> None:
    row(page, unit).click()
    page.get_by_role("button", name="Take off", exact=True).click()
    expect(row(page, unit)).to_have_count(0)


def test_two_browsers_on_one_rig_see_each_other_and_each_other_s_work(
    page: Page, browser: Browser, live: LiveServer
) -> None:
    other = browser.new_page()
    open_bench(page, live, "dress", "quay")
    open_bench(other, live, "dress", "caisson")
    quay = page.get_by_role("navigation", name="Cameras").get_by_role("button", name="Caisson")
    expect(quay.locator(".looker")).to_have_count(1)
    other.get_by_role("navigation", name="Cameras").get_by_role("button", name="Quay").click()
    expect(page.get_by_text("on this camera too")).to_be_visible()
    other.get_by_role("navigation", name="Places").get_by_role("button", name="Power").click()
    expect(page.get_by_text("at Power")).to_be_visible()
    for place in ("Day", "Bench"):
        page.get_by_role("navigation", name="Places").get_by_role("button", name=place).click()
    expect(page.get_by_text("at Power")).to_be_visible()
    other.get_by_role("navigation", name="Places").get_by_role("button", name="Bench").click()
    take_off(other, "MIC-1")
    expect(row(page, "MIC-1")).to_have_count(0)
    expect(page.locator(".news")).to_contain_text("Take off MIC-1")
    expect(page.get_by_role("alert")).to_have_count(0)
    other.close()
    expect(page.locator(".who-else")).to_have_count(0)


def test_whoever_was_cut_off_is_told_so_and_catches_up(page: Page, browser: Browser, live: LiveServer) -> None:
    other = browser.new_page()
    relay = Relay(int(live.address.rpartition(":")[2]))
    page.goto(f"{relay.address}/dry-dock-opera/bench/dress/quay")
    open_bench(other, live, "dress", "quay")
    expect(page.get_by_text("on this camera too")).to_be_visible()
    relay.dead.set()
    expect(page.locator(".live-line.lost")).to_contain_text("No connection since")
    take_off(other, "MIC-1")
    take_off(other, "ANGLE-2")
    expect(row(page, "MIC-1")).to_have_count(1)
    relay.back()
    expect(page.locator(".live-line.lost")).to_have_count(0)
    for unit in ("MIC-1", "ANGLE-2"):
        expect(row(page, unit)).to_have_count(0)
    other.close()
    relay.door.close()


def test_after_a_short_loss_every_figure_is_of_one_state(page: Page, browser: Browser, live: LiveServer) -> None:
    """The stream goes on while everything else is lost, as at the edge of a net."""
    other = browser.new_page()
    for each in (page, other):
        open_bench(each, live, "dress", "quay")
    expect(page.get_by_text("on this camera too")).to_be_visible()
    mass = re.compile("[0-9\u00a0\u202f ]+ g")

    strip = page.get_by_role("navigation", name="Cameras").get_by_role("button", name=re.compile("^1 Quay"))
    foot = page.get_by_role("contentinfo", name="Figures")

    def weighs() -> str:
        """What the strip says, once the foot says it too."""
        found = "".join(mass.findall(strip.inner_text())[0].split())
        return found if found in "".join(foot.inner_text().split()) else ""

    was = weighs()
    assert was

    def lost_on_the_way_back(route: Route) -> None:
        route.fetch()
        route.abort()

    # What is done here arrives, and nobody says so.
    page.route("**/rigs/quay/edits", lost_on_the_way_back)
    take_off(page, "MIC-1")
    expect(row(page, "MIC-1")).to_have_count(0)
    expect(page.get_by_role("button", name="Try again")).to_have_count(0)
    page.unroute_all()
    until(lambda: weighs() not in ("", was))
    was = weighs()
    # What others do is told, and cannot be read.
    page.route(re.compile("/rigs/quay$"), lambda route: route.abort())
    with page.expect_request(re.compile("/rigs/quay$")):
        take_off(other, "MON7-1")
    expect(row(page, "MON7-1")).to_have_count(1)
    page.unroute_all()
    expect(row(page, "MON7-1")).to_have_count(0)
    until(lambda: weighs() not in ("", was))
    other.close()


def test_edits_of_different_parts_are_both_kept_unasked(page: Page, browser: Browser, live: LiveServer) -> None:
    other = browser.new_page()
    page.route("**/live?*", lambda route: route.abort())
    for each in (page, other):
        open_bench(each, live, "dress", "quay")
    take_off(other, "MIC-1")
    expect(row(page, "MIC-1")).to_have_count(1)
    take_off(page, "MON7-1")
    expect(row(page, "MIC-1")).to_have_count(0)
    assert not {"MIC-1", "MON7-1"} & {r["unit"] for r in api(live, "dress", "quay")["rows"]}
    other.close()


def test_a_unit_that_somebody_adds_is_on_the_shelf_that_is_looked_at(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}/dry-dock-opera/shelf/dress/quay")
    page.get_by_label("Words").fill("NIGHT-")
    expect(page.get_by_text("Nothing on the shelf matches")).to_be_visible()
    expect(page.locator(".who-else, .live-line.lost")).to_have_count(0)
    asked = urllib.request.Request(  # noqa: S310 - our own loopback address
        f"{live.address}/api/shelf/units.csv?apply=true",
        b"label,model\nNIGHT-1,tidewick-98\n",
        {"Content-Type": "text/csv"},
    )
    with urllib.request.urlopen(asked) as answer:  # noqa: S310 - as above
        assert answer.status == 200
    expect(page.get_by_text("NIGHT-1")).to_be_visible()


def note(live: LiveServer, act: str, card: str, at: str, **more: Any) -> None:
    body = json.dumps({"act": act, "card": card, "at": at, **more}).encode()
    asked = urllib.request.Request(  # noqa: S310 - our own loopback address
        f"{live.address}/api/jobs/dry-dock-opera/cards/steps", body, {"Content-Type": "application/json"}
    )
    with urllib.request.urlopen(asked) as answer:  # noqa: S310 - as above
        assert answer.status == 200


def noted(live: LiveServer) -> list[tuple[str, str]]:
    with urllib.request.urlopen(f"{live.address}/api/jobs/dry-dock-opera/cards") as answer:  # noqa: S310 - as above
        view = json.load(answer)
    return sorted((c["card"], s["act"]) for c in view["cards"] for s in c["steps"])


def test_a_phone_without_a_net_shows_the_job_keeps_what_is_noted_and_sends_it_once(
    browser: Browser, live: LiveServer
) -> None:
    relay = Relay(int(live.address.rpartition(":")[2]))
    context = browser.new_context(viewport={"width": 390, "height": 844}, service_workers="allow")
    page = context.new_page()
    quay = f"{relay.address}/dry-dock-opera/bench/acts-1-2/quay"
    page.goto(quay)
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.goto(quay)
    page.get_by_role("button", name="Dry-dock opera").click()
    expect(page.get_by_role("region", name="Take along")).to_contain_text("This device has the job", timeout=120_000)
    relay.gone()

    # Rigs, build sheets and cards that were never looked at are there all the same.
    for place, seen in (
        ("sheet/act-3/stage-rail", "GIMBAL-2"),
        ("balance/act-3/stage-rail", "Loads"),
    ):
        page.goto(f"{relay.address}/dry-dock-opera/{place}")
        expect(page.get_by_text(seen).first).to_be_visible()
    page.goto(f"{relay.address}/dry-dock-opera/bench/dress/caisson")
    expect(page.get_by_role("img", name="Side, operator’s left elevation to scale")).to_be_visible()
    expect(page.locator(".live-line.lost")).to_contain_text("as this device kept it at")

    # The gimbal is balanced card by card all the same.
    page.goto(f"{relay.address}/dry-dock-opera/balance/act-3/stage-rail")
    page.get_by_role("button", name="Step cards").click()
    for line in page.locator(".flight input").all():
        line.click()
    page.get_by_role("button", name="level, lens drops").click()
    expect(page.locator(".do-now")).to_contain_text("Mass too far forward: slide back, towards")
    answer_until(page, "Then, and only then, switch it on")
    page.get_by_role("button", name="Keep these readings").click()
    expect(page.get_by_text("It is kept on this device")).to_be_visible()

    def board() -> None:
        page.goto(f"{relay.address}/dry-dock-opera/day/acts-1-2/quay")
        page.get_by_role("button", name="Cards", exact=True).click()
        page.get_by_role("button", name="As it is").click()

    board()
    for card, slot in (("WIDE-03", "slot-1"), ("WIDE-04", "slot-2")):
        page.locator(".card-chip", has_text=card).click()
        page.get_by_role("button", name=f"Into Quay {slot}").click()
        expect(page.get_by_text("It is kept on this device")).to_be_visible()
    waiting = page.get_by_role("region", name="Not sent yet")
    expect(waiting.get_by_role("button")).to_have_text("3 not sent yet")
    board()
    expect(waiting.get_by_role("button")).to_have_text("3 not sent yet")

    # Meanwhile another card is put into one of the two slots, by somebody who has a connection.
    note(live, "in", "WIDE-01", "2026-01-01T10:00", unit="C6-1", slot="slot-2")
    assert noted(live) == [("WIDE-01", "in")]
    relay.here()
    expect(waiting).to_contain_text("1 to be asked")
    expect(waiting).to_contain_text("WIDE-01 is in C6-1 slot-2")
    assert noted(live) == [("WIDE-01", "in"), ("WIDE-03", "in")]
    note(live, "out", "WIDE-01", "2026-01-01T10:05")
    waiting.get_by_role("button", name="Send it again").click()
    expect(waiting).to_have_count(0)
    assert noted(live) == [("WIDE-01", "in"), ("WIDE-01", "out"), ("WIDE-03", "in"), ("WIDE-04", "in")]
    made = get(live, "/jobs/dry-dock-opera/parts/act-3/rigs/stage-rail/balance")["gimbal"]["records"][0]["made"]
    assert set(made["checks"].values()) == {"holds"}
    context.close()
    relay.door.close()
