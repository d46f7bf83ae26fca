"""The style sheet of colours and strokes, made from the one palette."""

from __future__ import annotations

from flask import Blueprint, Response
from flask.typing import ResponseReturnValue

from curve_rank.figures.palette import style_sheet
from curve_rank.web.access import ANYONE, allowed

blueprint = Blueprint("palette", __name__)


@blueprint.get("/palette.css")
@allowed(ANYONE)
def show() -> ResponseReturnValue:
    """Tokens and rules for light and dark."""
    return Response(style_sheet(), mimetype="text/css")
