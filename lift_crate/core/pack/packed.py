"""The packing of a job judged: cases with mass and balance point, what stands against it, and what cures it.

Rules of carriage: physics.md and the carrier's own figures in the job. Formulas: docs/formulas.md §16, 'Cases'.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from ..callouts import About, Finding, Input, Level, Working, by_weight
from ..geometry import Vec3
from ..job.job import Job
from ..job.packing import CaseAlong
from ..rig.build import Catalogue
from .along import ADDED, PEOPLE, Thing
from .deal import Box, Dealt, boxes_of, deal, may_go, worth_of
from .lay import Laid, buried, lay
from .lists import some_of

__all__ = ["PackCure", "Packed", "PackedCase", "cures_of_packing", "judge_packing", "pack_up", "stays"]

_BAG_SHARE = 0.5
"""Above this share of packs by mass a carried bag is told to be half batteries."""
_MOST_CURES = 5
_ROUNDS, _EFFORT = 2, 1.0
"""How long is searched after a first answer, by rounds and deterministic seconds of each."""


@dataclass(frozen=True, slots=True)
class PackedCase:
    """A case with what is in it: mass of all, its balance point from the middle of its floor, energy of its packs."""

    box: Box
    laid: tuple[Laid, ...]
    loose: tuple[str, ...]
    mass_g: float
    without_mass: tuple[str, ...]
    """Things in it that nobody knows the mass of."""
    cg_mm: Vec3 | None
    filled: float
    """Share of its inside."""
    packs_g: float
    wh: float
    first: datetime | None
    opens: tuple[str, ...]
    """What it is opened for, soonest first."""


@dataclass(frozen=True, kw_only=True)
class PackCure:
    """What makes everything go: a case more, or one that travels otherwise; and what is left over then."""

    what: str
    case: CaseAlong
    left: int
    left_before: int


@dataclass(frozen=True, kw_only=True)
class Packed:
    """The gear of a job in its cases."""

    cases: tuple[PackedCase, ...]
    left: tuple[str, ...]
    proven: bool
    findings: tuple[Finding, ...]
    cures: tuple[PackCure, ...] = ()


def stays(job: Job) -> frozenset[str]:
    """What is knowingly left behind."""
    return frozenset(p.thing for p in job.pack.put if not p.case)


def pack_up(
    job: Job,
    catalogue: Catalogue,
    things: Sequence[Thing],
    told: Callable[[Packed, bool], bool] = lambda *_: False,
    unwanted: Callable[[], bool] = lambda: False,
) -> Packed:
    """Everything into its cases, judged, with what cures it where something is left over; then searched for longer.

    ``told`` is given what there is and whether it will stay so; when it returns True nobody waits any more.
    """
    boxes, going = boxes_of(job, catalogue), [t for t in things if t.id not in stays(job)]

    def judged(dealt: Dealt) -> Packed:
        found = judge_packing(job, going, boxes, dealt)
        return (
            replace(found, cures=tuple(cures_of_packing(job, catalogue, going, found, unwanted)))
            if found.left
            else found
        )

    dealt = deal(job, going, boxes, unwanted)
    found = judged(dealt)
    if told(found, dealt.proven) or dealt.proven or unwanted():
        return found
    longer = deal(job, going, boxes, unwanted, rounds=_ROUNDS, effort=_EFFORT, start=dealt)
    if worth_of(longer, going) < worth_of(dealt, going):
        found = judged(longer)
    told(found, not unwanted())
    return found


def judge_packing(job: Job, things: Sequence[Thing], boxes: Sequence[Box], dealt: Dealt) -> Packed:
    """What stands against cases as they are dealt. ``things``: without what is left behind."""
    by_id = {t.id: t for t in things}
    cases = tuple(_case(box, dealt, by_id) for box in boxes)
    findings = (*_of_all(job, things, boxes, dealt), *(f for case in cases for f in _of_case(job, case, by_id)))
    return Packed(cases=cases, left=dealt.left, proven=dealt.proven, findings=by_weight(findings))


def _case(box: Box, dealt: Dealt, by_id: Mapping[str, Thing]) -> PackedCase:
    laid, loose = dealt.laid[box.unit], dealt.loose[box.unit]
    inside = [by_id[each.thing] for each in laid] + [by_id[name] for name in loose]
    opens: dict[str, datetime] = {}
    for t in inside:
        if t.first:
            opens[t.first_for] = min(t.first, opens.get(t.first_for, t.first))
    wall = tuple((out - within) / 2 for out, within in zip(box.outside_mm, box.inside_mm, strict=True))
    moments = [(box.empty_g, (0.0, 0.0, box.outside_mm[2] / 2))]
    for each in laid:
        middle = [low + long / 2 for low, long in zip(each.at_mm, each.size_mm, strict=True)]
        at = (middle[0] - box.inside_mm[0] / 2, middle[1] - box.inside_mm[1] / 2, middle[2] + wall[2])
        moments.append((by_id[each.thing].mass_g or 0.0, at))
    known = sum(mass for mass, _ in moments)
    cg = tuple(math.fsum(mass * at[i] for mass, at in moments) / known for i in range(3)) if known else None
    return PackedCase(
        box,
        laid,
        loose,
        math.fsum([box.empty_g, *(t.mass_g or 0.0 for t in inside)]),
        tuple(t.id for t in inside if t.mass_g is None),
        (cg[0], cg[1], cg[2]) if cg else None,
        math.fsum(math.prod(each.size_mm) for each in laid) / math.prod(box.inside_mm),
        math.fsum(t.mass_g or 0.0 for t in inside if t.wh is not None),
        math.fsum(t.wh or 0.0 for t in inside),
        min(opens.values(), default=None),
        tuple(sorted(opens, key=lambda what: opens[what])),
    )


def _of_all(job: Job, things: Sequence[Thing], boxes: Sequence[Box], dealt: Dealt) -> Iterator[Finding]:
    if things and not boxes:
        yield Finding(
            code="pack.no_case",
            level=Level.WATCH,
            about=About(units=()),
            value=float(len(things)),
            text=f"{len(things)} things go along and no case does. Take cases of the Shelf along.",
        )
        return
    unsized = [t.id for t in things if not t.size_mm]
    if unsized:
        yield Finding(
            code="pack.no_size",
            level=Level.WATCH,
            about=About(units=tuple(unsized)),
            value=float(len(unsized)),
            text=f"No size: {some_of(unsized)}. They are in no case; enter their size when packed, or put them there.",
        )
    for name in dealt.left:
        thing = next(t for t in things if t.id == name)
        if not thing.size_mm:
            continue
        whys = {may_go(thing, box, job.pack.carrier) for box in boxes}
        why = "; ".join(sorted(whys)) if "" not in whys else "the cases are full"
        yield Finding(
            code="pack.left",
            level=Level.STOP if thing.first else Level.WATCH,
            about=About(units=(name,)),
            text=f"{thing.called} is in no case: {why}." + (f" Wanted for {thing.first_for}." if thing.first else ""),
        )
    yield from _lithium(job, things, boxes, dealt)
    yield from _apart(things, dealt)


def _lithium(job: Job, things: Sequence[Thing], boxes: Sequence[Box], dealt: Dealt) -> Iterator[Finding]:
    by_id, carrier = {t.id: t for t in things}, job.pack.carrier
    flown = [
        (by_id[name], box)
        for box in boxes
        if box.travels in ("cabin", "hold")
        for name in (*(each.thing for each in dealt.laid[box.unit]), *dealt.loose[box.unit])
        if by_id[name].wh is not None
    ]
    checked = f"{carrier.label}, checked {carrier.checked:%d %b %Y}; they may be stricter"
    for t, box in flown:
        if box.travels == "hold" or (t.wh or 0) > carrier.consent_wh:
            why = "packs never go in the hold" if box.travels == "hold" else f"{t.wh:.0f} Wh is not taken as baggage"
            yield Finding(
                code="pack.lithium",
                level=Level.STOP,
                about=About(units=(t.id, box.unit)),
                value=t.wh,
                limit=carrier.consent_wh,
                unit="Wh",
                text=f"{t.id} is in {box.unit}, {box.travels}: {why} ({checked}).",
            )
    asked = [t.id for t, box in flown if box.travels == "cabin" and carrier.free_wh < (t.wh or 0) <= carrier.consent_wh]
    small = [t.id for t, box in flown if box.travels == "cabin" and (t.wh or 0) <= carrier.free_wh]
    if asked:
        most = carrier.consent_each * carrier.people
        yield Finding(
            code="pack.lithium",
            level=Level.STOP if len(asked) > most else Level.WATCH,
            about=About(units=tuple(asked)),
            value=float(len(asked)),
            limit=float(most),
            text=(
                f"{len(asked)} packs over {carrier.free_wh:g} Wh in the cabin, {most} with consent for"
                f" {carrier.people} {'person' if carrier.people == 1 else 'people'}: ask the carrier in writing,"
                f" cover the contacts ({checked})."
            ),
        )
    if small:
        most = carrier.free_each * carrier.people
        yield Finding(
            code="pack.lithium",
            level=Level.STOP if len(small) > most else Level.NOTE,
            about=About(units=tuple(small)),
            value=float(len(small)),
            limit=float(most),
            text=f"{len(small)} packs in the cabin, {most} allowed: contacts covered, Wh legible ({checked}).",
        )


def _apart(things: Sequence[Thing], dealt: Dealt) -> Iterator[Finding]:
    case_of = {each.thing: case for case, laid in dealt.laid.items() for each in laid}
    groups: dict[str, dict[str, None]] = {}
    for t in things:
        if t.id in case_of and t.group not in (PEOPLE, ADDED, ""):
            groups.setdefault(t.group, {})[case_of[t.id]] = None
    for group, cases in groups.items():
        if len(cases) > 2:
            yield Finding(
                code="pack.apart",
                level=Level.NOTE,
                about=About(units=tuple(cases)),
                value=float(len(cases)),
                text=f"What belongs to {group} is in {len(cases)} cases: {some_of(list(cases))}.",
            )


def _of_case(job: Job, case: PackedCase, by_id: Mapping[str, Thing]) -> Iterator[Finding]:
    yield from _mass_of_case(job, case, by_id)
    yield from _lies(case, by_id, job.settings.case_fill)
    yield from _on_the_way(job, case)
    yield from _while_it_stands(job, case, by_id)


def _mass_of_case(job: Job, case: PackedCase, by_id: Mapping[str, Thing]) -> Iterator[Finding]:
    box, kg = case.box, case.mass_g / 1000
    if kg > box.most_g / 1000 + 1e-9:
        over_lift = box.most_g / 1000 == job.settings.lift_kg
        yield Finding(
            code="pack.heavy",
            level=Level.WATCH if over_lift else Level.STOP,
            about=About(units=(box.unit,)),
            value=kg,
            limit=box.most_g / 1000,
            unit="kg",
            text=(
                f"{box.unit} weighs {kg:.1f} kg, {box.most_g / 1000:g} kg at most ({box.most_from})."
                + (" Two people lift it, with straight backs." if kg >= job.settings.lift_kg else "")
            ),
            working=(_weighed(case, by_id),),
        )
    if case.without_mass:
        yield Finding(
            code="pack.no_mass",
            level=Level.NOTE,
            about=About(units=case.without_mass),
            value=float(len(case.without_mass)),
            text=f"{box.unit}: no mass of {some_of(list(case.without_mass))}. Its mass leaves them out.",
        )


def _lies(case: PackedCase, by_id: Mapping[str, Thing], most: float) -> Iterator[Finding]:
    box, inside = case.box, [by_id[each.thing] for each in case.laid]
    if case.loose:
        yield Finding(
            code="pack.no_room",
            level=Level.WATCH,
            about=About(units=case.loose),
            value=float(len(case.loose)),
            text=f"{box.unit}: put there by hand, and no place was found for {some_of(list(case.loose))}.",
        )
    if len(case.laid) > 1 and case.filled > most + 1e-9:
        yield Finding(
            code="pack.full",
            level=Level.WATCH,
            about=About(units=(box.unit,)),
            value=100 * case.filled,
            limit=100 * most,
            unit="%",
            text=f"{box.unit} is {100 * case.filled:.0f} % full; {100 * most:.0f} % leaves room for padding and hands.",
        )
    for low, high in buried(case.laid, inside)[:1]:
        count = len(buried(case.laid, inside))
        yield Finding(
            code="pack.buried",
            level=Level.NOTE,
            about=About(units=(low, high)),
            value=float(count),
            text=(
                f"{box.unit}: {by_id[low].called} lies under {by_id[high].called}, which is wanted later"
                + (f"; {count - 1} more so." if count > 1 else ".")
            ),
        )


def _on_the_way(job: Job, case: PackedCase) -> Iterator[Finding]:
    box = case.box
    if box.travels == "on the back" and case.packs_g > _BAG_SHARE * case.mass_g:
        yield Finding(
            code="pack.batteries",
            level=Level.NOTE,
            about=About(units=(box.unit,)),
            value=100 * case.packs_g / case.mass_g,
            limit=100 * _BAG_SHARE,
            unit="%",
            text=f"{box.unit}: {100 * case.packs_g / case.mass_g:.0f} % of its mass are packs, {case.wh:.0f} Wh.",
        )
    if box.travels == "cabin" and any(
        a > b for a, b in zip(sorted(box.outside_mm), sorted(job.pack.carrier.cabin_mm), strict=True)
    ):
        size = " × ".join(f"{x:.0f}" for x in box.outside_mm)
        allowed = " × ".join(f"{x:.0f}" for x in job.pack.carrier.cabin_mm)
        yield Finding(
            code="pack.cabin",
            level=Level.WATCH,
            about=About(units=(box.unit,)),
            text=f"{box.unit} is {size} mm outside; {job.pack.carrier.label} take {allowed} mm into the cabin.",
        )


def _while_it_stands(job: Job, case: PackedCase, by_id: Mapping[str, Thing]) -> Iterator[Finding]:
    box, inside = case.box, [by_id[each.thing] for each in case.laid]
    wet = [part.label for part in job.parts if part.conditions.wet]
    by = next((rig.label for rig in job.rigs if rig.id == box.along.stays_with), "")
    if wet and by and not box.waterproof:
        yield Finding(
            code="pack.wet",
            level=Level.WATCH,
            about=About(units=(box.unit,)),
            text=f"{box.unit} stays by {by} in the rain of {wet[0]} and is not waterproof.",
        )
    planned = [p for p in job.parts if by and (p.id, box.along.stays_with) in {(a.part, a.rig) for a in job.plan}]
    dark = [
        p for p in planned if p.conditions.light_ev is not None and p.conditions.light_ev < job.settings.case_seen_ev
    ]
    if dark and box.seen in ("dark", "bright"):
        yield Finding(
            code="pack.unseen",
            level=Level.WATCH if box.seen == "dark" else Level.NOTE,
            about=About(units=(box.unit,)),
            value=min(p.conditions.light_ev or 0.0 for p in dark),
            limit=job.settings.case_seen_ev,
            unit="EV",
            text=(
                f"{box.unit} is {box.seen} and stays by {by} in {some_of([p.label for p in dark])}:"
                " nothing of it throws light back."
            ),
        )
    if box.along.seat and case.first and any(t.first and t.first > case.first for t in inside):
        yield Finding(
            code="pack.seat",
            level=Level.NOTE,
            about=About(units=(box.unit,)),
            text=f"{box.unit} is a seat, and is opened again during the day for {case.opens[-1]}.",
        )


def _weighed(case: PackedCase, by_id: Mapping[str, Thing]) -> Working:
    heaviest = sorted((by_id[e.thing] for e in case.laid), key=lambda t: -(t.mass_g or 0))[:6]
    rest = case.mass_g - case.box.empty_g - sum(t.mass_g or 0 for t in heaviest)
    return Working(
        formula="empty + Σ things",
        numbers=" + ".join(
            [f"{case.box.empty_g:.0f}", *(f"{t.mass_g or 0:.0f}" for t in heaviest), *([f"{rest:.0f}"] if rest else [])]
        )
        + f" = {case.mass_g:.0f} g",
        inputs=tuple(
            Input(
                name=t.called,
                value=f"{t.mass_g or 0:.0f} g",
                source="catalogue" if t.mass_from != "measured" else "measured",
            )
            for t in heaviest
        ),
    )


def cures_of_packing(
    job: Job,
    catalogue: Catalogue,
    things: Sequence[Thing],
    found: Packed,
    unwanted: Callable[[], bool] = lambda: False,
) -> Iterator[PackCure]:
    """Cases that make more go along: another one of the shelf, free in this job, into which what is left over is laid;
    or one that goes by van or is sent ahead, all dealt anew.
    """
    along = {case.unit for case in job.pack.cases}
    used = {unit for unit, _, _ in job.claims_beside()}
    over = [t for t in things if t.id in found.left and t.size_mm]
    made = list[PackCure]()
    tried: set[str] = set()
    for unit in catalogue.shelf:
        model = catalogue.model_of(unit.id)
        can = model.case and unit.id not in along | used and unit.condition != "out of use"
        if not can or model.id in tried:
            continue
        tried.add(model.id)
        case = CaseAlong(unit=unit.id)
        (box,) = boxes_of(replace(job, pack=replace(job.pack, cases=(case,))), catalogue)
        taken = _taken(job, over, box)
        made.append(PackCure(
            what=f"Take {unit.id} along ({model.title})", case=case, left=len(found.left) - taken,
            left_before=len(found.left),
        ))  # fmt: skip
    for each in found.cases:
        for travels, what in (("van", "by van"), ("sent ahead", "sent ahead")):
            if each.box.travels not in ("cabin", "hold") or unwanted():
                continue
            case = replace(each.box.along, travels=travels)  # type: ignore[arg-type]  # both are ways to travel
            others = tuple(case if c.unit == case.unit else c for c in job.pack.cases)
            changed = replace(job, pack=replace(job.pack, cases=others))
            left = len(deal(changed, things, boxes_of(changed, catalogue), unwanted, rounds=1).left)
            made.append(PackCure(what=f"{case.unit} {what}", case=case, left=left, left_before=len(found.left)))
    yield from sorted((c for c in made if c.left < c.left_before), key=lambda cure: cure.left)[:_MOST_CURES]


def _taken(job: Job, over: Sequence[Thing], box: Box) -> int:
    """How many things that are left over one more case takes, most urgent first."""
    held: list[Thing] = []
    for t in sorted(over, key=lambda t: (t.first is None, t.first or 0, t.id)):
        grams = box.empty_g + sum(h.mass_g or 0.0 for h in held) + (t.mass_g or 0.0)
        fits = not may_go(t, box, job.pack.carrier) and grams <= box.most_g
        if fits and not lay([*held, t], box.inside_mm).left:
            held.append(t)
    return len(held)
