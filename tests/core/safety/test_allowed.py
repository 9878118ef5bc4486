"""What a job is allowed by its use and its days; who watches the way of whoever moves with a camera."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.callouts import Level
from lift_crate.core.day.table import day_table
from lift_crate.core.job.edits import RemovePart, SetCell, apply_to_job, describe_in_job
from lift_crate.core.job.job import Job, JobRefused, NotInJob
from lift_crate.core.job.permission import Permission, SafetyPlan
from lift_crate.core.job.permission_edits import PermissionOperation, PutPermission, RemovePermission, SetPaid
from lift_crate.core.rig.build import Target
from lift_crate.core.safety.allowed import not_asked_for, permission_states
from tests.core.safety.test_safety import JOB, SHELF, codes, sheets, with_rig
from tests.kit import examples

FIRST, LAST = JOB.parts[0].starts.date(), JOB.parts[-1].ends.date()
SOUND = Permission(id="a", label="Song", kind="music", state="given", rests_on="in writing", checked=FIRST)


def told(one: Permission, *, paid: bool = True, job: Job = JOB) -> dict[str, Level]:
    (state,) = permission_states(replace(job, safety=SafetyPlan(paid=paid, permissions=(one,))))
    return {f.code: f.level for f in state.findings}


def test_the_use_decides_and_a_rule_of_weight_or_fame_is_no_permission_for_paid_work() -> None:
    assert told(SOUND) == {}
    assert told(replace(SOUND, unpaid_only=True)) == {"safe.permit_use": Level.STOP}
    assert told(replace(SOUND, unpaid_only=True), paid=False) == {}
    for shaky in ("a rule of weight", "well known"):
        assert told(replace(SOUND, rests_on=shaky)) == {"safe.permit_rests": Level.STOP}
        assert told(replace(SOUND, rests_on=shaky), paid=False) == {"safe.permit_rests": Level.WATCH}
    assert told(replace(SOUND, state="asked")) == {"safe.permit_open": Level.WATCH}
    assert told(replace(SOUND, state="refused")) == {"safe.permit_open": Level.STOP}
    assert told(replace(SOUND, state="not needed", checked=None, rests_on="hearsay")) == {}


@settings(max_examples=examples(60))
@given(st.integers(-40, 400), st.integers(-10, 10))
def test_days_are_counted_to_when_it_is_needed(looked_at: int, runs_out: int) -> None:
    one = replace(SOUND, checked=FIRST - timedelta(looked_at), until=LAST + timedelta(runs_out))
    found = told(one)
    assert ("safe.permit_checked" in found) is (looked_at > JOB.settings.permit_days)
    assert ("safe.permit_over" in found) is (runs_out < 0)
    early = replace(one, parts=(JOB.parts[0].id,), until=JOB.parts[0].ends.date())
    assert "safe.permit_over" not in told(early), "it is needed only until its own parts end"


def test_what_the_plan_needs_and_nobody_noted_is_told() -> None:
    bare = replace(JOB, safety=SafetyPlan())
    assert [f.about.port for f in not_asked_for(bare, day_table(bare, SHELF))] == ["music"], (
        "the house desk is recorded"
    )
    driving = with_rig("dock-floor", bare, target=Target(distance_mm=9000, speed_m_s=11.0))
    assert {f.about.port for f in not_asked_for(driving, day_table(driving, SHELF))} == {"music", "vehicle"}
    noted = apply_to_job(driving, PutPermission(permission=replace(SOUND, kind="vehicle")), SHELF)
    assert [f.about.port for f in not_asked_for(noted, day_table(noted, SHELF))] == ["music"]


def test_a_permission_goes_with_the_only_part_it_was_for() -> None:
    two = SafetyPlan(permissions=(replace(SOUND, parts=("act-3",)), replace(SOUND, id="b", parts=("act-3", "dress"))))
    left = apply_to_job(replace(JOB, safety=two), RemovePart(part="act-3"), SHELF).safety
    assert [(p.id, p.parts) for p in left.permissions] == [("b", ("dress",))]
    with pytest.raises(NotInJob):
        apply_to_job(JOB, RemovePermission(permission="nobody-knows"), SHELF)
    with pytest.raises(NotInJob):
        apply_to_job(JOB, PutPermission(permission=replace(SOUND, parts=("never",))), SHELF)
    with pytest.raises(JobRefused, match="needs a name"):
        apply_to_job(JOB, PutPermission(permission=replace(SOUND, label=" ")), SHELF)
    assert date(2027, 3, 19) == FIRST


def test_a_spotter_watches_the_way_and_is_in_one_place() -> None:
    before = next(x for x in sheets(JOB)["dock-floor"].lines if x.finding.code == "safe.blind")
    assert "Spotter" in before.sign
    spotted = JOB
    for part in (a.part for a in JOB.plan if a.rig == "dock-floor"):
        spotted = apply_to_job(spotted, SetCell(rig="dock-floor", part=part, spotter="Runner"), SHELF)
    line = next(x for x in sheets(spotted)["dock-floor"].lines if x.finding.code == "safe.blind")
    assert (codes(sheets(spotted)["dock-floor"])["safe.blind"], line.sign) == (Level.NOTE, ("Route walked",))
    table = day_table(spotted, SHELF)
    assert table.people["Runner"]["dress"] == ("Dock floor as spotter",)
    other = next(a for a in JOB.plan if a.part == "dress" and a.rig == "quay" and a.operator)
    both = apply_to_job(JOB, SetCell(rig="dock-floor", part="dress", spotter=other.operator), SHELF)
    assert any(f.code == "day.two_places" and other.operator in f.text for f in day_table(both, SHELF).findings)


def test_who_is_at_the_finder_is_no_spotter_of_it() -> None:
    cell = JOB.cell("dress", "dock-floor")
    with pytest.raises(JobRefused, match="somebody else"):
        apply_to_job(JOB, SetCell(rig="dock-floor", part="dress", spotter=cell.operator), SHELF)
    spotted = apply_to_job(JOB, SetCell(rig="dock-floor", part="dress", spotter="Runner"), SHELF)
    taken = apply_to_job(spotted, SetCell(rig="dock-floor", part="dress", operator="Runner"), SHELF)
    assert taken.cell("dress", "dock-floor").spotter == ""
    alone = apply_to_job(spotted, SetCell(rig="dock-floor", part="dress", unattended=True), SHELF)
    assert alone.cell("dress", "dock-floor").spotter == ""
    with pytest.raises(JobRefused, match="Nobody moves"):
        apply_to_job(alone, SetCell(rig="dock-floor", part="dress", spotter="Runner"), SHELF)


def test_every_edit_is_told_in_words() -> None:
    there = replace(JOB, safety=SafetyPlan(permissions=(SOUND,)))
    told: dict[PermissionOperation, str] = {
        PutPermission(permission=SOUND): "Change permission Song",
        PutPermission(permission=replace(SOUND, id="b", label="Roof")): "Add permission Roof",
        RemovePermission(permission="a"): "Remove permission Song",
        SetPaid(paid=True): "The job is paid",
        SetPaid(paid=False): "Nobody is paid for the job",
    }
    for operation, words in told.items():
        assert describe_in_job(operation, there) == words
    assert [p.id for p in apply_to_job(there, RemovePermission(permission="a"), SHELF).safety.permissions] == []
    assert not apply_to_job(there, SetPaid(paid=False), SHELF).safety.paid
    asked = replace(SOUND, state="to ask", by="the house", asked_by="Op 2")
    (state,) = permission_states(replace(JOB, safety=SafetyPlan(permissions=(asked,))))
    assert [f.text for f in state.findings] == ["Song: nobody has asked yet, the house decides; Op 2 asks."]
