"""Custody of cards in a real browser: by thumb on a phone from the slot to the drive, and at the copy station."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.conftest import LiveServer


def board(page: Page, live_alone: LiveServer) -> None:
    page.goto(f"{live_alone.address}/dry-dock-opera/day/acts-1-2/quay")
    page.get_by_role("button", name="Cards", exact=True).click()
    page.get_by_role("button", name="As it is").click()
    expect(page.locator(".card-chip")).to_have_count(20)


def lane(page: Page, title: str, card: str) -> None:
    expect(page.get_by_role("region", name=title, exact=True).locator(".card-chip", has_text=card)).to_be_visible()


def test_by_thumb_into_the_camera_out_and_copied_by_hand(page: Page, live_alone: LiveServer) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    board(page, live_alone)
    for card, slot in (("WIDE-03", "slot-1"), ("WIDE-04", "slot-2")):
        page.locator(".card-chip", has_text=card).click()
        into = page.get_by_role("button", name=f"Into Quay {slot}")
        expect(into).to_contain_text("Acts I and II")
        size = into.bounding_box()
        assert size
        assert size["height"] >= 44
        into.click()
        lane(page, "In a recorder", card)
    for card in ("WIDE-03", "WIDE-04"):
        if page.locator(".card-work h2").inner_text() != card:
            page.locator(".card-chip", has_text=card).click()
        page.get_by_role("button", name="Taken out").click()
        lane(page, "To be copied", card)
    page.get_by_role("textbox", name="Another place").fill("the van")
    page.get_by_label("read again and compared").check()
    page.get_by_role("button", name="Copied there").click()
    lane(page, "Copied", "WIDE-04")
    expect(page.locator(".card-copies")).to_contain_text("the van, WIDE-03 (the other side of the mirror)")
    page.get_by_role("button", name="Wiped").click()
    expect(page.get_by_role("alert")).to_contain_text("lies in 2 of 3 places")
    page.get_by_role("button", name="Take back").first.click()
    lane(page, "To be copied", "WIDE-04")
    expect(page.locator(".card-steps .gone")).to_contain_text("copied to the van")
    page.reload()
    page.get_by_role("button", name="Cards", exact=True).click()
    page.get_by_role("button", name="As it is").click()
    lane(page, "To be copied", "WIDE-04")


def test_copied_at_the_station_with_its_checksum_and_one_that_fails(page: Page, live_alone: LiveServer) -> None:
    board(page, live_alone)
    for card, camera in (("WIDE-08", "Quay slot-1"), ("WIDE-11", "Caisson slot-1")):
        page.locator(".card-chip", has_text=card).click()
        page.get_by_role("button", name=f"Into {camera}").click()
        page.get_by_role("button", name="Taken out").click()
        lane(page, "To be copied", card)
    station = page.get_by_role("region", name="Copy station")
    page.get_by_role("button", name="Into reader 1").click()
    expect(station.locator(".reader").first).to_contain_text("WIDE-11 ready")
    page.locator(".card-chip", has_text="WIDE-08").click()
    page.get_by_role("button", name="Into reader 2").click()
    for number, drive in ((0, "DRIVE-1"), (1, "DRIVE-2")):
        station.locator(".reader").nth(number).get_by_role("button", name=f"Copy to {drive}").click()
    expect(station).to_contain_text("WIDE-08 cannot be read any further", timeout=60_000)
    station.locator(".reader").nth(1).get_by_role("button", name="Note it").click()
    expect(page.locator(".card-chip", has_text="WIDE-08")).to_contain_text("failed once")
    expect(station.locator(".reader").first).to_contain_text("copied and compared: DRIVE-1", timeout=60_000)
    station.locator(".reader").first.get_by_role("button", name="Note it").click()
    lane(page, "Copied", "WIDE-11")
    page.locator(".card-chip", has_text="WIDE-11").click()
    expect(page.locator(".card-copies code")).to_have_text(station.locator("code").first.inner_text())
