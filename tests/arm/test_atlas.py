"""Maps of a head: they are the anatomy at every point, and moment arm and length are each other's slope."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.atlas import Across, atlas
from curve_rank.arm.muscle import default_anatomy, head_geometry
from curve_rank.errors import CurveRankError

KEYS = default_anatomy().keys


@pytest.mark.parametrize("across", ["shoulder", "forearm"])
@pytest.mark.parametrize("head", KEYS)
def test_every_point_is_the_anatomy_there(head: str, across: Across) -> None:
    found = atlas(head, across, step=15, held=-20)
    third = "forearm" if across == "shoulder" else "shoulder"
    for row, other in enumerate(found.other):
        for column, elbow in enumerate(found.elbow):
            angles = {"elbow": elbow, across: other, third: -20.0, "abduction": 0.0}
            one = head_geometry(default_anatomy(), **{k: np.array([v]) for k, v in angles.items()})
            place = KEYS.index(head)
            assert found.percent[row, column] == pytest.approx(one.percent[place, 0], abs=1e-12)
            for joint, grid in found.moment_arms.items():
                arm = getattr(one, f"{joint}_moment_arm")[place, 0]
                assert grid[row, column] == pytest.approx(arm, abs=1e-15)


@pytest.mark.parametrize("across", ["shoulder", "forearm"])
@pytest.mark.parametrize("head", KEYS)
def test_moment_arms_are_the_slopes_of_the_length(head: str, across: Across) -> None:
    found, anatomy = atlas(head, across, step=1), default_anatomy()
    place = KEYS.index(head)
    fibre = anatomy.optimal_length[place] * anatomy.cos_pennation[place]
    for joint, angles, axis in (("elbow", found.elbow, 1), (across, found.other, 0)):
        slope = -fibre * np.gradient(found.length, np.radians(angles), axis=axis)
        inner = (slice(2, -2),) * 2
        assert np.abs(slope - found.moment_arms[joint])[inner].max() < 3e-4


@pytest.mark.parametrize(
    "wrong", [{"head": "nose"}, {"across": "knee"}, {"step": 0.0}, {"step": np.nan}, {"held": 500.0}]
)
def test_what_is_no_map_is_refused_by_name(wrong: dict[str, object]) -> None:
    with pytest.raises(CurveRankError) as told:
        atlas(**({"head": "biceps_long"} | wrong))  # type: ignore[arg-type]
    assert told.value.field in (*wrong, "forearm")
