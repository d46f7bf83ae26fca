"""Tokens that somebody's scripts come with: as good as their owner, to read or to write, until they end."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

from sqlalchemy import func, or_, select, update
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError
from curve_rank.store.house.tokens import hash_of, new_token
from curve_rank.store.names import plain_name
from curve_rank.store.rows import own_row
from curve_rank.store.tables import AccessToken, Account, now
from curve_rank.store.viewers import Viewer, viewer_of

Scope = Literal["read", "write"]
SCOPES: dict[Scope, str] = {"read": "may read", "write": "may read and write"}
MOST = 20
"""Tokens of one person."""
USED_AGAIN = timedelta(minutes=5)
"""How exactly it is kept when a token was last used."""


@dataclass(frozen=True)
class TokenLine:
    """A token as its owner sees it: never the token itself."""

    id: int
    name: str
    scope: str
    created_at: datetime
    used_at: datetime | None


@dataclass(frozen=True)
class Arrival:
    """Who comes with a token, what it is good for, and whether it is time to say that it was used."""

    viewer: Viewer
    scope: str
    is_time: bool


def make(session: DbSession, viewer: Viewer, name: str, scope: Scope) -> str:
    """A new token; it is handed out this once, and only its digest is kept.

    Raises
    ------
    BadInputError
    """
    mine = (AccessToken.owner_id == viewer.person,)
    if (session.scalar(select(func.count(AccessToken.id)).where(*mine)) or 0) >= MOST:
        raise BadInputError("token", f"{MOST} there are already", "one that is ended first")
    token = new_token()
    session.add(
        AccessToken(owner_id=viewer.person, token_hash=hash_of(token), name=plain_name(name), scope=scope)
    )
    session.flush()
    return token


def tokens_of(session: DbSession, viewer: Viewer) -> tuple[TokenLine, ...]:
    """A viewer's tokens, newest first."""
    mine = select(AccessToken).where(AccessToken.owner_id == viewer.person).order_by(AccessToken.id.desc())
    return tuple(TokenLine(r.id, r.name, r.scope, r.created_at, r.used_at) for r in session.scalars(mine))


def end(session: DbSession, viewer: Viewer, number: int) -> str:
    """End a token; its name.

    Raises
    ------
    UnknownNameError
    """
    row = own_row(session, viewer, AccessToken, number, "token")
    session.delete(row)
    return row.name


def arrival(session: DbSession, token: str) -> Arrival | None:
    """Who comes with a token; None where it is none, or its owner is kept out."""
    row = session.execute(
        select(AccessToken.owner_id, AccessToken.scope, AccessToken.used_at)
        .outerjoin(Account, Account.person_id == AccessToken.owner_id)
        .where(AccessToken.token_hash == hash_of(token), Account.locked_at.is_(None))
    ).first()
    viewer = viewer_of(session, row.owner_id) if row else None
    if row is None or viewer is None:
        return None
    return Arrival(viewer, row.scope, row.used_at is None or row.used_at < now() - USED_AGAIN)


def used(session: DbSession, token: str) -> None:
    """Keep that a token was used just now."""
    lately = or_(AccessToken.used_at.is_(None), AccessToken.used_at < now() - USED_AGAIN)
    session.execute(
        update(AccessToken).where(AccessToken.token_hash == hash_of(token), lately).values(used_at=now())
    )
