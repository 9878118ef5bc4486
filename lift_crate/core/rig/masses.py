"""Masses and where they are: their sum, their common centre of gravity, and how far either may be out.

Formulas: docs/formulas.md §1.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..gear.model import Source
from ..gear.solids import Rows
from ..geometry import Array, Pose
from ..settings import Settings, Spreads

__all__ = ["MassSummary", "Masses", "Part", "mass_deviation_g", "mass_summary", "summed"]

_EYE = np.eye(3)


@dataclass(frozen=True, slots=True, eq=False)
class Part:
    """One mass where it is: pose ``tf_rig_part``, mass in g, CG in the rig frame, their sources.

    ``holder`` is the mounted unit it moves with: itself, or the unit at that end of a cable.
    """

    unit: str
    holder: str
    tf_rig_part: Pose
    mass_g: float
    mass_source: Source
    cg_mm: Array
    cg_source: Source
    mass_known: bool = True
    share: float = 1.0
    """Of the unit's mass that is here: half at each end of a cable."""


@dataclass(frozen=True, slots=True, eq=False)
class MassSummary:
    """Mass in g and CG in mm (shape (3,)), one standard deviation of each, mass by source."""

    mass_g: float
    cg_mm: Array
    mass_sd_g: float
    cg_sd_mm: Array
    by_source_g: dict[str, float]
    unknown: tuple[str, ...]
    cg_covariance_mm2: Array
    """Shape (3, 3), in the rig frame; ``cg_sd_mm`` is the root of its diagonal."""

    def cg_sd_along_mm(self, direction: Array) -> float:
        """One standard deviation of the CG along a direction of length 1 in the rig frame, mm."""
        return math.sqrt(max(0.0, float(direction @ self.cg_covariance_mm2 @ direction)))


@dataclass(frozen=True, eq=False)
class Masses:
    """Masses as rows, wherever they are: whose they are, g, and what mass and CG rest on."""

    units: tuple[str, ...]
    grams: tuple[float, ...]
    mass_sources: tuple[Source, ...]
    cg_sources: tuple[Source, ...]
    known: tuple[bool, ...]
    shares: tuple[float, ...]

    def rows(self, chosen: Sequence[int]) -> Masses:
        """Some rows, in the order of their indices."""
        return Masses(
            tuple(self.units[i] for i in chosen),
            tuple(self.grams[i] for i in chosen),
            tuple(self.mass_sources[i] for i in chosen),
            tuple(self.cg_sources[i] for i in chosen),
            tuple(self.known[i] for i in chosen),
            tuple(self.shares[i] for i in chosen),
        )

    @cached_property
    def mass_g(self) -> Array:
        """Shape (n,), g."""
        return np.array(self.grams, dtype=float)

    @cached_property
    def by_source_g(self) -> dict[str, float]:
        """Grams by what they rest on."""
        found = {"measured": 0.0, "catalogue": 0.0, "assumed": 0.0}
        for source, grams in zip(self.mass_sources, self.grams, strict=True):
            found[source] += grams
        return found

    @cached_property
    def unknown(self) -> tuple[str, ...]:
        """Units that nobody knows the mass of."""
        return tuple(dict.fromkeys(unit for unit, known in zip(self.units, self.known, strict=True) if not known))

    @cached_property
    def halves(self) -> tuple[Rows, Rows]:
        """Rows of the two ends of every cable that is here with both."""
        ends: dict[str, int] = {}
        pairs = [
            (first, i)
            for i, (unit, share) in enumerate(zip(self.units, self.shares, strict=True))
            if share < 1 and (first := ends.setdefault(unit, i)) != i
        ]
        one, other = np.array(pairs, dtype=np.intp).reshape(-1, 2).T
        return one, other

    def deviations(self, spreads: Spreads) -> tuple[Array, Array]:
        """One standard deviation of every mass, g, and of every CG, mm, each of shape (n,)."""
        known = self._deviations.get(spreads)
        if known is None:
            cg_sd_mm = {
                "measured": spreads.measured_cg_mm,
                "catalogue": spreads.catalogue_cg_mm,
                "assumed": spreads.assumed_cg_mm,
            }
            masses = [
                mass_deviation_g(grams / share, source, spreads) * share
                for grams, source, share in zip(self.grams, self.mass_sources, self.shares, strict=True)
            ]
            known = np.array(masses), np.array([cg_sd_mm[source] for source in self.cg_sources])
            self._deviations[spreads] = known
        return known

    @cached_property
    def _deviations(self) -> dict[Spreads, tuple[Array, Array]]:
        return {}


def mass_deviation_g(mass_g: float, source: str, spreads: Spreads) -> float:
    """One standard deviation of a mass by its source, g."""
    if source == "measured":
        return spreads.measured_g
    return mass_g * (spreads.catalogue_share if source == "catalogue" else spreads.assumed_share)


def mass_summary(parts: Sequence[Part], settings: Settings) -> MassSummary:
    """Mass and CG of some parts, with one standard deviation of each; see ``summed``."""
    masses = Masses(
        tuple(part.unit for part in parts),
        tuple(part.mass_g for part in parts),
        tuple(part.mass_source for part in parts),
        tuple(part.cg_source for part in parts),
        tuple(part.mass_known for part in parts),
        tuple(part.share for part in parts),
    )
    return summed(masses, np.array([part.cg_mm for part in parts]).reshape(-1, 3), settings.spreads)


def summed(masses: Masses, places: Array, spreads: Spreads) -> MassSummary:
    """Mass and CG of masses whose CGs are at ``places``, mm, shape (n, 3), with one standard deviation of each.

        CG = Σ mᵢ·rᵢ / Σ mᵢ
        σ_x = √Σ[((xᵢ − x̄)·σ_mᵢ)² + (mᵢ·σ_xᵢ)²] / M

    The two halves of a cable are one thing: what is wrong with one is wrong with the
    other, and adds up before it is squared. No masses, or none above zero, give 0 g at the origin.
    """
    total = sum(masses.by_source_g.values())
    by_source = dict(masses.by_source_g)
    if total <= 0:
        return MassSummary(0.0, np.zeros(3), 0.0, np.zeros(3), by_source, masses.unknown, np.zeros((3, 3)))
    deviations, cg_deviations = masses.deviations(spreads)
    cg = masses.mass_g @ places / total
    moved, shifted = (places - cg) * deviations[:, None], masses.mass_g * cg_deviations
    covariance, about, mass = moved.T @ moved, float(shifted @ shifted), float(deviations @ deviations)
    one, other = masses.halves
    if len(one):
        # (a + b)² = a² + b² + 2ab
        both = moved[one].T @ moved[other]
        covariance = covariance + both + both.T
        about += 2 * float(shifted[one] @ shifted[other])
        mass += 2 * float(deviations[one] @ deviations[other])
    covariance = (covariance + _EYE * about) / total**2
    return MassSummary(
        total, cg, math.sqrt(mass), np.sqrt(covariance.diagonal()), by_source, masses.unknown, covariance
    )
