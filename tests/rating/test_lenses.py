"""Lenses: weights, scales and limits, built in and of one's own."""

from __future__ import annotations

import pytest

from curve_rank.catalogue.library import built_in
from curve_rank.errors import BadInputError
from curve_rank.rating.criteria import criteria
from curve_rank.rating.lenses import document_of, lenses, validate_lens
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.ranking import question, rank


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
    ranking = rank(question("biceps_long", lens.key, among={lens.key: lens}), built_in(), modeller)
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


def test_lenses_weigh_to_one_and_use_known_criteria() -> None:
    for lens in lenses().values():
        assert sum(weight for _, weight in lens.weights) == pytest.approx(1)
        assert {key for key, _ in lens.weights} <= criteria().keys()
        assert lens.school
