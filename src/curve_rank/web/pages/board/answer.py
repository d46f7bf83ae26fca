"""The board's answer: its page, one row's inside, its data, and kept questions."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Blueprint, current_app, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.answers.beside import decided
from curve_rank.answers.board import AddressedQuestion, BoardAnswer, BoardRow, RowSureness, board
from curve_rank.answers.drawn import row_picture
from curve_rank.answers.leaflets import ranking
from curve_rank.answers.plain import plain
from curve_rank.answers.requests import Address
from curve_rank.arm.parameters import parameter_set
from curve_rank.background.draws import DrawRun
from curve_rank.catalogue.equipment import kinds_of_equipment
from curve_rank.errors import BadInputError
from curve_rank.figures.svg import svg
from curve_rank.figures.whisker import whisker
from curve_rank.rating.joints import joints
from curve_rank.rating.lenses import Lens
from curve_rank.rating.ranking import Question
from curve_rank.rating.targets import known
from curve_rank.rating.words import in_a_row
from curve_rank.store import people, questions
from curve_rank.store.names import is_own
from curve_rank.store.people import SizedPerson
from curve_rank.store.rooms import KeptRoom
from curve_rank.store.rooms import rooms as kept_rooms
from curve_rank.store.tables import SavedQuestion
from curve_rank.web import arms, current, notices, publishing
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.arms import StillDrawingError
from curve_rank.web.forms import QuestionForm
from curve_rank.web.parts import asks_for
from curve_rank.web.question import read_question

blueprint = Blueprint("board", __name__)

REPS = (5, 8, 10, 12, 15, 20)


@dataclass(frozen=True)
class BoardView:
    """What stands around the answer on the page; while its draws are made, their run."""

    asked: AddressedQuestion
    text: Markup
    any_rows: bool
    run: DrawRun | None
    lenses: dict[str, Lens]
    people: list[SizedPerson]
    rooms: list[KeptRoom]
    equipment: tuple[dict[str, str], ...]
    kept: list[SavedQuestion]
    problem: str = ""
    typed_name: str = ""

    @property
    def equipment_words(self) -> str:
        """What is to hand, in words."""
        named = {key: name for kinds in self.equipment for key, name in kinds.items()}
        return in_a_row([named.get(item, item) for item in self.asked.question.equipment], "anything")

    @property
    def spare_words(self) -> str:
        """What is spared, in words."""
        return in_a_row([joints()[joint].name for joint in self.asked.question.spare], "nothing")


@blueprint.get("/board")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The board; only the answer when a script asks for that."""
    return _page(_view(read_question(request.args)), "answer" if asks_for("answer") else "board")


@blueprint.get("/board/drawing.json")
@allowed(*TEACHING)
def drawing() -> ResponseReturnValue:
    """How far the draws are that a question's answer stands on."""
    asked = read_question(request.args).question
    able = arms.means().able(asked.target.group, asked.body, asked.effort)
    run = arms.drawing(tuple(m.variant for m in able), asked.body, asked.effort)
    return jsonify(done=run.done if run else 1, total=run.total if run else 1, finished=run is None)


@blueprint.get("/board.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The board's data."""
    return jsonify(plain(board(arms.means(), read_question(request.args).question)))


@blueprint.get("/board/rows/<variant_id>")
@allowed(*TEACHING)
def row(variant_id: str) -> ResponseReturnValue:
    """What made one row: fetched when the row is opened."""
    asked = read_question(request.args)
    answer = board(arms.means(), asked.question)
    found = known("variant", variant_id, {one.variant: one for one in answer.rows})
    picture = row_picture(arms.means(), asked.question, found.document, asked.client.hair)
    below = answer.below(found)
    return render_template(
        "pages/board/row.html",
        asked=asked,
        row=found,
        below=below,
        decided=_decided(asked.question, found, below) if below else "",
        drawn=picture,
    )


@blueprint.post("/board/questions")
@allowed(*TEACHING)
def keep_question() -> ResponseReturnValue:
    """Keep the question under a name."""
    form = QuestionForm.read(request.form)
    asked = read_question(Address(form.address))
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
    return publishing.keep(ranking(asked, board(arms.means(), asked.question)))


def _decided(question: Question, row: BoardRow, below: BoardRow) -> str:
    places = ((one.rank, one.document) for one in (row, below))
    return decided(arms.means(), question, *places)


def _name_of(asked: AddressedQuestion) -> tuple[object, ...]:
    """What an answer's text is kept under: all that goes into it."""
    question = asked.question
    among = tuple(v.digest for v in current.library().variants if v.group == question.target.group)
    edition, unit = parameter_set().fingerprint, current.unit()
    return "board text", edition, question, among, asked.address, request.script_root, unit


def _view(asked: AddressedQuestion, *, problem: str = "", typed_name: str = "") -> BoardView:
    session, viewer = current.session(), current.viewer()
    run, text, any_rows = None, Markup(), False
    try:
        text, any_rows = current.modeller().once(_name_of(asked), lambda: _text(asked))
    except StillDrawingError as drawing:
        run = drawing.run
    return BoardView(
        asked=asked,
        text=text,
        any_rows=any_rows,
        run=run,
        lenses=current.library().lenses,
        people=people.people_with_bodies(session, viewer),
        rooms=kept_rooms(session, viewer),
        equipment=kinds_of_equipment(current.library().variants),
        kept=questions.saved_questions(session, viewer),
        problem=problem,
        typed_name=typed_name,
    )


def _page(view: BoardView, template: str = "board") -> str:
    return render_template(
        f"pages/board/{template}.html",
        view=view,
        equipment=view.equipment,
        joints=joints(),
        reps_choices=REPS,
    )


def _text(asked: AddressedQuestion) -> tuple[Markup, bool]:
    """What is said to everyone who asks this, and whether any set-up is ranked."""
    answer = board(arms.means(), asked.question)
    text = render_template(
        "pages/board/told.html", asked=asked, answer=answer, entry=_entry, whisker=_whisker
    )
    return Markup(text), bool(answer.rows)


def _entry(row: BoardRow, question: Question, answer: BoardAnswer) -> Markup:
    """What a row says without being opened; many questions have the same."""

    def make() -> Markup:
        template = current_app.jinja_env.get_template("pages/board/entry.html")
        return Markup(template.render(row=row, question=question, is_own=is_own, spared=spared))

    spared = [(one.values[row.variant], one.unit) for one in answer.spared]
    asks = row.why_here.surprise if row.why_here else ""
    judged, unit = question.judged.key, current.unit()
    name = ("entry", row.key, judged, question.weighing, tuple(spared), row.differs, asks, unit)
    return current.modeller().once(name, make)


def _whisker(row: RowSureness, rank: int, rows: int) -> Markup:
    """A whisker; many rows of many questions have the same."""
    low, high = row.rank_interval
    return current.modeller().once(
        ("whisker", low, high, rank, rows), lambda: Markup(svg(whisker(low, high, rank, rows)))
    )
