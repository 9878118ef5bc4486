"""Somebody who has read nothing, on an empty database: a job of two days, its plan, own gear, three rigs, verdicts."""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import Page, expect

from tests.conftest import LiveServer
from tests.e2e.test_gear import added, choose, fill, open_pattern, verdict_of
from tests.e2e.test_job import frame, make_job
from tests.e2e.test_shelf import get
from tests.kit import until

CAMERAS = {"Quay": "BODY-A", "Bridge": "BODY-B", "Mast": "BODY-C"}
PLAIN: tuple[tuple[str, str, str, int, dict[str, str]], ...] = (
    ("Cage", "half cage", "CAGE-1", 1, {}),
    (
        "Base, release or head plate",
        "camera plate",
        "PLATE-1",
        3,
        {"Kind": "head plate", "Underneath": "50 mm slide-in plate"},
    ),
    ("Rods, a pair", "short rods", "RODS-1", 1, {}),
    ("Lens support on rods", "lens cradle", "CRADLE-1", 1, {}),
    ("Handle or grip", "top handle", "HANDLE-1", 1, {}),
    ("Arm or tilting mount", "small arm", "ARM-1", 2, {}),
    ("Counterweight", "brass disc", "WEIGHT-1", 2, {}),
    ("Filter", "grey filter", "GREY-1", 1, {"Thread or tray": "#1"}),
    ("Matte box", "light matte box", "MATTE-1", 1, {"Clamps on": "#1"}),
    ("Monitor or recorder", "five inch", "MON-1", 2, {}),
    ("Microphone", "short gun", "GUN-1", 1, {"Socket": "#1"}),
    ("Light", "small panel", "PANEL-1", 1, {}),
    ("Charger", "two bays", "BAYS-1", 1, {"Battery plate or slot": "wedge battery plate", "Into a bay": "60"}),
    ("Cable", "coax", "COAX-1", 2, {"Plug at the source": "#1", "Plug at the other end": "#1", "Length": "0.5"}),
    ("Head", "fluid head", "HEAD-1", 3, {}),
    ("Sticks or monopod", "tall sticks", "STICKS-1", 3, {}),
    ("Shoulder pad", "foam pad", "PAD-1", 1, {}),
    ("Card, drive or reader", "card", "CARD-1", 4, {"Kind of slot, as written on it": "type B"}),
    ("Case or bag", "long case", "CASE-1", 1, {}),
)
"""Kind, name, first label, how many, and what is answered beside the name; #1: the first that is offered."""


def enter(page: Page, kind: str, name: str, label: str, count: int, answers: dict[str, str]) -> None:
    form = open_pattern(page, kind)
    form.get_by_label("Name", exact=True).fill(name)
    for question, said in answers.items():
        field = form.get_by_label(question, exact=False).first
        if field.evaluate("e => e.tagName") == "SELECT":
            field.select_option(**({"index": int(said[1:])} if said.startswith("#") else {"label": said}))
        else:
            field.fill(said)
    if kind == "Cage":
        form.get_by_label("Body it fits").first.select_option(index=1)
    form.get_by_label("How many").fill(str(count))
    added(page, form, label)


def own_gear(page: Page) -> None:
    """25 models by pattern: three bodies on a mount of their own, two lenses on it, packs, and what carries them."""
    for i, unit in enumerate(CAMERAS.values()):
        body = open_pattern(page, "Camera body")
        body.get_by_label("Name", exact=True).fill(f"night body {i + 1}")
        if i == 0:
            choose(body, "Lens mount", "another one…")
            body.locator(".fresh").get_by_label("Name").fill("Own mount")
            body.locator(".fresh").get_by_label("flange").fill("18.5")
            body.locator(".fresh").get_by_label("throat").fill("50")
        else:
            choose(body, "Lens mount", "Own mount")
        fill(body, Mass=str(780 + 40 * i), Width="134", Depth="82")
        body.get_by_role("button", name="Add to Power inputs").click()
        inputs = body.get_by_role("group", name="Power inputs")
        choose(inputs, "Socket", "wedge battery plate")
        fill(inputs, From="11", To="17", At_most="8")
        choose(inputs, "Face", "rear")
        added(page, body, unit)
    for name, label, near, far, count in (("zoom", "ZOOM-1", "31", "93", 2), ("long zoom", "LONG-1", "70", "210", 1)):
        lens = open_pattern(page, "Lens")
        lens.get_by_label("Name", exact=True).fill(name)
        choose(lens, "Lens mount", "Own mount")
        fill(lens, Focal_length=near, to_=far, Widest="3.1", Mass="820")
        lens.get_by_label("How many").fill(str(count))
        added(page, lens, label)
    pack = open_pattern(page, "Battery pack")
    pack.get_by_label("Name", exact=True).fill("night pack")
    choose(pack, "Battery plate or slot", "wedge battery plate")
    fill(pack, Energy="98", At_most="12", Mass="640")
    pack.get_by_label("How many").fill("6")
    added(page, pack, "PACK-1")
    for kind, name, label, count, answers in PLAIN:
        enter(page, kind, name, label, count, answers)


def two_days(page: Page, server: LiveServer) -> None:
    page.get_by_label("Name of a new part of the day").fill("Show")
    page.keyboard.press("Enter")
    show = page.get_by_role("form", name="Show")
    show.get_by_label("Ends").fill("2027-05-04T23:30")
    show.get_by_label("Ends").press("Tab")
    show.get_by_label("Starts").fill("2027-05-04T20:00")
    show.get_by_label("Starts").press("Tab")
    for label, value in (("Temperature", "3"), ("Mean wind", "6"), ("Longest stretch", "1.5")):
        show.get_by_label(label).fill(value)
        show.get_by_label(label).press("Tab")
    show.get_by_label("Light in plain words").select_option(label="floodlit stage or pitch")
    until(lambda: frame(server)["job"]["parts"][-1]["conditions"].get("light_ev") == 9)
    assert [p["starts"][8:13] for p in frame(server)["job"]["parts"]] == ["03T09", "04T20"]


def on_the_plan(page: Page, server: LiveServer) -> None:
    """Three positions round a stage: one by numbers, one by keys, one by dragging."""
    page.get_by_role("button", name="Plan of the venue").click()
    page.get_by_role("button", name="+ to see").click()
    things = page.locator(".plan-fields")
    for name, value in (("x_m", "0"), ("y_m", "24"), ("width_m", "8"), ("height_m", "2")):
        one = things.locator(f'[data-field="$.{name}"] input')
        one.fill(value)
        one.press("Tab")
    side = page.get_by_label("What is chosen")
    for camera in CAMERAS:
        side.get_by_role("button", name="Cameras").or_(side.get_by_role("heading", name="Cameras")).first.click()
        side.locator(".camera-line", has_text=camera).click()
        side.get_by_role("button", name="Place it on the plan").click()
        side.get_by_label("to see 1").check()
        if camera == "Quay":
            for name, value in (("x_m", "-9"), ("y_m", "2")):
                one = things.locator(f'[data-field="$.{name}"] input')
                one.fill(value)
                one.press("Tab")
    bridge = page.get_by_role("button", name="Camera 2 Bridge")
    bridge.focus()
    for _ in range(4):
        page.keyboard.press("Shift+ArrowRight")
    mast = page.get_by_role("button", name="Camera 3 Mast")
    box = mast.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + 120, box["y"] - 60, steps=6)
    page.mouse.up()

    def places() -> dict[str, dict[str, float]]:
        return {r["label"]: r.get("place") or {} for r in frame(server)["job"]["rigs"]}

    until(lambda: all(place.get("sees") for place in places().values()), f"not all see it: {places()}")
    until(lambda: (places()["Quay"]["x_m"], places()["Bridge"]["x_m"]) == (-9, 4), f"not there: {places()}")
    until(lambda: places()["Mast"]["x_m"] > 0, f"not dragged: {places()}")
    expect(side).to_contain_text("Distance to subject")


def add(page: Page, *words: str) -> None:
    """By a few letters, at the best place, one after the other."""
    page.keyboard.press("a")
    field = page.get_by_label("What to add")
    expect(field).to_be_focused()
    for word in words:
        field.press_sequentially(word)
        page.keyboard.press("Enter")
        expect(page.locator(".picker header p")).to_contain_text(word)
    page.keyboard.press("Escape")


def test_from_nothing_to_verdicts_on_own_gear(page: Page, empty: LiveServer, tmp_path: Path) -> None:
    make_job(page, empty)
    two_days(page, empty)
    page.get_by_role("heading", name="Days").click()
    page.keyboard.press("g")
    page.keyboard.press("2")
    expect(page.get_by_label("Words")).to_be_visible()
    own_gear(page)
    shelf = get(empty, "/shelf")
    assert len({u["model"] for u in shelf["units"]}) == 25
    page.keyboard.press("g")
    page.keyboard.press("1")
    for label, body in CAMERAS.items():
        page.get_by_label("Position or name").fill(label)
        page.locator(".new-camera select").select_option(body)
        page.get_by_role("button", name="Add the camera").click()
        expect(page.get_by_label(f"{label} in Show")).to_be_visible()
    on_the_plan(page, empty)
    typed_nothing = [r.get("target") for r in frame(empty)["job"]["rigs"]]
    assert typed_nothing == [None, None, None]
    page.keyboard.press("g")
    page.keyboard.press("3")
    page.keyboard.press("1")
    expect(page.get_by_role("heading", name="Quay full")).to_be_visible()
    add(page, "ZOOM-1", "PACK-1", "PLATE-1", "HEAD-1", "STICKS-1")
    page.keyboard.press("2")
    expect(page.get_by_role("heading", name="Bridge full")).to_be_visible()
    add(page, "LONG-1", "PACK-2", "PLATE-2", "HEAD-2", "STICKS-2")
    page.keyboard.press("3")
    expect(page.get_by_role("heading", name="Mast full")).to_be_visible()
    page.keyboard.press("o")
    wants = page.get_by_role("region", name="Propose a build")
    wants.get_by_role("button", name="Search", exact=True).click()
    first = wants.get_by_role("button", name="Build 1 with ZOOM-2")
    expect(first).to_be_visible(timeout=30_000)
    first.click()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    job = get(empty, "/jobs/night-boats")
    seen = [
        finding["text"]
        for part in job["parts"]
        for rig in job["rigs"]
        if part["id"] in rig["plan"]
        for finding in get(empty, f"/jobs/night-boats/parts/{part['id']}/rigs/{rig['id']}")["findings"]
        if finding["level"] != "clear"
    ]
    assert len(job["rigs"]) == 3
    assert seen
    assert verdict_of(empty, tmp_path) == sorted(seen)
