"""Every field of the catalogue can be set on a screen: a model with all there is, changed and read back."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from playwright.sync_api import Page, expect

from lift_crate.core.gear.fields import FieldInfo, fields_of
from lift_crate.core.gear.interface import Interface
from lift_crate.core.gear.model import GearModel
from lift_crate.core.rig.build import Unit
from tests.conftest import LiveServer
from tests.e2e.test_shelf import get

TYPES = fields_of(GearModel, Interface, Unit)
OF_MODELS = fields_of(GearModel)
UNITS_ALONG = {"n": ([0, 0, 1], [0, 1, 0]), "u": ([1, 0, 0], [0, 0, 1]), "face": ([0, 0, -1], [0, -1, 0])}
WANTED: dict[str, tuple[Any, Any]] = {
    "GearModel.id": ("everything", "everything"),
    "Port.id": ("a", "a"),
    "Port.interface": ("bnc", "hdmi"),
    "Port.at": ([60, 0, 0], [70, 1, 2]),
    "Port.length_mm": (40, 41),
    "Slide.axis": ([1, 0, 0], [0, 1, 0]),
    "Slide.min_mm": (-6, -7),
    "SlideRange.min_mm": (-6, -7),
    "Adapter.toward_body": ("a", "b"),
    "Adapter.toward_part": ("b", "a"),
    "GimbalData.camera_port": ("a", "b"),
    "GimbalData.roll_axis": ([1, 0, 0], [0.8, 0, 0.6]),
    "Charger.bay_port": ("a", "b"),
    "Hinge.beyond": ("a", "b"),
    "Hinge.axis": ([0, 1, 0], [0, 0, 1]),
    "Hinge.range_deg": ([-90, 90], [-45, 60]),
    "HeadData.tilt_deg": ([-60, 80], [-50, 70]),
    "Spring.nm_at": ([[30, 1]], [[20, 2], [60, 3]]),
    "LensData.focal_mm": ([24, 70], [25, 71]),
    "FilterData.stops": ([1, 2], [2, 3]),
    "RecordingMode.area": ("id 0", "id 1"),
    "RecordingMode.takes": (["takes 0"], ["takes 1"]),
    "BodyData.iso": ([100, 6400], [200, 12800]),
    "Electrical.steps": ([[5, 3]], [[9, 2], [12, 1]]),
}
"""What a field is first and then, where not just any value will do."""


def value_of(owner: str, info: FieldInfo, then: int) -> Any:
    path = f"{owner}.{info.name}"
    if info.kind == "group":
        return document(info.of[0], then)
    if info.kind == "rows":
        return two_ports(then) if path == "GearModel.ports" else [document(name, then) for name in info.of]
    if path in WANTED:
        return WANTED[path][then]
    if info.kind == "numbers":
        return UNITS_ALONG[info.name][then] if info.name in UNITS_ALONG else numbers(info, then)
    if info.kind == "choice":
        chosen = [c for c in info.choices if c][min(then, len(info.choices) - 1)]
        return int(chosen) if info.numeric else chosen
    plain = {
        "yes": bool(then),
        "texts": [info.choices[then]] if info.choices else [f"word {then}", "other"],
        "date": f"2027-03-0{then + 1}",
        "text": f"{info.name} {then}",
    }
    share = info.high is not None and info.high <= 1
    return plain.get(info.kind, 0.5 + then * 0.125 if share else 8 + then)


def numbers(info: FieldInfo, then: int) -> list[Any]:
    across, rows = (*info.count, 1, 1)[:2] if info.count else (2, 1)
    row = [5.0 + then + i for i in range(across)]
    return [[x + 7 * k for x in row] for k in range(rows)] if rows > 1 or len(info.count) == 1 else row


def document(name: str, then: int) -> dict[str, Any]:
    return {info.name: value_of(name, info, then) for info in TYPES[name]}


def two_ports(then: int) -> list[dict[str, Any]]:
    a = document("Port", then)
    return [a, {**a, "id": "b", "interface": ("hdmi", "bnc")[then]}]


def leaves(value: Any, path: str, owner: str) -> Iterator[tuple[str, FieldInfo, Any]]:
    for info in TYPES[owner]:
        held = value[info.name]
        if info.kind == "group":
            yield from leaves(held, f"{path}.{info.name}", info.of[0])
        elif info.kind == "rows":
            for i, row in enumerate(held):
                kind = next(n for n in info.of if {f.name for f in TYPES[n]} == set(row))
                yield from leaves(row, f"{path}.{info.name}[{i}]", kind)
        else:
            yield f"{path}.{info.name}", info, held


def enter(page: Page, path: str, info: FieldInfo, value: Any) -> None:
    field = page.locator(f'[data-field="{path}"]')
    if info.kind == "yes":
        field.locator("input").set_checked(value)
    elif info.kind == "choice" or info.name == "interface":
        field.locator("select").select_option(str(value))
    elif info.kind == "numbers":
        rows = value if isinstance(value[0], list) else [value]
        field.locator("input").fill("; ".join(" ".join(str(x) for x in row) for row in rows))
    else:
        field.locator("input").fill(", ".join(value) if info.kind == "texts" else str(value))


ABOVE = ("id", "kind", "maker", "name", "mass_g", "mass_source")
"""Fields that have their place at the head of the editor."""


def test_every_field_of_a_model_is_changed_on_the_screen_and_read_back(page: Page, live: LiveServer) -> None:
    first, then = document("GearModel", 0), document("GearModel", 1)
    assert {owner for owner, _ in _types(first)} == set(OF_MODELS), "the model has every type of the schema"
    made = page.request.put(f"{live.address}/api/shelf/models", data=first)
    assert made.ok, made.text()
    added = page.request.post(f"{live.address}/api/shelf/units", data={"model": "everything", "label": "ALL-1"})
    assert added.ok, added.text()
    page.goto(f"{live.address}/dry-dock-opera/shelf/dress/quay?unit=ALL-1")
    expect(page.get_by_role("heading", name="ALL-1")).to_be_visible()
    page.get_by_role("button", name="Model and ports").click()
    editor = page.get_by_role("region", name="Model and its ports")
    editor.get_by_role("button", name="Every field").click()
    expect(page.locator('[data-field="$.shapes[1].barrel"]')).to_be_attached()  # the model itself has come
    page.evaluate("document.querySelectorAll('.model-editor details').forEach((d) => { d.open = true })")
    for path, info, value in leaves(then, "$", "GearModel"):
        if path.removeprefix("$.") not in ABOVE:
            enter(page, path, info, value)
    for label, key in (("Kind", "kind"), ("Maker", "maker"), ("Name", "name")):
        editor.get_by_label(label, exact=True).first.fill(then[key])
    editor.get_by_label("Mass g").first.fill(str(then["mass_g"]))
    editor.locator("label", has_text="from").locator("select").first.select_option(then["mass_source"])
    editor.get_by_role("button", name="Save").click()
    expect(editor.get_by_role("status")).to_contain_text("is in the catalogue")
    kept = get(live, "/shelf/models/everything")["model"]
    wrong = [
        (path, value, found)
        for (path, _, value), (_, _, found) in zip(
            leaves(then, "$", "GearModel"), leaves(kept, "$", "GearModel"), strict=True
        )
        if found != value
    ]
    assert wrong == []


def _types(value: Any, owner: str = "GearModel") -> Iterator[tuple[str, Any]]:
    yield owner, value
    for info in TYPES[owner]:
        if info.kind == "group":
            yield from _types(value[info.name], info.of[0])
        if info.kind == "rows":
            for row in value[info.name]:
                kind = next(n for n in info.of if {f.name for f in TYPES[n]} == set(row))
                yield from _types(row, kind)
