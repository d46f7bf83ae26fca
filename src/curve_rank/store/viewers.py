"""Who looks: every function of the store is told, and answers only what that viewer may see."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import ColumnElement, Row, bindparam, exists, or_, select
from sqlalchemy.orm import Session as DbSession

from curve_rank.practice.consent import statement
from curve_rank.store.tables import CoachClient, Consent, Person, PersonRole

ROLES = EDUCATOR, COACH, CLIENT = ("educator", "coach", "client")
TEACHING = (EDUCATOR, COACH)
"""Those who have clients, rooms for them, and what educators share."""
OWNER = "owner"
"""What the first educator is besides: whoever runs this installation."""


@dataclass(frozen=True)
class Viewer:
    """A person who is here, and in which roles.

    Attributes
    ----------
    person : int
        Row of the person.
    name : str
    roles : frozenset of str
        Of `ROLES`, and `OWNER`.
    agreed : bool
        Whether the present statement of consent and scope has been agreed to.
    """

    person: int
    name: str
    roles: frozenset[str]
    agreed: bool = False

    @property
    def may_begin(self) -> bool:
        """Whether nothing has to be agreed to first."""
        return self.agreed or CLIENT not in self.roles

    @property
    def teaches(self) -> bool:
        """Whether they have clients, in whichever role."""
        return not self.roles.isdisjoint(TEACHING)

    def may_see(self) -> ColumnElement[bool]:
        """Which people: oneself and own clients; an educator also those whose record is theirs."""
        seen: list[ColumnElement[bool]] = [Person.id == self.person]
        if EDUCATOR in self.roles:
            seen.append(Person.owner_id == self.person)
        if self.teaches:
            own = select(CoachClient.client_id).where(CoachClient.coach_id == self.person)
            seen.append(Person.id.in_(own))
        return or_(*seen)


_FIRST_EDUCATOR = (
    select(PersonRole.person_id)
    .where(PersonRole.role == EDUCATOR)
    .order_by(PersonRole.person_id)
    .limit(1)
    .scalar_subquery()
)
_AGREED = exists().where(
    Consent.owner_id == Person.id, Consent.digest == bindparam("digest"), Consent.agreed.is_(True)
)
_SOMEBODY = select(
    Person.id,
    Person.name,
    PersonRole.role,
    (Person.id == _FIRST_EDUCATOR).label("owner"),
    _AGREED.label("agreed"),
).outerjoin(PersonRole, PersonRole.person_id == Person.id)
_OF_PERSON = _SOMEBODY.where(Person.id == bindparam("person"))
_LOCAL = _SOMEBODY.where(Person.id == _FIRST_EDUCATOR)
"""Asked by every request, so put together once."""


def viewer_of(session: DbSession, person: int) -> Viewer | None:
    """The viewer that a person is, or None for nobody."""
    return _viewer(session.execute(_OF_PERSON, {"person": person, "digest": statement().digest}).all())


def local_educator(session: DbSession) -> Viewer | None:
    """The one who owns what is made on this machine: the first educator."""
    return _viewer(session.execute(_LOCAL, {"digest": statement().digest}).all())


def _viewer(rows: Sequence[Row[int, str, str, bool, bool]]) -> Viewer | None:
    """A person's rows, one a role."""
    if not rows:
        return None
    first = rows[0]
    roles = {row.role for row in rows if row.role} | ({OWNER} if first.owner else set())
    return Viewer(first.id, first.name, frozenset(roles), bool(first.agreed))
