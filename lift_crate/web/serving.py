"""The web server: several processes of light threads, so that a slow client holds nobody but himself.

``python -m lift_crate.web.serving PORT WORKERS [HELD]`` serves what DATABASE_URL names on loopback, with
``--tls CERTIFICATE KEY`` in the place of HELD to the network. A worker makes
everything that waits wait lightly before it loads the application; so nothing of that is loaded here,
only what computes and never waits. HELD is a pipe: the server listens when its other end is closed.
"""

from __future__ import annotations

import json
import os
import ssl
import sys
from collections.abc import Callable
from typing import TYPE_CHECKING, Any, TypeVar

import gevent
from gunicorn import util
from gunicorn.app.base import BaseApplication
from gunicorn.workers.ggevent import GeventWorker

if TYPE_CHECKING:
    from flask import Flask

    from ..store.crew import Aside

R = TypeVar("R")

__all__ = ["serve"]

_REQUEST_S = 45.0
"""Until an answer is sent, from the moment its request has begun to
arrive whole; the rest of it has so long to come.
"""
_STREAM_S = 600.0
"""Until a stream of what others do is ended; it ends by itself before."""
_IDLE_S = 15
"""Until the head of a request has come, and between two requests of one connection."""
_CONNECTIONS = 400
_LOOKED_AT = 6
"""Jobs, and parts of their days, that a worker looks at before anybody asks."""


_HASHED_AT_ONCE, _HASHES_WAIT = 2, 12
"""Passwords that a worker looks at beside each other, and that wait for it; who comes then comes again."""


def off_the_loop() -> Aside:
    """In a worker: what computes long is done in threads of the system, so that no other request waits for it."""
    from gevent.threadpool import ThreadPool  # noqa: PLC0415 - of this worker's own loop

    from ..store.crew import Aside, TooManyTries  # noqa: PLC0415 - loaded in the worker

    threads = ThreadPool(_HASHED_AT_ONCE)

    class OffTheLoop(Aside):
        waiting = 0

        def __call__(self, work: Callable[[], R]) -> R:
            if self.waiting >= _HASHED_AT_ONCE + _HASHES_WAIT:
                raise TooManyTries(2.0, "Many are signing in at once.")
            self.waiting += 1
            try:
                result: R = threads.apply(work)
                return result
            finally:
                self.waiting -= 1

    return OffTheLoop()


class LightWorker(GeventWorker):  # type: ignore[misc]
    """A worker in which every request has an end."""

    def handle_request(self, listener_name: Any, req: Any, sock: Any, addr: Any) -> None:  # noqa: ANN401 - gunicorn's own types
        """One request; after its time it is dropped with an answer that says so."""
        deadline = gevent.Timeout(_STREAM_S if req.path.endswith("/live") else _REQUEST_S)
        deadline.start()
        try:
            super().handle_request(listener_name, req, sock, addr)
        except gevent.Timeout as over:
            if over is not deadline:
                raise
            _told(sock, 503, "Service Unavailable", "This took too long. Nothing was changed; try again.")
            raise StopIteration from None
        finally:
            deadline.close()


def _told(sock: Any, status: int, reason: str, detail: str) -> None:  # noqa: ANN401 - of gunicorn's own kinds
    """An answer where no view was reached, in the form of every other error (RFC 9457)."""
    document = {"type": "about:blank", "title": reason, "status": status, "detail": detail, "problems": []}
    body = json.dumps(document).encode()
    head = (
        f"HTTP/1.1 {status} {reason}\r\nConnection: close\r\nContent-Type: application/problem+json\r\n"
        f"X-Lift-Crate: yes\r\nContent-Length: {len(body)}\r\n\r\n"
    )
    util.write_nonblock(sock, head.encode() + body)


def load_ahead() -> None:
    """What computes and never waits, once for all workers."""
    import flask_openapi3  # noqa: F401, PLC0415

    from ..core.balance import report  # noqa: F401, PLC0415
    from ..core.bench import levellers, remedies  # noqa: F401, PLC0415
    from ..core.swaps import what_if  # noqa: F401, PLC0415
    from ..formats import drawing, job_file, shelf_csv  # noqa: F401, PLC0415


def _in_our_form(sock: Any, status: int, reason: str, mesg: str) -> None:  # noqa: ANN401 - of gunicorn's own kinds
    """In the place of gunicorn's page for a request that is none: a line too long, a header that breaks its rules."""
    _told(sock, status, reason, mesg or "The server failed at this. Nothing was changed.")


util.write_error = _in_our_form


def look_around(app: Flask) -> None:
    """The first looks that somebody will take, taken before he comes: readers
    and writers are made, the shelf is read, the first parts of the first jobs are judged.
    What cannot be seen now is told to him who asks for it.
    """
    from .doors import INSIDE  # noqa: PLC0415

    client = app.test_client()
    client.environ_base = {**client.environ_base, INSIDE: "yes"}
    for job in (client.get("/api/jobs").get_json() or {}).get("jobs", ())[:_LOOKED_AT]:
        frame = client.get(f"/api/jobs/{job['id']}").get_json() or {}
        for part in frame.get("parts", ())[:_LOOKED_AT]:
            at = f"/api/jobs/{job['id']}/parts/{part['id']}"
            client.get(at)
            for rig in frame["rigs"][:1]:
                client.get(f"{at}/rigs/{rig['id']}")
            # Whoever came meanwhile goes first.
            gevent.sleep(0.02)


def serve(port: int, workers: int, tls: tuple[str, str] | None = None) -> None:
    """Serve on loopback until told to stop; with a certificate and its key, to the whole network."""
    settings = {
        "bind": f"{'0.0.0.0' if tls else '127.0.0.1'}:{port}",  # noqa: S104 - only with TLS, and accounts
        # Whoever sits in front is named to the application (web/app.py); of others no such header is believed.
        "forwarded_allow_ips": "",
        "secure_scheme_headers": {},
        **({"certfile": tls[0], "keyfile": tls[1], "ssl_context": _tls_only} if tls else {}),
        "workers": workers,
        "worker_class": "lift_crate.web.serving.LightWorker",
        "worker_connections": _CONNECTIONS,
        "keepalive": _IDLE_S,
        "loglevel": "warning",
        "graceful_timeout": 5,
        "timeout": 90,
        "control_socket_disable": True,
        "limit_request_line": 4094,
        "limit_request_fields": 60,
    }

    ends: list[Callable[[], object]] = []

    def worker_exit(server: Any, worker: Any) -> None:  # noqa: ANN401 - gunicorn's own types
        del server, worker
        for end in ends:
            end()

    def post_worker_init(worker: Any) -> None:  # noqa: ANN401 - gunicorn's own types
        # A worker that is told to end sends its streams away at once instead of waiting for them.
        worker.wsgi.extensions["lift_crate"].live.running = lambda: worker.alive

    class Server(BaseApplication):  # type: ignore[misc]
        def load_config(self) -> None:
            for key, value in settings.items():
                self.cfg.set(key, value)
            self.cfg.set("worker_exit", worker_exit)
            self.cfg.set("post_worker_init", post_worker_init)

        def load(self) -> Flask:
            # In the worker: a pool's threads and connections do not survive a fork.
            from ..store.database import open_pool  # noqa: PLC0415
            from ..worker.queue import deferring  # noqa: PLC0415
            from .app import create_app  # noqa: PLC0415

            url = os.environ["DATABASE_URL"]
            pool, defer = open_pool(url), deferring(url)
            ends.extend((pool.close, defer.close))
            open_ = bool(os.environ.get("LIFT_CRATE_NOBODY_SIGNS_IN"))
            app = create_app(pool, defer, nobody_signs_in=open_, aside=off_the_loop())
            gevent.spawn(look_around, app)
            return app

    Server().run()


def _tls_only(config: Any, default: Callable[[], ssl.SSLContext]) -> ssl.SSLContext:  # noqa: ANN401 - gunicorn's own types
    del config
    context = default()
    context.minimum_version = ssl.TLSVersion.TLSv1_2
    return context


if __name__ == "__main__":
    load_ahead()
    port_, workers_, *more = sys.argv[1:]
    if more[:1] == ["--tls"]:
        serve(int(port_), int(workers_), (more[1], more[2]))
    else:
        for held in more:
            while os.read(int(held), 1):
                pass
        serve(int(port_), int(workers_))
