"""The Bench: a rig in a part of the day, its edits, what goes on a port, remedies."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import replace
from typing import Annotated, Literal

from flask import Response
from flask_openapi3.models.tag import Tag
from pydantic import Field

from ..core.bench.bench import Bench
from ..core.bench.exchange import exchanges
from ..core.bench.leave_off import accessories
from ..core.bench.merge import merged, no_worse
from ..core.bench.questions import candidates, every_place_for, misfits, no_place, ways_to_fit
from ..core.bench.remedies import MOST_SHOWN, search_remedies
from ..core.bench.search import matches
from ..core.drawings.figures import Figures, figures_of
from ..core.drawings.space import Space, space_of
from ..core.errors import LiftCrateError
from ..core.job.job import NotInJob
from ..core.log.entries import book_of
from ..core.rig.build import Build
from ..core.rig.edits import Operation, apply_all, describe
from ..store.builds import BuildState, Judge, Planned
from ..store.errors import StaleEdit
from . import present
from . import schema as s
from .answers import READ, Responses, answer
from .described import PlaceApi
from .identity import current_actor
from .problems import lift_crate_response
from .schema import (
    AnyOperation,
    EffectView,
    RigPath,
    Strict,
    Told,
)
from .services import bench_of, bench_view, part_view_of, preview, services, state_of

__all__ = ["api"]

api = PlaceApi(
    "bench",
    __name__,
    url_prefix="/api/jobs/<string:job>/parts/<string:part>/rigs/<string:rig>",
    abp_tags=[Tag(name="bench", description="One rig in one part of the day")],
)
_SEARCH_S = 0.35
"""After so long a search tells what it has."""
_READ: Responses = {200: s.BenchView, **READ}
_WRITE: Responses = {**_READ, 409: s.ConflictProblem}


@api.get("", responses=_READ, operation_id="readBench")
def read_bench(path: s.RigPath) -> Response:
    """The rig as it is in this part of the day."""
    return answer(bench_view(state_of(path), path.part))


@api.post("/edits", responses=_WRITE, operation_id="editBench")
def edit_bench(path: s.RigPath, body: s.EditRequest) -> Response:
    """Change the build and save it; a stale edit is refused with the build as it is now."""
    operations = tuple(body.operations)

    def combine(base: Build, now: BuildState, operations: tuple[Operation, ...]) -> Build | None:
        together = merged(base, now.build, operations, now.catalogue)
        if together is None:
            return None
        mine = apply_all(base, operations, now.catalogue)
        found = [bench_of(replace(now, build=each), path.part).whole.findings for each in (together, now.build, mine)]
        return together if no_worse(*found) else None

    return _changed(
        path,
        lambda build, judge: services().builds.edit(
            path.job, build, body.version, operations, current_actor(), judge, combine
        ),
        operations,
    )


@api.post("/undo", responses=_WRITE, operation_id="undoBench")
def undo_bench(path: s.RigPath, body: s.StepRequest) -> Response:
    """Take the last edit back."""
    return _changed(
        path,
        lambda build, judge: services().builds.undo(
            path.job, build, body.version, current_actor(), judge, anyway=body.anyway
        ),
    )


@api.post("/redo", responses=_WRITE, operation_id="redoBench")
def redo_bench(path: s.RigPath, body: s.StepRequest) -> Response:
    """Do the last undone edit again."""
    return _changed(
        path,
        lambda build, judge: services().builds.redo(
            path.job, build, body.version, current_actor(), judge, anyway=body.anyway
        ),
    )


def _changed(
    path: s.RigPath, change: Callable[[Planned, Judge], BuildState], operations: tuple[Operation, ...] = ()
) -> Response:
    """The Bench after a change of the rig's build, or the refusal of a stale one with the build as it is now.

    The build is judged, drawn and written down before it is saved: what cannot be shown is not kept.
    """
    shown: list[s.BenchView] = []

    def judge(after: BuildState) -> None:
        shown[:] = [bench_view(after, path.part)]

    try:
        state = change(Planned(path.part, path.rig), judge)
    except StaleEdit as error:
        return lift_crate_response(error, _side_by_side(path, error, operations))
    stands = {"version": state.version, "can_undo": state.can_undo, "can_redo": state.can_redo}
    return answer(shown[0].model_copy(update={**stands, "day": part_view_of(state.job, state.catalogue, path.part)}))


def _side_by_side(path: s.RigPath, stale: StaleEdit, operations: tuple[Operation, ...]) -> dict[str, object]:
    """The build as it is now, and as it would be with an edit on top that was thought out on an earlier state."""
    state = state_of(path)
    told: dict[str, object] = {"current": bench_view(state, path.part), "since": stale.since}
    if not operations:
        return told
    told["mine"] = "; then ".join(describe(operation, state.catalogue) for operation in operations)
    try:
        return {**told, "on_top": preview(state, path.part, operations)}
    except LiftCrateError as error:
        return {**told, "why_not": str(error)}


@api.post("/preview", responses=_READ, operation_id="previewBench")
def preview_bench(path: s.RigPath, body: s.PreviewRequest) -> Response:
    """The rig as it would be; nothing is saved."""
    state = services().builds.read_planned(path.job, path.part, path.rig, steps=False)
    return answer(preview(state, path.part, tuple(body.operations)))


@api.get("/ports/<string:unit>/<string:port>", responses={**_READ, 200: s.CandidatesView}, operation_id="readPort")
def read_port(path: s.PortPath, query: s.PortQuery) -> Response:
    """What can go on a port now, each with its effect; what does not, when asked for."""
    bench = bench_of(state_of(path), path.part)
    port = bench.catalogue.model_of(path.unit).port(path.port, path.unit)
    return answer(
        s.CandidatesView(
            unit=path.unit,
            port=path.port,
            label=port.label,
            interface=bench.catalogue.interfaces[port.interface].label,
            candidates=[present.candidate_view(c, bench.catalogue) for c in candidates(bench, path.unit, path.port)],
            misfits=[present.misfit_view(m) for m in misfits(bench, path.unit, path.port)] if query.misfits else [],
        )
    )


@api.get("/remedies", responses={**_READ, 200: s.RemediesView}, operation_id="readRemedies")
def read_remedies(path: s.RigPath, query: s.RemedyQuery) -> Response:
    """Remedies for one finding, tried on the build and ranked; a long search is answered in steps."""
    bench = bench_of(state_of(path), path.part)
    finding = next((f for f in bench.whole.findings if f.key == query.finding), None)
    if finding is None:
        raise NotInJob("call-out on this rig", query.finding)
    ends = time.monotonic() + _SEARCH_S
    found = search_remedies(bench, finding, query.start, lambda: time.monotonic() >= ends)
    return answer(
        s.RemediesView(
            finding=query.finding,
            remedies=[present.remedy_view(r) for r in found.remedies],
            tried=found.done,
            of=found.of,
            most=MOST_SHOWN,
        )
    )


@api.get("/history", responses={**_READ, 200: s.HistoryView}, operation_id="readHistory")
def read_history(path: s.RigPath) -> Response:
    """The latest edits of the build, newest first."""
    store = services().builds
    build = store.planned(path.job, path.part, path.rig)
    entries = store.history(path.job, build)
    return answer(
        s.HistoryView(
            edits=[
                s.HistoryLine(version=e.version, kind=e.kind, title=e.title, actor=e.actor, at=e.at) for e in entries
            ],
            kept=_kept(path.job, build),
        )
    )


def _kept(job_id: str, build: str) -> list[s.KeptVersion]:
    """Versions of a build that somebody kept for a reason, the latest first."""
    job, _, _ = services().jobs.read(job_id)
    book = book_of((n.entry, n.actor) for n in services().log.of(job_id) if n.taken_back_by is None)
    return [
        s.KeptVersion(version=x.entry.number or 0, reason=x.entry.text, actor=x.by, at=x.entry.at.astimezone(job.clock))
        for x in reversed(book.of_kind("version"))
        if x.entry.what == build
    ]


@api.get("/history/<int:to>", responses=_READ, operation_id="readEarlier")
def read_earlier(path: s.EarlierPath) -> Response:
    """The rig as it was after an edit, with the gear as it is now."""
    state = services().builds.earlier(path.job, Planned(path.part, path.rig), path.to)
    return answer(bench_view(state, path.part, saved=False))


@api.post("/history/<int:to>", responses=_WRITE, operation_id="bringBuildBack")
def bring_build_back(path: s.EarlierPath, body: s.StepRequest) -> Response:
    """Make the rig again what it was after an edit."""
    return _changed(
        path,
        lambda build, judge: services().builds.bring_back(
            path.job, build, body.version, path.to, current_actor(), judge
        ),
    )


class SpaceView(Told):
    """A rig in space."""

    rig: str
    build: str
    version: int
    space: Space


@api.get("/space", responses={200: SpaceView, **READ}, operation_id="readSpace")
def read_space(path: s.RigPath) -> Response:
    """The rig as it stands in space: solids with their poses, ports, cables, axes, and what goes first."""
    state = state_of(path)
    return answer(
        SpaceView(
            rig=state.rig.id,
            build=state.build.id,
            version=state.version,
            space=space_of(bench_of(state, path.part).stand),
        )
    )


class AccessoryView(Told):
    """A thing that could be left off: what it costs, what it gives today, and what leaving it off does."""

    unit: str
    kind: str
    title: str
    takes_along: list[str]
    mass_g: float
    litres: float
    draw_w: float
    gives: str
    worth: bool | None
    operations: list[AnyOperation]
    effect: EffectView


class AccessoriesView(Told):
    """Everything that could be left off, what helps least today first."""

    accessories: list[AccessoryView]


@api.get("/accessories", responses={200: AccessoriesView, **READ}, operation_id="readAccessories")
def read_accessories(path: s.RigPath) -> Response:
    """What each thing costs and gives today; leaving it off is tried."""
    bench = bench_of(state_of(path), path.part)
    return answer(
        AccessoriesView(
            accessories=[
                AccessoryView(
                    unit=a.unit,
                    kind=a.kind,
                    title=a.title,
                    takes_along=list(a.takes_along),
                    mass_g=a.mass_g,
                    litres=a.litres,
                    draw_w=a.draw_w,
                    gives=a.gives,
                    worth=a.worth,
                    operations=list(a.operations),
                    effect=present.effect_view(a.effect),
                )
                for a in accessories(bench)
            ]
        )
    )


class UnitPlacePath(RigPath):
    """Names a unit that is to go on a rig."""

    unit: str


class FitQuery(Strict):
    """A unit, and the port it should go on."""

    unit: str
    onto: str
    port: str


class PlaceView(Told):
    """A port where a unit could go."""

    onto: str
    port: str
    label: str
    interface: str
    adapter: str | None
    operations: list[AnyOperation]
    effect: EffectView


class PlacesView(Told):
    """Where a unit can go on a rig, best first."""

    unit: str
    title: str
    places: list[PlaceView]


class WayView(Told):
    """Something that would make a unit fit."""

    title: str
    operations: list[AnyOperation]
    to_hire: list[str]
    effect: EffectView | None


class WaysView(Told):
    """What would make a unit fit on a port."""

    unit: str
    onto: str
    port: str
    ways: list[WayView]


def _places(bench: Bench, unit: str) -> list[PlaceView]:
    return [
        PlaceView(
            onto=p.onto,
            port=p.port_id,
            label=p.port.label if p.port else "on the belt",
            interface=bench.catalogue.interfaces[p.port.interface].label if p.port else "",
            adapter=present.adapter_text(p.adapter) if p.adapter else p.holder or None,
            operations=list(p.operations),
            effect=present.effect_view(p.effect),
        )
        for p in every_place_for(bench, unit)
    ]


class EveryFigureView(Told):
    """All figures of a rig in a part of the day."""

    job: str
    part: str
    rig: str
    build: str
    version: int
    figures: Figures


@api.get("/figures", responses={200: EveryFigureView, **READ}, operation_id="readFigures")
def read_figures(path: s.RigPath) -> Response:
    """Every figure of the rig as it is: poses, masses, packs, gimbal, cables, call-outs and clear checks."""
    state = state_of(path)
    return answer(
        EveryFigureView(
            job=path.job,
            part=path.part,
            rig=state.rig.id,
            build=state.build.id,
            version=state.version,
            figures=figures_of(bench_of(state, path.part).whole),
        )
    )


@api.get("/places/<string:unit>", responses={200: PlacesView, **READ}, operation_id="readPlaces")
def read_places(path: UnitPlacePath) -> Response:
    """Where a unit can go on this rig now."""
    bench = bench_of(state_of(path), path.part)
    model = bench.catalogue.model_of(path.unit)
    return answer(
        PlacesView(
            unit=path.unit,
            title=model.title,
            places=_places(bench, path.unit),
        )
    )


class WordsQuery(Strict):
    """A few letters of a unit, its kind or its name; the unit that is looked at, else the likeliest."""

    words: Annotated[str, Field(max_length=120)] = ""
    unit: str = ""


class MatchView(Told):
    """A free unit that the letters mean."""

    unit: str
    title: str
    kind: str
    owner: Literal["owned", "hired"]
    alike: int
    fits: bool


class AddsView(Told):
    """What could be added, the likeliest first, and where the one that is looked at goes, best place first."""

    matches: list[MatchView]
    unit: str
    places: list[PlaceView]
    no_place: str


class ExchangeView(Told):
    """A unit that could take the place of another, and what would come off."""

    unit: str
    title: str
    left: list[str]
    operations: list[AnyOperation]
    effect: EffectView


class ExchangesView(Told):
    """What could take the place of a unit, best first."""

    unit: str
    exchanges: list[ExchangeView]


@api.get("/adds", responses={200: AddsView, **READ}, operation_id="readAdds")
def read_adds(path: s.RigPath, query: WordsQuery) -> Response:
    """What a few letters mean, and the best places for it on this rig; without letters, what it wants next."""
    bench = bench_of(state_of(path), path.part)
    found = matches(bench, query.words)
    looked_at = query.unit or next((m.unit for m in found if m.fits), found[0].unit if found else "")
    places = _places(bench, looked_at) if looked_at else []
    return answer(
        AddsView(
            matches=[
                MatchView(
                    unit=m.unit, title=m.model.title, kind=m.model.kind, owner=m.owner, alike=m.alike, fits=m.fits
                )
                for m in found
            ],
            unit=looked_at,
            places=places,
            no_place=no_place(bench, looked_at) if looked_at and not places else "",
        )
    )


@api.get("/exchanges/<string:unit>", responses={200: ExchangesView, **READ}, operation_id="readExchanges")
def read_exchanges(path: UnitPlacePath, query: WordsQuery) -> Response:
    """What could take the place of a part or of the body, keeping all that still goes."""
    bench = bench_of(state_of(path), path.part)
    return answer(
        ExchangesView(
            unit=path.unit,
            exchanges=[
                ExchangeView(
                    unit=e.unit,
                    title=e.model.title,
                    left=list(e.left),
                    operations=list(e.operations),
                    effect=present.effect_view(e.effect),
                )
                for e in exchanges(bench, path.unit, query.words)
            ],
        )
    )


@api.get("/fit", responses={200: WaysView, **READ}, operation_id="readFit")
def read_fit(path: s.RigPath, query: FitQuery) -> Response:
    """What would make a unit fit on a port of this rig."""
    bench = bench_of(state_of(path), path.part)
    return answer(
        WaysView(
            unit=query.unit,
            onto=query.onto,
            port=query.port,
            ways=[
                WayView(
                    title=w.title,
                    operations=list(w.operations),
                    to_hire=list(w.to_hire),
                    effect=present.effect_view(w.effect) if w.effect else None,
                )
                for w in ways_to_fit(bench, query.unit, query.onto, query.port)
            ],
        )
    )
