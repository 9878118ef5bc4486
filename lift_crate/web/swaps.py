"""The day's swaps planned, carded, noted and exported; a charger read."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime

from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.errors import NotAllowed
from ..core.job.job import Job, NotInJob
from ..core.swaps.card import Swap, carried_out, swaps_of
from ..core.swaps.day import DayProblem
from ..core.swaps.what_if import Made, PlannedDay, WhatIf, day_asked, day_of, places_of, verdict_of
from ..formats.swap_list import swaps_csv, swaps_ics
from ..store.plans import PlanState
from ..store.swaps import NotedSwap
from . import present
from . import schema as s
from . import schema_power as p
from .answers import READ, Responses, answer, file_headers
from .described import PlaceApi
from .identity import current_actor, current_asker
from .services import services

__all__ = ["api"]

api = PlaceApi(
    "swaps",
    __name__,
    url_prefix="/api/jobs/<string:job>",
    abp_tags=[Tag(name="swaps", description="The day's swaps")],
)
_WRITE: Responses = {**READ, 409: s.ProblemView}
_WAIT_S, _LOOK_S = 0.8, 0.15


@api.get("/charger", responses={200: p.ChargerReadView, **READ}, operation_id="readCharger")
def read_charger(path: s.JobPath) -> Response:
    """What the bays of the charger do now."""
    services().jobs.read(path.job)
    with services().devices.charger() as charger:
        name, bays = charger.name(), charger.bays()
    return answer(
        p.ChargerReadView(
            name=name,
            bays=tuple(bays),
            watts=sum(b.watts for b in bays),
        )
    )


@api.get("/swaps", responses={200: p.SwapsView, **READ}, operation_id="readSwaps")
def read_swaps(path: s.JobPath, query: p.SwapsQuery) -> Response:
    """The swaps of the day of a part, as far as they are planned; asked again while it works."""
    return answer(_view(path.job, query))


@api.post("/swaps/made", responses={200: p.SwapsView, **_WRITE}, operation_id="noteSwap")
def note_swap(path: s.JobPath, query: p.SwapsQuery, body: p.MadeRequest) -> Response:
    """A swap was made; the plan goes on from it."""
    job, catalogue, _ = services().jobs.read(path.job)
    day = day_of(job, query.part)
    if body.slot not in places_of(job, catalogue, query.part):
        raise NotInJob("place for a pack on this day", body.slot)
    for pack in filter(None, (body.pack_in, body.pack_out)):
        if catalogue.unit(pack).id and catalogue.model_of(pack).pack is None:
            raise NotAllowed(f"{pack} has no cells in it; name the pack by its label.")
    if body.pack_in == body.pack_out:
        raise NotAllowed(f"{body.pack_in} went out and in; name the pack that went in.")
    if body.at.tzinfo is None:
        raise NotAllowed("Give the time of the swap with a time zone, as in 2027-03-20T19:30:00+00:00.")
    if not day[0].starts <= body.at <= day[-1].ends:
        raise NotAllowed(
            f"{body.at.astimezone(job.clock):%d %b %H:%M} is not on this day; it goes from {day[0].starts:%d %b %H:%M}"
            f" to {day[-1].ends:%H:%M}."
        )
    made = Made(
        slot=body.slot,
        at=body.at,
        pack_in=body.pack_in,
        pack_out=body.pack_out,
        charge_left=body.charge_left,
        charge_in=body.charge_in,
    )
    services().swaps.note(job.id, made, current_actor())
    return answer(_view(path.job, query))


@api.delete("/swaps/made/<int:swap>", responses={200: p.SwapsView, **_WRITE}, operation_id="dropSwap")
def drop_swap(path: p.MadePath, query: p.SwapsQuery) -> Response:
    """A swap was noted by mistake; the plan goes on without it."""
    services().swaps.drop(path.job, path.swap, current_actor())
    return answer(_view(path.job, query))


@api.get("/swaps.ics", responses=READ, operation_id="exportSwapsCalendar")
def export_calendar(path: s.JobPath, query: p.SwapsQuery) -> Response:
    """The day's swaps as iCalendar."""
    day, job = _finished(path.job, query)
    content = swaps_ics(path.job, job.title, _cards(day), datetime.now(UTC))
    return Response(content, mimetype="text/calendar", headers=file_headers(f"{path.job}-{query.part}-swaps.ics"))


@api.get("/swaps.csv", responses=READ, operation_id="exportSwapsCsv")
def export_csv(path: s.JobPath, query: p.SwapsQuery) -> Response:
    """The day's swaps as CSV."""
    day, _ = _finished(path.job, query)
    return Response(
        swaps_csv(_cards(day)), mimetype="text/csv", headers=file_headers(f"{path.job}-{query.part}-swaps.csv")
    )


def _cards(day: PlannedDay | None) -> tuple[Swap, ...]:
    return swaps_of(day.problem, day.plan) if day and day.plan else ()


def _finished(job_id: str, query: p.SwapsQuery) -> tuple[PlannedDay, Job]:
    """A plan that is done; raises NotAllowed while it is not: it is planned by a worker and not waited for here."""
    state, job, _ = _asked(job_id, query)
    if state.failed:
        raise NotAllowed(f"The day could not be planned: {state.failed}.")
    if not state.done or state.day is None:
        raise NotAllowed("The day is still being planned; export it when it is done.")
    return state.day, job


def _asked(job_id: str, query: p.SwapsQuery) -> tuple[PlanState, Job, list[NotedSwap]]:
    """A plan as far as it has come, asked for if nobody did."""
    with services().jobs.reading():
        job, catalogue, _ = services().jobs.read(job_id)
        made = services().swaps.of(job_id)
    dead = tuple(sorted(unit for unit in (word.strip() for word in query.dead.split(",")) if unit))
    for unit in dead:
        catalogue.unit(unit)
    if query.late_part:
        job.part(query.late_part)
    what = WhatIf(
        dead=dead,
        colder_c=query.colder,
        mains=query.mains,
        late_min=query.late,
        late_part=query.late_part if query.late else "",
        monitors=query.monitors,
    )
    plan = services().plans.ask(
        job_id, day_asked(job, query.part, what), current_asker(), "day" if what == WhatIf() else "what if"
    )
    state = services().plans.state(plan)
    return replace(state, answer=state.day.in_zone(job.clock) if state.day else None), job, made


def _awaited(job_id: str, query: p.SwapsQuery) -> tuple[PlanState, Job, list[NotedSwap]]:
    """The same, waiting a moment for there to be something to show."""
    ends = time.monotonic() + _WAIT_S
    while True:
        found = _asked(job_id, query)
        if found[0].done or time.monotonic() > ends:
            return found
        time.sleep(_LOOK_S)
        if found[0].day and found[0].day.plan:
            return _asked(job_id, query)


def _view(job_id: str, query: p.SwapsQuery) -> p.SwapsView:
    state, job, made = _awaited(job_id, query)
    if state.failed:
        raise NotAllowed(f"The day could not be planned: {state.failed}.")
    return _shown(job, query.part, state.day, made, working=not state.done) if state.day else _begun(job, query.part)


def _begun(job: Job, part: str) -> p.SwapsView:
    """A day that a worker has not begun yet: its parts, and nothing else."""
    day = day_of(job, part)
    start = day[0].starts

    def minute(at: datetime) -> int:
        return round((at - start).total_seconds() / 60)

    told = verdict_of(None)
    return p.SwapsView(
        job=job.id,
        part=part,
        title=job.title,
        starts=start,
        minutes=minute(day[-1].ends),
        working=True,
        proven=False,
        works=False,
        verdict=told.text,
        verdict_level=present.level_name(told.level),
        packs=0,
        least=0,
        owned=0,
        swaps=0,
        parts=[p.DayPartView(id=x.id, label=x.label, starts=minute(x.starts), ends=minute(x.ends)) for x in day],
        quiet=[],
        slots=[],
        uses=[],
        charges=[],
        chargers=[],
        cards=(),
        made=[],
        cures=(),
        findings=[],
        people=[],
        families=(),
        warnings=[],
    )


def _shown(job: Job, part: str, day: PlannedDay, made: Sequence[NotedSwap], *, working: bool) -> p.SwapsView:
    problem, plan = day.problem, day.plan
    by_id = {s.id: s for s in problem.slots}
    told, cards = verdict_of(day), _cards(day)
    return p.SwapsView(
        job=job.id,
        part=part,
        title=job.title,
        starts=problem.origin,
        minutes=problem.horizon * problem.step_min,
        working=working,
        proven=bool(plan and plan.proven),
        works=bool(plan and plan.works),
        verdict=told.text,
        verdict_level=present.level_name(told.level),
        packs=plan.packs if plan else 0,
        least=plan.least if plan else 0,
        owned=sum(len(c.units) for c in problem.classes),
        swaps=len(plan.uses) - len(problem.slots) if plan else 0,
        parts=[
            p.DayPartView(id=i, label=label, starts=a * problem.step_min, ends=b * problem.step_min)
            for i, label, a, b in problem.parts
        ],
        quiet=[
            p.QuietView(starts=a * problem.step_min, ends=b * problem.step_min, label=label)
            for a, b, label in problem.quiet
        ],
        slots=[
            p.SlotView(
                id=x.id,
                label=x.label,
                rig=x.rig,
                on=[(a * problem.step_min, b * problem.step_min) for a, b in x.on],
                built_in=x.built_in,
            )
            for x in problem.slots
        ],
        uses=[
            p.UseView(
                slot=u.slot,
                pack=u.pack,
                model=problem.pack_class(u.pack_class).model,
                starts=u.starts * problem.step_min,
                ends=u.ends * problem.step_min,
                left=by_id[u.slot].left(u.pack_class, u.used),
                bring=u.brings,
            )
            for u in (plan.uses if plan else ())
        ],
        charges=[
            p.ChargeView(
                pack=c.pack,
                charger=c.charger,
                bay=c.bay,
                starts=c.starts * problem.step_min,
                ends=c.ends * problem.step_min,
            )
            for c in (plan.charges if plan else ())
        ],
        chargers=[
            p.ChargerView(
                units=list(g.units),
                at_once=g.at_once,
                open=[(a * problem.step_min, b * problem.step_min) for a, b in g.windows],
            )
            for g in problem.chargers
        ],
        cards=cards,
        made=[
            p.MadeView(
                id=m.id,
                slot=m.made.slot,
                at=m.made.at.astimezone(problem.origin.tzinfo),
                minute=_minute(problem, m.made.at),
                pack_in=m.made.pack_in,
                pack_out=m.made.pack_out,
                charge_left=m.made.charge_left,
                charge_in=m.made.charge_in,
                actor=m.actor,
                card=carried_out(cards, m.made.slot, _minute(problem, m.made.at)),
            )
            for m in made
            if m.made.slot in by_id and problem.when(0) <= m.made.at <= problem.when(problem.horizon)
        ],
        cures=day.cures,
        findings=present.finding_views(day.findings),
        people=list(problem.people),
        families=day.families,
        warnings=list(problem.warnings),
    )


def _minute(problem: DayProblem, at: datetime) -> int:
    return round((at - problem.origin).total_seconds() / 60)
