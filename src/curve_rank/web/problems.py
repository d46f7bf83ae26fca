"""What a person sees when something cannot be done: the message, never a trace."""

from __future__ import annotations

import logging
from urllib.parse import urlsplit

from flask import Flask, Response, jsonify, make_response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException, RequestEntityTooLarge

from curve_rank.errors import (
    BusyError,
    ChangedMeanwhileError,
    CurveRankError,
    LoadError,
    NotAllowedError,
    PostureError,
    UnavailableError,
    UnknownNameError,
    WrongSecretError,
)
from curve_rank.store.house.accounts import has_accounts
from curve_rank.web import arms, current
from curve_rank.web.access import ConsentNeededError, NotSignedInError, PasswordNeededError
from curve_rank.web.auditing import page_name, request_id

log = logging.getLogger(__name__)

ACCEPTED, BUSY, UNAVAILABLE = 202, 429, 503
NEVER_SHOWN = ("csrf_token", "password", "old", "code", "confirm")
"""What a refused form does not give back."""
RETRY_SECONDS = 10


def register(app: Flask) -> None:
    """Answer the project's own errors, HTTP errors and everything unforeseen."""
    app.register_error_handler(CurveRankError, _own)
    app.register_error_handler(NotSignedInError, _nobody)
    app.register_error_handler(ConsentNeededError, _not_agreed)
    app.register_error_handler(PasswordNeededError, _not_confirmed)
    app.register_error_handler(WrongSecretError, _not_confirmed)
    app.register_error_handler(HTTPException, _http)
    app.register_error_handler(RequestEntityTooLarge, _too_large)
    app.register_error_handler(CSRFError, _csrf)
    app.register_error_handler(arms.StillDrawingError, _still_drawing)
    app.register_error_handler(Exception, _unforeseen)


def _still_drawing(still: arms.StillDrawingError) -> ResponseReturnValue:
    """Not a problem, only not yet: how far the draws are; the page looks again by itself."""
    if not arms.asks_for_file():
        return render_template("pages/drawing.html", run=still.run)
    told = jsonify(still.run.told) if wants_json() else render_template("pages/drawing.html", run=still.run)
    response = make_response(told, ACCEPTED)
    response.headers["Retry-After"] = "2"
    return response


def _nobody(error: NotSignedInError) -> ResponseReturnValue:
    """Where somebody has to sign in: the door, with the way back; what was typed is kept."""
    if wants_json():
        return _own(error)
    if not has_accounts(current.session()) and not current.desk().demo:
        return redirect(url_for("sign_in.first"))
    back = request.full_path.rstrip("?") if request.method == "GET" else ""
    return render_template("pages/sign_in/sign_in.html", back=back, typed=_typed(), email="", problem=""), 401


def _not_agreed(error: ConsentNeededError) -> ResponseReturnValue:
    return _own(error) if wants_json() else redirect(url_for("account.consent"), 303)


def _not_confirmed(error: PasswordNeededError | WrongSecretError) -> ResponseReturnValue:
    """The password once more, and then what was asked; where one was typed, it was wrong."""
    if wants_json():
        return _own(error)
    problem = str(error) if isinstance(error, WrongSecretError) else ""
    page = render_template("pages/account/confirm.html", problem=problem, typed=_typed())
    return page, status_of(error)


def wants_json() -> bool:
    """Whether the request is for a page's JSON twin or from a script."""
    twin = request.path.endswith(".json") or request.accept_mimetypes.best == "application/json"
    return twin or bool(current.bearer())


def _own(error: CurveRankError) -> Response:
    status, message = status_of(error), str(error)
    if isinstance(error, UnavailableError):  # where it stands is the log's business
        log.error("%s", error)
        message = f"The {error.field} cannot be used just now. It needs {error.expected}."
    else:
        message = current.masses(message)
    return _answer(status, message, field=error.field, kept=status in (BUSY, UNAVAILABLE))


ADDRESSED = frozenset(
    (
        "variant",
        "dress",
        "script",
        "release",
        "claim",
        "profile",
        "link",
        "published page",
        "sketch",
        "capture",
        "pictures",
        "photograph",
        "sign-in",
        "token",
        "invitation",
        "letter",
        "guide",
        "documentation",
        "backup",
        "work",
        "client",
        "person",
        "room",
        "block",
        "kept set",
        "trial",
        "set",
    )
)
"""What has an address of its own: one that is not there is a page that is not there."""


def status_of(error: CurveRankError) -> int:
    """The HTTP status that goes with one of our own errors."""
    match error:
        case BusyError():
            return BUSY
        case UnavailableError():
            return UNAVAILABLE
        case ChangedMeanwhileError():
            return 409
        case NotSignedInError():
            return 401
        case NotAllowedError():
            return 403
        case PostureError() | LoadError():
            return 422
        case UnknownNameError(field=field) if field in ADDRESSED:
            return 404
        case _:
            return 400


def _http(error: HTTPException) -> Response:
    response = _answer(error.code or 500, error.description or error.name)
    if error.response is not None:
        return make_response(error.response)
    for name, value in error.get_headers():
        if name != "Content-Type":
            response.headers[name] = value
    return response


def _too_large(_error: RequestEntityTooLarge) -> Response:
    most = (request.max_content_length or 0) // 1024
    right = f"{most // 1024} MB" if most >= 1024 else f"{most} KB"
    return _answer(413, f"What was sent is too large: at most {right} are taken here.")


def _csrf(_error: CSRFError) -> Response:
    return _answer(400, "This form was opened too long ago, or elsewhere, so it was not taken in.", kept=True)


def _unforeseen(error: Exception) -> Response:
    log.exception("unforeseen error", exc_info=error, extra={"request": request_id(), "route": page_name()})
    return _answer(
        500,
        "Something went wrong here that is not your doing. It has been written to the log, "
        f"as number {request_id()}.",
        kept=True,
    )


def _answer(status: int, message: str, field: str = "", *, kept: bool = False) -> Response:
    """A page or its twin; with `kept` the page holds what was typed and can send it again."""
    if wants_json():
        response = make_response(jsonify(error=message, field=field), status)
    else:
        typed = _typed() if kept else []
        page = render_template("pages/problem.html", message=message, status=status, typed=typed)
        response = make_response(page, status)
    if status in (BUSY, UNAVAILABLE):
        response.headers["Retry-After"] = str(RETRY_SECONDS)
    return response


def _typed() -> list[tuple[str, str]]:
    """What a refused form held; nothing where another site may have sent it."""
    own = request.headers.get("Sec-Fetch-Site", "same-origin") in ("same-origin", "none")
    origin = request.headers.get("Origin", "null")
    if request.method != "POST" or not own or (origin != "null" and urlsplit(origin).netloc != request.host):
        return []
    return [(name, value) for name, value in request.form.items(multi=True) if name not in NEVER_SHOWN]
