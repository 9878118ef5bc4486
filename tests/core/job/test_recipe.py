"""Recipes: a build by models, dressed with what is free."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from lift_crate.core.errors import LiftCrateError
from lift_crate.core.job.edits import AddBuild, JobRefused, apply_to_job
from lift_crate.core.job.job import Job, NotInJob
from lift_crate.core.job.recipe import Recipe, dress, recipe_of
from lift_crate.core.rig.assembly import assemble
from lift_crate.core.rig.build import Build
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import examples

FILE = demo_job_file()
SHELF = catalogue_of(FILE)
BUILDS = [build for rig in FILE.job.rigs for build in rig.builds]


def models(build: Build) -> Counter[str]:
    """How many of each model a build has."""
    return Counter(SHELF.units[unit].model for unit in build.units)


@pytest.mark.parametrize("build", BUILDS, ids=lambda b: b.id)
def test_a_recipe_of_a_build_is_the_same_build_whatever_units_are_in_it(build: Build) -> None:
    recipe = recipe_of(build, SHELF, "r", "r")
    assert not set(build.units) & set(recipe.models)
    reader = TypeAdapter(Recipe)
    assert reader.validate_json(reader.dump_json(recipe)) == recipe
    dressed = dress(recipe, SHELF, ())
    assert models(dressed.build) == models(build)
    assert not dressed.missing
    again = recipe_of(dressed.build, SHELF, "r", "r")
    assert Counter(again.models.values()) == Counter(recipe.models.values())
    assert [(j.child_port, j.parent_port, j.slide_mm) for j in again.build.joints] == [
        (j.child_port, j.parent_port, j.slide_mm) for j in build.joints
    ]
    assemble(dressed.build, SHELF)


@settings(max_examples=examples(60), deadline=None)
@given(st.sampled_from(BUILDS), st.sets(st.sampled_from(sorted(SHELF.units)), max_size=len(SHELF.units)))
def test_what_is_in_use_is_never_taken_and_what_is_missing_is_told(build: Build, busy: set[str]) -> None:
    """Every place is either filled by a free unit of its model, or hangs on one that is told to be missing."""
    recipe = recipe_of(build, SHELF, "r", "r")
    try:
        dressed = dress(recipe, SHELF, busy)
    except JobRefused:
        body = SHELF.units[build.body].model
        assert all(u.id in busy or u.condition == "out of use" for u in SHELF.shelf if u.model == body)
        return
    assert not busy & set(dressed.build.units)
    assert len(set(dressed.build.units)) == len(dressed.build.units) == dressed.units
    short = Counter({m.model: m.count for m in dressed.missing})
    free = Counter(u.model for u in SHELF.shelf if u.id not in busy and u.condition != "out of use")
    for model, wanted in Counter(recipe.models.values()).items():
        assert short[model] == max(0, wanted - free[model])
    assert not models(dressed.build) - Counter(recipe.models.values())
    assemble(dressed.build, SHELF)


def test_owned_units_come_before_hired_and_good_before_doubtful() -> None:
    build = next(b for b in BUILDS if any(SHELF.units[u].model == SHELF.units["PACK-07"].model for u in b.units))
    model = SHELF.units["PACK-07"].model
    recipe = recipe_of(build, SHELF, "r", "r")
    for better, worse in (({}, {"owner": "hired"}), ({}, {"condition": "doubtful"}), ({}, {"health": 0.4})):
        marked = {
            unit.id: replace(unit, **(better if unit.id == "PACK-07" else worse)) if unit.model == model else unit
            for unit in SHELF.units.values()
        }
        assert "PACK-07" in dress(recipe, replace(SHELF, units=marked), ()).build.units


def test_a_build_with_content_is_added_planned_and_refused_whole() -> None:
    job = FILE.job
    rig = next(r for r in job.rigs if len(r.builds) > 1)
    content = rig.builds[1]
    bare: Job = replace(job, plan=())
    made = apply_to_job(bare, AddBuild(rig=rig.id, label="again", content=content, part=job.parts[0].id), SHELF)
    new = made.builds_in(job.parts[0].id)[rig.id][1]
    assert (new.label, new.joints, new.links) == ("again", content.joints, content.links)
    assert made.planned(job.parts[1].id, f"{rig.id}~{new.id}") == new
    for wrong in (f"{rig.id}~nothing", f"{job.rigs[-1].id}~{new.id}", rig.id):
        with pytest.raises(NotInJob):
            made.planned(job.parts[1].id, wrong)
    odd = replace(made, rigs=tuple(replace(r, id="a~b") if r.id == rig.id else r for r in made.rigs))
    planned = tuple(replace(a, rig="a~b") if a.rig == rig.id else a for a in made.plan)
    assert replace(odd, plan=planned).planned(job.parts[0].id, "a~b") == new, "a camera may be called so"
    for broken in (replace(content, body="nothing"), replace(content, body="PACK-07")):
        with pytest.raises(LiftCrateError):
            apply_to_job(job, AddBuild(rig=rig.id, label="x", content=broken), SHELF)
