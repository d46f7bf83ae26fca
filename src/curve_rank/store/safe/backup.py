"""Everything of an installation in one file, made while it is in use; and the copy before an upgrade.

A backup is an ordinary zip file: `manifest.json`, the database, the key that signs sessions, and the outbox.
Uploads stand in the database. The last 64 bytes, the zip file's comment, are the SHA-256 of all before them,
so that no byte of it can change unnoticed.
"""

from __future__ import annotations

import fcntl
import hashlib
import os
import re
import shutil
import sqlite3
import tempfile
import time
import zipfile
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager, suppress
from datetime import UTC, datetime
from pathlib import Path

from pydantic import BaseModel, ConfigDict, Field

from curve_rank import __version__
from curve_rank.errors import UnavailableError
from curve_rank.settings import DATABASE
from curve_rank.store.safe.private import FILE_MODE, give_to_owner, private_file, private_folder
from curve_rank.store.safe.troubles import of_files, told

KEY, OUTBOX, MANIFEST = "secret-key", "outbox", "manifest.json"
BACKUPS = "backups"
FORMAT = 1
"""Of the file; one that is newer is refused."""
DIGEST_LENGTH = 64
PARTIAL = "curve-rank-part-"
PART_OF = re.compile(r".+\.(\d+)\.part")
JUST_NOW = 10.0
"""What was begun within this may not be held yet [s]."""
CHUNK = 1024 * 1024
ROOM = "a disk with room, and a folder that this user may write to"
COUNTED = {
    "people": "people",
    "documents": "documents of one's own",
    "plans": "blocks",
    "logged_sets": "logged sets",
    "picture_sets": "sets of pictures",
}
"""What a manifest counts, by table, and what people call it."""
Tell = Callable[[int, int], None]


class ArchiveMember(BaseModel):
    """One file of a backup."""

    model_config = ConfigDict(extra="forbid")

    bytes: int = Field(ge=0)
    sha256: str = Field(min_length=DIGEST_LENGTH, max_length=DIGEST_LENGTH)


class Manifest(BaseModel):
    """What a backup says of itself.

    Attributes
    ----------
    format : int
        Of the file.
    version : str
        Of the application that made it.
    revision : str
        Of the database's tables.
    made_at : datetime
        In UTC.
    counts : dict
        Rows, by `COUNTED`.
    members : dict
        Every other file of the zip, by its name.
    """

    model_config = ConfigDict(extra="forbid")

    format: int
    version: str
    revision: str
    made_at: datetime
    counts: dict[str, int]
    members: dict[str, ArchiveMember]


def back_up(folder: Path, out: Path, tell: Tell = lambda _done, _all: None) -> Manifest:
    """Write everything in a data folder into one new file, whole or not at all; what it says of itself.

    Parameters
    ----------
    folder : Path
        May be in use meanwhile: what is committed when this begins is what is kept.
    out : Path
        Must not be there yet.
    tell : callable
        Is told bytes packed and bytes in all; what it raises ends the work and leaves nothing behind.

    Raises
    ------
    UnavailableError
        Also where the database is damaged: a copy of that would be no backup.
    """
    with of_files("--out", out, f"{ROOM}; and a name that is not taken"):
        if out.exists():
            raise FileExistsError(17, "this file is there already")
        with tempfile.TemporaryDirectory(prefix=PARTIAL, dir=out.parent) as name, _at_work(Path(name)):
            copy, packed = Path(name) / DATABASE, Path(name) / "packed"
            copy_database(folder / DATABASE, copy)
            _squeeze(copy)
            manifest = _pack(packed, _members(folder, Path(name)), *_of_copy(copy), tell)
            os.link(give_to_owner(packed, out.parent), out)  # never over another's
            _sync(out.parent)
    return manifest


def sweep(folder: Path) -> None:
    """Remove what backups and copies that were killed have left half written; not what is being written."""
    if not folder.is_dir():
        return
    for path in folder.glob(f"{PARTIAL}*"):
        with suppress(OSError):
            if time.time() - path.stat().st_mtime > JUST_NOW:
                with _at_work(path):
                    shutil.rmtree(path)
    for path in folder.glob("*.part"):
        owner = PART_OF.fullmatch(path.name)
        with suppress(OSError):
            if owner and not Path("/proc", owner[1]).exists():
                path.unlink()


@contextmanager
def _at_work(folder: Path) -> Iterator[None]:
    """Hold a folder as one that somebody works in; the hold ends with the process, however it ends.

    Raises
    ------
    OSError
        Where somebody else works in it.
    """
    held = os.open(folder, os.O_RDONLY)
    try:
        fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
        yield
    finally:
        os.close(held)


def copy_before_upgrade(database: Path, revision: str) -> Path:
    """Copy what is committed into the folder's `backups`, whole or not at all; the copy's path."""
    folder = private_folder(database.parent / BACKUPS)
    whole = folder / f"{database.stem}-{revision}-{datetime.now(UTC):%Y%m%d-%H%M%S-%f}.sqlite3"
    partial = private_file(whole.with_suffix(f".{os.getpid()}.part"))
    try:
        copy_database(database, partial, look=False)
        partial.replace(whole)
    finally:
        partial.unlink(missing_ok=True)
    return whole


def copy_database(database: Path, copy: Path, *, look: bool = True) -> None:
    """What is committed, in a file of its own without a log beside it; by SQLite's online backup.

    Raises
    ------
    UnavailableError
        Where the database cannot be read, or, where that is looked at, is not sound.
    """
    if not database.is_file():
        raise UnavailableError("database", str(database), "a data folder that `serve` or `demo` has made")
    try:
        with (
            closing(sqlite3.connect(database)) as source,
            closing(sqlite3.connect(private_file(copy))) as target,
        ):
            source.backup(target)
            target.execute("PRAGMA journal_mode = DELETE")
            found = target.execute("PRAGMA quick_check(1)").fetchone()[0] if look else "ok"
    except sqlite3.Error as error:
        raise told(error, database) or UnavailableError("database", str(database), str(error)) from error
    if found != "ok":
        raise UnavailableError("database", str(database), f"a sound one ({found}); restore the newest backup")


def size_and_digest(opened: Iterator[bytes]) -> ArchiveMember:
    """Of what comes in pieces."""
    digest, size = hashlib.sha256(), 0
    for piece in opened:
        digest.update(piece)
        size += len(piece)
    return ArchiveMember(bytes=size, sha256=digest.hexdigest())


def pieces(path: Path, most: int | None = None) -> Iterator[bytes]:
    """A file in pieces, at most so many bytes of it."""
    left = path.stat().st_size if most is None else most
    with path.open("rb") as opened:
        while left > 0 and (piece := opened.read(min(CHUNK, left))):
            left -= len(piece)
            yield piece


@contextmanager
def reading(database: Path) -> Iterator[sqlite3.Connection]:
    """A database that nobody uses, for reading."""
    with closing(sqlite3.connect(f"file:{database}?mode=ro&immutable=1", uri=True)) as connection:
        yield connection


def counts_of(connection: sqlite3.Connection) -> dict[str, int]:
    """Rows by table, of those that are counted and are there."""
    there = {row[0] for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    return {
        table: connection.execute(f"SELECT count(*) FROM {table}").fetchone()[0]
        for table in COUNTED
        if table in there
    }


def _of_copy(copy: Path) -> tuple[str, dict[str, int]]:
    with reading(copy) as connection:
        return connection.execute("SELECT version_num FROM alembic_version").fetchone()[0], counts_of(
            connection
        )


def _squeeze(copy: Path) -> None:
    """Leave nothing in a copy of what was deleted before deleting wrote over it."""
    with closing(sqlite3.connect(copy, isolation_level=None)) as connection:
        connection.execute("VACUUM")


def _members(folder: Path, aside: Path) -> dict[str, Path]:
    """What goes in, by its name in the file; copied aside first, as old letters may go meanwhile."""
    found = {DATABASE: aside / DATABASE}
    for number, path in enumerate((folder / KEY, *sorted((folder / OUTBOX).glob("*.eml")))):
        with suppress(FileNotFoundError):
            found[path.relative_to(folder).as_posix()] = Path(shutil.copy(path, aside / str(number)))
    return found


def _pack(
    packed: Path, members: dict[str, Path], revision: str, counts: dict[str, int], tell: Tell
) -> Manifest:
    whole = sum(path.stat().st_size for path in members.values())
    done, found = 0, {}
    with packed.open("xb") as file:
        os.chmod(file.fileno(), FILE_MODE)
        with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as out:
            for name, path in members.items():
                digest, size = hashlib.sha256(), 0
                with out.open(name, "w", force_zip64=True) as member:
                    for piece in pieces(path):
                        member.write(piece)
                        digest.update(piece)
                        size, done = size + len(piece), done + len(piece)
                        tell(done, whole)
                found[name] = ArchiveMember(bytes=size, sha256=digest.hexdigest())
            manifest = Manifest(
                format=FORMAT,
                version=__version__,
                revision=revision,
                made_at=datetime.now(UTC).replace(microsecond=0),
                counts=counts,
                members=found,
            )
            out.writestr(MANIFEST, manifest.model_dump_json(indent=1))
            out.comment = b"0" * DIGEST_LENGTH
    whole_digest = size_and_digest(pieces(packed, packed.stat().st_size - DIGEST_LENGTH)).sha256
    with packed.open("r+b") as file:
        file.seek(-DIGEST_LENGTH, os.SEEK_END)
        file.write(whole_digest.encode())
        file.flush()
        os.fsync(file.fileno())
    return manifest


def _sync(folder: Path) -> None:
    opened = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(opened)
    finally:
        os.close(opened)
