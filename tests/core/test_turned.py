"""A rig turned as a whole is the same rig: it weighs, balances, tips and clashes the same; light asks for filters."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.balance.ratings import inertia_kg_m2
from lift_crate.core.balance.report import readings_of
from lift_crate.core.gear.model import GearModel
from lift_crate.core.gear.solids import Block, Round
from lift_crate.core.geometry import Vec3
from lift_crate.core.lens.framing import nd_stops
from lift_crate.core.support.sticks import tip_over
from lift_crate.formats.job_file import JobFile
from tests.core.bench.test_demo_rigs import bench


def about(v: Vec3) -> Vec3:
    """Half a turn about the upright axis."""
    return (-v[0], -v[1], v[2])


def block(corners: tuple[Vec3, Vec3]) -> tuple[Vec3, Vec3]:
    low, high = corners
    return (-high[0], -high[1], low[2]), (-low[0], -low[1], high[2])


def solid(shape: Block | Round) -> Block | Round:
    if isinstance(shape, Round):
        return replace(shape, barrel=(about(shape.barrel[0]), about(shape.barrel[1])))
    return replace(shape, block=block(shape.block))


def turned(model: GearModel) -> GearModel:
    """A body as it would be drawn by somebody who took back for front."""
    return replace(
        model,
        cg_mm=about(model.cg_mm) if model.cg_mm else None,
        shapes=tuple(solid(shape) for shape in model.shapes),
        ports=tuple(replace(p, at=about(p.at), n=about(p.n), u=about(p.u)) for p in model.ports),
        keep_clear=tuple(replace(k, block=block(k.block)) for k in model.keep_clear),
    )


@pytest.mark.parametrize(
    ("part", "rig"),
    [
        ("dress", "quay"),
        ("act-3", "caisson"),
        ("dress", "dock-floor"),
        ("act-3", "stage-rail"),
        ("dress", "stage-rail"),
    ],
)
def test_a_rig_turned_as_a_whole_is_the_same_rig(demo: JobFile, part: str, rig: str) -> None:
    models = tuple(turned(m) if m.body else m for m in demo.models)
    units = tuple(
        replace(u, measured_cg_mm=about(u.measured_cg_mm))
        if u.measured_cg_mm and any(m.id == u.model and m.body for m in demo.models)
        else u
        for u in demo.units
    )
    before = bench(demo, part, rig).stand
    after = bench(replace(demo, models=models, units=units), part, rig).stand
    for held in ("total", "payload"):
        was, now = getattr(before.carried, held), getattr(after.carried, held)
        assert now.mass_g == pytest.approx(was.mass_g)
        assert np.asarray(now.cg_mm) == pytest.approx(np.asarray(about(tuple(was.cg_mm))), abs=1e-6)
    assert inertia_kg_m2(after) == pytest.approx(inertia_kg_m2(before))
    assert {(o.unit, o.into) for o in after.clashes.overlaps} == {(o.unit, o.into) for o in before.clashes.overlaps}
    assert [r.hours for r in after.runs] == pytest.approx([r.hours for r in before.runs])
    assert readings_of(after.carried) == pytest.approx(readings_of(before.carried))
    tips = [tip_over(s.assembly, s.carried, s.settings, s.conditions) for s in (before, after)]
    assert (tips[0] is None) == (tips[1] is None)
    if tips[0] and tips[1]:
        assert tips[1].tips_m_s == pytest.approx(tips[0].tips_m_s)
    assert [r.straight_mm for r in after.routes] == pytest.approx([r.straight_mm for r in before.routes])


@given(
    ev=st.floats(-5, 18),
    more=st.floats(0, 5),
    stop=st.floats(1, 22),
    fps=st.floats(12, 120),
    angle=st.floats(11, 360),
    iso=st.floats(50, 25_600),
)
def test_more_light_never_needs_less_nd(
    ev: float, more: float, stop: float, fps: float, angle: float, iso: float
) -> None:
    dim, bright = (nd_stops(light, stop, angle, fps, iso, 0.0) for light in (ev, ev + more))
    assert bright - dim == pytest.approx(more, abs=1e-9), "a stop of light asks for a stop of filter"
