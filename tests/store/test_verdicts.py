"""Verdicts: kept once, with a history where what they stand on has changed."""

from __future__ import annotations

from dataclasses import replace

from curve_rank.rating.spreads import Spread
from curve_rank.store.database import Store
from curve_rank.store.verdicts import Stamp, keep_verdicts, kept_verdicts
from curve_rank.store.viewers import local_educator
from curve_rank.study.verdicts import Influence, Turn, Verdict


def test_a_verdict_is_kept_whole_once_and_what_changed_is_named(store: Store) -> None:
    spread = Spread(1.0, -0.5, 2.25)
    holds = Verdict("holds", 0.9, spread, (spread,), (Influence("a", 0.4),), (Turn("b", -1.5),))
    stamp, fails = Stamp.of("x" * 64), Verdict("fails", 0.1, spread)
    with store.writing() as session:
        viewer = local_educator(session)
        assert viewer
        for _ in range(2):
            keep_verdicts(session, viewer, {"grip": (stamp, holds)})
        keep_verdicts(session, viewer, {"grip": (replace(stamp, parameters="other"), fails)})
    with store.reading() as session:
        first, second = kept_verdicts(session, viewer)["grip"]
        assert kept_verdicts(session, replace(viewer, person=viewer.person + 1)) == {}
    assert (first.verdict, first.stamp) == (holds, stamp)
    assert second.verdict == fails
    assert second.stamp.changed_since(first.stamp) == ("parameters",)
