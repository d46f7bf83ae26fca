"""`curve-rank handout`: a page for each variant, to print; several as a booklet."""

from __future__ import annotations

from pathlib import Path

import click

from curve_rank.answers.client import Client
from curve_rank.answers.handout import PAPERS, Sheet, booklet, check_number, handout, page, subject
from curve_rank.cli.options import (
    HERE,
    data_option,
    json_option,
    means_for,
    say_errors,
    say_written,
    unit_here,
    unit_option,
    write_file,
)
from curve_rank.exchange.pdf import pdf


@click.command(name="handout")
@click.argument("variants", nargs=-1, required=True)
@click.option("--paper", type=click.Choice(tuple(PAPERS)), default="a4", show_default=True)
@click.option("--two", is_flag=True, help="Two on a page, without contents: for a class.")
@click.option("--title", default="", help="Above several, where that is not how many they are.")
@click.option("--words", default="", help="Own words under the title.")
@click.option("--out", type=click.Path(path_type=Path, dir_okay=False), required=True, help="The PDF's file.")
@unit_option
@json_option
@data_option
@say_errors
def handout_command(
    variants: tuple[str, ...],
    paper: str,
    two: bool,
    title: str,
    words: str,
    out: Path,
    as_json: bool,
    data: Path | None,
) -> None:
    """Print VARIANTS to a PDF in their order: one on a page of its own, several behind their contents."""
    check_number(len(variants))
    means, size = means_for(data), PAPERS[paper]
    there = means.library
    made = [handout(means, subject(means, there.variant(name), Client(), there.lenses)) for name in variants]
    sheet = Sheet(title, words, two=two, unit=unit_here())
    alone = len(made) == 1 and not two
    html = page(made[0], size, _link(variants[0]), sheet.unit) if alone else booklet(made, size, _link, sheet)
    write_file(out, pdf(html))
    many = f"{len(variants)} {'page' if len(variants) == 1 else 'pages and their contents'}"
    printed = f"{len(variants)} set-ups, two a page" if two else many
    say_written(out, printed, as_json=as_json, setups=list(variants))


def _link(variant: str) -> str:
    return f"{HERE}/variants/{variant}"
