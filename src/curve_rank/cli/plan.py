"""`curve-rank plan`, `plan-card` and `calendar`: a block for somebody, and what leaves of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, date, datetime
from pathlib import Path

import click

from curve_rank.answers.card import Card, card, card_dates, card_pdf, first_of
from curve_rank.cli.options import (
    data_option,
    json_option,
    listed,
    means_for,
    planner_of,
    print_json,
    say_errors,
    say_written,
    shell_viewer,
    store_in,
    unit_here,
    write_file,
)
from curve_rank.errors import BadInputError
from curve_rank.exchange.plan_views import plan_view
from curve_rank.practice.block import KINDS, next_monday
from curve_rank.practice.make_block import LAST, BlockWish
from curve_rank.practice.plan_warnings import warnings
from curve_rank.practice.profile import WEEKDAYS, loads_in_words
from curve_rank.practice.session import FIRST
from curve_rank.rating.targets import known
from curve_rank.store import plans, profiles

LETTERS = 46
PAPERS = ("a4", "letter")


@click.command(name="plan")
@click.option("--client", type=int, help="A client's number; without it, the default body in any gym.")
@click.option("--picks", default="", metavar="LIST", help="Variants; else those a set would have.")
@click.option("--targets", default="", metavar="LIST", help="Instead of the client's own.")
@click.option("--lens", default="long_length", show_default=True)
@click.option("--name", default="Block", show_default=True)
@click.option("--weeks", type=int, default=4, show_default=True)
@click.option("--per-week", type=int, default=3, show_default=True, help="Sessions a week.")
@click.option("--minutes", type=int, help="A session; instead of the client's own.")
@click.option("--first", type=click.Choice(FIRST), default="triceps", show_default=True)
@click.option("--kind", type=click.Choice(KINDS), default="straight", show_default=True)
@click.option("--rotate", is_flag=True, help="Straight sets, then pairs, then triples across the week.")
@click.option("--same", is_flag=True, help="The same session every time.")
@click.option("--stretches", is_flag=True)
@click.option("--last", type=click.Choice(LAST), default="same", show_default=True, help="The last week.")
@click.option("--low", type=float, default=8.0, show_default=True, help="Fewest hard sets a head a week.")
@click.option("--high", type=float, default=20.0, show_default=True, help="Most.")
@click.option("--override", default="", help="Why there need be no rest day between.")
@click.option("--start", metavar="DAY", help="The Monday of the first week; else the next.")
@click.option("--keep", is_flag=True, help="Keep it among the blocks.")
@json_option
@data_option
@say_errors
def plan_command(
    client: int | None,
    picks: str,
    targets: str,
    lens: str,
    name: str,
    weeks: int,
    per_week: int,
    minutes: int | None,
    first: str,
    kind: str,
    rotate: bool,
    same: bool,
    stretches: bool,
    last: str,
    low: float,
    high: float,
    override: str,
    start: str | None,
    keep: bool,
    as_json: bool,
    data: Path | None,
) -> None:
    """Plan a block of weeks for somebody."""
    means = means_for(data)
    there, planner = means.library, planner_of(client, data, means)
    changed: dict[str, object] = {"targets": listed(targets)} if targets else {}
    changed |= {"minutes": minutes} if minutes is not None else {}
    planner = replace(planner, profile=profiles.changed_profile(planner.profile, **changed))
    chosen = known("lens", lens, there.lenses)
    named = listed(picks)
    wish = BlockWish(name, weeks, per_week, first, kind, rotate, stretches, last, low, high, override)
    wish = replace(wish, vary=not same, every=bool(named))
    block = planner.make(named or planner.pool(chosen, wish), wish, chosen.key)
    today = planner.profile.day_at(datetime.now(UTC))
    block = block.model_copy(update={"start": next_monday(today) if start is None else _monday(start)})
    context = planner.context()
    view = plan_view(block, context, {}, warnings(block, context))
    if keep:
        with store_in(data).writing() as session:
            clients = () if client is None else (client,)
            view["number"] = plans.add_plan(session, shell_viewer(session), block, clients)
    if as_json:
        print_json(view)
        return
    unit = unit_here(planner.profile.mass_unit)
    for week in view["weeks"]:
        click.echo(f"Week {week['week']}{' (easier)' if week['easier'] else ''}")
        for session in week["sessions"]:
            click.echo(f"  {session['day'].capitalize()}, {session['minutes']:.0f} min")
            for one in session["exercises"]:
                sets = loads_in_words(((t["load"], str(t["reps"])) for t in one["sets"]), unit)
                click.echo(f"    {one['group'] or '-'} {one['name'][:LETTERS]:{LETTERS}} {sets}")
    for warning in view["warnings"]:
        click.echo(f"to be mended: {warning['says']}")
    if keep:
        click.echo(f"kept as block {view['number']}")


def _monday(text: str) -> date:
    try:
        day = date.fromisoformat(text)
    except ValueError as error:
        raise BadInputError("--start", text, "a Monday, as in 2026-03-02") from error
    if day.weekday() != 0:
        raise BadInputError("--start", text, f"a Monday; it is a {WEEKDAYS[day.weekday()]}")
    return day


@click.command(name="plan-card")
@click.argument("number", type=int)
@click.option("--client", type=int, help="Whose loads stand on it.")
@click.option("--paper", type=click.Choice(PAPERS), default="a4", show_default=True)
@click.option("--out", type=click.Path(path_type=Path, dir_okay=False), required=True, help="PDF to write.")
@json_option
@data_option
@say_errors
def plan_card_command(
    number: int, client: int | None, paper: str, out: Path, as_json: bool, data: Path | None
) -> None:
    """Write the printable card of block NUMBER."""
    write_file(out, _made(number, client, data, lambda made: card_pdf(made, paper)))
    say_written(out, f"the card of block {number}", as_json=as_json, block=number)


@click.command(name="calendar")
@click.argument("number", type=int)
@click.option("--client", type=int, help="Whose loads and clock.")
@click.option("--out", type=click.Path(path_type=Path, dir_okay=False), required=True, help="File to write.")
@json_option
@data_option
@say_errors
def calendar_command(number: int, client: int | None, out: Path, as_json: bool, data: Path | None) -> None:
    """Write block NUMBER as an iCalendar file."""
    write_file(out, _made(number, client, data, card_dates))
    say_written(out, f"the dates of block {number}", as_json=as_json, block=number)


def _made(number: int, client: int | None, data: Path | None, make: Callable[[Card], bytes]) -> bytes:
    """A block as its client, the first where none is named, has it, as a file."""
    means = means_for(data)
    with store_in(data).reading() as db:
        viewer = shell_viewer(db)
        plan = plans.plan(db, viewer, number)
        return make(card(db, viewer, plan, first_of(plan) if client is None else client, means))
