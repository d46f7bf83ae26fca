"""What scripts may ask: the reference, and the same for programs."""

from __future__ import annotations

import mimetypes

from flask import Blueprint, Response, jsonify, render_template, request
from flask.typing import ResponseReturnValue

from curve_rank.web import documentation
from curve_rank.web.access import ANYONE, allowed
from curve_rank.web.client_code import client_code
from curve_rank.web.files import named_file
from curve_rank.web.openapi import document

blueprint = Blueprint("api", __name__)
AN_HOUR = 3600


@blueprint.get("/api")
@allowed(ANYONE)
def show() -> ResponseReturnValue:
    """The reference."""
    return render_template("pages/api/api.html", api=document(_here()), documented=documentation.is_here())


@blueprint.get("/api/openapi.json")
@allowed(ANYONE)
def data() -> ResponseReturnValue:
    """The OpenAPI document."""
    return jsonify(document(_here()))


@blueprint.get("/api/client.py")
@allowed(ANYONE)
def client() -> ResponseReturnValue:
    """A client in one file, made of the document."""
    return named_file(client_code(document(_here())), "text/x-python", "curve_rank_client.py")


@blueprint.get("/api/docs/<path:page>")
@allowed(ANYONE)
def docs(page: str) -> Response:
    """A page of the documentation, or a file that such a page needs."""
    kind = mimetypes.guess_type(page)[0] or "application/octet-stream"
    response = Response(documentation.read(page), mimetype=kind)
    response.cache_control.max_age = AN_HOUR
    response.add_etag()
    response.make_conditional(request)
    return response


def _here() -> str:
    return f"{request.host_url.rstrip('/')}{request.script_root}"
