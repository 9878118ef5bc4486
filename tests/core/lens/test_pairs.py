"""Every lens on every body: joins, coverage, angles and gaps."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.lens.pairs import Pair, front_mount, gaps_deg, needed_angle_deg, pairs, plate_choices
from lift_crate.core.rig.assembly import assemble
from lift_crate.core.rig.build import Target
from lift_crate.formats.job_file import JobFile, catalogue_of


@pytest.fixture(scope="module")
def found(demo: JobFile) -> dict[tuple[str, str], Pair]:
    catalogue = catalogue_of(demo)
    return {(p.body.id, p.lens.id): p for p in pairs(catalogue, [u.id for u in catalogue.shelf])}


@pytest.mark.parametrize(
    ("body", "lens", "join", "area"),
    [
        ("orlop-c6", "hawser-2672", "straight", "full"),
        ("orlop-c6", "selvage-85300", "straight", "super"),
        ("orlop-c6", "brasswater-28", "no", "full"),
        ("fathom-r2", "brasswater-2596", "straight", "full"),
        ("fathom-r2", "corrow-135", "adapter", "full"),
        ("fathom-r2", "selvage-50", "no", "full"),
    ],
)
def test_how_each_joins_and_what_it_covers(
    found: dict[tuple[str, str], Pair], body: str, lens: str, join: str, area: str
) -> None:
    pair = found[body, lens]
    assert (pair.join, pair.area.id if pair.area else None) == (join, area)
    assert pair.full is (area == "full")


def test_the_same_lens_is_another_one_on_another_body(found: dict[tuple[str, str], Pair]) -> None:
    """T20: 85 mm on 24.9 × 14.0 shows what 129 mm shows on 36 × 24."""
    cine = found["orlop-c6", "selvage-85300"]
    assert cine.crop == pytest.approx(1.5146, abs=5e-5)
    assert cine.angles_deg
    assert cine.angles_deg[0] == pytest.approx(16.666, abs=5e-4)
    widths = cine.widths_mm(55_000)
    assert widths
    assert widths[0] == pytest.approx(24.9 * (55_000 - 2 * 85) / 85, rel=2e-3)
    assert cine.widths_mm(1000) is None, "nearer than it focuses"


def test_the_mount_of_a_rig_is_that_of_the_plate_on_it(demo: JobFile) -> None:
    catalogue = catalogue_of(demo)
    fronts = {b.id: mount for r in demo.job.rigs for b in r.builds if (mount := front_mount(assemble(b, catalogue)))}
    plated = {
        b.id: [u for u in b.units if catalogue.model_of(u).kind == "mount plate"]
        for r in demo.job.rigs
        for b in r.builds
    }
    assert set(fronts) == {name for name, plates in plated.items() if plates}
    for name, mount in fronts.items():
        assert mount in catalogue.model_of(plated[name][-1]).ports


def test_a_plate_that_is_in_use_leaves_the_other_ways(demo: JobFile) -> None:
    catalogue = catalogue_of(demo)
    free = [u.id for u in catalogue.shelf if u.id not in ("MP-4", "PLA-1", "PLA-2")]
    pair = next(p for p in pairs(catalogue, free) if (p.body.id, p.lens.id) == ("orlop-c6", "selvage-50"))
    assert pair.join == "to hire"
    assert not pair.works


def test_the_angle_a_position_needs() -> None:
    assert needed_angle_deg(Target(distance_mm=4000, width_mm=3200)) == pytest.approx(43.60, abs=5e-3)
    assert needed_angle_deg(Target(distance_mm=4000)) is None


def test_gaps_of_the_demo(found: dict[tuple[str, str], Pair]) -> None:
    """Between 72 and 100 mm on the whole sensor nothing reaches; the cine zoom from 85 mm covers a smaller area."""
    c6 = [p for p in found.values() if p.body.id == "orlop-c6"]
    ((wide, narrow),) = gaps_deg(c6)
    assert wide == pytest.approx(28.072, abs=5e-4)
    assert narrow == pytest.approx(20.408, abs=5e-4)
    assert gaps_deg([p for p in c6 if p.lens.id != "hawser-100400"])[0][0] == pytest.approx(28.072, abs=5e-4)
    assert gaps_deg([p for p in c6 if p.lens.id == "hawser-2672"]) == []


@given(st.lists(st.tuples(st.floats(5, 100), st.floats(0.1, 1)), min_size=1, max_size=6))
def test_no_gap_is_reached_by_any_lens(spans: list[tuple[float, float]]) -> None:
    class Stub:
        works = True

        def __init__(self, wide: float, share: float) -> None:
            self.angles_deg = (wide, wide * share)

    stubs = [Stub(*span) for span in spans]
    for wide, narrow in gaps_deg(stubs):  # type: ignore[arg-type]
        middle = (wide + narrow) / 2
        assert not any(s.angles_deg[1] <= middle <= s.angles_deg[0] for s in stubs)


def test_how_dark_a_scene_a_pair_exposes(found: dict[tuple[str, str], Pair]) -> None:
    """T3.1 at 1/50 s and ISO 6400: log₂(3.1²·50) − 6 = 2.908."""
    near, far = found["orlop-c6", "hawser-2672"].darkest_ev(25, 180) or (0, 0)
    assert [near, far] == pytest.approx([2.908, 2.908], abs=5e-4)
    long = found["orlop-c6", "hawser-100400"]
    assert list(long.t_stops) == pytest.approx([4.5, 5.7])
    near, far = long.darkest_ev(25, 180) or (0, 0)
    assert far - near == pytest.approx(2 * math.log2(5.7 / 4.5))
    # The adapter of the pair carries no autofocus; its lens has no stabiliser power to lose.
    assert found["fathom-r2", "corrow-135"].loses == ("autofocus",)
    assert found["orlop-c6", "hawser-2672"].loses == ()


def test_what_another_mount_plate_opens_and_closes(demo: JobFile) -> None:
    catalogue = catalogue_of(demo)
    free = [u.id for u in catalogue.shelf]
    build = demo.job.planned("dress", "quay")
    front = front_mount(assemble(build, catalogue))
    body = catalogue.model_of(build.body)
    choices = {c.plate.id: c for c in plate_choices(catalogue, free, body, front)}
    assert choices["orlop-plate-halyard"].on
    assert (choices["orlop-plate-halyard"].opens, choices["orlop-plate-halyard"].closes) == ((), ())
    pl = choices["orlop-plate-pl"]
    assert not pl.on
    # An independent way: every lens tried on the other plate's own mount.
    plate = catalogue.models["orlop-plate-pl"]
    assert plate.adapter
    mount = plate.port(plate.adapter.toward_part)
    joins = {p.lens.id for p in pairs(catalogue, free, {body.id: mount}, body.id) if p.join in ("straight", "adapter")}
    now = {
        p.lens.id
        for p in pairs(catalogue, free, {body.id: front} if front else None, body.id)
        if p.join in ("straight", "adapter")
    }
    assert (set(pl.opens), set(pl.closes)) == (joins - now, now - joins)
    assert "hawser-2672" in pl.closes
    assert plate_choices(catalogue, free, catalogue.models["fathom-r2"], None) == ()
