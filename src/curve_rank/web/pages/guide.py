"""The guide: how to read a strip, a rank and an interval."""

from __future__ import annotations

from flask import Blueprint, render_template
from flask.typing import ResponseReturnValue
from markdown_it import MarkdownIt
from markupsafe import Markup

from curve_rank.data_files import read_bytes
from curve_rank.web.access import ANYONE, allowed

blueprint = Blueprint("guide", __name__)


@blueprint.get("/guide")
@allowed(ANYONE)
def show() -> ResponseReturnValue:
    """The page."""
    text = read_bytes("curve_rank.web", "guide.md").decode()
    return render_template("pages/guide/guide.html", guide=Markup(MarkdownIt().render(text)))
