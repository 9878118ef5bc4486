"""What the API says and takes of the shelf, of comparisons and of build sheets."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field, RootModel

from ..core.gear import GearModel
from ..core.interface import Interface
from ..core.rig import Unit
from .schema import (
    AnyOperation,
    EffectView,
    ElevationView,
    FieldProblem,
    InputView,
    JobPath,
    LevelName,
    RigPath,
    Strict,
)

__all__ = [
    "ComparePath", "CompareQuery", "CompareView", "DrawingQuery", "FitQuery", "ImportUnitsQuery", "InterfaceBody", "InterfacesView", "MeasureRequest", "MeasuredView",
    "ModelBody", "ModelPath", "ModelPreview", "ModelView", "PairsQuery", "PairsView", "PlacesView", "PlanView", "ScaleView", "SeenQuery", "SheetView", "ShelfQuery", "ShelfView", "UnitBody", "UnitPath", "UnitPlacePath",
    "UnitView", "WaysView",
]  # fmt: skip


class UnitBody(RootModel[Unit]):
    """A unit as it should be."""


class ModelBody(RootModel[GearModel]):
    """A model as it should be."""


class InterfaceBody(RootModel[Interface]):
    """An interface as it should be."""


class ShelfQuery(Strict):
    """What is looked for, and the part of a job's day in which it must be free."""

    words: Annotated[str, Field(max_length=200)] = ""
    kind: str = ""
    interface: str = ""
    side: Literal["takes", "goes on", ""] = ""
    owner: Literal["owned", "hired", ""] = ""
    free_only: bool = False
    skip: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    most: Annotated[int, Field(ge=1, le=200)] = 60
    job: str = ""
    part: str = ""


class ModelPath(Strict):
    """Names a model."""

    model: str


class SeenQuery(Strict):
    """The latest change of the thing that its editor has seen; an unseen one refuses the edit."""

    seen: Annotated[int, Field(ge=0, le=2**53)] | None = None
    """The last change of it that was looked at; none: it is new."""


class UnitPath(Strict):
    """Names a unit."""

    unit: str


class UnitPlacePath(RigPath):
    """Names a unit that is to go on a rig."""

    unit: str


class FitQuery(Strict):
    """A unit, and the port it should go on."""

    unit: str
    onto: str
    port: str


class PairsQuery(Strict):
    """The body model; the rig's own when nothing is said."""

    body: str = ""


class ComparePath(JobPath):
    """Names a job."""


class CompareQuery(Strict):
    """Two sides: a part of the day and a rig, or a build, of each."""

    left_part: str
    left_build: str
    right_part: str
    right_build: str


class DrawingQuery(Strict):
    """Scale of a drawing on paper, 1:scale."""

    view: Literal["side", "front", "top"] = "side"
    scale: Annotated[float, Field(ge=1, le=50)] = 4


class ImportUnitsQuery(Strict):
    """Whether the import is carried out; otherwise it only says what it would do."""

    apply: bool = False
    revision: Annotated[int, Field(ge=0, le=2**53)] | None = None
    """The revision of the shelf for which the import was shown."""


class UnitLine(BaseModel):
    """A unit in the list of the shelf."""

    unit: str
    model: str
    title: str
    kind: str
    owner: Literal["owned", "hired"]
    mass_g: float | None
    mass_source: str
    health: float
    condition: Literal["good", "doubtful", "out of use"]
    note: str
    taken: str | None


class ShelfView(BaseModel):
    """A page of the shelf, how many there are in all, and of each kind."""

    units: list[UnitLine]
    total: int
    kinds: dict[str, int]


class InterfacesView(BaseModel):
    """All interfaces, with what their families are called."""

    interfaces: list[Interface]
    seen: dict[str, int]
    """The latest change of each, to be given back with the next."""
    families: dict[str, str]
    figures: dict[str, list[str]]
    """Figures that each family is told by."""


class ShelfChangeLine(BaseModel):
    """A change of a thing on the shelf."""

    title: str
    actor: str
    at: datetime


class UnitUseLine(BaseModel):
    """A build that a unit is in."""

    job: str
    rig: str
    build: str
    parts: int


class UnitView(BaseModel):
    """One unit: its figures with their source, what it is in, its history."""

    unit: Unit
    seen: int
    title: str
    kind: str
    mass_g: float | None
    mass_source: str
    cg_mm: tuple[float, float, float]
    cg_source: str
    health_left: float
    uses: list[UnitUseLine]
    history: list[ShelfChangeLine]


class ModelPreview(BaseModel):
    """A model drawn alone, what is wrong with it, and how well its figures are known."""

    elevations: list[ElevationView]
    problems: list[FieldProblem]


class ModelView(BaseModel):
    """One model as it stands in the catalogue, drawn, with its units and history."""

    model: GearModel
    seen: int
    preview: ModelPreview
    units: list[UnitLine]
    history: list[ShelfChangeLine]


class ScaleView(BaseModel):
    """What lies on the scale."""

    name: str
    mass_g: float
    stable: bool


class MeasureRequest(Strict):
    """Readings to work a mass or a CG out of."""

    method: Literal["mass", "edge", "scale and block"]
    gross_g: float | None = None
    tare_g: float = 0.0
    mass_g: float | None = None
    span_mm: float | None = None
    block_at_mm: float | None = None
    scale_at_mm: float | None = None
    edge_at_mm: float | None = None
    second_at_mm: float | None = None


class MeasuredView(BaseModel):
    """A measured figure with one standard deviation and its working."""

    value: float
    sd: float
    unit: str
    formula: str
    numbers: str


class ChangeLine(BaseModel):
    """What a line of an import would do."""

    line: int
    unit: str
    kind: Literal["new", "changed"]
    fields: list[tuple[str, str, str]]


class ErrorLine(BaseModel):
    """What is wrong with a line of an import."""

    line: int
    column: str
    message: str


class PlanView(BaseModel):
    """Everything an import would do, or did."""

    applied: bool
    revision: int
    changes: list[ChangeLine]
    same: int
    errors: list[ErrorLine]


class StepView(BaseModel):
    """A step of the build sheet."""

    number: int
    kind: str
    unit: str
    title: str
    onto: str
    place: str
    set_to: str
    tool: str
    torque_nm: float | None
    look_at: str
    mind: list[str]


class SheetView(BaseModel):
    """A build sheet: to build, to strike, tools, what stands against it."""

    job_title: str
    rig_label: str
    number: int
    build_label: str
    position: str
    version: int
    mass_g: float
    settings: list[InputView]
    build: list[StepView]
    strike: list[StepView]
    tools: list[str]
    stops: list[str]
    watches: list[str]


class PlaceView(BaseModel):
    """A port where a unit could go."""

    onto: str
    port: str
    label: str
    interface: str
    adapter: str | None
    operations: list[AnyOperation]
    effect: EffectView


class PlacesView(BaseModel):
    """Where a unit can go on a rig, best first."""

    unit: str
    title: str
    places: list[PlaceView]


class WayView(BaseModel):
    """Something that would make a unit fit."""

    title: str
    operations: list[AnyOperation]
    to_hire: list[str]
    effect: EffectView | None


class WaysView(BaseModel):
    """What would make a unit fit on a port."""

    unit: str
    onto: str
    port: str
    ways: list[WayView]


class PairView(BaseModel):
    """A lens model on the body: how it joins, what it covers and shows."""

    lens: str
    title: str
    join: Literal["straight", "adapter", "to hire", "no"]
    through: str | None
    area: str | None
    full: bool
    focal_mm: tuple[float, float]
    equivalent_mm: tuple[float, float] | None
    angles_deg: tuple[float, float] | None
    widths_m: tuple[float, float] | None
    fits: bool | None
    t_stop: float
    t_known: bool
    close_focus_mm: float | None
    mass_g: float | None
    units: list[str]
    free: list[str]


class PairsView(BaseModel):
    """Every lens on one body, for a rig's position."""

    body: str
    body_title: str
    bodies: list[dict[str, str]]
    distance_m: float | None
    width_m: float | None
    needed_deg: float | None
    pairs: list[PairView]
    gaps_deg: list[tuple[float, float]]


class CompareFigure(BaseModel):
    """A figure of both sides."""

    key: str
    name: str
    unit: str
    digits: int
    left: float | None
    right: float | None
    difference: float | None


class ComparePart(BaseModel):
    """A model and its units on both sides."""

    kind: str
    title: str
    left: list[str]
    right: list[str]


class CompareFinding(BaseModel):
    """A call-out of one side."""

    level: LevelName
    title: str
    text: str


class CompareSide(BaseModel):
    """One side: its rig, build and part of the day, drawn."""

    part: str
    part_label: str
    rig: str
    rig_label: str
    number: int
    build: str
    build_label: str
    side: ElevationView


class CompareView(BaseModel):
    """Two builds side by side."""

    left: CompareSide
    right: CompareSide
    figures: list[CompareFigure]
    parts: list[ComparePart]
    only_left: list[CompareFinding]
    only_right: list[CompareFinding]
    both: list[str]
    currency: str


