"""Parts of links that nobody can guess, and what of them is kept."""

from __future__ import annotations

import hashlib
import secrets

TOKEN_SIGNS, TOKEN_LENGTH = "23456789abcdefghjkmnpqrstuvwxyz", 28
"""138 bits in signs that nobody mistakes for one another, for a link typed from paper."""


def new_token() -> str:
    """A part of a link that nobody can guess."""
    return "".join(secrets.choice(TOKEN_SIGNS) for _ in range(TOKEN_LENGTH))


def hash_of(token: str) -> str:
    """What is kept of a token that opens an account: who reads the database cannot use it."""
    return hashlib.sha256(token.encode()).hexdigest()
