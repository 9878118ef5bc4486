"""An id of a job that somebody is not of is answered like one that nobody made up, wherever it stands: in an address,
a question or a body. Every operation that the program describes is tried, by every role.
"""

from __future__ import annotations

import copy
import json
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import timedelta
from functools import cache
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient

from lift_crate.core.crew.rights import Person
from lift_crate.core.day.custody import CardStep
from lift_crate.core.done import Done
from lift_crate.core.pack.lists import PackStep
from lift_crate.core.swaps.what_if import Made
from lift_crate.demo import demo_job_file
from lift_crate.store.cards import CardStore
from lift_crate.store.crew import CrewStore
from lift_crate.store.jobs import JobStore
from lift_crate.store.packing import PackingStore
from lift_crate.store.swaps import SwapStore
from lift_crate.web.app import create_app
from tests.kit import long_form
from tests.web.test_doors import signed_in

OWN, FOREIGN, GHOST = "dry-dock-opera", "zz-night-harbour", "zz-night-haunted"
MARK = "Zzforeign"
"""Everything that the foreign job calls something by begins with it."""
NAMES: dict[str, Any] = {
    "job": OWN, "part": "dress", "rig": "quay", "build": "quay-full", "unit": "CAGE-1", "port": "left",
    "case": "CASE-1", "unit_port": "screw", "onto": "C6-1", "onto_port": "top", "model": "hitch-arm",
    "card": "WIDE-03", "thing": "C6-1", "interface": "shoe", "pattern": "battery", "left_part": "dress",
    "right_part": "dress", "left_build": "quay-full", "right_build": "quay-full", "zone": "UTC",
    "slot": "quay · SWAP-1 · pack", "pack_in": "PACK-03",
}  # fmt: skip
"""What is told in a place of that name where no foreign id stands."""
AWAY = ("/live", "/openapi.json", "/me/password", "/me/sign-in")
"""A stream, what is the same for everybody, and where tries are counted."""
DOCUMENT: dict[str, Any] = json.loads(json.dumps(create_app(None).api_doc, default=str))
SCHEMAS = DOCUMENT["components"]["schemas"]


def values(schema: dict[str, Any], name: str = "", inside: tuple[str, ...] = ()) -> Iterator[Any]:
    """Values that a schema describes: one with everything in it, and one more for every further variant of a part."""
    if "$ref" in schema:
        kind = schema["$ref"].rpartition("/")[2]
        if kind not in inside:
            yield from values(SCHEMAS[kind], name, (*inside, kind))
    elif variants := schema.get("oneOf") or schema.get("anyOf") or schema.get("allOf"):
        for variant in variants:
            if variant.get("type") != "null":
                yield from values(variant, name, inside)
    elif schema.get("type") == "object":
        yield from _objects(schema, inside)
    elif schema.get("type") == "array":
        least = int(schema.get("minItems", 1)) or 1
        for item in values(schema.get("items") or {"type": "string"}, name.removesuffix("s"), inside):
            yield [item] * least
    else:
        yield _single(schema, name)


def _objects(schema: dict[str, Any], inside: tuple[str, ...]) -> Iterator[dict[str, Any]]:
    parts = {key: list(values(of, key, inside)) for key, of in schema.get("properties", {}).items()}
    whole = {key: found[0] for key, found in parts.items() if found}
    yield whole
    for key, found in parts.items():
        for other in found[1:]:
            yield {**whole, key: other}


def _single(schema: dict[str, Any], name: str) -> Any:
    if "const" in schema or "enum" in schema:
        return schema.get("const", schema.get("enum", [None])[0])
    match schema.get("type"), schema.get("format"):
        case "integer" | "number", _:
            return schema.get("minimum", schema.get("exclusiveMinimum", 0) + 1)
        case "boolean", _:
            return schema.get("default", False)
        case _, "date-time":
            return "2027-03-19T20:00:00Z"
        case _, "date":
            return "2027-03-20"
    return NAMES.get(name, name or "x")


def places(value: Any, at: tuple[str | int, ...] = ()) -> Iterator[tuple[str | int, ...]]:
    """Where words stand in a value."""
    if isinstance(value, str):
        yield at
    for key, inner in value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ():
        yield from places(inner, (*at, key))


def put(value: Any, at: tuple[str | int, ...], word: str) -> Any:
    """The same with another word there."""
    if not at:
        return word
    value = copy.copy(value)
    value[at[0]] = put(value[at[0]], at[1:], word)
    return value


@dataclass(frozen=True)
class Try:
    """A request in which one word is an id of a job."""

    method: str
    path: str
    query: dict[str, Any]
    body: Any
    where: str

    def by(self, client: FlaskClient, word: dict[str, str], id_: str) -> tuple[int, str]:
        """What is answered with that id."""
        path, query, body = (
            json.loads(json.dumps(each).replace("@ID@", id_)) for each in (self.path, self.query, self.body)
        )
        if isinstance(body, dict) and "version" in body:
            at = path.partition("/rigs/")
            rig = f"{at[0]}/rigs/{at[2].partition('/')[0]}" if at[1] else f"/api/jobs/{OWN}/frame"
            body["version"] = (client.get(rig).get_json() or {}).get("version", 1)
        kwargs = {} if body is None else {"json": body}
        answer = client.open(path, method=self.method, query_string=query, headers=word, **kwargs)
        if answer.content_type.partition(";")[0] not in ("application/json", "application/problem+json", "text/csv"):
            return answer.status_code, ""
        return answer.status_code, answer.get_data(as_text=True).replace(id_, "@ID@")


def tries(method: str, path: str, operation: dict[str, Any]) -> Iterator[Try]:
    """Every place of an operation where an id can stand, one at a time."""
    given = {
        q["name"]: next(values(q["schema"], q["name"]), "x")
        for q in operation.get("parameters", [])
        if q.get("in") == "path"
    }
    query = {
        q["name"]: next(values(q["schema"], q["name"]), "x")
        for q in operation.get("parameters", [])
        if q.get("in") == "query" and (q.get("required") or q["name"] in NAMES)
    }
    for name in given:
        address = path
        for other, value in given.items():
            address = address.replace("{" + other + "}", "@ID@" if other == name else str(value))
        yield Try(method, address, query, None, name)
    address = path
    for other, value in given.items():
        address = address.replace("{" + other + "}", str(value))
    for q in operation.get("parameters", []):
        if q.get("in") == "query" and next(places(next(values(q["schema"], q["name"]), 0)), None) is not None:
            yield Try(method, address, {**query, q["name"]: "@ID@"}, None, q["name"])
    content = operation.get("requestBody", {}).get("content", {})
    if "application/json" in content:
        for body in values(content["application/json"]["schema"]):
            for at in places(body):
                yield Try(method, address, query, put(body, at, "@ID@"), ".".join(map(str, at)))


@cache
def every() -> list[Try]:
    """All of them, each once."""
    found = {
        repr(each): each
        for path, methods in DOCUMENT["paths"].items()
        if not path.endswith(AWAY)
        for method, operation in methods.items()
        for each in tries(method.upper(), path, operation)
    }
    # What is looked at before it is changed.
    return sorted(found.values(), key=lambda each: each.method != "GET")


def strange(jobs: JobStore) -> None:
    """A job of other people, whose words are its own."""
    file = demo_job_file()
    job = file.job
    rigs = tuple(
        replace(r, label=f"{MARK} {r.label}", builds=tuple(replace(b, label=f"{MARK} {b.label}") for b in r.builds))
        for r in job.rigs
    )
    later = timedelta(days=364)
    parts = tuple(
        replace(p, label=f"{MARK} {p.label}", starts=p.starts + later, ends=p.ends + later) for p in job.parts
    )
    other = replace(job, id=FOREIGN, title=f"{MARK} harbour", rigs=rigs, parts=parts, plan=())
    jobs.import_file(replace(file, job=other, done=Done()))


def somebody(jobs: JobStore, role: Any) -> tuple[FlaskClient, dict[str, str]]:
    """Signed in, with a role in the own job and none in the other."""
    strange(jobs)
    app: Flask = create_app(jobs.pool)
    crew = CrewStore(jobs.pool)
    host = Person(id="", name="the house", house="lead")
    word, _ = crew.invite(host, house="lead" if role == "lead" else "member", job=OWN, role=role)
    person = crew.accept(word, "Somebody", "four words nobody says", None)
    return signed_in(app, crew, person)


@pytest.mark.parametrize(
    "role", ["lead", *(pytest.param(r, marks=long_form) for r in ("viewer", "keeper", "operator"))]
)
def test_an_id_of_another_job_is_one_that_nobody_made_up(jobs: JobStore, role: Any) -> None:
    client, said = somebody(jobs, role)
    wrong = []
    for each in every():
        ghost, foreign = (each.by(client, said, id_) for id_ in (GHOST, FOREIGN))
        told = ghost[0] // 100 == 4 and ghost[1] != foreign[1]
        if ghost[0] != foreign[0] or told or MARK in foreign[1]:
            wrong.append((each, ghost, foreign))
    assert wrong == []


def test_what_was_noted_in_another_job_is_not_taken_back_from_here(jobs: JobStore) -> None:
    """Notes are numbered over all jobs."""
    client, said = somebody(jobs, "lead")
    job, _, _ = jobs.read(FOREIGN)
    begin = job.parts[0].starts
    cards, swaps, packing = CardStore(jobs), SwapStore(jobs), PackingStore(jobs)
    card = cards.note(FOREIGN, CardStep(act="fault", card="WIDE-04", at=begin, note="slow"), "ada")
    swap = swaps.note(FOREIGN, Made(slot="quay · SWAP-1 · pack", at=begin, pack_in="PACK-03"), "ada")
    packing.note(FOREIGN, [PackStep(act="packed", thing="C6-1", case="CASE-1", at=begin)], "ada")
    pack = packing.of(FOREIGN)[-1].id
    for path, number in (("cards/steps", card), ("swaps/made", swap), ("pack/steps", pack)):
        query = {"part": "arrival"}
        there, nowhere = (
            client.delete(f"/api/jobs/{OWN}/{path}/{n}", headers=said, query_string=query) for n in (number, 987_654)
        )
        assert there.status_code == nowhere.status_code, path
    assert [n.taken_back_by for n in cards.all() if n.id == card] == [None]
    assert len(swaps.of(FOREIGN)) == 1
    assert packing.of(FOREIGN)[-1].taken_back_by is None
