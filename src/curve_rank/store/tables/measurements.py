"""What was measured: captures with their raw samples, and pictures with their marks."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from sqlalchemy import ForeignKey, LargeBinary, String, Text
from sqlalchemy.orm import Mapped, mapped_column

from curve_rank.store.tables.base import Base, OwnerId, RowId, now

CaptureId = Annotated[int, mapped_column(ForeignKey("captures.id", ondelete="CASCADE"), index=True)]
PictureSetId = Annotated[int, mapped_column(ForeignKey("picture_sets.id", ondelete="CASCADE"), index=True)]


class CaptureRow(Base):
    """One capture; its samples stand in its parts, `counts` holds what was lost and garbled, as JSON."""

    __tablename__ = "captures"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    name: Mapped[str] = mapped_column(String(80))
    device: Mapped[str] = mapped_column(String(120))
    weight_kg: Mapped[float] = mapped_column(default=0.0)
    lever_m: Mapped[float] = mapped_column(default=0.0)
    counts: Mapped[str] = mapped_column(Text, default="{}")
    begun_at: Mapped[datetime] = mapped_column(default=now)


class CapturePart(Base):
    """Samples of a capture as they were handed on, a row a line."""

    __tablename__ = "capture_parts"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    capture_id: Mapped[CaptureId]
    rows: Mapped[str] = mapped_column(Text)


class PictureSet(Base):
    """Pictures of one rep, and their marks, as JSON."""

    __tablename__ = "picture_sets"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    name: Mapped[str] = mapped_column(String(80))
    marks: Mapped[str] = mapped_column(Text)
    created_at: Mapped[datetime] = mapped_column(default=now)


class PictureRow(Base):
    """One picture, upright and without whatever a camera wrote into it."""

    __tablename__ = "pictures"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    picture_set_id: Mapped[PictureSetId]
    width: Mapped[int]
    height: Mapped[int]
    jpeg: Mapped[bytes] = mapped_column(LargeBinary)
