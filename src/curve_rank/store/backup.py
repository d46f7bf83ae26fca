"""A copy of the database in a file of its own, made while others read and write it."""

from __future__ import annotations

import os
import sqlite3
from datetime import UTC, datetime
from pathlib import Path

from curve_rank.store.private import private_file, private_folder

BACKUPS = "backups"


def back_up(database: Path, revision: str) -> Path:
    """Copy what is committed into the folder's `backups`, whole or not at all; the copy's path."""
    folder = private_folder(database.parent / BACKUPS)
    stamp = datetime.now(UTC).strftime("%Y%m%d-%H%M%S-%f")
    whole = folder / f"{database.stem}-{revision}-{stamp}.sqlite3"
    partial = private_file(whole.with_suffix(f".{os.getpid()}.part"))
    try:
        source, copy = sqlite3.connect(database), sqlite3.connect(partial)
        try:
            source.backup(copy)
        finally:
            copy.close()
            source.close()
        partial.replace(whole)
    finally:
        partial.unlink(missing_ok=True)
    return whole
