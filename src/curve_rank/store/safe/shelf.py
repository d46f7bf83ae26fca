"""Draws on a shelf: files that are found again after a restart, bounded in bytes, never stale."""

from __future__ import annotations

import hashlib
import logging
import os
import secrets
from collections.abc import Collection, Mapping
from contextlib import suppress
from functools import cache
from importlib.resources import files
from pathlib import Path

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.readings import Readings

log = logging.getLogger(__name__)

FOLDER = "curve-rank-draws"
MOST_BYTES = 2 * 1024 * 1024 * 1024
"""Room for all files: the arms of some hundred people, who then find theirs drawn."""
ROOMS = ("arm", "rating", "study", "catalogue")
"""Whose code makes the draws: files of other code are another edition."""


@cache
def edition() -> str:
    """Changes with any code that draws stand on."""
    digest = hashlib.sha256()
    for room in ROOMS:
        for entry in sorted(files("curve_rank").joinpath(room).iterdir(), key=lambda e: e.name):
            if entry.name.endswith((".py", ".toml")):
                digest.update(entry.read_bytes())
    return digest.hexdigest()[:16]


class Shelf:
    """Readings of draws by key, one file each. Several processes may share it.

    A shelf that cannot be read or written is an empty one: whatever is missing is drawn anew.

    Parameters
    ----------
    data : Path
        The data folder; the shelf is a folder in it, made when something is first put there.
    most_bytes : int
        Room for all files; the longest unused go first.
    """

    def __init__(self, data: Path, most_bytes: int = MOST_BYTES) -> None:
        self._top, self._most = data / FOLDER, most_bytes
        self._room: int | None = None  # what may still be put here before it is looked at anew
        self._folder = self._top / edition()

    def take(self, keys: Collection[str]) -> dict[str, Readings]:
        """Those of the keys that stand here."""
        found = {}
        for key, rows in self.take_rows(keys).items():
            with suppress(ValueError):  # damaged: it is drawn anew
                found[key] = Readings.from_rows(rows)
        return found

    def put(self, values: Mapping[str, Readings]) -> None:
        """Put readings of draws, S = (draws,), each file whole or not at all."""
        self.put_rows({key: readings.as_rows() for key, readings in values.items()})

    def take_rows(self, keys: Collection[str]) -> dict[str, Array]:
        """Arrays of those of the keys that stand here."""
        return {key: found for key in keys if (found := self._read(self._file(key))) is not None}

    def put_rows(self, values: Mapping[str, Array]) -> None:
        """Put arrays, each file whole or not at all."""
        try:
            self._folder.mkdir(mode=0o700, parents=True, exist_ok=True)
            written = 0
            for key, rows in values.items():
                partial = self._folder / f"{secrets.token_hex(8)}.part"
                with os.fdopen(os.open(partial, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as out:
                    np.save(out, rows)
                partial.replace(self._file(key))
                written += rows.nbytes
            self._count(written)
        except OSError as error:
            log.warning("draws cannot be kept on disk: %s", error)

    def _file(self, key: str) -> Path:
        return self._folder / f"{hashlib.sha256(key.encode()).hexdigest()}.npy"

    def _read(self, path: Path) -> Array | None:
        try:
            found: Array = np.load(path, allow_pickle=False)
            os.utime(path)
        except FileNotFoundError:
            return None
        except (OSError, ValueError, EOFError):  # damaged: it is drawn anew
            with suppress(OSError):
                path.unlink()
            return None
        return found

    def _count(self, written: int) -> None:
        """Look at all files only where there may be too many: others put some here, too."""
        if self._room is not None:
            self._room -= written
        if self._room is None or self._room <= 0:
            self._room = (self._most - self._make_room()) // 2

    def _make_room(self) -> int:
        """Drop the longest unused, those of other editions first; how many bytes stay."""
        found = []
        for path in self._top.rglob("*"):
            with suppress(OSError):
                if path.is_file():
                    told = path.stat()
                    found.append((path.parent == self._folder, told.st_mtime, told.st_size, path))
        left = sum(size for _, _, size, _ in found)
        for _, _, size, path in sorted(found):
            if left <= self._most:
                break
            with suppress(OSError):
                path.unlink()
            left -= size
        return left
