"""Wrong passwords and codes: counted by whoever tried, as keyed hashes; they outlive a restart."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from datetime import timedelta

from sqlalchemy import delete, func, or_, select
from sqlalchemy.orm import Session as DbSession

from curve_rank.store.tables import WrongTry, now

WITHIN = timedelta(minutes=15)
MOST_KEPT = 20_000


def wrong_lately(session: DbSession, tried_by: Collection[str]) -> Mapping[str, int]:
    """How often each has tried wrongly within the time that counts."""
    lately = (WrongTry.at > now() - WITHIN, WrongTry.at < now() + WITHIN)  # a clock set back lets go of them
    rows = session.execute(
        select(WrongTry.tried_by, func.count())
        .where(WrongTry.tried_by.in_(tried_by), *lately)
        .group_by(WrongTry.tried_by)
    )
    found = dict.fromkeys(tried_by, 0)
    for who, count in rows:
        found[who] = count
    return found


def count_wrong(session: DbSession, tried_by: Collection[str]) -> None:
    """Keep that each has tried wrongly just now; what is old goes."""
    session.add_all(WrongTry(tried_by=who) for who in tried_by)
    session.flush()
    newest = session.scalar(select(func.max(WrongTry.id))) or 0
    old = or_(WrongTry.at < now() - WITHIN, WrongTry.at > now() + WITHIN, WrongTry.id <= newest - MOST_KEPT)
    session.execute(delete(WrongTry).where(old))
