"""Who has seen or changed another's data: written with the change itself, a look once an hour a page."""

from __future__ import annotations

from threading import Lock

from cachetools import TTLCache
from flask import g, request

from curve_rank.store.database import DbSession
from curve_rank.store.house import audit
from curve_rank.store.viewers import Viewer

ONCE_IN = 3600.0
"""Who looks at the same page again within so long has seen it once [s]."""
MOST_REMEMBERED = 20_000


class Looks:
    """Which looks were written down a short while ago. Safe to share between threads."""

    def __init__(self) -> None:
        self._lately: TTLCache[tuple[int, int, str], bool] = TTLCache(MOST_REMEMBERED, ONCE_IN)
        self._lock = Lock()

    def new(self, actor: int, people: frozenset[int], page: str) -> list[int]:
        """Those whose data on a page the actor has not looked at lately; from now on they have."""
        with self._lock:
            found = [one for one in people if (actor, one, page) not in self._lately]
            self._lately.update({(actor, one, page): True for one in found})
        return found


def changed(session: DbSession, viewer: Viewer | None) -> None:
    """Before a change is kept: whose data it was made with the look at, in the same transaction."""
    people = audit.others_reached(session)
    if viewer is not None and people and request.method == "POST":
        audit.note(session, viewer, people, audit.CHANGED, page_name(), request_id())


def page_name() -> str:
    """The page as its route names it, with nobody's number in it."""
    return request.url_rule.rule if request.url_rule else ""


def request_id() -> str:
    """The number that this request has in the log."""
    return str(g.get("request_id", ""))
