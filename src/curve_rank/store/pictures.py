"""Pictures of a person, with their marks; they go with everything made from them."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError
from curve_rank.measure.marks import Marks, validate_marks
from curve_rank.store.names import plain_name
from curve_rank.store.rows import own_row
from curve_rank.store.tables import Document, PictureRow, PictureSet
from curve_rank.store.viewers import Viewer

MOST = 60
"""Sets of pictures of one person."""


@dataclass(frozen=True)
class KeptPicture:
    """A picture without its bytes."""

    id: int
    width: int
    height: int


@dataclass(frozen=True)
class RepPictures:
    """Pictures of one rep and their marks."""

    number: int
    name: str
    created_at: datetime
    pictures: tuple[KeptPicture, ...]
    marks: Marks

    @property
    def source(self) -> str:
        """What documents made from it say they were made from."""
        return source_of(self.number)


def source_of(number: int) -> str:
    """What documents made from a set say they were made from."""
    return f"pictures-{number}"


def keep(
    session: DbSession, viewer: Viewer, *, name: str, pictures: Sequence[tuple[bytes, int, int]], marks: Marks
) -> int:
    """Keep pictures (JPEG, width, height) as a set; its number.

    Raises
    ------
    BadInputError
    """
    count = session.scalar(select(func.count(PictureSet.id)).where(PictureSet.owner_id == viewer.person))
    if (count or 0) >= MOST:
        raise BadInputError("pictures", f"{count} sets kept", f"at most {MOST}; delete some first")
    row = PictureSet(owner_id=viewer.person, name=plain_name(name), marks=marks.model_dump_json())
    session.add(row)
    session.flush()
    for jpeg, width, height in pictures:
        session.add(
            PictureRow(owner_id=viewer.person, picture_set_id=row.id, width=width, height=height, jpeg=jpeg)
        )
        session.flush()
    return row.id


def listed(session: DbSession, viewer: Viewer) -> tuple[tuple[int, str, datetime], ...]:
    """The viewer's sets: number, name and date, newest first."""
    rows = session.execute(
        select(PictureSet.id, PictureSet.name, PictureSet.created_at)
        .where(PictureSet.owner_id == viewer.person)
        .order_by(PictureSet.id.desc())
    )
    return tuple((row[0], row[1], row[2]) for row in rows)


def one(session: DbSession, viewer: Viewer, number: int) -> RepPictures:
    """A set of the viewer's.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    row = own_row(session, viewer, PictureSet, number, "pictures", "a set of your own")
    found = session.execute(
        select(PictureRow.id, PictureRow.width, PictureRow.height)
        .where(PictureRow.picture_set_id == number)
        .order_by(PictureRow.id)
    )
    pictures = tuple(KeptPicture(*one) for one in found)
    return RepPictures(number, row.name, row.created_at, pictures, validate_marks(json.loads(row.marks)))


def jpeg(session: DbSession, viewer: Viewer, picture: int) -> bytes:
    """A picture's bytes.

    Raises
    ------
    UnknownNameError
    """
    return own_row(session, viewer, PictureRow, picture, "photograph").jpeg


def save_marks(session: DbSession, viewer: Viewer, number: int, marks: Marks) -> None:
    """Keep the marks.

    Raises
    ------
    UnknownNameError
    """
    own_row(
        session, viewer, PictureSet, number, "pictures", "a set of your own"
    ).marks = marks.model_dump_json()


def made_from(session: DbSession, viewer: Viewer, number: int) -> tuple[tuple[str, str], ...]:
    """Slugs and names of the viewer's variants that were made from a set."""
    rows = session.execute(
        select(Document.slug, Document.name)
        .where(Document.owner_id == viewer.person, Document.made_from == source_of(number))
        .order_by(Document.id)
    )
    return tuple((row[0], row[1]) for row in rows)


def remove(session: DbSession, viewer: Viewer, number: int, *, with_documents: bool) -> str:
    """Delete a set with its pictures, and with everything made from it where that is wanted; its name.

    Raises
    ------
    UnknownNameError
    """
    row = own_row(session, viewer, PictureSet, number, "pictures", "a set of your own")
    name = row.name
    if with_documents:
        session.execute(
            delete(Document).where(
                Document.owner_id == viewer.person, Document.made_from == source_of(number)
            )
        )
    session.execute(delete(PictureSet).where(PictureSet.id == number))
    return name
