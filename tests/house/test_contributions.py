"""What a log gives to the house: it adds up, can be taken out, and says what all readings say together."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from curve_rank.arm.arrays import Array
from curve_rank.house.contributions import Contribution, contribution_of, together
from curve_rank.house.effects import STOPS, Effects
from curve_rank.house.fit import HouseFit
from curve_rank.house.shares import Lifted, Share
from curve_rank.house.simulated import house_of, lifter_of, logged
from curve_rank.practice.rules import rule
from curve_rank.study.personal import PersonalArm
from tests.house.conftest import House


def parts(said: Contribution, variants: tuple[str, ...]) -> Array:
    over = said.on(variants)
    return np.concatenate((over.information.ravel(), over.score, over.rises, over.readings))


def test_whoever_leaves_was_never_there_and_what_is_kept_is_read_again(house: House) -> None:
    rng = np.random.default_rng(1)
    said = logged(rng, house_of(rng, house.effects, 0.05), 6, house.prior, house.strays)
    names = house.effects.variants
    without = together([*said[:2], *said[3:]])
    left = together(said).minus(said[2])
    assert left.people == without.people == 5
    assert parts(left, names) == pytest.approx(parts(without, names), abs=1e-8)
    share = Share(said[0], {names[0]: Lifted(0.1, 0.02, 4)})
    again = Share.read(share.text())
    assert again.lifted == share.lifted
    assert parts(again.said, names) == pytest.approx(parts(said[0], names), rel=1e-9)
    stranger = lifter_of(rng, house_of(rng, house.effects, 0.0), house.prior, house.strays)
    assert contribution_of(stranger.evidence, house.prior, replace(house.strays, places={})) is None


def test_offsets_are_what_conditioning_on_every_reading_at_once_gives(house: House) -> None:
    """Straight effects: the closed form beside one great normal distribution of everybody's readings."""
    rng = np.random.default_rng(2)
    names = house.effects.variants
    slopes = rng.normal(0, 0.05, (len(house.effects.names), len(names)))
    straight = Effects(names, house.effects.names, np.array(STOPS)[None, :, None] * slopes[:, None, :])
    true = house_of(rng, straight, 0.05)
    lifters = [lifter_of(rng, true, house.prior, house.strays, weeks=2) for _ in range(4)]
    said = together(
        one for lifter in lifters if (one := contribution_of(lifter.evidence, house.prior, house.strays))
    )
    found = HouseFit(said.on(names), straight, 0.05, np.zeros(len(straight.names)), 0.0).offsets
    arms = [PersonalArm(lifter.evidence, house.prior, house.strays) for lifter in lifters]
    place = {key: n for n, key in enumerate(names)}
    chosen = np.concatenate(
        [
            [[float(place[one.variant] == n) for n in range(len(names))] for one in arm.evidence]
            for arm in arms
        ]
    )
    rise = said.on(names).rise * rule("house.strength")
    before = slopes.T @ slopes + 0.05**2 * np.eye(len(names)) + np.outer(rise, rise)
    noise = np.zeros((len(chosen), len(chosen)))
    start = 0
    for arm in arms:
        some = slice(start, start := start + len(arm.evidence))
        noise[some, some] = arm.covariance
    gain = before @ chosen.T @ np.linalg.inv(chosen @ before @ chosen.T + noise)
    values = np.concatenate([arm.unexplained for arm in arms])
    assert found.middle == pytest.approx(gain @ values, abs=1e-8)
    assert found.covariance == pytest.approx(before - gain @ chosen @ before, abs=1e-8)
