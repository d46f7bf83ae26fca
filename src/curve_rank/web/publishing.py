"""Publishing what a page shows, and going to the list of what is published."""

from __future__ import annotations

from flask import jsonify, redirect, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.published import freeze
from curve_rank.exchange.leaflet import Leaflet, read_in
from curve_rank.store import publications
from curve_rank.web import current, notices
from curve_rank.web.problems import wants_json


def keep(made: Leaflet) -> ResponseReturnValue:
    """Freeze it behind a link, and show it in the list.

    Raises
    ------
    BadInputError
    """
    token, frozen = freeze(read_in(made, current.unit()), link_of)
    with current.writing() as session:
        publications.publish(session, current.viewer(), token, frozen)
    if wants_json():
        return jsonify(title=made.title, link=link_of(token), pdf=f"{link_of(token)}.pdf"), 201
    notices.tell(f"Published: “{made.title}”. Whoever has the link can read it.")
    return redirect(url_for("published.show", _anchor=token[:8]), 303)


def link_of(token: str) -> str:
    """Where a published page is read."""
    return url_for("published.page", token=token, _external=True)
