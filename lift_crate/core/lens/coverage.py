"""Does this lens do the job from there: width, nearness, sharpness, light, corners, and the gear that turns it.

Formulas: ``framing``; what is asked for is the rig's ``Target`` and the part of the day's light.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..callouts import About, Finding, Input, Level, Working
from ..gear.optical import FilterData, LensData, RecordedArea
from ..rig.assembly import Assembly
from ..rig.build import Conditions, Target, UnitSetting
from ..settings import Settings
from .framing import (
    angle_deg,
    blur_mm,
    clear_radius_mm,
    crop_factor,
    depth_of_field_mm,
    from_lens_mm,
    nd_stops,
    width_at_mm,
)
from .mount import area_in_use, lens_chain

__all__ = ["View", "exposure_of", "filters_on", "light_of", "over_stops", "view_of", "viewing_findings"]

_EYE_TO_EAR_MM = 100.0
"""How far the ears are behind the eyes of a face that looks at the lens."""
_UNEVEN_DEG = 55.0
"""Wider than this a polariser shows its direction in a clear sky; rule of thumb."""
_SMALLEST_STOP = 11.0
"""Beyond this an aperture is no remedy: diffraction softens the picture."""


@dataclass(frozen=True, slots=True)
class View:
    """A lens on a body as it is set: focal length and aperture through all adapters, and the recorded area."""

    body: str
    lens: str
    data: LensData
    area: RecordedArea
    factor: float
    focal_mm: float
    stop: float
    """f-stop after reducers."""
    t_stop: float
    t_known: bool

    @property
    def widest_mm(self) -> float:
        """Shortest focal length, through the adapters."""
        return self.data.focal_mm[0] * self.factor

    @property
    def longest_mm(self) -> float:
        """Longest focal length, through the adapters."""
        return self.data.focal_mm[1] * self.factor

    @property
    def crop(self) -> float:
        """Crop factor of the recorded area."""
        return crop_factor(self.area.diagonal_mm)

    @property
    def angle_deg(self) -> float:
        """Angle of view across, as set."""
        return angle_deg(self.area.width_mm, self.focal_mm)


def view_of(assembly: Assembly) -> View | None:
    """The lens on the body as it is set; None without one."""
    body = assembly.build.body
    area = area_in_use(assembly, body)
    chain = lens_chain(assembly)
    data = assembly.catalogue.model_of(chain[-1]).lens if chain else None
    if area is None or data is None:
        return None
    factor = 1.0
    for unit in chain[:-1]:
        adapter = assembly.catalogue.model_of(unit).adapter
        factor *= adapter.factor if adapter else 1.0
    setting = assembly.build.setting_of(chain[-1])
    focal = min(max(setting.focal_mm or data.focal_mm[0], data.focal_mm[0]), data.focal_mm[1])
    stop = max(setting.stop or 0.0, data.widest_stop_at(focal))
    t_stop = (data.t_stop or data.stop) * stop / data.stop
    return View(
        body, chain[-1], data, area, factor, focal * factor, stop * factor, t_stop * factor, data.t_stop is not None
    )


def filters_on(assembly: Assembly, lens: str) -> list[tuple[str, FilterData]]:
    """Filters in front of a lens, in screw threads, on rings or in a matte box."""
    found = []
    for unit in assembly.layout.subtree(lens):
        data = assembly.catalogue.model_of(unit).filter
        if data:
            found.append((unit, data))
    return found


def viewing_findings(
    assembly: Assembly, view: View | None, target: Target | None, conditions: Conditions, settings: Settings
) -> Iterator[Finding]:
    """All findings on what the lens shows and needs."""
    if view is None:
        return
    if target:
        yield from _width(view, target)
        yield from _near(view, target, settings)
        yield from _depth(view, target, settings)
    light = light_of(target, conditions)
    if light is not None:
        yield _light(assembly, view, light, settings)
    yield from _corners(assembly, view)
    yield from _polarisers(assembly, view)


def _polarisers(assembly: Assembly, view: View) -> Iterator[Finding]:
    """A polariser takes as much as the direction lets it: unevenly on a wide lens, and against a second one."""
    on = filters_on(assembly, view.lens)
    for unit, data in on:
        if data.kind != "polariser":
            continue
        crossed = [other for other, its in on if other != unit and its.kind in ("variable nd", "polariser")]
        if crossed:
            yield Finding(
                code="filter.polariser",
                level=Level.WATCH,
                about=About(units=(unit, *crossed)),
                text=(
                    f"{unit} stands with {', '.join(crossed)}, which polarises too: turned against each other they take"
                    " more than their stops, and colour."
                ),
            )
        elif view.angle_deg > _UNEVEN_DEG:
            yield Finding(
                code="filter.polariser",
                level=Level.NOTE,
                about=About(units=(unit, view.lens)),
                text=(
                    f"{view.lens} sees {view.angle_deg:.0f}° across: with {unit} a clear sky is darker on one side, and"
                    " its effect changes as the camera pans."
                ),
                value=view.angle_deg,
                limit=_UNEVEN_DEG,
                unit="°",
            )


def _m(mm: float) -> str:
    return f"{mm / 1000:.2f} m"


def _width(view: View, target: Target) -> Iterator[Finding]:
    if target.width_mm is None:
        return
    now, widest = (width_at_mm(view.area.width_mm, f, target.distance_mm) for f in (view.focal_mm, view.widest_mm))
    if now is None or widest is None:
        return
    about = About(units=(view.lens, view.body))
    wanted = f"{_m(target.width_mm)} wide at {_m(target.distance_mm)}"
    if widest < target.width_mm:
        level, text = (
            Level.STOP,
            (
                f"{view.lens} shows at most {_m(widest)} at {_m(target.distance_mm)}, even at {view.widest_mm:.0f} mm;"
                f" {_m(target.width_mm)} must fit in."
            ),
        )
    elif now < target.width_mm:
        fits = view.area.width_mm * target.distance_mm / (target.width_mm + view.area.width_mm)
        level, text = (
            Level.WATCH,
            f"At {view.focal_mm:.0f} mm {view.lens} shows {_m(now)}; {wanted} fits in at about {fits:.0f} mm or wider.",
        )
    else:
        level, text = Level.CLEAR, f"{view.lens} at {view.focal_mm:.0f} mm shows {_m(now)}; {wanted} fits in."
    yield Finding(
        code="lens.width",
        level=level,
        about=about,
        text=text,
        value=now / 1000,
        limit=target.width_mm / 1000,
        unit="m",
        working=(
            Working(
                formula="u = (D + √(D² − 4Df))/2,  width = w·(u − f)/f",
                numbers=(
                    f"D {target.distance_mm:.0f} mm, f {view.focal_mm:.1f} mm, w {view.area.width_mm:g} mm: {_m(now)};"
                    f" crop {view.crop:.3f}, angle {view.angle_deg:.1f}°"
                ),
                inputs=(
                    Input(name="distance", value=_m(target.distance_mm), source="job"),
                    Input(name="must fit in", value=_m(target.width_mm), source="job"),
                    Input(
                        name=f"recorded width, {view.area.label}",
                        value=f"{view.area.width_mm:g} mm",
                        source="catalogue",
                    ),
                ),
            ),
        ),
    )


def _near(view: View, target: Target, settings: Settings) -> Iterator[Finding]:
    about = About(units=(view.lens, view.body))
    close = view.data.close_focus_mm
    nearest = min(target.distance_mm, target.nearest_mm or target.distance_mm)
    if close is not None and nearest < close:
        yield Finding(
            code="lens.close_focus",
            level=Level.STOP if target.distance_mm < close else Level.WATCH,
            about=about,
            text=f"{view.lens} focuses from {_m(close)} on; {_m(nearest)} is asked for.",
            value=nearest / 1000,
            limit=close / 1000,
            unit="m",
        )
    if target.nearest_mm is not None and target.nearest_mm < settings.face_near_mm:
        yield Finding(
            code="lens.face",
            level=Level.WATCH,
            about=about,
            text=(
                f"A face at {_m(target.nearest_mm)} looks distorted, whatever the lens; stay"
                f" {_m(settings.face_near_mm)} away."
            ),
            value=target.nearest_mm / 1000,
            limit=settings.face_near_mm / 1000,
            unit="m",
        )


def _depth(view: View, target: Target, settings: Settings) -> Iterator[Finding]:
    u_mm = from_lens_mm(target.distance_mm, view.focal_mm)
    if u_mm is None:
        return
    circle = view.area.diagonal_mm / settings.blur_diagonals
    near, far = depth_of_field_mm(view.focal_mm, view.stop, circle, u_mm)
    behind = target.distance_mm - u_mm
    reach = "to infinity" if math.isinf(far) else f"to {_m(far + behind)} ({(far - near) / 1000:.2f} m)"
    yield Finding(
        code="lens.depth",
        level=Level.NOTE,
        about=About(units=(view.lens, view.body)),
        text=(
            f"Focused at {_m(target.distance_mm)}, {view.focal_mm:.0f} mm at f/{view.stop:.1f} is sharp from"
            f" {_m(near + behind)} {reach}. What is twice as far blurs to {_blur_share(view, u_mm) * 100:.1f} % of the"
            f" picture's width.{_face(view, target, circle)}"
        ),
        value=None if math.isinf(far) else (far - near) / 1000,
        unit="m",
        working=(
            Working(
                formula="H = f²/(N·c) + f;  near u(H−f)/(H+u−2f),  far u(H−f)/(H−u)",
                numbers=(
                    f"f {view.focal_mm:.1f} mm, N {view.stop:.2f}, c {circle:.4f} mm, u {u_mm:.0f} mm: {near:.0f} to"
                    f" {far:.0f} mm from the lens"
                ),
                inputs=(
                    Input(
                        name="circle of confusion", value=f"diagonal / {settings.blur_diagonals:.0f}", source="setting"
                    ),
                ),
            ),
        ),
    )


def _blur_share(view: View, u_mm: float) -> float:
    """Blur of a point twice as far as what is focused on, as a share of the picture's width."""
    return blur_mm(view.focal_mm, view.stop, u_mm, 2 * u_mm) / view.area.width_mm


def _face(view: View, target: Target, circle: float) -> str:
    """Whether eyes and ears of the nearest face are both sharp, focused on the eyes."""
    at = from_lens_mm(target.nearest_mm, view.focal_mm) if target.nearest_mm else None
    if at is None or target.nearest_mm is None:
        return ""
    _, far = depth_of_field_mm(view.focal_mm, view.stop, circle, at)
    both = far - at >= _EYE_TO_EAR_MM
    return f" A face at {_m(target.nearest_mm)}, focused on the eyes: " + (
        "eyes and ears are sharp." if both else f"the ears are soft, {far - at:.0f} mm are sharp behind the eyes."
    )


def light_of(target: Target | None, conditions: Conditions) -> float | None:
    """EV at ISO 100 of what is to be seen: what was said of it, else the part's light and the lamps' together.

    Luxes add: log₂(2^a + 2^b).
    """
    if target is None or target.light_ev is not None:
        return target.light_ev if target else conditions.light_ev
    lit = [ev for ev in (conditions.light_ev, target.lamps_ev) if ev is not None]
    return math.log2(sum(2.0**ev for ev in lit)) if lit else None


def over_stops(assembly: Assembly, view: View, light_ev: float, settings: Settings) -> float:
    """Stops to be taken away as the lens is set, its filters at their least; negative: light is missing."""
    fps, angle, iso = exposure_of(assembly.build.setting_of(view.body), settings)
    taken = sum(f.stops[0] for _, f in filters_on(assembly, view.lens))
    return nd_stops(light_ev, view.t_stop, angle, fps, iso, taken)


def _light(assembly: Assembly, view: View, light_ev: float, settings: Settings) -> Finding:
    body = assembly.build.setting_of(view.body)
    fps, angle, iso = exposure_of(body, settings)
    on = filters_on(assembly, view.lens)
    taken = sum(f.stops[0] for _, f in on)
    more = sum(f.stops[1] for _, f in on) - taken
    """What variable filters can still take."""
    over = over_stops(assembly, view, light_ev, settings)
    about = About(units=(view.lens, view.body))
    at = f"EV {round(light_ev, 1):g} at T{view.t_stop:.1f}, {angle:g}°, {fps:g} fps, ISO {iso:.0f}"
    if -settings.light_room_stops <= over <= more + settings.light_room_stops:
        level, text = (
            Level.CLEAR,
            f"{at}: exposure is right" + (f" with {', '.join(u for u, _ in on)}." if on else " as it is."),
        )
    elif over > 0:
        left = over - more
        smaller = view.stop * 2 ** (left / 2)
        level, text = (
            Level.WATCH,
            f"{at}: {left:.1f} stops too bright; ND {0.301 * left:.1f} is missing"
            + (f", or f/{smaller:.1f}." if smaller <= _SMALLEST_STOP else "."),
        )
    else:
        level, text = (
            Level.WATCH,
            f"{at}: {-over:.1f} stops of light are missing"
            + (f"; {', '.join(u for u, _ in on)} takes {taken:.1f}." if taken else "."),
        )
    return Finding(
        code="lens.light",
        level=level,
        about=about,
        text=text,
        value=over,
        limit=more,
        unit="stops",
        working=(
            Working(
                formula="EV − [log₂(N²/t) − log₂(ISO/100)] − what is on,  t = angle/360/fps",
                numbers=(
                    f"{round(light_ev, 2):g} − [log₂({view.t_stop:.2f}² / (1/{360 * fps / angle:.0f}))"
                    f" − log₂({iso:.0f}/100)] − {taken:.1f} = {over:.2f} stops"
                ),
                inputs=(
                    Input(name="T-stop", value=f"{view.t_stop:.2f}", source="catalogue" if view.t_known else "assumed"),
                    *(
                        Input(name=unit, value=f"{f.stops[0]:g} to {f.stops[1]:g} stops", source="catalogue")
                        for unit, f in on
                    ),
                ),
            ),
        ),
    )


def exposure_of(body: UnitSetting, settings: Settings) -> tuple[float, float, float]:
    """Frames a second, shutter angle and sensitivity as set, the job's where nothing was said."""
    return body.fps or settings.fps, body.shutter_deg or settings.shutter_deg, body.iso or settings.iso


def _corners(assembly: Assembly, view: View) -> Iterator[Finding]:
    tf_lens_rig = assembly.pose(view.lens).inverse()
    rim = float(assembly.catalogue.model_of(view.lens).bounds[1][0])
    stack, narrowest = 0.0, math.inf
    for unit, data in filters_on(assembly, view.lens):
        corners = (tf_lens_rig @ assembly.pose(unit)).point(
            np.array([shape.points for shape in assembly.catalogue.model_of(unit).shapes[:1]]).reshape(-1, 3)
        )
        stack = max(stack, float(corners[:, 0].max()) - rim if len(corners) else data.height_mm)
        narrowest = min(narrowest, data.clear_mm / 2 if data.clear_mm else math.inf)
    if math.isinf(narrowest):
        return
    about = About(units=(view.lens, view.body), port="front")
    if view.data.pupil_mm is None:
        yield Finding(
            code="filter.pupil_missing",
            level=Level.NOTE,
            about=about,
            text=(f"The corners of {view.lens} with its filters cannot be checked: its entrance pupil is not entered."),
        )
        return
    wide = view.data.focal_mm[0] * view.factor
    needs = clear_radius_mm(wide, view.area.diagonal_mm, view.data.pupil_mm, stack)
    with_edge = needs + wide / (2 * view.stop)
    if narrowest >= with_edge:
        return
    cut = narrowest < needs
    yield Finding(
        code="filter.corner",
        level=Level.STOP if cut else Level.WATCH,
        about=about,
        text=(
            f"At {wide:.0f} mm the filters on {view.lens} {'cut' if cut else 'shade'} the corners: {narrowest:.1f} mm"
            f" of clear radius, {needs if cut else with_edge:.1f} mm needed with {stack:.0f} mm stacked."
        ),
        value=narrowest,
        limit=needs if cut else with_edge,
        unit="mm",
        working=(
            Working(
                formula="clear radius ≥ (e + h)·tan θ, and + f/2N against shading",
                numbers=(
                    f"({view.data.pupil_mm:g} + {stack:.1f}) mm × {view.area.diagonal_mm / 2:.2f}/{wide:.1f} ="
                    f" {needs:.2f} mm; with f/2N {with_edge:.2f} mm"
                ),
                inputs=(
                    Input(name="entrance pupil behind the rim", value=f"{view.data.pupil_mm:g} mm", source="catalogue"),
                ),
            ),
        ),
    )
