"""Sound of the day in a real browser: a voice made from nothing, one mended, radio re-tuned, a microphone re-timed."""

from __future__ import annotations

import json
import re
import urllib.request
from typing import Any

from playwright.sync_api import Page, expect

from tests.conftest import LiveServer
from tests.kit import until

JOB = "dry-dock-opera"


def heard(live: LiveServer) -> Any:
    with urllib.request.urlopen(f"{live.address}/api/jobs/{JOB}/sound") as answer:  # noqa: S310 - our own loopback address
        return json.load(answer)


def voice(live: LiveServer, label: str) -> Any:
    return next((v for v in heard(live)["voices"] if v["label"] == label), None)


def open_sound(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}/{JOB}/day/acts-1-2/quay")
    expect(page.get_by_role("heading", name="The day")).to_be_visible()
    page.get_by_role("button", name="Sound", exact=True).click()
    expect(page.locator(".voice").first).to_contain_text("Soprano")


def becomes(page: Page, live: LiveServer, label: str, **want: object) -> None:
    """What the server has of a voice, once the edit has come there."""
    until(lambda: bool(now := voice(live, label)) and all(now.get(k) == v for k, v in want.items()), f"{want}")


def set_text(page: Page, name: str, value: str) -> None:
    field = page.get_by_label(name, exact=True)
    field.fill(value)
    field.press("Tab")


def test_a_voice_is_mended_and_the_radio_tuned_anew(page: Page, live: LiveServer) -> None:
    open_sound(page, live)
    soprano = page.locator(".voice").filter(has_text="Soprano")
    expect(soprano.get_by_label("Soprano in Acts I and II: 1 independent of 2 wanted")).to_be_visible()
    expect(soprano).to_contain_text("shares belt under the coat of Soprano with pocket recorder")
    soprano.locator(".voice-name").click()
    set_text(page, "Pocket of pocket recorder", "boot")
    expect(soprano.get_by_label("Soprano in Acts I and II: 2 independent of 2 wanted")).to_be_visible()
    radio = page.get_by_role("region", name="Radio")
    expect(radio).to_contain_text("2 disturbances")
    radio.get_by_role("button", name="Nearest free set").click()
    expect(radio.locator(".free-set")).to_contain_text("470.925 → 471.025")
    radio.get_by_role("button", name="Tune to these").click()
    expect(radio).to_contain_text("nothing disturbs anything")
    # Outside the job's bands it is refused, with what would be right.
    tenor = page.locator(".voice").filter(has_text="Tenor")
    tenor.locator(".voice-name").click()
    set_text(page, "Channel of second radio, MHz", "500")
    expect(page.get_by_role("alert")).to_contain_text("500.000 MHz of 'second radio' lies outside the job's bands")
    expect(page.get_by_label("Channel of second radio, MHz", exact=True)).to_have_value("471.025")
    page.locator("h1").click()
    for _ in range(2):
        with page.expect_response(re.compile("/undo$")):
            page.keyboard.press("u")
    expect(radio).to_contain_text("2 disturbances")


def test_a_microphone_is_timed_anew(page: Page, live: LiveServer) -> None:
    open_sound(page, live)
    against = page.get_by_role("region", name="What stands against the day")
    late = against.get_by_role("button").filter(has_text="Soprano without microphones when Acts I and II begins")
    expect(late).to_contain_text("Dresser is 1 min short in the 15 min before 19:20")
    page.locator(".voice").filter(has_text="Foreman").locator(".voice-name").click()
    set_text(page, "Who puts the microphones on", "Loader")
    becomes(page, live, "Foreman", mic_by="Loader")
    page.get_by_role("button", name="problems").click()
    expect(against).to_be_visible()
    expect(late).to_have_count(0)
    mics = page.locator(".mic-up").filter(has_text="Soprano").last
    mics.locator("summary").click()
    expect(mics.locator("li").last).to_contain_text("once more on headphones")
    page.get_by_role("button", name="Run sheet", exact=True).click()
    expect(page.locator(".run-sheet ol li").filter(has_text="microphones on Soprano").last).to_contain_text("Dresser")
    page.locator("h1").click()
    page.keyboard.press("u")
    becomes(page, live, "Foreman", mic_by="Dresser")


def test_a_voice_is_made_from_nothing_and_taken_away(page: Page, live: LiveServer) -> None:
    open_sound(page, live)
    page.get_by_role("button", name="Add a voice").click()
    set_text(page, "Name of the voice", "Bell")
    becomes(page, live, "Bell", parts=["mark-through", "dress", "arrival", "acts-1-2", "act-3"])
    set_text(page, "Who wears it", "Watchman")
    page.get_by_label("Where it comes from").select_option("cannon")
    becomes(page, live, "Bell", wearer="Watchman", thing="cannon")
    parts = ["mark-through", "dress", "arrival", "acts-1-2", "act-3"]
    for part in ("Mark-through", "Dress rehearsal", "Audience in", "Acts I and II"):
        page.get_by_role("group", name="Sounds in").get_by_label(part).click()
        becomes(page, live, "Bell", parts=(parts := parts[1:]))
    page.get_by_label("lost when it is missed").click()
    becomes(page, live, "Bell", once=False)
    page.get_by_label("Agreed to be recorded").select_option("given")
    becomes(page, live, "Bell", consent="given")
    set_text(page, "In which room", "hut")
    becomes(page, live, "Bell", mic_at="hut")
    page.get_by_role("button", name="Add a source").click()
    set_text(page, "Name of source 1", "on the rope")
    becomes(page, live, "Bell")
    panel = page.get_by_role("region", name="Voice Bell")
    for unit in ("SHOT-1", "CART-REC"):
        field = panel.get_by_label("Next unit of on the rope")
        field.fill(unit)
        field.press("Tab")
        expect(panel.get_by_role("button", name=f"{unit} out of on the rope")).to_be_visible()
    bell = page.locator(".voice").filter(has_text="Bell")
    page.locator(".voice-parts button").filter(has_text="Act III").last.click()
    expect(bell.locator(".chains li")).to_contain_text("on its own")
    set_text(page, "Pocket of on the rope", "coat")
    set_text(page, "Clip of on the rope", "rope")
    set_text(page, "Who rides on the rope", "Sound")
    set_text(page, "How much louder than speech it gets, dB", "9")
    set_text(page, "Second track of on the rope, dB lower", "12")
    set_text(page, "Channel of on the rope, MHz", "477.5")
    page.get_by_label("Wind cover on on the rope").click()
    page.get_by_label("on the rope can be seen").click()
    page.get_by_label("on the rope comes from the venue's desk").click()
    panel.get_by_label("3.5 mm stereo jack").click()
    source = {
        "pocket": "coat",
        "clip": "rope",
        "rides": "Sound",
        "safety_db": 12,
        "khz": 477_500,
        "cover": True,
        "shows": True,
        "house": True,
        "plugs": ["jack-3.5"],
        "units": ["SHOT-1", "CART-REC"],
    }
    until(lambda: {k: voice(live, "Bell")["sources"][0][k] for k in source} == source)
    panel.get_by_role("button", name="Remove Bell").click()
    expect(bell).to_have_count(0)
    assert voice(live, "Bell") is None


def test_bands_and_what_keeps_in_step_are_said(page: Page, live: LiveServer) -> None:
    open_sound(page, live)
    radio = page.get_by_role("region", name="Radio")
    radio.get_by_label("Band from, MHz").fill("600")
    radio.get_by_label("Band to, MHz").fill("590")
    with page.expect_response(re.compile("/edits$")):
        radio.get_by_role("button", name="Add band").click()
    assert len(heard(live)["bands"]) == 1
    radio.get_by_label("Band to, MHz").fill("606,5")
    radio.get_by_role("button", name="Add band").click()
    expect(radio).to_contain_text("600.000 to 606.500 MHz")
    radio.get_by_role("button", name="No longer 600.000 to 606.500 MHz").click()
    expect(radio).not_to_contain_text("600.000 to 606.500 MHz")
    page.get_by_label("What keeps POCKET-1 in step").select_option("jammed once")
    expect(page.locator(".in-step")).to_contain_text("again within 0.50 h")
    page.get_by_label("What keeps POCKET-1 in step").select_option("")
    expect(page.locator(".in-step")).not_to_contain_text("again within 0.50 h")


def test_a_source_is_checked_by_thumb_before_it_counts_as_rolling(page: Page, live: LiveServer) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{live.address}/dry-dock-opera/day/acts-1-2/quay")
    page.get_by_role("button", name="Sound", exact=True).click()
    page.locator(".voice").filter(has_text="Soprano").locator(".voice-name").click()
    row = page.get_by_role("group", name="Rolling: pocket recorder")
    row.get_by_role("button", name="heard on headphones").click()
    expect(page.get_by_role("alert")).to_contain_text("what is heard now is not what is recorded")
    row.get_by_label("File of pocket recorder").fill("ZOE-0007")
    for check in ("it runs", "hold on, hand off", "heard on headphones", "slated by name"):
        button = row.get_by_role("button", name=check)
        size = button.bounding_box()
        assert size
        assert size["height"] >= 44
        button.click()
        expect(button).to_have_attribute("aria-pressed", "true")
    expect(row).to_contain_text("rolling, ZOE-0007")
    row.get_by_role("button", name="heard on headphones").click()
    expect(row).to_contain_text("3 of 4")
    row.get_by_role("button", name="Stopped").click()
    expect(row).to_contain_text("0 of 4")
