"""Sketches and quick answers of a person."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from curve_rank.store.rows import own_row
from curve_rank.store.tables import SketchRow
from curve_rank.store.viewers import Viewer
from curve_rank.study.sketch import Attempt


@dataclass(frozen=True)
class SketchAnswer:
    """One answer as it was given."""

    id: int
    kind: str
    item: str
    answer: Any
    points: float


def attempts(session: DbSession, viewer: Viewer, kinds: Sequence[str]) -> tuple[Attempt, ...]:
    """The viewer's attempts of some kinds, oldest first."""
    rows = session.scalars(
        select(SketchRow)
        .where(SketchRow.owner_id == viewer.person, SketchRow.kind.in_(kinds))
        .order_by(SketchRow.id)
    )
    return tuple(Attempt(row.item, row.family, row.points, row.created_at) for row in rows)


def keep_answer(
    session: DbSession, viewer: Viewer, *, kind: str, item: str, family: str, answer: Any, points: float
) -> int:
    """Keep an answer; its number."""
    row = SketchRow(
        owner_id=viewer.person, kind=kind, item=item, family=family, answer=json.dumps(answer), points=points
    )
    session.add(row)
    session.flush()
    return row.id


def answered(session: DbSession, viewer: Viewer, number: int) -> SketchAnswer:
    """An answer of the viewer's.

    Raises
    ------
    UnknownNameError
    """
    row = own_row(session, viewer, SketchRow, number, "sketch")
    return SketchAnswer(row.id, row.kind, row.item, json.loads(row.answer), row.points)
