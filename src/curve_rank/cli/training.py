"""`curve-rank log import`, `progress`, `personal` and `review`: a log from a file, or a client's own."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime
from functools import partial
from pathlib import Path

import click

from curve_rank.answers.log_files import bring, unit_in_doubt
from curve_rank.answers.review import reviewed
from curve_rank.answers.today import Coming, coming
from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS
from curve_rank.catalogue.library import find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.cli.options import (
    body_from,
    body_option,
    data_option,
    json_option,
    library,
    listed,
    means_for,
    print_json,
    read_text,
    say,
    say_errors,
    say_progress,
    shell_viewer,
    store_in,
    trainee_in,
    unit_here,
)
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.exchange.logs import LARGEST, LogPreview, guess, preview, sheet_of
from curve_rank.exchange.training_views import personal_view, review_view, target_view
from curve_rank.practice.facts import facts_for
from curve_rank.practice.session import targets_in_words
from curve_rank.practice.units import MASS_UNITS
from curve_rank.rating.criteria import carried
from curve_rank.settings import read_settings
from curve_rank.store import plans
from curve_rank.store.safe.shelf import Shelf
from curve_rank.study.draw_bank import DrawBank
from curve_rank.training.learning import helped_by, learn, loads_of
from curve_rank.training.log import LoggedSet, bouts
from curve_rank.training.pain import pain_state
from curve_rank.training.progression import guide_range, next_target

TOLD = 12
"""Problems of a file that are told of one by one."""
file_option = click.option(
    "--file", "file", type=click.Path(path_type=Path, dir_okay=False), help="A log as CSV."
)
client_option = click.option("--client", type=int, help="A client's number.")
today_option = click.option("--today", metavar="DAY", help="As if it were that day, as in 2026-03-02.")


@click.group(name="log")
def log_group() -> None:
    """A client's log."""


@log_group.command(name="import")
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
@click.option("--client", type=int, help="Whose log it is; else one's own.")
@click.option("--unit", type=click.Choice(tuple(MASS_UNITS)), help="Of the loads; else as their title says.")
@click.option("--dates", type=click.Choice(("ymd", "dmy", "mdy")), help="Order of a date's parts.")
@click.option("--match", multiple=True, metavar="NAME=VARIANT", help="What an exercise of the file is here.")
@click.option("--skip-bad", is_flag=True, help="Keep the rows that can be read, although others cannot.")
@json_option
@data_option
@say_errors
def import_log(
    file: Path,
    client: int | None,
    unit: str | None,
    dates: str | None,
    match: tuple[str, ...],
    skip_bad: bool,
    as_json: bool,
    data: Path | None,
) -> None:
    """Keep the sets of FILE in a client's log: all of them, or none while a row cannot be read."""
    found = _read(file, library(data).variants, unit, dates, match)
    if not as_json:
        _tell_problems(found)
    if found.problems and not skip_bad:
        count = f"{len(found.problems)} rows that cannot be read"
        raise BadInputError("file", count, "rows that can; or --skip-bad to leave them out")
    means = means_for(data)
    with store_in(data).writing() as session:
        viewer = shell_viewer(session)
        whose = client or viewer.person
        doubt = "" if unit else unit_in_doubt(session, viewer, whose, means, found.sets, found.unit)
        if doubt:
            likely = f"--unit {doubt}, or --unit {found.unit} if that is right"
            raise BadInputError("unit", f"loads in {found.unit} that this body is not likely to lift", likely)
        kept = bring(session, viewer, whose, found.sets, means.variants, partial(_tell_done, len(found.sets)))
    told = {"kept": kept, "already_here": len(found.sets) - kept, "left_out": len(found.problems)}
    told["twice"] = len(found.doubles)
    if as_json:
        print_json(told | {"problems": [vars(problem) for problem in found.problems[:TOLD]]})
        return
    click.echo(f"{kept} sets kept, {told['already_here']} were here already.")


@click.command(name="progress")
@file_option
@client_option
@today_option
@json_option
@data_option
@say_errors
def progress_command(
    file: Path | None, client: int | None, today: str | None, as_json: bool, data: Path | None
) -> None:
    """The next target of every exercise that was done, each with its reason."""
    variants = library(data).variants
    if client is not None and file is None:
        named = _targets_of_client(client, data, _day(today))
    else:
        log = _read(_needed(file), variants).sets
        named = _targets(log, variants, _day(today) or max((one.day for one in log), default=_today()))
    if as_json:
        print_json({"next": {key: target_view(*coming) for key, coming in named.items()}})
        return
    for key, (target, sets) in named.items():
        aim = targets_in_words(sets, unit_here()) or target.action
        click.echo(f"{find_variant(key, variants).name}: {aim}. {target.reason}")


@click.command(name="personal")
@file_option
@client_option
@click.option("--reps", type=int, default=DEFAULT_EFFORT_REPS, show_default=True, help="To failure.")
@click.option("--variants", default="", metavar="LIST", help="Whose loads are told; else all.")
@today_option
@body_option
@json_option
@data_option
@say_errors
def personal_command(
    file: Path | None,
    client: int | None,
    reps: int,
    variants: str,
    today: str | None,
    body_text: str | None,
    as_json: bool,
    data: Path | None,
) -> None:
    """Loads as a log corrects them: draws of the arm weighted by how well they predict what was lifted."""
    means = means_for(data)
    known = means.variants
    if client is not None and file is None:
        with trainee_in(client, data, means, _day(today)) as who:
            body, log = who.planner.body, who.log
    else:
        body, log = body_from(body_text), _read(_needed(file), known).sets
    wanted = tuple(find_variant(key, known) for key in listed(variants)) or known
    done = {one.variant for one in log}
    several = tuple(dict.fromkeys((*wanted, *(v for v in known if v.id in done))))
    facts = facts_for(several, several, body, means.modeller, means.draw)
    bank = DrawBank(means.modeller, shelf=Shelf(read_settings(data=data).shelf))
    day = _day(today) or max((one.day for one in log), default=_today())
    helped = helped_by(body, means.modeller)
    learned = learn(log, facts, day, bank.strays, [v.id for v in wanted], helped=helped)
    named = {v.id: facts[v.id] for v in wanted if v.id in facts}
    loads = loads_of(named, learned, reps)
    if as_json:
        print_json(personal_view(learned, loads, reps, facts))
        return
    said = (
        learned.why_not
        or f"{learned.sets} readings on {learned.variants} exercises, against {learned.draws} drawn arms"
    )
    click.echo(f"{said}.")
    for key, spread in loads.items():
        say(
            f"{facts[key].variant.name}: {spread.median:.1f} kg, "
            f"eight in ten between {spread.low:.1f} and {spread.high:.1f} kg"
        )


@click.command(name="review")
@click.option("--client", type=int, required=True, help="A client's number.")
@click.option("--block", type=int, help="A block's number; else the newest that has begun.")
@today_option
@json_option
@data_option
@say_errors
def review_command(
    client: int, block: int | None, today: str | None, as_json: bool, data: Path | None
) -> None:
    """A block's end: what was planned and done, what it brought, what to keep and what to rotate."""
    with trainee_in(client, data, means_for(data), _day(today)) as who:
        day = who.today
        begun = [
            b for b in plans.done_by(who.db, who.viewer, client)
            if (b.id == block if block else not b.block.start or b.block.start <= day)
        ]  # fmt: skip
        if not begun:
            raise UnknownNameError("--block", block, "a block that this client does, and that has begun")
        facts, found = who.context.facts, reviewed(who, begun[0])
    if as_json:
        print_json(review_view(found))
        return
    done = found.adherence
    click.echo(
        f"{found.name}: {done.sessions} of {done.planned} sessions, {done.sets} of {done.planned_sets} sets"
    )
    for one in found.advice:
        name = facts[one.variant].variant.name if one.variant in facts else one.variant
        click.echo(f"{'keep' if one.keep else 'rotate'} {name}: {one.why}")
    for change in found.changes:
        click.echo(change.says)


def _needed(file: Path | None) -> Path:
    if file is None:
        raise BadInputError("--file", None, "a log as CSV, or --client")
    return file


def _today() -> date:
    """This machine's day."""
    return datetime.now(UTC).astimezone().date()


def _day(text: str | None) -> date | None:
    try:
        return date.fromisoformat(text) if text else None
    except ValueError as error:
        raise BadInputError("--today", text, "a day, as in 2026-03-02") from error


def _read(
    file: Path,
    variants: tuple[Variant, ...],
    unit: str | None = None,
    dates: str | None = None,
    match: tuple[str, ...] = (),
) -> LogPreview:
    right = f"a readable CSV file of at most {LARGEST // 2**20} MB"
    sheet = sheet_of(read_text(file, "--file", right, LARGEST))
    choice = guess(sheet)
    for one in match:
        if "=" not in one:
            raise BadInputError("--match", one, "NAME=VARIANT, as in 'Chins=chin-up'")
    names = dict(one.rsplit("=", 1) for one in match)
    choice = replace(choice, load_unit=unit or choice.load_unit, order=dates or choice.order, names=names)
    return preview(sheet, choice, variants)


def _tell_done(total: int, done: int) -> None:
    say_progress(f"{done} of {total} sets")


def _tell_problems(found: LogPreview) -> None:
    for problem in found.problems[:TOLD]:
        click.echo(f"row {problem.row}, {problem.column}: {problem.value!r} — {problem.right}", err=True)
    if len(found.problems) > TOLD:
        click.echo(f"and {len(found.problems) - TOLD} rows more", err=True)


def _targets(log: tuple[LoggedSet, ...], variants: tuple[Variant, ...], today: date) -> dict[str, Coming]:
    """By each variant's own guide: its range, and its smallest step."""
    pain, mass = pain_state(log, today), Body().mass
    found = {}
    for key, rows in bouts(log).items():
        variant = find_variant(key, variants)
        target = next_target(
            rows,
            variant,
            guide_range(variant, rows),
            None,
            today,
            hands=carried(variant) * mass,
            flag=pain.of(key),
            over=pain.over.get(key),
        )
        found[key] = (target, target.straight)
    return found


def _targets_of_client(client: int, data: Path | None, day: date | None) -> dict[str, Coming]:
    """Of the next session of their block; without one, of whatever they did, on their room's steps."""
    with trainee_in(client, data, means_for(data), day) as who:
        return coming(who)
