"""“Take with you”: whatever a page answers, as a file or behind a link, written from its one leaflet."""

from __future__ import annotations

from flask import Blueprint, request
from flask.typing import ResponseReturnValue

from curve_rank.answers.leaflets import leaflet_from
from curve_rank.exchange.leaflet import KINDS, Ending, Leaflet, written
from curve_rank.web import arms, current, publishing
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.files import named_file
from curve_rank.web.forms.taking import PictureTaken, Taken

blueprint = Blueprint("taking", __name__)


@blueprint.get("/take.pdf", defaults={"ending": "pdf"})
@blueprint.get("/take.csv", defaults={"ending": "csv"})
@blueprint.get("/take.md", defaults={"ending": "md"})
@blueprint.get("/take.json", defaults={"ending": "json"})
@allowed(*TEACHING)
def take(ending: Ending) -> ResponseReturnValue:
    """All of it, as a file."""
    page = Taken.read(request.args).page
    found = _leaflet(page)
    made = written(found, ending, _back(page))
    return named_file(made, KINDS[ending], f"{found.file}.{ending}", inline=ending == "pdf")


@blueprint.get("/take.svg", defaults={"ending": "svg"})
@blueprint.get("/take.png", defaults={"ending": "png"})
@allowed(*TEACHING)
def take_picture(ending: Ending) -> ResponseReturnValue:
    """One of its pictures, by itself or as a slide."""
    asked = PictureTaken.read(request.args)
    found = _leaflet(asked.page)
    made = written(
        found, ending, _back(asked.page), picture=asked.picture, paper=asked.paper, size=asked.size
    )
    name = "-".join(part for part in (found.file, asked.picture, asked.size, asked.paper) if part)
    return named_file(made, KINDS[ending], f"{name}.{ending}")


@blueprint.post("/take/publish")
@allowed(*TEACHING)
def publish() -> ResponseReturnValue:
    """All of it, frozen behind a link."""
    return publishing.keep(_leaflet(Taken.read(request.form).page))


def _leaflet(page: str) -> Leaflet:
    """What is taken from a page; of draws that are missing it is told how far they are."""
    return leaflet_from(current.session(), current.viewer(), arms.means(waits=True), page)


def _back(page: str) -> str:
    return f"{request.host_url.rstrip('/')}{request.script_root}/{page.lstrip('/')}"
