"""Scores stand on their own, constraints constrain, the cache is never stale, loads look right."""

from __future__ import annotations

from dataclasses import replace

import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.library import built_in
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.rating.bands import load_bands
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.ranking import Question, Ranking, rank
from curve_rank.rating.scoring import strains
from curve_rank.rating.vocabulary import aims, criteria, joints, lenses, spare_above


def scores(ranking: Ranking) -> dict[str, float]:
    return {row.variant.id: row.score for row in ranking.rows}


@pytest.mark.parametrize("lens", lenses())
def test_changing_or_hiding_a_variant_leaves_every_other_score_alone(lens: str, modeller: Modeller) -> None:
    question = Question("biceps_long", lens)
    whole = scores(rank(question, built_in(), modeller))
    first = next(iter(whole))
    edited = tuple(
        changed(v, (parse_setting("posture.forearm=12"),)) if v.id == first else v for v in built_in()
    )
    hidden = scores(rank(question, tuple(v for v in built_in() if v.id != first), modeller))
    other = scores(rank(question, edited, modeller))
    assert other.pop(first) != whole.pop(first)
    assert hidden == other == whole


def test_scores_are_the_weighted_sum_of_their_parts_inside_0_to_100(modeller: Modeller) -> None:
    for target in aims():
        for lens in lenses():
            for row in rank(Question(target, lens), built_in(), modeller).rows:
                assert 0 <= row.score <= 100
                assert row.score == pytest.approx(sum(p.score * p.weight for p in row.criteria))
                assert row.why.startswith("Hardest ")


def test_lenses_weigh_to_one_and_use_known_criteria() -> None:
    for lens in lenses().values():
        assert sum(weight for _, weight in lens.weights) == pytest.approx(1)
        assert {key for key, _ in lens.weights} <= criteria().keys()
        assert lens.school


def test_equipment_is_a_constraint_and_what_is_left_out_says_why(modeller: Modeller) -> None:
    ranking = rank(Question(equipment=("dumbbell", "incline_bench")), built_in(), modeller)
    for row in ranking.rows:
        assert set(row.variant.equipment.loads) <= {"dumbbell"}
        assert row.variant.equipment.bench in (None, "incline_bench")
    assert ranking.left_out
    assert all(item.reason for item in ranking.left_out)
    total = sum(v.target == "flexors" for v in built_in())
    assert len(ranking.rows) + len(ranking.left_out) == total


def test_sparing_a_joint_leaves_out_exactly_what_strains_it(modeller: Modeller) -> None:
    free = rank(Question("extensors", "all_round"), built_in(), modeller)
    for joint in joints():
        spared = rank(Question("extensors", "all_round", spare=(joint,)), built_in(), modeller)
        strained = {
            row.variant.id
            for row in free.rows
            for strain in strains(row.modelled)
            if strain.joint.key == joint and strain.strain > spare_above()
        }
        assert {item.variant.id for item in spared.left_out} == strained


def test_the_cache_answers_for_content_only() -> None:
    modeller, question = Modeller(), Question()
    before = rank(question, built_in(), modeller)
    assert rank(question, built_in(), modeller).rows[0].modelled is before.rows[0].modelled
    edited = tuple(changed(v, (parse_setting("posture.forearm=12"),)) for v in built_in())
    assert scores(rank(question, edited, modeller)) == scores(rank(question, edited, Modeller()))
    bigger = replace(question, body=Body(1.9, 95))
    assert scores(rank(bigger, built_in(), modeller)) == scores(rank(bigger, built_in(), Modeller()))


def test_one_variant_that_cannot_be_does_not_spoil_the_rest(modeller: Modeller) -> None:
    bad = changed(
        next(v for v in built_in() if v.id == "cable-curl-arm-behind"),
        tuple(parse_setting(f"lines.0.{text}") for text in ("forward=0", "up=1.2", "right=0")),
    )
    ranking = rank(Question(), (*built_in()[:10], bad), modeller)
    assert [item.variant.id for item in ranking.left_out] == [bad.id]
    assert "outside the body" in ranking.left_out[0].reason


@pytest.mark.parametrize(
    "bad", [{"target": "calf"}, {"lens": "best"}, {"equipment": ("spoon",)}, {"spare": ("knee",)}]
)
def test_unknown_words_list_the_known_ones(bad: dict[str, object]) -> None:
    with pytest.raises(UnknownNameError, match="one of: "):
        Question(**bad)  # type: ignore[arg-type]


@pytest.mark.parametrize("reps", [0, 21, -3])
def test_repetitions_outside_the_trusted_range_are_refused(reps: int) -> None:
    with pytest.raises(BadInputError, match="1 to 20"):
        Question(reps=reps)


def test_loads_stand_inside_their_bands_or_say_why_not(modeller: Modeller) -> None:
    for band in load_bands(built_in(), Body(), modeller):
        assert band.inside or len(band.miss) > 80, band
