"""Who a block is planned for, as the store knows them: a planner for a request."""

from __future__ import annotations

import json
from collections.abc import Mapping

from flask import request

from curve_rank.arm.body import Body
from curve_rank.catalogue.schema import Variant
from curve_rank.practice.learning import Learned, learned_from
from curve_rank.practice.planning import Planner
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rooms import Room
from curve_rank.store import documents, logs, people, profiles, rooms
from curve_rank.store.viewers import Viewer, viewer_of
from curve_rank.web import arms, current


def planner_for(
    person: int | None,
    viewer: Viewer,
    loads: Mapping[str, float] | None = None,
    owner: int | None = None,
    *,
    learned: bool = True,
) -> Planner:
    """A planner for somebody whom a viewer may see, or for the default body.

    Parameters
    ----------
    person : int, optional
    viewer : Viewer
    loads : mapping, optional
        Set by hand.
    owner : int, optional
        Whose variants a block may hold beside the viewer's.
    learned : bool
        Whether loads and curves follow what was learned of the person, where that is on.

    Raises
    ------
    UnknownNameError
    """
    session = current.session()
    variants = current.variants_of(viewer)
    if owner not in (None, viewer.person):
        variants += _of_owner(owner, {variant.id for variant in variants})
    profile, body, room = ClientProfile(), Body(), Room()
    if person is not None:
        body = people.body_of(people.person(session, viewer, person))
        profile, _ = profiles.profile_of(session, viewer, person)
        if profile.room is not None:
            room = rooms.any_room(session, profile.room)
    # Who reads a page is told how far the arms are, as for a file; what was sent, and data, waits for them.
    is_page = request.method == "GET" and "." not in request.path.rpartition("/")[2]
    draw = arms.drawn_soon if is_page else arms.drawn
    follows = followed(person) if learned else None
    return Planner(profile, body, room, variants, current.modeller(), draw, loads or {}, follows)


def _of_owner(owner: int | None, there: set[str]) -> tuple[Variant, ...]:
    """Variants of whoever owns a block, where the viewer has none of the name."""
    found = viewer_of(current.session(), owner) if owner is not None else None
    own = documents.own_variants(current.session(), found) if found else ()
    return tuple(variant for variant in own if variant.id not in there)


def followed(person: int | None) -> Learned | None:
    """What loads of somebody whom the viewer has been shown follow; None where learning is off."""
    is_on, learned = learned_of(person) if person is not None else (False, None)
    return learned if is_on else None


def learned_of(person: int) -> tuple[bool, Learned | None]:
    """Whether learning is on for somebody, and what was learned of them."""
    state = logs.states_of(current.session(), [person]).get(person)
    learned = learned_from(json.loads(state.learned)) if state and state.learned else None
    return (state.learning if state else True), learned
