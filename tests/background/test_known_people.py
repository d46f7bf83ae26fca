"""Arms of known people are drawn by themselves, behind whoever waits, and found again after a restart."""

from __future__ import annotations

import shutil
import threading
from collections.abc import Iterator
from concurrent.futures import Executor, Future
from pathlib import Path
from typing import Any

import pytest

from curve_rank.arm.body import Body, between_people
from curve_rank.arm.draws import FIXED
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.background.draws import Draws
from curve_rank.background.known_people import KnownPeople
from curve_rank.catalogue.library import built_in
from curve_rank.practice.sets import fitted_to
from curve_rank.rating.draws import undrawn
from curve_rank.rating.modelling import Modeller
from curve_rank.store import people
from curve_rank.store.database import Store, open_store
from curve_rank.store.safe.shelf import Shelf
from curve_rank.store.viewers import local_educator
from tests.helpers import LIMIT, Resting

FEW = built_in()[:2]
BODY = Body(height=1.62, mass=57.0)


@pytest.fixture
def store(tmp_path: Path, demo_folder: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Store]:
    """The demo's people over a catalogue of two, so that it is soon drawn."""
    monkeypatch.setattr("curve_rank.background.known_people.built_in", lambda: FEW)
    monkeypatch.setattr("curve_rank.background.known_people.own_variants", lambda *_: ())
    shutil.copytree(demo_folder, tmp_path / "data")
    opened = open_store(tmp_path / "data")
    yield opened
    opened.engine.dispose()


def known_over(store: Store, shelf: Path, draws: Draws) -> tuple[KnownPeople, Modeller]:
    modeller = Modeller(shelf=Shelf(shelf))
    return KnownPeople(store, draws, modeller, Shelf(shelf)), modeller


def test_everyone_with_a_size_is_drawn_once_and_found_after_a_restart(store: Store, tmp_path: Path) -> None:
    draws = Draws(Resting)
    known, _ = known_over(store, tmp_path / "shelf", draws)
    with store.reading() as session:
        numbers = people.known_people(session)
    assert len(numbers) >= 5
    assert known.look() == len(numbers)
    assert known.look() == 0
    again, modeller = known_over(store, tmp_path / "shelf", Draws(_Refusing))
    assert again.look() == 0  # nothing is drawn, though nothing is in memory
    with store.reading() as session:
        educator = local_educator(session)
        assert educator
        for number in numbers:
            body = people.body_of(people.known_person(session, educator, number))
            assert again.knows(body)
            assert undrawn(FEW, body, usual_effort(), modeller) == ()
    assert not again.knows(Body(height=1.999))


def test_a_new_size_is_looked_at_and_an_old_one_is_not_drawn_again(store: Store, tmp_path: Path) -> None:
    known, modeller = known_over(store, tmp_path / "shelf", Draws(Resting))
    known.look()
    body = Body(height=1.66, mass=61.5, strength_spread=between_people())  # no set of theirs is known
    with store.writing() as session:
        educator = local_educator(session)
        assert educator
        assert not people.has_new_size(session)
        people.save_body(session, educator, 4, body, None)
        assert people.has_new_size(session)
        assert not people.has_new_size(session)
    assert known.look() == 1
    assert undrawn(fitted(body), body, usual_effort(), modeller) == ()


def fitted(body: Body) -> tuple[Any, ...]:
    from curve_rank.practice.profile import ClientProfile
    from curve_rank.practice.rooms import Room

    found, _ = fitted_to(FEW, ClientProfile().limits, Room(), body)
    return tuple(one.variant for one in found.values())


class _Refusing(Executor):
    """Work must not be asked for."""

    def __init__(self) -> None:
        raise AssertionError("it was drawn before")


class _Stepwise(Executor):
    """Does one piece of work when it is let through, and tells which."""

    def __init__(self) -> None:
        self.asked: list[tuple[Any, Future[Any]]] = []
        self.came = threading.Semaphore(0)

    def submit(self, fn: Any, /, *args: Any, **_named: Any) -> Future[Any]:
        future: Future[Any] = Future()
        self.asked.append((lambda: future.set_result(fn(*args)), future))
        self.came.release()
        return future


def test_who_waits_for_a_page_comes_first_and_may_join_what_stands_aside() -> None:
    executor = _Stepwise()
    draws, modeller = Draws(lambda: executor, patience=30.0), Modeller()
    aside = draws.fixed(0, FEW, Body(), usual_effort(), modeller, FIXED, aside=True)
    assert aside
    assert executor.came.acquire(timeout=LIMIT)
    assert len(executor.asked) == 1  # one piece at a time
    asked = draws.fixed(7, FEW, BODY, usual_effort(), modeller)
    assert asked
    assert executor.came.acquire(timeout=LIMIT)
    assert draws.runs.others_first(aside)
    assert draws.unfinished() == (asked.question,)  # what stands aside begins anew by itself
    while not asked.wait(0.05):
        for do, future in list(executor.asked[1:]):
            if not future.done():
                do()
    assert asked.state == "finished"
    assert aside.done == 0  # it had to let the other through
    executor.asked[0][0]()
    joined = draws.fixed(8, FEW, Body(), usual_effort(), modeller)
    assert joined is aside
    assert not aside.aside  # from now on somebody waits for it
    aside.end_if_forgotten()
    assert not aside.cancelled
    while not aside.wait(0.05):
        for do, future in list(executor.asked):
            if not future.done():
                do()
    assert aside.state == "finished"
    draws.close()
