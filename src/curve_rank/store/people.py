"""People with bodies, rooms, and saved questions."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.store.tables import Person, Room, SavedQuestion


def people_with_bodies(session: Session) -> list[Person]:
    """Everyone whose body is known, by name."""
    rows = session.scalars(select(Person).order_by(Person.name)).unique()
    return [person for person in rows if person.bodies]


def person(session: Session, person_id: int) -> Person:
    """A person with a body.

    Raises
    ------
    UnknownNameError
    """
    found = session.get(Person, person_id)
    if found is None or not found.bodies:
        raise UnknownNameError("for", person_id, "someone whose body is known here")
    return found


def rooms(session: Session) -> list[Room]:
    """All rooms, by name."""
    return list(session.scalars(select(Room).order_by(Room.name)))


def saved_questions(session: Session) -> list[SavedQuestion]:
    """All saved questions, newest first."""
    return list(session.scalars(select(SavedQuestion).order_by(SavedQuestion.id.desc())))


def save_question(session: Session, owner: Person, *, name: str, address: str) -> SavedQuestion:
    """Keep a question under a name.

    Raises
    ------
    BadInputError
    """
    name = " ".join(name.split())
    if not 1 <= len(name) <= 80:
        raise BadInputError("name", name, "1 to 80 characters")
    if len(address) > 400:
        raise BadInputError("question", address, "at most 400 characters")
    row = SavedQuestion(owner_id=owner.id, name=name, address=address)
    session.add(row)
    session.flush()
    return row


def remove_question(session: Session, question_id: int) -> SavedQuestion:
    """Forget a saved question; what it was, so that it can be kept again.

    Raises
    ------
    UnknownNameError
    """
    row = session.get(SavedQuestion, question_id)
    if row is None:
        raise UnknownNameError("question", question_id, "a question that is kept here")
    session.delete(row)
    return row
