"""`curve-rank choose`: the fewest set-ups that cover what is asked, from a shell."""

from __future__ import annotations

from pathlib import Path

import click

from curve_rank.answers.client import Client
from curve_rank.answers.plain import plain
from curve_rank.answers.sets import SetRequest, chosen_set
from curve_rank.cli.options import (
    body_from,
    body_option,
    client_of,
    data_option,
    json_option,
    listed,
    means_for,
    print_json,
    say,
    say_errors,
)
from curve_rank.errors import BadInputError


@click.command(name="choose")
@click.option(
    "--targets", "keys", default="", metavar="LIST", help="Else the client's, or biceps_long,triceps_long."
)
@click.option("--lens", default="long_length", show_default=True, help="What the score is by.")
@click.option(
    "--with",
    "equipment",
    default="",
    metavar="LIST",
    help="All that is to hand; else the client's room, or anything.",
)
@click.option("--spare", default="", metavar="LIST", help="Joints to spare.")
@click.option("--minutes", type=float, help="In which the whole set is done.")
@click.option("--at-most", type=int, default=5, show_default=True, help="Exercises.")
@click.option("--heavy", is_flag=True, help="With one heavy basic lift.")
@click.option("--brachialis", is_flag=True, help="With something for the brachialis.")
@click.option("--pin", default="", metavar="LIST", help="Set-ups that must be in it.")
@click.option("--ban", default="", metavar="LIST", help="Set-ups that must not.")
@click.option("--client", type=int, help="A client's number: their body, joints and room.")
@body_option
@json_option
@data_option
@say_errors
def choose_command(
    keys: str,
    lens: str,
    equipment: str,
    spare: str,
    minutes: float | None,
    at_most: int,
    heavy: bool,
    brachialis: bool,
    pin: str,
    ban: str,
    client: int | None,
    body_text: str | None,
    as_json: bool,
    data: Path | None,
) -> None:
    """Choose the fewest set-ups that load every target long and short, scoring best by the lens."""
    if client is not None and body_text is not None:
        raise BadInputError("--body", body_text, "left out with --client, who has one")
    wish = SetRequest(
        targets=listed(keys),
        lens=lens,
        equipment=listed(equipment),
        spare=listed(spare),
        at_most=at_most,
        minutes=minutes,
        heavy="yes" if heavy else "",
        brachialis="yes" if brachialis else "",
        pinned=listed(pin),
        banned=listed(ban),
    )
    means, (profile, body, room) = means_for(data), client_of(client, data)
    for key in wish.banned:
        means.library.variant(key)  # one that there is not is a slip of the pen
    if client is None:
        body = body_from(body_text)
    else:
        spared = tuple(dict.fromkeys((*wish.spare, *profile.spare)))
        wish = wish.but(targets=listed(keys) or profile.aims, spare=spared)
    answer = chosen_set(means, wish, Client(client, body=body), profile, room)
    if as_json:
        print_json(plain(answer))
        return
    for pick in answer.found.picks:
        say(f"{pick.variant.id:36} {pick.minutes:4.0f} min  {pick.why}")
    for one in answer.found.uncovered:
        say(f"not covered: {one.cell.name}: {one.why}")
