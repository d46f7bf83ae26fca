"""The board: a question in a sentence, answered with ranked rows."""

from __future__ import annotations

from dataclasses import dataclass
from urllib.parse import parse_qsl, urlencode

from flask import Blueprint, Response, flash, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from werkzeug.datastructures import MultiDict

from curve_rank.arm.body import Body
from curve_rank.arm.setup import DEFAULT_EFFORT_REPS
from curve_rank.exchange.views import ranking_view
from curve_rank.rating.cautions import cautions_for
from curve_rank.rating.ranking import Question, Ranking, rank
from curve_rank.rating.vocabulary import BENCHES, EQUIPMENT, LOADS, aims, joints
from curve_rank.rating.why import limit_words
from curve_rank.store import people
from curve_rank.store.database import local_educator
from curve_rank.store.variants import PREFIX
from curve_rank.web.library import all_lenses, all_variants, modeller, own_lens_named, store
from curve_rank.web.typed import whole

blueprint = Blueprint("board", __name__)

REPS = (5, 8, 10, 12, 15, 20)


@dataclass(frozen=True)
class Asked:
    """A question as it stands in the address, and who it is for."""

    question: Question
    person_id: int | None
    person_name: str

    @property
    def address(self) -> str:
        """The question as a query string, in one fixed order."""
        parts: list[tuple[str, str]] = [("target", self.question.target), ("lens", self.question.lens)]
        parts += [("with", item) for item in self.question.equipment]
        parts += [("for", str(self.person_id))] if self.person_id is not None else []
        parts += [("spare", joint) for joint in self.question.spare]
        parts += [("reps", str(self.question.reps))] if self.question.reps != DEFAULT_EFFORT_REPS else []
        return urlencode(parts)


def asked(args: MultiDict[str, str]) -> Asked:
    """Read a question from an address.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    person_id = whole(args, "for")
    name, body = "the default body", Body()
    if person_id is not None:
        with store().session() as session:
            person = people.person(session, person_id)
            name, body = person.name, people.body_of(person)
    lens = args.get("lens", "long_length")
    question = Question(
        target=args.get("target", "biceps_long"),
        lens=lens,
        own_lens=own_lens_named(lens),
        equipment=tuple(dict.fromkeys(item for item in args.getlist("with") if item)),
        spare=tuple(dict.fromkeys(item for item in args.getlist("spare") if item)),
        body=body,
        reps=whole(args, "reps") or DEFAULT_EFFORT_REPS,
    )
    return Asked(question, person_id, name)


@blueprint.get("/board")
def show() -> ResponseReturnValue:
    """The board; only the answer when a script asks for that."""
    asking = asked(request.args)
    ranking = rank(asking.question, all_variants(), modeller())
    context = _context(asking, ranking)
    template = "board/answer.html" if request.headers.get("X-Part") == "answer" else "board/board.html"
    response = Response(render_template(template, **context))
    response.headers["Vary"] = "X-Part"
    return response


@blueprint.get("/board.json")
def data() -> ResponseReturnValue:
    """The board's data."""
    return jsonify(ranking_view(rank(asked(request.args).question, all_variants(), modeller())))


@blueprint.post("/board/questions")
def keep_question() -> ResponseReturnValue:
    """Keep the question under a name."""
    query = MultiDict(_pairs(request.form.get("address", "")))
    asking = asked(query)
    with store().session() as session:
        people.save_question(
            session, local_educator(session), name=request.form.get("name", ""), address=asking.address
        )
    return redirect(url_for(".show") + "?" + asking.address, 303)


@blueprint.post("/board/questions/<int:question_id>/remove")
def remove_question(question_id: int) -> ResponseReturnValue:
    """Forget a kept question, with a way back."""
    with store().session() as session:
        gone = people.remove_question(session, question_id)
    flash(f"{gone.address}\n{gone.name}", "question-removed")
    return redirect(url_for(".show") + "?" + gone.address, 303)


def _context(asking: Asked, ranking: Ranking) -> dict[str, object]:
    with store().session() as session:
        return {
            "asked": asking,
            "ranking": ranking,
            "aims": aims(),
            "lenses": all_lenses(),
            "loads": LOADS,
            "benches": BENCHES,
            "joints": joints(),
            "reps_choices": REPS,
            "people": people.people_with_bodies(session),
            "rooms": people.rooms(session),
            "kept": people.saved_questions(session),
            "equipment_words": _words(tuple(EQUIPMENT[e] for e in asking.question.equipment), "anything"),
            "spare_words": _words(tuple(joints()[j].name for j in asking.question.spare), "nothing"),
            "limit_words": limit_words,
            "own_prefix": PREFIX,
            "cautions_for": cautions_for,
        }


def _words(items: tuple[str, ...], nothing: str) -> str:
    if not items:
        return nothing
    return items[0] if len(items) == 1 else ", ".join(items[:-1]) + " and " + items[-1]


def _pairs(query: str) -> list[tuple[str, str]]:
    return parse_qsl(query, keep_blank_values=True, max_num_fields=60) if query else []
