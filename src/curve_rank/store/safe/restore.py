"""Puts a backup in the place of what a data folder holds: looked at first, and whole or not at all."""

from __future__ import annotations

import fcntl
import os
import re
import shutil
import sqlite3
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime
from functools import partial
from pathlib import Path

from pydantic import ValidationError

from curve_rank.errors import BadInputError, UnavailableError
from curve_rank.settings import DATABASE
from curve_rank.store.revisions import known_revisions
from curve_rank.store.safe.backup import (
    BACKUPS,
    CHUNK,
    DIGEST_LENGTH,
    FORMAT,
    KEY,
    MANIFEST,
    OUTBOX,
    ROOM,
    Manifest,
    back_up,
    counts_of,
    pieces,
    reading,
    size_and_digest,
)
from curve_rank.store.safe.closing import close_doors
from curve_rank.store.safe.private import (
    FILE_MODE,
    FOLDER_MODE,
    check_owner_of,
    give_to_owner,
    private_file,
    private_folder,
)
from curve_rank.store.safe.troubles import of_files

STAGED, STAGING = "curve-rank-restored", "curve-rank-restoring"
"""A folder that is to be put in place, and the same while it is written."""
LOCK = "curve-rank.lock"
MEMBER = re.compile(rf"{re.escape(DATABASE)}|{KEY}|{OUTBOX}/[\w.-]+\.eml")
SOUND = "a backup as `curve-rank backup` wrote it; nothing was changed"
LOGS = ("-wal", "-shm", "-journal")
LARGEST_MANIFEST = 1024 * 1024


@dataclass(frozen=True)
class RestorePreview:
    """What a restore would do.

    Attributes
    ----------
    manifest : Manifest
        Of the backup.
    present : dict, optional
        Rows that stand in the folder now; None where it holds no database.
    closes : dict
        How many doors of each kind are closed that the backup would open again, by `closing.WORDS`.
    """

    manifest: Manifest
    present: dict[str, int] | None
    closes: dict[str, int] = field(default_factory=dict)


@contextmanager
def in_use(folder: Path, *, alone: bool = False) -> Iterator[None]:
    """Hold a data folder: shared by those who serve it, alone by whoever puts another in its place.

    Raises
    ------
    UnavailableError
    """
    path = private_file(private_folder(folder) / LOCK)
    right = (
        "a folder that nobody serves; stop the application first, then restore"
        if alone
        else "a moment until the restore that is under way has ended; then start again"
    )
    with path.open("rb") as held:
        try:
            fcntl.flock(held, (fcntl.LOCK_EX if alone else fcntl.LOCK_SH) | fcntl.LOCK_NB)
        except OSError as error:
            raise UnavailableError("data folder", str(folder), right) from error
        yield


def preview(file: Path, folder: Path, *, keep_sign_ins: bool = False) -> RestorePreview:
    """Look through a whole backup, at what stands where it would go, and which doors it would open.

    Changes nothing.

    Raises
    ------
    BadInputError
        For what is no backup, is damaged, or is newer than this application.
    """
    found = _present(file, folder)
    with (
        of_files("backup", file, ROOM),
        tempfile.TemporaryDirectory() as aside,
        zipfile.ZipFile(file) as zipped,
    ):
        copy = Path(zipped.extract(DATABASE, aside))
        closes = close_doors(copy, _there(folder), keep_sign_ins=keep_sign_ins, look_only=True)
    return replace(found, closes=closes)


def _present(file: Path, folder: Path) -> RestorePreview:
    manifest = _looked_through(file)
    database = folder / DATABASE
    if not database.is_file():
        return RestorePreview(manifest, None)
    try:
        with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as connection:
            return RestorePreview(manifest, counts_of(connection))
    except sqlite3.Error:
        return RestorePreview(manifest, {})  # damaged: that is why somebody restores


def _there(folder: Path) -> Path | None:
    database = folder / DATABASE
    return database if database.is_file() else None


def restore(file: Path, folder: Path, *, keep_sign_ins: bool = False) -> tuple[RestorePreview, Path | None]:
    """Put a backup in place; what it did, and the backup of what stood there before, if any could be made.

    Killed at any moment, the folder is as it was, or the next start puts the rest in place.

    Raises
    ------
    BadInputError
        For what is no backup, is damaged, or is newer; nothing is changed.
    UnavailableError
        Where the folder is served, or cannot be written.
    """
    check_owner_of(folder)
    with in_use(folder, alone=True):
        finish(folder)
        found = _present(file, folder)
        _stage(file, folder, found.manifest)
        closes = close_doors(folder / STAGING / DATABASE, _there(folder), keep_sign_ins=keep_sign_ins)
        give_to_owner(folder / STAGING)
        before = None
        if found.present is not None:
            _end_log(folder / DATABASE)
            before = give_to_owner(_kept_before(folder))
        os.replace(folder / STAGING, folder / STAGED)  # from here on it is done, whatever happens
        finish(folder)
    return replace(found, closes=closes), before


def finish(folder: Path) -> None:
    """Put in place what a restore has made ready; nothing where none was under way."""
    staged = folder / STAGED
    if not staged.is_dir():
        return
    with of_files("data folder", folder, ROOM), _alone_with(staged):
        if not staged.is_dir():
            return  # somebody else has done it meanwhile
        if (staged / DATABASE).is_file():
            for log in LOGS:
                (folder / f"{DATABASE}{log}").unlink(missing_ok=True)
            os.replace(staged / DATABASE, folder / DATABASE)
        if (staged / KEY).is_file():
            os.replace(staged / KEY, folder / KEY)
        if (staged / OUTBOX).is_dir():
            shutil.rmtree(folder / OUTBOX, ignore_errors=True)
            os.replace(staged / OUTBOX, folder / OUTBOX)
        shutil.rmtree(staged)


@contextmanager
def _alone_with(staged: Path) -> Iterator[None]:
    """Wait until nobody else puts the same in place."""
    try:
        opened = os.open(staged, os.O_RDONLY)
    except FileNotFoundError:
        yield
        return
    try:
        fcntl.flock(opened, fcntl.LOCK_EX)
        yield
    finally:
        os.close(opened)


def _looked_through(file: Path) -> Manifest:
    """The manifest of a backup of which every byte is as it was written."""
    try:
        size = file.stat().st_size - DIGEST_LENGTH
        with file.open("rb") as opened:
            opened.seek(max(0, size))
            said = opened.read(DIGEST_LENGTH)
        if size <= 0 or size_and_digest(pieces(file, size)).sha256.encode() != said:
            raise BadInputError("backup", str(file), f"{SOUND} (its check sum is not that of its bytes)")
        with zipfile.ZipFile(file) as zipped:
            manifest = _manifest(zipped, file)
            for name, member in manifest.members.items():
                if MEMBER.fullmatch(name) is None or zipped.getinfo(name).file_size != member.bytes:
                    raise BadInputError("backup", name, SOUND)
                with zipped.open(name) as opened:
                    if size_and_digest(iter(partial(opened.read, CHUNK), b"")) != member:
                        raise BadInputError("backup", name, SOUND)
    except OSError as error:
        raise BadInputError("backup", str(file), f"a file that can be read ({error})") from error
    except (zipfile.BadZipFile, zlib.error, KeyError, NotImplementedError, RuntimeError) as error:
        raise BadInputError("backup", str(file), f"{SOUND} ({error})") from error
    return manifest


def _manifest(zipped: zipfile.ZipFile, file: Path) -> Manifest:
    if zipped.getinfo(MANIFEST).file_size > LARGEST_MANIFEST:
        raise BadInputError("backup", str(file), SOUND)
    try:
        manifest = Manifest.model_validate_json(zipped.read(MANIFEST))
    except ValidationError as error:
        raise BadInputError("backup", str(file), f"one of format {FORMAT} or older; {SOUND}") from error
    if manifest.format > FORMAT or manifest.revision not in known_revisions():
        right = f"version {manifest.version} of Curve Rank, or a newer one; nothing was changed"
        raise BadInputError("backup", f"made by version {manifest.version}", right)
    if DATABASE not in manifest.members:
        raise BadInputError("backup", str(file), SOUND)
    return manifest


def _stage(file: Path, folder: Path, manifest: Manifest) -> None:
    staging = folder / STAGING
    with of_files("data folder", folder, ROOM):
        shutil.rmtree(staging, ignore_errors=True)
        (staging / OUTBOX).mkdir(parents=True, mode=FOLDER_MODE)
        with zipfile.ZipFile(file) as zipped:
            for name in manifest.members:
                with zipped.open(name) as source, (staging / name).open("xb") as target:
                    os.chmod(target.fileno(), FILE_MODE)
                    shutil.copyfileobj(source, target, CHUNK)
                    target.flush()
                    os.fsync(target.fileno())
    with reading(staging / DATABASE) as connection:
        found = connection.execute("PRAGMA integrity_check(1)").fetchone()[0]
    if found != "ok":
        shutil.rmtree(staging)
        raise BadInputError("backup", f"{file}: {found}", SOUND)


def _end_log(database: Path) -> None:
    """Write what stands in the log into the database; that needs nobody else to have it open.

    Raises
    ------
    UnavailableError
    """
    try:
        with closing(sqlite3.connect(database, timeout=2, isolation_level=None)) as connection:
            connection.execute("PRAGMA journal_mode = DELETE")
    except sqlite3.OperationalError as error:
        right = "a folder that nobody has open; stop the application first, then restore"
        raise UnavailableError("data folder", str(database.parent), right) from error
    except sqlite3.DatabaseError:
        return  # damaged: it goes aside as it is


def _kept_before(folder: Path) -> Path:
    """A backup of what stands there; where it is damaged, the file itself, aside."""
    aside = (
        private_folder(folder / BACKUPS) / f"curve-rank-before-restore-{datetime.now(UTC):%Y%m%d-%H%M%S-%f}"
    )
    try:
        back_up(folder, made := aside.with_suffix(".zip"))
    except (UnavailableError, sqlite3.Error):
        made = aside.with_suffix(".damaged.sqlite3")
        with of_files("data folder", folder, ROOM):
            shutil.copy2(folder / DATABASE, made)
    return made
