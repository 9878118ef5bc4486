"""Core values into what the API says. Units for people (lb) are made here and nowhere else."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import chain, repeat

from ..core.balance.see_saw import verdict
from ..core.bench.bench import Effect
from ..core.bench.questions import Candidate, Misfit
from ..core.bench.remedies import Remedy
from ..core.cables import picture_in_use
from ..core.callouts import Finding, Level, Working
from ..core.drawings.comparison import cost_of
from ..core.fit.adapters import AdapterChain
from ..core.fit.joints import port_uses
from ..core.lens.coverage import exposure_of
from ..core.lens.framing import width_at_mm
from ..core.lens.together import modes_of
from ..core.quantities import finite
from ..core.rig.build import Catalogue
from ..core.rig.edits import describe
from ..core.stand import Stand
from ..core.support.load import Carried
from ..core.verdict.judge import Whole
from ..core.wording import signed, true_minus
from . import schema as s

__all__ = [
    "candidate_view",
    "figures_view",
    "finding_views",
    "misfit_view",
    "remedy_view",
    "row_views",
    "strip_balance",
]

_GRAMS_PER_POUND = 453.59237
"""The international avoirdupois pound, exact."""


def level_name(level: Level) -> s.LevelName:
    """Level as the API names it."""
    names: dict[Level, s.LevelName] = {
        Level.STOP: "stop",
        Level.WATCH: "watch",
        Level.NOTE: "note",
        Level.CLEAR: "clear",
    }
    return names[level]


def working_view(working: Working) -> s.WorkingView:
    """One working."""
    inputs = [s.InputView(name=i.name, value=true_minus(i.value), source=i.source) for i in working.inputs]
    return s.WorkingView(formula=working.formula, numbers=true_minus(working.numbers), inputs=inputs)


def finding_views(findings: tuple[Finding, ...]) -> list[s.FindingView]:
    """All findings, clear ones included."""
    return [
        s.FindingView(
            key=f.key,
            code=f.code,
            level=level_name(f.level),
            title=f.call_out.title,
            text=true_minus(f.text),
            why=f.call_out.why,
            cures=f.call_out.cures,
            units=list(f.about.units),
            port=f.about.port,
            value=f.value,
            limit=f.limit,
            unit=f.unit,
            spread=f.spread,
            working=[working_view(w) for w in f.working],
        )
        for f in findings
    ]


def counts_view(counts: dict[str, int]) -> s.CountsView:
    """Counts by level."""
    return s.CountsView(**counts)


def _worst_levels(judged: Whole) -> dict[str, Level]:
    """The most serious finding of every unit that a finding is first about."""
    worst: dict[str, Level] = {}
    for finding in judged.findings:
        for unit in finding.about.units[:1]:
            worst[unit] = max(worst.get(unit, Level.CLEAR), finding.level)
    return worst


def row_views(judged: Whole) -> list[s.RowView]:
    """The build as an indented list, from the body outwards, depth first."""
    build = judged.stand.assembly.build
    worst, uses = _worst_levels(judged), judged.stand.assembly.layout.once(port_uses)
    rows: list[s.RowView] = []

    def add(unit: str, depth: int) -> None:
        rows.append(_row(judged, unit, depth, worst.get(unit, Level.CLEAR), uses))
        for joint in build.joints:
            if joint.parent == unit:
                add(joint.child, depth + 1)

    for root in (build.body, *build.worn):
        add(root, 0)
    return rows


def _row(
    judged: Whole, unit: str, depth: int, level: Level, uses: Mapping[tuple[str, str], Sequence[str]]
) -> s.RowView:
    build, catalogue = judged.stand.assembly.build, judged.stand.assembly.catalogue
    model, joint = catalogue.model_of(unit), build.joint_of(unit)
    mass_g, source = catalogue.mass_of(unit)
    setting = build.setting_of(unit)
    slides, turns, joint_text = None, False, None
    if joint:
        parent, child = catalogue.model_of(joint.parent).port(joint.parent_port), model.port(joint.child_port)
        travel = parent.slide or child.slide
        slides = s.SlideRangeView(min_mm=travel.min_mm, max_mm=travel.max_mm) if travel else None
        allowed = catalogue.turns_deg(parent, child)
        turns = len(allowed) != 1
        joint_text = parent.label
    zoom = model.lens.focal_mm if model.lens and model.lens.focal_mm[0] < model.lens.focal_mm[1] else None
    areas = model.body.areas if model.body else ()
    widest = model.lens.widest_stop_at(setting.focal_mm or model.lens.focal_mm[0]) if model.lens else None
    return s.RowView(
        unit=unit,
        title=model.title,
        kind=model.kind,
        depth=depth,
        parent=joint.parent if joint else None,
        joint=joint_text,
        worn=unit in build.worn,
        mass_g=mass_g,
        mass_source=source,
        spin_deg=joint.spin_deg if joint else 0.0,
        slide_mm=joint.slide_mm if joint else 0.0,
        slides=slides,
        turns=turns,
        hinges=[
            s.HingeView(label=name, deg=deg, min_deg=h.range_deg[0], max_deg=h.range_deg[1])
            for h, name, deg in zip(
                model.hinges, model.hinge_names(), chain(build.bend_of(unit), repeat(0.0)), strict=False
            )
        ],
        areas=[{"id": a.id, "label": a.label} for a in areas],
        area=(setting.area or areas[0].id) if areas else None,
        focal_range_mm=zoom,
        focal_mm=(setting.focal_mm or zoom[0]) if zoom else None,
        stops=(widest, max(setting.stop or 0.0, widest)) if widest else None,
        exposure=_exposure(judged.stand, unit),
        pictures=[{"id": f.id, "label": f.label} for f in model.body.formats] if model.body else [],
        picture=picture.id if (picture := picture_in_use(judged.stand.assembly, unit)) else None,
        recordings=_recordings(judged.stand, unit),
        modes=[{"id": m.id, "label": m.label} for m in model.gimbal.modes] if model.gimbal else [],
        mode=setting.mode,
        level=level_name(level),
        ports=[
            s.PortView(
                id=p.id,
                label=p.label,
                interface=(i := catalogue.interfaces[p.interface]).label,
                half=i.half(p.gender),
                socket=i.takes_cable,
                free=len(held := uses.get((unit, p.id), ())) < p.takes,
                holds=list(held),
            )
            for p in model.ports
        ],
    )


def _exposure(stand: Stand, unit: str) -> s.ExposureView | None:
    if stand.assembly.catalogue.model_of(unit).body is None:
        return None
    fps, shutter_deg, iso = exposure_of(stand.assembly.build.setting_of(unit), stand.settings)
    return s.ExposureView(fps=fps, shutter_deg=shutter_deg, iso=iso)


def _recordings(stand: Stand, unit: str) -> list[s.RecordingView]:
    """Modes of a body; the first that fits area and rate as they are set is the one in use."""
    model = stand.assembly.catalogue.model_of(unit)
    if model.body is None or model.recording is None:
        return []
    setting = stand.assembly.build.setting_of(unit)
    fps, _, _ = exposure_of(setting, stand.settings)
    area = setting.area or (model.body.areas[0].id if model.body.areas else "")
    fitting = modes_of(model.recording.modes, area, fps)
    return [
        s.RecordingView(
            label=mode.label,
            area=mode.area or area,
            fps=mode.fps,
            told=" ".join(word for word in (f"{mode.fps:g} fps" if mode.fps else "", mode.fineness) if word),
            now=bool(fitting) and mode is fitting[0],
        )
        for mode in model.recording.modes
    ]


def sees_text(stand: Stand) -> str | None:
    """What the lens shows as it is set: focal length, angle, crop, and the width at the position's distance."""
    view = stand.view
    if view is None:
        return None
    said = f"{view.focal_mm:.0f} mm · {view.angle_deg:.1f}° · crop {view.crop:.2f}"
    target = stand.target
    width = width_at_mm(view.area.width_mm, view.focal_mm, target.distance_mm) if target else None
    return f"{said} · {width / 1000:.2f} m wide at {target.distance_mm / 1000:g} m" if target and width else said


def cable_views(judged: Whole) -> list[s.CableView]:
    """The cables and where they run."""
    catalogue, worst = judged.stand.assembly.catalogue, _worst_levels(judged)

    def end(unit: str, port: str) -> str:
        return f"{unit} {catalogue.model_of(unit).port(port).label}"

    def plugs(cable: str) -> tuple[str, str]:
        model = catalogue.model_of(cable)
        a, b = (catalogue.interfaces[model.port(each).interface].label for each in "ab")
        return a, b

    busy = {*judged.stand.assembly.build.units, *judged.stand.taken}

    def spares(cable: str) -> list[str]:
        alike = catalogue.unit(cable).model
        return [u.id for u in catalogue.shelf if u.model == alike and u.id not in busy and u.condition == "good"]

    return [
        s.CableView(
            cable=(k := r.link).cable,
            title=catalogue.model_of(k.cable).title,
            from_text=end(k.from_unit, k.from_port),
            to_text=end(k.to_unit, k.to_port),
            from_unit=k.from_unit,
            to_unit=k.to_unit,
            length_mm=r.cable.length_mm,
            straight_mm=r.straight_mm,
            crosses=r.crosses,
            pull=r.pull,
            plugs=plugs(k.cable),
            stiffness=r.cable.stiffness,
            bend_mm=r.cable.bend_mm,
            locks=r.cable.locks,
            spares=spares(k.cable),
            level=level_name(worst.get(k.cable, Level.CLEAR)),
        )
        for r in judged.stand.routes
    ]


def payload_limit_g(stand: Stand) -> float | None:
    """What the support may carry; None when it says nothing."""
    held = stand.carried
    if held.gimbal:
        return held.gimbal.payload_limit_g
    support = stand.assembly.catalogue.model_of(held.support).support if held.support else None
    return support.payload_limit_g if support else None


def headroom_g(stand: Stand) -> float | None:
    """What the support may still carry; None when it says nothing."""
    limit = payload_limit_g(stand)
    return limit - stand.carried.payload.mass_g if limit else None


def hours_of(stand: Stand) -> float | None:
    """Until the first pack is empty; None where none ever is."""
    return finite(stand.first_empty.hours) if stand.first_empty else None


def _front_word(held: Carried) -> str:
    if held.solution and not any(slide.short_mm for slide in held.solution.slides):
        return "balances"
    return "held by its points" if held.kind == "mount" else verdict(held.front_nm)


def strip_balance(held: Carried) -> str:
    """The state of balance in a word or two."""
    if held.solution:
        short = [slide for slide in held.solution.slides if slide.short_mm > 0]
        return "out of travel" if short else "balances"
    return _front_word(held)


def figures_view(judged: Whole) -> s.FiguresView:
    """The foot of the Bench."""
    held, first = judged.stand.carried, judged.stand.first_empty
    limit = payload_limit_g(judged.stand)
    cost = cost_of(judged.stand.assembly.build, judged.stand.assembly.catalogue)
    cg, sd = held.payload.cg_mm, held.payload.cg_sd_mm
    return s.FiguresView(
        total_g=held.total.mass_g,
        total_lb=held.total.mass_g / _GRAMS_PER_POUND,
        total_sd_g=held.total.mass_sd_g,
        worn_g=judged.stand.assembly.layout.worn_g,
        payload_g=held.payload.mass_g,
        payload_sd_g=held.payload.mass_sd_g,
        payload_limit_g=limit,
        headroom_g=headroom_g(judged.stand),
        by_source_g=held.total.by_source_g,
        unknown_masses=list(held.total.unknown),
        cg_mm=(float(cg[0]), float(cg[1]), float(cg[2])),
        cg_sd_mm=(float(sd[0]), float(sd[1]), float(sd[2])),
        support=held.support,
        support_kind=held.kind,
        front_nm=held.front_nm,
        front_word=_front_word(held),
        draw_w=judged.stand.draw_w,
        hours=hours_of(judged.stand),
        hours_needed=judged.stand.conditions.untouched_h,
        short=judged.stand.short,
        first_empty=first.pack if first else None,
        cost_per_day=cost.hire_per_day,
        value=cost.value,
        cost_unknown=list(cost.unknown),
        currency=judged.stand.settings.currency,
        packs=[
            s.PackView(
                pack=r.pack,
                load_w=r.load_w,
                hours=finite(r.hours),
                ended_by=r.discharge.ended_by,
                energy_wh=r.energy_wh,
                feeds=list(r.feeds),
            )
            for r in judged.stand.runs
        ],
        slides=[
            s.SlideView(
                name=x.name,
                ideal_mm=x.ideal_mm,
                set_mm=x.set_mm,
                min_mm=x.range.min_mm,
                max_mm=x.range.max_mm,
                reading=x.reading,
                scale_min=x.range.reading(x.range.min_mm),
                scale_max=x.range.reading(x.range.max_mm),
            )
            for x in (held.solution.slides if held.solution else ())
        ],
        working=_figure_workings(judged),
    )


def _figure_workings(judged: Whole) -> dict[str, s.WorkingView]:
    """How the foot's figures were made, part by part."""
    parts = judged.stand.assembly.masses()
    held = judged.stand.carried
    inputs = [
        s.InputView(name=p.unit, value=f"{p.mass_g:.0f} g at x {p.cg_mm[0]:.0f} mm", source=p.mass_source)
        for p in parts
    ]
    total = held.total
    mass = s.WorkingView(
        formula="M = Σ mᵢ,  σ = √Σ σᵢ²", numbers=f"{total.mass_g:.0f} g ± {total.mass_sd_g:.0f} g", inputs=inputs
    )
    cg = s.WorkingView(
        formula="CG = Σ mᵢ·rᵢ / Σ mᵢ",
        numbers=(
            f"({held.payload.cg_mm[0]:.1f}, {held.payload.cg_mm[1]:.1f}, {held.payload.cg_mm[2]:.1f}) mm from the"
            " film-plane mark, support not counted"
        ),
        inputs=inputs,
    )
    front = s.WorkingView(
        formula=(
            "what the tilt motor still holds after its slides: g·M·x"
            if held.solution
            else "moment about the support: M·g·(x_cg − x_s)"
        ),
        numbers=f"{signed(held.front_nm, 2)} N·m, nose-down positive",
        inputs=[],
    )
    draw = s.WorkingView(
        formula="Σ (draw + I²·R)/η at each pack",
        numbers=f"{judged.stand.draw_w:.1f} W while recording",
        inputs=[
            s.InputView(name=r.pack, value=f"{r.load_w:.1f} W for {', '.join(r.feeds) or 'itself'}", source="computed")
            for r in judged.stand.runs
        ],
    )
    hours = next(
        (
            working_view(f.working[0])
            for f in judged.findings
            if f.code == "power.hours"
            and judged.stand.first_empty
            and f.about.units == (judged.stand.first_empty.pack,)
        ),
        None,
    )
    found = {"mass": mass, "cg": cg, "front": front, "draw": draw}
    return found | ({"hours": hours} if hours else {})


def effect_view(effect: Effect) -> s.EffectView:
    """What a change would do."""

    def brief(findings: tuple[Finding, ...]) -> list[s.NewFinding]:
        return [s.NewFinding(level=level_name(f.level), title=f.call_out.title, text=f.text) for f in findings]

    hours = effect.hours_after
    return s.EffectView(
        mass_g=effect.mass_g,
        cg_x_mm=effect.cg_x_mm,
        draw_w=effect.draw_w,
        hours_after=finite(hours) if hours is not None else None,
        stops_after=effect.stops_after,
        watches_after=effect.watches_after,
        come=brief(effect.come),
        gone=brief(effect.gone),
    )


def candidate_view(candidate: Candidate, catalogue: Catalogue) -> s.CandidateView:
    """Something that goes on a port."""
    unit = catalogue.unit(candidate.unit)
    return s.CandidateView(
        unit=candidate.unit,
        title=candidate.model.title,
        kind=candidate.model.kind,
        owner=unit.owner,
        note=unit.note,
        how="; ".join(describe(op, catalogue) for op in candidate.operations),
        alike=candidate.alike,
        operations=list(candidate.operations),
        mass_g=catalogue.mass_of(candidate.unit)[0],
        effect=effect_view(candidate.effect) if candidate.effect else None,
    )


def adapter_text(chain: AdapterChain) -> str:
    """A chain of adapters with what it adds and loses."""
    loses = f", loses {' and '.join(chain.loses)}" if chain.loses else ""
    return f"{chain} (+{chain.length_mm:.2f} mm, {chain.mass_g:.0f} g{loses})"


def misfit_view(misfit: Misfit) -> s.MisfitView:
    """Something that does not go on a port."""
    return s.MisfitView(
        unit=misfit.unit,
        title=misfit.model.title,
        reason=misfit.reason,
        taken=misfit.taken_by is not None,
        adapter=adapter_text(misfit.adapter) if misfit.adapter else None,
    )


def remedy_view(remedy: Remedy) -> s.RemedyView:
    """A remedy."""
    return s.RemedyView(
        title=remedy.title,
        clears=remedy.clears,
        exchanges=remedy.exchanges,
        operations=list(remedy.operations),
        effect=effect_view(remedy.effect),
        rank=[float(x) for x in remedy.rank],
    )
