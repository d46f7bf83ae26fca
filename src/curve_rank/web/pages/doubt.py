"""Doubt a number: what a list and the claims stand on, and what they would be were it something else."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue

from curve_rank.answers.board import AddressedQuestion
from curve_rank.answers.doubt import (
    DoubtAnswer,
    DoubtedNumber,
    DoubtRequest,
    claims_doubted,
    doubt,
    numbers,
)
from curve_rank.answers.plain import plain
from curve_rank.rating.lenses import Lens
from curve_rank.store import people
from curve_rank.store.people import SizedPerson
from curve_rank.study.claim_words import OUTCOMES
from curve_rank.study.doubt import MOST_SPREADS
from curve_rank.web import arms, current
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.parts import asks_for
from curve_rank.web.question import read_question

blueprint = Blueprint("doubt", __name__)


@dataclass(frozen=True)
class DoubtView:
    """What stands around the answer: what there is to choose from."""

    answer: DoubtAnswer
    numbers: dict[str, list[DoubtedNumber]]
    lenses: dict[str, Lens]
    people: list[SizedPerson]

    @property
    def asked(self) -> AddressedQuestion:
        """The question."""
        return self.answer.asked


@blueprint.get("/doubt")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """A list and one number; only the answer when a script asks for that."""
    answer = _answer()
    if asks_for("answer"):
        return render_template("pages/doubt/answer.html", answer=answer, numbers=numbers())
    return render_template("pages/doubt/doubt.html", view=_view(answer), numbers=numbers(), most=MOST_SPREADS)


@blueprint.get("/doubt.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The same for other programs."""
    return jsonify(plain(_answer()))


@blueprint.get("/doubt/claims")
@allowed(*TEACHING)
def claims() -> ResponseReturnValue:
    """Which claims would read otherwise."""
    query = DoubtRequest.read(request.args)
    found = claims_doubted(arms.means(waits=True), query.doubts())
    return render_template("pages/doubt/claims.html", found=found, outcomes=OUTCOMES)


@blueprint.get("/doubt/claims.json")
@allowed(*TEACHING)
def claims_data() -> ResponseReturnValue:
    """The same for other programs."""
    query = DoubtRequest.read(request.args)
    return jsonify(plain(claims_doubted(arms.means(), query.doubts())))


def _answer() -> DoubtAnswer:
    query = DoubtRequest.read(request.args)
    return doubt(arms.means(), read_question(request.args), query.doubts())


def _view(answer: DoubtAnswer) -> DoubtView:
    kinds: dict[str, list[DoubtedNumber]] = {}
    for one in numbers():
        kinds.setdefault(one.kind, []).append(one)
    sized = people.people_with_bodies(current.session(), current.viewer())
    return DoubtView(answer, kinds, current.library().lenses, sized)
