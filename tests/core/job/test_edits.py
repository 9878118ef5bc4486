"""Edits of a job: its days, cameras, builds and plan; whatever is done to it, it stays a job."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.day.media import media_plan
from lift_crate.core.day.money import budget_of
from lift_crate.core.day.sound import sound_of
from lift_crate.core.day.table import day_table
from lift_crate.core.day.wants import spending_of
from lift_crate.core.errors import LiftCrateError, NoSuchUnit
from lift_crate.core.gear.labels import fresh_id, labels_in_series
from lift_crate.core.job.charging import Box, ChargerPlace, ChargingPlan, Mains
from lift_crate.core.job.edits import (
    AddBuild,
    AddCamera,
    AddPart,
    ChangeBuild,
    ChangeCamera,
    ChangeJob,
    ChangePart,
    JobOperation,
    JobRefused,
    PlanBuild,
    PutThing,
    RemoveBuild,
    RemoveCamera,
    RemovePart,
    RemoveThing,
    SetCell,
    SetCharging,
    SetPlace,
    SetSettings,
    SetTarget,
    SetWalk,
    apply_to_job,
    describe_in_job,
    new_job,
    with_frame_of,
)
from lift_crate.core.job.job import Job, Moment, NotInJob, calmest
from lift_crate.core.job.money import Cost, Want
from lift_crate.core.job.money_edits import PutCost, PutWant, RemoveCost, RemoveWant
from lift_crate.core.job.sound import Band, Source, Voice
from lift_crate.core.job.sound_edits import (
    ChangeSource,
    ChangeVoice,
    PutVoice,
    RemoveSource,
    RemoveVoice,
    SetBands,
    SetChannels,
    SetSync,
)
from lift_crate.core.job.venue import Spot, Thing
from lift_crate.core.rig.build import Conditions, Target
from lift_crate.core.rig.edits import Strip, apply
from lift_crate.core.settings import Settings
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import JobFile, catalogue_of, dump, parse
from tests.kit import examples

DEMO = demo_job_file()
SHELF = catalogue_of(DEMO)
DAY = date(2027, 5, 3)


def at(hour: int, minute: int = 0, day: int = 3) -> datetime:
    """A time on the job's own clock, told without a zone."""
    return datetime(2027, 5, day, hour, minute)  # noqa: DTZ001 - that is what is meant


@pytest.fixture
def job() -> Job:
    return new_job("Night boats", DAY, "Europe/Lisbon")


def after(job: Job, *operations: JobOperation) -> Job:
    for operation in operations:
        job = apply_to_job(job, operation, SHELF)
    return job


def refused(job: Job, operation: JobOperation) -> str:
    with pytest.raises(JobRefused) as error:
        apply_to_job(job, operation, SHELF)
    assert str(error.value).endswith((".", "?"))
    return str(error.value)


def test_a_title_and_a_day_are_enough(job: Job) -> None:
    assert (job.id, job.title, len(job.rigs)) == ("night-boats", "Night boats", 0)
    (part,) = job.parts
    assert f"{part.starts:%H:%M %z} {part.ends:%H:%M}" == "09:00 +0100 18:00"
    assert new_job("Night boats", DAY, "UTC", {"night-boats"}).id == "night-boats-2"
    assert new_job("夜", DAY, "UTC").id != ""
    with pytest.raises(JobRefused, match="Give the job a title"):
        new_job("  ", DAY, "UTC")
    with pytest.raises(JobRefused, match="no time zone"):
        new_job("x", DAY, "Mars/Base")


def test_a_part_runs_over_midnight_and_over_nothing_else(job: Job) -> None:
    night = after(job, AddPart(label="Night", starts=at(22), ends=at(2, day=4)))
    assert [p.id for p in night.parts] == ["day-1", "night"]
    assert "while Day 1 runs until 18:00" in refused(job, AddPart(label="x", starts=at(17), ends=at(19)))
    assert "ends on the next day" in refused(job, AddPart(label="x", starts=at(22), ends=at(2)))
    assert "before it starts" in refused(job, AddPart(label="x", starts=at(20), ends=at(20)))
    assert "49 h" in refused(job, AddPart(label="x", starts=at(20), ends=at(21, day=5)))


def test_clocks_that_go_forward_and_back(job: Job) -> None:
    """28 March: 01:00 becomes 02:00 in Lisbon; 31 October: 01:00 to 02:00 comes twice, the first is meant."""
    gap = datetime(2027, 3, 28, 1, 30)  # noqa: DTZ001
    assert "clocks go forward" in refused(job, AddPart(label="x", starts=gap, ends=gap + timedelta(hours=3)))
    over = after(job, AddPart(label="over", starts=gap - timedelta(hours=1), ends=gap + timedelta(hours=2)))
    part = over.part("over")
    assert part.ends.astimezone(UTC) - part.starts.astimezone(UTC) == timedelta(hours=2), "three hours on the clock"
    twice = datetime(2027, 10, 31, 1, 30)  # noqa: DTZ001
    back = after(job, AddPart(label="back", starts=twice, ends=twice + timedelta(hours=1)))
    assert back.part("back").starts.astimezone(UTC).hour == 0


def test_the_hour_that_comes_twice_is_two_hours(job: Job) -> None:
    """What passes counts, not what is written: from the first 01:30 to 02:30 two hours pass."""
    day = datetime(2027, 10, 31, 1, 30)  # noqa: DTZ001
    first = after(job, AddPart(label="first", starts=day.replace(hour=0), ends=day.replace(minute=15)))
    second = day.replace(minute=0, fold=1)
    both = after(first, AddPart(label="second", starts=second, ends=day.replace(minute=30, fold=1)))
    assert [p.id for p in both.parts if p.id != "day-1"] == ["first", "second"], "01:00 the second time is after 01:15"
    assert "while first runs" in refused(first, AddPart(label="x", starts=day.replace(minute=0), ends=day))


def test_one_looks_first_where_the_fewest_stops_are() -> None:
    none, one = {"stops": 0, "watches": 9}, {"stops": 1, "watches": 0}
    assert calmest({"a": [one], "b": [none], "c": [none, none], "d": []}) == "c"
    assert calmest({"d": []}) is None


def test_a_part_that_is_moved_takes_its_moments_along_and_one_that_shrinks_does_not_lose_them(job: Job) -> None:
    flood = after(job, ChangePart(part="day-1", moments=(Moment(at=at(17), label="The flood"),)))
    moved = after(flood, ChangePart(part="day-1", starts=at(10), ends=at(19)))
    assert f"{moved.part('day-1').moments[0].at:%H:%M}" == "18:00"
    assert "The flood at 17:00 is outside" in refused(flood, ChangePart(part="day-1", ends=at(16)))
    assert "outside" in refused(job, ChangePart(part="day-1", moments=(Moment(at=at(20), label="x"),)))


def test_a_camera_starts_from_its_body_wherever_that_is_free(job: Job) -> None:
    two = after(
        job,
        AddPart(label="Night", starts=at(20), ends=at(23)),
        AddCamera(label="Quay", body="C6-1", position="at the end"),
    )
    rig = two.rig("quay")
    assert (rig.number, rig.position, [b.body for b in rig.builds]) == (1, "at the end", ["C6-1"])
    assert {a.part for a in two.plan} == {"day-1", "night"}
    other = after(two, AddCamera(label="Quay", body="C6-1"))
    assert other.rig("quay-2").number == 2
    assert {a.rig for a in other.plan} == {"quay"}, "its body is in use all day"
    assert "starts from a camera body" in refused(job, AddCamera(label="x", body="CAGE-1"))
    with pytest.raises(NoSuchUnit):
        apply_to_job(job, AddCamera(label="x", body="nothing"), SHELF)


def test_numbers_are_exchanged_not_doubled(job: Job) -> None:
    two = after(job, AddCamera(label="A", body="C6-1"), AddCamera(label="B", body="C6-2"))
    swapped = after(two, ChangeCamera(rig="b", number=1))
    assert {r.id: r.number for r in swapped.rigs} == {"b": 1, "a": 2}


def test_builds_are_copied_between_cameras_planned_and_taken_away() -> None:
    quay, caisson = DEMO.job.rigs[0], DEMO.job.rigs[1]
    copied = after(DEMO.job, AddBuild(rig=caisson.id, label="as quay", copy_of=quay.builds[0].id))
    made = copied.rig(caisson.id).builds[-1]
    assert made.joints == quay.builds[0].joints
    part = next(p.id for p in DEMO.job.parts if DEMO.job.planned(p.id, quay.id).id == quay.builds[0].id)
    said = refused(copied, PlanBuild(rig=caisson.id, part=part, build=made.id))
    assert quay.label in said
    assert "in use there then" in said
    cleared = after(copied, PlanBuild(rig=quay.id, part=part), PlanBuild(rig=caisson.id, part=part, build=made.id))
    assert cleared.planned(part, caisson.id).id == made.id
    gone = after(cleared, RemoveBuild(build=made.id))
    assert caisson.id not in gone.builds_in(part)
    assert "Copy it to" in refused(copied, PlanBuild(rig=quay.id, part=part, build=made.id))
    assert "say which" in refused(DEMO.job, AddBuild(rig=quay.id, label="x"))


def test_the_last_build_of_a_camera_stays(job: Job) -> None:
    one = after(job, AddCamera(label="Quay", body="C6-1"))
    assert "only build" in refused(one, RemoveBuild(build="quay-full"))


def test_charging_takes_chargers_only_and_nothing_that_is_in_a_rig() -> None:
    charger = DEMO.job.charging.chargers[0].unit
    assert "charges nothing" in refused(
        DEMO.job, SetCharging(charging=ChargingPlan(chargers=(ChargerPlace(unit="CAGE-1"),)))
    )
    twice = ChargingPlan(chargers=(ChargerPlace(unit=charger), ChargerPlace(unit=charger)))
    assert "there twice" in refused(DEMO.job, SetCharging(charging=twice))
    part = DEMO.job.parts[0].id
    rig, build = next(iter(DEMO.job.builds_in(part).values()))
    lent = ChargingPlan(boxes=(Box(unit=build.body, parts=(part,)),))
    assert rig.label in refused(DEMO.job, SetCharging(charging=lent))
    with pytest.raises(NotInJob):
        apply_to_job(DEMO.job, SetCharging(charging=ChargingPlan(walk_min={"nobody": 3.0})), SHELF)


def test_what_was_done_on_the_bench_stays_when_the_frame_goes_back() -> None:
    rig = DEMO.job.rigs[0]
    renamed = after(DEMO.job, ChangeBuild(build=rig.builds[0].id, label="heavy"), RemoveCamera(rig=DEMO.job.rigs[1].id))
    stripped = apply(renamed.rig(rig.id).builds[0], Strip(), SHELF)
    back = with_frame_of(renamed.with_build(stripped), DEMO.job)
    assert back.rigs[0].builds[0] == replace(stripped, label=rig.builds[0].label)
    assert back.rigs[1] == DEMO.job.rigs[1]
    assert back.plan == DEMO.job.plan


def test_the_plan_of_the_venue_is_edited_and_what_is_seen_of_it_stays_true() -> None:
    job = DEMO.job
    shed = Thing(id="hall", label="Hall", kind="obstacle", x_m=5, y_m=5, width_m=4, depth_m=3, height_m=3)
    with_hall = apply_to_job(job, PutThing(thing=shed), SHELF)
    assert with_hall.venue.thing("hall") == shed
    assert "Put Hall on the plan" in describe_in_job(PutThing(thing=shed), job)
    without = apply_to_job(with_hall, RemoveThing(thing="stage"), SHELF)
    assert without.venue.thing("stage") is None
    assert not any("stage" in rig.place.sees for rig in without.rigs if rig.place)
    assert all(thing.aims_at != "stage" for thing in without.venue.things)
    assert "nowhere" in refused(job, SetPlace(rig="quay", place=Spot(sees=("nowhere",))))
    with pytest.raises(NotInJob):
        apply_to_job(job, RemoveThing(thing="nothing"), SHELF)


def test_what_a_camera_must_see_follows_from_the_plan_unless_it_was_typed() -> None:
    job = DEMO.job
    quay = job.rig("quay")
    typed = quay.target
    assert typed
    assert typed.nearest_mm is None
    both = job.target_of(quay, "dress")
    assert both
    assert replace(both, nearest_mm=None, lamps_ev=None, mains_m=typed.mains_m) == typed
    assert both.nearest_mm == pytest.approx(40_112, rel=1e-3)
    planned = apply_to_job(job, SetTarget(rig="quay", target=None), SHELF)
    told = planned.target_of(planned.rig("quay"), "dress")
    assert told
    assert told.distance_mm == pytest.approx(41_600, rel=0.01)
    nearer = apply_to_job(planned, SetPlace(rig="quay", place=Spot(x_m=20, sees=("stage",))), SHELF)
    close = nearer.target_of(nearer.rig("quay"), "dress")
    assert close
    assert close.distance_mm < told.distance_mm
    walks = apply_to_job(planned, SetCharging(charging=ChargingPlan()), SHELF).walks_min()
    assert walks["quay"] == pytest.approx(math.hypot(4, 5) / 1.2 / 60)
    assert job.walks_min() == job.charging.walk_min


def operations(job: Job) -> st.SearchStrategy[JobOperation]:
    parts, rigs = (
        st.sampled_from([*(p.id for p in job.parts), "none"]),
        st.sampled_from([*(r.id for r in job.rigs), "x"]),
    )
    builds = st.sampled_from([*(b.id for r in job.rigs for b in r.builds), "gone"])
    labels = st.sampled_from(["Quay", "Night", " ", "夜", "a" * 200, "Quay 2"])
    start = min(p.starts for p in job.parts).replace(tzinfo=None) if job.parts else at(9)
    times = st.integers(-200, 800).map(lambda step: start + timedelta(minutes=15 * step))
    things = st.sampled_from([*(t.id for t in job.venue.things), "new", "other"])
    seen = st.lists(things, max_size=3, unique=True).map(tuple)
    kinds = st.sampled_from(["to see", "obstacle", "lamp", "charger"])
    bodies = st.sampled_from(["C6-1", "C6-2", "R2-1", "CAGE-1", "nothing"])
    return st.one_of(
        st.builds(ChangeJob, title=st.none() | labels, zone=st.sampled_from([None, "UTC", "Asia/Kathmandu", "Moon"])),
        st.builds(AddPart, label=labels, starts=times, ends=times),
        st.builds(ChangePart, part=parts, label=st.none() | labels, starts=st.none() | times, ends=st.none() | times),
        st.builds(ChangePart, part=parts, conditions=st.builds(Conditions, temperature_c=st.floats(-40, 60))),
        st.builds(ChangePart, part=parts, moments=st.tuples(st.builds(Moment, at=times, label=labels))),
        st.builds(RemovePart, part=parts),
        st.builds(AddCamera, label=labels, body=bodies),
        st.builds(ChangeCamera, rig=rigs, label=st.none() | labels, number=st.none() | st.integers(1, 12)),
        st.builds(SetTarget, rig=rigs, target=st.none() | st.just(Target(distance_mm=9000.0, width_mm=3000.0))),
        st.builds(RemoveCamera, rig=rigs),
        st.builds(AddBuild, rig=rigs, label=labels, copy_of=builds),
        st.builds(AddBuild, rig=rigs, label=labels, body=bodies),
        st.builds(ChangeBuild, build=builds, label=labels),
        st.builds(RemoveBuild, build=builds),
        st.builds(PlanBuild, rig=rigs, part=parts, build=st.none() | builds),
        st.builds(SetSettings, settings=st.builds(Settings, reserve=st.floats(0, 0.5))),
        st.builds(SetCharging, charging=st.sampled_from([ChargingPlan(), job.charging])),
        st.builds(SetPlace, rig=rigs, place=st.none() | st.builds(Spot, x_m=st.floats(-90, 90), sees=seen)),
        st.builds(PutThing, thing=st.builds(Thing, id=things, label=labels, kind=kinds, x_m=st.floats(-90, 90))),
        st.builds(RemoveThing, thing=things),
        st.builds(SetWalk, walk_m_s=st.floats(0.1, 4)),
        st.builds(SetCell, rig=rigs, part=parts, scheme=st.sampled_from([None, "", "relay", "single", "mirrored"])),
        sound_operations(job, things),
        money_operations(parts, rigs),
    )


def money_operations(parts: st.SearchStrategy[str], rigs: st.SearchStrategy[str]) -> st.SearchStrategy[JobOperation]:
    ids = st.sampled_from(["music", "larger-pack", "new", "other"])
    amounts = st.floats(0, 5000)
    costs = st.builds(Cost, id=ids, label=st.sampled_from(["Licence", " "]), amount=amounts)
    units = st.sampled_from(["", "PACK-03", "ZOOM-3", "ghost"])
    models = st.sampled_from(["tidewick-150", "brasswater-28", "none"])
    wants = st.builds(Want, id=ids, model=models, price=st.none() | amounts, rig=rigs, part=parts, unit=units)
    return st.one_of(
        st.builds(PutCost, cost=costs),
        st.builds(RemoveCost, cost=ids),
        st.builds(PutWant, want=wants),
        st.builds(RemoveWant, want=ids),
    )


def sound_operations(job: Job, things: st.SearchStrategy[str]) -> st.SearchStrategy[JobOperation]:
    voices = st.sampled_from([*(v.id for v in job.sound.voices), "mute"])
    sources = st.sampled_from([*(s.label for v in job.sound.voices for s in v.sources), "one more"])
    units = st.lists(st.sampled_from(["POCKET-1", "CLIP-1", "BODY-1", "MIC-1", "R2-1", "CW-3", "ghost"]), max_size=3)
    khz = st.integers(469_000, 479_000)
    heard = st.lists(st.sampled_from([*(p.id for p in job.parts), "none"]), max_size=3, unique=True).map(tuple)
    strung = st.builds(Source, label=st.just("a"), units=units.map(tuple), khz=st.none() | khz, pocket=st.just(""))
    made = st.builds(Voice, id=voices, label=st.just("V"), parts=heard, thing=things, sources=st.tuples(strung))
    return st.one_of(
        st.builds(PutVoice, voice=made),
        st.builds(ChangeVoice, voice=voices, parts=st.none() | heard, wearer=st.sampled_from(["", "Somebody"])),
        st.builds(ChangeSource, voice=voices, source=sources, units=units.map(tuple), khz=st.none() | khz),
        st.builds(RemoveSource, voice=voices, source=sources),
        st.builds(RemoveVoice, voice=voices),
        st.builds(SetChannels, channels=st.tuples(st.tuples(voices, sources, khz))),
        st.builds(SetBands, bands=st.sampled_from([(), (Band(low_khz=470_000, high_khz=474_000),)])),
        st.builds(SetSync, unit=st.sampled_from(["POCKET-1", "R2-1", "ghost"]), method=st.sampled_from([None, "none"])),
    )


def edited(data: st.DataObject) -> list[Job]:
    """A job, and what random edits make of it one after the other."""
    states = [data.draw(st.sampled_from([DEMO.job, new_job("Fresh", DAY, "Europe/Lisbon")]).map(Told)).job]
    for _ in range(data.draw(st.integers(5, 20))):
        operation = data.draw(operations(states[-1]))
        try:
            now = apply_to_job(states[-1], operation, SHELF)
        except LiftCrateError as error:
            said = str(error)
        else:
            said = describe_in_job(operation, states[-1]) + "."
            states.append(now)
        assert said.endswith(".")
    return states


class Told:
    """A job that tells little of itself when a test fails."""

    def __init__(self, job: Job) -> None:
        self.job = job

    def __repr__(self) -> str:
        return self.job.title


@given(data=st.data())
@settings(max_examples=examples(40))
def test_whatever_is_done_a_job_stays_a_job_that_a_file_takes(data: st.DataObject) -> None:
    states = edited(data)
    for job in states:
        assert len({r.number for r in job.rigs}) == len(job.rigs)
        assert all(a.ends <= b.starts for a, b in pairwise(sorted(job.parts, key=lambda p: p.starts)))
        for part in job.parts:
            used = [unit for _, build in job.builds_in(part.id).values() for unit in build.units]
            used += [unit for unit, at_part, _ in job.claims_beside() if at_part == part.id]
            assert len(used) == len(set(used)), "a unit is in one place at a time"
    heard = sound_of(states[-1], SHELF, day_table(states[-1], SHELF))
    media = media_plan(states[-1], SHELF)
    spent = spending_of(states[-1], SHELF, budget_of(states[-1], SHELF, media))
    assert len(spent.wanted) == len(states[-1].money.wants)
    assert len({f.key for f in heard.findings}) == len(heard.findings), "every finding has a name of its own"
    file = JobFile(job=states[-1], interfaces=DEMO.interfaces, models=DEMO.models, units=DEMO.units)
    assert parse(dump(file)).job == states[-1]


@given(data=st.data())
@settings(max_examples=examples(30))
def test_every_earlier_frame_can_come_back_as_it_was(data: st.DataObject) -> None:
    states = edited(data)
    for job in states:
        assert with_frame_of(states[-1], job) == job, "nothing was done on the Bench meanwhile"


@pytest.mark.parametrize(
    ("first", "count", "labels"),
    [
        ("PACK-09", 3, ["PACK-09", "PACK-10", "PACK-11"]),
        ("A7", 2, ["A7", "A8"]),
        ("99", 2, ["99", "100"]),
        ("Cup", 1, ["Cup"]),
        (" Cup ", 2, ["Cup-1", "Cup-2"]),
        ("S/N 20270101123", 2, ["S/N 20270101123-1", "S/N 20270101123-2"]),
    ],
)
def test_labels_count_on(first: str, count: int, labels: list[str]) -> None:
    assert list(labels_in_series(first, count)) == labels


def test_ids_are_made_from_what_people_say() -> None:
    assert fresh_id("Quay, north end!", [], "camera") == "quay-north-end"
    assert fresh_id("夜", ["camera"], "camera") != "camera"
    assert fresh_id("Quay", ["quay", "quay-2"], "camera") == "quay-3"
    assert len(fresh_id("x" * 200, ["x" * 64], "camera")) <= 64


def test_mains_hours_without_a_zone_are_on_the_job_s_own_clock() -> None:
    """13:00 in Lisbon in summer is 12:00 UTC; an hour that the clocks leap over is refused."""
    job = replace(DEMO.job, zone="Europe/Lisbon")
    place = DEMO.job.charging.chargers[0]

    def opened(starts: datetime, ends: datetime) -> Job:
        mains = Mains(starts=starts, ends=ends)
        charging = replace(job.charging, chargers=(replace(place, open=(mains,)),))
        return apply_to_job(job, SetCharging(charging=charging), SHELF)

    (mains,) = opened(at(13), at(15)).charging.chargers[0].open
    assert (mains.starts.astimezone(UTC).hour, mains.ends.astimezone(UTC).hour) == (12, 14)
    leap = datetime(2027, 3, 28, 1, 30)  # noqa: DTZ001 - that is what is meant
    with pytest.raises(JobRefused, match="clocks go forward"):
        opened(leap, leap + timedelta(hours=3))
    with pytest.raises(ValueError, match="both with a time zone"):
        Mains(starts=at(13), ends=at(15).replace(tzinfo=UTC))
