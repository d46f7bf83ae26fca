"""Today's session and what is coming are one, whatever the day: also of ramps, and with loads set by hand."""

from __future__ import annotations

import shutil
from datetime import timedelta
from pathlib import Path

from curve_rank.answers.means import Library, Means
from curve_rank.answers.people import trainee
from curve_rank.answers.today import Moment, coming, session_today
from curve_rank.rating.draws import fixed_draws
from curve_rank.store import plans
from curve_rank.store.database import open_store
from curve_rank.store.viewers import viewer_of
from tests.conftest import KEPT

WREN = 4
DAYS = 14


def test_what_is_coming_is_what_today_says_on_every_day_of_two_weeks(
    tmp_path: Path, demo_folder: Path
) -> None:
    shutil.copytree(demo_folder, tmp_path / "data")
    store = open_store(tmp_path / "data")
    ramps = 0
    with store.reading() as db:
        viewer = viewer_of(db, WREN)
        assert viewer
        means = Means(
            Library(db, viewer), KEPT, lambda some, body, effort: fixed_draws(some, body, effort, KEPT)
        )
        plan = plans.handed_to(db, viewer)[0]
        first = trainee(db, viewer, WREN, means, plan).today
        for day in (first + timedelta(days=n) for n in range(DAYS)):
            who = trainee(db, viewer, WREN, means, plan, day)
            at = who.next_in(plan)
            if at is None:
                continue
            answer = session_today(who, means, Moment(plan.id, plan.block, *at))
            told = coming(trainee(db, viewer, WREN, means, day=day))
            assert {one.setup.id: one.sets for one in answer.exercises} == {
                key: sets for key, (_, sets) in told.items()
            }
            ramps += sum(one.planned.kind != "straight" and len(one.sets) > 1 for one in answer.exercises)
    store.engine.dispose()
    assert ramps
