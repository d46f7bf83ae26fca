"""Taking one's data along, and leaving: everything of a person's, and its end after a time of grace."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, datetime, timedelta
from typing import Any

from sqlalchemy import Table, delete, false, func, or_, select, update
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import NotAllowedError
from curve_rank.store.tables import (
    Account,
    Base,
    CoachClient,
    CommentRow,
    Invitation,
    Person,
    Plan,
    PlanClient,
    PlanState,
    SetRow,
    now,
)
from curve_rank.store.viewers import OWNER, Viewer, local_educator

GRACE = timedelta(days=14)
SECRET = ("password_hash", "token_hash", "token")
"""Columns that nobody takes along: they open something."""
ABOUT = ("owner_id", "person_id", "client_id", "coach_id")
"""Columns that say whose a row is, or whom it is about."""


def all_of(
    session: DbSession, viewer: Viewer
) -> Iterator[tuple[str, list[dict[str, Any]], list[tuple[str, bytes]]]]:
    """Per table that holds something of the viewer's: its name, its rows, and the files in them."""
    for table in Base.metadata.sorted_tables:
        if table.name != Person.__tablename__ and not set(ABOUT) & set(table.c.keys()):
            continue  # nobody's rows
        columns = [column for column in table.columns if column.name not in SECRET]
        wanted = or_(_of(table, viewer.person), _done(table, viewer.person))
        found = session.execute(select(*columns).where(wanted).order_by(table.c.id))
        rows, files = [], []
        for row in found.mappings():
            for name, value in row.items():
                if isinstance(value, bytes):
                    files.append((f"{table.name}/{row['id']}-{name}", value))
            rows.append({name: _plain(value) for name, value in row.items()})
        if rows:
            yield table.name, rows, files


def leave(session: DbSession, viewer: Viewer) -> datetime:
    """Ask to be deleted; when it will be done.

    Raises
    ------
    NotAllowedError
        For whoever runs this installation.
    """
    if OWNER in viewer.roles:
        raise NotAllowedError(
            "leaving", viewer.name, "someone else: who runs this removes its folder instead"
        )
    person = session.get_one(Person, viewer.person)
    person.leaving_at = person.leaving_at or now() + GRACE
    return person.leaving_at


def stay(session: DbSession, viewer: Viewer) -> None:
    """Take it back."""
    session.get_one(Person, viewer.person).leaving_at = None


def leaving_at(session: DbSession, viewer: Viewer) -> datetime | None:
    """When the viewer will be deleted, None for one who stays."""
    return session.scalar(select(Person.leaving_at).where(Person.id == viewer.person))


def emails_due(session: DbSession) -> tuple[str, ...]:
    """Addresses of everyone whose time of grace is over, and those that they were invited under."""
    due = select(Person.id).where(Person.leaving_at <= now())
    accounts = session.scalars(select(Account.email).where(Account.person_id.in_(due)))
    invited = session.scalars(select(Invitation.email).where(Invitation.person_id.in_(due)))
    return tuple(dict.fromkeys((*accounts, *invited)))


def remove_due(session: DbSession) -> int:
    """Delete everyone whose time of grace is over; how many."""
    due = list(session.scalars(select(Person.id).where(Person.leaving_at <= now())))
    if due:
        named = func.lower(Invitation.email).in_(emails_due(session))
        session.execute(delete(Invitation).where(or_(named, Invitation.person_id.in_(due))))
    for person in due:
        _remove(session, person)
    return len(due)


def _remove(session: DbSession, person: int) -> None:
    """Delete a person with everything of theirs; records about others pass to those, or to who runs this."""
    session.flush()
    runs = local_educator(session)
    heir = runs.person if runs else None
    for table in Base.metadata.sorted_tables:
        if "owner_id" not in table.c or table.name == Person.__tablename__:
            continue
        for about in ("person_id", "client_id"):
            # What somebody wrote goes with them: it would stand under another's name.
            passes = table.name not in (CoachClient.__tablename__, CommentRow.__tablename__)
            if about in table.c and passes:
                others = (table.c.owner_id == person, table.c[about].is_not(None), table.c[about] != person)
                session.execute(update(table).where(*others).values(owner_id=table.c[about]))
    kept = select(PlanClient.plan_id).where(PlanClient.client_id != person)
    session.execute(update(Plan).where(Plan.owner_id == person, Plan.id.in_(kept)).values(owner_id=heir))
    states = (PlanState.owner_id == person, PlanState.plan_id.in_(kept))
    session.execute(update(PlanState).where(*states).values(owner_id=heir))
    others_links = (CoachClient.owner_id == person, CoachClient.coach_id != person)
    session.execute(update(CoachClient).where(*others_links).values(owner_id=CoachClient.coach_id))
    session.execute(update(Person).where(Person.owner_id == person).values(owner_id=heir))
    session.execute(delete(Person).where(Person.id == person))
    session.expire_all()


def _of(table: Table, person: int) -> Any:
    if table.name == Person.__tablename__:
        return table.c.id == person
    return or_(*(table.c[name] == person for name in ABOUT if name in table.c))


def _done(table: Table, person: int) -> Any:
    """Blocks of others' that a person does or has logged sets of, as they stand."""
    handed = select(PlanClient.plan_id).where(PlanClient.client_id == person)
    logged = select(SetRow.plan_id).where(SetRow.person_id == person, SetRow.plan_id.is_not(None))
    if table.name == Plan.__tablename__:
        return or_(table.c.id.in_(handed), table.c.id.in_(logged))
    if table.name == PlanState.__tablename__:
        stands = select(PlanState.id).join(
            Plan, (Plan.id == PlanState.plan_id) & (Plan.at == PlanState.number)
        )
        mine = or_(PlanState.plan_id.in_(handed), PlanState.plan_id.in_(logged))
        return table.c.id.in_(stands.where(mine))
    return false()


def _plain(value: Any) -> Any:
    if isinstance(value, bytes):
        return f"{len(value)} bytes, in a file of its own"
    return value.isoformat() if isinstance(value, date) else value
