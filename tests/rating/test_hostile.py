"""Whatever a document or setting says, it is modelled or refused with one of the project's own errors."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.library import built_in, find_variant, parse_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import CurveRankError
from curve_rank.exchange.json_views import model_view
from curve_rank.rating.cautions import cautions_for
from curve_rank.rating.modelling import Modeller, model_variants
from tests.helpers import ONE_OF_A_KIND

numbers = st.one_of(
    st.floats(-400, 400), st.sampled_from([0.0, 1e-9, -1e-9, 1e12, -1e12, 89.999, 90.0, 145.0, 180.0, -60.0])
)
anything = st.one_of(
    numbers, st.none(), st.booleans(), st.text(max_size=8), st.lists(numbers, max_size=3), st.just({})
)


def fields(document: Any, place: str = "") -> list[str]:
    """Dotted paths of every number in a document."""
    if isinstance(document, dict):
        pairs = [(f"{place}.{key}" if place else key, value) for key, value in document.items()]
    elif isinstance(document, list):
        pairs = [(f"{place}.{n}", value) for n, value in enumerate(document)]
    else:
        number = isinstance(document, int | float) and not isinstance(document, bool)
        return [place] if number else []
    return [path for key, value in pairs for path in fields(value, key)]


def model_or_refuse(make: Any) -> Variant | None:
    """Everything a page does with a variant; only the project's own errors may come of it."""
    try:
        variant = make()
        modelled = model_variants((variant,), Body(), effort=0.75)[0]
        json.dumps(model_view(modelled), allow_nan=False)
        cautions_for(modelled)
    except CurveRankError as error:
        refusal = error
    else:
        return variant
    assert refusal.field
    assert refusal.expected
    assert len(str(refusal)) < 1500
    return None


@pytest.mark.parametrize("kind", ONE_OF_A_KIND)
@given(data=st.data())
@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_any_number_anywhere_is_modelled_or_refused(kind: str, data: st.DataObject) -> None:
    plain = find_variant(kind, built_in())
    able = [
        f
        for f in fields(plain.model_dump(mode="json"))
        if f.split(".")[0] in ("posture", "path", "hand_path", "lines", "support", "guide", "equipment")
    ]
    chosen = data.draw(st.lists(st.sampled_from(able), min_size=1, max_size=3, unique=True))
    texts = [f"{field}={data.draw(numbers)!r}" for field in chosen]
    model_or_refuse(lambda: changed(plain, tuple(parse_setting(text) for text in texts)))


@given(data=st.data())
@settings(max_examples=120)
def test_any_value_in_a_documents_place_is_modelled_or_refused(data: st.DataObject) -> None:
    document = find_variant(data.draw(st.sampled_from(ONE_OF_A_KIND)), built_in()).model_dump(mode="json")
    for _ in range(data.draw(st.integers(1, 3))):
        key = data.draw(st.sampled_from(sorted(document)))
        document[key] = data.draw(anything)
    model_or_refuse(lambda: parse_variant(json.dumps(document), name="doc"))


@given(text=st.text(max_size=300))
@settings(max_examples=150)
def test_any_text_is_a_document_or_refused(text: str) -> None:
    model_or_refuse(lambda: parse_variant(text, name="doc"))


@given(text=st.text(max_size=60))
@settings(max_examples=150)
def test_any_setting_is_a_change_or_refused(text: str) -> None:
    plain = find_variant("standing-dumbbell-curl", built_in())
    model_or_refuse(lambda: changed(plain, (parse_setting(text),)))


@pytest.mark.parametrize("body", [Body(1.3, 35, 0.3), Body(2.2, 200, 2.5), Body(1.5, 120), Body(2.0, 60)])
def test_bodies_of_every_size_can_do_nearly_everything(body: Body) -> None:
    some = built_in()[::6]
    able = Modeller().able(some, body, effort=0.75)
    assert len(able) >= 0.7 * len(some)
    assert all(m.body == body for m in able)
    assert all(np.isfinite(m.load) for m in able)
