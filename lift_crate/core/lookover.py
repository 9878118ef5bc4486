"""Everything a build is asked for, asked at once: what passes here can be read, judged, drawn, listed and printed."""

from __future__ import annotations

from .balance import with_balance
from .chain import chain_of, run_downs
from .elevation import elevations
from .evaluate import Evaluation, evaluate
from .rig import Build, Catalogue, Conditions, Target
from .settings import Settings
from .sheet import build_sheet

__all__ = ["look_over"]


def look_over(build: Build, catalogue: Catalogue, conditions: Conditions, settings: Settings, target: Target | None = None) -> Evaluation:
    """The build judged to the end, drawn from all sides, its power followed and its sheet written; raises what any of them raises."""
    judged = with_balance(evaluate(build, catalogue, conditions, settings, target=target))
    elevations(judged)
    chain_of(judged)
    run_downs(judged)
    build_sheet(judged)
    return judged
