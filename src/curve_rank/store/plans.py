"""Blocks: kept state by state, undone and done again, shared by clients with own loads, handed over."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime

from sqlalchemy import ColumnElement, delete, func, or_, select, true
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError, ChangedMeanwhileError, NotAllowedError, UnknownNameError
from curve_rank.practice.bends import Bends, read_bends
from curve_rank.practice.block import Block, checked
from curve_rank.store.house.audit import reached
from curve_rank.store.names import plain_name
from curve_rank.store.people import known_person
from curve_rank.store.tables import Person, Plan, PlanClient, PlanState, now
from curve_rank.store.viewers import Viewer

MOST_STATES = 400
"""States of one block that are kept; the oldest go."""
MOST_CLIENTS = 60


@dataclass(frozen=True)
class BlockMember:
    """Somebody who does a block."""

    person: int
    name: str
    loads: dict[str, float]
    bends: Bends
    handed_at: datetime | None
    has_feed: bool


@dataclass(frozen=True)
class KeptPlan:
    """A block as it stands.

    Attributes
    ----------
    id, owner, revision : int
        `revision` is what an edit says it has seen.
    block : Block
    members : tuple of BlockMember
    undo, redo : str
        What would be undone, and done again; empty for nothing.
    """

    id: int
    owner: int
    revision: int
    block: Block
    members: tuple[BlockMember, ...]
    undo: str
    redo: str

    def member(self, person: int) -> BlockMember:
        """One of those who do it.

        Raises
        ------
        UnknownNameError
        """
        for one in self.members:
            if one.person == person:
                return one
        raise UnknownNameError("client", person, "one who does this block")

    def as_done_by(self, person: int | None) -> KeptPlan:
        """With the block as one of those who do it bends it; as shared for anybody else."""
        bends = next((one.bends for one in self.members if one.person == person), Bends())
        return replace(self, block=bends.of(self.block))


@dataclass(frozen=True)
class ListedPlan:
    """A line of the list of blocks."""

    id: int
    name: str
    weeks: int
    people: tuple[str, ...]
    handed: bool


def plans(session: DbSession, viewer: Viewer) -> tuple[ListedPlan, ...]:
    """Blocks that the viewer may work on, newest first."""
    rows = session.execute(
        select(Plan.id, Plan.name, PlanState.content)
        .join(PlanState, (PlanState.plan_id == Plan.id) & (PlanState.number == Plan.at))
        .where(_may_edit(viewer))
        .order_by(Plan.id.desc())
    ).all()
    members = _members(session, [row.id for row in rows], viewer)
    return tuple(
        ListedPlan(
            row.id,
            row.name,
            len(json.loads(row.content)["weeks"]),
            tuple(m.name for m in members[row.id]),
            any(m.handed_at for m in members[row.id]),
        )
        for row in rows
    )


def add_plan(session: DbSession, viewer: Viewer, block: Block, clients: tuple[int, ...]) -> int:
    """Keep a new block for some clients; its number.

    Raises
    ------
    UnknownNameError
    """
    row = Plan(owner_id=viewer.person, name=block.name, at=0, revision=0)
    session.add(row)
    session.flush()
    _add_state(session, row, viewer, block, "Made")
    for client in clients:
        add_client(session, viewer, row.id, client)
    return row.id


def plan(session: DbSession, viewer: Viewer, number: int) -> KeptPlan:
    """A block that the viewer may work on.

    Raises
    ------
    UnknownNameError
    """
    found = kept_plan(session, viewer, _row(session, viewer, number))
    for member in found.members:
        reached(session, viewer, member.person)
    return found


def handed_to(session: DbSession, viewer: Viewer) -> tuple[KeptPlan, ...]:
    """Blocks that were handed over to the viewer, newest first."""
    rows = session.scalars(
        select(Plan)
        .join(PlanClient, PlanClient.plan_id == Plan.id)
        .where(
            PlanClient.client_id == viewer.person,
            PlanClient.handed_at.is_not(None),
            Plan.removed_at.is_(None),
        )
        .order_by(PlanClient.handed_at.desc(), Plan.id.desc())
    )
    return tuple(kept_plan(session, viewer, row).as_done_by(viewer.person) for row in rows)


def done_by(session: DbSession, viewer: Viewer, person: int) -> tuple[KeptPlan, ...]:
    """Blocks that somebody does: their own as they were handed over, a client's whatever the viewer may see.

    Newest start first.

    Raises
    ------
    UnknownNameError
    """
    known_person(session, viewer, person)
    mine = PlanClient.handed_at.is_not(None) if person == viewer.person else true()
    rows = session.scalars(
        select(Plan)
        .join(PlanClient, PlanClient.plan_id == Plan.id)
        .where(PlanClient.client_id == person, Plan.removed_at.is_(None), mine)
        .order_by(Plan.id.desc())
    )
    kept = [kept_plan(session, viewer, row).as_done_by(person) for row in rows]
    return tuple(sorted(kept, key=lambda one: one.block.start or date.min, reverse=True))


def save(session: DbSession, viewer: Viewer, number: int, block: Block, said: str, seen: int) -> KeptPlan:
    """Keep the next state of a block; what had been undone is gone.

    Raises
    ------
    UnknownNameError
    ChangedMeanwhileError
        Where it is no longer as it was seen.
    """
    row = _row(session, viewer, number)
    _seen(row, seen)
    session.execute(delete(PlanState).where(PlanState.plan_id == row.id, PlanState.number > row.at))
    _add_state(session, row, viewer, block, said)
    return kept_plan(session, viewer, row)


def step(session: DbSession, viewer: Viewer, number: int, seen: int, *, back: bool) -> KeptPlan:
    """Undo, or do again.

    Raises
    ------
    UnknownNameError, ChangedMeanwhileError, BadInputError
    """
    row = _row(session, viewer, number)
    _seen(row, seen)
    to = row.at + (-1 if back else 1)
    if _state(session, row.id, to) is None:
        right = "a change that can be undone" if back else "something that was undone"
        raise BadInputError("undo" if back else "redo", "nothing", right)
    row.at, row.revision = to, row.revision + 1
    row.name = _block(session, row).name
    session.flush()
    return kept_plan(session, viewer, row)


def set_removed(session: DbSession, viewer: Viewer, number: int, *, removed: bool) -> str:
    """Take a block off every list, or put it back; its name.

    Raises
    ------
    UnknownNameError
    NotAllowedError
        Where somebody does it whom the viewer may not see.
    """
    row = _row(session, viewer, number, removed=True)
    everybody, seen = _members(session, [row.id])[row.id], _members(session, [row.id], viewer)[row.id]
    if len(seen) < len(everybody):
        right = "one that none of another coach's clients does; take your own off it instead"
        raise NotAllowedError("block", row.name, right)
    for member in everybody:
        reached(session, viewer, member.person)
    row.removed_at = now() if removed else None
    return row.name


def add_client(session: DbSession, viewer: Viewer, number: int, client: int) -> None:
    """Let one more do a block.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    row = _row(session, viewer, number)
    found = known_person(session, viewer, client)
    if not found.bodies:
        raise BadInputError("client", found.name, "someone whose size is known; take it first")
    members = _members(session, [row.id])[row.id]
    if client in {m.person for m in members}:
        return
    if len(members) >= MOST_CLIENTS:
        raise BadInputError("clients", len(members) + 1, f"at most {MOST_CLIENTS}")
    session.add(PlanClient(owner_id=row.owner_id, plan_id=row.id, client_id=client, loads={}))
    session.flush()


def remove_client(session: DbSession, viewer: Viewer, number: int, client: int) -> None:
    """Let somebody do it no longer.

    Raises
    ------
    UnknownNameError
    """
    session.delete(_client_row(session, viewer, number, client))
    session.flush()


def set_load(
    session: DbSession, viewer: Viewer, number: int, client: int, variant: str, load: float | None
) -> None:
    """Set somebody's load of an exercise by hand, or leave it to the model again.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    row = _client_row(session, viewer, number, client)
    if load is not None and not -300 <= load <= 500:
        raise BadInputError("load", load, "−300 to 500 kg")
    loads = {key: value for key, value in row.loads.items() if key != variant}
    row.loads = loads if load is None else loads | {variant: load}
    session.flush()


def set_bends(session: DbSession, viewer: Viewer, number: int, client: int, bends: Bends) -> None:
    """Keep how somebody bends the block.

    Raises
    ------
    UnknownNameError
    """
    _client_row(session, viewer, number, client).bends = bends.model_dump(mode="json")
    session.flush()


def hand_over(session: DbSession, viewer: Viewer, number: int, client: int, *, handed: bool) -> None:
    """Let a client see it, or no longer.

    Raises
    ------
    UnknownNameError
    """
    row = _client_row(session, viewer, number, client)
    row.handed_at = now() if handed else None
    session.flush()


def _may_edit(viewer: Viewer) -> ColumnElement[bool]:
    """Own blocks, and those of the viewer's clients: another coach of the same client works on them too."""
    looked_after = select(Person.id).where(viewer.may_see(), Person.id != viewer.person)
    theirs = select(PlanClient.plan_id).where(PlanClient.client_id.in_(looked_after))
    return Plan.removed_at.is_(None) & or_(Plan.owner_id == viewer.person, Plan.id.in_(theirs))


def _row(session: DbSession, viewer: Viewer, number: int, *, removed: bool = False) -> Plan:
    mine = (Plan.owner_id == viewer.person) if removed else _may_edit(viewer)
    found = session.scalar(select(Plan).where(mine, Plan.id == number))
    if found is None:
        raise UnknownNameError("block", number, "one of yours or of your clients")
    return found


def _client_row(session: DbSession, viewer: Viewer, number: int, client: int) -> PlanClient:
    """Somebody on a block: through the one door to people: who shares it sees own clients alone."""
    row = _row(session, viewer, number)
    known_person(session, viewer, client)
    both = (PlanClient.plan_id == row.id, PlanClient.client_id == client)
    found = session.scalar(select(PlanClient).where(*both))
    if found is None:
        raise UnknownNameError("client", client, "one who does this block")
    return found


def _seen(row: Plan, seen: int) -> None:
    if row.revision != seen:
        right = "the newest: somebody else has changed it meanwhile; yours is not lost, send it again"
        raise ChangedMeanwhileError("block", f"state {seen}", right)


def _add_state(session: DbSession, row: Plan, viewer: Viewer, block: Block, said: str) -> None:
    newest = session.scalar(select(func.max(PlanState.number)).where(PlanState.plan_id == row.id)) or 0
    number = newest + 1
    session.add(
        PlanState(owner_id=viewer.person, plan_id=row.id, number=number, said=said[:160], content=block.text)
    )
    old = (PlanState.plan_id == row.id, PlanState.number <= number - MOST_STATES)
    session.execute(delete(PlanState).where(*old))
    row.at, row.revision, row.name = number, row.revision + 1, plain_name(block.name)
    session.flush()


def _state(session: DbSession, number: int, at: int) -> PlanState | None:
    return session.scalar(select(PlanState).where(PlanState.plan_id == number, PlanState.number == at))


def _block(session: DbSession, row: Plan) -> Block:
    found = _state(session, row.id, row.at)
    if found is None:
        raise UnknownNameError("block", row.id, "one whose newest state is there")
    return checked(json.loads(found.content))


def _members(
    session: DbSession, numbers: Sequence[int], viewer: Viewer | None = None
) -> dict[int, tuple[BlockMember, ...]]:
    """Everyone who does each of some blocks; where a viewer is named, those whom they may see."""
    seen = true() if viewer is None else viewer.may_see()
    rows = session.execute(
        select(PlanClient, Person.name)
        .join(Person, Person.id == PlanClient.client_id)
        .where(PlanClient.plan_id.in_(numbers), seen)
        .order_by(Person.name)
    )
    found: dict[int, tuple[BlockMember, ...]] = dict.fromkeys(numbers, ())
    for row, name in rows:
        bends, has_feed = read_bends(row.bends), row.feed is not None
        member = BlockMember(row.client_id, name, dict(row.loads), bends, row.handed_at, has_feed)
        found[row.plan_id] += (member,)
    return found


def kept_plan(session: DbSession, viewer: Viewer, row: Plan) -> KeptPlan:
    """A row as a block, with those who do it and whom the viewer may see."""
    here, after = _state(session, row.id, row.at), _state(session, row.id, row.at + 1)
    before = _state(session, row.id, row.at - 1)
    return KeptPlan(
        id=row.id,
        owner=row.owner_id,
        revision=row.revision,
        block=_block(session, row),
        members=_members(session, [row.id], viewer)[row.id],
        undo=here.said if here and before else "",
        redo=after.said if after else "",
    )
