"""What the views use: the stores, and a build judged as it stands."""

from __future__ import annotations

from dataclasses import dataclass, replace

from flask import current_app

from ..core.balance import with_balance
from ..core.dayplan import WhatIf, day_asked
from ..core.evaluate import Evaluation, evaluate
from ..core.findings import Finding, count_levels, place_of
from ..core.fit import use_of
from ..core.operations import Operation, apply_all
from ..core.rig import Conditions
from ..core.shelf import Bench
from ..store.balances import BalanceStore
from ..store.builds import BuildState, BuildStore
from ..store.jobs import JobStore
from ..store.plans import PlanStore
from ..store.shelf import ShelfStore
from ..store.swaps import SwapStore
from . import present
from .schema import BenchView, PartView, RigPath, StripView

__all__ = ["Services", "bench_of", "bench_view", "part_view", "preview", "services", "state_of"]


@dataclass(frozen=True)
class Services:
    """The stores of this application."""

    jobs: JobStore
    builds: BuildStore
    shelf: ShelfStore
    balances: BalanceStore
    swaps: SwapStore
    plans: PlanStore


def services() -> Services:
    """The stores of the application that serves this request."""
    found: Services = current_app.extensions["lift_crate"]
    return found


def state_of(path: RigPath) -> BuildState:
    """The build that a rig is in, in a part of the day; raises NotInJob."""
    return services().builds.read_planned(path.job, path.part, path.rig)


def _conditions(state: BuildState, part: str) -> Conditions:
    return state.job.part(part).conditions


def bench_of(state: BuildState, part: str) -> Bench:
    """The build with everything that candidates and remedies are tried against."""
    conditions = _conditions(state, part)
    evaluation = evaluate(state.build, state.catalogue, conditions, state.job.settings, state.taken, state.rig.target)
    return Bench(evaluation, conditions, state.job.settings, state.taken, state.rig.target)


def bench_view(state: BuildState, part: str, evaluation: Evaluation | None = None, *, saved: bool = True) -> BenchView:
    """The whole Bench for one build in one part of the day."""
    judged = evaluation or bench_of(state, part).judged
    return BenchView(
        job=state.job.id, part=part, rig=state.rig.id, rig_label=state.rig.label, build=state.build.id,
        build_label=state.build.label, body=judged.assembly.build.body, version=state.version, saved=saved,
        use=judged.assembly.build.use, use_now=use_of(judged.assembly, judged.settings).handling, sees=present.sees_text(judged),
        can_undo=state.can_undo, can_redo=state.can_redo, held_by=judged.assembly.held_by, holders=[*judged.assembly.supports, *judged.assembly.hands], held_in_doubt=judged.assembly.held_in_doubt,
        rows=present.row_views(judged),
        cables=present.cable_views(judged), figures=present.figures_view(judged, _conditions(state, part)),
        counts=present.counts_view(judged.counts), findings=present.finding_views(judged.findings),
        elevations=present.elevation_views(judged),
    )  # fmt: skip


def preview(state: BuildState, part: str, operations: tuple[Operation, ...]) -> BenchView:
    """The Bench as it would be after some operations; nothing is saved."""
    after = replace(state, build=apply_all(state.build, operations, state.catalogue))
    return bench_view(after, part, saved=False)


def part_view(job_id: str, part_id: str) -> PartView:
    """All camera strips of a part of the day."""
    with services().jobs.reading():
        job, catalogue, _ = services().jobs.read(job_id)
        job.part(part_id)
        against = services().plans.known(job_id, day_asked(job, part_id, WhatIf()))
    conditions = job.part(part_id).conditions
    planned = job.builds_in(part_id)
    strips = []
    elsewhere: dict[str, list[Finding]] = {"balance": [], "power": []}
    for rig in job.rigs:
        found = planned.get(rig.id)
        if found is None:
            strips.append(_empty_strip(rig.id, rig.number, rig.label, rig.position, conditions))
            continue
        build = found[1]
        judged = with_balance(evaluate(build, catalogue, conditions, job.settings, target=rig.target))
        for finding in judged.findings:
            if (place := place_of(finding.code)) in elsewhere:
                elsewhere[place].append(finding)
        figures = present.figures_view(judged, conditions)
        strips.append(StripView(
            rig=rig.id, number=rig.number, label=rig.label, position=rig.position, build=build.id, build_label=build.label,
            mass_g=figures.payload_g, headroom_g=figures.headroom_g, balance=present.strip_balance(judged.carried),
            hours=figures.hours, hours_needed=figures.hours_needed, counts=present.counts_view(judged.counts),
        ))  # fmt: skip
    elsewhere["power"] += against
    total = {key: sum(getattr(strip.counts, key) for strip in strips) for key in ("stops", "watches", "notes")}
    return PartView(
        part=part_id, strips=strips, counts=present.counts_view(total),
        places={place: present.counts_view(count_levels(tuple(found))) for place, found in elsewhere.items()},
    )  # fmt: skip


def _empty_strip(rig: str, number: int, label: str, position: str, conditions: Conditions) -> StripView:
    return StripView(
        rig=rig, number=number, label=label, position=position, build=None, build_label=None, mass_g=0.0, headroom_g=None,
        balance="no build planned", hours=None, hours_needed=conditions.hours_needed,
        counts=present.counts_view({"stops": 0, "watches": 0, "notes": 0}),
    )  # fmt: skip
