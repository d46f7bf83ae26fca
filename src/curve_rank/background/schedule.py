"""What is done by itself from time to time: backups and which of them are kept, and who is to be deleted."""

from __future__ import annotations

import fcntl
import logging
import re
import threading
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from curve_rank.background.leaving import delete_due
from curve_rank.background.runs import Line, Run, Runs
from curve_rank.errors import CurveRankError, UnavailableError
from curve_rank.settings import Settings
from curve_rank.store.database import Store
from curve_rank.store.house.audit import forget_old
from curve_rank.store.safe.backup import BACKUPS, Manifest, Tell, back_up, sweep
from curve_rank.store.safe.private import private_file, private_folder

log = logging.getLogger(__name__)

FIRST_LOOK = 5.0
"""How soon after a start [s]."""
LOOK = 60.0
"""How often it is looked whether something is due [s]."""
STAMP = "%Y%m%d-%H%M%S"
NAME = re.compile(r"curve-rank-(\d{8}-\d{6})\.zip")
AHEAD = timedelta(minutes=5)
"""A backup from further in the future was made before the clock was set back: it does not count."""
LOCK = "curve-rank-schedule.lock"


@dataclass(frozen=True)
class KeptBackup:
    """A backup in the folder of backups."""

    path: Path
    made_at: datetime

    @property
    def size(self) -> int:
        """Of the file [bytes]; 0 where it is gone."""
        try:
            return self.path.stat().st_size
        except FileNotFoundError:
            return 0


def backups_in(folder: Path) -> tuple[KeptBackup, ...]:
    """The backups that were made here, newest first; what has another name is somebody else's."""
    if not folder.is_dir():
        return ()
    found = ((path, NAME.fullmatch(path.name)) for path in folder.iterdir())
    made = (
        KeptBackup(path, datetime.strptime(name[1], STAMP).replace(tzinfo=UTC))
        for path, name in found
        if name
    )
    return tuple(sorted(made, key=lambda one: one.made_at, reverse=True))


def is_due(made: Iterable[datetime], now: datetime, every: timedelta) -> bool:
    """Whether it is time for another, given when some were made."""
    return all(now - one >= every for one in made if one <= now + AHEAD)


def outdated(made: Iterable[datetime], *, days: int, weeks: int, months: int) -> set[datetime]:
    """Which are not the newest of one of the last so many days, weeks or months that have any."""
    newest_first = sorted(made, reverse=True)
    kept: set[datetime] = set()
    for most, period in ((days, "%Y-%j"), (weeks, "%G-%V"), (months, "%Y-%m")):
        newest: dict[str, datetime] = {}
        for one in newest_first:
            newest.setdefault(one.strftime(period), one)
        kept |= set(list(newest.values())[:most])
    return set(newest_first) - kept


def back_up_now(settings: Settings, tell: Tell = lambda _done, _all: None) -> tuple[Path, Manifest]:
    """A backup in the folder of backups, and where it is.

    Raises
    ------
    UnavailableError
    """
    folder = private_folder(settings.backup_folder)
    out = folder / f"curve-rank-{datetime.now(UTC):{STAMP}}.zip"
    return out, back_up(settings.data, out, tell)


class BackupRuns:
    """Backups that were asked for. Safe to share between threads."""

    def __init__(self, settings: Settings, line: Line | None = None) -> None:
        self._settings = settings
        self.runs: Runs[Run] = Runs("backup", line)

    def start(self, person: int) -> Run:
        """Make one, or join the one under way."""

        def work(run: Run) -> None:
            def tell(done: int, whole: int) -> None:
                run.stop_if_cancelled()
                run.done, run.total = min(done, whole - 1), whole

            back_up_now(self._settings, tell)
            run.done = run.total

        return self.runs.start(Run(person, "backup", 1), work)

    def close(self) -> None:
        """Cancel whatever runs."""
        self.runs.close()


class Schedule:
    """A thread that does what is due. Several servers on one folder do it once.

    Parameters
    ----------
    settings : Settings
    store : Store
    """

    def __init__(self, settings: Settings, store: Store) -> None:
        self._settings, self._store = settings, store
        self._ended = threading.Event()
        self.problem = ""
        """Why the last look could not be finished, for people; empty where it could."""

    def start(self) -> None:
        """Begin to look."""
        threading.Thread(target=self._look_on, name="schedule", daemon=True).start()

    def close(self) -> None:
        """Look no more; a backup under way is left off, and leaves nothing behind."""
        self._ended.set()

    def do_what_is_due(self) -> None:
        """One look."""
        if gone := delete_due(self._store):
            log.info("deleted whose time of grace is over", extra={"people": gone})
        with self._store.writing() as session:
            forget_old(session)
        for left_in in {self._settings.data / BACKUPS, self._settings.backup_folder}:
            sweep(left_in)
        if not self._settings.backup_hours:
            return
        folder = private_folder(self._settings.backup_folder)
        with private_file(folder / LOCK).open("rb") as held:
            try:
                fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except OSError:
                return  # another server is at it
            there = backups_in(folder)
            every = timedelta(hours=self._settings.backup_hours)
            if is_due((one.made_at for one in there), datetime.now(UTC), every):
                path, manifest = back_up_now(self._settings, self._stop_where_ended)
                log.info("backup made", extra={"file": path.name, "counts": manifest.counts})
            self._let_go(backups_in(folder))

    def _let_go(self, there: tuple[KeptBackup, ...]) -> None:
        one = self._settings
        gone = outdated(
            (kept.made_at for kept in there), days=one.keep_days, weeks=one.keep_weeks, months=one.keep_months
        )
        for kept in there:
            if kept.made_at in gone:
                kept.path.unlink(missing_ok=True)

    def _stop_where_ended(self, _done: int, _all: int) -> None:
        if self._ended.is_set():
            raise UnavailableError("backup", "left off", "another start")

    def _look_on(self) -> None:
        first = True
        while not self._ended.wait(FIRST_LOOK if first else LOOK):
            first = False
            try:
                self.do_what_is_due()
                self.problem = ""
            except CurveRankError as error:
                if not self._ended.is_set():
                    self.problem = str(error)
                    log.error("what is due could not be done", extra={"problem": str(error)})
            except Exception:
                self.problem = "it could not be finished; the log says why"
                log.exception("what is due could not be done")
