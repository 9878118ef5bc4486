"""Power: the chain of a rig, its packs run down, a meter read."""

from __future__ import annotations

from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.bench.bench import spares_of
from ..core.bench.bricks import bricks_for
from ..core.callouts import Level, place_of
from ..core.drawings.chain import chain_of, run_downs
from ..core.errors import NotAllowed
from . import present
from . import schema as s
from . import schema_power as p
from .answers import READ, Responses, answer
from .described import PlaceApi
from .services import bench_of, services, state_of

__all__ = ["api"]

api = PlaceApi(
    "power",
    __name__,
    url_prefix="/api/jobs/<string:job>",
    abp_tags=[Tag(name="power", description="The chain and the hours")],
)
_WRITE: Responses = {**READ, 409: s.ProblemView}


@api.get("/parts/<string:part>/rigs/<string:rig>/power", responses={200: p.PowerView, **READ}, operation_id="readPower")
def read_power(path: s.RigPath, query: p.PowerQuery) -> Response:
    """The chain of a rig with volts, amps and watts, and its packs run down."""
    state = state_of(path)
    bench = bench_of(state, path.part)
    judged = bench.whole
    chain = chain_of(judged, query.mode, empty=query.empty)
    conditions = state.job.part(path.part).conditions
    return answer(
        p.PowerView(
            job=path.job,
            part=path.part,
            rig=path.rig,
            rig_label=state.rig.label,
            build_label=state.build.label,
            version=state.version,
            mode=query.mode,
            empty=query.empty,
            temperature_c=conditions.temperature_c,
            hours_needed=conditions.untouched_h,
            rolling=conditions.rolling,
            takes_per_h=conditions.takes_per_h,
            restart_min=state.job.settings.restart_min,
            off_between=state.build.off_between,
            watts=chain.watts,
            nodes=[
                p.ChainNodeView(
                    unit=n.unit,
                    kind=n.kind,
                    title=n.title,
                    column=n.column,
                    draw_w=n.draw_w,
                    volts=n.volts,
                    window=n.window,
                    level=present.level_name(n.level),
                    draw_source=n.source,
                    dark=list(n.dark),
                    spares=list(spares_of(bench, n.unit)),
                )
                for n in chain.nodes
            ],
            edges=[
                p.ChainEdgeView(
                    source=e.feed.source,
                    sink=e.feed.sink,
                    outlet=e.outlet,
                    inlet=e.inlet,
                    plugs=e.plugs,
                    cable=e.feed.cable,
                    connects=e.feed.connects,
                    reason=e.feed.reason,
                    volts=e.volts,
                    drop_v=e.drop_v,
                    amps=e.amps,
                    watts=e.watts,
                    converted_v=e.converted_v,
                    level=present.level_name(e.level),
                )
                for e in chain.edges
            ],
            runs=run_downs(judged.stand),
            findings=present.finding_views(
                tuple(f for f in judged.findings if place_of(f.code) == "power" and f.level > Level.CLEAR)
            ),
        )
    )


@api.get(
    "/parts/<string:part>/rigs/<string:rig>/power/packs",
    responses={200: p.BricksView, **READ},
    operation_id="readBricks",
)
def read_bricks(path: s.RigPath, query: p.BricksQuery) -> Response:
    """Packs side by side for the slot of one that is on the rig, each tried."""
    return answer(p.BricksView(bricks=bricks_for(bench_of(state_of(path), path.part), query.pack)))


@api.post(
    "/parts/<string:part>/rigs/<string:rig>/power/meter",
    responses={200: p.MeterReadView, **READ},
    operation_id="readMeter",
)
def read_meter(path: s.RigPath, body: p.MeterRequest) -> Response:
    """What a unit of the rig really draws by the power meter, beside what is known of it; nothing is kept."""
    judged = bench_of(state_of(path), path.part).quick
    node = next((n for n in chain_of(judged).nodes if n.unit == body.unit), None)
    if node is None or node.volts is None or node.source is None:
        raise NotAllowed(f"{body.unit} draws nothing on this chain; choose a unit that is fed and on.")
    draw, source = judged.stand.assembly.catalogue.draw_of(body.unit)
    with services().devices.meter() as meter:
        meter.plug(node.volts, node.draw_w)
        name, flow = meter.name(), meter.read()
    return answer(
        p.MeterReadView(
            name=name,
            unit=body.unit,
            volts=flow.volts,
            amps=flow.amps,
            watts=flow.watts,
            known_w=draw.record_w if draw else None,
            source=source,
        )
    )
