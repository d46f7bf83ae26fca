"""Sets: the fewest set-ups that cover what is asked, why each, and what could stand instead."""

from __future__ import annotations

from dataclasses import replace

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.people import whose
from curve_rank.answers.plain import plain
from curve_rank.answers.sets import ChosenSetAnswer, SetRequest, chosen_set
from curve_rank.catalogue.equipment import kinds_of_equipment
from curve_rank.errors import BadInputError
from curve_rank.practice.pick_list import PickList
from curve_rank.rating.joints import joints
from curve_rank.rating.targets import targets
from curve_rank.store import documents, people
from curve_rank.store.names import plain_name
from curve_rank.store.rooms import rooms as kept_rooms
from curve_rank.web import arms, current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import SaveForm
from curve_rank.web.problems import status_of
from curve_rank.web.question import client_for

blueprint = Blueprint("sets", __name__)


@blueprint.get("/sets")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The page."""
    asked = SetRequest.read(request.args)
    if asked.profile and asked.person is not None:
        profile, _, room = whose(current.session(), current.viewer(), asked.person)
        return redirect(f"{url_for('sets.show')}?{asked.by_profile(profile, room).address}")
    try:
        return _page(asked, _answer(asked))
    except BadInputError as error:
        return _page(asked, None, str(error)), status_of(error)


@blueprint.get("/sets.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The page's data."""
    return jsonify(plain(_answer(SetRequest.read(request.args))))


@blueprint.post("/sets/keep")
@allowed(*TEACHING)
def keep() -> ResponseReturnValue:
    """Keep the set under a name."""
    asked = SetRequest.read(request.args)
    answer, name = _answer(asked), SaveForm.read(request.form).name
    try:
        kept = PickList(name=plain_name(name), question=asked.address, picks=answer.ids)
        with current.writing() as session:
            documents.save_new(session, current.viewer(), "set", kept, name=kept.name)
    except BadInputError as error:
        return _page(asked, answer, str(error)), status_of(error)
    notices.tell(f"“{kept.name}” is kept. Published shows how to let coaches use it.")
    return redirect(f"{url_for('sets.show')}?{asked.address}", 303)


def _answer(asked: SetRequest) -> ChosenSetAnswer:
    means = arms.means()
    means = replace(means, draw=arms.drawn_soon)  # a set's draws take long: its data says how far they are
    profile, _, room = whose(current.session(), current.viewer(), asked.person)
    return chosen_set(means, asked, client_for(asked.person), profile, room)


def _page(asked: SetRequest, answer: ChosenSetAnswer | None, problem: str = "") -> str:
    session, viewer = current.session(), current.viewer()
    rooms = kept_rooms(session, viewer)
    *_, room = whose(session, viewer, asked.person) if not problem else (None,)
    equipment = kinds_of_equipment(current.library().variants)
    return render_template(
        "pages/sets/sets.html",
        asked=asked,
        answer=answer,
        problem=problem,
        room=room,
        lenses=current.library().lenses,
        equipment=equipment,
        equipment_names={key: name for kind in equipment for key, name in kind.items()},
        joints=joints(),
        joint_names={key: joint.name for key, joint in joints().items()},
        target_names={key: target.name for key, target in targets().items()},
        people=people.people_with_bodies(session, viewer),
        kept_rooms=[(one.name, asked.but(equipment=tuple(one.equipment)).address) for one in rooms],
        named=current.library().names,
        kept=documents.kept_sets(session, viewer),
    )
