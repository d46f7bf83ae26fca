"""What is said of heads: worked out where it is the model's, and lists that the draws bear out."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.modelling import Modeller
from curve_rank.study.heads import heads, loaded_lists, model_says


def test_the_seven_come_first_and_cross_the_joints_that_move_them() -> None:
    seven = [head.key for head in heads().values() if head.counted]
    assert list(heads())[:7] == seven
    for head in heads().values():
        said = " ".join(model_says(head.key))
        assert ("The shoulder alone" in said) == ("shoulder" in head.joints)
        assert ("It turns the forearm" in said) == ("forearm" in head.joints)
        assert ("moment arm at the elbow" in said) == ("elbow" in head.joints)


def test_lists_are_the_extremes_of_the_medians(modeller: Modeller) -> None:
    variants = tuple(v for v in built_in() if v.group == "extensors")
    able = tuple(m.variant for m in modeller.able(variants, Body(), effort=0.75))
    drawn = dict(zip((v.id for v in able), fixed_draws(able, Body(), 0.75, modeller), strict=True))
    found = loaded_lists("triceps_long", drawn, able)
    place = modeller.one(able[0], Body(), effort=0.75).anatomy.index("triceps_long")
    long = {v.id: 100 * float(np.median(drawn[v.id].long_tension[place])) for v in able}
    best = sorted(long.values(), reverse=True)[:5]
    assert [one.value for one in found.long] == pytest.approx(best, rel=1e-5)
    assert {one.variant.family for one in found.long} & {"overhead", "lying"}
    assert max(one.value for one in found.hardly) < min(one.value for one in found.long)
