"""Finding the weight of what nobody has logged."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from curve_rank.practice.block import Exercise
from curve_rank.practice.plan_warnings import PlanContext
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rooms import Room
from curve_rank.practice.session import finding_sets, set_targets
from curve_rank.rating.words import reported_words
from tests.training.quick import planner


@pytest.fixture(scope="module")
def context() -> PlanContext:
    return planner(ClientProfile()).context()


def test_a_weight_that_nobody_knows_is_found_from_the_low_end_up(context: PlanContext) -> None:
    fact = replace(context.facts["rope-press-down"], base=0.0, slope=40.0, on_hands=0.0, low_ratio=0.7)
    room = Room(stack_from_kg=2.5, stack_to_kg=60, stack_step_kg=2.5)
    one = Exercise(variant=fact.variant.id, sets=3, reps_from=8, reps_to=12)
    middle = set_targets(one, fact, room)[0].load
    found = finding_sets(one, fact, room)
    assert [t.load for t in found] == [17.5, 22.5, middle]
    assert middle == 27.5
    # 17.5 kg goes 38 times: eight leave 30, said as ten; 27.5 kg goes 13.6 times, and tired 10.3.
    assert [(t.reps, t.reserve) for t in found] == [(8, 10), (8, 10), (8, 2)]
    assert finding_sets(one.model_copy(update={"sets": 1}), fact, room)[0].load == 17.5


def test_where_lifters_report_less_one_begins_on_their_side(context: PlanContext) -> None:
    """The last set of the ramp of one and the same curve, with what lifters report of it and without."""
    fact = context.facts["reclined-60-dumbbell-curl"]
    assert "Lifters report 10 to 20 % less" in reported_words(fact.variant)
    alike = replace(fact, variant=fact.variant.model_copy(update={"lifters_report": None}))
    assert reported_words(alike.variant) == ""
    one, room = (
        Exercise(variant=fact.variant.id, sets=3),
        Room(dumbbells_kg=tuple(np.arange(6.0, 30.0, 0.5).tolist())),
    )
    leaning, plain = (finding_sets(one, known, room)[-1].load for known in (fact, alike))
    assert leaning == pytest.approx(0.85 * plain, abs=0.5)
