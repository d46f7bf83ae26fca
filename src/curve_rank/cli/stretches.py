"""`curve-rank stretches`: positions to hold, and how long each head gets in them."""

from __future__ import annotations

from pathlib import Path

import click

from curve_rank.answers.plain import plain
from curve_rank.answers.stretches import CAUTION, HeldStretch, StretchRequest, made_for
from curve_rank.cli.options import (
    client_of,
    data_option,
    json_option,
    listed,
    modeller_for,
    print_json,
    say_errors,
)
from curve_rank.study.heads import head_named


@click.command(name="stretches")
@click.option("--heads", default="", metavar="LIST", help="What was trained; else all heads.")
@click.option("--client", type=int, help="A client's number: their joints, what they spare, their room.")
@json_option
@data_option
@say_errors
def stretches_command(heads: str, client: int | None, as_json: bool, data: Path | None) -> None:
    """Positions to hold for what was trained, each with how long the heads get."""
    asked = StretchRequest(heads=listed(heads), person=client)
    trained, who = tuple(map(head_named, asked.heads)), client_of(client, data)
    answer = made_for(modeller_for(data), asked, trained, "", who)
    if as_json:
        print_json(plain(answer))
        return
    for one in answer.first:
        click.echo(
            f"{one.stretch.name}: {one.stretch.rounds} × {one.stretch.hold_s} s a side. {_lengths(one)}"
        )
        for step in one.stretch.setup:
            click.echo(f"    {step}")
    for one in answer.others:
        click.echo(f"or {one.stretch.id}: {_lengths(one)}")
    for stretch, why in answer.left_out:
        click.echo(f"not {stretch.id}: {why}")
    click.echo(CAUTION)


def _lengths(one: HeldStretch) -> str:
    found = (f"{head.name} {reach.percent.median:.0f} % of its range" for head, reach in one.long)
    return ", ".join(found)
