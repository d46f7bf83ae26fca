"""The audit trail: which data of somebody's another has seen or changed, from which page, when."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session as DbSession
from sqlalchemy.orm import aliased

from curve_rank.store.tables import AuditEntry, Person, now
from curve_rank.store.viewers import OWNER, Viewer

SAW, CHANGED = "saw", "changed"
KEPT_FOR = timedelta(days=2 * 365)
LISTED = 200
_OTHERS = "others whose data was reached"


@dataclass(frozen=True)
class AuditLine:
    """One line of the trail."""

    at: datetime
    actor: str
    act: str
    person: str
    route: str
    request: str

    @property
    def page(self) -> str:
        """The page in words: what of its route stands in every address of it."""
        return " · ".join(part for part in self.route.split("/") if part and not part.startswith("<"))


def reached(session: DbSession, viewer: Viewer, person: int) -> None:
    """Remember, for as long as the session lasts, that somebody else's data was reached with it."""
    if person != viewer.person:
        session.info.setdefault(_OTHERS, set()).add(person)


def others_reached(session: DbSession) -> frozenset[int]:
    """Whose data was reached so far."""
    return frozenset(session.info.get(_OTHERS, ()))


def note(
    session: DbSession, viewer: Viewer, people: Collection[int], act: str, page: str, request: str
) -> None:
    """Write down what a viewer did, a line a person; those who are gone meanwhile have no line."""
    there = session.scalars(select(Person.id).where(Person.id.in_(people)))
    for person in there.all():
        session.add(AuditEntry(owner_id=person, actor=viewer.person, act=act, page=page, request=request))


def trail(session: DbSession, viewer: Viewer, person: int | None = None) -> tuple[AuditLine, ...]:
    """The newest lines: about the viewer, or, for whoever runs this, about everyone or one person."""
    actor, subject = aliased(Person), aliased(Person)
    wanted = (
        select(AuditEntry, actor.name, subject.name)
        .join(subject, subject.id == AuditEntry.owner_id)
        .outerjoin(actor, actor.id == AuditEntry.actor)
        .order_by(AuditEntry.id.desc())
        .limit(LISTED)
    )
    if OWNER not in viewer.roles or person is not None:
        wanted = wanted.where(
            AuditEntry.owner_id == (person if person and OWNER in viewer.roles else viewer.person)
        )
    return tuple(
        AuditLine(one.at, name or "somebody who has left", one.act, about, one.page, one.request)
        for one, name, about in session.execute(wanted)
    )


def seen_by(session: DbSession, viewer: Viewer) -> tuple[AuditLine, ...]:
    """Who has seen or changed the viewer's own data, newest first."""
    return trail(session, viewer, viewer.person)


def forget_old(session: DbSession) -> int:
    """Remove lines older than they are kept; how many."""
    old = AuditEntry.at < now() - KEPT_FOR
    if not session.scalar(select(func.count(AuditEntry.id)).where(old)):
        return 0
    return int(session.execute(delete(AuditEntry).where(old)).rowcount)  # type: ignore[attr-defined]
