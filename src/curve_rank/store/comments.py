"""What coach and client write to each other."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError
from curve_rank.store.people import known_person
from curve_rank.store.tables import CommentRow, Person
from curve_rank.store.viewers import Viewer
from curve_rank.validation import seen

LONGEST, MOST_SHOWN = 2000, 100


@dataclass(frozen=True)
class Comment:
    """One of them."""

    author: int
    name: str
    text: str
    written_at: datetime


def comments(session: DbSession, viewer: Viewer, person: int) -> tuple[Comment, ...]:
    """What was written about somebody's training, oldest first.

    Raises
    ------
    UnknownNameError
    """
    known_person(session, viewer, person)
    rows = session.execute(
        select(CommentRow.owner_id, Person.name, CommentRow.text, CommentRow.written_at)
        .join(Person, Person.id == CommentRow.owner_id)
        .where(CommentRow.person_id == person)
        .order_by(CommentRow.id.desc())
        .limit(MOST_SHOWN)
    ).all()
    return tuple(Comment(*row) for row in reversed(rows))


def add_comment(session: DbSession, viewer: Viewer, person: int, text: str) -> None:
    """Write something.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    known_person(session, viewer, person)
    plain = text.replace("\r\n", "\n").strip()
    if not 1 <= len(plain) <= LONGEST:
        raise BadInputError("text", plain[:40], f"1 to {LONGEST} characters")
    try:
        seen(plain)
    except ValueError as error:
        raise BadInputError("text", plain[:40], str(error)) from error
    session.add(CommentRow(owner_id=viewer.person, person_id=person, text=plain))
    session.flush()


def unanswered(session: DbSession, people: Sequence[int]) -> dict[int, datetime]:
    """Of some people, who wrote last themselves, and when: nobody has answered yet."""
    newest = (
        select(func.max(CommentRow.id).label("id"))
        .where(CommentRow.person_id.in_(people))
        .group_by(CommentRow.person_id)
        .subquery()
    )
    rows = session.execute(
        select(CommentRow.person_id, CommentRow.written_at)
        .join(newest, newest.c.id == CommentRow.id)
        .where(CommentRow.owner_id == CommentRow.person_id)
    )
    return {row[0]: row[1] for row in rows}
