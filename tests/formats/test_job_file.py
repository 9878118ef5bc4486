"""The job file: the same job back, and every error by its place."""

from __future__ import annotations

import copy
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import jsonschema
import pytest

from lift_crate.cli import generated_documents
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import MAX_BYTES, BadJobFile, JobFile, dump, json_schema, parse

DOCS = Path(__file__).parents[2] / "docs"
Document = dict[str, Any]


@pytest.fixture(scope="module")
def document(demo: JobFile) -> Document:
    found: Document = json.loads(dump(demo))
    return found


def test_a_job_comes_back_as_it_went(demo: JobFile) -> None:
    assert parse(dump(demo)) == demo


def test_what_is_written_follows_the_published_schema(document: Document) -> None:
    jsonschema.validate(document, json_schema())
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate({**document, "job": {"id": "x"}}, json_schema())


@pytest.mark.parametrize("name", ["job-file.schema.json", "openapi.json", "call-outs.md"])
def test_generated_documents_are_up_to_date(name: str) -> None:
    assert (DOCS / name).read_text() == generated_documents()[name], "run './run contracts'"


_MODELS = [m.id for m in demo_job_file().models]
G6, PACK, STEP, M7, QUAD = (
    _MODELS.index(name) for name in ("gantry-g6", "tidewick-98", "belay-step-down", "lampblack-m7", "tidewick-quad")
)
_OUT = [p.id for p in demo_job_file().models[STEP].ports].index("out")


def _set(path: str, value: object = ...) -> Callable[[Document], None]:
    """Another value at a place of the document; none given: nothing there any more."""

    def change(document: Document) -> None:
        at: Any = document
        *way, last = [int(s) if s.isdigit() else s for s in path.split(".")]
        for step in way:
            at = at[step]
        if value is ...:
            del at[last]
        else:
            at[last] = value

    return change


@pytest.mark.parametrize(
    ("change", "expected"),
    [
        (_set("models.0.mass_g", -5), "$.models[0].mass_g: is -5, should be greater than or equal to 0"),
        (_set("models.0.ports.0.n", [1, 1, 0]), "$.models[0]: "),
        (_set("models.0.weight", 5), "$.models[0].weight: there is no such field here"),
        (_set("units.0.model", "ghost"), "$.units[0].model: there is no model 'ghost' in this file"),
        (_set("units.1.id", "C6-1"), "$.units: 'C6-1' stands 2 times"),
        (_set("job.plan.0.build", "ghost"), "$.job.plan[0].build: rig 'quay' has no build 'ghost'"),
        (
            _set("job.parts.1.starts", "2027-03-19T15:00:00+00:00"),
            "$.job.parts[1].starts: 'dress' starts before 'mark-through' ends",
        ),
        (
            _set("job.parts.0.ends", "2027-03-19T13:00:00+00:00"),
            "$.job.parts[0]: part 'mark-through' ends at 13:00, before it starts",
        ),
        (
            _set("job.rigs.0.builds.0.joints.0.parent", "CAGE-1"),
            "$.job.rigs[0].builds[0]: The joints go in a circle: CAGE-1 → CAGE-1",
        ),
        (
            _set("job.rigs.0.builds.0.joints.0.child_port", "toe"),
            "$.job.rigs[0].builds[0]: CAGE-1 has no port 'toe'; its ports are: to-body,",
        ),
        (_set("job.rigs.0.builds.0.body", "ghost"), "$.job.rigs[0].builds[0]: there is no unit 'ghost' in this file"),
        (_set("version", 3), "$.version: version 3 cannot be read here"),
        (
            _set("interfaces.13.flange_mm", None),
            "$.interfaces[13]: Interface 'pl', flange_mm: is missing; a lens mount lives by",
        ),
        (
            _set("models.0.ports.0.interface", "ghost"),
            "$.models[0].ports[0].interface: there is no interface 'ghost' here",
        ),
        (
            _set("models.0.ports.1.at", [-30, 0, 0]),
            "$.models[0].ports[1].at: 'bottom' lies 55 mm inside the body of orlop-c6",
        ),
        (
            _set("models.9.adapter.toward_part", "rear"),
            "$.models[9]: splice-pl-halyard, adapter: both its ends are 'rear'",
        ),
        (
            _set("models.2.lens.zoom.0.focal_mm", 60),
            "$.models[2].lens: zoom: the focal lengths 60, 35, 50, 72 mm are out of order",
        ),
        (
            _set(f"models.{G6}.gimbal.torque_nm", [0, 1, 1]),
            f"$.models[{G6}]: gantry-g6, gimbal.torque_nm (tilt): 0 N·m; a motor's torque is above zero",
        ),
        (_set(f"models.{G6}.gimbal.torque_nm", [1, 1]), f"$.models[{G6}].gimbal.torque_nm[2]: this is missing"),
        (
            _set(f"models.{G6}.gimbal.motor_constant", [0, 1, 1]),
            f"$.models[{G6}].gimbal.motor_constant[0]: is 0, should be greater than 0",
        ),
        (
            _set(f"models.{G6}.gimbal.fore_aft", {"min_mm": 40, "max_mm": -40}),
            f"$.models[{G6}]: gantry-g6, gimbal.fore_aft: travel from 40 to -40 mm; the lower end comes first",
        ),
        (
            _set("job.charging.chargers.0.unit", "C6-1"),
            "$.job.charging.chargers[0].unit: 'C6-1' is a body and charges nothing",
        ),
        (
            _set("job.charging.chargers.0.open.0.ends", "2027-03-19T12:00:00+00:00"),
            "$.job.charging.chargers[0].open[0]: mains ends at 12:00, before it starts",
        ),
        (
            _set("job.sound.voices.0.parts.0", "never"),
            "$.job.sound.voices[0].parts: there is no part of the day 'never'",
        ),
        (_set("job.sound.voices.0.thing", "moon"), "$.job.sound.voices[0].thing: there is no 'moon' on the plan"),
        (
            _set("job.sound.voices.0.sources.0.units.1", "GHOST-1"),
            "$.job.sound.voices[0].sources[0].units: there is no unit 'GHOST-1' in this file",
        ),
        (_set("job.sound.voices.0.wearer", ""), "$.job.sound.voices[0].wearer: 'radio to the rail' is clipped"),
        (_set("job.sound.voices.0.sources.0.khz", 12.5), "$.job.sound.voices[0].sources[0].khz: "),
        (
            _set("job.sound.voices.3.sources.0.plugs", ["ghost"]),
            "$.job.sound.voices[3].sources[0].plugs: there is no interface 'ghost' in this file",
        ),
        (_set("job.sound.bands.0.low_khz", 490_000), "$.job.sound.bands[0]: "),
        (
            _set("job.rigs.1.builds.0.bends", [{"unit": "ARM-1", "deg": [120]}]),
            "$.job.rigs[1].builds[0]: ARM-1 bends at its base ball from -90 to 90°; 120° is outside.",
        ),
        (_set("job.charging.walk_min", {"ghost": 3}), "$.job.charging.walk_min: there is no rig 'ghost'"),
        (
            _set(f"models.{PACK}.pack.capacity_ah", 0),
            f"$.models[{PACK}].pack.capacity_ah: is 0, should be greater than 0",
        ),
        (_set(f"models.{PACK}.pack.resistance_ohm"), f"$.models[{PACK}].pack.resistance_ohm: this is missing"),
        (
            _set(f"models.{STEP}.ports.{_OUT}.electrical.efficiency", 0),
            f"$.models[{STEP}].ports[{_OUT}].electrical.efficiency: is 0, should be greater than 0",
        ),
        (
            _set(f"models.{STEP}.ports.{_OUT}.electrical.efficiency", 1.2),
            f"$.models[{STEP}].ports[{_OUT}].electrical.efficiency: is 1.2, should be less than or equal to 1",
        ),
        (
            _set(f"models.{M7}.draw.record_w", -19),
            f"$.models[{M7}].draw.record_w: is -19, should be greater than or equal to 0",
        ),
        (
            _set(f"models.{QUAD}.charger.bays", 0),
            f"$.models[{QUAD}].charger.bays: is 0, should be greater than or equal to 1",
        ),
        (_set("format", "shopping-list"), "$.format: this is no Lift Crate job file"),
    ],
)
def test_errors_name_their_place(document: Document, change: Callable[[Document], None], expected: str) -> None:
    broken = copy.deepcopy(document)
    change(broken)
    with pytest.raises(BadJobFile) as caught:
        parse(json.dumps(broken).encode())
    assert any(str(problem).startswith(expected) for problem in caught.value.problems), [
        str(p) for p in caught.value.problems
    ]


def test_a_file_of_version_1_is_read_as_the_same_job(demo: JobFile, document: Document) -> None:
    old = copy.deepcopy(document)
    old["version"] = 1
    for model in old["models"]:
        cable = model.pop("cable", {})
        model |= {
            f"cable_{key}": cable[key] for key in cable if key in ("length_mm", "ohm_per_m", "max_a", "stiffness")
        }
    rods = next(i for i in old["interfaces"] if i["id"] == "rods-15")
    for figure in ("diameter_mm", "spacing_mm", "below_axis_mm"):
        del rods[figure]
    read = parse(json.dumps(old).encode())
    assert read.job == demo.job
    assert [m.cable.length_mm for m in read.models if m.cable] == [m.cable.length_mm for m in demo.models if m.cable]
    assert next(i for i in read.interfaces if i.id == "rods-15").spacing_mm == 60


def test_all_errors_are_listed_at_once(document: Document) -> None:
    broken = copy.deepcopy(document)
    for change in (_set("models.0.mass_g", "heavy"), _set("units.3.health", 7), _set("job.rigs.0.number", 0)):
        change(broken)
    with pytest.raises(BadJobFile) as caught:
        parse(json.dumps(broken).encode())
    assert {p.path for p in caught.value.problems} == {
        "$.models[0].mass_g",
        "$.units[3].health",
        "$.job.rigs[0].number",
    }


@pytest.mark.parametrize(
    ("raw", "says"),
    [
        (b"{", "this is not JSON"),
        (b'{"format": "lift-crate-job", "version": 1, "job": {"id": "x", "title": NaN}}', "this is not JSON"),
        (b" " * (MAX_BYTES + 5_000_000), "the file has 25.0 MB; a job file may have at most 20 MB"),
        (b"[1, 2]", "this is no Lift Crate job file"),
    ],
)
def test_what_is_no_job_file_at_all(raw: bytes, says: str) -> None:
    with pytest.raises(BadJobFile) as caught:
        parse(raw)
    assert says in caught.value.problems[0].message
