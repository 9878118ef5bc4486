"""What others do is told to every window, once each, also to one that was cut off; and to nobody who may not look."""

from __future__ import annotations

import json
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from queue import Empty, Queue
from threading import Thread
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient

from lift_crate.core.crew.rights import Person
from lift_crate.store.crew import CrewStore
from lift_crate.store.jobs import JobStore
from lift_crate.web.app import create_app
from lift_crate.web.doors import COOKIE, WORD

JOB = "dry-dock-opera"
LIVE = f"/api/jobs/{JOB}/live"
QUAY = f"/api/jobs/{JOB}/parts/acts-1-2/rigs/quay"
OFF = [{"op": "attach", "unit": "CW-3", "unit_port": "screw", "onto": "CAGE-1", "onto_port": "left"}]


@pytest.fixture
def client(jobs: JobStore) -> FlaskClient:
    """Of an application of the test's own: one that was over another database a moment ago may listen there still."""
    return create_app(jobs.pool, nobody_signs_in=True).test_client()


class Window:
    """A window that listens in a thread of its own."""

    def __init__(self, client: FlaskClient, tab: str, query: str = "") -> None:
        self.answer = client.get(f"{LIVE}?tab={tab}&part=acts-1-2&rig=quay{query}", buffered=False)
        assert self.answer.status_code == 200, self.answer.get_data(as_text=True)
        self.told: Queue[tuple[str, Any]] = Queue()
        self.ended = False
        self._lines = self.answer.iter_encoded()
        self._thread = Thread(target=self._read, daemon=True)
        self._thread.start()

    def _read(self) -> None:
        for raw in self._lines:
            if self.ended:
                break
            fields = dict(line.split(": ", 1) for line in raw.decode().strip().splitlines())
            if "event" in fields and fields["event"] != "beat":
                self.told.put((fields["event"], json.loads(fields["data"])))
        self.answer.close()
        self.ended = True

    def until(self, kind: str, fits: Callable[[Any], bool] = bool) -> Any:
        while True:
            found, says = self.told.get(timeout=20)
            if found == kind and fits(says):
                return says

    def close(self) -> None:
        self.ended = True
        self._thread.join(timeout=10)


@pytest.fixture
def window(client: FlaskClient) -> Iterator[Callable[..., Any]]:
    opened: list[Window] = []

    @contextmanager
    def open_one(tab: str, query: str = "") -> Iterator[Window]:
        opened.append(Window(client.application.test_client(), tab, query))
        yield opened[-1]
        opened[-1].close()

    yield open_one
    for each in opened:
        each.close()


def edit(client: FlaskClient, undo: bool = False) -> Any:
    bench: Any = client.get(QUAY).json
    version = bench["version"]
    body = {"version": version} if undo else {"version": version, "operations": OFF}
    answer = client.post(f"{QUAY}/{'undo' if undo else 'edits'}", json=body, headers={"X-Browser": "its-doer"})
    assert answer.status_code == 200, answer.get_data(as_text=True)
    return answer.json


def test_an_edit_is_told_with_who_and_what_and_the_strips_come_with_it(client: FlaskClient, window: Any) -> None:
    with window("window-one") as first:
        first.until("here")
        after = edit(client)
        told = first.until("happening")
        assert (told["kind"], told["thing"], told["version"]) == ("build", after["build"], after["version"])
        assert (told["actor"], told["browser"]) == ("bench", "its-doer")
        assert "CW-3" in told["title"]
        assert first.until("strips") == json.loads(json.dumps(after["day"])), "as the one who edited it sees them"
        with window("window-two") as second:
            assert [w["tab"] for w in second.until("here", lambda w: len(w) > 1)] == ["window-one", "window-two"]
            assert first.until("looking", lambda w: w["tab"] == "window-two")["rig"] == "quay"
            moved = {"tab": "window-two", "part": "load-out", "rig": "crane", "place": "power"}
            assert client.post(f"/api/jobs/{JOB}/looking", json=moved).status_code == 204
            assert first.until("looking", lambda w: w["rig"] == "crane")["place"] == "power"
        assert first.until("looking", lambda w: w["gone"])["tab"] == "window-two"
        with window("window-three"):
            first.until("looking", lambda w: w["tab"] == "window-three")
            closed = {"tab": "window-three", "gone": True}
            assert client.post(f"/api/jobs/{JOB}/looking", json=closed).status_code == 204
            assert first.until("looking", lambda w: w["gone"])["tab"] == "window-three"


def test_whoever_was_cut_off_is_told_what_he_missed_and_where_it_is_too_much_comes_anew(
    client: FlaskClient, window: Any, jobs: JobStore
) -> None:
    edit(client)
    with window("window-one") as first:
        last = first.until("happening", lambda h: h["kind"] == "build")["id"]
        assert first.until("here"), "what happened just before is told to a page that is just opening"
    missed = [edit(client, undo=True)["version"]]
    client.post(
        f"/api/jobs/{JOB}/cards/steps",
        json={"act": "fault", "card": "WIDE-03", "at": "2027-03-20T19:20", "note": "bent"},
    )
    with window("window-one", f"&after={last}") as again:
        again.until("ready")
        seen = [again.until("happening")]
        while seen[-1]["kind"] != "cards":
            seen.append(again.until("happening"))
        assert [s["version"] for s in seen if s["id"] > last and s["kind"] == "build"] == missed
        assert [s["kind"] for s in seen if s["id"] > last] == ["build", "cards"]
        assert any(s["id"] <= last for s in seen), "what may have been given its number before is told again"
    with window("window-one", f"&after={last + 1000}") as other:
        other.until("anew")
    with jobs.pool.connection() as connection:
        connection.execute("SELECT tell(%s, 'cards', 'x', 0, '', '') FROM generate_series(1, 600)", (JOB,))
    with window("window-one", f"&after={last}") as late:
        late.until("anew")
    with jobs.pool.connection() as connection:
        connection.execute("SELECT tell('other', 'cards', 'x', 0, '', '') FROM generate_series(1, 6000)")
        row = connection.execute("SELECT count(*) AS n FROM happening").fetchone()
    assert (row or {"n": 9999})["n"] <= 5500, "what is told is not kept for ever"
    assert client.get(f"{LIVE}?tab=x").status_code == 422
    assert client.get("/api/jobs/ghost/live?tab=window-one").status_code == 404


def test_what_happens_while_a_window_comes_is_told_to_it_once(
    client: FlaskClient, window: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    live = client.application.extensions["lift_crate"].live
    was = live.since

    def since(job: str, after: int | None) -> Any:
        # The window is open and has not been told yet where things stand.
        monkeypatch.setattr(live, "since", was)
        edit(client)
        ends = time.monotonic() + 20
        while not any(w.waiting.qsize() for w in live._windows) and time.monotonic() < ends:
            time.sleep(0.02)
        return was(job, after)

    with window("window-one") as first:
        first.until("here")
        monkeypatch.setattr(live, "since", since)
        with window("window-two") as second:
            again = second.until("happening", lambda h: h["kind"] == "build")
            client.post(
                f"/api/jobs/{JOB}/cards/steps",
                json={"act": "fault", "card": "WIDE-03", "at": "2027-03-20T19:20", "note": "bent"},
            )
            assert second.until("happening", lambda h: h["id"] >= again["id"])["kind"] == "cards"


def test_nobody_is_told_who_may_not_look_any_more(jobs: JobStore) -> None:
    app: Flask = create_app(jobs.pool)
    crew = CrewStore(jobs.pool)
    house = Person(id="", name="the house", house="lead")

    def come(name: str) -> tuple[Person, FlaskClient, dict[str, str]]:
        word, _ = crew.invite(house, house="member", job=JOB, role="viewer" if name != "Lead" else "lead")
        person = crew.accept(word, name, "four words nobody says", None)
        client = app.test_client()
        token = crew.begin(person, "a browser", "127.0.0.1").token
        client.set_cookie(COOKIE, token)
        session = crew.session(token)
        assert session
        return person, client, {WORD: session.word}

    _, lead, word = come("Lead")
    viewer, eyes, _ = come("Eyes")
    window = Window(eyes, "window-one")
    assert [w["name"] for w in window.until("here")] == ["Eyes"]
    answer = lead.post(f"/api/jobs/{JOB}/crew", json={"account": viewer.id, "role": None}, headers=word)
    assert answer.status_code == 200, answer.get_data(as_text=True)
    window.until("shut", lambda _: True)
    with pytest.raises(Empty):
        window.told.get(timeout=0.3)
    assert eyes.get(f"{LIVE}?tab=window-one").status_code == 404
    assert app.test_client().get(f"{LIVE}?tab=window-one").status_code == 401


def test_what_is_sent_twice_under_one_word_is_taken_once(client: FlaskClient) -> None:
    step = {"act": "in", "card": "WIDE-03", "at": "2027-03-20T19:20", "unit": "C6-1", "slot": "slot-1"}
    word = {"X-Once": "one-word-of-many"}
    refused = client.post(f"/api/jobs/{JOB}/cards/steps", json={**step, "slot": "slot-9"}, headers=word)
    assert refused.status_code == 422, "what is refused has not used its word up"
    assert client.post(f"/api/jobs/{JOB}/cards/steps", json=step, headers=word).status_code == 200
    for _ in range(2):
        again = client.post(f"/api/jobs/{JOB}/cards/steps", json=step, headers=word)
        assert again.status_code == 208, again.get_data(as_text=True)
    view: Any = client.get(f"/api/jobs/{JOB}/cards").json
    assert [s["act"] for c in view["cards"] for s in c["steps"]] == ["in"]
    assert client.post(f"/api/jobs/{JOB}/cards/steps", json=step, headers={"X-Once": "no"}).status_code == 422
