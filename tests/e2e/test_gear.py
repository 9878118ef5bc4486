"""Own gear from nothing: models by pattern, the starter shelf, a build proposed, and the verdict on it."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

from PIL import Image
from playwright.sync_api import Locator, Page, expect

from tests.conftest import ROOT, LiveServer
from tests.e2e.test_job import make_job
from tests.e2e.test_shelf import get


def open_pattern(page: Page, label: str) -> Locator:
    page.get_by_role("button", name="Add gear").click()
    page.locator(".kind-groups").get_by_role("button", name=label, exact=True).click()
    form = page.get_by_role("region", name=f"New gear: {label}")
    expect(form).to_be_visible()
    return form


def fill(form: Locator, **answers: str) -> None:
    for label, value in answers.items():
        form.get_by_label(label.replace("_", " "), exact=False).first.fill(value)


def choose(form: Locator, label: str, choice: str) -> None:
    form.get_by_label(label).first.select_option(label=choice)


def added(page: Page, form: Locator, label: str) -> None:
    form.get_by_label("Label", exact=True).fill(label)
    form.get_by_role("button", name="Add to the shelf").click()
    expect(page.get_by_role("heading", name=label)).to_be_visible()


def enter_own_gear(page: Page) -> None:
    """A body with a mount of its own, a zoom on it, three packs that are doubted first."""
    body = open_pattern(page, "Camera body")
    expect(body.locator(".stop")).to_have_count(0)  # nothing was touched yet
    body.get_by_label("Name", exact=True).fill("Night body")
    choose(body, "Lens mount", "another one…")
    body.locator(".fresh").get_by_label("Name").fill("Own mount")
    body.locator(".fresh").get_by_label("flange").fill("18.5")
    body.locator(".fresh").get_by_label("throat").fill("50")
    fill(body, Mass="780", Width="134", Depth="82")
    body.get_by_role("button", name="Add to Power inputs").click()
    inputs = body.get_by_role("group", name="Power inputs")
    choose(inputs, "Socket", "wedge battery plate")
    fill(inputs, From="11", To="17", At_most="8")
    choose(inputs, "Face", "rear")
    expect(page.get_by_label("What it makes").locator("svg").first).to_be_visible()
    added(page, body, "BODY-A")

    lens = open_pattern(page, "Lens")
    lens.get_by_label("Name", exact=True).fill("Night zoom")
    choose(lens, "Lens mount", "Own mount")
    fill(lens, Focal_length="31", to_="93", Widest="3.1", Mass="820")
    added(page, lens, "ZOOM-A")

    pack = open_pattern(page, "Battery pack")
    pack.get_by_label("Name", exact=True).fill("Night pack")
    choose(pack, "Battery plate or slot", "wedge battery plate")
    fill(pack, Energy="98", At_most="12", Mass="99000")
    pack.get_by_label("Label", exact=True).fill("PACK-")
    pack.get_by_label("How many").fill("3")
    pack.get_by_role("button", name="Add to the shelf").click()
    expect(pack.get_by_role("alert")).to_contain_text("usual is 20 to 6000 g")
    fill(pack, Mass="640")
    pack.get_by_role("button", name="Add to the shelf").click()
    expect(page.get_by_role("heading", name="PACK-1")).to_be_visible()


def tick_starter(page: Page) -> None:
    """What carries it, from the starter shelf."""
    page.get_by_role("button", name="Add gear").click()
    page.get_by_role("button", name="Starter shelf").click()
    for name in (
        "base plate with 15 mm rod clamps",
        "dovetail clamp on a 50 mm plate",
        "fluid head 75 mm 8 kg",
        "sticks 75 mm",
    ):
        page.locator(".starter-groups").get_by_role("button", name=name, exact=True).click()
    page.get_by_role("button", name="Add 4 units").click()
    expect(page.get_by_role("heading", name="BASE-15-1")).to_be_visible()


def test_own_gear_by_pattern_and_a_build_proposed_of_it(page: Page, empty: LiveServer, tmp_path: Path) -> None:
    make_job(page, empty)
    page.get_by_role("heading", name="Days").click()
    page.keyboard.press("g")
    page.keyboard.press("2")
    expect(page.get_by_label("Words")).to_be_visible()
    enter_own_gear(page)
    tick_starter(page)
    assert get(empty, "/shelf")["total"] == 9

    page.keyboard.press("g")
    page.keyboard.press("1")
    page.get_by_label("Position or name").fill("Quay")
    page.get_by_role("button", name="Add the camera").click()
    expect(page.get_by_label("Quay in Day 1")).to_have_value("quay-full")
    page.get_by_role("button", name="Bench").last.click()
    expect(page.get_by_role("heading", name="Quay full")).to_be_visible()
    page.keyboard.press("o")
    wants = page.get_by_role("region", name="Propose a build")
    wants.get_by_text("monitor", exact=True).click()
    wants.get_by_role("button", name="Search", exact=True).click()
    first = wants.get_by_role("button", name="Build 1 with ZOOM-A")
    expect(first).to_be_visible()
    expect(first).to_contain_text("HEAD-8-1")
    expect(page.get_by_text("not saved: trying it out")).to_be_visible()
    first.click()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    expect(page.locator('[data-unit="HEAD-8-1"]')).to_be_visible()
    seen = get(empty, "/jobs/night-boats/parts/day-1/rigs/quay")
    assert {r["unit"] for r in seen["rows"]} >= {"BODY-A", "ZOOM-A", "HEAD-8-1", "STICKS-75-1"}
    assert "gear.unconfirmed" in {f["code"] for f in seen["findings"]}
    assert verdict_of(empty, tmp_path) == sorted(f["text"] for f in seen["findings"] if f["level"] != "clear")
    page.keyboard.press("u")
    expect(page.locator('[data-unit="HEAD-8-1"]')).to_be_hidden()


def verdict_of(server: LiveServer, folder: Path) -> list[str]:
    """What the command line says of the saved file."""
    saved = folder / "job.json"
    saved.write_text(json.dumps(get(server, "/jobs/night-boats/file")))
    command = [sys.executable, "-m", "lift_crate.cli", "check", "--json", str(saved)]
    told = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
    rigs: list[dict[str, Any]] = json.loads(told.stdout)["rigs"]
    return sorted(c["text"] for rig in rigs for c in rig["call_outs"])


def test_many_models_of_a_kind_come_from_a_csv_after_they_were_shown(
    page: Page, empty: LiveServer, tmp_path: Path
) -> None:
    make_job(page, empty)
    page.get_by_role("heading", name="Days").click()
    page.keyboard.press("g")
    page.keyboard.press("2")
    form = open_pattern(page, "Lens")
    form.get_by_text("Many of these at once").click()
    table = tmp_path / "lenses.csv"
    table.write_text("name,mount,from_mm,stop,label,count\nA,pl,31,1.6,A-,2\nB,pl,wide,2,B-1,1\n")
    form.locator("input[type=file]").set_input_files(table)
    expect(form).to_contain_text("Line 3, from_mm: is 'wide'; enter a number in mm")
    table.write_text("name,mount,from_mm,stop,label,count\nA,pl,31,1.6,A-,2\nB,pl,62,2,B-1,1\n")
    form.locator("input[type=file]").set_input_files(table)
    form.get_by_role("button", name="Add 2 models and 3 units").click()
    expect(page.locator(".count")).to_contain_text("3 units")


def test_a_port_and_a_solid_are_set_by_pointing_on_a_photo_of_the_thing(
    page: Page, live: LiveServer, tmp_path: Path
) -> None:
    page.goto(f"{live.address}/dry-dock-opera/shelf/dress/quay?unit=CW-1")
    page.get_by_role("button", name="Model and ports").click()
    editor = page.get_by_role("region", name="Model and its ports")
    editor.get_by_role("button", name="Point on it").click()
    pad = page.get_by_role("region", name="Point on it")
    solids = pad.locator("rect.solid")
    before = solids.count()
    sheet = tmp_path / "side.png"
    Image.new("RGB", (400, 400), "gray").save(sheet)
    pad.get_by_label("Photo from there").set_input_files(sheet)
    expect(pad.get_by_role("status")).to_contain_text("Press point 1 of 2")
    sheet_on = pad.locator("svg")

    def press(across: float, down: float) -> None:
        box = sheet_on.bounding_box()
        assert box
        sheet_on.click(position={"x": box["width"] * across, "y": box["height"] * down})

    press(0.4, 0.5)
    press(0.6, 0.5)
    wide = float(pad.locator("image").get_attribute("width") or 0)
    pad.get_by_label("mm apart").fill("20")
    pad.get_by_role("button", name="Scale the photo").click()
    expect(pad.get_by_role("status")).to_contain_text("Press the reference on the photo")
    assert float(pad.locator("image").get_attribute("width") or 0) != wide
    press(0.5, 0.5)
    pad.get_by_label("What pressing does").select_option(label="add a solid by two corners")
    press(0.3, 0.3)
    press(0.5, 0.7)
    expect(solids).to_have_count(before + 1)
    pad.get_by_label("What pressing does").select_option(label="place the chosen port")
    solids.last.click(position={"x": 10, "y": 1})
    expect(editor.locator(".port-form").get_by_label("Faces")).to_have_value("up")
