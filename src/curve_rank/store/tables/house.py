"""What a house finds out together: who agreed to it, what each log says, editions, releases."""

from __future__ import annotations

from datetime import date, datetime

from sqlalchemy import Double, ForeignKey, Index, String, Text, UniqueConstraint
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


class OtherHouseRow(Base):
    """What another house told, as it was handed out, and of which claim it is one more study."""

    __tablename__ = "other_houses"
    __table_args__ = (UniqueConstraint("owner_id", "digest"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    digest: Mapped[str] = mapped_column(String(64))
    claim: Mapped[str] = mapped_column(String(120), default="")
    content: Mapped[str] = mapped_column(Text)
    read_at: Mapped[datetime] = mapped_column(default=now)


class HouseTrialRow(Base):
    """A question that a coin is to answer over people: two ways, and the day on which it is looked at."""

    __tablename__ = "house_trials"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    name: Mapped[str] = mapped_column(String(80))
    first_way: Mapped[str] = mapped_column(String(200))
    second_way: Mapped[str] = mapped_column(String(200))
    difference_cm: Mapped[float] = mapped_column(Double)
    claim: Mapped[str] = mapped_column(String(120), default="", server_default="")
    """The claim whose left side says that the first way makes arms grow more; empty for none."""
    size: Mapped[int]
    seed: Mapped[int]
    begins: Mapped[date]
    looks_on: Mapped[date]
    made_at: Mapped[datetime] = mapped_column(default=now)


class HouseTrialPerson(Base):
    """That the owner takes part in a trial, and which way the coin gave them."""

    __tablename__ = "house_trial_people"
    __table_args__ = (UniqueConstraint("trial_id", "owner_id"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    trial_id: Mapped[int] = mapped_column(ForeignKey("house_trials.id", ondelete="CASCADE"), index=True)
    way: Mapped[int]
    joined_at: Mapped[datetime] = mapped_column(default=now)


class ForecastRow(Base):
    """What was foretold of the owner's first set of an exercise on a day, before it was done."""

    __tablename__ = "forecasts"
    __table_args__ = (UniqueConstraint("owner_id", "day", "variant"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    day: Mapped[date]
    variant: Mapped[str] = mapped_column(String(60))
    load_kg: Mapped[float] = mapped_column(Double)
    room: Mapped[str] = mapped_column(String(80))
    edition: Mapped[str] = mapped_column(String(80))
    expected: Mapped[float] = mapped_column(Double)
    spread: Mapped[float] = mapped_column(Double)
    made_at: Mapped[datetime] = mapped_column(default=now)
