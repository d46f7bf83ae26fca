"""Questions kept under a name."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import String
from sqlalchemy.orm import Mapped, mapped_column

from curve_rank.store.tables.base import Base, OwnerId, RowId, now


class SavedQuestion(Base):
    """A question kept under a name; the address is the question."""

    __tablename__ = "saved_questions"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    name: Mapped[str] = mapped_column(String(80))
    address: Mapped[str] = mapped_column(String(400))
    created_at: Mapped[datetime] = mapped_column(default=now)
