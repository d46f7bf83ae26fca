"""Backups by themselves: when one is due, which are kept, and what a moved clock or a killed one leaves."""

from __future__ import annotations

import os
import threading
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from curve_rank.background.handover import FILE, hand_over, take_up
from curve_rank.background.schedule import STAMP, Schedule, backups_in, is_due, outdated
from curve_rank.settings import Settings
from curve_rank.store.database import Store, open_store
from curve_rank.store.safe.backup import PARTIAL

NOON = datetime(2026, 3, 14, 12, tzinfo=UTC)
moments = st.lists(st.integers(0, 24 * 900).map(lambda hours: NOON - timedelta(hours=hours)), unique=True)


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    opened = open_store(tmp_path / "data")
    yield opened
    opened.engine.dispose()


@given(moments)
def test_the_newest_of_every_period_is_kept_and_no_more_than_asked(made: list[datetime]) -> None:
    gone = outdated(made, days=7, weeks=5, months=12)
    kept = sorted(set(made) - gone, reverse=True)
    assert len(kept) <= 7 + 5 + 12
    assert kept[:1] == sorted(made, reverse=True)[:1]
    assert {one.date() for one in kept} >= set(sorted({one.date() for one in made}, reverse=True)[:7])
    # what was let go once is not missed by a later look
    assert outdated(kept, days=7, weeks=5, months=12) == set()


def test_daily_backups_of_a_year_leave_days_weeks_and_months() -> None:
    made = [NOON - timedelta(days=n) for n in range(365)]
    kept = sorted(set(made) - outdated(made, days=7, weeks=5, months=12), reverse=True)
    assert kept[:7] == made[:7]
    assert {one.strftime("%Y-%m") for one in kept} == {
        f"{2025 + n // 12}-{n % 12 + 1:02}" for n in range(3, 15)
    }
    assert 18 <= len(kept) <= 24


def test_one_is_due_when_none_is_younger_and_one_from_the_future_does_not_count() -> None:
    day = timedelta(days=1)
    assert is_due([], NOON, day)
    assert not is_due([NOON - timedelta(hours=23)], NOON, day)
    assert is_due([NOON - timedelta(hours=25)], NOON, day)
    ahead = NOON + timedelta(days=40)  # made before the clock was set back
    assert is_due([ahead], NOON, day)
    assert not is_due([ahead, NOON], NOON, day)


def test_a_look_makes_what_is_due_once_and_lets_old_ones_go(store: Store, tmp_path: Path) -> None:
    settings = Settings(
        data=store.folder, backups=tmp_path / "elsewhere", keep_days=2, keep_weeks=0, keep_months=0
    )
    folder = tmp_path / "elsewhere"
    folder.mkdir()
    for n in range(1, 5):
        (folder / f"curve-rank-{datetime.now(UTC) - timedelta(days=n):{STAMP}}.zip").touch()
    (folder / "curve-rank-before-restore-x.zip").touch()
    left = folder / f"{PARTIAL}killed"
    left.mkdir()
    os.utime(left, (0, 0))
    looks = [Schedule(settings, store) for _ in range(4)]
    together = [threading.Thread(target=one.do_what_is_due) for one in looks]
    for one in together:
        one.start()
    for one in together:
        one.join()
    looks[0].do_what_is_due()
    there = backups_in(folder)
    assert len(there) == 2
    assert there[0].size > 1000
    assert (folder / "curve-rank-before-restore-x.zip").exists()
    assert not left.exists()


def test_none_are_made_where_nobody_wants_them_and_one_left_off_leaves_nothing(store: Store) -> None:
    Schedule(Settings(data=store.folder, backup_hours=0), store).do_what_is_due()
    assert not (store.folder / "backups").exists()
    ending = Schedule(Settings(data=store.folder), store)
    ending.close()
    with pytest.raises(Exception, match="another start"):
        ending.do_what_is_due()
    assert backups_in(store.folder / "backups") == ()
    assert not list((store.folder / "backups").glob(f"{PARTIAL}*"))


def test_draws_under_way_at_a_stop_are_gone_on_with_at_the_next_start(tmp_path: Path) -> None:
    from concurrent.futures import ThreadPoolExecutor

    from curve_rank.arm.body import Body
    from curve_rank.background.draws import Draws
    from curve_rank.catalogue.library import built_in
    from curve_rank.rating.draws import undrawn
    from curve_rank.rating.modelling import Modeller
    from tests.helpers import LIMIT, Resting

    body, two = Body(height=1.83, mass=88), built_in()[:2]
    stopped, modeller = Draws(Resting), Modeller()
    stopped.fixed(3, two, body, 0.8, modeller)
    assert hand_over(stopped, tmp_path) == 1
    stopped.close()
    begun = Draws(lambda: ThreadPoolExecutor(2))
    assert take_up(begun, modeller, tmp_path) == 1
    (run,) = begun.runs.under_way()
    assert run.wait(LIMIT)
    assert undrawn(two, body, 0.8, modeller) == ()
    assert take_up(begun, modeller, tmp_path) == 0  # once
    (tmp_path / FILE).write_text('[{"variants": [{"id": 3}]}, 7')
    assert take_up(begun, modeller, tmp_path) == 0  # damaged: what is missing is asked for again
    assert not (tmp_path / FILE).exists()
    (tmp_path / FILE).write_text("7")
    assert take_up(begun, modeller, tmp_path) == 0
    begun.close()
