"""What a person sees when something cannot be done: the message, never a trace."""

from __future__ import annotations

import logging

from flask import Flask, Response, jsonify, make_response, render_template, request
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException

from curve_rank.errors import (
    CurveRankError,
    LoadError,
    NotAllowedError,
    PostureError,
    UnknownNameError,
)
from curve_rank.web.access import NotSignedInError

log = logging.getLogger(__name__)


def register(app: Flask) -> None:
    """Answer the project's own errors, HTTP errors and everything unforeseen."""
    app.register_error_handler(CurveRankError, _own)
    app.register_error_handler(HTTPException, _http)
    app.register_error_handler(CSRFError, _csrf)
    app.register_error_handler(Exception, _unforeseen)


def wants_json() -> bool:
    """Whether the request is for a page's JSON twin or from a script."""
    return request.path.endswith(".json") or request.accept_mimetypes.best == "application/json"


def _own(error: CurveRankError) -> Response:
    return _answer(status_of(error), str(error), field=error.field)


def status_of(error: CurveRankError) -> int:
    """The HTTP status that goes with one of our own errors."""
    match error:
        case NotSignedInError():
            return 401
        case NotAllowedError():
            return 403
        case PostureError() | LoadError():
            return 422
        case UnknownNameError(field="variant"):
            return 404
        case _:
            return 400


def _http(error: HTTPException) -> Response:
    response = _answer(error.code or 500, error.description or error.name)
    if error.response is not None:
        return make_response(error.response)
    return response


def _csrf(_error: CSRFError) -> Response:
    return _answer(400, "This form has expired. Go back, reload the page and send it again.")


def _unforeseen(error: Exception) -> Response:
    log.exception("unforeseen error on %s", request.path, exc_info=error)
    return _answer(500, "Something went wrong here that is not your doing. It has been written to the log.")


def _answer(status: int, message: str, field: str = "") -> Response:
    if wants_json():
        return make_response(jsonify(error=message, field=field), status)
    return make_response(render_template("pages/problem.html", message=message, status=status), status)
