"""The board's answer: its page, one row's inside, its data, and kept questions."""

from __future__ import annotations

from dataclasses import dataclass
from urllib.parse import parse_qsl

from flask import Blueprint, Response, current_app, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup
from werkzeug.datastructures import MultiDict

from curve_rank.arm.parameters import parameter_set
from curve_rank.background.draws import DrawRun
from curve_rank.catalogue import words
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError
from curve_rank.exchange.json_views import ranking_view
from curve_rank.figures.strip import strip
from curve_rank.figures.svg import svg
from curve_rank.figures.whisker import whisker
from curve_rank.rating.cannot_tell import about_target
from curve_rank.rating.cautions import CautionReason
from curve_rank.rating.certainty import RowCertainty, fixed_certainty
from curve_rank.rating.joints import joints
from curve_rank.rating.lenses import Lens
from curve_rank.rating.ranking import Question, Ranking, Row, rank
from curve_rank.rating.targets import known
from curve_rank.rating.words import gives_out
from curve_rank.store import people, questions
from curve_rank.store.documents import is_own
from curve_rank.store.people import SizedPerson
from curve_rank.store.rooms import KeptRoom
from curve_rank.store.rooms import rooms as kept_rooms
from curve_rank.store.tables import SavedQuestion
from curve_rank.study.claim_words import parameter_words
from curve_rank.web import arms, current, notices, publishing
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import QuestionForm
from curve_rank.web.question import AddressedQuestion, read_question

blueprint = Blueprint("board", __name__)

PUBLISHED_ROWS = 20
"""So many rows of a ranking are published."""

REPS = (5, 8, 10, 12, 15, 20)


@dataclass(frozen=True)
class BoardView:
    """The answer, and what stands around it on the page; while its draws are made, their run instead."""

    asked: AddressedQuestion
    told: Markup
    any_rows: bool
    run: DrawRun | None
    lenses: dict[str, Lens]
    people: list[SizedPerson]
    rooms: list[KeptRoom]
    kept: list[SavedQuestion]
    problem: str = ""
    typed_name: str = ""

    @property
    def equipment_words(self) -> str:
        """What is to hand, in words."""
        named = words.equipment()
        return _listed([named[item] for item in self.asked.question.equipment], "anything")

    @property
    def spare_words(self) -> str:
        """What is spared, in words."""
        return _listed([joints()[joint].name for joint in self.asked.question.spare], "nothing")


@dataclass(frozen=True)
class RowView:
    """One row's inside."""

    asked: AddressedQuestion
    row: Row
    cautions: tuple[CautionReason, ...]
    limit: str
    below: Row | None


@blueprint.get("/board")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The board; only the answer when a script asks for that."""
    asked = read_question(request.args)
    run = _drawing(asked)
    if run is not None and run.wait(arms.AT_ONCE):
        run = None
    view = _view(asked, run)
    template = "answer" if request.headers.get("X-Part") == "answer" else "board"
    response = Response(_page(view, template))
    response.headers["Vary"] = "X-Part"
    return response


@blueprint.get("/board/drawing.json")
@allowed(*TEACHING)
def drawing() -> ResponseReturnValue:
    """How far the draws are that a question's answer stands on."""
    run = _drawing(read_question(request.args))
    return jsonify(done=run.done if run else 1, total=run.total if run else 1, finished=run is None)


@blueprint.get("/board.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The board's data."""
    return jsonify(ranking_view(_rank(read_question(request.args)), current.modeller()))


@blueprint.get("/board/rows/<variant_id>")
@allowed(*TEACHING)
def row(variant_id: str) -> ResponseReturnValue:
    """What made one row: fetched when the row is opened."""
    asked = read_question(request.args)
    rows = {one.variant.id: one for one in _rank(asked).rows}
    found = known("variant", variant_id, rows)
    order = list(rows)
    below = rows.get(next(iter(order[order.index(variant_id) + 1 :]), ""))
    view = RowView(asked, found, current.cautions(found.modelled), gives_out(found.modelled), below)
    return render_template("pages/board/row.html", view=view)


@blueprint.post("/board/questions")
@allowed(*TEACHING)
def keep_question() -> ResponseReturnValue:
    """Keep the question under a name."""
    form = QuestionForm.read(request.form)
    asked = read_question(MultiDict(_pairs(form.address)))
    try:
        with current.writing() as session:
            questions.save_question(session, current.viewer(), name=form.name, address=asked.address)
    except BadInputError as error:
        return _page(_view(asked, problem=str(error), typed_name=form.name)), 400
    notices.tell(f"“{form.name}” is kept.")
    return redirect(f"{url_for('board.show')}?{asked.address}", 303)


@blueprint.post("/board/questions/<row:question_id>/remove")
@allowed(*TEACHING)
def remove_question(question_id: int) -> ResponseReturnValue:
    """Forget a kept question, with a way back."""
    with current.writing() as session:
        gone = questions.remove_question(session, current.viewer(), question_id)
    notices.tell(
        f"“{gone.name}” is no longer kept.",
        undo=url_for("board.keep_question"),
        address=gone.address,
        name=gone.name,
    )
    return redirect(f"{url_for('board.show')}?{gone.address}", 303)


@blueprint.post("/board/publish")
@allowed(*TEACHING)
def publish() -> ResponseReturnValue:
    """Publish the first rows of a ranking, with what was asked."""
    asked = read_question(request.args)
    ranking = _rank(asked)
    question, sure = asked.question, fixed_certainty(ranking, current.modeller())
    rows = ranking.rows[:PUBLISHED_ROWS]
    return publishing.keep(
        "ranking",
        f"{question.target.name} by {question.lens.name.lower()}",
        ranking_view(ranking, current.modeller()),
        sentence=f"{question.lens.school} {len(ranking.rows)} set-ups ranked, for {asked.client.name}, "
        f"{question.reps} repetitions to failure.",
        rows=[
            (
                row,
                strip(row.modelled, question.judged, "row"),
                n > 0 and sure.rows[n].tie == sure.rows[n - 1].tie,
            )
            for n, row in enumerate(rows)
        ],
    )


def _able(asked: AddressedQuestion) -> tuple[Variant, ...]:
    question = asked.question
    modelled = current.group_modelled(question.target.group, question.body, effort=question.effort)
    return tuple(m.variant for m in modelled)


def _name_of(asked: AddressedQuestion) -> tuple[object, ...]:
    """What an answer is kept under: all that goes into it."""
    question = asked.question
    among = tuple(v.digest for v in current.all_variants() if v.group == question.target.group)
    return "told", parameter_set().fingerprint, question, among, asked.address, request.script_root


def _drawing(asked: AddressedQuestion) -> DrawRun | None:
    if current.modeller().has(_name_of(asked)):
        return None
    return arms.drawing(_able(asked), asked.question.body, asked.question.effort)


def _rank(asked: AddressedQuestion) -> Ranking:
    arms.drawn(_able(asked), asked.question.body, asked.question.effort)
    return rank(asked.question, current.all_variants(), current.modeller())


def _view(
    asked: AddressedQuestion, run: DrawRun | None = None, *, problem: str = "", typed_name: str = ""
) -> BoardView:
    session, viewer = current.session(), current.viewer()
    told, any_rows = (Markup(), False) if run else _told(asked)
    return BoardView(
        asked=asked,
        told=told,
        any_rows=any_rows,
        run=run,
        lenses=current.all_lenses(),
        people=people.people_with_bodies(session, viewer),
        rooms=kept_rooms(session, viewer),
        kept=questions.saved_questions(session, viewer),
        problem=problem,
        typed_name=typed_name,
    )


def _page(view: BoardView, template: str = "board") -> str:
    return render_template(
        f"pages/board/{template}.html",
        view=view,
        loads=words.loads(),
        benches=words.benches(),
        joints=joints(),
        reps_choices=REPS,
    )


def _told(asked: AddressedQuestion) -> tuple[Markup, bool]:
    """What the model tells, and whether any set-up is ranked; kept by all that goes into it."""

    def make() -> tuple[Markup, bool]:
        ranking = _rank(asked)
        text = render_template(
            "pages/board/told.html",
            asked=asked,
            ranking=ranking,
            certainty=fixed_certainty(ranking, current.modeller()),
            entry=_entry,
            whisker=_whisker,
            parameter_words=parameter_words,
            cannot_tell=about_target(asked.question.target),
        )
        return Markup(text), bool(ranking.rows)

    return current.modeller().once(_name_of(asked), make)


def _entry(row: Row, question: Question) -> Markup:
    """What a row says without being opened, kept beside its model."""

    def make() -> Markup:
        template = current_app.jinja_env.get_template("pages/board/entry.html")
        cautions = current.cautions(row.modelled)
        return Markup(template.render(row=row, question=question, cautions=cautions, is_own=is_own))

    name = ("entry", question.judged.key, question.lens)
    return current.modeller().derived(row.modelled, name, make)


def _whisker(row: RowCertainty, rank: int, rows: int) -> Markup:
    """A whisker; many rows of many questions have the same."""
    name = ("whisker", row.rank_low, row.rank_high, rank, rows)
    return current.modeller().once(name, lambda: Markup(svg(whisker(row, rank, rows))))


def _listed(items: list[str], nothing: str) -> str:
    if not items:
        return nothing
    return items[0] if len(items) == 1 else ", ".join(items[:-1]) + " and " + items[-1]


def _pairs(query: str) -> list[tuple[str, str]]:
    try:
        return parse_qsl(query, keep_blank_values=True, max_num_fields=60) if query else []
    except ValueError as error:
        raise BadInputError("address", query, "a question's address") from error
