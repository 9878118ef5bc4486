"""Discharge against worked figures; voltages, plugs and hours on small rigs."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.bench.bench import Bench
from lift_crate.core.bench.remedies import remedies
from lift_crate.core.callouts import Level
from lift_crate.core.drawings.chain import chain_of, run_downs
from lift_crate.core.gear.electrical import Pack
from lift_crate.core.gear.model import GearModel
from lift_crate.core.power.discharge import (
    Branch,
    LoadTree,
    Volts,
    capacity_factor,
    discharge,
    pack_current_a,
    resistance_factor,
)
from lift_crate.core.rig.build import Build, Conditions, Unit
from lift_crate.core.rig.edits import Disconnect
from lift_crate.core.settings import Settings
from lift_crate.core.verdict.judge import Quick
from tests.kit import build, catalogue, model, port, quick_of

PACK = Pack(cells=4, capacity_ah=6.8, resistance_ohm=0.14)


def hours(
    load_w: float, cutoff_v: float = 12.0, temperature_c: float = 20.0, health: float = 1.0, scale: float | None = 1.0
) -> tuple[float, str]:
    def load(volts: Volts) -> tuple[Volts, dict[str, Volts]]:
        return load_w, {"camera": volts - cutoff_v}

    run = discharge(PACK, load, health=health, temperature_c=temperature_c, resistance_scale=scale)
    return run.hours, run.ended_by


@pytest.mark.parametrize(
    ("load_w", "cutoff_v", "temperature_c", "health", "expected", "ended_by"),
    [
        (33.30, 12.0, 20, 1.0, 2.75, "reserve"),
        (33.30, 12.0, 0, 0.85, 1.99, "reserve"),
        (50.00, 12.0, 20, 1.0, 1.81, "reserve"),
        (33.30, 14.2, 20, 1.0, 2.41, "camera"),
    ],
)
def test_simulated_hours(
    load_w: float, cutoff_v: float, temperature_c: float, health: float, expected: float, ended_by: str
) -> None:
    found, stopped_by = hours(load_w, cutoff_v, temperature_c, health)
    assert found == pytest.approx(expected, abs=5e-3)
    assert stopped_by == ended_by


@given(st.floats(5, 90), st.floats(1, 30), st.floats(-15, 30), st.floats(1, 15), st.floats(0.5, 0.95))
def test_hours_fall_with_draw_cold_and_age(
    load_w: float, more_w: float, warm_c: float, colder: float, health: float
) -> None:
    base = hours(load_w, temperature_c=warm_c, scale=None)[0]
    assert hours(load_w + more_w, temperature_c=warm_c, scale=None)[0] <= base
    assert hours(load_w, temperature_c=warm_c - colder, scale=None)[0] <= base + 1e-12
    assert hours(load_w, temperature_c=warm_c, health=health, scale=None)[0] < base + 1e-12


def test_a_pack_that_cannot_deliver_ends_at_once() -> None:
    assert hours(600, cutoff_v=0) == (0.0, "pack cannot deliver")


def test_power_at_the_pack_with_converters() -> None:
    """19 W at η .92 + 8.5 W at .90 + 3.2 W = 33.30 W; 2.31 A at 14.4 V."""
    camera, monitor = (
        Branch(name, LoadTree(w, ()), 12.0, eta, 0.0, 0.0)
        for name, w, eta in (("camera", 19.0, 0.92), ("monitor", 8.5, 0.90))
    )
    watts, margins = LoadTree(3.2, (camera, monitor)).at(np.array([14.4]))
    assert watts == pytest.approx(33.30, abs=5e-3)
    assert pack_current_a(np.array([14.4]), 0.0, watts) == pytest.approx(2.31, abs=5e-3)
    assert not margins, "what is behind a converter does not see the pack's voltage"


@pytest.mark.parametrize(
    ("health", "cycles", "left"),
    [(1.0, None, 1.0), (1.0, 0, 1.0), (1.0, 250, 0.9), (1.0, 500, 0.8), (1.0, 4000, 0.5), (0.93, 410, 0.93)],
)
def test_cycles_tell_the_health_that_nobody_measured(health: float, cycles: int | None, left: float) -> None:
    unit = Unit(id="old", model="pack", health=health, cycles=cycles)
    assert unit.health_left == pytest.approx(left)
    aged, fresh = (
        quick_of(
            build("body", "old.wedge > body.rear"), replace(SHELF, units={**SHELF.units, "old": u}), NEED, Settings()
        )
        .stand.runs[0]
        .hours
        for u in (unit, Unit(id="old", model="pack"))
    )
    assert aged == pytest.approx(left * fresh)


def test_temperature_factors_are_linear_between_their_points_and_held_outside() -> None:
    assert [capacity_factor(t) for t in (-30, -15, 5, 35)] == pytest.approx([0.5, 0.6, 0.9, 1.0])
    assert [resistance_factor(t) for t in (-20, 5, 15, 30)] == pytest.approx([3.5, 1.7, 1.2, 1.0])


def _in(min_v: float, max_v: float, **more: float | str) -> dict[str, object]:
    return {"role": "in", "min_v": min_v, "max_v": max_v, **more}


SHELF = catalogue(
    model(
        "body",
        1000,
        (0, 0, 0),
        port("rear", "wedge", "female", electrical=_in(11, 17, cutoff_v=11.5)),
        port("top", "screw", "female"),
        port("left", "screw", "female"),
        draw={"standby_w": 10, "record_w": 19, "peak_w": 22},
    ),
    model(
        "pack",
        700,
        (0, 0, 0),
        port("wedge", "wedge", "male", electrical={"role": "out", "max_a": 12}),
        port("tap", "tap", "female", electrical={"role": "out", "max_a": 3}),
        port("eight", "barrel", "female", electrical={"role": "out", "output_v": 8, "efficiency": 0.9}),
        pack={"cells": 4, "capacity_ah": 6.8, "resistance_ohm": 0.14},
    ),
    model(
        "monitor",
        300,
        (0, 0, 0),
        port("foot", "screw", "male"),
        port("dc", "barrel", "female", electrical=_in(7, 17)),
        port("tap", "tap", "female", electrical=_in(7, 17, polarity="centre −")),
        draw={"standby_w": 8, "record_w": 10, "peak_w": 12},
    ),
    model(
        "radio",
        200,
        (0, 0, 0),
        port("foot", "screw", "male"),
        port("dc", "barrel", "female", electrical=_in(6, 12)),
        draw={"standby_w": 2, "record_w": 3, "peak_w": 3},
    ),
    model(
        "lamp",
        200,
        (0, 0, 0),
        port("foot", "screw", "male"),
        port("dc", "barrel", "female", electrical=_in(7, 17)),
        draw={"standby_w": 1, "record_w": 36, "peak_w": 44},
    ),
    model("wide", 40, None, port("a", "tap", "male"), port("b", "barrel", "male"), cable={"length_mm": 300}),
    model(
        "cord",
        40,
        None,
        port("a", "tap", "male"),
        port("b", "barrel", "male"),
        cable={"length_mm": 600, "ohm_per_m": 0.0842},
    ),
    model("short", 40, None, port("a", "barrel", "male"), port("b", "barrel", "male"), cable={"length_mm": 300}),
    model("tapcord", 40, None, port("a", "tap", "male"), port("b", "tap", "male"), cable={"length_mm": 300}),
    units=[Unit(id="old", model="pack", health=0.7)],
)
NEED = Conditions(temperature_c=20, hours_needed=2.0)


def judge(rig: Build, conditions: Conditions = NEED) -> Quick:
    return quick_of(rig, SHELF, conditions, Settings())


def levels(judged: Quick) -> dict[str, Level]:
    return {f.code: f.level for f in judged.findings if f.code.startswith("power.")}


def test_hours_are_shared_between_what_hangs_on_one_pack() -> None:
    alone = judge(build("body", "pack.wedge > body.rear")).stand.runs[0]
    both = judge(
        build("body", "pack.wedge > body.rear", "monitor.foot > body.top", links=["cord: pack.tap > monitor.dc"])
    ).stand.runs[0]
    assert both.feeds == ("body", "monitor")
    assert both.hours < alone.hours * 19 / 28
    drop = 2 * 0.6 * 0.0842
    amps = 10 / (both.discharge.terminal_v[0] - 10 / both.discharge.terminal_v[0] * drop)
    assert both.load_w == pytest.approx(29 + amps**2 * drop, abs=0.01)


def test_a_current_is_that_of_the_voltage_behind_its_own_cable() -> None:
    """40 W through 0.253 Ω at 13.78 V: 3.077 A, and not 40/13.78 = 2.903
    A; what arrives times the amps is what is drawn.
    """
    lead = model(
        "lead",
        40,
        None,
        port("a", "tap", "male"),
        port("b", "barrel", "male"),
        cable={"length_mm": 1000, "ohm_per_m": 0.1265},
    )
    heater = model(
        "heater",
        200,
        (0, 0, 0),
        port("foot", "screw", "male"),
        port("dc", "barrel", "female", electrical=_in(7, 17)),
        draw={"standby_w": 1, "record_w": 40, "peak_w": 40},
    )
    rig = build("body", "pack.wedge > body.rear", "heater.foot > body.top", links=["lead: pack.tap > heater.dc"])
    graph = quick_of(rig, catalogue(*SHELF.models.values(), lead, heater), NEED, Settings()).stand.graph
    flow = {feed.sink: flow for feed, flow in graph.flows("pack", 13.78, {}).items()}["heater"]
    assert flow.amps == pytest.approx(3.077, abs=1e-3)
    assert flow.amps * flow.arriving_v == pytest.approx(40)
    assert flow.drop_v == pytest.approx(flow.amps * 0.253)


def test_a_peak_current_is_judged_at_the_end_of_charge_and_one_device_at_a_time() -> None:
    """A lamp of 36 W that rises to 44 W behind the pack's 3 A tap; the
    camera's peak of 3 W more is not at the same moment.
    """
    rig = build("body", "pack.wedge > body.rear", "lamp.foot > body.top", links=["cord: pack.tap > lamp.dc"])
    judged = judge(rig, Conditions(temperature_c=20, hours_needed=0.1))
    over = next(f for f in judged.findings if f.code == "power.current" and "lamp" in f.about.units)
    run, ohm = judged.stand.runs[0], 2 * 0.6 * 0.0842

    def amps(volts: float, watts: float, behind: float) -> float:
        return float((volts - np.sqrt(volts**2 - 4 * behind * watts)) / (2 * behind))

    # By halving: the pack's voltage at which lamp and camera take what the pack gives there.
    low, high = 8.0, 17.0
    open_v = float(run.discharge.terminal_v[-1] + run.discharge.current_a[-1] * 0.14)
    for _ in range(80):
        middle = (low + high) / 2
        given = open_v - 0.14 * (amps(middle, 44, ohm) + 19 / middle)
        low, high = (middle, high) if given > middle else (low, middle)
    assert over.value == pytest.approx(amps(low, 44, ohm), rel=5e-3), "half a step of charge apart"
    assert over.value is not None
    assert over.value > amps(low, 44, ohm) - 1e-6, "at the reserve, below the last step"


def test_cable_drop() -> None:
    """24 AWG, 0.6 m, 2.5 A: 0.253 V."""
    feed = judge(
        build("body", "pack.wedge > body.rear", "monitor.foot > body.top", links=["cord: pack.tap > monitor.dc"])
    ).stand.graph.feed_of("monitor")
    assert feed
    assert 2.5 * feed.ohm == pytest.approx(0.253, abs=5e-4)


def test_currents_are_judged_at_peak_and_at_the_end_of_charge() -> None:
    """36 W in record is 2.7 A from 13.4 V; the 44 W peak is what the 3 A outlet is judged by."""
    rig = build("body", "pack.wedge > body.rear", "lamp.foot > body.top", links=["wide: pack.tap > lamp.dc"])
    found = {f.about.port: f for f in judge(rig).findings if f.code == "power.current"}
    assert set(found) == {"outlet"}
    run = judge(rig).stand.runs[0]
    assert run.discharge.end_charge == pytest.approx(0.1)
    assert found["outlet"].value == pytest.approx(by_bisection(0.1, 19, 44, 0.0), abs=1e-3)


def by_bisection(charge: float, beside_w: float, device_w: float, cable_ohm: float) -> float:
    """Current of a device behind a cable on the 4-cell pack of the shelf with
    something beside it, by halving intervals of both voltages.
    """
    open_v, ohm = 4 * float(np.interp(charge, [0.05, 0.1, 0.2], [3.35, 3.50, 3.62])), 0.14

    def at_device(pack_v: float) -> float:
        low, high = pack_v / 2, pack_v
        for _ in range(80):
            middle = (low + high) / 2
            low, high = (low, middle) if middle + device_w / middle * cable_ohm > pack_v else (middle, high)
        return device_w / low

    low, high = open_v / 2, open_v
    for _ in range(80):
        middle = (low + high) / 2
        taken = beside_w / middle + at_device(middle)
        low, high = (low, middle) if middle + taken * ohm > open_v else (middle, high)
    return at_device(low)


def test_what_a_pack_cannot_deliver_at_peak_goes_dark() -> None:
    """A 14 V cell stack behind 2.4 Ω gives 20.4 W at most: enough to record on, not for the 22 W peak."""
    weak = catalogue(
        model(
            "body",
            1000,
            (0, 0, 0),
            port("rear", "wedge", "female", electrical=_in(1, 17)),
            draw={"standby_w": 10, "record_w": 19, "peak_w": 22},
        ),
        model(
            "pack",
            700,
            (0, 0, 0),
            port("wedge", "wedge", "male", electrical={"role": "out"}),
            pack={"cells": 4, "capacity_ah": 6.8, "resistance_ohm": 2.4},
        ),
    )
    judged = quick_of(build("body", "pack.wedge > body.rear"), weak, NEED, Settings())
    assert [f.level for f in judged.findings if f.about.port == "peak"] == [Level.STOP]


@pytest.mark.parametrize(
    ("rig", "code", "level", "says"),
    [
        (
            build("body", "pack.wedge > body.rear", "radio.foot > body.top", links=["cord: pack.tap > radio.dc"]),
            "power.over_voltage",
            Level.STOP,
            "up to 16.8 V; it takes at most 12.0 V",
        ),
        (
            build("body", "pack.wedge > body.rear", "radio.foot > body.top"),
            "power.unfed",
            Level.STOP,
            "Nothing feeds radio (3.0 W); its inputs: 'dc'.",
        ),
        (
            build(
                "body", "pack.wedge > body.rear", "monitor.foot > body.top", links=["tapcord: pack.tap > monitor.dc"]
            ),
            "power.connector",
            Level.STOP,
            "end 'b' of tapcord does not mate with 'dc' of monitor",
        ),
        (
            build(
                "body", "pack.wedge > body.rear", "monitor.foot > body.top", links=["tapcord: pack.tap > monitor.tap"]
            ),
            "power.connector",
            Level.STOP,
            "the outlet of pack is standard, the input of monitor wants centre −",
        ),
        (
            build("body", "old.wedge > body.rear", "monitor.foot > body.top", links=["cord: old.tap > monitor.dc"]),
            "power.hours",
            Level.WATCH,
            "2.00 h needed without a swap",
        ),
    ],
)
def test_findings(rig: Build, code: str, level: Level, says: str) -> None:
    found = [f for f in judge(rig).findings if f.code == code]
    assert [f.level for f in found] == [level]
    assert says in found[0].text


def test_a_regulated_outlet_makes_the_radio_safe_and_a_low_one_starves_what_needs_more() -> None:
    safe = judge(
        build("body", "pack.wedge > body.rear", "radio.foot > body.top", links=["short: pack.eight > radio.dc"])
    )
    assert "power.over_voltage" not in levels(safe)
    assert safe.stand.runs[0].load_w == pytest.approx(19 + 3 / 0.9)
    cold = judge(build("body", "pack.wedge > body.rear"), Conditions(temperature_c=-10, hours_needed=4))
    assert levels(cold)["power.hours"] is Level.STOP


STEPS = [[5, 3], [9, 3], [15, 2]]


@pytest.mark.parametrize(
    ("asked", "peak_w", "expected"),
    [
        ([[5, 3], [9, 2]], 10, 9.0),
        ([[5, 3], [9, 2]], 17, 9.0),
        ([[5, 3], [9, 2]], 20, None),
        ([[15, 3], [20, 3]], 29, 15.0),
        ([[15, 3]], 31, None),
        ([[12, 3]], 5, None),
    ],
)
def test_a_negotiated_supply_gives_the_highest_step_that_both_know_and_that_carries_the_peak(
    asked: list[list[float]], peak_w: float, expected: float | None
) -> None:
    outlet = {"role": "out", "output_v": 5, "steps": STEPS}
    supply = model(
        "supply", 100, (0, 0, 0), port("foot", "screw", "male"), port("out", "tap", "female", electrical=outlet)
    )
    box = model(
        "box",
        100,
        (0, 0, 0),
        port("top", "screw", "female"),
        port("in", "tap", "female", electrical={"role": "in", "min_v": 4.5, "max_v": 21, "steps": asked}),
        draw={"standby_w": 1, "record_w": peak_w / 2, "peak_w": peak_w},
    )
    wire = model(
        "wire",
        20,
        None,
        port("a", "tap", "male"),
        port("b", "tap", "male"),
        kind="cable",
        cable={"length_mm": 500, "ohm_per_m": 0.02},
    )
    judged = quick_of(
        build("box", "supply.foot > box.top", links=("wire: supply.out > box.in",)),
        catalogue(supply, box, wire),
        Conditions(),
        Settings(),
    )
    feed = judged.stand.graph.feeds[0]
    assert feed.connects is (expected is not None)
    if expected is not None:
        assert feed.volts == expected
        chain = chain_of(judged)
        edge = next(e for e in chain.edges if e.feed is feed)
        assert edge.volts
        assert edge.amps == pytest.approx(peak_w / 2 / edge.volts, rel=1e-3)
        assert chain.watts == pytest.approx(edge.watts)
        assert judged.stand.runs == (), "mains does not run down"
    else:
        assert {f.code for f in judged.findings if f.level is Level.STOP} >= {"power.connector"}


def test_two_sources_on_one_cable_are_stopped_and_the_cable_comes_off() -> None:
    def source(name: str) -> GearModel:
        return model(
            name,
            100,
            (0, 0, 0),
            port("foot", "screw", "male"),
            port("top", "screw", "female"),
            port("out", "tap", "female", electrical={"role": "out"}),
            pack={"cells": 4, "capacity_ah": 6, "resistance_ohm": 0.1},
            kind="pack",
        )

    wire = model(
        "wire",
        20,
        None,
        port("a", "tap", "male"),
        port("b", "tap", "male"),
        kind="cable",
        cable={"length_mm": 500, "ohm_per_m": 0.02},
    )
    judged = quick_of(
        build("one", "two.foot > one.top", links=("wire: one.out > two.out",)),
        catalogue(source("one"), source("two"), wire),
        Conditions(),
        Settings(),
    )
    found = next(f for f in judged.findings if f.code == "power.two_sources")
    assert found.level is Level.STOP
    best = remedies(Bench(judged.stand), found)[0]
    assert best.clears
    assert isinstance(best.operations[0], Disconnect)


def twin_plate(way: str, *packs: tuple[str, float], stops_at: float = 11) -> Quick:
    """A camera of 40 W on a plate for two packs of 4 cells, 6 Ah and 0.1 ohm, of a health each."""

    def pack(name: str) -> GearModel:
        return model(
            name,
            700,
            (0, 0, 0),
            port("back", "wedge", "male", electrical={"role": "out"}),
            pack={"cells": 4, "capacity_ah": 6, "resistance_ohm": 0.1},
            kind="pack",
        )

    taken = {"role": "in", "min_v": 11, "max_v": 17}
    plate = model(
        "plate",
        300,
        (0, 0, 0),
        port("one", "wedge", "female", (0, 0, 0), electrical=taken),
        port("two", "wedge", "female", (0, 80, 0), electrical=taken),
        port("out", "wedge", "male", electrical={"role": "out"}),
        twin=way,
    )
    camera = model(
        "camera",
        1500,
        (0, 0, 0),
        port("rear", "wedge", "female", electrical={"role": "in", "min_v": stops_at, "max_v": 17}),
        kind="body",
        draw={"standby_w": 10, "record_w": 40, "peak_w": 45},
    )
    joints = [f"{name}.back > plate.{place}" for (name, _), place in zip(packs, ("one", "two"), strict=False)]
    units = [Unit(id=name, model=name, health=health) for name, health in packs]
    return quick_of(
        build("camera", "plate.out > camera.rear", *joints),
        catalogue(plate, camera, *(pack(name) for name, _ in packs), units=units),
        Conditions(),
        Settings(),
    )


def test_packs_that_share_last_longer_than_one_after_the_other_and_neither_is_shared_twice() -> None:
    one, in_turn, parallel = (
        twin_plate(*given).stand.runs
        for given in (
            ("in turn", ("p", 1.0)),
            ("in turn", ("p", 1.0), ("q", 0.5)),
            ("parallel", ("p", 1.0), ("q", 0.5)),
        )
    )
    assert [len(runs) for runs in (one, in_turn, parallel)] == [1, 1, 1]
    assert in_turn[0].hours == pytest.approx(one[0].hours * 1.5, rel=1e-6)
    assert in_turn[0].hours < parallel[0].hours < in_turn[0].hours * 1.05, (
        "the same energy, less lost in the resistance"
    )
    assert in_turn[0].partners == ("q",)
    assert in_turn[0].energy_wh == pytest.approx(2 * one[0].energy_wh)
    for way, found in (("in turn", in_turn[0]), ("parallel", parallel[0])):
        curve = run_downs(twin_plate(way, ("p", 1.0), ("q", 0.5)).stand)[0]
        assert curve.curve[-1][0] == pytest.approx(found.hours, rel=0.03), "as it is drawn"
        assert curve.by_energy_h == pytest.approx(1.5 * 4 * 3.6 * 6 * 0.9 / found.load_w)
        assert curve.standby_h is not None
        assert curve.standby_h > 3 * found.hours, "10 W instead of 40"
    like = run_downs(twin_plate("in turn", ("p", 1.0), ("q", 1.0), stops_at=14.4).stand)[0]
    assert [c.unit for c in like.cut_outs] == ["camera"], "once, on the last of two alike"
    assert like.cut_outs[0].hours == pytest.approx(like.hours, rel=0.02)
    alone, shared = (
        twin_plate("parallel", *packs).stand.graph.pack_at("p", 0.5, {}, 20)[0]
        for packs in ([("p", 1.0)], [("p", 1.0), ("q", 0.5)])
    )
    assert 4 * 3.77 - shared == pytest.approx((4 * 3.77 - alone) / 2, rel=0.02), (
        "half the current through each sags half as much"
    )
    chain = chain_of(twin_plate("parallel", ("p", 1.0), ("q", 0.5)))
    assert {n.unit: n.volts is not None for n in chain.nodes} == {"p": True, "q": True, "plate": True, "camera": True}
