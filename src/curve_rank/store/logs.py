"""Logs: sets as they stand, what they were before, and what was worked out from which state of a log."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, cast

from sqlalchemy import ColumnElement, func, select, update
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import UnknownNameError
from curve_rank.store.people import known_person
from curve_rank.store.tables import SessionEvent, SetRow, SetVersion, TrainingState
from curve_rank.store.viewers import Viewer
from curve_rank.training.log import LoggedSet, SessionNote, checked_set

COLUMNS = {name: name for name in LoggedSet.model_fields} | {"set": "number", "plan": "plan_id"}
"""Where each part of a set stands in its row."""
AT_ONCE = 500
"""Sets of a file that are kept between two looks at whether it is to stop."""


@dataclass(frozen=True)
class SetAtVersion:
    """A set as it stands, with its version."""

    set: LoggedSet
    version: int


@dataclass(frozen=True)
class EarlierSet:
    """What a set was, or what another device made of it."""

    number: int
    set: LoggedSet
    removed: bool
    device: str
    aside: bool


def add_sets(
    session: DbSession,
    viewer: Viewer,
    person: int,
    sets: Iterable[LoggedSet],
    device: str,
    say: Callable[[int], None] | None = None,
) -> int:
    """Keep many sets that were read from a file; how many were not here yet. `say` hears how many are done.

    One that was written down here already, under another key, is not kept again: the same number of the same
    exercise on the same day, with the same load and repetitions.

    Raises
    ------
    UnknownNameError
    """
    known_person(session, viewer, person)
    rows = session.execute(select(SetRow.key, *_SAME, SetRow.removed).where(SetRow.person_id == person)).all()
    there = {row[0] for row in rows}
    seen = {tuple(row[1:-1]) for row in rows if not row[-1]}
    new = {
        one.key: one
        for one in sets
        if one.key not in there
        and (one.day, one.variant, one.side, one.set, one.load_kg, one.reps) not in seen
    }
    ours, found = {"owner_id": person, "person_id": person}, list(new.values())
    for start in range(0, len(found), AT_ONCE):
        if say:
            say(start)
        state = ours | state_of(device, 0, version=1)
        kept = [values_of(one) | state for one in found[start : start + AT_ONCE]]
        session.execute(SetRow.__table__.insert(), kept)  # type: ignore[attr-defined]
    if found:
        count(session, person)
    return len(found)


def log_of(
    session: DbSession,
    viewer: Viewer,
    person: int,
    *,
    since: date | None = None,
) -> tuple[LoggedSet, ...]:
    """A person's sets as they stand, oldest first.

    Raises
    ------
    UnknownNameError
    """
    return tuple(one.set for one in kept_sets(session, viewer, person, since=since))


def kept_sets(
    session: DbSession,
    viewer: Viewer,
    person: int,
    *,
    since: date | None = None,
) -> tuple[SetAtVersion, ...]:
    """The same with their versions."""
    known_person(session, viewer, person)
    wanted: list[ColumnElement[bool]] = [SetRow.person_id == person, SetRow.removed.is_(False)]
    if since is not None:
        wanted.append(SetRow.day >= since)
    rows = session.execute(select(*_SELECTED, SetRow.version).where(*wanted).order_by(SetRow.day, SetRow.id))
    return tuple(SetAtVersion(_selected(row[:-1]), row[-1]) for row in rows)


def begun(session: DbSession, viewer: Viewer, person: int, plan: int) -> set[tuple[int, int]]:
    """Week and session of a block's sessions of which a person logged anything.

    Raises
    ------
    UnknownNameError
    """
    known_person(session, viewer, person)
    rows = session.execute(
        select(SetRow.week, SetRow.session)
        .where(SetRow.person_id == person, SetRow.plan_id == plan, SetRow.removed.is_(False))
        .distinct()
    )
    return {(week, at) for week, at in rows if week is not None and at is not None}


def logs_since(session: DbSession, people: Sequence[int], since: date) -> dict[int, list[LoggedSet]]:
    """Sets of several people whom the viewer has been shown, in one query."""
    rows = session.execute(
        select(SetRow.person_id, *_SELECTED)
        .where(SetRow.person_id.in_(people), SetRow.day >= since, SetRow.removed.is_(False))
        .order_by(SetRow.day, SetRow.id)
    )
    found: dict[int, list[LoggedSet]] = {person: [] for person in people}
    for row in rows:
        found[row[0]].append(_selected(row[1:]))
    return found


def notes_of(
    session: DbSession, viewer: Viewer, person: int, plan: int | None = None
) -> tuple[SessionNote, ...]:
    """What was said of a person's sessions, oldest first.

    Raises
    ------
    UnknownNameError
    """
    known_person(session, viewer, person)
    wanted = [SessionEvent.person_id == person] + ([SessionEvent.plan_id == plan] if plan is not None else [])
    return tuple(
        SessionNote.model_construct(
            key=row.key, kind=cast("Any", row.kind), day=row.day, to_day=row.to_day, plan=row.plan_id,
            week=row.week, session=row.session, text=row.text,
        )
        for row in session.scalars(select(SessionEvent).where(*wanted).order_by(SessionEvent.id))
    )  # fmt: skip


def history(
    session: DbSession, viewer: Viewer, person: int, key: str
) -> tuple[SetAtVersion, tuple[EarlierSet, ...]]:
    """A set as it stands, and what it was before or was made by another device, newest first.

    Raises
    ------
    UnknownNameError
    """
    row = row_of(session, viewer, person, key)
    versions = session.scalars(
        select(SetVersion).where(SetVersion.set_id == row.id).order_by(SetVersion.number.desc())
    )
    return SetAtVersion(set_of(row), row.version), tuple(version_of(one) for one in versions)


def unsettled(session: DbSession, viewer: Viewer, person: int) -> tuple[tuple[SetAtVersion, EarlierSet], ...]:
    """Sets that two devices wrote differently: as it stands, and what waits beside it.

    Raises
    ------
    UnknownNameError
    """
    known_person(session, viewer, person)
    found = session.execute(
        select(SetRow, SetVersion)
        .join(SetVersion, SetVersion.set_id == SetRow.id)
        .where(SetRow.person_id == person, SetVersion.aside.is_(True))
        .order_by(SetVersion.id)
    )
    return tuple((SetAtVersion(set_of(row), row.version), version_of(other)) for row, other in found)


def training_state(session: DbSession, person: int) -> TrainingState:
    """The state of somebody's log; made where there is none. For viewers who have been shown the person."""
    row = session.scalar(select(TrainingState).where(TrainingState.person_id == person))
    if row is None:
        row = TrainingState(
            owner_id=person, person_id=person, revision=0, summary_key="", learning=True, learned_key=""
        )
        session.add(row)
        session.flush()
    return row


def states_of(session: DbSession, people: Sequence[int]) -> dict[int, TrainingState]:
    """States of several people's logs, where there are any."""
    rows = session.scalars(select(TrainingState).where(TrainingState.person_id.in_(people)))
    return {row.person_id: row for row in rows}


_SAME = (SetRow.day, SetRow.variant, SetRow.side, SetRow.number, SetRow.load_kg, SetRow.reps)
_SELECTED = tuple(getattr(SetRow, column) for column in COLUMNS.values())


def _selected(values: Sequence[Any]) -> LoggedSet:
    """What `_SELECTED` gave, as a set; it was checked when it was kept."""
    return LoggedSet.model_construct(**dict(zip(COLUMNS, values, strict=True)))


def state_of(device: str, written: int, *, version: int) -> dict[str, Any]:
    """Columns that say who wrote a state, and which it is."""
    return {"device": device, "written": written, "version": version, "removed": False}


def values_of(one: LoggedSet) -> dict[str, Any]:
    """A set as columns."""
    return {column: getattr(one, name) for name, column in COLUMNS.items()}


def set_of(row: SetRow) -> LoggedSet:
    """A row as a set."""
    return _selected([getattr(row, column) for column in COLUMNS.values()])


def version_of(row: SetVersion) -> EarlierSet:
    """A row as what a set was."""
    content = json.loads(row.content)
    removed = bool(content.pop("removed", False))
    return EarlierSet(row.number, checked_set(content), removed, row.device, row.aside)


def row_of(session: DbSession, viewer: Viewer, person: int, key: str) -> SetRow:
    """A set's row.

    Raises
    ------
    UnknownNameError
    """
    known_person(session, viewer, person)
    found = session.scalar(select(SetRow).where(SetRow.person_id == person, SetRow.key == key))
    if found is None:
        raise UnknownNameError("set", key, "one that was logged")
    return found


def count(session: DbSession, person: int) -> None:
    """The log has changed: what was worked out from it is of an older state."""
    training_state(session, person)
    session.execute(
        update(TrainingState)
        .where(TrainingState.person_id == person)
        .values(revision=TrainingState.revision + 1)
    )


def scatters(session: DbSession) -> list[str]:
    """What kept summaries say of the house's noise, as JSON, of everyone who lets the house learn.

    Nobody is named, and only their sum is used.
    """
    said = func.json_extract(TrainingState.summary, "$.scatter")
    rows = session.scalars(select(said).where(TrainingState.learning, said.is_not(None)))
    return list(rows)


def keep_learned(session: DbSession, person: int, content: str, key: str) -> None:
    """Keep what was learned of somebody, and from which state of their log."""
    row = training_state(session, person)
    row.learned, row.learned_key = content, key


def set_learning(session: DbSession, viewer: Viewer, person: int, *, on: bool) -> None:
    """Let loads follow what is learned of somebody, or not.

    Raises
    ------
    UnknownNameError
    """
    known_person(session, viewer, person)
    training_state(session, person).learning = on


def confirm_strength(session: DbSession, viewer: Viewer, person: int, strength: float) -> None:
    """Somebody says that loads which take this strength, over the body's, are right [1].

    Raises
    ------
    UnknownNameError
    """
    known_person(session, viewer, person)
    row = training_state(session, person)
    row.confirmed, row.learned_key = strength, ""


def keep_summary(session: DbSession, person: int, content: str, key: str) -> None:
    """Keep what a coach is told of somebody, and of which state of their log it is."""
    row = training_state(session, person)
    row.summary, row.summary_key = content, key
