"""What could be left off: what it costs is what the rig is without it, and what it gives follows from the day."""

from __future__ import annotations

from dataclasses import replace

import pytest

from lift_crate.core.balance.ratings import look_of
from lift_crate.core.bench.bench import Bench
from lift_crate.core.bench.leave_off import Accessory, accessories
from lift_crate.core.rig.build import Conditions
from lift_crate.core.rig.edits import Detach
from lift_crate.core.stand import stand_of
from lift_crate.formats.job_file import JobFile
from tests.core.bench.test_demo_rigs import bench


@pytest.mark.parametrize(("part", "rig"), [("dress", "quay"), ("dress", "stage-rail"), ("mark-through", "caisson")])
def test_what_a_thing_costs_is_what_is_gone_without_it(demo: JobFile, part: str, rig: str) -> None:
    at = bench(demo, part, rig)
    found = accessories(at)
    assert found
    for each in found:
        without = at.after((Detach(unit=each.unit),)).stand
        assert each.mass_g == pytest.approx(at.stand.carried.total.mass_g - without.carried.total.mass_g)
        assert each.draw_w == pytest.approx(at.stand.draw_w - without.draw_w, abs=1e-9)
        assert each.litres == pytest.approx(look_of(at.stand).litres - look_of(without).litres)
        gone = set(at.build.units) - set(without.assembly.build.units)
        assert gone == {each.unit, *each.takes_along}
    worth = [{False: 0, None: 1, True: 2}[each.worth] for each in found]
    assert worth == sorted(worth)


def given(demo: JobFile, part: str, rig: str, unit: str, conditions: Conditions) -> Accessory:
    at = bench(demo, part, rig).stand
    other = Bench(stand_of(at.assembly.build, at.assembly.catalogue, conditions, at.settings, target=at.target))
    return next(each for each in accessories(other) if each.unit == unit)


def test_what_a_filter_gives_depends_on_the_light(demo: JobFile) -> None:
    day = demo.job.part("mark-through").conditions
    bright = given(demo, "mark-through", "caisson", "ND-1", replace(day, light_ev=15.0))
    dark = given(demo, "mark-through", "caisson", "ND-1", replace(day, light_ev=3.0))
    assert (bright.worth, dark.worth) == (True, False)
    assert dark.gives == "takes light that is missing"


def test_what_carries_the_rig_or_makes_the_picture_is_never_offered(demo: JobFile) -> None:
    for part, rig in (("dress", "quay"), ("dress", "dock-floor"), ("act-3", "stage-rail")):
        at = bench(demo, part, rig)
        stays = {"lens", "pack", "cage", "mount plate", "battery plate", "gimbal", "head", "sticks"}
        for each in accessories(at):
            taken = {at.catalogue.model_of(u).kind for u in (each.unit, *each.takes_along)}
            assert not taken & stays


def test_a_cage_whose_load_goes_on_the_body_itself_is_not_needed(demo: JobFile) -> None:
    at = bench(demo, "arrival", "stage-rail")
    cage = next(each for each in accessories(at) if each.kind == "cage")
    without = at.after(cage.operations)
    assert set(at.build.units) - set(without.build.units) == {cage.unit}
    assert len(without.build.links) == len(at.build.links)
    assert cage.worth is False
    assert cage.effect.stops_after <= at.quick.counts["stops"]
    assert cage.mass_g == pytest.approx(at.stand.carried.total.mass_g - without.stand.carried.total.mass_g)
    full = accessories(bench(demo, "dress", "quay"))
    assert not any(each.kind == "cage" for each in full), "what holds the base plate is needed"
