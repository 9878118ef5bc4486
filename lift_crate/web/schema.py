"""What the API says and takes: the declared types that OpenAPI and the front end's types come from."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..core.drawings.elevation import Elevation
from ..core.job.job import Moment
from ..core.lens.presets import Jump
from ..core.rig.edits import Operation

__all__ = [
    "MOST_OPERATIONS",
    "BenchView",
    "CandidatesView",
    "ConflictProblem",
    "EarlierPath",
    "EditRequest",
    "HistoryView",
    "ImportQuery",
    "Imported",
    "JobPath",
    "JobView",
    "PartPath",
    "PartView",
    "PortPath",
    "PortQuery",
    "PreviewRequest",
    "ProblemView",
    "RemediesView",
    "RemedyQuery",
    "RigPath",
    "StepRequest",
    "Strict",
    "Told",
]

LevelName = Literal["stop", "watch", "note", "clear"]
Point = tuple[float, float]
Version = Annotated[int, Field(ge=0, le=2**31 - 1)]
AnyOperation = Annotated[Operation, Field(discriminator="op")]


class Told(BaseModel):
    """An answer; its writer is made when the first is written."""

    model_config = ConfigDict(defer_build=True)


class Strict(Told):
    """A request: unknown keys are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, defer_build=True)


class JobPath(Strict):
    """Names a job."""

    job: str


class PartPath(JobPath):
    """Names a part of a job's day."""

    part: str


class RigPath(PartPath):
    """Names a rig in a part of the day."""

    rig: str


class EarlierPath(RigPath):
    """Names a rig in a part of the day, as it was after an edit."""

    to: Annotated[int, Field(ge=0, le=2**31 - 1)]


class PortPath(RigPath):
    """Names a port of a unit in a rig."""

    unit: str
    port: str


class PortQuery(Strict):
    """Whether to tell also what does not go on a port, and why."""

    misfits: bool = False


class RemedyQuery(Strict):
    """The finding to find remedies for, by its key; which trial to go on from."""

    finding: str
    start: Annotated[int, Field(ge=0, le=1_000_000)] = 0


class ReplacedPath(JobPath):
    """Names an earlier state of a job."""

    replaced: Annotated[int, Field(ge=0, le=2**53)]


class ReplacedLine(Told):
    """An earlier state of a job, kept when it was replaced."""

    id: int
    title: str
    actor: str
    at: datetime


class ReplacedView(Told):
    """Earlier states of a job, latest first."""

    job: str
    states: list[ReplacedLine]


class ImportQuery(Strict):
    """Whether a job of the same id is replaced."""

    replace: bool = False


MOST_OPERATIONS = 120
"""Operations of one edit; a whole rig is built in fewer."""


class EditRequest(Strict):
    """Operations on a build as it was at ``version``."""

    version: Version
    operations: Annotated[list[AnyOperation], Field(min_length=1, max_length=MOST_OPERATIONS)]


class PreviewRequest(Strict):
    """Operations to try without saving."""

    operations: Annotated[list[AnyOperation], Field(min_length=1, max_length=MOST_OPERATIONS)]


class StepRequest(Strict):
    """Undo or redo on a build or a job as it was at ``version``; ``anyway``: the newest step, whose ever it is."""

    version: Version
    anyway: bool = False


class FieldProblem(Told):
    """One thing that is wrong with what was sent, and where."""

    path: str
    message: str


class ProblemView(Told):
    """An error (RFC 9457): what was wrong, where, and what would be right."""

    type: str
    title: str
    status: int
    detail: str
    problems: list[FieldProblem] = []


class CountsView(Told):
    """How many call-outs of each level."""

    stops: int
    watches: int
    notes: int


class InputView(Told):
    """A figure that went into a computation, and its source."""

    name: str
    value: str
    source: str


class WorkingView(Told):
    """A formula, the same with numbers, its inputs."""

    formula: str
    numbers: str
    inputs: list[InputView]


class FindingView(Told):
    """A call-out."""

    key: str
    code: str
    level: LevelName
    title: str
    text: str
    why: str
    cures: str
    units: list[str]
    port: str | None
    value: float | None
    limit: float | None
    unit: str
    spread: float | None
    working: list[WorkingView]


class SlideView(Told):
    """A gimbal slide: where it balances, where it is set, its travel and the number on its scale."""

    name: str
    ideal_mm: float
    set_mm: float
    min_mm: float
    max_mm: float
    reading: float
    scale_min: float
    scale_max: float


class PackView(Told):
    """A pack under its load."""

    pack: str
    load_w: float
    hours: float | None
    ended_by: str
    energy_wh: float
    feeds: list[str]


class FiguresView(Told):
    """The figures at the foot of the Bench."""

    total_g: float
    total_lb: float
    total_sd_g: float
    worn_g: float
    payload_g: float
    payload_sd_g: float
    payload_limit_g: float | None
    headroom_g: float | None
    by_source_g: dict[str, float]
    unknown_masses: list[str]
    cg_mm: tuple[float, float, float]
    cg_sd_mm: tuple[float, float, float]
    support: str | None
    support_kind: str
    front_nm: float
    front_word: str
    draw_w: float
    hours: float | None
    hours_needed: float
    short: bool
    """It does not last as long as nobody may touch it."""
    first_empty: str | None
    cost_per_day: float
    value: float
    cost_unknown: list[str]
    currency: str
    packs: list[PackView]
    slides: list[SlideView]
    working: dict[str, WorkingView]


class PortView(Told):
    """A port of a unit in the rig."""

    id: str
    label: str
    interface: str
    half: str
    socket: bool
    free: bool
    holds: list[str]


class SlideRangeView(Told):
    """How far a joint slides."""

    min_mm: float
    max_mm: float


class ExposureView(Told):
    """Bodies: frames a second, shutter angle and sensitivity as set or as the job's."""

    fps: float
    shutter_deg: float
    iso: float


class RecordingView(Told):
    """A recording mode of a body; ``now``: as it is set, it records in this one."""

    label: str
    area: str
    fps: float | None
    told: str
    now: bool


class HingeView(Told):
    """A hinge of an arm: its name, how it is bent and may be, degrees."""

    label: str
    deg: float
    min_deg: float
    max_deg: float


class RowView(Told):
    """A line of the build: a unit on its joint, ``depth`` steps from the body."""

    unit: str
    title: str
    kind: str
    depth: int
    parent: str | None
    joint: str | None
    worn: bool
    """It hangs on the operator, and what follows deeper with it."""
    mass_g: float | None
    mass_source: str
    spin_deg: float
    slide_mm: float
    slides: SlideRangeView | None
    turns: bool
    hinges: list[HingeView]
    """Joints of an arm, inner ones first."""
    areas: list[dict[str, str]]
    area: str | None
    focal_range_mm: Point | None
    focal_mm: float | None
    stops: Point | None
    """Lenses: widest aperture, and what it is set to."""
    exposure: ExposureView | None
    pictures: list[dict[str, str]]
    picture: str | None
    recordings: list[RecordingView]
    """Bodies: modes that it records in."""
    modes: list[dict[str, str]]
    """Gimbals: ways the motors follow, and the one it is set to."""
    mode: str | None
    level: LevelName
    ports: list[PortView]


class CableView(Told):
    """A cable of the build and where it runs."""

    cable: str
    title: str
    from_text: str
    to_text: str
    from_unit: str
    to_unit: str
    length_mm: float
    straight_mm: float
    crosses: bool
    pull: str
    """Over the axes of a gimbal: on which, to which side, where it is best run."""
    plugs: tuple[str, str]
    """Connectors at its ends, by their standard names."""
    stiffness: Literal["thin", "ordinary", "stiff"]
    bend_mm: float
    """Straight room that its plug needs in front of a socket."""
    locks: bool
    spares: list[str]
    """Cables of its model that are free at this time."""
    level: LevelName


class StripView(Told):
    """A camera strip: one rig in a part of the day."""

    rig: str
    number: int
    label: str
    position: str
    build: str | None
    build_label: str | None
    mass_g: float
    headroom_g: float | None
    balance: str
    hours: float | None
    hours_needed: float
    short: bool
    counts: CountsView


class PartView(Told):
    """All cameras in one part of the day."""

    part: str
    strips: list[StripView]
    counts: CountsView
    places: dict[str, CountsView]
    """Of them, those that are worked on in another place than the Bench, by its name."""


class BenchView(Told):
    """A build on the Bench: list, drawing, figures and call-outs."""

    job: str
    part: str
    rig: str
    rig_label: str
    build: str
    build_label: str
    planned: bool
    """In this part of the day; another build of the rig can be looked at and worked on too."""
    body: str
    version: int
    saved: bool
    use: str | None
    use_now: str
    held_by: str | None
    """The support, handle or grip that carries it."""
    holders: list[str]
    """What could."""
    held_in_doubt: bool
    """Several could, and one should say which."""
    sees: str | None
    can_undo: str | None
    can_redo: str | None
    presets: tuple[Jump, ...]
    """Settings kept under names, each with the jump from how it is set now."""
    rows: list[RowView]
    cables: list[CableView]
    figures: FiguresView
    counts: CountsView
    findings: list[FindingView]
    elevations: tuple[Elevation, ...]
    day: PartView | None = None
    """With the answer to a change: all cameras of this part as they are after it."""


class ConflictProblem(ProblemView):
    """A stale edit: the error with the build as it is now, and as it would be with the edit on top of that."""

    current: BenchView | None = None
    since: list[str] = []
    """What others did meanwhile, by whom and when."""
    mine: str = ""
    """What was to be done."""
    on_top: BenchView | None = None
    why_not: str = ""
    """Why it cannot be done on top of what is there now."""


class PartSummary(Told):
    """A part of the day on the ribbon."""

    id: str
    label: str
    starts: datetime
    ends: datetime
    temperature_c: float
    wind_m_s: float
    hours_needed: float
    moments: tuple[Moment, ...]


class RigSummary(Told):
    """A rig and which build it is in, by part of the day."""

    id: str
    number: int
    label: str
    position: str
    builds: dict[str, str]
    """Build id to its label."""
    plan: dict[str, str]
    """Part id to build id."""


class JobView(Told):
    """A job's frame: ribbon and rigs."""

    id: str
    title: str
    parts: list[PartSummary]
    rigs: list[RigSummary]
    people: list[str]
    """Whoever works a camera or swaps packs."""
    units: int


class NewFinding(Told):
    """A call-out that a change brings or takes away."""

    level: LevelName
    title: str
    text: str


class EffectView(Told):
    """What a change would do."""

    mass_g: float
    cg_x_mm: float
    draw_w: float
    hours_after: float | None
    stops_after: int
    watches_after: int
    come: list[NewFinding]
    gone: list[NewFinding]


class CandidateView(Told):
    """Something that goes on a port now."""

    unit: str
    title: str
    kind: str
    owner: Literal["owned", "hired"]
    how: str
    note: str
    alike: int
    mass_g: float | None
    operations: list[AnyOperation]
    effect: EffectView | None
    """None: not tried yet."""


class MisfitView(Told):
    """Something that does not go on a port now, and why."""

    unit: str
    title: str
    reason: str
    taken: bool
    adapter: str | None


class CandidatesView(Told):
    """What can go on a port."""

    unit: str
    port: str
    label: str
    interface: str
    candidates: list[CandidateView]
    misfits: list[MisfitView]


class RemedyView(Told):
    """A change that was tried and helps."""

    title: str
    clears: bool
    exchanges: bool
    """It ends this and brings another Stop; shown last."""
    operations: list[AnyOperation]
    effect: EffectView
    rank: list[float]
    """Orders remedies of one finding, compared figure by figure, least first."""


class RemediesView(Told):
    """Remedies of one finding among the trials made for this answer, best
    first; there is more while fewer are tried than there are.
    """

    finding: str
    remedies: list[RemedyView]
    tried: int
    of: int
    most: int
    """How many of all of them are worth showing."""


class HistoryLine(Told):
    """One edit."""

    version: int
    kind: str
    title: str
    actor: str
    at: datetime


class KeptVersion(Told):
    """A build as it was kept, and why."""

    version: int
    reason: str
    actor: str
    at: datetime


class HistoryView(Told):
    """The latest edits of a build, newest first, and what was kept for a reason."""

    edits: list[HistoryLine]
    kept: list[KeptVersion]


class Imported(Told):
    """A job file was read."""

    job: str
    title: str
