"""A crew at work: some edit, many more look on. What each edit takes, when others see it, and what memory does."""

from __future__ import annotations

import http.client
import json
import random
import selectors
import socket
import statistics
import subprocess
import threading
import time
import urllib.request
from collections import Counter, defaultdict
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import JobFile
from lift_crate.store.database import open_pool
from lift_crate.store.jobs import JobStore
from tests.conftest import LiveServer
from tests.perf.bench import wide_day

__all__ = ["Crowd", "wide_job"]


def wide_job(url: str) -> str:
    """Twelve cameras in ten parts, in a database that has none of it; the id of the job."""
    job, shelf = wide_day()
    file = JobFile(
        job=job,
        interfaces=tuple(shelf.interfaces.values()),
        models=tuple(shelf.models.values()),
        # What charges and records beside the cameras is the demo's own.
        units=(*shelf.units.values(), *demo_job_file().units),
    )
    with open_pool(url, size=1) as pool:
        JobStore(pool).import_file(file)
    return job.id


_PARTS = 10


def _something(bench: Any, chance: random.Random) -> dict[str, Any]:
    """A small edit that leaves the rig as good as it was: a part slid by a millimetre, or turned."""
    slid = [r for r in bench["rows"] if r["slides"] and r["slides"]["max_mm"] - r["slides"]["min_mm"] > 2]
    if not slid:
        return {"op": "turn", "unit": chance.choice([r for r in bench["rows"] if r["turns"]])["unit"]}
    one = chance.choice(slid)
    step = 1 if one["slide_mm"] + 1 <= one["slides"]["max_mm"] and chance.random() < 0.5 else -1
    step = step if one["slide_mm"] + step >= one["slides"]["min_mm"] else 1
    return {"op": "slide", "unit": one["unit"], "to_mm": one["slide_mm"] + step}


@dataclass
class Crowd:
    """So many people at a server: editors, one edit of each in ``every_s``, and listeners."""

    server: LiveServer
    job: str
    editors: int
    listeners: int
    every_s: float
    edits_ms: list[float] = field(default_factory=list)
    seen_ms: list[float] = field(default_factory=list)
    strips_ms: list[float] = field(default_factory=list)
    statuses: Counter[int] = field(default_factory=Counter)
    heard: defaultdict[int, list[int]] = field(default_factory=lambda: defaultdict(list))
    """By listener the numbers of edits that it was told, in the order of their coming."""
    memory_mb: list[float] = field(default_factory=list)

    def work(self, seconds: float) -> None:
        """Let them work for so long; then what was told last is waited for."""
        self._over = threading.Event()
        with urllib.request.urlopen(f"{self.server.address}/api/jobs/{self.job}") as answer:  # noqa: S310 - our own loopback address
            for rig in json.load(answer)["rigs"]:
                for part, build in rig["plan"].items():
                    self._planned.setdefault(build, set()).add(part)
        # What is seen for the first time is judged for the first time; that is no part of a night.
        self._warm = time.monotonic() + min(20.0, seconds / 4)
        listening = threading.Thread(target=self._listen)
        listening.start()
        self._ready.wait(60)
        ends = time.monotonic() + seconds
        people = [threading.Thread(target=self._edit, args=(n, ends)) for n in range(self.editors)]
        for each in people:
            each.start()
        while time.monotonic() < ends:
            self.memory_mb.append(self._memory())
            time.sleep(min(5.0, max(0.1, ends - time.monotonic())))
        for each in people:
            each.join()
        time.sleep(3)
        self._over.set()
        listening.join()

    _warm: float = 0.0
    _over: threading.Event = field(default_factory=threading.Event)
    _ready: threading.Event = field(default_factory=threading.Event)

    def told(self) -> dict[str, Any]:
        """What was measured, in words."""

        def at(values: list[float], share: float) -> str:
            return f"{statistics.quantiles(values, n=100)[round(share * 100) - 1]:.0f}" if len(values) > 1 else "-"

        sixth = max(1, len(self.memory_mb) // 6)
        memory = [
            statistics.mean(self.memory_mb[i : i + sixth]) for i in range(0, sixth * 6, sixth) if self.memory_mb[i:]
        ]
        return {
            "edits": sum(self.statuses.values()),
            "answers": dict(self.statuses),
            "edit ms p50": at(self.edits_ms, 0.5),
            "edit ms p95": at(self.edits_ms, 0.95),
            "seen by others ms p50": at(self.seen_ms, 0.5),
            "seen by others ms p95": at(self.seen_ms, 0.95),
            "cameras of all ms p95": at(self.strips_ms, 0.95),
            "memory MB by sixths of the time": " ".join(f"{mb:.0f}" for mb in memory),
        }

    def _edit(self, number: int, ends: float) -> None:
        chance = random.Random(number)  # noqa: S311 - no secret
        link = http.client.HTTPConnection("127.0.0.1", self.server.port, timeout=60)

        def ask(method: str, path: str, body: Any = None) -> tuple[int, Any]:
            link.request(method, path, json.dumps(body) if body else None, {"Content-Type": "application/json"})
            answer = link.getresponse()
            return answer.status, json.loads(answer.read())

        frame = ask("GET", f"/api/jobs/{self.job}")[1]
        rig = frame["rigs"][number % len(frame["rigs"])]
        part = frame["parts"][number % len(frame["parts"])]["id"]
        at = f"/api/jobs/{self.job}/parts/{part}/rigs/{rig['id']}"
        bench = ask("GET", at)[1]
        time.sleep(chance.uniform(0, self.every_s))
        while time.monotonic() < ends:
            if self._versions.get(bench["build"], 0) > bench["version"]:
                bench = ask("GET", at)[1]  # as a window does that has heard of another's edit
            body = {"version": bench["version"], "operations": [_something(bench, chance)]}
            began = time.monotonic()
            status, came = ask("POST", f"{at}/edits", body)
            if began > self._warm:
                self.edits_ms.append((time.monotonic() - began) * 1000)
            self.statuses[status] += 1
            bench = came if status == 200 else came.get("current") or ask("GET", at)[1]
            time.sleep(max(0.0, self.every_s - (time.monotonic() - began)))
        link.close()

    _versions: dict[str, int] = field(default_factory=dict)
    """The latest version of each build that was heard of."""
    _planned: dict[str, set[str]] = field(default_factory=dict)
    """Parts of the day by build."""

    def _listen(self) -> None:
        chooser, rest = selectors.DefaultSelector(), dict[int, bytes]()
        waits = dict[int, float]()
        for n in range(self.listeners):
            line = socket.create_connection(("127.0.0.1", self.server.port), timeout=60)
            line.sendall(
                f"GET /api/jobs/{self.job}/live?tab=listener-{n:04d}&part=part-{n % _PARTS} HTTP/1.1\r\n"
                f"Host: 127.0.0.1:{self.server.port}\r\n\r\n".encode()
            )
            line.setblocking(False)
            chooser.register(line, selectors.EVENT_READ, n)
            rest[n] = b""
        self._ready.set()
        while not self._over.is_set():
            for key, _ in chooser.select(0.2):
                n, way = key.data, key.fileobj
                assert isinstance(way, socket.socket)
                data = way.recv(1 << 18)
                now = datetime.now(UTC)
                if not data:
                    chooser.unregister(way)
                    continue
                rest[n] += data
                while b"\n\n" in rest[n]:
                    event, _, rest[n] = rest[n].partition(b"\n\n")
                    self._hear(n, event, now, waits)
        for key in list(chooser.get_map().values()):
            assert isinstance(key.fileobj, socket.socket)
            key.fileobj.close()
        chooser.close()

    def _hear(self, n: int, event: bytes, now: datetime, waits: dict[int, float]) -> None:
        if b"event: happening" in event:
            says = json.loads(event[event.index(b"data: ") + 6 :].split(b"\n")[0])
            if says["kind"] == "build" and says["actor"] == "bench":
                self.heard[n].append(says["id"])
                self._versions[says["thing"]] = max(self._versions.get(says["thing"], 0), says["version"])
                at = datetime.fromisoformat(says["at"])
                if time.monotonic() < self._warm:
                    return
                self.seen_ms.append((now - at).total_seconds() * 1000)
                if f"part-{n % _PARTS}" in self._planned.get(says["thing"], ()):
                    waits.setdefault(n, at.timestamp())
        elif b"event: strips" in event and n in waits:
            self.strips_ms.append((now.timestamp() - waits.pop(n)) * 1000)

    def _memory(self) -> float:
        """Of the server's processes, each its own pages only."""
        assert self.server.process
        found = subprocess.run(["ps", "-eo", "pid=,ppid="], capture_output=True, text=True, check=True).stdout
        children = defaultdict(list)
        for line in found.splitlines():
            pid, parent = map(int, line.split())
            children[parent].append(pid)
        every, row = [], [self.server.process.pid]
        while row:
            every.append(row[0])
            row = [*row[1:], *children[row[0]]]
        total = 0
        for pid in every:
            try:
                told = Path(f"/proc/{pid}/smaps_rollup").read_text()
            except OSError:
                continue
            total += sum(int(x.split()[1]) for x in told.splitlines() if x.startswith("Pss:"))
        return total / 1000
