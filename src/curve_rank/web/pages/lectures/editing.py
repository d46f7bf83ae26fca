"""Lectures as documents: listed, begun, put together, and taken along as PDF."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.lectures import LectureAnswer, lecture_pdf
from curve_rank.errors import BadInputError
from curve_rank.rating.targets import known
from curve_rank.store import documents
from curve_rank.study.lecture import Lecture, validate_lecture
from curve_rank.study.sketch import quizzes
from curve_rank.web import arms, current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.files import named_file
from curve_rank.web.forms.lecturing import Adding, LectureForm, NewLecture
from curve_rank.web.problems import status_of

blueprint = Blueprint("lectures", __name__)

KIND = "lecture"
QUESTIONS, DECK = 24, 29
"""So many questions are offered for a room, and the deck that they are of."""


@blueprint.get("/lectures")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The list."""
    return _list(NewLecture.read(request.args))


@blueprint.post("/lectures")
@allowed(*TEACHING)
def begin() -> ResponseReturnValue:
    """A new lecture, with a page as its first slide where one is named."""
    form = NewLecture.read(request.form)
    slides = [{"kind": "page", "what": form.page}] if form.page else []
    try:
        with current.writing() as session:
            lecture = validate_lecture({"name": form.name.strip(), "slides": slides})
            slug = documents.save_new(session, current.viewer(), KIND, lecture, name=form.name)
    except BadInputError as error:
        return _list(form, str(error)), status_of(error)
    return redirect(url_for("lectures.edit", slug=slug), 303)


@blueprint.get("/lectures/add")
@allowed(*TEACHING)
def add_page() -> ResponseReturnValue:
    """Which lecture a page goes into."""
    return _list(NewLecture.read(request.args))


@blueprint.post("/lectures/add")
@allowed(*TEACHING)
def add() -> ResponseReturnValue:
    """Put a page at the end of a lecture."""
    form = Adding.read(request.form)
    with current.writing() as session:
        lecture = _lecture(form.lecture)
        page = {"kind": "page", "what": form.page}
        changed = validate_lecture({"name": lecture.name, "slides": [*lecture.model_dump()["slides"], page]})
        documents.save_version(session, current.viewer(), KIND, form.lecture, changed)
    notices.tell(f"Into “{lecture.name}”, as its last slide.")
    return redirect(url_for("lectures.edit", slug=form.lecture), 303)


@blueprint.get("/lectures/<slug>")
@allowed(*TEACHING)
def edit(slug: str) -> ResponseReturnValue:
    """One lecture, to be put together."""
    return _editor(slug, _lecture(slug))


@blueprint.post("/lectures/<slug>")
@allowed(*TEACHING)
def save(slug: str) -> ResponseReturnValue:
    """Keep it as it stands in the editor, with what was done to it."""
    form = LectureForm.read(request.form)
    try:
        lecture = form.as_lecture()
        with current.writing() as session:
            documents.save_version(session, current.viewer(), KIND, slug, lecture)
    except BadInputError as error:
        return _editor(slug, _lecture(slug), str(error)), status_of(error)
    return redirect(url_for("lectures.edit", slug=slug), 303)


@blueprint.post("/lectures/<slug>/remove")
@allowed(*TEACHING)
def remove(slug: str) -> ResponseReturnValue:
    """Take it off the list, with a way back."""
    with current.writing() as session:
        name = documents.set_removed(session, current.viewer(), KIND, slug, removed=True)
    notices.tell(f"“{name}” is off the list.", undo=url_for("lectures.put_back", slug=slug))
    return redirect(url_for("lectures.show"), 303)


@blueprint.post("/lectures/<slug>/put-back")
@allowed(*TEACHING)
def put_back(slug: str) -> ResponseReturnValue:
    """Put it back."""
    with current.writing() as session:
        documents.set_removed(session, current.viewer(), KIND, slug, removed=False)
    return redirect(url_for("lectures.edit", slug=slug), 303)


@blueprint.get("/lectures/<slug>.pdf")
@allowed(*TEACHING)
def printed(slug: str) -> ResponseReturnValue:
    """All slides, a page each."""
    return named_file(lecture_pdf(answer_of(slug)), "application/pdf", f"{slug}.pdf", inline=True)


def answer_of(slug: str) -> LectureAnswer:
    """A lecture of one's own, its slides as they are asked for."""
    means = arms.means(waits=True)
    return LectureAnswer(current.session(), current.viewer(), means, _lecture(slug))


def _lecture(slug: str) -> Lecture:
    there = documents.lectures(current.session(), current.viewer())
    return known("lecture", slug, there)


def _list(form: NewLecture, problem: str = "") -> str:
    return render_template(
        "pages/lectures/lectures.html",
        lectures=documents.lectures(current.session(), current.viewer()),
        damaged=documents.unreadable(current.session(), current.viewer(), KIND),
        form=form,
        problem=problem,
    )


def _editor(slug: str, lecture: Lecture, problem: str = "") -> str:
    answer = LectureAnswer(current.session(), current.viewer(), arms.means(waits=True), lecture)
    pool = answer.pool
    return render_template(
        "pages/lectures/lecture.html",
        slug=slug,
        lecture=lecture,
        problem=problem,
        setups=sorted((key, m.variant.name) for key, m in pool.items()),
        named=[answer.names(n) for n in range(len(lecture.slides))],
        questions=quizzes(pool.values(), DECK, QUESTIONS),
    )
