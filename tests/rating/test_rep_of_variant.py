"""Where a document puts the body."""

from __future__ import annotations

import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Base
from curve_rank.rating.rep_of_variant import hip_height

# A standing hip is 0.53 of 1.78 m = 0.9434 m over the floor. Kneeling is 0.54 of that, 0.5094 m. A seat of
# 0.40 m and the hip's 0.13 m over it make 0.53 m, a bench of 0.45 m with 0.11 m 0.56 m. Hanging is 0.25 m and
# a dip support 0.20 m above standing.
HIPS = {
    "standing": 0.9434, "kneeling": 0.5094, "seated": 0.53, "bench_lying": 0.56, "bench_prone": 0.75,
    "floor_lying": 0.11, "push_up": 0.30, "bench_dip": 0.42, "body_row": 0.45, "hanging": 1.1934,
    "dip_support": 1.1434,
}  # fmt: skip


@pytest.mark.parametrize("base", Base.__args__)  # type: ignore[attr-defined]
def test_hips_stand_where_the_base_puts_them(base: str) -> None:
    curl = find_variant("standing-dumbbell-curl", built_in())
    support = curl.support.model_copy(update={"base": base, "hip_height_m": None})
    assert hip_height(curl.model_copy(update={"support": support}), Body()) == pytest.approx(
        HIPS[base], abs=1e-4
    )
    own = support.model_copy(update={"hip_height_m": 0.77})
    assert hip_height(curl.model_copy(update={"support": own}), Body()) == 0.77
