"""What devices send: every set kept once however often it comes; corrections and conflicts with it."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.store.logs import count, row_of, set_of, state_of, values_of, version_of
from curve_rank.store.people import known_person
from curve_rank.store.tables import PlanClient, SessionEvent, SetRow, SetVersion
from curve_rank.store.viewers import Viewer
from curve_rank.training.log import LoggedSet, Message, SessionNote

MOST_AT_ONCE = 200
"""Messages of one request."""
MOST_VERSIONS = 60


@dataclass(frozen=True)
class Receipt:
    """What became of a message.

    Attributes
    ----------
    key : str
    state : str
        "kept", "known" (it was here already), "changed", "aside" (another device changed it: choose), or
        "refused" (it cannot be kept, and stops no other).
    version : int
        Of the set as it stands now.
    problem : str
        Why it is refused.
    """

    key: str
    state: str
    version: int
    problem: str = ""


def take(session: DbSession, viewer: Viewer, person: int, messages: Sequence[Message]) -> tuple[Receipt, ...]:
    """Keep what a device sends: each set once, however often and in whatever order it comes.

    Raises
    ------
    UnknownNameError
        For a person whom the viewer may not see.
    BadInputError
        For more than is taken at once.
    """
    known_person(session, viewer, person)
    if len(messages) > MOST_AT_ONCE:
        raise BadInputError("messages", len(messages), f"at most {MOST_AT_ONCE} at once")
    plans = set(session.scalars(select(PlanClient.plan_id).where(PlanClient.client_id == person)))
    keys = [message.key for message in messages]
    rows = {
        row.key: row
        for row in session.scalars(select(SetRow).where(SetRow.person_id == person, SetRow.key.in_(keys)))
    }
    told = set(
        session.scalars(
            select(SessionEvent.key).where(SessionEvent.person_id == person, SessionEvent.key.in_(keys))
        )
    )
    receipts = []
    for message in messages:
        try:
            if message.note is not None:
                receipts.append(_take_note(session, person, message.note, told, plans))
            elif message.set is not None:
                receipts.append(_take_set(session, person, message, message.set, rows, plans))
        except BadInputError as error:  # it is refused before anything of it is written
            receipts.append(Receipt(message.key, "refused", 0, str(error)))
    if any(one.state not in ("known", "refused") for one in receipts):
        count(session, person)
    return tuple(receipts)


def settle(session: DbSession, viewer: Viewer, person: int, key: str, number: int, *, take_it: bool) -> None:
    """Choose between what stands and what waits beside it; what is not chosen stays in the history.

    Raises
    ------
    UnknownNameError
    """
    row = row_of(session, viewer, person, key)
    other = session.scalar(
        select(SetVersion).where(
            SetVersion.set_id == row.id, SetVersion.number == number, SetVersion.aside.is_(True)
        )
    )
    if other is None:
        raise UnknownNameError("version", number, "one that waits to be chosen")
    other.aside = False
    if take_it:
        chosen = version_of(other)
        _put_away(session, row)
        _write(row, chosen.set, other.device, other.written, removed=chosen.removed)
    count(session, person)


def _take_note(
    session: DbSession, person: int, note: SessionNote, told: set[str], plans: set[int]
) -> Receipt:
    if note.key in told:
        return Receipt(note.key, "known", 1)
    told.add(note.key)
    session.add(
        SessionEvent(
            owner_id=person,
            person_id=person,
            key=note.key,
            plan_id=note.plan if note.plan in plans else None,
            week=note.week,
            session=note.session,
            kind=note.kind,
            day=note.day,
            to_day=note.to_day,
            text=note.text,
        )
    )
    session.flush()
    return Receipt(note.key, "kept", 1)


def _take_set(
    session: DbSession,
    person: int,
    message: Message,
    one: LoggedSet,
    rows: dict[str, SetRow],
    plans: set[int],
) -> Receipt:
    if one.plan is not None and one.plan not in plans:
        # It was taken off that block meanwhile; what was done is kept all the same.
        one = one.model_copy(update={"plan": None, "week": None, "session": None, "place": None})
    row = rows.get(one.key)
    if row is None and (twin := _twin(session, person, one)) is not None:
        return _take_twin(session, twin, message, one)
    if row is None:
        row = SetRow(owner_id=person, person_id=person, version=0, **values_of(one))
        _write(row, one, message.device, message.written, removed=message.removed)
        session.add(row)
        session.flush()
        rows[one.key] = row
        return Receipt(one.key, "kept", row.version)
    if (values_of(one), message.removed) == (values_of(set_of(row)), row.removed):
        return Receipt(one.key, "known", row.version)
    if _came_late(session, row, message):
        return Receipt(one.key, "known", row.version)
    if message.seen == row.version or message.device == row.device:
        return _change(session, row, message, one)
    content = one.model_dump(mode="json") | {"removed": message.removed}
    _keep_version(session, row, content, message.device, message.written, aside=True)
    return Receipt(one.key, "aside", row.version)


def _change(session: DbSession, row: SetRow, message: Message, one: LoggedSet) -> Receipt:
    _put_away(session, row)
    _write(row, one, message.device, message.written, removed=message.removed)
    session.flush()
    return Receipt(one.key, "changed", row.version)


def _twin(session: DbSession, person: int, one: LoggedSet) -> SetRow | None:
    """The same set as another device or page wrote it: block, week, session, place, number and side."""
    where = (one.plan, one.week, one.session, one.place)
    if None in where or one.kind == "warm_up":
        return None
    return session.scalar(
        select(SetRow).where(
            SetRow.person_id == person,
            SetRow.removed.is_(False),
            SetRow.plan_id == one.plan,
            SetRow.week == one.week,
            SetRow.session == one.session,
            SetRow.place == one.place,
            SetRow.number == one.set,
            SetRow.side == one.side,
            SetRow.kind != "warm_up",
        )
    )


def _take_twin(session: DbSession, row: SetRow, message: Message, one: LoggedSet) -> Receipt:
    """A set that was written twice, under two keys: it is asked once which stands, where they differ at all.

    Two pages of one browser are one device, so only who has seen the version that stands may change it.
    """
    if message.seen == row.version:
        return _change(session, row, message, one)
    alike = set_of(row).model_copy(update={"key": one.key, "day": one.day})
    if alike == one or message.removed:
        return Receipt(one.key, "known", row.version)
    sent = session.scalars(
        select(SetVersion.content).where(
            SetVersion.set_id == row.id,
            SetVersion.device == message.device,
            SetVersion.written >= message.written,
        )
    )
    if not any(json.loads(content)["key"] == one.key for content in sent):
        content = one.model_dump(mode="json") | {"removed": False}
        _keep_version(session, row, content, message.device, message.written, aside=True)
    return Receipt(one.key, "aside", row.version)


def _came_late(session: DbSession, row: SetRow, message: Message) -> bool:
    """Whether its device has told something newer of the set already: a repeat, or one that was overtaken."""
    newest = session.scalar(
        select(func.max(SetVersion.written)).where(
            SetVersion.set_id == row.id, SetVersion.device == message.device
        )
    )
    own = row.written if row.device == message.device else -1
    return max(newest if newest is not None else -1, own) >= message.written


def _put_away(session: DbSession, row: SetRow) -> None:
    """Keep what a set is now among what it was."""
    content = set_of(row).model_dump(mode="json") | {"removed": row.removed}
    _keep_version(session, row, content, row.device, row.written, aside=False)


def _keep_version(
    session: DbSession, row: SetRow, content: dict[str, Any], device: str, written: int, *, aside: bool
) -> None:
    newest = session.scalar(select(func.max(SetVersion.number)).where(SetVersion.set_id == row.id)) or 0
    if newest >= MOST_VERSIONS:
        raise BadInputError("set", row.key, f"one that was corrected fewer than {MOST_VERSIONS} times")
    session.add(
        SetVersion(
            owner_id=row.owner_id,
            set_id=row.id,
            number=newest + 1,
            content=json.dumps(content, ensure_ascii=False),
            device=device,
            written=written,
            aside=aside,
        )
    )
    session.flush()


def _write(row: SetRow, one: LoggedSet, device: str, written: int, *, removed: bool) -> None:
    for column, value in (values_of(one) | state_of(device, written, version=row.version + 1)).items():
        setattr(row, column, value)
    row.removed = removed
