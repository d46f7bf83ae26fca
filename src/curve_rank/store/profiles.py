"""Clients' profiles: read with what they mean, kept only by who saw the newest state."""

from __future__ import annotations

import json
from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError, ChangedMeanwhileError
from curve_rank.practice.profile import ClientProfile, usual_profile
from curve_rank.store.database import UNIT
from curve_rank.store.people import known_person, note_new_size, set_spare
from curve_rank.store.tables import ClientProfileRow, Person, now
from curve_rank.store.viewers import Viewer
from curve_rank.validation import validated


def profile_of(session: DbSession, viewer: Viewer, person: int) -> tuple[ClientProfile, int]:
    """Somebody's profile and its version; the usual one, version 0, where none was kept.

    Raises
    ------
    UnknownNameError
    """
    found = known_person(session, viewer, person)
    row = session.scalar(select(ClientProfileRow).where(ClientProfileRow.person_id == person))
    if row is None:
        return _usual(session, found), 0
    return checked(json.loads(row.content)), row.version


def unit_of(session: DbSession, person: int) -> str:
    """In which somebody reads masses, "kg" or "lb": as they have chosen, else as is usual here."""
    return units_of(session, person)[0]


def units_of(session: DbSession, person: int) -> tuple[str, str]:
    """In which somebody reads masses, and what a tape measures ("cm" or "in"), in one query."""
    kept = session.scalar(select(ClientProfileRow.content).where(ClientProfileRow.person_id == person))
    usual = ClientProfile() if kept else usual_profile(session.info[UNIT])
    chosen = json.loads(kept or "{}")
    mass, length = (str(chosen.get(name, getattr(usual, name))) for name in ("mass_unit", "length_unit"))
    return mass, length


def profiles_of(session: DbSession, people: Sequence[Person]) -> dict[int, ClientProfile]:
    """The profiles of people whom the viewer has been shown, in one query."""
    numbers = [person.id for person in people]
    rows = session.scalars(select(ClientProfileRow).where(ClientProfileRow.person_id.in_(numbers)))
    kept = {row.person_id: checked(json.loads(row.content)) for row in rows}
    return {person.id: kept.get(person.id) or _usual(session, person) for person in people}


def _usual(session: DbSession, person: Person) -> ClientProfile:
    return usual_profile(session.info[UNIT], tuple(person.bodies[-1].sore_joints) if person.bodies else ())


def save_profile(
    session: DbSession, viewer: Viewer, person: int, profile: ClientProfile, seen_version: int
) -> int:
    """Keep a profile; its version.

    Raises
    ------
    UnknownNameError
    ChangedMeanwhileError
        Where another state is there than the one that was looked at.
    """
    known_person(session, viewer, person)
    note_new_size(session)
    row = session.scalar(select(ClientProfileRow).where(ClientProfileRow.person_id == person))
    there = row.version if row else 0
    if there != seen_version:
        right = "the newest one: somebody else has changed it meanwhile; look at it and send yours again"
        raise ChangedMeanwhileError("profile", f"version {seen_version}", right)
    if row is None:
        row = ClientProfileRow(owner_id=viewer.person, person_id=person, content="", version=0)
        session.add(row)
    row.content, row.version, row.changed_at = profile.model_dump_json(), there + 1, now()
    session.flush()
    set_spare(session, viewer, person, profile.spare)
    return row.version


def checked(data: object) -> ClientProfile:
    """A profile from plain data.

    Raises
    ------
    BadInputError
    """
    return validated(ClientProfile, data, "profile")


def changed_profile(profile: ClientProfile, **fields: object) -> ClientProfile:
    """A profile with other values, checked.

    Raises
    ------
    BadInputError
    """
    unknown = set(fields) - set(ClientProfile.model_fields)
    if unknown:
        raise BadInputError("profile", ", ".join(sorted(unknown)), "one of its fields")
    return checked(profile.model_dump() | fields)
