"""What a fault changes, in a teacher's words."""

from __future__ import annotations

from curve_rank.catalogue.changes import changed
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.targets import targets
from curve_rank.study.fault_prices import fault_prices
from curve_rank.study.faults import changes_in_words
from tests.helpers import modelled

TARGET = targets()["biceps_long"]


def says(modeller: Modeller, key: str, name: str) -> str:
    right = modelled(key)
    fault = next(one for one in right.variant.faults if one.name.startswith(name))
    wrong = modeller.one(changed(right.variant, fault.changes), right.body, effort=0.75)
    assert changes_in_words(right, right, TARGET) == "hardly any change in the curve"
    return changes_in_words(right, wrong, TARGET)


def test_sitting_up_costs_long_length_tension(modeller: Modeller) -> None:
    assert "length there" in says(modeller, "reclined-60-dumbbell-curl", "Sits up")
    right = modelled("reclined-60-dumbbell-curl")
    prices = fault_prices(
        (right.variant,), TARGET, lenses()["long_length"], body=right.body, effort=0.75, modeller=modeller
    )
    sits_up = next(one for one in prices if one.faults[0].name == "Sits up 20°")
    assert sits_up.price is not None
    assert sits_up.price.spread.median < -2
    assert sits_up.says.count("→") == len(sits_up.told)


def test_bouncing_costs_time_under_tension_though_the_curve_stays(modeller: Modeller) -> None:
    assert "s over half effort" in says(modeller, "pad-45-barbell-curl", "Bounces")
