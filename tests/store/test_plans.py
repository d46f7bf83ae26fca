"""Blocks in the store: undone to the byte, edited by two at once, shared, handed over, behind links."""

from __future__ import annotations

import random

import pytest

from curve_rank.errors import BadInputError, ChangedMeanwhileError, UnknownNameError
from curve_rank.practice.block import Block, checked
from curve_rank.store import calendars, plans
from curve_rank.store.database import Store
from curve_rank.store.profiles import profile_of, save_profile
from curve_rank.store.viewers import Viewer
from tests.store.conftest import somebody

TAMSIN, OSRIC, WREN, HOLLIS = "Tamsin Brackwater", "Osric Vayle", "Wren Achterberg", "Hollis Marrable"


def a_block(sets: int, name: str = "A block") -> Block:
    one = {"variant": "standing-dumbbell-curl", "sets": sets}
    return checked(
        {"name": name, "targets": ("biceps_long",), "weeks": [{"sessions": [{"day": 0, "exercises": [one]}]}]}
    )


def test_fifty_edits_are_undone_and_done_again_to_the_byte(demo: Store) -> None:
    rng = random.Random(3)
    with demo.writing() as session:
        coach = somebody(session, TAMSIN)
        number = plans.add_plan(session, coach, a_block(3), (somebody(session, WREN).person,))
        texts = [plans.plan(session, coach, number).block.text]
        for n in range(50):
            kept = plans.plan(session, coach, number)
            made = a_block(rng.randint(1, 8), f"Block {n} – “{rng.random()}”")
            texts.append(plans.save(session, coach, number, made, f"Edit {n}", kept.revision).block.text)
        for text in reversed(texts[:-1]):
            kept = plans.step(session, coach, number, plans.plan(session, coach, number).revision, back=True)
            assert kept.block.text == text
        with pytest.raises(BadInputError):
            plans.step(session, coach, number, kept.revision, back=True)
        for text in texts[1:]:
            kept = plans.step(session, coach, number, plans.plan(session, coach, number).revision, back=False)
            assert kept.block.text == text
        kept = plans.step(session, coach, number, kept.revision, back=True)
        after = plans.save(session, coach, number, a_block(7), "Another way", kept.revision)
        assert after.redo == ""


def test_of_two_coaches_the_second_is_told_and_loses_nothing(demo: Store) -> None:
    with demo.writing() as session:
        first = somebody(session, TAMSIN)
        wren = somebody(session, WREN).person
        second = Viewer(somebody(session, OSRIC).person, OSRIC, frozenset({"coach"}))
        number = plans.add_plan(session, first, a_block(3), (wren,))
        with pytest.raises(UnknownNameError):
            plans.plan(session, second, number)
        plans_before = len(plans.plans(session, second))
        from curve_rank.store.people import add_client

        add_client(session, second.person, wren)
        assert len(plans.plans(session, second)) > plans_before  # now Wren's too
        seen = plans.plan(session, second, number).revision
        plans.save(session, first, number, a_block(4), "Four sets", seen)
        with pytest.raises(ChangedMeanwhileError):
            plans.save(session, second, number, a_block(5), "Five sets", seen)
        kept = plans.plan(session, second, number)
        assert kept.block == a_block(4)
        assert plans.save(session, second, number, a_block(5), "Five sets", kept.revision).block == a_block(5)


def test_a_profile_is_kept_only_by_who_saw_the_newest(demo: Store) -> None:
    with demo.writing() as session:
        coach, wren = somebody(session, TAMSIN), somebody(session, WREN).person
        profile, version = profile_of(session, coach, wren)
        save_profile(session, coach, wren, profile, version)
        with pytest.raises(ChangedMeanwhileError):
            save_profile(session, coach, wren, profile, version)


def test_each_has_own_loads_and_sees_a_block_once_it_is_handed_over(demo: Store) -> None:
    with demo.writing() as session:
        coach, wren, hollis = (somebody(session, name) for name in (TAMSIN, WREN, HOLLIS))
        number = plans.add_plan(session, coach, a_block(3), (wren.person,))
        with pytest.raises(UnknownNameError):
            plans.add_client(session, coach, number, hollis.person)  # another coach's
        plans.set_load(session, coach, number, wren.person, "standing-dumbbell-curl", 9.0)
        assert plans.plan(session, coach, number).member(wren.person).loads == {"standing-dumbbell-curl": 9.0}
        for load in (-300.0, 500.0):  # both ends are loads; beyond them nothing is kept
            plans.set_load(session, coach, number, wren.person, "rope-press-down", load)
            for wrong in (-300.01, 500.01):
                with pytest.raises(BadInputError, match="−300 to 500"):
                    plans.set_load(session, coach, number, wren.person, "rope-press-down", wrong)
            loads = plans.plan(session, coach, number).member(wren.person).loads
            assert loads == {"standing-dumbbell-curl": 9.0, "rope-press-down": load}
        plans.set_load(session, coach, number, wren.person, "rope-press-down", None)  # the model's again
        assert plans.plan(session, coach, number).member(wren.person).loads == {"standing-dumbbell-curl": 9.0}
        before = {p.id for p in plans.handed_to(session, wren)}
        assert number not in before
        with pytest.raises(UnknownNameError):
            calendars.set_feed(session, wren, number, on=True)
        plans.hand_over(session, coach, number, wren.person, handed=True)
        assert number in {p.id for p in plans.handed_to(session, wren)}
        token = calendars.set_feed(session, wren, number, on=True)
        assert token
        found, whose = calendars.by_feed(session, token)
        assert (found.id, whose.person) == (number, wren.person)
        assert [m.name for m in found.members] == [WREN]
        calendars.set_feed(session, wren, number, on=False)
        with pytest.raises(UnknownNameError):
            calendars.by_feed(session, token)


def test_a_member_of_another_coach_is_not_shown(demo: Store) -> None:
    with demo.writing() as session:
        tamsin, osric = somebody(session, TAMSIN), somebody(session, OSRIC)
        wren, hollis = somebody(session, WREN).person, somebody(session, HOLLIS).person
        number = plans.add_plan(session, tamsin, a_block(3), (wren,))
        session.add(plans.PlanClient(owner_id=tamsin.person, plan_id=number, client_id=hollis, loads={}))
        session.flush()
        assert [m.name for m in plans.plan(session, osric, number).members] == [HOLLIS]
        assert [m.name for m in plans.plan(session, tamsin, number).members] == [WREN]
