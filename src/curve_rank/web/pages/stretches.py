"""Stretches: positions to hold after training, by the timer."""

from __future__ import annotations

from contextlib import suppress

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue

from curve_rank.answers.plain import plain
from curve_rank.answers.stretches import CAUTION, StretchesAnswer, StretchRequest, stretches_for
from curve_rank.errors import UnknownNameError
from curve_rank.store import people
from curve_rank.web import arms, current
from curve_rank.web.access import EVERYONE, allowed

blueprint = Blueprint("stretches", __name__)


@blueprint.get("/stretches")
@allowed(*EVERYONE)
def show() -> ResponseReturnValue:
    """One's own, or those of somebody whom the viewer may see."""
    answer = _answer()
    return render_template("pages/stretches/stretches.html", answer=answer, caution=CAUTION)


@blueprint.get("/stretches.json")
@allowed(*EVERYONE)
def data() -> ResponseReturnValue:
    """The same for other programs."""
    return jsonify(plain(_answer()))


def _answer() -> StretchesAnswer:
    asked, session, viewer = StretchRequest.read(request.args), current.session(), current.viewer()
    if asked.person is None:
        with suppress(UnknownNameError):  # whose size nobody knows is shown the default body's
            own = people.person(session, viewer, viewer.person)
            asked = asked.model_copy(update={"person": own.id})
    return stretches_for(session, viewer, arms.means(), asked)
