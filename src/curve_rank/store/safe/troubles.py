"""What SQLite cannot do at the moment, as an error of our own that says what would help."""

from __future__ import annotations

import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from sqlalchemy.engine import ExceptionContext

from curve_rank.errors import UnavailableError

PUT_BACK = "where the folder “backups” stands beside it, put its newest file in this place"
HELPS = {
    sqlite3.SQLITE_FULL: "room on the disk; it is full",
    sqlite3.SQLITE_BUSY: "a moment without another program writing to it; try again",
    sqlite3.SQLITE_LOCKED: "a moment without another program writing to it; try again",
    sqlite3.SQLITE_READONLY: "a folder and a file that this user may write to",
    sqlite3.SQLITE_CANTOPEN: "a folder that this user may write to",
    sqlite3.SQLITE_PERM: "a folder that this user may write to",
    sqlite3.SQLITE_IOERR: "a disk that reads and writes without errors",
    sqlite3.SQLITE_CORRUPT: f"a sound database; {PUT_BACK}",
    sqlite3.SQLITE_NOTADB: f"a database; {PUT_BACK}",
}
_PRIMARY = 0xFF
_MAY_BE_FULL = (sqlite3.SQLITE_IOERR, sqlite3.SQLITE_CANTOPEN)
"""What SQLite also says of a full disk, where a file beside the database cannot grow."""
LEAST_ROOM = 256 * 1024
"""With less room than this the files beside a database cannot grow [bytes]."""


def told(error: BaseException | None, file: Path) -> UnavailableError | None:
    """What an error of the driver's means for people, or None where it is no such trouble."""
    code = getattr(error, "sqlite_errorcode", None)
    primary = None if code is None else code & _PRIMARY
    if primary in _MAY_BE_FULL and _is_full(file):
        primary = sqlite3.SQLITE_FULL
    helps = None if primary is None else HELPS.get(primary)
    return None if helps is None else UnavailableError("database", str(file), helps)


def _is_full(file: Path) -> bool:
    try:
        return shutil.disk_usage(file.parent).free < LEAST_ROOM
    except OSError:
        return False


def tell(context: ExceptionContext) -> None:
    """For SQLAlchemy's `handle_error`: raise the trouble instead of the driver's error."""
    trouble = told(
        context.original_exception, Path(str(context.engine.url.database if context.engine else ""))
    )
    if trouble is not None:
        raise trouble from context.original_exception


@contextmanager
def of_files(field: str, path: Path, right: str) -> Iterator[None]:
    """Turn an error of the file system into one of our own.

    Raises
    ------
    UnavailableError
    """
    try:
        yield
    except OSError as error:
        raise UnavailableError(field, str(path), f"{right} ({error.strerror or error})") from error
