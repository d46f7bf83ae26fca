"""Draws: reproducible, the same on a cluster, honest intervals, and really cancelled."""

from __future__ import annotations

import time
from concurrent.futures import Executor, ThreadPoolExecutor

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.draws import deviates, drawn, uncertain
from curve_rank.arm.muscle import default_anatomy, head_geometry
from curve_rank.catalogue.library import built_in
from curve_rank.errors import BadInputError
from curve_rank.rating.certainty import certainty, drawn_scores, rank_interval, ranks_of
from curve_rank.rating.drawing import Task, model_draws, of_variant
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.ranking import Question, Ranking, rank
from curve_rank.rating.running import Draws, make_executor
from curve_rank.rating.scoring import Ingredients

FEW = tuple(v for v in built_in() if v.target == "flexors")[::5]


def threads() -> Executor:
    return ThreadPoolExecutor(2)


def drawn_parts(variants: tuple, seed: int, draws: int) -> dict[str, Ingredients]:  # type: ignore[type-arg]
    whole = model_draws(Task(variants, Body(), 0.75, seed, 0, draws))
    return {v.id: of_variant(whole, i) for i, v in enumerate(variants)}


@pytest.fixture(scope="module")
def ranking() -> Ranking:
    return rank(Question(), FEW, Modeller())


def test_no_deviation_is_the_default_arm_and_lengths_follow_the_drawn_arms() -> None:
    none = drawn(np.zeros(len(uncertain())), Body())
    assert none.body == Body(upper_arm_m=Body().upper_arm, forearm_m=Body().forearm, grip_m=Body().grip)
    np.testing.assert_allclose(none.anatomy.elbow_arm.cubic, default_anatomy().elbow_arm.cubic)
    other = drawn(deviates(3, 4), Body()).anatomy
    elbow = np.linspace(1, 144, 60)
    held = {"forearm": np.full(60, -40.0), "shoulder": np.full(60, 20.0), "abduction": np.zeros(60)}
    step = 1e-3
    here, ahead = (head_geometry(other, elbow=elbow + d, **held) for d in (0.0, step))
    slope = (ahead.shortening - here.shortening) / np.deg2rad(step)
    np.testing.assert_allclose(slope, here.elbow_arm, atol=2e-6)


def test_the_same_seed_gives_the_same_draws_however_they_are_shared_out() -> None:
    whole = model_draws(Task(FEW[:4], Body(), 0.75, 7, 0, 6))
    later = model_draws(Task(FEW[:4], Body(), 0.75, 7, 4, 6))
    alone = model_draws(Task(FEW[1:2], Body(), 0.75, 7, 0, 6))
    np.testing.assert_allclose(whole.whole["load"][4:], later.whole["load"], rtol=1e-9)
    np.testing.assert_allclose(whole.whole["load"][:, 1], alone.whole["load"][:, 0], rtol=1e-9)
    other = model_draws(Task(FEW[:4], Body(), 0.75, 8, 0, 6))
    assert not np.allclose(whole.whole["load"], other.whole["load"])


def test_adding_a_variant_changes_no_others_scores(ranking: Ranking) -> None:
    parts = drawn_parts(FEW, 1, 20)
    table = drawn_scores(ranking, parts)
    fewer = rank(Question(), FEW[:-1], Modeller())
    same = {row.variant.id: i for i, row in enumerate(ranking.rows)}
    places = [same[row.variant.id] for row in fewer.rows]
    np.testing.assert_allclose(drawn_scores(fewer, parts), table[:, places])


def test_rank_intervals_hold_their_share_of_fresh_draws(ranking: Ranking) -> None:
    sure = certainty(ranking, drawn_parts(FEW, 1, 300), seed=1)
    fresh = ranks_of(drawn_scores(ranking, drawn_parts(FEW, 2, 300)))
    held = [
        ((fresh[:, i] >= row.rank_low) & (fresh[:, i] <= row.rank_high)).mean()
        for i, row in enumerate(sure.rows)
    ]
    assert np.mean(held) == pytest.approx(0.80, abs=0.05)
    assert all(row.rank_low <= row.rank_high for row in sure.rows)
    assert sure.hangs_on


def test_bands_hold_what_is_not_resolved(ranking: Ranking) -> None:
    parts = drawn_parts(FEW, 1, 100)
    sure, table = certainty(ranking, parts, seed=1), drawn_scores(ranking, parts)
    leader = 0
    for i, row in enumerate(sure.rows[1:], start=1):
        better = (table[:, leader] > table[:, i]).mean() + 0.5 * (table[:, leader] == table[:, i]).mean()
        assert (better < 0.7) == (row.band == sure.rows[leader].band)
        leader = leader if row.band == sure.rows[leader].band else i


def test_an_interval_of_whole_ranks_is_the_one_nearest_to_80_percent() -> None:
    assert rank_interval(np.full(50, 3)) == (3, 3)
    assert rank_interval(np.repeat(np.arange(1, 11), 10)) in ((1, 8), (2, 9), (3, 10))


def test_runs_finish_are_kept_and_joined() -> None:
    desk = Draws(threads)
    run = desk.start(FEW[:3], Body(), 0.75, seed=1, draws=40)
    assert desk.start(FEW[:3], Body(), 0.75, seed=1, draws=40) is run or run.state == "finished"
    assert run.wait(60)
    assert (run.state, run.done) == ("finished", 40)
    found = desk.found(FEW[:2], Body(), 0.75, seed=1, draws=40)
    assert found is not None
    assert found[FEW[0].id].whole["load"].shape == (40,)
    assert desk.found(FEW[:2], Body(), 0.75, seed=2, draws=40) is None
    desk.close()


def test_cancel_really_cancels_and_leaves_what_was_done() -> None:
    pool = threads()
    desk = Draws(lambda: pool)
    run = desk.start(FEW, Body(), 0.75, seed=1, draws=5000)
    while run.done == 0:
        time.sleep(0.02)
    run.cancel()
    assert run.wait(30)
    assert run.state == "cancelled"
    assert 0 < run.done < 1000
    assert run.so_far()
    done = run.done
    pool.shutdown(wait=True)
    assert run.done == done


@pytest.mark.parametrize(("draws", "seed"), [(5, 1), (10**6, 1), (100, -1), (100, 2**40)])
def test_draws_and_seeds_that_make_no_sense_are_refused(draws: int, seed: int) -> None:
    with pytest.raises(BadInputError):
        Draws(threads).start(FEW[:1], Body(), 0.75, seed=seed, draws=draws)


@pytest.mark.parametrize(
    "address", ["localhost:8786", "http://x", "tcp://127.0.0.1:1", "tcp://nonsense:port"]
)
def test_a_cluster_address_that_leads_nowhere_is_a_clear_failure(
    address: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("CURVE_RANK_SCHEDULER", address)
    with pytest.raises(BadInputError, match="tcp://host:port"):
        make_executor()
    desk = Draws()
    run = desk.start(FEW[:1], Body(), 0.75, seed=1, draws=40)
    assert run.wait(60)
    assert run.state == "failed"
    assert "CURVE_RANK_SCHEDULER" in run.problem


def test_a_two_worker_cluster_gives_equal_results(monkeypatch: pytest.MonkeyPatch) -> None:
    from distributed import LocalCluster

    with LocalCluster(
        n_workers=2, threads_per_worker=1, processes=False, dashboard_address=None, host="127.0.0.1",
        protocol="tcp",
    ) as cluster:  # fmt: skip
        monkeypatch.setenv("CURVE_RANK_SCHEDULER", cluster.scheduler_address)
        there, here = Draws(), Draws(threads)
        runs = [desk.start(FEW[:3], Body(), 0.75, seed=5, draws=60) for desk in (there, here)]
        assert all(run.wait(120) for run in runs)
        assert [run.state for run in runs] == ["finished", "finished"], runs[0].problem
        for variant in FEW[:3]:
            one, other = (run.so_far()[variant.id] for run in runs)
            np.testing.assert_array_equal(one.whole["load"], other.whole["load"])
            np.testing.assert_array_equal(one.heads["long_tension"], other.heads["long_tension"])
        there.close()
