"""A job to take along without a connection: one page of one person or of everybody."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from datetime import datetime

from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.balance.report import balance_report
from ..core.balance.steps import cards, pre_flight
from ..core.callouts import Level
from ..core.day.laid_out import LaidOut, lay_out
from ..core.day.run_sheet import RunSheet
from ..core.drawings.build_sheet import build_sheet
from ..core.drawings.elevation import elevations
from ..core.job.job import Assignment, Job, NotInJob
from ..core.rig.build import Catalogue
from ..core.safety.lines import safety_sheets
from ..core.swaps.card import Swap, swaps_of
from ..core.swaps.day import days_of
from ..core.swaps.what_if import PlannedDay, WhatIf, day_asked
from ..formats.along import AlongCase, AlongChange, AlongDay, AlongRig, AlongSafety, AlongTask, along_html
from . import present
from . import schema as s
from .answers import READ, file_headers
from .day import read_with_others, stands_of
from .described import PlaceApi
from .pack import known_cases
from .run import RunQuery, sheets_of
from .services import services
from .sheet import settings_told

__all__ = ["api"]

api = PlaceApi(
    "along",
    __name__,
    url_prefix="/api/jobs/<string:job>",
    abp_tags=[Tag(name="along", description="Without a connection")],
)
_KINDS = {"mic up": "microphones on", "mic off": "microphones off", "swap": "pack"}
_LEVELS = {Level.STOP: "Stop", Level.WATCH: "Watch"}


class AlongQuery(s.Strict):
    """Whose page; empty: everybody's."""

    who: str = ""


@api.get("/along.html", responses=READ, operation_id="exportAlong")
def export_along(path: s.JobPath, query: AlongQuery) -> Response:
    """The run sheet, rigs, changes, swaps and cards of a person as one page that needs nothing else."""
    job, sheets = sheets_of(path.job, RunQuery())
    with services().jobs.reading():
        job, catalogue, out = read_with_others(path.job)
        day = lay_out(job, catalogue, stands_of(job, catalogue), out)
    people = {*(p for sheet in sheets for p in sheet.people), *job.people}
    if query.who and query.who not in people:
        raise NotInJob("person called", query.who)
    mine = [a for a in job.plan if query.who in ("", a.operator, a.spotter)]
    swaps, planned = _swaps(job)
    page = along_html(
        title=job.title,
        who=query.who,
        made=datetime.now(job.clock),
        parts=job.parts,
        days=tuple(_days(job, sheets, query.who)),
        rigs=tuple(_rigs(job, catalogue, day, mine)),
        changes=tuple(
            AlongChange(
                label=f"{b.rig.label} {b.was.label} to {b.now.label}",
                before=b.before.label,
                after=b.after.label,
                change=b.change,
            )
            for b in day.table.between
            if b.change.tasks and any((a.rig, a.part) == (b.rig.id, b.after.id) for a in mine)
        ),
        swaps=[swap for swap in swaps if query.who in ("", swap.person)],
        not_planned=not planned,
        cases=tuple(_cases(job, query.who, {a.rig for a in mine})),
        safety=tuple(
            AlongSafety(
                label=sheet.rig.label,
                lines=tuple((_LEVELS.get(x.finding.level, ""), x.finding.text, x.sign) for x in sheet.lines),
            )
            for sheet in safety_sheets(job, day.table)
            if sheet.lines and any(a.rig == sheet.rig.id for a in mine)
        ),
        lift_kg=job.settings.lift_kg,
    )
    name = f"{path.job}{'-' + query.who if query.who else ''}.html"
    # Handed on as a file: a page of our own address would run under it.
    return Response(page, mimetype="text/html", headers=file_headers(name))


def _cases(job: Job, who: str, rigs: Collection[str]) -> Iterator[AlongCase]:
    """Cases that a person carries, and those that stay by a camera of his."""
    labels = {rig.id: rig.label for rig in job.rigs}
    for case, things in known_cases(job.id):
        along = case.box.along
        if who in ("", along.carried_by) or along.stays_with in rigs:
            yield AlongCase(
                unit=case.box.unit,
                kg=case.mass_g / 1000,
                carried_by=along.carried_by,
                stays_by=labels.get(along.stays_with, ""),
                things=things,
            )


def _days(job: Job, sheets: tuple[RunSheet, ...], who: str) -> Iterator[AlongDay]:
    labels = {rig.id: rig.label for rig in job.rigs}
    for sheet in sheets:
        for person in (p for p in sheet.people if who in ("", p)):
            tasks = [
                AlongTask(
                    starts=t.starts,
                    what=_KINDS.get(t.kind, t.kind),
                    where=t.voice or labels.get(t.rig, ""),
                    told=t.told,
                    until=t.ends or t.starts,
                )
                for t in sheet.tasks
                if person in t.who and t.starts
            ] + [
                AlongTask(
                    starts=b.starts,
                    what="watches the way" if job.cell(b.part, b.rig).spotter == person else "works",
                    where=labels[b.rig],
                    told="",
                    until=b.ends,
                )
                for b in sheet.busy
                if b.who == person
            ]
            if tasks:
                ordered = tuple(sorted(tasks, key=lambda t: (t.starts, t.what)))
                yield AlongDay(who=person, call=sheet.call, tasks=ordered)


def _rigs(job: Job, catalogue: Catalogue, day: LaidOut, mine: list[Assignment]) -> Iterator[AlongRig]:
    """Each build once, judged in the part of the day where most stands against it."""
    for rig in job.rigs:
        for build in rig.builds:
            at = [a for a in mine if (a.rig, a.build) == (rig.id, build.id)]
            if not at:
                continue
            parts = tuple(p for p in job.parts if any(a.part == p.id for a in at))
            judged = max(
                (
                    services().verdicts.of(build, catalogue, p.conditions, job.settings, job.target_of(rig, p.id))
                    for p in parts
                ),
                key=lambda each: (each.counts["stops"], each.counts["watches"]),
            )
            stand = judged.stand
            report = balance_report(stand)
            yield AlongRig(
                rig=rig,
                build=build.label,
                parts=parts,
                operators=tuple(
                    dict.fromkeys(
                        who for a in at for who in (a.operator, a.spotter and f"{a.spotter} as spotter") if who
                    )
                ),
                side=next(e for e in elevations(stand) if e.view == "side"),
                mass_g=stand.carried.total.mass_g,
                hours=present.hours_of(stand),
                sheet=build_sheet(judged),
                settings=tuple((x.name, x.value) for x in settings_told(build, catalogue)),
                stops=tuple(f.text for f in judged.findings if f.level is Level.STOP),
                watches=tuple(f.text for f in judged.findings if f.level is Level.WATCH),
                pre_flight=pre_flight(stand.assembly, report) if report else (),
                cards=cards(report) if report else (),
                media=tuple(x for x in day.media.lines if x.rig.id == rig.id and any(a.part == x.part.id for a in at)),
            )


def _swaps(job: Job) -> tuple[list[Swap], bool]:
    """Swaps of all days as far as they are planned, and whether they all are."""
    found, whole = list[Swap](), True
    for parts in days_of(job):
        planned = services().plans.settled(job.id, day_asked(job, parts[0].id, WhatIf()))
        if isinstance(planned, PlannedDay) and planned.plan:
            found += swaps_of(planned.problem, planned.plan)
        else:
            whole = False
    return found, whole
