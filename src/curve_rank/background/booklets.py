"""Booklets drawn in the background: with progress, cancelled, and kept until a newer one is asked for."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass

from curve_rank.background.runs import Line, Run, Runs, StoppedError
from curve_rank.exchange.pdf import pdf


@dataclass(eq=False)
class BookletRun(Run):
    """One booklet, and its PDF once it is drawn."""

    made: bytes = b""


class Booklets:
    """The booklets of everyone. Safe to share between threads."""

    def __init__(self, patience: float | None = None, line: Line | None = None) -> None:
        self.runs: Runs[BookletRun] = Runs("booklet", line)
        self._patience = patience

    def start(self, person: int, html: str, pages: int) -> BookletRun:
        """Draw a booklet of about so many pages, or join the person's own for the same.

        Raises
        ------
        BusyError
        """
        key = hashlib.sha256(html.encode()).hexdigest()
        run = BookletRun(person, key, pages, patience=self._patience)

        def work(started: BookletRun) -> None:
            def tell(done: int) -> None:
                started.done = min(done, started.total - 1)
                started.end_if_forgotten()
                started.stop_if_cancelled()

            try:
                started.made = pdf(html, tell=tell)
                started.done = started.total
            except StoppedError:
                started.done = 0

        return self.runs.start(run, work)

    def run(self, person: int, key: str, name: str) -> BookletRun | None:
        """A person's booklet, under way or just drawn, if that is its name."""
        return self.runs.find(person, key, name)

    def close(self) -> None:
        """Cancel whatever runs."""
        self.runs.close()
