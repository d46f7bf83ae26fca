"""Rooms: gyms, and what clients have at home."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import ColumnElement, or_, select
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import UnknownNameError
from curve_rank.practice import rooms as practice
from curve_rank.store.database import UNIT
from curve_rank.store.people import known_person
from curve_rank.store.tables import Person, PersonRole, Room
from curve_rank.store.viewers import EDUCATOR, Viewer
from curve_rank.validation import validated


@dataclass(frozen=True)
class KeptRoom:
    """A room as it is kept.

    Attributes
    ----------
    id : int
    person : int or None
        Whose it is, where it is one client's own.
    room : practice.rooms.Room
    mine : bool
        Whether the viewer may change it.
    """

    id: int
    person: int | None
    room: practice.Room
    mine: bool

    @property
    def name(self) -> str:
        """What it is called."""
        return self.room.name

    @property
    def equipment(self) -> list[str]:
        """Kinds of what stands in it."""
        return list(self.room.equipment)


def rooms(session: DbSession, viewer: Viewer) -> list[KeptRoom]:
    """Rooms that the viewer may use: own ones, gyms of educators, clients' own; by name."""
    return [
        _kept(row, viewer) for row in session.scalars(select(Room).where(_seen(viewer)).order_by(Room.name))
    ]


def room(session: DbSession, viewer: Viewer, number: int) -> KeptRoom:
    """One of them.

    Raises
    ------
    UnknownNameError
    """
    return _kept(_row(session, viewer, number), viewer)


def any_room(session: DbSession, number: int | None) -> practice.Room:
    """A room that somebody's profile names; the usual one where it names none, or one that is gone.

    Whoever may see the profile may know the room it names.
    """
    row = None if number is None else session.get(Room, number)
    return practice.usual_room(session.info[UNIT]) if row is None else _content(row)


def save_room(
    session: DbSession,
    viewer: Viewer,
    content: practice.Room,
    number: int | None = None,
    person: int | None = None,
) -> int:
    """Keep a room, a new one where no number is given.

    Raises
    ------
    UnknownNameError
    """
    if person is not None:
        known_person(session, viewer, person)
    if number is None:
        row = Room(owner_id=viewer.person, person_id=person, name="", equipment=[])
        session.add(row)
    else:
        row = _own_row(session, viewer, number)
    row.name, row.equipment = content.name, list(content.equipment)
    row.steps = content.model_dump_json()
    session.flush()
    return row.id


def remove_room(session: DbSession, viewer: Viewer, number: int) -> str:
    """Forget a room; its name.

    Raises
    ------
    UnknownNameError
    """
    row = _own_row(session, viewer, number)
    session.delete(row)
    return row.name


def checked(data: object) -> practice.Room:
    """A room from plain data.

    Raises
    ------
    BadInputError
    """
    return validated(practice.Room, data, "room")


def _seen(viewer: Viewer) -> ColumnElement[bool]:
    people = select(Person.id).where(viewer.may_see())
    teachers = select(PersonRole.person_id).where(PersonRole.role == EDUCATOR)
    own = or_(Room.owner_id == viewer.person, Room.person_id.in_(people))
    if viewer.teaches:
        return or_(own, Room.person_id.is_(None) & Room.owner_id.in_(teachers))
    return own


def _row(session: DbSession, viewer: Viewer, number: int) -> Room:
    found = session.scalar(select(Room).where(_seen(viewer), Room.id == number))
    if found is None:
        raise UnknownNameError("room", number, "one that you may use")
    return found


def _own_row(session: DbSession, viewer: Viewer, number: int) -> Room:
    """One that the viewer may change."""
    found = _row(session, viewer, number)
    if not _is_mine(found, viewer):
        raise UnknownNameError("room", number, "a room of your own")
    return found


def _is_mine(row: Room, viewer: Viewer) -> bool:
    return row.owner_id == viewer.person or row.person_id is not None


def _kept(row: Room, viewer: Viewer) -> KeptRoom:
    return KeptRoom(row.id, row.person_id, _content(row), _is_mine(row, viewer))


def _content(row: Room) -> practice.Room:
    """What stands in a room; one from before there were steps has the usual ones."""
    if row.steps:
        return practice.Room.model_validate_json(row.steps)
    return checked({"name": row.name, "equipment": row.equipment})
