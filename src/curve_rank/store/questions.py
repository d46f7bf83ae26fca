"""Questions kept under a name."""

from __future__ import annotations

from sqlalchemy import Select, select
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.store.names import plain_name
from curve_rank.store.tables import SavedQuestion
from curve_rank.store.viewers import Viewer

LONGEST_ADDRESS = 400


def saved_questions(session: DbSession, viewer: Viewer) -> list[SavedQuestion]:
    """The viewer's questions, newest first."""
    return list(session.scalars(_own(viewer).order_by(SavedQuestion.id.desc())))


def save_question(session: DbSession, viewer: Viewer, *, name: str, address: str) -> SavedQuestion:
    """Keep a question under a name.

    Raises
    ------
    BadInputError
    """
    name = plain_name(name)
    if len(address) > LONGEST_ADDRESS:
        raise BadInputError("question", address, f"at most {LONGEST_ADDRESS} characters")
    row = SavedQuestion(owner_id=viewer.person, name=name, address=address)
    session.add(row)
    session.flush()
    return row


def remove_question(session: DbSession, viewer: Viewer, question_id: int) -> SavedQuestion:
    """Forget a question of the viewer's; what it was, so that it can be kept again.

    Raises
    ------
    UnknownNameError
    """
    row = session.scalar(_own(viewer).where(SavedQuestion.id == question_id))
    if row is None:
        raise UnknownNameError("question", question_id, "a question that is kept here")
    session.delete(row)
    return row


def _own(viewer: Viewer) -> Select[SavedQuestion]:
    return select(SavedQuestion).where(SavedQuestion.owner_id == viewer.person)
