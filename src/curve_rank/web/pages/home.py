"""The first address, and whether the application is well."""

from __future__ import annotations

from flask import Blueprint, redirect, url_for
from flask.typing import ResponseReturnValue

from curve_rank import __version__
from curve_rank.web.access import ANYONE, allowed

blueprint = Blueprint("home", __name__)


@blueprint.get("/")
@allowed(ANYONE)
def show() -> ResponseReturnValue:
    """To the board."""
    return redirect(url_for("board.show"))


@blueprint.get("/healthz")
@allowed(ANYONE)
def healthz() -> ResponseReturnValue:
    """Whether requests are answered."""
    return {"ok": True, "version": __version__}
