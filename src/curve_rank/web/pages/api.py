"""What scripts may ask: the reference, and the same for programs."""

from __future__ import annotations

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue

from curve_rank.web.access import ANYONE, allowed
from curve_rank.web.client_code import client_code
from curve_rank.web.files import named_file
from curve_rank.web.openapi import document

blueprint = Blueprint("api", __name__)


@blueprint.get("/api")
@allowed(ANYONE)
def show() -> ResponseReturnValue:
    """The reference."""
    return render_template("pages/api/api.html", api=document(_here()))


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


def _here() -> str:
    return f"{request.host_url.rstrip('/')}{request.script_root}"
