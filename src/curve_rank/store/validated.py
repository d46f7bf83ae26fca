"""Documents that have been validated, kept so that each version is validated once."""

from __future__ import annotations

import threading
from collections.abc import Hashable

from cachetools import LRUCache

MOST_BYTES = 32 * 1024 * 1024


class ValidatedDocuments:
    """Validated documents by what they were made from, bounded in bytes. Safe to share between threads."""

    def __init__(self, most_bytes: int = MOST_BYTES) -> None:
        self._kept: LRUCache[Hashable, tuple[int, object]] = LRUCache(most_bytes, getsizeof=lambda e: e[0])
        self._lock = threading.Lock()

    def get(self, key: Hashable) -> object | None:
        """The document kept under a key, or None."""
        with self._lock:
            found = self._kept.get(key)
        return None if found is None else found[1]

    def keep(self, key: Hashable, document: object, size: int) -> None:
        """Keep a document of about that size [bytes], if there can be room for it."""
        with self._lock:
            if size <= self._kept.maxsize:
                self._kept[key] = (size, document)
