"""A rep in time: slow reps are the still ones, fast ones cost more, and time is accounted for."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.tempo import Tempo, TimedReps, force_velocity, time_rep, time_reps
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.errors import BadInputError
from curve_rank.rating.rep_of_variant import rep_setup
from tests.helpers import modelled

CURL = find_variant("standing-dumbbell-curl", built_in())


def timed(variant: str, tempo: Tempo, load: float | None = None) -> TimedReps:
    one = modelled(variant)
    return time_rep(one.setup, Body(), one.load if load is None else load, tempo)


@pytest.mark.parametrize(
    "variant", ["standing-dumbbell-curl", "chin-up", "rope-press-down", "machine-pad-curl"]
)
def test_a_very_slow_rep_is_the_still_one(variant: str) -> None:
    slow, still = timed(variant, Tempo(25, 0, 25, 0)), modelled(variant)
    demand = np.interp(slow.place, np.linspace(0, 1, 41), still.along("demand"))
    np.testing.assert_allclose(slow.demand, demand, atol=0.02 * still.readings.peak_demand)
    assert np.abs(slow.inertial).max() < 0.02 * still.readings.peak_demand


def test_a_faster_lift_needs_more_at_its_start_and_less_at_its_end() -> None:
    quick = timed("standing-dumbbell-curl", Tempo(3, 1, 0.8, 0))
    lifting = quick.phase == 2
    first, last = np.array_split(quick.inertial[lifting], 2)
    assert first.mean() > 0 > last.mean()
    assert quick.effort.max() > timed("standing-dumbbell-curl", Tempo(3, 1, 2, 0)).effort.max()


def test_inertia_grows_with_the_square_of_speed() -> None:
    one, half = (np.abs(timed("standing-dumbbell-curl", Tempo(t, 0, t, 0)).inertial).max() for t in (4, 2))
    assert half == pytest.approx(4 * one, rel=0.05)


def test_the_acceleration_of_a_hanging_weight_is_what_newton_says() -> None:
    """The inertia of a weight in the hand about the elbow is m r² times the elbow's acceleration."""
    load = 10.0
    rep = timed("standing-dumbbell-curl", Tempo(2, 0, 2, 0), load)
    reach = Body().forearm + Body().grip * np.cos(np.deg2rad(5))
    elbow = np.deg2rad(5 + 135 * rep.place)
    acceleration = np.gradient(np.gradient(elbow, rep.time), rep.time)
    middle = slice(20, -20)
    least = load * reach**2 * acceleration[middle]
    assert np.corrcoef(rep.inertial[middle], least)[0, 1] > 0.99
    assert np.abs(rep.inertial).max() == pytest.approx(np.abs(least).max(), rel=0.2)


def test_force_falls_with_shortening_and_rises_with_lengthening() -> None:
    velocity = np.linspace(-10, 10, 41)
    force = force_velocity(velocity)
    assert (np.diff(force) >= 0).all()
    assert force_velocity(np.array([0.0]))[0] == pytest.approx(1)
    assert force_velocity(np.array([-10.0]))[0] == pytest.approx(0, abs=1e-9)
    assert 1.2 < force_velocity(np.array([10.0]))[0] <= 1.4


def test_time_is_accounted_for() -> None:
    rep = timed("pad-45-dumbbell-curl", Tempo(3, 2, 1, 1))
    assert sum(rep.thirds.values()) == pytest.approx(7, abs=0.05)
    assert 0 < rep.under_hard < rep.under_light <= 7.05
    paused = timed("pad-45-dumbbell-curl", Tempo(3, 0, 1, 1))
    assert rep.thirds["first"] == pytest.approx(paused.thirds["first"] + 2, abs=0.1)


@pytest.mark.parametrize(
    "bad", [(0, 0, 1, 0), (3, -1, 1, 0), (3, 0, 0.1, 0), (float("nan"), 0, 1, 0), (40, 0, 30, 0)]
)
def test_tempos_that_make_no_sense_are_refused(bad: tuple[float, ...]) -> None:
    with pytest.raises(BadInputError, match="tempo"):
        Tempo(*bad)


def test_a_rep_over_part_of_its_range_stays_there() -> None:
    part = time_rep(rep_setup(CURL, Body()), Body(), 5.0, Tempo(), start=0.2, end=0.6)
    assert part.place.min() == pytest.approx(0.2)
    assert part.place.max() == pytest.approx(0.6)
    with pytest.raises(BadInputError, match="part of the rep"):
        time_rep(rep_setup(CURL, Body()), Body(), 5.0, Tempo(), start=0.6, end=0.2)


def test_several_reps_at_once_are_each_alone() -> None:
    """One balance for all: a batch gives what its reps give one by one."""
    several = [
        modelled(name)
        for name in ("standing-dumbbell-curl", "chin-up", "rope-press-down", "pad-45-cable-curl")
    ]
    tempo, setups = Tempo(2, 1, 1, 0), tuple(m.setup for m in several)
    together = time_reps(setups, Body(), np.array([m.load for m in several]), tempo, start=0.1, end=0.9)
    for i, m in enumerate(several):
        alone = time_rep(m.setup, Body(), m.load, tempo, start=0.1, end=0.9)
        for name in ("demand", "inertial", "strength", "effort", "tension", "percent"):
            np.testing.assert_allclose(getattr(together.of(i), name), getattr(alone, name), atol=1e-7)
        assert together.under_hard[i] == pytest.approx(float(alone.under_hard))


def test_an_empty_hand_is_slowed_by_the_arms_own_inertia() -> None:
    """About the elbow: fore mass · (centre² + gyration²) + hand mass · (forearm + its centre)²."""
    body = Body()
    _, fore, hand = body.segment_masses
    _, fore_at, hand_at = body.segment_centres
    inertia = fore * (fore_at**2 + (0.303 * body.forearm) ** 2) + hand * (body.forearm + hand_at) ** 2
    rep = timed("pad-45-dumbbell-curl", Tempo(1.0, 0, 1.0, 0), 0.0)
    span = np.interp(rep.place, np.linspace(0, 1, 41), modelled("pad-45-dumbbell-curl").along("angle"))
    turning = np.gradient(np.gradient(np.deg2rad(span), rep.time), rep.time)
    middle = slice(10, -10)
    np.testing.assert_allclose(
        rep.inertial[middle], inertia * turning[middle], atol=0.01 * np.abs(inertia * turning).max()
    )
