"""The Balance screen in a real browser: step cards by hand, readings
kept, a change that makes them stale, a slide that levels.
"""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.conftest import LiveServer
from tests.e2e.test_shelf import JOB, get


def answer_until(page: Page, title: str) -> None:
    """Answer that it holds, card by card, until one of that title is up."""
    head = page.locator(".card-now h2")
    for _ in range(12):
        now = head.inner_text()
        if now == title:
            return
        count = page.locator(".card-count .holds").count()
        page.get_by_role("button", name="It holds").press("Enter")
        expect(page.locator(".card-count .holds")).to_have_count(count + 1)
    expect(head).to_have_text(title)


def how_it_was_made(page: Page) -> None:
    """It is kept with the balance, and what is in no build makes it stale until it is taken back."""
    page.locator(".earlier-balances > summary").click()
    page.locator(".checked-before summary").click()
    expect(page.locator(".checked-before li").first).to_have_text("Gimbal off, axes locked.")
    expect(page.locator(".earlier-balances .made")).to_contain_text("every check holds")
    expect(page.locator(".earlier-balances .made")).to_contain_text("screen folded in")
    expect(page.locator(".earlier-balances .made")).to_contain_text("motors calibrated")
    page.locator(".touched").get_by_role("button", name="lens cap").press("Enter")
    expect(page.get_by_text("changed since it was balanced")).to_be_visible()
    expect(page.locator(".changes")).to_contain_text("tilt fore-aft to check")
    page.locator(".touched").get_by_role("button", name="lens cap").press("Enter")
    expect(page.get_by_text("balanced as it is", exact=True)).to_be_visible()


def test_balanced_by_the_cards_then_a_filter_comes_off(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/bench/act-3/stage-rail")
    expect(page.get_by_role("heading", name="Stage rail gimbal")).to_be_visible()
    page.keyboard.press("g")
    page.keyboard.press("4")
    expect(page.get_by_text("never balanced as it is")).to_be_visible()
    slides = get(live, f"/jobs{JOB}/parts/act-3/rigs/stage-rail/balance")["gimbal"]["slides"]
    for slide in slides:
        expect(page.locator(".slide-scale").filter(has_text=slide["title"]).locator(".reading b")).to_have_text(
            f"{slide['reading']:.1f}"
        )
    page.keyboard.press("s")
    flight = page.locator(".flight input")
    expect(page.get_by_role("button", name="It holds")).to_have_count(0)
    expect(flight.first).to_be_visible()
    for _ in range(flight.count()):
        flight.and_(page.locator(":not(:checked)")).first.press("Space")
    expect(page.locator(".set-to b")).to_have_text(f"{slides[0]['reading']:.1f}")
    page.get_by_role("button", name="level, lens drops").press("Enter")
    expect(page.locator(".do-now")).to_contain_text("Mass too far forward: slide back, towards")
    page.reload()
    expect(page.locator(".slide-scale").first).to_be_visible()
    page.keyboard.press("s")
    expect(page.locator(".do-now")).to_contain_text("Mass too far forward")
    answer_until(page, "Pan")
    page.get_by_role("button", name="swings only when leaned to one side").press("Enter")
    expect(page.locator(".do-now")).to_have_text("Roll is not right yet: back to roll.")
    expect(page.get_by_role("button", name="Read the gimbal")).to_have_count(0)
    answer_until(page, "Then, and only then, switch it on")
    page.get_by_role("button", name="Read the gimbal").click()
    expect(page.locator(".told")).to_contain_text("simulated gimbal")
    expect(page.locator(".told p:not(.to-see, .calibration) b")).to_have_count(3)
    expect(page.locator(".calibration")).to_contain_text("still calibrated to another rig")
    page.get_by_role("button", name="Calibrate, standing still").click()
    expect(page.locator(".calibration")).to_contain_text("calibrated to this rig")
    page.get_by_role("textbox", name="Screen").fill("folded in")
    page.get_by_role("textbox", name="Note").fill("on the ramp")
    page.get_by_role("button", name="Keep these readings").click()
    expect(page.get_by_text("balanced as it is", exact=True)).to_be_visible()
    page.reload()
    expect(page.get_by_text("balanced as it is", exact=True)).to_be_visible()
    how_it_was_made(page)

    page.keyboard.press("Escape")
    page.locator('[data-unit="VND-1"]').click()
    page.keyboard.press("Delete")
    expect(page.locator('[data-unit="VND-1"]')).to_have_count(0)
    page.keyboard.press("g")
    page.keyboard.press("4")
    expect(page.get_by_text("changed since it was balanced")).to_be_visible()
    expect(page.get_by_text("VND-1 was taken off")).to_be_visible()


def test_the_other_order_and_a_refused_reading(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/balance/dress/dock-floor")
    page.get_by_role("button", name="Step cards").click()
    page.get_by_role("button", name="roll first").click()
    expect(page.get_by_role("button", name="roll first")).to_have_attribute("aria-pressed", "true")
    for line in page.locator(".flight input").all():
        line.click()
    expect(page.get_by_role("heading", name="Roll")).to_be_visible()
    page.get_by_label("Reading of lateral").fill("99999")
    answer_until(page, "Then, and only then, switch it on")
    page.get_by_role("button", name="Keep these readings").click()
    expect(page.get_by_role("alert")).to_contain_text("lateral")


def test_a_slide_of_the_pad_levels_the_shoulder_rig(page: Page, live: LiveServer) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{live.address}{JOB}/balance/dress/stage-rail")
    expect(page.get_by_text("nose-heavy").last).to_be_visible()
    page.get_by_role("button", name=re.compile("^Slide PAD-1")).click()
    expect(page.locator(".verdict-line").first).not_to_contain_text("nose-heavy")
    assert abs(get(live, f"/jobs{JOB}/parts/dress/rigs/stage-rail/balance")["see_saw"]["moment_nm"]) < 0.02


def test_a_slide_out_of_travel_is_cured_where_it_is_shown(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/balance/act-3/stage-rail")
    called = page.locator(".balance-side").get_by_role("button", name="Tilt fore-aft slide")
    called.press("Enter")
    expect(page.locator(".balance-side .remedy").first).to_contain_text("Slide GIMBAL-2 to")
    page.locator(".balance-side .remedy").first.press("Enter")
    expect(called).to_have_count(0)
    slides = get(live, f"/jobs{JOB}/parts/act-3/rigs/stage-rail/balance")["gimbal"]["slides"]
    assert slides[0]["short_mm"] == 0
    expect(page.locator(".slide-scale .reading b").first).to_have_text(f"{slides[0]['reading']:.1f}")


def test_a_counterweight_levels_the_rig_in_the_hand(page: Page, live: LiveServer) -> None:
    """By keyboard: of what would level it a counterweight is taken, and the figure shown is the one promised."""
    page.goto(f"{live.address}{JOB}/balance/mark-through/quay")
    weight = page.get_by_role("button", name=re.compile("^Attach CW-"))
    expect(weight.first).to_be_visible()
    promised = weight.first.locator(".sums span").first.inner_text()
    weight.first.press("Enter")
    expect(page.locator(".verdict-line b").first).to_have_text(promised.removesuffix(" N·m"))
    units = {row["unit"] for row in get(live, f"/jobs{JOB}/parts/mark-through/rigs/quay")["rows"]}
    assert {"CW-2", "CW-3"} & units


def test_what_is_hit_is_drawn_and_its_remedy_taken_from_the_bench(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/balance/dress/dock-floor")
    expect(page.get_by_role("heading", name="Dock floor gimbal")).to_be_visible()
    page.keyboard.press("h")
    expect(page.locator(".risk")).to_contain_text("TX-1 meets the roll arm")
    expect(page.locator(".balance-draw .shape.stop").first).to_be_attached()
    page.get_by_role("button", name="Level again").click()
    expect(page.locator(".risk")).to_have_count(0)
    page.keyboard.press("Escape")
    hits = page.locator(".callouts li.stop").filter(has_text="Camera hits the gimbal when tilted")
    expect(hits).to_have_count(2)
    down = hits.filter(has_text="tilt down")
    down.locator(".callout").click()
    remedy = down.locator(".remedy").filter(has_text="Take off MON7-2")
    expect(remedy).to_be_visible()
    with page.expect_response("**/edits"):
        remedy.press("Enter")
    expect(down).to_have_count(0)
    expect(hits).to_have_count(1)
