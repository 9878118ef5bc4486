"""What was done in a job goes with its file, once, and never against what was noted elsewhere."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta
from typing import Any

import pytest

from lift_crate.core.day.custody import CardStep
from lift_crate.core.day.rolling import SoundStep
from lift_crate.core.done import Done
from lift_crate.core.pack.lists import PackStep
from lift_crate.core.swaps.what_if import Made
from lift_crate.formats.job_file import BadJobFile, dump, parse
from lift_crate.store.cards import CardStore
from lift_crate.store.database import migrate, open_pool
from lift_crate.store.errors import DoneElsewhere
from lift_crate.store.jobs import JobStore
from lift_crate.store.packing import PackingStore
from lift_crate.store.sound import SoundStore
from lift_crate.store.swaps import SwapStore

JOB = "dry-dock-opera"


def test_a_night_goes_to_another_house_and_comes_back_once(jobs: JobStore, new_database: Callable[[], str]) -> None:
    cards, sound, swaps = CardStore(jobs), SoundStore(jobs), SwapStore(jobs)
    job, _, _ = jobs.read(JOB)
    begin = job.parts[0].starts
    steps: tuple[tuple[int, Any, str, dict[str, Any]], ...] = (
        (0, "in", "WIDE-03", {"unit": "C6-1", "slot": "slot-1"}),
        (60, "out", "WIDE-03", {}),
        (70, "copied", "WIDE-03", {"place": "DRIVE-1", "verified": True}),
        (75, "fault", "WIDE-04", {"note": "slow to mount"}),
    )
    for minutes, act, label, more in steps:
        step = CardStep(act=act, card=label, at=begin + timedelta(minutes=minutes), **more)
        last = cards.note(JOB, step, "ada")
    cards.take_back(JOB, last, "ben")
    voice = next(v for v in job.sound.voices if v.sources)
    sound.note(JOB, SoundStep(voice=voice.id, source=voice.sources[0].label, act="runs", at=begin), "ada")
    packing = PackingStore(jobs)
    for thing in ("C6-1", "R2-2"):
        packing.note(JOB, [PackStep(act="packed", thing=thing, case="CASE-1", at=begin)], "ada")
    packing.take_back(JOB, packing.of(JOB)[-1].id, "ben")
    swaps.note(JOB, Made(slot="quay · SWAP-1 · pack", at=begin, pack_in="PACK-03", charge_left=0.2), "ada")
    raw = dump(jobs.export(JOB))
    url = new_database()
    migrate(url)
    with open_pool(url, size=2) as pool:
        other = JobStore(pool)
        other.import_file(parse(raw))
        assert dump(other.export(JOB)) == raw
        noted = CardStore(other).all()
        assert [(n.step.act, n.actor, n.taken_back_by) for n in noted] == [
            ("in", "ada", None),
            ("out", "ada", None),
            ("copied", "ada", None),
            ("fault", "ada", "ben"),
        ]
        assert [(n.step.thing, n.taken_back_by) for n in PackingStore(other).of(JOB)] == [
            ("C6-1", None),
            ("R2-2", "ben"),
        ]
        other.import_file(parse(raw), replace_job=True)
        assert dump(other.export(JOB)) == raw, "what was noted once is not noted again"
        # The other house goes on; only what is new comes back.
        CardStore(other).note(
            JOB, CardStep(act="fault", card="WIDE-04", at=begin + timedelta(hours=3), note="clean"), "cleo"
        )
        SoundStore(other).take_back(JOB, SoundStore(other).of(JOB)[0].id, "cleo")
        further = other.export(JOB)
    jobs.import_file(further, replace_job=True)
    assert [n.actor for n in cards.all()] == ["ada"] * 4 + ["cleo"]
    assert len(swaps.of(JOB)) == len(sound.of(JOB)) == 1


def test_what_cannot_have_been_beside_what_is_noted_refuses_the_whole_file(jobs: JobStore) -> None:
    cards, swaps = CardStore(jobs), SwapStore(jobs)
    begin = jobs.read(JOB)[0].parts[0].starts
    there = cards.note(JOB, CardStep(act="in", card="WIDE-03", at=begin, unit="C6-1", slot="slot-1"), "ada")
    swap = swaps.note(JOB, Made(slot="quay · SWAP-1 · pack", at=begin, pack_in="PACK-03"), "ada")
    file = jobs.export(JOB)
    cards.take_back(JOB, there, "ada")
    cards.note(
        JOB, CardStep(act="in", card="WIDE-01", at=begin + timedelta(minutes=5), unit="C6-1", slot="slot-1"), "ben"
    )
    titled = replace(file, job=replace(file.job, title="Second night"))
    jobs.import_file(replace(titled, job=file.job), replace_job=True)
    assert [n.taken_back_by for n in cards.all()] == ["ada", None], "a step that was taken back here stays so"
    late = replace(file.done.cards[0], at=begin + timedelta(minutes=10))
    with pytest.raises(DoneElsewhere, match="WIDE-01 is in C6-1 slot-1"):
        jobs.import_file(replace(titled, done=replace(file.done, cards=(late,))), replace_job=True)
    swaps.drop(JOB, swap, "ben")
    swaps.note(JOB, Made(slot="quay · SWAP-1 · pack", at=begin, pack_in="PACK-04"), "ben")
    with pytest.raises(DoneElsewhere, match="another pack went into quay"):
        jobs.import_file(titled, replace_job=True)
    noted = jobs.export(JOB)
    other = replace(noted.done.log[0], text="the rail is wet")
    with pytest.raises(DoneElsewhere, match=f"log entry '{other.id}' says something else here"):
        jobs.import_file(replace(titled, done=Done(log=(other,))), replace_job=True)
    assert jobs.read(JOB)[0].title == file.job.title
    assert [s.made.pack_in for s in swaps.of(JOB)] == ["PACK-04"]
    assert jobs.export(JOB).done.log == noted.done.log


def test_what_no_night_can_have_had_is_told_by_its_place(jobs: JobStore) -> None:
    begin = jobs.read(JOB)[0].parts[0].starts
    step = {"act": "in", "card": "NO-CARD", "at": begin.replace(tzinfo=None).isoformat(), "by": "ada"}
    swap = {"slot": "quay", "at": begin.isoformat(), "pack_in": "PACK-03", "pack_out": "PACK-03", "by": "ada"}
    entry = {"id": "a", "kind": "note", "at": begin.isoformat(), "unit": "NO-UNIT", "text": "x", "by": "ada"}
    document = json.loads(dump(jobs.export(JOB)))
    document["done"] = {"cards": [step], "swaps": [swap], "log": [entry]}
    raw = json.dumps(document).encode()
    with pytest.raises(BadJobFile) as refused:
        parse(raw)
    assert {p.path for p in refused.value.problems} == {
        "$.done.cards[0]",
        "$.done.cards[0].at",
        "$.done.cards[0].card",
        "$.done.swaps[0]",
        "$.done.log[0].unit",
    }
