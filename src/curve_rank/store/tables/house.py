"""What a house finds out together: who agreed to it, what each log says, editions, releases."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ForeignKey, Index, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from curve_rank.store.tables.base import Base, OwnerId, RowId, now


class HouseConsent(Base):
    """What somebody said to their log's being used for the house; the newest row counts."""

    __tablename__ = "house_consents"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    digest: Mapped[str] = mapped_column(String(64))
    wording: Mapped[str] = mapped_column(Text)
    agreed: Mapped[bool]
    said_at: Mapped[datetime] = mapped_column(default=now)


class HouseShare(Base):
    """What the owner's log said of every exercise, as it stood in a month."""

    __tablename__ = "house_shares"
    __table_args__ = (UniqueConstraint("owner_id", "month"), Index("ix_house_shares_month", "month"))

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    month: Mapped[str] = mapped_column(String(7))
    content: Mapped[str] = mapped_column(Text)
    made_at: Mapped[datetime] = mapped_column(default=now)


class HouseEdition(Base):
    """Loads as a house lifts them: from which month, and by whom it was made."""

    __tablename__ = "house_editions"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    name: Mapped[str] = mapped_column(String(80))
    note: Mapped[str] = mapped_column(Text)
    month: Mapped[str] = mapped_column(String(7))
    offsets: Mapped[str] = mapped_column(Text, default="")
    """As JSON, worked out from the shares that `mark` is of."""
    mark: Mapped[str] = mapped_column(String(64), default="")
    made_at: Mapped[datetime] = mapped_column(default=now)


class EditionTurn(Base):
    """From when on an edition speaks; none: the model as it is published. The owner turned it."""

    __tablename__ = "edition_turns"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    edition_id: Mapped[int | None] = mapped_column(
        ForeignKey("house_editions.id", ondelete="SET NULL"), index=True
    )
    at: Mapped[datetime] = mapped_column(default=now)


class HouseReleaseRow(Base):
    """What was told to other houses, with its noise: drawn once, kept as it is."""

    __tablename__ = "house_releases"
    __table_args__ = (UniqueConstraint("owner_id", "year"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    year: Mapped[int]
    content: Mapped[str] = mapped_column(Text)
    made_at: Mapped[datetime] = mapped_column(default=now)
