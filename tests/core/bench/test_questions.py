"""The three questions, the build sheet, comparison, search and measuring, on the demo's shelf."""

from __future__ import annotations

from dataclasses import replace

import pytest

from lift_crate.core.bench.bench import Bench
from lift_crate.core.bench.questions import candidates, misfits, places_for, ways_to_fit
from lift_crate.core.callouts import Level
from lift_crate.core.drawings.build_sheet import BuildSheet, build_sheet
from lift_crate.core.drawings.comparison import compare, cost_of
from lift_crate.core.errors import NotAllowed
from lift_crate.core.gear.measuring import BadMeasurement, cg_from_edge, cg_from_scale, mass_from_scale
from lift_crate.core.rig.build import Catalogue, Claim, Unit
from lift_crate.core.rig.edits import Adjust, Attach, CarryAs, Detach
from lift_crate.core.rig.find import Query, search
from lift_crate.formats.job_file import JobFile, catalogue_of
from tests.core.bench.test_demo_rigs import bench
from tests.kit import quick_of


def test_beyond_what_is_tried_units_are_listed_untried(demo: JobFile) -> None:
    quay = bench(demo, "dress", "quay")
    all_of_them = candidates(quay, "CAGE-1", "left")
    some = candidates(quay, "CAGE-1", "left", most=3)
    assert {c.unit for c in some} == {c.unit for c in all_of_them}
    assert [c.effect is not None for c in some] == [True] * 3 + [False] * (len(some) - 3)
    weights = next(c for c in all_of_them if c.model.id == "quillon-weight-100")
    assert weights.alike == 1


def test_misfits_come_taken_first_then_those_an_adapter_helps(demo: JobFile) -> None:
    found = misfits(bench(demo, "dress", "quay"), "CAGE-1", "left")
    taken = [m.taken_by is not None for m in found]
    assert taken == sorted(taken, reverse=True)
    helped = [m.adapter is not None for m in found if m.taken_by is None]
    assert helped == sorted(helped, reverse=True)
    assert any(not h for h in helped)


def test_where_a_free_unit_can_go_and_where_a_mounted_one_can_move(demo: JobFile) -> None:
    quay = bench(demo, "dress", "quay")
    places = {(p.onto, p.port_id): p for p in places_for(quay, "RX-2")}
    assert places["HANDLE-1", "shoe"].adapter is None
    assert str(places["CAGE-1", "left"].adapter) == "SHOE-1"
    assert ("CAGE-1", "shoe") not in places, "the microphone holds it"
    for place in places.values():
        after = bench(demo, "dress", "quay", *place.operations)
        assert after.quick.counts["stops"] == place.effect.stops_after
    assert ("HANDLE-1", "shoe") in {(p.onto, p.port_id) for p in places_for(quay, "MIC-1")}
    with pytest.raises(NotAllowed, match=r"ARM-1 is in Caisson \(full\)"):
        places_for(quay, "ARM-1")
    with pytest.raises(NotAllowed, match=r"TR-2 is in Dock floor"):
        places_for(quay, "TR-2")


def test_a_sensitivity_outside_the_body_is_refused(demo: JobFile) -> None:
    with pytest.raises(NotAllowed, match="C6-1 goes from ISO 400 to 6400; ISO 12800 is outside"):
        bench(demo, "dress", "quay", Adjust(unit="C6-1", iso=12800))
    assert bench(demo, "dress", "quay", Adjust(unit="C6-1", iso=6400)).build.settings


def test_what_would_make_it_fit(demo: JobFile) -> None:
    quay = bench(demo, "dress", "quay")
    ways = ways_to_fit(quay, "RX-2", "CAGE-1", "left")
    assert ways[0].title == "Attach SHOE-1 to CAGE-1, left socket; then Attach RX-2 to SHOE-1, shoe"
    onto_taken = ways_to_fit(quay, "RX-2", "CAGE-1", "shoe")
    assert {
        "Move MIC-1 to HANDLE-1, handle shoe; then Attach RX-2 to CAGE-1, top shoe",
        "Take off MIC-1; then Attach RX-2 to CAGE-1, top shoe",
    } <= {w.title for w in onto_taken}
    assert ways_to_fit(quay, "PACK-04", "CAGE-1", "left") == []
    catalogue = quay.catalogue
    without = replace(catalogue, units={k: u for k, u in catalogue.units.items() if u.model != "hitch-socket-shoe"})
    nowhere = Bench(quick_of(quay.build, without, quay.stand.conditions, quay.settings).stand)
    assert ways_to_fit(nowhere, "RX-2", "CAGE-1", "left")[0].to_hire == ("Hitch 1/4-20 screw to shoe",)


def sheet(demo: JobFile, part: str, rig: str) -> BuildSheet:
    return build_sheet(bench(demo, part, rig).whole)


@pytest.mark.parametrize(
    ("part", "rig"),
    [
        ("dress", "quay"),
        ("dress", "caisson"),
        ("dress", "stage-rail"),
        ("act-3", "stage-rail"),
        ("mark-through", "dock-floor"),
    ],
)
def test_a_build_sheet_never_puts_a_part_on_what_is_not_there(demo: JobFile, part: str, rig: str) -> None:
    build = demo.job.planned(part, rig)
    made = sheet(demo, part, rig)
    on = {build.body}
    for step in made.build:
        if step.kind != "cable":
            assert step.onto in on
        on.add(step.unit)
    assert on == set(build.units)
    assert [s.unit for s in made.strike] == [s.unit for s in reversed(made.build)]
    assert [s.number for s in made.strike] == list(range(1, len(build.units)))
    kinds = [s.kind for s in made.build]
    assert "cable" not in kinds[: len(build.joints)], "cables last"


def test_a_build_sheet_tells_tools_and_what_to_mind(demo: JobFile) -> None:
    caisson = {s.unit: s for s in sheet(demo, "dress", "caisson").build}
    assert caisson["MP-2"].tool == "2.5 mm hex key"
    assert caisson["CINE-1"].mind == (
        "join CINE-1 and PLA-1 on the bench, then mount both",
        "open Stop: image circle too small",
    )
    assert "second catch" in caisson["HEAD-2"].mind[0]
    gimbal = {s.unit: s for s in sheet(demo, "act-3", "stage-rail").build}
    assert any("first see to the battery door of R2-1" in m for m in gimbal["GIMBAL-2"].mind)
    assert gimbal["GIMBAL-2"].number == len(gimbal), "the camera goes on the gimbal when it is built"
    shoulder = {s.unit: s for s in sheet(demo, "dress", "stage-rail").build}
    assert "flip the screen first, then plug" in shoulder["HDMI-1"].mind


def test_two_builds_side_by_side_add_up(demo: JobFile) -> None:
    left, right = bench(demo, "act-3", "stage-rail").whole, bench(demo, "acts-1-2", "stage-rail").whole
    found = compare(left, right)
    figures = {f.key: f for f in found.figures}
    assert figures["mass"].difference == pytest.approx(
        right.stand.carried.payload.mass_g - left.stand.carried.payload.mass_g
    )
    assert figures["stops"].left == left.counts["stops"]
    assert {u for p in found.parts for u in p.left} == set(left.stand.assembly.build.units)
    assert {u for p in found.parts for u in p.right} == set(right.stand.assembly.build.units)
    same = compare(left, left)
    assert not same.only_left
    assert not same.only_right
    assert all(f.difference == 0 for f in same.figures)


def test_cost_is_hire_of_what_is_hired_and_price_of_what_is_owned(demo: JobFile) -> None:
    catalogue = catalogue_of(demo)
    cost = cost_of(demo.job.planned("dress", "dock-floor"), catalogue)
    assert cost.hire_per_day == 165
    assert cost.value == 4300
    assert "CAGE-3" in cost.unknown


def test_how_it_is_carried_multiplies_load_and_not_the_motors(demo: JobFile) -> None:
    usual, vehicle = (bench(demo, "act-3", "stage-rail", CarryAs(use=use)) for use in (None, "vehicle"))
    assert usual.stand.carried.torques_nm == vehicle.stand.carried.torques_nm
    hard = bench(demo, "act-3", "quay", CarryAs(use="vehicle"))
    assert any(f.code.startswith("fit.") for f in hard.quick.findings)
    assert not any(f.code.startswith("fit.") for f in bench(demo, "act-3", "quay").quick.findings)


def test_a_thing_with_a_known_fault_is_said_and_another_of_its_kind_helps(demo: JobFile) -> None:
    quay = bench(demo, "dress", "quay")
    units = {
        **quay.catalogue.units,
        "MIC-1": replace(quay.catalogue.unit("MIC-1"), condition="out of use", note="capsule rattles"),
    }
    judged = quick_of(quay.build, replace(quay.catalogue, units=units), quay.stand.conditions, quay.settings)
    finding = next(f for f in judged.findings if f.code == "unit.condition")
    assert (finding.level, finding.text) == (Level.STOP, "MIC-1 is out of use: capsule rattles.")


@pytest.mark.parametrize(
    ("query", "expected"),
    [
        (Query(words="friction arm"), {"ARM-1", "ARM-2", "ARM-3"}),
        (Query(words="ARM friction hitch 110"), {"ARM-1", "ARM-2", "ARM-3"}),
        (Query(interface="rods-15", side="goes on"), {"RODS-1", "RODS-2", "RODS-3", "RODS-4"}),
        (Query(words="friction", free_only=True), {"ARM-2", "ARM-3"}),
        (Query(kind="gimbal"), {"GIMBAL-1", "GIMBAL-2"}),
        (Query(kind="body", owner="hired"), {"C6-3"}),
        (Query(words="nothing is called that"), set()),
    ],
)
def test_search(demo: JobFile, query: Query, expected: set[str]) -> None:
    taken = {"ARM-1": Claim(unit="ARM-1", rig="Caisson", build="full", until="22:00")}
    found = search(catalogue_of(demo), query, taken)
    assert {u.id for u in found.units} == expected
    assert found.total == len(expected)


def test_search_pages_and_counts_kinds(demo: JobFile) -> None:
    catalogue: Catalogue = catalogue_of(demo)
    first, second = (search(catalogue, Query(skip=skip, most=50), {}) for skip in (0, 50))
    assert not {u.id for u in first.units} & {u.id for u in second.units}
    assert sum(first.kinds.values()) == first.total == len(catalogue.units)


def test_mass_and_cg_from_readings() -> None:
    assert mass_from_scale(1702, 50).value == 1652
    beam = cg_from_scale(mass_g=2000, span_mm=400, gross_g=750, tare_g=50, block_at_mm=-250, scale_at_mm=150)
    assert beam.value == pytest.approx(-250 + 400 * 700 / 2000)
    mirrored = cg_from_scale(mass_g=2000, span_mm=400, gross_g=750, tare_g=50, block_at_mm=250, scale_at_mm=-150)
    assert mirrored.value == pytest.approx(-beam.value)
    assert cg_from_edge(10, 12).value == 11
    assert cg_from_edge(10, 12).sd < cg_from_edge(10).sd


@pytest.mark.parametrize(
    ("readings", "says"),
    [
        ({"gross_g": 20, "tare_g": 30}, "nothing is left"),
        (
            {"mass_g": 2000, "span_mm": 400, "gross_g": 2200, "tare_g": 0, "block_at_mm": 0, "scale_at_mm": 400},
            "carries 2200 g of 2000 g",
        ),
        (
            {"mass_g": 2000, "span_mm": 300, "gross_g": 700, "tare_g": 0, "block_at_mm": 0, "scale_at_mm": 400},
            "400 mm apart, not 300 mm",
        ),
        ({"edge_at_mm": 10, "second_at_mm": 20}, "differ by 10 mm; balance it again"),
    ],
)
def test_readings_that_do_not_belong_together(readings: dict[str, float], says: str) -> None:
    method = cg_from_edge if "edge_at_mm" in readings else cg_from_scale if "span_mm" in readings else mass_from_scale
    with pytest.raises(BadMeasurement) as caught:
        method(**readings)
    assert says in str(caught.value)


def test_a_shelf_of_many_alike_stands_as_one_candidate(demo: JobFile) -> None:
    quay = bench(demo, "dress", "quay", Detach(unit="MIC-1"))
    many = {**quay.catalogue.units, **{f"M-{i}": Unit(id=f"M-{i}", model="nightjar-short") for i in range(500)}}
    crowded = Bench(
        quick_of(quay.build, replace(quay.catalogue, units=many), quay.stand.conditions, quay.settings).stand
    )
    found = [c for c in candidates(crowded, "CAGE-1", "shoe") if c.model.id == "nightjar-short"]
    assert [c.alike for c in found] == [501]
    attach = found[0].operations[0]
    assert isinstance(attach, Attach)
