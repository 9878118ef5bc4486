"""Patterns: every kind from its first questions, asked figures unchanged, worked figures, and a rig of nothing else."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from lift_crate.core.callouts import Level
from lift_crate.core.gear.check import contradictions
from lift_crate.core.gear.interface import Interface
from lift_crate.core.gear.model import GearModel
from lift_crate.core.gear.patterns import PATTERNS, BadAnswers, Known, Made, NoSuchPattern, Question, model_by
from lift_crate.core.gear.solids import Round, solids_of
from lift_crate.core.rig.build import Catalogue, Conditions, Unit
from lift_crate.core.settings import Settings
from lift_crate.core.stand import stand_of
from lift_crate.core.verdict.judge import whole
from lift_crate.formats.standards import standard_interfaces
from tests.kit import examples

from ... import kit

MOUNT = Interface(
    id="own",
    label="Own mount",
    kind="lens",
    female="body mount",
    male="lens mount",
    spins_deg=(0,),
    flange_mm=18.5,
    throat_mm=50,
    contacts=("autofocus", "electronic iris"),
)
SLOT = Interface(id="slot", label="own slot", kind="battery", female="slot", male="pack", carries_power=True)
KNOWN = Known({i.id: i for i in (*standard_interfaces(), MOUNT, SLOT)}, {})
BODY: dict[str, Any] = {
    "name": "body",
    "mount": "own",
    "mass_g": 700,
    "inputs": [{"plug": "wedge", "min_v": 11, "max_v": 17, "max_a": 8, "face": "rear"}],
    "sockets": [{"socket": "bnc", "way": "out", "gbps": 12}, {"socket": "xlr-3", "way": "in", "phantom": "gives"}],
}
LEAST: dict[str, dict[str, Any]] = {
    "body": BODY,
    "lens": {"mount": "own", "from_mm": 24, "to_mm": 90, "front": "thread-m82"},
    "lens adapter": {"rear": "own", "front": "pl", "carries": []},
    "mount plate": {"rear": "own", "front": "pl"},
    "filter": {"on": "thread-m82"},
    "ring": {"rear": "thread-m77", "front": "thread-m82"},
    "pack": {"family": "wedge", "wh": 98, "max_a": 12, "mass_g": 620},
    "battery plate": {"family": "wedge", "min_v": 11, "max_v": 17, "max_a": 14},
    "charger": {"family": "wedge", "bay_w": 60},
    "supply": {"output_v": 8, "max_a": 3, "min_v": 11, "max_v": 17},
    "cable": {"a": "tap-2", "b": "barrel-2.1", "length_m": 0.5},
    "gimbal": {"payload_to_g": 3000},
    "mount": {"pull_n": 400},
    "card": {"slot": "fast card"},
}

TOGETHER: dict[tuple[str, str], dict[str, Any]] = {
    ("lens adapter", "factor"): {"optics": "reducer"},
    ("gimbal", "payload_from_g"): {"payload_to_g": 40_000},
    ("supply", "lead_m"): {"kind": "mains adapter"},
}
"""Figures that only some of a kind have."""
DOCUMENT = TypeAdapter(GearModel)


def made(kind: str, /, **answers: Any) -> Made:
    models = {"a-body": model_by("body", BODY, KNOWN).model}
    given = {"name": kind, **LEAST.get(kind, {}), **answers}
    if kind == "cage":
        given.setdefault("body", "a-body")
    return model_by(kind, given, Known(KNOWN.interfaces, models))


def skin_mm(model: GearModel, at: Any) -> float:
    """How far a point is from the nearest solid, outside it; independent of the check in the core."""
    best = math.inf
    for shape in model.shapes:
        row = solids_of((shape,))
        p = row.frame[0] @ (np.asarray(at, dtype=float) - row.centre_mm[0])
        half = row.half_mm[0]
        if isinstance(shape, Round):
            out = math.hypot(max(0.0, abs(p[0]) - half[0]), max(0.0, float(np.hypot(p[1], p[2])) - half[1]))
        else:
            out = float(np.linalg.norm(np.maximum(0.0, np.abs(p) - half)))
        best = min(best, out)
    return best


@pytest.mark.parametrize("kind", PATTERNS)
def test_the_first_questions_make_a_whole_model(kind: str) -> None:
    model = made(kind).model
    assert list(contradictions(model, KNOWN.interfaces)) == []
    assert model.cg_outside_mm == 0
    if model.shapes and not model.is_cable:
        # Rods are held between the two of them.
        assert [p.id for p in model.ports if kind != "rods" and skin_mm(model, p.at) > 3.1] == []
    document = DOCUMENT.dump_python(model, mode="json", exclude_defaults=True)
    assert DOCUMENT.validate_python(document) == model
    if model.mass_g is not None:
        assert model.mass_source == ("catalogue" if "mass_g" in LEAST.get(kind, {}) else "assumed")


def numbers_of(kind: str) -> list[Question]:
    return [q for q in PATTERNS[kind].asked if q.kind == "number" and q.field and q.low is not None]


@pytest.mark.parametrize("kind", [kind for kind in PATTERNS if numbers_of(kind)])
@settings(max_examples=examples(12))
@given(data=st.data())
def test_what_was_asked_comes_back_unchanged(kind: str, data: st.DataObject) -> None:
    q = data.draw(st.sampled_from(numbers_of(kind)))
    assert q.low is not None
    assert q.high is not None
    value = round(data.draw(st.floats(q.low, q.high)), 3)
    if not q.low <= value <= q.high or value == 0:
        return
    result = made(kind, **{q.key: value, **TOGETHER.get((kind, q.key), {})})
    at: Any = DOCUMENT.dump_python(result.model)
    for step in q.field.split("."):
        at = at[step]
    assert at == pytest.approx(value)
    assert q.field not in result.model.assumed
    assert result.doubts == ()


def test_packs_cables_rods_and_motors_as_worked_by_hand() -> None:
    big = made("pack", wh=98, nominal_v=14.4).model.pack
    small = made("pack", family="slot", wh=16, nominal_v=7.2).model.pack
    assert big
    assert small
    assert (big.cells, round(big.capacity_ah, 2), round(big.resistance_ohm, 3)) == (4, 6.50, 0.122)
    assert (small.cells, round(small.capacity_ah, 2), round(small.resistance_ohm, 3)) == (2, 2.12, 0.188)
    assert made("rods", length_mm=300).model.mass_g == pytest.approx(2 * 0.286 * 300, abs=1)
    assert made("rods", length_mm=450, thick="19 mm").model.mass_g == pytest.approx(2 * 1.02 * 450, abs=1)
    gimbal = made("gimbal", torque_nm=0.45).model.gimbal
    assert gimbal
    assert gimbal.motor_constant
    assert round(gimbal.motor_constant[0], 3) == 0.159
    assert made("cable", length_m=1, lies="thin").model.mass_g == 20 + 12 + 8
    stiff = made("cable", a="xlr-3", b="xlr-3", length_m=5, lies="stiff").model
    assert stiff.mass_g == 5 * 75 + 2 * 25
    assert stiff.cable
    assert stiff.cable.ohm_per_m == 0
    assert [p.gender for p in stiff.ports] == ["female", "male"]
    weight = made("counterweight", mass_g=250).model
    volume = sum(math.pi * s.radius_mm**2 * abs(s.barrel[1][2]) for s in weight.shapes if isinstance(s, Round))
    assert 250 / volume * 1000 == pytest.approx(7.9, abs=0.01)


def test_a_zoom_that_is_fast_balances_further_forward_and_moves_with_the_logarithm() -> None:
    fast = made("lens", from_mm=25, to_mm=100, stop=2.8, length_mm=200, cg_moves_mm=20).model
    slow = made("lens", from_mm=25, to_mm=100, stop=4, length_mm=200, cg_mm=91).model
    assert fast.cg_mm == pytest.approx((110, 0, 0))
    assert slow.cg_mm == pytest.approx((91, 0, 0))
    assert fast.lens
    assert fast.lens.cg_at(50) == pytest.approx((120, 0, 0))
    assert "cg_mm" in fast.assumed
    assert "cg_mm" not in slow.assumed
    t = made("lens", stop=2.2, stop_is="T").model.lens
    assert t
    assert t.t_stop == 2.2
    assert t.stop < 2.2


def test_an_adapter_is_as_long_as_the_flange_distances_differ_and_loses_what_it_does_not_carry() -> None:
    front = made("lens adapter", carries=["autofocus"], front={"label": "Old mount", "flange_mm": 44.5})
    assert front.model.port("front").at[0] == pytest.approx(44.5 - 18.5)
    assert [i.id for i in front.interfaces] == ["old-mount"]
    assert front.model.adapter
    assert front.model.adapter.loses == ()
    with pytest.raises(BadAnswers, match="no room for anything between them"):
        made("lens adapter", rear="pl", front="own")
    reducer = made("lens adapter", rear="own", front="pl", optics="reducer", factor=0.71, length_mm=20).model
    assert reducer.adapter
    assert reducer.adapter.factor == 0.71


@pytest.mark.parametrize(
    ("kind", "answers", "key", "says"),
    [
        ("lens", {"from_mm": None}, "from_mm", "Enter focal length, from in mm."),
        ("lens", {"from_mm": 90, "to_mm": 24}, "to_mm", "90 to 24 mm: the shortest focal length comes first."),
        ("lens", {"mount": "nothing"}, "mount", "Lens mount: there is no 'nothing' to choose."),
        ("lens", {"mount": {"label": "Own", "flange_mm": 20}}, "mount", "'Own mount' is there already"),
        ("lens", {"mount": {"label": "Odd", "flange_mm": 500}}, "mount", "flange distances lie between 1 and 120 mm"),
        ("lens", {"length_mm": -3}, "length_mm", "Length, flange to front is -3 mm; usual is 15 to 900 mm."),
        ("lens", {"length_mm": "long"}, "length_mm", "enter a number in mm"),
        ("lens", {"mass_g": float("nan")}, "mass_g", "enter a number"),
        ("lens", {"colour": "red"}, "colour", "There is no question 'colour' here."),
        ("lens", {"rings": [{"at_mm": 300}]}, "rings.0.at_mm", "The ring is 300 mm from the mount"),
        ("lens", {"rings": 7}, "rings", "is a list"),
        ("body", {"points": [{"what": "shoe", "face": "top", "y": 90}]}, "points.0.y", "90 mm is off it"),
        ("body", {"inputs": [{"plug": "wedge", "min_v": 17, "max_v": 11}]}, "inputs.0.max_v", "lower voltage comes"),
        ("body", {"name": " "}, "name", "needs words"),
        ("body", {"areas": []}, "areas", "at least one recorded area"),
        ("body", {"screen": "holographic"}, "screen", "choose one of: none, fixed"),
        ("body", {"touch_focus": "yes"}, "touch_focus", "yes or no"),
        ("charger", {"bay_w": None}, "bay_w", "Enter into a bay in W."),
        ("gimbal", {"payload_to_g": None}, "payload_to_g", "Enter payload to in g."),
        ("mount", {"pull_n": None}, "pull_n", "Enter what one point holds"),
        ("case", {"in_l_mm": 900}, "in_l_mm", "do not go into"),
        ("filter", {"stops": 5, "stops_to": 2}, "stops_to", "the fewer come first"),
        ("gimbal", {"payload_from_g": 5000, "payload_to_g": 3000}, "payload_from_g", "the least comes below"),
        ("cage", {"body": "nothing"}, "body", "there is no model 'nothing'"),
        ("ring", {"front": "thread-m77"}, "front", "leads from one size to another"),
    ],
)
def test_bad_answers_say_which_what_and_what_would_be_right(
    kind: str, answers: dict[str, Any], key: str, says: str
) -> None:
    with pytest.raises(BadAnswers) as error:
        made(kind, **answers)
    assert [message for k, message in error.value.problems if k == key and says in message], error.value.problems


def test_what_is_not_believed_is_asked_once_more_and_not_refused() -> None:
    heavy = made("microphone", mass_g=40_000)
    assert heavy.model.mass_g == 40_000
    assert heavy.doubts == (("mass_g", "Mass is 40000 g; usual is 5 to 1200 g."),)
    with pytest.raises(NoSuchPattern, match="there are: body, lens"):
        model_by("zeppelin", {}, KNOWN)


def test_voltages_currents_and_ratings_are_never_assumed() -> None:
    body = made("body", inputs=[{"plug": "wedge"}]).model
    plate = next(p for p in body.ports if p.electrical)
    assert plate.electrical
    assert (plate.electrical.min_v, plate.electrical.max_v, plate.electrical.max_a) == (None,) * 3
    head, arm = made("head").model, made("arm").model
    assert head.support
    assert head.support.max_payload_g is None
    assert arm.port("tip").load_n is None


def test_a_rig_of_nothing_but_patterns_is_judged_by_every_check() -> None:
    body = model_by("body", {**BODY, "name": "C1", "bottom_pins": True}, KNOWN).model
    known = Known(KNOWN.interfaces, {body.id: body})

    def of(kind: str, name: str, **answers: Any) -> GearModel:
        return model_by(kind, {"name": name, **LEAST.get(kind, {}), **answers}, known).model

    models = [
        body,
        of("lens", "L1", mass_g=800),
        of("cage", "cage", body=body.id),
        of("base plate", "base", rods="15 mm"),
        of("base plate", "headplate", called="head plate", over="38 mm dovetail clamp"),
        of("head", "head", payload_g=8000),
        of("sticks", "sticks", bowl="75 mm bowl"),
        of("pack", "pack", outlets=[{"plug": "tap-2", "max_a": 5}]),
        of("handle", "handle"),
        of("arm", "arm", load_g=1500),
        of(
            "monitor",
            "screen",
            mass_g=300,
            inputs=[{"plug": "barrel-2.1", "min_v": 7, "max_v": 17, "max_a": 3}],
            sockets=[{"socket": "bnc", "way": "in", "gbps": 12}],
        ),
        of("cable", "feed", length_m=0.8, max_a=4),
        of("cable", "sdi", a="bnc", b="bnc", length_m=0.6, gbps=12),
    ]
    units = [Unit(id=m.name, model=m.id) for m in models]
    shelf = Catalogue(KNOWN.interfaces, {m.id: m for m in models}, {u.id: u for u in units})
    rig = kit.build(
        "C1",
        "L1.mount > C1.lens",
        "cage.to-body > C1.bottom",
        "base.top > cage.bottom",
        "headplate.top > base.under",
        "head.clamp > headplate.under",
        "sticks.bowl > head.base",
        "pack.contacts > C1.plate",
        "handle.base > cage.rail",
        "arm.base > handle.front",
        "screen.foot > arm.tip",
        links=["sdi: C1.picture-out > screen.picture-in", "feed: pack.out > screen.dc"],
    )
    stand = stand_of(rig, shelf, Conditions(temperature_c=15, hours_needed=0.5), Settings(), {}, None)
    found = whole(stand).findings
    assert [f.text for f in found if f.level is Level.STOP or f.code in ("gear.incomplete", "fit.interface")] == []
    assert {"power.hours", "stand.tips"} <= {f.code for f in found}
