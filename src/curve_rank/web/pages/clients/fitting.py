"""A set-up fitted to a client: what was changed, why, and what it costs."""

from __future__ import annotations

from flask import render_template
from flask.typing import ResponseReturnValue

from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.schema import Fault
from curve_rank.errors import CurveRankError
from curve_rank.practice.limits import fit
from curve_rank.rating.targets import targets
from curve_rank.store import people, profiles, rooms
from curve_rank.study.fault_prices import fault_prices
from curve_rank.web import arms, current
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.pages.clients import blueprint

LENS = "long_length"


@blueprint.get("/clients/<row:person>/fitted/<variant_id>")
@allowed(*TEACHING)
def fitted(person: int, variant_id: str) -> ResponseReturnValue:
    """One variant as this client can do it."""
    session, viewer = current.session(), current.viewer()
    people.known_person(session, viewer, person)  # one who is not there is a page that is not there
    found = people.person(session, viewer, person)
    profile, _ = profiles.profile_of(session, viewer, person)
    room = rooms.any_room(session, profile.room)
    variant, body = current.library().variant(variant_id), people.body_of(found)
    shown, price, problem = None, None, ""
    try:
        shown = fit(variant, profile.limits, room, body)
    except CurveRankError as error:
        problem = str(error)
    if shown is not None and shown.changes:
        keys = [key for key in profile.targets if targets()[key].group == variant.group]
        target = targets()[keys[0] if keys else variant.group]
        (price,) = fault_prices(
            (variant,),
            target,
            current.library().lenses[LENS],
            body=body,
            effort=usual_effort(),
            modeller=current.modeller(),
            together=(Fault(name="fitted", cue="As far as it goes.", changes=shown.changes),),
            draw=lambda some: arms.drawn(some, body, usual_effort()),
        )
    return render_template(
        "pages/clients/fitted.html",
        person=found,
        variant=variant,
        fitted=shown,
        price=price,
        problem=problem,
        lens=current.library().lenses[LENS],
    )
