"""The door: how often somebody may try to come in, or ask at all; the code of the first account."""

from __future__ import annotations

import hashlib
import secrets
from hmac import compare_digest

from flask import request
from limits import RateLimitItem, RateLimitItemPerMinute
from limits.storage import MemoryStorage
from limits.strategies import FixedWindowRateLimiter, MovingWindowRateLimiter

from curve_rank.errors import BusyError

MINUTES = 15
PER_NAME = RateLimitItemPerMinute(10, MINUTES)
PER_ADDRESS = RateLimitItemPerMinute(60, MINUTES)
CODE_SIGNS, CODE_LENGTH = "23456789ABCDEFGHJKMNPQRSTUVWXYZ", 12


class Door:
    """Counts tries, by where they come from and whom they are for; forgets both after a while."""

    def __init__(self) -> None:
        self._tries = MovingWindowRateLimiter(MemoryStorage())
        self.code = "".join(secrets.choice(CODE_SIGNS) for _ in range(CODE_LENGTH))

    def knock(self, name: str) -> None:
        """Count a try.

        Raises
        ------
        BusyError
            For one too many, whether or not there is such a name.
        """
        address = request.remote_addr or ""
        self._count(PER_ADDRESS, "address", address)
        self._count(PER_NAME, "name", hashlib.sha256(name.strip().lower().encode()).hexdigest())

    def knows(self, code: str) -> bool:
        """Whether it is the code that was printed where the application was started."""
        return compare_digest(code.strip().upper().replace("-", "").encode(), self.code.encode())

    @property
    def code_in_groups(self) -> str:
        """The code as it is printed."""
        return "-".join(self.code[n : n + 4] for n in range(0, CODE_LENGTH, 4))

    def _count(self, limit: RateLimitItem, kind: str, key: str) -> None:
        if not self._tries.hit(limit, kind, key):
            raise BusyError("tries", "too many", f"a pause of {MINUTES} minutes, then again")


class Turnstile:
    """Counts what everybody asks for; forgets it after a minute. Safe to share between threads."""

    def __init__(self, a_minute: int) -> None:
        self._most = RateLimitItemPerMinute(a_minute) if a_minute else None
        self._asked = FixedWindowRateLimiter(MemoryStorage())

    def pass_by(self, token: str) -> None:
        """Count a request of whoever is signed in with a token, or comes from this address.

        Raises
        ------
        BusyError
            For one too many.
        """
        whose = hashlib.sha256(token.encode()).hexdigest() if token else request.remote_addr or ""
        if self._most is not None and not self._asked.hit(self._most, whose):
            raise BusyError(
                "requests", f"more than {self._most.amount} in a minute", "a minute's pause, then again"
            )
