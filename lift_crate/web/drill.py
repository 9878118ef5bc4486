"""Drill: practice on the same physics; a number is the same drill for everybody, and nothing hidden is sent."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Annotated

from flask import Response
from flask_openapi3.models.tag import Tag
from pydantic import Field

from ..core.day.laid_out import lay_out, run_sheets
from ..core.drawings.elevation import Elevation, elevations
from ..core.drill.balance import (
    MOST_MOVES,
    SLIDERS,
    AxisSeen,
    Hung,
    SlideMove,
    Slider,
    at,
    balance_result,
    hint,
    hung,
    look,
    told_slide,
)
from ..core.drill.faults import Faulty, fault_hint, fault_result, seeded
from ..core.drill.late import LateDay, LateTask, late_day, late_hint, late_result
from ..core.drill.orient import ToFind, orient_result, to_find
from ..core.drill.score import Lesson, Result
from ..core.errors import NotAllowed
from ..core.job.job import Job, claims_of_others
from ..core.quantities import Identifier, Label
from ..core.recent import Recent
from ..core.rig.build import Build, Catalogue
from ..core.stand import Stand, stand_of
from ..core.verdict.judge import whole
from ..store.drill import DrillKind, WhichDrill
from . import present
from . import schema as s
from .answers import READ, Responses, answer
from .day import stands_of
from .described import PlaceApi
from .identity import current_actor
from .schema import Told
from .services import services

__all__ = ["api"]

api = PlaceApi(
    "drill",
    __name__,
    url_prefix="/api/jobs/<string:job>/drill",
    abp_tags=[Tag(name="drill", description="Practice on the same physics")],
)
_WRITE: Responses = {**READ, 409: s.ProblemView}
_FAULTS, _LINKS = 3, 2
Seed = Annotated[int, Field(ge=1, le=9999)]
Units = Annotated[list[Identifier], Field(max_length=200)]


class MoveRequest(s.Strict):
    """A slide set to a number on its scale."""

    slide: Slider
    reading: Annotated[float, Field(ge=-5000, le=5000)]


class DrillRequest(s.Strict):
    """A drill by its kind, camera and number, and what was done in it so far; it is played from its beginning."""

    kind: DrillKind
    part: Identifier
    rig: Identifier
    seed: Seed
    moves: Annotated[list[MoveRequest], Field(max_length=MOST_MOVES)] = Field(default_factory=list)
    marks: Units = Field(default_factory=list)
    """Units that are marked, tasks in their order, or things found."""
    hints: Annotated[int, Field(ge=0, le=20)] = 0
    ask: bool = False
    """A hint is asked for."""


class SliderView(Told):
    """A slide: its plain and technical name, where it stands, and its printed scale."""

    name: Slider
    plain: str
    technical: str
    reading: float
    low: float
    high: float
    at: float
    """Where it stands, as a share of its travel from its lower end."""


class DrillRowView(Told):
    """A part of the rig to look at and mark."""

    unit: str
    title: str
    depth: int
    joint: str


class DrillCableView(Told):
    """A cable to look at and mark."""

    cable: str
    title: str
    runs: str


class DrillView(Told):
    """A drill as it stands: what its kind shows, the rest empty."""

    kind: DrillKind
    title: str
    task: str
    caution: str
    slides: list[SliderView]
    looks: list[AxisSeen]
    rows: list[DrillRowView]
    cables: list[DrillCableView]
    elevations: list[Elevation]
    to_find: int
    """Faults that were seeded."""
    late: list[LateTask]
    left_min: float
    things: list[ToFind]
    hint: str


class DrillBestView(Told):
    """Somebody's best at this drill."""

    person: str
    points: int


class ResultView(Told):
    """How a drill ended, what the best did, and what it teaches."""

    points: int
    won: bool
    said: str
    best: str
    lessons: list[Lesson]
    others: list[DrillBestView]


class PlayedView(Told):
    """A drill that was played."""

    kind: DrillKind
    part: str
    rig: str
    seed: int
    points: int
    won: bool
    said: str
    at: datetime


class KeptDrillView(Told):
    """A drill that was put up for the crew."""

    id: int
    kind: DrillKind
    part: str
    rig: str
    seed: int
    title: str
    actor: str


class PracticeView(Told):
    """What there is to practise, and how one's own practice goes."""

    played: list[PlayedView]
    kept: list[KeptDrillView]


class KeepDrillRequest(s.Strict):
    """A drill put up for the crew."""

    kind: DrillKind
    part: Identifier
    rig: Identifier
    seed: Seed
    title: Label


class KeptDrillPath(s.JobPath):
    """A drill that is put up, by its number."""

    number: Annotated[int, Field(ge=0, le=2**53)]


@api.get("", responses={200: PracticeView, **READ}, operation_id="readPractice")
def read_practice(path: s.JobPath) -> Response:
    """Drills that are put up, and one's own progress."""
    services().jobs.read(path.job)
    return answer(_practice(path.job))


@api.post("/look", responses={200: DrillView, **READ}, operation_id="lookAtDrill")
def look_at_drill(path: s.JobPath, body: DrillRequest) -> Response:
    """A drill after what was done so far. Nothing is kept: whoever leaves it in the middle goes on from there."""
    played = _played(path.job, body)
    return answer(played.view())


@api.post("/end", responses={200: ResultView, **_WRITE}, operation_id="endDrill")
def end_drill(path: s.JobPath, body: DrillRequest) -> Response:
    """How it ended; kept as one's own progress."""
    result = _played(path.job, body).result()
    which = WhichDrill(kind=body.kind, part=body.part, rig=body.rig, seed=body.seed)
    services().drills.ended(path.job, which, result, current_actor())
    best = services().drills.best(path.job, which)
    return answer(
        ResultView(
            points=result.points,
            won=result.won,
            said=result.said,
            best=result.best,
            lessons=list(result.lessons),
            others=[DrillBestView(person=person, points=points) for person, points in best],
        )
    )


@api.post("/kept", responses={200: PracticeView, **_WRITE}, operation_id="keepDrill")
def keep_drill(path: s.JobPath, body: KeepDrillRequest) -> Response:
    """Put a drill up for the crew; it is tried first whether it can be played."""
    which = WhichDrill(kind=body.kind, part=body.part, rig=body.rig, seed=body.seed)
    _played(path.job, DrillRequest(**vars(which)))
    if not body.title.strip():
        raise NotAllowed("Give the drill a name.")
    services().drills.keep(path.job, which, body.title.strip(), current_actor())
    return answer(_practice(path.job))


@api.delete("/kept/<int:number>", responses={200: PracticeView, **_WRITE}, operation_id="dropDrill")
def drop_drill(path: KeptDrillPath) -> Response:
    """A drill is put up no more; who played it keeps it."""
    services().drills.drop(path.job, path.number)
    return answer(_practice(path.job))


def _practice(job_id: str) -> PracticeView:
    drills = services().drills
    return PracticeView(
        played=[PlayedView(**vars(p)) for p in drills.played(job_id, current_actor())],
        kept=[KeptDrillView(**{f: getattr(k, f) for f in KeptDrillView.model_fields}) for k in drills.kept(job_id)],
    )


_Played = Hung | Faulty | LateDay | tuple[ToFind, ...]
_made: Recent[tuple[Job, Catalogue, _Played]] = Recent(40)
"""Drills that were made lately; each keeps its job and shelf, so that an id stays its own."""


def _played(job_id: str, body: DrillRequest) -> _Drill:
    """The drill of a number, made anew where nobody has it: the same every time."""
    job, catalogue, _ = services().jobs.read(job_id)
    build = job.planned(body.part, body.rig)
    key = (id(job), id(catalogue), body.kind, body.part, body.rig, body.seed)
    made = _made.of(key, lambda: (job, catalogue, _make(job, catalogue, build, body)))
    return _Drill(job, catalogue, body, made[2])


def _make(job: Job, catalogue: Catalogue, build: Build, body: DrillRequest) -> _Played:
    if body.kind == "orientation":
        return to_find(catalogue, build.body)
    if body.kind == "late day":
        laid = lay_out(job, catalogue, stands_of(job, catalogue))
        once = {m.angles[0].rig for m in laid.moments if m.part.id == body.part and m.angles}
        sheets = run_sheets(job, catalogue, laid)
        sheet = next((x for x in sheets if any(t.part == body.part for t in x.tasks)), None)
        if sheet is None:
            raise NotAllowed("Nothing is to be done before this part of the day. Choose another one.")
        return late_day(job, sheet, body.part, once, body.seed)
    stand = _stand(job, catalogue, build, body)
    if body.kind == "balance":
        return hung(stand, body.seed)
    count = _LINKS if body.kind == "wrong link" else _FAULTS
    return seeded(stand, body.seed, "links" if body.kind == "wrong link" else "anything", count)


def _stand(job: Job, catalogue: Catalogue, build: Build, body: DrillRequest) -> Stand:
    rig, part = job.build(build.id)[0], job.part(body.part)
    taken = claims_of_others(job, part.id, rig.id)
    return stand_of(build, catalogue, part.conditions, job.settings, taken, job.target_of(rig, part.id))


@dataclass(frozen=True, eq=False)
class _Drill:
    """A drill with what was done in it."""

    job: Job
    catalogue: Catalogue
    body: DrillRequest
    made: _Played

    @property
    def moves(self) -> tuple[SlideMove, ...]:
        """Slides that were set."""
        return tuple(SlideMove(slide=m.slide, reading=m.reading) for m in self.body.moves)

    def result(self) -> Result:
        """How it ended."""
        made, marks, hints = self.made, self.body.marks, self.body.hints
        if isinstance(made, Hung):
            return balance_result(made, self.moves, hints)
        if isinstance(made, Faulty):
            return fault_result(made, marks, hints)
        if isinstance(made, LateDay):
            return late_result(made, marks, hints)
        return orient_result(made, marks, hints)

    def view(self) -> DrillView:
        """As it stands."""
        made = self.made
        if isinstance(made, Hung):
            return self._balance(made)
        if isinstance(made, Faulty):
            return self._faults(made)
        if isinstance(made, LateDay):
            return self._late(made)
        return self._orientation(made)

    def _shown(self, title: str, task: str, hint: str) -> DrillView:
        return DrillView(
            kind=self.body.kind,
            title=title,
            task=task,
            caution="",
            slides=[],
            looks=[],
            rows=[],
            cables=[],
            elevations=[],
            to_find=0,
            late=[],
            left_min=0,
            things=[],
            hint=hint if self.body.ask else "",
        )

    def _balance(self, made: Hung) -> DrillView:
        stands = at(made, self.moves)
        view = self._shown(
            f"Balance {made.mass_kg:.2f} kg",
            "Settle it in few moves: let go, see what falls, set one slide.",
            hint(made, self.moves),
        )
        caution = "Switched off, fingers out of the arms: a real one pinches when it is switched on."
        slides = [SliderView(**vars(told_slide(made, name, stands[name]))) for name in SLIDERS]
        return view.model_copy(update={"caution": caution, "slides": slides, "looks": list(look(made, self.moves))})

    def _faults(self, made: Faulty) -> DrillView:
        count = len(made.faults)
        view = self._shown(
            "Which link is wrong" if self.body.kind == "wrong link" else "What is wrong with it",
            f"{count} fault{'s' if count > 1 else ''}: mark the part or cable of each.",
            fault_hint(made, self.body.marks),
        )
        judged = whole(_stand(self.job, self.catalogue, replace(made.build), self.body))
        return view.model_copy(
            update={
                "rows": [
                    DrillRowView(unit=r.unit, title=r.title, depth=r.depth, joint=r.joint or "")
                    for r in present.row_views(judged)
                ],
                "cables": [
                    DrillCableView(cable=c.cable, title=c.title, runs=f"{c.from_text} → {c.to_text}")
                    for c in present.cable_views(judged)
                ],
                "elevations": list(elevations(judged.stand)),
                "to_find": count,
            }
        )

    def _late(self, made: LateDay) -> DrillView:
        view = self._shown(
            f"{made.label} is late",
            f"{made.left_min:.0f} min are left and one pair of hands. In which order?",
            late_hint(made, self.body.marks),
        )
        return view.model_copy(update={"late": list(made.tasks), "left_min": made.left_min})

    def _orientation(self, made: Sequence[ToFind]) -> DrillView:
        left = next((x for x in made if x.id not in self.body.marks), None)
        view = self._shown(
            "A borrowed body",
            "Find and try each of these on the body in your hands, and tick it.",
            f"{left.technical}: {left.why}" if left else "",
        )
        return view.model_copy(update={"things": list(made)})
