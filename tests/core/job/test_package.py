"""What one package shares over a day: fronts and their rings, adapters at one time, plates, quick releases."""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest

from lift_crate.core.bench.questions import candidates, places_for
from lift_crate.core.gear.model import mates
from lift_crate.core.geometry import Array
from lift_crate.core.job.job import Job
from lift_crate.core.job.package import joint_kind, package_of
from lift_crate.core.rig.assembly import Assembly, assemble
from lift_crate.core.rig.build import Catalogue, Unit
from lift_crate.core.rig.edits import Attach, apply_all
from lift_crate.formats.job_file import JobFile, catalogue_of
from tests import kit
from tests.core.bench.test_demo_rigs import bench

PLATE, JAW = "release plate", "dovetail clamp"


def without(demo: JobFile, *units: str) -> Catalogue:
    return catalogue_of(replace(demo, units=tuple(u for u in demo.units if u.id not in units)))


def test_every_lens_is_told_what_goes_on_its_front_and_by_which_rings(demo: JobFile) -> None:
    catalogue = catalogue_of(demo)
    fronts = {f.lens: {t.thing: t for t in f.takes} for f in package_of(demo.job, catalogue).fronts}
    assert set(fronts) == {m.title for m in catalogue.models.values() if m.lens}
    prime = next(t for title, t in fronts.items() if "135 mm" in title)
    pola = next(t for thing, t in prime.items() if "polariser" in thing)
    assert (pola.how, pola.rings, pola.mass_g, pola.length_mm) == ("by rings", "STEP-1", 14.0, 4.0)
    tray = next(t for thing, t in prime.items() if "4 × 5.65" in thing)
    assert (tray.how, tray.rings) == ("by rings", "in Selvage clamp-on matte box 114 mm")
    cine = next(t for title, t in fronts.items() if "50 mm T2.0" in title)
    assert next(t for thing, t in cine.items() if "polariser" in thing).how == "no", "no ring leads down to a filter"
    nobody = replace(demo.job, rigs=(), plan=())
    fewer = package_of(nobody, without(demo, "STEP-1", "STEP-2")).fronts
    again = next({t.thing: t for t in f.takes} for f in fewer if "135 mm" in f.lens)
    assert again[pola.thing].how == "to hire"


def test_a_change_of_lens_counts_the_joints_in_front_of_it(demo: JobFile) -> None:
    refits = {r.rig: r for r in package_of(demo.job, catalogue_of(demo)).refits}
    rail = refits["Stage rail"]
    assert (rail.lens_off, rail.lens_on, rail.off, rail.on) == ("PRIME-2", "ZOOM-3", ("STEP-1", "VND-1"), ())
    assert rail.minutes == pytest.approx(2 * 1.5), "two filter threads"
    quicker = replace(
        demo.job, settings=replace(demo.job.settings, joint_min={**demo.job.settings.joint_min, "screw": 1.0})
    )
    assert package_of(quicker, catalogue_of(demo)).refits[1].minutes == pytest.approx(2.0)


def test_adapters_are_counted_over_all_cameras_at_one_time(demo: JobFile) -> None:
    catalogue = catalogue_of(demo)
    needs = {n.title: n for n in package_of(demo.job, catalogue).adapters}
    pl = next(n for title, n in needs.items() if "PL to Halyard" in title)
    assert (pl.at_once, pl.owned, pl.hired, pl.short) == (2, 1, 1, 0)
    for need in needs.values():
        by_part = [
            Counter(catalogue.model_of(u).title for _, b in demo.job.builds_in(p.id).values() for u in b.units)
            for p in demo.job.parts
        ]
        assert need.at_once == max(count[need.title] for count in by_part), "counted another way"
    assert replace(pl, owned=0).short == 1


def test_a_lens_on_a_mount_of_another_kind_wants_its_adapter(demo: JobFile) -> None:
    catalogue = catalogue_of(demo)
    build = demo.job.planned("dress", "dock-floor")
    joint = build.joint_of("CINE-2")
    assert joint
    plate = build.joint_of(joint.parent)
    assert plate
    bare = build.without({"CINE-2", joint.parent})
    wrong = replace(bare, joints=(*bare.joints, replace(joint, parent=plate.parent, parent_port=plate.parent_port)))
    job: Job = demo.job.with_build(wrong)
    needs = [n for n in package_of(job, catalogue).adapters if n.wanted]
    assert [(n.title.split(" ")[-4:], n.wanted) for n in needs] == [
        (["PL", "to", "Halyard", "adapter"], ("Dock floor",))
    ]


def test_plates_are_followed_through_the_day_and_swaps_counted(demo: JobFile) -> None:
    found = {p.rig: p for p in package_of(demo.job, catalogue_of(demo)).plates}
    assert found["Quay"].swaps == 0
    rail = found["Stage rail"]
    assert [stand[1] for stand in rail.stands] == ["GIMBAL-1", "PAD-1", "MAG-1", "PAD-1", "GIMBAL-2"]
    assert rail.swaps == sum(a[2] != b[2] for a, b in pairwise(rail.stands)) == 4


def _cg_of(at: Assembly, child: str) -> Array:
    """CG of a part and what hangs on it, or of all else where the rig is held there."""
    beyond = set(at.build.subtree(child))
    parts = at.masses(set(at.units) - beyond if at.held_by in beyond else beyond)
    return sum((p.mass_g * p.cg_mm for p in parts), np.zeros(3)) / sum(p.mass_g for p in parts)


def test_a_play_that_was_measured_counts(demo: JobFile) -> None:
    """With a plate and a clamp on the shelf that go between."""
    catalogue = catalogue_of(demo)
    thread, rail = "thread-1/4-20", "rail-21"
    pair = (
        kit.model("plate", 40, (0, 0, 0), kit.port("pin", thread, "male"), kit.port("foot", rail, "male"), kind=PLATE),
        kit.model("jaw", 60, (0, 0, 0), kit.port("jaw", rail, "female"), kit.port("hole", thread, "female"), kind=JAW),
    )
    shelf = replace(
        catalogue,
        models={**catalogue.models, **{m.id: m for m in pair}},
        units={**catalogue.units, **{m.id: Unit(id=m.id, model=m.id) for m in pair}},
    )
    usual = [r for r in package_of(demo.job, shelf).releases if r.by]
    rocking = {**catalogue.interfaces, rail: replace(catalogue.interfaces[rail], play_deg=0.3)}
    loose = [r for r in package_of(demo.job, replace(shelf, interfaces=rocking)).releases if r.by]
    assert usual
    assert {r.mass_g for r in usual} == {100}
    assert [(r.play_deg, r.play_measured) for r in loose] == [(0.3, True)] * len(usual)
    assert [r.rocks_mm for r in loose] == pytest.approx([3 * r.rocks_mm for r in usual], rel=1e-3)


def test_a_release_is_looked_for_where_screws_come_and_go(demo: JobFile) -> None:
    catalogue = catalogue_of(demo)
    found = package_of(demo.job, catalogue).releases
    assert found
    for release in found:
        assert release.times >= 2
        assert release.saves_min == pytest.approx(release.times * 1.2)
        assert not release.play_measured
        # By the sum of all that the joint carries, part by part, in whichever build of the day it is furthest out.
        rig = next(r for r in demo.job.rigs if r.label == release.rig)
        child, parent = release.joint.split(" on ")
        furthest = max(
            float(np.linalg.norm(_cg_of(at, child) - at.joint_points[at.row[child] - 1]))
            for part in demo.job.parts
            if (planned := demo.job.planned(part.id, rig.id)) and (j := planned.joint_of(child)) and j.parent == parent
            for at in (assemble(planned, catalogue),)
        )
        assert release.rocks_mm == pytest.approx(furthest * math.tan(math.radians(0.1)))
    for interface in catalogue.interfaces.values():
        assert joint_kind(interface) in demo.job.settings.joint_min


def test_a_plug_in_receiver_stands_in_a_socket_and_takes_its_room(demo: JobFile) -> None:
    """What hangs on a socket needs no mount: it is offered there, blocks that socket and leans out of it."""
    at = bench(demo, "mark-through", "dock-floor")
    body = at.catalogue.model_of(at.build.body)
    socket = next(p for p in body.ports if p.interface == "xlr-3")
    receiver = next(m for m in at.catalogue.models.values() if m.kind == "receiver")
    plug = replace(
        receiver,
        id="plug-in",
        ports=(
            replace(
                socket,
                id="plug",
                label="plug",
                gender="male",
                at=(0.0, 0.0, 0.0),
                n=(-1.0, 0.0, 0.0),
                u=(0.0, 0.0, 1.0),
            ),
        ),
    )
    file = replace(
        demo,
        models=(*demo.models, plug),
        units=(*demo.units, replace(demo.units[0], id="PLUG-1", model="plug-in", measured_g=None, measured_cg_mm=None)),
    )
    at = bench(file, "mark-through", "dock-floor")
    assert any(c.unit == "PLUG-1" for c in candidates(at, at.build.body, socket.id))
    assert any((p.onto, p.port_id) == (at.build.body, socket.id) for p in places_for(at, "PLUG-1"))
    on = Attach(unit="PLUG-1", unit_port="plug", onto=at.build.body, onto_port=socket.id)
    after = at.after((on,))
    assert not any(c.unit == "XLR-1" for c in candidates(after, at.build.body, socket.id) if not c.operations)
    assert mates(plug.ports[0], socket)
    assert after.stand.carried.total.mass_g > at.stand.carried.total.mass_g
    assert apply_all(at.build, (on,), at.catalogue).joint_of("PLUG-1")
