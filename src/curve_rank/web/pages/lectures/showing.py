"""A lecture on the screen, slide by slide, and its room on phones."""

from __future__ import annotations

from flask import Blueprint, jsonify, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.lectures import ShownSlide
from curve_rank.background.audiences import Audience
from curve_rank.errors import BadInputError
from curve_rank.web import current
from curve_rank.web.access import ANYONE, TEACHING, allowed
from curve_rank.web.forms.lecturing import Leading, Listening
from curve_rank.web.pages.lectures.editing import answer_of


def register(blueprint: Blueprint) -> None:
    """The routes, beside those of the lectures."""
    for rule, view, method, who in (
        ("/lectures/<slug>/show", present, "GET", TEACHING),
        ("/lectures/<slug>/slide", slide, "GET", TEACHING),
        ("/lectures/<slug>/room", open_room, "POST", TEACHING),
        ("/lectures/<slug>/room/lead", lead, "POST", TEACHING),
        ("/lectures/<slug>/room.json", room_told, "GET", TEACHING),
        ("/lectures/<slug>/room/close", close_room, "POST", TEACHING),
        ("/r/<code>", listen, "GET", (ANYONE,)),
        ("/r/<code>.json", told, "GET", (ANYONE,)),
        ("/r/<code>", answer, "POST", (ANYONE,)),
    ):
        blueprint.add_url_rule(rule, view.__name__, allowed(*who)(view), methods=[method])


def present(slug: str) -> ResponseReturnValue:
    """The screen: one slide at a time, by keys."""
    lecture = answer_of(slug).lecture
    return render_template("pages/lectures/present.html", slug=slug, lecture=lecture)


def slide(slug: str) -> ResponseReturnValue:
    """One slide as a part of the screen."""
    shown = answer_of(slug).slide(Leading.read(request.args).slide)
    return jsonify(html=render_template("pages/lectures/slide.html", shown=shown), kind=shown.question.kind)


def open_room(slug: str) -> ResponseReturnValue:
    """Open a room for those who listen; its code and address."""
    answer_of(slug)
    room = current.desk().audiences.open(current.viewer().person, slug)
    return jsonify(code=room.code, address=url_for("lectures.listen", code=room.code, _external=True))


def lead(slug: str) -> ResponseReturnValue:
    """Tell the room which slide is on the screen, and whether what is right is shown."""
    room, form = _room(slug), Leading.read(request.form)
    found: ShownSlide = answer_of(slug).slide(form.slide)
    room.lead(found.question, shown=bool(form.shown))
    return jsonify(turn=room.turn)


def room_told(slug: str) -> ResponseReturnValue:
    """How many are there, their hands and sketches."""
    room = _room(slug)
    room.lead()
    form, sketches = Leading.read(request.args), room.sketches
    drawn = ""
    if room.question.kind == "sketch" and sketches:
        drawn = answer_of(slug).sketches(form.slide, sketches, shown=room.shown)
    return jsonify(here=room.here, hands=room.hands, sketches=len(sketches), drawn=drawn)


def close_room(slug: str) -> ResponseReturnValue:
    """Close the room; what was answered there is gone."""
    current.desk().audiences.close(current.viewer().person, slug)
    return jsonify(closed=True)


def listen(code: str) -> ResponseReturnValue:
    """The room on a phone."""
    room = current.desk().audiences.by_code(code)
    return render_template("pages/lectures/phone.html", code=room.code)


def told(code: str) -> ResponseReturnValue:
    """What is asked now."""
    return jsonify(current.desk().audiences.by_code(code).told(_phone(Listening.read(request.args))))


def answer(code: str) -> ResponseReturnValue:
    """One phone's answer."""
    form = Listening.read(request.form)
    room = current.desk().audiences.by_code(code)
    room.answer(_phone(form), form.turn, form.hand, form.at)
    return jsonify(answered=True)


def _phone(form: Listening) -> str:
    if len(form.phone) < 8:
        raise BadInputError("phone", form.phone, "a phone's own name, of 8 characters or more")
    return form.phone


def _room(slug: str) -> Audience:
    found = current.desk().audiences.of_owner(current.viewer().person, slug)
    if found is None:
        raise BadInputError("room", slug, "one that is open; open it again")
    return found
