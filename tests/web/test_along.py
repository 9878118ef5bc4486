"""A job as one page: all of it is on it, nothing of it asks for anything else, and no name becomes part of the page."""

from __future__ import annotations

import re
from html.parser import HTMLParser
from typing import Any

from flask.testing import FlaskClient
from markupsafe import escape

JOB = "/api/jobs/dry-dock-opera"


class Outside(HTMLParser):
    """What a page would fetch or run."""

    def __init__(self) -> None:
        super().__init__()
        self.found: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if tag in {"script", "link", "img", "iframe", "object", "embed"}:
            self.found.append(tag)
        self.found += [f"{name}={value}" for name, value in attrs if name in {"src", "href"} and str(value)[:1] != "#"]
        self.found += [name for name, _ in attrs if name.startswith("on")]


def page(client: FlaskClient, who: str = "") -> str:
    answer = client.get(f"{JOB}/along.html", query_string={"who": who})
    assert answer.status_code == 200, answer.get_data(as_text=True)
    assert answer.headers["Content-Disposition"].startswith("attachment")
    return answer.get_data(as_text=True)


def test_everybody_s_page_has_every_planned_rig_and_a_person_s_his_own(client: FlaskClient) -> None:
    frame: Any = client.get(f"{JOB}/frame").json
    plan, rigs = frame["job"]["plan"], {r["id"]: r for r in frame["job"]["rigs"]}
    labels = {b["id"]: b["label"] for r in rigs.values() for b in r["builds"]}

    def heads(text: str) -> set[str]:
        return set(re.findall(r'<section id="rig-\d+">\s*<h2>([^<]+)</h2>', text))

    def wanted(who: str | None) -> set[str]:
        return {
            f"{rigs[a['rig']]['number']} {rigs[a['rig']]['label']}, {labels[a['build']]}"
            for a in plan
            if who is None or a.get("operator") == who
        }

    whole = page(client)
    assert heads(whole) == wanted(None)
    people: Any = client.get(JOB).json
    for who in people["people"]:
        assert heads(page(client, who)) == wanted(who)
    sheet: Any = client.get(f"{JOB}/parts/act-3/rigs/stage-rail/sheet").json
    for step in sheet["build"]:
        assert f"<b>{step['number']} {step['unit']}</b>" in whole
    balance: Any = client.get(f"{JOB}/parts/act-3/rigs/stage-rail/balance").json
    assert all(f"<b>{c['number']} {c['title']}</b>" in whole for c in balance["gimbal"]["cards"])
    safety: Any = client.get(f"{JOB}/safety").json
    for sheet in safety["sheets"]:
        assert all(escape(line["finding"]["text"]) in whole for line in sheet["lines"])
    floor = next(s for s in safety["sheets"] if s["rig"] == "dock-floor")
    own = {a.get("operator") for a in plan if a["rig"] == "dock-floor"}
    other = next(a["operator"] for a in plan if a.get("operator") and a["operator"] not in own)
    theirs = escape(floor["lines"][0]["finding"]["text"])
    assert theirs not in page(client, other), "of another camera"
    outside = Outside()
    outside.feed(whole)
    assert outside.found == []
    assert client.get(f"{JOB}/along.html?who=Nobody").status_code == 404


def test_names_that_look_like_a_page_stay_names(client: FlaskClient) -> None:
    name = "<script>alert(1)</script>"
    frame: Any = client.get(f"{JOB}/frame").json
    rig = frame["job"]["rigs"][0]["id"]
    edits = [
        {"op": "change job", "title": name},
        {"op": "change camera", "rig": rig, "label": f"<img src=x onerror=alert(1)> {'&' * 3}"},
    ]
    answer = client.post(f"{JOB}/edits", json={"version": frame["version"], "operations": edits})
    assert answer.status_code == 200, answer.get_data(as_text=True)
    text = page(client)
    outside = Outside()
    outside.feed(text)
    assert outside.found == []
    assert "&lt;script&gt;alert(1)&lt;/script&gt;" in text
