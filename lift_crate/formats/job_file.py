"""The Lift Crate job file: one JSON document with a job and all gear it refers to.

The types that validate it are the core's own dataclasses, so the published schema
(docs/job-file.schema.json) cannot drift from what is accepted.
"""

from __future__ import annotations

import json
import re
from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from itertools import islice, pairwise
from typing import Annotated, Any, Literal

from annotated_types import Len
from pydantic import TypeAdapter, ValidationError
from pydantic_core import from_json

from ..core.done import Done
from ..core.errors import BadRig, LiftCrateError
from ..core.gear.check import contradictions
from ..core.gear.interface import Interface
from ..core.gear.model import GearModel
from ..core.job.edits import job_id_of
from ..core.job.job import Job
from ..core.job.sound import Source
from ..core.rig.assembly import assemble
from ..core.rig.build import Catalogue, Unit
from ..core.rig.edits import check_bend, check_held, check_setting
from ..core.settings import STRICT
from .pictures import BadPicture, PictureInFile, picture_from_file
from .text import Problem, json_path, text_problems

__all__ = [
    "MAX_BYTES",
    "BadJobFile",
    "JobFile",
    "Problem",
    "catalogue_of",
    "check_document",
    "dump",
    "json_path",
    "json_schema",
    "parse",
    "validation_problems",
]

MAX_BYTES = 20_000_000
"""A job of dozens of cameras has some megabytes, most of it pictures; anything larger is no job file."""
MOST_TOLD = 50
"""Problems of one document that are listed."""
_JOB_ID = re.compile(r"[A-Za-z0-9][A-Za-z0-9-]{0,63}")


@dataclass(frozen=True, kw_only=True)
class JobFile:
    """A job with the interfaces, models and units it refers to."""

    __pydantic_config__ = STRICT

    format: Literal["lift-crate-job"] = "lift-crate-job"
    version: Literal[2] = 2
    job: Job
    interfaces: Annotated[tuple[Interface, ...], Len(0, 2000)] = ()
    models: Annotated[tuple[GearModel, ...], Len(0, 20_000)] = ()
    units: Annotated[tuple[Unit, ...], Len(0, 50_000)] = ()
    pictures: Annotated[tuple[PictureInFile, ...], Len(0, 2000)] = ()
    done: Done = field(default_factory=Done)
    """What was really done: cards, sources of sound, packs, packing. It stays what it was, whatever the plan says
    by now; a step that stands here already is not noted twice."""


class BadJobFile(LiftCrateError, ValueError):
    """A job file that is refused whole, with everything that is wrong with it."""

    code = "job_file.bad"

    def __init__(self, problems: Iterable[Problem]) -> None:
        every = tuple(problems)
        self.count = len(every)
        self.problems = at_most(every)

    def __str__(self) -> str:
        many = f"{self.count} problems" if self.count > 1 else "1 problem"
        return f"The job file has {many}; nothing was changed."


def at_most(problems: Sequence[Problem]) -> tuple[Problem, ...]:
    """Problems as they are listed: the first 50, and how many more there are."""
    if len(problems) <= MOST_TOLD or (len(problems) == MOST_TOLD + 1 and problems[-1].path == "$"):
        return tuple(problems)
    return (*problems[:MOST_TOLD], Problem("$", f"and {len(problems) - MOST_TOLD} more"))


_ADAPTER: TypeAdapter[JobFile] = TypeAdapter(JobFile)


def json_schema() -> dict[str, Any]:
    """JSON Schema of the job file."""
    schema = _ADAPTER.json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": "lift-crate-job-2", **schema}


def dump(file: JobFile) -> bytes:
    """A job file as JSON, fields at their defaults left out, ending in a newline."""
    return (
        _ADAPTER.dump_json(file, indent=1, exclude_defaults=True).replace(
            b"{\n", b'{\n "format": "lift-crate-job",\n "version": 2,\n', 1
        )
        + b"\n"
    )


def parse(raw: bytes) -> JobFile:
    """Read and check a job file; raises BadJobFile with every problem found."""
    if len(raw) > MAX_BYTES:
        raise BadJobFile(
            [
                Problem(
                    "$", f"the file has {len(raw) / 1e6:.1f} MB; a job file may have at most {MAX_BYTES / 1e6:.0f} MB"
                )
            ]
        )
    try:
        document = from_json(raw, allow_inf_nan=False)
    except (ValueError, RecursionError) as error:
        raise BadJobFile([Problem("$", f"this is not JSON: {error}")]) from None
    return check_document(document)


def check_document(document: object) -> JobFile:
    """Check a document already read; raises BadJobFile with every problem found."""
    if not isinstance(document, dict) or document.get("format") != "lift-crate-job":
        raise BadJobFile(
            [Problem("$.format", 'this is no Lift Crate job file; it begins with "format": "lift-crate-job"')]
        )
    if problems := list(islice(text_problems(document), MOST_TOLD + 1)):
        raise BadJobFile(problems)
    document = _named(document)
    if document.get("version") == 1:
        document = _from_version_1(document)
    if document.get("version") != 2:
        raise BadJobFile(
            [
                Problem(
                    "$.version",
                    f"version {json.dumps(document.get('version'))} cannot be read here; this program reads versions 1"
                    " and 2",
                )
            ]
        )
    try:
        file = _ADAPTER.validate_python(document)
    except ValidationError as error:
        raise BadJobFile(validation_problems(error)) from None
    if problems := list(_reference_problems(file)):
        raise BadJobFile(problems)
    return file


def _named(document: dict[str, Any]) -> dict[str, Any]:
    """The document with an id for its job, made from the title where it has none."""
    job = document.get("job")
    if isinstance(job, dict) and "id" not in job and isinstance(job.get("title"), str):
        return {**document, "job": {**job, "id": job_id_of(job["title"])}}
    return document


def _from_version_1(document: dict[str, Any]) -> dict[str, Any]:
    """The same document as version 2: a cable's data in a place of its own, rods with their figures."""

    def model(old: object) -> object:
        if not isinstance(old, dict) or "cable_length_mm" not in old:
            return old
        cable = {key.removeprefix("cable_"): old[key] for key in old if key.startswith("cable_")}
        return {**{key: value for key, value in old.items() if not key.startswith("cable_")}, "cable": cable}

    def interface(old: object) -> object:
        if isinstance(old, dict) and old.get("id") == "rods-15":
            return {"diameter_mm": 15, "spacing_mm": 60, "below_axis_mm": 85, **old}
        return old

    return {
        **document,
        "version": 2,
        "models": (
            [model(m) for m in document["models"]]
            if isinstance(document.get("models"), list)
            else document.get("models")
        ),
        "interfaces": (
            [interface(i) for i in document["interfaces"]]
            if isinstance(document.get("interfaces"), list)
            else document.get("interfaces")
        ),
    }


_TYPE_STEPS = {"Block", "Round"}


_MOST_SHOWN = 80
"""Letters of what was given; the rest is cut off."""
_SHOULD = re.compile(r"^(?!Input)[A-Z]\w+ should (?=have |match |be )")


def validation_problems(error: ValidationError, prefix: tuple[int | str, ...] = ()) -> tuple[Problem, ...]:
    """Problems of a pydantic validation, by JSON path: the first 50, and how many more."""
    problems = []
    for item in error.errors(include_url=False, include_context=False):
        steps = [step for step in item["loc"] if step not in _TYPE_STEPS]
        message = {
            "missing": "this is missing",
            "unexpected_keyword_argument": "there is no such field here",
            "finite_number": "must be a finite number (no NaN, no infinity)",
            "string_too_short": "must not be empty",
        }.get(
            item["type"],
            _SHOULD.sub("must ", item["msg"].removeprefix("Value error, ").removeprefix("Input should be ")).strip(),
        )
        seen = item.get("input")
        if item["type"] not in ("missing", "value_error", "unexpected_keyword_argument") and isinstance(
            seen, (str, int, float)
        ):
            shown = repr(seen) if len(repr(seen)) <= _MOST_SHOWN else f"{repr(seen)[:_MOST_SHOWN]}…"
            message = f"is {shown}, {message if message.startswith('must') else f'should be {message}'}"
        problems.append(Problem(json_path((*prefix, *steps)), message))
    return at_most(list(dict.fromkeys(problems)))


def catalogue_of(file: JobFile) -> Catalogue:
    """Interfaces, models and units of a file by their ids."""
    return Catalogue({i.id: i for i in file.interfaces}, {m.id: m for m in file.models}, {u.id: u for u in file.units})


def _reference_problems(file: JobFile) -> Iterator[Problem]:
    interfaces = {i.id: i for i in file.interfaces}
    models = {m.id for m in file.models}
    yield from _twice("$.interfaces", (i.id for i in file.interfaces))
    yield from _twice("$.models", (m.id for m in file.models))
    yield from _twice("$.units", (u.id for u in file.units))
    missing = False
    for i, model in enumerate(file.models):
        for wrong in contradictions(model, interfaces):
            missing = missing or wrong.field == "interface"
            yield Problem(f"$.models[{i}].ports[{wrong.port}].{wrong.field}", wrong.message)
    for i, unit in enumerate(file.units):
        if unit.model not in models:
            missing = True
            yield Problem(f"$.units[{i}].model", f"there is no model '{unit.model}' in this file")
    yield from _name_problems(file.job)
    yield from _plan_problems(file.job)
    yield from _charging_problems(file)
    yield from _picture_problems(file)
    yield from _box_problems(file)
    yield from _sound_problems(file)
    yield from _money_problems(file)
    yield from _pack_problems(file)
    yield from _permission_problems(file.job)
    yield from _done_problems(file)
    if not missing:
        yield from _build_problems(file.job, catalogue_of(file))


def _twice(path: str, ids: Iterable[str]) -> Iterator[Problem]:
    for name, count in Counter(ids).items():
        if count > 1:
            yield Problem(path, f"'{name}' stands {count} times; give each its own id")


def _name_problems(job: Job) -> Iterator[Problem]:
    if not _JOB_ID.fullmatch(job.id):
        yield Problem(
            "$.job.id",
            f"is '{job.id[:80]}'; letters, digits and hyphens, 64 at most, as in '{job_id_of(job.title)}'; leave it out"
            " to have it made from the title",
        )
    things = {thing.id for thing in job.venue.things}
    for i, part in enumerate(job.parts):
        for k, moment in enumerate(part.moments):
            if moment.thing and moment.thing not in things:
                yield Problem(
                    f"$.job.parts[{i}].moments[{k}].thing", f"there is no '{moment.thing}' on the plan of the venue"
                )
    for i, rig in enumerate(job.rigs):
        for name in rig.place.sees if rig.place else ():
            if name not in things:
                yield Problem(f"$.job.rigs[{i}].place.sees", f"there is no '{name}' on the plan of the venue")
        for move in rig.target.moves if rig.target else ():
            if move not in job.settings.moves:
                yield Problem(
                    f"$.job.rigs[{i}].target.moves",
                    f"there is no kind of move '{move}' in the settings; there are: {', '.join(job.settings.moves)}",
                )


def _plan_problems(job: Job) -> Iterator[Problem]:
    yield from _twice("$.job.parts", (p.id for p in job.parts))
    yield from _twice("$.job.rigs", (r.id for r in job.rigs))
    yield from _twice("$.job.rigs[*].number", (str(r.number) for r in job.rigs))
    yield from _twice("$.job.rigs[*].builds", (b.id for r in job.rigs for b in r.builds))
    yield from _twice("$.job.plan", (f"{a.part} / {a.rig}" for a in job.plan))
    parts = {p.id for p in job.parts}
    builds: Mapping[str, set[str]] = {r.id: {b.id for b in r.builds} for r in job.rigs}
    for i, a in enumerate(job.plan):
        if a.part not in parts:
            yield Problem(f"$.job.plan[{i}].part", f"there is no part of the day '{a.part}'")
        if a.rig not in builds:
            yield Problem(f"$.job.plan[{i}].rig", f"there is no rig '{a.rig}'")
        elif a.build not in builds[a.rig]:
            yield Problem(f"$.job.plan[{i}].build", f"rig '{a.rig}' has no build '{a.build}'")
    ordered = sorted(enumerate(job.parts), key=lambda pair: pair[1].starts)
    for (_, before), (i, after) in pairwise(ordered):
        if after.starts < before.ends:
            yield Problem(f"$.job.parts[{i}].starts", f"'{after.id}' starts before '{before.id}' ends")


def _charging_problems(file: JobFile) -> Iterator[Problem]:
    units, models = {u.id: u for u in file.units}, {m.id: m for m in file.models}
    rigs = {r.id for r in file.job.rigs}
    plan = file.job.charging
    for i, place in enumerate(plan.chargers):
        unit = units.get(place.unit)
        model = models.get(unit.model) if unit else None
        if unit is None:
            yield Problem(f"$.job.charging.chargers[{i}].unit", f"there is no unit '{place.unit}' in this file")
        elif model and model.charger is None:
            yield Problem(
                f"$.job.charging.chargers[{i}].unit",
                f"'{place.unit}' is a {model.kind} and charges nothing; name a charger",
            )
    yield from _twice("$.job.charging.chargers", (place.unit for place in plan.chargers))
    for rig in plan.walk_min:
        if rig not in rigs:
            yield Problem("$.job.charging.walk_min", f"there is no rig '{rig}'")


def _picture_problems(file: JobFile) -> Iterator[Problem]:
    for i, picture in enumerate(file.pictures):
        try:
            picture_from_file(picture)
        except BadPicture as error:
            yield Problem(f"$.pictures[{i}]", str(error))


def _box_problems(file: JobFile) -> Iterator[Problem]:
    units, parts = {u.id for u in file.units}, {p.id for p in file.job.parts}
    for i, box in enumerate(file.job.charging.boxes):
        if box.unit not in units:
            yield Problem(f"$.job.charging.boxes[{i}].unit", f"there is no unit '{box.unit}' in this file")
        for part in box.parts:
            rig = next((r.label for r, build in file.job.builds_in(part).values() if box.unit in build.units), None)
            if rig:
                yield Problem(
                    f"$.job.charging.boxes[{i}].unit",
                    f"'{box.unit}' is in {rig} in '{part}' already; a unit is in one place at a time",
                )
        for part in box.parts:
            if part not in parts:
                yield Problem(f"$.job.charging.boxes[{i}].parts", f"there is no part of the day '{part}'")


def _money_problems(file: JobFile) -> Iterator[Problem]:
    models = {m.id for m in file.models}
    for i, want in enumerate(file.job.money.wants):
        if want.model not in models:
            yield Problem(f"$.job.money.wants[{i}].model", f"there is no model '{want.model}' in this file")


def _permission_problems(job: Job) -> Iterator[Problem]:
    parts = {p.id for p in job.parts}
    for i, one in enumerate(job.safety.permissions):
        for part in one.parts:
            if part not in parts:
                yield Problem(f"$.job.safety.permissions[{i}].parts", f"there is no part of the day '{part}'")


def _pack_problems(file: JobFile) -> Iterator[Problem]:
    models = {m.id: m for m in file.models}
    units = {u.id: u.model for u in file.units}
    rigs = {rig.id for rig in file.job.rigs}
    for i, case in enumerate(file.job.pack.cases):
        at = f"$.job.pack.cases[{i}]"
        model = models.get(units.get(case.unit, ""))
        if model is None:
            yield Problem(f"{at}.unit", f"there is no unit '{case.unit}' in this file")
        elif model.case is None:
            yield Problem(f"{at}.unit", f"'{case.unit}' is no case: its model has no inside measures")
        if case.stays_with and case.stays_with not in rigs:
            yield Problem(f"{at}.stays_with", f"there is no rig '{case.stays_with}'")


def _done_problems(file: JobFile) -> Iterator[Problem]:
    units = {u.id for u in file.units}
    for i, step in enumerate(file.done.cards):
        path = f"$.done.cards[{i}]"
        if (step.act == "in") != (step.unit is not None and step.slot is not None):
            yield Problem(path, "'unit' and 'slot' are given where a card goes in, both of them, and nowhere else")
        yield from _happened(path, step.at, {"card": step.card, "unit": step.unit}, units)
    for i, sound in enumerate(file.done.sound):
        yield from _happened(f"$.done.sound[{i}]", sound.at, {}, units)
    for i, swap in enumerate(file.done.swaps):
        path = f"$.done.swaps[{i}]"
        if swap.pack_in == swap.pack_out:
            yield Problem(path, f"'{swap.pack_in}' goes out and in; name the pack that went in")
        yield from _happened(path, swap.at, {"pack_in": swap.pack_in, "pack_out": swap.pack_out}, units)
    for i, packing in enumerate(file.done.packing):
        yield from _happened(f"$.done.packing[{i}]", packing.at, {}, units)
    for i, entry in enumerate(file.done.log):
        yield from _happened(f"$.done.log[{i}]", entry.at, {"unit": entry.unit or None}, units)
    yield from _twice("$.done.log", (entry.id for entry in file.done.log))
    yield from _twice("$.done.swaps", (f"{swap.slot} at {swap.at}" for swap in file.done.swaps))


def _happened(path: str, at: datetime, named: Mapping[str, str | None], units: Collection[str]) -> Iterator[Problem]:
    if at.tzinfo is None:
        yield Problem(f"{path}.at", "give the time with a time zone, as in 2027-03-20T19:30:00+00:00")
    for place, unit in named.items():
        if unit is not None and unit not in units:
            yield Problem(f"{path}.{place}", f"there is no unit '{unit}' in this file")


def _sound_problems(file: JobFile) -> Iterator[Problem]:
    units, plugs = {u.id for u in file.units}, {i.id for i in file.interfaces}
    parts, things = {p.id for p in file.job.parts}, {t.id for t in file.job.venue.things}
    for i, said in enumerate(file.job.sound.sync):
        if said.unit not in units:
            yield Problem(f"$.job.sound.sync[{i}].unit", f"there is no unit '{said.unit}' in this file")
    for v, voice in enumerate(file.job.sound.voices):
        path = f"$.job.sound.voices[{v}]"
        yield from (
            Problem(f"{path}.parts", f"there is no part of the day '{p}'") for p in voice.parts if p not in parts
        )
        if voice.thing and voice.thing not in things:
            yield Problem(f"{path}.thing", f"there is no '{voice.thing}' on the plan")
        for k, source in enumerate(voice.sources):
            yield from _source_problems(f"{path}.sources[{k}]", source, units, plugs)
            if not voice.wearer and (source.pocket or source.clip):
                yield Problem(f"{path}.wearer", f"'{source.label}' is clipped to somebody; name who wears it")


def _source_problems(path: str, source: Source, units: Collection[str], plugs: Collection[str]) -> Iterator[Problem]:
    for unit in source.units:
        if unit not in units:
            yield Problem(f"{path}.units", f"there is no unit '{unit}' in this file")
    for plug in source.plugs:
        if plug not in plugs:
            yield Problem(f"{path}.plugs", f"there is no interface '{plug}' in this file")


def _build_problems(job: Job, catalogue: Catalogue) -> Iterator[Problem]:
    for r, rig in enumerate(job.rigs):
        for b, build in enumerate(rig.builds):
            path = f"$.job.rigs[{r}].builds[{b}]"
            unknown = [unit for unit in build.units if unit not in catalogue.units]
            for unit in unknown:
                yield Problem(path, f"there is no unit '{unit}' in this file")
            if unknown:
                continue
            try:
                assemble(build, catalogue)
                for setting in (*build.settings, *(s for p in build.presets for s in p.settings)):
                    check_setting(build, setting, catalogue)
                for bend in build.bends:
                    check_bend(build, bend, catalogue)
                check_held(build, catalogue)
            except BadRig as error:
                yield Problem(path, str(error))
