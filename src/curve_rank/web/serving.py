"""How answers travel: compressed, kept by browsers as long as may be; and the server they come from."""

from __future__ import annotations

import hashlib
import logging
import signal
import socket
import sys
import time
from collections.abc import Callable
from functools import cache
from pathlib import Path
from types import FrameType
from typing import Any

from flask import Flask, Response, redirect, request, url_for
from flask.typing import ResponseReturnValue
from flask_compress import Compress
from waitress.server import create_server
from waitress.task import ThreadedTaskDispatcher

from curve_rank.errors import UnavailableError
from curve_rank.figures.palette import style_sheet
from curve_rank.web import current
from curve_rank.web.access import ANYONE, allowed
from curve_rank.web.security import FOR_EVERYONE, YEAR

STATIC = Path(__file__).parent / "static"
LARGEST_REQUEST = 256 * 1024
"""The largest form [bytes]; there is a page that says so."""
LARGEST_UPLOAD = 10 * 1024 * 1024
"""The largest request of all: a file, to a route that says it takes one [bytes]."""
QUICK = ("/r/", "/today/log", "/today/queue.json", "/static/", "/palette.css", "/healthz", "/readyz")
"""How addresses begin that are answered within some milliseconds."""
QUICK_THREADS = 3
SWITCH_SECONDS = 0.0005
"""How long a thread that computes keeps others from their turn [s]."""
LIMITS: dict[str, Any] = {
    # What is larger than this is not even taken in: the server refuses it by itself.
    "max_request_body_size": LARGEST_UPLOAD,
    "max_request_header_size": 32 * 1024,
    # Half-open connections cost next to nothing, so many may wait; who says nothing is let go.
    "connection_limit": 1000,
    "backlog": 256,
    "channel_timeout": 20,
    "cleanup_interval": 5,
    "asyncore_use_poll": True,
    "ident": None,
}


class TwoLines:
    """Hands requests to threads: what is quick does not stand in line behind pages that are modelled.

    A set that is logged takes some milliseconds, a board fifty; in one line fifty people would wait for each
    other's boards.
    """

    def __init__(self, threads: int) -> None:
        self._slow, self._quick = ThreadedTaskDispatcher(), ThreadedTaskDispatcher()
        self._slow.set_thread_count(threads)
        self._quick.set_thread_count(QUICK_THREADS)

    def add_task(self, task: Any) -> None:
        """Put a connection's next request in its line."""
        path = task.requests[0].path if task.requests else ""
        (self._quick if path.startswith(QUICK) else self._slow).add_task(task)

    def shutdown(self, cancel_pending: bool = True, timeout: int = 5) -> bool:  # noqa: FBT001, FBT002 — as waitress calls it
        """End both."""
        ended = [one.shutdown(cancel_pending, timeout) for one in (self._quick, self._slow)]
        return any(ended)


JOINED = tuple(Path(__file__).with_name(f"{name}.py") for name in ("dresses", "scripts"))
"""What says which static files are answered as one, and how."""


@cache
def static_version() -> str:
    """A name that changes with any static file or colour, and with how they are answered as one."""
    found = hashlib.sha256(b"".join([style_sheet().encode(), *(path.read_bytes() for path in JOINED)]))
    for path in sorted(STATIC.rglob("*")):
        if path.is_file():
            found.update(path.relative_to(STATIC).as_posix().encode() + path.read_bytes())
    return found.hexdigest()[:12]


def register(app: Flask) -> None:
    """Compress answers and say how long they may be kept; static files also under their plain addresses."""
    app.config.update(
        COMPRESS_ALGORITHM=["br", "gzip"],
        COMPRESS_BR_LEVEL=4,
        COMPRESS_LEVEL=4,
        COMPRESS_MIMETYPES=[
            "text/html", "text/css", "text/csv", "text/javascript", "application/json", "image/svg+xml",
        ],
    )  # fmt: skip
    Compress(app)
    app.after_request(_say_how_long)
    app.add_url_rule("/static/<path:filename>", "plain_static", _plain_static)


@allowed(ANYONE)
def _plain_static(filename: str) -> ResponseReturnValue:
    """Where a static file stood before its address named its version."""
    return redirect(url_for("static", filename=filename), 302)


def _say_how_long(response: Response) -> Response:
    """What is the same for everyone is kept for a year; a page is its reader's own and is not kept."""
    if request.endpoint in FOR_EVERYONE and response.status_code in (200, 304):
        response.headers["Cache-Control"] = f"public, max-age={YEAR}, immutable"
    else:
        response.headers.setdefault("Cache-Control", "private, no-store")
    return response


def run(app: Flask, host: str, port: int, tell: Callable[[str], None]) -> None:
    """Serve until asked to stop; `tell` is given the address once it listens.

    Then nobody new is let in, and requests that are under way are answered first, for as long as the settings
    allow. Who asks a second time is obeyed at once.

    Raises
    ------
    UnavailableError
        When the address cannot be taken.
    """
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)  # that someone waits a moment is no news
    kept = current.of(app)
    try:
        listening = _listen(host, port)
        lines = TwoLines(kept.settings.threads)
        # Without proxies of one's own the server lets no header of theirs through.
        from_nobody = not kept.settings.proxies
        server = create_server(
            app,
            sockets=[listening],
            _dispatcher=lines,
            clear_untrusted_proxy_headers=from_nobody,
            **LIMITS,
        )
    except (OSError, ValueError) as error:
        raise UnavailableError(
            "--host and --port", f"{host}:{port}", f"an address of this machine that is free ({error})"
        ) from error

    def stop(_number: int, _frame: FrameType | None) -> None:
        if kept.stopping.is_set():
            raise SystemExit(0)
        kept.stopping.set()
        server.pull_trigger()

    sys.setswitchinterval(SWITCH_SECONDS)
    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, stop)
    shown = f"[{host}]" if ":" in host else host
    tell(f"http://{shown}:{server.effective_port}/")
    try:
        while not kept.stopping.is_set():
            _turn(server, 1.0)
        _finish(server, kept.settings.stop_seconds)
    finally:
        server.task_dispatcher.shutdown()
        server.close()


def _listen(host: str, port: int) -> socket.socket:
    """A socket at the first of the addresses that a name stands for."""
    family, _, _, _, address = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)[0]
    return socket.create_server(address[:2], family=family, backlog=LIMITS["backlog"])


def _turn(server: Any, seconds: float) -> None:
    """Look once after all connections."""
    server.asyncore.loop(timeout=seconds, map=server._map, use_poll=True, count=1)


def _finish(server: Any, seconds: float) -> None:
    """Let nobody in, answer what was asked, and let go of everyone else."""
    server.accepting = False
    server.del_channel()
    server.socket.close()
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        channels = list(server.active_channels.values())
        for channel in channels:
            if not channel.requests and not channel.total_outbufs_len:
                channel.will_close = True
        if not channels:
            return
        _turn(server, 0.1)
