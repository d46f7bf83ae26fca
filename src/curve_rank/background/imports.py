"""Logs from files kept in the background: with progress, all of a file or, once cancelled, nothing of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from curve_rank.background.runs import Line, Run, Runs, StoppedError


@dataclass(eq=False)
class ImportRun(Run):
    """One file, how many of its sets were new, and what else is to be said of it in the end."""

    kept: int = 0
    also: str = ""


class Imports:
    """The files of everyone. Safe to share between threads."""

    def __init__(self, line: Line | None = None) -> None:
        self.runs: Runs[ImportRun] = Runs("import", line)

    def start(self, run: ImportRun, keep: Callable[[Callable[[int], None]], int]) -> ImportRun:
        """Keep a file's sets, or join the run of the same file.

        Parameters
        ----------
        run : ImportRun
            Counts the file's sets.
        keep : callable
            Keeps them, says how many are done, and gives how many were new; stopped, it keeps none.

        Raises
        ------
        BusyError
            When too much work waits already.
        """

        def work(started: ImportRun) -> None:
            def say(done: int) -> None:
                started.done = min(done, started.total - 1)
                started.stop_if_cancelled()

            try:
                started.kept = keep(say)
                started.done = started.total
            except StoppedError:
                started.done = 0

        return self.runs.start(run, work)

    def close(self) -> None:
        """Cancel whatever runs."""
        self.runs.close()
