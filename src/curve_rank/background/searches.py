"""Searches of set-ups in the background: with progress, cancelled, and what they found kept for a while."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.arm.body import Body
from curve_rank.background.runs import Line, Run, Runs, StoppedError
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.draws import Draw
from curve_rank.rating.modelling import Modeller, content_keys
from curve_rank.study.improve import Aim, Search, improve


@dataclass(frozen=True)
class SearchQuestion:
    """What is searched: a set-up for an aim, for a body at an effort."""

    variant: Variant
    aim: Aim
    body: Body
    effort: float

    @property
    def key(self) -> str:
        """The same for the same question."""
        (content,) = content_keys((self.variant,), self.body, self.effort)
        kept = ",".join(reading.key for reading in self.aim.keep)
        return f"{content}|{self.aim.reading.key}|{self.aim.way}|{self.aim.head}|{kept}"


@dataclass(eq=False)
class SearchRun(Run):
    """One search, and what it found once it has ended."""

    found: Search | None = None


class Searches:
    """The searches of everyone. Safe to share between threads."""

    def __init__(self, patience: float | None = None, line: Line | None = None) -> None:
        self.runs: Runs[SearchRun] = Runs("search", line)
        self._patience = patience

    def start(
        self, person: int, question: SearchQuestion, modeller: Modeller, draw: Draw | None = None
    ) -> SearchRun:
        """Start a search, or join the person's own for the same question.

        Raises
        ------
        BusyError
        """
        run = SearchRun(person, question.key, 1, patience=self._patience)

        def tell(done: int, total: int) -> None:
            run.done, run.total = done, total
            run.end_if_forgotten()
            run.stop_if_cancelled()

        def work(started: SearchRun) -> None:
            try:
                started.found = improve(
                    question.variant, question.aim,
                    body=question.body, effort=question.effort, modeller=modeller, draw=draw, tell=tell,
                )  # fmt: skip
            except StoppedError:
                started.done = 0

        return self.runs.start(run, work)

    def run(self, person: int, question: SearchQuestion, name: str) -> SearchRun | None:
        """A person's search for a question, under way or just ended, if that is its name."""
        return self.runs.find(person, question.key, name)

    def close(self) -> None:
        """Cancel whatever runs."""
        self.runs.close()
