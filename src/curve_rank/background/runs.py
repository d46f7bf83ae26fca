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


AnyRun = TypeVar("AnyRun", bound=Run)


class Runs(Generic[AnyRun]):
    """The runs of everyone. Safe to share between threads."""

    def __init__(self) -> None:
        self._runs: dict[tuple[int, str], AnyRun] = {}
        self._line: list[AnyRun] = []  # those that compute, then those that wait
        self._aside: list[AnyRun] = []
        self._lock = threading.Lock()
        self._moved = threading.Condition(self._lock)
        self._closed = False

    def start(self, run: AnyRun, work: Callable[[AnyRun], None]) -> AnyRun:
        """Start a run, or join the one under way for the same person and key.

        Raises
        ------
        BusyError
            When too many wait already.
        """
        place = (run.person, run.key)
        with self._lock:
            under_way = self._runs.get(place)
            if under_way is not None and under_way.state == "running" and not under_way.cancelled:
                under_way.ask()
                return under_way
            if not run.aside and len(self._line) >= COMPUTING + WAITING:
                right = "a few seconds of patience; others are worked on first"
                raise BusyError("draws", f"{len(self._line)} under way", right)
            self._runs.pop(place, None)
            self._runs[place] = run
            (self._aside if run.aside else self._line).append(run)
            self._make_room(run.person)
        if self._closed:
            run.cancel()
        threading.Thread(target=run.go, args=(lambda: self._in_turn(run, work),), daemon=True).start()
        return run

    def _in_turn(self, run: AnyRun, work: Callable[[AnyRun], None]) -> None:
        try:
            with self._moved:
                while run in self._line[COMPUTING:] and not run.cancelled:
                    run.waiting = True
                    self._moved.wait(TURN_LOOK)
                    run.end_if_forgotten()
                run.waiting = False
            if not run.cancelled:
                work(run)
        finally:
            with self._moved:
                (self._line if run in self._line else self._aside).remove(run)
                self._moved.notify_all()

    def find(self, person: int, key: str, name: str) -> AnyRun | None:
        """A person's run for a key, if that is its name."""
        with self._lock:
            run = self._runs.get((person, key))
        if run is None or not secrets.compare_digest(run.name.encode(), name.encode()):
            return None
        run.ask()
        return run

    def under_way(self) -> tuple[AnyRun, ...]:
        """Those that compute, those that wait, and those that stand aside."""
        with self._lock:
            return (*self._line, *self._aside)

    def others_first(self, run: AnyRun) -> bool:
        """Whether a run that stands aside has to let others work."""
        return run.aside and bool(self._line)

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
