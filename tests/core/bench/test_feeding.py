"""A wrong link and the shortest safe chain in its place: cables, packs, dummy
packs, converters, plates, mains adapters, feeds exchanged.
"""

from __future__ import annotations

from dataclasses import replace

import pytest

from lift_crate.core.bench.bench import Bench, spares_of
from lift_crate.core.bench.feeding import ways_to_feed
from lift_crate.core.bench.remedies import remedies
from lift_crate.core.callouts import Finding, Level
from lift_crate.core.gear.model import GearModel
from lift_crate.core.rig.build import Build, Claim, Conditions, Target, Unit
from lift_crate.core.rig.edits import apply_all
from lift_crate.core.settings import Settings
from tests.kit import build, catalogue, model, port, quick_of

OUT = {"role": "out"}


def takes(low: float, high: float, **more: object) -> dict[str, object]:
    return {"role": "in", "min_v": low, "max_v": high, **more}


BODY = model(
    "body",
    1000,
    (0, 0, 0),
    port("rear", "wedge", "female", electrical=takes(11, 17)),
    *(port(f"top-{i}", "screw", "female", (0, 60 * i, 0)) for i in range(4)),
    draw={"standby_w": 10, "record_w": 19, "peak_w": 22},
    kind="body",
)
PACK = model(
    "pack",
    700,
    (0, 0, 0),
    port("wedge", "wedge", "male", electrical=OUT),
    port("tap", "tap", "female", electrical=OUT),
    pack={"cells": 4, "capacity_ah": 6.8, "resistance_ohm": 0.1},
    kind="pack",
)
EIGHT = model(
    "eight",
    60,
    (0, 0, 0),
    port("foot", "screw", "male"),
    port("in", "tap", "female", electrical=takes(10, 18)),
    port("out", "barrel", "female", electrical={"role": "out", "output_v": 8, "efficiency": 0.9}),
    kind="converter",
)
RADIO = model(
    "radio",
    200,
    (0, 0, 0),
    port("foot", "screw", "male"),
    port("dc", "barrel", "female", electrical=takes(6, 12)),
    draw={"standby_w": 2, "record_w": 3, "peak_w": 3},
)
MONITOR = model(
    "monitor",
    300,
    (0, 0, 0),
    port("foot", "screw", "male"),
    port("dc", "barrel", "female", electrical=takes(7, 17)),
    draw={"standby_w": 8, "record_w": 10, "peak_w": 12},
)
SMALL = model(
    "small",
    300,
    (0, 0, 0),
    port("foot", "screw", "male"),
    port("slot", "cell", "female", electrical=takes(6, 8.6, approves=["own"])),
    draw={"standby_w": 4, "record_w": 6, "peak_w": 7},
)
DUMMY = model(
    "dummy",
    40,
    (0, 0, 0),
    port("contacts", "cell", "male", electrical=OUT),
    port("in", "barrel", "female", electrical=takes(6, 8.6)),
    kind="dummy pack",
)
PLATE = model(
    "plate",
    250,
    (0, 0, 0),
    port("foot", "screw", "male"),
    port("pack", "wedge", "female", electrical=takes(11, 17)),
    port("tap", "tap", "female", electrical=OUT),
    kind="battery plate",
)
MAINS = model(
    "mains",
    600,
    (0, 0, 0),
    port("foot", "screw", "male"),
    port("out", "barrel", "female", electrical={"role": "out", "output_v": 12.0, "max_a": 5}),
    kind="mains adapter",
)
TAP = model(
    "tapcord", 40, None, port("a", "tap", "male"), port("b", "barrel", "male"), kind="cable", cable={"length_mm": 900}
)
TAPS = model(
    "taps", 40, None, port("a", "tap", "male"), port("b", "tap", "male"), kind="cable", cable={"length_mm": 900}
)
SHORT = model(
    "short", 30, None, port("a", "barrel", "male"), port("b", "barrel", "male"), kind="cable", cable={"length_mm": 900}
)
WRONG = build("body", "pack.wedge > body.rear", "radio.foot > body.top-0", links=["tapcord: pack.tap > radio.dc"])


def bench(rig: Build, *shelf: GearModel) -> Bench:
    judged = quick_of(
        rig, catalogue(BODY, PACK, RADIO, *shelf), Conditions(temperature_c=20, hours_needed=0.5), Settings()
    )
    return Bench(judged.stand)


def fault(on: Bench, sink: str) -> Finding:
    return next(
        f
        for f in on.quick.findings
        if f.code in ("power.over_voltage", "power.unfed", "power.connector") and sink in f.about.units
    )


@pytest.mark.parametrize(
    ("rig", "sink", "shelf", "does"),
    [
        (WRONG, "radio", (TAP, TAPS, SHORT, EIGHT), ["disconnect", "attach", "connect", "connect"]),
        (
            build(
                "body",
                "pack.wedge > body.rear",
                "small.foot > body.top-0",
                "eight.foot > body.top-1",
                links=["taps: pack.tap > eight.in"],
            ),
            "small",
            (TAPS, SHORT, EIGHT, SMALL, DUMMY),
            ["attach", "connect"],
        ),
        (build("body", "radio.foot > body.top-0"), "radio", (SHORT, MAINS), ["attach", "connect"]),
        (build("body", "pack.wedge > body.rear", "monitor.foot > body.top-0"), "monitor", (TAP, MONITOR), ["connect"]),
    ],
)
def test_the_shortest_chain_that_is_safe_comes_first(
    rig: Build, sink: str, shelf: tuple[GearModel, ...], does: list[str]
) -> None:
    on = bench(rig, *shelf)
    best = remedies(on, fault(on, sink))
    assert best[0].clears
    assert [op.op for op in best[0].operations] == does
    after = on.after(best[0].operations).quick
    assert not [
        f for f in after.findings if f.level is Level.STOP and f.code.startswith("power.") and sink in f.about.units
    ]
    feed = after.stand.graph.feed_of(sink)
    assert feed
    most = after.stand.graph.electrical(sink, feed.inlet).max_v
    gives = feed.volts or after.stand.graph.top_v(feed.source)
    assert most is not None
    assert gives is not None
    assert gives <= most


def test_two_feeds_are_exchanged_where_each_has_what_the_other_needs() -> None:
    """The monitor takes 7 to 17 V and sits on the 8 V outlet; the radio takes 12 V at most and sits on the pack."""
    both = model(
        "pack",
        700,
        (0, 0, 0),
        port("wedge", "wedge", "male", electrical=OUT),
        port("tap", "tap", "female", electrical=OUT),
        port("eight", "barrel", "female", electrical={"role": "out", "output_v": 8.0}),
        pack={"cells": 4, "capacity_ah": 6.8, "resistance_ohm": 0.1},
        kind="pack",
    )
    rig = build(
        "body",
        "pack.wedge > body.rear",
        "radio.foot > body.top-0",
        "monitor.foot > body.top-1",
        links=["tapcord: pack.tap > radio.dc", "short: pack.eight > monitor.dc"],
    )
    judged = quick_of(rig, catalogue(BODY, both, RADIO, MONITOR, TAP, SHORT), Conditions(), Settings())
    on = Bench(judged.stand)
    best = remedies(on, fault(on, "radio"))[0]
    assert best.clears
    after = on.after(best.operations).stand.graph
    assert {(f.outlet, f.sink, f.cable) for f in after.feeds if f.cable} == {
        ("eight", "radio", "short"),
        ("tap", "monitor", "tapcord"),
    }


def test_a_plate_with_its_own_pack_feeds_what_no_outlet_reaches() -> None:
    on = bench(build("body", "radio.foot > body.top-0", "monitor.foot > body.top-1"), PLATE, TAP, MONITOR)
    ways = list(ways_to_feed(on, "monitor"))
    assert [[op.op for op in steps] for steps in ways] == [["attach", "connect", "attach"]] * 2, (
        "at the two nearest places"
    )
    fed = quick_of(apply_all(on.build, ways[0], on.catalogue), on.catalogue, Conditions(), Settings()).stand.graph
    assert fed.downstream("pack") == ("plate", "monitor")


def test_two_things_stand_between_where_one_has_no_way() -> None:
    """The slot takes a dummy pack of 6 to 8.6 V; only a converter gives that, and only from the pack's own tap."""
    rig = build("body", "pack.wedge > body.rear", "small.foot > body.top-0")
    on = bench(rig, TAPS, SHORT, EIGHT, SMALL, DUMMY)
    best = remedies(on, fault(on, "small"))
    assert best[0].clears
    assert sorted(op.op for op in best[0].operations) == ["attach", "attach", "connect", "connect"]
    after = on.after(best[0].operations)
    assert after.stand.graph.downstream("pack") == ("body", "eight", "dummy", "small")
    without = bench(rig, TAPS, EIGHT, SMALL, DUMMY)
    assert not list(ways_to_feed(without, "small")), "no cable leads from the converter to the dummy pack"


def test_a_dummy_pack_that_the_maker_does_not_name_is_told_of() -> None:
    rig = build(
        "body",
        "pack.wedge > body.rear",
        "small.foot > body.top-0",
        "eight.foot > body.top-1",
        "dummy.contacts > small.slot",
        links=["taps: pack.tap > eight.in", "short: eight.out > dummy.in"],
    )
    judged = bench(rig, TAPS, SHORT, EIGHT, SMALL, DUMMY).quick
    found = [f for f in judged.findings if f.code == "power.not_named"]
    assert [(f.level, f.about.units) for f in found] == [(Level.WATCH, ("small", "dummy"))]
    assert judged.stand.graph.downstream("pack") == ("body", "eight", "dummy", "small")
    assert judged.stand.graph.load("pack", {}, judged.stand.runs[0].discharge.terminal_v[:1])[0][0] == pytest.approx(
        19 + 6 / 0.9
    )


def test_a_spare_is_sound_free_and_goes_in_its_place() -> None:
    other = model(
        "other",
        700,
        (0, 0, 0),
        port("wedge", "wedge", "male", electrical=OUT),
        pack={"cells": 4, "capacity_ah": 9, "resistance_ohm": 0.1},
        kind="pack",
    )
    small = model(
        "tiny",
        90,
        (0, 0, 0),
        port("contacts", "cell", "male", electrical=OUT),
        pack={"cells": 2, "capacity_ah": 2, "resistance_ohm": 0.1},
        kind="pack",
    )
    units = [
        Unit(id="second", model="pack"),
        Unit(id="third", model="pack", condition="doubtful"),
        Unit(id="taken", model="pack"),
    ]
    judged = quick_of(
        build("body", "pack.wedge > body.rear"),
        catalogue(BODY, PACK, other, small, units=units),
        Conditions(),
        Settings(),
        {"taken": Claim(unit="taken", rig="elsewhere", build="full", until="x")},
    )
    on = Bench(judged.stand)
    assert spares_of(on, "pack") == ("second", "other")
    assert spares_of(on, "body") == ()


@pytest.mark.parametrize(
    ("target", "stops"),
    [
        (None, []),
        (Target(distance_mm=5000), ["needs mains, and there is none"]),
        (Target(distance_mm=5000, mains_m=6), ["reaches 4 m; the mains are 6 m away"]),
        (Target(distance_mm=5000, mains_m=3), []),
    ],
)
def test_mains_must_be_there_and_something_must_stand_behind_it(target: Target | None, stops: list[str]) -> None:
    wall = replace(MAINS, mains_lead_m=4.0)
    cell = replace(
        PLATE,
        id="cell-plate",
        pack=PACK.pack,
        ports=(
            PLATE.ports[0],
            replace(PLATE.ports[1], id="in", interface="barrel"),
            replace(PLATE.ports[2], id="out", interface="barrel"),
        ),
    )
    shelf = catalogue(BODY, RADIO, wall, cell, SHORT, units=[Unit(id="short-2", model="short")])
    bare = build("radio", "mains.foot > radio.top-0", links=["short: mains.out > radio.dc"])
    radio = replace(RADIO, ports=(*RADIO.ports, *BODY.ports[1:]))
    shelf = replace(shelf, models={**shelf.models, "radio": radio})
    found = quick_of(bare, shelf, Conditions(), Settings(), target=target).findings
    assert [f.level for f in found if f.code == "power.mains"] == [Level.STOP] * len(stops)
    assert all(says in f.text for says, f in zip(stops, [f for f in found if f.code == "power.mains"], strict=True))
    assert [f.text for f in found if f.code == "power.mains_alone"] == [
        "When the mains fail, radio goes dark at once: no pack stands behind mains."
    ]
    for rain, indoors in ((True, False), (True, True), (False, False)):
        air = Conditions(rain=rain, indoors=indoors)
        told = [f.code for f in quick_of(bare, shelf, air, Settings(), target=target).findings]
        assert ("power.mains_wet" in told) is (rain and not indoors)
    behind = build(
        "radio",
        "mains.foot > radio.top-0",
        "cell-plate.foot > radio.top-1",
        links=["short: mains.out > cell-plate.in", "short-2: cell-plate.out > radio.dc"],
    )
    bridged = quick_of(behind, shelf, Conditions(), Settings(), target=target)
    assert bridged.stand.graph.downstream("mains") == ("cell-plate", "radio")
    assert not [f for f in bridged.findings if f.code == "power.mains_alone"]
