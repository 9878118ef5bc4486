"""What stands against a planned day: shortages, rules of thumb, and packs by what they fit."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from ..callouts import About, Finding, Level
from ..rig.build import Catalogue
from .day import DayProblem, Slot
from .solver import DayPlan

__all__ = ["Family", "families", "rules"]

_CONSENT_WH, _NOT_AS_BAGGAGE_WH = 100.0, 160.0
_AGEING = 0.8
"""Health below which a pack does not go into what cannot be repeated."""
_RATE_TOLD = 0.05
_ALL_DAY_H = 6.0
"""What is on through the whole of a day that is at least so long has a third pack."""


@dataclass(frozen=True, slots=True)
class Family:
    """Packs that go on the same things: how many, their Wh and g; the most
    of those things on at once, from when, and which.
    """

    models: tuple[str, ...]
    packs: int
    energy_wh: float
    mass_g: float | None
    """None where the mass of one of them is not known."""
    at_once: int
    starts: datetime
    wanted_by: tuple[str, ...]


def families(problem: DayProblem, catalogue: Catalogue) -> tuple[Family, ...]:
    """The day's packs by what they fit, most wanted first: where one
    type serves everything, any spare serves anywhere.
    """
    groups: list[tuple[set[str], list[Slot]]] = []
    for slot in problem.slots:
        if slot.built_in:
            continue
        touching = [g for g in groups if g[0] & set(slot.used)]
        names, slots = set(slot.used).union(*(g[0] for g in touching)), [slot, *(s for g in touching for s in g[1])]
        groups = [g for g in groups if g not in touching] + [(names, slots)]
    found = []
    for names, slots in groups:
        packs = [(unit, catalogue.models[c.model]) for c in problem.classes if c.id in names for unit in c.units]
        masses = [catalogue.mass_of(unit)[0] for unit, _ in packs]
        at = max((a for s in slots for a, _ in s.on), key=lambda t: (len(_on_at(slots, t)), -t))
        wanted = _on_at(slots, at)
        found.append(
            Family(
                tuple(sorted({m.title for _, m in packs})),
                len(packs),
                sum(m.pack.energy_wh for _, m in packs if m.pack),
                None if None in masses else sum(m or 0.0 for m in masses),
                len(wanted),
                problem.when(at),
                tuple(sorted(s.label for s in wanted)),
            )
        )
    return tuple(sorted(found, key=lambda f: (-f.at_once, f.models)))


def _on_at(slots: Sequence[Slot], step: int) -> list[Slot]:
    return [s for s in slots if any(a <= step < b for a, b in s.on)]


def rules(problem: DayProblem, plan: DayPlan, catalogue: Catalogue) -> tuple[Finding, ...]:
    """Rules of thumb over a planned day: two packs a thing, types in common,
    carriage of lithium, ageing packs, one charger for all.
    """
    found = [
        *_shortages(problem, plan, catalogue),
        *_two_each(problem),
        *_ageing(problem, plan),
        *_carriage(problem, catalogue),
        *_single_charger(problem),
        *_rates(problem),
        *_people(problem, plan),
    ]
    return tuple(sorted(found, key=lambda f: (-f.level, f.code, f.about.units)))


def _shortages(problem: DayProblem, plan: DayPlan, catalogue: Catalogue) -> Iterator[Finding]:
    for name, count in plan.bring.items():
        model = catalogue.models[name.rpartition("@")[0]]
        first = min((u.starts for u in plan.uses if u.brings and u.pack_class == name), default=0)
        yield Finding(
            code="swap.short",
            level=Level.STOP,
            about=About(units=(model.id,)),
            value=float(count),
            unit="packs",
            text=(
                f"{count} × {model.title} short from {problem.when(first):%H:%M} on; everything on the shelf is out,"
                " empty or charging by then."
            ),
        )
    labels = {s.id: s.label for s in problem.slots}
    for late in plan.late:
        yield Finding(
            code="swap.dies",
            level=Level.STOP,
            about=About(units=(late.slot,)),
            value=late.needs,
            limit=1.0,
            unit="packs",
            text=(
                f"{labels[late.slot]} loses power at {problem.when(late.dies_at):%H:%M}: between two swaps that are"
                f" allowed it needs {late.needs:.2f} of the best pack there is."
            ),
        )


def _two_each(problem: DayProblem) -> Iterator[Finding]:
    """Two packs for every powered thing and three for what runs all day, counted over what is in use at once."""
    groups: dict[frozenset[str], list[Slot]] = {}
    for slot in problem.slots:
        if slot.swaps or len(slot.used) > 1:
            groups.setdefault(frozenset(slot.used), []).append(slot)
    for names, slots in groups.items():
        packs = sum(len(c.units) for c in problem.classes if c.id in names)
        on = max(
            (_on_at(slots, a) for s in slots for a, _ in s.on),
            key=lambda those: sum(3 if _all_day(problem, s) else 2 for s in those),
        )
        long = sum(_all_day(problem, s) for s in on)
        wanted = 2 * len(on) + long
        if packs < wanted:
            models = sorted({c.model for c in problem.classes if c.id in names})
            three = f", three for the {long} that run{'s' if long == 1 else ''} all day" if long else ""
            yield Finding(
                code="swap.two_each",
                level=Level.WATCH,
                about=About(units=tuple(models)),
                value=float(packs),
                limit=float(wanted),
                unit="packs",
                text=f"{packs} packs for {len(on)} things that run on them at once. Two for each{three}: {wanted}.",
            )


def _all_day(problem: DayProblem, slot: Slot) -> bool:
    """Whether a place is on in every part of the day, and for so long that it needs a third pack."""
    hours = sum(b - a for a, b in slot.on) * problem.step_min / 60
    return hours >= _ALL_DAY_H and {(a, b) for _, _, a, b in problem.parts} <= set(slot.on)


def _ageing(problem: DayProblem, plan: DayPlan) -> Iterator[Finding]:
    health = {c.id: c.health for c in problem.classes}
    labels = {s.id: s.label for s in problem.slots}
    for use in plan.uses:
        for start, end, moment in problem.quiet:
            if health[use.pack_class] < _AGEING and use.starts < end and start < use.ends:
                yield Finding(
                    code="swap.ageing",
                    level=Level.WATCH,
                    about=About(units=(use.pack, use.slot)),
                    value=health[use.pack_class],
                    limit=_AGEING,
                    text=(
                        f"{use.pack} with {health[use.pack_class] * 100:.0f} % of its health is on {labels[use.slot]}"
                        f" during '{moment}'; keep ageing packs out of what cannot be repeated."
                    ),
                )


def _carriage(problem: DayProblem, catalogue: Catalogue) -> Iterator[Finding]:
    large: list[str] = []
    consent: list[str] = []
    for each in problem.classes:
        pack = catalogue.models[each.model].pack
        if pack and not each.fixed:
            (large if pack.energy_wh > _NOT_AS_BAGGAGE_WH else consent if pack.energy_wh > _CONSENT_WH else []).extend(
                each.units
            )
    if large:
        yield Finding(
            code="pack.carriage",
            level=Level.WATCH,
            about=About(units=tuple(large)),
            text=f"Above 160 Wh, not as baggage: {', '.join(large)}.",
        )
    if consent:
        yield Finding(
            code="pack.carriage",
            level=Level.NOTE,
            about=About(units=tuple(consent)),
            text=(
                f"100 to 160 Wh, two at most and with the carrier's consent: {', '.join(consent)}. Spares in the cabin,"
                " contacts covered; carriers may be stricter."
            ),
        )


def _single_charger(problem: DayProblem) -> Iterator[Finding]:
    units = [unit for group in problem.chargers for unit in group.units]
    by_class: Mapping[str, int] = {
        c.id: sum(len(g.units) for g in problem.chargers if c.id in g.full_steps)
        for c in problem.classes
        if not c.fixed
    }
    alone = sorted({g.units[0] for g in problem.chargers for name in g.full_steps if by_class.get(name) == 1})
    if units and alone:
        yield Finding(
            code="charge.single",
            level=Level.NOTE,
            about=About(units=tuple(alone)),
            text=f"What charges on {', '.join(alone)} charges on nothing else here; when it fails, so does the plan.",
        )


def _rates(problem: DayProblem) -> Iterator[Finding]:
    """Where the charges read tell another rate than was computed."""
    for slot in problem.slots:
        reads = sum(put.taken is not None for put in slot.done)
        if reads and abs(slot.rate - 1) > _RATE_TOLD:
            yield Finding(
                code="swap.rate",
                level=Level.WATCH if slot.rate > 1 else Level.NOTE,
                about=About(units=(slot.holder,)),
                value=slot.rate,
                limit=1.0,
                unit="× computed",
                text=(
                    f"{slot.label} takes {slot.rate:.2f} times what was computed, by the charge read at {reads}"
                    f" swap{'s' if reads > 1 else ''}; the rest of the day is planned with that."
                ),
            )


def _people(problem: DayProblem, plan: DayPlan) -> Iterator[Finding]:
    """More swaps on the way at one time than there are people."""
    if not plan.hands:
        return
    slots = {s.id: s for s in problem.slots}
    walks = [(problem.on_the_way(slots[u.slot], u.starts, u.at), u) for u in plan.uses]
    for way, use in sorted(walks, key=lambda walk: walk[1].at):
        together = [other for span, other in walks if way and way.start in span]
        if len(together) > problem.hands:
            labels = ", ".join(slots[u.slot].label for u in together)
            yield Finding(
                code="swap.hands",
                level=Level.STOP,
                about=About(units=tuple(u.slot for u in together)),
                value=float(len(together)),
                limit=float(problem.hands),
                unit="people",
                text=(
                    f"{labels} must be swapped around {problem.when(use.at):%H:%M}, each a walk away; that takes"
                    f" {len(together)} people, and there {'is' if problem.hands == 1 else 'are'} {problem.hands}."
                ),
            )
            return
