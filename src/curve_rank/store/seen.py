"""What of a client a coach has seen already: it needs nobody until something new is there."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from curve_rank.store.people import known_person
from curve_rank.store.tables import SeenMark, now
from curve_rank.store.viewers import Viewer


def marks_of(session: DbSession, viewer: Viewer, people: Sequence[int]) -> dict[int, frozenset[str]]:
    """What the viewer has seen of each of some people."""
    rows = session.execute(
        select(SeenMark.person_id, SeenMark.marks).where(
            SeenMark.owner_id == viewer.person, SeenMark.person_id.in_(people)
        )
    )
    return {person: frozenset(marks.splitlines()) for person, marks in rows}


def see(session: DbSession, viewer: Viewer, person: int, marks: Iterable[str]) -> None:
    """The viewer has seen this, and what was seen before does not matter any more.

    Raises
    ------
    UnknownNameError
        Where the viewer may not see the person.
    """
    known_person(session, viewer, person)
    wanted = select(SeenMark).where(SeenMark.owner_id == viewer.person, SeenMark.person_id == person)
    row = session.scalars(wanted).one_or_none()
    if row is None:
        row = SeenMark(owner_id=viewer.person, person_id=person, marks="")
        session.add(row)
    row.marks, row.at = "\n".join(sorted(marks)), now()
    session.flush()
