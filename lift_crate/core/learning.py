"""What repeated balances teach: a difference between readings set and computed is a CG that is not where the catalogue says."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from .assembly import mass_deviation_g
from .evaluate import Evaluation

__all__ = ["Proposal", "proposal"]

_SETTING_SD_MM = 1.0
"""How well a hand finds the balance on a scale."""


@dataclass(frozen=True, slots=True)
class Proposal:
    """A better CG for the unit that is most likely at fault: from, to, its standard deviation, and what it rests on."""

    unit: str
    cg_mm: tuple[float, float, float]
    better_mm: tuple[float, float, float]
    sd_mm: float
    differences_mm: Mapping[str, float]
    balances: int


def proposal(evaluation: Evaluation, differences: Sequence[Mapping[str, float]]) -> Proposal | None:
    """A better CG from the mean difference of several balances; None below two of them or when it is within its own spread.

    ``differences``: readings set less computed, mm along the slides, per balance, the
    rig as it is now. A payload whose CG lies Δ further forward balances with the
    camera Δ further back, so one unit of mass m in a payload of M must lie
    −Δ·M/m from where it was thought. The unit at fault is the one whose CG spread
    weighs most. Never applied by itself.
    """
    held = evaluation.carried
    if len(differences) < 2 or held.gimbal is None or held.support is None:
        return None
    mean = {name: sum(d.get(name, 0.0) for d in differences) / len(differences) for name in ("fore_aft", "lateral", "vertical")}
    directions = {"fore_aft": held.gimbal.fore_aft.direction, "lateral": held.gimbal.lateral.direction, "vertical": held.gimbal.vertical.direction}
    shift = [-mean[name] * directions[name] for name in ("fore_aft", "lateral", "vertical")]
    sd = _SETTING_SD_MM / math.sqrt(len(differences))
    if max(abs(v) for v in shift) < 2 * sd:
        return None
    beyond = set(evaluation.assembly.build.subtree(held.support))
    spreads = evaluation.settings.spreads
    cg_sd = {"measured": spreads.measured_cg_mm, "catalogue": spreads.catalogue_cg_mm, "assumed": spreads.assumed_cg_mm}
    parts = [p for p in evaluation.assembly.parts.values() if p.unit not in beyond and p.mass_g > 0]
    if not parts:
        return None
    worst = max(parts, key=lambda p: p.mass_g * cg_sd[p.cg_source] + mass_deviation_g(p.mass_g, p.mass_source, spreads) * abs(float(p.cg_mm[0])))
    lever = held.payload.mass_g / worst.mass_g
    # The gimbal's axes and the rig's are parallel when the plate is on straight; the part's own may not be.
    own = worst.tf_rig_part.rotation.T @ (evaluation.assembly.pose(held.support).rotation @ [v * lever for v in shift])
    cg, _ = evaluation.assembly.catalogue.cg_of(worst.unit, evaluation.assembly.build.setting_of(worst.unit).focal_mm)
    better = (cg[0] + float(own[0]), cg[1] + float(own[1]), cg[2] + float(own[2]))
    return Proposal(worst.unit, cg, better, sd * lever, mean, len(differences))
