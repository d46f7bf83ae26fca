"""The ledger shows verdicts that were kept while it waited for them."""

from __future__ import annotations

import shutil
from pathlib import Path
from types import SimpleNamespace
from typing import Any

from curve_rank.answers.claims import ClaimBook, ClaimsRequest
from curve_rank.answers.means import Library, Means
from curve_rank.background.runs import Run
from curve_rank.rating.draws import fixed_draws
from curve_rank.store.database import open_store
from curve_rank.store.viewers import local_educator
from curve_rank.study.verdicts import Verdict
from tests.conftest import KEPT


def test_verdicts_kept_while_it_waits_are_shown(tmp_path: Path, demo_folder: Path) -> None:
    shutil.copytree(demo_folder, tmp_path / "data")
    store = open_store(tmp_path / "data")

    def start(person: int, question: Any, _modeller: object, keep: Any) -> Run:
        keep({key: Verdict("outside", missing="It has no say.") for key in question.claims})
        run = Run(person, "claims", 1, done=1)
        run.go(lambda: None)
        return run

    desk: Any = SimpleNamespace(store=store, claims=SimpleNamespace(start=start))
    with store.reading() as db:
        viewer = local_educator(db)
        assert viewer
        means = Means(
            Library(db, viewer), KEPT, lambda some, body, effort: fixed_draws(some, body, effort, KEPT)
        )
        answer = ClaimBook(desk, db, viewer, means).ledger(ClaimsRequest(), 1.0)
    store.engine.dispose()
    assert answer.under_way is None
    assert answer.counts["waiting"] == 0
