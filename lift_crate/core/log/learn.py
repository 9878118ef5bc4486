"""What a log teaches: figures as they were assumed, brought nearer to what was really read, as proposals.

Nothing is changed here. Every figure is learnt from its first value and all readings since, so that the same
readings always lead to the same figure. Formulas: docs/formulas.md §17.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property
from typing import Literal

import numpy as np

from ..callouts import Input, Working
from ..day.changeover import Changeover
from ..day.media import CardLine, minutes_on
from ..job.job import Job
from ..quantities import Identifier, Label
from ..rig.build import Catalogue
from ..settings import STRICT, Settings
from ..swaps.day import FULL, DayProblem, Slot, day_problem, days_of, step_of
from ..swaps.what_if import Made
from .entries import READINGS, TIMINGS, LogEntry, Standing

__all__ = [
    "Figure",
    "Learning",
    "Proposal",
    "Run",
    "Subject",
    "Taken",
    "learn",
    "learnt",
    "learnt_together",
    "pack_runs",
    "with_figure",
]

Subject = Literal["health", "draw", "gimbal hours", "card minutes", "minutes"]
_LEAST_TAKEN = 0.3
"""A pack that gave less of its charge between two readings tells little: its lamps show tenths."""
_SAME = 0.005
"""A figure that would change by less than this share is learnt already."""
_NEAR = 0.25
"""A figure off by less than this share of its own spread is left alone."""
_JOINTS = ("quick release", "shoe", "clamp", "screw", "lens")
_FIELDS: Mapping[str, str] = {
    "cable": "cable_min",
    "balance": "balance_min",
    "recalibrate": "recalibrate_min",
    "card": "card_min",
    "line up": "line_up_min",
    "close": "close_min",
    "mic up": "mic_up_min",
    "mic off": "mic_off_min",
    "open case": "case_open_min",
}
"""By kind of work the setting that holds its minutes; joints have a table."""


@dataclass(frozen=True, kw_only=True)
class Figure:
    """A figure that may be taken over: of what, and its value."""

    __pydantic_config__ = STRICT

    of: Subject
    thing: Label
    value: float


@dataclass(frozen=True, kw_only=True)
class Taken:
    """A figure that was taken over: what it was before, and when."""

    of: Subject
    thing: Label
    before: float
    value: float
    at: datetime
    by: Label


@dataclass(frozen=True, kw_only=True)
class Run:
    """One reading: in words, when, and what it says."""

    text: str
    at: datetime
    value: float


@dataclass(frozen=True, kw_only=True)
class Proposal:
    """A figure as it is, and as the readings say it is; ``spread`` is one standard deviation, both in ``unit``."""

    of: Subject
    thing: Identifier
    title: str
    unit: str
    first: float
    """What it was before anything was learnt."""
    now: float
    value: float
    spread: float
    runs: tuple[Run, ...]
    working: Working

    @property
    def figure(self) -> Figure:
        """What is taken over."""
        return Figure(of=self.of, thing=self.thing, value=self.value)

    @property
    def taken(self) -> bool:
        """Whether what is counted with is near enough: the same, or off by far less than the figure is sure."""
        return abs(self.value - self.now) <= max(_SAME * abs(self.now), _NEAR * self.spread, 1e-9)


def learnt(first: float, first_sd: float, readings: Sequence[float], reading_sd: float) -> tuple[float, float]:
    """Mean and spread of a figure after its readings, both normal: 1.0 ± 0.10 with 0.82, 0.86 and 0.80, each
    ± 0.07, is 0.851 ± 0.037. Raises ValueError for a spread that is not more than 0.
    """
    if first_sd <= 0 or reading_sd <= 0:
        raise ValueError("a spread is more than 0")
    weight = 1 / first_sd**2 + len(readings) / reading_sd**2
    return (first / first_sd**2 + sum(readings) / reading_sd**2) / weight, 1 / math.sqrt(weight)


def learnt_together(
    first: Mapping[str, float],
    first_share: float,
    readings: Sequence[tuple[Mapping[str, float], float]],
    reading_share: float,
) -> dict[str, tuple[float, float]]:
    """The same for several figures of which a reading is a sum: by name mean and spread.

    A reading is how often each figure is in it, and what it came to; spreads are shares of the first figures.
    With one figure alone in every reading it is ``learnt``.
    """
    names = [n for n in first if first[n] > 0 and any(counts.get(n) for counts, _ in readings)]
    if not names:
        return {}
    start = np.array([first[n] for n in names])
    weight = np.diag(1 / (first_share * start) ** 2)
    pull = weight @ start
    for counts, came_to in readings:
        row = np.array([counts.get(n, 0.0) for n in names])
        expected = float(row @ start)
        if expected <= 0 or not row.any():
            continue
        precision = 1 / (reading_share * expected) ** 2
        weight += precision * np.outer(row, row)
        pull += precision * row * came_to
    found = np.linalg.solve(weight, pull)
    spreads = np.sqrt(np.diag(np.linalg.inv(weight)))
    return {n: (float(found[i]), float(spreads[i])) for i, n in enumerate(names)}


@dataclass(frozen=True, eq=False)
class Learning:
    """What a job's log is read with: the job, its shelf, swaps as made, entries that count, what was taken over.

    ``lines``: recorders with what they write; ``changes``: changeovers, each of a camera with when it ends.
    """

    job: Job
    catalogue: Catalogue
    made: tuple[Made, ...] = ()
    entries: tuple[Standing, ...] = ()
    taken: tuple[Taken, ...] = ()
    lines: tuple[CardLine, ...] = ()
    changes: tuple[tuple[str, datetime, datetime, Changeover], ...] = ()
    """Camera, end of the part before, start of the part after, and what it takes."""

    @cached_property
    def healthy(self) -> Catalogue:
        """The shelf with every pack as new."""
        units = {
            name: replace(u, health=1.0, cycles=None, condition="good")
            if (m := self.catalogue.models.get(u.model)) and m.pack
            else u
            for name, u in self.catalogue.units.items()
        }
        return Catalogue(self.catalogue.interfaces, self.catalogue.models, units)

    @cached_property
    def days(self) -> tuple[DayProblem, ...]:
        """Every day on which a pack was read, all packs as new."""
        times = [m.at for m in self.made] + [e.at for e in self.readings("hours")]
        return tuple(
            day_problem(self.job, self.healthy, parts)
            for parts in days_of(self.job)
            if any(abs((at - parts[0].starts).total_seconds()) < 36 * 3600 for at in times)
        )

    def readings(self, what: str) -> Iterator[LogEntry]:
        """Readings of a kind that count."""
        yield from (s.entry for s in self.entries if s.entry.kind == "reading" and s.entry.what == what)

    def first_of(self, of: Subject, thing: str, now: float) -> tuple[float, datetime | None]:
        """What a figure was before anything was learnt, and since when readings count for it; None: all of them.

        A figure that somebody has typed since it was learnt is a first figure again.
        """
        chain = sorted((t for t in self.taken if (t.of, t.thing) == (of, thing)), key=lambda t: t.at)
        if not chain:
            return now, None
        if not _same(chain[-1].value, now):
            return now, chain[-1].at
        first, since = chain[-1].before, None
        for later, before in zip(reversed(chain), reversed(chain[:-1]), strict=False):
            if not _same(before.value, later.before):
                since = before.at
                break
            first = before.before
        return first, since


def _same(one: float, other: float) -> bool:
    return math.isclose(one, other, rel_tol=1e-4, abs_tol=1e-6)


def learn(given: Learning) -> tuple[Proposal, ...]:
    """Every figure that readings are there for, the furthest from what is counted with first."""
    found = [*_health(given), *_draws(given), *_gimbal_hours(given), *_card_minutes(given), *_minutes(given)]
    return tuple(sorted(found, key=lambda p: (p.taken, -abs(p.value - p.now) / max(p.now, 1e-9), p.of, p.thing)))


def pack_runs(given: Learning) -> dict[str, list[Run]]:
    """By pack: what it gave over what a new one would have given, for every time that it was read."""
    runs: dict[str, list[Run]] = defaultdict(list)
    for problem in given.days:
        by_slot: dict[str, list[Made]] = defaultdict(list)
        for made in sorted(given.made, key=lambda m: m.at):
            by_slot[made.slot].append(made)
        for slot in problem.slots:
            for pack, run in _slot_runs(given, problem, slot, by_slot.get(slot.id, ())):
                runs[pack].append(run)
    for entry in given.readings("hours"):
        ran = _hours_run(given, entry)
        if ran is not None:
            runs[entry.unit].append(ran)
    return {pack: sorted(each, key=lambda r: r.at) for pack, each in runs.items()}


def _slot_runs(given: Learning, problem: DayProblem, slot: Slot, swaps: Iterable[Made]) -> Iterator[tuple[str, Run]]:
    """From one swap to the next in a place; what nobody read when it went in was full."""
    clock = given.job.clock
    start, charge, before = float(slot.first), 1.0, None
    for swap in swaps:
        at = step_of(problem.origin, problem.step_min, swap.at)
        if not slot.first < at <= slot.last:
            continue
        pack = swap.pack_out or before
        if pack and swap.charge_left is not None and pack in given.catalogue.units:
            taken = charge - swap.charge_left
            used = _used(given, slot, pack, start, at)
            if used and taken >= _LEAST_TAKEN:
                hours = (at - start) * problem.step_min / 60
                text = f"{slot.label}: {hours:.2f} h, {charge * 100:.0f} to {swap.charge_left * 100:.0f} %"
                yield pack, Run(text=text, at=swap.at.astimezone(clock), value=used / taken)
        start, charge, before = at, swap.charge_in if swap.charge_in is not None else 1.0, swap.pack_in


def _used(given: Learning, slot: Slot, pack: str, start: float, end: float) -> float:
    """Share of a new pack that a place takes between two steps; 0 where it does not go there."""
    name = f"{given.catalogue.model_of(pack).id}@1.0"
    used = slot.used.get(name)
    if used is None or end <= start:
        return 0.0
    at = np.interp([start - slot.first, end - slot.first], range(len(used)), used)
    return float(at[1] - at[0]) / FULL * (1 - slot.floor.get(name, 0.0))


def _hours_run(given: Learning, entry: LogEntry) -> Run | None:
    """A pack that ran until it was empty: over as many hours of the place it was in; None without such a place."""
    model = given.catalogue.model_of(entry.unit) if entry.unit in given.catalogue.units else None
    if model is None or model.kind != "pack" or not entry.value:
        return None
    name = f"{model.id}@1.0"
    for problem in given.days:
        at = step_of(problem.origin, problem.step_min, entry.at)
        places = [s for s in problem.slots if s.rig == entry.rig and name in s.used and s.first < at <= s.last + 12]
        if not places:
            continue
        own = [s for s in places if s.own and given.catalogue.model_of(s.own).id == model.id]
        slot = (own or places)[0]
        start = at - entry.value * 60 / problem.step_min
        inside = max(start, slot.first), min(at, slot.last)
        used = _used(given, slot, entry.unit, *inside)
        if used <= 0:
            continue
        # What lies before or after the planned time goes on at the mean rate.
        used *= (at - start) / (inside[1] - inside[0])
        text = f"{slot.label}: {entry.value:.2f} h until empty"
        return Run(text=text, at=entry.at.astimezone(given.job.clock), value=used)
    return None


def _health(given: Learning) -> Iterator[Proposal]:
    settings = given.job.settings
    first_sd, sd = settings.learn_first["health"], settings.learn_reading["health"]
    for pack, all_runs in sorted(pack_runs(given).items()):
        now = given.catalogue.unit(pack).health_left
        first, since = given.first_of("health", pack, now)
        runs = [r for r in all_runs if since is None or r.at > since]
        if not runs:
            continue
        mean, spread = learnt(first, first_sd, [r.value for r in runs], sd)
        value = round(min(1.0, max(0.05, mean)), 3)
        yield Proposal(
            of="health",
            thing=pack,
            title=f"Health of {pack}",
            unit="",
            first=first,
            now=now,
            value=value,
            spread=spread,
            runs=tuple(runs),
            working=_one_by_one(first, first_sd, runs, sd, "health"),
        )


def _ratios(
    given: Learning,
    of: Subject,
    thing: str,
    title: str,
    unit: str,
    now: float | None,
    runs: Sequence[Run],
    *,
    counted: Callable[[float], float] = lambda v: v,
) -> Proposal | None:
    """A figure from readings of itself, spreads as shares of what it first was.

    ``now`` is None where nobody knew it: the readings alone say what it is, and a claim counts for nothing.
    """
    settings = given.job.settings
    first, since = given.first_of(of, thing, now or 0.0)
    kept = [r for r in runs if since is None or r.at > since]
    if not kept:
        return None
    first = first or sum(r.value for r in kept) / len(kept)
    first_sd, sd = settings.learn_first[of] * first, settings.learn_reading[of] * first
    mean, spread = learnt(first, first_sd, [r.value for r in kept], sd)
    return Proposal(
        of=of,
        thing=thing,
        title=title,
        unit=unit,
        first=first,
        now=now or 0.0,
        value=counted(mean),
        spread=spread,
        runs=tuple(kept),
        working=_one_by_one(first, first_sd, kept, sd, of),
    )


def _draws(given: Learning) -> Iterator[Proposal]:
    runs = _by_unit(given, "watts")
    for unit, each in sorted(runs.items()):
        draw = given.catalogue.unit(unit).measured_w
        model = given.catalogue.model_of(unit)
        now = draw if draw is not None else model.draw.record_w if model.draw else None
        found = _ratios(given, "draw", unit, f"Draw of {unit}", "W", now, each, counted=lambda v: round(v, 2))
        if found is not None:
            yield found


def _by_unit(given: Learning, what: str) -> dict[str, list[Run]]:
    runs: dict[str, list[Run]] = defaultdict(list)
    for entry in given.readings(what):
        if entry.unit in given.catalogue.units and entry.value:
            said = f"{entry.value:g} {READINGS[what][1]}"
            runs[entry.unit].append(
                Run(text=said, at=entry.at.astimezone(given.job.clock), value=entry.value),
            )
    return runs


def _gimbal_hours(given: Learning) -> Iterator[Proposal]:
    for unit, each in sorted(_by_unit(given, "hours").items()):
        if given.catalogue.model_of(unit).gimbal is None:
            continue
        now = given.catalogue.unit(unit).measured_h
        found = _ratios(given, "gimbal hours", unit, f"Hours of {unit}", "h", now, each, counted=lambda v: round(v, 2))
        if found is not None:
            yield found


def _card_minutes(given: Learning) -> Iterator[Proposal]:
    """What a mode really writes, from cards that were full after so many minutes."""
    runs: dict[tuple[str, str], list[Run]] = defaultdict(list)
    rates: dict[tuple[str, str], float] = {}
    for entry in given.readings("card minutes"):
        line = _line_of(given, entry)
        card = given.catalogue.model_of(entry.unit).card if entry.unit in given.catalogue.units else None
        if line is None or card is None or not card.gb or not entry.value:
            continue
        key = given.catalogue.model_of(line.unit).id, line.mode.label
        rates[key] = line.mode.mbit_s
        computed = minutes_on(card.gb, line.mode.mbit_s)
        text = f"{entry.unit} in {line.unit}: full after {entry.value:g} min, {computed:.0f} computed"
        value = line.mode.mbit_s * computed / entry.value
        runs[key].append(Run(text=text, at=entry.at.astimezone(given.job.clock), value=value))
    for (model, mode), each in sorted(runs.items()):
        title = f"{given.catalogue.models[model].title}, {mode}"
        name, now = f"{model} {mode}", rates[model, mode]
        found = _ratios(given, "card minutes", name, title, "Mb/s", now, each, counted=lambda v: round(v, 1))
        if found is not None:
            yield found


def _line_of(given: Learning, entry: LogEntry) -> CardLine | None:
    """The recorder of a camera that was running when a card was full, or the last before."""
    card = given.catalogue.model_of(entry.unit).card if entry.unit in given.catalogue.units else None
    mine = [x for x in given.lines if x.rig.id == entry.rig and card and x.takes == card.slot]
    before = [x for x in mine if x.part.starts <= entry.at]
    return (
        max(before or mine, key=lambda x: x.part.starts, default=None)
        if before
        else min(mine, key=lambda x: x.part.starts, default=None)
    )


def minutes_now(settings: Settings) -> dict[str, float]:
    """Minutes of every kind of work as they are counted with."""
    return {
        **{kind: settings.joint_min[kind] for kind in _JOINTS},
        **{kind: float(getattr(settings, name)) for kind, name in _FIELDS.items()},
    }


def _minutes(given: Learning) -> Iterator[Proposal]:
    settings, now = given.job.settings, minutes_now(given.job.settings)
    first, since = {}, {}
    for kind, minutes in now.items():
        first[kind], since[kind] = given.first_of("minutes", kind, minutes)
    readings: list[tuple[dict[str, float], float]] = []
    runs: dict[str, list[Run]] = defaultdict(list)
    for entry in (s.entry for s in given.entries if s.entry.kind == "minutes"):
        counts, walks, text = _timed(given, entry)
        counts = {k: n for k, n in counts.items() if (begins := since[k]) is None or entry.at > begins}
        if not counts or not entry.value or entry.value <= walks:
            continue
        readings.append((counts, entry.value - walks))
        computed = walks + sum(n * first[k] for k, n in counts.items())
        for kind in counts:
            said = f"{text}: {entry.value:g} min, {computed:.1f} computed"
            runs[kind].append(Run(text=said, at=entry.at.astimezone(given.job.clock), value=entry.value))
    found = learnt_together(first, settings.learn_first["minutes"], readings, settings.learn_reading["minutes"])
    for kind, (mean, spread) in found.items():
        yield Proposal(
            of="minutes",
            thing=kind,
            title=TIMINGS[kind],
            unit="min",
            first=first[kind],
            now=now[kind],
            value=round(max(0.05, mean), 2),
            spread=spread,
            runs=tuple(runs[kind]),
            working=Working(
                formula="all kinds of work at once: least Σ((m - m₀)/s m₀)² + Σ((y - Σ n m)/σ y₀)²",
                numbers=f"{first[kind]:g} min at first, {len(runs[kind])} timed: {mean:.2f} ± {spread:.2f} min",
                inputs=_spreads(settings, "minutes"),
            ),
        )


def _timed(given: Learning, entry: LogEntry) -> tuple[dict[str, float], float, str]:
    """How often each kind of work was in what was timed, and minutes on foot in it, which are not learnt."""
    if entry.what != "changeover":
        share = entry.times / entry.people
        return {entry.what: share}, 0.0, f"{entry.times} × {TIMINGS[entry.what].lower()}"
    change = min(
        (c for c in given.changes if c[0] == entry.rig and c[3].tasks),
        key=lambda c: abs((c[1] + (c[2] - c[1]) / 2 - entry.at).total_seconds()),
        default=None,
    )
    if change is None:
        return {}, 0.0, ""
    work = change[3]
    # Two hands share it as the plan of the change does.
    share = work.two_min / work.alone_min if entry.people > 1 and work.alone_min > 0 else 1.0
    counts: dict[str, float] = defaultdict(float)
    for task in work.tasks:
        kind = task.act if task.act in ("balance", "recalibrate") else task.kind
        if kind:
            counts[kind] += share
    rig = given.job.rig(entry.rig)
    walks = share * sum(t.minutes for t in work.tasks if t.act == "fetch")
    return dict(counts), walks, f"Changeover of {rig.label} at {change[1].astimezone(given.job.clock):%H:%M}"


def _one_by_one(first: float, first_sd: float, runs: Sequence[Run], sd: float, of: Subject) -> Working:
    mean, spread = learnt(first, first_sd, [r.value for r in runs], sd)
    said = " + ".join(f"{r.value:.3g}" for r in runs[:6]) + (" + …" if len(runs) > 6 else "")
    return Working(
        formula="(μ/s² + Σx/σ²) / (1/s² + n/σ²)",
        numbers=f"({first:.3g}/{first_sd:.3g}² + ({said})/{sd:.3g}²) / (1/{first_sd:.3g}² + {len(runs)}/{sd:.3g}²)"
        f" = {mean:.3f} ± {spread:.3f}",
        inputs=(
            Input(name="first figure", value=f"{first:.3g} ± {first_sd:.3g}", source="catalogue"),
            Input(name=f"spread of one reading of {of}", value=f"{sd:.3g}", source="setting"),
        ),
    )


def _spreads(settings: Settings, of: str) -> tuple[Input, ...]:
    return (
        Input(name="spread at first, share", value=f"{settings.learn_first[of]:g}", source="setting"),
        Input(name="spread of one reading, share", value=f"{settings.learn_reading[of]:g}", source="setting"),
    )


def with_figure(job: Job, catalogue: Catalogue, figure: Figure) -> tuple[Job, Catalogue]:
    """Job and shelf with a figure taken over; raises NoSuchUnit and ValueError for what there is not."""
    if figure.of == "minutes":
        return replace(job, settings=settings_with(job.settings, figure)), catalogue
    if figure.of == "card minutes":
        name, _, mode = figure.thing.partition(" ")
        model = catalogue.model(name)
        if model.recording is None or all(m.label != mode for m in model.recording.modes):
            raise ValueError(f"{model.title} has no mode '{mode}'")
        modes = tuple(replace(m, mbit_s=figure.value) if m.label == mode else m for m in model.recording.modes)
        changed = replace(model, recording=replace(model.recording, modes=modes))
        return job, Catalogue(catalogue.interfaces, {**catalogue.models, name: changed}, catalogue.units)
    unit = catalogue.unit(figure.thing)
    field = {"health": "health", "draw": "measured_w", "gimbal hours": "measured_h"}[figure.of]
    changes: dict[str, float] = {field: figure.value}
    return job, Catalogue(
        catalogue.interfaces,
        catalogue.models,
        {**catalogue.units, unit.id: replace(unit, **changes)},  # type: ignore[arg-type]  # fields of a unit
    )


def settings_with(settings: Settings, figure: Figure) -> Settings:
    """The settings with the minutes of one kind of work."""
    if figure.thing in _JOINTS:
        return replace(settings, joint_min={**settings.joint_min, figure.thing: figure.value})
    if figure.thing not in _FIELDS:
        raise ValueError(f"there are no minutes of '{figure.thing}'")
    changes: dict[str, float] = {_FIELDS[figure.thing]: figure.value}
    return replace(settings, **changes)  # type: ignore[arg-type]  # fields of the settings
