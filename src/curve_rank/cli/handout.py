"""`curve-rank handout`: a page for each variant, to print; several as a booklet."""

from __future__ import annotations

from pathlib import Path

import click

from curve_rank.cli.options import data_option, say_errors, write_file
from curve_rank.cli.publish import HERE, whole_app
from curve_rank.settings import read_settings


@click.command(name="handout")
@click.argument("variants", nargs=-1, required=True)
@click.option("--paper", type=click.Choice(("a4", "letter")), default="a4", show_default=True)
@click.option("--out", type=click.Path(path_type=Path, dir_okay=False), required=True, help="The PDF's file.")
@data_option
@say_errors
def handout_command(variants: tuple[str, ...], paper: str, out: Path, data: Path | None) -> None:
    """Print VARIANTS to a PDF: one on a page of its own, several behind a page of contents."""
    from curve_rank.web.pages.variants.booklet import handouts

    with whole_app(read_settings(data=data)) as app, app.test_request_context(base_url=HERE):
        made = handouts(variants, paper)
    write_file(out, made)
    click.echo(f"{out}: {len(variants)} {'page' if len(variants) == 1 else 'pages and their contents'}")
