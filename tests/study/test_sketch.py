"""Sketches: judged against the curve, quick questions with one clear answer, and what comes back when."""

from __future__ import annotations

from datetime import datetime, timedelta

import numpy as np
import pytest

from curve_rank.study.sketch import (
    AGAIN,
    APART,
    FIRST_REST,
    PLACES,
    Attempt,
    due,
    family_scores,
    judge,
    next_draw,
    quizzes,
    shape_of,
    why_there,
)
from tests.helpers import ONE_OF_A_KIND, modelled

NOW = datetime(2026, 3, 1, 9, 0)


@pytest.mark.parametrize(
    "variant", ["pad-45-dumbbell-curl", "bent-over-pull-back", "machine-pad-curl", "chin-up"]
)
def test_the_truth_itself_is_all_but_perfect_and_its_mirror_is_not(variant: str) -> None:
    m = modelled(variant)
    true = judge(m, (37 * shape_of(m)).tolist())
    assert true.points > 90
    assert true.shape_error < 1e-9
    assert abs(true.hard_error) <= abs(float(m.angle("elbow")[-1] - m.angle("elbow")[0])) / (PLACES - 1)
    mirrored = judge(m, shape_of(m)[::-1].tolist())
    level = judge(m, [50.0] * PLACES)
    assert mirrored.points < true.points
    assert level.points < true.points
    assert min(mirrored.points, level.points) >= 0
    assert f"{m.readings.hard_spot:.0f}°" in why_there(m)


def test_errors_are_in_degrees_of_the_rep() -> None:
    m = modelled("pad-45-dumbbell-curl")
    at_the_end = judge(m, np.eye(PLACES)[-1].tolist())
    angle = m.along("angle")
    assert at_the_end.drawn_hard == pytest.approx(float(angle[-1]))
    assert at_the_end.hard_error == pytest.approx(float(angle[-1]) - float(m.readings.hard_spot))
    assert not at_the_end.right


def test_quick_questions_have_one_clear_answer_and_the_same_seed_asks_the_same() -> None:
    models = [modelled(one) for one in ONE_OF_A_KIND]
    asked = quizzes(models, 7)
    assert [q.key for q in asked] == [q.key for q in quizzes(models, 7)]
    assert {q.kind for q in asked} == {"stretched", "longer"}
    assert 0.2 < np.mean([q.right for q in asked]) < 0.8
    for quiz in asked:
        if quiz.kind == "stretched":
            at = [float(m.readings.hard_at) for m in quiz.models]
            assert quiz.right == int(at[1] < at[0])
            assert abs(at[0] - at[1]) >= APART["stretched"]
        else:
            _, _, one, other = quiz.key.split()
            lengths = [quiz.models[0].of_head("length_at_hard_spot", head) for head in (one, other)]
            assert quiz.right == int(lengths[1] > lengths[0])
            assert abs(lengths[0] - lengths[1]) >= APART["longer"]


def test_what_was_wrong_comes_back_soon_and_what_was_right_later_and_later() -> None:
    def tried(key: str, points: float, ago: timedelta) -> Attempt:
        return Attempt(key, "cable" if key < "m" else "lying", points, NOW - ago)

    wrong = [tried("a", 20, AGAIN)]
    assert due(wrong, NOW) == ["a"]
    assert due(wrong, NOW - timedelta(seconds=1)) == []
    once = [tried("b", 90, FIRST_REST)]
    twice = [tried("b", 90, 3 * FIRST_REST), tried("b", 90, FIRST_REST)]
    assert due(once, NOW) == ["b"]
    assert due(twice, NOW) == []
    assert due(twice, NOW + FIRST_REST) == ["b"]
    pool = {"a": "cable", "b": "cable", "x": "lying", "y": "lying"}
    assert next_draw([*wrong, *once], pool, NOW, 1) in ("a", "b")
    good_at_cable = [tried("a", 95, timedelta(0)), tried("b", 95, timedelta(0)), tried("x", 10, timedelta(0))]
    assert next_draw(good_at_cable, pool, NOW, 1) == "y"
    assert family_scores(good_at_cable) == {"cable": 95, "lying": 10}
    all_seen = [*good_at_cable, tried("y", 80, timedelta(0))]
    assert next_draw(all_seen, pool, NOW, 1) == "x"
