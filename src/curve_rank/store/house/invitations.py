"""Invitations: links that let one person in, and the people who came by them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError, NotAllowedError, UnknownNameError
from curve_rank.store.house.accounts import (
    GONE,
    account_at,
    add_account,
    check_password,
    email_of,
    plain_email,
)
from curve_rank.store.house.tokens import hash_of, new_token
from curve_rank.store.names import plain_name
from curve_rank.store.people import add_client, add_roles
from curve_rank.store.rows import own_row
from curve_rank.store.tables import Invitation, Person, now
from curve_rank.store.viewers import CLIENT, EDUCATOR, ROLES, Viewer

VALID_FOR = timedelta(days=7)
MOST_OPEN = 200


@dataclass(frozen=True)
class InvitedPerson:
    """An invitation as it is listed."""

    id: int
    name: str
    email: str
    roles: tuple[str, ...]
    state: str
    expires_at: datetime


def invite(
    session: DbSession,
    viewer: Viewer,
    *,
    name: str,
    email: str,
    roles: tuple[str, ...],
    person: int | None = None,
) -> str:
    """A token that lets somebody in; only now is it known.

    Parameters
    ----------
    session : DbSession
        The open database.
    viewer : Viewer
        An educator may invite anyone; a coach own clients.
    name, email : str
        Of whoever is invited.
    roles : tuple of str
        What they may do.
    person : int, optional
        A client who is known already, and whom the viewer may see.

    Raises
    ------
    BadInputError, NotAllowedError, UnknownNameError
    """
    unknown = set(roles) - set(ROLES)
    if unknown or not roles:
        raise BadInputError(
            "roles", ", ".join(sorted(unknown)) or "none", "one or more of: " + ", ".join(ROLES)
        )
    if EDUCATOR not in viewer.roles and set(roles) != {CLIENT}:
        raise NotAllowedError("roles", ", ".join(roles), "client: a coach invites own clients")
    if person is not None:
        found = session.scalar(select(Person).where(viewer.may_see(), Person.id == person))
        if found is None:
            raise UnknownNameError("for", person, "someone who is known here")
        if email_of(session, person) is not None:
            raise BadInputError("for", found.name, "someone who has no account yet")
    mine = [one for one in invitations(session, viewer) if one.state == "open"]
    if len(mine) >= MOST_OPEN:
        raise BadInputError("invitations", len(mine), f"at most {MOST_OPEN} open ones; withdraw some first")
    token = new_token()
    session.add(
        Invitation(
            owner_id=viewer.person,
            token_hash=hash_of(token),
            name=plain_name(name),
            email=plain_email(email),
            roles=[role for role in ROLES if role in roles],
            person_id=person,
            expires_at=now() + VALID_FOR,
        )
    )
    session.flush()
    return token


def invitations(session: DbSession, viewer: Viewer) -> tuple[InvitedPerson, ...]:
    """Those the viewer made, newest first."""
    rows = session.scalars(
        select(Invitation).where(Invitation.owner_id == viewer.person).order_by(Invitation.id.desc())
    )
    return tuple(InvitedPerson(r.id, r.name, r.email, tuple(r.roles), _state(r), r.expires_at) for r in rows)


def withdraw(session: DbSession, viewer: Viewer, number: int) -> str:
    """Take an invitation back; whose it was.

    Raises
    ------
    UnknownNameError
    """
    found = own_row(session, viewer, Invitation, number, "invitation")
    found.withdrawn_at = found.withdrawn_at or now()
    return found.name


def invitation_of(session: DbSession, token: str) -> Invitation:
    """An invitation that can still be used.

    Raises
    ------
    UnknownNameError
        Where it cannot, whatever the reason.
    """
    found = session.scalar(select(Invitation).where(Invitation.token_hash == hash_of(token)))
    if found is None or _state(found) != "open":
        raise UnknownNameError("link", "this one", GONE)
    return found


def accept(session: DbSession, token: str, *, name: str, password: str) -> int:
    """Come in by an invitation; the person's number.

    Who has an account already gives its password, and has the new roles as well.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    found = invitation_of(session, token)
    there = account_at(session, found.email)
    if there is not None:
        person = check_password(session, found.email, password)
        if found.person_id is not None and found.person_id != person:
            right = "an address without an account: this record is another person's already"
            raise BadInputError("address", found.email, right)
    elif found.person_id is not None:
        person = found.person_id
        session.get_one(Person, person).name = plain_name(name)
        add_account(session, person, name=name, email=found.email, password=password)
    else:
        made = Person(name=plain_name(name))
        session.add(made)
        session.flush()
        person = made.id
        add_account(session, person, name=name, email=found.email, password=password)
    add_roles(session, person, tuple(found.roles))
    if "client" in found.roles:
        add_client(session, found.owner_id, person)
    found.used_at = now()
    session.flush()
    return person


def _state(row: Invitation) -> str:
    if row.withdrawn_at is not None:
        return "withdrawn"
    if row.used_at is not None:
        return "used"
    return "open" if row.expires_at > now() else "too old"
