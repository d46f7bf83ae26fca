"""Faults, cautions, neighbours, lenses of one's own, and evidence."""

from __future__ import annotations

from itertools import pairwise

import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.errors import BadInputError
from curve_rank.rating.cautions import cautions_for
from curve_rank.rating.evidence import comparisons, verdicts
from curve_rank.rating.faults import fault_costs
from curve_rank.rating.kinship import complements, neighbours
from curve_rank.rating.lens import document_of, validate_lens
from curve_rank.rating.modelling import Modelled, Modeller, model_variants
from curve_rank.rating.ranking import Question, rank
from curve_rank.rating.vocabulary import aims, criteria, lenses
from tests.conftest import modelled


@pytest.fixture(scope="module")
def everything() -> tuple[Modelled, ...]:
    return model_variants(built_in(), Body(), effort=0.75)


def test_sitting_up_costs_long_length_tension(modeller: Modeller) -> None:
    right = modelled("reclined-60-dumbbell-curl")
    costs = fault_costs(right, aims()["biceps_long"], lenses()["long_length"], modeller, effort=0.75)
    by_name = {cost.fault.name: cost for cost in costs}
    assert by_name["Sits up 20°"].score_change < -2
    assert "length there" in by_name["Sits up 20°"].says
    assert [c.score_change for c in costs] == sorted(c.score_change for c in costs)


def test_bouncing_costs_time_under_tension_though_the_curve_stays(modeller: Modeller) -> None:
    right = modelled("pad-45-barbell-curl")
    costs = fault_costs(right, aims()["biceps_long"], lenses()["long_length"], modeller, effort=0.75)
    bounce = next(c for c in costs if c.fault.name.startswith("Bounces"))
    assert bounce.score_change == pytest.approx(0)
    assert "s over half effort" in bounce.says


def test_cautions_come_with_their_reasons(everything: tuple[Modelled, ...]) -> None:
    found = {m.variant.id: {c.caution.key: c.reason for c in cautions_for(m)} for m in everything}
    assert "over neck or face" in found["lying-bar-to-forehead"]["bar_over_face"]
    assert "bar_over_face" not in found["standing-barbell-curl"]
    assert "swings" in found["momentum-curl"]["momentum"]
    assert "shoulder" in found["overhead-barbell-standing"]["shoulder_room"]
    for m in everything:
        assert set(m.variant.cautions) <= set(found[m.variant.id])
        assert all(found[m.variant.id].values())


def test_neighbours_are_alike_and_complements_add(everything: tuple[Modelled, ...]) -> None:
    by_id = {m.variant.id: m for m in everything}
    near = neighbours(by_id["reclined-60-dumbbell-curl"], everything)
    assert all(n.modelled.variant.target == "flexors" for n in near)
    assert [n.difference for n in near] == sorted(n.difference for n in near)
    assert any(n.modelled.variant.family == "reclined" for n in near)
    back = complements(by_id["bent-over-pull-back"], everything)
    assert {c.length for c in back} & {"long", "middle"}
    assert all(a.gain >= b.gain for a, b in pairwise(back))


def test_an_own_lens_weighs_scales_and_limits(modeller: Modeller) -> None:
    document = validate_lens(
        {
            "name": "No slack at all",
            "school": "Only what never rests.",
            "weights": {"evenness": 30, "tension": 10},
            "curves": {"evenness": {"zero": 0.5, "full": 0.9}},
            "limits": {"no_slack": {"at_most": 0.02}},
        }
    )
    lens = document.lens("own-no-slack")
    assert dict(lens.weights) == {"evenness": 0.75, "tension": 0.25}
    ranking = rank(Question("biceps_long", lens.key, own_lens=lens), built_in(), modeller)
    assert ranking.rows
    assert all(row.modelled.readings.slack_share <= 0.02 for row in ranking.rows)
    assert any("limits" in item.reason for item in ranking.left_out)
    assert document_of(lens).lens("x").weights == lens.weights


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"name": ""}, "name"),
        ({"weights": {}}, "at least one"),
        ({"weights": {"evenness": -1}}, "weights.evenness"),
        ({"weights": {"evenness": float("nan")}}, "weights.evenness"),
        ({"weights": {"beauty": 1}}, "beauty"),
        ({"curves": {"evenness": {"zero": 1, "full": 1}}}, "differ"),
        ({"limits": {"no_slack": {}}}, "at_least"),
        ({"limits": {"no_slack": {"at_least": 2, "at_most": 1}}}, "exceed"),
        ({"surprise": 1}, "surprise"),
    ],
)
def test_a_bad_lens_is_refused_naming_the_field(change: dict[str, object], says: str) -> None:
    good = {"name": "Good", "school": "Good.", "weights": {"evenness": 1}}
    with pytest.raises(BadInputError) as caught:
        validate_lens(good | change)
    assert says in str(caught.value)


def test_the_long_length_lens_agrees_with_the_published_comparisons_it_can(modeller: Modeller) -> None:
    said = {c.key: verdicts(c, tuple(lenses().values()), modeller) for c in comparisons()}
    for key in ("overhead_extension", "arm_curl_range", "elbow_angle_range"):
        assert {v.says for v in said[key] if v.lens.key == "long_length"} == {"agrees"}
    everything = {v.says for row in said.values() for v in row}
    assert everything == {"agrees", "disagrees", "says neither"}


def test_nothing_in_the_data_favours_a_variant_by_name(modeller: Modeller) -> None:
    """Renamed, a variant keeps its score to the last digit."""
    plain = find_variant("cable-curl-arm-behind", built_in())
    renamed = plain.model_copy(update={"id": "something-else", "name": "Something else"})
    for lens in lenses():
        rows = rank(Question("biceps_long", lens), (plain, renamed), modeller).rows
        assert rows[0].score == rows[1].score
    assert criteria()
    assert changed(plain, (parse_setting("posture.wrist=3"),)) != plain
