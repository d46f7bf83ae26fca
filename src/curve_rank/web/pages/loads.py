"""Loads: what a known set is worth on other variants, and a person's size and strength."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.client import Client
from curve_rank.answers.loads import LoadsAnswer, Manners, loads_elsewhere
from curve_rank.answers.people import followed
from curve_rank.answers.plain import plain
from curve_rank.answers.requests import TYPED_IN
from curve_rank.arm.body import LEVELS, Body, level_of, strength_of
from curve_rank.arm.rep_setup import effort_for_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import CurveRankError, UnavailableError
from curve_rank.practice.units import in_pounds, kg_per
from curve_rank.store import people
from curve_rank.store.people import SizedPerson
from curve_rank.store.tables import BodyRow
from curve_rank.study.strictness import MANNERS
from curve_rank.study.transfer import KnownSet, body_from_set
from curve_rank.web import arms, current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import BodyForm, LoadsQuery, PersonForm
from curve_rank.web.problems import status_of
from curve_rank.web.question import client_for

blueprint = Blueprint("loads", __name__)

FROM, TO = "standing-dumbbell-curl", "reclined-60-dumbbell-curl"


@dataclass(frozen=True)
class LoadsQuestion:
    """A known set, and where its worth is wanted."""

    known: KnownSet
    to: Variant
    to_reps: int
    client: Client
    done: Manners


@dataclass(frozen=True)
class LoadsView:
    """The page: what is typed, the answer where there is one, and a person's size."""

    typed: dict[str, str]
    client: Client
    variants: tuple[Variant, ...]
    people: list[SizedPerson]
    asked: LoadsQuestion | None = None
    answer: LoadsAnswer | None = None
    row: BodyRow | None = None
    typed_body: dict[str, str] | None = None
    problem: str = ""


@blueprint.get("/loads")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The page; where something typed makes no sense, it stays and the page says what would be right."""
    try:
        asked = _read()
        return _page(_typed(asked.known), asked.client, asked=asked, answer=_answer(asked))
    except CurveRankError as error:
        return _page(dict(request.args), Client(), problem=str(error)), status_of(error)


@blueprint.get("/loads.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The page's data."""
    return jsonify(plain(_answer(_read())))


@blueprint.post("/loads/body")
@allowed(*TEACHING)
def save_body() -> ResponseReturnValue:
    """Keep a person's size, and the strength that a known set explains."""
    person = PersonForm.read(request.form).person
    client = client_for(person)
    try:
        body, known = _body_and_set(BodyForm.read(request.form))
        with current.writing() as session:
            kept = people.save_body(session, current.viewer(), person, body, known)
    except UnavailableError:
        raise
    except CurveRankError as error:
        typed = {"for": str(person)}
        page = _page(typed, client, typed_body=dict(request.form), problem=str(error))
        return page, status_of(error)
    notices.tell(f"Kept for {kept.name}.")
    return redirect(f"{url_for('loads.show')}?for={person}", 303)


def _body_and_set(form: BodyForm) -> tuple[Body, KnownSet | None]:
    """The body a form describes, with the strength that its known set, if any, explains."""
    body = Body(
        height=form.height / 100,
        mass=form.mass,
        upper_arm_m=None if form.upper_arm is None else form.upper_arm / 100,
        forearm_m=None if form.forearm is None else form.forearm / 100,
    )
    if form.load is None:
        return replace(body, strength=strength_of(form.level)), None
    known = KnownSet(current.library().variant(form.variant), form.load, form.reps)
    return body_from_set(body, known, current.modeller()), known


def _read() -> LoadsQuestion:
    query = LoadsQuery.read(request.args)
    known = KnownSet(current.library().variant(query.variant), query.load, query.reps)
    effort_for_reps(query.reps)
    to = query.to or (TO if known.variant.id != TO else FROM)
    done = Manners(query.done, query.to_done)
    return LoadsQuestion(known, current.library().variant(to), query.to_reps, client_for(query.person), done)


def _answer(asked: LoadsQuestion) -> LoadsAnswer:
    learned = followed(current.session(), asked.client.person)
    factors = learned.factors if learned else {}
    return loads_elsewhere(
        arms.means(), asked.client.body, asked.known, asked.to, asked.to_reps, factors, asked.done,
        current.unit(),
    )  # fmt: skip


def _typed(known: KnownSet) -> dict[str, str]:
    """What stands in the address, its load in the reader's unit whoever's it was typed in."""
    typed = dict(request.args)
    if "load" in typed and typed.get(TYPED_IN, "kg") != current.unit():
        typed["load"] = f"{known.load / kg_per(current.unit()):.4g}"
    return typed


def _page(typed: dict[str, str], client: Client, **more: Any) -> str:
    session, viewer = current.session(), current.viewer()
    row = None
    if client.person is not None:
        row = people.person(session, viewer, client.person).bodies[-1]
    load = f"{in_pounds(12) if current.unit() == 'lb' else 12:g}"
    defaults = {"variant": FROM, "to": TO, "load": load, "reps": "10", "to_reps": "10", "for": ""}
    defaults |= {"done": "strictly", "to_done": "strictly"}
    view = LoadsView(
        typed=defaults | typed,
        client=client,
        variants=current.library().variants,
        people=people.people_with_bodies(session, viewer),
        row=row,
        **more,
    )
    return render_template(
        "pages/loads/loads.html", view=view, levels=LEVELS, level_of=level_of, manners=MANNERS
    )
