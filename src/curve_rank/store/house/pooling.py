"""What a house finds out together: who agreed, what their logs said in a month, editions, releases."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy import ColumnElement, Select, String, cast, delete, func, select, update
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import UnknownNameError
from curve_rank.practice.consent import house_statement
from curve_rank.store.names import plain_name
from curve_rank.store.tables import (
    CoachClient,
    EditionTurn,
    ForecastRow,
    HouseConsent,
    HouseEdition,
    HouseReleaseRow,
    HouseShare,
    HouseTrialPerson,
    Person,
    Plan,
    PlanClient,
    PlanState,
    SetRow,
)
from curve_rank.store.viewers import Viewer


def say(session: DbSession, viewer: Viewer, *, agreed: bool) -> None:
    """Keep what somebody says to the present wording; who says no takes out all that their log gave."""
    wording = house_statement()
    session.add(
        HouseConsent(owner_id=viewer.person, digest=wording.digest, wording=wording.text, agreed=agreed)
    )
    if not agreed:
        for table in (HouseShare, ForecastRow, HouseTrialPerson):
            session.execute(delete(table).where(table.owner_id == viewer.person))
    session.flush()


def said(session: DbSession, viewer: Viewer) -> tuple[HouseConsent, ...]:
    """What somebody has said, newest first."""
    rows = select(HouseConsent).where(HouseConsent.owner_id == viewer.person).order_by(HouseConsent.id.desc())
    return tuple(session.scalars(rows))


def _agreed() -> ColumnElement[bool]:
    newest = select(func.max(HouseConsent.id)).group_by(HouseConsent.owner_id)
    yes = select(HouseConsent.owner_id).where(
        HouseConsent.id.in_(newest),
        HouseConsent.agreed.is_(True),
        HouseConsent.digest == house_statement().digest,
    )
    return Person.id.in_(yes)


def agreed(session: DbSession, viewer: Viewer) -> tuple[int, ...]:
    """Those whom the viewer may see and who agreed."""
    rows = session.scalars(select(Person.id).where(viewer.may_see(), _agreed()).order_by(Person.id))
    return tuple(rows)


def names(session: DbSession, viewer: Viewer) -> dict[int, str]:
    """Names of those whom the viewer may see and who agreed."""
    rows = session.execute(select(Person.id, Person.name).where(viewer.may_see(), _agreed()))
    return {row.id: row.name for row in rows}


def takes_part(session: DbSession, person: int) -> bool:
    """Whether somebody agreed."""
    return session.scalar(select(Person.id).where(Person.id == person, _agreed())) is not None


def who_log(session: DbSession, viewer: Viewer) -> int:
    """How many the viewer may see who have logged anything."""
    logs = select(SetRow.person_id).distinct()
    found = session.scalar(
        select(func.count()).select_from(Person).where(viewer.may_see(), Person.id.in_(logs))
    )
    return int(found or 0)


def keep_share(session: DbSession, person: int, month: str, content: str) -> None:
    """Keep what somebody's log said in a month; once it stands it is frozen."""
    mine = (HouseShare.owner_id == person, HouseShare.month == month)
    if session.scalar(select(HouseShare.id).where(*mine)) is None:
        session.add(HouseShare(owner_id=person, month=month, content=content))
        session.flush()


def shares(session: DbSession, viewer: Viewer, month: str) -> tuple[str, ...]:
    """What the logs said in a month of those whom the viewer may see, and who agree."""
    wanted = _shared(viewer).where(HouseShare.month == month).order_by(HouseShare.owner_id)
    return tuple(session.scalars(wanted.with_only_columns(HouseShare.content)))


def _shared(viewer: Viewer) -> Select[HouseShare]:
    """Shares of those whom the viewer may see, and who agree."""
    return (
        select(HouseShare).join(Person, Person.id == HouseShare.owner_id).where(viewer.may_see(), _agreed())
    )


def mark_of(session: DbSession, viewer: Viewer, month: str) -> str:
    """Changes with whoever's share joins or leaves a month."""
    wanted = _shared(viewer).where(HouseShare.month == month).order_by(HouseShare.id)
    rows = session.scalars(wanted.with_only_columns(HouseShare.id))
    return hashlib.sha256(repr(tuple(rows)).encode()).hexdigest()


def is_frozen(session: DbSession, month: str) -> bool:
    """Whether a month is frozen: for everybody at once, whoever asked for it."""
    return session.scalar(select(HouseShare.id).where(HouseShare.month == month).limit(1)) is not None


def everyone_agreed(session: DbSession) -> tuple[int, ...]:
    """All who agreed, whoever looks after them: for work by itself."""
    return tuple(session.scalars(select(Person.id).where(_agreed()).order_by(Person.id)))


def months(session: DbSession, viewer: Viewer) -> tuple[str, ...]:
    """Months that something stands of, newest first."""
    wanted = _shared(viewer).with_only_columns(HouseShare.month).distinct()
    return tuple(session.scalars(wanted.order_by(HouseShare.month.desc())))


@dataclass(frozen=True)
class Edition:
    """Loads as a house lifts them: by whom it was made, of which month, and what was worked out from whom."""

    id: int
    name: str
    note: str
    month: str
    author: int
    author_name: str
    made_at: datetime
    offsets: str
    mark: str


@dataclass(frozen=True)
class Turn:
    """That an edition began to speak, or the published model again; and who turned it."""

    edition: int | None
    by: str
    at: datetime


def make_edition(session: DbSession, viewer: Viewer, *, name: str, note: str, month: str) -> int:
    """Make an edition of what stands in a month; it does not speak yet.

    Raises
    ------
    BadInputError, UnknownNameError
    """
    if month not in months(session, viewer):
        raise UnknownNameError("month", month, "one that something was frozen in")
    row = HouseEdition(owner_id=viewer.person, name=plain_name(name), note=note.strip(), month=month)
    session.add(row)
    session.flush()
    return row.id


def _over(session: DbSession, person: int) -> set[int]:
    """Whose editions may speak for somebody: theirs, those of who keeps their record, and of coaches."""
    keeps = session.scalars(select(Person.owner_id).where(Person.id == person))
    coaches = session.scalars(select(CoachClient.coach_id).where(CoachClient.client_id == person))
    return {person, *(one for one in keeps if one is not None), *coaches}


def editions(session: DbSession, viewer: Viewer) -> tuple[Edition, ...]:
    """All that may speak for the viewer, newest first."""
    rows = session.execute(
        select(HouseEdition, Person.name)
        .join(Person, Person.id == HouseEdition.owner_id)
        .where(HouseEdition.owner_id.in_(_over(session, viewer.person)))
        .order_by(HouseEdition.id.desc())
    )
    return tuple(_edition(row, author) for row, author in rows)


def _edition(row: HouseEdition, author: str) -> Edition:
    return Edition(
        row.id, row.name, row.note, row.month, row.owner_id, author, row.made_at, row.offsets, row.mark
    )


def edition(session: DbSession, viewer: Viewer, number: int) -> Edition:
    """One of them.

    Raises
    ------
    UnknownNameError
    """
    found = next((one for one in editions(session, viewer) if one.id == number), None)
    if found is None:
        raise UnknownNameError("edition", number, "one that was made here")
    return found


def keep_offsets(session: DbSession, number: int, offsets: str, mark: str) -> None:
    """Keep what an edition says, and of whose shares it is."""
    session.execute(update(HouseEdition).where(HouseEdition.id == number).values(offsets=offsets, mark=mark))


def turn_to(session: DbSession, viewer: Viewer, number: int | None) -> None:
    """Let an edition speak from now on, or with None the model as it is published.

    Raises
    ------
    UnknownNameError
    """
    if number is not None:
        edition(session, viewer, number)
    session.add(EditionTurn(owner_id=viewer.person, edition_id=number))
    session.flush()


def turns(session: DbSession, viewer: Viewer) -> tuple[Turn, ...]:
    """What has spoken for the viewer, newest first."""
    rows = session.execute(
        select(EditionTurn.edition_id, Person.name, EditionTurn.at)
        .join(Person, Person.id == EditionTurn.owner_id)
        .where(EditionTurn.owner_id.in_(_over(session, viewer.person)))
        .order_by(EditionTurn.id.desc())
    )
    return tuple(Turn(*row) for row in rows)


def any_turned(session: DbSession) -> bool:
    """Whether an edition has ever spoken for anybody."""
    return session.scalar(select(EditionTurn.id).limit(1)) is not None


def speaking(session: DbSession, person: int, at: datetime | None = None) -> Edition | None:
    """The edition that speaks for somebody, or spoke at a moment; None for the model as it is published.

    It speaks for those alone whom whoever turned to it looks after.
    """
    wanted = select(EditionTurn.edition_id).where(EditionTurn.owner_id.in_(_over(session, person)))
    if at is not None:
        wanted = wanted.where(EditionTurn.at <= at)
    number = session.scalar(wanted.order_by(EditionTurn.id.desc()).limit(1))
    rows = session.execute(
        select(HouseEdition, Person.name)
        .join(Person, Person.id == HouseEdition.owner_id)
        .where(HouseEdition.id == number)
    )
    return next((_edition(row, author) for row, author in rows), None)


def begun_at(session: DbSession, person: int, today: date) -> datetime | None:
    """When the newest block was handed over that somebody is in the middle of; None for nobody."""
    weeks = func.json_array_length(PlanState.content, "$.weeks")
    ends = func.date(func.json_extract(PlanState.content, "$.start"), "+" + cast(7 * weeks, String) + " days")
    return session.scalar(
        select(func.max(PlanClient.handed_at))
        .join(Plan, Plan.id == PlanClient.plan_id)
        .join(PlanState, (PlanState.plan_id == Plan.id) & (PlanState.number == Plan.at))
        .where(PlanClient.client_id == person, Plan.removed_at.is_(None), ends > today.isoformat())
    )


def keep_release(session: DbSession, viewer: Viewer, year: int, content: str) -> None:
    """Keep what was told to other houses."""
    session.add(HouseReleaseRow(owner_id=viewer.person, year=year, content=content))
    session.flush()


def releases(session: DbSession, viewer: Viewer) -> tuple[str, ...]:
    """What the viewer's house has told, oldest first."""
    rows = session.scalars(
        select(HouseReleaseRow.content)
        .where(HouseReleaseRow.owner_id == viewer.person)
        .order_by(HouseReleaseRow.year)
    )
    return tuple(rows)
