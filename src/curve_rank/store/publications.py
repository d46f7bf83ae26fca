"""Publications: kept whole when they are made, found by their link, withdrawn and renamed by their owner."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import select, update
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.store.rows import own_row
from curve_rank.store.tables import Publication, now
from curve_rank.store.verdicts import Stamp
from curve_rank.store.viewers import Viewer

LONGEST_TITLE = 120
MOST = 500
"""Published pages of one person that are not withdrawn."""


@dataclass(frozen=True)
class FrozenPage:
    """What a published page shows, as it was when it was made.

    Attributes
    ----------
    kind, title : str
    says : str
        What it answers, in a sentence.
    html : str
        Its body; pictures stand in it.
    data : dict or list
        Its JSON twin.
    pdf : bytes
    preview : bytes, optional
        A picture, as PNG, for where the link is shown.
    """

    kind: str
    title: str
    says: str
    html: str
    data: Any
    pdf: bytes
    preview: bytes | None = None


@dataclass(frozen=True)
class PublicationLine:
    """A line of the list of what a person published."""

    id: int
    token: str
    kind: str
    title: str
    created_at: datetime
    withdrawn_at: datetime | None
    opened: int


def publish(session: DbSession, viewer: Viewer, token: str, frozen: FrozenPage) -> None:
    """Keep a page under its token.

    Raises
    ------
    BadInputError
        For a title that is empty or too long, and for one page too many.
    """
    mine = [one for one in published(session, viewer) if one.withdrawn_at is None]
    if len(mine) >= MOST:
        raise BadInputError("published", f"{len(mine)} pages", f"at most {MOST}; withdraw some first")
    stamp = Stamp.of("")
    session.add(
        Publication(
            owner_id=viewer.person,
            token=token,
            kind=frozen.kind,
            title=_title(frozen.title),
            says=frozen.says,
            preview=frozen.preview,
            html=frozen.html,
            data=json.dumps(frozen.data, ensure_ascii=False),
            pdf=frozen.pdf,
            parameters=stamp.parameters,
            model=stamp.model,
            opened=0,
        )
    )
    session.flush()


def published(session: DbSession, viewer: Viewer) -> tuple[PublicationLine, ...]:
    """What a person published, newest first."""
    columns = (getattr(Publication, name) for name in PublicationLine.__dataclass_fields__)
    rows = session.execute(
        select(*columns).where(Publication.owner_id == viewer.person).order_by(Publication.id.desc())
    )
    return tuple(PublicationLine(*row) for row in rows)


def opened(session: DbSession, token: str) -> Publication:
    """The page behind a link, whoever asks.

    Raises
    ------
    UnknownNameError
        Where there is none, or it was withdrawn: both say the same.
    """
    found = session.scalar(
        select(Publication).where(Publication.token == token, Publication.withdrawn_at.is_(None))
    )
    if found is None:
        raise UnknownNameError("link", "this one", "a link to a page that is still published")
    return found


def count_opening(session: DbSession, token: str) -> None:
    """One more opening; who it was is not kept."""
    session.execute(
        update(Publication).where(Publication.token == token).values(opened=Publication.opened + 1)
    )


def set_withdrawn(session: DbSession, viewer: Viewer, publication: int, *, withdrawn: bool) -> str:
    """Take a page back, or put it up again; its title.

    Raises
    ------
    UnknownNameError
    """
    found = own_row(session, viewer, Publication, publication, "published page")
    found.withdrawn_at = now() if withdrawn else None
    return found.title


def rename(session: DbSession, viewer: Viewer, publication: int, title: str) -> None:
    """Give a page another title.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    own_row(session, viewer, Publication, publication, "published page").title = _title(title)


def _title(text: str) -> str:
    plain = " ".join(text.split())
    if not plain.isprintable() or not 1 <= len(plain) <= LONGEST_TITLE:
        raise BadInputError("title", text, f"1 to {LONGEST_TITLE} characters that can be seen")
    return plain
