"""What decides between two set-ups is what their medians say, whichever comes first."""

from __future__ import annotations

import re

import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.targets import targets
from curve_rank.study.compare import resolved
from curve_rank.study.deciding import Deciding, deciding, deciding_words
from tests.conftest import KEPT


def between(first: str, second: str, modeller: Modeller = KEPT) -> Deciding:
    variants = tuple(find_variant(name, built_in()) for name in (first, second))
    body, effort = Body(), usual_effort()
    drawn = fixed_draws(variants, body, effort, modeller)
    one, other = (modeller.one(v, body, effort=effort) for v in variants)
    return deciding((one, other), drawn, targets()["biceps_long"], lenses()["long_length"])


@pytest.mark.parametrize(
    ("first", "second"),
    [
        ("rope-thumb-up-curl", "cable-curl-arm-behind"),
        ("standing-dumbbell-curl", "pad-45-dumbbell-curl"),
    ],
)
def test_either_way_round_it_says_the_same(first: str, second: str) -> None:
    there, back = between(first, second), between(second, first)
    assert there.chance == pytest.approx(1 - back.chance)
    assert [one.reading.key for one in there.told] == [one.reading.key for one in back.told]
    assert there.is_close == back.is_close == (max(there.chance, back.chance) < resolved())
    numbers = [sorted(re.findall(r"\d+(?:\.\d+)?", words_of(one).partition(";")[2])) for one in (there, back)]
    assert numbers[0] == numbers[1]


def words_of(found: Deciding) -> str:
    return (
        deciding_words(found, ("A", "B")).replace("A spares", "one spares").replace("B spares", "one spares")
    )


def test_a_spared_joint_is_named_for_the_one_that_spares_it() -> None:
    found = between("rope-thumb-up-curl", "cable-curl-arm-behind")
    low, high = (round(one.median) for one in found.told[0].columns)
    assert low < high
    says = deciding_words(found, ("the rope", "the other"))
    assert (
        f"the rope spares the {found.told[0].reading.name[0].lower()}{found.told[0].reading.name[1:]}" in says
    )
    assert f"{low} against {high} {found.told[0].reading.unit}" in says


def test_the_same_twice_is_not_told_apart() -> None:
    found = between("chin-up", "chin-up")
    assert found.chance == 0.5
    assert found.told == ()
    assert "hardly any other reading can" in deciding_words(found, ("1", "2"))
