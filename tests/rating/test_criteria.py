"""Criteria: each one reading, the same for one rep and for many draws of it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.rating.criteria import OF_SETUP, Basis, criteria
from curve_rank.rating.lenses import lenses
from curve_rank.rating.readings import all_readings, quoted_readings
from curve_rank.rating.scoring import basis_of, scores
from curve_rank.rating.targets import targets
from tests.helpers import modelled


def test_a_criterion_judges_a_reading_or_has_a_function_of_its_name() -> None:
    assert {key for key, one in criteria().items() if one.reading is None} == OF_SETUP.keys()


def test_a_reading_has_one_name_and_a_criterion_prints_it_as_all_do() -> None:
    names = [one.name for one in all_readings().values()]
    assert len(set(names)) == len(names)
    for one in criteria().values():
        assert one.reading is None or one.name in (one.reading.name, "No slack")
    tension, share = criteria()["tension"], criteria()["share"]
    assert tension.printed(0.3149) == "31 % of peak force"
    assert share.printed(0.296) == "30 %"
    assert criteria()["steps"].printed(0.0416667) == "0.0417 step / load"
    assert [one.key for one in quoted_readings()][:2] == ["load", "length_at_hard_spot"]


@pytest.mark.parametrize("target", ["biceps_long", "biceps", "flexors"])
def test_one_rep_and_draws_of_it_are_judged_alike(target: str) -> None:
    m = modelled("chin-up")
    one = basis_of(m, targets()[target])
    fivefold = {name: np.stack([values] * 5, axis=-1) for name, values in vars(m.readings).items()}
    many = Basis(Readings(**fivefold), m.variant, m.body, one.target)
    for criterion in criteria().values():
        value = criterion.value(one)
        assert np.shape(value) == ()
        np.testing.assert_allclose(criterion.value(many), np.full(5, value))
        assert 0 <= criterion.score(value, one) <= 100
    for lens in lenses().values():
        np.testing.assert_allclose(scores(many, lens), np.full(5, scores(one, lens)))


def test_a_group_is_its_heads_weighted_and_its_share_their_sum() -> None:
    m = modelled("standing-barbell-curl")
    both, long, short = (basis_of(m, targets()[t]) for t in ("biceps", "biceps_long", "biceps_short"))
    share = criteria()["share"]
    assert share.value(both) == pytest.approx(float(share.value(long) + share.value(short)))
    tension = criteria()["tension"]
    low, high = sorted((float(tension.value(long)), float(tension.value(short))))
    assert low <= tension.value(both) <= high


def test_heavy_load_is_what_both_arms_move() -> None:
    # 12 kg in each hand are 24 kg over 80 kg of body: 0.3. One bar of 24 kg in both hands is the same.
    # A chin-up with 8 kg added moves 88 kg: 1.1.
    for variant, load, over_body in (
        ("standing-dumbbell-curl", 12.0, 0.3), ("standing-barbell-curl", 24.0, 0.3), ("chin-up", 8.0, 1.1),
    ):  # fmt: skip
        m = modelled(variant)
        basis = Basis(replace(m.readings, load=np.array(load)), m.variant, Body(), targets()["biceps"])
        assert float(criteria()["load"].value(basis)) == pytest.approx(over_body)


def test_hard_to_cheat_counts_what_holds_trunk_and_upper_arm() -> None:
    # standing: nothing; reclined: the back rest; a pad: the upper arm; a machine with seat and pad: both
    plain = modelled("standing-dumbbell-curl")
    for trunk, upper_arm, held, score in ((0, 0, 0, 0), (1, 0, 1, 50), (0, 1, 1, 50), (1, 1, 2, 100)):
        update = {"trunk": bool(trunk), "upper_arm": bool(upper_arm)}
        support = plain.variant.support.model_copy(update=update)
        variant = plain.variant.model_copy(update={"support": support})
        criterion = criteria()["strictness"]
        basis = Basis(plain.readings, variant, Body(), targets()["biceps"])
        value = criterion.value(basis)
        assert (float(value), float(criterion.score(value, basis))) == (held, score)
