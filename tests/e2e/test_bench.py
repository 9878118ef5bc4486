"""The Bench in a real browser: found by role and label, checked through the API."""

from __future__ import annotations

import json
import re
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Any

import psycopg
import pytest
from playwright.sync_api import Browser, Locator, Page, Route, expect
from psycopg import conninfo, sql

from tests.conftest import LiveServer

JOB = "/dry-dock-opera/bench"


def api(live: LiveServer, part: str, rig: str) -> Any:
    with urllib.request.urlopen(f"{live.address}/api/jobs/dry-dock-opera/parts/{part}/rigs/{rig}") as answer:  # noqa: S310 - our own loopback address
        return json.load(answer)


def verdict(page: Page) -> Locator:
    return page.get_by_role("region", name="Call-outs").locator("h2")


def row(page: Page, unit: str) -> Locator:
    return page.locator(f'[data-unit="{unit}"]')


def open_bench(page: Page, live: LiveServer, part: str, rig: str) -> None:
    page.goto(f"{live.address}{JOB}/{part}/{rig}")
    expect(page.get_by_role("img", name="Side, operator’s left elevation to scale")).to_be_visible()


def walk_to(page: Page, text: str, key: str = "ArrowDown") -> None:
    """Arrow keys until the focus is on something that is called or reads like this."""
    for _ in range(60):
        here = page.evaluate(
            "document.activeElement.getAttribute('aria-label') || document.activeElement.innerText || ''"
        )
        if here.startswith(text):
            return
        page.keyboard.press(key)
    pytest.fail(f"the arrow keys never reached '{text}'; the focus is on '{here}'")


def put_on(page: Page, port: str, unit: str) -> None:
    """By keyboard: walk to a port of the selected part, open it, walk to a unit, take it."""
    walk_to(page, port)
    page.keyboard.press("Enter")
    picker = page.get_by_role("region", name="What goes on")
    expect(picker.locator(".candidate").first).to_be_focused()
    walk_to(page, unit)
    page.keyboard.press("Enter")
    expect(picker).to_be_hidden()
    expect(row(page, unit)).to_be_focused()


def test_keys_pressed_before_the_job_has_come_count_when_it_has(page: Page, live: LiveServer) -> None:
    held: list[Route] = []
    page.route(re.compile(r"/api/jobs/dry-dock-opera$"), lambda route: held.append(route))  # noqa: PLW0108 - a method of a list is no function that can be taken apart
    page.goto(f"{live.address}{JOB}/mark-through/caisson")
    expect(page.get_by_role("heading", name="Caisson")).to_be_visible()
    for key in "]]]]1":
        page.keyboard.press(key)
    page.evaluate("new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)))")
    assert page.url.endswith("/mark-through/caisson"), "nobody knows the parts of the day yet"
    for route in held:
        route.continue_()
    expect(page.get_by_role("heading", name="Quay full")).to_be_visible()
    assert page.url.endswith("/act-3/quay")


def test_what_is_refused_in_a_field_goes_back_to_what_holds(page: Page, live: LiveServer) -> None:
    open_bench(page, live, "dress", "quay")
    row(page, "C6-1").click()
    iso = page.get_by_label("ISO")
    expect(iso).to_have_value("800")
    iso.fill("1")
    iso.press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("25")
    expect(iso).to_have_value("800")
    iso.fill("1600")
    iso.press("Enter")
    expect(page.get_by_role("alert")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(iso).to_have_value("800")
    assert next(r for r in api(live, "dress", "quay")["rows"] if r["unit"] == "C6-1")["exposure"]["iso"] == 800
    carried = page.get_by_label("How the rig is carried")
    page.route(re.compile(r"/edits$"), lambda route: route.abort())
    carried.select_option("vehicle")
    expect(page.get_by_role("alert")).to_be_visible()
    expect(carried).to_have_value("")


def test_a_rig_from_the_bare_body_to_a_clear_verdict_by_keyboard_alone(page: Page, live: LiveServer) -> None:
    page.goto(live.address)
    page.get_by_role("button", name="Dry-dock opera").press("Enter")
    expect(page.locator(".verdict")).to_be_visible()
    for key in "[[[[1":
        page.keyboard.press(key)
    expect(verdict(page)).to_contain_text("10 Stops")
    for key in "]]]]1":
        page.keyboard.press(key)
    expect(page.get_by_role("heading", name="Quay full")).to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type("strip to the bare")
    page.keyboard.press("Enter")
    expect(verdict(page)).to_contain_text("2 Stops")
    page.keyboard.press("b")
    put_on(page, "mount seat", "MP-1")
    put_on(page, "lens mount", "ZOOM-1")
    walk_to(page, "C6-1", "ArrowUp")
    put_on(page, "bottom screw", "BASE-1")
    put_on(page, "dovetail", "HP-1")
    put_on(page, "slide-in plate", "HEAD-1")
    walk_to(page, "C6-1", "ArrowUp")
    put_on(page, "rear plate", "SWAP-1")
    put_on(page, "pack plate", "PACK-04")
    expect(verdict(page)).to_contain_text("1 Watch")
    page.keyboard.press("f")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Set ZOOM-1 to f/5.6")).to_be_visible()
    walk_to(page, "Set ZOOM-1 to f/5.6")
    # The verdict reads the same while the remedy is only looked at.
    with page.expect_response("**/edits"):
        page.keyboard.press("Enter")
    expect(verdict(page)).to_contain_text("Clear")
    saved = api(live, "act-3", "quay")
    assert [row["unit"] for row in saved["rows"]] == [
        "C6-1",
        "MP-1",
        "ZOOM-1",
        "BASE-1",
        "HP-1",
        "HEAD-1",
        "SWAP-1",
        "PACK-04",
    ]
    assert (saved["counts"]["stops"], saved["counts"]["watches"]) == (0, 0)
    expect(page.get_by_role("contentinfo", name="Figures")).to_contain_text(f"{saved['figures']['draw_w']:.1f}")


def test_a_rig_that_breaks_shows_it_at_once_and_a_remedy_mends_it(page: Page, live: LiveServer) -> None:
    open_bench(page, live, "act-3", "quay")
    page.get_by_role("button", name="Take off cable TR-1").click()
    expect(verdict(page)).to_contain_text("1 Stop")
    page.keyboard.press("f")
    page.keyboard.press("Enter")
    remedy = page.get_by_role("button", name="Run TR-1 from SWAP-1, tap 1 to MON7-1, DC in")
    expect(remedy).to_contain_text("solves: Nothing feeds it")
    walk_to(page, "Run TR-1 from SWAP-1, tap 1")
    expect(page.get_by_text("not saved: trying it out")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_text("not saved: trying it out")).to_have_count(0)
    expect(verdict(page)).to_contain_text("Clear")
    assert any(c["cable"] == "TR-1" for c in api(live, "act-3", "quay")["cables"])


def test_everything_can_be_undone_and_done_again(page: Page, live: LiveServer) -> None:
    before = api(live, "dress", "quay")
    open_bench(page, live, "dress", "quay")
    page.keyboard.press("b")
    walk_to(page, "MIC-1")
    page.keyboard.press("x")
    expect(row(page, "MIC-1")).to_have_count(0)
    row(page, "HEAD-1").click()
    for _ in range(3):
        page.keyboard.press(",")
    expect(page.get_by_role("region", name="Build").get_by_role("status")).to_contain_text("+2.0 mm")
    after = api(live, "dress", "quay")
    undo, redo = page.get_by_role("button", name="Undo"), page.get_by_role("button", name="Redo")
    for _ in range(4):
        expect(undo).to_be_enabled()
        undo.click()
    expect(undo).to_be_disabled()
    assert api(live, "dress", "quay")["figures"] == before["figures"]
    for _ in range(4):
        expect(redo).to_be_enabled()
        redo.click()
    expect(redo).to_be_disabled()
    assert api(live, "dress", "quay")["figures"] == after["figures"]


def test_two_cameras_want_one_unit(page: Page, browser: Browser, live: LiveServer) -> None:
    open_bench(page, live, "dress", "quay")
    row(page, "CAGE-1").click()
    page.get_by_role("button", name="left socket, socket of 1/4-20 thread, free").click()
    picker = page.get_by_role("region", name="What goes on CAGE-1")
    page.get_by_role("button", name="Doesn’t fit, and why").click()
    expect(picker.get_by_role("listitem").filter(has_text="ARM-1")).to_contain_text(
        "taken: in Caisson (full) until Sat 23:00"
    )
    expect(picker.get_by_role("button", name="CW-3")).to_be_visible()
    other = browser.new_page()
    open_bench(other, live, "dress", "caisson")
    row(other, "CAGE-2").click()
    other.get_by_role("button", name="left socket, socket of 1/4-20 thread, free").click()
    other.get_by_role("button", name="CW-3").click()
    expect(row(other, "CW-3")).to_be_focused()
    picker.get_by_role("button", name="CW-3").click()
    expect(page.get_by_role("alert")).to_contain_text(
        "CW-3 is in use elsewhere in the same part of the day (Caisson, full, until Sat 23:00)"
    )
    assert "CW-3" not in [row["unit"] for row in api(live, "dress", "quay")["rows"]]
    other.close()


@pytest.mark.parametrize(("choice", "both"), [("Mine again on top", True), ("Dismiss", False)])
def test_the_second_of_two_edits_sees_the_first_and_chooses(
    page: Page, browser: Browser, live: LiveServer, choice: str, both: bool
) -> None:
    other = browser.new_page()
    for each in (page, other):
        open_bench(each, live, "dress", "quay")
    # What hangs on the handle is taken off it while somebody else takes off the handle, and does not hear of it.
    page.route("**/live?*", lambda route: route.abort())
    page.reload()
    expect(row(page, "HANDLE-1")).to_be_visible()
    row(other, "ANGLE-2").click()
    other.get_by_role("button", name="Take off", exact=True).click()
    expect(row(other, "ANGLE-2")).to_have_count(0)
    other.close()
    row(page, "HANDLE-1").click()
    page.get_by_role("button", name="Take off", exact=True).click()
    asked = page.get_by_role("dialog")
    expect(asked.get_by_role("region", name="Theirs, as it stands now")).to_contain_text("Take off ANGLE-2 by bench")
    expect(asked.get_by_role("region", name="Mine on top of it")).to_contain_text("Take off HANDLE-1")
    asked.get_by_role("button", name=choice).click()
    expect(asked).to_have_count(0)
    expect(row(page, "ANGLE-2")).to_have_count(0)
    assert ("HANDLE-1" in [row["unit"] for row in api(live, "dress", "quay")["rows"]]) is not both


def test_the_day_ribbon_shows_one_body_in_two_builds(page: Page, live: LiveServer) -> None:
    open_bench(page, live, "acts-1-2", "stage-rail")
    expect(page.get_by_role("heading", name="Stage rail shoulder")).to_be_visible()
    page.get_by_role("radio", name="Act III").click()
    expect(page.get_by_role("heading", name="Stage rail gimbal")).to_be_visible()
    expect(row(page, "R2-1")).to_be_visible()
    expect(row(page, "GIMBAL-2")).to_be_visible()
    page.go_back()
    expect(page.get_by_role("heading", name="Stage rail shoulder")).to_be_visible()


def test_a_part_is_dragged_along_its_slide(page: Page, live: LiveServer) -> None:
    open_bench(page, live, "dress", "quay")
    before = next(row for row in api(live, "dress", "quay")["rows"] if row["unit"] == "LS-1")
    shape = page.locator("figure.side path.shape").filter(has=page.locator("title", has_text="LS-1")).first
    box = shape.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 - 30, box["y"] + 60, steps=6)
    expect(page.get_by_text("not saved: trying it out")).to_be_visible()
    page.mouse.up()
    expect(page.get_by_text("not saved: trying it out")).to_have_count(0)
    after = next(row for row in api(live, "dress", "quay")["rows"] if row["unit"] == "LS-1")
    assert after["slide_mm"] > before["slide_mm"] + 10


def test_a_job_file_goes_out_and_comes_back_into_an_empty_database(
    page: Page, live: LiveServer, new_database: Callable[[], str], tmp_path: Path
) -> None:
    open_bench(page, live, "act-3", "quay")
    page.get_by_role("button", name="Dry-dock opera").click()
    with page.expect_download() as download:
        page.get_by_role("link", name="Save as job file").click()
    file = tmp_path / "job.json"
    download.value.save_as(file)
    broken = tmp_path / "broken.json"
    document = json.loads(file.read_text())
    document["units"][0]["health"] = 7
    document["job"]["rigs"][0]["builds"][0]["joints"][0]["parent_port"] = "nowhere"
    broken.write_text(json.dumps(document))
    empty = LiveServer(new_database(), tmp_path / "empty.log", demo=False)
    empty.start()
    try:
        page.goto(empty.address)
        expect(page.get_by_text("No job here yet")).to_be_visible()
        page.get_by_label("Read a job file").set_input_files(broken)
        expect(page.get_by_role("alert")).to_contain_text("$.units[0].health")
        page.get_by_label("Read a job file").set_input_files(file)
        expect(page.get_by_role("heading", name="Quay")).to_be_visible()
        for part, rig in (("act-3", "stage-rail"), ("dress", "caisson"), ("acts-1-2", "dock-floor")):
            ours, theirs = api(live, part, rig), api(empty, part, rig)
            assert ours["figures"] == theirs["figures"]
            assert ours["findings"] == theirs["findings"]
    finally:
        empty.stop()


def test_a_server_that_stops_in_the_middle_of_an_edit_loses_nothing(page: Page, live: LiveServer) -> None:
    open_bench(page, live, "dress", "quay")
    row(page, "MIC-1").click()
    live.stop()
    page.keyboard.press("x")
    expect(page.get_by_role("alert")).to_contain_text("The server does not answer")
    expect(row(page, "MIC-1")).to_be_visible()
    live.start()
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(row(page, "MIC-1")).to_have_count(0)
    assert "MIC-1" not in [row["unit"] for row in api(live, "dress", "quay")["rows"]]


def test_a_database_that_goes_away_and_comes_back_while_the_page_is_open(page: Page, live_alone: LiveServer) -> None:
    parts = conninfo.conninfo_to_dict(live_alone.url)
    name = sql.Identifier(str(parts["dbname"]))
    open_bench(page, live_alone, "dress", "quay")
    row(page, "MIC-1").click()
    with psycopg.connect(conninfo.make_conninfo("", **{**parts, "dbname": "postgres"}), autocommit=True) as admin:
        admin.execute(sql.SQL("ALTER DATABASE {} ALLOW_CONNECTIONS false").format(name))
        admin.execute(
            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = %s", (str(parts["dbname"]),)
        )
        page.keyboard.press("x")
        expect(page.get_by_role("alert")).to_contain_text("The database does not answer", timeout=20_000)
        admin.execute(sql.SQL("ALTER DATABASE {} ALLOW_CONNECTIONS true").format(name))
    page.get_by_role("button", name="Try again").click()
    expect(row(page, "MIC-1")).to_have_count(0, timeout=20_000)


def test_figures_open_to_their_working_and_levels_have_words(page: Page, live: LiveServer) -> None:
    open_bench(page, live, "act-3", "caisson")
    page.get_by_role("button", name="Runtime without a swap").click()
    figures = page.get_by_role("contentinfo", name="Figures")
    expect(figures).to_contain_text("I = (V − √(V² − 4RP))/2R")
    expect(figures).to_contain_text("71 % measured")
    expect(page.get_by_role("img", name="Stop").first).to_be_visible()


@pytest.mark.parametrize("appearance", ["day", "night"])
def test_a_phone_in_the_dark_shows_no_white_and_nothing_is_cut(
    browser: Browser, live: LiveServer, appearance: str
) -> None:
    page = browser.new_page(viewport={"width": 390, "height": 844}, has_touch=True)
    page.add_init_script(f"localStorage.setItem('appearance', '{appearance}')")
    page.goto(f"{live.address}{JOB}/act-3/stage-rail", wait_until="commit")
    page.wait_for_selector("#app", state="attached")
    first = page.evaluate("getComputedStyle(document.documentElement).backgroundColor")
    assert (first == "rgb(11, 14, 13)") is (appearance == "night")
    expect(verdict(page)).to_contain_text("1 Stop")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.get_by_role("tab", name="Build", exact=True).tap()
    row(page, "REL-2").tap()
    expect(page.get_by_role("button", name="dovetail, plate of 38 mm dovetail")).to_be_visible()
    page.close()


def test_twelve_parts_from_the_bare_body_in_thirty_key_presses(page: Page, live: LiveServer) -> None:
    bench = api(live, "dress", "quay")
    stripped = page.request.post(
        f"{live.address}/api/jobs/dry-dock-opera/parts/dress/rigs/quay/edits",
        data={"version": bench["version"], "operations": [{"op": "strip"}]},
    )
    assert stripped.ok
    open_bench(page, live, "dress", "quay")
    pressed = 0

    def press(key: str) -> None:
        nonlocal pressed
        pressed += 1
        page.keyboard.press(key)

    press("a")
    words = page.get_by_label("What to add")
    expect(words).to_be_focused()
    for letters in ("l", "c", "b", "r", "p", "h", "a", "m", "s", "gr", "mi", "sd"):
        for letter in letters:
            press(letter)
        press("Enter")
    expect(page.locator(".picker header p")).to_contain_text(re.compile(r"^On: ([^,]+, ){11}[^,]+$"), timeout=30_000)
    assert pressed <= 30
    after = api(live, "dress", "quay")
    # An adapter that one of them needs comes along by itself.
    assert len(after["rows"]) + len(after["cables"]) >= 13
    page.keyboard.press("Escape")
    page.keyboard.press("u")
    expect(page.locator(".callouts")).to_be_visible()


def test_a_part_is_shown_where_it_would_go_before_it_is_taken(page: Page, live: LiveServer) -> None:
    open_bench(page, live, "dress", "quay")
    page.keyboard.press("a")
    page.get_by_label("What to add").fill("counterweight")
    chosen = page.locator(".add-matches li.chosen")
    expect(chosen).to_contain_text("1 of")
    expect(page.get_by_text("not saved: trying it out")).to_be_visible()
    first = chosen.locator(".go b").inner_text(), chosen.locator(".go").inner_text()
    page.keyboard.press("ArrowRight")
    expect(chosen).to_contain_text("2 of")
    assert chosen.locator(".go").inner_text() != first[1]
    page.keyboard.press("Escape")
    expect(page.get_by_text("not saved: trying it out")).to_be_hidden()
    page.keyboard.press("e")
    picker = page.get_by_role("region", name="Exchange C6-1")
    expect(picker.locator(".candidate").first).to_be_visible()
    picker.get_by_label("Exchange for").press("Enter")
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    assert api(live, "dress", "quay")["body"] != "C6-1"


def test_lists_narrow_as_one_types_and_anything_is_found_from_anywhere(page: Page, live: LiveServer) -> None:
    open_bench(page, live, "dress", "quay")
    row(page, "CAGE-1").click()
    page.get_by_role("button", name="left socket, socket of 1/4-20 thread, free").click()
    picker = page.get_by_role("region", name="What goes on CAGE-1, left socket")
    expect(picker.locator(".candidate").nth(1)).to_be_visible()
    page.keyboard.type("grip")
    expect(picker.get_by_label("Filter the list")).to_have_value("grip")
    expect(picker.locator(".candidate")).to_have_count(1)
    page.keyboard.press("Enter")
    expect(row(page, "GRIP-1")).to_be_visible()
    page.keyboard.press("y")
    expect(page.get_by_role("region", name="History of this build")).to_contain_text("Attach GRIP-1")
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    page.get_by_role("searchbox").fill("stop dock")
    page.get_by_role("option", name="Dock floor").first.click()
    expect(page).to_have_url(re.compile("/bench/dress/dock-floor"))
    # While a dialog closes, keys are not those of the screen.
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_role("heading", name="Dock floor gimbal")).to_be_visible()
    page.keyboard.press("/")
    page.get_by_role("searchbox").fill("pack-07")
    page.get_by_role("option", name="PACK-07").first.click()
    expect(page.locator(".unit-panel h2").get_by_text("PACK-07")).to_be_visible()


def test_a_receiver_goes_on_the_operators_belt_and_back_on_the_rig(page: Page, live: LiveServer) -> None:
    open_bench(page, live, "dress", "quay")
    before = api(live, "dress", "quay")["figures"]["total_g"]
    page.keyboard.press("a")
    page.get_by_label("What to add").fill("rx-2")
    place = page.locator(".add-place .go")
    # The last of all the places: they come in steps.
    expect(place).to_contain_text("1 of 10")
    page.keyboard.press("ArrowLeft")
    expect(place).to_contain_text("the operator on the belt")
    page.keyboard.press("Enter")
    expect(page.get_by_text("On: RX-2")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_text("that the arms do not carry")).to_be_visible()
    worn = api(live, "dress", "quay")
    assert worn["figures"]["worn_g"] == 186
    assert worn["figures"]["total_g"] == before
    assert [r["unit"] for r in worn["rows"] if r["worn"]] == ["RX-2"]
    row(page, "RX-2").click()
    page.get_by_role("button", name="Move to…").click()
    page.locator(".candidate", has_text="HANDLE-1").first.click()
    expect(page.get_by_role("region", name="Where RX-2 can go")).to_be_hidden()
    expect(page.get_by_text("that the arms do not carry")).to_be_hidden()
    assert api(live, "dress", "quay")["figures"]["total_g"] == before + 186
