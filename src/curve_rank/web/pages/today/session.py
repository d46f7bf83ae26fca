"""Today: the next session, or another one, with every target, its reason, and what may stand instead."""

from __future__ import annotations

from flask import jsonify, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.plain import plain
from curve_rank.answers.today import TodayAnswer, TodayRequest, today
from curve_rank.catalogue import words
from curve_rank.practice.profile import WEEKDAYS
from curve_rank.rating.joints import joints
from curve_rank.store.house import forecasts
from curve_rank.study.strictness import MANNERS
from curve_rank.web import arms, current
from curve_rank.web.access import EVERYONE, allowed
from curve_rank.web.pages.today import blueprint


@blueprint.get("/today")
@allowed(*EVERYONE)
def show() -> ResponseReturnValue:
    """The next session, or the one that is named."""
    answer, viewer = _answer(), current.viewer()
    if answer is None:
        return render_template("pages/today/none.html", person=viewer.person)
    page = render_template(
        "pages/today/session.html",
        answer=answer,
        script=answer.as_script() | _addresses(),
        weekdays=WEEKDAYS,
        joints=joints(),
        manners=MANNERS,
        groups=words.groups(),
    )
    return page, _kept_until()


@blueprint.get("/today/instead")
@allowed(*EVERYONE)
def instead() -> ResponseReturnValue:
    """What may stand instead of each exercise, as the page shows it: most of what there is to send."""
    answer = _answer()
    page = render_template("pages/today/instead.html", answer=answer) if answer else ""
    return page, _kept_until()


@blueprint.get("/today.json")
@allowed(*EVERYONE)
def data() -> ResponseReturnValue:
    """The same for other programs."""
    answer = _answer()
    if answer is None:
        return jsonify({"person": current.viewer().person, "exercises": []})
    return jsonify(plain(answer) | _addresses())


def _kept_until() -> dict[str, str]:
    """For so long a phone may open it without a connection."""
    return {"X-Signed-In-Until": f"{current.signed_in_until():%Y-%m-%dT%H:%M:%SZ}"}


def _addresses() -> dict[str, str]:
    return {"log": url_for("today.send"), "queue": url_for("today.queue")}


def _answer() -> TodayAnswer | None:
    """What is done today; None for somebody whose size nobody knows."""
    asked, viewer, session = TodayRequest.read(request.args), current.viewer(), current.session()
    answer = today(session, viewer, arms.means(viewer), asked)
    if answer is not None and answer.foretold:
        told = answer.foretold
        if not forecasts.are_kept(session, viewer.person, answer.day, [one.variant for one in told]):
            with current.writing() as writing:
                forecasts.keep_forecasts(writing, viewer.person, answer.day, told)
    return answer
