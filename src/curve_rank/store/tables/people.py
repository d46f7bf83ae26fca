"""People, their roles, who coaches whom, bodies and rooms."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import JSON, Double, ForeignKey, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from curve_rank.store.tables.base import Base, OwnerId, RowId, now


class Person(Base):
    """An educator, coach or client, or several of these in one."""

    __tablename__ = "people"

    id: Mapped[RowId]
    owner_id: Mapped[int | None] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(80))
    triceps_part: Mapped[float | None] = mapped_column(Double)
    created_at: Mapped[datetime] = mapped_column(default=now)
    leaving_at: Mapped[datetime | None]
    roles: Mapped[list[PersonRole]] = relationship(
        back_populates="person", foreign_keys="PersonRole.person_id", order_by="PersonRole.id"
    )
    bodies: Mapped[list[BodyRow]] = relationship(
        back_populates="person", foreign_keys="BodyRow.person_id", order_by="BodyRow.id"
    )


class PersonRole(Base):
    """One role of a person: educator, coach or client."""

    __tablename__ = "person_roles"
    __table_args__ = (UniqueConstraint("person_id", "role"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    role: Mapped[str] = mapped_column(String(16))
    created_at: Mapped[datetime] = mapped_column(default=now)
    person: Mapped[Person] = relationship(back_populates="roles", foreign_keys=[person_id])


class CoachClient(Base):
    """Which coach has which client."""

    __tablename__ = "coach_clients"
    __table_args__ = (UniqueConstraint("coach_id", "client_id"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    coach_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    client_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    created_at: Mapped[datetime] = mapped_column(default=now)


class BodyRow(Base):
    """A person's size, and joints to spare, as of a day."""

    __tablename__ = "bodies"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    height_m: Mapped[float] = mapped_column(Double)
    mass_kg: Mapped[float] = mapped_column(Double)
    strength: Mapped[float] = mapped_column(Double, default=1.0)
    sore_joints: Mapped[list[str]] = mapped_column(JSON, default=list)
    upper_arm_m: Mapped[float | None] = mapped_column(Double)
    forearm_m: Mapped[float | None] = mapped_column(Double)
    known_variant: Mapped[str | None] = mapped_column(String(60))
    known_load_kg: Mapped[float | None] = mapped_column(Double)
    known_reps: Mapped[int | None]
    created_at: Mapped[datetime] = mapped_column(default=now)
    person: Mapped[Person] = relationship(back_populates="bodies", foreign_keys=[person_id])


class Room(Base):
    """A place and what stands in it: a gym of the owner's, or one person's own."""

    __tablename__ = "rooms"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    person_id: Mapped[int | None] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(80))
    equipment: Mapped[list[str]] = mapped_column(JSON)
    steps: Mapped[str | None] = mapped_column(Text)
    created_at: Mapped[datetime] = mapped_column(default=now)
