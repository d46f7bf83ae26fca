"""The web application: one blueprint, template folder and script for each page."""

from __future__ import annotations

from pathlib import Path

from flask import Flask, redirect, request, url_for
from flask.typing import ResponseReturnValue
from flask_wtf import CSRFProtect

from curve_rank import __version__
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.running import Draws
from curve_rank.rating.vocabulary import aims, cautions
from curve_rank.rating.why import load_words
from curve_rank.store.database import open_store
from curve_rank.web import (
    bench,
    board,
    certainty,
    evidence,
    lenses,
    loads,
    patterns,
    problems,
    security,
    sources,
    variants,
)
from curve_rank.web.shares import score_bar, shares_svg
from curve_rank.web.strip import strip_svg

LARGEST_REQUEST = 256 * 1024


def create_app(folder: Path) -> Flask:
    """The application over the data in a folder.

    Parameters
    ----------
    folder : Path
        Made, with its database, when it is not there yet.
    """
    app = Flask(__name__)
    app.config.update(
        SECRET_KEY=security.secret_key(folder),
        MAX_CONTENT_LENGTH=LARGEST_REQUEST,
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_SECURE=security.behind_https(),
        SEND_FILE_MAX_AGE_DEFAULT=3600,
    )
    app.extensions["curve_rank_store"] = open_store(folder)
    app.extensions["curve_rank_modeller"] = Modeller()
    app.extensions["curve_rank_draws"] = Draws()
    CSRFProtect(app)
    app.after_request(security.set_headers)
    problems.register(app)
    for page in (board, certainty, bench, variants, loads, lenses, evidence, sources):
        app.register_blueprint(page.blueprint)
    if patterns.wanted():
        app.register_blueprint(patterns.blueprint)
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    app.jinja_env.globals.update(
        strip_svg=strip_svg,
        shares_svg=shares_svg,
        score_bar=score_bar,
        load_words=load_words,
        aims=aims,
        cautions=cautions,
        version=__version__,
    )
    app.jinja_env.filters["capitalize_first"] = lambda text: text[:1].upper() + text[1:]
    app.context_processor(lambda: {"theme": security.chosen_theme(request)})

    @app.get("/")
    def home() -> ResponseReturnValue:
        return redirect(url_for("board.show"))

    @app.get("/healthz")
    def healthz() -> ResponseReturnValue:
        return {"ok": True, "version": __version__}

    return app
