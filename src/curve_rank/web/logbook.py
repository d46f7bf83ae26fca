"""The log: one line a request, without anything of a person's; a number of its own for every request."""

from __future__ import annotations

import json
import logging
import re
import secrets
import sys
import time
import traceback
from typing import Any

from flask import Flask, Response, g, request

from curve_rank.web import current
from curve_rank.web.auditing import page_name, request_id

HEADER = "X-Request-Id"
GIVEN = re.compile(r"[0-9A-Za-z-]{8,32}")
"""A number that a proxy of one's own has given; anything else is not believed."""
NO_ROUTE = "none"
log = logging.getLogger("curve_rank.requests")
_PLAIN = frozenset(vars(logging.makeLogRecord({}))) | {"message", "asctime", "taskName"}


class Lines(logging.Formatter):
    """A JSON object a line. Of an error it tells kind and place, not its words: they may be a person's."""

    def format(self, record: logging.LogRecord) -> str:
        """One line."""
        return json.dumps(self.parts(record), ensure_ascii=False, default=str)

    def parts(self, record: logging.LogRecord) -> dict[str, Any]:
        """What a line tells."""
        told: dict[str, Any] = {
            "at": time.strftime("%Y-%m-%dT%H:%M:%S", time.gmtime(record.created)) + f".{record.msecs:03.0f}Z",
            "level": record.levelname.lower(),
            "from": record.name,
            "says": record.getMessage(),
        }
        told |= {name: value for name, value in vars(record).items() if name not in _PLAIN}
        if record.exc_info and record.exc_info[0] is not None:
            told["error"] = record.exc_info[0].__name__
            told["where"] = [
                f"{frame.filename.rpartition('/site-packages/')[2]}:{frame.lineno} {frame.name}"
                for frame in traceback.extract_tb(record.exc_info[2])[-12:]
            ]
        return told


class Words(Lines):
    """The same for reading: what it says, then the rest as name=value."""

    def format(self, record: logging.LogRecord) -> str:
        """One line."""
        parts = self.parts(record)
        first = f"{parts.pop('at')} {parts.pop('level'):7} {parts.pop('from')}: {parts.pop('says')}"
        return " ".join((first, *(f"{name}={value}" for name, value in parts.items())))


def set_up(kind: str) -> None:
    """Write the log to standard error; "off" leaves warnings and errors alone."""
    handler = logging.StreamHandler(sys.stderr)
    handler.setFormatter(Words() if kind == "text" else Lines())
    root = logging.getLogger()
    root.handlers[:] = [handler]
    root.setLevel(logging.WARNING)
    logging.getLogger("weasyprint").setLevel(logging.ERROR)  # what it passes over in a style sheet is no news
    logging.getLogger("curve_rank").setLevel(logging.WARNING if kind == "off" else logging.INFO)


def register(app: Flask) -> None:
    """Number every request, and write it down when it is answered."""
    app.before_request(_begin)
    app.after_request(_write_down)


def _begin() -> None:
    given = request.headers.get(HEADER, "") if current.desk().settings.proxies else ""
    g.request_id = given if GIVEN.fullmatch(given) else secrets.token_hex(8)
    g.begun = time.perf_counter()


def _write_down(response: Response) -> Response:
    response.headers[HEADER] = request_id()
    log.log(
        logging.ERROR if response.status_code >= 500 else logging.INFO,
        "answered",
        extra={
            "request": request_id(),
            "method": request.method,
            # the rule, not the address: an address may hold a name or open something
            "route": page_name() or NO_ROUTE,
            "status": response.status_code,
            "ms": round(1000 * (time.perf_counter() - g.get("begun", time.perf_counter())), 1),
            "bytes": response.calculate_content_length(),
        },
    )
    return response
