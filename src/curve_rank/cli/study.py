"""`curve-rank compare`, `series`, `atlas`, `faults` and `improve`: set-ups studied from a shell."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import click

from curve_rank.answers.client import Client
from curve_rank.answers.compare import CompareRequest, side_by_side
from curve_rank.answers.faults import FaultsQuestion, faults_priced
from curve_rank.answers.plain import plain
from curve_rank.answers.series import SeriesQuestion, stepped
from curve_rank.arm.atlas import MAP_STEP, atlas
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.setups import faults_named
from curve_rank.cli.options import (
    body_from,
    body_option,
    data_option,
    json_option,
    library,
    listed,
    means_for,
    modeller_for,
    print_json,
    say,
    say_errors,
    unit_here,
)
from curve_rank.errors import BadInputError
from curve_rank.exchange.study_views import (
    atlas_view,
    search_view,
)
from curve_rank.practice.units import amount_in, unit_in
from curve_rank.rating.readings import Reading, all_readings
from curve_rank.rating.targets import Target, known, long_head, targets
from curve_rank.rating.words import printed
from curve_rank.study.compare import FEWEST, MOST, Difference
from curve_rank.study.improve import improve, parse_aim, search_grid
from curve_rank.study.series import parse_steps

target_option = click.option("--target", help="Head or group; else the long head. " + ", ".join(targets()))
lens_option = click.option("--lens", default="long_length", show_default=True, help="What the score is by.")
reps_option = click.option(
    "--reps", type=int, default=DEFAULT_EFFORT_REPS, show_default=True, help="To failure."
)


def for_a_body(command: Callable[..., Any]) -> Callable[..., Any]:
    """What every study of a set-up takes: repetitions, a body, a data folder, and whether to print JSON."""
    return reps_option(body_option(json_option(data_option(say_errors(command)))))


@click.command(name="compare")
@click.argument("variants", nargs=-1, required=True)
@target_option
@lens_option
@for_a_body
def compare_command(
    variants: tuple[str, ...],
    target: str | None,
    lens: str,
    reps: int,
    body_text: str | None,
    as_json: bool,
    data: Path | None,
) -> None:
    """Readings of two to four VARIANTS, their differences, and how sure each difference is."""
    if not FEWEST <= len(set(variants)) <= MOST:
        raise BadInputError("VARIANTS", ", ".join(variants), f"{FEWEST} to {MOST} variants")
    means = means_for(data)
    wish = CompareRequest(setups=variants, target=target or "", lens=lens, reps=reps)
    client = Client(body=body_from(body_text))
    asked = wish.of(client, means.library)
    _target(target, asked.variants[0])  # a page falls back to the long head; a shell says what is wrong
    found = side_by_side(means, asked)
    if as_json:
        print_json(plain(found))
        return
    for column in found.variants:
        say(f"{column.letter}  {column.name}")
    for one in found.readings:
        of = one.reading.unit
        medians = "".join(f"{_shown(spread.median, one.reading):>10}" for spread in one.columns)
        sure = one.differences[0, 1]
        more = _shown(sure.spread.median, one.reading, sign=True)
        nothing = sure.spread.is_nothing(one.reading.digits)
        says = ("" if nothing else f"B − A {more}, ") + sure.says(one.reading.digits)
        say(f"{one.reading.name[:34]:34}{medians}  {unit_in(unit_here(), of):14} {says}")


@click.command(name="series")
@click.argument("variant")
@click.option("--field", required=True, help="Dotted path of the document, as in posture.trunk_pitch.")
@click.option("--steps", "steps_text", required=True, help="from:to:step, or a list with commas.")
@click.option("--reading", default="long_tension", show_default=True, help=", ".join(all_readings()))
@click.option("--head", help="Whose reading; else the long head's.")
@for_a_body
def series_command(
    variant: str,
    field: str,
    steps_text: str,
    reading: str,
    head: str | None,
    reps: int,
    body_text: str | None,
    as_json: bool,
    data: Path | None,
) -> None:
    """One reading of VARIANT while one field changes in steps: medians and intervals."""
    means = means_for(data)
    document, steps = means.library.variant(variant), parse_steps(steps_text)
    asked = SeriesQuestion(
        variant=document,
        field=field,
        values=steps,
        names=tuple(map(str, steps)),
        name=field,
        label=field,
        reading=known("reading", reading, all_readings()),
        target=_target(head, document),
        client=Client(body=body_from(body_text)),
        reps=reps,
    )
    found = stepped(means, asked)
    if as_json:
        print_json(plain(found))
        return
    say(f"{found.name} [{unit_in(unit_here(), found.unit)}] of {document.name}")
    for step in found.steps:
        if step.spread is None:
            say(f"{step.value!s:>8}  {step.problem}")
            continue
        told, of = step.spread, found.reading
        mark = "  best" if step.is_best else ""
        say(
            f"{step.value!s:>8}  {_shown(told.median, of)}  "
            f"({_shown(told.low, of)} to {_shown(told.high, of)}){mark}"
        )


@click.command(name="faults")
@click.argument("variant")
@click.option("--together", default="", help="Comma-separated keys of faults that are made at once.")
@target_option
@lens_option
@for_a_body
def faults_command(
    variant: str,
    together: str,
    target: str | None,
    lens: str,
    reps: int,
    body_text: str | None,
    as_json: bool,
    data: Path | None,
) -> None:
    """What each fault of VARIANT takes from its score, dearest first."""
    means = means_for(data)
    document = means.library.variant(variant)
    asked = FaultsQuestion(
        variants=(document,),
        target=_target(target, document),
        lens=means.library.lens(lens),
        client=Client(body=body_from(body_text)),
        reps=reps,
        together=faults_named(means.library.faults_of(document), listed(together)),
    )
    found = faults_priced(means, asked)
    if as_json:
        print_json(plain(found))
        return
    for price in found.prices:
        names = " and ".join(fault.name for fault in price.faults)
        if price.price is None:
            say(f"    –  {names}: {price.problem}")
        else:
            points = printed(price.price.spread.median, 1, sign=True)
            say(f"{points:>5}  {names}, {price.price.says(1)}")


@click.command(name="improve")
@click.argument("variant")
@click.option("--aim", required=True, help="A reading and a way, as in 'long_tension up'.")
@click.option("--head", help="Whose reading; else the long head's.")
@click.option("--keep", default="", help="Comma-separated readings that must not get worse, as in load.")
@click.option("--fields", default="", help="Comma-separated fields that may change; else all.")
@for_a_body
def improve_command(
    variant: str,
    aim: str,
    head: str | None,
    keep: str,
    fields: str,
    reps: int,
    body_text: str | None,
    as_json: bool,
    data: Path | None,
) -> None:
    """What changes to VARIANT further an aim most, and what they cost elsewhere."""
    document = library(data).variant(variant)
    found = improve(
        document,
        parse_aim(aim, _target(head, document).heads[0], listed(keep)),
        body=body_from(body_text),
        effort=effort_for_reps(reps),
        modeller=modeller_for(data),
        grid=search_grid(document, listed(fields)),
    )
    if as_json:
        print_json(search_view(found))
        return
    if not found.all:
        say("Nothing within the gym's steps and the joints' ranges does better.")
    for one in found.all:
        changes = ", ".join(f"{c.control.name} {c.control.shown:g} to {c.to:g}" for c in one.changes)
        costs = ", ".join(f"{c.reading.name.lower()} {_more(c.difference, c.reading)}" for c in one.costs)
        say(f"{_more(one.gain, found.aim.reading):>6}  {changes}" + (f"; costs {costs}" if costs else ""))


@click.command(name="atlas")
@click.argument("head")
@click.option("--across", type=click.Choice(["shoulder", "forearm"]), default="shoulder", show_default=True)
@click.option("--step", type=float, default=MAP_STEP, show_default=True, help="Between two angles [degrees].")
@click.option("--held", type=float, default=0.0, show_default=True, help="The third joint's angle [degrees].")
@json_option
@say_errors
def atlas_command(head: str, across: str, step: float, held: float, as_json: bool) -> None:
    """Moment arm, length and strength of HEAD over the elbow and a second joint."""
    found = atlas(
        head, known("across", across, {"shoulder": "shoulder", "forearm": "forearm"}), step=step, held=held
    )
    if as_json:
        print_json(atlas_view(found))
        return
    strongest = abs(found.strength).argmax()
    row, column = divmod(int(strongest), found.elbow.size)
    say(
        f"{head}: elbow moment arm {1000 * found.moment_arms['elbow'].min():.0f} to "
        f"{1000 * found.moment_arms['elbow'].max():.0f} mm, length {found.percent.min():.0f} to "
        f"{found.percent.max():.0f} % of its range; strongest with the elbow at {found.elbow[column]:.0f}° "
        f"and the {across} at {found.other[row]:.0f}°"
    )


def _more(difference: Difference, reading: Reading) -> str:
    return _shown(difference.spread.median, reading, sign=True)


def _shown(value: float, reading: Reading, *, sign: bool = False) -> str:
    """A reading's value as it is printed, in the command's unit where it is a mass."""
    return printed(amount_in(unit_here(), value, reading.unit), reading.digits, sign=sign)


def _target(name: str | None, variant: Variant) -> Target:
    if name is None:
        return long_head(variant.group)
    found = known("target", name, targets())
    if found.group != variant.group:
        raise BadInputError("target", name, f"one of the {variant.group}, as {variant.name} is for them")
    return found
