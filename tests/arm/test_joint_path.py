"""Joint paths: evenly sampled, never turning round."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.joint_path import ANGLES, joint_path
from curve_rank.errors import BadInputError


def test_a_path_samples_evenly_and_refuses_to_turn_round() -> None:
    keys = {name: np.zeros(3) for name in ANGLES} | {
        "elbow": np.array([10.0, 50.0, 130.0]), "forearm": np.array([0.0, -60.0, -80.0]),
    }  # fmt: skip
    path = joint_path(keys, coordinate="elbow", samples=41)
    np.testing.assert_allclose(np.diff(path.elbow), 3.0)
    assert path.forearm[path.elbow == 70][0] == pytest.approx(-65)
    for elbow in ([10.0, 50.0, 40.0], [10.0, 10.0, 40.0]):
        with pytest.raises(BadInputError, match="path elbow"):
            joint_path(keys | {"elbow": np.array(elbow)}, coordinate="elbow", samples=41)
