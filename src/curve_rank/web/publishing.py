"""Publishing: a page's own view, frozen as HTML, JSON and PDF behind a link that nobody can guess."""

from __future__ import annotations

from typing import Any

import segno
from flask import redirect, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.exchange.paper import on_paper
from curve_rank.exchange.pdf import pdf
from curve_rank.store.house.tokens import new_token
from curve_rank.store.publications import LONGEST_TITLE, Frozen, publish
from curve_rank.store.verdicts import Stamp
from curve_rank.web import current, notices


def keep(kind: str, title: str, data: Any, **context: Any) -> ResponseReturnValue:
    """Freeze what a page shows by `publish/<kind>.html`, and go to the list of what is published.

    Raises
    ------
    BadInputError
    """
    token, title = new_token(), title[:LONGEST_TITLE].strip()
    link = url_for("published.page", token=token, _external=True)
    body = on_paper(f"publish/{kind}", title=title, **context)
    printed = on_paper(
        "print/published",
        title=title,
        body=Markup(body),
        link=link,
        code=Markup(segno.make(link, error="m").svg_inline(scale=2, border=0)),
        stamp=Stamp.of(""),
    )
    frozen = Frozen(kind, title, body, data, pdf(printed))
    with current.writing() as session:
        publish(session, current.viewer(), token, frozen)
    notices.tell(f"Published: “{title}”. Whoever has the link can read it.")
    return redirect(url_for("published.show", _anchor=token[:8]), 303)
