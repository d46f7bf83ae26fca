"""Shape-preserving cubics: the same curve as the library's, and never over its points."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator

from curve_rank.arm.monotone import MonotoneCubic

STEPS = st.lists(st.floats(0.1, 5), min_size=1, max_size=8)
LEVELS = st.sampled_from([-3.0, -1.0, 0.0, 0.5, 0.5000001, 2.0])


@given(steps=STEPS, data=st.data())
@settings(deadline=None)
def test_it_is_the_librarys_curve_inside_and_beyond_and_stays_between_its_points(
    steps: list[float], data: st.DataObject
) -> None:
    places = np.cumsum([0.0, *steps])
    row = st.lists(LEVELS, min_size=places.size, max_size=places.size)
    values = np.array([data.draw(row), data.draw(row)])
    ours, theirs = MonotoneCubic(places, values), PchipInterpolator(places, values, axis=-1)
    at = np.linspace(places[0] - 1, places[-1] + 1, 83)
    assert ours(at) == pytest.approx(theirs(at), rel=1e-9, abs=1e-9)
    assert ours.rise(at) == pytest.approx(theirs(at, 1), rel=1e-9, abs=1e-9)
    assert ours.slopes() == pytest.approx(theirs(places, 1), rel=1e-9, abs=1e-9)
    inside = at[(at >= places[0]) & (at <= places[-1])]
    piece = np.clip(np.searchsorted(places, inside, side="right") - 1, 0, places.size - 2)
    ends = values[:, piece], values[:, piece + 1]
    assert (ours(inside) <= np.maximum(*ends) + 1e-9).all()
    assert (ours(inside) >= np.minimum(*ends) - 1e-9).all()
