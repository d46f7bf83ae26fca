"""People: who sees whom, and their bodies."""

from __future__ import annotations

import pytest
from sqlalchemy import select

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.errors import UnknownNameError
from curve_rank.store import people, questions, rooms
from curve_rank.store.database import Store
from curve_rank.store.demo import CLIENTS, COACHES, fill_demo
from curve_rank.store.tables import CoachClient, Person
from curve_rank.store.viewers import Viewer, local_educator, viewer_of
from curve_rank.study.transfer import KnownSet

CURL = find_variant("standing-dumbbell-curl", built_in())


def viewers(store: Store) -> dict[str, Viewer]:
    """Everyone in the demo as a viewer, by name."""
    with store.reading() as session:
        found = [viewer_of(session, row) for row in session.scalars(select(Person.id))]
    return {v.name: v for v in found if v}


def test_a_known_set_is_kept_with_the_body(store: Store, viewer: Viewer) -> None:
    body = Body(1.72, 70, 1.3, forearm_m=0.26)
    with store.writing() as session:
        people.save_body(session, viewer, viewer.person, body, KnownSet(CURL, 15.0, 9))
    with store.reading() as session:
        found = people.person(session, viewer, viewer.person)
        row = found.bodies[-1]
        assert (row.known_variant, row.known_load_kg, row.known_reps) == (CURL.id, 15.0, 9)
        assert people.body_of(found) == body


def test_the_demo_educator_sees_all_a_coach_own_clients_a_client_only_oneself(store: Store) -> None:
    fill_demo(store)
    known = viewers(store)
    with store.reading() as session:
        names = {
            name: {p.name for p in people.people_with_bodies(session, viewer)}
            for name, viewer in known.items()
        }
        pairs = set(session.execute(select(CoachClient.coach_id, CoachClient.client_id)).all())
    clients = {client[0] for client in CLIENTS}
    assert names["Maude Ellerby"] == clients | {"Maude Ellerby"}
    for coach in COACHES:
        own = {name for name in clients if (known[coach].person, known[name].person) in pairs}
        assert names[coach] == own
        assert own
        assert own != clients
    for client in clients:
        assert names[client] == {client}


def test_whom_one_may_not_see_one_may_neither_read_nor_change(store: Store) -> None:
    fill_demo(store)
    known = viewers(store)
    one, other = known[CLIENTS[0][0]], known[CLIENTS[1][0]]
    with store.writing() as session:
        for attempt in (
            lambda: people.person(session, one, other.person),
            lambda: people.save_body(session, one, other.person, Body(), None),
            lambda: questions.remove_question(session, one, 1),
        ):
            with pytest.raises(UnknownNameError):
                attempt()
        assert rooms.rooms(session, one) == []
        assert questions.saved_questions(session, one) == []
        assert len(rooms.rooms(session, known["Maude Ellerby"])) == 3


def test_several_roles_in_one_person_add_up(store: Store) -> None:
    fill_demo(store)
    with store.reading() as session:
        educator = local_educator(session)
        assert educator is not None
        both = Viewer(educator.person, educator.name, frozenset({"educator", "coach", "client"}))
        assert len(people.people_with_bodies(session, both)) == 6
        nobody = Viewer(educator.person, educator.name, frozenset())
        assert [p.name for p in people.people_with_bodies(session, nobody)] == ["Maude Ellerby"]
