"""Blocks in outline, for many people at once: which sessions fell on which day, and which were done."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from curve_rank.practice.bends import read_bends
from curve_rank.store.tables import Plan, PlanClient, PlanState, SessionEvent, SetRow

Place = tuple[int | None, int | None, int | None]
"""A block, a week of it, and which of its sessions."""


@dataclass(frozen=True)
class BlockOutline:
    """A block's sessions: its number, name, first day, and per week the weekdays."""

    plan: int
    name: str
    start: date
    weeks: tuple[tuple[int, ...], ...]

    def under_way(self, today: date) -> bool:
        """Whether it has begun and not ended."""
        return self.start <= today < self.start + timedelta(days=7 * len(self.weeks))

    def missed(self, done: set[Place], today: date, days: int) -> int:
        """Sessions of the last days that were neither done nor told of."""
        since = today - timedelta(days=days)
        return sum(
            since <= self.start + timedelta(days=7 * w + day) < today and (self.plan, w, s) not in done
            for w, week in enumerate(self.weeks)
            for s, day in enumerate(week)
        )


def outlines(session: DbSession, people: Sequence[int]) -> dict[int, BlockOutline]:
    """The newest block with a start that each of some people was handed."""
    rows = session.execute(
        select(PlanClient.client_id, PlanClient.bends, Plan.id, PlanState.content)
        .join(Plan, Plan.id == PlanClient.plan_id)
        .join(PlanState, (PlanState.plan_id == Plan.id) & (PlanState.number == Plan.at))
        .where(PlanClient.client_id.in_(people), PlanClient.handed_at.is_not(None), Plan.removed_at.is_(None))
        .order_by(PlanClient.handed_at, Plan.id)
    )
    read: dict[tuple[int, str], BlockOutline | None] = {}
    found: dict[int, BlockOutline] = {}
    for person, bends, plan, content in rows:
        key = (plan, json.dumps(bends))
        if key not in read:
            read[key] = _outline(plan, content, bends)
        outline = read[key]
        if outline is not None and (person not in found or outline.start >= found[person].start):
            found[person] = outline
    return found


def _outline(plan: int, content: str, bends: dict[str, Any]) -> BlockOutline | None:
    """A block as somebody bends it, in outline; None where it has no start."""
    data = json.loads(content)
    if not data["start"]:
        return None
    own = read_bends(bends)
    days = (tuple(one["day"] for one in week["sessions"]) for week in data["weeks"])
    return BlockOutline(
        plan, data["name"], date.fromisoformat(data["start"]), tuple(own.days_in(week) for week in days)
    )


def done_since(session: DbSession, people: Sequence[int], since: date) -> dict[int, set[Place]]:
    """Sessions of blocks that people did since a day, or said something of, each: block, week, place."""
    found: dict[int, set[Place]] = {}
    sets = select(SetRow.person_id, SetRow.plan_id, SetRow.week, SetRow.session).where(
        SetRow.person_id.in_(people),
        SetRow.day >= since,
        SetRow.plan_id.is_not(None),
        SetRow.removed.is_(False),
    )
    notes = select(
        SessionEvent.person_id, SessionEvent.plan_id, SessionEvent.week, SessionEvent.session
    ).where(
        SessionEvent.person_id.in_(people),
        SessionEvent.kind.in_(("skip", "done", "move")),
        SessionEvent.plan_id.is_not(None),
    )
    for asked in (sets.distinct(), notes):
        for person, plan, week, at in session.execute(asked):
            found.setdefault(person, set()).add((plan, week, at))
    return found
