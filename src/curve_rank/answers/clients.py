"""A coach's clients in one look: who needs them and for what, the others a line each, found and filtered."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Literal

from curve_rank.answers.means import Library
from curve_rank.answers.requests import RequestForm, Whole
from curve_rank.answers.standings import Standing, standings
from curve_rank.practice.profile import load_shown
from curve_rank.rating.joints import joints
from curve_rank.store import comments, people, rooms, seen
from curve_rank.store.database import DbSession, Store
from curve_rank.store.viewers import Viewer
from curve_rank.training.attention import Alert

MILD = ("missed", "stall", "silent")
"""What does not hurry."""


class ClientsRequest(RequestForm):
    """Which clients are shown: by name, by whether they need anybody, by room and block."""

    q: str = ""
    show: Literal["all", "needs", "quiet"] = "all"
    room: Whole | None = None
    block: Whole | None = None


@dataclass(frozen=True)
class ClientRow:
    """One client.

    Attributes
    ----------
    person : int
    name : str
    alerts : tuple of Alert
        What there is, gravest first.
    new : tuple of Alert
        What of it was not seen yet.
    last : date, optional
        When anything was done last.
    block : tuple of (int, str), optional
        That is under way.
    room : tuple of (int, str), optional
    who : str
        Size, minutes and what is spared, in a few words.
    """

    person: int
    name: str
    alerts: tuple[Alert, ...]
    new: tuple[Alert, ...]
    last: date | None
    block: tuple[int, str] | None
    room: tuple[int, str] | None
    who: str

    @property
    def grave(self) -> bool:
        """Whether it hurries."""
        return any(alert.kind not in MILD for alert in self.new)


@dataclass(frozen=True)
class ClientsAnswer:
    """Those that are asked for, whoever needs somebody first, and what can be asked for."""

    asked: ClientsRequest
    rows: tuple[ClientRow, ...]
    everyone: int
    needing: int
    rooms: tuple[tuple[int, str], ...]
    blocks: tuple[tuple[int, str], ...]

    @property
    def quiet(self) -> int:
        """Those in whom there is nothing new."""
        return self.everyone - self.needing


def clients(
    store: Store, db: DbSession, viewer: Viewer, library: Library, asked: ClientsRequest, now: datetime
) -> ClientsAnswer:
    """A coach's clients.

    Parameters
    ----------
    store : Store
        Where summaries that had to be made anew are kept.
    db : DbSession
        The open database.
    viewer : Viewer
        The coach.
    library : Library
        What they have.
    asked : ClientsRequest
        Which of them.
    now : datetime
        Each is looked at on the day it is where they are.
    """
    found = standings(store, db, library, people.clients(db, viewer), now)
    marks = seen.marks_of(db, viewer, [one.person.id for one in found])
    named = {kept.id: kept.name for kept in rooms.rooms(db, viewer)}
    rows = [_row(one, marks.get(one.person.id, frozenset()), named) for one in found]
    rows.sort(key=lambda row: not row.new)  # stays by gravity and name within
    wanted = [row for row in rows if _wanted(row, asked)]
    return ClientsAnswer(
        asked=asked,
        rows=tuple(wanted),
        everyone=len(rows),
        needing=sum(bool(row.new) for row in rows),
        rooms=tuple(sorted({row.room for row in rows if row.room}, key=lambda one: one[1])),
        blocks=tuple(sorted({row.block for row in rows if row.block}, key=lambda one: one[1])),
    )


def see(store: Store, db: DbSession, viewer: Viewer, library: Library, person: int, now: datetime) -> None:
    """The viewer has seen what there is of a client by now.

    Raises
    ------
    UnknownNameError
        Where the viewer may not see the person.
    """
    (one,) = standings(store, db, library, [people.known_person(db, viewer, person)], now)
    marks = [alert.mark for alert in one.alerts]
    with store.writing() as writing:
        seen.see(writing, viewer, person, marks)


def send_word(db: DbSession, viewer: Viewer, to: Sequence[int], text: str) -> None:
    """Write the same to several clients: to all of them or, where one cannot be, to none.

    Raises
    ------
    UnknownNameError, BadInputError
        Where the viewer may not see one of them; for no text, or too long a one.
    """
    for person in to:
        comments.add_comment(db, viewer, person, text)


def _row(one: Standing, marks: frozenset[str], named: dict[int, str]) -> ClientRow:
    profile = one.profile
    room = (profile.room, named[profile.room]) if profile.room in named else None
    return ClientRow(
        person=one.person.id,
        name=one.person.name,
        alerts=one.alerts,
        new=tuple(alert for alert in one.alerts if alert.mark not in marks),
        last=one.last,
        block=(one.block.plan, one.block.name) if one.block else None,
        room=room,
        who=_who(one),
    )


def _who(one: Standing) -> str:
    profile, body = one.profile, one.person.bodies[-1] if one.person.bodies else None
    size = "size not taken yet"
    if body is not None:
        height = 100 * body.height_m / profile.cm_per_unit
        size = f"{height:.3g} {profile.length_unit}, {load_shown(body.mass_kg, profile.mass_unit)}"
    spares = ", ".join(joints()[key].name.lower() for key in profile.spare)
    told = [size, f"{profile.minutes} minutes", f"spares {spares}" if spares else ""]
    return "; ".join(part for part in told if part)


def _wanted(row: ClientRow, asked: ClientsRequest) -> bool:
    return (
        asked.q.casefold() in row.name.casefold()
        and (asked.show == "all" or bool(row.new) == (asked.show == "needs"))
        and (asked.room is None or (row.room is not None and row.room[0] == asked.room))
        and (asked.block is None or (row.block is not None and row.block[0] == asked.block))
    )
