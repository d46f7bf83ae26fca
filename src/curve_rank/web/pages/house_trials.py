"""Trials over people: a question, two ways, a coin, and a day on which it is looked at."""

from __future__ import annotations

import secrets
from datetime import UTC, datetime, timedelta

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.house_trials import house_trial_answer
from curve_rank.answers.plain import plain
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.house.growth import DESIGNS, people_needed
from curve_rank.rating.targets import known
from curve_rank.store import people
from curve_rank.store.house import house_trials, pooling
from curve_rank.web import current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms.house import HouseTrialForm, JoinForm, NewTrialQuery
from curve_rank.web.problems import status_of

blueprint = Blueprint("house_trials", __name__)

DIFFERENCES = (0.3, 0.5, 1.0)
"""For which a page says how many people it takes [cm]."""


@blueprint.get("/house/trials")
@allowed(*TEACHING)
def index() -> ResponseReturnValue:
    """All of one's own, and a new one."""
    return _index()


@blueprint.post("/house/trials")
@allowed(*TEACHING)
def make() -> ResponseReturnValue:
    """Ask a question; nobody takes part yet."""
    try:
        form = HouseTrialForm.read(request.form)
        if form.claim:
            known("claim", form.claim, current.library().claims)
        with current.writing() as session:
            number = house_trials.add_house_trial(
                session, current.viewer(),
                name=form.name, ways=(form.first, form.second), difference=form.difference,
                dates=(form.begins, form.looks_on), seed=secrets.randbelow(2**31), claim=form.claim,
            )  # fmt: skip
    except (BadInputError, UnknownNameError) as error:
        return _index(str(error)), status_of(error)
    return redirect(url_for("house_trials.show", number=number), 303)


@blueprint.get("/house/trials/<row:number>")
@allowed(*TEACHING)
def show(number: int) -> ResponseReturnValue:
    """One trial."""
    return _page(number)


@blueprint.get("/house/trials/<row:number>.json")
@allowed(*TEACHING)
def data(number: int) -> ResponseReturnValue:
    """The same for other programs."""
    return jsonify(plain(house_trial_answer(current.session(), current.viewer(), number)[1]))


@blueprint.post("/house/trials/<row:number>/people")
@allowed(*TEACHING)
def join(number: int) -> ResponseReturnValue:
    """Let the coin give somebody a way."""
    try:
        form = JoinForm.read(request.form)
        with current.writing() as session:
            trial = house_trials.house_trial(session, current.viewer(), number)
            today = datetime.now(UTC).date()
            way = house_trials.join(session, current.viewer(), number, form.person, today)
    except BadInputError as error:
        return _page(number, str(error)), status_of(error)
    notices.tell(f"The coin says: {trial.ways[way]}.")
    return redirect(url_for("house_trials.show", number=number), 303)


def _page(number: int, problem: str = "") -> str:
    session, viewer = current.session(), current.viewer()
    trial, answer = house_trial_answer(session, viewer, number)
    part, agreed = {one[0] for one in trial.people}, set(pooling.agreed(session, viewer))
    could = [one for one in people.people_with_bodies(session, viewer) if one.id in agreed - part]
    return render_template(
        "pages/house/trial.html", trial=trial, answer=answer, could=could, problem=problem,
        claim=current.library().claims.get(trial.claim),
    )  # fmt: skip


def _index(problem: str = "") -> str:
    today, claim = datetime.now(UTC).date(), NewTrialQuery.read(request.values).claim
    sizes = [
        (words, [people_needed(one, key, 2 if key == "in turn" else 1) for one in DIFFERENCES])
        for key, words in DESIGNS.items()
    ]
    return render_template(
        "pages/house/trials.html",
        trials=house_trials.house_trials(current.session(), current.viewer()),
        sizes=sizes,
        differences=DIFFERENCES,
        begins=today,
        looks_on=today + timedelta(weeks=8),
        problem=problem,
        claim=current.library().claims.get(claim),
        claim_key=claim,
    )
