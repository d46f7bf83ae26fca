"""The check of the joints asks only for what somebody's set-ups take a joint to."""

from __future__ import annotations

import pytest

from curve_rank.answers.joint_check import asked_for
from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.figures.range_check import CHECKS
from curve_rank.practice.limits import Limits, NotFittingError, fit


def setups(*keys: str) -> list[str]:
    return [one.key for one in asked_for([find_variant(key, built_in()) for key in keys], Body())]


def test_a_curl_at_the_side_asks_for_elbow_and_palm_and_an_overhead_extension_for_the_shoulder() -> None:
    assert setups("standing-dumbbell-curl") == ["elbow_straight", "palm_up"]
    assert "shoulder_overhead" in setups("standing-dumbbell-curl", "overhead-dumbbell-one-arm")
    assert "shoulder_back" in setups("reclined-45-dumbbell-curl")
    assert asked_for([], Body()) == CHECKS


@pytest.mark.parametrize("variant", built_in()[::9], ids=lambda v: v.id)
def test_what_is_not_asked_would_change_nothing_as_far_as_the_middle_step(variant: object) -> None:
    asked = asked_for([variant], Body())  # type: ignore[list-item]
    for one in CHECKS:
        if one not in asked:
            limits = Limits(**{one.key: one.steps[2]})
            try:
                fitted = fit(variant, limits)  # type: ignore[arg-type]
            except NotFittingError:
                pytest.fail(f"{one.key} was not asked for")
            assert not fitted.changes
