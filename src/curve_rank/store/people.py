"""People with bodies, rooms, and saved questions."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from curve_rank.arm.body import Body
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.rating.transfer import KnownSet
from curve_rank.store.tables import BodyRow, Person, Room, SavedQuestion


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


def body_of(person: Person) -> Body:
    """A person's newest body."""
    row = person.bodies[-1]
    return Body(
        height=row.height_m,
        mass=row.mass_kg,
        strength=row.strength,
        upper_arm_m=row.upper_arm_m,
        forearm_m=row.forearm_m,
    )


def save_body(session: Session, owner: Person, person: Person, body: Body, known: KnownSet | None) -> None:
    """Keep a new state of a person's body; sore joints carry over.

    Parameters
    ----------
    body : Body
        With the strength that the known set, if any, explains.
    known : KnownSet, optional
    """
    person.bodies.append(
        BodyRow(
            owner_id=owner.id,
            height_m=body.height,
            mass_kg=body.mass,
            strength=body.strength,
            upper_arm_m=body.upper_arm_m,
            forearm_m=body.forearm_m,
            known_variant=known.variant.id if known else None,
            known_load_kg=known.load if known else None,
            known_reps=known.reps if known else None,
            sore_joints=list(person.bodies[-1].sore_joints) if person.bodies else [],
        )
    )
    session.flush()


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
