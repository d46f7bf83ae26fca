"""Blocks with every state they had, who shares them, with whose loads, and calendars behind links."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from curve_rank.store.tables.base import Base, OwnerId, RowId, now


class Plan(Base):
    """A block: `at` is the number of the state that holds, `revision` counts every change of it, undo too."""

    __tablename__ = "plans"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    name: Mapped[str] = mapped_column(String(80))
    at: Mapped[int]
    revision: Mapped[int]
    created_at: Mapped[datetime] = mapped_column(default=now)
    removed_at: Mapped[datetime | None]


class PlanState(Base):
    """One state of a block, as text; it never changes."""

    __tablename__ = "plan_states"
    __table_args__ = (UniqueConstraint("plan_id", "number"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    plan_id: Mapped[int] = mapped_column(ForeignKey("plans.id", ondelete="CASCADE"), index=True)
    number: Mapped[int]
    said: Mapped[str] = mapped_column(String(160))
    content: Mapped[str] = mapped_column(Text)
    created_at: Mapped[datetime] = mapped_column(default=now)


class PlanClient(Base):
    """Somebody who does a block, with own loads and as they bend it, from when it was handed over."""

    __tablename__ = "plan_clients"
    __table_args__ = (UniqueConstraint("plan_id", "client_id"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    plan_id: Mapped[int] = mapped_column(ForeignKey("plans.id", ondelete="CASCADE"), index=True)
    client_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    loads: Mapped[dict[str, float]] = mapped_column(JSON)
    bends: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict, server_default="{}")
    handed_at: Mapped[datetime | None]
    feed: Mapped[str | None] = mapped_column(String(64), unique=True)
