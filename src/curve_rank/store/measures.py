"""The tape: sittings of a person; and one's own photographs, which nobody else sees."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import date

from sqlalchemy import func, select
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError
from curve_rank.store.people import known_person
from curve_rank.store.rows import own_row
from curve_rank.store.tables import ArmMeasureRow, ProgressPicture
from curve_rank.store.viewers import Viewer
from curve_rank.training.circumference import ArmChange, ArmMeasure, compare
from curve_rank.validation import validated

MOST_PICTURES = 40


@dataclass(frozen=True)
class Sitting:
    """One sitting with the tape, and the block it belongs to."""

    number: int
    plan: int | None
    measure: ArmMeasure


@dataclass(frozen=True)
class KeptPhotograph:
    """A photograph without its bytes."""

    number: int
    plan: int | None
    day: date
    at: str


def sittings(session: DbSession, viewer: Viewer, person: int) -> tuple[Sitting, ...]:
    """Every sitting of somebody, oldest first.

    Raises
    ------
    UnknownNameError
    """
    known_person(session, viewer, person)
    rows = session.scalars(
        select(ArmMeasureRow)
        .where(ArmMeasureRow.person_id == person)
        .order_by(ArmMeasureRow.day, ArmMeasureRow.id)
    )
    return tuple(
        Sitting(row.id, row.plan_id, validated(ArmMeasure, json.loads(row.content), "measure"))
        for row in rows
    )


def add_sitting(
    session: DbSession, viewer: Viewer, person: int, measure: ArmMeasure, plan: int | None
) -> int:
    """Keep a sitting; one of the same end of the same block is replaced.

    Raises
    ------
    UnknownNameError
    """
    for old in sittings(session, viewer, person):
        same = (old.plan, old.measure.when, old.measure.side) == (plan, measure.when, measure.side)
        if plan is not None and same:
            session.delete(session.get_one(ArmMeasureRow, old.number))
    row = ArmMeasureRow(
        owner_id=person, person_id=person, plan_id=plan, day=measure.day, content=measure.model_dump_json()
    )
    session.add(row)
    session.flush()
    return row.id


def ends(found: tuple[Sitting, ...], plan: int) -> tuple[ArmMeasure, ArmMeasure] | None:
    """The sittings at both ends of a block; None where one is missing."""
    mine = {one.measure.when: one.measure for one in found if one.plan == plan}
    return (mine["start"], mine["end"]) if len(mine) == 2 else None


def changes_over(found: tuple[Sitting, ...], plan: int) -> tuple[ArmChange, ...]:
    """What the arm changed by over a block; empty where one end was not measured."""
    both = ends(found, plan)
    return compare(*both, [one.measure for one in found]) if both else ()


def photographs(session: DbSession, viewer: Viewer) -> tuple[KeptPhotograph, ...]:
    """The viewer's own, oldest first."""
    rows = session.execute(
        select(ProgressPicture.id, ProgressPicture.plan_id, ProgressPicture.day, ProgressPicture.at)
        .where(ProgressPicture.owner_id == viewer.person)
        .order_by(ProgressPicture.day, ProgressPicture.id)
    )
    return tuple(KeptPhotograph(*row) for row in rows)


def keep_photograph(
    session: DbSession, viewer: Viewer, jpeg: bytes, *, day: date, at: str, plan: int | None
) -> int:
    """Keep one.

    Raises
    ------
    BadInputError
    """
    owned = ProgressPicture.owner_id == viewer.person
    count = session.scalar(select(func.count(ProgressPicture.id)).where(owned)) or 0
    if count >= MOST_PICTURES:
        raise BadInputError("photograph", f"{count} kept", f"at most {MOST_PICTURES}; delete some first")
    row = ProgressPicture(owner_id=viewer.person, plan_id=plan, day=day, at=at, jpeg=jpeg)
    session.add(row)
    session.flush()
    return row.id


def photograph(session: DbSession, viewer: Viewer, number: int) -> bytes:
    """One's own photograph.

    Raises
    ------
    UnknownNameError
    """
    return own_row(session, viewer, ProgressPicture, number, "photograph").jpeg


def remove_photograph(session: DbSession, viewer: Viewer, number: int) -> None:
    """Delete one.

    Raises
    ------
    UnknownNameError
    """
    session.delete(own_row(session, viewer, ProgressPicture, number, "photograph"))
    session.flush()
