"""Who looks: every function of the store is told, and answers only what that viewer may see."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import ColumnElement, Row, bindparam, or_, select
from sqlalchemy.orm import Session

from curve_rank.store.tables import CoachClient, Person, PersonRole

ROLES = ("educator", "coach", "client")


@dataclass(frozen=True)
class Viewer:
    """A person who is here, and in which roles.

    Attributes
    ----------
    person : int
        Row of the person.
    name : str
    roles : frozenset of str
        Of `ROLES`.
    """

    person: int
    name: str
    roles: frozenset[str]

    def may_see(self) -> ColumnElement[bool]:
        """Which people: oneself; an educator also those whose record is theirs; a coach own clients."""
        seen: list[ColumnElement[bool]] = [Person.id == self.person]
        if "educator" in self.roles:
            seen.append(Person.owner_id == self.person)
        if "coach" in self.roles:
            own = select(CoachClient.client_id).where(CoachClient.coach_id == self.person)
            seen.append(Person.id.in_(own))
        return or_(*seen)


_OF_PERSON = (
    select(Person.id, Person.name, PersonRole.role)
    .outerjoin(PersonRole, PersonRole.person_id == Person.id)
    .where(Person.id == bindparam("person"))
)
_LOCAL = (
    select(Person.id, Person.name, PersonRole.role)
    .join(PersonRole, PersonRole.person_id == Person.id)
    .where(
        Person.id
        == select(PersonRole.person_id)
        .where(PersonRole.role == "educator")
        .order_by(PersonRole.person_id)
        .limit(1)
        .scalar_subquery()
    )
)
"""Asked by every request, so put together once."""


def viewer_of(session: Session, person: int) -> Viewer | None:
    """The viewer that a person is, or None for nobody."""
    return _viewer(session.execute(_OF_PERSON, {"person": person}).all())


def local_educator(session: Session) -> Viewer | None:
    """The one who owns what is made on this machine: the first educator."""
    return _viewer(session.execute(_LOCAL).all())


def _viewer(rows: Sequence[Row[int, str, str]]) -> Viewer | None:
    """A person's rows, one a role."""
    if not rows:
        return None
    return Viewer(rows[0].id, rows[0].name, frozenset(row.role for row in rows if row.role))
