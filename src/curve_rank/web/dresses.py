"""What a page is dressed in: its style sheets as one file, so that one request brings them all."""

from __future__ import annotations

from functools import cache

from flask import Flask, Response
from flask.typing import ResponseReturnValue

from curve_rank.figures.palette import style_sheet
from curve_rank.rating.targets import known
from curve_rank.web.access import ANYONE, allowed
from curve_rank.web.serving import STATIC

REBOOT, FORMS = "bootstrap-reboot", "bootstrap"
"""Of Bootstrap no more is here than the pages use (`scripts/trim_bootstrap`)."""
SHEETS = (
    "base", "masthead", "figures", "board", "board-twins", "around", "bench", "compare", "heads",
    "claims", "doubt", "sketch", "measure", "marking", "sets", "people", "blocks", "today", "stretches",
    "record", "pages", "faults", "administration", "taking", "lectures", "schools", "house",
)  # fmt: skip
DRESSES = {
    "desk": (FORMS, "fonts", *SHEETS),
    "still": (FORMS, "fonts-still", *SHEETS),  # letters that do not move once they are there
    "gym": (REBOOT, "fonts-still", "base", "masthead", "figures", "today"),
}
"""By name, in the order in which later sheets win; the colours come after the first."""


def register(app: Flask) -> None:
    """Serve them beside the static files, so that what they name lies where it does for each."""
    app.add_url_rule(f"{app.static_url_path}/css/<dress>-dress.css", "dressed", dressed)


@allowed(ANYONE)
def dressed(dress: str) -> ResponseReturnValue:
    """One of them.

    Raises
    ------
    UnknownNameError
    """
    known("dress", dress, DRESSES)
    return Response(sheet_of(dress), mimetype="text/css")


@cache
def sheet_of(dress: str) -> str:
    """The text of all its sheets."""
    first, *others = DRESSES[dress]
    parts = [(STATIC / "vendor" / "bootstrap" / f"{first}.css").read_text("utf-8"), style_sheet()]
    parts += [(STATIC / "css" / f"{name}.css").read_text("utf-8") for name in others]
    return "\n".join(parts)
