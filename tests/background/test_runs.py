"""Runs: one a person and key, joined, bounded, and never opened by a name alone."""

from __future__ import annotations

import threading
import time
from types import SimpleNamespace

import pytest

from curve_rank.background.runs import COMPUTING, ENDED_KEPT, MOST_RUNNING, WAITING, Line, Run, Runs
from curve_rank.errors import BadInputError, BusyError
from tests.helpers import LIMIT


def held(runs: Runs[Run], person: int, key: str, gate: threading.Event) -> Run:
    """A run that waits at a gate, unless it is cancelled."""

    def work(run: Run) -> None:
        while not gate.wait(0.01) and not run.cancelled:
            pass
        run.done = 0 if run.cancelled else run.total

    return runs.start(Run(person, key, 1), work)


def test_the_same_question_of_the_same_person_is_joined_and_of_another_is_not() -> None:
    runs, gate = Runs[Run]("work"), threading.Event()
    first = held(runs, 1, "a", gate)
    assert held(runs, 1, "a", gate) is first
    assert held(runs, 2, "a", gate) is not first
    assert held(runs, 1, "b", gate) is not first
    gate.set()
    assert first.wait(LIMIT)
    assert first.state == "finished"
    assert held(runs, 1, "a", gate) is not first


def test_a_name_opens_only_its_own_persons_run_for_its_own_question() -> None:
    runs, gate = Runs[Run]("work"), threading.Event()
    run = held(runs, 1, "a", gate)
    assert runs.find(1, "a", run.name) is run
    for person, key, name in ((2, "a", run.name), (1, "b", run.name), (1, "a", "guess"), (1, "a", "")):
        assert runs.find(person, key, name) is None
    gate.set()


def test_a_person_has_only_so_many_runs() -> None:
    runs, gate = Runs[Run]("work"), threading.Event()
    started = [held(runs, 1, str(n), gate) for n in range(MOST_RUNNING + 2)]
    other = held(runs, 2, "x", gate)
    assert all(run.wait(LIMIT) for run in started[:2])
    assert [run.state for run in started[:2]] == ["cancelled", "cancelled"]
    assert other.state == "running"
    gate.set()
    assert all(run.wait(LIMIT) for run in started)
    for n in range(3 * ENDED_KEPT):
        assert held(runs, 1, f"later {n}", gate).wait(LIMIT)
    found = [runs.find(1, str(n), run.name) for n, run in enumerate(started)]
    assert found == [None] * len(started)


def test_what_goes_wrong_is_told_without_a_trace() -> None:
    def refuse(_: Run) -> None:
        raise BadInputError("draws", 3, "more")

    def break_(_: Run) -> None:
        raise ZeroDivisionError

    runs = Runs[Run]("work")
    for work, says in ((refuse, "draws: 3 — more"), (break_, "the log says why")):
        run = runs.start(Run(1, says, 1), work)
        assert run.wait(LIMIT)
        assert run.state == "failed"
        assert says in run.problem


def test_a_run_that_nobody_asks_about_ends_and_one_that_is_asked_about_goes_on(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    now, looked = [100.0], threading.Semaphore(0)
    monkeypatch.setattr("curve_rank.background.runs.time", SimpleNamespace(monotonic=lambda: now[0]))

    def work(run: Run) -> None:
        while not run.cancelled:
            run.end_if_forgotten()
            looked.release()

    runs = Runs[Run]("work")
    run = Run(1, "a", 1, patience=10.0)
    run.ask()
    runs.start(run, work)
    for _ in range(6):
        now[0] += 8.0
        assert runs.find(1, "a", run.name) is run
        assert all(looked.acquire(timeout=LIMIT) for _ in range(3))
        assert run.state == "running"
    now[0] += 11.0
    assert run.wait(LIMIT)
    assert run.state == "cancelled"


def test_two_compute_ten_wait_in_turn_and_one_more_is_turned_away() -> None:
    runs, gate = Runs[Run]("work"), threading.Event()
    many = [held(runs, person, "x", gate) for person in range(COMPUTING + WAITING)]
    with pytest.raises(BusyError):
        held(runs, 99, "x", gate)
    assert held(runs, 0, "x", gate) is many[0]  # who joins takes no place
    until = time.monotonic() + LIMIT
    while sum(run.waiting for run in many) < WAITING and time.monotonic() < until:
        time.sleep(0.01)
    assert [run.waiting for run in many] == [False] * COMPUTING + [True] * WAITING
    many[COMPUTING].cancel()
    assert many[COMPUTING].wait(LIMIT)
    assert many[COMPUTING].state == "cancelled"
    gate.set()
    assert all(run.wait(LIMIT) for run in many)
    assert held(runs, 99, "x", gate).wait(LIMIT)


def test_a_waiting_run_that_nobody_asks_about_ends_as_well() -> None:
    runs, gate = Runs[Run]("work"), threading.Event()
    first = [held(runs, person, "x", gate) for person in range(COMPUTING)]
    late = runs.start(Run(9, "x", 1, patience=0.3), print)
    assert late.wait(LIMIT)
    assert late.state == "cancelled"
    gate.set()
    assert all(run.wait(LIMIT) for run in first)


def test_after_the_end_nothing_is_begun() -> None:
    runs, gate, worked = Runs[Run]("work"), threading.Event(), threading.Event()
    under_way = held(runs, 1, "a", gate)
    runs.close()
    late = runs.start(Run(1, "b", 1), lambda _run: worked.set())
    assert under_way.wait(LIMIT)
    assert late.wait(LIMIT)
    assert (under_way.state, late.state) == ("cancelled", "cancelled")
    assert not worked.is_set()


def test_all_kinds_of_work_stand_in_one_line_and_whoever_is_turned_away_is_told_what_waits() -> None:
    line, gate = Line(), threading.Event()
    booklets, searches = Runs[Run]("booklet", line), Runs[Run]("search", line)
    begun = [held(booklets if n % 2 else searches, n, "a", gate) for n in range(COMPUTING + WAITING)]
    with pytest.raises(BusyError, match=f"booklet: '{COMPUTING + WAITING} pieces of work under way'"):
        held(booklets, 99, "a", gate)
    until = time.monotonic() + LIMIT
    while sum(run.waiting for run in begun) < WAITING and time.monotonic() < until:
        time.sleep(0.01)
    assert [run.waiting for run in begun] == [False] * COMPUTING + [True] * WAITING
    gate.set()
    assert all(run.wait(LIMIT) for run in begun)
    assert held(booklets, 99, "a", gate).wait(LIMIT)


def test_what_a_run_begins_itself_waits_for_no_place_that_its_own_run_holds() -> None:
    line = Line()
    outer, inner = Runs[Run]("search", line), Runs[Run]("draws", line)
    ended = []

    def work(run: Run) -> None:
        begun = inner.start(Run(run.person, "inner", 1), lambda one: setattr(one, "done", 1))
        ended.append(begun.wait(LIMIT))
        run.done = 1

    runs = [outer.start(Run(n, "outer", 1), work) for n in range(COMPUTING + 1)]
    assert all(run.wait(LIMIT) for run in runs)
    assert ended == [True] * (COMPUTING + 1)
