"""Publishing: a leaflet frozen as page, data, PDF and picture behind a link that nobody can guess."""

from __future__ import annotations

from collections.abc import Callable

from curve_rank.exchange.leaflet import Leaflet, as_page, as_pdf, as_slide
from curve_rank.store.house.tokens import new_token
from curve_rank.store.publications import LONGEST_TITLE, FrozenPage


def freeze(made: Leaflet, link_of: Callable[[str], str]) -> tuple[str, FrozenPage]:
    """A new token, and what is published under it; drawn before the database is held for writing.

    Parameters
    ----------
    made : Leaflet
        What is published.
    link_of : callable
        The link of a token.
    """
    token, title = new_token(), made.title[:LONGEST_TITLE].strip()
    link, body = link_of(token), as_page(made)
    return token, FrozenPage(
        kind=made.kind,
        title=title,
        says=made.asks,
        html=body,
        data=made.data,
        pdf=as_pdf(made, link, body=body),
        preview=as_slide(made, next(iter(made.pictures)), size="preview") if made.pictures else None,
    )
