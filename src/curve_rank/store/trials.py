"""Trials of two blocks, one after the other."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import UnknownNameError
from curve_rank.practice.block import Block
from curve_rank.store.house.audit import reached
from curve_rank.store.names import plain_name
from curve_rank.store.people import known_person
from curve_rank.store.plans import add_plan
from curve_rank.store.tables import Person, TrialRow
from curve_rank.store.viewers import Viewer


@dataclass(frozen=True)
class KeptTrial:
    """A trial: whose, its blocks in the order they are done, the coin's seed, whether groups swap ways."""

    id: int
    person: int
    who: str
    name: str
    first: int
    second: int
    seed: int
    crossed: bool = False


def trials(session: DbSession, viewer: Viewer) -> tuple[KeptTrial, ...]:
    """Those of everyone the viewer may see, newest first."""
    rows = session.execute(
        select(TrialRow, Person.name)
        .join(Person, Person.id == TrialRow.person_id)
        .where(viewer.may_see())
        .order_by(TrialRow.id.desc())
    )
    return tuple(_kept(row, name) for row, name in rows)


def trial(session: DbSession, viewer: Viewer, number: int) -> KeptTrial:
    """One of them.

    Raises
    ------
    UnknownNameError
    """
    found = session.execute(
        select(TrialRow, Person.name)
        .join(Person, Person.id == TrialRow.person_id)
        .where(viewer.may_see(), TrialRow.id == number)
    ).one_or_none()
    if found is None:
        raise UnknownNameError("trial", number, "one of yours or of your clients")
    reached(session, viewer, found[0].person_id)
    return _kept(found[0], found[1])


def add_trial(
    session: DbSession,
    viewer: Viewer,
    person: int,
    name: str,
    blocks: tuple[Block, Block],
    seed: int,
    *,
    crossed: bool = False,
) -> int:
    """Keep a trial with its blocks, in the order they are done; its number.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    known_person(session, viewer, person)
    first, second = (add_plan(session, viewer, block, (person,)) for block in blocks)
    row = TrialRow(
        owner_id=viewer.person,
        person_id=person,
        name=plain_name(name),
        first_id=first,
        second_id=second,
        seed=seed,
        crossed=crossed,
    )
    session.add(row)
    session.flush()
    return row.id


def _kept(row: TrialRow, who: str) -> KeptTrial:
    first, second = row.first_id, row.second_id
    return KeptTrial(row.id, row.person_id, who, row.name, first, second, row.seed, row.crossed)
