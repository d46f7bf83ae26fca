"""Hands: a fist around what it holds, or an open hand on a floor or a bench."""

from __future__ import annotations

import numpy as np

from curve_rank.arm.arrays import Array, dot, length_of
from curve_rank.figures.outlines import MovingPath, Outline, Plane
from curve_rank.figures.projection import Stance, hands_on_bench, inked
from curve_rank.figures.proportions import drawn
from curve_rank.figures.tubes import hull_of_balls, open_curve

GRIP = 50.0
"""From the wrist to the middle of the closed hand, in the hand that is drawn [mm]."""
BACK_OF_HAND = -0.35
"""How far the palm may face away before the fingers are behind it, as a cosine."""
OPEN_ON = ("push_up", "bench_dip")
"""Bases where hands that hold nothing lie flat."""
UNDER_FLOOR, UNDER_BENCH = 0.060, 0.025
"""How far below the middle of the grip floor and bench lie under an open hand [m]."""


def is_open(scene: Stance) -> bool:
    """Whether the hands lie flat on something."""
    return scene.variant.support.base in OPEN_ON and "dumbbell" not in scene.variant.equipment.loads


def hand(scene: Stance, *, other: bool = False) -> list[Outline]:
    """The hand as shapes of one silhouette with its forearm."""
    return _open_hand(scene, other=other) if is_open(scene) else [_fist(scene, other=other)]


def fingers(scene: Stance) -> list[MovingPath]:
    """Fingers and thumb around what is held, the nearest last; none where the back of the hand hides them."""
    if is_open(scene) or scene.depth(scene.frame.palm).mean() < BACK_OF_HAND:
        return []
    fist = drawn()["fist"]
    along = [(t, [(h * by, p * by, t) for h, p in fist["finger"]]) for t, by, _ in fist["fingers"]]
    along.append((fist["thumb"][1][2], [tuple(p) for p in fist["thumb"]]))
    towards_thumb = float(scene.depth(scene.frame.thumb).mean())
    shapes = []
    for n, (_, points) in sorted(enumerate(along), key=lambda one: one[1][0] * towards_thumb):
        kind = "fig-thumb" if n == len(along) - 1 else "fig-finger"
        curve = open_curve(_of_hand(scene, np.array(points)))
        for part in inked([(f"digit-{n}", curve)], kind, f"{kind}-ink"):
            shapes += part
    return shapes


def _size(scene: Stance) -> float:
    """Over the hand of which `person.toml` gives millimetres."""
    return float(1000 * scene.body.grip / GRIP)


def _of_hand(scene: Stance, points: Array, *, other: bool = False) -> Plane:
    """Points of the hand (points, 3) along it, out of the palm and towards the thumb, (frames, points)."""
    frame, size = scene.frame, _size(scene) / 1000
    own = np.stack((frame.hand, frame.palm, frame.thumb))
    place = frame.wrist[:, None] + np.einsum("pk,kxf->xpf", points * size, own)
    return scene.flat(scene.mirrored(place) if other else place).T


def _fist(scene: Stance, *, other: bool) -> Outline:
    """The closed hand as one shape: the hull of palm, fingers and thumb."""
    fist = drawn()["fist"]
    balls = [tuple(one) for one in fist["palm"]]
    balls += [(h * by, p * by, t, r) for t, by, r in fist["fingers"] for h, p in fist["finger"]]
    table = np.array(balls)
    return hull_of_balls(_of_hand(scene, table[:, :3], other=other), table[:, 3] * _size(scene))


def _open_hand(scene: Stance, *, other: bool) -> list[Outline]:
    """A palm under the wrist, and fingers on what it lies on: towards the head, or over a bench's edge."""
    frame, size = scene.frame, _size(scene) / 1000
    dips = scene.variant.support.base == "bench_dip"
    on_bench = dips or hands_on_bench(scene.variant)
    ahead = np.eye(3)[:, [0 if dips else 1]] + 0 * frame.down
    ahead = ahead - dot(ahead, frame.down) * frame.down
    ahead = ahead / np.maximum(length_of(ahead), 1e-9)
    heel = frame.grip + (UNDER_BENCH if on_bench else UNDER_FLOOR) * frame.down
    aside = np.cross(frame.down, ahead, axis=0)
    shapes = []
    for part in ("palm", "fingers"):
        table = np.array(drawn()["open_hand"][part])
        own = np.stack((ahead, -frame.down, aside))
        places = heel[:, None] + np.einsum("pk,kxf->xpf", table[:, :3] * size, own)
        radii = table[:, 3]
        if part == "palm":
            places = np.concatenate((places, frame.wrist[:, None]), axis=1)
            radii = np.append(radii, drawn()["open_hand"]["wrist"])
        shapes.append(
            hull_of_balls(scene.flat(scene.mirrored(places) if other else places).T, radii * 1000 * size)
        )
    return shapes
