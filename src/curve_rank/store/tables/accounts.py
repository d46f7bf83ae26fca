"""Accounts, who is signed in where, invitations, resets, and what clients agreed to."""

from __future__ import annotations

from datetime import date, datetime

from sqlalchemy import JSON, ForeignKey, String, Text
from sqlalchemy.orm import Mapped, mapped_column

from curve_rank.store.tables.base import Base, OwnerId, RowId, now


class Account(Base):
    """How a person signs in."""

    __tablename__ = "accounts"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    person_id: Mapped[int] = mapped_column(
        ForeignKey("people.id", ondelete="CASCADE"), index=True, unique=True
    )
    email: Mapped[str] = mapped_column(String(254), unique=True)
    password_hash: Mapped[str] = mapped_column(String(200))
    created_at: Mapped[datetime] = mapped_column(default=now)
    locked_at: Mapped[datetime | None]


class SignIn(Base):
    """A browser that somebody is signed in with; the token itself is only in its cookie."""

    __tablename__ = "sign_ins"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    token_hash: Mapped[str] = mapped_column(String(64), unique=True)
    agent: Mapped[str] = mapped_column(String(160))
    created_at: Mapped[datetime] = mapped_column(default=now)
    seen_at: Mapped[datetime] = mapped_column(default=now)
    confirmed_at: Mapped[datetime | None]


class AccessToken(Base):
    """What one of somebody's scripts comes with; the token itself is only with the script."""

    __tablename__ = "access_tokens"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    token_hash: Mapped[str] = mapped_column(String(64), unique=True)
    name: Mapped[str] = mapped_column(String(80))
    scope: Mapped[str] = mapped_column(String(8))
    created_at: Mapped[datetime] = mapped_column(default=now)
    used_at: Mapped[datetime | None]


class WrongTry(Base):
    """A password or code that was wrong: by whom, as a keyed hash; it goes within the hour."""

    __tablename__ = "wrong_tries"

    id: Mapped[RowId]
    tried_by: Mapped[str] = mapped_column(String(64), index=True)
    at: Mapped[datetime] = mapped_column(default=now, index=True)


class Invitation(Base):
    """A link that lets one person in, in some roles; for a client who is known already, as that person."""

    __tablename__ = "invitations"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    token_hash: Mapped[str] = mapped_column(String(64), unique=True)
    name: Mapped[str] = mapped_column(String(80))
    email: Mapped[str] = mapped_column(String(254))
    roles: Mapped[list[str]] = mapped_column(JSON)
    person_id: Mapped[int | None] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    created_at: Mapped[datetime] = mapped_column(default=now)
    expires_at: Mapped[datetime]
    used_at: Mapped[datetime | None]
    withdrawn_at: Mapped[datetime | None]


class Reset(Base):
    """A link that sets a new password, once."""

    __tablename__ = "resets"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    token_hash: Mapped[str] = mapped_column(String(64), unique=True)
    expires_at: Mapped[datetime]
    used_at: Mapped[datetime | None]


class Consent(Base):
    """What a client said to the statement of consent and scope, with its wording."""

    __tablename__ = "consents"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    digest: Mapped[str] = mapped_column(String(64))
    wording: Mapped[str] = mapped_column(Text)
    agreed: Mapped[bool]
    minor: Mapped[bool]
    injured: Mapped[bool]
    cleared_on: Mapped[date | None]
    said_at: Mapped[datetime] = mapped_column(default=now)
