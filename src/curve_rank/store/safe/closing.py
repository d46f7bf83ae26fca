"""Doors that a restored backup would open again: sign-ins, resets, invitations, old passwords, links.

Plain SQL, because a backup may be of any older state of the tables.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping
from contextlib import closing, suppress
from pathlib import Path

from curve_rank.store.tables import now

SIGN_INS, TOKENS, RESETS, INVITATIONS = "sign_ins", "access_tokens", "resets", "invitations"
PASSWORDS, LOCKS, CALENDARS, PAGES = "passwords", "locks", "calendars", "published pages"
WORDS = {
    SIGN_INS: "sign-ins end",
    TOKENS: "scripts’ tokens open nothing any more",
    RESETS: "links to a new password open nothing any more",
    INVITATIONS: "invitations open nothing any more",
    PASSWORDS: "passwords stay as they were changed since",
    LOCKS: "accounts stay locked",
    CALENDARS: "calendars' links stay withdrawn",
    PAGES: "published pages stay withdrawn",
}
"""What is closed, and how people are told."""
_OPEN_INVITATION = "used_at IS NULL AND withdrawn_at IS NULL"
_OF_BACKUP: Mapping[str, tuple[str, str]] = {
    SIGN_INS: ("1", "DELETE FROM sign_ins WHERE {which}"),
    TOKENS: ("1", "DELETE FROM access_tokens WHERE {which}"),
    RESETS: ("used_at IS NULL", "DELETE FROM resets WHERE {which}"),
    INVITATIONS: (_OPEN_INVITATION, "UPDATE invitations SET withdrawn_at = :now WHERE {which}"),
}
"""By table: which rows open a door, and how it is closed."""
_STILL_OPEN: Mapping[str, str] = {
    SIGN_INS: "token_hash NOT IN (SELECT token_hash FROM present.sign_ins)",
    TOKENS: "token_hash NOT IN (SELECT token_hash FROM present.access_tokens)",
    RESETS: "token_hash NOT IN (SELECT token_hash FROM present.resets WHERE used_at IS NULL)",
    INVITATIONS: f"token_hash NOT IN (SELECT token_hash FROM present.invitations WHERE {_OPEN_INVITATION})",
}
"""Which of these are closed where sign-ins are kept: those that have ended in what stands there."""
_SAME = "there.id = accounts.id AND there.email = accounts.email"
_OF_PRESENT: Mapping[str, tuple[str, str, str]] = {
    PASSWORDS: (
        "accounts",
        f"EXISTS (SELECT 1 FROM present.accounts there WHERE {_SAME} "
        "AND there.password_hash != accounts.password_hash)",
        "UPDATE accounts SET password_hash = "
        f"(SELECT password_hash FROM present.accounts there WHERE {_SAME}) WHERE {{which}}",
    ),
    LOCKS: (
        "accounts",
        f"locked_at IS NULL AND EXISTS (SELECT 1 FROM present.accounts there WHERE {_SAME} "
        "AND there.locked_at IS NOT NULL)",
        "UPDATE accounts SET locked_at = :now WHERE {which}",
    ),
    CALENDARS: (
        "plan_clients",
        "feed IS NOT NULL AND feed NOT IN (SELECT feed FROM present.plan_clients WHERE feed IS NOT NULL)",
        "UPDATE plan_clients SET feed = NULL WHERE {which}",
    ),
    PAGES: (
        "publications",
        "withdrawn_at IS NULL AND id IN (SELECT id FROM present.publications there "
        "WHERE there.token = publications.token AND there.withdrawn_at IS NOT NULL)",
        "UPDATE publications SET withdrawn_at = :now WHERE {which}",
    ),
}
"""What was closed since the backup, as what stands there knows: table, which rows, how."""


def close_doors(
    restored: Path, present: Path | None, *, keep_sign_ins: bool, look_only: bool = False
) -> dict[str, int]:
    """Close what a backup would open; how many of each, by `WORDS`.

    Parameters
    ----------
    restored : Path
        The backup's database, which nobody uses.
    present : Path, optional
        What stands in its place now, where that can be read.
    keep_sign_ins : bool
        For moving house: sign-ins, resets and invitations go on, but for those that have ended since.
    look_only : bool
        Only count.
    """
    with closing(sqlite3.connect(f"file:{restored}", uri=True, isolation_level=None)) as connection:
        connection.execute("PRAGMA secure_delete = ON")
        there = present is not None and _attached(connection, present)
        found = {}
        connection.execute("BEGIN")
        for what, (which, close) in _OF_BACKUP.items():
            if keep_sign_ins:
                which = f"{which} AND {_STILL_OPEN[what]}" if there else "0"
            found[what] = _closed(connection, what, which, close)
        for what, (table, which, close) in _OF_PRESENT.items():
            found[what] = _closed(connection, table, which if there else "0", close)
        connection.execute("ROLLBACK" if look_only else "COMMIT")
    return {what: count for what, count in found.items() if count}


def _closed(connection: sqlite3.Connection, table: str, which: str, close: str) -> int:
    """Close some rows of a table; none where a backup is older than the table, or what stands there is."""
    with suppress(sqlite3.OperationalError):
        (count,) = connection.execute(f"SELECT count(*) FROM main.{table} WHERE {which}").fetchone()
        values = {"now": now().isoformat(sep=" ")} if ":now" in close else {}
        connection.execute(close.format(which=which), values)
        return int(count)
    return 0


def _attached(connection: sqlite3.Connection, present: Path) -> bool:
    try:
        connection.execute("ATTACH DATABASE ? AS present", (f"file:{present}?mode=ro",))
        connection.execute("SELECT count(*) FROM present.people").fetchone()
    except sqlite3.Error:  # damaged, or none: it knows of no door
        with suppress(sqlite3.Error):
            connection.execute("DETACH DATABASE present")
        return False
    return True
