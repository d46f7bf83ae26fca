"""Calendars behind private links: of blocks that were handed over."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import UnknownNameError
from curve_rank.store.house.tokens import hash_of, new_token
from curve_rank.store.plans import KeptPlan, kept_plan
from curve_rank.store.tables import Account, Plan, PlanClient
from curve_rank.store.viewers import Viewer, viewer_of


def set_feed(session: DbSession, viewer: Viewer, number: int, *, on: bool) -> str | None:
    """A private link to the viewer's own calendar of a block that was handed over, or none any more.

    Raises
    ------
    UnknownNameError
    """
    row = session.scalar(
        select(PlanClient).where(
            PlanClient.plan_id == number,
            PlanClient.client_id == viewer.person,
            PlanClient.handed_at.is_not(None),
        )
    )
    if row is None:
        raise UnknownNameError("block", number, "one that was handed over to you")
    token = new_token() if on else None
    row.feed = hash_of(token) if token else None
    session.flush()
    return token


def by_feed(session: DbSession, token: str) -> tuple[KeptPlan, Viewer]:
    """The block behind a calendar's link, and whose it is.

    Raises
    ------
    UnknownNameError
        Where there is none, or it was withdrawn: both say the same.
    """
    row = session.scalar(
        select(PlanClient).where(
            PlanClient.feed == hash_of(token),
            PlanClient.handed_at.is_not(None),
            PlanClient.client_id.not_in(select(Account.person_id).where(Account.locked_at.is_not(None))),
        )
    )
    found = session.get(Plan, row.plan_id) if row else None
    viewer = viewer_of(session, row.client_id) if row else None
    if found is None or viewer is None or found.removed_at is not None:
        raise UnknownNameError("link", "this one", "a link to a calendar that is still there")
    return kept_plan(session, viewer, found).as_done_by(viewer.person), viewer
