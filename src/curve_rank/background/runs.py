"""Runs: long work in threads of its own, one a person and key, joined, watched and cancelled."""

from __future__ import annotations

import logging
import secrets
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Generic, TypeVar

from curve_rank.errors import BusyError, CurveRankError

log = logging.getLogger(__name__)

ENDED_KEPT = 8
"""Ended runs of one person that can still be asked about."""
MOST_RUNNING = 4
"""Runs of one person that are under way at once; one more cancels the oldest."""
COMPUTING, WAITING = 2, 10
"""Runs of everyone that compute at once, and that may wait for their turn; one more is turned away."""
TURN_LOOK = 0.2
"""How often a waiting run looks whether it was cancelled [s]."""


class StoppedError(CurveRankError):
    """The run was cancelled."""


@dataclass(eq=False)
class Run:
    """One piece of long work.

    Attributes
    ----------
    person : int
        Whose it is.
    key : str
        What it works out: the same for the same question.
    name : str
        Nobody can guess it.
    done, total : int
        Parts finished and wanted.
    state : str
        "running", "finished", "cancelled" or "failed".
    problem : str
        Why it failed, for people.
    waiting : bool
        Whether others are worked on first.
    aside : bool
        Nobody waits for it: it stands in no line, and works only while nobody else does.
    patience : float, optional
        Seconds after which a run that nobody asks about ends; None for never.
    """

    person: int
    key: str
    total: int
    name: str = field(default_factory=lambda: secrets.token_urlsafe(12))
    done: int = 0
    state: str = "running"
    problem: str = ""
    waiting: bool = False
    aside: bool = False
    patience: float | None = None
    _asked_at: float = field(default_factory=time.monotonic)
    _cancelled: threading.Event = field(default_factory=threading.Event)
    _ended: threading.Event = field(default_factory=threading.Event)

    @property
    def cancelled(self) -> bool:
        """Whether it is to stop as soon as may be."""
        return self._cancelled.is_set()

    @property
    def told(self) -> dict[str, Any]:
        """How far it is, as plain data."""
        return {"state": self.state, "done": self.done, "total": self.total, "problem": self.problem}

    def stop_if_cancelled(self) -> None:
        """Leave the work where it is to stop.

        Raises
        ------
        StoppedError
        """
        if self.cancelled:
            raise StoppedError("run", "stopped", "another start")

    def ask(self) -> None:
        """Somebody asks about it."""
        self._asked_at = time.monotonic()

    def end_if_forgotten(self) -> None:
        """Cancel it when nobody has asked about it for too long."""
        if self.patience is not None and time.monotonic() - self._asked_at > self.patience:
            self.cancel()

    def cancel(self) -> None:
        """Stop as soon as may be; what is done so far stays."""
        self._cancelled.set()

    def wait(self, seconds: float | None = None) -> bool:
        """Wait until it has ended, at most some seconds; whether it has."""
        return self._ended.wait(seconds)

    def go(self, work: Callable[[], None]) -> None:
        """Do the work in this thread; `work` looks at `cancelled` now and then, and counts `done`."""
        try:
            work()
            self.state = "cancelled" if self.cancelled and self.done < self.total else "finished"
        except CurveRankError as error:
            self.state, self.problem = "failed", str(error)
        except Exception:
            if self.cancelled:  # what it works with may go away under a run that was to end anyway
                self.state = "cancelled"
            else:
                log.exception("a run failed")
                self.state, self.problem = "failed", "this could not be finished; the log says why"
        finally:
            self._ended.set()


class Line:
    """Where all that computes stands, of whatever kind: some at once, some waiting. Safe to share.

    What a run begins by itself takes no place of its own: it would wait for a place that its own run holds.
    """

    def __init__(self) -> None:
        self.moved = threading.Condition(threading.Lock())
        """Holds the lock over all that stands here."""
        self._standing: list[Run] = []
        self._within = threading.local()

    def take(self, run: Run, kind: str) -> None:
        """Have a run stand here, at the end.

        Raises
        ------
        BusyError
            When too many wait already.
        """
        if getattr(self._within, "run", None) is not None:
            return
        under_way = len(self._in_turn())
        if not run.aside and under_way >= COMPUTING + WAITING:
            right = "a few seconds of patience; others are worked on first"
            raise BusyError(kind, f"{under_way} pieces of work under way", right)
        self._standing.append(run)

    def go(self, run: Run, work: Callable[[], None]) -> None:
        """Work on a run when it is its turn, and then let the next one come."""
        self._within.run = run
        try:
            with self.moved:
                while run in self._in_turn()[COMPUTING:] and not run.cancelled:
                    run.waiting = True
                    self.moved.wait(TURN_LOOK)
                    run.end_if_forgotten()
                run.waiting = False
            if not run.cancelled:
                work()
        finally:
            with self.moved:
                if run in self._standing:
                    self._standing.remove(run)
                self.moved.notify_all()

    @property
    def is_busy(self) -> bool:
        """Whether anything stands here that somebody waits for."""
        return bool(self._in_turn())

    def _in_turn(self) -> list[Run]:
        """Those that compute, then those that wait; one that stood aside may be waited for meanwhile."""
        return [run for run in self._standing if not run.aside]


AnyRun = TypeVar("AnyRun", bound=Run)


class Runs(Generic[AnyRun]):
    """The runs of everyone of one kind. Safe to share between threads.

    Parameters
    ----------
    kind : str
        What people call them.
    line : Line, optional
        Where they stand with those of other kinds; else by themselves.
    """

    def __init__(self, kind: str, line: Line | None = None) -> None:
        self._kind, self._line = kind, line or Line()
        self._runs: dict[tuple[int, str], AnyRun] = {}
        self._closed = False

    def start(self, run: AnyRun, work: Callable[[AnyRun], None]) -> AnyRun:
        """Start a run, or join the one under way for the same person and key.

        Raises
        ------
        BusyError
            When too many wait already.
        """
        place = (run.person, run.key)
        with self._line.moved:
            under_way = self._runs.get(place)
            if under_way is not None and under_way.state == "running" and not under_way.cancelled:
                under_way.ask()
                return under_way
            self._line.take(run, self._kind)
            self._runs.pop(place, None)
            self._runs[place] = run
            self._make_room(run.person)
        if self._closed:
            run.cancel()

        def in_turn() -> None:
            self._line.go(run, lambda: work(run))

        threading.Thread(target=run.go, args=(in_turn,), daemon=True).start()
        return run

    def find(self, person: int, key: str, name: str) -> AnyRun | None:
        """A person's run for a key, if that is its name."""
        with self._line.moved:
            run = self._runs.get((person, key))
        if run is None or not secrets.compare_digest(run.name.encode(), name.encode()):
            return None
        run.ask()
        return run

    def under_way(self) -> tuple[AnyRun, ...]:
        """Those that compute or wait, and then those that stand aside."""
        with self._line.moved:
            found = [run for run in self._runs.values() if run.state == "running"]
        return tuple(sorted(found, key=lambda run: run.aside))

    def others_first(self, run: AnyRun) -> bool:
        """Whether a run that stands aside has to let others work."""
        return run.aside and self._line.is_busy

    def close(self) -> None:
        """Cancel whatever runs, and whatever is begun from now on: what it would work with goes away."""
        self._closed = True
        for run in self.under_way():
            run.cancel()

    def _make_room(self, person: int) -> None:
        own = [run for run in self._runs.values() if run.person == person]
        under_way = [r for r in own if r.state == "running" and not r.aside]
        for run in under_way[:-MOST_RUNNING] if person else ():  # of the application's own all are wanted
            run.cancel()
        for run in [r for r in own if r.state != "running"][:-ENDED_KEPT]:
            del self._runs[(run.person, run.key)]
