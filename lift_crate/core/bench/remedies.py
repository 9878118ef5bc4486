"""Remedies: changes tried on the build, kept only when they help the finding they are for.

A change that ends one Stop and brings another of the same kind is none. Order: those that
bring no other Stop; the finding gone before eased; fewest Stops, then Watches left, then Notes
(a part that is given up counts as a Watch, and what was wrong with it as not cured); then fewest
parts given up, least added mass, fewest joints altered, fewest millimetres moved (docs/formulas.md §3).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import chain

from ..balance.report import swept_for
from ..callouts import Finding, Level
from ..errors import BadRig
from ..rig.assembly import assemble
from ..rig.build import Build
from ..rig.edits import Adjust, Detach, SlideTo, Turn, apply_all, describe
from ..support.head import head_findings
from ..support.load import carried, carrying_findings, moving_findings
from .bench import Bench, Effect
from .trials import Trial, trials_for

__all__ = ["MOST_SHOWN", "Remedy", "Tried", "remedies", "search_remedies"]

MOST_SHOWN = 6
_MOST_JUDGED = 24
_ON_SUPPORT = ("gimbal.payload", "gimbal.travel.", "gimbal.motor", "gimbal.moves", "support.payload", "head.drift")
_SWEPT = ("gimbal.clearance.", "gimbal.zoom", "gimbal.wind", "stand.tips")


@dataclass(frozen=True, eq=False)
class Remedy:
    """A change that was tried: what to do, whether the finding goes, and the effect on everything else."""

    title: str
    operations: Trial
    clears: bool
    exchanges: bool
    """It ends this and brings another Stop."""
    effect: Effect
    rank: tuple[float, ...]
    """Orders remedies of one finding, least first."""


@dataclass(frozen=True, eq=False)
class Tried:
    """What a search has found so far: remedies best first, how many trials were made of how many."""

    remedies: tuple[Remedy, ...]
    done: int
    of: int


def remedies(bench: Bench, finding: Finding) -> list[Remedy]:
    """Remedies for one finding, tried and ranked, best first; empty when nothing on the shelf helps."""
    return list(search_remedies(bench, finding).remedies)


def search_remedies(
    bench: Bench, finding: Finding, start: int = 0, enough: Callable[[], bool] = lambda: False
) -> Tried:
    """Try remedies from the ``start``-th on until ``enough`` says so; at least one more is tried.

    What affects the support alone is first asked of the support alone. The rest are
    tried on the quick evaluation; the best are then judged to the end (reach, zoom and
    wind), and what they do there is what is said of them.
    """
    trials = list(dict.fromkeys(trials_for(bench, finding)))
    swept, alone = finding.code.startswith(_SWEPT), finding.code.startswith(_ON_SUPPORT)
    tried: list[tuple[tuple[float, ...], Trial, Bench]] = []
    stops = bench.quick.counts["stops"] + (_left(bench, finding)[1] if swept else 0)
    seen: set[object] = set()
    done = start
    for trial in trials[start:]:
        done += 1
        try:
            build = apply_all(bench.build, trial, bench.catalogue)
            # Two ways to the same rig are one remedy.
            rig = (frozenset(build.joints), frozenset(build.links), frozenset(build.settings))
            after = None if rig in seen or (alone and not _eases(bench, build, finding)) else bench.of(build)
        except BadRig:
            continue
        seen.add(rig)
        if after:
            effect = Effect.between(bench.quick, after.quick)
            left, more = _left(after, finding) if swept else (effect.levels.get(finding.key, Level.CLEAR), 0)
            if left < finding.level and effect.stops_after + more <= stops and not _repeats(effect, finding):
                tried.append((_rank(bench, finding, trial, effect, left, more), trial, after))
        if enough():
            break
    return Tried(_judged(bench, finding, tried), done, len(trials))


def _eases(bench: Bench, build: Build, finding: Finding) -> bool:
    """Whether a change helps a finding on the support, by mass and balance alone; raises what ``assemble`` raises."""
    assembly = assemble(build, bench.catalogue)
    held = carried(assembly, bench.settings, bench.target)
    if finding.code == "gimbal.moves":
        found = moving_findings(assembly, held, bench.settings, bench.target)
    else:
        found = chain(
            carrying_findings(assembly, held, bench.settings),
            head_findings(assembly, held, bench.settings, bench.target),
        )
    return next((f.level for f in found if f.key == finding.key), Level.CLEAR) < finding.level


def _judged(bench: Bench, finding: Finding, tried: list[tuple[tuple[float, ...], Trial, Bench]]) -> tuple[Remedy, ...]:
    """The best of what was tried, judged to the end and ranked; of the
    places that one thing can be slid or turned to, the best.
    """
    alike: dict[object, tuple[Trial, Bench]] = {}
    for _, trial, after in sorted(tried, key=lambda item: item[0]):
        alike.setdefault(_kind_of(trial), (trial, after))
    found: list[Remedy] = []
    for trial, after in list(alike.values())[:_MOST_JUDGED]:
        if len(found) > MOST_SHOWN:
            break
        effect = Effect.between(bench.whole, after.whole)
        left = effect.levels.get(finding.key, Level.CLEAR)
        if left >= finding.level or effect.stops_after > bench.whole.counts["stops"] or _repeats(effect, finding):
            continue
        title = "; then ".join(describe(op, bench.catalogue) for op in trial)
        found.append(
            Remedy(
                title,
                trial,
                left < Level.WATCH,
                bool(_new_stops(effect)),
                effect,
                _rank(bench, finding, trial, effect, left),
            )
        )
    # A rig that is stripped has nothing wrong with it; that is told only where nothing less will do.
    if any(r.clears and not r.exchanges and not _strips(r.operations) for r in found):
        found = [r for r in found if not _strips(r.operations)]
    return tuple(sorted(found, key=lambda remedy: remedy.rank)[:MOST_SHOWN])


def _new_stops(effect: Effect) -> list[Finding]:
    return [f for f in effect.come if f.level is Level.STOP]


def _repeats(effect: Effect, finding: Finding) -> bool:
    """Whether a change brings another Stop of the same kind."""
    return any(f.code == finding.code for f in _new_stops(effect))


def _strips(trial: Trial) -> bool:
    return len(trial) > 1 and all(isinstance(op, Detach) for op in trial)


def _kind_of(trial: Trial) -> tuple[object, ...]:
    return tuple((op.op, op.unit) if isinstance(op, SlideTo | Turn | Adjust) else op for op in trial)


def _left(after: Bench, finding: Finding) -> tuple[Level, int]:
    """How serious a finding that must be swept still is after a change, and how many Stops there are of its kind."""
    found = swept_for(after.stand, finding.code)
    return next((f.level for f in found if f.key == finding.key), Level.CLEAR), sum(
        f.level is Level.STOP for f in found
    )


def _rank(
    bench: Bench, finding: Finding, trial: Trial, effect: Effect, left: Level, more_stops: int = 0
) -> tuple[float, ...]:
    moved_mm = sum(abs(op.to_mm) for op in trial if isinstance(op, SlideTo))
    notes = sum(level is Level.NOTE for level in effect.levels.values())
    lost = _parts_lost(bench, trial)
    uncured = [f.level for f in effect.gone if f.key != finding.key and lost & set(f.about.units)]
    return (
        bool(_new_stops(effect)),
        left >= Level.WATCH,
        effect.stops_after + more_stops + uncured.count(Level.STOP),
        effect.watches_after + uncured.count(Level.WATCH) + len(lost),
        notes,
        len(lost),
        max(0.0, effect.mass_g),
        len(trial),
        moved_mm,
    )


def _parts_lost(bench: Bench, trial: Trial) -> set[str]:
    """Parts a trial gives up; keeping what was wanted on the rig comes before a lighter rig."""
    return {unit for op in trial if isinstance(op, Detach) for unit in bench.build.subtree(op.unit)}
