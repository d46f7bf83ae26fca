"""`curve-rank take`: what a page answers, as a file, from a shell."""

from __future__ import annotations

from pathlib import Path
from typing import get_args
from urllib.parse import urlsplit

import click

from curve_rank.cli.options import (
    HERE,
    data_option,
    json_option,
    means_for,
    say_errors,
    say_written,
    shell_viewer,
    store_in,
    unit_asked,
    unit_option,
    write_file,
)
from curve_rank.errors import BadInputError
from curve_rank.exchange.leaflet import Ending, Paper, Size


@click.command(name="take")
@click.argument("page")
@click.option(
    "--as",
    "ending",
    type=click.Choice(["pdf", "csv", "md", "json", "svg", "png"]),
    default="pdf",
    show_default=True,
)
@click.option("--picture", default="", help="Which picture, for svg and png; the one that stands for all.")
@click.option("--paper", type=click.Choice(get_args(Paper)), default="light", show_default=True)
@click.option("--size", type=click.Choice(get_args(Size)), default="slide", show_default=True)
@click.option("--at", default=HERE, show_default=True, help="Where others reach this installation.")
@click.option("-o", "--out", type=click.Path(path_type=Path, dir_okay=False), help="A file; else printed.")
@unit_option
@json_option
@data_option
@say_errors
def take_command(
    page: str,
    ending: Ending,
    picture: str,
    paper: Paper,
    size: Size,
    at: str,
    out: Path | None,
    as_json: bool,
    data: Path | None,
) -> None:
    """Take PAGE along, an address of the application, as a file that says all that the page says."""
    from curve_rank.answers.leaflets import leaflet_from  # brings all that can be taken
    from curve_rank.exchange.leaflet import written

    if urlsplit(at).scheme not in ("http", "https") or not urlsplit(at).hostname:
        raise BadInputError("--at", at, f"an address, as in {HERE}")
    means, store = means_for(data), store_in(data)
    with store.reading() as session:
        found = leaflet_from(session, shell_viewer(session), means, page, unit_asked())
    link = f"{at.rstrip('/')}/{page.lstrip('/')}"
    made: str | bytes = written(found, ending, link, picture=picture, paper=paper, size=size)
    where = out or Path("-")
    write_file(where, made)
    if out is not None or as_json:
        say_written(where, found.title, as_json=as_json, title=found.title)
