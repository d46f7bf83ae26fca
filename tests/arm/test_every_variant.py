"""What must hold for every built-in variant: turning the room, mirroring it, other units."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from curve_rank.arm.arrays import cross, dot
from curve_rank.arm.body import Body
from curve_rank.arm.force import ExternalLoad, external_load
from curve_rank.arm.lines import Band, Cable, FreeWeight, Line, grouped
from curve_rank.arm.posture import Frame, Posture, arm_frame, stacked, trunk_to_room
from curve_rank.arm.rep_setup import RepSetup, Shift
from curve_rank.catalogue.library import built_in
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.rep_of_variant import rep_setup

BODY = Body()
every_variant = pytest.mark.parametrize("variant", built_in(), ids=lambda v: v.id)


def loaded(setup: RepSetup, body: Body) -> tuple[ExternalLoad, Frame, Posture]:
    posture = stacked([setup.posture])
    frame = arm_frame(posture, body)
    hip = np.array([[setup.hip_height]])
    # A shift of nothing: the trunk may be turned to where a pulley would be refused.
    external = external_load(grouped((setup.lines,)), frame, posture, body, hip, shift=Shift())
    return external, frame, posture


def moved(line: Line, by: np.ndarray, scale: float = 1.0) -> Line:
    if isinstance(line, Cable):
        return replace(line, pulley=tuple(scale * np.array(line.pulley) + by))
    if isinstance(line, Band):
        return replace(line, anchor=tuple(scale * np.array(line.anchor) + by), slack=scale * line.slack)
    if isinstance(line, FreeWeight):
        return replace(line, offset=scale * line.offset)
    return line


@every_variant
@pytest.mark.parametrize("turn", [-25.0, 40.0])
def test_turning_trunk_and_arm_with_the_room_changes_nothing(variant: Variant, turn: float) -> None:
    """The trunk pitches under an arm that keeps its place in the room; pulleys move with the shoulder."""
    setup = rep_setup(variant, BODY)
    if variant.posture.trunk_roll:
        pytest.skip("lying on the side, trunk and arm do not pitch about one axis")
    here, _, posture = loaded(setup, BODY)
    turned = replace(
        setup.posture,
        trunk_pitch=setup.posture.trunk_pitch + turn,
        shoulder=setup.posture.shoulder + turn,
    )
    shoulder = np.zeros((3, 1, 41))
    places = [trunk_to_room(shoulder, p, BODY, setup.hip_height)[:, 0] for p in (posture, stacked([turned]))]
    by = places[1] - places[0]
    in_room = any(isinstance(line, Cable | Band) for line in setup.lines)
    assert not in_room or np.ptp(by, axis=1).max() < 1e-9, "a moving trunk and a pulley: check another way"
    lines = tuple(moved(line, by[:, 0]) for line in setup.lines)
    there, _, _ = loaded(replace(setup, posture=turned, lines=lines), BODY)
    for name in ("elbow", "forearm", "wrist", "wrist_side"):
        for part in ("per_kg", "static"):
            np.testing.assert_allclose(
                getattr(getattr(there, part), name), getattr(getattr(here, part), name), atol=1e-9
            )
    np.testing.assert_allclose(there.static.shoulder[2], here.static.shoulder[2], atol=1e-9)


@every_variant
def test_a_mirrored_arm_bears_the_same(variant: Variant) -> None:
    """Points and forces reflected, axes as the left arm has them: the moments come out equal."""
    setup = rep_setup(variant, BODY)
    external, frame, _ = loaded(setup, BODY)
    flip = np.array([1.0, 1.0, -1.0])[:, None, None]
    force, point = flip * external.pull_per_kg, flip * frame.grip
    axis = -flip * frame.elbow_axis
    elbow = dot(axis, cross(point - flip * frame.elbow, force))
    plain = dot(frame.elbow_axis, cross(frame.grip - frame.elbow, external.pull_per_kg))
    np.testing.assert_allclose(elbow, plain, atol=1e-9)


@every_variant
def test_a_world_a_tenth_larger_has_levers_a_tenth_longer(variant: Variant) -> None:
    scale = 1.1
    large = Body(height=scale * BODY.height, mass=BODY.mass)
    small_setup = rep_setup(variant, BODY)
    nothing = np.zeros(3)
    large_setup = replace(
        rep_setup(variant, large),
        lines=tuple(moved(line, nothing, scale) for line in small_setup.lines),
        hip_height=scale * small_setup.hip_height,
    )
    small, _, _ = loaded(small_setup, BODY)
    grown, _, _ = loaded(large_setup, large)
    load = np.array([10.0])
    np.testing.assert_allclose(grown.lever(load), scale * small.lever(load), rtol=1e-6, atol=1e-9)
