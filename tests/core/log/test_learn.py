"""What a log teaches: worked figures, another way of getting each, and packs whose health nobody told it."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.day.laid_out import lay_out
from lift_crate.core.day.media import minutes_on
from lift_crate.core.log.effects import Effect, effects_of
from lift_crate.core.log.entries import LogEntry, Standing
from lift_crate.core.log.learn import (
    Figure,
    Learning,
    Taken,
    learn,
    learnt,
    learnt_together,
    minutes_now,
    pack_runs,
    with_figure,
)
from lift_crate.core.rig.build import Catalogue
from lift_crate.core.swaps.day import FULL, day_problem, days_of
from lift_crate.core.swaps.what_if import Made
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import examples

FILE = demo_job_file()
JOB, SHELF = FILE.job, catalogue_of(FILE)
DAY = days_of(JOB)[0]
LAID = lay_out(JOB, SHELF)
CHANGES = tuple((b.rig.id, b.before.ends, b.after.starts, b.change) for b in LAID.table.between if b.was != b.now)
NOON = datetime(2027, 3, 19, 12, tzinfo=UTC)
figures = st.floats(0.1, 5, allow_nan=False)


def standing(**said: object) -> Standing:
    entry = LogEntry(**{"id": str(said), "kind": "reading", "at": NOON, **said})  # type: ignore[arg-type]  # as typed
    return Standing(entry=entry, by="lead")


def reader(**more: object) -> Learning:
    given = {"job": JOB, "catalogue": SHELF, "lines": LAID.media.lines, "changes": CHANGES, **more}
    return Learning(**given)  # type: ignore[arg-type]  # as typed


def test_the_worked_figure() -> None:
    mean, spread = learnt(1.0, 0.10, [0.82, 0.86, 0.80], 0.07)
    assert (round(mean, 3), round(spread, 3)) == (0.851, 0.037)
    assert learnt(1.0, 0.10, [], 0.07)[1] == pytest.approx(0.10)
    with pytest.raises(ValueError, match="spread"):
        learnt(1.0, 0.0, [0.8], 0.07)


@settings(max_examples=examples(60))
@given(figures, st.lists(figures, max_size=8), figures, figures)
def test_one_reading_after_the_other_comes_to_the_same(
    first: float, readings: list[float], s: float, sd: float
) -> None:
    at_once = learnt(first, s, readings, sd)
    mean, spread = first, s
    for reading in readings:
        mean, spread = learnt(mean, spread, [reading], sd)
    assert [mean, spread] == pytest.approx(list(at_once))
    # The figure is where the sum of squared distances, each over its spread, is least.
    grid = np.linspace(0, 6, 60_001)
    cost = ((grid - first) / s) ** 2 + sum(((grid - r) / sd) ** 2 for r in readings)
    assert grid[int(np.argmin(cost))] == pytest.approx(at_once[0], abs=2e-4)


@settings(max_examples=examples(60))
@given(figures, st.lists(figures, min_size=1, max_size=6))
def test_one_kind_of_work_alone_is_learnt_like_any_figure(first: float, readings: list[float]) -> None:
    found = learnt_together({"screw": first}, 0.3, [({"screw": 1.0}, r) for r in readings], 0.25)
    mean, spread = learnt(first, 0.3 * first, readings, 0.25 * first)
    assert list(found["screw"]) == pytest.approx([mean, spread])


@settings(max_examples=examples(40))
@given(st.lists(st.tuples(st.integers(0, 4), st.integers(0, 4), st.floats(1, 40)), min_size=1, max_size=6))
def test_two_kinds_together_are_the_least_squares_of_all_rows(rows: list[tuple[int, int, float]]) -> None:
    first = {"screw": 1.5, "cable": 0.5}
    readings = [({"screw": float(a), "cable": float(b)}, y) for a, b, y in rows if a + b]
    found = learnt_together(first, 0.3, readings, 0.25)
    names = sorted(found, reverse=True)
    if not names:
        return
    lines, right = [], []
    for i, n in enumerate(names):
        lines.append([1.0 / (0.3 * first[n]) if i == j else 0.0 for j in range(len(names))])
        right.append(1 / 0.3)
    for counts, y in readings:
        fixed = sum(counts[n] * first[n] for n in first if n not in names)
        sd = 0.25 * (fixed + sum(counts[n] * first[n] for n in names))
        lines.append([counts[n] / sd for n in names])
        right.append((y - fixed) / sd)
    expected, *_ = np.linalg.lstsq(np.array(lines), np.array(right), rcond=None)
    assert [found[n][0] for n in names] == pytest.approx(expected.tolist(), rel=1e-6)


def swapped(health: float, share: float = 1.0) -> tuple[str, tuple[Made, ...]]:
    """A place of the first day in which one pack of that health is swapped out when it has given so much."""
    unhealthy = Catalogue(
        SHELF.interfaces,
        SHELF.models,
        {
            n: replace(u, health=health, cycles=None) if SHELF.models[u.model].pack else u
            for n, u in SHELF.units.items()
        },
    )
    problem = day_problem(JOB, unhealthy, DAY)
    slot = next(
        s
        for s in problem.slots
        if s.own and not s.built_in and len(s.on) and max(s.used[next(c for c in s.used)]) > 0.6 * FULL
    )
    pack = slot.own or ""
    name = f"{SHELF.model_of(pack).id}@{math.floor(health * 10 + 1e-9) / 10:.1f}"
    used = slot.used[name]
    end = next(i for i, u in enumerate(used) if u >= share * FULL * 0.6)
    floor = slot.floor[name]
    left = 1 - used[end] / FULL * (1 - floor)
    other = next(u.id for u in SHELF.shelf if u.model == SHELF.unit(pack).model and u.id != pack)
    return pack, (
        Made(slot=slot.id, at=problem.when(slot.first + end), pack_in=other, pack_out=pack, charge_left=left),
    )


@pytest.mark.parametrize("health", [0.6, 0.8, 1.0])
def test_a_hidden_health_is_read_from_the_charge_that_was_left(health: float) -> None:
    pack, made = swapped(health)
    runs = pack_runs(reader(made=made))[pack]
    assert [r.value for r in runs] == [pytest.approx(health, abs=0.035)]
    (proposal,) = [p for p in learn(reader(made=made)) if p.thing == pack]
    now = SHELF.unit(pack).health_left
    mean, spread = learnt(now, 0.10, [runs[0].value], 0.07)
    assert proposal.value == pytest.approx(min(1.0, mean), abs=1e-3)
    assert proposal.spread == pytest.approx(spread)


def test_a_pack_whose_charge_nobody_read_teaches_nothing() -> None:
    pack, (made,) = swapped(0.8)
    assert not pack_runs(reader(made=(replace(made, charge_left=None),)))
    # It gave less than three tenths: the lamps of a pack show no more than that.
    assert pack not in pack_runs(reader(made=(replace(made, charge_left=0.8),)))


def test_hours_until_empty_are_over_those_of_a_new_pack() -> None:
    problem = day_problem(JOB, reader().healthy, DAY)
    slot = next(s for s in problem.slots if s.rig and s.own and not s.built_in and s.last - s.first > 24)
    name = f"{SHELF.model_of(slot.own or '').id}@1.0"
    hours, used = 1.0, slot.used[name]
    steps = round(hours * 60 / problem.step_min)
    at = problem.when(slot.first + steps)
    entry = standing(what="hours", unit=slot.own, rig=slot.rig, value=hours, at=at)
    (run,) = pack_runs(reader(entries=(entry,)))[slot.own or ""]
    assert run.value == pytest.approx(used[steps] / FULL * (1 - slot.floor[name]), rel=1e-6)


def test_what_was_taken_over_is_learnt_from_its_first_value_again() -> None:
    unit = next(u for u in SHELF.shelf if SHELF.model_of(u.id).draw)
    watts = SHELF.unit(unit.id).measured_w or SHELF.model_of(unit.id).draw.record_w  # type: ignore[union-attr]  # has one
    entries = tuple(
        standing(what="watts", unit=unit.id, value=watts * f, at=NOON + timedelta(hours=i))
        for i, f in enumerate((1.1, 1.2, 1.15))
    )
    (before,) = learn(reader(entries=entries[:2]))
    _, shelf = with_figure(JOB, SHELF, before.figure)
    taken = Taken(
        of="draw", thing=unit.id, before=before.now, value=before.value, at=NOON + timedelta(hours=1.5), by="lead"
    )
    (after,) = learn(reader(catalogue=shelf, entries=entries, taken=(taken,)))
    (whole,) = learn(reader(entries=entries))
    assert after.value == whole.value
    assert after.first == before.now
    assert after.now == before.value
    # Somebody typed another figure since: what was read before is behind it.
    typed = Catalogue(SHELF.interfaces, SHELF.models, {**SHELF.units, unit.id: replace(unit, measured_w=watts * 2)})
    (anew,) = learn(reader(catalogue=typed, entries=entries, taken=(taken,)))
    assert (anew.first, len(anew.runs)) == (watts * 2, 1)


def test_a_gimbal_whose_hours_nobody_knew_goes_on_learning_after_the_first_are_taken() -> None:
    gimbal = next(u for u in SHELF.shelf if SHELF.model_of(u.id).gimbal and u.measured_h is None)
    entries = tuple(
        standing(what="hours", unit=gimbal.id, value=h, at=NOON + timedelta(hours=i))
        for i, h in enumerate((6.0, 5.0, 4.0))
    )
    (claim,) = learn(reader(entries=entries[:2]))
    assert (claim.now, claim.value, claim.taken) == (0.0, 5.5, False)
    _, shelf = with_figure(JOB, SHELF, claim.figure)
    taken = Taken(of="gimbal hours", thing=gimbal.id, before=0.0, value=5.5, at=NOON + timedelta(hours=1.5), by="lead")
    (after,) = learn(reader(catalogue=shelf, entries=entries, taken=(taken,)))
    assert (after.now, after.value, len(after.runs)) == (5.5, 5.0, 3)


def test_card_minutes_tell_what_a_mode_writes() -> None:
    line = next(x for x in LAID.media.lines if any(p.card for p in x.pieces))
    card = next(p.card for p in line.pieces if p.card)
    gb = SHELF.model_of(card or "").card.gb  # type: ignore[union-attr]  # a card
    computed = minutes_on(gb or 0, line.mode.mbit_s)
    entry = standing(
        what="card minutes", unit=card, rig=line.rig.id, value=computed * 0.8, at=line.part.starts + timedelta(hours=1)
    )
    (proposal,) = learn(reader(entries=(entry,)))
    mean, _ = learnt(1.0, 0.10, [1 / 0.8], 0.03)
    assert proposal.value == pytest.approx(line.mode.mbit_s * mean, abs=0.06)
    _, shelf = with_figure(JOB, SHELF, proposal.figure)
    recording = shelf.model_of(line.unit).recording
    assert recording is not None
    mode = next(m for m in recording.modes if m.label == line.mode.label)
    assert mode.mbit_s == proposal.value


def test_a_whole_changeover_is_shared_out_over_its_joints() -> None:
    rig, ends, starts, change = next(c for c in CHANGES if c[3].alone_min > 3)
    at = ends + (starts - ends) / 2
    entry = standing(kind="minutes", what="changeover", rig=rig, value=change.alone_min * 1.5, at=at)
    found = {p.thing: p for p in learn(reader(entries=(entry,)))}
    kinds = {t.act if t.act in ("balance", "recalibrate") else t.kind for t in change.tasks} - {""}
    assert set(found) == kinds
    assert all(p.value >= p.first for p in found.values())
    # Counted with what was learnt, the same change comes nearer to what was timed, and not beyond it.
    job = JOB
    for p in found.values():
        job, _ = with_figure(job, SHELF, p.figure)
    after = next(
        b.change.alone_min for b in lay_out(job, SHELF).table.between if b.rig.id == rig and b.before.ends == ends
    )
    assert change.alone_min < after < change.alone_min * 1.5


def test_what_a_figure_changes_is_tried_before_it_is_taken() -> None:
    pack = next(u for u in SHELF.shelf if SHELF.model_of(u.id).kind == "pack" and u.health_left >= 0.9).id
    wanted = [Figure(of="health", thing=pack, value=0.4), Figure(of="minutes", thing="screw", value=6.0)]
    told: list[tuple[Effect, ...]] = []

    def so_far(found: tuple[Effect, ...]) -> bool:
        told.append(found)
        return False

    day = replace(JOB, parts=DAY)
    effects_of(day, SHELF, wanted, (), so_far)
    assert [len(found) for found in told] == [1, 2]
    assert any("instead of" in line for line in told[-1][1].differs)
    as_it_is = Figure(of="minutes", thing="screw", value=minutes_now(JOB.settings)["screw"])
    effects_of(day, SHELF, [as_it_is], (), so_far)
    assert told[-1] == (Effect(figure=as_it_is),)


def test_readings_in_any_order_lead_to_the_same_figures() -> None:
    unit = next(u.id for u in SHELF.shelf if SHELF.model_of(u.id).draw)
    entries = [standing(what="watts", unit=unit, value=20.0 + i, at=NOON + timedelta(minutes=i)) for i in range(5)] + [
        standing(kind="minutes", what="screw", value=4.0 + i, times=2, at=NOON + timedelta(minutes=i)) for i in range(3)
    ]
    one = {p.thing: p.value for p in learn(reader(entries=tuple(entries)))}
    other = {p.thing: p.value for p in learn(reader(entries=tuple(reversed(entries))))}
    assert one == pytest.approx(other)
