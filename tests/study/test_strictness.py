"""How strictly a set is done: help that is a variant's own faults, in part, and only where it helps."""

from __future__ import annotations

import pytest

from curve_rank.answers.loads import Manners
from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.spreads import Spread
from curve_rank.study.strictness import MANNERS, as_done, between, widened

BODY = Body()


def load(name: str, manner: str, modeller: Modeller) -> float:
    done = as_done(find_variant(name, built_in()), manner, BODY, 0.75, modeller)
    return modeller.one(done, BODY, effort=0.75).load


@pytest.mark.parametrize(
    "name", ["standing-dumbbell-curl", "standing-barbell-curl", "bent-over-row-underhand"]
)
def test_a_little_help_lifts_a_little_more_and_loosely_no_less(name: str, modeller: Modeller) -> None:
    strict, little, loose = (load(name, manner, modeller) for manner in MANNERS)
    assert strict == modeller.one(find_variant(name, built_in()), BODY, effort=0.75).load
    assert 1.0 < little / strict < 1.25
    assert loose >= little


def test_nothing_is_lost_where_no_fault_helps_and_the_rest_stays(modeller: Modeller) -> None:
    for variant in built_in()[::9]:
        try:
            plain = modeller.one(variant, BODY, effort=0.75).load
        except CurveRankError:
            continue  # what cannot be modelled is not done either
        done = as_done(variant, "little_help", BODY, 0.75, modeller)
        assert modeller.one(done, BODY, effort=0.75).load >= plain
        assert (done.id, done.lines, done.equipment) == (variant.id, variant.lines, variant.equipment)
    pad = find_variant("machine-pad-curl", built_in())
    assert between(pad, "strictly", BODY, 0.75, modeller) == ()


def test_a_wider_interval_holds_its_ends_and_a_word_that_is_no_manner_is_refused(modeller: Modeller) -> None:
    told = widened(Spread(10, 9, 11), (Spread(10.5, 9.4, 11.8), Spread(9.8, 8.7, 10.9)))
    assert (told.median, told.low, told.high) == (10, 8.7, 11.8)
    with pytest.raises(BadInputError, match="done"):
        as_done(find_variant("chin-up", built_in()), "wildly", BODY, 0.75, modeller)
    assert Manners().known == "strictly"
