"""Trials over people: their ways, who takes part, and what the tape said at both ends."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from sqlalchemy import func, select
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.house.coin import check_dates, size_of, way_of
from curve_rank.store.house.pooling import agreed
from curve_rank.store.names import plain_name
from curve_rank.store.people import known_person
from curve_rank.store.tables import HouseTrialPerson, HouseTrialRow, Person
from curve_rank.store.viewers import Viewer


@dataclass(frozen=True)
class HouseTrial:
    """A trial; `people` are those who take part, with the way that the coin gave them."""

    id: int
    name: str
    ways: tuple[str, str]
    difference_cm: float
    size: int
    begins: date
    looks_on: date
    claim: str
    people: tuple[tuple[int, str, int], ...]


def house_trials(session: DbSession, viewer: Viewer) -> tuple[HouseTrial, ...]:
    """The viewer's own, newest first."""
    rows = session.scalars(
        select(HouseTrialRow).where(HouseTrialRow.owner_id == viewer.person).order_by(HouseTrialRow.id.desc())
    )
    return tuple(_kept(session, viewer, row) for row in rows)


def house_trial(session: DbSession, viewer: Viewer, number: int) -> HouseTrial:
    """One of the viewer's own.

    Raises
    ------
    UnknownNameError
    """
    return _kept(session, viewer, _row(session, viewer, number))


def add_house_trial(
    session: DbSession,
    viewer: Viewer,
    *,
    name: str,
    ways: tuple[str, str],
    difference: float,
    dates: tuple[date, date],
    seed: int,
    claim: str = "",
) -> int:
    """Keep a trial; its number.

    Raises
    ------
    BadInputError
    """
    check_dates(*dates)
    row = HouseTrialRow(
        owner_id=viewer.person,
        name=plain_name(name),
        first_way=_way(ways[0]),
        second_way=_way(ways[1]),
        difference_cm=difference,
        claim=claim,
        size=size_of(difference),
        seed=seed,
        begins=dates[0],
        looks_on=dates[1],
    )
    session.add(row)
    session.flush()
    return row.id


def join(session: DbSession, viewer: Viewer, number: int, person: int, today: date) -> int:
    """Let a coin give somebody a way; which.

    Raises
    ------
    UnknownNameError, BadInputError
        Where they have not agreed, or take part already, or it has been looked at.
    """
    row = _row(session, viewer, number)
    found = known_person(session, viewer, person)
    if person not in agreed(session, viewer):
        raise BadInputError("person", found.name, "somebody whose log takes part in the house")
    if today >= row.looks_on:
        raise BadInputError("trial", row.name, "one that has not been looked at yet")
    mine = (HouseTrialPerson.trial_id == number, HouseTrialPerson.owner_id == person)
    if session.scalar(select(HouseTrialPerson.id).where(*mine)) is not None:
        raise BadInputError("person", found.name, "somebody who does not take part yet")
    before = session.scalar(
        select(func.count()).select_from(HouseTrialPerson).where(HouseTrialPerson.trial_id == number)
    )
    way = way_of(row.seed, int(before or 0))
    session.add(HouseTrialPerson(owner_id=person, trial_id=number, way=way))
    session.flush()
    return way


def _way(text: str) -> str:
    plain = " ".join(text.split())
    if not 3 <= len(plain) <= 200:
        raise BadInputError("way", text[:80], "3 to 200 characters that say what is done")
    return plain


def _row(session: DbSession, viewer: Viewer, number: int) -> HouseTrialRow:
    row = session.scalar(
        select(HouseTrialRow).where(HouseTrialRow.owner_id == viewer.person, HouseTrialRow.id == number)
    )
    if row is None:
        raise UnknownNameError("trial", number, "one of yours")
    return row


def _kept(session: DbSession, viewer: Viewer, row: HouseTrialRow) -> HouseTrial:
    """Those alone who may be seen still, and agree still."""
    still = set(agreed(session, viewer))
    people = session.execute(
        select(HouseTrialPerson.owner_id, Person.name, HouseTrialPerson.way)
        .join(Person, Person.id == HouseTrialPerson.owner_id)
        .where(HouseTrialPerson.trial_id == row.id)
        .order_by(HouseTrialPerson.id)
    )
    part = tuple((number, name, way) for number, name, way in people if number in still)
    return HouseTrial(
        row.id, row.name, (row.first_way, row.second_way), row.difference_cm, row.size, row.begins,
        row.looks_on, row.claim, part,
    )  # fmt: skip
