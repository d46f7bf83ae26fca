"""Where a document puts the body."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Base, Change, Variant
from curve_rank.errors import PostureError
from curve_rank.rating.rep_of_variant import hand_keys, hip_height, rep_setup
from tests.helpers import modelled

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


def held(variant: Variant, wider: float) -> Variant:
    return changed(variant, (Change(field="hand_path.wider", set=wider),))


@pytest.mark.parametrize("wider", [-0.2, -0.1, 0.05])
def test_hands_wider_or_closer_keep_the_bent_end_where_it_is_and_the_straight_end_as_straight(
    wider: float,
) -> None:
    for variant in (v for v in built_in() if v.hand_path):
        paths = [held(variant, by).hand_path for by in (0.0, wider)]
        before, after = (hand_keys(path).point for path in paths if path)
        reach = np.linalg.norm(before, axis=0)
        near, far = reach.argmin(), reach.argmax()
        np.testing.assert_allclose(after[2], before[2] + wider)
        np.testing.assert_allclose(after[:2, near], before[:2, near])
        assert np.linalg.norm(after[:, far]) == pytest.approx(reach[far])


def test_a_press_goes_from_thumbs_touching_to_more_than_an_arm_length_between_the_hands() -> None:
    press, body = find_variant("bench-press-shoulder-width", built_in()), Body()
    arm = body.upper_arm + body.forearm + body.grip
    closest, widest = 0.07 / arm, 1.3 / 2
    for between in (closest, widest):
        by = between - (hand_keys(press.hand_path).point[2, 0] + body.shoulder_half_width / arm)
        posture = rep_setup(held(press, by), body).posture
        assert posture.elbow[-1] == pytest.approx(rep_setup(press, body).posture.elbow[-1], abs=0.01)
    with pytest.raises(PostureError, match="reaches"):
        rep_setup(changed(held(press, 0.5), (Change(field="hand_path.keys.0.up", set=-0.8),)), body)


def test_a_press_is_as_heavy_as_the_one_whose_width_it_is_held_at() -> None:
    """0.115 arm lengths lie between the narrow and the shoulder-width bar, and as many to the wide one."""
    for ours, theirs, wider in (("narrow", "shoulder-width", 0.115), ("shoulder-width", "narrow", -0.115)):
        moved = modelled(f"bench-press-{ours}", hand_path__wider=wider)
        saved = modelled(f"bench-press-{theirs}")
        assert moved.readings.load == pytest.approx(saved.readings.load, rel=0.1)
        assert moved.readings.multi_joint == pytest.approx(saved.readings.multi_joint, rel=0.1)
    free, bar = (
        rep_setup(held(find_variant(v, built_in()), 0.1), Body()).lines[0]
        for v in ("dumbbells-pressed-together", "bench-press-narrow")
    )
    assert free.sideways == -0.15
    assert bar.sideways == pytest.approx(0.08 + 0.07)
