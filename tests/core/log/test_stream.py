"""What was planned stands beside what happened, in the order of time; which planned swaps were made."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta

from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.day.laid_out import lay_out
from lift_crate.core.log.stream import Planned, carried_out, planned_of
from lift_crate.core.swaps.card import Swap
from lift_crate.core.swaps.what_if import Made
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import examples

EIGHT = datetime(2027, 3, 19, 20, tzinfo=UTC)
MINUTES = st.integers(0, 300)
PACKS = st.sampled_from(("PACK-1", "PACK-2"))


def planned(minute: int, pack: str) -> Planned:
    at = EIGHT + timedelta(minutes=minute)
    return Planned(at=at, what="swap", rig="quay", text="", slot="quay · body", pack_in=pack)


def made(minute: int, pack: str, slot: str = "quay · body") -> Made:
    return Made(slot=slot, at=EIGHT + timedelta(minutes=minute), pack_in=pack)


def test_the_nearest_planned_one_is_made_and_each_swap_makes_one() -> None:
    row = [planned(10, "PACK-1"), planned(120, "PACK-1"), planned(60, "PACK-2")]
    assert carried_out(row, [made(110, "PACK-1")]) == {1}
    assert carried_out(row, [made(110, "PACK-1"), made(118, "PACK-1")]) == {0, 1}
    assert carried_out(row, [made(60, "PACK-2", "dock-floor · body")]) == set()


@settings(max_examples=examples(90))
@given(st.lists(st.tuples(MINUTES, PACKS), max_size=7), st.lists(st.tuples(MINUTES, PACKS), max_size=7))
def test_as_many_are_made_as_there_are_swaps_of_a_pack(
    plan: list[tuple[int, str]], done: list[tuple[int, str]]
) -> None:
    found = carried_out([planned(*p) for p in plan], [made(*d) for d in done])
    for pack in ("PACK-1", "PACK-2"):
        wanted = min(sum(p == pack for _, p in plan), sum(p == pack for _, p in done))
        assert sum(plan[i][1] == pack for i in found) == wanted


def test_parts_moments_changes_and_swaps_stand_in_the_order_of_time() -> None:
    file = demo_job_file()
    table = lay_out(file.job, catalogue_of(file)).table
    part = file.job.parts[1]
    at = part.starts + timedelta(minutes=30)
    second = Swap(
        at=at, minute=0, slot="quay · body", label="Quay", rig="quay", pack_out="PACK-1", pack_in="PACK-2", left=None,
        bring_from="", take_to="", in_break=False, person="",
    )  # fmt: skip
    first = replace(second, at=part.starts, pack_out=None, pack_in="PACK-1")
    row = planned_of(file.job, table, [second, first])
    assert list(row) == sorted(row, key=lambda p: p.at)
    assert sum(p.what == "part" for p in row) == sum(p.what == "end" for p in row) == len(file.job.parts)
    assert sum(p.what == "moment" for p in row) == sum(len(p.moments) for p in file.job.parts)
    assert sum(p.what == "change" for p in row) == sum(b.was != b.now for b in table.between)
    assert [(p.text, p.at) for p in row if p.what == "swap"] == [("Quay: PACK-2 for PACK-1", at)], (
        "the first pack belongs to building the rig"
    )
