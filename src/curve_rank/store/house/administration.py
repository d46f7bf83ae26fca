"""What whoever runs this may see of all: people, invitations, where everybody is signed in."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import NotAllowedError, UnknownNameError
from curve_rank.store.house.accounts import browser_named, email_of, goes_on
from curve_rank.store.house.audit import reached
from curve_rank.store.tables import Account, Person, PersonRole, SignIn
from curve_rank.store.viewers import OWNER, Viewer, viewer_of


@dataclass(frozen=True)
class PersonLine:
    """A person as whoever runs this sees them: no more than is needed to run it."""

    id: int
    name: str
    roles: tuple[str, ...]
    email: str | None
    since: datetime
    last_seen: datetime | None
    leaving_at: datetime | None
    locked_at: datetime | None


@dataclass(frozen=True)
class SignInLine:
    """A browser that somebody is signed in with."""

    id: int
    person: str
    browser: str
    since: datetime
    last_seen: datetime


def check_owner(viewer: Viewer) -> None:
    """Only whoever runs this goes on.

    Raises
    ------
    NotAllowedError
    """
    if OWNER not in viewer.roles:
        raise NotAllowedError("administration", viewer.name, "whoever runs this installation")


def everybody(session: DbSession, viewer: Viewer) -> tuple[PersonLine, ...]:
    """Everyone there is, by number.

    Raises
    ------
    NotAllowedError
    """
    check_owner(viewer)
    last = dict(
        session.execute(select(SignIn.owner_id, func.max(SignIn.seen_at)).group_by(SignIn.owner_id)).all()
    )
    roles: dict[int, list[str]] = {}
    for person, role in session.execute(
        select(PersonRole.person_id, PersonRole.role).order_by(PersonRole.id)
    ):
        roles.setdefault(person, []).append(role)
    rows = session.execute(
        select(Person, Account.email, Account.locked_at)
        .outerjoin(Account, Account.person_id == Person.id)
        .order_by(Person.id)
    )
    return tuple(
        PersonLine(
            p.id,
            p.name,
            tuple(roles.get(p.id, ())),
            email,
            p.created_at,
            last.get(p.id),
            p.leaving_at,
            locked,
        )
        for p, email, locked in rows
    )


def all_sign_ins(session: DbSession, viewer: Viewer) -> tuple[SignInLine, ...]:
    """Every browser that anybody is signed in with, the last used first.

    Raises
    ------
    NotAllowedError
    """
    check_owner(viewer)
    rows = session.execute(
        select(SignIn, Person.name)
        .join(Person, Person.id == SignIn.owner_id)
        .where(goes_on())
        .order_by(SignIn.seen_at.desc(), SignIn.id.desc())
    )
    return tuple(
        SignInLine(one.id, name, browser_named(one.agent), one.created_at, one.seen_at) for one, name in rows
    )


def end_sign_in(session: DbSession, viewer: Viewer, number: int) -> str:
    """Sign anybody out of one browser; whose it was.

    Raises
    ------
    NotAllowedError, UnknownNameError
    """
    check_owner(viewer)
    row = session.get(SignIn, number)
    if row is None:
        raise UnknownNameError("sign-in", number, "one that is listed; it may have ended meanwhile")
    name = session.get_one(Person, row.owner_id).name
    session.execute(delete(SignIn).where(SignIn.id == number))
    return name


def without_account(session: DbSession, viewer: Viewer, person: int) -> Viewer:
    """A person who cannot take their data along themselves: what others keep is theirs to look at.

    Raises
    ------
    NotAllowedError, UnknownNameError
    """
    found = somebody(session, viewer, person)
    if email_of(session, person) is not None:
        right = "taken along by themselves, under Account; here it is for those without an account"
        raise NotAllowedError("data of", found.name, right)
    return found


def somebody(session: DbSession, viewer: Viewer, person: int) -> Viewer:
    """A person as they would look themselves: for what is done for somebody without an account.

    Raises
    ------
    NotAllowedError, UnknownNameError
    """
    check_owner(viewer)
    found = viewer_of(session, person)
    if found is None:
        raise UnknownNameError("person", person, "one that is listed")
    reached(session, viewer, person)
    return found
