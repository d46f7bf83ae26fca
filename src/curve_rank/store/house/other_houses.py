"""What other houses told, kept as it was handed out: each once, and of which claim it is one more study."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.store.tables import OtherHouseRow
from curve_rank.store.viewers import Viewer

MOST = 100
"""Of one owner."""


@dataclass(frozen=True)
class OtherHouseKept:
    """A release of another house: its JSON, and the claim it is a study of, empty for none."""

    id: int
    claim: str
    content: str
    read_at: datetime


def other_houses(session: DbSession, viewer: Viewer) -> tuple[OtherHouseKept, ...]:
    """What the viewer has read in, newest first."""
    rows = session.scalars(
        select(OtherHouseRow).where(OtherHouseRow.owner_id == viewer.person).order_by(OtherHouseRow.id.desc())
    )
    return tuple(OtherHouseKept(row.id, row.claim, row.content, row.read_at) for row in rows)


def keep_other_house(session: DbSession, viewer: Viewer, content: str, claim: str) -> None:
    """Keep a release; one that is there already is not kept twice, but may be of another claim from now on.

    Raises
    ------
    BadInputError
        Where as many are kept as may be.
    """
    digest = hashlib.sha256(content.encode()).hexdigest()
    there = session.scalars(select(OtherHouseRow).where(OtherHouseRow.owner_id == viewer.person)).all()
    same = next((row for row in there if row.digest == digest), None)
    if same is not None:
        same.claim = claim
    elif len(there) >= MOST:
        raise BadInputError("release", str(len(there)), f"at most {MOST} that are kept; forget one first")
    else:
        session.add(OtherHouseRow(owner_id=viewer.person, digest=digest, claim=claim, content=content))
    session.flush()


def forget_other_house(session: DbSession, viewer: Viewer, number: int) -> None:
    """Keep it no longer.

    Raises
    ------
    UnknownNameError
    """
    row = session.scalar(
        select(OtherHouseRow).where(OtherHouseRow.owner_id == viewer.person, OtherHouseRow.id == number)
    )
    if row is None:
        raise UnknownNameError("release", number, "one that you have read in")
    session.delete(row)
    session.flush()
