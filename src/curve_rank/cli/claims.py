"""`curve-rank claims`: the ledger, or one claim, with its verdicts."""

from __future__ import annotations

from pathlib import Path

import click

from curve_rank.answers.claims import weighed
from curve_rank.answers.plain import plain
from curve_rank.cli.options import (
    data_option,
    json_option,
    library,
    lines_option,
    modeller_for,
    print_json,
    print_rows,
    say,
    say_errors,
    unit_option,
)
from curve_rank.rating.targets import known


@click.command(name="claims")
@click.argument("claim", required=False)
@unit_option
@json_option
@lines_option
@data_option
@say_errors
def claims_command(claim: str | None, as_json: bool, as_lines: bool, data: Path | None) -> None:
    """Verdicts on all claims, or on one CLAIM by its id."""
    there = library(data)
    asked = {claim: known("claim", claim, there.claims)} if claim else there.claims
    found = weighed(there, asked, modeller_for(data))
    if as_lines:
        print_rows(map(plain, found))
        return
    if as_json:
        views = [plain(entry) for entry in found]
        print_json(views[0] if claim else views)
        return
    for entry in found:
        sure = f" {entry.probability}" if entry.probability else ""
        say(f"{entry.key}: {entry.says}{sure}. {entry.claim.sides[0]}")
        if claim and entry.verdict:
            say(f"  {entry.size if entry.verdict.size else entry.verdict.missing}")
