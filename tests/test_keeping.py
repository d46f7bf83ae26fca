"""What is kept: bounded in bytes, and worked out once for all who ask at once."""

from __future__ import annotations

import threading
import time
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in
from curve_rank.errors import BadInputError
from curve_rank.keeping import Keeping
from curve_rank.rating.modelling import Modeller, model_variants
from tests.helpers import LIMIT


def test_six_who_ask_at_once_have_it_worked_out_once() -> None:
    kept, made, gate = Keeping(10**6), [], threading.Barrier(6)

    def make() -> str:
        made.append(1)
        time.sleep(0.1)
        return "done"

    def ask(_: int) -> str:
        gate.wait(LIMIT)
        return kept.once("page", make)

    with ThreadPoolExecutor(6) as six:
        assert set(six.map(ask, range(6))) == {"done"}
    assert len(made) == 1


def test_those_who_overlap_work_out_only_what_nobody_else_does() -> None:
    kept, asked, begun, go = Keeping(10**6), [], threading.Event(), threading.Event()

    def slowly(missing: dict[str, int]) -> dict[str, int]:
        asked.append(sorted(missing))
        begun.set()
        go.wait(LIMIT)
        return {key: 2 * value for key, value in missing.items()}

    with ThreadPoolExecutor(2) as two:
        first = two.submit(kept.all, {"a": 1, "b": 2}, slowly)
        assert begun.wait(LIMIT)
        second = two.submit(kept.all, {"b": 2, "c": 3}, slowly)
        time.sleep(0.05)
        go.set()
        assert first.result(LIMIT) == {"a": 2, "b": 4}
        assert second.result(LIMIT) == {"b": 4, "c": 6}
    assert sorted(asked) == [["a", "b"], ["c"]]


def test_what_goes_wrong_is_told_to_all_who_wait_and_tried_again_later() -> None:
    kept = Keeping(10**6)

    def refuse() -> str:
        raise BadInputError("load", 0, "more")

    for _ in range(2):
        with pytest.raises(BadInputError):
            kept.once("x", refuse)
    assert kept.once("x", lambda: "now") == "now"


def test_no_more_is_kept_than_there_is_room_for() -> None:
    kept = Keeping(100_000)
    for n in range(50):
        kept.once(n, lambda: {"rows": [np.zeros(1000), "text" * 100]})
    assert 50_000 < kept.bytes <= 100_000
    assert kept.once("large", lambda: np.zeros(10**6)).size == 10**6
    assert kept.bytes <= 100_000


def test_one_failing_document_never_makes_the_catalogue_go_one_by_one(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    calls = []

    def counted(variants, *rest, **more):  # type: ignore[no-untyped-def]
        calls.append(len(variants))
        return model_variants(variants, *rest, **more)

    monkeypatch.setattr("curve_rank.rating.modelling.model_variants", counted)
    bad = built_in()[3].model_copy(update={"id": "bad"})
    posture = bad.posture.model_copy(update={"upper_arm": 195.0, "upper_arm_from": "trunk"})
    variants = (*built_in()[:60], bad.model_copy(update={"posture": posture, "path": built_in()[3].path}))
    found = Modeller().model(variants, Body(), effort=0.75)
    assert len(found) == 61
    # halves down to the one: twice the logarithm of 61, not 61
    assert len(calls) <= 2 * 7
