"""Curves: nice scales, names that do not stand on each other, and dots that lie on their lines."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from curve_rank.figures.curves import LEFT, RIGHT, WIDTH, curves, nice_ticks
from curve_rank.figures.shapes import Circle, Label, Path
from curve_rank.figures.strip import HATCH, strip
from curve_rank.rating.targets import long_head
from tests.helpers import modelled


@given(low=st.floats(-500, 500), span=st.floats(0.01, 2000))
def test_ticks_are_round_few_and_hold_the_range(low: float, span: float) -> None:
    ticks = nice_ticks(low, low + span)
    assert ticks[0] <= low + 1e-6
    assert ticks[-1] >= low + span - 1e-6
    assert 2 <= len(ticks) <= 7
    steps = np.diff(ticks)
    np.testing.assert_allclose(steps, steps[0], rtol=1e-6)
    lead = float(f"{steps[0]:.1e}".split("e")[0])
    assert lead in (1.0, 2.0, 5.0)


@pytest.mark.parametrize("name", ["chin-up", "rope-press-down", "bent-over-pull-back", "dumbbell-pullover"])
def test_dots_lie_on_their_lines_and_names_stand_apart(name: str) -> None:
    drawn = curves(modelled(name))
    assert (drawn.x[0], drawn.x[-1]) == (LEFT, WIDTH - RIGHT)
    lines = [s for s in drawn.picture.shapes if isinstance(s, Path) and s.role.startswith("curve ")]
    for (_, row), path in zip(drawn.dots.items(), lines, strict=True):
        ys = [float(pair.split()[1]) for pair in path.d[1:].split("L")]
        np.testing.assert_allclose(ys, row, atol=0.06)
    group = drawn.picture.shapes[-1]
    dots = [s for s in group.shapes if isinstance(s, Circle)]  # type: ignore[union-attr]
    assert {d.key for d in dots} == drawn.dots.keys()
    names = [s.y for s in drawn.picture.shapes if isinstance(s, Label) and s.role == "curve-name"]
    assert all(abs(b - a) >= 11.9 for a, b in pairwise(names))


def test_a_ghost_stands_behind_and_stretches_the_scale() -> None:
    light, heavy = modelled("standing-dumbbell-curl"), modelled("standing-barbell-curl")
    alone, before = curves(light), curves(light, (heavy,))
    ghosts = [s for s in before.picture.shapes if isinstance(s, Path) and "curve-ghost" in s.role]
    assert len(ghosts) == len(before.dots)
    assert not any("curve-ghost" in getattr(s, "role", "") for s in alone.picture.shapes)


def test_the_strip_hatches_what_the_words_call_slack_and_nothing_else() -> None:
    for name in ("chin-up", "bent-over-pull-back", "pad-45-dumbbell-curl", "reclined-45-dumbbell-curl"):
        m = modelled(name)
        picture = strip(m, long_head(m.variant.group))
        hatch = next(s.d for s in picture.shapes if isinstance(s, Path) and s.role == "strip-hatch")
        assert bool(hatch) == bool(m.told_slack)
        xs = [float(part.split()[0]) for part in hatch.replace("L", "M").split("M")[1:]]
        width = picture.width - 12
        for start, end in m.told_slack:
            inside = [x for x in xs if 6 + start * width - 0.1 <= x <= 6 + end * width + 0.1]
            assert len(inside) >= 2 * int((end - start) * width / HATCH) - 2
