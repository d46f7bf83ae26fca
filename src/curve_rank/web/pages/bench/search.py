"""What would make it better: a search of the bench's set-up, begun, watched and stopped."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue

from curve_rank.answers.bench_state import BenchState
from curve_rank.arm.rep_setup import effort_for_reps
from curve_rank.background.searches import SearchQuestion, SearchRun
from curve_rank.catalogue.setups import setting_text
from curve_rank.errors import UnknownNameError
from curve_rank.exchange.study_views import search_view
from curve_rank.rating.targets import known, targets
from curve_rank.study.improve import Improvement, parse_aim
from curve_rank.web import arms, current
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import SearchForm
from curve_rank.web.pages.bench.state import state_asked


def register(blueprint: Blueprint) -> None:
    """The routes, beside those of the bench."""
    for ending, view, method in (("", begin, "POST"), ("/run", look, "GET"), ("/stop", stop, "POST")):
        blueprint.add_url_rule(
            f"/<variant_id>/search{ending}",
            f"search_{view.__name__}",
            allowed(*TEACHING)(view),
            methods=[method],
        )


def begin(variant_id: str) -> ResponseReturnValue:
    """Begin a search, or join the one under way for the same question."""
    state, question = _asked(variant_id)
    run = current.desk().searches.start(
        current.viewer().person,
        question,
        current.modeller(),
        arms.draw_outside_requests(question.body, question.effort),
    )
    return jsonify(_told(state, run))


def look(variant_id: str) -> ResponseReturnValue:
    """How far it is, and what it found once it has ended."""
    state, question = _asked(variant_id)
    return jsonify(_told(state, _run(question)))


def stop(variant_id: str) -> ResponseReturnValue:
    """Stop it."""
    state, question = _asked(variant_id)
    run = _run(question)
    run.cancel()
    return jsonify(_told(state, run))


def _run(question: SearchQuestion) -> SearchRun:
    name = SearchForm.read(request.args).run
    run = current.desk().searches.run(current.viewer().person, question, name)
    if run is None:
        raise UnknownNameError("run", name, "a search of this set-up that was begun a moment ago")
    return run


def _asked(variant_id: str) -> tuple[BenchState, SearchQuestion]:
    """The bench's state, and what is searched from there.

    Raises
    ------
    CurveRankError
    """
    state, form = state_asked(variant_id, request.args), SearchForm.read(request.args)
    head = known("head", form.head or state.target.key, targets()).heads[0]
    aim = parse_aim(f"{form.aim} {form.way}", head, form.keep)
    return state, SearchQuestion(state.changed, aim, state.client.body, effort_for_reps(state.reps))


def _told(state: BenchState, run: SearchRun) -> dict[str, Any]:
    told: dict[str, Any] = {"run": run.name} | run.told
    if run.found is None:
        return told
    page = render_template(
        "pages/bench/found.html", found=run.found, address=lambda one: _address(state, one)
    )
    return told | {"found": search_view(run.found), "html": page}


def _address(state: BenchState, one: Improvement) -> str:
    """The bench with what an improvement changes."""
    changes = {change.field: change for change in state.changes}
    for change in one.changes:
        changes.pop(change.control.field, None)
        changes[change.control.field] = change.setting
    return state.address(set=tuple(setting_text(change) for change in changes.values()))
