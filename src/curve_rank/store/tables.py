"""The tables. Every row a person makes carries its owner."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import JSON, Double, ForeignKey, MetaData, String, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

NAMING = {
    "ix": "ix_%(column_0_label)s",
    "uq": "uq_%(table_name)s_%(column_0_name)s",
    "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
    "pk": "pk_%(table_name)s",
}


def now() -> datetime:
    """The present moment, UTC, without a zone as SQLite keeps it."""
    return datetime.now(UTC).replace(tzinfo=None, microsecond=0)


class Base(DeclarativeBase):
    """Base of all tables."""

    metadata = MetaData(naming_convention=NAMING)


class Person(Base):
    """An educator, coach or client."""

    __tablename__ = "people"

    id: Mapped[int] = mapped_column(primary_key=True)
    owner_id: Mapped[int | None] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(80))
    role: Mapped[str] = mapped_column(String(16))
    created_at: Mapped[datetime] = mapped_column(default=now)
    bodies: Mapped[list[BodyRow]] = relationship(
        back_populates="person", foreign_keys="BodyRow.person_id", order_by="BodyRow.id"
    )


class BodyRow(Base):
    """A person's size, and joints to spare, as of a day."""

    __tablename__ = "bodies"

    id: Mapped[int] = mapped_column(primary_key=True)
    owner_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
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


class OwnLens(Base):
    """A lens someone made; its document lives in its versions."""

    __tablename__ = "own_lenses"

    id: Mapped[int] = mapped_column(primary_key=True)
    owner_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    slug: Mapped[str] = mapped_column(String(60), unique=True)
    created_at: Mapped[datetime] = mapped_column(default=now)
    removed_at: Mapped[datetime | None]
    versions: Mapped[list[OwnLensVersion]] = relationship(
        back_populates="lens", order_by="OwnLensVersion.number", cascade="all, delete-orphan"
    )


class OwnLensVersion(Base):
    """One saved state of an own lens."""

    __tablename__ = "own_lens_versions"
    __table_args__ = (UniqueConstraint("lens_id", "number"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    owner_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    lens_id: Mapped[int] = mapped_column(ForeignKey("own_lenses.id", ondelete="CASCADE"), index=True)
    number: Mapped[int]
    document: Mapped[dict[str, Any]] = mapped_column(JSON)
    created_at: Mapped[datetime] = mapped_column(default=now)
    lens: Mapped[OwnLens] = relationship(back_populates="versions")


class Room(Base):
    """A place and the equipment that stands in it."""

    __tablename__ = "rooms"

    id: Mapped[int] = mapped_column(primary_key=True)
    owner_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(80))
    equipment: Mapped[list[str]] = mapped_column(JSON)
    created_at: Mapped[datetime] = mapped_column(default=now)


class OwnVariant(Base):
    """A variant someone made; its document lives in its versions."""

    __tablename__ = "own_variants"

    id: Mapped[int] = mapped_column(primary_key=True)
    owner_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    slug: Mapped[str] = mapped_column(String(60), unique=True)
    made_from: Mapped[str | None] = mapped_column(String(60))
    created_at: Mapped[datetime] = mapped_column(default=now)
    removed_at: Mapped[datetime | None]
    versions: Mapped[list[OwnVariantVersion]] = relationship(
        back_populates="variant", order_by="OwnVariantVersion.number", cascade="all, delete-orphan"
    )


class OwnVariantVersion(Base):
    """One saved state of an own variant."""

    __tablename__ = "own_variant_versions"
    __table_args__ = (UniqueConstraint("variant_id", "number"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    owner_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    variant_id: Mapped[int] = mapped_column(ForeignKey("own_variants.id", ondelete="CASCADE"), index=True)
    number: Mapped[int]
    document: Mapped[dict[str, Any]] = mapped_column(JSON)
    created_at: Mapped[datetime] = mapped_column(default=now)
    variant: Mapped[OwnVariant] = relationship(back_populates="versions")


class SavedQuestion(Base):
    """A question kept under a name; the address is the question."""

    __tablename__ = "saved_questions"

    id: Mapped[int] = mapped_column(primary_key=True)
    owner_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(80))
    address: Mapped[str] = mapped_column(String(400))
    created_at: Mapped[datetime] = mapped_column(default=now)
