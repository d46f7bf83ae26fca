"""Fault prices: the separate scores' difference, alone and together."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Change, Fault
from curve_rank.catalogue.setups import faults_named
from curve_rank.errors import UnknownNameError
from curve_rank.rating.criteria import Basis
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.scoring import scores
from curve_rank.rating.targets import targets
from curve_rank.study.fault_prices import FaultPrice, fault_prices, with_faults

CURL, LENS, TARGET = (
    find_variant("standing-dumbbell-curl", built_in()),
    lenses()["long_length"],
    targets()["biceps_long"],
)


def priced(modeller: Modeller, *together: Fault) -> tuple[FaultPrice, ...]:
    return fault_prices((CURL,), TARGET, LENS, body=Body(), effort=0.75, modeller=modeller, together=together)


def test_prices_are_differences_of_scores_dearest_first(modeller: Modeller) -> None:
    prices = priced(modeller)
    assert len(prices) == len(CURL.faults)
    medians = [price.price.spread.median for price in prices if price.price]
    assert medians == sorted(medians)
    for price in prices:
        both = (CURL, with_faults(CURL, price.faults))
        right, wrong = (
            scores(Basis(drawn, v, Body(), TARGET), LENS)
            for v, drawn in zip(both, fixed_draws(both, Body(), 0.75, modeller), strict=True)
        )
        assert price.price is not None
        assert price.price.spread.median == pytest.approx(float(np.median(wrong - right)), abs=1e-5)


def test_two_faults_together_are_one_set_up_with_both(modeller: Modeller) -> None:
    two = faults_named(CURL.faults, ("swings-the-trunk", "stops-30-short-at-the-bottom"))
    (price,) = priced(modeller, *two)
    assert price.faults == two
    assert price.comparison is not None
    assert price.comparison.columns[1].variant == with_faults(with_faults(CURL, two[:1]), two[1:])
    assert price.told
    with pytest.raises(UnknownNameError, match="fault"):
        faults_named(CURL.faults, ("nose",))


def test_a_fault_that_cannot_be_says_why(modeller: Modeller) -> None:
    impossible = Fault(name="Too far", cue="Not so far.", changes=(Change(field="path.-1.elbow", add=140),))
    (price,) = priced(modeller, impossible)
    assert price.comparison is None
    assert "elbow" in price.problem
