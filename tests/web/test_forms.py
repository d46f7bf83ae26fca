"""Addresses and forms: typed, checked, and told by field, value and what would be right."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from werkzeug.datastructures import MultiDict

from curve_rank.answers.bench_state import BenchRequest
from curve_rank.answers.board import BoardRequest
from curve_rank.answers.certainty import DrawsRequest
from curve_rank.answers.variants import VariantRequest
from curve_rank.errors import BadInputError
from curve_rank.web.forms import (
    BodyForm,
    LoadsQuery,
    lens_data,
)

MODELS = (BenchRequest, BoardRequest, BodyForm, DrawsRequest, LoadsQuery, VariantRequest)


def test_what_is_left_out_or_empty_takes_its_default_and_lists_lose_doubles() -> None:
    query = BoardRequest.read(
        MultiDict([("with", "cable"), ("with", ""), ("with", "cable"), ("with", "band"), ("for", " ")])
    )
    assert query.equipment == ("cable", "band")
    assert (query.person, query.reps, query.lens) == (None, 10, "long_length")
    assert LoadsQuery.read(MultiDict({"load": " 12,5 "})).load == 12.5


@pytest.mark.parametrize(
    ("model", "values", "says"),
    [
        (BoardRequest, {"for": "-1"}, "for: '-1' — a whole number"),
        (BoardRequest, {"reps": "ten"}, "reps: 'ten' — a whole number"),
        (BoardRequest, {"reps": "٣"}, "reps"),
        (BoardRequest, {"for": "9" * 30}, "a whole number"),
        (LoadsQuery, {"load": "nan"}, "load: 'nan' — a number"),
        (LoadsQuery, {"load": "1e999"}, "a number"),
        (LoadsQuery, {"load": "heavy"}, "load: 'heavy' — a number"),
        (BodyForm, {}, "for: missing"),
        (BenchRequest, {"frame": "elsewhere"}, "frame"),
    ],
)
def test_what_makes_no_sense_is_told_by_its_field(model, values: dict[str, str], says: str) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(BadInputError) as caught:
        model.read(MultiDict(values))
    assert says in str(caught.value)


@given(
    pairs=st.lists(
        st.tuples(
            st.sampled_from(["for", "load", "reps", "set", "with", "draws", "view"]), st.text(max_size=12)
        ),
        max_size=8,
    )
)
def test_whatever_is_typed_is_read_or_refused(pairs: list[tuple[str, str]]) -> None:
    for model in MODELS:
        refusal = None
        try:
            model.read(MultiDict(pairs))
        except BadInputError as error:
            refusal = error
        assert refusal is None or (refusal.field and refusal.expected)


def test_a_lens_form_becomes_a_document_and_names_the_criterion_that_is_wrong() -> None:
    form = MultiDict(
        {
            "name": " Even  one ",
            "school": "x",
            "weight-evenness": "3",
            "full-load": "2",
            "most-no_slack": "0,1",
        }
    )
    data = lens_data(form)
    assert data["name"] == "Even one"
    assert data["weights"] == {"evenness": 3}
    assert data["curves"]["load"]["full"] == 2
    assert data["limits"]["no_slack"] == {"at_least": None, "at_most": 0.1}
    with pytest.raises(BadInputError, match="Evenness: weight: 'lots' — a number"):
        lens_data(MultiDict({"weight-evenness": "lots"}))
