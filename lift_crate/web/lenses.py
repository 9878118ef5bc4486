"""Every lens of the pool on a body, from where a rig stands."""

from __future__ import annotations

from typing import Literal

from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.lens.against import Against, zooms_against_primes
from ..core.lens.coverage import light_of
from ..core.lens.pairs import Pair, bodies_of, front_mount, gaps_deg, needed_angle_deg, pairs, plate_choices
from ..core.rig.assembly import assemble
from ..core.rig.build import Target
from ..core.settings import Settings
from . import present
from . import schema as s
from .answers import READ, answer
from .described import PlaceApi
from .schema import (
    Strict,
    Told,
)
from .services import state_of

__all__ = ["api"]

api = PlaceApi(
    "lenses",
    __name__,
    url_prefix="/api/jobs/<string:job>/parts/<string:part>/rigs/<string:rig>",
    abp_tags=[Tag(name="lenses", description="Every lens on a body")],
)


class PairsQuery(Strict):
    """The body model, the rig's own when nothing is said; ``*`` for the whole package."""

    body: str = ""


class PairView(Told):
    """A lens model on a body model: how it joins, what it covers and shows, how dark it may be."""

    body: str
    body_title: str
    lens: str
    title: str
    join: Literal["straight", "adapter", "to hire", "no"]
    through: str | None
    area: str | None
    full: bool
    focal_mm: tuple[float, float]
    equivalent_mm: tuple[float, float] | None
    angles_deg: tuple[float, float] | None
    widths_m: tuple[float, float] | None
    fits: bool | None
    t_stops: tuple[float, float]
    t_known: bool
    close_focus_mm: float | None
    mass_g: float | None
    units: list[str]
    free: list[str]
    loses: list[str]
    darkest_ev: tuple[float, float] | None


class PlateView(Told):
    """A mount plate for the body: lenses that it opens and closes against what is in front now."""

    title: str
    units: list[str]
    on: bool
    opens: list[str]
    closes: list[str]


class PairsView(Told):
    """Every lens on one body, for a rig's position."""

    body: str
    body_title: str
    bodies: list[dict[str, str]]
    distance_m: float | None
    width_m: float | None
    needed_deg: float | None
    pairs: list[PairView]
    gaps_deg: list[tuple[float, float]]
    light_ev: float | None
    """Of what is to be seen there."""
    plates: list[PlateView]
    against: tuple[Against, ...]
    """Zooms against the primes of their range."""


_ALL = "*"


@api.get("/lenses", responses={200: PairsView, **READ}, operation_id="readLenses")
def read_lenses(path: s.RigPath, query: PairsQuery) -> Response:
    """Every lens of the pool on a body, for the rig's position: joins, coverage, angles, width, gaps."""
    state = state_of(path)
    catalogue, target = state.catalogue, state.job.target_of(state.rig, path.part)
    model = catalogue.model(query.body) if query.body not in ("", _ALL) else catalogue.model_of(state.build.body)
    front = (
        front_mount(assemble(state.build, catalogue)) if model.id == catalogue.model_of(state.build.body).id else None
    )
    free = [unit.id for unit in catalogue.shelf if unit.id not in state.taken]
    whole = query.body == _ALL
    fronts = {model.id: front} if front else None
    own = pairs(catalogue, free, fronts, None if whole else model.id)
    conditions, settings = state.job.part(path.part).conditions, state.job.settings
    on_gimbal = any(catalogue.model_of(u).gimbal for u in state.build.units)
    titles = {p.lens.id: p.lens.title for p in own}
    return answer(
        PairsView(
            body=_ALL if whole else model.id,
            body_title="every body of the package" if whole else model.title,
            bodies=[{"id": body.id, "title": body.title} for body in bodies_of(catalogue)],
            distance_m=target.distance_mm / 1000 if target else None,
            width_m=target.width_mm / 1000 if target and target.width_mm else None,
            needed_deg=needed_angle_deg(target) if target else None,
            pairs=[_pair(p, target, settings) for p in own],
            gaps_deg=gaps_deg(own),
            light_ev=light_of(target, conditions),
            against=zooms_against_primes(own, settings, on_gimbal=on_gimbal),
            plates=[
                PlateView(
                    title=c.plate.title,
                    units=list(c.units),
                    on=c.on,
                    opens=[titles[lens] for lens in c.opens],
                    closes=[titles[lens] for lens in c.closes],
                )
                for c in (() if whole else plate_choices(catalogue, free, model, front))
            ],
        )
    )


def _pair(pair: Pair, target: Target | None, settings: Settings) -> PairView:
    widths = pair.widths_mm(target.distance_mm) if target else None
    return PairView(
        body=pair.body.id,
        body_title=pair.body.title,
        lens=pair.lens.id,
        title=pair.lens.title,
        join=pair.join,
        through=present.adapter_text(pair.chain) if pair.chain and pair.chain.links else None,
        area=pair.area.label if pair.area else None,
        full=pair.full,
        focal_mm=pair.focal_mm,
        equivalent_mm=(pair.focal_mm[0] * pair.crop, pair.focal_mm[1] * pair.crop) if pair.crop else None,
        angles_deg=pair.angles_deg,
        widths_m=(widths[0] / 1000, widths[1] / 1000) if widths else None,
        fits=widths[0] >= target.width_mm if widths and target and target.width_mm else None,
        t_stops=pair.t_stops,
        t_known=pair.data.t_stop is not None,
        close_focus_mm=pair.data.close_focus_mm,
        mass_g=pair.lens.mass_g,
        units=list(pair.units),
        free=list(pair.free),
        loses=list(pair.loses),
        darkest_ev=pair.darkest_ev(settings.fps, settings.shutter_deg),
    )
