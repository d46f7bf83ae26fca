"""The guide: ten minutes for an educator, a coach and a client; how to read it; and what the words mean."""

from __future__ import annotations

import re

from flask import Blueprint, current_app, render_template, url_for
from flask.typing import ResponseReturnValue
from markdown_it import MarkdownIt
from markupsafe import Markup

from curve_rank.catalogue.glossary import glossary
from curve_rank.data_files import read_bytes
from curve_rank.errors import UnknownNameError
from curve_rank.practice.units import both_masses_in
from curve_rank.web import current
from curve_rank.web.access import ANYONE, allowed, may_enter

blueprint = Blueprint("guide", __name__)
PARTS = {"educator": "an educator", "coach": "a coach", "client": "a client"}
"""The journeys, and for whom each is."""
APART = {"validation": "what the model is held against", "accessibility": "who can use it"}
"""What is no journey, and what it says."""
PICTURE = re.compile(r'src="\.\./screenshots/([\w-]+\.(?:png|svg))"')

HEADING = re.compile(r"<h2>([\w ]+)</h2>")
LINK = re.compile(r'<a href="(/[^"?#]*)[^"]*">(.*?)</a>', re.DOTALL)


@blueprint.get("/guide")
@allowed(ANYONE)
def show() -> ResponseReturnValue:
    """How to read it, and the way to the journeys."""
    return _page("reading")


@blueprint.get("/guide/<part>")
@allowed(ANYONE)
def show_part(part: str) -> ResponseReturnValue:
    """A journey of ten minutes."""
    if part not in PARTS | APART:
        raise UnknownNameError("guide", part, ", ".join(PARTS | APART))
    return _page(part)


@blueprint.get("/glossary")
@allowed(ANYONE)
def show_glossary() -> ResponseReturnValue:
    """What the words mean."""
    return render_template("pages/guide/glossary.html", terms=glossary().values(), parts=PARTS, apart=APART)


def _page(part: str) -> str:
    html = MarkdownIt().enable("table").render(read_bytes("curve_rank.web", f"guide/{part}.md").decode())
    shown = PICTURE.sub(
        lambda found: f'src="{url_for("static", filename=f"screenshots/{found[1]}")}" loading="lazy"', html
    )
    shown = LINK.sub(_where_it_leads, HEADING.sub(_with_anchor, shown))
    shown = both_masses_in(shown, current.unit())
    return render_template("pages/guide/guide.html", guide=Markup(shown), part=part, parts=PARTS, apart=APART)


def _with_anchor(found: re.Match[str]) -> str:
    """A heading that can be led to."""
    return f'<h2 id="{found[1].lower().replace(" ", "-")}">{found[1]}</h2>'


def _where_it_leads(found: re.Match[str]) -> str:
    """A link of the guide, or its words alone where whoever reads may not go there."""
    endpoint, _ = current_app.url_map.bind("").match(found[1])
    return found[0] if may_enter(endpoint) else found[2]
