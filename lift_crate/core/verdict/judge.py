"""Everything that stands against one build, as call-outs: quickly, or to the end."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..balance.ratings import rating_findings
from ..balance.report import swept_findings
from ..cables import cabling_findings
from ..callouts import About, Finding, Level, by_weight, count_levels
from ..fit.collisions import clash_findings
from ..fit.joints import joint_findings
from ..lens.coverage import viewing_findings
from ..lens.follow_focus import follow_focus_findings
from ..lens.mount import lens_findings
from ..lens.together import together_findings
from ..monitoring import monitoring_findings
from ..power.checks import fed_findings, mains_findings
from ..rig.build import Build, Claim
from ..rig.layout import Layout
from ..stand import Stand
from ..support.following import following_findings
from ..support.head import head_findings
from ..support.load import Carried, carrying_findings, moving_findings
from ..support.rigging import mount_findings
from .incomplete import incomplete_findings, unconfirmed_findings

__all__ = ["Quick", "Verdict", "Whole", "quick", "whole"]

_CG_OUTSIDE_MM = 5.0


@dataclass(frozen=True, eq=False)
class Verdict:
    """What stands against a build, most serious first, then by code. There are two kinds, and neither is the other."""

    stand: Stand
    findings: tuple[Finding, ...]

    @property
    def counts(self) -> dict[str, int]:
        """How many Stops, Watches and Notes."""
        return count_levels(self.findings)


class Quick(Verdict):
    """All but what must be swept through the attitudes: what many changes are tried by. It is never shown."""


class Whole(Verdict):
    """Everything: what is shown, printed and counted."""


def quick(stand: Stand) -> Quick:
    """Judge a build in single milliseconds, without reach, zoom and wind of a gimbal and wind on sticks."""
    assembly, settings, conditions, target = stand.assembly, stand.settings, stand.conditions, stand.target
    held, graph = stand.carried, stand.graph
    findings = [
        *joint_findings(assembly, settings),
        *clash_findings(assembly, stand.clashes),
        *lens_findings(assembly, settings),
        *viewing_findings(assembly, stand.view, target, conditions, settings),
        *together_findings(assembly, stand.view, target, conditions, settings),
        *rating_findings(stand),
        *follow_focus_findings(assembly, stand.view),
        *carrying_findings(assembly, held, settings),
        *moving_findings(assembly, held, settings, target),
        *following_findings(assembly, held, settings, target),
        *head_findings(assembly, held, settings, target),
        *mount_findings(assembly, held, settings, target),
        *cabling_findings(assembly, stand.routes, settings),
        *monitoring_findings(assembly, stand.routes, target, conditions, settings),
        *stand.power.findings,
        *mains_findings(graph, target, conditions),
        *fed_findings(graph),
        *assembly.layout.once(incomplete_findings),
        *assembly.layout.once(unconfirmed_findings),
        *_missing_masses(held),
        *assembly.layout.once(_cg_outside),
        *assembly.layout.once(_conditions),
        *_taken(assembly.build, stand.taken),
    ]
    return Quick(stand, by_weight(findings))


def whole(judged: Stand | Quick) -> Whole:
    """Judge a build to the end: swept through every attitude and wind too, which takes longer than all the rest."""
    fast = judged if isinstance(judged, Quick) else quick(judged)
    swept = swept_findings(fast.stand)
    return Whole(fast.stand, by_weight((*fast.findings, *swept)) if swept else fast.findings)


def _missing_masses(held: Carried) -> list[Finding]:
    return [
        Finding(
            code="mass.missing",
            level=Level.WATCH,
            about=About(units=(unit,)),
            text=f"{unit} has no mass. Totals leave it out.",
        )
        for unit in held.total.unknown
    ]


def _cg_outside(layout: Layout) -> tuple[Finding, ...]:
    """A CG beyond the outline of its own part is a slip of the pen, or a part that is drawn wrong."""
    found = []
    for name, model in zip(layout.units, layout.models, strict=True):
        measured = layout.catalogue.unit(name).measured_cg_mm
        beyond_mm = model.outside_mm(measured) if measured else model.cg_outside_mm
        if beyond_mm > _CG_OUTSIDE_MM:
            found.append(
                Finding(
                    code="mass.cg_outside",
                    level=Level.WATCH,
                    about=About(units=(name,)),
                    value=beyond_mm,
                    limit=0.0,
                    unit="mm",
                    text=(
                        f"The CG of {name} lies {beyond_mm:.0f} mm outside its own outline; look at the sign and the"
                        " place it was measured from."
                    ),
                )
            )
    return tuple(found)


def _conditions(layout: Layout) -> tuple[Finding, ...]:
    return tuple(
        Finding(
            code="unit.condition",
            level=Level.WATCH if unit.condition == "doubtful" else Level.STOP,
            about=About(units=(unit.id,)),
            text=f"{unit.id} is {unit.condition}{': ' + unit.note if unit.note else ''}.",
        )
        for unit in (layout.catalogue.unit(name) for name in layout.as_built)
        if unit.condition != "good"
    )


def _taken(build: Build, taken: Mapping[str, Claim]) -> list[Finding]:
    return [
        Finding(
            code="share.unit_taken",
            level=Level.STOP,
            about=About(units=(unit,), rig=claim.rig),
            text=f"{unit} is in {claim.rig} ({claim.build}) until {claim.until}.",
        )
        for unit in build.units
        if (claim := taken.get(unit))
    ]
