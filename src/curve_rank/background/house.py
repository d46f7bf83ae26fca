"""What a house finds out, in the background: a month's shares made and frozen, and the tables they need."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.background.runs import Line, Run, Runs
from curve_rank.catalogue.schema import Variant
from curve_rank.house.effects import Effects, EffectTable
from curve_rank.house.shares import Share, share_of
from curve_rank.practice.rules import rule
from curve_rank.rating.modelling import Modeller
from curve_rank.study.draw_bank import DrawBank
from curve_rank.study.personal import Strays, strays_of
from curve_rank.training.log import LoggedSet

TABLES, MONTH = "house tables", "house month"
"""What is worked out: a month that is asked for while tables are made does not join those."""


@dataclass(frozen=True)
class Tables:
    """What the model says of a house's exercises: how arms stray on them, and what each number does."""

    strays: Strays
    effects: Effects


@dataclass(frozen=True)
class HouseLog:
    """Somebody who agreed, as a run needs them."""

    person: int
    body: Body
    log: tuple[LoggedSet, ...]


class HouseWork:
    """Tables and runs. Safe to share between threads.

    Parameters
    ----------
    bank : DrawBank
        How arms stray.
    effects : EffectTable
        What each number does.
    modeller : Modeller
    line : Line, optional
        As for `Runs`.
    """

    def __init__(
        self, bank: DrawBank, effects: EffectTable, modeller: Modeller, line: Line | None = None
    ) -> None:
        self._bank, self._effects, self._modeller = bank, effects, modeller
        self._found: dict[tuple[str, ...], Tables] = {}
        self.runs: Runs[Run] = Runs("house", line)

    def found(self, variants: Sequence[Variant]) -> Tables | None:
        """Tables of some exercises, where they are at hand."""
        return self._found.get(_mark(variants))

    def tables(self, variants: Sequence[Variant]) -> Tables:
        """Tables of those exercises that can be modelled, made in this thread."""
        found = self.found(variants)
        if found is None:
            numbers = range(int(rule("personal.draws")))
            strays = strays_of(self._bank.strays(tuple(variants), numbers), numbers)
            able = [one for one in variants if one.id in strays.places]
            found = Tables(strays, self._effects.of(sorted(able, key=lambda v: strays.places[v.id])))
            self._found = {_mark(variants): found}  # one house is looked at, not many
        return found

    def make_tables(self, person: int, variants: Sequence[Variant]) -> Run:
        """Make tables, or join whoever makes them.

        Raises
        ------
        BusyError
        """
        run = Run(person, TABLES, 1)

        def work(started: Run) -> None:
            self.tables(variants)
            started.done = 1

        return self.runs.start(run, work)

    def freeze(
        self,
        person: int,
        people: Sequence[HouseLog],
        variants: Sequence[Variant],
        today: date,
        keep: Callable[[int, Share], None],
    ) -> Run:
        """Make what each log gives, and hand it over to be kept.

        Parameters
        ----------
        person : int
            Who looks.
        people : sequence of HouseLog
            Who agreed.
        variants : sequence of Variant
            All that may be in their logs.
        today : date
            On which the logs are read.
        keep : callable
            Gets each person's number and share.

        Raises
        ------
        BusyError
        """
        run = Run(person, MONTH, len(people) + 1)

        def work(started: Run) -> None:
            self.make(people, variants, today, keep, lambda: _step(started))

        return self.runs.start(run, work)

    def make(
        self,
        people: Sequence[HouseLog],
        variants: Sequence[Variant],
        today: date,
        keep: Callable[[int, Share], None],
        step: Callable[[], None],
    ) -> None:
        """The same in this thread; `step` is called after each part."""
        by_id = {one.id: one for one in variants}
        done = {one.variant for who in people for one in who.log}
        tables = self.tables([by_id[key] for key in sorted(done) if key in by_id])
        step()
        for who in people:
            share = share_of(who.log, by_id, who.body, today, self._modeller, tables.strays)
            if share is not None:
                keep(who.person, share)
            step()

    def close(self) -> None:
        """Cancel whatever runs."""
        self.runs.close()


def _step(run: Run) -> None:
    run.done += 1
    run.stop_if_cancelled()


def _mark(variants: Sequence[Variant]) -> tuple[str, ...]:
    return (repr(usual_effort()), *(one.digest for one in variants))
