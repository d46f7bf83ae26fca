"""Who looked at whose data, and who changed it."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import String
from sqlalchemy.orm import Mapped, mapped_column

from curve_rank.store.tables.base import Base, OwnerId, RowId, now


class AuditEntry(Base):
    """Somebody else saw, or changed, data of the owner's; it goes when they go. The actor may go before."""

    __tablename__ = "audit_entries"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    actor: Mapped[int]
    act: Mapped[str] = mapped_column(String(8))
    page: Mapped[str] = mapped_column(String(120))
    request: Mapped[str] = mapped_column(String(32))
    at: Mapped[datetime] = mapped_column(default=now, index=True)
