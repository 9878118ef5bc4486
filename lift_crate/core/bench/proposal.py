"""What repeated balances teach: differences between readings set and computed
are CGs and masses that are not what the catalogue says.

Formulas: docs/formulas.md §3, 'What balances teach'.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..balance.report import readings_of
from ..errors import BadRig
from ..geometry import Array
from ..rig.assembly import Assembly, assemble
from ..rig.build import Build, Catalogue
from ..rig.masses import mass_deviation_g
from ..settings import Settings
from ..support.load import Carried, carried

__all__ = ["Observed", "Proposal", "proposals", "sensitivities"]

_SETTING_SD_MM = 1.0
"""How well a hand finds the balance on a scale."""
_SLIDES = ("fore_aft", "lateral", "vertical")
_FIGURES: tuple[tuple[Literal["CG", "mass"], slice], ...] = (("CG", slice(0, 3)), ("mass", slice(3, 4)))
_MOST = 3
_WORTH = 0.15
"""A figure that explains less of the differences than this share is not named."""


@dataclass(frozen=True, slots=True)
class Observed:
    """A balance that was kept: the rig as it was, and what its scales were set to, by slide."""

    build: Build
    set_to: Mapping[str, float]


@dataclass(frozen=True, slots=True)
class Proposal:
    """A better figure for a unit that may be at fault: from, to, one standard deviation of it, and what it rests on.

    A CG has three values in mm in the unit's own frame, a mass one in g.
    """

    unit: str
    what: Literal["CG", "mass"]
    now: tuple[float, ...]
    better: tuple[float, ...]
    sd: float
    explains: float
    """Share of the differences that it takes away."""
    balances: int


@dataclass(frozen=True, eq=False)
class _Equations:
    """Differences in mm and how each depends on every unit's figures: one row for a slide of a balance."""

    differences_mm: Array
    by_unit: dict[str, Array]
    """Per unit, shape (rows, 4): mm of slide for one mm of its CG along its own axes, and for one g of its mass."""


def proposals(seen: Sequence[Observed], catalogue: Catalogue, settings: Settings) -> tuple[Proposal, ...]:
    """Better figures that balances point to, most likely first; none below two of them, or within what a hand can set.

    Each figure is fitted as if it alone were at fault, by least squares with its own
    spread against that of a hand on a scale; they are ranked by how likely they make
    what was seen over all rigs together. The readings are computed anew from the figures
    of today, so a figure that has been corrected since is not proposed again. Nothing is
    applied.
    """
    solved = [
        (observed, assembly, held)
        for observed in seen
        if (pair := _hung(observed.build, catalogue, settings))
        for assembly, held in (pair,)
    ]
    if len(solved) < 2:
        return ()
    equations = _equations(solved)
    y, count = equations.differences_mm, len(solved)
    means = y.reshape(count, len(_SLIDES)).mean(axis=0)
    if np.abs(means).max() < 2 * _SETTING_SD_MM / np.sqrt(count):
        return ()
    noise = _SETTING_SD_MM**2 * np.eye(len(y))
    found: list[tuple[float, Proposal]] = []
    for unit, jacobian in equations.by_unit.items():
        variance = _variances(unit, solved, settings)
        for what, columns in _FIGURES:
            own, free = jacobian[:, columns], variance[columns]
            spread = own * free @ own.T + noise
            gain = (free[:, None] * own.T) @ np.linalg.inv(spread)
            change = gain @ y
            left = free - np.einsum("ij,ji->i", gain, own * free)
            explains = 1 - float(((y - own @ change) ** 2).sum() / (y**2).sum())
            evidence = -0.5 * float(y @ np.linalg.solve(spread, y)) - 0.5 * float(np.linalg.slogdet(spread)[1])
            now = _now(unit, what, catalogue, solved)
            better = tuple(float(n + c) for n, c in zip(now, change, strict=True))
            found.append((evidence, Proposal(unit, what, now, better, float(np.sqrt(left.max())), explains, count)))
    found.sort(key=lambda pair: -pair[0])
    return tuple(p for _, p in found[:_MOST] if p.explains >= _WORTH)


def _hung(build: Build, catalogue: Catalogue, settings: Settings) -> tuple[Assembly, Carried] | None:
    try:
        assembly = assemble(build, catalogue)
        held = carried(assembly, settings)
    except BadRig:
        return None
    return (assembly, held) if held.solution and held.gimbal and held.support else None


def _equations(solved: Sequence[tuple[Observed, Assembly, Carried]]) -> _Equations:
    rows: list[float] = []
    blocks: list[dict[str, Array]] = []
    for observed, assembly, held in solved:
        computed = readings_of(held)
        rows += [observed.set_to.get(name, computed[name]) - computed[name] for name in _SLIDES]
        blocks.append(_sensitivities(assembly, held))
    # A unit that is not in a rig has nothing to do with its balance.
    nothing = np.zeros((len(_SLIDES), 4))
    units = dict.fromkeys(unit for block in blocks for unit in block)
    return _Equations(
        np.array(rows), {unit: np.concatenate([block.get(unit, nothing) for block in blocks]) for unit in units}
    )


def sensitivities(build: Build, catalogue: Catalogue, settings: Settings) -> dict[str, Array]:
    """Change of the readings of fore-aft, lateral and vertical per mm of each unit's CG along
    its own axes, and per g of its mass, shape (3, 4); empty on no gimbal.
    """
    hung = _hung(build, catalogue, settings)
    return _sensitivities(*hung) if hung else {}


def _sensitivities(assembly: Assembly, held: Carried) -> dict[str, Array]:
    gimbal, support, hangs = held.gimbal, held.support, held.hangs
    if gimbal is None or support is None or held.solution is None or hangs is None:
        return {}
    m_p, p = hangs.mass_g, np.asarray(hangs.cg_mm)
    m_t, own = m_p + gimbal.tilt.mass_g, gimbal.tilt.mass_g * np.asarray(gimbal.tilt.cg_mm)
    tf_gimbal_rig = assembly.pose(support).inverse()
    directions = np.array([gimbal.fore_aft.direction, gimbal.lateral.direction, gimbal.vertical.direction])[:, None]
    # A slide at its stop reads the same whatever the figures are.
    free = np.array(
        [slide.short_mm == 0 for slide in (held.solution.fore_aft, held.solution.lateral, held.solution.vertical)]
    )[:, None]
    beyond = set(assembly.build.subtree(support))
    found = {}
    for part in assembly.parts.values():
        if part.unit in beyond or part.mass_g <= 0:
            continue
        turn, at = tf_gimbal_rig.rotation @ part.tf_rig_part.rotation, tf_gimbal_rig.point(part.cg_mm)
        # a* = −p_x − m_t·c_tx/m_p, v* alike, l* = −(m_p·p_y + …)/M_t, each by CG and by mass.
        found[part.unit] = (
            directions
            * free
            * np.array(
                [
                    [*(-part.mass_g / m_p * turn[0]), -(at[0] - p[0]) / m_p + own[0] / m_p**2],
                    [*(-part.mass_g / m_t * turn[1]), -(at[1] + held.solution.lateral.ideal_mm) / m_t],
                    [*(-part.mass_g / m_p * turn[2]), -(at[2] - p[2]) / m_p + own[2] / m_p**2],
                ]
            )
        )
    return found


def _variances(unit: str, solved: Sequence[tuple[Observed, Assembly, Carried]], settings: Settings) -> Array:
    """Of a unit's CG along its axes, mm², and of its mass, g², by where its figures come from."""
    spreads = settings.spreads
    part = next(assembly.parts[unit] for _, assembly, _ in solved if unit in assembly.row)
    cg = {"measured": spreads.measured_cg_mm, "catalogue": spreads.catalogue_cg_mm, "assumed": spreads.assumed_cg_mm}[
        part.cg_source
    ]
    return np.array([cg, cg, cg, mass_deviation_g(part.mass_g, part.mass_source, spreads)]) ** 2


def _now(
    unit: str, what: str, catalogue: Catalogue, solved: Sequence[tuple[Observed, Assembly, Carried]]
) -> tuple[float, ...]:
    if what == "mass":
        return (catalogue.mass_of(unit)[0] or 0.0,)
    build = next(observed.build for observed, assembly, _ in solved if unit in assembly.row)
    return tuple(catalogue.cg_of(unit, build.setting_of(unit).focal_mm)[0])
