"""What a device sends, and the worker in the browser that lets Today open without a connection."""

from __future__ import annotations

import time
from typing import Any

from flask import Response, current_app, jsonify, request
from flask.typing import ResponseReturnValue
from flask_wtf.csrf import generate_csrf
from pydantic import ValidationError

from curve_rank.errors import BadInputError
from curve_rank.store import inbox
from curve_rank.training.log import Message
from curve_rank.validation import from_validation, read_json
from curve_rank.web import current
from curve_rank.web.access import ANYONE, EVERYONE, allowed
from curve_rank.web.pages.today import blueprint
from curve_rank.web.planning import learn_soon

WORKER = "js/worker.js"


@blueprint.get("/today/queue.json")
@allowed(*EVERYONE)
def queue() -> ResponseReturnValue:
    """Who is here, and the token that what waits is sent with: a page opened long ago has an old one."""
    now = round(1000 * time.time())  # a device whose clock is wrong dates what it keeps by this one
    return jsonify({"person": current.viewer().person, "token": generate_csrf(), "now": now})


@blueprint.post("/today/log")
@allowed(*EVERYONE)
def send() -> ResponseReturnValue:
    """Keep what a device sends; of each message what became of it. One that cannot be read stops none."""
    data = read_json(request.get_data(as_text=True), "messages", "a list of what was written down, as JSON")
    if not isinstance(data, dict) or not isinstance(data.get("messages"), list):
        raise BadInputError("messages", None, "a list of what was written down")
    person = current.viewer().person
    if data.get("person") != person:
        raise BadInputError("person", data.get("person"), f"whoever is signed in here ({person})")
    good: list[Message] = []
    receipts: list[dict[str, Any]] = []
    for one in data["messages"]:
        try:
            good.append(Message.model_validate(one))
        except ValidationError as error:
            problem = str(from_validation(error, "", Message))
            receipts.append({"key": _key(one), "state": "refused", "version": 0, "problem": problem})
    with current.writing() as session:
        kept = inbox.take(session, current.viewer(), person, good)
    if any(message.note and message.note.kind == "done" for message in good):
        learn_soon(person, current.viewer())
    receipts += [
        {"key": one.key, "state": one.state, "version": one.version, "problem": one.problem} for one in kept
    ]
    return jsonify({"receipts": receipts})


@blueprint.get("/today/worker.js")
@allowed(ANYONE)
def worker() -> ResponseReturnValue:
    """The worker, under an address that lets it look after Today and what stands under it."""
    response: Response = current_app.send_static_file(WORKER)
    response.headers["Service-Worker-Allowed"] = "/today"
    response.headers["Cache-Control"] = "no-cache"
    return response


def _key(one: Any) -> str:
    held = (one.get("set") or one.get("note")) if isinstance(one, dict) else None
    key = held.get("key") if isinstance(held, dict) else None
    return key if isinstance(key, str) else ""
