"""Every device in one place: who answers at which address, and what it reads now; the label that was scanned."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from datetime import UTC, datetime

from flask import Response
from flask_openapi3.models.tag import Tag

from ..devices.line import DeviceAway, LineDevice
from ..devices.named import NAMES, Devices
from . import schema as s
from .answers import Responses, answer
from .described import PlaceApi
from .schema import Told
from .services import services

__all__ = ["api"]

api = PlaceApi(
    "devices", __name__, url_prefix="/api/devices", abp_tags=[Tag(name="devices", description="Devices beside this")]
)
_ERRORS: Responses = {404: s.ProblemView, 422: s.ProblemView, 503: s.ProblemView}


class DeviceHereView(Told):
    """A device: whether it answers, who it is, what it reads, or what is wrong and what to do without it."""

    kind: str
    variable: str
    """Of the environment that names its address."""
    address: str
    """Empty: none is named."""
    answers: bool
    name: str
    reading: str
    trouble: str


class DevicesView(Told):
    """All of them, and when they were asked."""

    at: datetime
    devices: list[DeviceHereView]


class ScannedView(Told):
    """The next label that was scanned; empty: none."""

    label: str


@dataclass(frozen=True)
class _Kind:
    variable: str
    device: Callable[[Devices], LineDevice]
    reading: Callable[[Devices], str]


def _scale(d: Devices) -> str:
    read = d.scale().read()
    return f"{read.mass_g:.1f} g{'' if read.stable else ', not at rest'}"


def _gimbal(d: Devices) -> str:
    return "tilt {:.3f}, roll {:.3f}, pan {:.3f} N·m".format(*d.gimbal().loads_nm())


def _meter(d: Devices) -> str:
    flow = d.meter().read()
    return f"{flow.volts:.2f} V, {flow.amps:.2f} A, {flow.watts:.1f} W"


def _charger(d: Devices) -> str:
    return ", ".join(f"bay {b.bay} {b.state}" for b in d.charger().bays())


def _station(d: Devices) -> str:
    return ", ".join(f"reader {r.number} {r.doing}" for r in d.station().readers())


def _weather(d: Devices) -> str:
    w = d.weather().read()
    told = ((w.temperature_c, "°C"), (w.wind_m_s, "m/s"), (w.gust_m_s, "m/s gusts"), (w.lux, "lx"))
    return ", ".join(f"{value:g} {unit}" for value, unit in told if value is not None)


_KINDS = (
    _Kind(NAMES["scale"], Devices.scale, _scale),
    _Kind(NAMES["gimbal"], Devices.gimbal, _gimbal),
    _Kind(NAMES["meter"], Devices.meter, _meter),
    _Kind(NAMES["charger"], Devices.charger, _charger),
    _Kind(NAMES["station"], Devices.station, _station),
    _Kind(NAMES["weather"], Devices.weather, _weather),
    # A label is told once: it is not asked for here, or it would be lost to who packs.
    _Kind(NAMES["reader"], Devices.reader, lambda _: "point it at a label, in Pack"),
)


@api.get("", responses={200: DevicesView, **_ERRORS}, operation_id="readDevices")
def read_devices() -> Response:
    """Every device, all asked at once; one that does not answer says so within seconds."""
    known = services().devices
    with ThreadPoolExecutor(len(_KINDS)) as pool:
        found = list(pool.map(lambda kind: _asked(known, kind), _KINDS))
    return answer(DevicesView(at=datetime.now(UTC), devices=found))


@api.get("/reader", responses={200: ScannedView, **_ERRORS}, operation_id="readScanned")
def read_scanned() -> Response:
    """The next label that was scanned by the reader on a line of its own."""
    return answer(ScannedView(label=services().devices.reader().read()))


def _asked(known: Devices, kind: _Kind) -> DeviceHereView:
    device = kind.device(known)
    named = known.named(kind.variable)
    view = DeviceHereView(
        kind=device.kind, variable=kind.variable, address=named, answers=False, name="", reading="", trouble=""
    )
    if not named:
        return view.model_copy(update={"trouble": f"None is named. Set {kind.variable}, or {device.instead}."})
    try:
        return view.model_copy(update={"answers": True, "name": device.name(), "reading": kind.reading(known)})
    except DeviceAway as error:
        return view.model_copy(update={"trouble": str(error)})
