"""The house and the model: what logs say of it together, editions of the loads, and who takes part."""

from __future__ import annotations

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.answers.house import HouseBook
from curve_rank.answers.house_growth import about_growth
from curve_rank.answers.house_releases import keep_other, make_release, others_kept, releases, why_none
from curve_rank.answers.house_seen import ExerciseSeen, HouseAnswer
from curve_rank.answers.plain import plain
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.figures.svg import svg
from curve_rank.figures.whisker import beside_whisker
from curve_rank.practice.consent import house_statement
from curve_rank.store.house import pooling
from curve_rank.store.house.other_houses import forget_other_house
from curve_rank.web import arms, current, notices
from curve_rank.web.access import EDUCATOR, EVERYONE, TEACHING, allowed
from curve_rank.web.forms.house import (
    EditionForm,
    ForgetForm,
    HouseQuery,
    OtherHouseForm,
    ReleaseForm,
    SpeakForm,
    TakingPartForm,
)
from curve_rank.web.problems import status_of

blueprint = Blueprint("house", __name__)

PATIENCE = 15.0
"""So long data waits for what is worked out [s]."""


@blueprint.get("/house")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """What the logs say together."""
    return _page()


@blueprint.get("/house.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The same for other programs."""
    return jsonify(plain(_answer(PATIENCE)))


@blueprint.get("/house/working.json")
@allowed(*TEACHING)
def working() -> ResponseReturnValue:
    """How far it is what is being worked out."""
    under_way = _book().under_way()
    if under_way is None:
        return jsonify({"state": "finished", "done": 0, "total": 0})
    under_way.ask()
    return jsonify(under_way.told)


@blueprint.post("/house/freeze")
@allowed(*TEACHING)
def freeze() -> ResponseReturnValue:
    """Read this month's logs, and freeze what they say."""
    if _book().freeze() is None:
        notices.tell("Others are served first; try again in a minute.")
    return redirect(url_for("house.show"), 303)


@blueprint.post("/house/editions")
@allowed(EDUCATOR)
def make() -> ResponseReturnValue:
    """Make an edition; it does not speak yet."""
    try:
        form = EditionForm.read(request.form)
        number = _book().make_edition(form.name, form.note, form.month)
    except (BadInputError, UnknownNameError) as error:
        return _page(str(error)), status_of(error)
    notices.tell("The edition is kept. Nothing has moved: it speaks once you let it.")
    return redirect(url_for("house.show", _anchor=f"edition-{number}"), 303)


@blueprint.post("/house/speak")
@allowed(EDUCATOR)
def speak() -> ResponseReturnValue:
    """Let an edition speak from now on, or the model as it is published."""
    try:
        form = SpeakForm.read(request.form)
        name = _book().let_speak(form.edition)
    except (BadInputError, UnknownNameError) as error:
        return _page(str(error)), status_of(error)
    notices.tell(f"{name} speaks from now on. Blocks under way keep what they began with.")
    return redirect(url_for("house.show"), 303)


@blueprint.post("/house/releases")
@allowed(EDUCATOR, confirmed=True)
def tell() -> ResponseReturnValue:
    """Make this year's release: its noise is drawn once."""
    try:
        made = make_release(_book(), ReleaseForm.read(request.form).trial)
    except (BadInputError, UnknownNameError) as error:
        return _page(str(error)), status_of(error)
    notices.tell(f"The release of {made.year} is made, with its noise. It stays as it is.")
    return redirect(url_for("house.show", _anchor="h-release"), 303)


@blueprint.get("/house/releases/<int:year>.json")
@allowed(EDUCATOR)
def released(year: int) -> ResponseReturnValue:
    """One of one's own releases, for other houses."""
    found = next((one for one in releases(_book()) if one.year == year), None)
    if found is None:
        raise UnknownNameError("release", year, "a year that was told of")
    return jsonify(found.as_data())


@blueprint.post("/house/releases/read")
@allowed(EDUCATOR)
def read_release() -> ResponseReturnValue:
    """What another house told, read in and kept as one more study."""
    try:
        form = OtherHouseForm.read(request.form)
        told = keep_other(_book(), form.text, form.claim).told
    except (BadInputError, UnknownNameError) as error:
        return _page(str(error)), status_of(error)
    notices.tell(f"Kept: what a house of {told.people} people told in {told.year}.")
    return redirect(url_for("house.show", _anchor="h-release"), 303)


@blueprint.post("/house/releases/forget")
@allowed(EDUCATOR)
def forget_release() -> ResponseReturnValue:
    """What another house told counts no longer."""
    with current.writing() as session:
        forget_other_house(session, current.viewer(), ForgetForm.read(request.form).number)
    notices.tell("It counts no longer.")
    return redirect(url_for("house.show", _anchor="h-release"), 303)


@blueprint.get("/account/house")
@allowed(*EVERYONE)
def consent() -> ResponseReturnValue:
    """May one's log take part?"""
    said = pooling.said(current.session(), current.viewer())
    return render_template("pages/house/consent.html", statement=house_statement(), said=said)


@blueprint.post("/account/house")
@allowed(*EVERYONE)
def take_part() -> ResponseReturnValue:
    """Say yes, or no: then everything that the log gave is taken out."""
    form = TakingPartForm.read(request.form)
    with current.writing() as session:
        pooling.say(session, current.viewer(), agreed=form.agreed == "yes")
    notices.tell(
        "Thank you: your log takes part from the next month that is read."
        if form.agreed == "yes"
        else "Your log takes no part any more, and all that it gave is taken out."
    )
    return redirect(url_for("house.consent"), 303)


def _book() -> HouseBook:
    desk = current.desk()
    return HouseBook(desk.store, desk.house, current.session(), current.viewer(), arms.means(waits=True))


def _answer(patience: float = 0.0) -> HouseAnswer:
    return _book().answer(HouseQuery.read(request.args).month, patience)


def _page(problem: str = "") -> str:
    book, answer = _book(), _answer()
    return render_template(
        "pages/house/house.html",
        answer=answer,
        problem=problem,
        others=others_kept(book),
        growth_claims={key: one for key, one in book.means.library.claims.items() if about_growth(one)},
        claims=book.means.library.claims,
        releases=releases(book),
        refusal=why_none(book),
        on_scale=lambda one: _on_scale(one, answer),
    )


def _on_scale(one: ExerciseSeen, answer: HouseAnswer) -> Markup:
    """What was lifted on the scale that all share, over the model's interval."""
    return Markup(svg(beside_whisker(one.lifted, one.model, answer.ends)))
