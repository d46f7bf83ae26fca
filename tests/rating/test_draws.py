"""The same seed gives the same draws, however they are shared out."""

from __future__ import annotations

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in
from curve_rank.rating.draws import DrawTask, model_draws

FEW = tuple(v for v in built_in() if v.group == "flexors")[::5]


def test_the_same_seed_gives_the_same_draws_however_they_are_shared_out() -> None:
    whole = model_draws(DrawTask(FEW[:4], Body(), 0.75, 7, 0, 6))
    later = model_draws(DrawTask(FEW[:4], Body(), 0.75, 7, 4, 6))
    alone = model_draws(DrawTask(FEW[1:2], Body(), 0.75, 7, 0, 6))
    np.testing.assert_allclose(whole.load[4:], later.load, rtol=1e-9)
    np.testing.assert_allclose(whole.load[:, 1], alone.load[:, 0], rtol=1e-9)
    other = model_draws(DrawTask(FEW[:4], Body(), 0.75, 8, 0, 6))
    assert not np.allclose(whole.load, other.load)
