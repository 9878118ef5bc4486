"""Cards: what is written, what holds it, who gets which; against every dealing there is on small days."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from itertools import permutations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.callouts import Finding, Level
from lift_crate.core.day.media import USABLE, CardLine, gb_of, media_plan, minutes_on
from lift_crate.core.gear.model import GearModel
from lift_crate.core.gear.recording import CardData, CardSlot, RecordingData, RecordingMode
from lift_crate.core.job.edits import SetCell, apply_to_job
from lift_crate.core.job.job import Assignment, Job, PartOfDay, Rig
from lift_crate.core.rig.build import Build, Catalogue, Conditions, Joint, Unit
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import catalogue, examples, model

FILE = demo_job_file()
BEGINS = datetime(2027, 3, 20, 18, tzinfo=UTC)


def test_minutes_and_gigabytes_as_worked_out() -> None:
    assert minutes_on(512, 480) == pytest.approx(132.27, abs=0.005)
    assert minutes_on(256, 480) == pytest.approx(66.13, abs=0.005)
    assert minutes_on(256, 480) + minutes_on(512, 480) == pytest.approx(198.4, abs=0.05)
    assert minutes_on(64, 12) == pytest.approx(661.3, abs=0.05)
    assert gb_of(90, 480) == pytest.approx(324)


def body(mbit_s: float, slots: int, limit: float | None = None) -> GearModel:
    return model(
        "body",
        kind="body",
        recording={
            "modes": [{"label": "only", "mbit_s": mbit_s}],
            "slots": [{"id": f"slot-{i + 1}", "takes": "card"} for i in range(slots)],
            **({"take_limit_min": limit} if limit else {}),
        },
    )


def card(name: str, gb: float, write: float = 900) -> GearModel:
    return model(name, kind="card", card={"slot": "card", "gb": gb, "write_mb_s": write, "read_mb_s": 250})


def day(cameras: int, minutes: float, *, repeatable: bool, take: float = 0.0, parts: int = 1) -> Job:
    every = tuple(
        PartOfDay(
            id=f"part-{n}",
            label=f"Part {n}",
            starts=BEGINS + timedelta(minutes=n * minutes),
            ends=BEGINS + timedelta(minutes=(n + 1) * minutes),
            conditions=Conditions(repeatable=repeatable, longest_take_min=take),
        )
        for n in range(parts)
    )
    rigs = tuple(
        Rig(id=f"r{i}", number=i + 1, label=f"R{i}", builds=(Build(id=f"b{i}", label="b", body=f"B{i}"),))
        for i in range(cameras)
    )
    plan = tuple(Assignment(part=p.id, rig=r.id, build=r.builds[0].id) for p in every for r in rigs)
    return Job(id="day", title="Day", parts=every, rigs=rigs, plan=plan)


def shelf(camera: GearModel, cameras: int, cards: list[tuple[GearModel, str]], *more: GearModel) -> Catalogue:
    units = [Unit(id=f"B{i}", model=camera.id) for i in range(cameras)]
    units += [Unit(id=f"K{n:02}", model=m.id, condition=c) for n, (m, c) in enumerate(cards)]  # type: ignore[arg-type]
    bare = catalogue(camera, *dict.fromkeys(m for m, _ in cards), *more)
    extra = {u: x for u, x in bare.units.items() if u in {m.id for m in more}}
    return Catalogue(bare.interfaces, bare.models, {u.id: u for u in units} | extra)


def test_what_cannot_be_repeated_goes_to_both_slots_and_else_they_relay() -> None:
    """110 min at 480 Mb/s: 396 GB, more than 256 holds, less than 512."""
    both = shelf(body(480, 2), 1, [(card("k512", 512), "good")] * 2)
    (mirror,) = media_plan(day(1, 110, repeatable=False), both).lines
    assert (mirror.scheme, [p.card for p in mirror.pieces]) == ("mirrored", ["K00", "K01"])
    assert mirror.pieces[0].share == pytest.approx(396 / (512 * 0.93))
    small = shelf(body(480, 2), 1, [(card("k256", 256), "good")] * 2)
    (relay,) = media_plan(day(1, 110, repeatable=True), small).lines
    assert (relay.scheme, [p.slot for p in relay.pieces], relay.changes) == ("relay", ["slot-1", "slot-2"], ())
    plan = media_plan(day(1, 110, repeatable=False), small)
    assert [f.code for f in plan.findings if f.level is Level.STOP] == ["media.short"], "two cards on each side"
    one = media_plan(day(1, 110, repeatable=True, take=60), shelf(body(480, 1), 1, [(card("k256", 256), "good")] * 2))
    (line,) = one.lines
    assert [t.strftime("%H:%M") for t in line.changes] == ["18:55"]
    change = next(f for f in one.findings if f.code == "media.change")
    assert change.level is Level.STOP, "it is full in 55 min, and nobody may touch it for 60"
    assert "full at 18:55" in change.text


def test_a_card_holds_a_mode_up_to_four_fifths_of_what_it_writes() -> None:
    """800 Mb/s are 100 MB/s: 120 MB/s give 96."""
    slow = media_plan(day(1, 10, repeatable=True), shelf(body(800, 2), 1, [(card("slow", 512, 120), "good")]))
    told = next(f for f in slow.findings if f.level is Level.STOP)
    assert (told.code, "none of them writes 100 MB/s" in told.text) == ("media.slow", True)
    fast = media_plan(day(1, 10, repeatable=True), shelf(body(800, 2), 1, [(card("fast", 512, 125), "good")]))
    assert not [f for f in fast.findings if f.level is Level.STOP]
    limited = shelf(body(100, 2, limit=29), 1, [(card("k", 512), "good")])
    told = next(f for f in media_plan(day(1, 60, repeatable=True, take=40), limited).findings if f.level is Level.STOP)
    assert (told.code, told.value, told.limit) == ("media.take_limit", 40, 29)


def test_a_doubtful_card_is_not_the_only_one_of_what_cannot_be_repeated() -> None:
    only = shelf(body(480, 1), 1, [(card("k", 512), "doubtful")])
    plan = media_plan(day(1, 60, repeatable=False), only)
    assert plan.lines[0].pieces[0].card is None
    assert {f.code for f in plan.findings if f.level > Level.NOTE} >= {"media.short", "media.single"}
    assert media_plan(day(1, 60, repeatable=True), only).lines[0].pieces[0].card == "K00"
    two = shelf(body(480, 2), 1, [(card("k", 512), "doubtful"), (card("k", 512), "good")])
    assert {p.card for p in media_plan(day(1, 60, repeatable=False), two).lines[0].pieces} == {"K00", "K01"}


def test_copies_take_twice_the_reading_and_are_three() -> None:
    """90 min at 480 Mb/s, on both slots: 324 GB at 250 MB/s, verified 43.2 min; two more places, one reading."""
    drive = model("drive", kind="drive", card={"slot": "USB-C", "gb": 4000, "write_mb_s": 500})
    reader = model("reader", kind="reader", card={"slot": "card", "read_mb_s": 600})
    both = shelf(body(480, 2), 1, [(card("k", 512), "good")] * 2, drive, reader)
    (copies,) = media_plan(day(1, 90, repeatable=False), both).copies
    assert [copies.gb, copies.wanted_gb, copies.drive_gb] == pytest.approx([324, 648, 4000])
    assert copies.minutes == pytest.approx(43.2)
    assert copies.ready == BEGINS + timedelta(minutes=90 + copies.minutes)
    (once,) = media_plan(day(1, 90, repeatable=True), both).copies
    assert once.minutes == pytest.approx(86.4), "without a mirror it takes three copies, two of them at one reading"
    none = media_plan(day(1, 90, repeatable=True), shelf(body(480, 2), 1, [(card("k", 512), "good")]))
    assert none.copies[0].ready is None
    assert next(f for f in none.findings if f.code == "media.copies").level is Level.WATCH


def checked(lines: tuple[CardLine, ...], at: Catalogue) -> int:
    """How many pieces have a card, none of them wrong."""
    used: set[str] = set()
    for line in lines:
        for piece in line.pieces:
            if piece.card is None:
                continue
            assert piece.card not in used, "each card once"
            used.add(piece.card)
            data = at.model_of(piece.card).card
            assert isinstance(data, CardData)
            assert piece.gb <= (data.gb or 0) * USABLE + 1e-9
            assert line.mode.mbit_s / 8 <= 0.8 * (data.write_mb_s or 1e9)
            assert not (at.unit(piece.card).condition == "doubtful" and line.once_only and line.scheme == "single")
        assert sum(p.gb for p in line.pieces) == pytest.approx(line.gb * (2 if line.scheme == "mirrored" else 1))
    return len(used)


@given(
    cameras=st.integers(1, 3),
    slots=st.integers(1, 2),
    repeatable=st.booleans(),
    cards=st.lists(
        st.tuples(st.sampled_from([(256, 900), (512, 900), (512, 70)]), st.sampled_from(["good", "doubtful"])),
        min_size=1,
        max_size=5,
    ),
)
@settings(max_examples=examples(60), deadline=None)
def test_no_dealing_gives_more_cards(
    cameras: int, slots: int, repeatable: bool, cards: list[tuple[tuple[int, int], str]]
) -> None:
    """100 min at 480 Mb/s, 360 GB: held by 512 GB that write 75 MB/s; every order of the cards is tried."""
    camera = body(480, slots)
    at = shelf(camera, cameras, [(card(f"k{gb}-{rate}", gb, rate), condition) for (gb, rate), condition in cards])
    lines = media_plan(day(cameras, 100, repeatable=repeatable), at).lines
    got = checked(lines, at)
    if any(len(line.pieces) != (2 if line.scheme == "mirrored" else 1) for line in lines):
        return  # on several cards each: not what is tried here
    single = slots == 1 and not repeatable
    wanted = cameras * (2 if slots == 2 and not repeatable else 1)
    suited = [gb >= 512 and rate > 75 and not (single and c == "doubtful") for (gb, rate), c in cards]
    best = max(sum(order[:wanted]) for order in permutations(suited))
    assert got >= best


def test_the_demo_is_one_card_short_and_one_more_cures_it() -> None:
    at = catalogue_of(FILE)
    plan = media_plan(FILE.job, at)
    short = [f for f in plan.findings if f.level is Level.STOP]
    assert [f.text.split(" short ")[0] for f in short] == ["1 × wide card of 348 GB or more"]
    assert all(p.card for line in plan.lines if line.once_only for p in line.pieces), "what cannot be repeated first"
    rail = next(line for line in plan.lines if (line.rig.id, line.part.id) == ("stage-rail", "arrival"))
    assert [p.card for p in rail.pieces] == ["SMALL-5", "SMALL-6"], "two small ones in relay"
    for date in {line.part.starts.date() for line in plan.lines}:
        checked(tuple(line for line in plan.lines if line.part.starts.date() == date), at)
    more = replace(at, units={**at.units, "WIDE-15": Unit(id="WIDE-15", model="mackle-w512")})
    assert not [f for f in media_plan(FILE.job, more).findings if f.level is Level.STOP]


def test_an_unattended_camera_runs_all_through_and_nobody_changes_its_card() -> None:
    """A limit of 29 min is no trouble for takes of 4 min with somebody there, and one for 90 min with nobody by it."""
    file = demo_job_file()
    gear = catalogue_of(file)
    rail = gear.model_of("R2-1")
    assert rail.recording
    limited = replace(rail, recording=replace(rail.recording, take_limit_min=29.0))
    at = replace(gear, models={**gear.models, rail.id: limited})
    told = [f for f in media_plan(file.job, at).findings if f.code == "media.take_limit"]
    assert [f.about.units[0] for f in told] == ["stage-rail arrival"]
    assert (
        told[0].text == "Stage rail in Audience in is to run 90 min with nobody by it; R2-1 stops by itself after 29."
    )
    manned = apply_to_job(file.job, SetCell(rig="stage-rail", part="arrival", operator="Op 4"), at)
    assert not [f for f in media_plan(manned, at).findings if f.code == "media.take_limit"]


def hot(**minutes: float) -> RecordingMode:
    return RecordingMode(label="m", mbit_s=100, **minutes)  # type: ignore[arg-type]


def test_heat_is_linear_between_what_is_said_and_held_outside() -> None:
    mode = hot(heat_20_min=75, heat_30_min=45)
    assert [mode.heat_min(t) for t in (-5, 20, 25, 30, 40)] == [75, 75, 60, 45, 45]
    assert hot().heat_min(40) is None
    assert hot(heat_40_min=20).heat_min(0) == 20


def test_a_body_that_is_too_hot_before_the_end_of_the_take_stops() -> None:
    """20 °C in these days: 50 min said, a take of 60."""
    camera = body(100, 2)
    assert camera.recording
    modes = (replace(camera.recording.modes[0], heat_20_min=50, heat_30_min=20),)
    camera = replace(camera, recording=replace(camera.recording, modes=modes))
    gear = shelf(camera, 1, [(card("k", 512), "good")] * 2)
    told = [f for f in media_plan(day(1, 60, repeatable=True, take=60), gear).findings if f.code == "media.heat"]
    assert [(f.level, f.value, f.limit) for f in told] == [(Level.STOP, 60, 50)]
    assert not [f for f in media_plan(day(1, 60, repeatable=True, take=50), gear).findings if f.code == "media.heat"]


def test_a_mode_that_no_slot_writes_is_refused_and_it_keeps_to_its_kind() -> None:
    slots = (CardSlot(id="a", takes="wide"), CardSlot(id="b", takes="small"), CardSlot(id="c", takes="small"))
    with pytest.raises(ValueError, match="mode 'm' is written to 'tape', and no slot takes that; the slots take small"):
        RecordingData(modes=(replace(hot(), takes=("tape",)),), slots=slots)
    camera = body(100, 2)
    raw = RecordingData(modes=(replace(hot(), takes=("wide",)),), slots=slots)
    any_kind = RecordingData(modes=(hot(),), slots=slots)
    for data, takes in ((raw, "wide"), (any_kind, "small")):
        gear = shelf(replace(camera, recording=data), 1, [(card("k", 512), "good")])
        (line,) = media_plan(day(1, 10, repeatable=True), gear).lines
        assert line.takes == takes


def on_a_drive(use: str | None, *, gb: float = 8000, parts: int = 1) -> list[Finding]:
    """A body with a socket for a drive, and the drive on a head or in the hand with it."""
    camera = body(800, 2)
    assert camera.recording
    socket = CardSlot(id="usb", takes="USB-C")
    camera = replace(camera, recording=replace(camera.recording, slots=(*camera.recording.slots, socket)))
    drive = model("d", kind="drive", card={"slot": "USB-C", "gb": gb, "write_mb_s": 500})
    job, gear = day(1, 60, repeatable=True, parts=parts), shelf(camera, 1, [], drive)
    build = Build(
        id="b0",
        label="b",
        body="B0",
        joints=(Joint(child="d", child_port="x", parent="B0", parent_port="x"),),
        use=use,  # type: ignore[arg-type]
    )
    job = replace(job, rigs=(replace(job.rigs[0], builds=(build,)),))
    lines = media_plan(job, gear)
    assert {line.drive for line in lines.lines} == {"d"}
    return [f for f in lines.findings if f.code in ("media.loose", "media.short") and f.level > Level.CLEAR]


def test_a_drive_on_a_lead_comes_loose_on_what_moves_and_fills_up_over_the_day() -> None:
    (walked,) = on_a_drive("walking")
    assert (walked.code, walked.level) == ("media.loose", Level.WATCH)
    assert walked.text.startswith("d hangs on a lead, and R0 in")
    # 60 min at 800 Mb/s are 360 GB; 600 GB hold 558.
    full = [f for f in on_a_drive("walking", gb=600, parts=2) if f.code == "media.short"]
    assert [(f.value, round(f.limit or 0)) for f in full] == [(720, 558)]


def test_how_slots_share_the_work_can_be_said_by_cell() -> None:
    """110 min at 480 Mb/s are 396 GB: a mirror wants a 512 on each side, a relay 256 after 256."""
    gear = shelf(body(480, 2), 1, [(card("k512", 512), "good")] * 2)
    job = day(1, 110, repeatable=False)
    for said, scheme, cards in (("", "mirrored", 2), ("mirrored", "mirrored", 2), ("relay", "relay", 1)):
        set_ = apply_to_job(job, SetCell(rig="r0", part="part-0", scheme=said), gear)  # type: ignore[arg-type]
        plan = media_plan(set_, gear)
        (line,) = plan.lines
        assert (line.scheme, sum(p.card is not None for p in line.pieces)) == (scheme, cards)
        alone = [f for f in plan.findings if f.code == "media.single"]
        assert bool(alone) == (scheme != "mirrored")
        if alone:
            assert alone[0].text.endswith("on one card only: slots in turn are no backup.")
    small = shelf(body(480, 2), 1, [(card("k256", 256), "good")] * 2)
    one = apply_to_job(day(1, 110, repeatable=True), SetCell(rig="r0", part="part-0", scheme="single"), small)
    (line,) = media_plan(one, small).lines
    assert {p.slot for p in line.pieces} == {"slot-1"}
    assert len(line.changes) == 1, "somebody changes the card where a second slot would have gone on"
    assert media_plan(day(1, 110, repeatable=True), small).lines[0].changes == ()
