"""Clients' profiles: read with what they mean, kept only by who saw the newest state."""

from __future__ import annotations

import json

from pydantic import ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.practice.profile import ClientProfile
from curve_rank.store.people import known_person, set_spare
from curve_rank.store.tables import ClientProfileRow, now
from curve_rank.store.viewers import Viewer
from curve_rank.validation import from_validation


class ChangedMeanwhileError(CurveRankError):
    """Somebody else has changed it since it was looked at."""


def profile_of(session: Session, viewer: Viewer, person: int) -> tuple[ClientProfile, int]:
    """Somebody's profile and its version; the usual one, version 0, where none was kept.

    Raises
    ------
    UnknownNameError
    """
    found = known_person(session, viewer, person)
    row = session.scalar(select(ClientProfileRow).where(ClientProfileRow.person_id == person))
    if row is None:
        spare = tuple(found.bodies[-1].sore_joints) if found.bodies else ()
        return ClientProfile(spare=spare), 0
    return checked(json.loads(row.content)), row.version


def save_profile(
    session: Session, viewer: Viewer, person: int, profile: ClientProfile, seen_version: int
) -> int:
    """Keep a profile; its version.

    Raises
    ------
    UnknownNameError
    ChangedMeanwhileError
        Where another state is there than the one that was looked at.
    """
    known_person(session, viewer, person)
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
    try:
        return ClientProfile.model_validate(data)
    except ValidationError as error:
        raise from_validation(error, "profile", ClientProfile) from error


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
