"""Lens on body: mounts and flange distance, adapters, image circle.

Formulas: docs/formulas.md §2, 'Lens to body'.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..callouts import About, Finding, Input, Level, Working
from ..gear.interface import Interface
from ..gear.model import GearModel
from ..gear.optical import RecordedArea
from ..rig.assembly import Assembly
from ..rig.build import Catalogue
from ..rig.layout import Layout
from ..settings import Settings

__all__ = [
    "AUTOFOCUS",
    "STABILISER",
    "adapter_models",
    "adapter_thickness_mm",
    "area_in_use",
    "lens_chain",
    "lens_findings",
    "lens_keeps",
    "losses_through",
]

AUTOFOCUS, STABILISER = "autofocus", "stabiliser power"
"""What contacts carry that a check asks for, by its name in an interface's contacts."""


def adapter_thickness_mm(lens_mount: Interface, body_mount: Interface) -> float | None:
    """Thickness of a plain adapter: F_lens − F_body in mm; None when a flange distance is unknown."""
    if lens_mount.flange_mm is None or body_mount.flange_mm is None:
        return None
    return lens_mount.flange_mm - body_mount.flange_mm


def adapter_models(catalogue: Catalogue, body_mount: str, lens_mount: str) -> list[GearModel]:
    """Models that adapt a lens mount to a body mount."""
    found = []
    for model in catalogue.models.values():
        if model.adapter:
            rear, front = model.port(model.adapter.toward_body), model.port(model.adapter.toward_part)
            if rear.interface == body_mount and front.interface == lens_mount:
                found.append(model)
    return found


def area_in_use(assembly: Assembly, body: str) -> RecordedArea | None:
    """The recorded area a body is set to, its first when nothing was said; None for no body."""
    data = assembly.catalogue.model_of(body).body
    if data is None:
        return None
    chosen = assembly.build.setting_of(body).area
    return next((area for area in data.areas if area.id == chosen), data.areas[0])


def lens_chain(assembly: Assembly) -> tuple[str, ...]:
    """Units from the body's lens port outwards, to the first lens; empty when nothing is on it."""
    return assembly.layout.once(_lens_chain)


def _lens_chain(layout: Layout) -> tuple[str, ...]:
    interfaces = layout.catalogue.interfaces
    chain: list[str] = []
    at = 0
    while True:
        onwards = next(
            (
                i
                for i, (above, (port, _)) in enumerate(zip(layout.above, layout.ports, strict=True), 1)
                if above == at and interfaces[port.interface].kind == "lens"
            ),
            None,
        )
        if onwards is None:
            return tuple(chain)
        chain.append(layout.units[onwards])
        if layout.models[onwards].lens:
            return tuple(chain)
        at = onwards


@dataclass(frozen=True, slots=True)
class Lost:
    """What does not get through one adapter: to the body it goes on, or through the adapter itself."""

    unit: str
    through: tuple[str, ...]
    """Lost in the adapter."""
    beyond: tuple[str, ...]
    """The mount on its body's side has no contacts for it."""
    mount: str
    """That mount, as it is called."""


def lens_keeps(assembly: Assembly) -> frozenset[str] | None:
    """Functions of the lens that reach the body; None: it sits on the body's own mount, nothing is lost."""
    found = assembly.layout.once(_losses)
    return None if found is None else found[0]


def _losses(layout: Layout) -> tuple[frozenset[str], tuple[Lost, ...]] | None:
    """From the lens inwards: contacts of its mount, less what each adapter and each mount behind it has not."""
    chain = layout.once(_lens_chain)
    if len(chain) < 2:
        return None
    _, own = layout.ports[layout.row[chain[-1]] - 1]
    inwards = [(unit, layout.models[layout.row[unit]]) for unit in reversed(chain[:-1])]
    return losses_through(layout.catalogue.interfaces, own.interface, inwards)


def losses_through(
    interfaces: Mapping[str, Interface], mount: str, inwards: Iterable[tuple[str, GearModel]]
) -> tuple[frozenset[str], tuple[Lost, ...]]:
    """What of a lens mount's contacts gets through some adapters, the one on the lens first, and what each takes."""
    kept, lost = set(interfaces[mount].contacts), []
    for name, model in inwards:
        if model.adapter is None:
            continue
        rear = interfaces[model.port(model.adapter.toward_body).interface]
        through = [each for each in model.adapter.loses if each in kept]
        kept.difference_update(through)
        beyond = sorted(kept - set(rear.contacts))
        kept.difference_update(beyond)
        if through or beyond:
            lost.append(Lost(name, tuple(through), tuple(beyond), rear.label))
    return frozenset(kept), tuple(lost)


def _lost_findings(layout: Layout) -> tuple[Finding, ...]:
    found = layout.once(_losses)
    lens = layout.once(_lens_chain)[-1] if found else ""
    data = layout.catalogue.model_of(lens).lens if found else None
    told = []
    for lost in found[1] if found else ():
        gone = (*lost.through, *lost.beyond)
        dead = [
            word
            for has, what, word in (
                (data and data.autofocus, AUTOFOCUS, "its autofocus"),
                (data and data.stabilised, STABILISER, "its stabiliser"),
            )
            if has and what in gone
        ]
        told.append(
            Finding(
                code="lens.adapter_loses",
                level=Level.NOTE,
                about=About(units=(lost.unit,)),
                text=f"Through {lost.unit} the lens loses: {', '.join(gone)}."
                + (f" {lost.mount} has no contacts for {', '.join(lost.beyond)}." if lost.beyond else "")
                + (f" {lens} works without {' and '.join(dead)}." if dead else ""),
            )
        )
    return tuple(told)


def lens_findings(assembly: Assembly, settings: Settings) -> Iterator[Finding]:
    """Findings on what is in front of the body."""
    body = assembly.build.body
    area = area_in_use(assembly, body)
    if area is None:
        return
    models = assembly.catalogue
    chain = lens_chain(assembly)
    lens_unit = chain[-1] if chain and models.model_of(chain[-1]).lens else None
    if lens_unit is None:
        yield Finding(
            code="lens.missing", level=Level.STOP, about=About(units=(body,)), text=f"{body} has no lens on it."
        )
        return
    yield from _flange(assembly, chain, settings)
    factor = 1.0
    for unit in chain[:-1]:
        yield from _adapter(assembly, unit, settings)
        adapter = models.model_of(unit).adapter
        factor *= adapter.factor if adapter else 1.0
    yield from assembly.layout.once(_lost_findings)
    yield from _circle(assembly, body, lens_unit, area, factor)
    yield from _lens_support(assembly, chain, settings)


def _flange(assembly: Assembly, chain: Sequence[str], settings: Settings) -> Iterator[Finding]:
    """Where mounts differ along the chain: could a plain adapter be made at all?"""
    models = assembly.catalogue
    for unit in chain:
        joint = assembly.build.joint_of(unit)
        if joint is None:
            continue
        inner = models.interfaces[models.model_of(joint.parent).port(joint.parent_port).interface]
        outer = models.interfaces[models.model_of(unit).port(joint.child_port).interface]
        thickness = adapter_thickness_mm(outer, inner)
        if (
            inner.id == outer.id
            or thickness is None
            or thickness >= settings.adapter_min_mm
            or adapter_models(models, inner.id, outer.id)
        ):
            continue
        yield Finding(
            code="lens.flange",
            level=Level.STOP,
            about=About(units=(unit, joint.parent)),
            text=(
                f"{unit} ({outer.label}) cannot reach infinity on {joint.parent} ({inner.label}): {thickness:.2f} mm"
                f" are left for an adapter, at least {settings.adapter_min_mm:g} mm are needed without optics."
            ),
            value=thickness,
            limit=settings.adapter_min_mm,
            unit="mm",
            working=(_flange_working(outer, inner, thickness),),
        )


def _flange_working(lens_mount: Interface, body_mount: Interface, thickness: float) -> Working:
    return Working(
        formula="thickness = F_lens − F_body",
        numbers=f"{lens_mount.flange_mm:.2f} − {body_mount.flange_mm:.2f} = {thickness:.2f} mm",
        inputs=(
            Input(
                name=f"flange distance, {lens_mount.label}", value=f"{lens_mount.flange_mm:.2f} mm", source="catalogue"
            ),
            Input(
                name=f"flange distance, {body_mount.label}", value=f"{body_mount.flange_mm:.2f} mm", source="catalogue"
            ),
        ),
    )


def _adapter(assembly: Assembly, unit: str, settings: Settings) -> Iterator[Finding]:
    model = assembly.catalogue.model_of(unit)
    if model.adapter is None:
        return
    rear, front = model.port(model.adapter.toward_body), model.port(model.adapter.toward_part)
    body_mount, lens_mount = (assembly.catalogue.interfaces[port.interface] for port in (rear, front))
    wanted = adapter_thickness_mm(lens_mount, body_mount)
    actual = float(np.linalg.norm(np.subtract(front.at, rear.at)))
    off = abs(actual - wanted) if wanted is not None else 0.0
    if wanted is not None and not model.adapter.optics and off > settings.adapter_tolerance_mm + 1e-9:
        yield Finding(
            code="lens.adapter_off",
            level=Level.WATCH,
            about=About(units=(unit,)),
            text=f"{unit} is {actual:.2f} mm thick and should be {wanted:.2f} mm.",
            value=actual,
            limit=wanted,
            unit="mm",
            working=(_flange_working(lens_mount, body_mount, wanted),),
        )


def _circle(assembly: Assembly, body: str, lens: str, area: RecordedArea, factor: float) -> Iterator[Finding]:
    models = assembly.catalogue
    lens_data, body_data = models.model_of(lens).lens, models.model_of(body).body
    if lens_data is None or body_data is None:
        return
    circle = lens_data.image_circle_mm * factor
    covered = max(
        (a for a in body_data.areas if a.diagonal_mm <= circle), key=lambda a: a.width_mm * a.height_mm, default=None
    )
    fits = circle >= area.diagonal_mm
    advice = (
        f" The largest area of {body} that it covers is {covered.label}."
        if covered
        else " It covers no area of this body."
    )
    yield Finding(
        code="lens.circle",
        level=Level.CLEAR if fits else Level.STOP,
        about=About(units=(lens, body)),
        text=f"{lens} covers {circle:.1f} mm; {area.label} of {body} needs {area.diagonal_mm:.1f} mm."
        + ("" if fits else advice),
        value=circle,
        limit=area.diagonal_mm,
        unit="mm",
        working=(
            Working(
                formula="image circle · reducer factor ≥ √(width² + height²)",
                numbers=(
                    f"{lens_data.image_circle_mm:.1f} × {factor:g} = {circle:.1f} mm against "
                    f"√({area.width_mm:g}² + {area.height_mm:g}²) = {area.diagonal_mm:.1f} mm"
                ),
                inputs=(
                    Input(
                        name=f"image circle of {lens}", value=f"{lens_data.image_circle_mm:.1f} mm", source="catalogue"
                    ),
                    Input(
                        name=f"recorded area {area.label}",
                        value=f"{area.width_mm:g} × {area.height_mm:g} mm",
                        source="catalogue",
                    ),
                ),
            ),
        ),
    )


def _lens_support(assembly: Assembly, chain: Sequence[str], settings: Settings) -> Iterator[Finding]:
    models = assembly.catalogue
    if any(models.model_of(unit).kind == "lens support" for unit in assembly.units):
        return
    mass_g, _ = assembly.load_of(chain[0])
    if mass_g > settings.lens_support_g:
        body = assembly.build.body
        yield Finding(
            code="lens.support",
            level=Level.WATCH,
            about=About(units=(chain[-1], body)),
            text=(
                f"{mass_g:.0f} g hang on the lens mount of {body}; above {settings.lens_support_g:.0f} g a"
                " lens is supported on rods."
            ),
            value=mass_g,
            limit=settings.lens_support_g,
            unit="g",
        )
