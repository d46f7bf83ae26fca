"""Sets: the fewest set-ups that cover what is asked, why each, and what could stand instead."""

from __future__ import annotations

from dataclasses import dataclass
from urllib.parse import urlencode

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.answers.people import Client
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS
from curve_rank.catalogue import words
from curve_rank.errors import BadInputError
from curve_rank.exchange.study_views import set_view
from curve_rank.figures.coverage import coverage_picture
from curve_rank.figures.svg import svg
from curve_rank.practice.choose_set import Wishes
from curve_rank.practice.coverage import Cell
from curve_rank.practice.kept import KeptSet
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rooms import Room
from curve_rank.practice.sets import Pick, SetAnswer, choose_for, set_question
from curve_rank.rating.joints import joints
from curve_rank.rating.targets import targets
from curve_rank.store import documents, people, profiles
from curve_rank.store.names import plain_name
from curve_rank.store.rooms import any_room
from curve_rank.store.rooms import rooms as kept_rooms
from curve_rank.web import arms, current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import SaveForm
from curve_rank.web.forms.coaching import SetQuery
from curve_rank.web.problems import status_of
from curve_rank.web.question import client_for

blueprint = Blueprint("sets", __name__)

LETTERS = "ABCDEFGHIJKL"


@dataclass(frozen=True)
class SetView:
    """The question, and the set that answers it or why there is none."""

    query: SetQuery
    client: Client
    answer: SetAnswer | None
    problem: str = ""

    @property
    def picture(self) -> Markup:
        """What the set covers."""
        assert self.answer is not None
        return Markup(svg(coverage_picture(self.answer.coverage, LETTERS)))

    @property
    def lettered(self) -> list[tuple[str, Pick]]:
        """The picks with the letters that stand in the picture."""
        return list(zip(LETTERS, self.answer.picks if self.answer else (), strict=False))

    @property
    def table(self) -> list[tuple[Cell, float, list[str]]]:
        """Per cell the most that is placed there, and the letters of what covers it."""
        assert self.answer is not None
        found = self.answer.coverage
        return [
            (cell, float(most), [LETTERS[n] for n, has in enumerate(covered) if has])
            for cell, most, covered in zip(
                found.cells, found.placed.max(axis=0, initial=0.0), found.covered.T, strict=True
            )
        ]

    def instead(self, pick: Pick, other: str) -> str:
        """The address of the set with another in a pick's place, the rest kept."""
        assert self.answer is not None
        kept = tuple(p.variant.id for p in self.answer.picks if p is not pick)
        return self._with(pinned=(*kept, other), banned=tuple(b for b in self.query.banned if b != other))

    def without(self, pick: Pick) -> str:
        """The address of the best set without a pick."""
        pinned = tuple(p for p in self.query.pinned if p != pick.variant.id)
        return self._with(pinned=pinned, banned=(*self.query.banned, pick.variant.id))

    def keeping(self, pick: Pick) -> str:
        """The address of the best set with a pick in it, or, where it is pinned, with it free again."""
        key, pinned = pick.variant.id, self.query.pinned
        return self._with(pinned=tuple(p for p in pinned if p != key) if key in pinned else (*pinned, key))

    @property
    def afresh(self) -> str:
        """The address without what was pinned and banned."""
        return self._with(pinned=(), banned=())

    def _with(self, **changed: tuple[str, ...]) -> str:
        return address_of(self.query.model_copy(update=changed))


def address_of(query: SetQuery) -> str:
    """A question as a query string, in one fixed order."""
    parts: list[tuple[str, object]] = [("target", key) for key in query.targets]
    parts += [("lens", query.lens)]
    parts += [("with", item) for item in query.equipment] + [("spare", joint) for joint in query.spare]
    parts += [("for", query.person)] if query.person is not None else []
    parts += [("most", query.at_most)]
    parts += [("minutes", f"{query.minutes:g}")] if query.minutes is not None else []
    parts += [(name, "yes") for name in ("heavy", "brachialis") if getattr(query, name)]
    parts += [("pin", key) for key in query.pinned] + [("ban", key) for key in query.banned]
    return urlencode(parts)


@blueprint.get("/sets")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The page."""
    query = SetQuery.read(request.args)
    if query.profile and query.person is not None:
        return redirect(f"{url_for('sets.show')}?{address_of(_by_profile(query))}")
    try:
        view = SetView(query, client_for(query.person), _answer(query))
    except BadInputError as error:
        view = SetView(query, client_for(query.person), None, str(error))
        return _page(view), status_of(error)
    return _page(view)


@blueprint.get("/sets.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The page's data."""
    return jsonify(set_view(_answer(SetQuery.read(request.args))))


@blueprint.post("/sets/keep")
@allowed(*TEACHING)
def keep() -> ResponseReturnValue:
    """Keep the set under a name."""
    query = SetQuery.read(request.args)
    picks = tuple(pick.variant.id for pick in _answer(query).picks)
    name = SaveForm.read(request.form).name
    try:
        kept = KeptSet(name=plain_name(name), question=address_of(query), picks=picks)
        with current.writing() as session:
            documents.save_new(session, current.viewer(), "set", kept, name=kept.name)
    except BadInputError as error:
        view = SetView(query, client_for(query.person), _answer(query), str(error))
        return _page(view), status_of(error)
    notices.tell(f"“{kept.name}” is kept. Published shows how to let coaches use it.")
    return redirect(f"{url_for('sets.show')}?{address_of(query)}", 303)


def _answer(query: SetQuery) -> SetAnswer:
    client = client_for(query.person)
    profile = _profile(query)
    asked = set_question(
        query.targets,
        current.library().lens(query.lens),
        equipment=query.equipment,
        spare=query.spare,
        body=client.body,
        reps=DEFAULT_EFFORT_REPS,
        wishes=Wishes(
            at_most=query.at_most,
            minutes=query.minutes,
            heavy=bool(query.heavy),
            brachialis=bool(query.brachialis),
            pinned=frozenset(query.pinned),
            banned=frozenset(query.banned),
        ),
        limits=profile.limits,
        room=_room(profile),
    )
    return choose_for(asked, current.library().variants, current.modeller(), arms.drawn_soon)


def _profile(query: SetQuery) -> ClientProfile:
    if query.person is None:
        return ClientProfile()
    return profiles.profile_of(current.session(), current.viewer(), query.person)[0]


def _room(profile: ClientProfile) -> Room | None:
    if profile.room is None:
        return None
    return any_room(current.session(), profile.room)


def _by_profile(query: SetQuery) -> SetQuery:
    """The question as a client's profile puts it."""
    profile = _profile(query)
    kept = _room(profile)
    return query.model_copy(
        update={
            "targets": profile.targets or query.targets,
            "spare": profile.spare,
            "equipment": kept.equipment if kept else (),
            "minutes": float(profile.minutes),
            "profile": "",
        }
    )


def _page(view: SetView) -> str:
    session, viewer = current.session(), current.viewer()
    rooms = kept_rooms(session, viewer)
    return render_template(
        "pages/sets/sets.html",
        view=view,
        lenses=current.library().lenses,
        loads=words.loads(),
        benches=words.benches(),
        joints=joints(),
        joint_names={key: joint.name for key, joint in joints().items()},
        target_names={key: target.name for key, target in targets().items()},
        people=people.people_with_bodies(session, viewer),
        kept_rooms=[(room.name, address_of(replace_equipment(view.query, room.equipment))) for room in rooms],
        named=current.library().names,
        kept=documents.kept_sets(session, viewer),
        address=address_of(view.query),
    )


def replace_equipment(query: SetQuery, equipment: list[str]) -> SetQuery:
    """The same question with what stands in a room."""
    return query.model_copy(update={"equipment": tuple(equipment)})
