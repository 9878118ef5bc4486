"""Gear over the day: counted again by hand, spares really put in, and what is vital really taken away."""

from __future__ import annotations

from collections import Counter

import pytest

from lift_crate.core.callouts import Level
from lift_crate.core.day.media import media_plan
from lift_crate.core.day.pool import pool_of
from lift_crate.core.day.table import day_table
from lift_crate.core.errors import BadRig
from lift_crate.core.rig.edits import Detach, Disconnect, Replace, apply
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import quick_of

FILE = demo_job_file()
SHELF = catalogue_of(FILE)
TABLE = day_table(FILE.job, SHELF)
POOL = pool_of(FILE.job, SHELF, TABLE, media_plan(FILE.job, SHELF))
HELD = {held.unit: held for model in POOL.models for held in model.units}


def fits_ill(cell: object) -> Counter[str]:
    return Counter(f.code for f in cell.findings if f.code.startswith("fit.") and f.level is Level.STOP)  # type: ignore[attr-defined]


def test_every_model_is_counted_as_its_builds_have_it() -> None:
    for part in FILE.job.parts:
        out = Counter(
            SHELF.unit(unit).model for _, build in FILE.job.builds_in(part.id).values() for unit in build.units
        )
        for model in POOL.models:
            model_id = SHELF.unit(model.units[0].unit).model
            if out[model_id]:
                assert model.used[part.id] >= out[model_id]
                assert model.used[part.id] <= model.there, "no unit is out twice"


def test_a_spare_is_free_whenever_it_is_wanted_and_goes_in_the_place() -> None:
    tried = 0
    for held in HELD.values():
        if not held.spare:
            continue
        elsewhere = HELD.get(held.spare)
        assert not set(held.at) & set(elsewhere.at if elsewhere else ()), f"{held.spare} is out when {held.unit} fails"
        assert SHELF.unit(held.spare).condition == "good"
        if SHELF.unit(held.spare).model != SHELF.unit(held.unit).model:
            continue
        for cell in TABLE.cells:
            if held.unit in cell.build.units:
                after = apply(cell.build, Replace(unit=held.unit, by=held.spare), SHELF)
                one, other = (
                    quick_of(build, SHELF, cell.part.conditions, FILE.job.settings) for build in (cell.build, after)
                )
                assert fits_ill(one) == fits_ill(other)
                tried += 1
    assert tried > 20


def test_without_what_a_camera_stops_with_it_has_no_lens_no_power_or_nothing_to_stand_on() -> None:
    for cell in TABLE.cells:
        if cell.part.id not in ("dress", "act-3"):
            continue
        before = cell.stand
        for unit in cell.build.units:
            if unit == cell.build.body:
                assert HELD[unit].stops == "the camera"
                continue
            off = Detach(unit=unit) if cell.build.joint_of(unit) else Disconnect(cable=unit)
            try:
                after = quick_of(apply(cell.build, off, SHELF), SHELF, cell.part.conditions, FILE.job.settings).stand
            except BadRig:
                pytest.fail(f"{unit} cannot be taken off")
            unfed = cell.build.body in after.graph.unfed and cell.build.body not in before.graph.unfed
            dead = (before.view is not None and after.view is None) or unfed
            dead |= before.assembly.find_support() is not None and after.assembly.find_support() is None
            if dead:
                assert HELD[unit].stops == "the camera", f"{cell.rig.label} without {unit}"


def test_what_is_there_once_is_told_in_one_line() -> None:
    (told,) = POOL.findings
    assert (told.code, told.level) == ("pool.single", Level.WATCH)
    alone = [held for model in POOL.models for held in model.alone]
    assert told.value == len(alone)
    assert {"C6-1", "GIMBAL-1", "HEAD-2"} <= {held.unit for held in alone}
    assert HELD["R2-1"].spare == "R2-2"
    assert HELD["WIDE-01"].at["mark-through"] == "Quay", "cards are gear too"


def test_a_lens_is_told_every_body_of_the_job_that_it_works_on() -> None:
    """At least those that it is planned on without a Stop at its mount; and it really goes on with the chain told."""
    serves = {m.title: set(m.serves) for m in POOL.models if m.kind == "lens"}
    for cell in TABLE.cells:
        lens = cell.stand.view.lens if cell.stand.view else None
        judged = quick_of(cell.build, SHELF, cell.part.conditions, FILE.job.settings)
        mounts = [f for f in judged.findings if f.level is Level.STOP and f.code.startswith(("lens.", "fit."))]
        if lens and not any(lens in f.about.units for f in mounts):
            assert SHELF.model_of(cell.build.body).title in serves[SHELF.model_of(lens).title]
    assert all(not m.serves for m in POOL.models if m.kind != "lens")


def test_what_another_job_has_is_no_spare_and_counts() -> None:
    held = next(h for h in HELD.values() if h.spare and SHELF.unit(h.spare).model == SHELF.unit(h.unit).model)
    part = next(iter(held.at))
    out = {(part, held.spare): "The other show"}
    pool = pool_of(FILE.job, SHELF, TABLE, media_plan(FILE.job, SHELF), out)
    now = {h.unit: h for model in pool.models for h in model.units}
    assert now[held.unit].spare != held.spare
    assert now[held.spare].at[part] == "‘The other show’"
    model_of = SHELF.model_of(held.unit).title
    was, after = (next(m for m in x.models if m.title == model_of) for x in (POOL, pool))
    assert after.used[part] == was.used[part] + 1
    assert {m.title for m in pool.models} == {m.title for m in POOL.models}
