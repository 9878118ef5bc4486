"""The balance of a rig: readings, loads, zoom, clearance, step cards; what was set; what would level it."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.balance.checks import DIRECTIONS, needed_deg
from ..core.balance.ratings import hands_report
from ..core.balance.report import (
    AXES,
    FRICTION_NM,
    BalanceReport,
    balance_report,
    readings_of,
    torques_at,
    zoom_hours,
)
from ..core.balance.see_saw import see_saw_report
from ..core.balance.stale import TOUCHED, Change, changes_between, fingerprint, swapped_since, touched
from ..core.balance.steps import Order, cards, pre_flight, seen_at
from ..core.balance.walk import Answer, MadeSo, Walk, before_power, onward, walk
from ..core.bench.levellers import levellers
from ..core.bench.proposal import Observed, proposals
from ..core.bench.supports import supports_tried
from ..core.callouts import Level, place_of
from ..core.drawings.elevation import elevation_turned, elevations
from ..core.errors import NotAllowed
from ..core.quantities import finite
from ..core.stand import Stand
from ..core.support.clearance import side_gaps
from ..core.support.head import head_report
from ..core.support.load import moves_of
from ..core.support.rigging import mounted
from ..core.support.sticks import tip_over, tip_over_findings
from ..core.support.wind import weakest_in_wind
from ..core.verdict.judge import Quick
from ..store.balances import Balance
from ..store.builds import BuildState
from ..store.errors import StaleEdit
from . import present
from . import schema as s
from . import schema_balance as b
from .answers import READ, Responses, answer
from .described import PlaceApi
from .identity import current_actor
from .services import bench_of, services, state_of

__all__ = ["api"]

api = PlaceApi(
    "balance",
    __name__,
    url_prefix="/api/jobs/<string:job>/parts/<string:part>/rigs/<string:rig>/balance",
    abp_tags=[Tag(name="balance", description="A rig on what carries it")],
)
_READ: Responses = {200: b.BalanceView, **READ}


@api.get("", responses=_READ, operation_id="readBalance")
def read_balance(path: s.RigPath, query: b.BalanceQuery) -> Response:
    """The rig on its gimbal, or about its pad, pivot or palm."""
    return answer(_view(state_of(path), path.part, query))


@api.post("", responses={**_READ, 409: s.ProblemView}, operation_id="recordBalance")
def record_balance(path: s.RigPath, body: b.RecordRequest) -> Response:
    """Keep what was really set; refused when the rig has changed since it was looked at."""
    state = state_of(path)
    if state.version != body.version:
        raise StaleEdit(state.build.id, body.version, state.version, ())
    stand = bench_of(state, path.part).stand
    computed = readings_of(stand.carried)
    missing = [name for name in AXES if name not in body.readings]
    if not computed:
        raise NotAllowed(f"{state.rig.label} is on no gimbal that carries a camera; there are no scales to read.")
    if missing:
        raise NotAllowed(f"The readings of these slides are missing: {', '.join(missing)}.")
    readings = {str(name): value for name, value in body.readings.items()}
    services().balances.record(
        state,
        fingerprint(state.build, state.catalogue),
        computed,
        readings,
        body.note,
        current_actor(),
        MadeSo(
            order=body.order,
            flight=tuple(body.flight),
            checks=_walked(stand, body).checks,
            loads_nm={str(axis): nm for axis, nm in body.loads_nm.items()},
            left=body.left,
            screen=body.screen,
            gap_mm=body.gap_mm,
            calibrated=body.calibrated,
        ),
        _happened(state, body.at),
    )
    return answer(_view(state, path.part, b.BalanceQuery()))


@api.post("/<int:balance>", responses=_READ, operation_id="removeBalance")
def remove_balance(path: b.BalancePath, body: b.RemoveRequest) -> Response:
    """Put a balance away, or bring it back."""
    state = state_of(path)
    services().balances.remove(state.job.id, state.build.id, path.balance, removed=body.removed)
    return answer(_view(state, path.part, b.BalanceQuery()))


@api.post("/<int:balance>/touched", responses=_READ, operation_id="touchBalance")
def touch_balance(path: b.BalancePath, body: b.TouchRequest) -> Response:
    """Something that is in no build has changed since a balance was made."""
    state = state_of(path)
    touched((body.thing,))
    services().balances.touch(
        state.job.id, state.build.id, path.balance, body.thing, changed=body.changed, at=_happened(state, body.at)
    )
    return answer(_view(state, path.part, b.BalanceQuery()))


_LATER = timedelta(minutes=2)
"""From here on it is told that a note came in later than it was made."""


def _happened(state: BuildState, at: datetime | None) -> datetime | None:
    """When something happened that was noted: by the job's clock where no zone is said, and never after now."""
    return at and min(at if at.tzinfo else at.replace(tzinfo=state.job.clock), datetime.now(UTC))


def _walked(stand: Stand, body: b.WalkRequest) -> Walk:
    report = balance_report(stand)
    if report is None:
        raise NotAllowed("The rig is on no gimbal that carries a camera; there are no cards for it.")
    return walk(cards(report, body.order or None), [Answer(a.card, a.seen) for a in body.answers])


@api.get("/levellers", responses={**_READ, 200: b.LevellersView}, operation_id="readLevellers")
def read_levellers(path: s.RigPath) -> Response:
    """Counterweights and packs of the shelf, tried in every place."""
    bench = bench_of(state_of(path), path.part)
    return answer(
        b.LevellersView(
            front_nm=bench.stand.carried.front_nm,
            found=levellers(bench),
        )
    )


@api.get("/supports", responses={**_READ, 200: b.SupportsView}, operation_id="readSupports")
def read_supports(path: s.RigPath) -> Response:
    """The rig by hand and on every support that is free, tried."""
    return answer(b.SupportsView(supports=supports_tried(bench_of(state_of(path), path.part))))


@api.post("/gimbal", responses={**_READ, 200: b.GimbalReadView}, operation_id="readGimbal")
def read_gimbal(path: s.RigPath, body: b.GimbalRequest) -> Response:
    """The gimbal switched on and asked what its motors hold, beside what is computed for its slides as they are."""
    stand = bench_of(state_of(path), path.part).stand
    readings = {**readings_of(stand.carried), **{str(name): value for name, value in body.readings.items()}}
    computed = torques_at(stand, readings)
    if not _walked(stand, body).may_power:
        raise NotAllowed(
            "Not switched on: every check has to hold first, the last with all locks released and power off."
        )
    with services().devices.gimbal() as gimbal:
        gimbal.hang(computed)
        gimbal.switch(on=True)
        if body.calibrate:
            gimbal.calibrate()
        name, loads, calibrated = gimbal.name(), gimbal.loads_nm(), gimbal.calibrated()
    return answer(
        b.GimbalReadView(
            name=name,
            calibrated=calibrated,
            seen=seen_at(stand, readings),
            loads=[
                b.ReadLoadView(axis=axis, computed_nm=own, read_nm=read, apart=abs(read - own) > FRICTION_NM)
                for axis, own, read in zip(("tilt", "roll", "pan"), computed, loads, strict=True)
            ],
        )
    )


def _view(state: BuildState, part: str, query: b.BalanceQuery) -> b.BalanceView:
    bench = bench_of(state, part)
    judged, stand = bench.quick, bench.stand
    held = stand.carried
    report = balance_report(stand)
    kept = services().balances.of(state.job.id, state.build.id) if report else []
    tipping = tip_over_findings(stand.assembly, held, stand.settings, stand.conditions)
    own = (
        *(f for f in judged.findings if place_of(f.code) == "balance"),
        *(report.findings if report else ()),
        *tipping,
    )
    loud = tuple(sorted((f for f in own if f.level > Level.CLEAR), key=lambda f: (-f.level, f.code)))
    return b.BalanceView(
        job=state.job.id,
        part=part,
        rig=state.rig.id,
        rig_label=state.rig.label,
        build_label=state.build.label,
        version=state.version,
        kind=held.kind,
        support=held.support,
        payload_g=held.payload.mass_g,
        payload_sd_g=held.payload.mass_sd_g,
        payload_limit_g=present.payload_limit_g(stand),
        side=elevations(stand)[0],
        findings=present.finding_views(loud),
        gimbal=_gimbal(state, part, judged, report, kept, query) if report else None,
        see_saw=None if report or held.kind == "mount" else see_saw_report(stand),
        head=head_report(stand.assembly, held, stand.settings),
        stand=tip_over(stand.assembly, held, stand.settings, stand.conditions),
        mount=mounted(stand.assembly, held, stand.settings, state.job.target_of(state.rig, part)),
        hands=hands_report(stand),
    )


def _gimbal(
    state: BuildState, part: str, judged: Quick, report: BalanceReport, kept: list[Balance], query: b.BalanceQuery
) -> b.GimbalBalance:
    usual: Order = "tilt first" if report.axis_locks else "roll first"
    chosen: Order = query.order or usual
    stand = judged.stand
    wide, long = (
        given if given is not None else usually
        for given, usually in zip((query.wide, query.long), stand.settings.zoom_ends, strict=True)
    )
    by_school = zoom_hours(stand, (wide, long))
    moves = moves_of(stand.target, stand.settings)
    mark, clock = fingerprint(state.build, state.catalogue), state.job.part(part).starts.tzinfo
    last = next((record for record in kept if not record.removed), None)
    changes = _changes_since(state, stand, last, mark) if last else ()
    every = services().balances.of_job(state.job.id) if kept else []
    learnt = tuple(
        p
        for p in proposals([Observed(x.build, x.set_to) for x in every], state.catalogue, stand.settings)
        if p.unit in stand.assembly.row
    )
    dealt = cards(report, chosen)
    return b.GimbalBalance(
        slides=report.slides,
        loads=[
            b.MotorLoadView(
                axis=x.axis,
                torque_nm=x.torque_nm,
                rated_nm=x.rated_nm,
                share=x.share,
                pull_nm=x.pull_nm,
                by_move=dict(x.by_move),
                wind_nm=w.torque_nm,
                wind_share=w.share,
                gives_up_m_s=finite(w.gives_up_m_s),
                level=_load_level(judged, x.axis),
            )
            for x, w in zip(report.loads, report.wind, strict=True)
        ],
        gives_up_first=weakest_in_wind(report.wind),
        zoom=(
            b.ZoomView(
                unit=report.zoom_unit,
                set_mm=report.zoom.as_set.focal_mm or 0.0,
                helps=report.zoom.helps,
                wide=wide,
                long=long,
                schools=[
                    b.SchoolView(name=x.name, focal_mm=x.focal_mm, worst_nm=x.worst_nm, hours=by_school.get(x.name))
                    for x in report.zoom.schools
                ],
                loads=[(x.focal_mm, x.torque_nm) for x in report.zoom.loads],
            )
            if report.zoom and report.zoom_unit
            else None
        ),
        reaches=[
            b.ReachView(
                axis=x.axis,
                words=DIRECTIONS[x.axis],
                low_deg=x.low_deg,
                high_deg=x.high_deg,
                needed=needed_deg(moves, x.axis),
                low_hits=list(x.low_hits or ()),
                high_hits=list(x.high_hits or ()),
                at_low=elevation_turned(stand, x.axis, x.low_deg) if x.low_hits else None,
                at_high=elevation_turned(stand, x.axis, x.high_deg) if x.high_hits else None,
            )
            for x in report.reaches
        ],
        moves=list(moves),
        hours=report.hours,
        hours_balanced=report.hours_balanced,
        hours_claimed=report.hours_claimed,
        hours_measured=report.hours_measured,
        order=chosen,
        usual_order=usual,
        pre_flight=list(pre_flight(stand.assembly, report)),
        cards=dealt,
        onward=onward(dealt),
        before_power=before_power(dealt),
        gaps=side_gaps(stand.assembly, stand.carried),
        touchable=list(TOUCHED),
        state="never" if last is None else "stale" if changes or last.fingerprint != mark else "good",
        changes=[b.ChangeView(text=c.text, moved_mm=dict(c.moved_mm), axes=list(c.axes)) for c in changes],
        records=[
            b.RecordView(
                id=x.id,
                at=x.at.astimezone(clock),
                noted_at=x.noted_at.astimezone(clock) if x.noted_at - x.at > _LATER else None,
                actor=x.actor,
                computed=x.computed,
                set_to=x.set_to,
                note=x.note,
                removed=x.removed,
                made=x.made,
                touched=x.touched,
                touched_at=x.touched_at,
            )
            for x in kept
        ],
        proposals=learnt,
    )


def _changes_since(state: BuildState, stand: Stand, last: Balance, mark: str) -> tuple[Change, ...]:
    """In the build, by the swaps that were made, and as somebody noted it."""
    swaps = [
        (noted.made.pack_out, noted.made.pack_in)
        for noted in services().swaps.of(state.job.id)
        if noted.made.pack_out and noted.made.at > last.at
    ]
    return (
        *(changes_between(last.build, stand) if last.fingerprint != mark else ()),
        *swapped_since(stand, swaps),
        *touched(last.touched),
    )


def _load_level(judged: Quick, axis: str) -> s.LevelName:
    finding = next((f for f in judged.findings if f.code == "gimbal.motor" and f.about.port == axis), None)
    return present.level_name(finding.level) if finding else "clear"
