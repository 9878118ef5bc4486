"""The weather as it is against the weather as it was planned, and what falls with it. °C, m/s, lux, EV at ISO 100."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from ..callouts import About, Finding, Input, Level, Working, by_weight
from ..job.job import Job, PartOfDay, Rig, claims_of_others
from ..job.sight import ev_of
from ..rig.build import Build, Catalogue, Conditions
from ..stand import stand_of
from ..verdict.judge import whole

__all__ = ["Falls", "Weather", "falls_in", "lux_of", "weather_findings"]


@dataclass(frozen=True, kw_only=True)
class Weather:
    """Air, mean wind, gusts and light, as far as they were read."""

    temperature_c: float | None = None
    wind_m_s: float | None = None
    gust_m_s: float | None = None
    lux: float | None = None


@dataclass(frozen=True, kw_only=True)
class Falls:
    """What stands against a camera in this weather and does not in the planned one."""

    rig: Rig
    build: Build
    findings: tuple[Finding, ...]


def lux_of(ev: float) -> float:
    """The other way round."""
    return float(2.5 * 2**ev)


def weather_findings(job: Job, part: PartOfDay, weather: Weather) -> tuple[Finding, ...]:
    """Where it is colder, windier or darker than planned by more than the settings allow, and whether it holds."""
    return by_weight([*_air(job, part, weather), *_wind(job, part, weather), *_light(job, part, weather)])


def _told(code: str, part: PartOfDay, text: str, value: float, limit: float, unit: str, working: Working) -> Finding:
    return Finding(
        code=code,
        level=Level.WATCH if (value < limit if code != "log.windier" else value > limit) else Level.CLEAR,
        about=About(units=(), port=part.id),
        text=text,
        value=value,
        limit=limit,
        unit=unit,
        working=(working,),
    )


def _compared(planned: float, now: float, unit: str, room: float) -> Working:
    return Working(
        formula="read against planned, with room",
        numbers=f"{now:.1f} {unit} against {planned:.1f} {unit}, room {room:g} {unit}",
        inputs=(
            Input(name="planned", value=f"{planned:.1f} {unit}", source="job"),
            Input(name="read", value=f"{now:.1f} {unit}", source="measured"),
            Input(name="room", value=f"{room:g} {unit}", source="setting"),
        ),
    )


def _air(job: Job, part: PartOfDay, weather: Weather) -> Iterator[Finding]:
    if weather.temperature_c is None:
        return
    planned, now, room = part.conditions.temperature_c, weather.temperature_c, job.settings.weather_room_c
    yield _told(
        "log.colder",
        part,
        f"{now:.1f} °C, {part.label} is planned at {planned:.1f} °C.",
        now,
        planned - room,
        "°C",
        _compared(planned, now, "°C", room),
    )


def _wind(job: Job, part: PartOfDay, weather: Weather) -> Iterator[Finding]:
    now = _mean_wind(job, weather)
    if now is None or part.conditions.indoors:
        return
    planned, room = part.conditions.wind_m_s, job.settings.weather_room_m_s
    gusts = f", gusts {weather.gust_m_s:.1f} m/s" if weather.gust_m_s is not None else ""
    yield _told(
        "log.windier",
        part,
        f"Wind {weather.wind_m_s or 0:.1f} m/s{gusts}; {part.label} is planned at {planned:.1f} m/s.",
        now,
        planned + room,
        "m/s",
        _compared(planned, now, "m/s", room),
    )


def _mean_wind(job: Job, weather: Weather) -> float | None:
    """The mean wind to count with: as read, or as much as would blow such gusts, whichever is more."""
    read = [w for w in (weather.wind_m_s, weather.gust_m_s and weather.gust_m_s / job.settings.gust) if w is not None]
    return max(read, default=None)


def _light(job: Job, part: PartOfDay, weather: Weather) -> Iterator[Finding]:
    planned = part.conditions.light_ev
    if weather.lux is None or planned is None:
        return
    now, room = ev_of(weather.lux), job.settings.weather_room_ev
    yield _told(
        "log.darker",
        part,
        f"{weather.lux:.0f} lx, EV {now:.1f}; {part.label} is planned at EV {planned:.1f}.",
        now,
        planned - room,
        "EV",
        _compared(planned, now, "EV", room),
    )


def conditions_in(job: Job, part: PartOfDay, weather: Weather) -> Conditions:
    """The conditions of a part with what was read in the place of what was planned.

    Light that was read at a position itself stays what it is: the station stands elsewhere.
    """
    said, wind = part.conditions, _mean_wind(job, weather)
    return replace(
        said,
        temperature_c=_within(weather.temperature_c, said.temperature_c, -40, 60),
        wind_m_s=_within(wind, said.wind_m_s, 0, 100),
        light_ev=said.light_ev if weather.lux is None else _within(ev_of(weather.lux), 0, -10, 20),
    )


def _within(read: float | None, planned: float, low: float, high: float) -> float:
    return planned if read is None else min(high, max(low, read))


def falls_in(job: Job, catalogue: Catalogue, part_id: str, weather: Weather) -> tuple[Falls, ...]:
    """By camera what stands against it in this weather that did not as it was planned; raises NotInJob."""
    part = job.part(part_id)
    now = conditions_in(job, part, weather)
    found = []
    for rig, build in sorted(job.builds_in(part_id).values(), key=lambda pair: pair[0].number):
        taken = claims_of_others(job, part_id, rig.id)
        target = job.target_of(rig, part_id)
        was = whole(stand_of(build, catalogue, part.conditions, job.settings, taken, target)).findings
        with_it = whole(stand_of(build, catalogue, now, job.settings, taken, target)).findings
        stood = {(f.key, f.level) for f in was}
        new = tuple(f for f in with_it if f.level > Level.NOTE and (f.key, f.level) not in stood)
        found.append(Falls(rig=rig, build=build, findings=new))
    return tuple(found)
