"""Ending things: coach and client part, a role is taken away, an account is locked, an address changes.

Each is written into the audit trail in the same transaction, whoever does it and from wherever.
"""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import delete, or_, select, update
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError, NotAllowedError, UnknownNameError
from curve_rank.store.house.accounts import account_at, end_others, plain_email
from curve_rank.store.house.audit import CHANGED, note
from curve_rank.store.tables import Account, CoachClient, Invitation, Person, PersonRole, Reset, now
from curve_rank.store.viewers import EDUCATOR, OWNER, ROLES, TEACHING, Viewer, viewer_of


@dataclass(frozen=True)
class Tie:
    """A coach and a client of theirs."""

    coach: int
    coach_name: str
    client: int
    client_name: str


def coaches_of(session: DbSession, viewer: Viewer) -> tuple[Tie, ...]:
    """Those who look after the viewer, and the educator whose record they are."""
    coaches = select(CoachClient.coach_id).where(CoachClient.client_id == viewer.person)
    record = select(Person.owner_id).where(Person.id == viewer.person, Person.owner_id.is_not(None))
    rows = session.execute(
        select(Person.id, Person.name)
        .where(or_(Person.id.in_(coaches), Person.id.in_(record)), Person.id != viewer.person)
        .order_by(Person.name)
    )
    return tuple(Tie(coach, name, viewer.person, viewer.name) for coach, name in rows)


def part(session: DbSession, viewer: Viewer, coach: int, client: int, *, request: str = "") -> Tie:
    """Let coach and client go separate ways; either may, and whoever runs this.

    What was handed over stays the client's; the coach sees nothing of them any more.

    Raises
    ------
    UnknownNameError
        Where they do not belong together, or it is no business of the viewer's: both say the same.
    """
    tie = (CoachClient.coach_id == coach, CoachClient.client_id == client)
    theirs = session.scalar(select(CoachClient.id).where(*tie)) is not None
    record = session.scalar(select(Person.owner_id).where(Person.id == client)) == coach
    mine = viewer.person in (coach, client) or OWNER in viewer.roles
    if not (theirs or record) or not mine or coach == client:
        raise UnknownNameError("client", client, "someone whom this coach looks after")
    session.execute(delete(CoachClient).where(*tie))
    # The record is nobody's any more but its own; an educator sees those that are theirs.
    session.execute(update(Person).where(Person.id == client, Person.owner_id == coach).values(owner_id=None))
    for person in {coach, client}:
        note(session, viewer, (person,), CHANGED, "coach and client part", request)
    names = dict(session.execute(select(Person.id, Person.name).where(Person.id.in_((coach, client)))).all())
    return Tie(coach, names[coach], client, names[client])


def take_role(session: DbSession, viewer: Viewer, person: int, role: str, *, request: str = "") -> str:
    """Take a role away from somebody, with the ties that came of it; their name.

    Raises
    ------
    NotAllowedError, UnknownNameError, BadInputError
    """
    whose = _somebody(session, viewer, person)
    if role not in whose.roles or role not in ROLES:
        raise BadInputError("role", role, f"one that {whose.name} has: {', '.join(_plain(whose))}")
    if role == EDUCATOR and OWNER in whose.roles:
        raise NotAllowedError("role", role, "another's: whoever runs this stays its first educator")
    if len(_plain(whose)) == 1:
        right = "one of several; who has no other is locked instead, or deleted"
        raise BadInputError("role", role, right)
    session.execute(delete(PersonRole).where(PersonRole.person_id == person, PersonRole.role == role))
    ties = []
    if not set(TEACHING) & (whose.roles - {role}):
        ties.append(CoachClient.coach_id == person)
    if role == "client":
        ties.append(CoachClient.client_id == person)
    if ties:
        session.execute(delete(CoachClient).where(or_(*ties)))
    note(session, viewer, (person,), CHANGED, f"role {role} taken away", request)
    return whose.name


def set_locked(session: DbSession, viewer: Viewer, person: int, *, locked: bool, request: str = "") -> str:
    """Keep somebody out, with their calendars, or let them back in; their name.

    Raises
    ------
    NotAllowedError, UnknownNameError
    """
    whose = _somebody(session, viewer, person)
    if OWNER in whose.roles:
        raise NotAllowedError("account", whose.name, "another's: who runs this cannot be kept out")
    account = _account(session, person)
    account.locked_at = (account.locked_at or now()) if locked else None
    if locked:
        end_others(session, person)
        _close_resets(session, person)
    note(session, viewer, (person,), CHANGED, "account locked" if locked else "account let back", request)
    return whose.name


def change_email(session: DbSession, viewer: Viewer, person: int, email: str, *, request: str = "") -> str:
    """Another address, one's own or, for whoever runs this, anybody's; what it was before.

    Links that went to the old address open nothing any more.

    Raises
    ------
    BadInputError, NotAllowedError, UnknownNameError
    """
    if person != viewer.person:
        _somebody(session, viewer, person)
    account, new = _account(session, person), plain_email(email)
    before = account.email
    if new == before:
        return before
    if account_at(session, new) is not None:
        raise BadInputError("address", email, "one that nobody here signs in with")
    account.email = new
    _close_resets(session, person)
    waiting = (Invitation.email == before, Invitation.used_at.is_(None), Invitation.withdrawn_at.is_(None))
    session.execute(update(Invitation).where(*waiting).values(withdrawn_at=now()))
    note(session, viewer, (person,), CHANGED, "address changed", request)
    session.flush()
    return before


def _somebody(session: DbSession, viewer: Viewer, person: int) -> Viewer:
    """Anybody, for whoever runs this."""
    if OWNER not in viewer.roles:
        raise NotAllowedError("administration", viewer.name, "whoever runs this installation")
    found = viewer_of(session, person)
    if found is None:
        raise UnknownNameError("person", person, "one that is listed")
    return found


def _account(session: DbSession, person: int) -> Account:
    found = session.scalar(select(Account).where(Account.person_id == person))
    if found is None:
        raise UnknownNameError("person", person, "one who has an account")
    return found


def _close_resets(session: DbSession, person: int) -> None:
    session.execute(delete(Reset).where(Reset.owner_id == person))


def _plain(viewer: Viewer) -> list[str]:
    return sorted(viewer.roles & set(ROLES))
