"""Everything over one build: figures, call-outs, in single milliseconds, without remedies and without what must be swept (``balance``)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from .assembly import Assembly, assemble
from .cabling import cabling_findings
from .carrying import Carried, carried, carrying_findings, moving_findings
from .clash import clash_findings
from .findings import About, Finding, Level, by_weight, count_levels
from .fit import joint_findings
from .heads import head_findings
from .incomplete import incomplete_findings
from .mounts import mount_findings
from .optics import lens_findings
from .power import PowerGraph, power_graph
from .powering import PackRun, mains_findings, pack_runs, powering_findings
from .rig import Build, Catalogue, Claim, Conditions, Target
from .settings import Settings
from .viewing import viewing_findings

__all__ = ["Evaluation", "evaluate"]

_CG_OUTSIDE_MM = 5.0


@dataclass(frozen=True, eq=False)
class Evaluation:
    """One build judged: where everything is, what it weighs and draws, and what is wrong."""

    assembly: Assembly
    settings: Settings
    conditions: Conditions
    target: Target | None
    carried: Carried
    graph: PowerGraph
    runs: tuple[PackRun, ...]
    findings: tuple[Finding, ...]
    """Most serious first, then by code."""

    @property
    def draw_w(self) -> float:
        """Watts over all packs of the rig, at the start."""
        return sum(run.load_w for run in self.runs)

    @property
    def first_empty(self) -> PackRun | None:
        """The pack that ends first; None when nothing runs on a pack."""
        return min(self.runs, key=lambda run: run.hours, default=None)

    @property
    def counts(self) -> dict[str, int]:
        """How many Stops, Watches and Notes."""
        return count_levels(self.findings)


def evaluate(
    build: Build,
    catalogue: Catalogue,
    conditions: Conditions,
    settings: Settings,
    taken: Mapping[str, Claim] | None = None,
    target: Target | None = None,
) -> Evaluation:
    """Judge a build. ``taken``: units that another rig has at this time; ``target``: what it must see.

    Raises BadRig when the joints do not make a rig at all (unknown port or unit,
    circle, loose part); everything else is a finding.
    """
    assembly = assemble(build, catalogue)
    held = carried(assembly, settings, target)
    graph = power_graph(assembly)
    extra_w = {held.support: held.gimbal_w} if held.support and held.gimbal_w else {}
    runs = pack_runs(graph, extra_w, conditions, settings)
    findings = [
        *joint_findings(assembly, settings),
        *clash_findings(assembly),
        *lens_findings(assembly, settings),
        *viewing_findings(assembly, target, conditions, settings),
        *carrying_findings(assembly, held, settings),
        *moving_findings(assembly, held, settings, target),
        *head_findings(assembly, held, settings, target),
        *mount_findings(assembly, held, settings, target),
        *cabling_findings(assembly, held, settings, target),
        *powering_findings(graph, runs, extra_w, conditions, settings),
        *mains_findings(graph, target),
        *incomplete_findings(assembly, held, graph),
        *_missing_masses(held),
        *_cg_outside(assembly),
        *_conditions(build, catalogue),
        *_taken(build, taken or {}),
    ]
    return Evaluation(assembly, settings, conditions, target, held, graph, runs, by_weight(findings))


def _missing_masses(held: Carried) -> list[Finding]:
    return [
        Finding(
            code="mass.missing", level=Level.WATCH, about=About(units=(unit,)),
            text=f"Nobody knows what {unit} weighs; every total here is without it.",
        )
        for unit in held.total.unknown
    ]  # fmt: skip


def _cg_outside(assembly: Assembly) -> list[Finding]:
    """A CG beyond the outline of its own part is a slip of the pen, or a part that is drawn wrong."""
    found = []
    for unit in assembly.parts:
        measured, model = assembly.catalogue.unit(unit).measured_cg_mm, assembly.catalogue.model_of(unit)
        beyond_mm = model.outside_mm(measured) if measured else model.cg_outside_mm
        if beyond_mm > _CG_OUTSIDE_MM:
            found.append(Finding(
                code="mass.cg_outside", level=Level.WATCH, about=About(units=(unit,)), value=beyond_mm, limit=0.0, unit="mm",
                text=f"The CG of {unit} lies {beyond_mm:.0f} mm outside its own outline; look at the sign and the place it was measured from.",
            ))  # fmt: skip
    return found


def _conditions(build: Build, catalogue: Catalogue) -> list[Finding]:
    return [
        Finding(
            code="unit.condition", level=Level.WATCH if unit.condition == "doubtful" else Level.STOP, about=About(units=(unit.id,)),
            text=f"{unit.id} is {unit.condition}{': ' + unit.note if unit.note else ''}.",
        )
        for unit in (catalogue.unit(name) for name in build.units) if unit.condition != "good"
    ]  # fmt: skip


def _taken(build: Build, taken: Mapping[str, Claim]) -> list[Finding]:
    return [
        Finding(
            code="share.unit_taken", level=Level.STOP, about=About(units=(unit,), rig=claim.rig),
            text=f"{unit} is in {claim.rig} ({claim.build}) until {claim.until}.",
        )
        for unit in build.units
        if (claim := taken.get(unit))
    ]  # fmt: skip
