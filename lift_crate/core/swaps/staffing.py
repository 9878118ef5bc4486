"""Whether the people there are can make a day's swaps at all, and by which of them.

Packs are left out of it: there are always enough if enough are brought. What remains is a way
through the day for every slot with nobody at two cameras at once, found by OR-Tools' CP-SAT, fewest
swaps first. The plans by rule start from it where the rule alone would need more people than there are.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping

from .day import DayProblem
from .first_plan import ways_on

__all__ = ["staffed"]

Made = tuple[int, int]
"""A swap's step, and by when it is made."""


def staffed(problem: DayProblem, limits: Mapping[str, int], effort: float) -> dict[str, tuple[Made, ...]] | None:
    """Every slot's swaps such that no more people are on their way than there
    are; None where there is no such day, or none was found within the effort.

    ``limits``: thousandths a pack may give, by slot; ``effort``: CP-SAT's deterministic seconds.
    """
    from ortools.sat.python import cp_model  # noqa: PLC0415 - it takes a second to load

    m = cp_model.CpModel()
    taken, every = [], []
    made: dict[str, list[tuple[Made, cp_model.IntVar]]] = defaultdict(list)
    for slot in problem.slots:
        into: dict[int, list[cp_model.IntVar]] = defaultdict(list)
        out: dict[int, list[cp_model.IntVar]] = defaultdict(list)
        for start, ways in ways_on(slot, limits[slot.id]).items():
            for end in {way[0] for way in ways}:
                goes = m.new_bool_var(f"{slot.id} {start} to {end}")
                out[start].append(goes)
                into[end].append(goes)
                every.append(goes)
        m.add_exactly_one(out[slot.first])
        m.add_exactly_one(into[slot.last])
        for step in (s for s in into if s != slot.last):
            m.add(sum(into[step]) == sum(out[step]))
            options = []
            for at in slot.made_by(step):
                chosen = m.new_bool_var(f"{slot.id} {step} by {at}")
                options.append(chosen)
                made[slot.id].append(((step, at), chosen))
                if kept := problem.on_the_way(slot, step, at):
                    taken.append(m.new_optional_fixed_size_interval_var(kept.start, len(kept), chosen, "hands"))
            m.add(sum(options) == sum(into[step]))
    m.add_cumulative(taken, [1] * len(taken), problem.hands)
    m.minimize(sum(every))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 7
    solver.parameters.max_deterministic_time = effort
    if solver.solve(m) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    return {
        slot.id: tuple(sorted(swap for swap, chosen in made[slot.id] if solver.boolean_value(chosen)))
        for slot in problem.slots
    }
