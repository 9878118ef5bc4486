"""Add anything by a few letters, cables by their ends, and exchange a part keeping what still goes."""

from __future__ import annotations

from dataclasses import replace
from itertools import product

from lift_crate.core.bench.bench import Bench
from lift_crate.core.bench.exchange import exchange, exchanges
from lift_crate.core.bench.questions import places_for
from lift_crate.core.bench.search import matches, runs_of
from lift_crate.core.gear.model import mates
from lift_crate.core.rig.build import Catalogue
from lift_crate.core.rig.edits import Detach, Strip, apply_all
from lift_crate.core.stand import stand_of
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of

FILE = demo_job_file()
SHELF: Catalogue = catalogue_of(FILE)


def bench(rig: str = "quay") -> Bench:
    found, build = FILE.job.builds_in("dress")[rig]
    return Bench(stand_of(build, SHELF, FILE.job.parts[0].conditions, FILE.job.settings, {}, found.target))


BARE = bench().after((Strip(),))


def test_letters_mean_what_starts_with_them_and_what_the_rig_wants_comes_first() -> None:
    assert matches(BARE, "")[0].model.kind == "lens"
    for letters, kind in (("l", "lens"), ("b", "base plate"), ("p", "pack"), ("mon", "monitor"), ("cage", "cage")):
        assert matches(BARE, letters)[0].model.kind == kind, letters
    caged = BARE.after(places_for(BARE, "CAGE-1")[0].operations)
    assert matches(caged, "c")[0].model.kind != "cage"
    assert next(m.unit for m in matches(BARE, "pack-0")).startswith("PACK-0")
    assert matches(BARE, "zeppelin") == []
    one = [m for m in matches(BARE, "98") if m.model.id == "tidewick-98"]
    free = sum(1 for unit in BARE.on_shelf() if SHELF.model_of(unit).id == "tidewick-98")
    assert sum(m.alike + 1 for m in one) == free


def test_a_part_goes_upright_where_two_places_are_as_good() -> None:
    best = places_for(BARE, "CAGE-1")[0]
    assert (best.onto, best.port_id) == ("C6-1", "bottom")
    after = BARE.after(best.operations)
    assert after.stand.assembly.pose("CAGE-1").rotation[2, 2] > 0.99


def test_cables_run_from_every_source_to_every_input_they_fit_and_nowhere_else() -> None:
    at = bench()
    without = at.after(tuple(Detach(unit=j.child) for j in at.build.joints if j.parent == "nothing"))
    for cable in ("SDI-5", "TAPR-2", "HDMI-1"):
        if cable not in SHELF.units or cable in at.build.units:
            continue
        found = {(k.from_unit, k.from_port, k.to_unit, k.to_port) for _, _, k in runs_of(without, cable)}
        assert found == _every_run(without, cable)
        for place in places_for(without, cable):
            assert without.try_out(place.operations) is not None


def _every_run(at: Bench, cable: str) -> set[tuple[str, str, str, str]]:
    """By trying every two sockets and asking each question by itself."""
    a, b = SHELF.model_of(cable).port("a"), SHELF.model_of(cable).port("b")
    used = {(u, p) for k in at.build.links for u, p in ((k.from_unit, k.from_port), (k.to_unit, k.to_port))}
    used |= {(j.child, j.child_port) for j in at.build.joints} | {(j.parent, j.parent_port) for j in at.build.joints}
    sockets = [
        (unit, port)
        for unit in at.build.units
        if not SHELF.model_of(unit).is_cable
        for port in SHELF.model_of(unit).ports
        if SHELF.interfaces[port.interface].takes_cable and (unit, port.id) not in used
    ]
    found = set()
    for (u, p), (v, q) in product(sockets, repeat=2):
        if u == v:
            continue
        power = p.electrical and q.electrical and p.electrical.role == "out" and q.electrical.role == "in"
        signal = (
            p.signal and q.signal and p.signal.role in ("out", "both") and q.signal.role in ("in", "both")
            and p.signal.what == q.signal.what and not p.electrical and not q.electrical
        )  # fmt: skip
        if power or signal:
            if mates(a, p) and mates(b, q):
                found.add((u, p.id, v, q.id))
            elif mates(a, q) and mates(b, p):
                found.add((v, q.id, u, p.id))
    return found


def test_a_body_of_the_same_model_keeps_everything() -> None:
    found = exchanges(bench(), "C6-1")
    assert found[0].model.id == "orlop-c6"
    assert found[0].left == ()
    after = apply_all(bench().build, found[0].operations, SHELF)
    assert after.body == found[0].unit
    assert len(after.joints) == len(bench().build.joints)


def test_a_body_with_another_mount_keeps_the_lens_through_an_adapter_that_is_free() -> None:
    caisson = bench("caisson")
    kept = exchange(caisson, caisson.build.body, "R2-2")
    assert kept is not None
    after = apply_all(caisson.build, kept.operations, SHELF)
    assert after.body == "R2-2"
    on = {j.child for j in after.joints}
    assert {u for u in caisson.build.units if u not in kept.left} - {caisson.build.body} <= on | {
        k.cable for k in after.links
    }
    for joint in after.joints:
        parent = SHELF.model_of(joint.parent).port(joint.parent_port)
        assert mates(SHELF.model_of(joint.child).port(joint.child_port), parent), joint


def test_everything_that_is_offered_in_exchange_can_be_done_and_loses_only_what_it_says() -> None:
    for rig in ("quay", "caisson", "dock-floor", "stage-rail"):
        at = bench(rig)
        for unit in at.build.units:
            for way in exchanges(at, unit)[:3]:
                after = apply_all(at.build, way.operations, SHELF)
                lost = set(at.build.units) - set(after.units) - {unit}
                assert lost == set(way.left), (unit, way.unit)


def test_a_label_that_is_typed_out_comes_first_whatever_else_has_its_letters() -> None:
    lens = next(u for u in SHELF.shelf if u.id == "ZOOM-1")
    twin = replace(SHELF.models[lens.model], id="twin", name="zoom 1 of two")
    named = replace(lens, id="ALONG-1", model="twin")
    shelf = replace(SHELF, models={**SHELF.models, "twin": twin}, units={"ALONG-1": named, **SHELF.units})
    found, build = FILE.job.builds_in("dress")["quay"]
    stand = stand_of(build, shelf, FILE.job.parts[0].conditions, FILE.job.settings, {}, found.target)
    typed = matches(Bench(stand).after((Strip(),)), "zoom-1")
    assert typed[0].unit == "ZOOM-1"
    assert "ALONG-1" in [m.unit for m in typed]
