"""Passwords: argon2, the same work whether or not there is an account."""

from __future__ import annotations

from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from curve_rank.errors import BadInputError

LEAST, MOST = 10, 200


@cache
def _hasher() -> PasswordHasher:
    return PasswordHasher()


@cache
def _of_nobody() -> str:
    return _hasher().hash("of nobody")


def hash_password(password: str, *, unlike: tuple[str, ...] = ()) -> str:
    """What is kept of a new password.

    Raises
    ------
    BadInputError
        For one that is too short, too long, or says who somebody is.
    """
    right = f"{LEAST} to {MOST} characters, not your name or address; three or four words do"
    if not LEAST <= len(password) <= MOST or len(set(password)) < 4:
        raise BadInputError("password", "the one typed", right)
    if any(word and word.lower() in (password.lower(), password.lower().replace(" ", "")) for word in unlike):
        raise BadInputError("password", "the one typed", right)
    return _hasher().hash(password)


def is_right(password_hash: str | None, password: str) -> bool:
    """Whether a password is the one kept; takes as long where there is none."""
    try:
        _hasher().verify(password_hash or _of_nobody(), password[:MOST])
    except (VerifyMismatchError, InvalidHashError):
        return False
    return password_hash is not None
