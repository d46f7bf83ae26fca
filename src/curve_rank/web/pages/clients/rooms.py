"""Rooms and their real steps."""

from __future__ import annotations

from flask import redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.catalogue.equipment import kinds_of_equipment
from curve_rank.errors import BadInputError
from curve_rank.practice.rooms import Room, room_in_pounds
from curve_rank.store import rooms
from curve_rank.web import current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms.coaching import NewRoomForm, RoomForm
from curve_rank.web.pages.clients import blueprint
from curve_rank.web.problems import status_of


@blueprint.get("/rooms/new")
@allowed(*TEACHING)
def new_room() -> ResponseReturnValue:
    """A room to be written down."""
    in_pounds = (NewRoomForm.read(request.args).unit or current.unit()) == "lb"
    return _page(room_in_pounds("New room") if in_pounds else Room(name="New room"), None)


@blueprint.get("/rooms/<row:number>")
@allowed(*TEACHING)
def show_room(number: int) -> ResponseReturnValue:
    """One room."""
    found = rooms.room(current.session(), current.viewer(), number)
    return _page(found.room, number, mine=found.mine)


@blueprint.post("/rooms")
@allowed(*TEACHING)
def add_room() -> ResponseReturnValue:
    """Keep a new room."""
    return _save(None)


@blueprint.post("/rooms/<row:number>")
@allowed(*TEACHING)
def save_room(number: int) -> ResponseReturnValue:
    """Keep a room as it is now."""
    return _save(number)


@blueprint.post("/rooms/<row:number>/remove")
@allowed(*TEACHING)
def remove_room(number: int) -> ResponseReturnValue:
    """Forget a room."""
    with current.writing() as session:
        name = rooms.remove_room(session, current.viewer(), number)
    notices.tell(f"“{name}” is removed.")
    return redirect(url_for("clients.index"), 303)


def _save(number: int | None) -> ResponseReturnValue:
    try:
        form = RoomForm.read(request.form)
        content = rooms.checked(form.fields)
        with current.writing() as session:
            rooms.save_room(session, current.viewer(), content, number)
    except BadInputError as error:
        return _page(Room(name="New room"), number, str(error)), status_of(error)
    notices.tell(f"“{content.name}” kept.")
    return redirect(url_for("clients.index"), 303)


def _page(room: Room, number: int | None, problem: str = "", *, mine: bool = True) -> str:
    return render_template(
        "pages/clients/room.html",
        room=room,
        number=number,
        problem=problem,
        mine=mine,
        typed=request.form if problem else None,
        equipment=kinds_of_equipment(current.library().variants),
    )
