"""`curve-rank doubt`: what a list stands on, and what it would be were a number of the model other."""

from __future__ import annotations

from pathlib import Path

import click

from curve_rank.answers.board import BoardRequest
from curve_rank.answers.client import Client
from curve_rank.answers.doubt import DoubtRequest, claims_doubted, doubt
from curve_rank.answers.plain import plain
from curve_rank.cli.options import (
    body_from,
    body_option,
    data_option,
    json_option,
    means_for,
    print_json,
    say,
    say_errors,
)
from curve_rank.rating.targets import targets
from curve_rank.study.claim_words import OUTCOMES


@click.command(name="doubt")
@click.argument("number", default="")
@click.option("--spreads", type=float, default=1.0, show_default=True, help="How far it is off, −3 to 3.")
@click.option("--also", multiple=True, metavar="NUMBER:SPREADS", help="Another that is off besides.")
@click.option("--target", default="biceps_long", show_default=True, help=", ".join(targets()))
@click.option("--lens", default="long_length", show_default=True, help="What the score is by.")
@click.option("--claims", "with_claims", is_flag=True, help="The claims that would read otherwise, instead.")
@body_option
@json_option
@data_option
@say_errors
def doubt_command(
    number: str,
    spreads: float,
    also: tuple[str, ...],
    target: str,
    lens: str,
    with_claims: bool,
    body_text: str | None,
    as_json: bool,
    data: Path | None,
) -> None:
    """What a list stands on; with a NUMBER of the model named, what the list would be with it off."""
    means = means_for(data, on_all_cores=True)
    doubts = DoubtRequest(number=number, spreads=spreads, also=also).doubts()
    if with_claims:
        turned = claims_doubted(means, doubts)
        if as_json:
            print_json(plain(turned))
            return
        for claim in turned.turned:
            say(f"{claim.key}: {OUTCOMES[claim.now]} → {OUTCOMES[claim.then]}. {claim.question}")
        say(f"{len(turned.turned)} of {turned.of} would read otherwise.")
        return
    client = Client(body=body_from(body_text))
    asked = BoardRequest(target=target, lens=lens).of(client, means.library)
    found = doubt(means, asked, doubts)
    if as_json:
        print_json(plain(found))
        return
    if found.number:
        say(f"{found.number.name}, {found.spreads:+g} spreads {found.off}: {found.says}")
        for row in sorted(found.rows, key=lambda row: row.rank_then):
            say(
                f"{row.rank:>3} → {row.rank_then:<3} {row.score:5.1f} → {row.score_then:5.1f}"
                f"  {row.load_kg:6.1f} → {row.load_then_kg:6.1f} kg  {row.name}"
            )
    else:
        for one in found.stands_on:
            first = f"  a spread off, first: {' or '.join(one.other_first)}" if one.other_first else ""
            say(f"{100 * one.part:3.0f} %  {one.number:36} {one.words}{first}")
