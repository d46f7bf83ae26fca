"""Draws from a shell: progress on standard error, and Ctrl-C cancels."""

from __future__ import annotations

import sys

import click

from curve_rank.answers.certainty import waited_for
from curve_rank.arm.body import Body
from curve_rank.background.draws import ONESELF, DrawRun, Draws
from curve_rank.background.executor import make_executor
from curve_rank.catalogue.schema import Variant
from curve_rank.cli.entry import INTERRUPTED
from curve_rank.cli.options import say_progress
from curve_rank.rating.certainty import Certainty
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.ranking import Ranking
from curve_rank.settings import read_settings

LOOK = 0.3


def drawn_certainty(ranking: Ranking, draws: int, seed: int) -> Certainty:
    """How sure a ranking is; waits for the draws.

    Raises
    ------
    BadInputError
        For draws, seeds or cluster addresses that make no sense, and for a run that failed.
    """
    desk = _desk()
    return waited_for(desk, ranking, draws, seed, lambda run: _wait_for(run, desk))


def make_fixed_draws(variants: tuple[Variant, ...], body: Body, effort: float, modeller: Modeller) -> None:
    """Make the fixed draws that a modeller lacks, on all cores."""
    desk = _desk()
    run = desk.fixed(ONESELF, variants, body, effort, modeller)
    if run is not None:
        _wait_for(run, desk)


def _desk() -> Draws:
    scheduler = read_settings().scheduler
    return Draws(lambda: make_executor(scheduler))


def _wait_for(run: DrawRun, desk: Draws) -> None:
    """Tell how far it is until it has ended; Ctrl-C cancels."""
    try:
        while not run.wait(LOOK):
            say_progress(f"{run.done} of {run.total} draws")
    except KeyboardInterrupt:
        run.cancel()
        run.wait(5)
        click.echo(f"\ncancelled after {run.done} of {run.total} draws", err=True)
        sys.exit(INTERRUPTED)
    finally:
        desk.close()
    say_progress(f"{run.done} of {run.total} draws", over=True)
