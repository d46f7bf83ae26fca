"""Files that a page's content is taken along in: tables as CSV or Markdown, pictures as SVG or PNG."""

from __future__ import annotations

from pathlib import Path

from flask import Response, current_app, request

from curve_rank.exchange.images import slide_png
from curve_rank.exchange.tables import Table, to_csv, to_markdown
from curve_rank.figures.palette import palette
from curve_rank.figures.shapes import Picture
from curve_rank.figures.svg import ByColour, svg
from curve_rank.web.forms import PictureQuery


def fonts() -> Path:
    """Folder of the shipped fonts."""
    return Path(current_app.static_folder or "") / "vendor"


def table_file(table: Table, name: str) -> Response:
    """A table, as the address ends: .csv or .md."""
    if request.path.endswith(".md"):
        return _attached(to_markdown(table), "text/markdown", f"{name}.md")
    return _attached(to_csv(table), "text/csv", f"{name}.csv")


def picture_file(picture: Picture) -> Response:
    """A picture on light or dark paper, as the address ends: .svg, or .png at the size of a slide."""
    theme = PictureQuery.read(request.args).paper
    drawn = svg(picture, ByColour(theme))
    if not request.path.endswith(".png"):
        return Response(drawn, mimetype="image/svg+xml")
    paper = palette().colour("paper", theme)
    return Response(slide_png(drawn, paper=paper, fonts=fonts()), mimetype="image/png")


def _attached(text: str, kind: str, name: str) -> Response:
    response = Response(text, mimetype=kind)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
