"""What all tables share."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from sqlalchemy import ForeignKey, MetaData
from sqlalchemy.orm import DeclarativeBase, mapped_column

NAMING = {
    "ix": "ix_%(column_0_label)s",
    "uq": "uq_%(table_name)s_%(column_0_name)s",
    "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
    "pk": "pk_%(table_name)s",
}

RowId = Annotated[int, mapped_column(primary_key=True)]
OwnerId = Annotated[int, mapped_column(ForeignKey("people.id", ondelete="CASCADE"), index=True)]


def now() -> datetime:
    """The present moment, UTC, without a zone as SQLite keeps it."""
    return datetime.now(UTC).replace(tzinfo=None, microsecond=0)


class Base(DeclarativeBase):
    """Base of all tables."""

    metadata = MetaData(naming_convention=NAMING)
