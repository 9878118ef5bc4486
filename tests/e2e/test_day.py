"""The day as a table in a real browser: problems first, a change made to fit, people named, by keys too."""

from __future__ import annotations

import json
import re
import urllib.request
from typing import Any

from playwright.sync_api import Page, expect

from tests.conftest import LiveServer


def day(live: LiveServer) -> Any:
    with urllib.request.urlopen(f"{live.address}/api/jobs/dry-dock-opera/day") as answer:  # noqa: S310 - our own loopback address
        return json.load(answer)


def cell(live: LiveServer, part: str, rig: str) -> Any:
    return next((c for c in day(live)["cells"] if (c["part"], c["rig"]) == (part, rig)), None)


def open_day(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}/dry-dock-opera/day/dress/quay")
    expect(page.get_by_role("heading", name="The day")).to_be_visible()
    # The run sheet comes after the table, with what stands against it.
    expect(page.get_by_role("button", name="31 problems")).to_be_visible()


def test_a_change_that_does_not_fit_is_seen_first_and_made_to_fit(page: Page, live: LiveServer) -> None:
    open_day(page, live)
    strap = page.get_by_role("navigation", name="Places")
    expect(strap.get_by_role("button", name="Day Stop 13 Watch 15")).to_be_visible()
    against = page.get_by_role("region", name="What stands against the day")
    expect(against).to_contain_text("13 Stops")
    against.get_by_role("button", name="Change between two parts").click()
    sheet = page.get_by_role("region", name="Change")
    expect(sheet).to_contain_text("does not fit")
    expect(sheet.locator("ol li")).to_have_count(7)
    sheet.get_by_role("button", name="one, 6.6 min").click()
    expect(sheet.locator(".sum b")).to_have_text("6.6")
    # Not to change is an answer too, with what stands against the camera then beside it.
    stay = sheet.locator(".instead li", has_text="do not change")
    expect(stay).to_contain_text("0.0 min")
    stay.get_by_role("button", name="Take it").click()
    change = page.locator('[data-change="acts-1-2/stage-rail"]')
    expect(change).to_have_class(re.compile("same"))
    assert cell(live, "acts-1-2", "stage-rail")["build"] == "rail-locked"
    page.keyboard.press("u")
    expect(page.get_by_role("button", name="31 problems")).to_be_visible()
    assert cell(live, "acts-1-2", "stage-rail")["build"] == "rail-shoulder"


def test_cards_are_dealt_by_label_and_the_one_that_is_short_is_seen(page: Page, live: LiveServer) -> None:
    open_day(page, live)
    page.get_by_role("button", name="Cards for the day").click()
    dealt = day(live)["cards"]
    assert [p["card"] for c in dealt if (c["part"], c["rig"]) == ("acts-1-2", "quay") for p in c["pieces"]] == [
        "WIDE-03",
        "WIDE-04",
    ]
    rows = page.locator(".day-row.cards")
    expect(rows.nth(0)).to_contain_text("WIDE-03")
    expect(rows.nth(2)).to_contain_text("no card")
    expect(page.get_by_text("Copies of Sat 20 Mar")).to_be_visible()
    look = page.get_by_role("region", name="A look in the break")
    expect(look.locator("p").filter(has_text="Quay").last).to_contain_text("WIDE-04 straight away")
    page.get_by_role("button", name="Cameras", exact=True).click()
    page.locator('[data-cell="acts-1-2/quay"]').click()
    page.get_by_label("How the slots of Quay share the work in Acts I and II").select_option("relay")
    page.get_by_role("button", name="Cards", exact=True).click()
    expect(look.locator("p").filter(has_text="Quay").last).to_contain_text("copied first")
    assert cell(live, "acts-1-2", "quay")["scheme"] == "relay"


def test_one_person_in_two_places_is_mended_and_cells_are_copied_by_keys(page: Page, live: LiveServer) -> None:
    open_day(page, live)
    page.get_by_role("button", name="One person at two cameras").click()
    people = page.locator(".people", has_text="Op 3")
    expect(people).to_contain_text("two places")
    page.get_by_role("button", name="Cameras", exact=True).click()
    page.get_by_role("button", name="Stage rail in Mark-through", exact=True).click()
    page.get_by_label("Who works Stage rail in Mark-through").fill("Op 4")
    page.get_by_label("Who works Stage rail in Mark-through").press("Tab")
    expect(page.get_by_role("button", name="Stage rail in Mark-through", exact=True)).to_contain_text("Op 4")
    expect(page.get_by_role("button", name="30 problems")).to_be_visible()
    assert cell(live, "mark-through", "stage-rail")["operator"] == "Op 4"
    # Copied to the part beside it, by keys alone.
    page.get_by_role("button", name="Quay in Dress rehearsal", exact=True).click()
    page.keyboard.press("c")
    page.keyboard.press("ArrowLeft")
    expect(page.get_by_role("button", name="Quay in Mark-through", exact=True)).to_be_focused()
    page.keyboard.press("v")
    expect(page.get_by_role("button", name="Quay in Mark-through", exact=True)).to_contain_text("full")
    assert cell(live, "mark-through", "quay")["build"] == "quay-full"
    page.keyboard.press("Delete")
    expect(page.get_by_role("button", name="Quay in Mark-through", exact=True)).to_contain_text("not there")
    assert cell(live, "mark-through", "quay") is None
    # Nobody by it: its pack does not last the part.
    page.keyboard.press("ArrowRight")
    page.get_by_label("runs unattended").check()
    expect(page.get_by_role("button", name="Quay in Dress rehearsal", exact=True)).to_contain_text("unattended")
    assert cell(live, "dress", "quay")["unattended"]
    page.keyboard.press("w")
    expect(page.get_by_text("Quay in Dress rehearsal runs with nobody by it")).to_be_visible()


def test_who_has_what_when_and_what_has_no_spare(page: Page, live: LiveServer) -> None:
    open_day(page, live)
    page.get_by_role("button", name="No spare for it").click()
    gear = page.get_by_role("region", name="Gear over the day")
    gear.get_by_label("Which gear").fill("gimbal-1")
    gear.get_by_role("button", name="Gantry G6").click()
    unit = gear.locator(".gear-unit", has_text="GIMBAL-1")
    expect(unit).to_contain_text("Dock floor")
    expect(unit).to_contain_text("nothing stands in")


def test_the_run_sheet_is_timed_back_and_a_late_part_takes_from_the_gap(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}/dry-dock-opera/day/act-3/stage-rail")
    page.get_by_role("button", name="Task that does not fit").filter(has_text="Not ready").click()
    sheet = page.get_by_role("region", name="Run sheet")
    expect(sheet).to_contain_text("12 min later it would be")
    expect(sheet.locator(".searched")).to_have_text("searched: nothing better exists", timeout=60_000)
    expect(sheet.locator(".lane")).to_have_count(7)
    change = sheet.locator("li", has_text="change Stage rail").filter(has_text="gimbal")
    expect(change).to_contain_text("21:19")
    sheet.get_by_label("Whose list").select_option("Op 4")
    expect(sheet.locator("ol li").first).to_contain_text("Op 4")
    sheet.get_by_label("The part that ends late").select_option(label="Acts I and II")
    late = sheet.get_by_label("Minutes late")
    late.fill("20")
    late.press("Tab")
    expect(sheet).to_contain_text("Not ready when Act III begins at 21:35; 11 min later it would be")
    expect(sheet.locator(".run-missing")).to_contain_text("shoulder → gimbal")
    expect(sheet.locator(".run-stands")).to_contain_text("What had begun by 21:10 stays as it was planned")


def test_money_is_added_up_from_its_lines(page: Page, live: LiveServer) -> None:
    open_day(page, live)
    page.get_by_role("button", name="Money", exact=True).click()
    money = page.get_by_role("region", name="Money")
    with urllib.request.urlopen(f"{live.address}/api/jobs/dry-dock-opera/day/budget") as answer:  # noqa: S310 - our own loopback address
        budget = json.load(answer)
    hired = [line for line in budget["lines"] if line["owner"] == "hired"]
    assert sum(line["total"] for line in hired) == budget["hire"]
    decided = sum(tier["taken"] for tier in budget["tiers"])
    assert budget["hire"] + budget["running"] + decided + budget["all_tax"] == budget["all_total"]
    expect(money.locator(".money-sum b")).to_have_text(f"{budget['all_total']:,.0f}".replace(",", "\u202f"))
    expect(money).to_contain_text("Orlop C6 cinema body")
    expect(money.locator(".money-line.all")).to_contain_text("without tax")


def test_a_shortage_is_cured_with_one_key_and_comes_back_with_another(page: Page, live: LiveServer) -> None:
    open_day(page, live)
    quay = page.locator('[data-cell="dress/quay"]')
    expect(quay).to_contain_text("no ZOOM-2")
    page.get_by_role("button", name="Planned and not there").click()
    cures = page.get_by_role("region", name="What is not there, and what cures it")
    expect(cures).to_contain_text("it is hired from 20 Mar")
    expect(cures.locator("li").first).to_contain_text("ZOOM-1 for ZOOM-2 on Quay")
    cures.locator("li").first.get_by_role("button", name="Take it").click()
    expect(page.get_by_role("button", name="30 problems")).to_be_visible()
    expect(quay).to_contain_text("full with ZOOM-1")
    assert cell(live, "acts-1-2", "quay")["label"] == "full"
    page.locator("h1").click()
    page.keyboard.press("u")
    expect(quay).to_contain_text("no ZOOM-2")
    # What somebody else has is refused, with what would do instead.
    page.locator('[data-cell="act-3/dock-floor"]').click()
    page.get_by_label("Build of Dock floor in Act III").select_option(label="first try")
    expect(cures).to_contain_text("MIC-2")
    expect(cures).to_contain_text("Stage rail has it")
    cures.locator("li").filter(has_text="on Dock floor").get_by_role("button", name="Take it").click()
    expect(page.locator('[data-cell="act-3/dock-floor"]')).to_contain_text("first try without MIC-2")
    page.locator("h1").click()
    page.keyboard.press("u")
    expect(page.locator('[data-cell="act-3/dock-floor"]')).to_contain_text("gimbal")


def test_a_part_runs_25_minutes_late_and_what_would_do_is_taken(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}/dry-dock-opera/day/act-3/quay")
    page.get_by_role("button", name="Run sheet", exact=True).click()
    sheet = page.get_by_role("region", name="Run sheet")
    cures = page.get_by_role("region", name="What would do")
    expect(cures).to_contain_text("Audience in ends 12 min sooner")
    page.get_by_label("The part that ends late").select_option("acts-1-2")
    late = page.get_by_label("Minutes late")
    late.fill("25")
    late.press("Tab")
    expect(cures).to_contain_text("Stage rail stays in 'shoulder' in Act III")
    expect(sheet).to_contain_text("Not ready when Act III begins")
    cures.locator("p").filter(has_text="Stage rail stays in 'shoulder'").get_by_role("button").click()
    expect(cures).not_to_contain_text("Stage rail stays in 'shoulder' in Act III")
    assert cell(live, "act-3", "stage-rail")["build"] == "rail-shoulder"
    page.locator("h1").click()
    page.keyboard.press("u")
    expect(cures).to_contain_text("Stage rail stays in 'shoulder' in Act III")
    assert cell(live, "act-3", "stage-rail")["build"] == "rail-gimbal"


def test_a_permission_that_rests_on_fame_stops_paid_work_and_a_spotter_is_named(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}/dry-dock-opera/day/dress/dock-floor?shows=safety")
    floor = page.locator(".safety article", has_text="Dock floor")
    expect(floor.locator("li", has_text="Moves without seeing the way").first).to_contain_text("Spotter")
    permits = page.get_by_role("region", name="Permissions")
    permits.get_by_role("button", name="Add a permission").click()
    form = permits.get_by_role("group", name="Permission 4")
    form.get_by_label("What is allowed").fill("Song of the overture")
    form.get_by_label("What is allowed").press("Tab")
    form = permits.get_by_role("group", name="Song of the overture")
    form.get_by_label("State of the permission").select_option("given")
    expect(permits).to_contain_text("Song of the overture: nobody noted when it was looked at.")
    form.get_by_label("What the permission rests on").select_option("well known")
    song = permits.locator("li", has_text="Song of the overture")
    expect(song).to_contain_text("it rests on well known, for paid use; that is not valid everywhere.")
    form.get_by_label("Day it was looked at").fill("2027-03-18")
    expect(song).not_to_contain_text("nobody noted when it was looked at")
    permits.get_by_role("button", name="unpaid").click()
    expect(song).to_contain_text("for unpaid use")
    form.get_by_role("button", name="Remove").click()
    expect(song).to_have_count(0)
    page.get_by_role("button", name="Cameras", exact=True).click()
    page.locator('[data-cell="dress/dock-floor"]').click()
    spotter = page.get_by_label("Spotter of Dock floor in Dress rehearsal")
    spotter.fill("Runner")
    spotter.press("Tab")
    expect(page.locator('[data-cell="dress/dock-floor"]')).to_contain_text("Runner spots")
    assert cell(live, "dress", "dock-floor")["spotter"] == "Runner"
