"""Constraints constrain, and say why."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.library import built_in
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.rating.joints import joints, spare_above, strains
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.ranking import Row, question, rank


def test_equipment_is_a_constraint_and_what_is_left_out_says_why(modeller: Modeller) -> None:
    ranking = rank(question(equipment=("dumbbell", "incline_bench")), built_in(), modeller)
    for row in ranking.rows:
        assert set(row.variant.equipment.loads) <= {"dumbbell"}
        assert row.variant.equipment.bench in (None, "incline_bench")
    assert ranking.left_out
    assert all(item.reason for item in ranking.left_out)
    total = sum(v.group == "flexors" for v in built_in())
    assert len(ranking.rows) + len(ranking.left_out) == total


def test_sparing_a_joint_leaves_out_exactly_what_strains_it(modeller: Modeller) -> None:
    free = rank(question("extensors", "all_round"), built_in(), modeller)
    for joint in joints():
        spared = rank(question("extensors", "all_round", spare=(joint,)), built_in(), modeller)
        strained = {
            row.variant.id
            for row in free.rows
            for strain in strains(row.modelled.readings, row.modelled.body)
            if strain.joint.key == joint and strain.strain > spare_above()
        }
        assert {item.variant.id for item in spared.left_out} == strained


BODIES = (Body(), Body(height=1.58, mass=52), Body(height=1.95, mass=110), Body(strength=1.4))


def test_strain_is_the_same_for_every_size_and_strength(modeller: Modeller) -> None:
    """One shape at different scales, one effort: what a joint bears goes with the muscles that load it."""
    free_weights = [v for v in built_in() if v.equipment.loads == ("dumbbell",)]
    of = {body: modeller.able(free_weights, body, effort=usual_effort()) for body in BODIES}
    for models in zip(*of.values(), strict=True):
        for parts in zip(*(strains(m.readings, m.body) for m in models), strict=True):
            assert np.ptp([one.strain for one in parts]) <= 0.15, models[0].variant.id


@pytest.mark.parametrize("body", BODIES, ids=("middle", "small", "large", "strong"))
@pytest.mark.parametrize("target", ["biceps_long", "brachialis", "triceps_long", "triceps_lateral"])
def test_the_first_of_those_that_spare_is_kind_by_a_margin(
    modeller: Modeller, body: Body, target: str
) -> None:
    for lens in ("long_length", "even_tension"):
        free = rank(question(target, lens, body=body), built_in(), modeller).rows
        for joint in ("elbow", "shoulder", "wrist"):
            spared = rank(question(target, lens, spare=(joint,), body=body), built_in(), modeller).rows
            first = strain_on(spared[0], joint)
            assert first <= spare_above() / 2
            assert first <= strain_on(free[0], joint)
            if strain_on(free[0], joint) > spare_above():
                assert first <= strain_on(free[0], joint) - 0.25


def strain_on(row: Row, joint: str) -> float:
    return next(one.strain for one in row.strains if one.joint.key == joint)


def test_one_variant_that_cannot_be_does_not_spoil_the_rest(modeller: Modeller) -> None:
    bad = changed(
        next(v for v in built_in() if v.id == "cable-curl-arm-behind"),
        tuple(parse_setting(f"lines.0.{text}") for text in ("forward=0", "up=1.2", "right=0")),
    )
    ranking = rank(question(), (*built_in()[:10], bad), modeller)
    assert [item.variant.id for item in ranking.left_out] == [bad.id]
    assert "outside the body" in ranking.left_out[0].reason


@pytest.mark.parametrize(
    "bad", [{"target": "calf"}, {"lens": "best"}, {"equipment": ("spoon",)}, {"spare": ("knee",)}]
)
def test_unknown_words_list_the_known_ones(bad: dict[str, object]) -> None:
    with pytest.raises(UnknownNameError, match="one of: "):
        question(**bad)  # type: ignore[arg-type]


@pytest.mark.parametrize("reps", [0, 21, -3])
def test_repetitions_outside_the_trusted_range_are_refused(reps: int) -> None:
    with pytest.raises(BadInputError, match="1 to 20"):
        question(reps=reps)
