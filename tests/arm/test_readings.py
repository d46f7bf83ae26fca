"""Readings: one shape for a rep, a batch and draws; slack where the curve has it."""

from __future__ import annotations

from dataclasses import fields

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.readings import (
    OF_HEADS,
    Readings,
    length_weights,
    one_after_another,
    read_reps,
    slack_stretches,
    stacked,
    third_of,
)
from curve_rank.arm.rep import model_reps
from curve_rank.catalogue.library import built_in
from curve_rank.rating.rep_of_variant import rep_setup
from tests.helpers import modelled

HEADS = 12


@pytest.fixture(scope="module")
def batch() -> Readings:
    reps = model_reps(tuple(rep_setup(v, Body()) for v in built_in()[::30]), body=Body())
    return read_reps(reps, trunk_supported=(False,) * len(reps.setups))


def test_a_batch_one_of_it_and_draws_of_it_have_one_shape(batch: Readings) -> None:
    reps = batch.load.size
    draws = stacked([batch, batch, batch])
    for field in fields(Readings):
        of_batch, of_one, of_draws = (getattr(r, field.name) for r in (batch, batch.of(1), draws))
        first = (HEADS,) if field.name in OF_HEADS else ()
        assert np.shape(of_batch) == (*first, reps)
        assert np.shape(of_one) == first
        assert np.shape(of_draws) == (*first, 3, reps)
        np.testing.assert_array_equal(of_draws[..., 2, 1], of_one)
        assert np.shape(getattr(batch.of(1).head(0), field.name)) == ()
    joined = one_after_another([batch, batch.first(2)])
    assert joined.load.shape == (reps + 2,)
    assert joined.long_tension.shape == (HEADS, reps + 2)


def test_slack_adds_up_to_its_share_and_lies_where_the_demand_is_low() -> None:
    for name in ("pad-45-dumbbell-curl", "bent-over-pull-back", "standing-dumbbell-curl", "chin-up"):
        m = modelled(name)
        assert sum(b - a for a, b in m.slack) == pytest.approx(float(m.readings.slack_share), abs=1e-9)
        demand, places = m.along("demand"), np.linspace(0, 1, m.along("demand").size)
        for start, end in m.slack:
            inside = (places > start + 1e-6) & (places < end - 1e-6)
            assert (demand[inside] < 0.2 * demand.max() + 1e-9).all()
    assert slack_stretches(np.ones(11)) == ()


def test_length_weights_add_up_to_one_and_thirds_are_of_the_rep() -> None:
    percent = np.linspace(0, 100, 101)
    weights = length_weights(percent)
    np.testing.assert_allclose(sum(weights.values()), 1)
    assert weights["long"][-1] == weights["short"][0] == 1
    assert [third_of(part) for part in (0, 0.3, 0.5, 0.7, 1)] == ["first", "first", "middle", "last", "last"]
