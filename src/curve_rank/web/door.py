"""The door: how often somebody may be wrong, or ask at all; the code of the first account.

Who is right is never counted. Who is wrong is counted by name *and* address, so that a stranger's tries lock
out the stranger, and a busy gym behind one address does not lock itself out. A browser that somebody has
signed in with before is counted by itself: whatever others have tried, it passes.
"""

from __future__ import annotations

import hashlib
import hmac
import secrets
import time
from collections.abc import Iterator
from contextlib import contextmanager
from ipaddress import IPv6Address, ip_address
from threading import Lock

from cachetools import TTLCache
from flask import Response, request
from itsdangerous import BadSignature, URLSafeSerializer

from curve_rank.errors import BusyError, WrongSecretError
from curve_rank.store.database import Store
from curve_rank.store.house.wrong_tries import WITHIN, count_wrong, wrong_lately

PER_NAME, PER_ADDRESS = 10, 60
"""Wrong tries within the time that counts: for one name, and for all names together, from one address."""
FEW = 2
"""So many for one name from an address with too many for all: who is right at once still passes there."""
MOST_COUNTED = 20_000
CODE_SIGNS, CODE_LENGTH = "23456789ABCDEFGHJKMNPQRSTUVWXYZ", 12
BEEN_HERE = "been_here"
"""The cookie of a browser that somebody has signed in with before; it says whom as keyed hashes alone."""
BEEN_HERE_FOR = 365 * 24 * 3600
MOST_NAMES = 8
"""Of one browser: a coach's tablet on which clients sign in."""
SIXTY_FOUR = (1 << 64) - 1


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
    """Counts wrong tries, by where they come from and whom they are for; forgets both after a while.

    Parameters
    ----------
    store : Store
        Where counts outlive a restart.
    key : bytes
        Makes of names and addresses what nobody can read.
    https : bool
        Whether its cookie travels over https only.
    """

    def __init__(self, store: Store, key: bytes, *, https: bool) -> None:
        self._store, self._key, self._https = store, key, https
        self._browsers = URLSafeSerializer(key, salt="a browser that has been here")
        self.code = "".join(secrets.choice(CODE_SIGNS) for _ in range(CODE_LENGTH))

    @contextmanager
    def trying(self, name: str) -> Iterator[None]:
        """While something secret is tried for a name: what turns out wrong is counted.

        Raises
        ------
        BusyError
            Before it is tried, where there were too many; the same whether or not there is such a name.
        """
        tried_by = self._let_through(name)
        try:
            yield
        except WrongSecretError:
            self._count(tried_by)
            raise

    def knock(self, name: str) -> None:
        """Count what is neither right nor wrong and yet costs something, as a letter that is asked for.

        Raises
        ------
        BusyError
        """
        self._count(self._let_through(name))

    def recognize_again(self, response: Response, name: str) -> None:
        """Have this browser known from now on as one that somebody has signed in with."""
        browser, names = self._been_here()
        mine = [self._hidden("name", _plain(name)), *names]
        value = self._browsers.dumps([browser or secrets.token_hex(16), [*dict.fromkeys(mine)][:MOST_NAMES]])
        response.set_cookie(
            BEEN_HERE,
            value if isinstance(value, str) else value.decode(),
            max_age=BEEN_HERE_FOR,
            secure=self._https,
            httponly=True,
            samesite="Lax",
        )

    def knows(self, code: str) -> bool:
        """Whether it is the code that was printed where the application was started."""
        return hmac.compare_digest(code.strip().upper().replace("-", "").encode(), self.code.encode())

    @property
    def code_in_groups(self) -> str:
        """The code as it is printed."""
        return "-".join(self.code[n : n + 4] for n in range(0, CODE_LENGTH, 4))

    def _let_through(self, name: str) -> tuple[str, ...]:
        """By what a try is counted, if it is one of those that are let through."""
        browser, names = self._been_here()
        if self._hidden("name", _plain(name)) in names:
            by_browser = self._hidden("browser", browser, _plain(name))
            self._check({by_browser: PER_NAME})
            return (by_browser,)
        place = place_of(request.remote_addr)
        by_name, by_address = self._hidden("name at", _plain(name), place), self._hidden("address", place)
        found = self._check({by_name: PER_NAME, by_address: 0})
        if found[by_address] >= PER_ADDRESS and found[by_name] >= FEW:
            raise _too_many()
        return by_name, by_address

    def _check(self, most: dict[str, int]) -> dict[str, int]:
        with self._store.reading() as session:
            found = dict(wrong_lately(session, tuple(most)))
        if any(limit and found[one] >= limit for one, limit in most.items()):
            raise _too_many()
        return found

    def _count(self, tried_by: tuple[str, ...]) -> None:
        with self._store.writing() as session:
            count_wrong(session, tried_by)

    def _been_here(self) -> tuple[str, list[str]]:
        """This browser's number and whom it has been signed in as; empty for one that comes first now."""
        try:
            browser, names = self._browsers.loads(request.cookies.get(BEEN_HERE, ""))
        except (BadSignature, ValueError, TypeError):
            return "", []
        return str(browser), [str(name) for name in names]

    def _hidden(self, *parts: str) -> str:
        return hmac.new(self._key, "\n".join(parts).encode(), hashlib.sha256).hexdigest()


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
        whose = hashlib.sha256(token.encode()).hexdigest() if token else place_of(request.remote_addr)
        if self._asked is not None and not self._asked.lets_through(whose):
            raise BusyError(
                "requests", f"more than {self._asked.most} in a minute", "a minute's pause, then again"
            )


def place_of(address: str | None) -> str:
    """What counts as one address: of the newer kind a whole network, since one house has so many."""
    try:
        found = ip_address((address or "").partition("%")[0])
    except ValueError:
        return address or ""
    if isinstance(found, IPv6Address):
        plain = found.ipv4_mapped
        return str(plain or IPv6Address(int(found) & ~SIXTY_FOUR))
    return str(found)


def _plain(name: str) -> str:
    return name.strip().lower()


def _too_many() -> BusyError:
    minutes = int(WITHIN.total_seconds() // 60)
    return BusyError("tries", "too many", f"a pause of {minutes} minutes, then again")
