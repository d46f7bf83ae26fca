"""What is put together from scratch can be modelled, or says what cannot be together."""

from __future__ import annotations

from itertools import product

import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.errors import CurveRankError
from curve_rank.rating.modelling import model_variants
from curve_rank.study.scratch import HIGHEST, Beginning, choices, from_scratch

BASES, LOADS, GRIPS = (tuple(choices()[name]) for name in ("bases", "loads", "grips"))


@pytest.mark.parametrize("group", ["flexors", "extensors"])
@pytest.mark.parametrize("base", BASES)
def test_every_load_on_every_base_works_the_muscles_it_is_for(group: str, base: str) -> None:
    made, refused = 0, set()
    for n, (load, arms) in enumerate(product(LOADS, (1, 2))):
        asked = Beginning(group, base, load, GRIPS[n % len(GRIPS)], arms)
        try:
            variant = from_scratch(asked, "Put together")
        except CurveRankError:
            refused.add(load)
            continue
        made += 1
        (modelled,) = model_variants((variant,), Body(), effort=usual_effort())
        assert modelled.load > 2
        assert variant.group == group
        assert variant.equipment.arms == arms
        for line in variant.lines:
            if line.kind in ("cable", "band"):
                assert 0 < line.up <= HIGHEST
                assert float(modelled.readings.slack_share) < 0.55, asked
    assert made >= 8
    assert refused <= {"machine"} or (group, base) == ("extensors", "pad")


def test_a_cable_pulls_squarely_half_way_where_the_room_lets_it() -> None:
    variant = from_scratch(Beginning("extensors", "standing", "cable", "thumb"), "Press-down of my own")
    (modelled,) = model_variants((variant,), Body(), effort=usual_effort())
    lever = modelled.along("lever")
    assert lever[lever.size // 2] == pytest.approx(lever.max(), rel=0.02)


@pytest.mark.parametrize(
    "asked",
    [
        Beginning("flexors", "cloud", "cable", "up"),
        Beginning("flexors", "seated", "rocket", "up"),
        Beginning("flexors", "seated", "cable", "sideways"),
        Beginning("legs", "seated", "cable", "up"),
        Beginning("flexors", "seated", "cable", "up", 3),
        Beginning("flexors", "seated", "machine", "up"),
    ],
)
def test_what_cannot_be_together_says_why(asked: Beginning) -> None:
    with pytest.raises(CurveRankError):
        from_scratch(asked, "No")
