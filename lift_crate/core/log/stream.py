"""What was planned, line by line, to stand beside what happened."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ..day.table import DayTable
from ..job.job import Job
from ..swaps.card import Swap
from ..swaps.what_if import Made

__all__ = ["Planned", "carried_out", "planned_of"]

What = Literal["part", "end", "moment", "change", "swap"]
_ORDER: tuple[What, ...] = ("end", "change", "part", "moment", "swap")


@dataclass(frozen=True, kw_only=True)
class Planned:
    """One line of the plan: when, of which camera (empty: of all), in words; of a swap its place and packs."""

    at: datetime
    what: What
    rig: str
    text: str
    slot: str = ""
    pack_in: str = ""
    pack_out: str = ""


def planned_of(job: Job, table: DayTable, swaps: Sequence[Swap]) -> tuple[Planned, ...]:
    """Parts, once-only moments, changeovers and swaps in the order of time; first packs belong to building the rig."""
    found: list[Planned] = []
    for part in job.parts:
        found.append(Planned(at=part.starts, what="part", rig="", text=f"{part.label} begins"))
        found.append(Planned(at=part.ends, what="end", rig="", text=f"{part.label} ends"))
        found += [Planned(at=m.at, what="moment", rig="", text=f"{m.label}, once only") for m in part.moments]
    for between in table.between:
        if between.was != between.now:
            text = f"{between.rig.label} into {between.now.label}, {between.change.alone_min:.0f} min"
            found.append(Planned(at=between.before.ends, what="change", rig=between.rig.id, text=text))
    for swap in swaps:
        if swap.pack_out:
            found.append(
                Planned(
                    at=swap.at.astimezone(job.clock),
                    what="swap",
                    rig=swap.rig or "",
                    text=f"{swap.label}: {swap.pack_in} for {swap.pack_out}",
                    slot=swap.slot,
                    pack_in=swap.pack_in,
                    pack_out=swap.pack_out,
                )
            )
    return tuple(sorted(found, key=lambda p: (p.at, _ORDER.index(p.what), p.text)))


def carried_out(planned: Sequence[Planned], made: Sequence[Made]) -> frozenset[int]:
    """Which planned swaps were made, by their place in the row: the same pack into the same slot, each swap once, and
    of several that are planned the one that is nearest in time.
    """
    left = {i for i, p in enumerate(planned) if p.what == "swap"}
    found = set[int]()
    for swap in sorted(made, key=lambda m: m.at):
        fits = [i for i in left - found if (planned[i].slot, planned[i].pack_in) == (swap.slot, swap.pack_in)]
        if fits:
            found.add(min(fits, key=lambda i: (abs(planned[i].at - swap.at), i)))
    return frozenset(found)
