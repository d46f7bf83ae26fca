"""`curve-rank rank`: the board from a shell."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import click

from curve_rank.answers.board import BoardRequest, board, ranked, sureness
from curve_rank.answers.client import Client
from curve_rank.answers.plain import plain
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS
from curve_rank.cli.options import (
    body_from,
    body_option,
    data_option,
    json_option,
    lines_option,
    listed,
    means_for,
    print_json,
    print_rows,
    say,
    say_errors,
)
from curve_rank.errors import BadInputError
from curve_rank.rating.lenses import lenses
from curve_rank.rating.ranking import Ranking
from curve_rank.rating.targets import targets
from curve_rank.rating.words import printed


@click.command(name="rank")
@click.option("--target", default="biceps_long", show_default=True, help=", ".join(targets()))
@click.option(
    "--lens", default="long_length", show_default=True, help=", ".join(lenses()) + ", or one of your own."
)
@click.option("--with", "equipment", default="", help="Comma-separated equipment; empty for anything.")
@click.option("--spare", default="", help="Comma-separated joints: elbow, shoulder, wrist, lower_back.")
@body_option
@click.option("--reps", type=int, default=DEFAULT_EFFORT_REPS, show_default=True)
@click.option("--draws", type=int, help="Say how sure: draws of arm and set-up, 500 is usual.")
@click.option("--beats", default="", metavar="A,B", help="With draws: the chance that A ranks above B.")
@click.option("--seed", type=int, default=1, show_default=True, help="Of the draws; the same gives the same.")
@json_option
@lines_option
@data_option
@say_errors
def rank_command(
    target: str,
    lens: str,
    equipment: str,
    spare: str,
    body_text: str | None,
    reps: int,
    draws: int | None,
    beats: str,
    seed: int,
    as_json: bool,
    as_lines: bool,
    data: Path | None,
) -> None:
    """Rank variants for a target through a lens."""
    wish = BoardRequest(target=target, lens=lens, equipment=listed(equipment), spare=listed(spare), reps=reps)
    means = means_for(data, on_all_cores=True)
    asked = wish.of(Client(body=body_from(body_text)), means.library).question
    ranking = ranked(means, asked)
    pair = _pair(ranking, beats, draws)
    answer, chance = board(means, asked, ranking, pictures=False), {}
    if draws is not None:
        from curve_rank.cli.draws import drawn_certainty  # brings processes with it

        drawn = drawn_certainty(ranking, draws, seed)
        answer = replace(answer, certainty=sureness(drawn))
        chance = {"chance": round(float(drawn.beats[pair]), 4)} if pair else {}
    if as_lines:
        print_rows(plain(answer)["rows"])
        return
    if as_json:
        print_json(plain(answer) | chance)
        return
    if chance:
        say(f"{beats.replace(',', ' ranks above ')} with {100 * chance['chance']:.0f} %\n")
    for said in answer.sparing:
        say(said)
    for row, sure in zip(answer.rows, answer.certainty.rows, strict=True):
        between = "[{}–{}]".format(*sure.rank_interval)
        say(f"{row.rank:3}  {printed(row.score):>3}  {row.name}  {between}\n            {row.why}")
    say(f"\n{len(answer.left_out)} left out.")


def _pair(ranking: Ranking, text: str, draws: int | None) -> tuple[int, int] | None:
    """Places of two ranked variants named "A,B", or None for no text.

    Raises
    ------
    BadInputError
        When the text is not two ids, there are no draws, or a variant is not ranked.
    """
    if not text:
        return None
    names = [name.strip() for name in text.split(",")]
    places = {row.variant.id: i for i, row in enumerate(ranking.rows)}
    if len(names) != 2 or not draws:
        raise BadInputError("--beats", text, "two ids, as in A,B, together with --draws")
    for name in names:
        if name not in places:
            raise BadInputError("--beats", name, "the id of a variant that this question ranks")
    return places[names[0]], places[names[1]]
