"""A job as one HTML page that needs nothing else: no connection, no program, no other file."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from importlib.resources import files

from jinja2 import Environment, StrictUndefined
from markupsafe import Markup

from ..core.balance.steps import Card
from ..core.day.changeover import Changeover
from ..core.day.media import CardLine
from ..core.drawings.build_sheet import BuildSheet
from ..core.drawings.elevation import Elevation
from ..core.job.job import PartOfDay, Rig
from ..core.swaps.card import Swap
from .drawing import drawing_svg

__all__ = ["AlongCase", "AlongChange", "AlongDay", "AlongRig", "AlongSafety", "AlongTask", "along_html"]

_SCALE = 6.0


@dataclass(frozen=True, kw_only=True)
class AlongTask:
    """A line of the run sheet: when, what, at which camera or with whom, how long."""

    starts: datetime
    what: str
    where: str
    told: str
    until: datetime


@dataclass(frozen=True, kw_only=True)
class AlongDay:
    """The run sheet of one person on one day."""

    who: str
    call: datetime
    tasks: tuple[AlongTask, ...]


@dataclass(frozen=True, kw_only=True)
class AlongChange:
    """What a camera goes through between two parts of the day."""

    label: str
    before: str
    after: str
    change: Changeover


@dataclass(frozen=True, kw_only=True)
class AlongRig:
    """A build in the parts of the day that it is planned in: drawing, sheets, what stands against it, and by whom."""

    rig: Rig
    build: str
    parts: tuple[PartOfDay, ...]
    operators: tuple[str, ...]
    side: Elevation
    mass_g: float
    hours: float | None
    sheet: BuildSheet
    settings: tuple[tuple[str, str], ...]
    stops: tuple[str, ...]
    watches: tuple[str, ...]
    pre_flight: tuple[str, ...]
    cards: tuple[Card, ...]
    media: tuple[CardLine, ...]


@dataclass(frozen=True, kw_only=True)
class AlongCase:
    """A case with what lies in it, as it was dealt: who carries it, and by which camera it stays."""

    unit: str
    kg: float
    carried_by: str
    stays_by: str
    things: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class AlongSafety:
    """What applies to a camera's position: how serious, in words, and who has to be named."""

    label: str
    lines: tuple[tuple[str, str, tuple[str, ...]], ...]


def along_html(
    *,
    title: str,
    who: str,
    made: datetime,
    parts: Sequence[PartOfDay],
    days: Sequence[AlongDay],
    rigs: Sequence[AlongRig],
    changes: Sequence[AlongChange],
    swaps: Sequence[Swap],
    not_planned: bool,
    cases: Sequence[AlongCase],
    safety: Sequence[AlongSafety],
    lift_kg: float,
) -> str:
    """The page of one person, or of everybody where ``who`` is empty. ``not_planned``: a day without swaps yet."""
    environment = Environment(autoescape=True, undefined=StrictUndefined, trim_blocks=True, lstrip_blocks=True)
    environment.filters["drawn"] = _drawn
    template = environment.from_string((files(__package__) / "along.html").read_text(encoding="utf-8"))
    return template.render(
        title=title,
        who=who,
        made=made,
        parts=parts,
        days=days,
        rigs=rigs,
        changes=changes,
        swaps=swaps,
        not_planned=not_planned,
        cases=cases,
        safety=safety,
        lift_kg=lift_kg,
    )


def _drawn(elevation: Elevation, title: str) -> Markup:
    """An elevation as SVG in the page; what is written in it was escaped when it was drawn."""
    svg = drawing_svg(elevation, title, _SCALE).decode("utf-8")
    return Markup(svg[svg.index("<svg") :])  # noqa: S704 - drawn by our own code, its texts escaped
