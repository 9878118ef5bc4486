"""Every field of a job can be set on a screen: each type of the schema, field by field, set and read back."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import fields, is_dataclass
from functools import partial
from pathlib import Path
from typing import Any, get_args, get_type_hints

from PIL import Image
from playwright.sync_api import Locator, Page, expect

from lift_crate.core.job.job import Job
from lift_crate.core.job.packing import Carrier, CaseAlong, Extra, PackPlan, PutWhere
from lift_crate.core.job.settings_told import settings_told
from lift_crate.core.settings import Settings
from tests.conftest import LiveServer
from tests.e2e.test_job import frame
from tests.kit import until

JOB = "dry-dock-opera"
Doing = Callable[[Page], object]
Reading = Callable[[dict[str, Any]], Any]

_DRESSED = ("mic_by", "mic_at")
_RIDDEN = ("rides", "safety_db", "house", "plugs")
MADE_HERE = "made by the program when the thing is made; people call it by its label"
ON_THE_BENCH = "set on the Bench: tests/e2e/test_bench.py adds, moves, turns, cables and exchanges by hand"
NOT_ASKED: dict[str, str] = {
    "Job.id": MADE_HERE,
    "PartOfDay.id": MADE_HERE,
    "Rig.id": MADE_HERE,
    "Build.id": MADE_HERE,
    "Thing.id": MADE_HERE,
    "Picture.id": "the picture itself, given as a file in test_a_picture_is_put_under_the_plan",
    "Build.held_by": "asked on the Bench where a rig has more than one support: tests/e2e/test_bench.py",
    "Build.grip": "chosen among the ways to hold it: tests/e2e/test_space.py",
    "Outlets.place": "sockets are entered for the place of a charger, by its name",
    "Build.off_between": "pressed on Power: tests/e2e/test_power.py",
    "Build.worn": "hung on the belt on the Bench: tests/e2e/test_bench.py",
    "Voice.id": MADE_HERE,
    "Cost.id": MADE_HERE,
    "Want.id": MADE_HERE,
    "Job.pack": "set on Pack: tests/e2e/test_packing.py",
    **{
        f"{kind.__name__}.{each.name}": "set on Pack: tests/e2e/test_packing.py"
        for kind in (PackPlan, CaseAlong, PutWhere, Extra, Carrier)
        for each in fields(kind)
    },
    "Permission.id": MADE_HERE,
    "Job.safety": "line by line in test_every_field_of_a_permission_is_set_and_read_back",
    "Job.money": "line by line in test_every_field_of_the_money_is_set_and_read_back",
    **dict.fromkeys(
        (
            "Job.sound",
            "SoundPlan.voices",
            "SoundPlan.bands",
            "SoundPlan.sync",
            *(f"Band.{n}" for n in ("low_khz", "high_khz")),
            *(f"SaidSync.{n}" for n in ("unit", "method")),
            *(
                f"Voice.{n}"
                for n in (
                    "label",
                    "wearer",
                    "thing",
                    "parts",
                    "once",
                    "louder_db",
                    "consent",
                    "mic_by",
                    "mic_at",
                    "sources",
                )
            ),
            *(
                f"Source.{n}"
                for n in (
                    "label",
                    "units",
                    "khz",
                    "pocket",
                    "clip",
                    "cover",
                    "shows",
                    "rides",
                    "safety_db",
                    "house",
                    "plugs",
                )
            ),
        ),
        "said on the Day: tests/e2e/test_sound.py",
    ),
    "Build.bends": "bent on the Bench: tests/e2e/test_space.py",
    **dict.fromkeys(("Bend.unit", "Bend.deg"), "bent on the Bench: tests/e2e/test_space.py"),
    **dict.fromkeys(
        ("Assignment.operator", "Assignment.unattended", "Assignment.scheme", "Assignment.spotter"),
        "said on the Day: tests/e2e/test_day.py",
    ),
    "Build.presets": "kept on the Bench: tests/e2e/test_space.py",
    **dict.fromkeys(("Preset.label", "Preset.settings"), "kept on the Bench: tests/e2e/test_space.py"),
    "UnitSetting.area": "asked on the Bench where a body records more than one area: tests/e2e/test_bench.py",
    "UnitSetting.picture": "asked on the Bench where a body has more than one output picture",
    "UnitSetting.mode": "asked on the Bench where a gimbal has more than one mode",
    "UnitSetting.focal_mm": "set for a zoom on the Bench: tests/e2e/test_bench.py",
    "UnitSetting.stop": "set for a lens on the Bench: tests/e2e/test_bench.py",
    "UnitSetting.unit": "the part that is chosen on the Bench",
    **dict.fromkeys(("Build.body", "Build.joints", "Build.links", "Build.settings"), ON_THE_BENCH),
    **{f"Joint.{n}": ON_THE_BENCH for n in ("child", "child_port", "parent", "parent_port", "spin_deg", "slide_mm")},
    **{f"Link.{n}": ON_THE_BENCH for n in ("cable", "from_unit", "from_port", "to_unit", "to_port")},
    **dict.fromkeys(("Job.settings", "Settings"), "line by line in test_every_setting_has_a_field"),
    "Box.unit": "chosen when a light or recorder is added",
    "ChargerPlace.unit": "chosen when a charger is added",
    **{f"Assignment.{n}": "the cell of the table that is chosen" for n in ("part", "rig")},
}


def types_of(kind: type, found: dict[str, type] | None = None) -> dict[str, type]:
    """Every dataclass that a job holds, but its settings."""
    found = {} if found is None else found
    if kind.__name__ in found or kind is Settings:
        return found
    found[kind.__name__] = kind
    for hint in get_type_hints(kind).values():
        for inner in _held(hint):
            types_of(inner, found)
    return found


def _held(hint: Any) -> Iterator[type]:
    if is_dataclass(hint):
        yield hint  # type: ignore[misc]  # a dataclass, not one of its values
    for arg in get_args(hint):
        yield from _held(arg)


def field(page: Page, label: str) -> Locator:
    exact = page.get_by_label(label, exact=True)
    return (exact if exact.count() else page.get_by_label(label)).first


def typed(label: str, value: str) -> Doing:
    def do(page: Page) -> None:
        field(page, label).fill(value)
        field(page, label).press("Tab")

    return do


def picked(label: str, value: str) -> Doing:
    return lambda page: field(page, label).select_option(value)


def ticked(label: str) -> Doing:
    return lambda page: field(page, label).click()


def pressed(name: str) -> Doing:
    return lambda page: page.get_by_role("button", name=name, exact=True).first.click()


def part(job: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = next(p for p in job["parts"] if p["id"] == "dress")
    return found


def quay(job: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = next(r for r in job["rigs"] if r["id"] == "quay")
    return found


def in_part(name: str) -> Reading:
    return lambda job: part(job)["conditions"].get(name)


def in_target(name: str) -> Reading:
    return lambda job: quay(job)["target"].get(name)


def in_charging(name: str) -> Reading:
    return lambda job: job["charging"].get(name)


def in_place(name: str) -> Reading:
    return lambda job: quay(job)["place"].get(name)


def in_thing(name: str) -> Reading:
    return lambda job: next(t for t in job["venue"]["things"] if t["id"] == "lamp-2").get(name)


def charger(job: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = job["charging"]["chargers"][0]
    return found


def outlets(job: dict[str, Any]) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = job["charging"].get("outlets", [])
    return found


def box(job: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = job["charging"]["boxes"][0]
    return found


ON_THE_JOB: dict[str, tuple[Doing, Reading, Any]] = {
    "Job.title": (typed("Title", "Another night"), lambda j: j["title"], "Another night"),
    "Job.zone": (picked("Time zone", "Europe/Lisbon"), lambda j: j["zone"], "Europe/Lisbon"),
    "PartOfDay.label": (typed("Name", "Dress"), lambda j: part(j)["label"], "Dress"),
    "PartOfDay.starts": (typed("Starts", "2027-03-19T19:05"), lambda j: part(j)["starts"][11:16], "19:05"),
    "PartOfDay.ends": (typed("Ends", "2027-03-19T22:10"), lambda j: part(j)["ends"][11:16], "22:10"),
    "Conditions.temperature_c": (
        typed("Temperature, °C", "-3"),
        in_part("temperature_c"),
        -3,
    ),
    "Conditions.wind_m_s": (typed("Mean wind, m/s", "7"), in_part("wind_m_s"), 7),
    "Conditions.hours_needed": (
        typed("Longest stretch without a swap, h", "2"),
        in_part("hours_needed"),
        2,
    ),
    "Conditions.longest_take_min": (typed("Longest take, min", "48"), in_part("longest_take_min"), 48),
    "Conditions.rolling": (typed("Rolling, % of the time", "40"), in_part("rolling"), 0.4),
    "Conditions.takes_per_h": (typed("Takes an hour", "6"), in_part("takes_per_h"), 6),
    "Conditions.light_ev": (picked("Light in plain words", "9"), in_part("light_ev"), 9),
    "Conditions.indoors": (ticked("indoors: no wind, no rain"), in_part("indoors"), True),
    "Conditions.rain": (ticked("rain expected"), in_part("rain"), True),
    "Conditions.repeatable": (ticked("cannot be repeated"), in_part("repeatable"), False),
    "Conditions.subject_take_min": (typed("Each subject: take, min", "4"), in_part("subject_take_min"), 4),
    "Conditions.subject_set_up_min": (typed("Each subject: set up, min", "2"), in_part("subject_set_up_min"), 2),
    "Conditions.subject_reset_min": (typed("Each subject: reset, min", "1.5"), in_part("subject_reset_min"), 1.5),
    "Conditions.rings": (ticked("the room rings"), in_part("rings"), True),
    "Conditions.protected": (ticked("cut last when the day runs late"), in_part("protected"), True),
    "Moment.label": (
        typed("Name of Cannon from the caisson", "Cannon"),
        lambda j: part(j)["moments"][0]["label"],
        "Cannon",
    ),
    "Moment.at": (typed("When Cannon is", "2027-03-19T21:15"), lambda j: part(j)["moments"][0]["at"][11:16], "21:15"),
    "Moment.thing": (picked("What Cannon is about", "stage"), lambda j: part(j)["moments"][0]["thing"], "stage"),
    "PartOfDay.moments": (pressed("Add a moment"), lambda j: len(part(j)["moments"]), 2),
    "Rig.label": (typed("Name of camera 1", "Kay"), lambda j: quay(j)["label"], "Kay"),
    "Rig.position": (typed("Position of Kay", "by the water"), lambda j: quay(j)["position"], "by the water"),
    "Rig.number": (typed("Number of Kay", "9"), lambda j: quay(j)["number"], 9),
    "Assignment.build": (
        picked("Kay in Dress", ""),
        lambda j: any(a["rig"] == "quay" and a["part"] == "dress" for a in j["plan"]),
        False,
    ),
    "Build.label": (typed("Name of a build of Kay", "whole"), lambda j: quay(j)["builds"][0]["label"], "whole"),
    "ChargingPlan.hands": (typed("People who swap", "4"), in_charging("hands"), 4),
    "ChargingPlan.people": (typed("Their names", "Loader, Third"), in_charging("people"), ["Loader", "Third"]),
    "ChargingPlan.swap_min": (typed("A swap takes, min", "3"), in_charging("swap_min"), 3),
    "ChargingPlan.quiet_before_min": (typed("Quiet before a moment, min", "12"), in_charging("quiet_before_min"), 12),
    "ChargingPlan.quiet_after_min": (typed("and after it, min", "6"), in_charging("quiet_after_min"), 6),
    "ChargingPlan.walk_min": (typed("Walk to Kay, min", "8"), lambda j: j["charging"]["walk_min"]["quay"], 8),
    "ChargerPlace.place": (typed("Where it stands", "hut"), lambda j: charger(j)["place"], "hut"),
    "ChargerPlace.indoors": (ticked("indoors"), lambda j: charger(j)["indoors"], False),
    "Mains.ends": (
        lambda page: typed(_mains(page, "until"), "2027-03-19T23:30")(page),
        lambda j: charger(j)["open"][0]["ends"][11:16],
        "23:30",
    ),
    "Mains.starts": (
        lambda page: typed(_mains(page, "from"), "2027-03-19T13:30")(page),
        lambda j: charger(j)["open"][0]["starts"][11:16],
        "13:30",
    ),
    "ChargingPlan.outlets": (pressed("Sockets at hut"), lambda j: [o["place"] for o in outlets(j)], ["hut"]),
    "Outlets.sockets": (typed("Sockets at hut", "3"), lambda j: outlets(j)[0]["sockets"], 3),
    "Outlets.amps": (typed("Circuit at hut, A", "16"), lambda j: outlets(j)[0]["amps"], 16),
    "ChargerPlace.open": (pressed("Add mains hours"), lambda j: len(charger(j)["open"]) > 1, True),
    "ChargingPlan.chargers": (
        lambda page: page.get_by_role("button", name="Remove CHARGE-1").click(),
        lambda j: any(c["unit"] == "CHARGE-1" for c in j["charging"]["chargers"]),
        False,
    ),
    "ChargingPlan.boxes": (pressed("Add a light or recorder"), lambda j: len(j["charging"]["boxes"]) > 0, True),
    "Box.label": (typed("Called", "key light"), lambda j: box(j)["label"], "key light"),
    "Box.walk_min": (typed("Walk, min", "5"), lambda j: box(j)["walk_min"], 5),
    "Box.parts": (
        lambda page: page.locator(".charging-row", has_text="Walk, min").first.get_by_label("Mark-through").click(),
        lambda j: "mark" in str(box(j)["parts"]),
        True,
    ),
    "Target.distance_mm": (
        typed("Distance to subject, m", "30"),
        in_target("distance_mm"),
        30000,
    ),
    "Target.width_mm": (typed("Width there, m", "6"), in_target("width_mm"), 6000),
    "Target.nearest_mm": (typed("Nearest face, m", "9"), in_target("nearest_mm"), 9000),
    "Target.light_ev": (
        typed("Light there, EV", "5"),
        in_target("light_ev"),
        5,
    ),
    "Target.lamps_ev": (typed("Lamps add there, EV", "4"), in_target("lamps_ev"), 4),
    "Target.speed_m_s": (typed("Speed of what carries it, m/s", "2"), in_target("speed_m_s"), 2),
    "Target.mains_m": (typed("Nearest mains, m", "11"), in_target("mains_m"), 11),
    "Target.follows": (ticked("follows what moves"), in_target("follows"), False),
    "Target.moves": (ticked("level work"), in_target("moves"), ["level work"]),
    "Target.worked_by": (picked("Who works it", "nobody"), in_target("worked_by"), "nobody"),
    "Target.look": (picked("How large it may look", "discreet"), in_target("look"), "discreet"),
}


def at(name: str, value: str) -> Doing:
    """A field of what is chosen on the plan."""

    def do(page: Page) -> None:
        inner = page.locator(f'.plan-fields [data-field="$.{name}"]').locator("input, select").first
        if inner.evaluate("e => e.tagName") == "SELECT":
            inner.select_option(value)
        else:
            inner.fill(value)
            inner.press("Tab")

    return do


def in_picture(name: str) -> Reading:
    return lambda job: (job["venue"].get("picture") or {}).get(name)


def chosen(name: str) -> Doing:
    return lambda page: page.locator(f".plan-drawing [aria-label^='{name},']").focus()


def _lamp_is(page: Page) -> None:
    page.get_by_label("Which light of the shelf it is").select_option("WORK-1")


ON_THE_PLAN: dict[str, tuple[Doing, Reading, Any]] = {
    "Venue.walk_m_s": (typed("Walking speed, m/s", "1"), lambda j: j["venue"]["walk_m_s"], 1),
    "Picture.width_m": (typed("Width, m", "55"), in_picture("width_m"), 55),
    "Picture.x_m": (typed("Middle east, m", "3"), in_picture("x_m"), 3),
    "Picture.y_m": (typed("Middle north, m", "-2"), in_picture("y_m"), -2),
    "Picture.turn_deg": (typed("Turned, °", "15"), in_picture("turn_deg"), 15),
    "Rig.place": (chosen("Camera 1 Quay"), lambda j: bool(quay(j)["place"]), True),
    "Spot.x_m": (at("x_m", "1.5"), in_place("x_m"), 1.5),
    "Spot.y_m": (at("y_m", "2.5"), in_place("y_m"), 2.5),
    "Spot.ground_m": (at("ground_m", "0.5"), in_place("ground_m"), 0.5),
    "Spot.camera_m": (at("camera_m", "1.9"), in_place("camera_m"), 1.9),
    "Spot.sees": (ticked("Cannon"), lambda j: "cannon" in quay(j)["place"]["sees"], True),
    "Venue.things": (pressed("+ lamp"), lambda j: len([t for t in j["venue"]["things"] if t["kind"] == "lamp"]), 2),
    "Thing.unit": (_lamp_is, in_thing("unit"), "WORK-1"),
    "Thing.aims_at": (picked("Points at", "stage"), in_thing("aims_at"), "stage"),
    **{
        f"Thing.{name}": (at(name, value), in_thing(name), float(value))
        for name, value in (
            ("x_m", "31"),
            ("y_m", "-4"),
            ("ground_m", "0.5"),
            ("width_m", "0.4"),
            ("depth_m", "0.6"),
            ("height_m", "3.5"),
            ("turn_deg", "30"),
            ("lux_1m", "4000"),
            ("beam_deg", "45"),
            ("dim", "0.5"),
        )
    },
    "Thing.label": (at("label", "Key lamp"), in_thing("label"), "Key lamp"),
    "Thing.kind": (at("kind", "obstacle"), in_thing("kind"), "obstacle"),
}
"""In the order in which they are set: what is chosen is named first."""


def in_setting(name: str) -> Reading:
    def read(job: dict[str, Any]) -> Any:
        found = [s for b in quay(job)["builds"] for s in b.get("settings", []) if name in s]
        return found[0][name] if found else None

    return read


def on_unit(unit: str, label: str, value: str) -> Doing:
    def do(page: Page) -> None:
        page.locator(f'.build [data-unit="{unit}"]').first.click()
        where = page.get_by_label(label, exact=False).first
        if where.evaluate("e => e.tagName") == "SELECT":
            where.select_option(value)
        else:
            where.fill(value)
            where.press("Tab")

    return do


ON_A_RIG: dict[str, tuple[Doing, Reading, Any]] = {
    "Build.use": (picked("How the rig is carried", "walking"), lambda j: quay(j)["builds"][0].get("use"), "walking"),
    "UnitSetting.fps": (on_unit("C6-1", "Frames a second", "50"), in_setting("fps"), 50),
    "UnitSetting.iso": (on_unit("C6-1", "ISO", "1600"), in_setting("iso"), 1600),
    "UnitSetting.shutter_deg": (on_unit("C6-1", "Shutter angle", "90"), in_setting("shutter_deg"), 90),
}


def in_cost(name: str) -> Reading:
    return lambda job: job["money"]["costs"][0].get(name)


def in_want(name: str) -> Reading:
    return lambda job: next(w for w in job["money"]["wants"] if w["id"] == "larger-pack").get(name)


def in_last_want(name: str) -> Reading:
    return lambda job: job["money"]["wants"][-1].get(name)


def _nothing(_: Page) -> None:
    """It came with the line before."""


COST, PACK = "Music licence", "Tidewick wedge pack 150 Wh"


def _wants(page: Page) -> None:
    page.get_by_role("button", name="Add something wanted").click()
    page.get_by_label("In the place of").select_option("ZOOM-2")
    page.get_by_role("button", name="Corrow 135 mm f/2 prime").click()


ON_THE_MONEY: dict[str, tuple[Doing, Reading, Any]] = {
    "Cost.kind": (picked(f"Kind of {COST}", "insurance"), in_cost("kind"), "insurance"),
    "Cost.amount": (typed(f"Amount of {COST}", "310"), in_cost("amount"), 310),
    "Cost.per": (picked(f"What {COST} is paid for", "camera"), in_cost("per"), "camera"),
    "Cost.jobs": (typed(f"Jobs that share {COST}", "3"), in_cost("jobs"), 3),
    "Cost.with_tax": (ticked("tax is in it"), in_cost("with_tax"), True),
    "Cost.covers": (typed(f"What {COST} covers", "everything"), in_cost("covers"), "everything"),
    "Cost.until": (typed(f"Last day of {COST}", "2028-01-31"), in_cost("until"), "2028-01-31"),
    "Cost.label": (typed(f"Name of {COST}", "Music"), in_cost("label"), "Music"),
    "MoneyPlan.costs": (pressed("Add a cost"), lambda j: len(j["money"]["costs"]), 4),
    "Want.how": (picked(f"How {PACK} is had", "buy used"), in_want("how"), "buy used"),
    "Want.count": (typed(f"How many of {PACK}", "2"), in_want("count"), 2),
    "Want.price": (typed(f"Price of {PACK}", "240"), in_want("price"), 240),
    "Want.per": (picked(f"What the price of {PACK} is for", "set"), in_want("per"), "set"),
    "Want.note": (typed(f"Note on {PACK}", "the cold"), in_want("note"), "the cold"),
    "Want.with_tax": (
        lambda page: page.get_by_role("group", name=PACK).get_by_label("tax is in it").click(),
        in_want("with_tax"),
        True,
    ),
    "Want.taken": (
        lambda page: page.get_by_role("group", name=PACK).get_by_label("decided").click(),
        in_want("taken"),
        True,
    ),
    "Want.tier": (picked(f"How much {PACK} matters", "later"), in_want("tier"), "later"),
    "MoneyPlan.wants": (_wants, lambda j: len(j["money"]["wants"]), 4),
    **{
        f"Want.{name}": (_nothing, in_last_want(name), value)
        for name, value in (("model", "corrow-135"), ("rig", "quay"), ("part", "acts-1-2"), ("unit", "ZOOM-2"))
    },
}


FACES = "Faces on the gangway"


def in_permission(name: str) -> Reading:
    return lambda job: job["safety"]["permissions"][2].get(name)


ON_SAFETY: dict[str, tuple[Doing, Reading, Any]] = {
    "Permission.kind": (picked("Kind of permission", "other"), in_permission("kind"), "other"),
    "Permission.state": (picked("State of the permission", "given"), in_permission("state"), "given"),
    "Permission.rests_on": (picked("What the permission rests on", "by word"), in_permission("rests_on"), "by word"),
    "Permission.by": (typed("Who gives it", "their parents"), in_permission("by"), "their parents"),
    "Permission.asked_by": (typed("Who asks for it", "Op 2"), in_permission("asked_by"), "Op 2"),
    "Permission.checked": (typed("Day it was looked at", "2027-03-10"), in_permission("checked"), "2027-03-10"),
    "Permission.until": (typed("Last day it holds", "2027-03-20"), in_permission("until"), "2027-03-20"),
    "Permission.terms": (typed("Terms of the permission", "from behind"), in_permission("terms"), "from behind"),
    "Permission.unpaid_only": (ticked("for unpaid use only"), in_permission("unpaid_only"), True),
    "Permission.parts": (
        lambda page: page.get_by_role("group", name=FACES).get_by_role("button", name="Dress rehearsal").click(),
        in_permission("parts"),
        ["arrival", "dress"],
    ),
    "Permission.label": (typed("What is allowed", "Faces"), in_permission("label"), "Faces"),
    "SafetyPlan.paid": (pressed("unpaid"), lambda j: j["safety"]["paid"], False),
    "SafetyPlan.permissions": (pressed("Copy"), lambda j: len(j["safety"]["permissions"]), 4),
}


def _mains(page: Page, end: str) -> str:
    return str(page.locator(f"[aria-label^='Mains of'][aria-label$='{end}']").first.get_attribute("aria-label"))


def _holds(page: Page, read: Callable[[Page], Any], value_of: Reading, wanted: Any) -> bool:
    return bool(value_of(read(page)) == wanted)


def through(
    page: Page, fields_set: dict[str, tuple[Doing, Reading, Any]], read: Callable[[Page], dict[str, Any]]
) -> None:
    for name, (do, value_of, wanted) in fields_set.items():
        do(page)
        until(partial(_holds, page, read, value_of, wanted), f"{name} never became {wanted}")
        expect(page.get_by_role("alert")).to_have_count(0)


def test_every_field_on_the_job_screen_is_set_and_read_back(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}/{JOB}/job/dress/quay")
    page.get_by_role("button", name="Sees").first.click()
    through(page, ON_THE_JOB, lambda _: frame(live, JOB)["job"])


def test_every_field_on_the_plan_is_set_and_read_back(page: Page, live: LiveServer, tmp_path: Path) -> None:
    sheet = tmp_path / "site.png"
    Image.new("RGB", (300, 200), "gray").save(sheet)
    page.goto(f"{live.address}/{JOB}/venue/dress/quay")
    page.locator(".picture-field input").set_input_files(sheet)
    page.get_by_role("button", name="Cancel").click()
    through(page, ON_THE_PLAN, lambda _: frame(live, JOB)["job"])


def test_every_field_of_the_money_is_set_and_read_back(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}/{JOB}/day/acts-1-2/quay")
    page.get_by_role("button", name="Money", exact=True).click()
    expect(page.locator(".want-line")).to_have_count(4)
    page.get_by_role("group", name=f"{PACK}, hire").get_by_role("button", name="Remove").click()
    expect(page.locator(".want-line")).to_have_count(3)
    through(page, ON_THE_MONEY, lambda _: frame(live, JOB)["job"])


def test_every_field_of_a_permission_is_set_and_read_back(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}/{JOB}/day/dress/quay?shows=safety")
    page.get_by_role("region", name="Permissions").get_by_role("button", name=FACES).click()
    through(page, ON_SAFETY, lambda _: frame(live, JOB)["job"])


def test_how_a_rig_is_set_is_read_back(page: Page, live: LiveServer) -> None:
    page.goto(f"{live.address}/{JOB}/bench/dress/quay")
    expect(page.get_by_role("heading", name="Quay full")).to_be_visible()
    through(page, ON_A_RIG, lambda _: page.request.get(f"{live.address}/api/jobs/{JOB}/file").json()["job"])


def test_every_setting_has_a_field(page: Page, live: LiveServer) -> None:
    """Each setting stands on the screen under its name; one of each kind of field is changed and taken back."""
    page.goto(f"{live.address}/{JOB}/job/dress/quay")
    page.locator(".settings summary").click()
    lines = page.locator(".settings li > label").all_inner_texts()
    for info in settings_told():
        assert any(line.startswith(info.label) for line in lines), info.key
    page.get_by_label("Add a kind of gimbal work").fill("from a boat")
    page.get_by_role("button", name="Add a kind of gimbal work").click()

    def settings() -> Any:
        return frame(live, JOB)["job"]["settings"]

    until(lambda: "from a boat" in settings()["moves"])
    typed("Gimbal work, tilt, from a boat, to, °", "55")(page)
    until(lambda: settings()["moves"]["from a boat"]["tilt_deg"][1] == 55)
    page.get_by_label("Find a setting").fill("hold times top handle")
    page.get_by_role("group", name="Grip, on these supports, top handle").get_by_text("gimbal").click()
    until(lambda: settings()["grips"]["top handle, arm hanging"]["on"] == ["hand", "gimbal"])
    page.get_by_role("button", name="Remove from a boat").click()
    until(lambda: "from a boat" not in settings()["moves"])
    page.get_by_label("Find a setting").fill("")
    page.get_by_label("only what this job changed").check()
    grip = page.get_by_role("group", name="Grip, on these supports, top handle")
    page.locator(".settings li").filter(has=grip).get_by_role("button", name="Use it").click()
    until(lambda: settings()["grips"]["top handle, arm hanging"]["on"] == ["hand"])


def test_no_field_of_the_schema_is_forgotten() -> None:
    every = {f"{name}.{f.name}" for name, kind in types_of(Job).items() for f in fields(kind)}
    every = {name for name in every if not _holds_types(name)}
    told = {*ON_THE_JOB, *ON_THE_PLAN, *ON_THE_MONEY, *ON_SAFETY, *ON_A_RIG, *NOT_ASKED}
    assert sorted(every - told) == []
    assert sorted({n for n in NOT_ASKED if "." in n} - every - {"Job.settings"}) == []


def _holds_types(name: str) -> bool:
    """A field that only holds other types, each of which has its own fields."""
    owner, field_name = name.split(".")
    return any(True for _ in _held(get_type_hints(types_of(Job)[owner])[field_name])) and name not in (
        *ON_THE_JOB,
        *ON_THE_PLAN,
        *ON_THE_MONEY,
        *ON_SAFETY,
        *NOT_ASKED,
    )
