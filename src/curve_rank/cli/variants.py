"""`curve-rank variants`: what there is, from a shell."""

from __future__ import annotations

from pathlib import Path

import click

from curve_rank.catalogue.library import variant_line
from curve_rank.cli.options import (
    all_variants,
    data_option,
    json_option,
    lines_option,
    print_json,
    print_rows,
    say_errors,
)


@click.command()
@json_option
@lines_option
@data_option
@say_errors
def variants(as_json: bool, as_lines: bool, data: Path | None) -> None:
    """List the variants."""
    lines = [variant_line(v) for v in all_variants(data)]
    if as_lines:
        print_rows(lines)
        return
    if as_json:
        print_json(lines)
        return
    for line in lines:
        click.echo(f"{line['id']:36} {line['target']:10} {line['name']}")
