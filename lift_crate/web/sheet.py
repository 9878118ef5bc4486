"""On paper: the build sheet of a rig, and its drawings."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from flask import Response
from flask_openapi3.models.tag import Tag
from pydantic import Field

from ..core.callouts import Level
from ..core.drawings.build_sheet import Step, build_sheet
from ..core.drawings.elevation import elevations
from ..core.rig.build import Build, Catalogue, UnitSetting
from ..core.rig.told import setting_text
from ..core.wording import signed
from ..formats.drawing import drawing_pdf, drawing_svg
from . import schema as s
from .answers import READ, answer, file_headers
from .described import PlaceApi
from .schema import (
    InputView,
    Strict,
    Told,
)
from .services import bench_of, state_of

__all__ = ["api", "settings_told"]

api = PlaceApi(
    "sheet",
    __name__,
    url_prefix="/api/jobs/<string:job>/parts/<string:part>/rigs/<string:rig>",
    abp_tags=[Tag(name="sheet", description="The build sheet and drawings")],
)


class DrawingQuery(Strict):
    """Scale of a drawing on paper, 1:scale."""

    view: Literal["side", "front", "top"] = "side"
    scale: Annotated[float, Field(ge=1, le=50)] = 4


class SheetView(Told):
    """A build sheet: to build, to strike, tools, what stands against it."""

    job_title: str
    rig_label: str
    number: int
    build_label: str
    position: str
    version: int
    mass_g: float
    settings: list[InputView]
    build: tuple[Step, ...]
    strike: tuple[Step, ...]
    tools: list[str]
    stops: list[str]
    watches: list[str]


@api.get("/sheet", responses={200: SheetView, **READ}, operation_id="readSheet")
def read_sheet(path: s.RigPath) -> Response:
    """The rig's build sheet: to build, to strike, tools, what stands against it."""
    state = state_of(path)
    judged = bench_of(state, path.part).whole
    sheet = build_sheet(judged)
    findings = judged.findings
    return answer(
        SheetView(
            job_title=state.job.title,
            rig_label=state.rig.label,
            number=state.rig.number,
            build_label=state.build.label,
            position=state.rig.position,
            version=state.version,
            mass_g=judged.stand.carried.total.mass_g,
            settings=settings_told(state.build, state.catalogue),
            build=sheet.build,
            strike=sheet.strike,
            tools=list(sheet.tools),
            stops=[f.text for f in findings if f.level is Level.STOP],
            watches=[f.text for f in findings if f.level is Level.WATCH],
        )
    )


def settings_told(build: Build, catalogue: Catalogue) -> list[s.InputView]:
    """How units are set in this build, for the sheet; how it is held and left, and the presets to go to."""

    def told(settings: Sequence[UnitSetting]) -> list[tuple[str, str]]:
        return [(x.unit, said) for x in settings if (said := setting_text(x, catalogue))]

    lines = [
        *told(build.settings),
        *([("Held", build.grip)] if build.grip else []),
        *([("Between takes", "switched off")] if build.off_between else []),
        *([("On the operator", ", ".join(build.on_operator))] if build.worn else []),
        *(
            (f"Preset '{preset.label}'", ", ".join(f"{unit} {said}" for unit, said in told(preset.settings)))
            for preset in build.presets
        ),
    ]
    return [s.InputView(name=name, value=value, source="job") for name, value in lines]


@api.get("/drawing.svg", responses=READ, operation_id="drawSvg")
def draw_svg(path: s.RigPath, query: DrawingQuery) -> Response:
    """One elevation at scale as SVG."""
    state = state_of(path)
    drawn = next(e for e in elevations(bench_of(state, path.part).stand) if e.view == query.view)
    content = drawing_svg(drawn, f"{state.job.title}, {state.rig.label} {state.build.label}", query.scale)
    return Response(content, mimetype="image/svg+xml", headers=_as_file(f"{state.build.id}-{query.view}.svg"))


@api.get("/drawing.pdf", responses=READ, operation_id="drawPdf")
def draw_pdf(path: s.RigPath, query: DrawingQuery) -> Response:
    """All elevations at scale on one sheet as PDF."""
    state = state_of(path)
    judged = bench_of(state, path.part).whole
    held = judged.stand.carried
    figures = (
        f"{state.rig.number} {state.rig.position}",
        (
            f"Mass {held.payload.mass_g:.0f} g ± {held.payload.mass_sd_g:.0f} g on the support, {held.total.mass_g:.0f}"
            " g in all"
        ),
        f"CG {signed(held.payload.cg_mm[0], 1)} mm from the film plane, up {signed(held.payload.cg_mm[2], 1)} mm",
        f"{judged.counts['stops']} Stops, {judged.counts['watches']} Watches; version {state.version}",
    )
    content = drawing_pdf(
        elevations(judged.stand), f"{state.job.title}: {state.rig.label}, {state.build.label}", query.scale, figures
    )
    return Response(content, mimetype="application/pdf", headers=_as_file(f"{state.build.id}.pdf"))


def _as_file(name: str) -> dict[str, str]:
    return file_headers(name, inline=True)
