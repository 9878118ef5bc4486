"""Shelf, comparison, build sheet and the questions where to and what would make it fit, in a real browser."""

from __future__ import annotations

import json
import re
import urllib.request
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, Route, expect

from tests.conftest import LiveServer

JOB = "/dry-dock-opera"


def get(live: LiveServer, path: str) -> Any:
    with urllib.request.urlopen(f"{live.address}/api{path}") as answer:  # noqa: S310 - our own loopback address
        return json.load(answer)


def row(page: Page, unit: str) -> Locator:
    return page.locator(f'[data-unit="{unit}"]')


def open_shelf(page: Page, live: LiveServer, part: str = "dress", rig: str = "quay") -> None:
    page.goto(f"{live.address}{JOB}/shelf/{part}/{rig}")
    expect(page.get_by_role("region", name="Units").get_by_role("listitem").first).to_be_visible()


def test_found_by_words_kind_and_what_it_fits(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/bench/dress/quay")
    expect(page.get_by_role("heading", name="Quay full")).to_be_visible()
    page.keyboard.press("g")
    page.keyboard.press("2")
    units = page.get_by_role("region", name="Units")
    expect(units.get_by_role("listitem").first).to_be_visible()
    page.keyboard.press("s")
    page.keyboard.type("friction")
    expect(units.get_by_role("listitem")).to_have_count(3)
    expect(row(page, "ARM-1")).to_contain_text("Caisson, full, until Fri 22:00")
    page.get_by_role("button", name="Show all").click()
    page.get_by_label("Which way it fits").select_option("goes on")
    page.get_by_label("Interface it fits").select_option("rods-15")
    expect(row(page, "RODS-1")).to_be_visible()
    page.get_by_label("Which way it fits").select_option("takes")
    expect(row(page, "LS-1")).to_be_visible()
    expect(row(page, "RODS-1")).to_have_count(0)
    page.get_by_role("checkbox", name="free in this part of the day").check()
    expect(row(page, "LS-1")).to_have_count(0)
    expect(row(page, "BASE-4")).to_be_visible()


def test_a_unit_is_weighed_on_the_scale_and_every_total_follows(page: Page, live: LiveServer) -> None:
    before = get(live, f"/jobs{JOB}/parts/dress/rigs/caisson")["figures"]
    open_shelf(page, live)
    page.get_by_label("Words").fill("C6-2")
    row(page, "C6-2").click()
    page.get_by_role("button", name="Measure mass and CG").click()
    scale = page.get_by_role("region", name="Measure mass and CG")
    expect(scale).to_contain_text("stable", timeout=15_000)
    scale.get_by_role("button", name="Take it").click()
    scale.get_by_role("button", name="Work it out").click()
    expect(scale).to_contain_text("M = W − tare")
    scale.get_by_role("button", name="Keep it for this unit").click()
    expect(page.get_by_text("measured_g None →")).to_be_visible()
    after = get(live, f"/jobs{JOB}/parts/dress/rigs/caisson")["figures"]
    assert 10 < after["payload_g"] - before["payload_g"] < 14
    assert after["by_source_g"]["measured"] > before["by_source_g"]["measured"] + 1600
    assert after["payload_sd_g"] < before["payload_sd_g"]


def test_a_new_model_with_its_ports_drawn_as_it_is_made(page: Page, live: LiveServer) -> None:
    open_shelf(page, live)
    page.keyboard.press("a")
    page.get_by_role("button", name="Every field by hand").click()
    editor = page.get_by_role("region", name="Model and its ports")
    editor.get_by_label("Id").first.fill("hitch-block")
    editor.get_by_label("Maker").fill("Hitch")
    editor.get_by_label("Name").fill("block with two sockets")
    editor.get_by_role("button", name="Add a port").click()
    editor.get_by_role("button", name="Add a port").click()
    editor.get_by_label("z mm").fill("5")
    editor.get_by_label("z mm").press("Tab")
    expect(editor).to_contain_text("lies 35 mm inside the body of hitch-block")
    editor.get_by_role("button", name="Add to the catalogue").click()
    expect(editor.get_by_role("alert")).to_contain_text("was not changed")
    editor.get_by_label("Faces").select_option("left")
    expect(editor).not_to_contain_text("inside the body")
    editor.get_by_role("button", name="Add to the catalogue").click()
    more = page.get_by_role("form", name="Add units")
    expect(more).to_contain_text("Add units of Hitch block with two sockets")
    more.get_by_label("How many").fill("2")
    more.get_by_label("Label of the first").fill("BLOCK-01")
    more.get_by_role("button", name="Add to stock").click()
    expect(page.locator('[data-unit="BLOCK-02"]')).to_be_visible()
    model = get(live, "/shelf/models/hitch-block")["model"]
    assert [p["at"] for p in model["ports"]] == [[0, 0, 0], [0, 20, 20]]


def test_a_csv_is_shown_line_by_line_before_anything_is_written(page: Page, live: LiveServer, tmp_path: Path) -> None:
    open_shelf(page, live)
    page.keyboard.press("i")
    panel = page.get_by_role("region", name="Read units from a CSV")
    bad = tmp_path / "bad.csv"
    bad.write_text("label,model,health\nPACK-04,tidewick-98,1.7\nNEW-1,ghost,1\n")
    panel.get_by_label("Choose a CSV").set_input_files(bad)
    expect(panel).to_contain_text("2 lines are wrong")
    expect(panel).to_contain_text("there is no model 'ghost' on the shelf")
    expect(panel.get_by_role("button", name="Write")).to_have_count(0)
    good = tmp_path / "good.csv"
    good.write_text("label,model,health,note\nPACK-04,tidewick-98,0.9,\nPACK-09,tidewick-98,1,new\n")
    panel.get_by_label("Choose a CSV").set_input_files(good)
    expect(panel).to_contain_text("1 new, 1 changed, 0 as they are")
    assert get(live, "/shelf?words=PACK-09")["total"] == 0
    panel.get_by_role("button", name="Write 2 changes").click()
    expect(panel).to_contain_text("2 units written")
    assert get(live, "/shelf/units/PACK-04")["unit"]["health"] == 0.9
    assert get(live, "/shelf?words=PACK-09")["total"] == 1


@pytest.mark.parametrize("rig_late", [False, True])
def test_where_a_unit_can_go_leads_from_the_shelf_to_the_rig(page: Page, live: LiveServer, rig_late: bool) -> None:
    """Also when the places are there before the rig itself is."""

    held: list[Route] = []
    if rig_late:
        page.route(re.compile(r"/parts/dress/rigs/quay$"), lambda route: held.append(route))  # noqa: PLW0108 - a method of a list is no function that can be taken apart
    open_shelf(page, live)
    page.get_by_label("Words").fill("RX-2")
    row(page, "RX-2").click()
    with page.expect_response(re.compile(r"/places")):
        page.get_by_role("link", name="1 Quay").click()
    for route in held:
        route.continue_()
    page.unroute_all()
    picker = page.get_by_role("region", name="Where RX-2 can go")
    picker.get_by_role("button", name="HANDLE-1 handle shoe").click()
    expect(picker).to_be_hidden()
    rig = get(live, f"/jobs{JOB}/parts/dress/rigs/quay")
    assert next(r for r in rig["rows"] if r["unit"] == "RX-2")["parent"] == "HANDLE-1"


def test_what_would_make_it_fit(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/bench/dress/quay")
    row(page, "CAGE-1").click()
    page.get_by_role("button", name="left socket, socket of 1/4-20 thread, free").click()
    page.get_by_role("button", name="Doesn’t fit, and why").click()
    picker = page.get_by_role("region", name="What goes on CAGE-1")
    picker.get_by_role("button", name="RX-2").click()
    picker.get_by_role("button", name="Attach SHOE-1 to CAGE-1, left socket; then Attach RX-2 to SHOE-1, shoe").click()
    # The rig is drawn with it while it is only looked at; what is saved closes the list.
    expect(picker).to_be_hidden()
    expect(row(page, "RX-2")).to_be_visible()
    assert {"SHOE-1", "RX-2"} <= {r["unit"] for r in get(live, f"/jobs{JOB}/parts/dress/rigs/quay")["rows"]}


def test_a_screen_that_did_not_arrive_is_asked_for_again(page: Page, live: LiveServer) -> None:
    asked: list[str] = []

    def lost_once(route: Route) -> None:
        asked.append(route.request.url)
        if len(asked) == 1:
            route.abort()
        else:
            route.continue_()

    page.route(re.compile(r"/CompareView-[^/]*\.js$"), lost_once)
    page.goto(f"{live.address}{JOB}/bench/act-3/stage-rail")
    page.get_by_role("link", name="Compare").click()
    expect(page.get_by_label("Compare with")).to_be_visible()
    assert len(asked) == 2


def test_without_a_server_one_stays_where_one_is_and_is_told(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/bench/act-3/stage-rail")
    expect(page.get_by_role("heading", name="Stage rail gimbal")).to_be_visible()
    page.context.set_offline(True)
    page.get_by_role("link", name="Compare").click()
    expect(page.get_by_role("alert")).to_contain_text("That screen did not arrive")
    expect(page.get_by_role("heading", name="Stage rail gimbal")).to_be_visible()
    page.context.set_offline(False)


def test_two_builds_side_by_side(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/bench/act-3/stage-rail")
    page.get_by_role("link", name="Compare").click()
    page.get_by_label("Compare with").select_option("rail-shoulder")
    expect(page.get_by_role("row", name="Mass on the support g")).to_contain_text("+2 104")
    expect(page.get_by_text("it takes at most 12.0 V and can be destroyed")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("heading", name="Stage rail gimbal")).to_be_visible()


def test_a_build_sheet_in_order_ticked_and_kept(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/bench/dress/caisson")
    expect(page.get_by_role("heading", name="Caisson full")).to_be_visible()
    page.keyboard.press("p")
    steps = page.get_by_role("main").get_by_role("button", pressed=False)
    expect(page.get_by_text("Tools")).to_be_visible()
    expect(page.get_by_role("main")).to_contain_text("join CINE-1 and PLA-1 on the bench, then mount both")
    first = page.get_by_role("main").get_by_role("listitem").first.get_by_role("button")
    expect(first).to_contain_text("MP-2")
    first.click()
    expect(first).to_have_attribute("aria-pressed", "true")
    page.reload()
    expect(page.get_by_role("main").get_by_role("listitem").first.get_by_role("button")).to_have_attribute(
        "aria-pressed", "true"
    )
    page.keyboard.press("s")
    expect(page.get_by_role("main").get_by_role("listitem").first).to_contain_text("off: ")
    expect(steps.first).to_be_visible()


def test_the_way_a_rig_is_carried_changes_what_its_joints_must_hold(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/bench/act-3/quay")
    expect(page.get_by_role("region", name="Call-outs").locator("h2")).to_contain_text("Clear")
    page.get_by_label("How the rig is carried").select_option("vehicle")
    expect(page.get_by_role("region", name="Call-outs").locator("h2")).not_to_contain_text("Clear")
    assert get(live, f"/jobs{JOB}/parts/act-3/rigs/quay")["use"] == "vehicle"
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("region", name="Call-outs").locator("h2")).to_contain_text("Clear")


def test_every_lens_on_the_body_for_the_position(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/bench/dress/dock-floor")
    expect(page.get_by_role("heading", name="Dock floor gimbal")).to_be_visible()
    page.keyboard.press("l")
    main = page.get_by_role("main")
    expect(main).to_contain_text("from 4.0 m, 3.2 m must fit in: 43.6°")
    expect(main).to_contain_text("2.81 m wide, too narrow")
    page.get_by_role("button", name="Fathom R2 compact body").click()
    expect(page.get_by_role("heading", name="Every lens on Fathom R2 compact body")).to_be_visible()
    expect(main).to_contain_text("through FLA-1 (+24.46 mm, 120 g, loses autofocus and stabiliser power)")
