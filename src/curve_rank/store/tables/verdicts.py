"""Verdicts on claims, each with what it stands on."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import Index, String, Text
from sqlalchemy.orm import Mapped, mapped_column

from curve_rank.store.tables.base import Base, OwnerId, RowId, now


class VerdictRow(Base):
    """One verdict on a claim, for whoever looked at it; it never changes."""

    __tablename__ = "verdicts"
    __table_args__ = (Index("ix_verdicts_owner_id_claim", "owner_id", "claim"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    claim: Mapped[str] = mapped_column(String(60))
    setups: Mapped[str] = mapped_column(String(16))
    parameters: Mapped[str] = mapped_column(String(16))
    model: Mapped[str] = mapped_column(String(16))
    content: Mapped[str] = mapped_column(Text)
    created_at: Mapped[datetime] = mapped_column(default=now)
