"""Sound of the day: chains and what they hang on, radio channels against a plain search, clocks, mics on people."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import timedelta
from itertools import product
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.callouts import Finding, Level
from lift_crate.core.day.laid_out import lay_out, run_sheets
from lift_crate.core.day.mic_up import mic_ups
from lift_crate.core.day.radio import Channel, free_set, hits
from lift_crate.core.day.run_sheet import RunSheet
from lift_crate.core.day.sound import Sound, sound_of
from lift_crate.core.day.sync import drift_frames, guide_frames, jam_again_h
from lift_crate.core.day.table import day_table
from lift_crate.core.day.voices import Chain, independent
from lift_crate.core.gear.patterns import Known
from lift_crate.core.job.edits import (
    ChangePart,
    PutThing,
    RemovePart,
    RemoveThing,
    SetCharging,
    apply_to_job,
    describe_in_job,
)
from lift_crate.core.job.job import Job, JobRefused, NotInJob
from lift_crate.core.job.sound import Band, SaidSync, SoundPlan, Source, Voice
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
from lift_crate.core.rig.build import Unit
from lift_crate.core.rig.edits import Attach, Connect, apply_all
from lift_crate.core.settings import Settings
from lift_crate.core.swaps.day import days_of
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from lift_crate.formats.sound_list import sound_csv
from lift_crate.formats.starter import starter_models
from tests.kit import examples

FILE = demo_job_file()
SHELF = catalogue_of(FILE)
JOB = FILE.job
TIGHT = Settings(radio_apart_khz=100, radio_product_khz=50, radio_step_khz=50)


def sound(job: Job) -> Sound:
    return sound_of(job, SHELF, day_table(job, SHELF))


def said(job: Job, code: str) -> list[Finding]:
    return [f for f in sound(job).findings if f.code == code]


def voice(name: str, job: Job = JOB) -> Voice:
    return next(v for v in job.sound.voices if v.id == name)


def with_source(name: str, at: int, **change: Any) -> Job:
    """The demo with one source of a voice changed, by the edit a person makes."""
    of = voice(name)
    sources = tuple(replace(s, **change) if i == at else s for i, s in enumerate(of.sources))
    return apply_to_job(JOB, PutVoice(voice=replace(of, sources=sources)), SHELF)


def channels(*khz: int) -> list[Channel]:
    return [Channel(f"v{i}", "radio", f) for i, f in enumerate(khz)]


def test_a_channel_plan_with_a_product_by_hand() -> None:
    """2·470.525 − 470.125 hits 470.925, and 2·470.525 − 470.925 hits 470.125."""
    near, products = hits(channels(470_125, 470_525, 470_925, 472_300), Settings())
    assert near == ()
    assert {(tuple(c.khz for c in p.of), p.khz, p.on.khz, p.off_khz) for p in products} == {
        ((470_525, 470_125), 470_925, 470_925, 0),
        ((470_525, 470_925), 470_125, 470_125, 0),
    }


def disturbed(khz: tuple[int, ...], keep: Settings) -> bool:
    """Written down once more, every condition by itself and every index tried."""
    n = range(len(khz))
    for i in n:
        for j in n:
            if i != j and abs(khz[i] - khz[j]) < keep.radio_apart_khz:
                return True
            for k in n:
                if len({i, j, k}) == 3 and abs(2 * khz[i] - khz[j] - khz[k]) < keep.radio_product_khz:
                    return True
                for m in n:
                    if len({i, j, k, m}) == 4 and abs(khz[i] + khz[j] - khz[k] - khz[m]) < keep.radio_product_khz:
                        return True
    return False


@given(st.lists(st.integers(470_000, 473_000), min_size=1, max_size=6))
def test_disturbances_are_those_of_the_plain_conditions(khz: list[int]) -> None:
    near, products = hits(channels(*khz), Settings())
    assert bool(near or products) == disturbed(tuple(khz), Settings())


@given(
    st.tuples(*(st.integers(470_000 + 20_000 * n, 480_000 + 20_000 * n) for n in range(3))),
    st.integers(-100, 100),
    st.permutations(range(4)),
)
def test_a_channel_where_three_meet_is_disturbed(three: tuple[int, int, int], off: int, order: list[int]) -> None:
    """So far apart that nothing else decides: the fourth is where the first two come together less the third."""
    a, b, c = three
    four = (a, b, c, a + b - c + off)
    near, products = hits(channels(*(four[n] for n in order)), Settings())
    assert near == ()
    assert bool(products) == disturbed(four, Settings())
    if abs(off) < Settings().radio_product_khz:
        assert {p.off_khz for p in products if p.on.khz == four[3] and len(p.of) == 3} == {abs(off)}


@given(st.lists(st.integers(0, 12), min_size=2, max_size=4))
@settings(max_examples=examples(25), deadline=None)
def test_the_nearest_free_set_is_the_best_of_all_there_are(steps: list[int]) -> None:
    """Against every set of channels in a small band."""
    band = Band(low_khz=470_000, high_khz=470_600)
    now = tuple(470_000 + 50 * s for s in steps)
    raster = range(470_000, 470_601, 50)
    free = [s for s in product(raster, repeat=len(now)) if not disturbed(s, TIGHT)]
    cost = {
        s: (
            sum(a != b for a, b in zip(s, now, strict=True)),
            sum(map(abs, (a - b for a, b in zip(s, now, strict=True)))),
        )
        for s in free
    }
    found = free_set([channels(*now)], [band], TIGHT)
    if not free:
        assert found is None
        return
    assert found is not None
    made = tuple(found[c.name] for c in channels(*now))
    assert not disturbed(made, TIGHT)
    assert cost[made] == min(cost.values())
    assert found == free_set([channels(*now)], [band], TIGHT), "the same answer every time"


def test_channels_of_different_parts_may_meet() -> None:
    one, other, third = channels(470_100, 470_100, 470_200)
    assert free_set([[one], [other]], [], TIGHT) == {one.name: 470_100, other.name: 470_100}
    assert free_set([[one, third]], [Band(low_khz=470_100, high_khz=470_120)], TIGHT) is None


def test_worked_figures_of_clocks_and_of_guide_sound() -> None:
    """1 and 10 ppm over 6 h at 25 fps; jam again for half a frame; 42 m at 4 °C."""
    assert drift_frames(1, 10, 6 * 3600, 25) == pytest.approx(5.94)
    assert (jam_again_h(1, 10, 25), jam_again_h(1, 1, 25)) == (0.50, 2.77)
    assert guide_frames(42, 4, 25) == pytest.approx(3.15, abs=0.005)


def chain(label: str, *hangs_on: str) -> Chain:
    source = Source(label=label, units=("u",))
    return Chain(Voice(id="v", label="V", sources=(source,)), source, (), "u", "", frozenset(hangs_on))


@given(st.lists(st.frozensets(st.sampled_from("abcdef"), min_size=1, max_size=3), max_size=6))
def test_no_larger_set_of_sources_is_independent(things: list[frozenset[str]]) -> None:
    chains = [chain(str(i), *on) for i, on in enumerate(things)]
    found = independent(chains)

    def most(left: list[Chain], used: frozenset[str]) -> int:
        if not left:
            return 0
        first, rest = left[0], left[1:]
        without = most(rest, used)
        return without if first.hangs_on & used else max(without, 1 + most(rest, used | first.hangs_on))

    assert len(found) == most(chains, frozenset())
    mine = [c.hangs_on for c in chains if c.source.label in found]
    assert sum(map(len, mine)) == len(frozenset().union(*mine))


def test_the_demo_has_its_faults_and_each_is_cured() -> None:
    texts = [f.text for f in said(JOB, "sound.sources")]
    assert [t.split(" cannot")[0] for t in texts] == ["Soprano", "Tenor", "Soprano"]
    assert "share belt under the coat of Soprano" in texts[0]
    assert "share CART-REC, CART-RX" in texts[1]
    assert "RX-1 to R2-1" in said(JOB, "sound.broken")[0].text
    # Another pocket; in Act III the receiver is not in that build, which is another fault.
    pocket = with_source("soprano", 1, pocket="boot")
    assert [f.text.split(" cannot")[0] for f in said(pocket, "sound.sources")] == ["Tenor", "Soprano"]
    own = with_source("tenor", 1, units=("CLIP-4", "POCKET-1"), khz=None, pocket="coat right")
    assert "Tenor" not in "".join(f.text for f in said(own, "sound.sources"))
    assert said(own, "sound.twice")[0].text.startswith("POCKET-1 takes 1 at once"), "the soprano has it"
    air = [part.channels for part in sound(JOB).air]
    free = free_set(air, JOB.sound.bands, JOB.settings)
    assert free
    tuned = apply_to_job(JOB, SetChannels(channels=tuple((*name, khz) for name, khz in free.items())), SHELF)
    assert said(JOB, "sound.radio")
    assert said(tuned, "sound.radio") == []
    for code, name, at, change in (
        ("sound.wind", "foreman", 0, {"cover": True}),
        ("sound.level", "foreman", 1, {"safety_db": 12.0}),
        ("sound.house", "orchestra", 0, {"plugs": ("xlr-3",)}),
    ):
        before, after = said(JOB, code), said(with_source(name, at, **change), code)
        assert len(after) < len(before), code
    given_ = apply_to_job(JOB, PutVoice(voice=replace(voice("foreman"), consent="given")), SHELF)
    assert (len(said(JOB, "sound.consent")), said(given_, "sound.consent")) == (1, [])
    refused = apply_to_job(JOB, PutVoice(voice=replace(voice("foreman"), consent="refused")), SHELF)
    assert said(refused, "sound.consent")[0].level is Level.STOP


def test_what_gets_loud_wants_room_or_a_hand_at_the_level() -> None:
    """A shot 40 dB over speech: 12 dB on a track set by speech, 24 with a second one 12 lower."""
    loud = apply_to_job(JOB, ChangeVoice(voice="cannon", louder_db=40.0), SHELF)
    (told,) = [f for f in said(loud, "sound.level") if f.about.units[-1] == "its loudest"]
    assert (told.value, told.limit) == (40, 12)
    for room, left in ((27.9, 1), (28.0, 0)):
        made = apply_to_job(loud, ChangeSource(voice="cannon", source="quay microphone", safety_db=room), SHELF)
        assert sum(f.about.units[-1] == "its loudest" for f in said(made, "sound.level")) == left
    ridden = apply_to_job(loud, ChangeSource(voice="cannon", source="quay microphone", rides="Sound"), SHELF)
    assert not [f for f in said(ridden, "sound.level") if f.about.units[-1] == "its loudest"]


def test_what_is_seen_and_what_rings_is_told_with_what_else_would_do() -> None:
    (seen,) = said(with_source("soprano", 0, shows=True), "sound.place")
    assert seen.text.startswith("'radio to the rail' of Soprano is seen in the picture of")
    air = replace(JOB.part("act-3").conditions, rings=True)
    ringing = apply_to_job(JOB, ChangePart(part="act-3", conditions=air), SHELF)
    levels = {f.about.units[0].removeprefix("voice "): f.level for f in said(ringing, "sound.place")}
    assert levels == {
        "soprano": Level.NOTE,
        "tenor": Level.NOTE,
        "foreman": Level.NOTE,
        "orchestra": Level.WATCH,
    }, "blankets help the one that nobody wears most"


def test_a_wire_is_measured_along_its_way_on_the_ground() -> None:
    assert said(JOB, "sound.wire")[0].value == 25
    near = apply_to_job(
        JOB, PutThing(thing=replace(next(t for t in JOB.venue.things if t.id == "cannon"), x_m=60.0, y_m=12.0)), SHELF
    )
    assert all(
        "at the gun" not in f.text for f in said(with_source("cannon", 1, units=("SHOT-1", "C6-2")), "sound.wire")
    )
    assert "25 m" in said(near, "sound.wire")[0].text
    # Bare of its cable, nothing leads from the gun to the camera.
    assert "SHOT-1 to C6-2" in said(with_source("cannon", 1, units=("SHOT-1", "C6-2")), "sound.broken")[0].text


def test_what_is_plugged_wrong_or_taken_twice_is_told() -> None:
    job = with_source("foreman", 1, units=("SHOT-1", "POCKET-2"))
    assert "Nothing leads from SHOT-1 to POCKET-2" in said(job, "sound.broken")[0].text
    deaf = with_source("foreman", 0, khz=None)
    assert "give the radio its channel" in said(deaf, "sound.broken")[0].text
    ends = with_source("foreman", 1, units=("CLIP-6", "BODY-4"))
    assert "records nothing" in next(f.text for f in said(ends, "sound.broken"))
    twice = with_source("foreman", 1, units=("CLIP-1", "POCKET-2"))
    assert "CLIP-1 takes 1 at once" in said(twice, "sound.twice")[0].text
    assert "names nothing" in said(with_source("foreman", 1, units=()), "sound.broken")[0].text
    desk = with_source("orchestra", 1, house=True, plugs=())
    assert {"nothing is heard when that is silent", "Nobody said which connectors"} <= {
        part
        for f in said(desk, "sound.house")
        for part in ("nothing is heard when that is silent", "Nobody said which connectors")
        if part in f.text
    }


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        (PutVoice(voice=replace(voice("cannon"), thing="moon")), "no 'moon' on the plan"),
        (PutVoice(voice=replace(voice("soprano"), wearer="")), "nobody wears it"),
        (PutVoice(voice=replace(voice("soprano"), parts=("never",))), "never"),
        (
            PutVoice(voice=replace(voice("cannon"), sources=(Source(label="s", units=("MIC-1", "MIC-1")),))),
            "MIC-1 is twice",
        ),
        (
            PutVoice(voice=replace(voice("cannon"), sources=(Source(label="s", khz=500_000),))),
            "outside the job's bands",
        ),
        (
            PutVoice(voice=replace(voice("cannon"), sources=(Source(label="s", plugs=("ghost",)),))),
            "no connector 'ghost'",
        ),
        (SetChannels(channels=(("soprano", "radio to the rail", 600_000),)), "outside the job's bands"),
        (SetChannels(channels=(("soprano", "drum", 471_000),)), "drum"),
        (RemoveVoice(voice="ghost"), "ghost"),
    ],
)
def test_edits_that_make_no_sense_are_refused(edit: Any, words: str) -> None:
    with pytest.raises((JobRefused, NotInJob), match=words):
        apply_to_job(JOB, edit, SHELF)
    assert describe_in_job(edit, JOB)


def test_a_change_says_only_what_is_new_and_the_rest_stays() -> None:
    """Two who change different things of one voice lose nothing of each other's."""
    edits: tuple[Any, ...] = (
        ChangeVoice(voice="soprano", wearer="Understudy"),
        ChangeSource(voice="soprano", source="pocket recorder", pocket="boot"),
        ChangeVoice(voice="soprano", mic_at="tent"),
        ChangeSource(voice="soprano", source="pocket recorder", label="recorder"),
        ChangeSource(voice="soprano", source="radio to the rail", khz=0),
        ChangeSource(voice="soprano", source="third"),
        RemoveSource(voice="soprano", source="third"),
    )
    job = JOB
    for edit in edits:
        assert describe_in_job(edit, job)
        job = apply_to_job(job, edit, SHELF)
    was, now = voice("soprano"), voice("soprano", job)
    assert now == replace(
        was,
        wearer="Understudy",
        mic_at="tent",
        sources=(replace(was.sources[0], khz=None), replace(was.sources[1], label="recorder", pocket="boot")),
    )
    with pytest.raises(JobRefused, match="has a source 'recorder' already"):
        apply_to_job(job, ChangeSource(voice="soprano", source="radio to the rail", label="recorder"), SHELF)
    with pytest.raises(NotInJob, match="third"):
        apply_to_job(job, RemoveSource(voice="soprano", source="third"), SHELF)


def test_impossible_plans_say_what_is_wrong() -> None:
    with pytest.raises(ValueError, match="lower end comes first"):
        Band(low_khz=480_000, high_khz=470_000)
    with pytest.raises(ValueError, match="'radio' stands twice"):
        Voice(id="v", label="V", sources=(Source(label="radio"), Source(label="radio")))
    with pytest.raises(ValueError, match="'soprano' stands twice"):
        SoundPlan(voices=(voice("soprano"), voice("soprano")))
    with pytest.raises(ValueError, match="'C6-1' stands twice"):
        SoundPlan(sync=(SaidSync(unit="C6-1", method="none"),) * 2)


def test_what_is_taken_away_is_forgotten_and_sound_gear_is_in_use() -> None:
    gone = apply_to_job(JOB, RemovePart(part="dress"), SHELF)
    assert voice("cannon", gone).parts == ()
    assert voice("soprano", gone).parts == ("acts-1-2", "act-3")
    bare = apply_to_job(JOB, RemoveThing(thing="singer"), SHELF)
    assert voice("soprano", bare).thing == ""
    claims = {(unit, part): who for unit, part, who in JOB.claims_beside()}
    assert claims["POCKET-1", "act-3"] == "Soprano"
    assert {"RX-1", "R2-1", "MIC-1"}.isdisjoint(u for u, _ in claims), "what cameras have goes where they go"
    assert len(claims) == len(list(JOB.claims_beside())), "each unit once in a part"
    silent = apply_to_job(JOB, SetBands(), SHELF)
    assert silent.sound.bands == ()


def test_what_keeps_in_step_follows_from_the_build_or_from_what_is_said() -> None:
    def of(job: Job, unit: str, part: str) -> tuple[str, str]:
        device = next(d for d in sound(job).devices if (d.unit, d.part.id) == (unit, part))
        return device.method, device.by

    assert of(JOB, "CART-REC", "act-3") == ("timecode box", "it is the master")
    assert of(JOB, "C6-1", "act-3") == ("guide sound", "MIC-1")
    assert of(JOB, "C6-3", "act-3") == ("none", "")
    jammed = apply_to_job(JOB, SetSync(unit="POCKET-1", method="jammed once"), SHELF)
    device = next(d for d in sound(jammed).devices if (d.unit, d.part.id) == ("POCKET-1", "act-3"))
    # 10 ppm and the master's 1 ppm over 85 min.
    assert device.drift_frames == pytest.approx(11e-6 * 85 * 60 * 25)
    assert device.jam_again_h == 0.50
    assert any("POCKET-1" in f.text and "again within 0.50 h" in f.text for f in said(jammed, "sound.sync"))
    assert apply_to_job(jammed, SetSync(unit="POCKET-1"), SHELF).sound.sync == ()


def test_a_job_without_voices_is_asked_for_none() -> None:
    silent = replace(JOB, sound=SoundPlan())
    assert sound(silent) == Sound((), (), (), (), ()) or sound(silent).findings == ()
    assert sound_csv(sound(silent)).count("\n") == 1


def test_everybody_has_microphones_in_the_window_by_the_one_who_was_said() -> None:
    last = days_of(JOB)[1]
    mics = mic_ups(JOB, SHELF, last)
    assert [m.voice.id for m in mics] == ["foreman", "soprano", "tenor"]
    soprano = mics[1]
    assert (soprano.after, soprano.by) == tuple(soprano.part.starts - timedelta(minutes=m) for m in (25, 10))
    assert soprano.minutes == 8
    assert next(c for c in soprano.checks if "button" in c.lower()).startswith("Before buttoning up: pocket recorder")
    assert any("hand off the record key" in c for c in soprano.checks)
    assert any("heard on headphones, then slated" in c for c in soprano.checks)
    assert mics[0].checks[0].startswith("Ask Foreman first")

    def worn(job: Job) -> Iterator[Any]:
        sheet = run_sheets(job, SHELF, lay_out(job, SHELF))[1]
        assert isinstance(sheet, RunSheet)
        return (t for t in sheet.tasks if t.kind == "mic up")

    tasks = list(worn(JOB))
    # The dresser has 15 minutes for two people of 8 minutes each.
    assert [(t.voice, t.starts is not None) for t in sorted(tasks, key=lambda t: t.voice)] == [
        ("Foreman", True),
        ("Soprano", False),
        ("Tenor", True),
    ]
    assert all(t.who == (t.only,) and t.after <= t.starts and t.ends <= t.by for t in tasks if t.starts)
    (told,) = (f for f in run_sheets(JOB, SHELF, lay_out(JOB, SHELF))[1].findings if "mic up" in "".join(f.about.units))
    assert told.text.startswith(
        "Soprano without microphones when Acts I and II begins at 19:30: Dresser is 1 min short"
    )
    helped = apply_to_job(JOB, PutVoice(voice=replace(voice("foreman"), mic_by="Loader")), SHELF)
    assert all(t.starts is not None for t in worn(helped))


def test_chargers_cannot_take_what_a_singer_wears() -> None:
    charging = JOB.charging
    box = replace(charging.boxes[0], unit="POCKET-1", parts=("act-3",))
    job = apply_to_job(JOB, SetCharging(charging=replace(charging, boxes=(box,))), SHELF)
    assert [c for c in job.claims_beside() if c[:2] == ("POCKET-1", "act-3")] == [("POCKET-1", "act-3", box.label)]


def test_gear_of_the_starter_shelf_makes_whole_sources() -> None:
    """A clip microphone by radio into a camera, and one into a pocket recorder, as somebody new would string them."""
    known = Known(SHELF.interfaces, SHELF.models)
    wanted = ("mic-clip", "body-tx", "receiver-2", "pocket-recorder")
    interfaces, models = starter_models(wanted, "halyard", known)
    units = [
        Unit(id=f"{m.kind} {n}", model=m.id)
        for m in models
        for n in range(1, 3)
        if m.kind in ("microphone", "transmitter", "receiver", "sound recorder")
    ]
    shelf = replace(
        SHELF,
        interfaces={**SHELF.interfaces, **{i.id: i for i in interfaces}},
        models={**SHELF.models, **{m.id: m for m in models}},
        units={**SHELF.units, **{u.id: u for u in units}},
    )
    body = shelf.model_of("R2-1").port("mic")
    out = next(p for p in shelf.model_of("receiver 1").ports if p.signal)
    foot = next(p for p in shelf.model_of("receiver 1").ports if p.interface == "shoe")
    rail = JOB.build("rail-locked")[1]
    mounted = apply_all(
        rail,
        (
            Attach(unit="receiver 1", unit_port=foot.id, onto="R2-1", onto_port="shoe"),
            Connect(cable="JACK-2", from_unit="receiver 1", from_port=out.id, to_unit="R2-1", to_port=body.id),
        ),
        shelf,
    )
    job = apply_to_job(JOB.with_build(mounted), RemoveVoice(voice="soprano"), shelf)
    sources = (
        Source(label="radio", units=("microphone 1", "transmitter 1", "receiver 1", "R2-1"), khz=470_125),
        Source(label="pocket", units=("microphone 2", "sound recorder 1")),
    )
    job = apply_to_job(job, PutVoice(voice=Voice(id="mc", label="MC", parts=("arrival",), sources=sources)), shelf)
    heard = next(h for h in sound_of(job, shelf, day_table(job, shelf)).heard if h.voice.id == "mc")
    assert [[hop.way for hop in c.hops] for c in heard.chains] == [["plugged", "radio", "cable"], ["plugged"]]
    assert heard.independent == ("radio", "pocket")
