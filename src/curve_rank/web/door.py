"""The door: how often somebody may try to come in, or ask at all; the code of the first account."""

from __future__ import annotations

import hashlib
import secrets
import time
from hmac import compare_digest
from threading import Lock

from cachetools import TTLCache
from flask import request

from curve_rank.errors import BusyError

MINUTES = 15
PER_NAME, PER_ADDRESS = 10, 60
"""Tries to come in within that many minutes."""
MOST_COUNTED = 20_000
CODE_SIGNS, CODE_LENGTH = "23456789ABCDEFGHJKMNPQRSTUVWXYZ", 12


class Tally:
    """Counts by name within a time that begins with the first; by a clock that nobody sets back.

    Safe to share between threads.

    Parameters
    ----------
    most : int
        So many are let through.
    seconds : float
        After so long a name is counted anew.
    """

    def __init__(self, most: int, seconds: float) -> None:
        self.most = most
        self._counts: TTLCache[str, list[int]] = TTLCache(MOST_COUNTED, seconds, timer=time.monotonic)
        self._lock = Lock()

    def lets_through(self, name: str) -> bool:
        """Count one; whether it is one of those that are let through."""
        with self._lock:
            count = self._counts.get(name)
            if count is None:
                count = self._counts[name] = [0]
            count[0] += 1
            return count[0] <= self.most


class Door:
    """Counts tries, by where they come from and whom they are for; forgets both after a while."""

    def __init__(self) -> None:
        self._by_address = Tally(PER_ADDRESS, 60.0 * MINUTES)
        self._by_name = Tally(PER_NAME, 60.0 * MINUTES)
        self.code = "".join(secrets.choice(CODE_SIGNS) for _ in range(CODE_LENGTH))

    def knock(self, name: str) -> None:
        """Count a try.

        Raises
        ------
        BusyError
            For one too many, whether or not there is such a name.
        """
        from_here = self._by_address.lets_through(request.remote_addr or "")
        if not (from_here and self._by_name.lets_through(_hidden(name.strip().lower()))):
            raise BusyError("tries", "too many", f"a pause of {MINUTES} minutes, then again")

    def knows(self, code: str) -> bool:
        """Whether it is the code that was printed where the application was started."""
        return compare_digest(code.strip().upper().replace("-", "").encode(), self.code.encode())

    @property
    def code_in_groups(self) -> str:
        """The code as it is printed."""
        return "-".join(self.code[n : n + 4] for n in range(0, CODE_LENGTH, 4))


class Turnstile:
    """Counts what everybody asks for within a minute.

    Parameters
    ----------
    a_minute : int
        So much may be asked; 0 for no limit.
    """

    def __init__(self, a_minute: int) -> None:
        self._asked = Tally(a_minute, 60.0) if a_minute else None

    def pass_by(self, token: str) -> None:
        """Count a request of whoever is signed in with a token, or comes from this address.

        Raises
        ------
        BusyError
            For one too many.
        """
        whose = _hidden(token) if token else request.remote_addr or ""
        if self._asked is not None and not self._asked.lets_through(whose):
            raise BusyError(
                "requests", f"more than {self._asked.most} in a minute", "a minute's pause, then again"
            )


def _hidden(name: str) -> str:
    """A name or a token, so that it does not stand in memory."""
    return hashlib.sha256(name.encode()).hexdigest()
