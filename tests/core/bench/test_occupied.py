"""Ports that are taken: what makes room, and parts that plug straight into a socket."""

from __future__ import annotations

from lift_crate.core.bench.bench import Bench
from lift_crate.core.bench.questions import candidates, places_for
from lift_crate.core.bench.remedies import remedies
from lift_crate.core.rig.build import Build, Conditions
from lift_crate.core.rig.edits import Attach, apply_all
from lift_crate.core.settings import Settings
from tests.kit import X, Z, build, catalogue, model, port, quick_of

DOWN = (0, 0, -1)
FORE = (0, 1, 0)


def box(x: float, y: float, z: float, at: tuple[float, float, float] = (0, 0, 0)) -> dict[str, object]:
    low, high = ([c + side * size / 2 for c, size in zip(at, (x, y, z), strict=True)] for side in (-1, 1))
    return {"block": (low, high)}


BODY = model(
    "body",
    1000,
    (0, 0, 0),
    port("shoe", "shoe", "female", (0, 0, 60)),
    port("top", "screw", "female", (40, 0, 60)),
    port("audio", "tap", "female", (0, 40, 0), FORE, X),
    port("data", "tap", "female", (20, 40, 0), FORE, X),
    shapes=[box(100, 80, 120)],
    kind="body",
)
LIGHT = model(
    "light", 200, (0, 0, 20), port("foot", "shoe", "male", (0, 0, 0), DOWN), shapes=[box(30, 30, 40, (0, 0, 20))]
)
MIC = model("mic", 100, (0, 0, 20), port("foot", "shoe", "male", (0, 0, 0), DOWN), shapes=[box(30, 20, 30, (0, 0, 15))])
BAR = model(
    "bar",
    80,
    (0, 0, 5),
    port("foot", "shoe", "male", (0, 0, 0), DOWN),
    port("left", "shoe", "female", (0, 60, 10)),
    port("right", "shoe", "female", (0, -60, 10)),
    shapes=[box(20, 140, 10, (0, 0, 5))],
    kind="bracket",
)
ARM = model(
    "arm",
    150,
    (0, 0, 40),
    port("foot", "screw", "male", (0, 0, 0), DOWN),
    port("end", "shoe", "female", (0, 0, 120)),
    shapes=[box(12, 12, 110, (0, 0, 60))],
    kind="arm",
)
DONGLE = model(
    "dongle",
    40,
    (0, 0, 20),
    port("plug", "tap", "male", (0, 0, 0), DOWN, X),
    shapes=[box(60, 15, 40, (0, 0, 20))],
    kind="receiver",
)
CORD = model(
    "cord",
    40,
    None,
    port("a", "tap", "male"),
    port("b", "tap", "male"),
    kind="cable",
    cable={"length_mm": 500, "bend_mm": 25},
)
BOTH = build("body", "light.foot > body.shoe", "mic.foot > body.shoe")


def bench(rig: Build, *more: object) -> Bench:
    settings, conditions = Settings(), Conditions()
    judged = quick_of(rig, catalogue(BODY, LIGHT, MIC, *more), conditions, settings)  # type: ignore[arg-type]
    return Bench(judged.stand)


def cures(on: Bench) -> dict[tuple[str, ...], Build]:
    """What is proposed for the port that is taken, by the units it puts on, with the build it leads to."""
    taken = next(f for f in on.whole.findings if f.code == "fit.occupied")
    found = [r for r in remedies(on, taken) if r.clears]
    return {
        tuple(o.unit for o in r.operations if isinstance(o, Attach)): apply_all(on.build, r.operations, on.catalogue)
        for r in found
    }


def test_a_bar_with_two_shoes_takes_both_over() -> None:
    after = cures(bench(BOTH, BAR))["bar",]
    assert {j.child: j.parent for j in after.joints} == {"bar": "body", "light": "bar", "mic": "bar"}
    assert len({j.parent_port for j in after.joints if j.parent == "bar"}) == 2


def test_an_arm_elsewhere_takes_the_second_over() -> None:
    after = cures(bench(BOTH, ARM))["arm",]
    assert {j.child: j.parent for j in after.joints} == {"light": "body", "arm": "body", "mic": "arm"}


def test_a_part_with_a_plug_of_its_own_goes_on_a_socket_and_on_nothing_else() -> None:
    on = bench(build("body"), DONGLE, CORD)
    assert {(p.onto, p.port_id) for p in places_for(on, "dongle")} == {("body", "audio"), ("body", "data")}
    assert "dongle" in {c.unit for c in candidates(on, "body", "audio")}
    assert "dongle" not in {c.unit for c in candidates(on, "body", "top")}


def test_a_part_that_is_plugged_in_takes_its_socket_and_the_room_beside_it() -> None:
    plugged = build("body", "dongle.plug > body.audio")
    on = bench(plugged, DONGLE, CORD)
    assert ("body", "audio") not in {(p.onto, p.port_id) for p in places_for(on, "dongle")}
    beside = build(
        "body", "dongle.plug > body.audio", "recorder.foot > body.top", links=["cord: body.data > recorder.in"]
    )
    recorder = model(
        "recorder",
        200,
        (0, 0, 0),
        port("foot", "screw", "male", (0, 0, -20), DOWN),
        port("in", "tap", "female", (30, 0, 0), X, Z),
        shapes=[box(60, 40, 40)],
    )
    blocked = [f for f in bench(beside, DONGLE, CORD, recorder).whole.findings if f.code == "clear.plug"]
    assert any("dongle is in the way" in f.text for f in blocked)
    twice = build(
        "body", "dongle.plug > body.audio", "recorder.foot > body.top", links=["cord: body.audio > recorder.in"]
    )
    assert "fit.occupied" in {f.code for f in bench(twice, DONGLE, CORD, recorder).whole.findings}
