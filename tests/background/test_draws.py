"""Runs of draws: finished, kept, joined, really cancelled, the same on a cluster and in processes."""

from __future__ import annotations

import multiprocessing
import time
from concurrent.futures import Future, ThreadPoolExecutor

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.background.draws import DrawQuestion, Draws
from curve_rank.background.executor import Cluster, make_executor
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.library import built_in
from curve_rank.catalogue.schema import Change
from curve_rank.errors import BadInputError
from curve_rank.keeping import size_of
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.modelling import Modeller
from tests.helpers import LIMIT

FEW = tuple(v for v in built_in() if v.group == "flexors")[::5]
ME = 1


def asked(count: int = 3, seed: int = 1, draws: int = 40) -> DrawQuestion:
    return DrawQuestion(FEW[:count], Body(), 0.75, seed, draws)


def test_runs_finish_are_kept_and_joined(threads: ThreadPoolExecutor) -> None:
    desk = Draws(lambda: threads)
    run = desk.start(ME, asked())
    assert desk.start(ME, asked()) is run or run.state == "finished"
    assert run.wait(LIMIT)
    assert (run.state, run.done) == ("finished", 40)
    found = desk.found(asked(2))
    assert found is not None
    assert found[FEW[0].id].load.shape == (40,)
    assert desk.found(asked(2, seed=2)) is None
    again = desk.start(ME, asked())
    assert again.wait(LIMIT)
    assert again.state == "finished"


def test_fixed_draws_of_two_changes_of_one_variant_are_not_mixed_up(threads: ThreadPoolExecutor) -> None:
    ways = (FEW[0], changed(FEW[0], (Change(field="path.0.elbow", set=60),)))
    made, modeller = Modeller(), Modeller()
    run = Draws(lambda: threads).fixed(ME, ways, Body(), 0.75, modeller)
    assert run is not None
    assert run.wait(LIMIT)
    for kept, afresh in zip(
        fixed_draws(ways, Body(), 0.75, modeller), fixed_draws(ways, Body(), 0.75, made), strict=True
    ):
        assert np.array_equal(kept.load, afresh.load)
    assert not np.allclose(*(one.mean_tension for one in fixed_draws(ways, Body(), 0.75, modeller)))


def test_kept_draws_take_no_more_memory_than_they_may(threads: ThreadPoolExecutor) -> None:
    questions = [asked(1, seed) for seed in range(3)]
    desk = Draws(lambda: threads, most_bytes=30_000)
    for question in questions:
        assert desk.start(ME, question).wait(LIMIT)
    kept = [readings for question in questions for readings in desk.kept_among(question).values()]
    assert 0 < len(kept) < len(questions)
    assert sum(map(size_of, kept)) <= 30_000


def test_cancel_really_cancels_and_leaves_what_was_done() -> None:
    pool = ThreadPoolExecutor(2)
    desk = Draws(lambda: pool)
    run = desk.start(ME, asked(len(FEW), draws=5000))
    while run.done == 0:
        time.sleep(0.02)
    run.cancel()
    assert run.wait(LIMIT)
    assert run.state == "cancelled"
    assert 0 < run.done < 1000
    assert run.so_far()
    done = run.done
    pool.shutdown(wait=True)
    assert run.done == done


@pytest.mark.parametrize(("draws", "seed"), [(5, 1), (10**6, 1), (100, -1), (100, 2**40)])
def test_draws_and_seeds_that_make_no_sense_are_refused(
    draws: int, seed: int, threads: ThreadPoolExecutor
) -> None:
    with pytest.raises(BadInputError):
        Draws(lambda: threads).start(ME, asked(1, seed, draws))


def test_a_two_worker_cluster_gives_equal_results(threads: ThreadPoolExecutor) -> None:
    from distributed import LocalCluster

    with LocalCluster(
        n_workers=2, threads_per_worker=1, processes=False, dashboard_address=None, host="127.0.0.1",
        protocol="tcp",
    ) as cluster:  # fmt: skip
        there = Draws(lambda: make_executor(cluster.scheduler_address))
        here = Draws(lambda: threads)
        runs = [desk.start(ME, asked(seed=5, draws=60)) for desk in (there, here)]
        assert all(run.wait(LIMIT) for run in runs)
        assert [run.state for run in runs] == ["finished", "finished"], runs[0].problem
        for variant in FEW[:3]:
            one, other = (run.so_far()[variant.id] for run in runs)
            np.testing.assert_array_equal(one.load, other.load)
            np.testing.assert_array_equal(one.long_tension, other.long_tension)
        there.close()


def test_a_killed_worker_is_replaced_and_its_draws_are_made_again(threads: ThreadPoolExecutor) -> None:
    here, there = Draws(lambda: threads), Draws()
    question = asked(len(FEW), seed=7, draws=160)
    run = there.start(ME, question)
    while run.done < 30:
        time.sleep(0.02)
    for child in multiprocessing.active_children()[:1]:
        child.kill()
    assert run.wait(LIMIT)
    assert (run.state, run.done) == ("finished", 160), run.problem
    same = here.start(ME, question)
    assert same.wait(LIMIT)
    one, other = (found.so_far()[FEW[0].id] for found in (run, same))
    np.testing.assert_array_equal(one.load, other.load)
    there.close()


def test_a_cluster_that_falls_silent_is_given_up_for_this_machine(monkeypatch: pytest.MonkeyPatch) -> None:
    class Silent(Cluster):
        def __init__(self) -> None:
            self._client = self._executor = None

        def submit(self, *_: object, **__: object) -> Future[object]:  # type: ignore[override]
            return Future()

    monkeypatch.setattr("curve_rank.background.draws.CLUSTER_PATIENCE", 0.5)
    monkeypatch.setattr("curve_rank.background.draws.make_executor", lambda: ThreadPoolExecutor(2))
    desk = Draws(Silent)
    run = desk.start(ME, asked(1, draws=60))
    assert desk.found(asked(1)) is None  # nothing waits for the cluster
    assert run.wait(LIMIT)
    assert (run.state, run.done) == ("finished", 60), run.problem
    desk.close()


def test_closing_ends_workers_and_runs_at_once() -> None:
    desk = Draws()
    run = desk.start(ME, asked(len(FEW), draws=5000))
    while run.done < 9:
        time.sleep(0.02)
    begun = time.monotonic()
    desk.close()
    assert run.wait(LIMIT)
    assert run.state == "cancelled"
    while multiprocessing.active_children() and time.monotonic() - begun < LIMIT:
        time.sleep(0.05)
    assert multiprocessing.active_children() == []
