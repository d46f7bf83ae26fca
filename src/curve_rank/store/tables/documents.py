"""Documents of every kind, each with its versions."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ForeignKey, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from curve_rank.store.tables.base import Base, OwnerId, RowId, now


class Document(Base):
    """A document someone made: a variant, a lens, and whatever kind comes later."""

    __tablename__ = "documents"
    __table_args__ = (UniqueConstraint("owner_id", "kind", "slug"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    kind: Mapped[str] = mapped_column(String(24))
    slug: Mapped[str] = mapped_column(String(60))
    name: Mapped[str] = mapped_column(String(80))
    made_from: Mapped[str | None] = mapped_column(String(60))
    newest: Mapped[int]
    created_at: Mapped[datetime] = mapped_column(default=now)
    removed_at: Mapped[datetime | None]
    shared_at: Mapped[datetime | None]


class DocumentVersion(Base):
    """One saved state of a document, as JSON text; it never changes."""

    __tablename__ = "document_versions"
    __table_args__ = (UniqueConstraint("document_id", "number"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    author_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    document_id: Mapped[int] = mapped_column(ForeignKey("documents.id", ondelete="CASCADE"), index=True)
    number: Mapped[int]
    content: Mapped[str] = mapped_column(Text)
    created_at: Mapped[datetime] = mapped_column(default=now)
