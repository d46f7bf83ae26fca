"""Learning people in the background: one run a person, what it learned handed over when it has ended."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from curve_rank.arm.arrays import Array
from curve_rank.background.runs import Line, Run, Runs
from curve_rank.study.draw_bank import DrawBank
from curve_rank.training.learning import LogFindings, Rows, helped_by, learn
from curve_rank.training.log import LoggedSet
from curve_rank.training.planning import Planner


@dataclass(frozen=True)
class Lesson:
    """From what a person is learned.

    Attributes
    ----------
    person : int
    key : str
        Of the state of the log, and of all else that goes into it.
    planner : Planner
        Without anything learned; its draws are made in whatever thread asks.
    log : tuple of LoggedSet
    today : date
    known : str
        Variant of the known set that the body's strength was found from.
    confirmed : float, optional
        Strength over the body's that somebody has said is right [1].
    house : callable, optional
        Makes the bank's draws as they stray from what a house lifts.
    """

    person: int
    key: str
    planner: Planner
    log: tuple[LoggedSet, ...]
    today: date
    known: str = ""
    confirmed: float | None = None
    house: Callable[[Mapping[str, Array]], Mapping[str, Array]] | None = None


@dataclass(eq=False)
class LearnRun(Run):
    """One person being learned."""

    learned: LogFindings | None = None


class Learning:
    """The runs of everyone. Safe to share between threads."""

    def __init__(self, bank: DrawBank, line: Line | None = None) -> None:
        self._bank = bank
        self.runs: Runs[LearnRun] = Runs("learning", line)

    def start(self, lesson: Lesson, keep: Callable[[Lesson, LogFindings], None]) -> LearnRun:
        """Learn a person, or join the run of the same lesson; `keep` gets what was learned.

        Raises
        ------
        BusyError
        """
        run = LearnRun(lesson.person, lesson.key, 1)

        def work(started: LearnRun) -> None:
            started.learned = self.learn(lesson)
            started.stop_if_cancelled()
            keep(lesson, started.learned)
            started.done = 1

        return self.runs.start(run, work)

    def learn(self, lesson: Lesson, wanted: Sequence[str] | None = None) -> LogFindings:
        """Learn a person in this thread."""
        facts = lesson.planner.context().facts
        return learn(
            lesson.log,
            facts,
            lesson.today,
            self._rows(lesson),
            wanted,
            known=lesson.known,
            confirmed=lesson.confirmed,
            helped=helped_by(lesson.planner.body, lesson.planner.modeller),
        )

    def _rows(self, lesson: Lesson) -> Rows:
        """The bank's draws, or a house's."""
        house = lesson.house
        if house is None:
            return self._bank.strays
        return lambda variants, numbers: house(self._bank.strays(variants, numbers))

    def close(self) -> None:
        """Cancel whatever runs."""
        self.runs.close()
