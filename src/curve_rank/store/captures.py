"""Captures of a person: what was listened to, the raw samples, and what was lost on the way."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError
from curve_rank.store.names import plain_name
from curve_rank.store.rows import own_row
from curve_rank.store.tables import CapturePart, CaptureRow
from curve_rank.store.viewers import Viewer

MOST = 100
"""Captures of one person."""


@dataclass(frozen=True)
class KeptCapture:
    """A capture as it is kept, without its samples.

    `counts` has `samples`, `lost`, `garbled`, `doubled` and `reconnected` once it has ended.
    """

    number: int
    name: str
    device: str
    weight: float
    lever: float
    counts: dict[str, int]
    begun_at: datetime


def begin(session: DbSession, viewer: Viewer, *, name: str, device: str) -> int:
    """A new capture without samples yet; its number.

    Raises
    ------
    BadInputError
    """
    count = session.scalar(select(func.count(CaptureRow.id)).where(CaptureRow.owner_id == viewer.person))
    if (count or 0) >= MOST:
        raise BadInputError("captures", f"{count} kept", f"at most {MOST}; remove some first")
    row = CaptureRow(owner_id=viewer.person, name=plain_name(name), device=device)
    session.add(row)
    session.flush()
    return row.id


def add_part(session: DbSession, person: int, number: int, rows: str) -> None:
    """Samples that have come since the last part."""
    session.add(CapturePart(owner_id=person, capture_id=number, rows=rows))


def note(
    session: DbSession, viewer: Viewer, number: int, *, weight: float, lever: float, counts: Mapping[str, int]
) -> None:
    """The known weight it was calibrated with, and what was counted."""
    own_row(session, viewer, CaptureRow, number, "capture")
    session.execute(
        update(CaptureRow)
        .where(CaptureRow.id == number)
        .values(weight_kg=weight, lever_m=lever, counts=json.dumps(dict(counts)))
    )


def kept(session: DbSession, viewer: Viewer) -> tuple[KeptCapture, ...]:
    """The viewer's captures, newest first."""
    rows = session.scalars(
        select(CaptureRow).where(CaptureRow.owner_id == viewer.person).order_by(CaptureRow.id.desc())
    )
    return tuple(_kept(row) for row in rows)


def one(session: DbSession, viewer: Viewer, number: int) -> KeptCapture:
    """A capture of the viewer's.

    Raises
    ------
    UnknownNameError
    """
    return _kept(own_row(session, viewer, CaptureRow, number, "capture"))


def rows_text(session: DbSession, viewer: Viewer, number: int) -> str:
    """Its samples, a row a line, without titles.

    Raises
    ------
    UnknownNameError
    """
    own_row(session, viewer, CaptureRow, number, "capture")
    parts = session.scalars(
        select(CapturePart.rows).where(CapturePart.capture_id == number).order_by(CapturePart.id)
    )
    return "".join(parts)


def remove(session: DbSession, viewer: Viewer, number: int) -> str:
    """Delete it with its samples; its name.

    Raises
    ------
    UnknownNameError
    """
    row = own_row(session, viewer, CaptureRow, number, "capture")
    name = row.name
    session.execute(delete(CaptureRow).where(CaptureRow.id == number))
    return name


def _kept(row: CaptureRow) -> KeptCapture:
    return KeptCapture(
        row.id, row.name, row.device, row.weight_kg, row.lever_m, json.loads(row.counts), row.begun_at
    )
