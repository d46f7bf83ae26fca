"""What was published: frozen pages behind links that nobody can guess."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import LargeBinary, String, Text
from sqlalchemy.orm import Mapped, mapped_column

from curve_rank.store.tables.base import Base, OwnerId, RowId, now


class Publication(Base):
    """One published page. Title and withdrawal change, what is frozen in it never does."""

    __tablename__ = "publications"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    token: Mapped[str] = mapped_column(String(43), unique=True)
    kind: Mapped[str] = mapped_column(String(24))
    title: Mapped[str] = mapped_column(String(120))
    says: Mapped[str] = mapped_column(Text, default="")
    preview: Mapped[bytes | None] = mapped_column(LargeBinary)
    html: Mapped[str] = mapped_column(Text)
    data: Mapped[str] = mapped_column(Text)
    pdf: Mapped[bytes] = mapped_column(LargeBinary)
    parameters: Mapped[str] = mapped_column(String(16))
    model: Mapped[str] = mapped_column(String(16))
    created_at: Mapped[datetime] = mapped_column(default=now)
    withdrawn_at: Mapped[datetime | None]
    opened: Mapped[int] = mapped_column(default=0)
