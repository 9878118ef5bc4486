"""A build proposed, step by step: the browser asks for the next step, so it can show, stop and choose."""

from __future__ import annotations

import time
from typing import Annotated, Literal

from flask import Response
from flask_openapi3.models.tag import Tag
from pydantic import Field

from ..core.bench.compose import Wants, grow, rank_of, starts, wanted_of
from ..core.rig.edits import describe
from . import present
from . import schema as s
from .answers import READ, answer
from .described import PlaceApi
from .services import bench_of, services, state_of

__all__ = ["api"]

api = PlaceApi(
    "propose",
    __name__,
    url_prefix="/api/jobs/<string:job>/parts/<string:part>/rigs/<string:rig>/proposal",
    abp_tags=[Tag(name="proposal", description="A whole build from what a position wants")],
)
_STEP_S = 0.3
"""After so long a step tells what it has."""


class StartView(s.Told):
    """A lens on the bare body that a build may grow from."""

    lens: str
    title: str
    operations: list[s.AnyOperation]


class StartsView(s.Told):
    """Where builds may start, the likeliest first, and what the position seems to want."""

    starts: list[StartView]
    support: Literal["hand", "shoulder", "head", "gimbal", "mount"]


class GrowRequest(s.Strict):
    """A build so far, as operations on the build that is there, what is wanted, and what was given up."""

    operations: Annotated[list[s.AnyOperation], Field(min_length=1, max_length=s.MOST_OPERATIONS)]
    given_up: Annotated[list[Annotated[str, Field(max_length=400)]], Field(max_length=200, default_factory=list)]
    support: Literal["hand", "shoulder", "head", "gimbal", "mount"] = "head"
    monitor: bool = True
    microphone: bool = False
    transmitter: bool = False
    receiver: bool = False
    hours: Annotated[float, Field(ge=0, le=48)] = 0.0
    """Without a swap, where more than the part of the day asks."""


class GrownView(s.Told):
    """The build after some more steps: what was done, what is left, and how it stands."""

    operations: list[s.AnyOperation]
    given_up: list[str]
    left: list[str]
    """What could not be had or cured, in words."""
    done: bool
    why: list[str]
    """What was done since it was asked last, each step with its reason."""
    counts: s.CountsView
    figures: s.FiguresView
    rank: list[float]


@api.get("/starts", responses={200: StartsView, **READ}, operation_id="readStarts")
def read_starts(path: s.RigPath) -> Response:
    """Lenses that a proposed build may start from."""
    state = state_of(path)
    bench = bench_of(state, path.part)
    target = state.job.target_of(state.rig, path.part)
    return answer(
        StartsView(
            starts=[
                StartView(lens=start.lens, title=start.model.title, operations=list(start.operations))
                for start in starts(bench)
            ],
            support="gimbal" if target and target.moves else "head",
        )
    )


@api.post("/step", responses={200: GrownView, **READ}, operation_id="growProposal")
def grow_proposal(path: s.RigPath, body: GrowRequest) -> Response:
    """Some more steps of a build, none of them saved."""
    state = services().builds.read_planned(path.job, path.part, path.rig, steps=False)
    wants = Wants(
        support=body.support,
        monitor=body.monitor,
        microphone=body.microphone,
        transmitter=body.transmitter,
        receiver=body.receiver,
        hours=body.hours,
    )
    bench = wanted_of(bench_of(state, path.part), wants)
    operations, given_up, left, why, done = tuple(body.operations), list(body.given_up), list[str](), list[str](), False
    grown = bench.after(operations)
    ends = time.monotonic() + _STEP_S
    while not done and time.monotonic() < ends and len(operations) < s.MOST_OPERATIONS:
        step = grow(grown, wants, frozenset(given_up), lambda: time.monotonic() >= ends)
        done = step.done
        if step.given_up:
            given_up.append(step.given_up)
            left += [step.why] if step.why else []
        operations += step.operations
        if step.operations:
            why.append(f"{'; '.join(describe(op, bench.catalogue) for op in step.operations)} – {step.why}")
        grown = bench.after(operations) if step.operations else grown
    return answer(
        GrownView(
            operations=list(operations),
            given_up=given_up,
            left=left,
            done=done or len(operations) >= s.MOST_OPERATIONS,
            why=why,
            counts=present.counts_view(grown.whole.counts),
            figures=present.figures_view(grown.whole),
            rank=[float(grown.whole.counts["stops"]), float(grown.whole.counts["watches"]), *rank_of(grown)[2:]],
        )
    )
