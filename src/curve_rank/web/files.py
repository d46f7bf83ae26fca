"""Files that a page's content is taken along in: tables as CSV or Markdown, pictures as SVG or PNG."""

from __future__ import annotations

from flask import Response, request

from curve_rank.exchange.images import slide_png
from curve_rank.exchange.tables import Table, to_csv, to_markdown
from curve_rank.figures.palette import palette
from curve_rank.figures.shapes import Picture
from curve_rank.figures.svg import ByColour, svg
from curve_rank.web.forms import PictureQuery


def table_file(table: Table, name: str) -> Response:
    """A table, as the address ends: .csv or .md."""
    if request.path.endswith(".md"):
        return named_file(to_markdown(table), "text/markdown", f"{name}.md")
    return named_file(to_csv(table), "text/csv", f"{name}.csv")


def picture_file(picture: Picture) -> Response:
    """A picture on light or dark paper, as the address ends: .svg, or .png at the size of a slide."""
    theme = PictureQuery.read(request.args).paper
    drawn = svg(picture, ByColour(theme))
    if not request.path.endswith(".png"):
        return Response(drawn, mimetype="image/svg+xml")
    paper = palette().colour("paper", theme)
    return Response(slide_png(drawn, paper=paper), mimetype="image/png")


def named_file(content: str | bytes, kind: str, name: str, *, inline: bool = False) -> Response:
    """Something to be taken along, under a name; or, `inline`, to be looked at first."""
    response = Response(content, mimetype=kind)
    response.headers["Content-Disposition"] = f'{"inline" if inline else "attachment"}; filename="{name}"'
    return response


def unlisted(response: Response) -> Response:
    """Nobody's index is to list it, and no page it leads to is to learn of the link."""
    response.headers["X-Robots-Tag"] = "noindex, nofollow"
    response.headers["Referrer-Policy"] = "no-referrer"
    return response
