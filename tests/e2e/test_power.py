"""Power in a real browser: a wrong link repaired on the chain, the
day planned, what if, and the swap card on a phone.
"""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import LiveServer
from tests.e2e.test_shelf import JOB, get
from tests.kit import until

PLANNED = 60_000


def test_a_wrong_link_is_seen_on_the_chain_and_repaired_there(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/bench/dress/stage-rail")
    expect(page.get_by_role("heading", name="Stage rail shoulder")).to_be_visible()
    page.keyboard.press("g")
    page.keyboard.press("5")
    chain = page.get_by_role("group", name="The chain from packs to inputs")
    expect(chain).to_be_visible()
    seen = get(live, f"/jobs{JOB}/parts/dress/rigs/stage-rail/power")
    expect(page.locator(".power-sum b")).to_have_text(f"{seen['watts']:.1f}")
    wrong = page.get_by_role("button", name="RX-1, receiver")
    expect(wrong).to_have_class(re.compile("stop"))
    wrong.press("Enter")
    expect(page.locator(".balance-side .why")).to_contain_text("destroyed")
    remedy = page.locator(".balance-side .remedy").first
    expect(remedy).to_be_visible()
    remedy.press("Enter")
    expect(page.locator(".balance-side .callout.stop")).to_have_count(0)
    mended = get(live, f"/jobs{JOB}/parts/dress/rigs/stage-rail/power")
    assert not [f for f in mended["findings"] if f["level"] == "stop"]
    assert {(e["outlet"], e["sink"]) for e in mended["edges"] if e["cable"]} == {
        ("8 V outlet", "RX-1"),
        ("tap 1", "MON5-2"),
    }, "each on what the other had"
    page.get_by_role("button", name="RPLATE-1, battery plate").press("Enter")
    expect(page.locator(".meter").first).to_contain_text("these go dark: RX-1, MON5-2; no spare of it is free")
    page.keyboard.press("e")
    expect(page.get_by_role("button", name="at the end")).to_have_attribute("aria-pressed", "true")
    ends = get(live, f"/jobs{JOB}/parts/dress/rigs/stage-rail/power?empty=true")
    expect(page.locator(".power-sum b")).to_have_text(f"{ends['watts']:.1f}")


def test_the_day_is_short_and_what_if_stands_beside_the_plan(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/power/arrival/quay")
    expect(page.locator(".power-sum b")).to_be_visible()
    page.keyboard.press("d")
    expect(page.locator(".swaps-verdict")).to_contain_text("1 short", timeout=PLANNED)
    cure = page.locator(".cures p").filter(has_text="Leave Gangway light off")
    expect(cure).to_contain_text("then the day holds", timeout=PLANNED)
    expect(page.locator(".use.bring")).to_have_count(1)
    page.keyboard.press("b")
    expect(page.locator(".slot-name").filter(has_text="PACK-05")).to_have_count(1)
    expect(page.locator(".slot-name").filter(has_text="Quay")).to_have_count(0)
    page.keyboard.press("b")
    page.keyboard.press("w")
    expect(page.get_by_role("button", name="no mains")).to_have_attribute("aria-pressed", "true")
    expect(page.locator(".swaps-sum.beside")).to_contain_text("as planned", timeout=PLANNED)
    expect(page.locator(".swap-chart .mains")).to_have_count(0, timeout=PLANNED)
    page.get_by_role("button", name="As planned").click()
    expect(page.locator(".swaps-sum.beside")).to_have_count(0, timeout=PLANNED)
    expect(page.locator(".swap-chart .mains")).to_have_count(2)


def test_a_swap_is_ticked_on_a_phone_and_taken_back(page: Page, live: LiveServer) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{live.address}{JOB}/swaps/arrival/quay")
    page.get_by_role("button", name="this camera").click(timeout=PLANNED)
    cards = page.locator(".swap-cards li")
    expect(cards.first).to_contain_text("Quay", timeout=PLANNED)
    cards.get_by_role("button", name="Done").first.click()
    page.get_by_label("Charge left, percent").fill("15")
    page.get_by_label("Charge of the pack that went in, percent").fill("90")
    at = page.get_by_label("Time of the swap")
    planned = at.input_value()
    at.fill("03:10")
    page.get_by_role("button", name="Note it").click()
    # Refused where it was typed, and what was typed is still there.
    refused = cards.filter(has=at).get_by_role("alert")
    expect(refused).to_contain_text("is not on this day")
    expect(page.get_by_role("alert")).to_have_count(1)
    expect(refused).to_be_in_viewport()
    expect(page.get_by_label("Charge left, percent")).to_have_value("15")
    at.fill(planned)
    with page.expect_response("**/swaps/made**"):
        page.get_by_role("button", name="Note it").click()
    expect(page.get_by_role("button", name=re.compile("^Take back"))).to_have_count(1, timeout=PLANNED)
    made = get(live, f"/jobs{JOB}/swaps?part=arrival")["made"]
    assert [(m["charge_left"], m["charge_in"]) for m in made] == [(0.15, 0.9)]
    day = get(live, f"/jobs{JOB}/swaps?part=arrival")
    assert next(
        u["left"] for u in day["uses"] if u["slot"] == made[0]["slot"] and u["ends"] == made[0]["minute"]
    ) == pytest.approx(0.15, abs=1e-3)
    page.reload()
    back = page.get_by_role("button", name=re.compile("^Take back: Quay"))
    expect(back).to_be_visible(timeout=PLANNED)
    back.click()
    expect(back).to_have_count(0, timeout=PLANNED)
    page.get_by_role("button", name="Note a swap that was not planned").click()
    own = page.get_by_role("region", name="Swaps that were not planned")
    own.get_by_label("When it was swapped").fill("2027-03-20T18:20")
    own.get_by_label("Pack that was put in").fill("PACK-05")
    own.get_by_label("Charge left in what came out").fill("40")
    own.get_by_role("button", name="Note it").click()
    until(lambda: len(get(live, f"/jobs{JOB}/swaps?part=arrival")["made"]) == 1)
    (noted,) = get(live, f"/jobs{JOB}/swaps?part=arrival")["made"]
    assert (noted["pack_in"], noted["charge_left"]) == ("PACK-05", 0.4)
    undo = page.get_by_role("button", name=re.compile("^Take back"))
    expect(undo).to_have_count(1, timeout=PLANNED)
    with page.expect_response("**/swaps/made/**"):
        undo.click()
    expect(undo).to_have_count(0, timeout=PLANNED)
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_switched_off_between_takes_lasts_longer(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/job/act-3/quay")
    for label, value in (("Rolling, % of the time", "30"), ("Takes an hour", "4")):
        field = page.get_by_label(label).first
        field.fill(value)
        with page.expect_response("**/edits"):
            field.press("Tab")
    page.goto(f"{live.address}{JOB}/power/act-3/quay")
    pattern = page.get_by_role("group", name="Between takes")
    expect(pattern).to_contain_text("Rolls 30 % of the time")
    runs = get(live, f"/jobs{JOB}/parts/act-3/rigs/quay/power")["runs"]
    assert runs[0]["off_h"] > runs[0]["left_on_h"] == runs[0]["hours"]
    with page.expect_response("**/edits"):
        pattern.get_by_role("button", name="switched off").press("Enter")
    expect(pattern).to_contain_text("each start takes 1.0 min, 4 an hour")
    after = get(live, f"/jobs{JOB}/parts/act-3/rigs/quay/power")
    assert after["off_between"]
    assert after["runs"][0]["hours"] == runs[0]["off_h"]


def test_packs_for_one_slot_stand_side_by_side_and_one_is_put_in(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/power/act-3/quay")
    page.get_by_role("button", name=re.compile(r"^PACK-\d+, pack")).first.press("Enter")
    table = page.get_by_role("region", name="Packs for this slot")
    expect(table.locator("li").first).to_contain_text("on now")
    other = table.get_by_role("button", name=re.compile("^Put PACK-")).first
    row = table.locator("li").nth(1)
    promised = row.locator(".in-sums b").inner_text()
    pack = row.locator(".unit").inner_text()
    with page.expect_response("**/edits"):
        other.press("Enter")
    expect(page.locator(".run-down figcaption", has_text=pack)).to_contain_text(promised)
