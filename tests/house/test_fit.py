"""Simulated houses: what is found of them beside what they were made of."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from curve_rank.house.contributions import together
from curve_rank.house.fit import HouseFit, fit
from curve_rank.house.simulated import TrueHouse, house_of, lifter_of, logged, off_by
from curve_rank.study.personal import PersonalArm, Strays
from tests.house.conftest import House

LOW, UNSEEN = "helpers.wrist_extensors", ("helpers.grip_free", "helpers.shoulder_in", "sharing.exponent")


def fitted(house: House, rng: np.random.Generator, true: TrueHouse, people: int) -> HouseFit:
    return fit(together(logged(rng, true, people, house.prior, house.strays)), house.effects)


def test_intervals_hold_what_houses_drawn_from_the_prior_are_made_of(house: House) -> None:
    rng = np.random.default_rng(3)
    inside, offsets, own = [], [], []
    for people, error in ((10, 0.05), (10, 0.1), (50, 0.05), (50, 0.1), (100, 0.05)) * 4:
        true = house_of(rng, house.effects, error)
        found = fitted(house, rng, true, people)
        by_name = {one.name: one for one in found.numbers}
        inside += [
            by_name[key].low <= v <= by_name[key].high
            for key, v in zip(house.effects.names, true.spreads, strict=True)
        ]
        low, high = found.offsets.interval()
        offsets.append(np.mean((true.offsets >= low) & (true.offsets <= high)))
        own.append(found.own_error / error)
    assert 0.75 <= np.mean(inside) <= 0.85
    assert 0.7 <= np.mean(offsets) <= 0.9
    assert 0.8 <= np.mean(own) <= 1.2


def test_nothing_out_of_place_says_nothing_and_what_cannot_be_seen_is_told_so(house: House) -> None:
    rng = np.random.default_rng(4)
    as_published = np.zeros(len(house.effects.names))
    found = [
        one
        for error in (0.05, 0.1) * 4
        for one in fitted(house, rng, house_of(rng, house.effects, error, as_published), 40).numbers
    ]
    assert np.mean([abs(one.z) > 2.6 for one in found]) <= 0.03
    assert {one.kind for one in found if one.name in UNSEEN} == {"unseen"}
    assert all(one.settles is None for one in found if one.kind == "unseen")


def test_a_capacity_that_limits_is_found_when_it_is_too_low_and_only_bounded_when_it_is_too_high(
    house: House,
) -> None:
    rng = np.random.default_rng(5)
    low, high = (off_by(house.effects, [(LOW, by)]) for by in (-1.5, 1.5))
    hits = []
    for _ in range(10):
        found = fitted(house, rng, house_of(rng, house.effects, 0.05, low), 40).numbers
        hits.append(found[0].name == LOW and found[0].z < -2.6 and found[0].speaks)
    assert np.mean(hits) >= 0.9
    kinds = set()
    for _ in range(4):
        found = fitted(house, rng, house_of(rng, house.effects, 0.05, high), 40).numbers
        kinds |= {one.kind for one in found if one.name == LOW}
    assert "at least" in kinds
    assert "at most" not in kinds


@pytest.mark.parametrize(("error", "least"), [(0.01, -0.02), (0.05, 0.05), (0.1, 0.15)])
def test_a_newcomers_first_week_gains_from_fifty_people_before(
    house: House, error: float, least: float
) -> None:
    """Exercises that they never logged, learned from the model and from the house; no harm done."""
    rng = np.random.default_rng(6)
    plain, helped = [], []
    for _ in range(3):
        as_published = np.zeros(len(house.effects.names)) if error < 0.05 else None
        true = house_of(rng, house.effects, error, as_published)
        offsets = fitted(house, rng, true, 50).offsets
        places = [offsets.variants.index(key) for key in house.strays.places]
        cov = offsets.covariance[np.ix_(places, places)]
        there = replace(
            house.strays,
            middle=house.strays.middle + offsets.middle[places],
            together=house.strays.together + cov,
        )
        for _ in range(25):
            one = lifter_of(rng, true, house.prior, house.strays, weeks=1)
            for strays, errors in ((house.strays, plain), (there, helped)):
                errors += missed(one.level, PersonalArm(one.evidence, house.prior, strays), strays)
    assert 1 - np.mean(helped) / np.mean(plain) >= least


def missed(level: np.ndarray, arm: PersonalArm, strays: Strays) -> list[float]:
    done = {one.variant for one in arm.evidence}
    return [
        abs(float(np.log(arm.factor(key, 1.0).median)) - level[at])
        for key, at in strays.places.items()
        if key not in done
    ]
