"""Sets of a file that belong to a block: by day and exercises they are found to be one of its sessions."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from datetime import date, timedelta

from curve_rank.practice.block import Block, Session
from curve_rank.training.log import LoggedSet

FAR = timedelta(days=3)
"""A session may have been done so long before or after its day."""
ENOUGH = 0.5
"""Part of a session's exercises that were done on a day from which the day is that session's [1]."""


def placed(
    sets: Iterable[LoggedSet], block: Block, plan: int, taken: Collection[tuple[int, int]]
) -> tuple[LoggedSet, ...]:
    """Sets as sets of a block's sessions, where day and exercises fit; the others as they are.

    Parameters
    ----------
    sets : iterable of LoggedSet
        Those of no block are looked at.
    block : Block
        With a day on which it begins; without one nothing fits.
    plan : int
        Its number.
    taken : collection of (int, int)
        Week and session of those that were logged already.
    """
    by_day: dict[date, list[LoggedSet]] = {}
    found = []
    for one in sets:
        if one.plan is None and block.start is not None:
            by_day.setdefault(one.day, []).append(one)
        else:
            found.append(one)
    free = {(w, s): session for w, s, session in block.sessions if (w, s) not in taken}
    for day, ones in sorted(by_day.items()):
        at = _best(day, {one.variant for one in ones}, block, free)
        session = free.pop(at) if at is not None else None
        found += [_of(one, plan, at, session) for one in ones]
    return tuple(found)


def _best(
    day: date, done: set[str], block: Block, free: dict[tuple[int, int], Session]
) -> tuple[int, int] | None:
    """Which session a day's exercises are: the one that most of were done, of several the nearest."""
    fits = []
    for (w, s), session in free.items():
        assert block.start
        planned = block.start + timedelta(days=7 * w + session.day)
        wanted = {one.variant for one in session.exercises}
        part = len(wanted & done) / max(len(wanted), 1)
        if abs(day - planned) <= FAR and part >= ENOUGH:
            fits.append((-part, abs(day - planned), (w, s)))
    return min(fits)[2] if fits else None


def _of(one: LoggedSet, plan: int, at: tuple[int, int] | None, session: Session | None) -> LoggedSet:
    place = next(
        (n for n, e in enumerate(session.exercises if session else ()) if e.variant == one.variant), None
    )
    if at is None or place is None:
        return one
    return one.model_copy(update={"plan": plan, "week": at[0], "session": at[1], "place": place})
