"""Who looks: every function of the store is told, and answers only what that viewer may see."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import ColumnElement, or_, select
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


def viewer_of(session: Session, person: int) -> Viewer | None:
    """The viewer that a person is, or None for nobody."""
    found = session.get(Person, person)
    return None if found is None else Viewer(found.id, found.name, frozenset(r.role for r in found.roles))


def local_educator(session: Session) -> Viewer | None:
    """The one who owns what is made on this machine: the first educator."""
    first = session.scalar(
        select(PersonRole.person_id).where(PersonRole.role == "educator").order_by(PersonRole.person_id)
    )
    return None if first is None else viewer_of(session, first)
