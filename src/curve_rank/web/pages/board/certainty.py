"""How sure a ranking is: draws started, watched and cancelled from the board."""

from __future__ import annotations

from flask import Blueprint, jsonify, request
from flask.typing import ResponseReturnValue

from curve_rank.answers.certainty import CertaintyQuestion, DrawsRequest, certainty_question
from curve_rank.background.draws import DrawRun
from curve_rank.web import arms, current
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.question import read_question

blueprint = Blueprint("certainty", __name__)


@blueprint.get("/certainty.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """How sure: from kept draws, or from those of the viewer's run for this question."""
    asked = _read()
    sure = asked.found
    if sure is not None:
        return jsonify(asked.view("finished", asked.query.draws, sure))
    run = _run(asked)
    if run is None:
        return jsonify(asked.view("none", 0, None))
    told = asked.view(run.state, run.done, asked.so_far(run), run.problem)
    return jsonify(told | {"waiting": run.waiting})


@blueprint.post("/certainty/start")
@allowed(*TEACHING)
def start() -> ResponseReturnValue:
    """Start the draws, or join the viewer's run that does the same; answers with the run's name."""
    asked = _read()
    run = current.draws().start(current.viewer().person, asked.of_group)
    return jsonify(run=run.name, total=run.total)


@blueprint.post("/certainty/cancel")
@allowed(*TEACHING)
def cancel() -> ResponseReturnValue:
    """Cancel the viewer's run for this question; what is done so far stays."""
    run = _run(_read())
    if run is not None:
        run.cancel()
    return jsonify(cancelled=run is not None)


def _read() -> CertaintyQuestion:
    query, asked = DrawsRequest.read(request.values), read_question(request.values).question
    return certainty_question(arms.means(), current.draws(), asked, query)


def _run(asked: CertaintyQuestion) -> DrawRun | None:
    if not asked.query.run:
        return None
    return current.draws().run(current.viewer().person, asked.of_group, asked.query.run)
