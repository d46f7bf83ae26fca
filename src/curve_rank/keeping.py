"""What has been worked out, kept by what went into it: bounded in bytes, and worked out once at a time."""

from __future__ import annotations

import threading
from collections.abc import Callable, Collection, Hashable, Mapping
from concurrent.futures import Future
from contextlib import suppress
from typing import Any, TypeVar

import numpy as np
from cachetools import LRUCache

NUMBERS = (float, int, type(None))
SMALL = 2048
"""What an entry costs beside arrays and text: a few small objects [bytes]."""

Key = TypeVar("Key", bound=Hashable)
Source = TypeVar("Source")
Made = TypeVar("Made")


def size_of(parts: Any) -> int:
    """Memory of all arrays and text in a dataclass, a list or a table, and in those within it [bytes]."""
    if isinstance(parts, NUMBERS):  # most of what is asked about
        return 0
    if isinstance(parts, np.ndarray):
        return parts.nbytes
    if isinstance(parts, str):
        return len(parts)
    if isinstance(parts, dict):
        return sum(map(size_of, parts.values()))
    if isinstance(parts, tuple | list):
        return sum(map(size_of, parts))
    return sum(size_of(getattr(parts, name)) for name in getattr(type(parts), "__dataclass_fields__", ()))


def cost_of(value: object) -> int:
    """Memory of a kept value, near enough [bytes]."""
    return SMALL + size_of(value) + int(getattr(value, "memory", 0))


class Keeping:
    """Values by key, the longest unused dropped first. Safe to share between threads.

    A key that several threads ask for at once is worked out by the first; the others wait for it.

    Parameters
    ----------
    most_bytes : int
        Memory for all that is kept.
    cost : callable
        Memory of one value [bytes].
    """

    def __init__(self, most_bytes: int, cost: Callable[[Any], int] = cost_of) -> None:
        self._kept: LRUCache[Hashable, Any] = LRUCache(most_bytes, getsizeof=cost)
        self._under_way: dict[Any, Future[Any]] = {}
        self._lock = threading.Lock()

    @property
    def bytes(self) -> int:
        """Memory of what is kept, near enough."""
        return int(self._kept.currsize)

    def found(self, keys: Collection[Key]) -> dict[Key, Any]:
        """Those of the keys that are kept, with their values."""
        with self._lock:
            return {key: self._kept[key] for key in keys if key in self._kept}

    def keep(self, values: Mapping[Key, Any]) -> None:
        """Keep values; what is larger than all the room is not kept."""
        with self._lock:
            for key, value in values.items():
                with suppress(ValueError):
                    self._kept[key] = value

    def once(self, key: Hashable, make: Callable[[], Made]) -> Made:
        """The value of a key: kept, or as `make` works it out."""
        with self._lock:
            if key in self._kept:
                kept: Made = self._kept[key]
                return kept
        found: Made = self.all({key: None}, lambda wanted: dict.fromkeys(wanted, make()))[key]
        return found

    def all(
        self, wanted: Mapping[Key, Source], make: Callable[[dict[Key, Source]], Mapping[Key, Any]]
    ) -> dict[Key, Any]:
        """The values of several keys; `make` works out together those that nobody has or is working out.

        What `make` raises, everyone who waits for it gets.
        """
        with self._lock:
            found = {key: self._kept[key] for key in wanted if key in self._kept}
            missing = {key: source for key, source in wanted.items() if key not in found}
            others = {key: self._under_way[key] for key in missing if key in self._under_way}
            own = {key: Future[Any]() for key in missing if key not in others}
            self._under_way.update(own)
        if own:
            found |= self._make(own, {key: missing[key] for key in own}, make)
        return found | {key: future.result() for key, future in others.items()}

    def _make(
        self,
        own: Mapping[Key, Future[Any]],
        sources: dict[Key, Source],
        make: Callable[[dict[Key, Source]], Mapping[Key, Any]],
    ) -> Mapping[Key, Any]:
        try:
            made = make(sources)
            self.keep(made)
        except BaseException as error:
            for future in own.values():
                future.set_exception(error)
            raise
        finally:
            with self._lock:
                for key in own:
                    del self._under_way[key]
        for key, future in own.items():
            future.set_result(made[key])
        return made
