"""What is tried against a call-out: it comes from the shelf, can be done or is refused, and holds what would help."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from itertools import islice

import pytest

from lift_crate.core.bench.bench import Bench
from lift_crate.core.bench.trials import Trial, trials_for
from lift_crate.core.callouts import CALL_OUTS, About, Finding, Level
from lift_crate.core.errors import BadRig
from lift_crate.core.gear.model import GearModel
from lift_crate.core.job.job import claims_of_others
from lift_crate.core.rig.build import Build, Claim, Conditions, Unit
from lift_crate.core.rig.edits import Adjust, Attach, Detach, Disconnect, Move, Replace, SlideTo, Turn, apply_all
from lift_crate.core.settings import Settings
from lift_crate.core.stand import stand_of
from lift_crate.core.verdict.judge import whole
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import X, Z, build, catalogue, joint, model, port

DEMO = demo_job_file()
SHELF = catalogue_of(DEMO)
DOWN, BACK, SIDE = (0, 0, -1), (-1, 0, 0), (0, 1, 0)
MOST = 400
"""Of the trials against one call-out, so many are looked at."""


def stood(part: str, rig: str, operations: Trial = ()) -> Bench:
    job = DEMO.job
    rig_build = apply_all(job.planned(part, rig), operations, SHELF)
    at = stand_of(
        rig_build,
        SHELF,
        job.part(part).conditions,
        job.settings,
        claims_of_others(job, part, rig),
        job.rig(rig).target,
    )
    return Bench(at)


def done(at: Bench, trial: Trial) -> Build | None:
    """The build after a trial; None when it is refused, which is said in a sentence."""
    try:
        return apply_all(at.build, trial, SHELF)
    except BadRig as refused:
        said = str(refused)
    assert said.endswith(".")
    return None


PLANNED = [(part.id, rig) for part in DEMO.job.parts for rig in DEMO.job.builds_in(part.id)]


@pytest.mark.parametrize(("part", "rig"), PLANNED)
def test_all_that_is_tried_is_there_in_order_and_can_be_judged(part: str, rig: str) -> None:
    at = stood(part, rig)
    here, shelf = set(at.build.units), set(at.sound())
    for finding in at.whole.findings:
        for trial in islice(trials_for(at, finding), MOST):
            brought = {o.unit for o in trial if isinstance(o, Attach)} | {o.by for o in trial if isinstance(o, Replace)}
            same = {SHELF.unit(u).model for u in finding.about.units if u in SHELF.units}
            assert all(unit in shelf or SHELF.unit(unit).model in same for unit in brought), "in order, and free"
            assert not brought & here
            after = done(at, trial)
            assert after is None or set(after.units) <= here | brought | shelf
            assert after is None or len(set(after.units)) == len(after.units)


@pytest.mark.parametrize("code", [code for code in CALL_OUTS if not code.startswith(("swap.", "charge.", "pack."))])
def test_whatever_a_call_out_is_about_its_trials_can_be_asked_for(code: str) -> None:
    """Also of units that are no lens, no pack and no gimbal: what makes no sense does not come, or is refused."""
    at = stood("dress", "dock-floor")
    units = at.stand.assembly.units
    for pair in (units[:2], (units[-1], units[0]), units[3:5]):
        port_id = SHELF.model_of(pair[1]).ports[0].id
        finding = Finding(
            code=code, level=Level.STOP, about=About(units=pair, port=port_id), text="Made up.", value=3.0
        )
        for trial in islice(trials_for(at, finding), 40):
            done(at, trial)


# Small gear, whose cures can be named by hand.


def box(x: float, y: float, z: float, at: tuple[float, float, float] = (0, 0, 0)) -> dict[str, object]:
    low, high = ([c + side * size / 2 for c, size in zip(at, (x, y, z), strict=True)] for side in (-1, 1))
    return {"block": (low, high)}


def foot(interface: str = "screw") -> dict[str, object]:
    return port("foot", interface, "male", (0, 0, 0), DOWN, X)


BODY = model(
    "body",
    1000,
    (0, 0, 0),
    port("mount", "near", "female", (19, 0, 0), X, Z),
    port("top", "screw", "female", (0, 0, 60)),
    port("left", "screw", "female", (0, 40, 0), SIDE, Z),
    port("shoe", "shoe", "female", (30, 0, 60)),
    port("rail", "rail", "male", (0, 0, -60), DOWN, X, slide={"axis": X, "min_mm": -80, "max_mm": 80}, takes=3),
    port("out", "tap", "female", (0, -40, 0), (0, -1, 0), Z, signal={"role": "out", "what": "picture", "max_gbps": 12}),
    shapes=[box(100, 80, 120)],
    kind="body",
    body={
        "areas": [
            {"id": "full", "label": "full", "width_mm": 36, "height_mm": 19},
            {"id": "super", "label": "super", "width_mm": 24.9, "height_mm": 14.0},
        ],
        "formats": [{"id": "uhd", "label": "UHD", "gbps": 6}, {"id": "hd", "label": "HD", "gbps": 1.5}],
    },
)


def lens(name: str, focal: tuple[float, float], mount: str = "near", **more: object) -> GearModel:
    data = {"image_circle_mm": 44, "focal_mm": focal, "stop": 2.8, **more}
    return model(
        name,
        600,
        (40, 0, 0),
        port("mount", mount, "male", (0, 0, 0), BACK, Z),
        port("front", "front-77", "female", (80, 0, 0), X, Z),
        kind="lens",
        lens=data,
    )


def thing(name: str, grams: float, kind: str = "thing", *ports: dict[str, object], **more: object) -> GearModel:
    return model(
        name, grams, (0, 0, 20), *(ports or (foot(),)), kind=kind, shapes=[box(20, 20, 40, (0, 0, 20))], **more
    )


ZOOM, PRIME, FAR = lens("zoom", (24, 70)), lens("prime", (35, 35)), lens("far", (50, 50), "far")
RING = model(
    "ring",
    120,
    (15, 0, 0),
    port("rear", "near", "male", (0, 0, 0), BACK, Z),
    port("front", "far", "female", (33, 0, 0), X, Z),
    kind="adapter",
    adapter={"toward_body": "rear", "toward_part": "front"},
)
ND = model(
    "nd",
    60,
    (4, 0, 0),
    port("back", "front-77", "male", (0, 0, 0), BACK, Z),
    port("front", "front-77", "female", (5, 0, 0), X, Z),
    kind="filter",
    filter={"kind": "nd", "stops": (3, 3), "height_mm": 5, "clear_mm": 60},
)
ND2 = replace(ND, id="nd2", name="nd2")
CLAMP = thing("clamp", 90, "clamp", port("clamp", "rail", "female", (0, 0, 0), Z, X, grip_mm=30))
ARM = thing("arm", 150, "arm", foot(), port("end", "screw", "female", (0, 0, 120)))
STRONG = replace(ARM, id="strong", name="strong", mass_g=260.0)
LIGHT, LIGHTER = thing("light", 300, "light"), thing("lighter", 180, "light")
FLAT = thing("flat", 100, "light", foot("shoe"))
SHOE = thing(
    "shoe-screw",
    26,
    "adapter",
    foot("shoe"),
    port("screw", "screw", "female", (0, 0, 20)),
    adapter={"toward_body": "foot", "toward_part": "screw"},
)
WEIGHT = thing("weight", 100, "counterweight")
SUPPORT = thing("lens-foot", 140, "lens support", port("clamp", "rail", "female", (0, 0, 0), Z, X, grip_mm=10))
CORD = model(
    "cord", 40, None, port("a", "tap", "male"), port("b", "tap", "male"), kind="cable", cable={"length_mm": 400}
)
LEAD = replace(CORD, id="lead", name="lead")
MONITOR = thing(
    "monitor",
    300,
    "monitor",
    foot(),
    port("in", "tap", "female", (0, 0, 30), signal={"role": "in", "what": "picture", "max_gbps": 3}),
)
GEAR = (
    BODY,
    ZOOM,
    PRIME,
    FAR,
    RING,
    ND,
    ND2,
    CLAMP,
    ARM,
    STRONG,
    LIGHT,
    LIGHTER,
    FLAT,
    SHOE,
    WEIGHT,
    SUPPORT,
    CORD,
    LEAD,
    MONITOR,
)


def bench(rig: Build, taken: tuple[str, ...] = (), **units: str) -> Bench:
    shelf = catalogue(*GEAR, units=[Unit(id=name, model=kind) for name, kind in units.items()])
    claims = {unit: Claim(unit=unit, rig="other", build="full", until="late") for unit in taken}
    return Bench(stand_of(rig, shelf, Conditions(), Settings(), claims))


def tried(at: Bench, code: str, *units: str, value: float | None = None, port_id: str | None = None) -> list[Trial]:
    finding = Finding(code=code, level=Level.STOP, about=About(units=units, port=port_id), text="Made up.", value=value)
    return list(trials_for(at, finding))


def brought(trials: list[Trial]) -> set[str]:
    return {o.unit for t in trials for o in t if isinstance(o, Attach)}


def test_a_clash_on_a_rail_is_slid_by_what_is_missing_and_no_further_than_the_rail_goes() -> None:
    at = bench(build("body", joint("clamp.clamp > body.rail", slide=70)))
    slides = [t[0].to_mm for t in tried(at, "fit.rail_full", "clamp", value=25.0) if isinstance(t[0], SlideTo)]
    assert slides == [45, 80, -80, 80, 70]


def test_what_is_turned_wrong_is_turned_both_ways() -> None:
    at = bench(build("body", "flat.foot > body.shoe"))
    assert tried(at, "fit.spin", "flat") == [(Turn(unit="flat", steps=1),), (Turn(unit="flat", steps=-1),)]


def test_what_is_too_heavy_where_it_is_goes_elsewhere_off_or_gives_way_to_one_that_fits() -> None:
    at = bench(build("body", "arm.foot > body.top", "light.foot > arm.end"))
    found = tried(at, "fit.twist", "light", "arm")
    assert (Move(unit="light", unit_port="foot", onto="body", onto_port="left"),) in found
    assert (Detach(unit="light"),) in found
    assert {t[0].by for t in found if isinstance(t[0], Replace)} == {"lighter", "strong"}


def test_a_foot_of_another_kind_is_put_on_through_the_adapter_of_the_shelf() -> None:
    at = bench(build("body", "light.foot > body.shoe"))
    found = tried(at, "fit.interface", "light", "body")
    assert found[0] == (
        Attach(unit="shoe-screw", unit_port="foot", onto="body", onto_port="shoe"),
        Move(unit="light", unit_port="foot", onto="shoe-screw", onto_port="screw"),
    )
    without = bench(build("body", "light.foot > body.shoe"), taken=("shoe-screw",))
    assert "shoe-screw" not in brought(tried(without, "fit.interface", "light", "body"))


def test_every_other_lens_is_tried_by_the_adapter_it_needs_and_the_one_there_comes_off_first() -> None:
    at = bench(build("body", "prime.mount > body.mount"))
    found = tried(at, "lens.close_focus", "prime")
    assert all(t[0] == Detach(unit="prime") for t in found)
    assert [tuple(o.unit for o in t[1:] if isinstance(o, Attach)) for t in found] == [("ring", "far"), ("zoom",)]


def test_without_a_lens_each_comes_once_though_there_are_two_of_it() -> None:
    at = bench(build("body"), second_prime="prime")
    lenses = [t[-1].unit for t in tried(at, "lens.missing", "body") if isinstance(t[-1], Attach)]
    assert sorted(lenses) == ["far", "prime", "zoom"]


def test_width_is_sought_with_the_zoom_from_long_to_short_and_with_other_areas() -> None:
    at = bench(build("body", "zoom.mount > body.mount"))
    found = tried(at, "lens.width", "zoom", "body")
    focals = [o.focal_mm for t in found for o in t if isinstance(o, Adjust) and o.focal_mm]
    assert focals == sorted(focals, reverse=True)
    assert (min(focals), max(focals)) == (24, 56)
    assert [o.area for t in found for o in t if isinstance(o, Adjust) and o.area] == ["super"]


def test_too_much_light_is_stopped_down_or_filtered_by_one_or_two() -> None:
    at = bench(build("body", "zoom.mount > body.mount"))
    found = tried(at, "lens.light", "zoom", "body")
    stops = [o.stop for t in found for o in t if isinstance(o, Adjust) and o.stop]
    assert stops == [2.8, 4.0, 5.6, 8.0, 11.0], "no wider than the lens opens"
    filters = [tuple(o.unit for o in t if isinstance(o, Attach)) for t in found if isinstance(t[0], Attach)]
    assert filters == [("nd",), ("nd2",), ("nd", "nd2"), ("nd2", "nd")]


def test_too_little_light_takes_a_filter_off() -> None:
    at = bench(build("body", "zoom.mount > body.mount", "nd.back > zoom.front"))
    assert (Detach(unit="nd"),) in tried(at, "lens.light", "zoom", "body")
    assert tried(at, "filter.corner", "zoom")[0] == (Detach(unit="nd"),)


def test_a_heavy_lens_gets_every_foot_on_every_rail() -> None:
    at = bench(build("body", "zoom.mount > body.mount"))
    assert brought(tried(at, "lens.support", "zoom", "body")) == {"lens-foot"}


def test_another_cable_comes_after_the_one_there_is_pulled() -> None:
    at = bench(build("body", "monitor.foot > body.top", links=["cord: body.out > monitor.in"]))
    found = tried(at, "link.length", "cord", "body", "monitor")
    assert found
    assert all(t[0] == Disconnect(cable="cord") for t in found if isinstance(t[0], Disconnect))
    assert "lead" in {getattr(t[-1], "cable", None) for t in found}


def test_a_picture_too_fast_for_the_cable_is_made_slower() -> None:
    at = bench(build("body", "monitor.foot > body.top", links=["cord: body.out > monitor.in"]))
    pictures = [
        o.picture for t in tried(at, "link.rate", "cord", "body", "monitor") for o in t if isinstance(o, Adjust)
    ]
    assert pictures == ["uhd", "hd"], "the fastest first"


def test_a_unit_that_another_rig_has_gives_way_to_one_alike_and_a_faulty_one_is_never_offered() -> None:
    shelf = catalogue(
        *GEAR,
        units=[
            Unit(id="light-2", model="light"),
            Unit(id="light-3", model="light", condition="doubtful"),
            Unit(id="light-4", model="light"),
        ],
    )
    claims = {"light-4": Claim(unit="light-4", rig="other", build="full", until="late")}
    at = Bench(stand_of(build("body", "light.foot > body.top"), shelf, Conditions(), Settings(), claims))
    assert tried(at, "share.unit_taken", "light") == [(Replace(unit="light", by="light-2"),)]


def test_an_overloaded_support_is_lightened_part_by_part_and_then_several_at_once() -> None:
    at = bench(build("body", "arm.foot > body.top", "light.foot > arm.end", "flat.foot > body.shoe"))
    found = tried(at, "support.payload", "body")
    offs = [tuple(o.unit for o in t if isinstance(o, Detach)) for t in found if all(isinstance(o, Detach) for o in t)]
    assert {("arm",), ("light",), ("flat",)} <= set(offs)
    assert ("arm", "flat") in offs, "heaviest first, with what hangs on it"
    assert (Replace(unit="light", by="lighter"),) in found
    assert (Replace(unit="lighter", by="light"),) not in found, "nothing heavier"


def test_a_call_out_without_a_cure_by_trial_has_none() -> None:
    at = bench(build("body"))
    assert tried(at, "mass.missing", "body") == []
    assert tried(at, "lens.depth", "body") == []


def test_what_is_proposed_is_really_better() -> None:
    """Against each Stop of a small rig at least one of the trials takes it away."""
    at = bench(build("body", "light.foot > body.shoe", joint("clamp.clamp > body.rail", slide=95)))
    stops = [f for f in at.whole.findings if f.level is Level.STOP and f.code in ("fit.interface", "fit.slide")]
    assert {f.code for f in stops} == {"fit.interface", "fit.slide"}
    gone: Callable[[Trial, Finding], bool] = lambda trial, finding: (  # noqa: E731 - said once, used once
        finding.key not in {f.key for f in whole(at.after(trial).stand).findings if f.level is Level.STOP}
    )
    for finding in stops:
        assert any(gone(trial, finding) for trial in trials_for(at, finding))
