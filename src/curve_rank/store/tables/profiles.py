"""Clients' profiles, as JSON text with the number of its newest state."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ForeignKey, Text
from sqlalchemy.orm import Mapped, mapped_column

from curve_rank.store.tables.base import Base, OwnerId, RowId, now


class ClientProfileRow(Base):
    """What is known of a client beside their size."""

    __tablename__ = "client_profiles"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    person_id: Mapped[int] = mapped_column(
        ForeignKey("people.id", ondelete="CASCADE"), index=True, unique=True
    )
    content: Mapped[str] = mapped_column(Text)
    version: Mapped[int]
    changed_at: Mapped[datetime] = mapped_column(default=now)
