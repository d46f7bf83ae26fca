"""Sketch: draw where a set-up is hard, see the truth over it; quick questions; and one for a whole room."""

from __future__ import annotations

import time
from dataclasses import dataclass
from typing import Any

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue import words
from curve_rank.errors import BadInputError
from curve_rank.figures.figure import figure
from curve_rank.figures.shapes import Group, Label, Path, Picture
from curve_rank.figures.sketched import sketched
from curve_rank.figures.strip import strip
from curve_rank.figures.svg import svg
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import known, long_head
from curve_rank.store import sketches
from curve_rank.store.sketches import SketchAnswer
from curve_rank.store.tables import now
from curve_rank.study.sketch import (
    LEVEL,
    PLACES,
    Judgement,
    Quiz,
    due,
    family_scores,
    judge,
    next_draw,
    quiz_of,
    quizzes,
    why_there,
)
from curve_rank.web import arms, current
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms.teaching import SketchForm, SketchQuery

blueprint = Blueprint("sketch", __name__)

DRAW, QUICK = ("draw",), ("stretched", "longer")
TELLING = ("fig-lever", "fig-muscle", "fig-lever-text", "fig-pivot")
"""What a figure would give away."""


@dataclass(frozen=True)
class DrawView:
    """A set-up to be sketched, or one that was."""

    modelled: VariantModel
    drawn: tuple[float, ...]
    judged: Judgement | None = None

    @property
    def figures(self) -> dict[str, Markup]:
        """The set-up at both ends and half way, without what would give the answer away."""
        whole, last = figure(self.modelled), self.modelled.along("demand").size - 1
        shown = {"stretched end": 0, "half way": last // 2, "short end": last}
        return {
            name: Markup(svg(_silent(whole.at(at)) if self.judged is None else whole.at(at)))
            for name, at in shown.items()
        }

    @property
    def paper(self) -> Markup:
        """The sketch, with the truth over it once it was judged."""
        return Markup(svg(sketched(self.drawn, self.modelled if self.judged else None, self.judged)))


@blueprint.get("/sketch")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The set-up to be sketched next, or one by its id."""
    pool = _pool()
    tried = sketches.attempts(current.session(), current.viewer(), DRAW)
    asked = SketchQuery.read(request.args).item
    families = {key: m.variant.family for key, m in pool.items()}
    key = asked or next_draw(tried, families, now(), int(time.time()) // 60)
    modelled = known("variant", key, pool)
    return render_template(
        "pages/sketch/draw.html",
        view=DrawView(modelled, (LEVEL,) * PLACES),
        heights=PLACES,
        scores=_scores(),
    )


@blueprint.post("/sketch")
@allowed(*TEACHING)
def draw() -> ResponseReturnValue:
    """Take a sketch, and go to where the truth lies over it."""
    form = SketchForm.read(request.form)
    modelled = known("variant", form.item, _pool())
    if len(form.at) != PLACES or not all(0 <= value <= 100 for value in form.at) or not any(form.at):
        raise BadInputError(
            "at", ", ".join(f"{v:g}" for v in form.at), f"{PLACES} heights from 0 to 100, not all 0"
        )
    found = judge(modelled, form.at)
    with current.writing() as session:
        number = sketches.keep_answer(
            session, current.viewer(), kind="draw", item=form.item, family=modelled.variant.family,
            answer=list(form.at), points=found.points,
        )  # fmt: skip
    return redirect(url_for("sketch.drawn", number=number), 303)


@blueprint.get("/sketch/<row:number>")
@allowed(*TEACHING)
def drawn(number: int) -> ResponseReturnValue:
    """A sketch with the truth over it."""
    answer = _answered(number, "draw")
    modelled = known("variant", answer.item, _pool())
    sketch = tuple(float(value) for value in answer.answer)
    judged = judge(modelled, sketch)
    return render_template(
        "pages/sketch/drawn.html",
        view=DrawView(modelled, sketch, judged),
        why=why_there(modelled),
        scores=_scores(),
    )


@blueprint.get("/sketch/ask")
@allowed(*TEACHING)
def ask() -> ResponseReturnValue:
    """A quick question: one that is due again by its key, or the next of a deck."""
    query = SketchQuery.read(request.args)
    if not query.deck and not query.item:
        return next_question()
    deck, card, quiz = _card(query)
    return render_template("pages/sketch/ask.html", quiz=quiz, deck=deck, card=card, strips=(), chosen=None)


@blueprint.get("/sketch/ask/next")
@allowed(*TEACHING)
def next_question() -> ResponseReturnValue:
    """To what was answered wrong a while ago, else to the deck's next card."""
    query, pool = SketchQuery.read(request.args), _pool()
    deck, card = query.deck or int(time.time()) % 100_000 + 1, query.card
    tried = sketches.attempts(current.session(), current.viewer(), QUICK)
    again = next((key for key in due(tried, now()) if quiz_of(key, pool)), None)
    return redirect(url_for("sketch.ask", deck=deck, card=card, item=again), 303)


@blueprint.post("/sketch/ask")
@allowed(*TEACHING)
def answer() -> ResponseReturnValue:
    """Take the answer to a quick question, and say what is right."""
    form = SketchForm.read(request.form)
    deck, card, quiz = _card(SketchQuery(deck=form.deck, card=form.card, item=form.item))
    if form.answer not in (0, 1):
        raise BadInputError("answer", form.answer, "0 for the first, 1 for the second")
    with current.writing() as session:
        sketches.keep_answer(
            session, current.viewer(), kind=quiz.kind, item=quiz.key, family=quiz.models[0].variant.family,
            answer=form.answer, points=100.0 if form.answer == quiz.right else 0.0,
        )  # fmt: skip
    return render_template(
        "pages/sketch/ask.html",
        quiz=quiz, deck=deck, card=card, strips=_strips(quiz), chosen=form.answer,
        again=bool(form.item), scores=_scores(),
    )  # fmt: skip


@blueprint.get("/sketch/room")
@allowed(*TEACHING)
def room() -> ResponseReturnValue:
    """One question for a room: large, hands counted, revealed on a key."""
    deck, card, quiz = _card(SketchQuery.read(request.args))
    return render_template("pages/sketch/room.html", quiz=quiz, deck=deck, card=card, strips=_strips(quiz))


def _pool() -> dict[str, VariantModel]:
    """Every set-up that can be modelled, by id."""
    effort = usual_effort()
    return {
        m.variant.id: m
        for group in ("flexors", "extensors")
        for m in arms.means().able(group, Body(), effort=effort)
    }


def _card(query: SketchQuery) -> tuple[int, int, Quiz]:
    """A deck's number, a place in it, and the question there; a deck is the same for its number.

    A question that is named by its key stands in the place of the deck's.
    """
    deck, pool = query.deck or int(time.time()) % 100_000 + 1, _pool()
    if query.item:
        named = quiz_of(query.item, pool)
        if named is None:
            raise BadInputError("item", query.item, "a question that can still be asked")
        return deck, query.card, named
    cards = quizzes(pool.values(), deck)
    return deck, query.card % len(cards), cards[query.card % len(cards)]


def _strips(quiz: Quiz) -> list[Markup]:
    return [Markup(svg(strip(m, long_head(m.variant.group), "large"))) for m in quiz.models]


def _answered(number: int, kind: str) -> SketchAnswer:
    found = sketches.answered(current.session(), current.viewer(), number)
    if found.kind != kind:
        raise BadInputError("sketch", number, "one that was drawn")
    return found


def _scores() -> list[tuple[str, float]]:
    """Points by family, of sketches and quick questions alike, the weakest first."""
    tried = sketches.attempts(current.session(), current.viewer(), (*DRAW, *QUICK))
    names = words.families()
    return sorted(
        ((names[key], points) for key, points in family_scores(tried).items()), key=lambda one: one[1]
    )


def _silent(picture: Picture) -> Picture:
    """A figure without lever, pivot and muscles."""
    kept: list[Any] = []
    for shape in picture.shapes:
        if isinstance(shape, Path | Label) and any(role in shape.role.split() for role in TELLING):
            continue
        if isinstance(shape, Group) and not shape.shapes:
            continue
        kept.append(shape)
    return Picture(**{**vars(picture), "shapes": tuple(kept)})
