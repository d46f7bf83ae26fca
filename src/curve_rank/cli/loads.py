"""`curve-rank transfer`, `tempo` and `schemes`: loads carried over, and reps in time."""

from __future__ import annotations

from pathlib import Path

import click

from curve_rank.answers.loads import Manners, load_elsewhere
from curve_rank.answers.plain import plain
from curve_rank.arm.readings import LENGTHS
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, usual_effort
from curve_rank.arm.stroke import Strokes
from curve_rank.arm.tempo import Tempo, TimedReps, time_rep
from curve_rank.cli.options import (
    Mass,
    body_from,
    body_option,
    data_option,
    json_option,
    library,
    means_for,
    planner_of,
    print_json,
    say,
    say_errors,
    unit_here,
)
from curve_rank.errors import BadInputError
from curve_rank.exchange.json_views import scheme_view, timed_view
from curve_rank.rating.modelling import VariantModel, model_variants
from curve_rank.rating.targets import targets
from curve_rank.rating.words import load_words, printed
from curve_rank.study.schemes import read_pair, read_schemes, schemes, tempo_of
from curve_rank.study.strictness import MANNERS
from curve_rank.study.strokes import stroke_words, strokes_of
from curve_rank.study.transfer import KnownSet


@click.command(name="transfer")
@click.argument("known")
@click.argument("wanted")
@click.option("--load", type=Mass(), required=True, help="Load of the known set.")
@click.option("--reps", type=int, default=DEFAULT_EFFORT_REPS, show_default=True, help="Of the known set.")
@click.option("--to-reps", type=int, default=DEFAULT_EFFORT_REPS, show_default=True, help="Wanted there.")
@click.option("--client", type=int, help="A client's number: their body, and what their log says of it.")
@click.option("--done", default="strictly", help="How the known set was done: " + ", ".join(MANNERS) + ".")
@click.option("--to-done", default="strictly", help="How the wanted one will be.")
@body_option
@json_option
@data_option
@say_errors
def transfer_command(
    known: str,
    wanted: str,
    load: float,
    reps: int,
    to_reps: int,
    client: int | None,
    done: str,
    to_done: str,
    body_text: str | None,
    as_json: bool,
    data: Path | None,
) -> None:
    """How much a set on KNOWN is on WANTED, with an interval, rounded to the equipment's steps."""
    means = means_for(data)
    if client is not None and body_text is not None:
        raise BadInputError("--body", body_text, "left out with --client, who has one")
    one = KnownSet(means.library.variant(known), load, reps)
    planner = planner_of(client, data, means)
    body = body_from(body_text) if client is None else planner.body
    factors = planner.learned.factors if planner.learned else {}
    manners = Manners(done, to_done)
    answer = load_elsewhere(
        means, body, one, means.library.variant(wanted), to_reps, factors, manners, unit_here()
    )
    if as_json:
        print_json(plain(answer))
        return
    median, low, high = (printed(value, 1) for value in (answer.median, answer.low, answer.high))
    say(f"{answer.document.name}: {answer.words}")
    say(f"{median} kg, eight in ten between {low} and {high} kg")


@click.command(name="tempo")
@click.argument("variant")
@click.option("--tempo", "tempo_text", help="Lower-pause-lift-squeeze [s], as in 3-1-1-0.")
@click.option("--load", type=Mass(), help="Load, instead of the working load.")
@body_option
@json_option
@data_option
@say_errors
def tempo_command(
    variant: str,
    tempo_text: str | None,
    load: float | None,
    body_text: str | None,
    as_json: bool,
    data: Path | None,
) -> None:
    """One rep in time: inertia, force against velocity, time under tension."""
    modelled = _modelled(variant, body_text, data, load)
    tempo = tempo_of(modelled.variant) if tempo_text is None else Tempo.parse(tempo_text, "--tempo")
    timed, strokes = time_rep(modelled.setup, modelled.body, modelled.load, tempo), strokes_of(modelled)
    if as_json:
        print_json(timed_view(modelled, timed, strokes))
        return
    _print_timed(modelled, timed, strokes)


@click.command(name="schemes")
@click.argument("variant")
@click.option("--then", "second", help="A second variant, back to back.")
@body_option
@json_option
@data_option
@say_errors
def schemes_command(
    variant: str, second: str | None, body_text: str | None, as_json: bool, data: Path | None
) -> None:
    """Where rep schemes place tension: long, middle and short, per head and per minute."""
    modelled = _modelled(variant, body_text, data, None)
    readings = list(read_schemes(modelled, tuple(schemes().values())))
    if second:
        readings.append(read_pair(modelled, _modelled(second, body_text, data, None)))
    if as_json:
        print_json([scheme_view(modelled, reading) for reading in readings])
        return
    head = targets()[modelled.variant.group].heads[0]
    place = modelled.anatomy.index(head)
    say(f"Seconds of full tension on {targets()[head].name.lower()}: {', '.join(LENGTHS)}")
    for reading in readings:
        placed = "  ".join(f"{reading.tension[length][place]:5.1f}" for length in LENGTHS)
        say(f"{reading.scheme.name:28} {placed}   in {reading.seconds:.0f} s")


def _modelled(variant: str, body_text: str | None, data: Path | None, load: float | None) -> VariantModel:
    document = library(data).variant(variant)
    effort = usual_effort()
    return model_variants((document,), body_from(body_text), effort=effort, load=load)[0]


def _print_timed(modelled: VariantModel, timed: TimedReps, strokes: Strokes | None) -> None:
    say(f"{modelled.variant.name}, {load_words(modelled)}, {timed.tempo.total:g} s a rep")
    say(f"{timed.under_light:.1f} s over 20 % effort, {timed.under_hard:.1f} s over 50 %")
    first, middle, last = timed.thirds.values()
    say(f"{first:.1f} s in the first third, {middle:.1f} s in the middle, {last:.1f} s in the last")
    say(f"inertia adds up to {abs(timed.inertial).max():.1f} N·m")
    if says := stroke_words(strokes, timed):
        say(says)
