"""Where measuring begins: three ways, and what was measured."""

from __future__ import annotations

from flask import Blueprint, render_template
from flask.typing import ResponseReturnValue

from curve_rank.store import captures, pictures
from curve_rank.store.documents import own_profiles, unreadable
from curve_rank.web import current
from curve_rank.web.access import TEACHING, allowed


def register(blueprint: Blueprint) -> None:
    """The route."""
    blueprint.add_url_rule("", "show", allowed(*TEACHING)(show))


def show() -> ResponseReturnValue:
    """The three ways, and what came of them."""
    session, viewer = current.session(), current.viewer()
    return render_template(
        "pages/measure/overview.html",
        captures=captures.kept(session, viewer),
        sets=pictures.listed(session, viewer),
        profiles=own_profiles(session, viewer),
        damaged_profiles=unreadable(session, viewer, "profile"),
    )
