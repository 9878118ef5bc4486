"""What the API says and takes of the shelf, of comparisons and of build sheets."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Generic, Literal, TypeVar

from pydantic import ConfigDict, Field, RootModel

from ..core.drawings.elevation import Elevation
from ..core.gear.fields import FieldInfo
from ..core.gear.interface import Interface
from ..core.gear.measuring import Measured
from ..core.gear.model import GearModel
from ..core.rig.build import Unit
from .schema import (
    FieldProblem,
    Strict,
    Told,
)

__all__ = [
    "ImportUnitsQuery",
    "InterfaceBody",
    "InterfacesView",
    "MeasureRequest",
    "MeasuredView",
    "ModelBody",
    "ModelPath",
    "ModelPreview",
    "ModelView",
    "PlanView",
    "ScaleView",
    "SeenQuery",
    "ShelfQuery",
    "ShelfView",
    "UnitBody",
    "UnitPath",
    "UnitView",
]


T = TypeVar("T")


class Whole(RootModel[T], Generic[T]):
    """A thing of the core as it is; its reader is made when the first is read."""

    model_config = ConfigDict(defer_build=True)


class UnitBody(Whole[Unit]):
    """A unit as it should be."""


class ModelBody(Whole[GearModel]):
    """A model as it should be."""


class InterfaceBody(Whole[Interface]):
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


class RemoveQuery(Strict):
    """The latest change of the thing that whoever removes it has seen."""

    seen: Annotated[int, Field(ge=0, le=2**53)]


class AddUnits(Strict):
    """How many units of a model, and the label of the first."""

    model: str
    label: Annotated[str, Field(min_length=1, max_length=100, pattern=r"\S")]
    count: Annotated[int, Field(ge=1, le=200)] = 1
    owner: Literal["owned", "hired"] = "owned"


class FieldsView(Told):
    """Fields by the type that has them."""

    types: dict[str, list[FieldInfo]]


class Removed(Told):
    """What is no longer there."""

    removed: str


class InterfacePath(Strict):
    """Names an interface."""

    interface: str


class AddedUnits(Told):
    """Labels of the units that were added."""

    units: list[str]


class UnitPath(Strict):
    """Names a unit."""

    unit: str


class ImportUnitsQuery(Strict):
    """Whether the import is carried out; otherwise it only says what it would do."""

    apply: bool = False
    revision: Annotated[int, Field(ge=0, le=2**53)] | None = None
    """The revision of the shelf for which the import was shown."""


class UnitLine(Told):
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


class ShelfView(Told):
    """A page of the shelf, how many there are in all, and of each kind."""

    units: list[UnitLine]
    total: int
    kinds: dict[str, int]


class InterfacesView(Told):
    """All interfaces, with what their families are called."""

    interfaces: list[Interface]
    seen: dict[str, int]
    """The latest change of each, to be given back with the next."""
    families: dict[str, str]
    figures: dict[str, list[str]]
    """Figures that each family is told by."""


class ShelfChangeLine(Told):
    """A change of a thing on the shelf."""

    title: str
    actor: str
    at: datetime


class UnitUseLine(Told):
    """A build that a unit is in."""

    job: str
    rig: str
    build: str
    parts: int


class UnitView(Told):
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


class ModelPreview(Told):
    """A model drawn alone, what is wrong with it, and how well its figures are known."""

    elevations: tuple[Elevation, ...]
    problems: list[FieldProblem]


class ModelView(Told):
    """One model as it stands in the catalogue, drawn, with its units and history."""

    model: GearModel
    seen: int
    preview: ModelPreview
    units: list[UnitLine]
    history: list[ShelfChangeLine]


class ScaleView(Told):
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


class MeasuredView(Whole[Measured]):
    """A measured figure with one standard deviation and its working."""


class ChangeLine(Told):
    """What a line of an import would do."""

    line: int
    unit: str
    kind: Literal["new", "changed"]
    fields: list[tuple[str, str, str]]


class ErrorLine(Told):
    """What is wrong with a line of an import."""

    line: int
    column: str
    message: str


class PlanView(Told):
    """Everything an import would do, or did."""

    applied: bool
    revision: int
    changes: list[ChangeLine]
    same: int
    errors: list[ErrorLine]
