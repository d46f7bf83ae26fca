"""What was done and measured: sets with earlier versions, events of sessions, tape, comments, trials."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from sqlalchemy import Double, ForeignKey, Index, LargeBinary, String, Text, UniqueConstraint, false
from sqlalchemy.orm import Mapped, mapped_column

from curve_rank.store.tables.base import Base, OwnerId, RowId, now

PersonId = Annotated[int, mapped_column(ForeignKey("people.id", ondelete="CASCADE"))]
MaybePlan = Annotated[int | None, mapped_column(ForeignKey("plans.id", ondelete="SET NULL"))]


class SetRow(Base):
    """One logged set as it stands; its key was made where it was written down."""

    __tablename__ = "logged_sets"
    __table_args__ = (
        UniqueConstraint("person_id", "key"),
        Index("ix_logged_sets_person_day", "person_id", "day"),
        Index("ix_logged_sets_person_variant_day", "person_id", "variant", "day"),
        Index("ix_logged_sets_plan_id", "plan_id"),
    )

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    person_id: Mapped[PersonId]
    key: Mapped[str] = mapped_column(String(64))
    day: Mapped[date]
    variant: Mapped[str] = mapped_column(String(60))
    side: Mapped[str] = mapped_column(String(5))
    number: Mapped[int]
    load_kg: Mapped[float] = mapped_column(Double)
    reps: Mapped[int]
    reserve: Mapped[int | None]
    kind: Mapped[str] = mapped_column(String(10))
    done: Mapped[str] = mapped_column(String(12), default="strictly")
    gave_out: Mapped[str] = mapped_column(String(12))
    soreness: Mapped[int]
    pain_joint: Mapped[str] = mapped_column(String(20))
    pain: Mapped[int]
    sharp: Mapped[bool]
    guessed: Mapped[bool]
    as_planned: Mapped[bool] = mapped_column(default=False)
    note: Mapped[str] = mapped_column(Text)
    plan_id: Mapped[MaybePlan]
    week: Mapped[int | None]
    session: Mapped[int | None]
    place: Mapped[int | None]
    instead_of: Mapped[str] = mapped_column(String(60))
    version: Mapped[int]
    device: Mapped[str] = mapped_column(String(40))
    written: Mapped[int]
    removed: Mapped[bool]


class SetVersion(Base):
    """What a set was before, or what another device made of it: `aside` waits for somebody to choose."""

    __tablename__ = "set_versions"
    __table_args__ = (UniqueConstraint("set_id", "number"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    set_id: Mapped[int] = mapped_column(ForeignKey("logged_sets.id", ondelete="CASCADE"), index=True)
    number: Mapped[int]
    content: Mapped[str] = mapped_column(Text)
    device: Mapped[str] = mapped_column(String(40))
    written: Mapped[int]
    aside: Mapped[bool]
    kept_at: Mapped[datetime] = mapped_column(default=now)


class SessionEvent(Base):
    """Something said of a session: skipped, moved, ended, a note."""

    __tablename__ = "session_events"
    __table_args__ = (UniqueConstraint("person_id", "key"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    person_id: Mapped[PersonId]
    key: Mapped[str] = mapped_column(String(64))
    plan_id: Mapped[int | None] = mapped_column(ForeignKey("plans.id", ondelete="SET NULL"), index=True)
    week: Mapped[int | None]
    session: Mapped[int | None]
    kind: Mapped[str] = mapped_column(String(8))
    day: Mapped[date]
    to_day: Mapped[date | None]
    text: Mapped[str] = mapped_column(Text)


class TrainingState(Base):
    """One person's log as a whole: how often it changed, and what was worked out from which state of it."""

    __tablename__ = "training_states"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    person_id: Mapped[int] = mapped_column(
        ForeignKey("people.id", ondelete="CASCADE"), index=True, unique=True
    )
    revision: Mapped[int]
    summary: Mapped[str | None] = mapped_column(Text)
    summary_key: Mapped[str] = mapped_column(String(80))
    learning: Mapped[bool]
    learned: Mapped[str | None] = mapped_column(Text)
    learned_key: Mapped[str] = mapped_column(String(80))
    confirmed: Mapped[float | None] = mapped_column(Double)


class ArmMeasureRow(Base):
    """One sitting with the tape."""

    __tablename__ = "arm_measures"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    plan_id: Mapped[MaybePlan]
    day: Mapped[date]
    content: Mapped[str] = mapped_column(Text)


class ProgressPicture(Base):
    """One's own photograph at the start or the end of a block: nobody else sees it."""

    __tablename__ = "progress_pictures"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    plan_id: Mapped[MaybePlan]
    day: Mapped[date]
    at: Mapped[str] = mapped_column(String(5))
    jpeg: Mapped[bytes] = mapped_column(LargeBinary)


class CommentRow(Base):
    """What coach and client write to each other; the owner wrote it."""

    __tablename__ = "comments"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    text: Mapped[str] = mapped_column(Text)
    written_at: Mapped[datetime] = mapped_column(default=now)


class SeenMark(Base):
    """What of a client the owner has seen already: marks, a line each."""

    __tablename__ = "seen_marks"
    __table_args__ = (UniqueConstraint("owner_id", "person_id"),)

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    marks: Mapped[str] = mapped_column(Text)
    at: Mapped[datetime] = mapped_column(default=now)


class TrialRow(Base):
    """Two blocks of one person, one after the other, to be compared; the coin said which came first."""

    __tablename__ = "trials"

    id: Mapped[RowId]
    owner_id: Mapped[OwnerId]
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(80))
    first_id: Mapped[int] = mapped_column(ForeignKey("plans.id", ondelete="CASCADE"))
    second_id: Mapped[int] = mapped_column(ForeignKey("plans.id", ondelete="CASCADE"))
    seed: Mapped[int]
    crossed: Mapped[bool] = mapped_column(default=False, server_default=false())
    created_at: Mapped[datetime] = mapped_column(default=now)
