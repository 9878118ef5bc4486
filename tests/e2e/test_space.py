"""The rig in space by keyboard, pointer and without a graphics card; and the lenses of the whole package."""

from __future__ import annotations

import io
import re
from collections.abc import Callable

from PIL import Image
from playwright.sync_api import Page, expect

from tests.conftest import LiveServer
from tests.e2e.test_shelf import JOB, get
from tests.kit import until

DOCK = f"{JOB}/bench/dress/dock-floor"


def painted(page: Page) -> int:
    """How many different colours the sheet shows."""
    shot = Image.open(io.BytesIO(page.locator(".space-sheet").screenshot())).convert("RGB")
    return len(shot.getcolors(maxcolors=1 << 20) or ())


def test_the_rig_in_space_by_keyboard_alone(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{DOCK}")
    expect(page.get_by_role("heading", name="Dock floor gimbal")).to_be_visible()
    page.keyboard.press("s")
    sheet = page.get_by_role("application", name=re.compile("The rig in space"))
    expect(sheet).to_be_visible()
    expect(page.locator("figure.elevation")).to_have_count(0)
    sheet.focus()
    for key in ("ArrowLeft", "ArrowUp", "ArrowRight", "ArrowDown", "+"):
        page.keyboard.press(key)
    axes = {a["axis"]: a for a in get(live, f"/jobs{JOB}/parts/dress/rigs/dock-floor/space")["space"]["axes"]}
    tilt = page.get_by_label("tilt, degrees", exact=True)
    tilt.fill(f"{axes['tilt']['high_deg'] - 2:.0f}")
    tilt.press("Tab")
    expect(page.locator(".space-hit")).to_have_count(0)
    tilt.fill(f"{axes['tilt']['high_deg'] + 4:.0f}")
    tilt.press("Tab")
    expect(page.locator(".space-hit")).to_contain_text(" meets ".join(axes["tilt"]["high_hits"]))
    page.get_by_role("button", name="Level").press("Enter")
    expect(page.locator(".space-hit")).to_have_count(0)
    order = page.get_by_label("Up to this step of the build order")
    order.focus()
    page.keyboard.press("Home")
    expect(page.locator(".space-acts b").first).to_contain_text("C6-3")
    page.keyboard.press("End")
    expect(page.locator(".space-acts b").first).to_have_text("whole")
    page.get_by_label("Drawn apart").focus()
    page.keyboard.press("End")
    page.reload()
    expect(sheet).to_be_visible()
    page.locator("h1").click()
    page.keyboard.press("s")
    expect(page.locator("figure.elevation")).to_have_count(3)


def find(page: Page, unit: str) -> tuple[float, float]:
    """Where on the canvas a click picks a unit."""
    canvas, chosen = page.locator(".space-sheet canvas"), page.locator("li.chosen [data-unit]").first
    box = canvas.bounding_box()
    assert box
    for row in (0.5, 0.6, 0.4, 0.7, 0.3, 0.8, 0.2, 0.15, 0.1):
        for column in (0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.45, 0.55, 0.35, 0.65):
            at = box["x"] + box["width"] * column, box["y"] + box["height"] * row
            page.mouse.click(*at)
            if chosen.get_attribute("data-unit") == unit:
                return at
    raise AssertionError(f"{unit} is nowhere on the canvas")


def test_a_part_picked_in_space_is_picked_everywhere_and_slides_along_its_rail(page: Page, live: LiveServer) -> None:
    bench = f"/jobs{JOB}/parts/dress/rigs/quay"
    page.goto(f"{live.address}{JOB}/bench/dress/quay")
    page.get_by_role("button", name="In space").click()
    page.wait_for_function("() => document.querySelector('.space-sheet canvas')?.width > 300")
    page.get_by_role("button", name="side", exact=True).click()
    expect(page.get_by_label("Drawn apart")).to_be_visible()
    assert painted(page) > 20
    find(page, "ZOOM-2")
    at = find(page, "HEAD-1")

    def slid() -> float:
        return float(next(r["slide_mm"] for r in get(live, bench)["rows"] if r["unit"] == "HEAD-1"))

    before, version = slid(), get(live, bench)["version"]
    page.mouse.move(*at)
    page.mouse.down()
    page.mouse.move(at[0] + 12, at[1], steps=4)
    page.mouse.up()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    until(lambda: get(live, bench)["version"] > version)
    assert slid() != before
    page.keyboard.press("u")
    until(lambda: slid() == before)


def test_how_a_rig_is_held_is_chosen_among_its_hold_times(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/balance/dress/dock-floor")
    ways = page.get_by_role("radiogroup", name="How it is held")
    expect(ways.get_by_role("radio", name=re.compile("^twin grips"))).to_be_checked()
    expect(page.get_by_text("held about 3.1 min")).to_be_visible()
    ways.get_by_role("radio", name=re.compile("^ring, underslung")).press("Enter")
    expect(ways.get_by_role("radio", name=re.compile("^ring, underslung"))).to_be_checked()
    expect(page.get_by_text("Longest hold by hand")).to_have_count(0)
    page.keyboard.press("Escape")
    page.keyboard.press("u")
    expect(page.get_by_text("held about 3.1 min")).to_be_visible()


def test_every_lens_of_the_package_and_what_a_mount_plate_opens(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/lenses/dress/quay")
    plates = page.get_by_label("Mount plates")
    expect(plates).to_contain_text("opens Selvage 50 mm T2.0 cine prime, Selvage 85-300 mm T3.1 cine zoom")
    one = page.locator(".lens-row").count()
    page.get_by_role("button", name="Whole package").click()
    expect(page.get_by_role("heading", name="every body of the package")).to_be_visible()
    expect(page.locator(".lens-row")).to_have_count(2 * one)
    expect(page.locator(".lens-row", has_text="100-400").first).to_contain_text("f/4.5 to 5.7")
    expect(page.locator(".lens-row", has_text="stops in hand").first).to_be_visible()
    prime = page.locator(".fronts tr", has_text="135 mm f/2 prime")
    expect(prime).to_contain_text("STEP-1 +4 mm, 14 g")
    expect(page.locator(".package .line", has_text="Stage rail").last).to_contain_text("saves")
    expect(page.locator(".package")).to_contain_text("4 plate swaps")


def test_without_a_graphics_card_the_elevations_say_the_same(page: Page, live: LiveServer) -> None:
    page.add_init_script("HTMLCanvasElement.prototype.getContext = () => null")
    page.goto(f"{live.address}{JOB}/bench/dress/quay")
    page.get_by_role("button", name="In space").click()
    expect(page.get_by_text("This browser cannot draw in space.")).to_be_visible()
    page.get_by_role("button", name="In space").click()
    expect(page.locator("figure.elevation")).to_have_count(3)


def test_what_a_part_costs_and_gives_today_and_it_is_left_off(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/bench/mark-through/caisson")
    expect(page.get_by_role("heading", name="Caisson")).to_be_visible()
    page.keyboard.press("i")
    told = get(live, f"/jobs{JOB}/parts/mark-through/rigs/caisson/accessories")["accessories"]
    lines = page.locator(".leave")
    expect(lines).to_have_count(len(told))
    nd = next(a for a in told if a["unit"] == "ND-1")
    assert (nd["worth"], nd["gives"]) == (True, "takes light that is too much")
    expect(lines.filter(has_text="ND-1 ").first).to_contain_text("helps today")
    handle = lines.filter(has_text="HANDLE-2").first
    expect(handle).to_contain_text("285 g")
    handle.press("Enter")
    expect(page.locator('[data-unit="HANDLE-2"]')).to_have_count(0)
    expect(lines.filter(has_text="HANDLE-2")).to_have_count(0)
    page.keyboard.press("Escape")
    page.keyboard.press("u")
    expect(page.locator('[data-unit="HANDLE-2"]')).to_be_visible()


def test_supports_are_compared_and_one_is_taken(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/balance/dress/stage-rail")
    page.get_by_role("button", name="Try every support").press("Enter")
    lines = page.locator(".support-line")
    expect(lines.first).to_contain_text("as it is")
    expect(lines.first).to_contain_text("PAD-1")
    page.get_by_role("button", name=re.compile("^Carry it so: by hand · two hands, close")).press("Enter")
    expect(page.get_by_role("heading", name="Stage rail")).to_contain_text("on the hand")
    expect(lines.first).to_contain_text("by hand · two hands, close to the body")
    page.keyboard.press("Escape")
    page.keyboard.press("u")
    expect(page.locator('[data-unit="PAD-1"]')).to_be_visible()


def test_a_preset_is_kept_and_says_what_the_jump_to_it_costs(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}{JOB}/bench/dress/caisson")
    keep = page.get_by_label("Keep these settings as preset")
    keep.fill("usual")
    keep.press("Enter")
    expect(page.locator(".preset.now")).to_contain_text("usual")
    rate = page.get_by_label("Frames a second")
    rate.fill("100")
    rate.press("Tab")
    expect(page.locator(".preset").first).to_contain_text("2.0 stops brighter")
    expect(page.locator(".preset").first).to_contain_text("motion blurs 4.00 × as far")
    keep.fill("slow motion")
    keep.press("Enter")
    expect(page.locator(".preset")).to_have_count(2)
    page.get_by_role("button", name="Set it to usual").click()
    expect(rate).to_have_value("25")
    page.reload()
    expect(page.locator(".preset")).to_have_count(2)
    page.get_by_role("button", name="Forget preset slow motion").click()
    expect(page.locator(".preset")).to_have_count(1)


def test_an_arm_is_bent_by_keys_and_by_pointer_and_what_it_carries_goes_along(page: Page, live: LiveServer) -> None:
    bench = f"/jobs{JOB}/parts/dress/rigs/caisson"

    def front_nm() -> float:
        return float(get(live, bench)["figures"]["front_nm"])

    def bent() -> list[float]:
        return [h["deg"] for r in get(live, bench)["rows"] if r["unit"] == "ARM-1" for h in r["hinges"]]

    def becomes(want: Callable[[list[float]], bool]) -> None:
        until(lambda: want(bent()))

    page.goto(f"{live.address}{JOB}/bench/dress/caisson")
    page.locator('[data-unit="ARM-1"]').click()
    field = page.get_by_label("base ball of ARM-1, degrees")
    before = front_nm()
    field.fill("40")
    field.press("Enter")
    becomes(lambda deg: deg == [40, 0])
    assert front_nm() > before, "the screen leans forward over the camera"
    page.get_by_role("button", name="Bend the tip ball 15° back").click()
    becomes(lambda deg: deg == [40, -15])
    page.locator("h1").click()
    page.keyboard.press("s")
    slider = page.get_by_label("Bend ARM-1, tip ball, degrees")
    slider.focus()
    page.keyboard.press("ArrowLeft")
    becomes(lambda deg: deg == [40, -16])
    at = find(page, "MON5-1")
    page.mouse.move(*at)
    page.mouse.down()
    page.mouse.move(at[0], at[1] + 30, steps=6)
    page.mouse.up()
    becomes(lambda deg: deg[0] == 40 and deg[1] != -16)
    page.locator("h1").click()
    for _ in range(4):
        with page.expect_response(re.compile("/undo$")):
            page.keyboard.press("u")
    becomes(lambda deg: deg == [0, 0])
    page.keyboard.press("s")
