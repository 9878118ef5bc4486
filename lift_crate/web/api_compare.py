"""Two builds side by side, and a rig's build sheet, drawings and the questions where to and what would make it fit."""

from __future__ import annotations

from flask import Response
from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.tag import Tag

from ..core.assembly import assemble
from ..core.balance import with_balance
from ..core.compare import compare
from ..core.elevation import elevations
from ..core.evaluate import Evaluation, evaluate
from ..core.findings import Finding, Level
from ..core.job import Job
from ..core.pairs import Pair, front_mount, gaps_deg, needed_angle_deg, pairs
from ..core.questions import places_for, ways_to_fit
from ..core.rig import Build, Catalogue, Target
from ..core.sheet import Step, build_sheet
from ..core.wording import signed
from ..formats.drawing import drawing_pdf, drawing_svg
from . import present
from . import schema as s
from . import schema_shelf as t
from .api_jobs import Responses, answer, file_headers
from .services import bench_of, services, state_of

__all__ = ["api"]

api = APIBlueprint("compare", __name__, url_prefix="/api/jobs/<string:job>", abp_tags=[Tag(name="compare", description="Side by side, on paper, and where to")])
_READ: Responses = {404: s.ProblemView, 422: s.ProblemView, 503: s.ProblemView}
_RIG = "/parts/<string:part>/rigs/<string:rig>"


@api.get("/compare", responses={200: t.CompareView, **_READ}, operation_id="compareBuilds")
def compare_builds(path: t.ComparePath, query: t.CompareQuery) -> Response:
    """Two builds of a job, each in a part of the day."""
    job, catalogue, _ = services().jobs.read(path.job)
    left, right = (_judged(job, catalogue, p, b) for p, b in ((query.left_part, query.left_build), (query.right_part, query.right_build)))
    found = compare(left, right)
    return answer(t.CompareView(
        left=_side(job, query.left_part, query.left_build, left), right=_side(job, query.right_part, query.right_build, right),
        figures=[
            t.CompareFigure(key=f.key, name=f.name, unit=f.unit, digits=f.digits, left=f.left, right=f.right, difference=f.difference)
            for f in found.figures
        ],
        parts=[t.ComparePart(kind=p.kind, title=p.title, left=list(p.left), right=list(p.right)) for p in found.parts],
        only_left=[_brief(f) for f in found.only_left], only_right=[_brief(f) for f in found.only_right], both=list(found.both),
        currency=job.settings.currency,
    ))  # fmt: skip


def _judged(job: Job, catalogue: Catalogue, part: str, build_id: str) -> Evaluation:
    rig, build = job.build(build_id)
    return with_balance(evaluate(build, catalogue, job.part(part).conditions, job.settings, target=rig.target))


def _side(job: Job, part: str, build_id: str, judged: Evaluation) -> t.CompareSide:
    rig, build = job.build(build_id)
    return t.CompareSide(
        part=part, part_label=job.part(part).label, rig=rig.id, rig_label=rig.label, number=rig.number, build=build.id,
        build_label=build.label, side=present.elevation_views(judged)[0],
    )  # fmt: skip


def _brief(finding: Finding) -> t.CompareFinding:
    return t.CompareFinding(level=present.level_name(finding.level), title=finding.call_out.title, text=finding.text)


@api.get(f"{_RIG}/lenses", responses={200: t.PairsView, **_READ}, operation_id="readLenses")
def read_lenses(path: s.RigPath, query: t.PairsQuery) -> Response:
    """Every lens of the pool on a body, for the rig's position: joins, coverage, angles, width, gaps."""
    state = state_of(path)
    catalogue, target = state.catalogue, state.rig.target
    model = catalogue.model(query.body) if query.body else catalogue.model_of(state.build.body)
    front = front_mount(assemble(state.build, catalogue)) if model.id == catalogue.model_of(state.build.body).id else None
    every = pairs(catalogue, [unit.id for unit in catalogue.shelf if unit.id not in state.taken], {model.id: front} if front else None)
    bodies = {p.body.id: p.body.title for p in every}
    own = [p for p in every if p.body.id == model.id]
    return answer(t.PairsView(
        body=model.id, body_title=model.title, bodies=[{"id": i, "title": title} for i, title in bodies.items()],
        distance_m=target.distance_mm / 1000 if target else None, width_m=target.width_mm / 1000 if target and target.width_mm else None,
        needed_deg=needed_angle_deg(target) if target else None, pairs=[_pair(p, target) for p in own], gaps_deg=gaps_deg(own),
    ))  # fmt: skip


def _pair(pair: Pair, target: Target | None) -> t.PairView:
    widths = pair.widths_mm(target.distance_mm) if target else None
    return t.PairView(
        lens=pair.lens.id, title=pair.lens.title, join=pair.join,
        through=present.adapter_text(pair.chain) if pair.chain and pair.chain.links else None,
        area=pair.area.label if pair.area else None, full=pair.full, focal_mm=pair.focal_mm,
        equivalent_mm=(pair.focal_mm[0] * pair.crop, pair.focal_mm[1] * pair.crop) if pair.crop else None,
        angles_deg=pair.angles_deg, widths_m=(widths[0] / 1000, widths[1] / 1000) if widths else None,
        fits=widths[0] >= target.width_mm if widths and target and target.width_mm else None,
        t_stop=pair.data.t_stop or pair.data.stop, t_known=pair.data.t_stop is not None, close_focus_mm=pair.data.close_focus_mm,
        mass_g=pair.lens.mass_g, units=list(pair.units), free=list(pair.free),
    )  # fmt: skip


@api.get(f"{_RIG}/sheet", responses={200: t.SheetView, **_READ}, operation_id="readSheet")
def read_sheet(path: s.RigPath) -> Response:
    """The rig's build sheet: to build, to strike, tools, what stands against it."""
    state = state_of(path)
    judged = bench_of(state, path.part).judged
    sheet = build_sheet(judged)
    findings = judged.findings
    return answer(t.SheetView(
        job_title=state.job.title, rig_label=state.rig.label, number=state.rig.number, build_label=state.build.label,
        position=state.rig.position, version=state.version, mass_g=judged.carried.total.mass_g, settings=_settings(state.build, state.catalogue),
        build=[_step(x) for x in sheet.build], strike=[_step(x) for x in sheet.strike], tools=list(sheet.tools),
        stops=[f.text for f in findings if f.level is Level.STOP], watches=[f.text for f in findings if f.level is Level.WATCH],
    ))  # fmt: skip


def _step(step: Step) -> t.StepView:
    return t.StepView(
        number=step.number, kind=step.kind, unit=step.unit, title=step.title, onto=step.onto, place=step.place, set_to=step.set_to,
        tool=step.tool, torque_nm=step.torque_nm, look_at=step.look_at, mind=list(step.mind),
    )  # fmt: skip


def _settings(build: Build, catalogue: Catalogue) -> list[s.InputView]:
    """How units are set in this build, for the sheet."""
    return [s.InputView(name=x.unit, value=said, source="job") for x in build.settings if (said := present.setting_text(x, catalogue))]


@api.get(f"{_RIG}/places/<string:unit>", responses={200: t.PlacesView, **_READ}, operation_id="readPlaces")
def read_places(path: t.UnitPlacePath) -> Response:
    """Where a unit can go on this rig now."""
    bench = bench_of(state_of(path), path.part)
    model = bench.catalogue.model_of(path.unit)
    return answer(t.PlacesView(unit=path.unit, title=model.title, places=[
        t.PlaceView(
            onto=p.onto, port=p.port.id, label=p.port.label, interface=bench.catalogue.interfaces[p.port.interface].label,
            adapter=present.adapter_text(p.adapter) if p.adapter else None, operations=list(p.operations), effect=present.effect_view(p.effect),
        )
        for p in places_for(bench, path.unit)
    ]))  # fmt: skip


@api.get(f"{_RIG}/fit", responses={200: t.WaysView, **_READ}, operation_id="readFit")
def read_fit(path: s.RigPath, query: t.FitQuery) -> Response:
    """What would make a unit fit on a port of this rig."""
    bench = bench_of(state_of(path), path.part)
    return answer(t.WaysView(unit=query.unit, onto=query.onto, port=query.port, ways=[
        t.WayView(title=w.title, operations=list(w.operations), to_hire=list(w.to_hire), effect=present.effect_view(w.effect) if w.effect else None)
        for w in ways_to_fit(bench, query.unit, query.onto, query.port)
    ]))  # fmt: skip


@api.get(f"{_RIG}/drawing.svg", responses=_READ, operation_id="drawSvg")
def draw_svg(path: s.RigPath, query: t.DrawingQuery) -> Response:
    """One elevation at scale as SVG."""
    state = state_of(path)
    drawn = next(e for e in elevations(bench_of(state, path.part).evaluation) if e.view == query.view)
    content = drawing_svg(drawn, f"{state.job.title}, {state.rig.label} {state.build.label}", query.scale)
    return Response(content, mimetype="image/svg+xml", headers=_as_file(f"{state.build.id}-{query.view}.svg"))


@api.get(f"{_RIG}/drawing.pdf", responses=_READ, operation_id="drawPdf")
def draw_pdf(path: s.RigPath, query: t.DrawingQuery) -> Response:
    """All elevations at scale on one sheet as PDF."""
    state = state_of(path)
    judged = bench_of(state, path.part).judged
    held = judged.carried
    figures = (
        f"{state.rig.number} {state.rig.position}",
        f"Mass {held.payload.mass_g:.0f} g ± {held.payload.mass_sd_g:.0f} g on the support, {held.total.mass_g:.0f} g in all",
        f"CG {signed(held.payload.cg_mm[0], 1)} mm from the film plane, up {signed(held.payload.cg_mm[2], 1)} mm",
        f"{judged.counts['stops']} Stops, {judged.counts['watches']} Watches; version {state.version}",
    )
    content = drawing_pdf(elevations(judged), f"{state.job.title}: {state.rig.label}, {state.build.label}", query.scale, figures)
    return Response(content, mimetype="application/pdf", headers=_as_file(f"{state.build.id}.pdf"))


def _as_file(name: str) -> dict[str, str]:
    return file_headers(name, inline=True)
