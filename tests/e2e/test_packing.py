"""Packing in a real browser: cured and put by hand at the bench, scanned out and back on a phone."""

from __future__ import annotations

from playwright.sync_api import Browser, Page, expect

from tests.conftest import LiveServer
from tests.e2e.net import Relay, is_kept
from tests.e2e.test_job import frame
from tests.e2e.test_shelf import get
from tests.kit import until

JOB = "dry-dock-opera"


def opened(page: Page, server: LiveServer) -> None:
    page.goto(f"{server.address}/{JOB}/pack/mark-through/quay")
    expect(page.get_by_role("heading", name="Pack", exact=False).first).to_be_visible()


def scan(page: Page, label: str) -> None:
    field = page.get_by_label("Label, scanned or typed")
    field.fill(label)
    field.press("Enter")


def test_a_case_more_cures_it_and_a_thing_is_put_by_hand_and_undone(page: Page, live: LiveServer) -> None:
    opened(page, live)
    problems = page.get_by_role("region", name="What stands against the packing")
    expect(problems.locator(".verdict")).to_have_text("1 Stop", timeout=90_000)
    problems.get_by_role("list", name="What cures it").get_by_role("button", name="Take it").first.click(timeout=90_000)
    expect(problems.locator(".verdict")).not_to_have_text("1 Stop", timeout=90_000)
    cases = page.get_by_role("list", name="Cases that go along")
    expect(cases.get_by_role("button")).to_have_count(8)
    page.get_by_role("button", name="What goes").click()
    page.get_by_label("Find in the list").fill("R2-2")
    page.get_by_role("button", name="R2-2", exact=True).click()
    page.get_by_label("Goes into").select_option("BAG-1")
    expect(page.get_by_role("row", name="R2-2")).to_contain_text("BAG-1, by hand", timeout=90_000)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("row", name="R2-2")).not_to_contain_text("by hand", timeout=90_000)
    page.get_by_role("button", name="Cases", exact=True).click()
    # By keys alone: the next case, its lower layer, and back to what is wrong.
    page.keyboard.press(".")
    expect(cases.locator("[aria-pressed=true]")).to_contain_text("CASE-2")
    page.keyboard.press("l")
    page.keyboard.press("w")
    expect(problems).to_be_visible()


def test_scanned_out_and_back_by_thumb_with_one_thing_missing(page: Page, live: LiveServer) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    opened(page, live)
    lists = page.get_by_role("region", name="The list out")
    chip = lists.get_by_role("group", name="Case").get_by_role("button", name="TUBE-1")
    chip.click(timeout=90_000)
    size = chip.bounding_box()
    assert size
    assert size["height"] >= 44
    inside = lists.locator(".ticks li").first
    sticks = inside.locator("b").inner_text()
    scan(page, "someone-elses-7")
    expect(page.get_by_role("alert")).to_contain_text("label of another house")
    scan(page, sticks.lower())
    expect(lists).to_contain_text(f"{sticks} is in TUBE-1.")
    expect(inside.get_by_role("button")).to_have_attribute("aria-pressed", "true")
    scan(page, "CW-3")
    question = page.get_by_role("alert")
    expect(question).to_contain_text("CW-3 is not on the list of this job")
    question.get_by_role("button", name="No").click()
    scan(page, "CASE-4")
    expect(lists).to_contain_text("Packing CASE-4.")
    second = lists.locator(".ticks li").first
    other = second.locator("b").inner_text()
    second.get_by_role("button").click()
    expect(lists).to_contain_text(f"{other} is in CASE-4.")
    lists.get_by_role("button", name="Close CASE-4").click()
    expect(page.get_by_role("alert")).to_contain_text("are not in it")
    page.get_by_role("alert").get_by_role("button", name="Yes").click()
    expect(lists).to_contain_text("Closed")
    page.get_by_role("button", name="Back", exact=True).click()
    back = page.get_by_role("region", name="The list back")
    expect(back.locator(".count")).to_have_text("0 of 2 back")
    scan(page, sticks)
    expect(back.locator(".count")).to_have_text("1 of 2 back")
    back.get_by_role("button", name="Close the list").click()
    expect(page.get_by_role("alert")).to_contain_text(f"1 thing not back: {other} (last CASE-4)")
    page.get_by_role("button", name="Yes, close it").click()
    back.get_by_role("group", name="Case").get_by_role("button", name="CASE-4").click()
    expect(back.locator(".ticks li.missing")).to_contain_text("missing; last CASE-4")
    page.reload()
    page.get_by_role("button", name="Back", exact=True).click()
    expect(page.locator(".count")).to_have_text("1 of 2 back")


def test_a_phone_without_a_net_packs_on_and_what_is_unlikely_is_asked_when_it_is_back(
    browser: Browser, live: LiveServer
) -> None:
    relay = Relay(int(live.address.rpartition(":")[2]))
    context = browser.new_context(viewport={"width": 390, "height": 844}, service_workers="allow")
    page = context.new_page()
    address = f"{relay.address}/{JOB}/pack/mark-through/quay"
    page.goto(address)
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.goto(address)
    # What was looked at is on the device: the packing when it is dealt to its end.
    until(lambda: not get(live, f"/jobs/{JOB}/pack")["searching"])
    page.goto(address)
    expect(page.get_by_role("group", name="Case").get_by_role("button", name="TUBE-1")).to_be_visible(timeout=90_000)
    is_kept(page, f"/jobs/{JOB}/pack")
    relay.gone()
    page.goto(address)
    lists = page.get_by_role("region", name="The list out")
    lists.get_by_role("group", name="Case").get_by_role("button", name="TUBE-1").click(timeout=90_000)
    sticks = lists.locator(".ticks li b").first.inner_text()
    lists.locator(".ticks li").first.get_by_role("button").click()
    expect(lists).to_contain_text("It is kept on this device")
    expect(lists.locator(".ticks li").first).to_contain_text("not sent yet")
    scan(page, "CW-3")
    waiting = page.get_by_role("region", name="Not sent yet")
    expect(waiting.get_by_role("button")).to_have_text("2 not sent yet")
    page.goto(address)
    expect(lists.locator(".count strong")).to_have_text("1")
    relay.here()
    expect(waiting).to_contain_text("CW-3 is not on the list of this job")
    waiting.get_by_role("button", name="Yes, it was so").click()
    expect(waiting).to_have_count(0)
    steps = get(live, f"/jobs/{JOB}/pack")["steps"]
    assert sorted((s["thing"], s["act"], s["case"]) for s in steps) == [
        ("CW-3", "packed", "TUBE-1"),
        (sticks, "packed", "TUBE-1"),
    ]
    context.close()
    relay.door.close()


def test_every_field_of_the_packing_is_set_and_read_back(page: Page, live: LiveServer) -> None:
    """PackPlan, CaseAlong, PutWhere, Extra and Carrier, field by field."""
    opened(page, live)
    cases = page.get_by_role("list", name="Cases that go along")
    cases.get_by_role("button", name="CASE-4").click(timeout=90_000)
    panel = page.get_by_role("region", name="CASE-4 as it travels")
    panel.get_by_label("Travels").select_option("cabin")
    panel.get_by_label("Carried by").fill("Op 1")
    panel.get_by_label("Carried by").press("Tab")
    panel.get_by_label("Stays by").select_option("quay")
    panel.get_by_label("Somebody sits on it").check()
    carrier = page.locator("details").filter(has_text="What the carrier allows")
    # What flies opens it by itself.
    expect(carrier).to_have_attribute("open", "", timeout=90_000)
    values = {
        "Who carries it": "the ferry", "Checked on": "2027-01-02", "Cabin, mm long": "500", "People who travel": "3",
        "Packs without asking, up to Wh": "90", "Without asking, packs": "15", "With consent, up to": "140",
        "With consent, packs": "1", "Cabin, up to kg": "10", "Hold, up to kg": "20",
    }  # fmt: skip
    for label, value in values.items():
        carrier.get_by_label(label).fill(value)
        carrier.get_by_label(label).press("Tab")
    page.get_by_role("button", name="What goes").click()
    form = page.locator(".more-along")
    ladder = {"What": "Ladder", "Pieces": "2", "g each": "900", "mm long": "700", "wide": "300", "high": "60"}
    for label, value in ladder.items():
        form.get_by_label(label).fill(value)
    form.get_by_role("button", name="Add").click()
    page.get_by_role("button", name="Ladder").click()
    side = page.get_by_role("region", name="Ladder")
    side.get_by_label("What for").fill("the caisson")
    side.get_by_label("What for").press("Tab")
    side.get_by_label("Goes into").select_option("-")
    expect(page.get_by_role("row", name="Ladder")).to_contain_text("stays", timeout=90_000)
    pack = frame(live, JOB)["job"]["pack"]
    case = next(c for c in pack["cases"] if c["unit"] == "CASE-4")
    assert case == {"unit": "CASE-4", "travels": "cabin", "carried_by": "Op 1", "stays_with": "quay", "seat": True}
    assert {**pack["carrier"], "cabin_mm": pack["carrier"]["cabin_mm"][0]} == {
        "label": "the ferry", "checked": "2027-01-02", "free_wh": 90, "consent_wh": 140, "consent_each": 1,
        "free_each": 15, "people": 3, "cabin_mm": 500, "cabin_kg": 10, "hold_kg": 20,
    }  # fmt: skip
    extra = next(e for e in pack["extras"] if e["label"] == "Ladder")
    assert (extra["count"], extra["each_g"], extra["size_mm"], extra["note"]) == (2, 900, [700, 300, 60], "the caisson")
    assert {"thing": f"+{extra['id']}", "case": ""} in pack["put"]
