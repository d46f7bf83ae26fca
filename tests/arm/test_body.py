"""Bodies: sizes in range, lengths to scale, measured segments used."""

from __future__ import annotations

from dataclasses import replace

import pytest

from curve_rank.arm.body import Body
from curve_rank.errors import BadInputError
from tests.helpers import modelled

BODY, CURL = Body(), "standing-dumbbell-curl"


def test_bodies_out_of_range_are_refused_and_size_scales_lengths() -> None:
    for wrong in ({"height": 9}, {"mass": float("nan")}, {"strength": 0}, {"height": float("inf")}):
        with pytest.raises(BadInputError, match="body"):
            Body(**wrong)
    assert replace(BODY, height=1.958).upper_arm == pytest.approx(1.1 * BODY.upper_arm)


@pytest.mark.parametrize(
    ("field", "variant"), [("upper_arm_m", "bench-press-narrow"), ("forearm_m", CURL), ("grip_m", CURL)]
)
def test_measured_segments_are_used_and_checked(field: str, variant: str) -> None:
    """A longer forearm or grip is a longer lever; a longer upper arm moves the elbow of a hand path."""
    longer = modelled(variant, Body(**{field: 1.05 * getattr(BODY, field[:-2])}))
    assert longer.load != pytest.approx(modelled(variant).load, abs=1e-3)
    with pytest.raises(BadInputError, match=field):
        Body(**{field: 2.0})
