"""What the views use: the stores, and a build judged as it stands."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from flask import current_app

from ..core.bench.bench import Bench
from ..core.callouts import Finding, count_levels, place_of
from ..core.drawings.elevation import elevations
from ..core.fit.joints import use_of
from ..core.job.job import Job
from ..core.lens.presets import jumps
from ..core.rig.build import Catalogue, Conditions
from ..core.rig.edits import Operation, apply_all
from ..core.stand import stand_of
from ..core.swaps.what_if import WhatIf, day_asked
from ..core.verdict.kept import Verdicts
from ..devices.named import Devices
from ..store.balances import BalanceStore
from ..store.builds import BuildState, BuildStore
from ..store.cards import CardStore
from ..store.crew import CrewStore
from ..store.drill import DrillStore
from ..store.frame import FrameStore
from ..store.jobs import JobStore
from ..store.live import Live
from ..store.log import LogStore
from ..store.packing import PackingStore
from ..store.passkeys import PasskeyStore
from ..store.plans import PlanStore
from ..store.recipes import RecipeStore
from ..store.record import RecordStore
from ..store.shelf import ShelfStore
from ..store.sound import SoundStore
from ..store.swaps import SwapStore
from . import present
from .schema import BenchView, PartView, RigPath, StripView

__all__ = ["Services", "bench_of", "bench_view", "part_view", "part_view_of", "preview", "services", "state_of"]


@dataclass(frozen=True)
class Services:
    """The stores of this application, what it remembers, and the devices beside it."""

    jobs: JobStore
    frames: FrameStore
    builds: BuildStore
    shelf: ShelfStore
    balances: BalanceStore
    swaps: SwapStore
    plans: PlanStore
    recipes: RecipeStore
    cards: CardStore
    sound: SoundStore
    packing: PackingStore
    log: LogStore
    drills: DrillStore
    crew: CrewStore
    passkeys: PasskeyStore
    record: RecordStore
    live: Live
    verdicts: Verdicts = field(default_factory=Verdicts)
    devices: Devices = field(default_factory=Devices)


def services() -> Services:
    """The stores of the application that serves this request."""
    found: Services = current_app.extensions["lift_crate"]
    return found


def state_of(path: RigPath) -> BuildState:
    """The build that a rig is in, in a part of the day; raises NotInJob."""
    return services().builds.read_planned(path.job, path.part, path.rig)


def bench_of(state: BuildState, part: str) -> Bench:
    """The build with everything that candidates and remedies are tried against."""
    conditions, job = state.job.part(part).conditions, state.job
    return Bench(
        stand_of(
            state.build, state.catalogue, conditions, job.settings, state.taken, state.job.target_of(state.rig, part)
        )
    )


def bench_view(state: BuildState, part: str, *, saved: bool = True) -> BenchView:
    """The whole Bench for one build in one part of the day."""
    judged = bench_of(state, part).whole
    if saved:
        services().verdicts.keep(judged)
    return BenchView(
        job=state.job.id,
        part=part,
        rig=state.rig.id,
        rig_label=state.rig.label,
        build=state.build.id,
        build_label=state.build.label,
        planned=state.job.planned_is(part, state.rig.id, state.build.id),
        body=judged.stand.assembly.build.body,
        version=state.version,
        saved=saved,
        use=judged.stand.assembly.build.use,
        use_now=use_of(judged.stand.assembly, judged.stand.settings).handling,
        sees=present.sees_text(judged.stand),
        can_undo=state.can_undo,
        can_redo=state.can_redo,
        held_by=judged.stand.assembly.held_by,
        holders=[*judged.stand.assembly.supports, *judged.stand.assembly.hands],
        held_in_doubt=judged.stand.assembly.held_in_doubt,
        presets=jumps(judged.stand.assembly, judged.stand.settings) if judged.stand.assembly.build.presets else (),
        rows=present.row_views(judged),
        cables=present.cable_views(judged),
        figures=present.figures_view(judged),
        counts=present.counts_view(judged.counts),
        findings=present.finding_views(judged.findings),
        elevations=elevations(judged.stand),
    )


def preview(state: BuildState, part: str, operations: tuple[Operation, ...]) -> BenchView:
    """The Bench as it would be after some operations; nothing is saved."""
    after = replace(state, build=apply_all(state.build, operations, state.catalogue))
    return bench_view(after, part, saved=False)


def part_view(job_id: str, part_id: str) -> PartView:
    """All camera strips of a part of the day."""
    with services().jobs.reading():
        job, catalogue, _ = services().jobs.read(job_id)
        against = services().plans.known(job.id, day_asked(job, part_id, WhatIf()))
        return part_view_of(job, catalogue, part_id, against)


def part_view_of(job: Job, catalogue: Catalogue, part_id: str, against: tuple[Finding, ...] = ()) -> PartView:
    """The same of a job that was read already: only what changed since it was last asked for is judged.

    ``against``: what stands against the plan of its swaps; a job that was just changed has no plan that stands.
    """
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
        judged = services().verdicts.of(build, catalogue, conditions, job.settings, job.target_of(rig, part_id))
        for finding in judged.findings:
            if (place := place_of(finding.code)) in elsewhere:
                elsewhere[place].append(finding)
        stand = judged.stand
        strips.append(
            StripView(
                rig=rig.id,
                number=rig.number,
                label=rig.label,
                position=rig.position,
                build=build.id,
                build_label=build.label,
                mass_g=stand.carried.payload.mass_g,
                headroom_g=present.headroom_g(stand),
                balance=present.strip_balance(stand.carried),
                hours=present.hours_of(stand),
                hours_needed=conditions.untouched_h,
                short=stand.short,
                counts=present.counts_view(judged.counts),
            )
        )
    elsewhere["power"] += against
    total = {key: sum(getattr(strip.counts, key) for strip in strips) for key in ("stops", "watches", "notes")}
    return PartView(
        part=part_id,
        strips=strips,
        counts=present.counts_view(total),
        places={place: present.counts_view(count_levels(tuple(found))) for place, found in elsewhere.items()},
    )


def _empty_strip(rig: str, number: int, label: str, position: str, conditions: Conditions) -> StripView:
    return StripView(
        rig=rig,
        number=number,
        label=label,
        position=position,
        build=None,
        build_label=None,
        mass_g=0.0,
        headroom_g=None,
        balance="no build planned",
        hours=None,
        hours_needed=conditions.untouched_h,
        short=False,
        counts=present.counts_view({"stops": 0, "watches": 0, "notes": 0}),
    )
