"""Safety and scope: what this is, what it is not, and the cautions in plain words."""

from __future__ import annotations

from flask import Blueprint, render_template
from flask.typing import ResponseReturnValue

from curve_rank.rating.cautions import cautions
from curve_rank.web.access import ANYONE, allowed

blueprint = Blueprint("safety", __name__)


@blueprint.get("/safety")
@allowed(ANYONE)
def show() -> ResponseReturnValue:
    """The page."""
    return render_template("pages/safety/safety.html", cautions=cautions().values())
