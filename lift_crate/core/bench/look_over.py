"""Everything a build is asked for, asked at once: what passes here can be read, judged, drawn, listed and printed."""

from __future__ import annotations

from ..drawings.build_sheet import build_sheet
from ..drawings.chain import chain_of, run_downs
from ..drawings.elevation import elevations
from ..rig.build import Build, Catalogue, Conditions, Target
from ..settings import Settings
from ..stand import stand_of
from ..verdict.judge import Whole, whole

__all__ = ["look_over"]


def look_over(
    build: Build, catalogue: Catalogue, conditions: Conditions, settings: Settings, target: Target | None = None
) -> Whole:
    """The build judged to the end, drawn from all sides, its power followed
    and its sheet written; raises what any of them raises.
    """
    judged = whole(stand_of(build, catalogue, conditions, settings, target=target))
    elevations(judged.stand)
    chain_of(judged)
    run_downs(judged.stand)
    build_sheet(judged)
    return judged
