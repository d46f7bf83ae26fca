"""The first address, and whether the application is well."""

from __future__ import annotations

import shutil

from flask import Blueprint, redirect, render_template, url_for
from flask.typing import ResponseReturnValue

from curve_rank import __version__
from curve_rank.background.checks import LEAST_FREE
from curve_rank.errors import UnavailableError
from curve_rank.store.database import check
from curve_rank.web import current
from curve_rank.web.access import ANYONE, allowed

blueprint = Blueprint("home", __name__)


@blueprint.get("/")
@allowed(ANYONE)
def show() -> ResponseReturnValue:
    """To where whoever is here begins."""
    viewer = current.viewer_or_none()
    roles = viewer.roles if viewer is not None else frozenset({"educator"})
    begins = "board.show" if "educator" in roles else "clients.index" if "coach" in roles else "today.show"
    return redirect(url_for(begins))


@blueprint.get("/healthz")
@allowed(ANYONE)
def healthz() -> ResponseReturnValue:
    """Whether requests are answered, the database is asked and a page can be put together.

    Raises
    ------
    UnavailableError
    """
    read = check(current.session())
    page = bool(render_template("pages/problem.html", message="", status=200, typed=[]))
    return {"ok": read and page, "version": __version__}


@blueprint.get("/readyz")
@allowed(ANYONE)
def readyz() -> ResponseReturnValue:
    """Whether requests should be sent here: 503 while it stops, or where nothing can be kept."""
    here = current.desk()
    problems = []
    if here.stopping.is_set():
        problems.append("stopping")
    try:
        check(current.session())
    except UnavailableError:
        problems.append("database")
    if shutil.disk_usage(here.settings.data).free < LEAST_FREE:
        problems.append("disk")
    told = {"ready": not problems, "problems": problems, "backup": not here.schedule.problem}
    return told, 503 if problems else 200
