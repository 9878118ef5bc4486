"""Who may do what, the last lead, names and passwords, and how long who guesses waits."""

from __future__ import annotations

from itertools import pairwise, product
from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.crew.rights import HOUSES, OF_JOB, ROLES, Person, Right, allowed, fewest_leads, own_cameras
from lift_crate.core.crew.secrets import FREE_BY_ADDRESS, BadSecret, checked_name, checked_password, wait_s
from lift_crate.demo import demo_job_file


def test_without_a_role_there_is_no_right_in_a_job_and_without_an_account_none_at_all() -> None:
    of_jobs = {right for role in ROLES for right in OF_JOB[role]}
    for right, house in product(get_args(Right), HOUSES):
        somebody = Person(id="1", name="Op 1", house=house)
        assert allowed(right, None) == (right == "anyone")
        if right in of_jobs:
            assert not allowed(right, somebody, None), "whatever he is in the house"
        for role in ROLES:
            assert allowed(right, somebody, role) or not allowed(right, somebody, role, own=False)


def test_an_operator_rigs_his_own_cameras_and_a_lead_all() -> None:
    operator = Person(id="1", name="Op 1", house="member")
    assert allowed("rig", operator, "operator")
    assert not allowed("rig", operator, "operator", own=False)
    assert allowed("rig", operator, "lead", own=False)
    assert not allowed("rig", operator, "keeper")
    assert [role for role in ROLES if allowed("pack", operator, role)] == ["lead", "keeper"]
    job = demo_job_file().job
    for name in job.people:
        assert own_cameras(job, name) == {cell.rig for cell in job.plan if cell.operator == name}


@given(st.dictionaries(st.sampled_from("abcde"), st.sampled_from(ROLES)), st.sampled_from("abcde"))
def test_a_job_that_has_a_lead_keeps_one(roles: dict[str, str], leaves: str) -> None:
    for becomes in (*ROLES, None):
        after = {**roles, leaves: becomes}
        refused = fewest_leads(roles, leaves, becomes)
        assert refused == ("lead" in roles.values() and "lead" not in after.values())


def test_names_and_passwords_are_taken_as_they_can_be_kept() -> None:
    assert checked_name("  Keel   Hand ") == "Keel Hand"
    for name in ("", "   ", "x" * 81):
        with pytest.raises(BadSecret, match="of 1 to 80 characters"):
            checked_name(name)
    assert checked_password("harbour lantern sixpence", "Keel Hand") == "harbour lantern sixpence"
    for password, says in (
        ("short", "at least 10"),
        ("x" * 201, "at most 200"),
        ("aaaaaaaaaaaa", "guessed too soon"),
        ("qwertyuiopasdf", "guessed too soon"),
        ("Keel Hand the First", "guessed too soon"),
    ):
        with pytest.raises(BadSecret, match=says):
            checked_password(password, "keel hand the first")


def test_each_wait_is_twice_the_one_before_up_to_a_quarter_of_an_hour() -> None:
    waits = [wait_s(n) for n in range(60)]
    assert waits[:5] == [0, 0, 0, 2, 4]
    assert all(b in (2 * a, 900) for a, b in pairwise(waits[3:]))
    assert waits[-1] == 900
    assert (wait_s(FREE_BY_ADDRESS - 1, FREE_BY_ADDRESS), wait_s(FREE_BY_ADDRESS, FREE_BY_ADDRESS)) == (0, 2)
