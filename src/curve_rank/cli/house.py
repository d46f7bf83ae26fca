"""`curve-rank house`: what the logs here say of the model together."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from curve_rank.cli.options import (
    data_option,
    json_option,
    means_for,
    print_json,
    say_errors,
    say_progress,
    shell_viewer,
    store_in,
)
from curve_rank.settings import read_settings

if TYPE_CHECKING:
    from curve_rank.answers.house_seen import HouseAnswer

FIRST = 10


@click.command(name="house")
@click.option("--month", default="", help="As in 2026-11; the newest that is frozen, unless it is named.")
@click.option("--freeze", is_flag=True, help="Read this month's logs of whoever agreed, and freeze them.")
@json_option
@data_option
@say_errors
def house_command(month: str, freeze: bool, as_json: bool, data: Path | None) -> None:
    """What the logs of whoever agreed say of the model together."""
    from curve_rank.answers.house import HouseBook
    from curve_rank.answers.plain import plain
    from curve_rank.background.house import HouseWork
    from curve_rank.house.effects import EffectTable
    from curve_rank.store.safe.shelf import Shelf
    from curve_rank.study.draw_bank import DrawBank

    store, means, shelf = store_in(data), means_for(data), Shelf(read_settings(data=data).shelf)
    work = HouseWork(DrawBank(means.modeller, shelf=shelf), EffectTable(shelf), means.modeller)
    with store.reading() as db:
        book = HouseBook(store, work, db, shell_viewer(db), means)
        if freeze:
            done = iter(range(1, 10**6))
            book.freeze_now(lambda: say_progress(f"{next(done)} logs read"))
            say_progress("", over=True)
            db.rollback()
        answer = book.answer(month, patience=600.0)
    if as_json:
        print_json(plain(answer))
    else:
        _say(answer)


def _say(answer: HouseAnswer) -> None:
    when = f"; {answer.month} of {answer.people}" if answer.month else "; no month is frozen yet (--freeze)"
    click.echo(f"{answer.agreed} of {answer.logging} who log agree{when}.")
    for one in answer.exercises[:FIRST]:
        model = f"the model {one.model.low:+.0f} to {one.model.high:+.0f} %"
        click.echo(f"  {one.name}: {one.lifted.median:+.0f} %, {model}")
    if not answer.fitted:
        click.echo(f"Of fewer than {answer.least} people nothing is fitted.")
    for number in answer.saying:
        click.echo(f"{number.name}: {number.says} ({number.interval})")
    if answer.fitted and not answer.saying:
        click.echo("No number is so far off that anything may be said of it.")
