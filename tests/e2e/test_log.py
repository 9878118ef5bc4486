"""The log in a browser: by keys at the bench, by thumb without a net, a figure learnt and tomorrow's plan changed."""

from __future__ import annotations

import struct
import zlib
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from tests.conftest import LiveServer
from tests.e2e.net import Relay, is_kept
from tests.e2e.test_job import frame
from tests.e2e.test_shelf import get
from tests.kit import until

JOB = "dry-dock-opera"


def opened(page: Page, server: LiveServer) -> None:
    page.goto(f"{server.address}/{JOB}/log/dress/quay")
    expect(page.get_by_role("heading", name="Log", exact=False).first).to_be_visible()
    expect(page.get_by_role("list", name="Planned and happened")).to_contain_text("SDI-1", timeout=90_000)


def lines(server: LiveServer) -> dict[str, str]:
    found = get(server, f"/jobs/{JOB}/log?part=dress")["lines"]
    return {x["text"]: x["kind"] for x in found if x["source"] != "plan"}


def png(path: Path) -> Path:
    """A small picture, made by hand."""
    rows = b"".join(b"\0" + bytes((200, 60, 20)) * 40 for _ in range(30))

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", 40, 30, 8, 2, 0, 0, 0)
    path.write_bytes(
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(rows)) + chunk(b"IEND", b"")
    )
    return path


def test_noted_by_keys_corrected_mended_and_taken_back(page: Page, live: LiveServer, tmp_path: Path) -> None:
    opened(page, live)
    page.keyboard.press("f")
    pad = page.get_by_role("region", name="Note something")
    expect(pad.get_by_label("Label of the unit")).to_be_focused()
    page.keyboard.type("MON7-1")
    pad.get_by_label("What is wrong with it").fill("Flickers")
    pad.get_by_label("Photo").set_input_files(png(tmp_path / "photo.png"))
    expect(pad.locator("form small")).to_contain_text("kB")
    pad.get_by_role("button", name="Note it").click()
    tape = page.get_by_role("list", name="Planned and happened")
    fault = tape.get_by_role("button", name="Fault MON7-1 Flickers")
    fault.click()
    expect(tape.get_by_alt_text("Photo of this entry")).to_be_visible()
    assert get(live, "/shelf/units/MON7-1")["unit"]["condition"] == "doubtful"
    tape.get_by_role("button", name="Correct").click()
    pad.get_by_label("What is wrong with it").fill("Flickers when it is cold")
    pad.get_by_role("button", name="Note it").click()
    fault = tape.get_by_role("button", name="Flickers when it is cold")
    expect(fault).to_contain_text("before: Flickers")
    fault.click()
    tape.get_by_role("button", name="Mended").click()
    pad.get_by_label("How it was settled").fill("New cable")
    pad.get_by_role("button", name="Note it").click()
    expect(tape.get_by_role("button", name="Flickers when it is cold")).to_contain_text("New cable")
    page.keyboard.press("n")
    expect(pad.get_by_label("Label of the unit")).to_be_focused()
    pad.get_by_label("Words").fill("Written by mistake")
    pad.get_by_role("button", name="Note it").click()
    tape.get_by_role("button", name="Written by mistake").click()
    tape.get_by_role("button", name="Take back").click()
    expect(tape.locator("li.gone", has_text="Written by mistake")).to_contain_text("taken back by")
    # What makes no sense is refused, and stays on the pad.
    page.keyboard.press("r")
    page.keyboard.press("Tab")
    pad.get_by_label("Label of the unit").fill("MON7-1")
    pad.get_by_label("Figure, h").fill("2")
    pad.get_by_role("button", name="Note it").click()
    expect(page.get_by_role("alert")).to_contain_text("neither a pack nor a gimbal")
    expect(pad.get_by_label("Figure, h")).to_have_value("2")


def test_a_figure_is_learnt_and_the_plan_of_tomorrow_changes(page: Page, live: LiveServer) -> None:
    opened(page, live)
    learnt = page.get_by_role("region", name="What the figures learn")
    health = learnt.locator("article", has_text="Health of PACK-01")
    expect(health).to_contain_text("83.4 %")
    expect(health.locator(".effects")).to_contain_text("Acts I and II", timeout=120_000)
    before = get(live, f"/jobs/{JOB}/parts/acts-1-2/rigs/quay")["counts"]
    health.get_by_role("button", name="Count with 83.4 %").click()
    expect(learnt).to_contain_text("health PACK-01: 0.93 to 0.834", timeout=60_000)
    assert get(live, "/shelf/units/PACK-01")["unit"]["health"] == 0.834
    assert get(live, f"/jobs/{JOB}/parts/acts-1-2/rigs/quay")["counts"] != before
    screw = learnt.locator("article", has_text="Screw")
    screw.get_by_role("button", name="Count with").click()
    expect(learnt).to_contain_text("minutes screw: 1.5 to", timeout=60_000)
    assert frame(live, JOB)["job"]["settings"]["joint_min"]["screw"] > 1.5


def test_a_night_is_logged_without_a_net_and_sent_in_its_order(browser: Browser, live: LiveServer) -> None:
    relay = Relay(int(live.address.rpartition(":")[2]))
    context = browser.new_context(viewport={"width": 390, "height": 844}, service_workers="allow", has_touch=True)
    page = context.new_page()
    address = f"{relay.address}/{JOB}/log/dress/quay"
    page.goto(address)
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.goto(address)
    tape = page.get_by_role("list", name="Planned and happened")
    expect(tape).to_contain_text("SDI-1", timeout=90_000)
    until(lambda: not get(live, f"/jobs/{JOB}/log?part=dress")["searching"])
    page.goto(address)
    expect(tape.get_by_role("button", name="Swapped").first).to_be_visible(timeout=90_000)
    is_kept(page, f"/jobs/{JOB}/log?part=dress")
    relay.gone()
    page.goto(address)
    pad = page.get_by_role("region", name="Note something")
    pad.get_by_role("group", name="Camera").get_by_role("button", name="Caisson").tap(timeout=90_000)
    for kind, words in (("Near miss", "Rail slippery"), ("Note", "Second take is good")):
        pad.get_by_role("button", name=kind, exact=True).tap()
        pad.get_by_role("textbox").first.wait_for()
        pad.locator("textarea").fill(words)
        pad.get_by_role("button", name="Note it").tap()
        expect(tape).to_contain_text(words)
    expect(tape.locator("li", has_text="Rail slippery")).to_contain_text("not sent yet")
    page.get_by_role("button", name="Before rolling").tap()
    before = page.get_by_role("region", name="To set before rolling")
    body = before.locator("button").filter(has_text="fps").first
    body.tap()
    expect(body).to_contain_text("not sent yet")
    page.locator(".day-bar").get_by_role("button", name="Log", exact=True).tap()
    pad.get_by_role("button", name="All", exact=True).tap()
    tape.get_by_role("button", name="Swapped").first.tap()
    tape.get_by_label("Charge left in the pack taken out, %").fill("22")
    tape.get_by_role("button", name="Note the swap").tap()
    waiting = page.get_by_role("region", name="Not sent yet")
    expect(waiting.get_by_role("button")).to_have_text("4 not sent yet")
    relay.here()
    expect(waiting).to_have_count(0, timeout=60_000)
    found = lines(live)
    assert (found["Rail slippery"], found["Second take is good"]) == ("near miss", "note")
    ticked = [x for x in get(live, f"/jobs/{JOB}/log?part=dress")["to_set"] if x["by"]]
    assert [x["rig"] for x in ticked] == ["caisson"]
    assert any(kind == "swap" and "22 % left" in text for text, kind in found.items())
    context.close()
    relay.door.close()
