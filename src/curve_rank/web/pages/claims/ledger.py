"""The ledger of claims with their verdicts, and one claim with all it stands on."""

from __future__ import annotations

from datetime import UTC, datetime

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.answers.claims import ClaimAnswer, ClaimBook, ClaimsRequest, LedgerAnswer
from curve_rank.answers.house_growth import about_growth, dose_seen
from curve_rank.answers.house_pan import house_pan
from curve_rank.answers.house_trials import trials_seen
from curve_rank.answers.leaflets import a_claim
from curve_rank.answers.plain import plain
from curve_rank.figures.balance import balance
from curve_rank.figures.svg import svg
from curve_rank.store.documents import unreadable, versions
from curve_rank.store.sharing import is_mine
from curve_rank.study.claim_words import OUTCOMES, parameter_words, turn_words
from curve_rank.study.verdicts import Verdict
from curve_rank.web import arms, current, publishing
from curve_rank.web.access import TEACHING, allowed

blueprint = Blueprint("claims", __name__)

AT_ONCE = 0.5
"""The ledger is answered with verdicts that are made within this [s]."""


@blueprint.get("/claims")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The ledger; what has no verdict yet is being worked out."""
    return render_template(
        "pages/claims/ledger.html",
        answer=_ledger(),
        outcomes=OUTCOMES,
        scale=scale,
        damaged_claims=unreadable(current.session(), current.viewer(), "claim"),
    )


@blueprint.get("/claims.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The ledger's data."""
    return jsonify([plain(entry) for entry in _ledger().shown])


@blueprint.get("/claims/working.json")
@allowed(*TEACHING)
def working() -> ResponseReturnValue:
    """How far the verdicts are that are being worked out."""
    book = _book()
    run = book.work_out(book.entries())
    if run is None:
        return jsonify({"state": "finished", "done": 0, "total": 0})
    run.ask()
    return jsonify(run.told)


@blueprint.get("/claims/<key>")
@allowed(*TEACHING)
def one(key: str) -> ResponseReturnValue:
    """One claim."""
    answer, session, viewer = _claim(key), current.session(), current.viewer()
    mine, grows = is_mine(session, viewer, "claim", key), about_growth(answer.entry.claim)
    return render_template(
        "pages/claims/claim.html",
        answer=answer,
        entry=answer.entry,
        claim=answer.entry.claim,
        scale=scale,
        turn_words=turn_words,
        parameter_words=parameter_words,
        is_mine=mine,
        doses=dose_seen(session, viewer) if grows else None,
        trials=trials_seen(session, viewer, key, datetime.now(UTC).date()) if grows else None,
        pan=house_pan(session, viewer, arms.means(waits=True), answer.entry.claim),
        versions=versions(session, viewer, "claim", key) if mine else (),
    )


@blueprint.get("/claims/<key>.json")
@allowed(*TEACHING)
def one_data(key: str) -> ResponseReturnValue:
    """Its data."""
    return jsonify(plain(_claim(key).entry))


@blueprint.post("/claims/<key>/publish")
@allowed(*TEACHING)
def publish(key: str) -> ResponseReturnValue:
    """Publish a claim with its verdict.

    Raises
    ------
    BadInputError
        While the verdict is being worked out.
    """
    return publishing.keep(a_claim(_claim(key)))


def scale(verdict: Verdict | None) -> Markup:
    """The scale of a verdict."""
    return Markup(svg(balance(verdict.probability if verdict else None)))


def _book() -> ClaimBook:
    return ClaimBook(current.desk(), current.session(), current.viewer(), arms.means(waits=True))


def _ledger() -> LedgerAnswer:
    return _book().ledger(ClaimsRequest.read(request.args), AT_ONCE)


def _claim(key: str) -> ClaimAnswer:
    return _book().claim(key, arms.AT_ONCE)
