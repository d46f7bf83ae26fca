"""Deleting whoever asked for it, once their time of grace is over: from the database and the outbox."""

from __future__ import annotations

from curve_rank.exchange import outbox
from curve_rank.store.database import Store
from curve_rank.store.house.leaving import emails_due, remove_due


def delete_due(store: Store) -> int:
    """Delete everyone whose time has come; how many.

    Letters go first: where this is stopped in between, the next look still knows whose they were.

    Raises
    ------
    UnavailableError
    """
    with store.reading() as session:
        emails = emails_due(session)
    outbox.forget(store.folder, emails)
    with store.writing() as session:
        gone = remove_due(session)
    if gone:
        store.truncate_log()
    return gone
