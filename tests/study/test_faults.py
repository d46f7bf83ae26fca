"""What a fault costs."""

from __future__ import annotations

import pytest

from curve_rank.rating.lenses import lenses
from curve_rank.rating.targets import targets
from curve_rank.study.faults import fault_costs
from tests.helpers import modelled


def test_sitting_up_costs_long_length_tension() -> None:
    right = modelled("reclined-60-dumbbell-curl")
    costs = fault_costs(right, targets()["biceps_long"], lenses()["long_length"], effort=0.75)
    by_name = {cost.fault.name: cost for cost in costs}
    assert by_name["Sits up 20°"].score_change < -2
    assert "length there" in by_name["Sits up 20°"].says
    assert [c.score_change for c in costs] == sorted(c.score_change for c in costs)


def test_bouncing_costs_time_under_tension_though_the_curve_stays() -> None:
    right = modelled("pad-45-barbell-curl")
    costs = fault_costs(right, targets()["biceps_long"], lenses()["long_length"], effort=0.75)
    bounce = next(c for c in costs if c.fault.name.startswith("Bounces"))
    assert bounce.score_change == pytest.approx(0)
    assert "s over half effort" in bounce.says
