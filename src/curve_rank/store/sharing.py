"""What an educator shows to the coaches here: they use it as it stands, and cannot change it."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from curve_rank.store.documents import document_of
from curve_rank.store.names import is_own
from curve_rank.store.tables import Document, now
from curve_rank.store.viewers import Viewer

SHAREABLE = ("variant", "lens", "claim", "set", "template")


def is_mine(session: DbSession, viewer: Viewer, kind: str, key: str) -> bool:
    """Whether a document is the viewer's, to be changed, and not one that somebody shares."""
    theirs = (Document.owner_id == viewer.person, Document.kind == kind, Document.slug == key)
    return is_own(key) and session.scalar(select(Document.id).where(*theirs)) is not None


def parent_of(session: DbSession, viewer: Viewer, kind: str, key: str) -> str | None:
    """The id of what a document of the viewer's was made from."""
    theirs = (Document.owner_id == viewer.person, Document.kind == kind, Document.slug == key)
    return session.scalar(select(Document.made_from).where(*theirs))


@dataclass(frozen=True)
class Shareable:
    """A document of the viewer's that coaches may be shown."""

    kind: str
    slug: str
    name: str
    shared: bool


def shareable(session: DbSession, viewer: Viewer) -> tuple[Shareable, ...]:
    """What the viewer may share with the coaches here."""
    rows = session.execute(
        select(Document.kind, Document.slug, Document.name, Document.shared_at)
        .where(
            Document.owner_id == viewer.person, Document.kind.in_(SHAREABLE), Document.removed_at.is_(None)
        )
        .order_by(Document.kind, Document.name)
    )
    return tuple(Shareable(row.kind, row.slug, row.name, row.shared_at is not None) for row in rows)


def set_shared(session: DbSession, viewer: Viewer, kind: str, slug: str, *, shared: bool) -> str:
    """Show a document to the coaches here, or no longer; its name.

    Raises
    ------
    UnknownNameError
    """
    document = document_of(session, viewer, kind, slug)
    document.shared_at = now() if shared and kind in SHAREABLE else None
    return document.name
