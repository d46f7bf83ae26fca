"""Figures: limbs keep their size, hands that hold something stay, levers are as long as they read."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.errors import UnknownNameError
from curve_rank.figures.figure import Figure, figure
from curve_rank.figures.person import leg_joints
from curve_rank.figures.projection import VIEWS
from tests.helpers import ONE_OF_A_KIND, corners, modelled


def outlines(drawn: Figure, key: str) -> list[np.ndarray]:
    """One shape's corners in every frame."""
    shape = next(s for s in drawn.shapes if s.key == key)
    return [corners(shape.at(frame)) for frame in range(len(drawn.angle))]


@pytest.mark.parametrize("kind", ONE_OF_A_KIND)
def test_limbs_keep_their_size_while_they_move(kind: str) -> None:
    """A limb may foreshorten but never grows past its own length."""
    body = Body()
    longest = 1000 * max(body.upper_arm, body.forearm) + 2 * 0.033 * 1000 * body.height
    for view in VIEWS:
        drawn = figure(modelled(kind), view)
        for key in ("upper", "fore"):
            assert max(np.ptp(o, axis=0).max() for o in outlines(drawn, key)) <= longest + 2


@pytest.mark.parametrize("kind", ["chin-up", "dip-upright", "push-up-hands-close", "body-row-underhand"])
def test_where_the_hands_are_fixed_they_stay_and_the_body_moves(kind: str) -> None:
    drawn = figure(modelled(kind), "side")
    skulls = np.array([o.mean(axis=0) for o in outlines(drawn, "skull")])
    grips = np.array([o.mean(axis=0) for o in outlines(drawn, "hand-0")])
    assert np.ptp(skulls[:, 1]) > 100
    assert np.ptp(grips[:, 1]) < 60
    assert np.isfinite(np.array(outlines(drawn, "force"))).all()


def test_the_lever_is_drawn_as_long_as_it_reads() -> None:
    drawn = figure(modelled("standing-barbell-curl"), "side")
    for line, (_, _, centimetres) in zip(outlines(drawn, "lever"), drawn.lever, strict=True):
        assert centimetres is not None
        assert np.hypot(*(line[1] - line[0])) == pytest.approx(10 * centimetres, abs=3)


@pytest.mark.parametrize("kind", ONE_OF_A_KIND)
def test_the_near_frame_holds_arm_and_grip_and_the_whole_one_the_body(kind: str) -> None:
    drawn = figure(modelled(kind))

    def inside(key: str, box: tuple[int, int, int, int]) -> bool:
        found = np.concatenate(outlines(drawn, key))
        left, top, width, height = box
        low, high = found.min(axis=0), found.max(axis=0)
        return bool(left <= low[0] and top <= low[1] and high[0] <= left + width and high[1] <= top + height)

    assert all(inside(key, drawn.near) for key in ("upper", "fore", "hand-0", "skull"))
    assert all(inside(key, drawn.whole) for key in ("upper", "fore", "skull", "trunk", "leg-2"))
    assert drawn.near[2] <= drawn.whole[2]


@pytest.mark.parametrize("kind", ONE_OF_A_KIND)
def test_what_stands_between_two_frames_that_are_told_lies_between_them(kind: str) -> None:
    """The page mixes numbers of frames that are told: the true frame is never far from that.

    Points of a hull may slip along it, so it is an outline's middle that is looked at. Line of force and
    lever are told in every frame.
    """
    drawn = figure(modelled(kind))
    told = drawn.told
    assert told[0] == 0
    assert told[-1] == len(drawn.angle) - 1
    assert all(len(frames) == len(drawn.angle) for frames in drawn.as_data()["exact"].values())
    for shape in (s for s in drawn.shapes if s.key in ("trunk", "upper", "fore", "hand-0")):
        numbers = shape.frames.numbers
        if shape.frames.is_still:
            continue
        for a, b in pairwise(told):
            for n in range(a + 1, b):
                mixed = numbers[a] + (numbers[b] - numbers[a]) * (n - a) / (b - a)
                off = (mixed - numbers[n]).reshape(-1, 2)
                assert np.abs(off.mean(axis=0)).max() < 10, shape.key


def test_legs_are_as_long_as_the_body_says() -> None:
    for base in ("standing-dumbbell-curl", "reclined-60-dumbbell-curl", "chin-up", "lying-bar-to-forehead"):
        m = modelled(base)
        build = m.body.build
        joints = [np.array(p) for p in leg_joints(m.variant, m.body, m.setup.hip_height)]
        thigh, shank = (np.linalg.norm(b - a) for a, b in list(pairwise(joints))[:2])
        assert thigh == pytest.approx(build.thigh, rel=0.12), base
        assert shank == pytest.approx(build.shank, rel=0.12), base


@pytest.mark.parametrize("kind", ONE_OF_A_KIND)
def test_a_frame_that_is_made_alone_is_that_frame(kind: str) -> None:
    """But for what is decided over a whole rep: what points at whoever looks, and so how it is drawn."""
    m = modelled(kind)
    whole, alone = figure(m), figure(m, only=m.hard)
    assert alone.words == whole.words
    assert alone.lever[0] == whole.lever[m.hard]
    for key in ("force", "lever", "pivot"):
        one, other = (
            [s.at(n) for s in drawn.shapes if s.key == key] for drawn, n in ((whole, m.hard), (alone, 0))
        )
        assert one == other, key


def test_a_view_that_there_is_not_is_refused() -> None:
    with pytest.raises(UnknownNameError, match="side, front, top"):
        figure(modelled("chin-up"), "below")
