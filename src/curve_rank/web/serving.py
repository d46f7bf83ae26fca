"""Runs the application in a production server."""

from __future__ import annotations

import signal
from collections.abc import Callable
from types import FrameType

from flask import Flask
from waitress.server import create_server

THREADS = 6


def run(app: Flask, host: str, port: int, tell: Callable[[str], None]) -> None:
    """Serve until interrupted; `tell` is given the address once it listens.

    Raises
    ------
    OSError
        When the address cannot be taken.
    """
    signal.signal(signal.SIGTERM, _stop)
    server = create_server(app, host=host, port=port, threads=THREADS, ident=None)
    tell(f"http://{host}:{server.effective_port}/")
    try:
        server.run()
    finally:
        server.close()


def _stop(_number: int, _frame: FrameType | None) -> None:
    """A polite request to stop is taken as Ctrl-C is."""
    raise SystemExit(0)
