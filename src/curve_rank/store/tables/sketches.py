"""Sketches and quick answers, with what they were worth."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import Index, String, Text
from sqlalchemy.orm import Mapped, mapped_column

from curve_rank.store.tables.base import Base, OwnerId, RowId, now


class SketchRow(Base):
    """One answer; `item` says what was asked, `answer` what was drawn or chosen, as JSON."""

    __tablename__ = "sketches"
    __table_args__ = (Index("ix_sketches_owner_id_kind", "owner_id", "kind"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    kind: Mapped[str] = mapped_column(String(16))
    item: Mapped[str] = mapped_column(String(160))
    family: Mapped[str] = mapped_column(String(40))
    answer: Mapped[str] = mapped_column(Text)
    points: Mapped[float]
    created_at: Mapped[datetime] = mapped_column(default=now)
