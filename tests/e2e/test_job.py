"""From an empty database: a job, its days, own gear, a camera and a verdict; by keyboard and pointer only."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import ROOT, LiveServer
from tests.e2e.test_shelf import get
from tests.kit import until


def make_job(page: Page, server: LiveServer, title: str = "Night boats") -> None:
    page.goto(server.address)
    page.get_by_label("Title").fill(title)
    page.get_by_label("First day").last.fill("2027-05-03")
    page.get_by_role("button", name="Make it").click()
    expect(page.get_by_role("heading", name="Days")).to_be_visible()


def frame(server: LiveServer, job: str = "night-boats") -> dict[str, Any]:
    found: dict[str, Any] = get(server, f"/jobs/{job}/frame")
    return found


def times(server: LiveServer) -> dict[str, str]:
    return {p["label"]: f"{p['starts'][8:16]} {p['ends'][8:16]}" for p in frame(server)["job"]["parts"]}


def test_an_empty_database_greets_and_a_title_and_a_day_are_enough(page: Page, empty: LiveServer) -> None:
    page.goto(empty.address)
    expect(page).to_have_url(f"{empty.address}/jobs")
    expect(page.get_by_text("No job here yet")).to_be_visible()
    expect(page.get_by_role("button", name="Open the demo")).to_be_visible()
    make_job(page, empty)
    expect(page.get_by_text("No camera body in stock yet")).to_be_visible()
    assert times(empty) == {"Day 1": "03T09:00 03T18:00"}
    page.goto(empty.address)
    expect(page.get_by_role("heading", name="Days")).to_be_visible()


def test_parts_of_the_day_are_drawn_moved_typed_and_taken_back(page: Page, empty: LiveServer) -> None:
    make_job(page, empty)
    page.get_by_label("Name of a new part of the day").fill("Night")
    page.keyboard.press("Enter")
    night = page.get_by_role("button", name="Night, 18:00 to 20:00")
    night.focus()
    for key in ("ArrowRight", "ArrowRight", "Shift+ArrowRight"):
        page.keyboard.press(key)
    expect(page.get_by_role("button", name="Night, 18:10 to 20:15")).to_be_visible()
    whole = page.get_by_role("button", name="Night, 18:10 to 20:15").bounding_box()
    scale = page.locator(".strip-of-day").first.bounding_box()
    day = page.get_by_role("button", name="Day 1, 09:00 to 18:00").bounding_box()
    assert whole
    assert scale
    assert day
    assert whole["width"] / day["width"] == pytest.approx(125 / 540, rel=0.03)
    page.mouse.move(whole["x"] + 40, whole["y"] + 20)
    page.mouse.down()
    page.mouse.move(whole["x"] - 400, whole["y"] + 20, steps=6)
    page.mouse.up()
    expect(page.get_by_role("button", name="Night, 18:00 to 20:05")).to_be_visible()  # its neighbour stops it
    form = page.get_by_role("form", name="Night")
    form.get_by_label("Ends").fill("2027-05-04T01:30")
    form.get_by_label("Ends").press("Tab")
    expect(page.get_by_role("button", name="Night, 00:00 to 01:30")).to_be_visible()
    form.get_by_label("Starts").fill("2027-05-03T17:00")
    form.get_by_label("Starts").press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("Night would start at 17:00, while Day 1 runs until 18:00")
    expect(form.get_by_label("Starts")).to_have_value("2027-05-03T18:00")
    form.get_by_label("Temperature").fill("-4")
    form.get_by_label("Temperature").press("Tab")
    form.get_by_label("A new moment").fill("The flood")
    form.get_by_role("button", name="Add a moment").click()
    expect(form.get_by_label("When The flood is")).to_be_visible()
    until(lambda: times(empty)["Night"] == "03T18:00 04T01:30")
    parts = frame(empty)["job"]["parts"]
    assert (parts[1]["conditions"]["temperature_c"], parts[1]["moments"][0]["label"]) == (-4, "The flood")
    page.get_by_role("heading", name="Days").click()
    page.keyboard.press("u")
    expect(form.get_by_label("When The flood is")).to_be_hidden()
    page.keyboard.press("Shift+U")
    expect(form.get_by_label("When The flood is")).to_be_visible()


def test_own_gear_a_camera_and_a_verdict_that_the_command_line_repeats(
    page: Page, empty: LiveServer, tmp_path: Path
) -> None:
    make_job(page, empty)
    page.get_by_role("heading", name="Days").click()
    page.keyboard.press("g")
    page.keyboard.press("2")
    expect(page.get_by_label("Words")).to_be_visible()
    page.get_by_role("heading", name="The shelf").wait_for(state="attached")
    for name, kind, label in (("box camera", "body", "BOX-1"), ("small light", "light", "LAMP-1")):
        page.get_by_role("button", name="Add gear").click()
        page.get_by_role("button", name="Every field by hand").click()
        editor = page.get_by_role("region", name="Model and its ports")
        editor.get_by_label("Id").first.fill(name.replace(" ", "-"))
        editor.get_by_label("Kind").fill(kind)
        editor.get_by_label("Maker").fill("Own")
        editor.get_by_label("Name").fill(name)
        editor.get_by_label("Mass g").fill("640")
        editor.get_by_role("button", name="Add a port").click()
        editor.get_by_label("Interface").select_option("thread-1/4-20")
        editor.get_by_label("Half").select_option("male" if kind == "light" else "female")
        editor.get_by_label("Faces").select_option("down" if kind == "light" else "up")
        editor.get_by_role("button", name="Add to the catalogue").click()
        more = page.get_by_role("form", name="Add units")
        expect(more).to_contain_text(f"Add units of Own {name}")
        more.get_by_label("Label of the first").fill(label)
        more.get_by_role("button", name="Add to stock").click()
        expect(page.get_by_role("heading", name=label)).to_be_visible()
    page.keyboard.press("g")
    page.keyboard.press("1")
    page.get_by_label("Position or name").fill("Quay")
    page.get_by_role("button", name="Add the camera").click()
    expect(page.get_by_label("Quay in Day 1")).to_have_value("quay-full")
    page.get_by_role("button", name="Bench").last.click()
    expect(page.get_by_role("heading", name="Quay full")).to_be_visible()
    expect(page.locator(".callouts")).to_contain_text("no recorded areas")
    page.get_by_role("button", name="socket of 1/4-20 thread, free").click()
    page.get_by_role("region", name="What goes on").get_by_role("button", name="LAMP-1").click()
    expect(page.locator('[data-unit="LAMP-1"]')).to_be_visible()
    seen = get(empty, "/jobs/night-boats/parts/day-1/rigs/quay")
    saved = tmp_path / "job.json"
    saved.write_text(json.dumps(get(empty, "/jobs/night-boats/file")))
    told = subprocess.run(
        [sys.executable, "-m", "lift_crate.cli", "check", "--json", str(saved)],
        cwd=ROOT,
        capture_output=True,
        text=True,
        check=False,
    )
    (rig,) = json.loads(told.stdout)["rigs"]
    assert sorted(c["text"] for c in rig["call_outs"]) == sorted(
        f["text"] for f in seen["findings"] if f["level"] != "clear"
    )


def test_builds_are_planned_copied_and_refused_with_who_has_the_gear(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}/dry-dock-opera/job/dress/quay")
    page.get_by_role("button", name="Copy").first.click()
    page.get_by_label("New build").fill("light")
    page.get_by_label("What it starts from").select_option(label="Caisson: full")
    page.get_by_role("button", name="Add it").click()
    expect(page.get_by_label("Quay in Dress rehearsal").locator("option")).to_contain_text(["not there", "light"])
    page.get_by_label("Quay in Dress rehearsal").select_option(label="light")
    expect(page.get_by_role("alert")).to_contain_text("(Caisson)")
    expect(page.get_by_label("Quay in Dress rehearsal")).to_have_value("quay-full")
    page.get_by_label("Caisson in Dress rehearsal").select_option(label="not there")
    page.get_by_label("Quay in Dress rehearsal").select_option(label="light")
    expect(page.get_by_role("alert")).to_be_hidden()
    expect(page.locator(".strips")).to_contain_text("light")
    until(lambda: bool(get(live, "/jobs/dry-dock-opera/parts/dress")["strips"][0]["build_label"] == "light"))


def test_a_job_is_removed_and_brought_back_and_two_people_do_not_overwrite_each_other(
    page: Page, live: LiveServer
) -> None:
    page.goto(f"{live.address}/dry-dock-opera/job/dress/quay")
    page.get_by_label("Title").fill("Mine")
    other = page.context.new_page()
    other.goto(f"{live.address}/dry-dock-opera/job/dress/quay")
    other.get_by_label("Title").fill("Theirs")
    other.get_by_label("Title").press("Tab")
    expect(other.get_by_role("button", name="Undo")).to_be_enabled()
    page.get_by_label("Title").press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("title Theirs by bench")
    page.get_by_role("button", name="Dismiss").click()
    expect(page.get_by_label("Title")).to_have_value("Theirs")
    page.get_by_role("button", name="All jobs").click()
    page.get_by_role("button", name="Remove", exact=True).click()
    page.get_by_role("button", name="Remove it").click()
    expect(page.get_by_text("No job here yet")).to_be_visible()
    page.get_by_role("button", name="Bring back").click()
    page.get_by_role("button", name="Theirs").click()
    expect(page.locator(".strips")).to_contain_text("Quay")


def typed(page: Page, label: str, value: str) -> None:
    field = page.get_by_label(label, exact=True)
    field.fill(value)
    field.press("Tab")


def test_what_a_camera_must_see_charging_and_settings_are_entered(page: Page, live: LiveServer) -> None:
    before = frame(live, "dry-dock-opera")["job"]
    page.goto(f"{live.address}/dry-dock-opera/job/dress/quay")
    page.get_by_role("button", name="Sees").first.click()
    wants = page.get_by_role("form", name="What Quay must see")
    for label, value in (("Distance to subject, m", "31.5"), ("Nearest mains, m", ""), ("Light there, EV", "6")):
        wants.get_by_label(label).fill(value)
        wants.get_by_label(label).press("Tab")
    wants.get_by_text("level work").click()
    expect(wants.get_by_label("level work")).to_be_checked()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()

    def target() -> dict[str, Any]:
        rigs = frame(live, "dry-dock-opera")["job"]["rigs"]
        found: dict[str, Any] = next(r for r in rigs if r["id"] == "quay")["target"]
        return found

    until(lambda: target()["moves"] == ["level work"])
    assert (target()["distance_mm"], target()["mains_m"], target()["light_ev"]) == (31500, None, 6)
    typed(page, "Walk to Quay, min", "7")
    typed(page, "A swap takes, min", "3.5")
    page.get_by_label("Their names").fill("Loader, Runner, Third")
    page.get_by_label("Their names").press("Tab")
    expect(page.get_by_label("People who swap")).to_have_value("3")
    page.get_by_role("button", name="Remove CHARGE-3").click()
    expect(page.get_by_role("button", name="Remove CHARGE-3")).to_be_hidden()
    page.locator(".settings summary").click()
    page.get_by_label("Find a setting").fill("pack counts as empty")
    reserve = "Charge left when a pack counts as empty, share"
    typed(page, reserve, "0.25")
    expect(page.get_by_text("default 0.1")).to_be_visible()
    until(lambda: bool(frame(live, "dry-dock-opera")["job"]["settings"]["reserve"] == 0.25))
    after = frame(live, "dry-dock-opera")["job"]
    plan = after["charging"]
    assert (plan["walk_min"]["quay"], plan["swap_min"], plan["hands"]) == (7, 3.5, 3)
    assert [c["unit"] for c in plan["chargers"]] == ["CHARGE-1"]
    assert after["settings"] == {**before["settings"], "reserve": 0.25}
    typed(page, reserve, "7")
    expect(page.get_by_role("alert")).to_contain_text("reserve")
    expect(page.get_by_label(reserve, exact=True)).to_have_value("0.25")


def test_the_plan_is_filled_by_pointer_keys_and_numbers_and_tells_what_hides_what(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}/dry-dock-opera/job/dress/quay")
    page.get_by_role("button", name="Plan of the venue").click()
    camera = page.get_by_role("button", name="Camera 1 Quay")
    camera.focus()
    side = page.get_by_label("What is chosen")
    expect(side).to_contain_text("In its frame: Dock floor")
    for _ in range(3):
        page.keyboard.press("Shift+ArrowDown")
    until(lambda: place(live)["y_m"] == -3)
    page.keyboard.press("ArrowRight")
    until(lambda: place(live)["x_m"] == 0.1)
    page.get_by_role("button", name="+ obstacle").click()
    form = page.locator(".plan-fields")
    for label, value in (("Called", "Wall"), ("East", "20"), ("North", "-1.5"), ("Height", "9"), ("Depth", "8")):
        form.get_by_label(label, exact=False).first.fill(value)
        form.get_by_label(label, exact=False).first.press("Tab")
    wall = page.get_by_role("button", name="Wall, 20.0 east, \u22121.5 north")
    expect(wall).to_be_visible()
    camera.focus()
    expect(side).to_contain_text("Stage is hidden by Wall")
    box = wall.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2 + 160, steps=8)
    page.mouse.up()
    camera.focus()
    expect(side).not_to_contain_text("hidden by")
    moved = next(t for t in frame(live, "dry-dock-opera")["job"]["venue"]["things"] if t["label"] == "Wall")
    assert moved["y_m"] < -8
    side.get_by_label("Cannon").check()
    expect(side).to_contain_text("Cannon: ")
    side.get_by_role("button", name="Use the plan").click()
    expect(side).not_to_contain_text("was typed")
    sees = get(live, "/jobs/dry-dock-opera/venue?part=dress")["cameras"][0]["sight"]
    assert get(live, "/jobs/dry-dock-opera/parts/dress/rigs/quay")["sees"]
    assert sees["across_deg"] > 9
    page.get_by_role("heading", name="Plan").click()
    page.keyboard.press("u")
    expect(side).to_contain_text("was typed")


def place(live: LiveServer) -> dict[str, Any]:
    rigs = frame(live, "dry-dock-opera")["job"]["rigs"]
    found: dict[str, Any] = next(r for r in rigs if r["id"] == "quay")["place"]
    return found


def test_a_build_becomes_a_recipe_and_a_recipe_a_build_of_what_is_free(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}/dry-dock-opera/job/dress/quay")
    page.get_by_role("button", name="Keep full of Quay as a recipe").click()
    recipe = page.get_by_label("Name of recipe Quay full")
    recipe.fill("Long lens on sticks")
    recipe.press("Tab")
    until(lambda: bool(get(live, "/recipes")["recipes"][0]["label"] == "Long lens on sticks"))
    page.get_by_role("button", name="New build").first.click()
    page.get_by_label("New build").fill("again")
    page.get_by_label("What it starts from").select_option(label="Long lens on sticks, 19 parts")
    expect(page.get_by_text("nothing is missing")).to_be_visible()
    page.get_by_label("plan it in Dress rehearsal").check()
    page.get_by_role("button", name="Add it").click()
    expect(page.locator(".strips")).to_contain_text("again")
    with page.expect_download() as saved:
        page.get_by_role("link", name="Save file").click()
    page.get_by_label("Read recipes from a file").set_input_files(saved.value.path())
    expect(page.get_by_label("Name of recipe Long lens on sticks")).to_have_count(2)
    page.locator(".recipes").get_by_role("button", name="Remove").last.click()
    page.locator(".recipes").get_by_role("button", name="Bring back").click()
    expect(page.get_by_label("Name of recipe Long lens on sticks")).to_have_count(2)


def test_a_column_of_the_table_is_copied_exchanged_and_cleared_and_a_build_planned_nowhere_is_worked_on(
    page: Page, live: LiveServer
) -> None:
    def plan(part: str) -> dict[str, str]:
        job = frame(live, "dry-dock-opera")["job"]
        return {a["rig"]: a["build"] for a in job["plan"] if a["part"] == part}

    mark, dress = plan("mark-through"), plan("dress")
    page.goto(f"{live.address}/dry-dock-opera/job/dress/quay")
    menu = page.get_by_role("button", name="Change all builds of Dress rehearsal")
    menu.click()
    page.get_by_role("menuitem", name="Exchange with Mark-through").click()
    until(lambda: (plan("mark-through"), plan("dress")) == (dress, mark))
    menu.click()
    page.get_by_role("menuitem", name="Clear Dress rehearsal").click()
    until(lambda: plan("dress") == {})
    menu.click()
    page.get_by_role("menuitem", name="Copy all builds from Mark-through").click()
    until(lambda: plan("dress") == dress)
    page.get_by_role("button", name="Open first try of Quay").click()
    expect(page.get_by_text("not planned now")).to_be_visible()
    expect(page.get_by_role("heading", name="Quay first try not planned now")).to_be_visible()
    page.locator('.build [data-unit="MIC-1"]').first.click()
    page.get_by_role("button", name="Take off", exact=True).click()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    rows = get(live, "/jobs/dry-dock-opera/parts/dress/rigs/quay~quay-first")["rows"]
    assert not [row for row in rows if row["unit"] == "MIC-1"]


def test_on_a_phone_four_places_and_more_and_the_day_folds_to_a_line(page: Page, live: LiveServer) -> None:
    page.set_viewport_size({"width": 390, "height": 800})
    page.goto(f"{live.address}/dry-dock-opera/bench/dress/quay")
    strap = page.get_by_role("navigation", name="Places")
    expect(strap.get_by_role("button")).to_contain_text(["Job", "Bench", "Balance", "Power", "More"])
    expect(page.get_by_role("button", name="Back to the day and the cameras")).to_be_hidden()
    expect(page.locator(".callouts")).to_contain_text("Hours on this pack")
    page.evaluate("window.scrollTo(0, 700)")
    line = page.get_by_role("button", name="Back to the day and the cameras")
    expect(line).to_contain_text("1 Quay")
    line.click()
    expect(line).to_be_hidden()
    strap.get_by_role("button", name="More").click()
    strap.get_by_role("button", name="Shelf").click()
    expect(page).to_have_url(f"{live.address}/dry-dock-opera/shelf/dress/quay")
