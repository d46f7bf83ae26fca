"""Publishing: a leaflet frozen as page, data, PDF and picture behind a link that nobody can guess."""

from __future__ import annotations

from collections.abc import Callable

from curve_rank.exchange.leaflet import Leaflet, as_page, as_pdf, as_slide
from curve_rank.store.database import DbSession
from curve_rank.store.house.tokens import new_token
from curve_rank.store.publications import LONGEST_TITLE, FrozenPage, publish
from curve_rank.store.viewers import Viewer


def keep(db: DbSession, viewer: Viewer, made: Leaflet, link_of: Callable[[str], str]) -> str:
    """Freeze what is published, and keep it under a new token.

    Parameters
    ----------
    db : DbSession
        The open database, to be written.
    viewer : Viewer
        Who publishes it.
    made : Leaflet
        What is published.
    link_of : callable
        The link of a token.

    Raises
    ------
    BadInputError
        For one more than can be kept.
    """
    token, title = new_token(), made.title[:LONGEST_TITLE].strip()
    link, body = link_of(token), as_page(made)
    frozen = FrozenPage(
        kind=made.kind,
        title=title,
        says=made.asks,
        html=body,
        data=made.data,
        pdf=as_pdf(made, link, body=body),
        preview=as_slide(made, next(iter(made.pictures)), size="preview") if made.pictures else None,
    )
    publish(db, viewer, token, frozen)
    return token
